// Package solvetest has days to be planned for tests and the bench, and the costs of their best plans, as far as these are known.
package solvetest

import (
	"fmt"
	"math"
	"math/rand/v2"

	"iter.example/iter/core/plan"
	"iter.example/iter/core/plan/solve"
)

// Country is how places lie.
type Country string

// Countries.
const (
	Spread Country = "spread" // evenly
	Towns  Country = "towns"  // around a few
	Mixed  Country = "mixed"  // half of them
)

const (
	minute = 60
	hour   = 60 * minute
	grid   = plan.Grain // ways, visits and promises are whole numbers of it, so that nothing is rounded
)

// weights count driving, lateness and overtime alone.
var weights = plan.Weights{Late: 4, Overtime: 2, After: 1, Shut: 4}

// Day is a day of some people with visits that nobody has yet, in a country of 60 by 60 km. The same seed gives the same day.
func Day(country Country, people, visits int, seed uint64) solve.Problem {
	r := rand.New(rand.NewPCG(seed, 6))
	n := people + visits
	xs, ys := make([]float64, n), make([]float64, n)
	var towns [4][2]float64
	for i := range towns {
		towns[i] = [2]float64{10 + 40*r.Float64(), 10 + 40*r.Float64()}
	}
	for i := range n {
		xs[i], ys[i] = r.Float64()*60, r.Float64()*60
		if at := towns[r.IntN(len(towns))]; country == Towns || country == Mixed && i%2 == 0 {
			xs[i], ys[i] = at[0]+8*(r.Float64()-0.5), at[1]+8*(r.Float64()-0.5)
		}
	}
	t := plan.NewTable(n)
	for i := range n {
		for k := range n {
			seconds := math.Hypot(xs[i]-xs[k], ys[i]-ys[k]) * 1.3 / 50 * hour
			t.Put(i, k, int(math.Ceil(seconds/grid))*grid, 0)
		}
	}
	d := &plan.Day{Now: -1, Weights: &weights}
	for i := range people {
		d.Lanes = append(d.Lanes, plan.Lane{ID: fmt.Sprint("p", i), Start: i, Hours: []plan.Span{{From: 8 * hour, To: 16 * hour}},
			Skills: []string{"all", fmt.Sprint(i % 3)}})
	}
	d.Open(t)
	p := solve.Problem{Days: []*plan.Day{d}, Seed: 1}
	for i := range visits {
		w := plan.Want{ID: fmt.Sprint(i), Place: people + i, Length: (3 + r.IntN(8)) * grid, To: plan.Whenever, Always: true,
			Skills: []string{"all"}}
		if i%5 == 0 {
			w.Skills = []string{fmt.Sprint(r.IntN(min(3, people)))}
		}
		if i%3 == 0 {
			w.From = (8 + r.IntN(6)) * hour
			w.To = w.From + 2*hour
		}
		p.Visits = append(p.Visits, solve.Visit{ID: w.ID, Wants: []plan.Want{w}, Worth: 8 * hour})
	}
	return p
}
