package solve

import (
	"slices"

	"iter.example/iter/core/plan"
)

// tour is what somebody does on a day.
type tour struct {
	number int // of the day
	day    *plan.Day
	lane   *plan.Lane
	stops  []stop
	first  int // stop that something may be put before: those before it are begun
	// walks are how far they have come before each stop and after the last, extra what it costs until there who does the visits, and that
	// they do not begin at once.
	walks []plan.Walk
	extra []int
	cost  int
}

// stop is a visit of the problem, or of the day as it stays.
type stop struct {
	plan.Placed
	visit int // below zero for one that stays
}

// stays is the visit of what is not of the problem.
const stays = -1

// endOfDay is until when visits may begin, in seconds of a day.
const endOfDay = 24 * 3600

func newTour(number int, d *plan.Day, l *plan.Lane, index map[string]int) *tour {
	t := &tour{number: number, day: d, lane: l}
	for _, p := range l.Stops {
		v, is := index[p.ID]
		if begun := p.Begun || p.Over; begun || !is {
			if v = stays; begun {
				t.first = len(t.stops) + 1
			}
		}
		t.stops = append(t.stops, stop{p, v})
	}
	return t
}

// whoever is what it costs that this is who does a visit, on this day.
func (t *tour) whoever(v Visit) int {
	cost, can := t.day.Against(v.Wants[t.number], t.lane)
	off := !t.lane.Always && len(t.lane.Hours) == 0 // on duty too: that is for what can't wait, which somebody decides
	was := v.Was != nil && v.Was.Day == t.number && v.Was.Lane == t.lane.ID
	switch {
	case was && can:
		return cost
	case !can, off, t.day.Past:
		return cannot
	case v.Was != nil:
		return cost + v.Moved
	}
	return cost
}

// movable is how many of the stops are of the problem.
func (t *tour) movable() (n int) {
	for _, x := range t.stops {
		if x.visit >= 0 {
			n++
		}
	}
	return n
}

// walk works out the whole tour.
func (t *tour) walk(whoever [][]int, number int) {
	t.walks, t.extra = t.walks[:0], t.extra[:0]
	w, extra := t.day.Walk(t.lane), 0
	for i := range t.stops {
		t.walks, t.extra = append(t.walks, w), append(t.extra, extra)
		x := &t.stops[i]
		if x.visit >= 0 {
			x.Begin = t.day.Soonest(t.lane, w, x.Want)
			extra += t.day.Wait(x.Begin) + whoever[x.visit][number]
		}
		t.day.Visit(t.lane, &w, &x.Placed)
	}
	t.walks, t.extra = append(t.walks, w), append(t.extra, extra)
	t.day.Home(t.lane, &w)
	t.cost = t.day.CostOf(w) + extra
}

// detour is how much longer the ways are when they go by a place before a stop, as far as these are known, on free roads.
func (t *tour) detour(place, at int) int {
	from, to := t.lane.Start, t.lane.Start
	if at > 0 {
		from = t.stops[at-1].Place
	}
	if at < len(t.stops) {
		to = t.stops[at].Place
	}
	there, known := t.day.Seconds(from, place)
	back, is := t.day.Seconds(place, to)
	if !known || !is || at == len(t.stops) && at == 0 {
		return there + back
	}
	straight, _ := t.day.Seconds(from, to)
	return there + back - straight
}

// adds is what it costs to put a visit before a stop, whoever it is; false where it would begin too late for that, or what stays would.
func (t *tour) adds(v *Visit, at int) (int, bool) {
	w, extra := t.walks[at], t.extra[at]
	next := stop{plan.Placed{Want: v.Wants[t.number]}, 0}
	was := 0 // what its beginning cost before
	for i := at; ; i++ {
		if next.visit >= 0 {
			next.Begin = t.day.Soonest(t.lane, w, next.Want)
			if t.past(next.Begin, i) {
				return 0, false
			}
			extra += t.day.Wait(next.Begin) - was
		}
		t.day.Visit(t.lane, &w, &next.Placed)
		if i > at {
			if w.After > t.walks[i].After {
				return 0, false // of what stays alone: what is put elsewhere begins when it can
			}
			if w.Same(t.walks[i]) { // from here on all is as it was
				return t.day.CostOf(w) - t.day.CostOf(t.walks[i]) + extra - t.extra[i], true
			}
		}
		if i == len(t.stops) {
			break
		}
		next, was = t.stops[i], 0
		extra += t.extra[i+1] - t.extra[i]
		if next.visit >= 0 {
			was = t.day.Wait(next.Begin)
		}
	}
	t.day.Home(t.lane, &w)
	return t.day.CostOf(w) + extra - t.cost, true
}

// past tells that a visit which begins at a time does not come before a stop that stays, or not on the day at all.
func (t *tour) past(begin, next int) bool {
	return begin >= endOfDay || next < len(t.stops) && t.stops[next].visit < 0 && begin >= t.stops[next].Begin
}

// tooLate is a visit that can't be where it is, below zero without one.
func (t *tour) tooLate() int {
	return slices.IndexFunc(t.stops, func(x stop) bool {
		return x.visit >= 0 && t.past(x.Begin, slices.IndexFunc(t.stops, func(y stop) bool { return y.ID == x.ID })+1)
	})
}

// insert puts a visit before a stop.
func (t *tour) insert(v *Visit, number, at int) {
	t.stops = slices.Insert(t.stops, at, stop{plan.Placed{Want: v.Wants[t.number]}, number})
}
