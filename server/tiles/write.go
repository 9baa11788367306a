package tiles

import (
	"bufio"
	"bytes"
	"cmp"
	"compress/gzip"
	"context"
	"crypto/sha256"
	"encoding/binary"
	"encoding/json"
	"errors"
	"io"
	"math"
	"os"
	"slices"

	"github.com/paulmach/orb"
	"github.com/paulmach/orb/clip"
	"github.com/paulmach/orb/encoding/mvt"
	"github.com/paulmach/orb/geojson"
	"github.com/paulmach/orb/project"
	"github.com/paulmach/orb/simplify"
)

const (
	// extent is how many units a side of a tile has, and buffer how many of them a tile reaches over its side.
	extent = 4096
	buffer = 128
	// smallest is how many units across an area has at least to be drawn, and off how far a line may be from what it stands for.
	smallest = 8
	off      = 2
)

// shape is a feature in the world's square: from 0 to 1, eastwards and southwards (Web Mercator).
type shape struct {
	Feature
	least int
	bound orb.Bound
}

// tile is a square of the map: of the 2^z by 2^z that the world is cut into at a zoom.
type tile struct {
	z    int
	x, y uint32
}

// box is the tile with what it reaches over its sides.
func (t tile) box() orb.Bound {
	side := 1 / math.Exp2(float64(t.z))
	over := side * buffer / extent
	return orb.Bound{Min: orb.Point{float64(t.x)*side - over, float64(t.y)*side - over},
		Max: orb.Point{float64(t.x+1)*side + over, float64(t.y+1)*side + over}}
}

// Write writes a map's tiles to an archive, and gives how many they are. Progress is told what part of the map is done.
func Write(ctx context.Context, path string, m Map, progress func(part float64)) (n int, err error) {
	data, err := os.CreateTemp("", "iter-tiles-")
	if err != nil {
		return 0, err
	}
	defer os.Remove(data.Name())
	defer func() { err = errors.Join(err, data.Close()) }()
	w := &writing{ctx: ctx, to: bufio.NewWriterSize(data, 1<<20), known: map[[sha256.Size]byte]entry{}, progress: progress,
		packer: gzip.NewWriter(io.Discard)}
	shapes, bound := w.shapes(m)
	if len(shapes) == 0 {
		return 0, errors.New("tiles: there is nothing to draw")
	}
	if err := w.cut(tile{}, shapes, 1); err != nil {
		return 0, err
	}
	if err := w.to.Flush(); err != nil {
		return 0, err
	}
	return len(w.entries), w.archive(path, data, m, bound)
}

type writing struct {
	ctx      context.Context
	to       *bufio.Writer
	at       uint64 // bytes written
	entries  []entry
	known    map[[sha256.Size]byte]entry // what was written, by its sum: much of the sea looks alike
	packer   *gzip.Writer                // one for all: a new one takes longer than a tile
	packed   bytes.Buffer
	progress func(part float64)
	done     float64
}

// square projects degrees east and north to the world's square.
func square(p orb.Point) orb.Point {
	lat := min(max(p[1], -85), 85) * math.Pi / 180
	return orb.Point{(p[0] + 180) / 360, (1 - math.Asinh(math.Tan(lat))/math.Pi) / 2}
}

// shapes are the map's features, the land among them, and roads of a name as one; and where all of it is, in degrees.
func (w *writing) shapes(m Map) (out []shape, bound orb.Bound) {
	bound = orb.Bound{Min: orb.Point{1, 1}, Max: orb.Point{-1, -1}} // empty
	widen := func(g orb.Geometry) {
		if b := g.Bound(); bound.IsEmpty() {
			bound = b
		} else {
			bound = bound.Union(b)
		}
	}
	type road struct{ class, name string }
	stretches := map[road][]orb.LineString{}
	var order []road
	features := make([]Feature, 0, len(m.Features))
	for _, f := range m.Features {
		widen(f.Shape)
		line, is := f.Shape.(orb.LineString)
		if f.Layer != Roads || !is {
			features = append(features, f)
			continue
		}
		r := road{f.Class, f.Name}
		if stretches[r] == nil {
			order = append(order, r)
		}
		stretches[r] = append(stretches[r], line)
	}
	for _, r := range order {
		for _, line := range Join(stretches[r], true) {
			features = append(features, Feature{Layer: Roads, Class: r.class, Name: r.name, Shape: line})
		}
	}
	for _, s := range m.Shores {
		widen(s)
	}
	if len(m.Shores) > 0 {
		for _, p := range land(bound.Pad(0.05*max(bound.Right()-bound.Left(), bound.Top()-bound.Bottom())), m.Shores) {
			features = append(features, Feature{Layer: Land, Shape: p})
		}
	}
	for _, f := range features {
		f.Shape = project.Geometry(f.Shape, square)
		out = append(out, shape{f, leastZoom(f.Layer, f.Class), f.Shape.Bound()})
	}
	return out, bound
}

