// Package roads is a road network: which way from one place to another, how far it is and how long it takes.
//
// A Builder makes a Region of stretches of road, which finds ways. Answers are the ways between some places, worked out beforehand: devices
// carry those, and no roads.
package roads

import (
	"math"

	"iter.example/iter/core/records"
)

// Class is a kind of road.
type Class string

const (
	Motorway Class = "motorway"
	Main     Class = "main"
	Lane     Class = "lane"   // between villages
	Street   Class = "street" // to houses
	Track    Class = "track"
	Ferry    Class = "ferry"
)

// Classes are all there are.
var Classes = []Class{Motorway, Main, Lane, Street, Track, Ferry}

// Values lists the classes, for generated types.
func (Class) Values() []string {
	out := make([]string, len(Classes))
	for i, c := range Classes {
		out[i] = string(c)
	}
	return out
}

// OffRoad is the speed between a place and the road, in metres a second.
const OffRoad = 5

// Way is how to get from one place to another.
type Way struct {
	Seconds int             `json:"seconds"`
	Ferry   int             `json:"ferry,omitempty"` // seconds of them, on ferries
	Free    int             `json:"free,omitempty"`  // what it takes on free roads, when it takes another time
	Metres  int             `json:"metres"`
	Line    []records.Point `json:"line"`
	Parts   []Part          `json:"parts"`
}

// Part is a stretch of a way along one road.
type Part struct {
	Name    string `json:"name"`
	Class   Class  `json:"class"`
	Metres  int    `json:"metres"`
	Seconds int    `json:"seconds"`
}

// Metres is the distance between two points near each other.
func Metres(a, b records.Point) float64 {
	return math.Hypot((a.Lat-b.Lat)*degree, (a.Lon-b.Lon)*degree*math.Cos(a.Lat*math.Pi/180))
}
