package demo

import (
	"math"
	"math/rand"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"iter.example/iter/core/records"
	"iter.example/iter/core/roads"
)

// Between places as the demo has them the extract's roads say what the coast's own ones did, to the minute or less.
func TestTheExtractIsTheCoast(t *testing.T) {
	r := rand.New(rand.NewSource(1))
	nodes := roads.Coast().Nodes()
	place := func() records.Point {
		p := nodes[r.Intn(len(nodes))]
		return records.Point{Lat: p.Lat + r.Float64()*0.002 - 0.001, Lon: p.Lon + r.Float64()*0.002 - 0.001}
	}
	farther, before := 0, carried()
	for range 400 {
		a, b := place(), place()
		was, known := thought(before, a, b)
		p, okP := coast().Snap(a)
		q, okQ := coast().Snap(b)
		require.True(t, okP && okQ)
		way, ok := coast().Way(p, q)
		require.Equal(t, known, ok)
		if ok && math.Abs(was-float64(way.Seconds)) > 60 {
			farther++
		}
	}
	assert.Zero(t, farther, "ways that are more than a minute off")
	assert.Equal(t, "A made-up coast, free to use", coast().Source)
}

// road is one that leads to a junction.
type road struct {
	to   records.Point
	cost float64 // seconds
}

// carried are the roads that phones carried before there were extracts: 17 m/s on main roads and 9.5 on lanes, on ferries 5 after eight
// minutes.
func carried() map[records.Point][]road {
	at := map[records.Point][]road{}
	for class, lines := range roads.Coast().Lines() {
		for _, l := range lines {
			cost := roads.Metres(l[0], l[1]) / map[roads.Class]float64{roads.Main: 17, roads.Lane: 9.5, roads.Ferry: 5}[class]
			if class == roads.Ferry {
				cost += 8 * 60
			}
			at[l[0]], at[l[1]] = append(at[l[0]], road{l[1], cost}), append(at[l[1]], road{l[0], cost})
		}
	}
	return at
}

// thought is how long a way took by roads between the junctions nearest to two places, in seconds.
func thought(at map[records.Point][]road, a, b records.Point) (float64, bool) {
	nearest := func(p records.Point) (best records.Point, off float64) {
		off = math.Inf(1)
		for _, n := range roads.Coast().Nodes() {
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
