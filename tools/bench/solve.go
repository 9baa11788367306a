package main

import (
	"context"
	"fmt"
	"math"
	"math/rand/v2"
	"slices"
	"time"

	"iter.example/iter/core/plan"
	"iter.example/iter/core/plan/solve"
)

// solving measures how soon a day of 30 people with 300 visits is planned, and how soon the plan is almost as good as it becomes in many
// rounds, on one core. The yardstick is the first plan.
func solving(ctx context.Context) {
	const people, visits, rounds = 30, 300, 20000
	type found struct {
		cost  int
		after float64 // seconds
	}
	var all []found
	p := largeDay(people, visits, rounds)
	began := time.Now()
	solve.Solve(ctx, p, func(p solve.Plan) { all = append(all, found{p.Cost, time.Since(began).Seconds()}) })
	took := time.Since(began).Seconds()
	first, final := all[0], all[len(all)-1]
	near := all[slices.IndexFunc(all, func(f found) bool { return float64(f.cost) <= 1.02*float64(final.cost) })]
	fmt.Printf("solve: %d visits of %d people planned in %.2f s (limit 2), within 2 %% of the plan after %d rounds, which took "+
		"%.1f s, in %.1f s (limit 20); the first costs %.0f %% more\n", visits, people, first.after, rounds, took, near.after,
		100*(float64(first.cost)/float64(final.cost)-1))
	note("300 visits of 30 people planned for the first time", first.after, "s", 2, first.after)
	note("300 visits of 30 people, within 2 % of the plan of 20,000 rounds", near.after, "s", 20, first.after)
}

// largeDay is a day of some people with work that nobody has yet, in a country of 60 by 60 km.
func largeDay(people, visits, rounds int) solve.Problem {
	const hour = 3600
	r := rand.New(rand.NewPCG(5, 6))
	n := people + visits
	xs, ys := make([]float64, n), make([]float64, n)
	for i := range n {
		xs[i], ys[i] = r.Float64()*60, r.Float64()*60
	}
	t := plan.NewTable(n)
	for i := range n {
		for k := range n {
			t.Put(i, k, int(math.Hypot(xs[i]-xs[k], ys[i]-ys[k])*1.3/50*hour), 0)
		}
	}
	d := &plan.Day{Now: -1}
	for i := range people {
		d.Lanes = append(d.Lanes, plan.Lane{ID: person(i), Start: i, Hours: []plan.Span{{From: 8 * hour, To: 16 * hour}},
			Skills: []string{"all", fmt.Sprint(i % 3)}})
	}
	d.Open(t)
	p := solve.Problem{Days: []*plan.Day{d}, Rounds: rounds, Seed: 1}
	for i := range visits {
		w := plan.Want{ID: fmt.Sprint(i), Place: people + i, Length: (3 + r.IntN(8)) * 5 * 60, To: plan.Whenever, Always: true,
			Skills: []string{"all"}}
		if i%5 == 0 {
			w.Skills = []string{fmt.Sprint(r.IntN(3))}
		}
		if i%3 == 0 {
			w.From = (8 + r.IntN(6)) * hour
			w.To = w.From + 2*hour
		}
		p.Visits = append(p.Visits, solve.Visit{ID: w.ID, Wants: []plan.Want{w}, Worth: 8 * hour})
	}
	return p
}
