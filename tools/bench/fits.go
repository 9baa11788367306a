package main

import (
	"fmt"
	"math/rand/v2"

	"iter.example/iter/core/plan"
)

// fits measures fits over a day of 60 people and 500 visits at 500 places. The yardstick is filling a table of the ways between those.
func fits() {
	const people, visits, places = 60, 500, 500
	const hour = 3600
	r := rand.New(rand.NewPCG(3, 4))
	fill := func() plan.Table {
		t := plan.NewTable(places)
		for i := range places {
			for k := range places {
				t.Put(i, k, r.IntN(2*hour), 0)
			}
		}
		return t
	}
	filling := repeated(func() { fill() })
	want := func(id string) plan.Want {
		return plan.Want{ID: id, Place: r.IntN(places), Length: 45 * 60, To: 12*hour + r.IntN(8*hour), Always: true}
	}
	d := &plan.Day{Now: -1}
	for i := range people {
		d.Lanes = append(d.Lanes, plan.Lane{ID: person(i), Start: r.IntN(places), Hours: []plan.Span{{From: 8 * hour, To: 16 * hour}}})
	}
	for i := range visits {
		l := &d.Lanes[i%people]
		l.Stops = append(l.Stops, plan.Placed{Want: want(fmt.Sprint("v", i)), Begin: 8*hour + i/people*hour})
	}
	d.Open(fill())
	w := want("new")
	one := repeated(func() {
		for i := range 1000 {
			d.Fit(w, person(i%people), 8*hour+i*20)
		}
	}) / 1000
	all := repeated(func() { d.Suggest(w, 5) })
	fmt.Printf("a fit among %d people and %d visits %.4f ms (limit 1); the best over all of them %.2f ms (limit 50)\n", people, visits, one,
		all)
	note("a fit among 60 people and 500 visits", one, "ms", 1, filling)
	note("the best fits over 60 people", all, "ms", 50, filling)
}
