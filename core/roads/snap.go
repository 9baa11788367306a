package roads

import (
	"math"
	"slices"

	"iter.example/iter/core/records"
)

// cells are the stretches that places can face, by the cells of a grid that they run through.
type cells struct {
	keys  []uint64 // in order
	first []int32
	roads []int32
}

// cellSide is the side of a cell in ten-millionths of a degree: half a kilometre north to south.
const cellSide = 50_000

func cellKey(x, y int32) uint64 { return uint64(uint32(x))<<32 | uint64(uint32(y)) }

func cellAt(s spot) (x, y int32) {
	return int32(math.Floor(float64(s.lat) / cellSide)), int32(math.Floor(float64(s.lon) / cellSide))
}

// faced tells whether a place can face a stretch: nobody lives on a ferry or a motorway.
func (r *Region) faced(i int) bool {
	c := Classes[r.roads[i].class]
	return c != Ferry && c != Motorway
}

func cellsOf(r *Region) cells {
	type in struct {
		key  uint64
		road int32
	}
	var all []in
	for i, x := range r.roads {
		if !r.faced(i) {
			continue
		}
		begin := len(all)
		for k := x.from; k+1 < x.to; k++ {
			a, b := r.points[k], r.points[k+1]
			// Through which cells a straight piece runs: looked at twice in each.
			steps := int(max(math.Abs(float64(a.lat)-float64(b.lat)), math.Abs(float64(a.lon)-float64(b.lon)))/(cellSide/2)) + 1
			for n := 0; n <= steps; n++ {
				key := cellKey(cellAt(between(a, b, float64(n)/float64(steps))))
				if len(all) == begin || all[len(all)-1].key != key {
					all = append(all, in{key, int32(i)})
				}
			}
		}
	}
	slices.SortFunc(all, func(a, b in) int {
		switch {
		case a.key < b.key || a.key == b.key && a.road < b.road:
			return -1
		case a == b:
			return 0
		}
		return 1
	})
	all = slices.Compact(all)
	var c cells
	for _, x := range all {
		if k := len(c.keys); k == 0 || c.keys[k-1] != x.key {
			c.keys, c.first = append(c.keys, x.key), append(c.first, int32(len(c.roads)))
		}
		c.roads = append(c.roads, x.road)
	}
	c.first = append(c.first, int32(len(c.roads)))
	return c
}

func (c cells) at(x, y int32) []int32 {
	i, found := slices.BinarySearch(c.keys, cellKey(x, y))
	if !found {
		return nil
	}
	return c.roads[c.first[i]:c.first[i+1]]
}

func between(a, b spot, part float64) spot {
	return spot{a.lat + int32(math.Round(part*float64(b.lat-a.lat))), a.lon + int32(math.Round(part*float64(b.lon-a.lon)))}
}

// Place is a place by the road that it faces.
type Place struct {
	At records.Point
	// Off is how many metres the road is away, and On the point of the road.
	Off float64
	On  records.Point

	road int
	part float64 // of the stretch, from its beginning
}

// Farthest is how far off a road a place may lie and still be reached by it, in metres.
const Farthest = 4000

// Snap finds the road that a place faces: the nearest. There is none when all are farther off than Farthest.
func (r *Region) Snap(p records.Point) (Place, bool) {
	best := Place{At: p, Off: math.Inf(1)}
	s := spotAt(p)
	cx, cy := cellAt(s)
	// A cell is narrower from west to east the farther it is from the equator.
	side := cellSide / perDegree * degree * max(math.Cos(p.Lat*math.Pi/180), 0.01)
	for ring := int32(0); ; ring++ {
		if reach := float64(ring-1) * side; reach > best.Off || reach > Farthest {
			break
		}
		for x := cx - ring; x <= cx+ring; x++ {
			step := int32(1)
			if x != cx-ring && x != cx+ring {
				step = max(2*ring, 1) // only the rim
			}
			for y := cy - ring; y <= cy+ring; y += step {
				for _, road := range r.cells.at(x, y) {
					r.nearer(&best, p, int(road))
				}
			}
		}
	}
	return best, best.Off <= Farthest
}

// degree is the length of a degree of latitude, in metres.
const degree = 111_200

// nearer has a place face a stretch when that is nearer than what it faces so far.
func (r *Region) nearer(best *Place, p records.Point, road int) {
	x := r.roads[road]
	scale := math.Cos(p.Lat * math.Pi / 180)
	found, along, at := false, 0.0, 0.0
	for k := x.from; k+1 < x.to; k++ {
		a, b := r.points[k].point(), r.points[k+1].point()
		ax, ay := (a.Lon-p.Lon)*scale*degree, (a.Lat-p.Lat)*degree
		dx, dy := (b.Lon-a.Lon)*scale*degree, (b.Lat-a.Lat)*degree
		t := 0.0
		if l := dx*dx + dy*dy; l > 0 {
			t = min(max(-(ax*dx+ay*dy)/l, 0), 1)
		}
		if off := math.Hypot(ax+t*dx, ay+t*dy); off < best.Off {
			best.Off, best.On, best.road = off, between(r.points[k], r.points[k+1], t).point(), road
			found, at = true, along+t*math.Hypot(dx, dy)
		}
		along += math.Hypot(dx, dy)
	}
	if found {
		best.part = 0
		if along > 0 {
			best.part = at / along
		}
	}
}

// Stretch is the number of the stretch of road that the place faces.
func (p Place) Stretch() int { return p.road }

// Part is how far along its stretch the place is, from 0 to 1.
func (p Place) Part() float64 { return p.part }

// Covers tells whether a place is near enough to a road to be reached.
func (r *Region) Covers(p records.Point) bool {
	_, ok := r.Snap(p)
	return ok
}
