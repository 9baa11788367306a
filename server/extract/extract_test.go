package extract_test

import (
	"bytes"
	"context"
	"os"
	"os/exec"
	"path/filepath"
	"slices"
	"testing"
	"time"

	"github.com/paulmach/orb"
	"github.com/paulmach/osm"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"iter.example/iter/core/records"
	"iter.example/iter/core/roads"
	"iter.example/iter/server/extract"
	"iter.example/iter/server/tiles"
)

var ctx = context.Background()

func read(t *testing.T, path string) (*extract.Region, extract.Told, error) {
	f, err := os.Open(path)
	require.NoError(t, err)
	defer f.Close()
	return extract.Read(ctx, f, true, nil)
}

// The same town as text, and in the packed form as a tool of others' wrote it.
func TestATownIsRead(t *testing.T) {
	for _, file := range []string{"town.osm", "town.osm.pbf"} {
		whole, told, err := read(t, filepath.Join("testdata", file))
		require.NoError(t, err, file)
		assert.Equal(t, extract.Told{Ways: 11, Stretches: 11, Turns: 1, TurnsOverWays: 1, TurnsByHour: 1, WaysCut: 1, Places: 2, Houses: 4}, told,
			file)
		r := whole.Roads
		place := func(lat, lon float64) roads.Place {
			p, ok := r.Snap(records.Point{Lat: lat, Lon: lon})
			require.True(t, ok)
			return p
		}
		west, north, bridge := place(50, -4.999), place(50.008, -4.99), place(50.016, -4.985)
		south, far, behind := place(49.992, -4.99), place(50.002, -4.899), place(50, -4.955)
		names := func(from, to roads.Place) (out []string) {
			way, ok := r.Way(from, to)
			if !ok {
				return []string{"none"}
			}
			for _, p := range way.Parts {
				out = append(out, p.Name)
			}
			return out
		}
		assert.Equal(t, []string{"Slip Lane", "Shore road"}, names(north, west), "right, out of the lane")
		assert.Equal(t, []string{"Shore road", "Slip Lane"}, names(west, south), "right, into it")
		way, _ := r.Way(west, north)
		assert.Equal(t, []string{"Shore road", "Slip Lane"}, names(west, north))
		assert.Greater(t, way.Metres, 2700, "no left turn: to the next junction, and back")
		assert.Equal(t, []string{"none"}, names(west, bridge), "what goes over a road does not join it")
		assert.Equal(t, []string{"none"}, names(west, behind), "nobody drives past a bollard")
		over, _ := r.Way(west, far)
		assert.Equal(t, []string{"Shore road", "Sound ferry", "Far Quay"}, names(west, far))
		assert.InDelta(t, 43*60, over.Ferry, 1, "as long as it says, and waited for")
		assert.Equal(t, []string{"Chapel Street", "Shore road", "Slip Lane"}, names(place(50.009, -4.98), north), "against no one-way street")
	}
	r, _, err := read(t, "testdata/town.osm")
	require.NoError(t, err)
	assert.Equal(t, "Made up for tests", r.Roads.Source)
	assert.Equal(t, "Made up for tests", r.Map.Source)
	r, _, err = read(t, "testdata/town.osm.pbf")
	require.NoError(t, err)
	assert.Contains(t, r.Roads.Source, "ODbL")
}

// What is on the map, and which addresses there are: areas of several ways with what is left out of them, shores, houses that are
// buildings.
func TestATownIsDrawn(t *testing.T) {
	for _, file := range []string{"town.osm", "town.osm.pbf"} {
		r, _, err := read(t, filepath.Join("testdata", file))
		require.NoError(t, err)
		of := map[tiles.Layer][]tiles.Feature{}
		for _, f := range r.Map.Features {
			of[f.Layer] = append(of[f.Layer], f)
		}
		require.Len(t, of[tiles.Ground], 1, file)
		wood, is := of[tiles.Ground][0].Shape.(orb.Polygon)
		require.True(t, is)
		assert.Equal(t, "wood", of[tiles.Ground][0].Class)
		assert.Len(t, wood, 2, "with a clearing")
		assert.Len(t, of[tiles.Buildings], 1)
		assert.Len(t, of[tiles.Roads], 11)
		require.Len(t, of[tiles.Places], 2)
		assert.Equal(t, "Slipton", of[tiles.Places][0].Name)
		assert.Len(t, r.Map.Shores, 3)
		assert.ElementsMatch(t, []string{"2", "10", "5a", "14"}, slices.Collect(func(yield func(string) bool) {
			for _, h := range r.Addresses.Houses {
				if !yield(h.Number) {
					return
				}
			}
		}))
		last := r.Addresses.Houses[len(r.Addresses.Houses)-1]
		assert.Equal(t, "14", last.Number)
		assert.InDelta(t, 50.00805, last.At.Lat, 1e-6, "the middle of the building")
		assert.InDelta(t, -4.9895, last.At.Lon, 1e-6)
	}
	f, err := os.Open("testdata/town.osm")
	require.NoError(t, err)
	defer f.Close()
	r, _, err := extract.Read(ctx, f, false, nil)
	require.NoError(t, err)
	for _, f := range r.Map.Features {
		assert.NotEqual(t, tiles.Buildings, f.Layer, "they were not wanted")
	}
}

