package extract

import (
	"slices"

	"github.com/paulmach/orb"
	"github.com/paulmach/orb/planar"
	"github.com/paulmach/osm"

	"iter.example/iter/core/records"
	"iter.example/iter/core/roads"
	"iter.example/iter/server/addresses"
	"iter.example/iter/server/tiles"
)

// outline is a way that is drawn, as a line or as an area.
type outline struct {
	layer    tiles.Layer
	class    string
	name     string
	from, to int  // in points
	closed   bool // is an area
	shore    bool // the sea's
	area     int  // of which it is a part, one more; 0 for none
	inner    bool // of that, a side towards a hole
}

// area is made of several ways.
type area struct {
	layer       tiles.Layer
	class, name string
}

// part tells of which area a way is a part.
type part struct {
	area  int
	inner bool
}

// housed is a house that is a way: it is where the middle between two corners is.
type housed struct {
	house   addresses.NumberedHouse
	corners [2]int64
}

// drawn reads what something is on the map by its tags.
func drawn(tags osm.Tags) (layer tiles.Layer, class string, ok bool) {
	natural, use, leisure, waterway := tags.Find("natural"), tags.Find("landuse"), tags.Find("leisure"), tags.Find("waterway")
	switch {
	case natural == "water", waterway == "riverbank", use == "reservoir", use == "basin":
		return tiles.Water, "", true
	case waterway == "river", waterway == "canal":
		return tiles.Rivers, "river", true
	case waterway == "stream":
		return tiles.Rivers, "stream", true
	case natural == "wood", use == "forest":
		return tiles.Ground, "wood", true
	case natural == "beach", natural == "sand":
		return tiles.Ground, "sand", true
	case slices.Contains([]string{"residential", "industrial", "commercial", "retail", "port"}, use):
		return tiles.Ground, "town", true
	case slices.Contains([]string{"grass", "meadow", "recreation_ground", "cemetery", "allotments", "village_green"}, use),
		slices.Contains([]string{"park", "garden", "golf_course", "pitch"}, leisure):
		return tiles.Ground, "green", true
	}
	if b := tags.Find("building"); b != "" && b != "no" {
		return tiles.Buildings, "", true
	}
	return "", "", false
}

// mapName is a name as the map shows it.
func mapName(tags osm.Tags) string { return short(tags.Find("name")) }

// longestName is how much of a name is kept, in characters.
const longestName = 100

func short(s string) string {
	if len(s) <= longestName {
		return s
	}
	r := []rune(s)
	return string(r[:min(len(r), longestName)])
}

// outline takes a way that is drawn, or that is a house.
func (e *reading) outline(w *osm.Way) {
	first, last := w.Nodes[0].ID, w.Nodes[len(w.Nodes)-1].ID
	if h, ok := house(w.Tags); ok {
		e.houses = append(e.houses, housed{h, [2]int64{int64(first), int64(w.Nodes[len(w.Nodes)/2].ID)}})
	}
	add := func(o outline) {
		o.from = len(e.points)
		for _, n := range w.Nodes {
			e.points = append(e.points, int64(n.ID))
		}
		o.to = len(e.points)
		e.shapes = append(e.shapes, o)
	}
	if w.Tags.Find("natural") == "coastline" {
		add(outline{shore: true})
	}
	for _, p := range e.parts[w.ID] {
		add(outline{area: p.area + 1, inner: p.inner})
	}
	if layer, class, ok := drawn(w.Tags); ok && (layer != tiles.Buildings || e.buildings) {
		closed := first == last && len(w.Nodes) > 3
		if closed != (layer == tiles.Rivers) {
			add(outline{layer: layer, class: class, name: mapName(w.Tags), closed: closed})
		}
	}
}

// area takes a relation that is an area on the map.
func (e *reading) area(r *osm.Relation) {
	if r.Tags.Find("type") != "multipolygon" {
		return
	}
	layer, class, ok := drawn(r.Tags)
	if !ok || layer == tiles.Rivers || layer == tiles.Buildings && !e.buildings {
		return
	}
	for _, m := range r.Members {
		if m.Type == osm.TypeWay {
			id := osm.WayID(m.Ref)
			e.parts[id] = append(e.parts[id], part{len(e.areas), m.Role == "inner"})
		}
	}
	e.areas = append(e.areas, area{layer, class, mapName(r.Tags)})
}

