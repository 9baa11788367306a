package stock

import (
	"slices"
	"time"

	"github.com/shopspring/decimal"
)

// PurchaseState is where an order to a supplier stands.
type PurchaseState string

const (
	Sent      PurchaseState = "sent"
	Confirmed PurchaseState = "confirmed"
	Delivered PurchaseState = "delivered" // and not all of it booked in
	Received  PurchaseState = "received"
	Cancelled PurchaseState = "cancelled"
)

// Values lists the states, for generated types.
func (PurchaseState) Values() []string {
	return []string{string(Sent), string(Confirmed), string(Delivered), string(Received), string(Cancelled)}
}

// Purchase is an order to a supplier.
type Purchase struct {
	Number    string         `json:"number"`
	Supplier  string         `json:"supplier"`
	Place     string         `json:"place"` // where it is delivered to
	At        time.Time      `json:"at"`
	By        string         `json:"by"`
	Lines     []PurchaseLine `json:"lines"`
	State     PurchaseState  `json:"state"`
	Reference string         `json:"reference,omitempty"` // the supplier's
	Due       string         `json:"due,omitempty"`       // 2006-01-02
	Reason    string         `json:"reason,omitempty"`    // why it was cancelled
}

// PurchaseLine is what is ordered of a part.
type PurchaseLine struct {
	Part     string          `json:"part"`
	Quantity decimal.Decimal `json:"quantity"`
	Cost     decimal.Decimal `json:"cost"` // each
	Received decimal.Decimal `json:"received,omitzero"`
	// Requests are those that it is ordered for.
	Requests []RequestRef `json:"requests,omitempty"`
}

// RequestRef names a request with the work order that waits for it.
type RequestRef struct {
	Request  string          `json:"request"`
	Order    string          `json:"order,omitempty"`
	Quantity decimal.Decimal `json:"quantity"`
}

// Over tells whether nothing more is to come.
func (p Purchase) Over() bool { return p.State == Received || p.State == Cancelled }

// Receive notes what arrived, and tells whether that was all.
func (p *Purchase) Receive(lines []Moved) {
	p.Lines = slices.Clone(p.Lines)
	all := true
	for i := range p.Lines {
		l := &p.Lines[i]
		for _, m := range lines {
			if m.Part == l.Part {
				l.Received = l.Received.Add(m.Quantity)
			}
		}
		all = all && l.Received.GreaterThanOrEqual(l.Quantity)
	}
	if all {
		p.State = Received
	} else if p.State != Cancelled {
		p.State = Delivered
	}
}

// Total is what the order costs.
func (p Purchase) Total() (sum decimal.Decimal) {
	for _, l := range p.Lines {
		sum = sum.Add(l.Quantity.Mul(l.Cost))
	}
	return sum
}
