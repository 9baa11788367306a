package ways_test

import (
	"encoding/json"
	"fmt"
	"math"
	"net/http"
	"net/http/httptest"
	"strconv"
	"strings"
	"sync/atomic"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"iter.example/iter/core/records"
	"iter.example/iter/core/roads"
	"iter.example/iter/server/ways"
)

const fine = `{"code":"Ok","waypoints":[{"distance":20},{"distance":5}],"routes":[{"duration":600,"distance":8000,"legs":[{"steps":[
	{"name":"Shore road","mode":"driving","duration":400,"distance":6000,"geometry":{"coordinates":[[-5,50],[-4.95,50]]}},
	{"name":"Sound ferry","mode":"ferry","duration":200,"distance":2000,"geometry":{"coordinates":[[-4.95,50],[-4.9,50]]}},
	{"name":"","mode":"driving","duration":0,"distance":0,"geometry":{"coordinates":[[-4.9,50]]}}]}]}]}`

// routingServer stands for one that the firm runs: it answers what it is told to, and counts.
func routingServer(t *testing.T, answer *atomic.Value) (*ways.Roads, *atomic.Int32) {
	asked := &atomic.Int32{}
	srv := httptest.NewServer(http.HandlerFunc(func(w http.ResponseWriter, req *http.Request) {
		asked.Add(1)
		assert.True(t, strings.HasPrefix(req.URL.Path, "/route/v1/driving/-"), req.URL.Path)
		assert.Equal(t, "true", req.URL.Query().Get("steps"))
		fmt.Fprint(w, answer.Load())
	}))
	t.Cleanup(srv.Close)
	remote, err := ways.NewRemote(srv.URL + "/")
	require.NoError(t, err)
	return ways.Open(t.TempDir(), remote), asked
}

var between = ways.Stops{Days: [][]records.Point{{west, east}}}

// A routing server's ways are as good as those of the firm's own roads, and are asked for once.
func TestARoutingServerIsAsked(t *testing.T) {
	var answer atomic.Value
	answer.Store(fine)
	r, asked := routingServer(t, &answer)
	now := time.Now()
	a, err := r.Answers(ctx, now, between)
	require.NoError(t, err)
	way := a.Ways(west, east)[0]
	require.NotNil(t, way)
	assert.Equal(t, []int{605, 200, 8025}, []int{way.Seconds, way.Ferry, way.Metres}, "with what lies between the places and their roads")
	assert.Equal(t, []roads.Part{{Name: "Shore road", Class: roads.Main, Metres: 6000, Seconds: 400},
		{Name: "Sound ferry", Class: roads.Ferry, Metres: 2000, Seconds: 200}}, way.Parts)
	assert.Equal(t, west, way.Line[0])
	_, err = r.Answers(ctx, now, ways.Stops{Always: []records.Point{west}, Days: [][]records.Point{{east}}})
	require.NoError(t, err)
	assert.EqualValues(t, 2, asked.Load(), "there and back, each once")
	assert.Contains(t, a.Source, "http://")
}

// Whatever a routing server answers, nothing is guessed, and what can't be a way is none.
func TestARoutingServerAnswersNonsense(t *testing.T) {
	for name, c := range map[string]struct{ answer, code string }{
		"no way":            {`{"code":"NoRoute"}`, ""},
		"no road":           {`{"code":"NoSegment"}`, ""},
		"far from a road":   {strings.Replace(fine, `"distance":20`, `"distance":20000`, 1), ""},
		"no answer":         {``, "roads.server_nonsense"},
		"a page":            {`<html>It works!</html>`, "roads.server_nonsense"},
		"another code":      {`{"code":"InvalidQuery"}`, "roads.server_nonsense"},
		"no routes":         {`{"code":"Ok","routes":[]}`, "roads.server_nonsense"},
		"back in time":      {strings.Replace(fine, "600", "-600", 1), "roads.server_nonsense"},
		"longer than earth": {strings.Replace(fine, "8000", "8e12", 1), "roads.server_nonsense"},
		"off the earth":     {strings.Replace(fine, "[-4.95,50]", "[-4.95,5000]", 1), "roads.server_nonsense"},
		"words for numbers": {strings.Replace(fine, "600", `"soon"`, 1), "roads.server_nonsense"},
	} {
		var answer atomic.Value
		answer.Store(c.answer)
		r, _ := routingServer(t, &answer)
		a, err := r.Answers(ctx, time.Now(), between)
		if c.code != "" {
			assert.ErrorContains(t, err, c.code, name)
			continue
		}
		require.NoError(t, err, name)
		assert.Nil(t, a.Ways(west, east)[0], name)
	}
}

