package plan

import (
	"cmp"
	"slices"
	"time"

	"iter.example/iter/core/ordered"
	"iter.example/iter/core/records"
	"iter.example/iter/core/roads"
	"iter.example/iter/core/work"
)

// Ordered is the order of the stops still to come that needs the least driving.
type Ordered struct {
	IDs []string `json:"ids"`
	// Saved is how many seconds of driving it saves, and Late how many seconds of lateness.
	Saved int `json:"saved"`
	Late  int `json:"late"`
}

// exact is the most stops for which the best of all orders is found; with more, a good one is looked for.
const exact = 10

// Order looks for the order of the stops still to come with the least lateness against what was promised, among those the least driving,
// the way back to the start counted, and among those the earliest end. stops are in the order they have now.
func Order(stops []Stop, order []string, start *records.Point, now time.Time, r Roads, hours *roads.Hours) Ordered {
	legs := Route(stops, order, start, now, r, hours)
	at, free := start, now
	var open []Stop
	for i, s := range stops {
		switch {
		case s.begun():
			if s.Place != nil {
				at = s.Place
			}
			free = later(free, legs[i].Leave)
		case !s.over() && s.Stage != work.Planned && s.Place != nil:
			open = append(open, s)
		}
	}
	o := newSearch(open, at, start, now, free, r, hours)
	was := make([]int, len(open))
	for i := range was {
		was[i] = i
	}
	before := o.cost(was)
	best := o.improve(was)
	if len(open) <= exact {
		best = o.best(best)
	}
	after := o.cost(best)
	if after.late == before.late && after.drive == before.drive {
		best, after = was, before // nothing is gained by another
	}
	out := Ordered{IDs: []string{}, Saved: before.drive - after.drive, Late: before.late - after.late}
	for _, i := range best {
		out.IDs = append(out.IDs, open[i].ID)
	}
	return out
}

// cost is what an order comes to, in seconds, in the order in which they matter; end is from when the search begins.
type cost struct{ late, drive, end int }

func (c cost) less(d cost) bool {
	return cmp.Or(cmp.Compare(c.late, d.late), cmp.Compare(c.drive, d.drive), cmp.Compare(c.end, d.end)) < 0
}

// search holds stops as numbers, all in seconds. Times are from when the person is free.
type search struct {
	from, to []int // what was promised: not before and not after
	length   []int
	drive    [][]drive // row 0 is from where the person is, row i+1 from stop i
	home     []drive   // from each stop to where the day ends
	hours    *roads.Hours
	begin    int    // the second of the week at which the person is free
	chance   uint64 // the last number that was drawn: the same order for the same stops
}

// drive is how long a way takes on free roads, and on ferries.
type drive struct{ road, ferry int }

// takes is how long a way takes that is begun after so many seconds.
func (s *search) takes(d drive, after int) int { return s.hours.After(s.begin+after, d.road, d.ferry) }

// below draws a number below n, by a linear congruential generator (Knuth's MMIX).
func (s *search) below(n int) int {
	s.chance = s.chance*6364136223846793005 + 1442695040888963407
	return int(s.chance>>33) % n
}

// unknown is the time taken for a way that nobody knows, and whenever for what was not promised.
const (
	unknown  = 3 * 3600
	whenever = 1 << 40
)

func newSearch(stops []Stop, at, end *records.Point, now, free time.Time, r Roads, hours *roads.Hours) *search {
	s := &search{hours: hours}
	var to []records.Point
	for _, x := range stops {
		to = append(to, *x.Place)
	}
	row := func(from records.Point, to ...records.Point) []drive {
		line := make([]drive, len(to))
		for i, w := range r.Ways(from, to...) {
			if line[i].ferry = unknown; w != nil {
				line[i] = drive{w.Seconds - w.Ferry, w.Ferry}
			}
		}
		return line
	}
	if at != nil {
		s.drive = append(s.drive, row(*at, to...))
	} else {
		s.drive = append(s.drive, make([]drive, len(to)))
	}
	if end != nil {
		to = append(to, *end)
	}
	for _, x := range stops {
		line := append(row(*x.Place, to...), drive{})
		s.drive, s.home = append(s.drive, line[:len(stops)]), append(s.home, line[len(stops)])
	}
	free = later(free, s.setOff(stops, now, free))
	s.begin = roads.SecondOfWeek(free.In(now.Location()))
	for _, x := range stops {
		from, to := 0, whenever
		if !x.From.IsZero() {
			from = int(x.From.Sub(free) / time.Second)
		}
		if !x.To.IsZero() {
			to = int(x.To.Sub(free) / time.Second)
		}
		s.from, s.to = append(s.from, from), append(s.to, to)
		s.length = append(s.length, int(x.Length/time.Second))
	}
	return s
}

