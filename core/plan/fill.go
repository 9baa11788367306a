package plan

import (
	"cmp"
	"slices"

	"iter.example/iter/core/ordered"
)

// Filling is work that fits into a gap.
type Filling struct {
	ID  string `json:"id"` // of the want
	Fit Fit    `json:"fit"`
}

// Gap is the stretch of a person's day around a time on which nothing is planned: from when they are free, to when the next visit is
// planned or their hours end; while they do something then, the one after it. It is false before now, and on lanes that are not people's.
func (d *Day) Gap(lane string, at int) (Span, bool) {
	l := d.Lane(lane)
	if l == nil || l.Thing || d.Past {
		return Span{}, false
	}
	gap := Span{max(d.Now, 0), 24 * 3600}
	if len(l.Hours) > 0 {
		gap = Span{max(gap.From, l.Hours[0].From), max(l.Hours[len(l.Hours)-1].To, at+Grain)}
	}
	busy := 0 // until when
	d.through(l, "", nil, func(p *Placed, s Pass) {
		switch {
		case s.Leave <= at:
			gap.From = max(gap.From, s.Leave)
		case s.Arrive <= at, p.Begin <= at: // they are there, or late for it and on their way
			busy = max(busy, s.Leave)
		default:
			gap.To = min(gap.To, p.Begin)
		}
	})
	gap.From = min(gap.From, at)
	if busy > at {
		return d.Gap(lane, busy)
	}
	return gap, at >= d.Now && gap.To > gap.From
}

// Gaps are the gaps in a person's hours, in order, that are at least as long as the shortest visit.
func (d *Day) Gaps(lane string) []Span {
	out := []Span{}
	l := d.Lane(lane)
	if l == nil || len(l.Hours) == 0 {
		return out
	}
	times := []int{max(d.Now, l.Hours[0].From)}
	d.through(l, "", nil, func(_ *Placed, s Pass) { times = append(times, max(s.Leave, d.Now)) })
	end := l.Hours[len(l.Hours)-1].To
	for _, at := range times {
		if gap, ok := d.Gap(lane, at); ok && gap.To-gap.From >= shortest && gap.From < end && !slices.Contains(out, gap) {
			out = append(out, gap)
		}
	}
	return out
}

// shortest is how long the shortest gap is that is worth filling, in seconds.
const shortest = 15 * 60

// Fill tells which of some work fits into a gap of a person's day, the best first: it ends before the next begins, they have the skills and
// are wanted there, and what is promised to others holds.
func (d *Day) Fill(lane string, gap Span, wants []Want) []Filling {
	out := []Filling{}
	l := d.Lane(lane)
	if l == nil || d.Past {
		return out
	}
	for _, w := range wants {
		before := d.through(l, w.ID, nil, nil)
		x := spot{at: l.Start, free: never, next: Whenever}
		d.through(l, w.ID, nil, func(p *Placed, s Pass) {
			if p.Begin <= gap.From || s.Leave <= gap.From {
				x = spot{at: p.Place, free: s.Leave}
			}
		})
		begin := max(d.soonest(w, l, x), rounded(gap.From))
		if begin+w.Length > gap.To {
			continue
		}
		f := d.fit(w, l, begin, before)
		if f.can() && f.Adds.Late == 0 && f.Adds.After == 0 {
			out = append(out, Filling{w.ID, f})
		}
	}
	ordered.Stable(out, func(a, b Filling) int { return cmp.Or(cmp.Compare(a.Fit.Cost, b.Fit.Cost), cmp.Compare(a.ID, b.ID)) })
	return out
}

// can tells that nothing stands in the way of whoever would do it: they have the skills, are wanted, and work then.
func (f Fit) can() bool {
	for _, w := range f.Why {
		if slices.Contains([]string{"fit.past", "fit.refused", "fit.skill", "fit.off", "fit.taken", "fit.closed"}, w.Code) {
			return false
		}
	}
	return true
}
