package standin_test

import (
	"context"
	"encoding/json"
	"errors"
	"testing"
	"time"

	"github.com/shopspring/decimal"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"iter.example/iter/core/ledger"
	"iter.example/iter/core/ledger/ledgertest"
	"iter.example/iter/core/stock"
	"iter.example/iter/server/standin"
	"iter.example/iter/server/store"
)

// firm is the test company that orders from a supplier.
type firm struct {
	*testing.T
	store *store.Store
	m     *ledgertest.Maker
	now   time.Time
}

func open(t *testing.T) *firm {
	s, err := store.Open(context.Background(), t.TempDir())
	require.NoError(t, err)
	t.Cleanup(func() { _ = s.Close() })
	f := &firm{t, s, ledgertest.NewMaker("R1", 1), ledgertest.Start.Add(time.Hour)}
	for _, e := range append(f.m.Company(), f.m.Entry("office", "record.created", "place", "store",
		stock.Place{Name: "Store", Kind: "store"})) {
		f.append(e)
	}
	return f
}

func (f *firm) append(e ledger.Entry) {
	require.NoError(f, f.store.Write(context.Background(), func(tx *store.Tx) error { _, err := tx.Record(e, f.now); return err }))
}

func (f *firm) orders(id string) {
	f.append(f.m.Entry("office", "purchase.made", "purchase", id, ledger.PurchaseMade{Number: id, Supplier: "harbour", Place: "store",
		Lines: []stock.PurchaseLine{{Part: "P1", Quantity: decimal.NewFromInt(2)}}}))
}

// supply looks after the orders once, and gives how many changed.
func (f *firm) supply(by standin.Supplier) (int, error) {
	return standin.Supply(context.Background(), f.store, by, f.now, func(tx *store.Tx, kind, purchase string, body any) error {
		raw, err := json.Marshal(body)
		require.NoError(f, err)
		_, err = tx.Record(f.m.Entry("office", kind, "purchase", purchase, json.RawMessage(raw)), f.now)
		return err
	})
}

func (f *firm) state(id string) (p stock.Purchase) {
	require.NoError(f, f.store.Read(context.Background(), func(tx *store.Tx) error { _, err := tx.Load("purchase", id, &p); return err }))
	return p
}

func TestTheSimulatedSupplierConfirmsAndBrings(t *testing.T) {
	f := open(t)
	by := standin.SimulatedSupplier{Store: f.store, Now: func() time.Time { return f.now }}
	n, err := f.supply(by)
	require.NoError(t, err)
	assert.Zero(t, n, "nothing is ordered")
	f.orders("A")
	f.orders("B")
	n, err = f.supply(by)
	require.NoError(t, err)
	assert.Equal(t, 2, n)
	assert.Equal(t, []any{stock.Confirmed, "C-A", "2026-03-12"}, []any{f.state("A").State, f.state("A").Reference, f.state("A").Due})
	n, err = f.supply(by)
	require.NoError(t, err)
	assert.Zero(t, n, "what is confirmed is not ordered again")
	f.now = f.now.Add(49 * time.Hour)
	f.append(f.m.Entry("office", "purchase.cancelled", "purchase", "B", ledger.PurchaseCancelled{Reason: "Bought elsewhere"}))
	n, err = f.supply(by)
	require.NoError(t, err)
	assert.Equal(t, 1, n)
	assert.Equal(t, []stock.PurchaseState{stock.Delivered, stock.Cancelled}, []stock.PurchaseState{f.state("A").State, f.state("B").State})
	n, err = f.supply(by)
	require.NoError(t, err)
	assert.Zero(t, n, "it is brought once")
}

func TestALeadOfOnesOwn(t *testing.T) {
	f := open(t)
	by := standin.SimulatedSupplier{Store: f.store, Now: func() time.Time { return f.now }, Lead: time.Minute}
	f.orders("A")
	_, err := f.supply(by)
	require.NoError(t, err)
	assert.Equal(t, stock.Confirmed, f.state("A").State)
	f.now = f.now.Add(time.Minute)
	_, err = f.supply(by)
	require.NoError(t, err)
	assert.Equal(t, stock.Delivered, f.state("A").State)
}

// moody is a supplier that fails a few times.
type moody struct {
	standin.SimulatedSupplier
	fails, orders int
}

func (m *moody) Order(ctx context.Context, id string, p stock.Purchase) (standin.Confirmation, error) {
	if m.fails > 0 {
		m.fails--
		return standin.Confirmation{}, errors.New("the line is busy")
	}
	m.orders++
	return m.SimulatedSupplier.Order(ctx, id, p)
}

func TestWhatCantBeSentWaits(t *testing.T) {
	f := open(t)
	by := &moody{SimulatedSupplier: standin.SimulatedSupplier{Store: f.store, Now: func() time.Time { return f.now }}, fails: 2}
	f.orders("A")
	for range 2 {
		_, err := f.supply(by)
		assert.ErrorContains(t, err, "busy")
		assert.Equal(t, stock.Sent, f.state("A").State)
	}
	for range 3 {
		_, err := f.supply(by)
		require.NoError(t, err)
	}
	assert.Equal(t, 1, by.orders, "it is ordered once")
	assert.Equal(t, stock.Confirmed, f.state("A").State)
}
