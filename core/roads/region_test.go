package roads_test

import (
	"bytes"
	"math"
	"slices"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"iter.example/iter/core/records"
	"iter.example/iter/core/roads"
)

func point(lat, lon float64) records.Point { return records.Point{Lat: lat, Lon: lon} }

// network is what a region is built of, so that ways can be found without it.
type network struct {
	at        []records.Point // of junctions
	stretches []roads.Stretch
	turns     []roads.Turn
}

func (n *network) build(t require.TestingT) *roads.Region {
	var b roads.Builder
	for range n.at {
		b.Junction()
	}
	for _, s := range n.stretches {
		_, err := b.Add(s)
		require.NoError(t, err)
	}
	for _, turn := range n.turns {
		require.NoError(t, b.Turn(turn))
	}
	r, err := b.Build(nil)
	require.NoError(t, err)
	return r
}

// drawn is a network that is drawn at random: one-way and slow stretches, ferries, loops, turns that must not be taken.
func drawn(t *rapid.T) *network {
	n := &network{}
	count := rapid.IntRange(2, 25).Draw(t, "junctions")
	grid := rapid.IntRange(0, 8000)
	for range count {
		n.at = append(n.at, point(50+float64(grid.Draw(t, "lat"))/1e5, -5+float64(grid.Draw(t, "lon"))/1e5))
	}
	classes := rapid.SampledFrom([]roads.Class{roads.Main, roads.Lane, roads.Street, roads.Ferry})
	for range rapid.IntRange(1, 60).Draw(t, "stretches") {
		a, b := rapid.IntRange(0, count-1).Draw(t, "a"), rapid.IntRange(0, count-1).Draw(t, "b")
		middle := point(50+float64(grid.Draw(t, "lat"))/1e5, -5+float64(grid.Draw(t, "lon"))/1e5)
		s := roads.Stretch{From: a, To: b, Line: []records.Point{n.at[a], middle, n.at[b]}, Class: classes.Draw(t, "class"),
			Name: rapid.SampledFrom([]string{"Shore road", "Slip Lane", ""}).Draw(t, "name")}
		s.There = time.Duration(rapid.IntRange(1, 900_000).Draw(t, "there")) * time.Millisecond
		if rapid.Bool().Draw(t, "both ways") {
			s.Back = s.There
		}
		n.stretches = append(n.stretches, s)
	}
	for range rapid.IntRange(0, 12).Draw(t, "turns") {
		by := rapid.IntRange(0, len(n.stretches)-1).Draw(t, "by")
		at := rapid.SampledFrom([]int{n.stretches[by].From, n.stretches[by].To}).Draw(t, "at")
		var on []int
		for i, s := range n.stretches {
			if s.From == at || s.To == at {
				on = append(on, i)
			}
		}
		n.turns = append(n.turns, roads.Turn{By: by, At: at, On: rapid.SampledFrom(on).Draw(t, "on"), Only: rapid.Bool().Draw(t, "only")})
	}
	return n
}

// driving is a stretch in a direction: 0 there, 1 back.
type driving struct{ road, way int }

func (n *network) end(d driving) int {
	return []int{n.stretches[d.road].To, n.stretches[d.road].From}[d.way]
}

func (n *network) begin(d driving) int { return n.end(driving{d.road, 1 - d.way}) }

func (n *network) cost(d driving) int64 {
	return []time.Duration{n.stretches[d.road].There, n.stretches[d.road].Back}[d.way].Milliseconds()
}

// may tells whether one may go on by a stretch.
func (n *network) may(d, on driving) bool {
	if n.end(d) != n.begin(on) || n.cost(on) == 0 {
		return false
	}
	for _, t := range n.turns {
		if t.By == d.road && t.At == n.end(d) && (t.On == on.road) != t.Only {
			return false
		}
	}
	return true
}

