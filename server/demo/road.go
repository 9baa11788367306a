package demo

import (
	"bytes"
	"context"
	_ "embed"
	"sync"
	"time"

	"github.com/paulmach/osm"
	"github.com/paulmach/osm/osmxml"

	"iter.example/iter/core/records"
	"iter.example/iter/core/roads"
	"iter.example/iter/core/work"
	"iter.example/iter/server/extract"
	"iter.example/iter/server/region"
)

//go:embed coast.osm
var coastExtract []byte

// coast is the made-up coast.
var coast = sync.OnceValue(func() *extract.Region {
	r, _, err := extract.Read(context.Background(), bytes.NewReader(coastExtract), true, nil)
	if err != nil {
		panic("demo: the coast that ships with the program can't be read: " + err.Error())
	}
	return r
})

// junctions are where roads out of the coast's places meet, in the order in which the extract has them.
var junctions = sync.OnceValue(func() (out []records.Point) {
	meets := map[osm.NodeID]bool{}
	var nodes []*osm.Node
	s := osmxml.New(context.Background(), bytes.NewReader(coastExtract))
	defer s.Close()
	for s.Scan() {
		switch o := s.Object().(type) {
		case *osm.Node:
			nodes = append(nodes, o)
		case *osm.Way:
			if road := o.Tags.Find("highway"); road != "" && road != "residential" || o.Tags.Find("route") == "ferry" {
				meets[o.Nodes[0].ID], meets[o.Nodes[1].ID] = true, true
			}
		}
	}
	for _, n := range nodes {
		if meets[n.ID] {
			out = append(out, records.Point{Lat: n.Lat, Lon: n.Lon})
		}
	}
	return out
})

// BringRegion puts the coast into a data directory.
func BringRegion(ctx context.Context, dir string) error {
	return region.Put(ctx, dir, time.Now(), coast(), nil)
}

// near gives a point on a road near a place.
func (g *generator) near(lat, lon float64) records.Point {
	var close []records.Point
	for reach := 1800.0; len(close) < 3; reach *= 1.5 {
		close = close[:0]
		for _, n := range junctions() {
			if roads.Metres(n, records.Point{Lat: lat, Lon: lon}) < reach {
				close = append(close, n)
			}
		}
	}
	p := close[g.r.Intn(len(close))]
	return records.Point{Lat: round(p.Lat+g.r.Float64()*0.002-0.001, 5), Lon: round(p.Lon+g.r.Float64()*0.002-0.001, 5)}
}

// way is the way between two points; none when there is no road.
func way(a, b records.Point) (roads.Way, bool) {
	p, okP := coast().Roads.Snap(a)
	q, okQ := coast().Roads.Snap(b)
	w, ok := coast().Roads.Way(p, q)
	return w, okP && okQ && ok
}

// drive is how long the way between two points takes, to the minute.
func drive(a, b records.Point) time.Duration {
	w, ok := way(a, b)
	if !ok {
		return 30 * time.Minute
	}
	return (time.Duration(w.Seconds)*time.Second + 30*time.Second).Truncate(time.Minute)
}

// thought is what is thought of the way between two points when it is begun; nil when there is none.
func thought(a, b records.Point) *work.Drive {
	w, ok := way(a, b)
	if !ok {
		return nil
	}
	return &work.Drive{Metres: w.Metres, Seconds: w.Seconds, Ferry: w.Ferry}
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
