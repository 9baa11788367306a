package solve

import (
	"slices"

	"iter.example/iter/core/plan"
)

// part is one day of a visit that takes several people, things or days: its day, when it begins, and how long it takes.
type part struct{ day, begin, length int }

// block is where such a visit could be: the tours of whoever does it first, of the others after, by part.
type block struct {
	parts []part
	tours [][]int // by part
	cost  int
}

// placeJoint puts a visit into the tours of all who go, where that costs least: at the times at which whoever does it can begin.
func (s *solver) placeJoint(v int, whatever bool) {
	best := block{cost: s.p.Visits[v].Worth}
	if whatever {
		best.cost = cannot
	}
	for _, own := range s.people() {
		for first := range own {
			if own[first] == nowhere || s.whoever[v][own[first]] == cannot {
				continue
			}
			for _, parts := range s.begins(v, own, first) {
				if b, can := s.with(v, own, parts, best.cost); can {
					best = b
				}
			}
		}
	}
	if best.parts == nil {
		return
	}
	for i, p := range best.parts {
		for k, at := range best.tours[i] {
			x := s.stopOf(v, p, k > 0)
			if k == 0 {
				x.who = s.whoever[v][at]
			}
			s.change(at, func(t *tour) { t.insert(x, t.placeOf(p.begin)) })
			s.at[v] = append(s.at[v], at)
		}
	}
	s.cost -= s.p.Visits[v].Worth
}

// takeJoint takes a visit off all tours that it is on.
func (s *solver) takeJoint(v int) {
	if s.at[v] == nil {
		return
	}
	for _, k := range s.at[v] {
		s.change(k, func(t *tour) {
			t.stops = slices.DeleteFunc(slices.Clone(t.stops), func(x stop) bool { return x.visit == v })
		})
	}
	s.at[v], s.cost = nil, s.cost+s.p.Visits[v].Worth
}

// people are the tours of each person by day, nowhere on days that they have none.
func (s *solver) people() (out [][]int) {
	index := map[string]int{}
	for k, t := range s.tours {
		i, is := index[t.lane.ID]
		if !is {
			i = len(out)
			index[t.lane.ID] = i
			own := make([]int, len(s.p.Days))
			for d := range own {
				own[d] = nowhere
			}
			out = append(out, own)
		}
		out[i][t.number] = k
	}
	return out
}

// begins are when somebody could begin a visit on a day: before each of their stops, and when a thing that goes along is free. What takes
// several days begins as soon as can be on each that they work.
func (s *solver) begins(v int, own []int, first int) (out [][]part) {
	visit := &s.p.Visits[v]
	t := s.tours[own[first]]
	if len(visit.Parts) == 0 {
		want := visit.Wants[first]
		times := s.freed(want.Things, first)
		for i := t.first; i <= len(t.stops); i++ {
			times = append(times, t.day.Soonest(t.lane, t.walks[i], want))
		}
		slices.Sort(times)
		for _, begin := range slices.Compact(times) {
			if begin >= want.From && begin < endOfDay {
				out = append(out, []part{{first, begin, want.Length}})
			}
		}
		return out
	}
	var parts []part
	for day := first; day < len(own) && len(parts) < len(visit.Parts); day++ {
		if own[day] == nowhere || s.whoever[v][own[day]] == cannot {
			continue
		}
		t, want := s.tours[own[day]], visit.Wants[day]
		want.Length = visit.Parts[len(parts)]
		p := part{day, t.day.Soonest(t.lane, t.walks[t.first], want), want.Length}
		for _, begin := range slices.Sorted(slices.Values(s.freed(want.Things, day))) {
			if begin > p.begin && !s.free(want.Things, p) {
				p.begin = begin
			}
		}
		if p.begin >= endOfDay {
			return nil
		}
		parts = append(parts, p)
	}
	if len(parts) < len(visit.Parts) {
		return nil
	}
	return [][]part{parts}
}

// freed are from when on things that go along can be had on a day.
func (s *solver) freed(things []string, day int) (out []int) {
	for _, id := range things {
		if l := s.p.Days[day].Lane(id); l != nil {
			for _, h := range l.Hours {
				out = append(out, rounded(h.From))
			}
		}
	}
	s.booked(things, day, func(from, to int) { out = append(out, rounded(to)) })
	return out
}

