// Package stock keeps what each place holds: balances as the sum of movements, in any order of arrival.
//
// A count says what is really there at a moment: what moved before it no longer matters, what moved after it does, also when
// it is heard of later. A balance may fall below zero: what was used was there, so the book is wrong, not the technician.
package stock

import (
	"slices"
	"sort"
	"time"

	"github.com/shopspring/decimal"
)

// Stock is what one place holds, by part.
type Stock struct {
	Place string           `json:"place"`
	Lines map[string]*Line `json:"lines"`
	// Held is what is kept for work orders, by order, then part.
	Held map[string]map[string]*Hold `json:"held,omitempty"`
}

// Line is one part at one place.
type Line struct {
	Balance decimal.Decimal `json:"balance"` // Counted plus the movements since CountedAt
	Counted decimal.Decimal `json:"counted"`
	CountBy string          `json:"countBy,omitempty"` // entry of the last count
	// CountedAt is when Counted was true. Never counted: nothing, since always.
	CountedAt time.Time `json:"countedAt,omitzero"`
	// FoldedTo is the time before which movements are in Counted instead of in Moves.
	FoldedTo time.Time  `json:"foldedTo,omitzero"`
	Moves    []Movement `json:"moves,omitempty"`
}

// Movement is a change of one line by Quantity: above zero in, below zero out.
type Movement struct {
	Entry    string          `json:"entry"`
	At       time.Time       `json:"at"`
	Quantity decimal.Decimal `json:"quantity"`
	Visit    string          `json:"visit,omitempty"`
	Struck   bool            `json:"struck,omitempty"`
}

func (s *Stock) line(part string) *Line {
	if s.Lines == nil {
		s.Lines = map[string]*Line{}
	}
	l := s.Lines[part]
	if l == nil {
		l = &Line{}
		s.Lines[part] = l
	}
	return l
}

// Balance is what there is of a part.
func (s *Stock) Balance(part string) decimal.Decimal {
	if l := s.Lines[part]; l != nil {
		return l.Balance
	}
	return decimal.Zero
}

// Move records a movement, once by entry, and gives the balance after it.
func (s *Stock) Move(part string, m Movement) decimal.Decimal {
	l := s.line(part)
	for _, have := range l.Moves {
		if have.Entry == m.Entry {
			return l.Balance
		}
	}
	at := sort.Search(len(l.Moves), func(i int) bool {
		have := l.Moves[i]
		return have.At.After(m.At) || have.At.Equal(m.At) && have.Entry > m.Entry
	})
	l.Moves = slices.Insert(l.Moves, at, m)
	if !m.Struck && !m.At.Before(l.CountedAt) {
		l.Balance = l.Balance.Add(m.Quantity)
	}
	l.tidy()
	return l.Balance
}

// Count records that quantity was there at a moment. Of two counts the later stands, whichever is heard of first.
func (s *Stock) Count(part, entry string, at time.Time, quantity decimal.Decimal) {
	l := s.line(part)
	if at.Before(l.FoldedTo) || at.Before(l.CountedAt) || (at.Equal(l.CountedAt) && entry <= l.CountBy) {
		return
	}
	l.Counted, l.CountedAt, l.CountBy = quantity, at, entry
	l.settle()
}

// Strike cancels a movement as it was made, or lets it count again, whether it is still listed or not.
func (s *Stock) Strike(part string, m Movement, struck bool) {
	l := s.line(part)
	for i := range l.Moves {
		if l.Moves[i].Entry == m.Entry {
			l.Moves[i].Struck = struck
			l.settle()
			return
		}
	}
	if m.At.Before(l.CountedAt) {
		return // counted since
	}
	if struck {
		m.Quantity = m.Quantity.Neg()
	}
	l.Counted = l.Counted.Add(m.Quantity)
	l.settle()
}

// Movements stay listed one by one for longer than an entry may be late, back from the latest but a few: those may have been
// recorded under a clock that was set ahead, and a count of today must not lie before what is folded.
const (
	listed = 60 * 24 * time.Hour
	aFew   = 5
)

// tidy folds what need not be listed any more: the balance stays.
func (l *Line) tidy() {
	if n := len(l.Moves); n > aFew {
		l.fold(l.Moves[n-1-aFew].At.Add(-listed))
	}
}

// settle works the balance out anew.
func (l *Line) settle() {
	l.tidy()
	l.Balance = l.Counted
	for _, m := range l.Moves {
		if !m.Struck && !m.At.Before(l.CountedAt) {
			l.Balance = l.Balance.Add(m.Quantity)
		}
	}
}

// fold adds the movements before a time to what was counted, so that a line does not grow for ever.
func (l *Line) fold(to time.Time) {
	n := sort.Search(len(l.Moves), func(i int) bool { return !l.Moves[i].At.Before(to) })
	if n == 0 {
		return
	}
	for _, m := range l.Moves[:n] {
		if !m.Struck && !m.At.Before(l.CountedAt) {
			l.Counted = l.Counted.Add(m.Quantity)
		}
	}
	l.Moves, l.FoldedTo = append([]Movement(nil), l.Moves[n:]...), to
}

// MaxQuantity is the largest quantity taken as meant: above it, somebody typed a part number into the wrong box.
var MaxQuantity = decimal.NewFromInt(100_000)

// Sensible tells whether a quantity to use or count can be meant: finite digits, not absurd, and above zero where it must be.
func Sensible(q decimal.Decimal, zero bool) bool {
	if q.IsNegative() || (q.IsZero() && !zero) || q.GreaterThan(MaxQuantity) {
		return false
	}
	return q.Exponent() >= -6
}
