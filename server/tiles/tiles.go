// Package tiles makes the map of a region as vector tiles (the Vector Tile specification, 2.1), kept in one archive (the PMTiles
// specification, version 3), and gives them one by one.
package tiles

import (
	"slices"

	"github.com/paulmach/orb"
)

// Layer is a layer of the map.
type Layer string

const (
	Land      Layer = "land"   // what the sea leaves
	Ground    Layer = "ground" // what grows or stands there: wood, green, sand, town
	Water     Layer = "water"  // lakes and broad rivers
	Rivers    Layer = "rivers" // as lines: river, stream
	Buildings Layer = "buildings"
	Roads     Layer = "roads"  // by the classes of core/roads
	Places    Layer = "places" // city, town, village, hamlet
)

// layers are all there are, in the order in which they are drawn.
var layers = []Layer{Land, Ground, Water, Rivers, Buildings, Roads, Places}

// Feature is something on the map. Its shape is in degrees east and north, and is taken over by whoever it is given to.
type Feature struct {
	Layer Layer
	Class string
	Name  string
	Shape orb.Geometry
}

// Map is what tiles are made of.
type Map struct {
	Source   string // where it is from, and under which licence
	Features []Feature
	// Shores are the sea's, with land to the left of each. Without any there is land everywhere.
	Shores []orb.LineString
}

// Zooms that there are tiles of. A screen draws nearer ones from the last.
const (
	minZoom = 3
	maxZoom = 13
)

// least is the zoom from which on something is drawn, by its class or else its layer.
var least = map[Layer]map[string]int{
	Ground: {"town": 9, "wood": 8, "": 10}, Water: {"": 6}, Rivers: {"river": 8, "": 11}, Buildings: {"": maxZoom},
	Roads: {"motorway": 5, "main": 7, "ferry": 7, "lane": 10, "": 11}, Places: {"city": minZoom, "town": 7, "village": 9, "": 11},
}

func leastZoom(l Layer, class string) int {
	if z, ok := least[l][class]; ok {
		return z
	}
	return least[l][""]
}

// Join joins lines that go on where others end; turned, also those that must be turned round for it.
func Join(lines []orb.LineString, turned bool) []orb.LineString {
	begins, ends := map[orb.Point][]int{}, map[orb.Point][]int{}
	for i, l := range lines {
		if len(l) > 1 {
			begins[l[0]] = append(begins[l[0]], i)
			ends[l[len(l)-1]] = append(ends[l[len(l)-1]], i)
		}
	}
	used := make([]bool, len(lines))
	take := func(from map[orb.Point][]int, p orb.Point) (orb.LineString, bool) {
		for _, i := range from[p] {
			if !used[i] {
				used[i] = true
				return slices.Clone(lines[i]), true
			}
		}
		return nil, false
	}
	// next is the line that goes on at a point, in the direction in which it is gone on.
	next := func(p orb.Point, on, against map[orb.Point][]int) (orb.LineString, bool) {
		if l, ok := take(on, p); ok {
			return l, true
		}
		if !turned {
			return nil, false
		}
		l, ok := take(against, p)
		l.Reverse()
		return l, ok
	}
	var out []orb.LineString
	for i, l := range lines {
		if used[i] || len(l) < 2 {
			continue
		}
		used[i] = true
		line := slices.Clone(l)
		for line[0] != line[len(line)-1] {
			on, ok := next(line[len(line)-1], begins, ends)
			if !ok {
				break
			}
			line = append(line, on[1:]...)
		}
		var before []orb.LineString // what leads to it, the nearest first
		for first, last := line[0], line[len(line)-1]; first != last; {
			to, ok := next(first, ends, begins)
			if !ok {
				break
			}
			before, first = append(before, to[:len(to)-1]), to[0]
		}
		slices.Reverse(before)
		out = append(out, append(slices.Concat(before...), line...))
	}
	return out
}
