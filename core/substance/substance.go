// Package substance keeps the log of regulated substances at a site: what came, what was put into machines and taken out of them, what
// is in stock, and how much a machine loses in a year.
package substance

import (
	"slices"
	"strings"
	"time"

	"github.com/shopspring/decimal"

	"iter.example/iter/core/audit"
	"iter.example/iter/core/msg"
	"iter.example/iter/core/ordered"
	"iter.example/iter/core/records"
	"iter.example/iter/core/unit"
)

// Act is what was done with an amount.
type Act string

const (
	Delivered Act = "delivered"  // came to the stock on site
	FirstFill Act = "first_fill" // into a machine that was empty: no loss
	PutIn     Act = "put_in"     // topped up
	TakenOut  Act = "taken_out"  // of a machine
	Removed   Act = "removed"    // left the stock on site
	Counted   Act = "counted"    // is the stock on site
)

// Values lists the acts, for generated types.
func (Act) Values() []string {
	return []string{string(Delivered), string(FirstFill), string(PutIn), string(TakenOut), string(Removed), string(Counted)}
}

// Machine tells whether the act is one on a machine.
func (a Act) Machine() bool { return a == FirstFill || a == PutIn || a == TakenOut }

// Move is a line of the log.
type Move struct {
	audit.Line
	Visit     string          `json:"visit"`
	Substance string          `json:"substance"`
	Act       Act             `json:"act"`
	Asset     string          `json:"asset,omitempty"` // of an act on a machine
	Amount    decimal.Decimal `json:"amount"`
	Unit      string          `json:"unit"`
	// Away tells of an act on a machine that it did not come from, or go to, the stock on site.
	Away bool   `json:"away,omitempty"`
	Note string `json:"note,omitempty"`
}

var most = decimal.New(1, 7)

// Check says why a line can't be taken.
func (m Move) Check() error {
	if !slices.Contains(m.Act.Values(), string(m.Act)) || m.Act.Machine() != (m.Asset != "") || (m.Away && !m.Act.Machine()) {
		return msg.New("substance.act")
	}
	if m.Amount.IsNegative() || (m.Amount.IsZero() && m.Act != Counted) || m.Amount.GreaterThan(most) || m.Amount.Exponent() < -6 {
		return msg.New("quantity.absurd", "quantity", records.Clip(m.Amount.String()))
	}
	if m.Asset != "" {
		if err := records.CheckID(m.Asset); err != nil {
			return err
		}
	}
	if _, err := unit.Parse(m.Unit); err != nil {
		return err
	}
	if err := records.CheckText("note", m.Note, false, 500); err != nil {
		return err
	}
	return records.CheckID(m.Substance)
}

// Log is all that was recorded at a site. It is a document, named by the site.
type Log struct {
	Moves []Move `json:"moves"` // by time
}

// Add puts a line where it belongs by time.
func (l *Log) Add(m Move) {
	l.Moves = append(slices.Clone(l.Moves), m)
	ordered.Stable(l.Moves, func(a, b Move) int {
		if c := a.At.Compare(b.At); c != 0 {
			return c
		}
		return strings.Compare(a.Entry, b.Entry)
	})
}

// Stand is how much of a substance there is.
type Stand struct {
	Substance
	OnSite   decimal.Decimal `json:"onSite"` // in stock, in the substance's unit
	Machines []Machine       `json:"machines"`
	Unlike   int             `json:"unlike,omitempty"` // lines in a unit that does not fit, which do not count
}

// Machine is a machine with a substance in it.
type Machine struct {
	Asset  string          `json:"asset"`
	Charge decimal.Decimal `json:"charge"` // what it holds when full; zero: not known
	In     decimal.Decimal `json:"in"`     // put in less taken out, ever
	Year   decimal.Decimal `json:"year"`   // topped up less taken out in the 365 days to now
	// Loss is Year in per cent of the charge. Nil: the charge is not known.
	Loss *decimal.Decimal `json:"loss,omitempty"`
	Over bool             `json:"over,omitempty"` // above what is allowed
}

// Stands adds up the log for each substance that occurs at the site or that one of its machines is charged with.
func (l Log) Stands(list []Substance, assets map[string]records.Asset, now time.Time) []Stand {
	out := []Stand{}
	for _, s := range list {
		st := Stand{Substance: s, Machines: []Machine{}}
		machines := map[string]*Machine{}
		found := false
		for id, a := range assets {
			for _, c := range a.Charges {
				if c.Substance == s.ID {
					machines[id] = &Machine{Asset: id, Charge: c.Amount}
					found = true
				}
			}
		}
		for _, m := range l.Moves {
			if m.Substance != s.ID || m.Struck || m.At.After(now) {
				continue
			}
			found = true
			amount, _, err := unit.Convert(m.Amount, m.Unit, s.Unit)
			if err != nil {
				st.Unlike++
				continue
			}
			st.count(machines, m, amount, now)
		}
		if !found {
			continue
		}
		for _, id := range sorted(machines) {
			m := machines[id]
			if m.Charge.IsPositive() {
				loss := m.Year.Mul(decimal.NewFromInt(100)).DivRound(m.Charge, 1)
				m.Loss, m.Over = &loss, s.Allowed != nil && loss.GreaterThan(*s.Allowed)
			}
			st.Machines = append(st.Machines, *m)
		}
		out = append(out, st)
	}
	return out
}

func (s *Stand) count(machines map[string]*Machine, m Move, amount decimal.Decimal, now time.Time) {
	switch m.Act {
	case Counted:
		s.OnSite = amount
		return
	case Delivered:
		s.OnSite = s.OnSite.Add(amount)
		return
	case Removed:
		s.OnSite = s.OnSite.Sub(amount)
		return
	case TakenOut:
		amount = amount.Neg()
	}
	if !m.Away {
		s.OnSite = s.OnSite.Sub(amount)
	}
	at := machines[m.Asset]
	if at == nil {
		at = &Machine{Asset: m.Asset}
		machines[m.Asset] = at
	}
	at.In = at.In.Add(amount)
	if m.Act != FirstFill && m.At.After(now.AddDate(0, 0, -365)) {
		at.Year = at.Year.Add(amount)
	}
}

func sorted(m map[string]*Machine) []string {
	out := make([]string, 0, len(m))
	for id := range m {
		out = append(out, id)
	}
	slices.Sort(out)
	return out
}
