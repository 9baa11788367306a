package main

import (
	"context"
	"fmt"
	"slices"
	"time"

	"iter.example/iter/core/plan/solve"
	"iter.example/iter/core/plan/solve/solvetest"
)

// solving measures how soon a day of 30 people with 300 visits is planned, and how soon the plan is almost as good as it becomes in many
// rounds, on one core. The yardstick is the first plan, which puts each visit where it costs least.
func solving(ctx context.Context) {
	const people, visits, rounds = 30, 300, 20000
	type found struct {
		cost  int
		after float64 // seconds
	}
	var all []found
	p := solvetest.Day(solvetest.Spread, people, visits, 5)
	p.Rounds = rounds
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
	known(ctx)
	insertion(ctx)
}

// known compares plans of small days with the best there are.
func known(ctx context.Context) {
	best, worst := 0, 1.0
	all := solvetest.Exacts()
	for _, e := range all {
		p := e.Problem()
		p.Rounds = 2000
		cost := solve.Solve(ctx, p, nil).Cost
		if worst = max(worst, float64(cost)/float64(e.Cost)); cost == e.Cost {
			best++
		}
	}
	fmt.Printf("solve: %d of %d small days come to the best plan, the others within %.1f %%\n", best, len(all), 100*(worst-1))
	note("small days: the worst plan against the best there is", worst, "times", 1.06, 1)
}

// insertion compares plans with those that put each visit where it costs least, one after another: on all days of the bench.
func insertion(ctx context.Context) {
	least := 100.0
	for _, country := range []solvetest.Country{solvetest.Spread, solvetest.Towns, solvetest.Mixed} {
		for _, size := range [][2]int{{10, 100}, {20, 160}, {30, 240}} {
			p := solvetest.Day(country, size[0], size[1], 1)
			p.Rounds = 2000
			first := 0
			final := solve.Solve(ctx, p, func(x solve.Plan) {
				if x.Rounds == 0 {
					first = x.Cost
				}
			})
			better := float64(first) / float64(final.Cost)
			least = min(least, better)
			fmt.Printf("solve: %s, %d visits of %d people: putting one after another costs %.1f %% more\n", country, size[1], size[0],
				100*(better-1))
		}
	}
	note("one visit after another against solving, where that gains least", least, "times", 0, 1)
}
