package extract

import (
	"slices"
	"strconv"
	"strings"
	"time"

	"github.com/paulmach/osm"

	"iter.example/iter/core/roads"
)

// rule is how a van drives along a way.
type rule struct {
	class roads.Class
	// there and back are kilometres an hour in the order of the way's nodes and against it; 0: not to be driven that way.
	there, back float64
	// takes is how long a ferry takes that says so, and wait how long it is waited for.
	takes, wait time.Duration
}

// kinds are the roads that a van may use, with the speed it makes there where none is signed.
var kinds = map[string]struct {
	class roads.Class
	speed float64
}{
	"motorway": {roads.Motorway, 105}, "motorway_link": {roads.Motorway, 60},
	"trunk": {roads.Main, 85}, "trunk_link": {roads.Main, 50}, "primary": {roads.Main, 70}, "primary_link": {roads.Main, 45},
	"secondary": {roads.Main, 60}, "secondary_link": {roads.Main, 40}, "tertiary": {roads.Lane, 50}, "tertiary_link": {roads.Lane, 35},
	"unclassified": {roads.Lane, 40}, "road": {roads.Lane, 35}, "residential": {roads.Street, 28}, "living_street": {roads.Street, 10},
	"service": {roads.Street, 18}, "track": {roads.Track, 14},
}

// ofLimit is how much of a signed limit is driven, over corners and junctions.
const ofLimit = 0.9

// privateSlow is how much slower a private road counts than it is: it is driven to whoever lives there, and through by nobody.
const privateSlow = 0.2

// What a ferry makes and how long it is waited for, where it does not say so.
const (
	ferrySpeed = 18 // kilometres an hour
	ferryWait  = 8 * time.Minute
)

// drive reads the tags of a way: whether a van drives it, and how.
func drive(tags osm.Tags) (rule, bool) {
	if tags.Find("route") == "ferry" {
		return sail(tags)
	}
	kind, ok := kinds[tags.Find("highway")]
	if !ok || tags.Find("area") == "yes" {
		return rule{}, false
	}
	speed := kind.speed
	switch access(tags) {
	case forbidden:
		return rule{}, false
	case private:
		speed *= privateSlow
	case open:
	}
	switch tags.Find("tracktype") {
	case "grade1", "":
	case "grade2":
		speed = min(speed, 12)
	case "grade3":
		speed = min(speed, 8)
	default:
		return rule{}, false // grades 4 and 5 are for tractors
	}
	r := rule{class: kind.class}
	r.there, r.back = limited(speed, tags, "forward"), limited(speed, tags, "backward")
	switch way := oneWay(tags); way {
	case "yes":
		r.back = 0
	case "-1":
		r.there = 0
	case "never": // changes by the hour
		return rule{}, false
	}
	return r, true
}

func sail(tags osm.Tags) (rule, bool) {
	if a := access(tags); a == forbidden {
		return rule{}, false
	}
	if f := tags.Find("foot"); f != "" && access(tags) != open {
		return rule{}, false
	}
	if tags.Find("motor_vehicle") == "" && tags.Find("motorcar") == "" && tags.Find("vehicle") == "" && tags.Find("access") == "" &&
		(tags.Find("foot") == "designated" || tags.Find("passenger") == "only") {
		return rule{}, false
	}
	r := rule{class: roads.Ferry, there: ferrySpeed, back: ferrySpeed, wait: ferryWait}
	if d, ok := duration(tags.Find("duration")); ok {
		r.takes = d
	}
	if d, ok := duration(tags.Find("interval")); ok {
		r.wait = d / 2
	}
	if oneWay(tags) == "yes" {
		r.back = 0
	}
	return r, true
}

type entry int

const (
	open entry = iota
	private
	forbidden
)

// access reads who may go by a way or past a point: what says it of cars most closely counts.
func access(tags osm.Tags) entry {
	for _, key := range []string{"motorcar", "motor_vehicle", "vehicle", "access"} {
		switch v := tags.Find(key); {
		case v == "":
			continue
		case slices.Contains([]string{"no", "agricultural", "forestry", "emergency", "military", "psv", "bus"}, v):
			return forbidden
		case slices.Contains([]string{"private", "permit", "residents"}, v):
			return private
		}
		return open
	}
	return open
}

// blocks tells whether a point stops a van.
func blocks(tags osm.Tags) bool {
	barrier := tags.Find("barrier")
	if barrier == "" {
		return false
	}
	switch access(tags) {
	case forbidden:
		return true
	case private:
		return false
	case open:
	}
	if tags.Find("motorcar") != "" || tags.Find("motor_vehicle") != "" || tags.Find("vehicle") != "" || tags.Find("access") != "" {
		return false
	}
	return slices.Contains([]string{"bollard", "block", "jersey_barrier", "log", "debris", "cycle_barrier", "chain", "stile", "turnstile",
		"kissing_gate", "planter", "rock"}, barrier)
}

func oneWay(tags osm.Tags) string {
	v := tags.Find("oneway")
	switch {
	case v == "yes" || v == "1" || v == "true":
		return "yes"
	case v == "-1" || v == "reverse":
		return "-1"
	case v == "reversible" || v == "alternating":
		return "never"
	case v == "no":
		return "no"
	}
	round := tags.Find("junction")
	if highway := tags.Find("highway"); round == "roundabout" || round == "circular" || highway == "motorway" {
		return "yes"
	}
	return "no"
}

// limited is the speed that is made in a direction: of a signed limit the most that is driven, if that is not the limit of a faster road.
func limited(speed float64, tags osm.Tags, way string) float64 {
	text := tags.Find("maxspeed:" + way)
	if text == "" {
		text = tags.Find("maxspeed")
	}
	limit, ok := kmh(text)
	if !ok {
		return speed
	}
	if speed < 20 { // a yard or a track is slow whatever is signed
		return min(speed, limit*ofLimit)
	}
	return min(limit*ofLimit, speed*1.3)
}

// kmh reads a signed limit.
func kmh(text string) (float64, bool) {
	text, mph := strings.CutSuffix(strings.TrimSpace(text), "mph")
	if text == "walk" {
		return 6, true
	}
	n, err := strconv.ParseFloat(strings.TrimSpace(text), 64)
	if err != nil || n < 1 || n > 200 {
		return 0, false
	}
	if mph {
		n *= 1.609344
	}
	return n, true
}

// duration reads 35, 1:20, 1:20:30 and PT1H20M.
func duration(text string) (time.Duration, bool) {
	text = strings.TrimSpace(text)
	if text == "" {
		return 0, false
	}
	if rest, iso := strings.CutPrefix(strings.ToUpper(text), "PT"); iso {
		d, err := time.ParseDuration(strings.ToLower(rest))
		return d, err == nil && fair(d)
	}
	units := []time.Duration{time.Hour, time.Minute, time.Second}
	parts := strings.Split(text, ":")
	if len(parts) == 1 {
		units = units[1:]
	}
	if len(parts) > len(units) {
		return 0, false
	}
	var d time.Duration
	for i, p := range parts {
		n, err := strconv.Atoi(p)
		if err != nil || n < 0 || n > 10_000 {
			return 0, false
		}
		d += time.Duration(n) * units[i]
	}
	return d, fair(d)
}

func fair(d time.Duration) bool { return d > 0 && d <= 40*time.Hour }
