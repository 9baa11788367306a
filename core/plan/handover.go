package plan

import (
	"cmp"
	"slices"

	"iter.example/iter/core/ordered"
)

// Handed is a visit of somebody's day and whose it could be. Fit is nil of one that nobody else can do.
type Handed struct {
	ID  string `json:"id"`
	Fit *Fit   `json:"fit,omitempty"`
}

// perMoved is how many seconds a visit that is handed over is moved for a second of driving: customers were told a time.
const perMoved = 4

// HandOver says who could do what somebody has on a day and has not begun: somebody else by their id, or whoever fits best with to "".
func (d *Day) HandOver(lane, to string) []Handed {
	from := d.Lane(lane)
	if from == nil {
		return []Handed{}
	}
	return d.give(slices.Clone(from.Stops), lane, to)
}

// Give says when somebody could do some visits of the day or work that waits, by their ids: somebody by theirs, or whoever fits best with
// to "". What the day does not know of is left out.
func (d *Day) Give(ids []string, to string) []Handed {
	var stops []Placed
	for _, id := range ids {
		if p := d.find(id); p != nil {
			stops = append(stops, *p)
		}
	}
	return d.give(stops, "", to)
}

// give looks for places for visits with anybody but those of a lane. What is promised soonest is given first, and each counts for the next.
func (d *Day) give(stops []Placed, except, to string) []Handed {
	out := []Handed{}
	if d.Past {
		return out
	}
	trial := *d // as it becomes
	trial.Lanes = slices.Clone(d.Lanes)
	stops = slices.DeleteFunc(stops, func(p Placed) bool { return p.Begun || p.Over })
	ordered.Stable(stops, func(a, b Placed) int { return cmp.Or(cmp.Compare(a.To, b.To), a.order(b)) })
	for _, p := range stops {
		h := Handed{ID: p.ID}
		for i := range trial.Lanes {
			l := &trial.Lanes[i]
			if l.Thing || l.ID == except || (to != "" && l.ID != to) {
				continue
			}
			if f, ok := trial.takeOver(p, l, to != ""); ok && (h.Fit == nil || f.Cost < h.Fit.Cost) {
				h.Fit = &f
			}
		}
		if h.Fit != nil {
			trial.put(p.Want, h.Fit.Begin, []string{h.Fit.Lane})
		}
		out = append(out, h)
	}
	return out
}

// At is where a visit is to go, or work that waits: by its id, or by what it takes where the day does not know of it. With are who comes
// along.
type At struct {
	ID    string
	Want  *Want
	Lane  string
	Begin int
	With  []string
}

// Try puts visits where they are to go, one after another, and says what each comes to, and how the day is then. What the day does not know
// of is left out.
func (d *Day) Try(places []At) ([]Handed, *Day) {
	out, trial := []Handed{}, *d
	trial.Lanes = slices.Clone(d.Lanes)
	for _, at := range places {
		w := at.Want
		if p := d.find(at.ID); w == nil && p != nil {
			w = &p.Want
		}
		if w == nil {
			continue
		}
		f, ok := trial.Fit(*w, at.Lane, at.Begin)
		if !ok {
			continue
		}
		trial.put(*w, at.Begin, append([]string{at.Lane}, at.With...))
		out = append(out, Handed{w.ID, &f})
	}
	return out, &trial
}

// put has some people do a visit at a time, and nobody else. Things go along.
func (d *Day) put(w Want, begin int, people []string) {
	for i := range d.Lanes {
		l := &d.Lanes[i]
		at := slices.IndexFunc(l.Stops, func(p Placed) bool { return p.ID == w.ID })
		goes := slices.Contains(people, l.ID) || l.Thing && slices.Contains(w.Things, l.ID)
		if at < 0 && !goes {
			continue
		}
		l.Stops = slices.Clone(l.Stops)
		switch {
		case at >= 0 && goes:
			l.Stops[at].Begin = begin
		case at >= 0:
			l.Stops = slices.Delete(l.Stops, at, at+1)
		default:
			l.Stops = append(l.Stops, Placed{Want: w, Begin: begin})
		}
		ordered.Stable(l.Stops, func(a, b Placed) int { return a.order(b) })
	}
}

// takeOver is the best time of a lane for a visit: of one that has a time, as near to it as can be. asked tells that this person is to have
// it, whatever stands in the way.
func (d *Day) takeOver(p Placed, l *Lane, asked bool) (best Fit, found bool) {
	if p.Begin != never {
		best = d.fit(p.Want, l, max(p.Begin, rounded(d.Now)), d.through(l, p.ID, nil, nil))
		found = asked || best.can()
	}
	if other, ok := d.best(p.Want, l); ok && (asked || other.can()) {
		if p.Begin != never {
			other.Cost += max(other.Begin-p.Begin, p.Begin-other.Begin) / perMoved
		}
		if !found || other.Cost < best.Cost {
			best, found = other, true
		}
	}
	return best, found
}
