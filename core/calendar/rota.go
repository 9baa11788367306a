package calendar

import (
	"slices"
	"time"

	"iter.example/iter/core/msg"
)

// Rota is who is on duty when, beside the hours that they work: some people, one after the other.
type Rota struct {
	ID     string   `json:"id"`
	Name   string   `json:"name"`
	From   string   `json:"from"`         // date on which the first turn begins
	To     string   `json:"to,omitempty"` // the last date; "" is none
	Days   int      `json:"days"`         // of a turn
	People []string `json:"people"`       // in their order
	// Hours are the stretches of duty that begin on each day: 0 is Sunday, 6 is Saturday. One that goes on over midnight is of whoever's
	// turn the day is on which it begins.
	Hours [7][]Stretch `json:"hours"`
	// Swaps are days that somebody takes over.
	Swaps []Swap `json:"swaps,omitempty"`
}

// Swap is some days of a rota that another takes over.
type Swap struct {
	From   string `json:"from"`
	To     string `json:"to"` // the last date
	Person string `json:"person"`
}

// On tells whose turn a date is; "" when it is nobody's. Of several swaps of a date the last holds.
func (r Rota) On(date string) string {
	d, err := Date(date)
	from, errFrom := Date(r.From)
	if err != nil || errFrom != nil || d.Before(from) || (r.To != "" && date > r.To) || r.Days < 1 || len(r.People) == 0 {
		return ""
	}
	for _, s := range slices.Backward(r.Swaps) {
		if s.From <= date && date <= s.To {
			return s.Person
		}
	}
	days := int(d.Sub(from) / day) // dates have no clock that is put forward or back
	return r.People[days/r.Days%len(r.People)]
}

// Turn is a stretch of time in which somebody is on duty.
type Turn struct {
	Interval
	Rota string `json:"rota"` // its name
}

// DutyOf gives when somebody is on duty within a stretch of time, in order.
func DutyOf(rotas []Rota, person string, in Interval, clock Clock) (out []Turn) {
	for _, r := range rotas {
		// What begins the day before may go on over midnight.
		for date := in.Begin.AddDate(0, 0, -1).Format(time.DateOnly); date <= in.End.Format(time.DateOnly); date = next(date, 1) {
			if r.On(date) != person {
				continue
			}
			d, _ := Date(date)
			for _, s := range r.Hours[d.Weekday()] {
				from, to, ok := s.bounds()
				i := Interval{clock.On(date, from), clock.On(date, to)}.within(in)
				if ok && i.Length() > 0 {
					out = append(out, Turn{i, r.Name})
				}
			}
		}
	}
	slices.SortStableFunc(out, func(a, b Turn) int { return a.Begin.Compare(b.Begin) })
	return out
}

// How many rotas there are at most, and what is said of one.
const (
	mostRotas  = 50
	mostTurns  = 200 // people and swaps
	longestRun = 366 // days of a turn
)

// CheckRotas says what can't be meant by rotas.
func CheckRotas(rotas []Rota) error {
	if len(rotas) > mostRotas {
		return msg.New("rota.many")
	}
	for _, r := range rotas {
		if err := r.check(); err != nil {
			return err
		}
	}
	return nil
}

func (r Rota) check() error {
	if r.Name == "" || r.ID == "" || len(r.Name)+len(r.ID) > 200 {
		return msg.New("rota.name")
	}
	if err := checkDates(r.From, r.To); err != nil || r.From == "" {
		return msg.New("rota.dates", "rota", r.Name)
	}
	if r.Days < 1 || r.Days > longestRun || len(r.People) == 0 || len(r.People)+len(r.Swaps) > mostTurns {
		return msg.New("rota.turns", "rota", r.Name)
	}
	for _, s := range r.Swaps {
		if err := checkDates(s.From, s.To); err != nil || s.From == "" || s.To == "" || s.Person == "" {
			return msg.New("rota.dates", "rota", r.Name)
		}
	}
	return CheckWeeks([]Week{{Days: r.Hours}})
}
