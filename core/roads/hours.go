package roads

import (
	"strconv"
	"time"

	"iter.example/iter/core/msg"
)

// Busy says how long ways take on some days between two hours, by the company's clock. Ferries keep their time.
type Busy struct {
	Days []int `json:"days"` // of the week: 0 is Sunday, 6 is Saturday
	From int   `json:"from"` // hour of the day, 0 to 23
	To   int   `json:"to"`   // hour of the day until which it is so, up to 24
	// Percent is how long ways take, of what they take on free roads: 130 is three tenths more.
	Percent int `json:"percent"`
}

// What roads may take, in percent of what they take when they are free, and how many lines of it there are at most.
const (
	leastPercent = 50
	mostPercent  = 400
	mostBusy     = 50
)

func (b Busy) check() error {
	if len(b.Days) == 0 || b.From < 0 || b.To > 24 || b.From >= b.To {
		return msg.New("roads.hours")
	}
	for _, d := range b.Days {
		if d < 0 || d > 6 {
			return msg.New("roads.hours")
		}
	}
	if b.Percent < leastPercent || b.Percent > mostPercent {
		return msg.New("roads.percent", "least", strconv.Itoa(leastPercent), "most", strconv.Itoa(mostPercent))
	}
	return nil
}

const (
	hour = 3600
	week = 7 * 24 * hour
)

// Hours is how long ways take in each hour of a week, in percent of what they take on free roads. The week begins with Sunday. Nil: roads
// are always free.
type Hours [week / hour]int

// NewHours makes hours of what was said of them; of what was said twice the last counts.
func NewHours(said []Busy) *Hours {
	if len(said) == 0 {
		return nil
	}
	h := &Hours{}
	for i := range h {
		h[i] = 100
	}
	for _, b := range said {
		if b.check() != nil {
			continue
		}
		for _, d := range b.Days {
			for k := b.From; k < b.To; k++ {
				h[d*24+k] = b.Percent
			}
		}
	}
	return h
}

// SecondOfWeek is where in its week a moment is.
func SecondOfWeek(t time.Time) int {
	return int(t.Weekday())*24*hour + t.Hour()*hour + t.Minute()*60 + t.Second()
}

// fine is by how much seconds are cut finer, so that what is left of a way at the end of an hour is not rounded away.
const fine = 100

// After is how many seconds a way takes that is begun at a second of the week: road is its seconds on free roads, ferry those on ferries,
// which are taken to come last. Who begins later is never there sooner.
func (h *Hours) After(at, road, ferry int) int {
	if h == nil {
		return road + ferry
	}
	took := 0
	for left := road * fine; left > 0; {
		in := (at + took) % week
		percent, rest := h[in/hour], hour-in%hour
		if all := left * percent / (100 * fine); all < rest {
			took += all
			break
		}
		took, left = took+rest, left-rest*100*fine/percent
	}
	return took + ferry
}

// Before is how many seconds a way takes that ends at a second of the week.
func (h *Hours) Before(at, road, ferry int) int {
	if h == nil {
		return road + ferry
	}
	took := 0
	for left := road * fine; left > 0; {
		in := ((at-ferry-took-1)%week + week) % week
		percent, rest := h[in/hour], in%hour+1
		if all := left * percent / (100 * fine); all < rest {
			took += all
			break
		}
		took, left = took+rest, left-rest*100*fine/percent
	}
	return took + ferry
}

// took is a way as it is when it takes so many seconds.
func (w *Way) took(seconds int) *Way {
	road := w.Seconds - w.Ferry
	if seconds == w.Seconds || road <= 0 {
		return w
	}
	out := *w
	out.Seconds, out.Free, out.Parts = seconds, w.Seconds, make([]Part, len(w.Parts))
	for i, p := range w.Parts {
		if p.Class != Ferry {
			p.Seconds = p.Seconds * (seconds - w.Ferry) / road
		}
		out.Parts[i] = p
	}
	return &out
}

// From is a way as it is when it is begun at a moment.
func (h *Hours) From(w *Way, at time.Time) *Way {
	return w.took(h.After(SecondOfWeek(at), w.Seconds-w.Ferry, w.Ferry))
}

// Until is a way as it is when it ends at a moment.
func (h *Hours) Until(w *Way, at time.Time) *Way {
	return w.took(h.Before(SecondOfWeek(at), w.Seconds-w.Ferry, w.Ferry))
}
