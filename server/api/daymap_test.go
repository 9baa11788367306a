package api_test

import (
	"net/http"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"iter.example/iter/core/ledger"
	"iter.example/iter/core/ledger/ledgertest"
	"iter.example/iter/core/work"
	"iter.example/iter/server/api"
)

// A day's map has people where they tapped last, and tells of what nobody knows the place of.
func TestDayMap(t *testing.T) {
	p, d, date := drafting(t)
	m := ledgertest.NewMaker("R5", 15)
	before := read[api.DayMap](t, d.get("/api/office/daymap?date="+date))
	assert.Empty(t, before.People)
	require.NotEmpty(t, before.Waiting)
	p.writes(t, m.Entry("office", "record.amended", "site", "S1", map[string]any{"lat": nil, "lon": nil}))
	assert.Positive(t, read[api.DayMap](t, d.get("/api/office/daymap?date="+date)).Lost, "the site has no place")
	m.Wait(time.Minute)
	set := m.Entry("ann", "visit.set_off", "visit", "V1", ledger.Step{Where: &work.Where{Lat: 54.1, Lon: -8.1, Accuracy: 12}})
	m.Wait(time.Minute)
	p.writes(t, set)
	p.writes(t, m.Entry("ann", "visit.arrived", "visit", "V1", ledger.Step{Where: &work.Where{Lat: 54.2, Lon: -8.2, Accuracy: 30}}))
	p.writes(t, m.Entry("office", "record.amended", "site", "S1", map[string]any{"lat": 54.25, "lon": -8.25}))
	now := read[api.DayMap](t, d.get("/api/office/daymap?date="+date))
	require.Len(t, now.People, 1)
	assert.Equal(t, "ann", now.People[0].Person)
	assert.InDelta(t, 54.2, now.People[0].At.Lat, 1e-9)
	assert.Zero(t, now.Lost)
	require.NotEmpty(t, now.Waiting)
	require.NotEmpty(t, now.Stops)
	tomorrow := read[api.DayMap](t, d.get("/api/office/daymap?date="+p.now.AddDate(0, 0, 1).Format(time.DateOnly)))
	assert.Empty(t, tomorrow.People, "where they are matters today")
	assert.Equal(t, http.StatusBadRequest, d.get("/api/office/daymap?date=soon").StatusCode)
}
