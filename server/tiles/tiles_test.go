package tiles_test

import (
	"context"
	"fmt"
	"math/rand"
	"os"
	"path/filepath"
	"testing"

	"github.com/paulmach/orb"
	"github.com/paulmach/orb/encoding/mvt"
	"github.com/paulmach/orb/maptile"
	"github.com/paulmach/orb/planar"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"iter.example/iter/server/tiles"
)

var ctx = context.Background()

func written(t *testing.T, m tiles.Map) *tiles.Archive {
	path := filepath.Join(t.TempDir(), "map.pmtiles")
	n, err := tiles.Write(ctx, path, m, nil)
	require.NoError(t, err)
	require.Positive(t, n)
	a, err := tiles.Open(path)
	require.NoError(t, err)
	t.Cleanup(func() { _ = a.Close() })
	return a
}

// shown reads the tile that a point is on, in degrees.
func shown(t *testing.T, a *tiles.Archive, zoom int, lon, lat float64) mvt.Layers {
	at := maptile.At(orb.Point{lon, lat}, maptile.Zoom(zoom))
	raw, err := a.Tile(zoom, int(at.X), int(at.Y))
	require.NoError(t, err)
	if raw == nil {
		return nil
	}
	out, err := mvt.UnmarshalGzipped(raw)
	require.NoError(t, err)
	out.ProjectToWGS84(at)
	return out
}

// classes lists what is on a layer of a tile, by class.
func classes(list mvt.Layers, layer tiles.Layer) (out []string) {
	for _, l := range list {
		if l.Name == string(layer) {
			for _, f := range l.Features {
				class, _ := f.Properties["class"].(string)
				out = append(out, class)
			}
		}
	}
	return out
}

// inside tells whether a point is in an area of a layer.
func inside(list mvt.Layers, layer tiles.Layer, lon, lat float64) bool {
	for _, l := range list {
		for _, f := range l.Features {
			if l.Name != string(layer) {
				continue
			}
			switch g := f.Geometry.(type) {
			case orb.Polygon:
				if planar.PolygonContains(g, orb.Point{lon, lat}) {
					return true
				}
			case orb.MultiPolygon:
				if planar.MultiPolygonContains(g, orb.Point{lon, lat}) {
					return true
				}
			}
		}
	}
	return false
}

func square(west, south, east, north float64) orb.Ring {
	return orb.Ring{{west, south}, {east, south}, {east, north}, {west, north}, {west, south}}
}

// What is drawn of a town at each zoom, on the tiles that it is on.
func TestATownOnTiles(t *testing.T) {
	a := written(t, tiles.Map{Source: "Made up", Features: []tiles.Feature{
		{Layer: tiles.Roads, Class: "main", Name: "Shore road", Shape: orb.LineString{{-5, 50}, {-4.99, 50.001}}},
		{Layer: tiles.Roads, Class: "main", Name: "Shore road", Shape: orb.LineString{{-4.98, 50}, {-4.99, 50.001}}},
		{Layer: tiles.Roads, Class: "street", Name: "Slip Lane", Shape: orb.LineString{{-4.99, 50.001}, {-4.99, 50.003}}},
		{Layer: tiles.Ground, Class: "wood", Shape: orb.Polygon{square(-5.02, 50.01, -5, 50.02), square(-5.012, 50.013, -5.008, 50.017)}},
		{Layer: tiles.Buildings, Shape: orb.Polygon{square(-4.9902, 50.0015, -4.99, 50.0016)}},
		{Layer: tiles.Places, Class: "town", Name: "Slipton", Shape: orb.Point{-4.99, 50.002}},
	}})
	assert.Equal(t, "Made up", a.About.Source)
	assert.False(t, a.About.Sea)
	assert.InDeltaSlice(t, []float64{-5.02, 50, -4.98, 50.02}, []float64{a.About.West, a.About.South, a.About.East, a.About.North}, 1e-6)
	near, far := shown(t, a, a.About.Most, -4.99, 50.002), shown(t, a, 8, -4.99, 50.002)
	assert.Equal(t, []string{"main", "street"}, classes(near, tiles.Roads), "stretches of a road are one")
	assert.Equal(t, []string{"main"}, classes(far, tiles.Roads))
	assert.Equal(t, []string{"town"}, classes(near, tiles.Places))
	assert.Len(t, classes(near, tiles.Buildings), 1)
	assert.Empty(t, classes(far, tiles.Buildings))
	wood := shown(t, a, a.About.Most, -5.015, 50.015)
	assert.True(t, inside(wood, tiles.Ground, -5.015, 50.015))
	assert.False(t, inside(wood, tiles.Ground, -5.01, 50.015), "a clearing")
	assert.False(t, inside(wood, tiles.Ground, -5.03, 50.015))
	assert.Nil(t, shown(t, a, a.About.Most, 5, 52), "nothing is there")
	for _, bad := range [][3]int{{-1, 0, 0}, {40, 0, 0}, {5, -1, 0}, {5, 32, 0}} {
		raw, err := a.Tile(bad[0], bad[1], bad[2])
		assert.NoError(t, err)
		assert.Nil(t, raw)
	}
}

