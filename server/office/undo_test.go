package office_test

import (
	"encoding/json"
	"errors"
	"fmt"
	"testing"

	"github.com/shopspring/decimal"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"iter.example/iter/core/ledger"
	"iter.example/iter/core/ledger/ledgertest"
	"iter.example/iter/core/records"
	"iter.example/iter/core/work"
	"iter.example/iter/server/office"
	"iter.example/iter/server/store"
)

func (d *desk) undo(who, id string) error {
	_, err := office.Undo(ctx, d.store, person(who), id, "Taken back", d.now)
	return err
}

func (d *desk) must(who string, commands ...office.Command) string {
	out, err := d.record(who, d.seq(), commands...)
	require.NoError(d.t, err)
	return out[0].ID
}

// shown is what a document says, without the record of who did what.
func (d *desk) shown(typ, id string) (out map[string]any) {
	require.NoError(d.t, d.store.Read(ctx, func(tx *store.Tx) error {
		doc, err := tx.Doc(ledger.Ref{Type: typ, ID: id})
		if err == nil {
			err = json.Unmarshal(doc.Body, &out)
		}
		if typ == "workorder" && err == nil {
			var state work.State
			state, err = tx.OrderState(id)
			out["state"] = string(state)
		}
		return err
	}))
	for _, trail := range []string{"acts", "steps", "since", "former", "visits", "plannedAt", "withdrawnAt", "sentAt", "approvals"} {
		delete(out, trail)
	}
	return out
}

// Each command is taken back by its opposite: what it was about says what it said before.
func TestCommandsAreTakenBack(t *testing.T) {
	free := command("visit.withdrawn", "visit", "V1", ledger.Withdraw{}) // so that the order waits for planning
	held := command("work.held", "workorder", "W1", ledger.OrderHeld{Reason: "No crane", Until: "2030-01-01"})
	gate := amend("S1", map[string]any{"access": "Gate 4"}, map[string]any{"access": nil})
	act := func(kind string) office.Command {
		return command(kind, "workorder", "W1", ledger.OrderActed{Reason: "Customer rang"})
	}
	for name, c := range map[string]struct {
		before   []office.Command
		commands []office.Command
		typ, id  string
	}{
		"a field": {nil, []office.Command{gate}, "site", "S1"},
		"a field in one": {nil, []office.Command{amend("S1", map[string]any{"contact": map[string]any{"name": "Ida"}},
			map[string]any{"contact": map[string]any{"name": ""}})}, "site", "S1"},
		"one taken away": {[]office.Command{gate}, []office.Command{amend("S1", map[string]any{"access": nil},
			map[string]any{"access": "Gate 4"})}, "site", "S1"},
		"held": {[]office.Command{free}, []office.Command{held}, "workorder", "W1"},
		"held longer": {[]office.Command{free, held}, []office.Command{command("work.held", "workorder", "W1",
			ledger.OrderHeld{Reason: "No boat", Until: "2031-01-01"})}, "workorder", "W1"},
		"released":        {[]office.Command{free, held}, []office.Command{act("work.released")}, "workorder", "W1"},
		"cancelled":       {nil, []office.Command{free, act("work.cancelled")}, "workorder", "W1"},
		"cancelled, held": {[]office.Command{free, held}, []office.Command{act("work.cancelled")}, "workorder", "W1"},
		"closed":          {[]office.Command{free}, []office.Command{act("work.closed")}, "workorder", "W1"},
		"reopened":        {[]office.Command{free, act("work.closed")}, []office.Command{act("work.reopened")}, "workorder", "W1"},
		"needs": {nil, []office.Command{command("work.needs_planned", "workorder", "W1",
			ledger.NeedsPlanned{Needs: []work.Need{{Part: "P1", Quantity: decimal.NewFromInt(2)}}})}, "workorder", "W1"},
		"moved": {nil, []office.Command{command("visit.moved", "visit", "V1",
			ledger.Move{Technician: "ben", Start: ledgertest.Start, Minutes: 30})}, "visit", "V1"},
		"withdrawn":  {nil, []office.Command{free}, "visit", "V1"},
		"reinstated": {[]office.Command{free}, []office.Command{command("visit.reinstated", "visit", "V1", ledger.Nothing{})}, "visit", "V1"},
		"planned and sent": {nil, []office.Command{command("visit.planned", "visit", "V7", ledger.Plan{Order: "W1", Technician: "ben",
			Start: ledgertest.Start, Minutes: 60}), command("visit.sent", "visit", "V7", ledger.Nothing{})}, "workorder", "W1"},
	} {
		t.Run(name, func(t *testing.T) {
			d := open(t)
			if c.before != nil {
				d.must("mirin", c.before...)
			}
			was := d.shown(c.typ, c.id)
			id := d.must("mirin", c.commands...)
			require.NoError(t, d.undo("mirin", id))
			assert.Equal(t, was, d.shown(c.typ, c.id))
			after := d.seq()
			require.NoError(t, d.undo("mirin", id), "asked again nothing more is done")
			assert.Equal(t, after, d.seq())
		})
	}
}

