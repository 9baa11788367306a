package plan

import (
	"slices"
	"time"

	"iter.example/iter/core/records"
	"iter.example/iter/core/work"
)

// Ordered is the order of the stops still to come that needs the least driving.
type Ordered struct {
	IDs []string `json:"ids"`
	// Saved is how many seconds of driving it saves, and Late how many seconds of lateness.
	Saved int `json:"saved"`
	Late  int `json:"late"`
}

// exact is how many stops are tried in every order; with more, good orders are looked for.
const exact = 8

// Order looks for the order of the stops still to come with the least lateness against what was promised, and among those the
// least driving. stops are in the order they have now.
func Order(stops []Stop, order []string, start *records.Point, now time.Time, r Roads) Ordered {
	legs := Route(stops, order, start, now, r)
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
	o := newSearch(open, at, free, r)
	o.wait(now)
	was := make([]int, len(open))
	for i := range was {
		was[i] = i
	}
	before := o.cost(was)
	best := was
	if len(open) <= exact {
		best = o.every(was, before)
	} else {
		best = o.improve(was)
	}
	after := o.cost(best)
	out := Ordered{IDs: []string{}, Saved: before.drive - after.drive, Late: before.late - after.late}
	for _, i := range best {
		out.IDs = append(out.IDs, open[i].ID)
	}
	return out
}

type cost struct{ late, drive int } // seconds

func (c cost) less(d cost) bool { return c.late < d.late || (c.late == d.late && c.drive < d.drive) }

// search holds the driving times between stops; row 0 is from where the person is, row i+1 from stop i.
type search struct {
	stops []Stop
	free  time.Time
	drive [][]int
}

// unknown is the time taken for a way that nobody knows.
const unknown = 3 * 3600

func newSearch(stops []Stop, at *records.Point, free time.Time, r Roads) *search {
	s := &search{stops: stops, free: free}
	var to []records.Point
	for _, x := range stops {
		to = append(to, *x.Place)
	}
	row := func(from records.Point) {
		line := make([]int, len(to))
		for i, w := range r.Ways(from, to...) {
			if line[i] = unknown; w != nil {
				line[i] = w.Seconds
			}
		}
		s.drive = append(s.drive, line)
	}
	if at != nil {
		row(*at)
	} else {
		s.drive = append(s.drive, make([]int, len(to)))
	}
	for _, p := range to {
		row(p)
	}
	return s
}

// wait puts off a day that has not begun until somebody has to set off for what is planned first.
func (s *search) wait(now time.Time) {
	if !s.free.Equal(now) || len(s.stops) == 0 {
		return
	}
	first := time.Time{}
	for i, x := range s.stops {
		if off := x.Planned.Add(-time.Duration(s.drive[0][i]) * time.Second); first.IsZero() || off.Before(first) {
			first = off
		}
	}
	s.free = later(now, first)
}

// step goes from a stop to another: when one is free there, and what it costs.
func (s *search) step(from, to int, free time.Time) (time.Time, cost) {
	c := cost{drive: s.drive[from][to]}
	x := s.stops[to]
	arrive := later(free.Add(time.Duration(c.drive)*time.Second), x.From)
	if !x.To.IsZero() && arrive.After(x.To) {
		c.late = int(arrive.Sub(x.To) / time.Second)
	}
	return arrive.Add(x.Length), c
}

func (s *search) cost(order []int) (sum cost) {
	from, free := 0, s.free
	for _, i := range order {
		var c cost
		free, c = s.step(from, i, free)
		sum = cost{sum.late + c.late, sum.drive + c.drive}
		from = i + 1
	}
	return sum
}

// every tries all orders, leaving those that are worse already.
func (s *search) every(was []int, bound cost) []int {
	best := slices.Clone(was)
	used := make([]bool, len(was))
	var path []int
	var try func(from int, free time.Time, sum cost)
	try = func(from int, free time.Time, sum cost) {
		if !sum.less(bound) {
			return
		}
		if len(path) == len(was) {
			bound, best = sum, slices.Clone(path)
			return
		}
		for i := range was {
			if used[i] {
				continue
			}
			next, c := s.step(from, i, free)
			used[i] = true
			path = append(path, i)
			try(i+1, next, cost{sum.late + c.late, sum.drive + c.drive})
			path = path[:len(path)-1]
			used[i] = false
		}
	}
	try(0, s.free, cost{})
	return best
}

// improve moves one stop after another, and turns stretches round, as long as that helps.
func (s *search) improve(was []int) []int {
	best := slices.Clone(was)
	have := s.cost(best)
	for better := true; better; {
		better = false
		take := func(order []int) {
			if c := s.cost(order); c.less(have) {
				best, have, better = order, c, true
			}
		}
		for i := range best {
			for j := range best {
				if i == j {
					continue
				}
				moved := slices.Delete(slices.Clone(best), i, i+1)
				take(slices.Insert(moved, j, best[i]))
				if i < j {
					turned := slices.Clone(best)
					slices.Reverse(turned[i : j+1])
					take(turned)
				}
			}
		}
	}
	return best
}