// setOff puts off a day that has not begun until somebody has to set off for what is planned first.
func (s *search) setOff(stops []Stop, now, free time.Time) time.Time {
	if !free.Equal(now) || len(stops) == 0 {
		return free
	}
	first := time.Time{}
	for i, x := range stops {
		d := s.drive[0][i]
		takes := s.hours.Before(roads.SecondOfWeek(x.Planned.In(now.Location())), d.road, d.ferry)
		if off := x.Planned.Add(-time.Duration(takes) * time.Second); first.IsZero() || off.Before(first) {
			first = off
		}
	}
	return first
}

// step goes from a stop to another: what has come together when one is free there.
func (s *search) step(from, to int, c cost) cost {
	drive := s.takes(s.drive[from][to], c.end)
	arrive := max(c.end+drive, s.from[to])
	return cost{c.late + max(arrive-s.to[to], 0), c.drive + drive, arrive + s.length[to]}
}

// back adds the way to where the day ends.
func (s *search) back(from int, c cost) cost {
	if from == 0 {
		return c
	}
	home := s.takes(s.home[from-1], c.end)
	return cost{c.late, c.drive + home, c.end + home}
}

func (s *search) cost(order []int) cost {
	from, sum := 0, cost{}
	for _, i := range order {
		sum = s.step(from, i, sum)
		from = i + 1
	}
	return s.back(from, sum)
}

// label is a way to have been at some stops and be at one of them: the last before it, by its place among all labels.
type label struct {
	cost
	stop, before int32
}

// best is the best of all orders, by dynamic programming over which stops are done and which was the last: of the labels of one such
// state those count that are not worse than another in every way, since to be there later may cost lateness further on, however little
// was driven. order is a good one: what is worse is not gone on with.
func (s *search) best(order []int) []int {
	n := len(order)
	if n == 0 {
		return order
	}
	bound := s.cost(order)
	labels := make([]label, 0, 4<<n)
	states := make([][]int32, n<<n) // labels, by done*n + last
	add := func(done, at int, c cost, before int32) {
		if c.late > bound.late || c.late == bound.late && c.drive > bound.drive {
			return
		}
		state := &states[done*n+at]
		kept := (*state)[:0]
		for _, l := range *state {
			have := labels[l].cost
			if have.late <= c.late && have.drive <= c.drive && have.end <= c.end {
				return // and c is not better than any before it
			}
			if c.late <= have.late && c.drive <= have.drive && c.end <= have.end {
				continue
			}
			kept = append(kept, l)
		}
		labels = append(labels, label{c, int32(at), before})
		*state = append(kept, int32(len(labels)-1))
	}
	for i := range n {
		add(1<<i, i, s.step(0, i, cost{}), -1)
	}
	for done := 1; done < 1<<n; done++ {
		for last := range n {
			for _, l := range states[done*n+last] {
				for next := range n {
					if done&(1<<next) == 0 {
						add(done|1<<next, next, s.step(last+1, next, labels[l].cost), l)
					}
				}
			}
		}
	}
	found, end := bound, int32(-1)
	for last := range n {
		for _, l := range states[((1<<n)-1)*n+last] {
			if c := s.back(last+1, labels[l].cost); c.less(found) {
				found, end = c, l
			}
		}
	}
	if end < 0 {
		return order
	}
	out := make([]int, 0, n)
	for l := end; l >= 0; l = labels[l].before {
		out = append(out, int(labels[l].stop))
	}
	slices.Reverse(out)
	return out
}

