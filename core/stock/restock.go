package stock

import (
	"time"

	"github.com/shopspring/decimal"
)

// Weeks is how far back use counts for a restock.
const Weeks = 4

// Used is how much of a line visits have used since a moment.
func (l *Line) Used(since time.Time) decimal.Decimal {
	sum := decimal.Zero
	if l == nil {
		return sum
	}
	for _, m := range l.Moves {
		if m.Visit != "" && !m.Struck && !m.At.Before(since) {
			sum = sum.Sub(m.Quantity)
		}
	}
	return decimal.Max(sum, decimal.Zero)
}

// Restock is what is known of a part at a place when it is decided whether to fill up.
type Restock struct {
	Balance  decimal.Decimal `json:"balance"`
	Incoming decimal.Decimal `json:"incoming"` // handed over or ordered, and not there yet
	Level    Level           `json:"level"`
	Used     decimal.Decimal `json:"used"` // over the last Weeks
	Needed   decimal.Decimal `json:"needed"`
	Pack     decimal.Decimal `json:"pack"`  // filled up by packs of this size; zero: by any quantity
	Whole    bool            `json:"whole"` // counted, so no half of one
}

// Quantity is how much to fill up; zero when there is enough.
//
// A place is filled up when what it has, with what is on its way, falls below what it should have at least: Min, or a week's
// use when that is more, beside what is needed. It is filled up to Max, or two weeks' use when that is more, beside what is needed.
func (r Restock) Quantity() decimal.Decimal {
	week := r.Used.Div(decimal.NewFromInt(Weeks))
	have := r.Balance.Add(r.Incoming)
	if have.GreaterThanOrEqual(decimal.Max(r.Level.Min, week).Add(r.Needed)) {
		return decimal.Zero
	}
	q := decimal.Max(r.Level.Max, week.Add(week)).Add(r.Needed).Sub(have)
	switch {
	case r.Pack.IsPositive():
		q = q.Div(r.Pack).Ceil().Mul(r.Pack)
	case r.Whole:
		q = q.Ceil()
	default:
		q = q.RoundCeil(1)
	}
	return decimal.Max(q, decimal.Zero)
}

// Cost is what was paid for a part, over all of it that was received.
type Cost struct {
	Received decimal.Decimal `json:"received"` // in the part's unit
	Paid     decimal.Decimal `json:"paid"`     // in the company's currency
}

// Add counts a receipt at a cost each; below zero it takes one back.
func (c *Cost) Add(q, each decimal.Decimal) {
	c.Received, c.Paid = c.Received.Add(q), c.Paid.Add(q.Mul(each))
}

// Average is what one cost on average, to six places: whatever the order of the receipts it is the same. Without any it is what the
// catalogue says.
func (c Cost) Average(p Part) decimal.Decimal {
	if !c.Received.IsPositive() {
		return p.Cost
	}
	return c.Paid.DivRound(c.Received, 6)
}
