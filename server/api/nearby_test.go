package api_test

import (
	"net/http"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"iter.example/iter/core/ledger/ledgertest"
	"iter.example/iter/core/work"
	"iter.example/iter/server/api"
)

// A technician with time left sees what waits and fits into the day, without what they can't do or somebody else must come along for. They
// take it once, where the company lets them.
func TestWorkNearby(t *testing.T) {
	p, d, date := drafting(t)
	m := ledgertest.NewMaker("R4", 14)
	for id, o := range map[string]work.Order{"WN": {Minutes: 30}, "WC": {Minutes: 30, Crew: 2}, "WS": {Minutes: 30, Skills: []string{"crane"}},
		"WL": {Minutes: 24 * 60}} {
		o.Customer, o.Site, o.Problem, o.Priority, o.Number = "C1", "S1", "Hums", work.Normal, "7"+id
		p.writes(t, m.Entry("office", "work.opened", "workorder", id, o))
	}
	ben := p.client("ben")
	lines := func() (ids []string, take bool) {
		n := read[api.Nearby](t, ben.get("/api/nearby"))
		for _, l := range n.Lines {
			assert.False(t, l.Start.Before(p.now.Truncate(time.Minute)))
			ids = append(ids, l.ID)
		}
		return ids, n.Take
	}
	ids, take := lines()
	assert.Contains(t, ids, "WN")
	assert.NotContains(t, ids, "WC", "it takes two")
	assert.NotContains(t, ids, "WS", "it takes a skill")
	assert.False(t, take)
	takes := func(id string) *http.Response { return ben.post("/api/nearby", api.NearbyTaken{Order: id}) }
	assert.Equal(t, "nearby.gone", problem(t, takes("WN"), http.StatusConflict), "the company does not let them")
	require.Equal(t, 200, p.client("a-administrator").does("settings.changed", "settings", "visits",
		ledgertest.Changed("visits", map[string]any{"nearby": true})).StatusCode)
	assert.Equal(t, "nearby.gone", problem(t, takes("WS"), http.StatusConflict))
	assert.Equal(t, http.StatusNoContent, takes("WN").StatusCode)
	assert.Equal(t, http.StatusNoContent, takes("WN").StatusCode, "pressed again, since the answer was lost")
	assert.Equal(t, "nearby.gone", problem(t, p.client("ann").post("/api/nearby", api.NearbyTaken{Order: "WN"}), http.StatusConflict),
		"somebody else is too late")
	visits, waits := d.boardVisits("date=" + date)
	assert.NotContains(t, waits, "WN")
	assert.Len(t, visits["ben"], 1, "once")
	assert.Equal(t, http.StatusForbidden, d.get("/api/nearby").StatusCode)
}
