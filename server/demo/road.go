package demo

import (
	"bytes"
	"context"
	_ "embed"
	"sync"
	"time"

	"iter.example/iter/core/records"
	"iter.example/iter/core/roads"
	"iter.example/iter/server/extract"
	"iter.example/iter/server/ways"
)

//go:embed coast.osm
var coastExtract []byte

// coast is the roads of the made-up coast.
var coast = sync.OnceValue(func() *roads.Region {
	r, _, err := extract.Read(context.Background(), bytes.NewReader(coastExtract), nil)
	if err != nil {
		panic("demo: the coast that ships with the program can't be read: " + err.Error())
	}
	return r
})

// BringRoads puts the coast's roads into a data directory.
func BringRoads(dir string) error { return ways.Put(dir, coast()) }

// near gives a point on a road near a place.
func (g *generator) near(lat, lon float64) records.Point {
	var close []records.Point
	for reach := 1800.0; len(close) < 3; reach *= 1.5 {
		close = close[:0]
		for _, n := range roads.Coast().Nodes() {
			if roads.Metres(n, records.Point{Lat: lat, Lon: lon}) < reach {
				close = append(close, n)
			}
		}
	}
	p := close[g.r.Intn(len(close))]
	return records.Point{Lat: round(p.Lat+g.r.Float64()*0.002-0.001, 5), Lon: round(p.Lon+g.r.Float64()*0.002-0.001, 5)}
}

// drive is how long the way between two points takes, to the minute.
func drive(a, b records.Point) time.Duration {
	p, okP := coast().Snap(a)
	q, okQ := coast().Snap(b)
	w, ok := coast().Way(p, q)
	if !okP || !okQ || !ok {
		return 30 * time.Minute
	}
	return (time.Duration(w.Seconds)*time.Second + 30*time.Second).Truncate(time.Minute)
}

// next picks a site to go to from a point: the nearest of a few.
func (g *generator) next(from records.Point) (site, time.Duration) {
	var best site
	var way time.Duration
	for i := range 4 {
		s := g.sites[g.r.Intn(len(g.sites))]
		if d := drive(from, s.at); i == 0 || d < way {
			best, way = s, d
		}
	}
	return best, max(way, 4*time.Minute)
}
