package office_test

import (
	"context"
	"encoding/json"
	"errors"
	"math"
	"testing"
	"time"

	"github.com/oklog/ulid/v2"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"iter.example/iter/core/ledger"
	"iter.example/iter/core/ledger/ledgertest"
	"iter.example/iter/core/records"
	"iter.example/iter/core/work"
	"iter.example/iter/server/office"
	"iter.example/iter/server/store"
	"iter.example/iter/server/syncing"
)

var ctx = context.Background()

// desk is the office of the test company, with two dispatchers.
type desk struct {
	t     *testing.T
	store *store.Store
	now   time.Time
}

func open(t *testing.T) *desk {
	s, err := store.Open(ctx, t.TempDir())
	require.NoError(t, err)
	t.Cleanup(func() { _ = s.Close() })
	require.NoError(t, s.Write(ctx, func(tx *store.Tx) error {
		for _, e := range ledgertest.NewMaker("office", 1).Company() {
			if _, err := tx.Record(e, e.At); err != nil {
				return err
			}
		}
		return nil
	}))
	return &desk{t, s, ledgertest.Start.Add(time.Hour)}
}

func (d *desk) seq() (n int64) {
	require.NoError(d.t, d.store.Read(ctx, func(tx *store.Tx) (err error) { n, err = tx.Seq(); return err }))
	return n
}

func person(id string) syncing.Device {
	return syncing.Device{PersonID: id, Person: records.Person{Name: id, Roles: []records.Role{records.Dispatcher}}}
}

func (d *desk) record(who string, seen int64, commands ...office.Command) ([]store.Logged, error) {
	return office.Record(ctx, d.store, person(who), office.Batch{Entries: commands, Seen: seen}, d.now)
}

func command(kind, typ, id string, body any) office.Command {
	raw, err := json.Marshal(body)
	if err != nil {
		panic(err)
	}
	return office.Command{ID: ulid.Make().String(), Kind: kind, Subject: ledger.Ref{Type: typ, ID: id}, Body: raw}
}

func amend(id string, patch, base any) office.Command {
	c := command("record.amended", "site", id, patch)
	c.Base, _ = json.Marshal(base)
	return c
}

var order = work.Order{Customer: "C1", Site: "S1", Problem: "No water", Priority: work.Soon, Minutes: 60}

// An answer that was lost changes nothing: the same batch again gives the same entries.
func TestABatchIsRecordedOnce(t *testing.T) {
	d := open(t)
	batch := []office.Command{
		command("work.opened", "workorder", "W2", order),
		command("visit.planned", "visit", "V2", ledger.Plan{Order: "W2", Technician: "ann", Start: d.now, Minutes: 60}),
		command("visit.sent", "visit", "V2", ledger.Nothing{}),
	}
	first, err := d.record("mirin", d.seq(), batch...)
	require.NoError(t, err)
	after := d.seq()
	again, err := d.record("mirin", 0, batch...)
	require.NoError(t, err)
	assert.Equal(t, after, d.seq())
	require.Len(t, again, 3)
	for i := range first {
		assert.Equal(t, first[i].Seq, again[i].Seq)
		assert.JSONEq(t, string(first[i].Body), string(again[i].Body), "with the number that was given")
	}

	other := batch[0]
	changed := order
	changed.Problem = "No pressure"
	other.Body, _ = json.Marshal(changed)
	_, err = d.record("mirin", after, other)
	already, ok := errors.AsType[*office.Already](err)
	require.True(t, ok, "what was typed since is not what was recorded")
	assert.Equal(t, batch[0].ID, already.Entries[0].ID)
	_, err = d.record("noll", after, batch[0])
	assert.ErrorContains(t, err, "entry.id_reused", "another's id tells nothing")
	assert.Equal(t, after, d.seq())
}