// Where the sea is: by shores that are cut where the extract ends, islands, and water inland.
func TestTheSea(t *testing.T) {
	road := tiles.Feature{Layer: tiles.Roads, Class: "main", Shape: orb.LineString{{-5, 50.01}, {-4.9, 50.05}}}
	island := square(-4.97, 49.97, -4.95, 49.98)
	harbour := square(-4.94, 50.02, -4.93, 50.03)
	harbour.Reverse()
	for name, c := range map[string]struct {
		shores    []orb.LineString
		land, sea [][2]float64
	}{
		"a shore in two ways": {[]orb.LineString{{{-4.95, 50}, {-4.85, 50}}, {{-5.05, 50}, {-4.95, 50}}},
			[][2]float64{{-4.95, 50.03}}, [][2]float64{{-4.95, 49.999}}},
		"one that ends within": {[]orb.LineString{{{-4.995, 50}, {-4.905, 50}}}, [][2]float64{{-4.95, 50.03}}, [][2]float64{{-4.95, 49.999}}},
		"an island": {[]orb.LineString{orb.LineString(island), {{-5.05, 50}, {-4.85, 50}}},
			[][2]float64{{-4.96, 49.975}, {-4.95, 50.03}}, [][2]float64{{-4.92, 49.975}}},
		"only islands":   {[]orb.LineString{orb.LineString(island)}, [][2]float64{{-4.96, 49.975}}, [][2]float64{{-4.92, 50.03}}},
		"a harbour":      {[]orb.LineString{orb.LineString(harbour)}, [][2]float64{{-4.96, 50.03}}, [][2]float64{{-4.935, 50.025}}},
		"land all round": {nil, nil, nil},
	} {
		a := written(t, tiles.Map{Features: []tiles.Feature{{road.Layer, road.Class, "", orb.Clone(road.Shape)}}, Shores: c.shores})
		assert.Equal(t, c.shores != nil, a.About.Sea, name)
		for _, zoom := range []int{9, 11, a.About.Most} {
			for _, p := range c.land {
				assert.True(t, inside(shown(t, a, zoom, p[0], p[1]), tiles.Land, p[0], p[1]), "%s: land at %v, zoom %d", name, p, zoom)
			}
			for _, p := range c.sea {
				assert.False(t, inside(shown(t, a, zoom, p[0], p[1]), tiles.Land, p[0], p[1]), "%s: sea at %v, zoom %d", name, p, zoom)
			}
		}
	}
}

// Lines that were cut anywhere are whole again, and none is lost.
func TestLinesAreJoined(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		var pieces []orb.LineString
		total := 0.0
		turned := rapid.Bool().Draw(t, "turned")
		lines := rapid.IntRange(1, 4).Draw(t, "lines")
		for i := range lines {
			var line orb.LineString
			for k := range rapid.IntRange(2, 9).Draw(t, "points") {
				line = append(line, orb.Point{float64(k), float64(10 * i)})
			}
			total += planar.Length(line)
			for len(line) > 2 && rapid.Bool().Draw(t, "cut") {
				at := rapid.IntRange(1, len(line)-2).Draw(t, "at")
				pieces = append(pieces, line[:at+1:at+1])
				line = line[at:]
			}
			pieces = append(pieces, line)
		}
		for i := range pieces {
			pieces[i] = pieces[i].Clone()
			if turned && rapid.Bool().Draw(t, "backwards") {
				pieces[i].Reverse()
			}
		}
		rand.New(rand.NewSource(rapid.Int64().Draw(t, "order"))).Shuffle(len(pieces), func(i, j int) {
			pieces[i], pieces[j] = pieces[j], pieces[i]
		})
		out := tiles.Join(pieces, turned)
		assert.Len(t, out, lines)
		length := 0.0
		for _, l := range out {
			length += planar.Length(l)
		}
		assert.InDelta(t, total, length, 1e-9)
	})
}

