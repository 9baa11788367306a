package solvetest

import (
	_ "embed"
	"encoding/json"
	"math"
	"slices"

	"iter.example/iter/core/plan"
	"iter.example/iter/core/plan/solve"
)

// Exact is a small day with what its best plan costs, in seconds of driving.
type Exact struct {
	Country Country `json:"country"`
	People  int     `json:"people"`
	Visits  int     `json:"visits"`
	Seed    uint64  `json:"seed"`
	Cost    int     `json:"cost"`
}

//go:embed exact.json
var exact []byte

// Exacts are small days whose best plans are known: tools/exactplans solved each as an integer program with coinor-cbc, which chooses a
// set of visits for each person, of all sets with what the best order of each costs.
func Exacts() (out []Exact) {
	if err := json.Unmarshal(exact, &out); err != nil {
		panic(err)
	}
	return out
}

// Problem is the day.
func (e Exact) Problem() solve.Problem { return Day(e.Country, e.People, e.Visits, e.Seed) }

// Impossible is what a set of visits costs that somebody can't do.
const Impossible = math.MaxInt

// state is where somebody is who did some visits: since when, at what cost.
type state struct{ free, cost int }

// Routes are what it costs each person to do each set of a day's visits in the best order, by person and by the bits of the set: found by
// dynamic programming over sets and the visit done last, of which those states are kept that are not both later and dearer than another.
func Routes(p solve.Problem) [][]int {
	d := p.Days[0]
	n := len(p.Visits)
	var out [][]int
	for i := range d.Lanes {
		l := &d.Lanes[i]
		costs := make([]int, 1<<n)
		states := make([][][]state, 1<<n)
		for set := range costs {
			states[set] = make([][]state, n)
			if costs[set] = Impossible; set == 0 {
				costs[set] = 0
			}
		}
		for set := range costs {
			for last := range n {
				w := p.Visits[last].Wants[0]
				if set&(1<<last) == 0 || !able(w, l) {
					continue
				}
				reach(d, p, l, states, set, last)
				home, _ := d.Seconds(w.Place, l.Start)
				for _, s := range states[set][last] {
					over := max(s.free+home-l.Hours[0].To, 0)
					costs[set] = min(costs[set], s.cost+home+weights.Overtime*over)
				}
			}
		}
		out = append(out, costs)
	}
	return out
}

func able(w plan.Want, l *plan.Lane) bool {
	return !slices.ContainsFunc(w.Skills, func(s string) bool { return !slices.Contains(l.Skills, s) })
}

// reach finds the states of somebody who did a set of visits, one of them last.
func reach(d *plan.Day, p solve.Problem, l *plan.Lane, states [][][]state, set, last int) {
	w := p.Visits[last].Wants[0]
	before := set &^ (1 << last)
	add := func(from, free, cost int) {
		way, _ := d.Seconds(from, w.Place)
		arrive := max(free+way, w.From)
		if w.To < plan.Whenever {
			cost += weights.Late * max(arrive-w.To, 0)
		}
		states[set][last] = append(states[set][last], state{arrive + w.Length, cost + way})
	}
	if before == 0 {
		add(l.Start, l.Hours[0].From, 0)
		return
	}
	for i := range p.Visits {
		for _, s := range states[before][i] {
			add(p.Visits[i].Wants[0].Place, s.free, s.cost)
		}
	}
	all := states[set][last]
	slices.SortFunc(all, func(a, b state) int {
		if a.free != b.free {
			return a.free - b.free
		}
		return a.cost - b.cost
	})
	kept := all[:0]
	for _, s := range all {
		if len(kept) == 0 || s.cost < kept[len(kept)-1].cost {
			kept = append(kept, s)
		}
	}
	states[set][last] = kept
}

// Best is what the best plan of a day costs, by trying for each person all sets of what the others left.
func Best(p solve.Problem) int {
	n := len(p.Visits)
	best := make([]int, 1<<n) // for the people so far, by what is done
	for set := range best {
		if best[set] = Impossible; set == 0 {
			best[set] = 0
		}
	}
	for _, costs := range Routes(p) {
		next := slices.Clone(best)
		for set := range best {
			for own := set; own > 0; own = (own - 1) & set {
				if costs[own] < Impossible && best[set&^own] < Impossible {
					next[set] = min(next[set], best[set&^own]+costs[own])
				}
			}
		}
		best = next
	}
	least := Impossible
	for set, cost := range best {
		if cost == Impossible {
			continue
		}
		for i, v := range p.Visits {
			if set&(1<<i) == 0 {
				cost += v.Worth
			}
		}
		least = min(least, cost)
	}
	return least
}