// quickest finds how long it takes from the beginning of one place's stretch to another's, over stretches rather than junctions: without
// any order of them, and without a heap. Parts are where on their stretches the places are.
func (n *network) quickest(from, to int, fromPart, toPart float64) int64 {
	share := func(d driving, part float64) int64 { return int64(math.Round(float64(n.cost(d)) * part)) }
	all := map[driving]int64{} // until the end of the stretch
	best := int64(math.MaxInt64)
	for way := range 2 {
		d := driving{from, way}
		if n.cost(d) == 0 {
			continue
		}
		left := 1 - fromPart
		if way == 1 {
			left = fromPart
		}
		all[d] = share(d, left)
		if on := []float64{toPart - fromPart, fromPart - toPart}[way]; from == to && on >= 0 {
			best = min(best, share(d, on))
		}
	}
	for changed := true; changed; {
		changed = false
		for d, c := range all {
			for road := range n.stretches {
				for way := range 2 {
					on := driving{road, way}
					if !n.may(d, on) {
						continue
					}
					if road == to {
						part := toPart
						if way == 1 {
							part = 1 - toPart
						}
						best = min(best, c+share(on, part))
					}
					if have, seen := all[on]; !seen || c+n.cost(on) < have {
						all[on], changed = c+n.cost(on), true
					}
				}
			}
		}
	}
	return best
}

// The quickest way is as quick as a search that knows of no hierarchy finds it, with one-way stretches and turns that must not be taken;
// and the table says the same as the way.
func TestTheQuickestWaysAreFound(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		n := drawn(t)
		r := n.build(t)
		var places []roads.Place
		var on []int
		for range 6 {
			at := point(50+float64(rapid.IntRange(0, 8000).Draw(t, "lat"))/1e5, -5+float64(rapid.IntRange(0, 8000).Draw(t, "lon"))/1e5)
			if p, ok := r.Snap(at); ok {
				places, on = append(places, p), append(on, p.Stretch())
			}
		}
		if len(places) == 0 {
			return
		}
		table := r.Table(places, places)
		for i, from := range places {
			for k, to := range places {
				want := n.quickest(on[i], on[k], from.Part(), to.Part())
				way, found := r.Way(from, to)
				leg := table[i][k]
				require.Equal(t, want < math.MaxInt64, found, "from %d to %d", i, k)
				require.Equal(t, found, leg.Known)
				if !found {
					continue
				}
				off := (from.Off + to.Off) / 5
				require.Equal(t, int(math.Round(float64(want)/1000+off)), leg.Seconds)
				require.Equal(t, []int{leg.Seconds}, []int{way.Seconds})
				sum, ferry := 0, 0
				for _, p := range way.Parts {
					sum += p.Seconds
					if p.Class == roads.Ferry {
						ferry += p.Seconds
					}
				}
				require.InDelta(t, float64(want)/1000, sum, float64(len(way.Parts)))
				require.InDelta(t, ferry, way.Ferry, float64(len(way.Parts)))
				require.Equal(t, from.At, way.Line[0])
				require.Equal(t, to.At, way.Line[len(way.Line)-1])
			}
		}
	})
}

// Nothing is nearer to a place than the road that it faces; ferries and motorways are faced by nobody.
func TestPlacesFaceTheNearestRoad(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		n := drawn(t)
		r := n.build(t)
		at := point(50+float64(rapid.IntRange(-4000, 12000).Draw(t, "lat"))/1e5, -5+float64(rapid.IntRange(-4000, 12000).Draw(t, "lon"))/1e5)
		p, ok := r.Snap(at)
		nearest := math.Inf(1)
		for _, s := range n.stretches {
			if s.Class == roads.Ferry {
				continue
			}
			for i := 1; i < len(s.Line); i++ {
				for k := 0; k <= 400; k++ {
					part := float64(k) / 400
					a, b := s.Line[i-1], s.Line[i]
					nearest = min(nearest, roads.Metres(at, point(a.Lat+part*(b.Lat-a.Lat), a.Lon+part*(b.Lon-a.Lon))))
				}
			}
		}
		if !ok {
			require.Greater(t, nearest, roads.Farthest-20.0)
			return
		}
		require.LessOrEqual(t, p.Off, nearest+5)
		require.NotEqual(t, roads.Ferry, n.stretches[p.Stretch()].Class)
	})
}

// A region says what can't be built.
func TestBuilderSaysWhatIsWrong(t *testing.T) {
	var b roads.Builder
	_, err := b.Build(nil)
	assert.ErrorContains(t, err, "roads.none")
	a, c := b.Junction(), b.Junction()
	line := []records.Point{point(0, 0), point(0, 1)}
	for code, s := range map[string]roads.Stretch{
		"roads.stretch": {From: a, To: 7, Line: line, Class: roads.Main},
		"roads.class":   {From: a, To: c, Line: line, Class: "canal"},
		"roads.time":    {From: a, To: c, Line: line, Class: roads.Main, There: -time.Second},
		"site.position": {From: a, To: c, Line: []records.Point{point(0, 0), point(0, 181)}, Class: roads.Main},
	} {
		_, err := b.Add(s)
		assert.ErrorContains(t, err, code)
	}
	i, err := b.Add(roads.Stretch{From: a, To: c, Line: line, Class: roads.Main, There: time.Second})
	require.NoError(t, err)
	assert.ErrorContains(t, b.Turn(roads.Turn{By: i, At: 5, On: i}), "roads.turn")
	assert.True(t, slices.Contains(roads.Classes, roads.Main))
}

