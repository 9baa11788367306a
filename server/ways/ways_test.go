package ways_test

import (
	"context"
	"os"
	"path/filepath"
	"testing"
	"time"

	"github.com/paulmach/orb"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"iter.example/iter/core/records"
	"iter.example/iter/core/roads"
	"iter.example/iter/server/extract"
	"iter.example/iter/server/region"
	"iter.example/iter/server/store"
	"iter.example/iter/server/tiles"
	"iter.example/iter/server/ways"
)

var ctx = context.Background()

// road is a region of one road that takes so long.
func road(t *testing.T, takes time.Duration) *roads.Region {
	var b roads.Builder
	from, to := b.Junction(), b.Junction()
	_, err := b.Add(roads.Stretch{From: from, To: to, Line: []records.Point{west, east}, Name: "Shore road", Class: roads.Main, There: takes,
		Back: takes})
	require.NoError(t, err)
	r, err := b.Build(nil)
	require.NoError(t, err)
	return r
}

// bring brings a region with these roads alone.
func bring(t *testing.T, dir string, at time.Time, r *roads.Region) {
	place := tiles.Feature{Layer: tiles.Places, Class: "town", Shape: orb.Point{-5, 50}}
	require.NoError(t, region.Put(ctx, dir, at, &extract.Region{Roads: r, Map: tiles.Map{Features: []tiles.Feature{place}}}, nil))
}

var west, east = records.Point{Lat: 50, Lon: -5}, records.Point{Lat: 50, Lon: -4.9}

// Roads are there once they are brought, others take their place while the program runs, and what can't be read takes nobody's.
func TestRoadsAreBrought(t *testing.T) {
	dir := t.TempDir()
	r, now := ways.Open(dir, nil), time.Now()
	stops := ways.Stops{Always: []records.Point{west}, Days: [][]records.Point{{east}, {{Lat: 50, Lon: -4.95}}}}
	a, err := r.Answers(ctx, now, stops)
	require.NoError(t, err)
	assert.Nil(t, a, "no roads yet")

	bring(t, dir, now, road(t, time.Hour))
	now = now.Add(time.Minute)
	a, err = r.Answers(ctx, now, stops)
	require.NoError(t, err)
	assert.Equal(t, 3600, a.Ways(west, east)[0].Seconds)
	assert.Nil(t, a.Ways(east, records.Point{Lat: 50, Lon: -4.95})[0], "nobody goes from a stop of one day to one of another")
	assert.NotNil(t, a.Ways(records.Point{Lat: 50, Lon: -4.95}, west)[0])
	van := records.Point{Lat: 50, Lon: -4.97}
	stops.Others = []records.Point{van}
	others, err := r.Answers(ctx, now, stops)
	require.NoError(t, err)
	assert.NotNil(t, others.Ways(east, van)[0], "from today's stops to a van that has a part")
	assert.Nil(t, others.Ways(van, east)[0])
	assert.Nil(t, others.Ways(records.Point{Lat: 50, Lon: -4.95}, van)[0], "tomorrow it is elsewhere")
	stops.Others = nil
	again, err := r.Answers(ctx, now, stops)
	require.NoError(t, err)
	assert.Equal(t, a.Rev, again.Rev)

	bring(t, dir, now, road(t, 2*time.Hour))
	now = now.Add(time.Minute)
	again, err = r.Answers(ctx, now, stops)
	require.NoError(t, err)
	assert.NotEqual(t, a.Rev, again.Rev)
	assert.Equal(t, 7200, again.Ways(west, east)[0].Seconds)

	require.NoError(t, store.PutRegion(dir, now.Add(time.Hour), func(dir string) error {
		return os.WriteFile(filepath.Join(dir, store.RoadsFile), []byte("broken"), 0o600)
	}))
	_, err = r.Region()
	assert.ErrorContains(t, err, "roads.unreadable")
	kept, err := r.Region()
	require.NoError(t, err)
	assert.NotNil(t, kept, "the old roads stay")
}

// Of more stops than ways can be worked out for at once, those of the days that come first have theirs, and the phone is told of the
// others.
func TestMoreStopsThanWays(t *testing.T) {
	dir, now := t.TempDir(), time.Now()
	bring(t, dir, now, road(t, time.Hour))
	stops := ways.Stops{Always: []records.Point{west}}
	at := func(day, n int) records.Point { return records.Point{Lat: 50, Lon: -5 + float64(1+day*30+n)/10_000} }
	for day := range 5 {
		stops.Days = append(stops.Days, nil)
		for n := range 30 {
			stops.Days[day] = append(stops.Days[day], at(day, n))
		}
	}
	a, err := ways.Open(dir, nil).Answers(ctx, now.Add(time.Minute), stops)
	require.NoError(t, err)
	assert.LessOrEqual(t, len(a.Known), 4000)
	assert.NotNil(t, a.Ways(at(0, 29), at(0, 0))[0])
	assert.NotNil(t, a.Ways(at(3, 29), west)[0], "more than 60 places, over days")
	assert.Nil(t, a.Ways(at(4, 29), west)[0])
	assert.Equal(t, 1+5*30, len(a.Places)+len(a.Left), "none is dropped without a word")
	assert.Contains(t, a.Left, at(4, 29))
}

// A table has what the roads have; places far from every road are gone to by nobody.
func TestATableOfWays(t *testing.T) {
	dir := t.TempDir()
	r, now := ways.Open(dir, nil), time.Now()
	table, rev, err := r.Table(ctx, now, []records.Point{west, east})
	require.NoError(t, err)
	assert.Empty(t, rev)
	_, known := table.Seconds(0, 1)
	assert.False(t, known, "no roads yet")

	bring(t, dir, now, road(t, time.Hour))
	far := records.Point{Lat: 55, Lon: -5}
	table, rev, err = r.Table(ctx, now.Add(time.Minute), []records.Point{west, far, east})
	require.NoError(t, err)
	same, err := r.TableRev(now.Add(time.Minute), []records.Point{west, far, east})
	require.NoError(t, err)
	assert.Equal(t, rev, same)
	seconds, known := table.Seconds(0, 2)
	assert.True(t, known)
	assert.Equal(t, 3600, seconds)
	_, known = table.Seconds(0, 1)
	assert.False(t, known)
}