// With one command that can't be, none is.
func TestABatchIsAllOrNothing(t *testing.T) {
	d := open(t)
	before := d.seq()
	for name, last := range map[string]office.Command{
		"does not fit": command("visit.planned", "visit", "V3", ledger.Plan{Order: "W9", Technician: "ann", Start: d.now, Minutes: 60}),
		"no right":     command("stock.received", "stock", "van-ann", ledger.Receive{Part: "P1"}),
		"no kind":      command("visit.vanished", "visit", "V1", nil),
	} {
		_, err := d.record("mirin", before, command("work.opened", "workorder", "W2", order), last)
		assert.Error(t, err, name)
		assert.Equal(t, before, d.seq(), name)
	}
	_, err := d.record("mirin", before)
	assert.ErrorContains(t, err, "batch.size")
	_, err = d.record("mirin", before, make([]office.Command, office.MaxBatch+1)...)
	assert.ErrorContains(t, err, "batch.size")
}

// Two who plan the same work at once: the second is told of the first, and may do it all the same.
func TestTwoPlanTheSameWork(t *testing.T) {
	d := open(t)
	seen := d.seq()
	plan := func(visit string) []office.Command {
		return []office.Command{
			command("visit.planned", "visit", visit, ledger.Plan{Order: "W1", Technician: "ben", Start: d.now, Minutes: 60}),
			command("visit.sent", "visit", visit, ledger.Nothing{}),
		}
	}
	_, err := d.record("mirin", seen, plan("V2")...)
	require.NoError(t, err)
	_, err = d.record("noll", seen, plan("V3")...)
	conflict, ok := errors.AsType[*office.Conflict](err)
	require.True(t, ok, "%v", err)
	assert.Equal(t, ledger.Ref{Type: "workorder", ID: "W1"}, conflict.Subject)
	require.NotEmpty(t, conflict.Since, "what was done meanwhile is told")
	assert.Equal(t, "mirin", conflict.Since[0].Actor)
	_, err = d.record("noll", conflict.Seq, plan("V3")...)
	assert.NoError(t, err, "a work order may need several visits")
}

// Two who change a record: different fields go beside each other, the same field is asked about with both values.
func TestTwoChangeARecord(t *testing.T) {
	d := open(t)
	seen := d.seq()
	_, err := d.record("mirin", seen, amend("S1", map[string]any{"access": "Gate 4"}, map[string]any{"access": nil}))
	require.NoError(t, err)
	_, err = d.record("noll", seen, amend("S1", map[string]any{"hazard": "Deep water"}, map[string]any{"hazard": nil}))
	require.NoError(t, err, "another field")
	_, err = d.record("noll", seen, amend("S1", map[string]any{"access": "Gate 4"}, map[string]any{"access": nil}))
	require.NoError(t, err, "the same")
	late := amend("S1", map[string]any{"access": "Slipway", "hazard": "Deep water"}, map[string]any{"access": nil, "hazard": nil})
	_, err = d.record("noll", seen, late)
	conflict, ok := errors.AsType[*office.Conflict](err)
	require.True(t, ok, "%v", err)
	assert.Equal(t, []office.Field{{Field: "access", Theirs: json.RawMessage(`"Gate 4"`), Yours: json.RawMessage(`"Slipway"`)}},
		conflict.Fields)
	late.Base = nil
	_, err = d.record("noll", seen, late)
	assert.Error(t, err, "without what it was made from it is no better")
	late.Base = json.RawMessage(`{"access":"Gate 4","hazard":"Deep water"}`)
	_, err = d.record("noll", conflict.Seq, late)
	assert.NoError(t, err)
}

// What goes beside whatever else happens needs no such question.
func TestWhatNeverConflicts(t *testing.T) {
	d := open(t)
	for range 2 {
		_, err := d.record("mirin", 0, command("talk.said", "talk", "W1", ledger.TalkSaid{Text: "Ring first", Office: true}))
		assert.NoError(t, err)
	}
	_, err := d.record("mirin", 0, command("visit.withdrawn", "visit", "V1", ledger.Withdraw{}))
	_, ok := errors.AsType[*office.Conflict](err)
	assert.True(t, ok, "who has not seen the visit does not withdraw it")
	_, err = d.record("mirin", math.MaxInt64, command("visit.withdrawn", "visit", "V1", ledger.Withdraw{}))
	assert.NoError(t, err)
}