// rounded is a time on the clock that visits are planned on.
func rounded(t int) int { return (t + plan.Grain - 1) / plan.Grain * plan.Grain }

// booked tells of when things are booked on a day, by what stays and by what was placed.
func (s *solver) booked(things []string, day int, each func(from, to int)) {
	if len(things) == 0 {
		return
	}
	mine := map[string]bool{} // visits that are moved
	for i := range s.p.Visits {
		mine[s.p.Visits[i].ID] = true
	}
	d := s.p.Days[day]
	for i := range d.Lanes {
		l := &d.Lanes[i]
		if !l.Thing || !slices.Contains(things, l.ID) {
			continue
		}
		for _, p := range l.Stops {
			if !mine[p.ID] && !p.Over {
				each(p.Begin, p.Begin+p.Length)
			}
		}
	}
	for _, t := range s.tours {
		if t.number != day {
			continue
		}
		for _, x := range t.stops {
			if x.visit >= 0 && !x.helps && slices.ContainsFunc(x.Things, func(id string) bool { return slices.Contains(things, id) }) {
				each(x.Begin, x.Begin+x.Length)
			}
		}
	}
}

// free tells whether all things that go along can be had for a part.
func (s *solver) free(things []string, p part) bool {
	can := true
	s.booked(things, p.day, func(from, to int) { can = can && (p.begin+p.length <= from || p.begin >= to) })
	d := s.p.Days[p.day]
	for _, id := range things {
		l := d.Lane(id)
		in := func(h plan.Span) bool { return h.From <= p.begin && p.begin+p.length <= h.To }
		can = can && l != nil && (l.Always || slices.ContainsFunc(l.Hours, in))
	}
	return can
}

// with is what it costs that somebody does a visit in some parts, with those along for whom that costs least; false where it can't be had
// for less than most.
func (s *solver) with(v int, own []int, parts []part, most int) (block, bool) {
	visit := &s.p.Visits[v]
	b := block{parts: parts, tours: make([][]int, len(parts))}
	join := func(of []int, helps bool) (cost int, can bool) {
		for _, p := range parts {
			k := of[p.day]
			if k == nowhere || helps && !s.tours[k].may(visit.Wants[p.day]) {
				return 0, false
			}
			adds, can := s.tours[k].adds(s.stopOf(v, p, helps), s.tours[k].placeOf(p.begin))
			if !can {
				return 0, false
			}
			if cost += adds; !helps {
				cost += s.whoever[v][k]
			}
		}
		return cost, true
	}
	take := func(of []int) {
		for i, p := range parts {
			b.tours[i] = append(b.tours[i], of[p.day])
		}
	}
	for _, p := range parts {
		if !s.free(visit.Wants[p.day].Things, p) {
			return b, false
		}
	}
	cost, can := join(own, false)
	if b.cost = cost; !can || cost >= most {
		return b, false
	}
	take(own)
	type helper struct{ who, cost int }
	var all []helper
	people := s.people()
	if visit.People > 1 {
		for i, of := range people {
			if slices.Equal(of, own) {
				continue
			}
			if cost, can := join(of, true); can {
				all = append(all, helper{i, cost})
			}
		}
		slices.SortStableFunc(all, func(a, b helper) int { return a.cost - b.cost })
	}
	if len(all) < visit.People-1 {
		return b, false
	}
	for i := range max(visit.People-1, 0) {
		b.cost += all[i].cost
		take(people[all[i].who])
	}
	return b, b.cost < most
}

// stopOf is a part of a visit as a stop of a tour.
func (s *solver) stopOf(v int, p part, helps bool) stop {
	x := stop{Placed: plan.Placed{Want: s.p.Visits[v].Wants[p.day], Begin: p.begin}, visit: v, held: true, helps: helps}
	x.Length = p.length
	return x
}

// may tells whether whose tour it is may come along: they work that day, and are wanted there.
func (t *tour) may(w plan.Want) bool {
	return (t.lane.Always || len(t.lane.Hours) > 0) && !t.day.Past && !slices.Contains(w.Refuse, t.lane.ID)
}

// placeOf is before which stop something comes that begins at a time.
func (t *tour) placeOf(begin int) int {
	i := slices.IndexFunc(t.stops[t.first:], func(x stop) bool { return x.Begin >= begin })
	if i < 0 {
		return len(t.stops)
	}
	return t.first + i
}
