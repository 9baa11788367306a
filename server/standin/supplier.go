package standin

import (
	"context"
	"fmt"
	"time"

	"iter.example/iter/core/ledger"
	"iter.example/iter/core/stock"
	"iter.example/iter/server/store"
)

// Supplier takes orders and brings what was ordered. Sending an order twice, by its id, orders it once.
type Supplier interface {
	// Order sends an order, and gives what the supplier answers.
	Order(ctx context.Context, id string, p stock.Purchase) (Confirmation, error)
	// Brought tells which of some orders have been brought by a moment.
	Brought(ctx context.Context, ids []string, now time.Time) ([]string, error)
}

// Confirmation is a supplier's answer to an order.
type Confirmation struct {
	Reference string
	Due       time.Time
}

// SimulatedSupplier confirms each order at once, and brings it after Lead: two days when that is not given.
type SimulatedSupplier struct {
	Store *store.Store
	Now   func() time.Time
	Lead  time.Duration
}

// Order keeps the order.
func (s SimulatedSupplier) Order(ctx context.Context, id string, p stock.Purchase) (c Confirmation, err error) {
	lead := s.Lead
	if lead == 0 {
		lead = 48 * time.Hour
	}
	err = s.Store.Write(ctx, func(tx *store.Tx) error {
		kept, err := tx.PutSupplied(store.Supplied{Purchase: id, Reference: fmt.Sprintf("C-%s", p.Number), Due: s.Now().Add(lead)})
		c = Confirmation{kept.Reference, kept.Due}
		return err
	})
	return c, err
}

// Brought tells which of the orders have come by a moment.
func (s SimulatedSupplier) Brought(ctx context.Context, ids []string, now time.Time) (out []string, err error) {
	err = s.Store.Read(ctx, func(tx *store.Tx) error {
		for _, id := range ids {
			if due, ok, err := tx.SuppliedOn(id); err != nil {
				return err
			} else if ok && !due.After(now) {
				out = append(out, id)
			}
		}
		return nil
	})
	return out, err
}

// Supply sends the orders that no supplier has confirmed yet, and notes which of the others were brought. It gives how many orders
// changed. What can't be sent waits, and is tried again.
func Supply(ctx context.Context, s *store.Store, by Supplier, now time.Time,
	record func(tx *store.Tx, kind, purchase string, body any) error) (changed int, err error) {
	type order struct {
		id string
		stock.Purchase
	}
	var open []order
	err = s.Read(ctx, func(tx *store.Tx) error {
		ids, err := tx.PurchasesOpen()
		for _, id := range ids {
			o := order{id: id}
			if _, err := tx.Load("purchase", id, &o.Purchase); err != nil {
				return err
			}
			open = append(open, o)
		}
		return err
	})
	var coming []string
	for _, o := range open {
		if o.State == stock.Confirmed {
			coming = append(coming, o.id)
		}
		if err != nil || o.State != stock.Sent {
			continue
		}
		c, failed := by.Order(ctx, o.id, o.Purchase)
		if failed != nil {
			return changed, failed
		}
		err = s.Write(ctx, func(tx *store.Tx) error {
			company, _, err := tx.Company(now)
			if err != nil {
				return err
			}
			return record(tx, "purchase.confirmed", o.id, ledger.PurchaseConfirmed{Reference: c.Reference,
				Due: company.Zone.In(c.Due).Format(time.DateOnly)})
		})
		changed++
	}
	if err != nil || len(coming) == 0 {
		return changed, err
	}
	brought, err := by.Brought(ctx, coming, now)
	for _, id := range brought {
		if err == nil {
			err = s.Write(ctx, func(tx *store.Tx) error { return record(tx, "purchase.delivered", id, ledger.Nothing{}) })
			changed++
		}
	}
	return changed, err
}
