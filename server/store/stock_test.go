package store_test

import (
	"fmt"
	"testing"
	"time"

	"github.com/shopspring/decimal"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"iter.example/iter/core/ledger"
	"iter.example/iter/core/ledger/ledgertest"
	"iter.example/iter/core/records"
	"iter.example/iter/core/stock"
	"iter.example/iter/core/work"
	"iter.example/iter/server/store"
)

func pieces(n int64) []stock.Moved {
	return []stock.Moved{{Part: "P1", Quantity: decimal.NewFromInt(n)}}
}

// The tables of movements, hand-overs, requests and orders follow the log, and are what it folds to.
func TestTablesOfTheStoresFollowTheLog(t *testing.T) {
	s, m := company(t)
	next := func(actor, kind, typ, id string, body any) ledger.Entry {
		m.Wait(time.Minute)
		e := m.Entry(actor, kind, typ, id, body)
		appendAll(t, s, e)
		return e
	}
	next("office", "record.created", "place", "store", stock.Place{Name: "Store", Kind: "store"})
	next("office", "handover.sent", "handover", "H1", ledger.HandOver{From: "store", To: "van-ann", Lines: pieces(3)})
	open := func(place string) (out []string) {
		read(t, s, func(tx *store.Tx) {
			var err error
			out, err = tx.HandoversOf(place)
			require.NoError(t, err)
		})
		return out
	}
	assert.Equal(t, []string{"H1"}, open("store"))
	assert.Equal(t, []string{"H1"}, open("van-ann"))
	assert.Empty(t, open("van-ben"))
	next("ann", "handover.received", "handover", "H1", ledger.TakeOver{Place: "van-ann", Lines: pieces(2)})
	assert.Equal(t, []string{"H1"}, open(""), "something is missing")
	next("office", "handover.returned", "handover", "H1", ledger.TakeBack{Place: "store", Lines: pieces(1)})
	assert.Empty(t, open(""))

	ask := next("ann", "part.requested", "visit", "V1", ledger.PartRequested{Part: "P1", Text: "Seal", Quantity: decimal.NewFromInt(1)})
	next("office", "purchase.made", "purchase", "PO1", ledger.PurchaseMade{Number: "P1", Supplier: "x", Place: "store",
		Lines: []stock.PurchaseLine{{Part: "P1", Quantity: decimal.NewFromInt(2)}}})
	read(t, s, func(tx *store.Tx) {
		waiting, err := tx.RequestsOpen()
		require.NoError(t, err)
		assert.Equal(t, []string{ask.ID}, waiting)
		for _, f := range []func() ([]string, error){tx.PurchasesOpen, func() ([]string, error) { return tx.PurchasesFor("store") },
			func() ([]string, error) { return tx.Purchases(9) }} {
			ids, err := f()
			require.NoError(t, err)
			assert.Equal(t, []string{"PO1"}, ids)
		}
		n, err := tx.NextNumber("purchase")
		require.NoError(t, err)
		assert.Equal(t, "P1002", n)
	})
	next("office", "purchase.cancelled", "purchase", "PO1", ledger.PurchaseCancelled{Reason: "x"})
	next("ann", "entry.struck", "visit", "V1", striking(t, s, ask))
	read(t, s, func(tx *store.Tx) {
		for _, f := range []func() ([]string, error){tx.RequestsOpen, tx.PurchasesOpen} {
			ids, err := f()
			require.NoError(t, err)
			assert.Empty(t, ids)
		}
		over, err := tx.RequestsOver(9)
		require.NoError(t, err)
		assert.Equal(t, []string{ask.ID}, over, "withdrawn, and not forgotten")
	})
	check := func() {
		differ, _, err := s.Verify(ctx, nil)
		require.NoError(t, err)
		assert.Empty(t, differ)
	}
	check()
	_, err := s.Rebuild(ctx, nil)
	require.NoError(t, err)
	check()
	read(t, s, func(tx *store.Tx) {
		moves, err := tx.Movements("store", "", 99)
		require.NoError(t, err)
		var got []string
		for _, x := range moves {
			got = append(got, fmt.Sprint(x.Kind, " ", x.Quantity))
		}
		assert.Equal(t, []string{"back 1", "send -3"}, got)
	})
}

