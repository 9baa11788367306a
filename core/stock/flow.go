package stock

import (
	"slices"
	"time"

	"github.com/shopspring/decimal"

	"iter.example/iter/core/msg"
	"iter.example/iter/core/records"
)

// Moved is how much of a part is moved, and for which work order when it is kept for one.
type Moved struct {
	Part     string          `json:"part"`
	Quantity decimal.Decimal `json:"quantity"`
	Order    string          `json:"order,omitempty"`
}

// CheckMoved says what is wrong with lines to move: none, too many, one twice, or a quantity that can't be meant.
func CheckMoved(lines []Moved, zero bool) error {
	if len(lines) == 0 || len(lines) > 500 {
		return msg.New("stock.lines", "max", "500")
	}
	for i, l := range lines {
		if err := records.CheckID(l.Part); err != nil {
			return err
		}
		if !Sensible(l.Quantity, zero) {
			return msg.New("quantity.absurd", "quantity", records.Clip(l.Quantity.String()))
		}
		if l.Order != "" {
			if err := records.CheckID(l.Order); err != nil {
				return err
			}
		}
		if slices.ContainsFunc(lines[:i], func(x Moved) bool { return x.Part == l.Part && x.Order == l.Order }) {
			return msg.New("stock.twice", "part", l.Part)
		}
	}
	return nil
}

// Sum adds up lines by part, in the order the parts come.
func Sum(lines []Moved) []Moved {
	out := []Moved{}
	for _, l := range lines {
		if i := slices.IndexFunc(out, func(x Moved) bool { return x.Part == l.Part }); i >= 0 {
			out[i].Quantity = out[i].Quantity.Add(l.Quantity)
			continue
		}
		out = append(out, Moved{Part: l.Part, Quantity: l.Quantity})
	}
	return out
}

// Send takes lines out of a place, with what was kept for their orders, and gives the parts that fall below zero.
func (s *Stock) Send(entry string, at time.Time, lines []Moved) (below []string) {
	for _, l := range Sum(lines) {
		before := s.Balance(l.Part)
		if s.Move(l.Part, Movement{Entry: entry, At: at, Quantity: l.Quantity.Neg()}).IsNegative() && !before.IsNegative() {
			below = append(below, l.Part)
		}
	}
	for _, l := range lines {
		if l.Order != "" {
			s.take(l.Order, l.Part, l.Quantity)
		}
	}
	return below
}

// Put puts lines into a place, and keeps them for their orders.
func (s *Stock) Put(entry string, at time.Time, lines []Moved) {
	for _, l := range Sum(lines) {
		s.Move(l.Part, Movement{Entry: entry, At: at, Quantity: l.Quantity})
	}
	for _, l := range lines {
		if l.Order != "" {
			s.Reserve(l.Order, l.Part, at, l.Quantity)
		}
	}
}

// Use takes what a visit used, and gives the balance after it.
func (s *Stock) Use(part, order string, m Movement) decimal.Decimal {
	left := s.Move(part, m)
	s.take(order, part, m.Quantity.Neg())
	return left
}

// Unuse strikes out what a visit used, or lets it count again; m is as it was used.
func (s *Stock) Unuse(part, order string, m Movement, struck bool) {
	s.Strike(part, m, struck)
	q := m.Quantity
	if !struck {
		q = q.Neg()
	}
	s.take(order, part, q)
}

// Handover is parts on their way from one place to another. Until the receiver confirms, they are at neither.
type Handover struct {
	From   string    `json:"from"`
	To     string    `json:"to"`
	At     time.Time `json:"at"`
	By     string    `json:"by"`
	Note   string    `json:"note,omitempty"`
	Lines  []Moved   `json:"lines"`
	Taken  []Moved   `json:"taken,omitempty"` // what arrived
	DoneAt time.Time `json:"doneAt,omitzero"`
	DoneBy string    `json:"doneBy,omitempty"`
	// Back tells that the sender took it back, or that what did not arrive went back to the sender.
	Back bool `json:"back,omitempty"`
}

// Open tells whether nobody has confirmed it yet.
func (h Handover) Open() bool { return h.DoneAt.IsZero() }

// Missing is what was handed over and has not arrived, by part; below zero what arrived beyond it.
func (h Handover) Missing() []Moved {
	lines := slices.Clone(h.Lines)
	for _, l := range h.Taken {
		l.Quantity = l.Quantity.Neg()
		lines = append(lines, l)
	}
	return slices.DeleteFunc(Sum(lines), func(l Moved) bool { return l.Quantity.IsZero() })
}