// restarts is how often a good order is shaken and mended again.
const restarts = 60

// improve looks for a good order: from some that are made at once, and shaken now and then so as not to stay with one that only lies well
// among its neighbours.
func (s *search) improve(was []int) []int {
	n := len(was)
	if n < 2 {
		return was
	}
	due := slices.Clone(was)
	ordered.Stable(due, func(a, b int) int { return cmp.Compare(s.to[a], s.to[b]) })
	best, have := was, s.cost(was)
	for _, start := range [][]int{was, due, s.nearest(n)} {
		if order, c := s.descend(start); c.less(have) {
			best, have = order, c
		}
	}
	rounds := restarts
	if n <= exact {
		rounds = 2 // the rest is certain
	}
	for range rounds {
		if order, c := s.descend(s.shaken(best)); c.less(have) {
			best, have = order, c
		}
	}
	return best
}

// nearest goes to the nearest stop each time.
func (s *search) nearest(n int) []int {
	var out []int
	left := make([]int, n)
	for i := range left {
		left[i] = i
	}
	for from := 0; len(left) > 0; from = out[len(out)-1] + 1 {
		next := slices.MinFunc(left, func(a, b int) int {
			x, y := s.drive[from][a], s.drive[from][b]
			return cmp.Compare(x.road+x.ferry, y.road+y.ferry)
		})
		out = append(out, next)
		left = slices.DeleteFunc(left, func(i int) bool { return i == next })
	}
	return out
}

// shaken cuts an order in four, and changes the two in the middle over.
func (s *search) shaken(order []int) []int {
	n := len(order)
	cuts := []int{s.below(n + 1), s.below(n + 1), s.below(n + 1)}
	slices.Sort(cuts)
	return slices.Concat(order[:cuts[0]], order[cuts[1]:cuts[2]], order[cuts[0]:cuts[1]], order[cuts[2]:])
}

// longest is how many stops in a row are moved together.
const longest = 3

// descend moves stretches of stops, turns them round and exchanges stops as long as that helps.
func (s *search) descend(order []int) ([]int, cost) {
	n := len(order)
	best, trial := slices.Clone(order), make([]int, n)
	at := make([]cost, n+1) // after so many stops
	settle := func() {
		from := 0
		for i, x := range best {
			at[i+1] = s.step(from, x, at[i])
			from = x + 1
		}
	}
	settle()
	have := s.cost(best)
	// take keeps the trial, which is as the best up to a stop, if it is better.
	take := func(same int) bool {
		c, from := at[same], 0
		if same > 0 {
			from = trial[same-1] + 1
		}
		for _, x := range trial[same:] {
			if c = s.step(from, x, c); c.late > have.late || c.late == have.late && c.drive > have.drive {
				return false
			}
			from = x + 1
		}
		if c = s.back(from, c); !c.less(have) {
			return false
		}
		have = c
		copy(best, trial)
		settle()
		return true
	}
	for better := true; better; {
		better = false
		for i := range n {
			for j := i + 1; j < n; j++ {
				copy(trial, best)
				slices.Reverse(trial[i : j+1])
				better = take(i) || better
				copy(trial, best)
				trial[i], trial[j] = trial[j], trial[i]
				better = take(i) || better
			}
			for length := 1; length <= longest && i+length <= n; length++ {
				for j := 0; j+length <= n; j++ {
					if j == i {
						continue
					}
					for _, turned := range []bool{false, true} {
						move(trial, best, i, length, j)
						if turned {
							if length == 1 {
								break
							}
							slices.Reverse(trial[j : j+length])
						}
						better = take(min(i, j)) || better
					}
				}
			}
		}
	}
	return best, have
}

// move puts an order with a stretch of it moved to another place into to.
func move(to, order []int, at, length, place int) {
	k := 0
	put := func(part []int) { k += copy(to[k:], part) }
	moved := order[at : at+length]
	if place < at {
		put(order[:place])
		put(moved)
		put(order[place:at])
		put(order[at+length:])
		return
	}
	put(order[:at])
	put(order[at+length : place+length])
	put(moved)
	put(order[place+length:])
}
