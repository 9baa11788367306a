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
	work  int // seconds of visits
	drive int // seconds of driving, home as well
	cost  int
}

// stop is a visit of the problem, or of the day as it stays.
type stop struct {
	plan.Placed
	visit int  // below zero for one that is not of the problem
	held  bool // its time stays: it is not of the problem, or others go there too
	helps bool // whose tour it is comes along
	who   int  // what it costs that this is who does it
}

// stays is the visit of what is not of the problem.
const stays = -1

// endOfDay is until when visits may begin, in seconds of a day.
const endOfDay = 24 * 3600

func newTour(number int, d *plan.Day, l *plan.Lane, visits []Visit, index map[string]int) *tour {
	t := &tour{number: number, day: d, lane: l}
	for _, p := range l.Stops {
		x := stop{Placed: p, visit: stays, held: true}
		if p.Begun || p.Over {
			t.first = len(t.stops) + 1
		} else if i, is := index[p.ID]; is {
			v := &visits[i]
			x.visit, x.held, x.helps = i, v.joint(), v.Was != nil && v.Was.Lane != l.ID
		}
		t.stops = append(t.stops, x)
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

// movable is how many of the stops may be put elsewhere by themselves.
func (t *tour) movable() (n int) {
	for _, x := range t.stops {
		if !x.held {
			n++
		}
	}
	return n
}

// walk works out the whole tour.
func (t *tour) walk() {
	t.walks, t.extra, t.work = t.walks[:0], t.extra[:0], 0
	w, extra := t.day.Walk(t.lane), 0
	for i := range t.stops {
		t.walks, t.extra = append(t.walks, w), append(t.extra, extra)
		x := &t.stops[i]
		if !x.held {
			x.Begin = t.day.Soonest(t.lane, w, x.Want)
		}
		if x.visit >= 0 && !x.helps {
			extra += t.wait(x.Begin) + x.who
		}
		t.work += x.Length
		t.day.Visit(t.lane, &w, &x.Placed)
	}
	t.walks, t.extra = append(t.walks, w), append(t.extra, extra)
	t.day.Home(t.lane, &w)
	t.drive = w.Drive
	t.cost = t.day.CostOf(w) + extra + t.even(t.work+w.Drive)
}

// wait is what it costs that a visit begins at a time rather than sooner: a day later as much as 24 hours on one day.
func (t *tour) wait(begin int) int { return t.day.Wait(t.number*endOfDay + begin) }

// even is what a load costs, since it is to be shared: of visits and driving.
func (t *tour) even(load int) int { return t.day.Even(t.lane, load) }

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
func (t *tour) adds(next stop, at int) (int, bool) {
	w, extra := t.walks[at], t.extra[at]
	load := t.work + next.Length
	if next.held && !next.helps {
		extra += t.wait(next.Begin)
	}
	was := 0 // what its beginning cost before
	late := w.After
	for i := at; ; i++ {
		if !next.held {
			next.Begin = t.day.Soonest(t.lane, w, next.Want)
			if t.past(next.Begin, i) {
				return 0, false
			}
			extra += t.wait(next.Begin) - was
		}
		t.day.Visit(t.lane, &w, &next.Placed)
		if i > at {
			late = t.walks[i].After
		}
		if w.After > late {
			return 0, false // of what is held alone: what is put elsewhere begins when it can
		}
		if i > at && w.Same(t.walks[i]) { // from here on all is as it was
			even := t.even(load+t.drive+w.Drive-t.walks[i].Drive) - t.even(t.work+t.drive)
			return t.day.CostOf(w) - t.day.CostOf(t.walks[i]) + extra - t.extra[i] + even, true
		}
		if i == len(t.stops) {
			break
		}
		next, was = t.stops[i], 0
		extra += t.extra[i+1] - t.extra[i]
		if !next.held {
			was = t.wait(next.Begin)
		}
	}
	t.day.Home(t.lane, &w)
	return t.day.CostOf(w) + extra + t.even(load+w.Drive) - t.cost, true
}

// past tells that a visit which begins at a time does not come before a stop that stays, or not on the day at all.
func (t *tour) past(begin, next int) bool {
	return begin >= endOfDay || next < len(t.stops) && t.stops[next].held && begin >= t.stops[next].Begin
}

// tooLate is a visit that can't be where it is, below zero without one.
func (t *tour) tooLate() int {
	return slices.IndexFunc(t.stops, func(x stop) bool {
		return !x.held && t.past(x.Begin, slices.IndexFunc(t.stops, func(y stop) bool { return y.ID == x.ID })+1)
	})
}

// insert puts a visit before a stop.
func (t *tour) insert(x stop, at int) { t.stops = slices.Insert(t.stops, at, x) }
