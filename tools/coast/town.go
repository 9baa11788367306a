package main

import (
	"math"
	"math/rand"
)

// classes are what the places are.
var classes = map[string]string{"Orrisk": "town", "Vellamouth": "town", "Haldwick": "town", "Tessary": "village", "Lamm": "village",
	"Pennelby": "village", "Kessel": "village", "Tarrel": "village", "Dunmarrow": "village", "Fethering": "village", "Marrable": "village",
	"Innisgarve": "hamlet", "Skarrow": "hamlet", "Quay Sound": "hamlet"}

// streetNames are those of every place.
var streetNames = []string{"Harbour Row", "Slip Lane", "Kiln Road", "Back Strand", "Mill Brae", "Causeway"}

// town is what stands at a place: streets that lead away from its junction, with houses.
type town struct {
	name     string
	junction int // in the network
	ground   []point
	streets  []street
}

type street struct {
	name   string
	line   []point // without the junction
	houses []house
}

type house struct {
	number  int
	corners []point
}

// own is for what came after the roads, which stay as they were.
var own = rand.New(rand.NewSource(11))

// away is the point so many metres off another, in a direction in radians from the east.
func away(p point, direction, distance float64) point {
	return point{p.lat + distance*math.Sin(direction)/111_200, p.lon + distance*math.Cos(direction)/111_200/math.Cos(p.lat*math.Pi/180)}
}

// dry tells whether a point is on land, and not on the shore.
func dry(height []float64, p point) bool {
	i, j := (p.lat-south)/(north-south)*(rows-1), (p.lon-west)/(east-west)*(cols-1)
	a, b := int(i), int(j)
	if a < 0 || b < 0 || a+1 >= rows || b+1 >= cols {
		return false
	}
	y, x := i-float64(a), j-float64(b)
	h := (height[a*cols+b]*(1-x)+height[a*cols+b+1]*x)*(1-y) + (height[(a+1)*cols+b]*(1-x)+height[(a+1)*cols+b+1]*x)*y
	return h > 0.03
}

// towns builds a town at each place: its junction is the node of its number, since the network begins with them.
func towns(n *network, height []float64) (out []town) {
	for i, p := range places {
		centre := n.points[i]
		size := map[string]float64{"town": 520, "village": 340, "hamlet": 220}[classes[p.name]]
		t := town{name: p.name, junction: i}
		turn := own.Float64() * 2 * math.Pi
		for k := range 24 {
			t.ground = append(t.ground, away(centre, float64(k)/24*2*math.Pi, size*(0.8+0.35*own.Float64())))
		}
		for k, name := range streetNames {
			if s := lay(height, name, centre, turn+(float64(k)+0.4*own.Float64())/float64(len(streetNames))*2*math.Pi, size); s.line != nil {
				t.streets = append(t.streets, s)
			}
		}
		out = append(out, t)
	}
	return out
}

// lay lays a street away from a junction, as far as there is land, with odd numbers on its left and even ones on its right. Not every house
// has a number.
func lay(height []float64, name string, from point, direction, length float64) street {
	const plot = 26 // metres
	s := street{name: name}
	bend := (own.Float64() - 0.5) * 0.25
	at := from
	for k := 1; float64(k)*plot < length; k++ {
		next := away(at, direction, plot)
		if !dry(height, next) {
			break
		}
		for side := range 2 {
			middle := away(away(at, direction, plot/2), direction+math.Pi/2*float64(1-2*side), 17)
			if own.Intn(3) > 0 && k > 1 && dry(height, middle) {
				s.houses = append(s.houses, house{2*k - 1 + side, block(middle, direction)})
			}
		}
		at = next
		if direction += bend; k%3 == 0 {
			s.line = append(s.line, at)
		}
		bend *= 0.9
	}
	return s
}

// block is the outline of a house.
func block(middle point, direction float64) (out []point) {
	long, deep := 6+4*own.Float64(), 4+2*own.Float64()
	for _, c := range [4][2]float64{{-1, -1}, {1, -1}, {1, 1}, {-1, 1}} {
		out = append(out, away(away(middle, direction, c[0]*long), direction+math.Pi/2, c[1]*deep))
	}
	return out
}

// wooded is above zero where there are woods: inland, and by a noise of their own.
func wooded(height []float64) []float64 {
	before := r
	r = rand.New(rand.NewSource(23))
	n := newNoise()
	r = before
	out := make([]float64, len(height))
	for i := range rows {
		for j := range cols {
			out[i*cols+j] = math.Min(height[i*cols+j]-0.12, n.at(float64(i)/rows*1.3, float64(j)/cols*1.3)-0.25)
		}
	}
	return out
}

// turnsLeft tells whether a closed line turns to the left: it goes round what is wooded, and not round a clearing.
func turnsLeft(line []point) bool {
	area := 0.0
	for i, p := range line {
		q := line[(i+1)%len(line)]
		area += p.lon*q.lat - q.lon*p.lat
	}
	return area > 0
}
