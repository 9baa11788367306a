package demo

import (
	_ "embed"
	"fmt"
	"math"
	"math/rand"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"iter.example/iter/core/records"
	"iter.example/iter/core/roads"
)

// Between places as the demo has them the extract's roads say what the coast's own ones did, to the minute or less.
func TestTheExtractIsTheCoast(t *testing.T) {
	r := rand.New(rand.NewSource(1))
	nodes, lines := before(t)
	require.Equal(t, nodes, junctions(), "the demo's places are chosen among them")
	place := func() records.Point {
		p := nodes[r.Intn(len(nodes))]
		return records.Point{Lat: p.Lat + r.Float64()*0.002 - 0.001, Lon: p.Lon + r.Float64()*0.002 - 0.001}
	}
	farther, at := 0, carried(lines)
	for range 400 {
		a, b := place(), place()
		was, known := secondsBy(at, nodes, a, b)
		p, okP := coast().Roads.Snap(a)
		q, okQ := coast().Roads.Snap(b)
		require.True(t, okP && okQ)
		way, ok := coast().Roads.Way(p, q)
		require.Equal(t, known, ok)
		if ok && math.Abs(was-float64(way.Seconds)) > 60 {
			farther++
		}
	}
	assert.Zero(t, farther, "ways that are more than a minute off")
	assert.Equal(t, "A made-up coast, free to use", coast().Roads.Source)
}

// road is one that leads to a junction.
type road struct {
	to   records.Point
	cost float64 // seconds
}

// carried are the roads that phones carried before there were extracts: 17 m/s on main roads and 9.5 on lanes, on ferries 5 after eight
// minutes.
func carried(lines map[roads.Class][][2]records.Point) map[records.Point][]road {
	at := map[records.Point][]road{}
	for class, of := range lines {
		for _, l := range of {
			cost := roads.Metres(l[0], l[1]) / map[roads.Class]float64{roads.Main: 17, roads.Lane: 9.5, roads.Ferry: 5}[class]
			if class == roads.Ferry {
				cost += 8 * 60
			}
			at[l[0]], at[l[1]] = append(at[l[0]], road{l[1], cost}), append(at[l[1]], road{l[0], cost})
		}
	}
	return at
}

// secondsBy is how long a way took by roads between the junctions nearest to two places, in seconds.
func secondsBy(at map[records.Point][]road, nodes []records.Point, a, b records.Point) (float64, bool) {
	nearest := func(p records.Point) (best records.Point, off float64) {
		off = math.Inf(1)
		for _, n := range nodes {
			if d := roads.Metres(n, p); d < off {
				best, off = n, d
			}
		}
		return best, off
	}
	from, off := nearest(a)
	to, last := nearest(b)
	costs := map[records.Point]float64{from: 0}
	for left := []records.Point{from}; len(left) > 0; left = left[1:] {
		for _, r := range at[left[0]] {
			if c, seen := costs[r.to]; !seen || costs[left[0]]+r.cost < c {
				costs[r.to] = costs[left[0]] + r.cost
				left = append(left, r.to)
			}
		}
	}
	c, known := costs[to]
	return c + (off+last)/5, known
}

//go:embed testdata/coast.txt
var coastBefore string

// before reads the coast as phones carried it: lines of "node" and "edge", in which positions are degrees north and east times 100 000,
// and an edge has two nodes by their order, a class and a name.
func before(t *testing.T) (nodes []records.Point, lines map[roads.Class][][2]records.Point) {
	lines = map[roads.Class][][2]records.Point{}
	for line := range strings.Lines(coastBefore) {
		var a, b int
		var class string
		if _, err := fmt.Sscanf(line, "node %d %d", &a, &b); err == nil {
			nodes = append(nodes, records.Point{Lat: float64(a) / 1e5, Lon: float64(b) / 1e5})
		} else if _, err := fmt.Sscanf(line, "edge %d %d %s", &a, &b, &class); err == nil {
			lines[roads.Class(class)] = append(lines[roads.Class(class)], [2]records.Point{nodes[a], nodes[b]})
		}
	}
	require.Greater(t, len(nodes), 300)
	return nodes, lines
}