// What is no archive, or cut, is refused; nothing can be drawn of nothing.
func TestBrokenArchives(t *testing.T) {
	dir := t.TempDir()
	path := filepath.Join(dir, "map.pmtiles")
	city := tiles.Map{Features: []tiles.Feature{{Layer: tiles.Places, Class: "city", Shape: orb.Point{1, 2}}}}
	_, err := tiles.Write(ctx, path, tiles.Map{}, nil)
	require.Error(t, err)
	assert.NoFileExists(t, path)
	_, err = tiles.Write(ctx, path, city, nil)
	require.NoError(t, err)
	whole, err := os.ReadFile(path)
	require.NoError(t, err)
	for name, raw := range map[string][]byte{"empty": nil, "cut": whole[:len(whole)-1], "head alone": whole[:100],
		"something else": append([]byte("SQLite format 3"), whole[15:]...)} {
		require.NoError(t, os.WriteFile(path, raw, 0o600))
		_, err = tiles.Open(path)
		assert.Error(t, err, name)
	}
	stopped, stop := context.WithCancel(ctx)
	stop()
	_, err = tiles.Write(stopped, path, city, nil)
	assert.ErrorIs(t, err, context.Canceled)
}

// Numbers of tiles, as the specification has them; each has its own.
func TestNumbersOfTiles(t *testing.T) {
	for _, c := range []struct {
		z    int
		x, y uint32
		want uint64
	}{{0, 0, 0, 0}, {1, 0, 0, 1}, {1, 0, 1, 2}, {1, 1, 1, 3}, {1, 1, 0, 4}, {2, 0, 0, 5}, {12, 3423, 1763, 19078479}} {
		assert.Equal(t, c.want, tiles.NumberOf(c.z, c.x, c.y), c)
	}
	seen := map[uint64]bool{}
	for x := range uint32(32) {
		for y := range uint32(32) {
			n := tiles.NumberOf(5, x, y)
			assert.False(t, seen[n])
			assert.True(t, n >= 341 && n < 1365)
			seen[n] = true
		}
	}
}

// A directory is read as it was written, whatever is in it.
func TestDirectories(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		var list []tiles.Entry
		number := uint64(0)
		for i := range rapid.IntRange(0, 40).Draw(t, "entries") {
			number += rapid.Uint64Range(min(uint64(i), 1), 1<<40).Draw(t, "number")
			e := tiles.Entry{Number: number, At: rapid.Uint64Range(0, 1<<40).Draw(t, "at"), Size: rapid.Uint32().Draw(t, "size"),
				Run: rapid.Uint32Range(0, 9).Draw(t, "run")}
			if i > 0 && rapid.Bool().Draw(t, "follows") {
				e.At = list[i-1].At + uint64(list[i-1].Size)
			}
			list = append(list, e)
		}
		back, err := tiles.Directory(list)
		assert.NoError(t, err)
		assert.Equal(t, list, back)
	})
}

func FuzzReadDirectory(f *testing.F) {
	f.Add([]byte("\x1f\x8b\x08"))
	f.Fuzz(func(_ *testing.T, raw []byte) { _ = tiles.ReadDirectory(raw) })
}

// With so many tiles that the first directory has only others, each is still found.
func TestManyTiles(t *testing.T) {
	var m tiles.Map
	for lon := -5.0; lon < -3; lon += 0.02 {
		for lat := 50.0; lat < 51; lat += 0.015 {
			m.Features = append(m.Features, tiles.Feature{Layer: tiles.Places, Class: "town", Name: fmt.Sprintf("%.2f %.3f", lon, lat),
				Shape: orb.Point{lon, lat}})
		}
	}
	a := written(t, m)
	for _, f := range m.Features {
		p := f.Shape.(orb.Point) //nolint:forcetypeassert // it was made above
		found := shown(t, a, a.About.Most, p.Lon(), p.Lat())
		require.Len(t, found, 1, f.Name)
	}
}