// cut makes a tile and those within it. It does the given part of all that there is to do.
func (w *writing) cut(t tile, from []shape, part float64) error {
	if err := w.ctx.Err(); err != nil {
		return err
	}
	box := t.box()
	var inside []shape
	for _, s := range from {
		switch {
		case !box.Intersects(s.bound):
			continue
		case !box.Contains(s.bound.Min) || !box.Contains(s.bound.Max):
			if s.Shape = clip.Geometry(box, orb.Clone(s.Shape)); s.Shape == nil {
				continue
			}
			s.bound = s.Shape.Bound()
		}
		inside = append(inside, s)
	}
	if len(inside) > 0 && t.z >= minZoom {
		if err := w.put(t, inside); err != nil {
			return err
		}
	}
	if len(inside) == 0 || t.z == maxZoom {
		if w.done += part; w.progress != nil {
			w.progress(w.done)
		}
		return nil
	}
	for i := range uint32(4) {
		if err := w.cut(tile{t.z + 1, 2*t.x + i%2, 2*t.y + i/2}, inside, part/4); err != nil {
			return err
		}
	}
	return nil
}

// put writes a tile, unless nothing is to be seen on it.
func (w *writing) put(t tile, shapes []shape) error {
	raw, err := encode(t, shapes)
	if err != nil || raw == nil {
		return err
	}
	number, sum := numberOf(t.z, t.x, t.y), sha256.Sum256(raw)
	e, known := w.known[sum]
	if !known {
		w.packed.Reset()
		w.packer.Reset(&w.packed)
		_, err := w.packer.Write(raw)
		if err := errors.Join(err, w.packer.Close()); err != nil {
			return err
		}
		n, err := w.to.Write(w.packed.Bytes())
		if err != nil {
			return err
		}
		e = entry{at: w.at, size: uint32(n), run: 1}
		w.known[sum], w.at = e, w.at+uint64(n)
	}
	e.number = number
	w.entries = append(w.entries, e)
	return nil
}

// encode makes a tile; nil when nothing is to be seen on it.
func encode(t tile, shapes []shape) ([]byte, error) {
	of := map[Layer]*mvt.Layer{}
	scale := math.Exp2(float64(t.z)) * extent
	onto := func(p orb.Point) orb.Point {
		return orb.Point{math.Round(p[0]*scale - float64(t.x)*extent), math.Round(p[1]*scale - float64(t.y)*extent)}
	}
	coarse := simplify.DouglasPeucker(off)
	for _, s := range shapes {
		if t.z < s.least || s.Layer != Land && s.Shape.Dimensions() == 2 &&
			max(s.bound.Right()-s.bound.Left(), s.bound.Top()-s.bound.Bottom())*scale < smallest {
			continue
		}
		g := project.Geometry(orb.Clone(s.Shape), onto)
		if t.z < maxZoom {
			g = coarse.Simplify(g)
		}
		if g = sound(g); g == nil {
			continue
		}
		f := geojson.NewFeature(g)
		if s.Class != "" {
			f.Properties["class"] = s.Class
		}
		if s.Name != "" {
			f.Properties["name"] = s.Name
		}
		if of[s.Layer] == nil {
			of[s.Layer] = &mvt.Layer{Name: string(s.Layer), Version: 2, Extent: extent}
		}
		of[s.Layer].Features = append(of[s.Layer].Features, f)
	}
	var out mvt.Layers
	for _, l := range layers {
		if of[l] != nil {
			out = append(out, of[l])
		}
	}
	if out == nil {
		return nil, nil
	}
	return mvt.Marshal(out)
}

