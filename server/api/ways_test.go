package api_test

import (
	"encoding/json"
	"io"
	"path/filepath"
	"testing"
	"time"

	"github.com/paulmach/orb"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"iter.example/iter/core/records"
	"iter.example/iter/core/roads"
	"iter.example/iter/server/addresses"
	"iter.example/iter/server/api"
	"iter.example/iter/server/extract"
	"iter.example/iter/server/region"
	"iter.example/iter/server/tiles"
)

// bringRegion gives a firm a region: a road from the site of the visit to another place, with its map and addresses.
func bringRegion(t *testing.T, p *program) []records.Point {
	t.Helper()
	var b roads.Builder
	from, to := b.Junction(), b.Junction()
	line := []records.Point{{Lat: 50.1, Lon: -5.2}, {Lat: 50.1, Lon: -5.1}}
	_, err := b.Add(roads.Stretch{From: from, To: to, Line: line, Name: "Shore road", Class: roads.Main, There: time.Hour, Back: time.Hour})
	require.NoError(t, err)
	built, err := b.Build(nil)
	require.NoError(t, err)
	place := tiles.Feature{Layer: tiles.Places, Class: "city", Name: "Slipton", Shape: orb.Point{-5.2, 50.1}}
	slip := addresses.NamedStreet{Name: "Slip Lane", At: line[0]}
	require.NoError(t, region.Put(t.Context(), filepath.Dir(p.store.Path()), p.now, &extract.Region{Roads: built,
		Map:       tiles.Map{Source: "Made up", Features: []tiles.Feature{place}},
		Addresses: addresses.Region{Streets: []addresses.NamedStreet{slip}}}, nil))
	return line
}

// A phone is told the ways between its person's places once, and again when the places or the roads are others.
func TestWaysAreTold(t *testing.T) {
	p := start(t)
	ann, desk := p.client("ann"), p.client("a-dispatcher")
	assert.Nil(t, read[api.WaysAnswer](t, ann.get("/api/ways")).Ways, "the firm has no roads")
	assert.Equal(t, 403, desk.get("/api/ways").StatusCode)
	assert.Empty(t, read[api.RegionMap](t, desk.get("/api/map")).Rev, "and no map")
	assert.False(t, read[api.AddressAnswer](t, desk.get("/api/office/addresses?text=slip+lane")).Known)

	line := bringRegion(t, p)
	require.Equal(t, 200, p.client("a-administrator").does("record.amended", "person", "ann",
		map[string]any{"home": line[1]}).StatusCode)
	p.now = p.now.Add(time.Minute)
	told := read[api.WaysAnswer](t, ann.get("/api/ways"))
	require.NotNil(t, told.Ways)
	way := told.Ways.Ways(line[1], line[0])[0]
	require.NotNil(t, way, "from home to the site of the visit")
	assert.Equal(t, 3600, way.Seconds)
	again := read[api.WaysAnswer](t, ann.get("/api/ways?rev="+told.Ways.Rev))
	assert.True(t, again.Same)
	assert.Nil(t, again.Ways)

	// The map and the addresses came with the roads.
	about := read[api.RegionMap](t, ann.get("/api/map"))
	assert.Equal(t, "Made up", about.Source)
	assert.WithinDuration(t, p.now, about.At, 2*time.Minute)
	tile := "/api/map/" + about.Rev + "/3/3/2"
	res := ann.get(tile)
	assert.Equal(t, 200, res.StatusCode)
	assert.Contains(t, res.Header.Get("Cache-Control"), "immutable")
	raw, err := io.ReadAll(res.Body)
	require.NoError(t, err)
	assert.Contains(t, string(raw), "Slipton")
	assert.Equal(t, 204, ann.get("/api/map/"+about.Rev+"/3/0/0").StatusCode, "nothing is to be seen there")
	assert.Equal(t, 404, ann.get("/api/map/another/3/3/2").StatusCode)
	assert.Equal(t, 404, ann.get("/api/map/"+about.Rev+"/x/3/2").StatusCode)
	assert.Equal(t, 401, p.client("").get(tile).StatusCode)
	found := read[api.AddressAnswer](t, desk.get("/api/office/addresses?text=slip+lane"))
	assert.True(t, found.Known)
	require.Len(t, found.Found, 1)
	assert.Equal(t, line[0], found.Found[0].At)
	assert.Equal(t, 403, ann.get("/api/office/addresses?text=slip+lane").StatusCode)
}

// A day of the board as GeoJSON has the visits, and the ways between them.
func TestDayGeoJSON(t *testing.T) {
	p := start(t)
	ann, desk := p.client("ann"), p.client("a-dispatcher")
	line := bringRegion(t, p)
	require.Equal(t, 200, p.client("a-administrator").does("record.amended", "person", "ann", map[string]any{"home": line[1]}).StatusCode)
	res := desk.get("/api/office/day.geojson?date=" + p.now.Format(time.DateOnly))
	assert.Equal(t, "application/geo+json", res.Header.Get("Content-Type"))
	day := read[struct {
		Features []struct {
			ID       string
			Geometry *struct {
				Type        string
				Coordinates json.RawMessage
			}
			Properties map[string]any
		}
	}](t, res)
	require.Len(t, day.Features, 2)
	assert.Equal(t, "V1", day.Features[0].ID)
	assert.Equal(t, "Point", day.Features[0].Geometry.Type)
	assert.JSONEq(t, "[-5.2, 50.1]", string(day.Features[0].Geometry.Coordinates))
	assert.Equal(t, "LineString", day.Features[1].Geometry.Type)
	assert.InDelta(t, 3600, day.Features[1].Properties["seconds"], 1)
	assert.Equal(t, 403, ann.get("/api/office/day.geojson").StatusCode)
	assert.Equal(t, 400, desk.get("/api/office/day.geojson?date=soon").StatusCode)
	require.Equal(t, 200, desk.does("record.amended", "site", "S1", map[string]any{"lat": nil, "lon": nil}).StatusCode)
	raw, err := io.ReadAll(desk.get("/api/office/day.geojson").Body)
	require.NoError(t, err)
	assert.Contains(t, string(raw), `"geometry":null`, "nobody knows where it is any more")
}
