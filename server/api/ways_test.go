package api_test

import (
	"path/filepath"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"iter.example/iter/core/records"
	"iter.example/iter/core/roads"
	"iter.example/iter/server/api"
	"iter.example/iter/server/ways"
)

// A phone is told the ways between its person's places once, and again when the places or the roads are others.
func TestWaysAreTold(t *testing.T) {
	p := start(t)
	ann, desk := p.client("ann"), p.client("a-dispatcher")
	assert.Nil(t, read[api.WaysAnswer](t, ann.get("/api/ways")).Ways, "the firm has no roads")
	assert.Equal(t, 403, desk.get("/api/ways").StatusCode)

	var b roads.Builder
	from, to := b.Junction(), b.Junction()
	line := []records.Point{{Lat: 50.1, Lon: -5.2}, {Lat: 50.1, Lon: -5.1}}
	_, err := b.Add(roads.Stretch{From: from, To: to, Line: line, Name: "Shore road", Class: roads.Main, There: time.Hour, Back: time.Hour})
	require.NoError(t, err)
	region, err := b.Build(nil)
	require.NoError(t, err)
	require.NoError(t, ways.Put(filepath.Dir(p.store.Path()), region))
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
}