// A server that is down is said to be, is left alone for a while, and asked again after it.
func TestARoutingServerIsDown(t *testing.T) {
	var answer atomic.Value
	answer.Store("")
	r, asked := routingServer(t, &answer)
	now := time.Now()
	_, err := r.Answers(ctx, now, between)
	assert.ErrorContains(t, err, "roads.server_nonsense")
	was := asked.Load()
	_, err = r.Answers(ctx, now.Add(time.Second), between)
	assert.ErrorContains(t, err, "roads.server_down")
	assert.Equal(t, was, asked.Load())
	answer.Store(fine)
	a, err := r.Answers(ctx, now.Add(time.Minute), between)
	require.NoError(t, err)
	assert.NotNil(t, a.Ways(west, east)[0])

	for _, address := range []string{"", "routing", "ftp://127.0.0.1", "http://"} {
		_, err := ways.NewRemote(address)
		assert.Error(t, err, address)
	}
	gone, err := ways.NewRemote("http://127.0.0.1:1")
	require.NoError(t, err)
	_, err = ways.Open(t.TempDir(), gone).Answers(ctx, now, between)
	assert.ErrorContains(t, err, "roads.server_down")
}

// A table is asked for in blocks, whole or not at all, and remembered.
func TestARoutingServerGivesATable(t *testing.T) {
	var places []records.Point
	for i := range 60 {
		places = append(places, records.Point{Lat: 50, Lon: -5 + float64(i)/100})
	}
	var asked atomic.Int32
	broken := atomic.Bool{}
	srv := httptest.NewServer(http.HandlerFunc(func(w http.ResponseWriter, req *http.Request) {
		asked.Add(1)
		if broken.Load() {
			fmt.Fprint(w, `{"code":"Ok","durations":[[1]]}`)
			return
		}
		points := strings.Split(strings.TrimPrefix(req.URL.Path, "/table/v1/driving/"), ";")
		list := func(name string) []string {
			_, rest, _ := strings.Cut(req.URL.RawQuery, name+"=")
			rest, _, _ = strings.Cut(rest, "&")
			return strings.Split(rest, ";")
		}
		from, to := list("sources"), list("destinations")
		lon := func(i string) float64 {
			k, _ := strconv.Atoi(i)
			v, err := strconv.ParseFloat(strings.Split(points[k], ",")[0], 64)
			assert.NoError(t, err)
			return v
		}
		rows := make([][]float64, len(from))
		for i, f := range from {
			for _, d := range to {
				rows[i] = append(rows[i], math.Abs(lon(f)-lon(d))*1000)
			}
		}
		assert.NoError(t, json.NewEncoder(w).Encode(map[string]any{"code": "Ok", "durations": rows}))
	}))
	defer srv.Close()
	remote, err := ways.NewRemote(srv.URL)
	require.NoError(t, err)
	r, now := ways.Open(t.TempDir(), remote), time.Now()
	table, rev, err := r.Table(ctx, now, places)
	require.NoError(t, err)
	seconds, known := table.Seconds(3, 57)
	assert.True(t, known)
	assert.Equal(t, 540, seconds)
	assert.EqualValues(t, 4, asked.Load())
	_, again, err := r.Table(ctx, now, places)
	require.NoError(t, err)
	assert.Equal(t, rev, again)
	assert.EqualValues(t, 4, asked.Load(), "it is remembered")

	broken.Store(true)
	_, _, err = r.Table(ctx, now, places[:5])
	assert.ErrorContains(t, err, "roads.server_nonsense")
	_, _, err = r.Table(ctx, now, places[:5])
	assert.ErrorContains(t, err, "roads.server_down", "and left alone for a while")
}
