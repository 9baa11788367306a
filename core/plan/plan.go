// Package plan works out a technician's day on the road: the legs between stops, when each is to be expected, which promises
// are at risk, and in what order the stops need the least driving.
package plan

import (
	"slices"
	"sort"
	"time"

	"iter.example/iter/core/records"
	"iter.example/iter/core/roads"
	"iter.example/iter/core/work"
)

// Roads knows the ways between places: from one to each of several, nil where there is none.
type Roads interface {
	Ways(from records.Point, to ...records.Point) []*roads.Way
}

// Stop is a visit of the day, as far as driving goes.
type Stop struct {
	ID      string
	Place   *records.Point // nil when nobody knows where it is
	Planned time.Time
	Length  time.Duration
	// From and To bound what was promised. Zero: nothing was.
	From, To              time.Time
	Done                  time.Time // by when the work is promised to be done
	Stage                 work.Stage
	SetOff, Arrived, Left time.Time
}

// StopOf makes a stop of a visit with its work order and site.
func StopOf(id string, v work.Visit, o work.Order, s records.Site) Stop {
	out := Stop{ID: id, Planned: v.Start, Length: time.Duration(v.Minutes) * time.Minute, From: o.PromiseFrom, To: o.PromiseTo, Done: o.DoneBy,
		Stage: v.Stage}
	if s.Lat != 0 || s.Lon != 0 {
		out.Place = &records.Point{Lat: s.Lat, Lon: s.Lon}
	}
	for _, x := range v.Steps {
		switch {
		case x.Struck:
		case x.Action == work.SetOff:
			out.SetOff = x.At
		case (x.Action == work.Arrive || x.Action == work.StartTask) && out.Arrived.IsZero():
			out.Arrived = x.At
		}
	}
	if v.Stage == work.Finished {
		out.Left = v.Ended()
	}
	return out
}

func (s Stop) over() bool {
	return s.Stage == work.Finished || s.Stage == work.Withdrawn || s.Stage == work.Declined
}

func (s Stop) begun() bool { return !s.SetOff.IsZero() || !s.Arrived.IsZero() }

// Risk says how a promise stands.
type Risk string

const (
	Tight Risk = "tight" // expected within the last minutes of what was promised
	Late  Risk = "late"  // expected after it
)

// Values lists the risks, for generated types.
func (Risk) Values() []string { return []string{string(Tight), string(Late)} }

const tight = 15 * time.Minute

// Leg is a stop with the way to it, and when somebody will be there as things stand.
type Leg struct {
	ID     string     `json:"id"`
	Way    *roads.Way `json:"way,omitempty"` // from the stop before, or where the day begins; none when it is not known
	SetOff time.Time  `json:"setOff,omitzero"`
	Arrive time.Time  `json:"arrive,omitzero"`
	Leave  time.Time  `json:"leave,omitzero"`
	Risk   Risk       `json:"risk,omitempty"` // of when somebody comes
	// Done is how it stands with when the work is promised to be done.
	Done Risk `json:"done,omitempty"`
}

// Arrange puts stops in the order of the day: what was begun as it was begun, then the rest as the person ordered them, and
// what they did not order as planned.
func Arrange(stops []Stop, order []string) []Stop {
	out := slices.Clone(stops)
	rank := func(s Stop) int {
		if i := slices.Index(order, s.ID); i >= 0 {
			return i
		}
		return len(order)
	}
	sort.SliceStable(out, func(i, j int) bool {
		a, b := out[i], out[j]
		if a.begun() != b.begun() {
			return a.begun()
		}
		if a.begun() {
			return first(a).Before(first(b))
		}
		if x, y := rank(a), rank(b); x != y {
			return x < y
		}
		if c := a.Planned.Compare(b.Planned); c != 0 {
			return c < 0
		}
		return a.ID < b.ID
	})
	return out
}

func first(s Stop) time.Time {
	if !s.SetOff.IsZero() && (s.Arrived.IsZero() || s.SetOff.Before(s.Arrived)) {
		return s.SetOff
	}
	return s.Arrived
}

// Route works out the legs of stops that are in order, from where the day begins. Stops that were put in order by the person,
// and not as planned, are not waited for until their planned start. hours say when roads take longer, by the clock of now.
func Route(stops []Stop, order []string, start *records.Point, now time.Time, r Roads, hours *roads.Hours) []Leg {
	out := make([]Leg, 0, len(stops))
	at, free := start, time.Time{}
	for _, s := range stops {
		l := Leg{ID: s.ID}
		if s.Stage == work.Withdrawn || s.Stage == work.Declined {
			out = append(out, l)
			continue
		}
		if at != nil && s.Place != nil {
			l.Way = r.Ways(*at, *s.Place)[0]
		}
		// drive has the way take what it does when it is set off for, or is to end, at a moment, and tells how long that is.
		drive := func(as func(*roads.Way, time.Time) *roads.Way, t time.Time) time.Duration {
			if l.Way == nil {
				return 0
			}
			l.Way = as(r.Ways(*at, *s.Place)[0], t.In(now.Location()))
			return time.Duration(l.Way.Seconds) * time.Second
		}
		switch {
		case !s.Arrived.IsZero():
			l.SetOff, l.Arrive = s.SetOff, s.Arrived
			if !s.SetOff.IsZero() {
				drive(hours.From, s.SetOff)
			}
		case !s.SetOff.IsZero():
			l.SetOff, l.Arrive = s.SetOff, later(s.SetOff.Add(drive(hours.From, s.SetOff)), now)
		default:
			earliest := s.Planned
			if slices.Contains(order, s.ID) {
				earliest = s.From
			}
			if free.IsZero() { // the first of the day: in time for what was planned
				free = s.Planned.Add(-drive(hours.Until, s.Planned))
			}
			off := later(free, now)
			l.Arrive = off.Add(drive(hours.From, off))
			if l.SetOff = off; l.Arrive.Before(earliest) {
				l.Arrive = earliest
				l.SetOff = earliest.Add(-drive(hours.Until, earliest))
			}
		}
		if l.Leave = s.Left; l.Leave.IsZero() {
			l.Leave = l.Arrive.Add(s.Length)
			if !s.over() {
				l.Leave = later(l.Leave, now)
			}
		}
		if s.Arrived.IsZero() && !s.over() && !s.To.IsZero() {
			l.Risk = riskOf(l.Arrive, s.To)
		}
		if !s.over() && !s.Done.IsZero() {
			l.Done = riskOf(l.Leave, s.Done)
		}
		free = later(free, l.Leave)
		if s.Place != nil {
			at = s.Place
		}
		out = append(out, l)
	}
	return out
}

// riskOf says how a promise stands that is expected to be kept at a time.
func riskOf(at, promised time.Time) Risk {
	switch {
	case at.After(promised):
		return Late
	case at.After(promised.Add(-tight)):
		return Tight
	}
	return ""
}

func later(a, b time.Time) time.Time {
	if a.After(b) {
		return a
	}
	return b
}