// Work whose last visit ended with a return needed is to be placed again; a visit that is planned for it places it.
func TestAReturnNeededIsToBePlaced(t *testing.T) {
	s, m := company(t)
	unplaced := func() (out []string) {
		read(t, s, func(tx *store.Tx) {
			var err error
			out, err = tx.Unplaced("2026-03-10", 9)
			require.NoError(t, err)
		})
		return out
	}
	finish := func(o work.Outcome) ledger.Entry {
		m.Wait(time.Minute)
		e := m.Entry("ann", "visit.finished", "visit", "V1", ledger.Step{Outcome: o})
		appendAll(t, s, e)
		return e
	}
	assert.Empty(t, unplaced())
	back := finish(work.ReturnNeeded)
	assert.Equal(t, []string{"W1"}, unplaced())
	appendAll(t, s, m.Entry("ann", "entry.struck", "visit", "V1", striking(t, s, back)))
	assert.Empty(t, unplaced(), "it is not over")
	finish(work.Complete)
	assert.Empty(t, unplaced())
	finish(work.ReturnNeeded)
	appendAll(t, s, m.Entry("office", "visit.planned", "visit", "V7", ledger.Plan{Order: "W1", Technician: "ann",
		Start: ledgertest.Start.AddDate(0, 0, 2), Minutes: 30}))
	assert.Empty(t, unplaced())
	read(t, s, func(tx *store.Tx) {
		day, err := tx.NextDay("2026-03-10")
		require.NoError(t, err)
		assert.Equal(t, "2026-03-12", day)
		day, err = tx.NextDay("2026-03-12")
		require.NoError(t, err)
		assert.Empty(t, day)
		seen, err := tx.LastSeen("ann", ledgertest.Start.AddDate(0, 0, 1))
		require.NoError(t, err)
		assert.Equal(t, "V1", seen)
	})
}

func TestComponentsOfAMachine(t *testing.T) {
	s, m := company(t)
	use := m.Entry("ann", "part.used", "visit", "V1", ledger.Use{Part: "P1", Place: "van-ann", Quantity: decimal.NewFromInt(1),
		Asset: "A1", Serial: "S1"})
	appendAll(t, s, use)
	names := func() (out []store.Branch) {
		require.NoError(t, s.Write(ctx, func(tx *store.Tx) error { _, err := tx.IDs("asset"); return err }))
		read(t, s, func(tx *store.Tx) {
			var err error
			out, err = tx.Below("A1")
			require.NoError(t, err)
		})
		return out
	}
	assert.Equal(t, []store.Branch{{Named: store.Named{ID: use.ID, Name: "Mechanical seal 38 mm"}, Parent: "A1"}}, names())
	appendAll(t, s, m.Entry("office", "record.created", "asset", "ring", records.Asset{Site: "S1", Parent: use.ID, Name: "O-ring",
		Warranty: "2030-01-31"}))
	require.Len(t, names(), 2, "what hangs under a component too")
	assert.Equal(t, store.Branch{Named: store.Named{ID: "ring", Name: "O-ring"}, Parent: use.ID, Warranty: "2030-01-31"}, names()[1])
	appendAll(t, s, m.Entry("ann", "entry.struck", "visit", "V1", striking(t, s, use)))
	assert.Empty(t, names())
}

// The simulated supplier keeps an order as it was sent first.
func TestTheSupplierKeepsWhatItWasSentFirst(t *testing.T) {
	s, _ := company(t)
	require.NoError(t, s.Write(ctx, func(tx *store.Tx) error {
		first, err := tx.PutSupplied(store.Supplied{Purchase: "PO1", Reference: "C-1", Due: ledgertest.Start})
		require.NoError(t, err)
		again, err := tx.PutSupplied(store.Supplied{Purchase: "PO1", Reference: "C-2", Due: ledgertest.Start.Add(time.Hour)})
		require.NoError(t, err)
		assert.Equal(t, first.Reference, again.Reference)
		assert.True(t, first.Due.Equal(again.Due))
		due, ok, err := tx.SuppliedOn("PO1")
		require.NoError(t, err)
		assert.True(t, ok && due.Equal(ledgertest.Start))
		_, ok, err = tx.SuppliedOn("PO2")
		assert.False(t, ok)
		return err
	}))
}