// What can't be read is said in words, with nothing half made.
func TestBrokenExtracts(t *testing.T) {
	whole, err := os.ReadFile("testdata/town.osm.pbf")
	require.NoError(t, err)
	for name, c := range map[string]struct {
		body []byte
		want string
	}{
		"empty":                {nil, "roads."},
		"cut":                  {whole[:len(whole)/2], "roads.extract"},
		"something else":       {[]byte("%PDF-1.7 this is a manual"), "roads.extract"},
		"a table":              {[]byte("name,address\nQuill Dairy,2 Slip Lane\n"), "roads.extract"},
		"text cut":             {[]byte(`<osm version="0.6"><node id="1" lat="1" lon="2"/><way id="1"><nd ref="1`), "roads.extract"},
		"without any road":     {[]byte(`<osm version="0.6"><node id="1" version="1" lat="1" lon="2"/></osm>`), "roads.none"},
		"roads without points": {[]byte(`<osm><way id="1"><nd ref="1"/><nd ref="2"/><tag k="highway" v="primary"/></way></osm>`), "roads.none"},
	} {
		_, _, err := extract.Read(ctx, bytes.NewReader(c.body), false, nil)
		assert.ErrorContains(t, err, c.want, name)
	}
	stopped, stop := context.WithCancel(ctx)
	stop()
	_, _, err = extract.Read(stopped, bytes.NewReader(whole), false, nil)
	assert.ErrorIs(t, err, context.Canceled)
}

func tags(pairs ...string) (out osm.Tags) {
	for i := 0; i < len(pairs); i += 2 {
		out = append(out, osm.Tag{Key: pairs[i], Value: pairs[i+1]})
	}
	return out
}

// How ways are driven, by their tags.
func TestHowWaysAreDriven(t *testing.T) {
	for _, c := range []struct {
		tags        osm.Tags
		class       roads.Class // "" is not to be driven
		there, back float64     // km/h
	}{
		{tags("highway", "residential"), roads.Street, 28, 28},
		{tags("highway", "motorway"), roads.Motorway, 105, 0},
		{tags("highway", "motorway", "oneway", "no"), roads.Motorway, 105, 105},
		{tags("highway", "tertiary", "junction", "roundabout"), roads.Lane, 50, 0},
		{tags("highway", "primary", "oneway", "-1"), roads.Main, 0, 70},
		{tags("highway", "primary", "maxspeed", "50"), roads.Main, 45, 45},
		{tags("highway", "primary", "maxspeed", "30 mph"), roads.Main, 43.45, 43.45},
		{tags("highway", "primary", "maxspeed:forward", "50"), roads.Main, 45, 70},
		{tags("highway", "residential", "maxspeed", "100"), roads.Street, 36.4, 36.4},
		{tags("highway", "service", "maxspeed", "50"), roads.Street, 18, 18},
		{tags("highway", "primary", "maxspeed", "signals"), roads.Main, 70, 70},
		{tags("highway", "service", "access", "private"), roads.Street, 3.6, 3.6},
		{tags("highway", "residential", "access", "no"), "", 0, 0},
		{tags("highway", "residential", "access", "no", "motor_vehicle", "yes"), roads.Street, 28, 28},
		{tags("highway", "residential", "vehicle", "agricultural"), "", 0, 0},
		{tags("highway", "track", "tracktype", "grade2"), roads.Track, 12, 12},
		{tags("highway", "track", "tracktype", "grade5"), "", 0, 0},
		{tags("highway", "primary", "oneway", "reversible"), "", 0, 0},
		{tags("highway", "service", "area", "yes"), "", 0, 0},
		{tags("highway", "footway"), "", 0, 0}, {tags("building", "yes"), "", 0, 0},
		{tags("route", "ferry"), roads.Ferry, 18, 18}, {tags("route", "ferry", "motor_vehicle", "no"), "", 0, 0},
		{tags("route", "ferry", "passenger", "only"), "", 0, 0},
	} {
		class, there, back := extract.Driven(c.tags)
		assert.Equal(t, c.class, class, c.tags)
		assert.InDeltaSlice(t, []float64{c.there, c.back}, []float64{there, back}, 0.01, c.tags)
	}
	for text, want := range map[string]time.Duration{"35": 35 * time.Minute, "1:20": 80 * time.Minute, "0:05:30": 330 * time.Second,
		"PT1H20M": 80 * time.Minute, "soon": 0, "-5": 0, "1:2:3:4": 0, "900000": 0, "": 0} {
		d, _ := extract.Duration(text)
		assert.Equal(t, want, d, text)
	}
}

// A tool of others' reads a text, that of the demo's coast too, and what it packs of that is read the same. It is run where it is
// installed.
func TestThroughAnotherTool(t *testing.T) {
	tool, err := exec.LookPath("osmium")
	if err != nil {
		t.Skip("osmium-tool is not installed")
	}
	for _, text := range []string{"testdata/town.osm", "../demo/coast.osm"} {
		path := filepath.Join(t.TempDir(), "packed.osm.pbf")
		out, err := exec.Command(tool, "sort", text, "-o", path).CombinedOutput()
		require.NoError(t, err, string(out))
		packed, told, err := read(t, path)
		require.NoError(t, err)
		was, want, err := read(t, text)
		require.NoError(t, err)
		assert.Equal(t, want, told, text)
		assert.Len(t, packed.Map.Features, len(was.Map.Features))
		assert.Len(t, packed.Map.Shores, len(was.Map.Shores))
	}
}