// A region that was written and read gives the same answers; one that is broken anywhere is refused.
func TestRegionsAreWrittenAndRead(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		r := drawn(t).build(t)
		r.Source = "Made up"
		var file bytes.Buffer
		require.NoError(t, r.Write(&file))
		again, err := roads.Open(bytes.NewReader(file.Bytes()))
		require.NoError(t, err)
		require.Equal(t, "Made up", again.Source)
		var places, same []roads.Place
		for range 4 {
			at := point(50+float64(rapid.IntRange(0, 8000).Draw(t, "lat"))/1e5, -5+float64(rapid.IntRange(0, 8000).Draw(t, "lon"))/1e5)
			p, ok := r.Snap(at)
			q, sameOK := again.Snap(at)
			require.Equal(t, ok, sameOK)
			if ok {
				places, same = append(places, p), append(same, q)
			}
		}
		require.Equal(t, places, same)
		require.Equal(t, r.Table(places, places), again.Table(same, same))

		broken := slices.Clone(file.Bytes())
		broken[rapid.IntRange(0, len(broken)-1).Draw(t, "at")] ^= byte(rapid.IntRange(1, 255).Draw(t, "bits"))
		_, err = roads.Open(bytes.NewReader(broken))
		require.ErrorContains(t, err, "roads.unreadable")
		_, err = roads.Open(bytes.NewReader(file.Bytes()[:rapid.IntRange(0, file.Len()-1).Draw(t, "cut")]))
		require.ErrorContains(t, err, "roads.unreadable")
	})
}

// What a device carries says the same as the roads that it is from, and nothing of places that were not asked for.
func TestAnswersSayTheSame(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		r := drawn(t).build(t)
		var places []records.Point
		for range 5 {
			places = append(places, point(50+float64(rapid.IntRange(0, 8000).Draw(t, "lat"))/1e5,
				-5+float64(rapid.IntRange(0, 8000).Draw(t, "lon"))/1e5))
		}
		a := r.AnswersFor(places, func(int, int) bool { return true })
		for i, from := range places {
			for k, way := range a.Ways(from, places...) {
				if i == k || from == places[k] {
					continue
				}
				p, okP := r.Snap(from)
				q, okQ := r.Snap(places[k])
				want, ok := r.Way(p, q)
				require.Equal(t, okP && okQ && ok, way != nil)
				if way == nil {
					continue
				}
				require.Equal(t, []int{want.Seconds, want.Ferry, want.Metres}, []int{way.Seconds, way.Ferry, way.Metres})
				require.Equal(t, from, way.Line[0])
				require.Equal(t, places[k], way.Line[len(way.Line)-1])
				require.Len(t, way.Parts, len(want.Parts))
				for j, part := range want.Parts {
					require.Equal(t, part.Name, way.Parts[j].Name)
					require.InDelta(t, part.Seconds, way.Parts[j].Seconds, 30)
				}
			}
		}
		require.Nil(t, a.Ways(point(1, 1), places[0])[0])
	})
}

// Whatever a file holds, reading it ends, and what is read can be asked.
func FuzzOpen(f *testing.F) {
	var b roads.Builder
	from, to := b.Junction(), b.Junction()
	_, err := b.Add(roads.Stretch{From: from, To: to, Line: []records.Point{point(50, -5), point(50, -4.9)}, Class: roads.Main,
		There: time.Hour, Back: time.Hour})
	require.NoError(f, err)
	r, err := b.Build(nil)
	require.NoError(f, err)
	var file bytes.Buffer
	require.NoError(f, r.Write(&file))
	f.Add(file.Bytes())
	f.Fuzz(func(t *testing.T, raw []byte) {
		if r, err := roads.Open(bytes.NewReader(raw)); err == nil {
			if p, ok := r.Snap(point(50, -5)); ok {
				r.Way(p, p)
			}
		}
	})
}