// sound leaves out what is nothing any more, and has rings turn as the specification wants it: outer ones to the right on the screen.
func sound(g orb.Geometry) orb.Geometry {
	switch g := g.(type) {
	case orb.LineString:
		if g = slices.Compact(g); len(g) > 1 {
			return g
		}
	case orb.MultiLineString:
		var out orb.MultiLineString
		for _, l := range g {
			if l = slices.Compact(l); len(l) > 1 {
				out = append(out, l)
			}
		}
		if len(out) > 0 {
			return out
		}
	case orb.Polygon:
		var out orb.Polygon
		for i, r := range g {
			if r = slices.Compact(r); len(r) < 4 || r.Orientation() == 0 {
				if i == 0 {
					return nil
				}
				continue
			}
			// y grows downwards: what turns left by its numbers turns right on the screen.
			if (r.Orientation() == orb.CCW) != (i == 0) {
				r.Reverse()
			}
			out = append(out, r)
		}
		return out
	case orb.MultiPolygon:
		var out orb.MultiPolygon
		for _, p := range g {
			if p, ok := sound(p).(orb.Polygon); ok {
				out = append(out, p)
			}
		}
		if len(out) > 0 {
			return out
		}
	case orb.Point:
		return g
	}
	return nil
}

// archive writes the archive of the tiles that data holds.
func (w *writing) archive(path string, data io.ReadSeeker, m Map, bound orb.Bound) error {
	slices.SortFunc(w.entries, func(a, b entry) int { return cmp.Compare(a.number, b.number) })
	root, leaves, err := directories(w.entries)
	if err != nil {
		return err
	}
	raw, err := json.Marshal(metadata{Attribution: m.Source, Sea: len(m.Shores) > 0, Layers: vectorLayers()})
	if err != nil {
		return err
	}
	about, err := pack(raw)
	if err != nil {
		return err
	}
	e7 := func(degrees float64) int32 { return int32(math.Round(degrees * 1e7)) }
	middle := bound.Center()
	h := head{Magic: magic, Version: version, RootAt: headSize, RootSize: uint64(len(root)), AboutSize: uint64(len(about)),
		LeavesSize: uint64(len(leaves)), TilesSize: w.at, Addressed: uint64(len(w.entries)), Entries: uint64(len(w.entries)),
		Contents: uint64(len(w.known)), Packed: byGzip, TilesPacked: byGzip, Type: vector, Least: minZoom, Most: maxZoom,
		West: e7(bound.Left()), South: e7(bound.Bottom()), East: e7(bound.Right()), North: e7(bound.Top()),
		CenterZoom: maxZoom - 3, CenterLon: e7(middle.Lon()), CenterLat: e7(middle.Lat())}
	h.AboutAt = h.RootAt + h.RootSize
	h.LeavesAt = h.AboutAt + h.AboutSize
	h.TilesAt = h.LeavesAt + h.LeavesSize
	first, err := binary.Append(nil, binary.LittleEndian, h)
	if err != nil {
		return err
	}
	if _, err := data.Seek(0, io.SeekStart); err != nil {
		return err
	}
	out, err := os.Create(path)
	if err != nil {
		return err
	}
	_, err = io.Copy(out, io.MultiReader(bytes.NewReader(slices.Concat(first, root, about, leaves)), data))
	return errors.Join(err, out.Sync(), out.Close())
}

// metadata is what an archive says of itself.
type metadata struct {
	Attribution string        `json:"attribution"`
	Sea         bool          `json:"sea"`
	Layers      []vectorLayer `json:"vector_layers"`
}

// vectorLayer is a layer as the specification wants it named, with its fields.
type vectorLayer struct {
	ID     string            `json:"id"`
	Fields map[string]string `json:"fields"`
}

func vectorLayers() (out []vectorLayer) {
	for _, l := range layers {
		out = append(out, vectorLayer{string(l), map[string]string{"class": "String", "name": "String"}})
	}
	return out
}