// placed are the places that are shown and looked up, by what the extract calls them.
var placed = map[string]string{"city": "city", "town": "town", "village": "village", "hamlet": "hamlet", "suburb": "hamlet",
	"quarter": "hamlet", "neighbourhood": "hamlet", "island": "hamlet", "islet": "hamlet", "locality": "hamlet",
	"isolated_dwelling": "hamlet", "farm": "hamlet"}

// called takes a node that is a place or a house.
func (e *reading) called(tags osm.Tags, at records.Point) {
	if class := placed[tags.Find("place")]; class != "" && tags.Find("name") != "" {
		name := mapName(tags)
		e.ground.Features = append(e.ground.Features, tiles.Feature{Layer: tiles.Places, Class: class, Name: name,
			Shape: orb.Point{at.Lon, at.Lat}})
		e.book.Places = append(e.book.Places, addresses.NamedPlace{Name: name, Class: class, At: at})
	}
	if h, ok := house(tags); ok {
		h.At = at
		e.book.Houses = append(e.book.Houses, h)
	}
}

// house reads the address of a house. Where there are no streets it is by the place.
func house(tags osm.Tags) (addresses.NumberedHouse, bool) {
	h := addresses.NumberedHouse{Street: tags.Find("addr:street"), Number: tags.Find("addr:housenumber"), City: tags.Find("addr:city"),
		Post: tags.Find("addr:postcode")}
	if h.Street == "" {
		h.Street = tags.Find("addr:place")
	}
	h.Street, h.City = short(h.Street), short(h.City)
	return h, h.Number != "" && h.Street != ""
}

// line gives where some nodes are; false when one of them is not in the extract.
func (e *reading) line(nodes []int64) (orb.LineString, bool) {
	out := make(orb.LineString, 0, len(nodes))
	for _, ref := range nodes {
		i, ok := slices.BinarySearch(e.nodes, ref)
		if !ok || !e.found[i] {
			return out, false
		}
		out = append(out, orb.Point{e.at[i].Lon, e.at[i].Lat})
	}
	return out, true
}

// draw gathers what is on the map.
func (e *reading) draw(r *roads.Region) {
	e.ground.Source = r.Source
	outer, inner := make([][]orb.LineString, len(e.areas)), make([][]orb.LineString, len(e.areas))
	for _, o := range e.shapes {
		l, whole := e.line(e.points[o.from:o.to])
		switch {
		case o.shore:
			if len(l) > 1 {
				e.ground.Shores = append(e.ground.Shores, l)
			}
		case !whole: // it goes on outside
		case o.area > 0 && o.inner:
			inner[o.area-1] = append(inner[o.area-1], l)
		case o.area > 0:
			outer[o.area-1] = append(outer[o.area-1], l)
		case o.closed:
			e.add(area{o.layer, o.class, o.name}, orb.Polygon{orb.Ring(l)})
		default:
			e.add(area{o.layer, o.class, o.name}, l)
		}
	}
	for i, a := range e.areas {
		var polygons orb.MultiPolygon
		for _, ring := range rings(outer[i]) {
			polygons = append(polygons, orb.Polygon{ring})
		}
		for _, hole := range rings(inner[i]) {
			for k, p := range polygons {
				if planar.RingContains(p[0], hole[0]) {
					polygons[k] = append(polygons[k], hole)
					break
				}
			}
		}
		for _, p := range polygons {
			e.add(a, p)
		}
	}
	for _, h := range e.houses {
		if l, whole := e.line(h.corners[:]); whole {
			h.house.At = records.Point{Lat: (l[0][1] + l[1][1]) / 2, Lon: (l[0][0] + l[1][0]) / 2}
			e.book.Houses = append(e.book.Houses, h.house)
		}
	}
	r.Lines(func(class roads.Class, name string, line []records.Point) {
		l := make(orb.LineString, len(line))
		for i, p := range line {
			l[i] = orb.Point{p.Lon, p.Lat}
		}
		e.add(area{tiles.Roads, string(class), name}, l)
	})
}

func (e *reading) add(a area, shape orb.Geometry) {
	e.ground.Features = append(e.ground.Features, tiles.Feature{Layer: a.layer, Class: a.class, Name: a.name, Shape: shape})
}

// rings joins lines, and gives those that close.
func rings(lines []orb.LineString) (out []orb.Ring) {
	for _, l := range tiles.Join(lines, true) {
		if ring := orb.Ring(l); ring.Closed() && len(ring) > 3 {
			out = append(out, ring)
		}
	}
	return out
}