func TestWhatIsNotTakenBack(t *testing.T) {
	d := open(t)
	why := func(err error) string {
		if c, ok := errors.AsType[*office.Conflict](err); ok {
			return fmt.Sprint("changed: ", c.Subject)
		}
		return fmt.Sprint(err)
	}
	made := d.must("mirin", command("record.created", "customer", "C9", records.Customer{Name: "Quill Dairy"}))
	assert.Contains(t, why(d.undo("mirin", made)), "undo.final", "somebody may work with it by now")
	held := d.must("mirin", command("work.held", "workorder", "W1", ledger.OrderHeld{Reason: "No crane", Until: "2030-01-01"}))
	assert.Contains(t, why(d.undo("noll", held)), "undo.unknown", "another's")
	d.must("noll", command("work.released", "workorder", "W1", ledger.Nothing{}))
	before := d.seq()
	assert.Equal(t, "changed: workorder/W1", why(d.undo("mirin", held)))
	assert.Equal(t, before, d.seq(), "nothing was recorded")
	field := d.must("mirin", amend("S1", map[string]any{"access": "Gate 4"}, map[string]any{"access": nil}))
	d.must("noll", amend("S1", map[string]any{"access": "Slipway"}, map[string]any{"access": "Gate 4"}))
	assert.Equal(t, "changed: site/S1", why(d.undo("mirin", field)))
}

// Whatever somebody does to a site and an order, while others change other fields: taken back from the last to the first, all is as before.
func TestTakenBackOneByOne(t *testing.T) {
	d := open(t)
	rapid.Check(t, func(rt *rapid.T) {
		before := d.shown("site", "S1")["access"]
		state := d.shown("workorder", "W1")["state"]
		var ids []string
		for i := range rapid.IntRange(1, 6).Draw(rt, "commands") {
			switch held := d.shown("workorder", "W1")["state"] == string(work.OnHold); rapid.IntRange(0, 2).Draw(rt, "which") {
			case 0:
				base := map[string]any{"access": d.shown("site", "S1")["access"]}
				ids = append(ids, d.must("mirin", amend("S1", map[string]any{"access": fmt.Sprint("Gate ", i)}, base)))
			case 1:
				if held {
					ids = append(ids, d.must("mirin", command("work.released", "workorder", "W1", ledger.Nothing{})))
				} else {
					ids = append(ids, d.must("mirin", command("work.held", "workorder", "W1", ledger.OrderHeld{Reason: "x", Until: "2030-01-01"})))
				}
			default:
				base := map[string]any{"hazard": d.shown("site", "S1")["hazard"]}
				d.must("noll", amend("S1", map[string]any{"hazard": fmt.Sprint("Deep ", i)}, base))
			}
		}
		for i := len(ids) - 1; i >= 0; i-- {
			require.NoError(rt, d.undo("mirin", ids[i]))
		}
		assert.Equal(rt, before, d.shown("site", "S1")["access"])
		assert.Equal(rt, state, d.shown("workorder", "W1")["state"])
	})
}
