package office_test

import (
	"testing"
	"time"

	"github.com/shopspring/decimal"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"iter.example/iter/core/labor"
	"iter.example/iter/core/ledger"
	"iter.example/iter/core/records"
	"iter.example/iter/core/work"
	"iter.example/iter/server/office"
	"iter.example/iter/server/store"
	"iter.example/iter/server/syncing"
)

func phoned(who string, at time.Time, kind string, body any) office.Command {
	c := command(kind, "visit", "V1", body)
	c.Phoned = &office.Phoned{Person: who, At: at}
	return c
}

// What a technician tells by telephone is recorded as theirs, at the times that they say, and says who wrote it down.
func TestWrittenDownByTelephone(t *testing.T) {
	d := open(t)
	at := func(minutes int) time.Time { return d.now.Add(time.Duration(minutes-240) * time.Minute) }
	d.now = d.now.Add(6 * time.Hour)
	batch := []office.Command{
		phoned("ann", at(0), "visit.set_off", ledger.Step{}), phoned("ann", at(20), "visit.arrived", ledger.Step{}),
		phoned("ann", at(60), "visit.paused", ledger.Step{Clock: labor.Break, Reason: "lunch"}),
		phoned("ann", at(75), "visit.resumed", ledger.Step{}),
		phoned("ann", at(90), "part.used", ledger.Use{Part: "P1", Place: "van-ann", Quantity: decimal.NewFromInt(2)}),
		phoned("ann", at(95), "task.done", ledger.TaskTaken{Order: "W1", Task: "t1"}),
		phoned("ann", at(100), "visit.finished", ledger.Step{Outcome: work.Complete}),
	}
	out, err := d.record("mirin", d.seq(), batch...)
	require.NoError(t, err)
	assert.Equal(t, "mirin", out[0].Brought)
	again, err := d.record("mirin", 0, batch...)
	require.NoError(t, err)
	assert.Len(t, again, len(batch), "sent again nothing more is recorded")
	require.NoError(t, d.store.Read(ctx, func(tx *store.Tx) error {
		var v work.Visit
		_, err := tx.Load("visit", "V1", &v)
		require.NoError(t, err)
		assert.Equal(t, work.Finished, v.Stage)
		assert.Equal(t, "ann", v.Steps[len(v.Steps)-1].Person)
		assert.True(t, at(100).Truncate(time.Millisecond).Equal(v.Ended()))
		names, err := tx.PhonedOn([]string{"V1"})
		assert.Equal(t, map[string][]string{"V1": {"mirin"}}, names)
		return err
	}))
	id := out[0].ID
	require.NoError(t, d.undo("mirin", id))
	var v work.Visit
	require.NoError(t, d.store.Read(ctx, func(tx *store.Tx) error { _, err := tx.Load("visit", "V1", &v); return err }))
	assert.False(t, v.Begun(), "taken back, nothing of it counts")
	after := d.seq()
	require.NoError(t, d.undo("mirin", id), "asked again it is the same answer")
	assert.Equal(t, after, d.seq())
}

func TestWhatIsNotWrittenDown(t *testing.T) {
	d := open(t)
	before := d.seq()
	try := func(who syncing.Device, c office.Command) string {
		_, err := office.Record(ctx, d.store, who, office.Batch{Entries: []office.Command{c}, Seen: before}, d.now)
		require.Error(t, err)
		return err.Error()
	}
	stores := syncing.Device{PersonID: "oriel", Person: records.Person{Name: "Oriel", Roles: []records.Role{records.Stores}}}
	assert.Contains(t, try(stores, phoned("ann", d.now, "visit.arrived", ledger.Step{})), "role.missing")
	assert.Contains(t, try(person("mirin"), phoned("ben", d.now, "visit.arrived", ledger.Step{})), "scope.visit", "not theirs who tells")
	assert.Contains(t, try(person("mirin"), phoned("office", d.now, "visit.arrived", ledger.Step{})), "scope.role",
		"does not work in the field")
	assert.Contains(t, try(person("mirin"), phoned("ann", d.now.Add(time.Minute), "visit.arrived", ledger.Step{})), "phoned.future")
	assert.Contains(t, try(person("mirin"), phoned("ann", d.now, "visit.withdrawn", ledger.Withdraw{})), "scope.phoned")
	assert.Equal(t, before, d.seq())
}
