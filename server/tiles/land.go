package tiles

import (
	"github.com/paulmach/orb"
	"github.com/paulmach/orb/clip/smartclip"
	"github.com/paulmach/orb/planar"
)

// land is what lies to the left of shores within a box. A shore that ends inside the box, where an extract does, goes on straight to the
// nearest side of it.
func land(box orb.Bound, shores []orb.LineString) orb.MultiPolygon {
	var open orb.Polygon
	var islands, inland []orb.Ring
	for _, line := range Join(shores, false) {
		ring := orb.Ring(line)
		switch {
		case !ring.Closed():
			open = append(open, outwards(box, ring))
		case ring.Orientation() == orb.CCW:
			islands = append(islands, ring)
		default:
			inland = append(inland, ring)
		}
	}
	out := smartclip.Polygon(box, open, orb.CCW)
	for _, ring := range islands {
		out = append(out, orb.Polygon{ring})
	}
	if len(out) == 0 {
		out = orb.MultiPolygon{box.ToPolygon()} // the only sea is inland
	}
	for _, ring := range inland {
		for i, p := range out {
			if planar.RingContains(p[0], ring[0]) {
				out[i] = append(out[i], ring)
				break
			}
		}
	}
	return out
}

// outwards has both ends of a line lie outside a box.
func outwards(box orb.Bound, line orb.Ring) orb.Ring {
	if first := line[0]; box.Contains(first) {
		line = append(orb.Ring{beyond(box, first)}, line...)
	}
	if last := line[len(line)-1]; box.Contains(last) {
		line = append(line, beyond(box, last))
	}
	return line
}

// beyond is the point beyond the side of a box that is nearest to a point within.
func beyond(box orb.Bound, p orb.Point) orb.Point {
	off := 0.01 * max(box.Right()-box.Left(), box.Top()-box.Bottom())
	out, nearest := orb.Point{box.Left() - off, p[1]}, p[0]-box.Left()
	if d := box.Right() - p[0]; d < nearest {
		out, nearest = orb.Point{box.Right() + off, p[1]}, d
	}
	if d := p[1] - box.Bottom(); d < nearest {
		out, nearest = orb.Point{p[0], box.Bottom() - off}, d
	}
	if d := box.Top() - p[1]; d < nearest {
		out = orb.Point{p[0], box.Top() + off}
	}
	return out
}
