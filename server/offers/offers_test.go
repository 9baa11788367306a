package offers_test

import (
	"context"
	"log/slog"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"iter.example/iter/core/ledger"
	"iter.example/iter/core/ledger/ledgertest"
	"iter.example/iter/core/work"
	"iter.example/iter/server/offers"
	"iter.example/iter/server/store"
)

// An offer that nobody accepts comes back to what is to be placed: some time after it was sent, and once; one that somebody accepted, or
// that is not sent, stays.
func TestUnansweredOffersComeBack(t *testing.T) {
	ctx := context.Background()
	s, err := store.Open(ctx, t.TempDir())
	require.NoError(t, err)
	t.Cleanup(func() { _ = s.Close() })
	m := ledgertest.NewMaker("R1", 1)
	record := func(e ledger.Entry) {
		t.Helper()
		require.NoError(t, s.Write(ctx, func(tx *store.Tx) error { _, err := tx.Record(e, e.At); return err }))
	}
	for _, e := range m.Company() {
		record(e)
	}
	settings := ledgertest.Settings
	settings.Visits.Offers = 30
	record(m.Settle(settings))
	start := m.Now().Add(5 * time.Hour)
	for _, id := range []string{"O1", "O2", "O3"} {
		record(m.Entry("office", "work.opened", "workorder", "W"+id, work.Order{Customer: "C1", Site: "S1", Number: "5" + id, Problem: "Hums",
			Priority: work.Normal, Minutes: 60}))
		record(m.Entry("office", "visit.planned", "visit", id, ledger.Plan{Order: "W" + id, Offer: []string{"ann", "ben"}, Start: start,
			Minutes: 60}))
		if id != "O3" {
			record(m.Entry("office", "visit.sent", "visit", id, ledger.Nothing{}))
		}
	}
	record(m.Entry("ann", "visit.accepted", "visit", "O2", ledger.Nothing{}))
	r := offers.Returner{Store: s, Now: m.Now, Log: slog.New(slog.DiscardHandler)}
	round := func() []string {
		back, err := r.Round(ctx)
		require.NoError(t, err)
		return back
	}
	m.Wait(29 * time.Minute)
	assert.Empty(t, round())
	m.Wait(time.Minute)
	assert.Equal(t, []string{"O1"}, round())
	assert.Empty(t, round())
	require.NoError(t, s.Read(ctx, func(tx *store.Tx) error {
		waits, err := tx.Unplaced(m.Now().Format(time.DateOnly), 100)
		assert.Contains(t, waits, "WO1")
		assert.NotContains(t, waits, "WO2")
		return err
	}))
	record(m.Entry("office", "visit.reinstated", "visit", "O1", ledger.Nothing{}))
	record(m.Entry("office", "visit.sent", "visit", "O1", ledger.Nothing{}))
	m.Wait(6 * time.Hour)
	assert.Equal(t, []string{"O1"}, round(), "sent again, and unanswered again until it was to begin")
}
