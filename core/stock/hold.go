package stock

import (
	"maps"
	"time"

	"github.com/shopspring/decimal"
)

// Hold is what a place keeps of a part for a work order: what was reserved for it, less what it has taken since.
type Hold struct {
	Reserved decimal.Decimal `json:"reserved"`
	Taken    decimal.Decimal `json:"taken,omitzero"`
	At       time.Time       `json:"at"` // when it was last reserved
}

// left is never below zero: an order that took more than was kept for it keeps nothing.
func (h *Hold) left() decimal.Decimal {
	if h == nil || h.Taken.GreaterThan(h.Reserved) {
		return decimal.Zero
	}
	return h.Reserved.Sub(h.Taken)
}

// Reserve keeps more of a part for a work order, or less when the quantity is below zero.
func (s *Stock) Reserve(order, part string, at time.Time, q decimal.Decimal) {
	held := maps.Clone(s.Held)
	if held == nil {
		held = map[string]map[string]*Hold{}
	}
	parts := maps.Clone(held[order])
	if parts == nil {
		parts = map[string]*Hold{}
	}
	h := Hold{}
	if have := parts[part]; have != nil {
		h = *have
	}
	h.Reserved = decimal.Max(h.Reserved.Add(q), decimal.Zero)
	if at.After(h.At) {
		h.At = at
	}
	parts[part], held[order] = &h, parts
	for o, of := range held { // what was used up long ago
		for p, x := range of {
			if x.left().IsZero() && x.At.Before(at.Add(-listed)) {
				of = maps.Clone(of)
				delete(of, p)
				held[o] = of
			}
		}
		if len(held[o]) == 0 {
			delete(held, o)
		}
	}
	s.Held = held
}

// take notes that a work order took what was kept for it, or gave it back when the quantity is below zero. An order for which nothing
// was kept takes what is free.
func (s *Stock) take(order, part string, q decimal.Decimal) {
	have := s.Held[order][part]
	if have == nil {
		return
	}
	h := *have
	h.Taken = h.Taken.Add(q)
	s.Held = maps.Clone(s.Held)
	s.Held[order] = maps.Clone(s.Held[order])
	s.Held[order][part] = &h
}

// HeldFor is what is kept of a part for a work order.
func (s *Stock) HeldFor(order, part string) decimal.Decimal { return s.Held[order][part].left() }

// Free is what there is of a part beyond what is kept for work orders; below zero when more is kept than there is.
func (s *Stock) Free(part string) decimal.Decimal {
	free := s.Balance(part)
	for _, parts := range s.Held {
		free = free.Sub(parts[part].left())
	}
	return free
}

// Demand is what a stop needs of a part.
type Demand struct {
	Stop     string          `json:"stop"`
	Order    string          `json:"order"`
	Part     string          `json:"part"`
	Quantity decimal.Decimal `json:"quantity"`
}

// Allotment is what a demand gets of what there is.
type Allotment struct {
	Demand
	Has   decimal.Decimal `json:"has"`
	Lacks decimal.Decimal `json:"lacks"`
}

// Allot shares what a place has among demands, in their order: each takes what is kept for its work order, then what is free. What
// one has taken, the next can't have; where more is kept than there is, those who come first get it.
func (s *Stock) Allot(demands []Demand) []Allotment {
	there, free, held := map[string]decimal.Decimal{}, map[string]decimal.Decimal{}, map[[2]string]decimal.Decimal{}
	for _, d := range demands {
		if _, ok := there[d.Part]; !ok {
			there[d.Part] = decimal.Max(s.Balance(d.Part), decimal.Zero)
			free[d.Part] = decimal.Max(s.Free(d.Part), decimal.Zero)
		}
		held[[2]string{d.Order, d.Part}] = s.HeldFor(d.Order, d.Part)
	}
	out := []Allotment{}
	for _, d := range demands {
		k := [2]string{d.Order, d.Part}
		kept := decimal.Min(held[k], d.Quantity, there[d.Part])
		held[k], there[d.Part] = held[k].Sub(kept), there[d.Part].Sub(kept)
		loose := decimal.Min(free[d.Part], d.Quantity.Sub(kept))
		free[d.Part], there[d.Part] = free[d.Part].Sub(loose), there[d.Part].Sub(loose)
		has := kept.Add(loose)
		out = append(out, Allotment{d, has, d.Quantity.Sub(has)})
	}
	return out
}
