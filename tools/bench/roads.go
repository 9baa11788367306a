package main

import (
	"context"
	"fmt"
	"math/rand/v2"
	"os"
	"path/filepath"
	"slices"
	"strconv"
	"time"

	"github.com/paulmach/orb"
	"github.com/paulmach/orb/maptile"

	"iter.example/iter/core/records"
	"iter.example/iter/core/roads"
	"iter.example/iter/server/addresses"
	"iter.example/iter/server/store"
	"iter.example/iter/server/tiles"
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
	drawnRegion(r, region, at, sorting)
}

// houses is how many addresses a region of so many roads has.
const houses = 300_000

// drawnRegion measures the map and the addresses of the same roads.
func drawnRegion(r *rand.Rand, region *roads.Region, at []records.Point, sorting float64) {
	dir, err := os.MkdirTemp("", "iter-bench-")
	check(err)
	defer os.RemoveAll(dir)
	var m tiles.Map
	region.Lines(func(class roads.Class, name string, line []records.Point) {
		l := make(orb.LineString, len(line))
		for i, p := range line {
			l[i] = orb.Point{p.Lon, p.Lat}
		}
		m.Features = append(m.Features, tiles.Feature{Layer: tiles.Roads, Class: string(class), Name: name, Shape: l})
	})
	path := filepath.Join(dir, store.MapFile)
	began := time.Now()
	n, err := tiles.Write(context.Background(), path, m, nil)
	check(err)
	took := time.Since(began).Seconds()
	info, err := os.Stat(path)
	check(err)
	fmt.Printf("map: %d tiles of %.1f MB drawn in %.1f s (limit 300)\n", n, float64(info.Size())/(1<<20), took)
	note("map: tiles of a million pieces drawn", took, "s", 300, sorting/1000)
	a, err := tiles.Open(path)
	check(err)
	defer a.Close()
	tile := repeated(func() {
		for range 1000 {
			p := maptile.At(orb.Point{at[r.IntN(len(at))].Lon, at[r.IntN(len(at))].Lat}, maptile.Zoom(a.About.Most))
			_, err := a.Tile(a.About.Most, int(p.X), int(p.Y))
			check(err)
		}
	}) / 1000
	fmt.Printf("map: a tile %.3f ms (limit 5)\n", tile)
	note("map: a tile", tile, "ms", 5, sorting)

	var book addresses.Region
	for i := range 400 {
		book.Places = append(book.Places, addresses.NamedPlace{Name: fmt.Sprintf("Place%d", i), Class: "village", At: at[r.IntN(len(at))]})
	}
	for i := range houses {
		book.Houses = append(book.Houses, addresses.NumberedHouse{Street: fmt.Sprintf("Street%d Lane", i%20_000),
			Number: strconv.Itoa(1 + r.IntN(90)), At: at[r.IntN(len(at))]})
	}
	path = filepath.Join(dir, store.AddressesFile)
	began = time.Now()
	check(addresses.Write(context.Background(), path, book))
	fmt.Printf("addresses: %d houses written in %.1f s (limit 300)\n", houses, time.Since(began).Seconds())
	note("addresses: 300,000 houses written", time.Since(began).Seconds(), "s", 300, sorting/1000)
	b, err := addresses.Open(path)
	check(err)
	defer b.Close()
	found := repeated(func() {
		for range 20 {
			i := r.IntN(20_000)
			_, err := b.Find(context.Background(), fmt.Sprintf("%d streat%d lane", 1+r.IntN(90), i), nil)
			check(err)
		}
	}) / 20
	fmt.Printf("addresses: one found with a slip %.1f ms (limit 50)\n", found)
	note("addresses: one found with a slip", found, "ms", 50, sorting)
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
