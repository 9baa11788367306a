package main

import (
	"fmt"
	"math/rand/v2"
	"slices"
	"time"

	"iter.example/iter/core/records"
	"iter.example/iter/core/roads"
)

// side makes a network of a million pieces of road, each in one direction.
const side = 500

// roadNetwork measures ways over a country's roads. The yardstick is sorting a million numbers.
func roadNetwork() {
	r := rand.New(rand.NewPCG(1, 2))
	numbers := make([]float64, 1_000_000)
	sorting := repeated(func() {
		for i := range numbers {
			numbers[i] = r.Float64()
		}
		slices.Sort(numbers)
	})
	began := time.Now()
	region, at, pieces := country(r)
	built := time.Since(began)
	fmt.Printf("roads: %d pieces made ready in %.1f s (limit 300)\n", pieces, built.Seconds())
	note("roads: a million pieces made ready", built.Seconds(), "s", 300, sorting/1000)

	var places []roads.Place
	for len(places) < 2000 {
		if p, ok := region.Snap(at[r.IntN(len(at))]); ok {
			places = append(places, p)
		}
	}
	way := repeated(func() {
		for i := range 1000 {
			region.Way(places[i], places[i+1000])
		}
	}) / 1000
	fmt.Printf("roads: a way %.3f ms (limit 2)\n", way)
	note("roads: a way", way, "ms", 2, sorting)
	table := repeated(func() { region.Table(places[:100], places[100:200]) })
	fmt.Printf("roads: a table of 100 by 100 %.1f ms (limit 300)\n", table)
	note("roads: a table of 100 by 100", table, "ms", 300, sorting)
}

// country is a network of side times side junctions: lanes, with main roads every so often and a motorway now and then.
func country(r *rand.Rand) (*roads.Region, []records.Point, int) {
	var b roads.Builder
	at := make([]records.Point, 0, side*side)
	for i := range side {
		for k := range side {
			b.Junction()
			at = append(at, records.Point{Lat: 50 + (float64(i)+r.Float64()*0.6)*0.002, Lon: -5 + (float64(k)+r.Float64()*0.6)*0.003})
		}
	}
	join := func(from, to, line int) {
		class, speed := roads.Lane, 9.5
		switch {
		case line%64 == 0:
			class, speed = roads.Motorway, 28
		case line%8 == 0:
			class, speed = roads.Main, 17
		case r.IntN(12) == 0:
			return // no road goes everywhere
		}
		took := time.Duration(roads.Metres(at[from], at[to]) / speed * float64(time.Second))
		_, err := b.Add(roads.Stretch{From: from, To: to, Line: []records.Point{at[from], at[to]}, Class: class, There: took, Back: took,
			Name: fmt.Sprintf("Road %d", line)})
		check(err)
	}
	for i := range side {
		for k := range side {
			if k+1 < side {
				join(i*side+k, i*side+k+1, i)
			}
			if i+1 < side {
				join(i*side+k, (i+1)*side+k, k)
			}
		}
	}
	pieces := 2 * b.Stretches()
	region, err := b.Build(nil)
	check(err)
	return region, at, pieces
}
