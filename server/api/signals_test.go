package api_test

import (
	"encoding/json"
	"net/http"
	"strings"
	"testing"

	"github.com/shopspring/decimal"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"iter.example/iter/core/ledger"
	"iter.example/iter/core/ledger/ledgertest"
	"iter.example/iter/core/reading"
	"iter.example/iter/core/records"
	"iter.example/iter/core/signal"
	"iter.example/iter/server/api"
	"iter.example/iter/server/signals"
)

// Signals come in by a source's key, which administrators make and end; a machine's page has what it reported, and Waiting what is wrong.
func TestSignals(t *testing.T) {
	p, d, _ := drafting(t)
	m := ledgertest.NewMaker("R4", 14)
	limit := records.AssetKind{Name: "Booster set", Points: []reading.Point{{ID: "discharge", Name: "Discharge", Unit: "bar"}}}
	for _, e := range []ledger.Entry{
		m.Entry("office", "record.created", "assetkind", "pump", limit),
		m.Entry("office", "record.created", "asset", "AP", records.Asset{Site: "S1", Name: "Pump 3", Kind: "pump", Serial: "SN 3"}),
		m.Entry("office", "record.created", "signalrules", "pump", signal.Rules{Rules: []signal.Rule{{ID: "low", Point: "discharge",
			When: signal.Below, Limit: new(decimal.NewFromInt(2)), Do: signal.Attend, Text: "Pressure is low"}}}),
	} {
		p.writes(t, e)
	}
	admin := p.client("a-administrator")
	asked := api.SourceAsked{Name: "Controller", Sites: []string{"S1"}}
	assert.Equal(t, http.StatusForbidden, d.post("/api/office/signals/sources", asked).StatusCode)
	assert.NotEqual(t, 200, admin.post("/api/office/signals/sources", api.SourceAsked{Name: "Nowhere"}).StatusCode)
	made := read[api.SourceMade](t, admin.post("/api/office/signals/sources", asked))
	nobody := p.client("")
	send := func(key, body string) *http.Response {
		return nobody.send(http.MethodPost, "/api/signals", strings.NewReader(body), "Authorization", "Bearer "+key, "Content-Type",
			"application/json")
	}
	assert.Equal(t, "signal.key", problem(t, send("no key", "[]"), http.StatusUnauthorized))
	for _, wrong := range []string{"", "{", "[1]", `{"value": 1}`, `[{"machine": "AP", "value": "many"}]`} {
		assert.Equal(t, http.StatusBadRequest, send(made.Key, wrong).StatusCode, wrong)
	}
	one := read[signals.Answer](t, send(made.Key, `{"machine": "SN 3", "point": "discharge", "value": 1.5}`))
	assert.Equal(t, 1, one.Taken)
	several := read[signals.Answer](t, send(made.Key, `[{"machine": "AP", "point": "discharge", "value": "0.0018", "unit": "kbar",
		"at": "2020-01-01T00:00:00Z"}, {"machine": "A1", "point": "none", "value": 1}]`))
	assert.Len(t, several.Refused, 2)
	page := read[api.MachineSignals](t, d.get("/api/office/signals/machines/AP"))
	require.Len(t, page.Latest, 1)
	assert.Equal(t, "1.5", page.Latest[0].Value.Value.String())
	require.Len(t, page.Incidents, 1)
	assert.Equal(t, "Pressure is low", page.Incidents[0].Rule.Text)
	waits := func() int {
		for _, g := range read[[]api.WaitingGroup](t, d.get("/api/office/home")) {
			if g.Name == api.ToHear {
				return g.Count
			}
		}
		return 0
	}
	assert.Equal(t, 1, waits())
	require.Equal(t, 200, p.client("a-dispatcher").does("incident.handled", "incident", page.Incidents[0].ID,
		ledger.IncidentHandled{Note: "A valve was shut"}).StatusCode)
	assert.Zero(t, waits())
	all := read[api.Signals](t, d.get("/api/office/signals"))
	require.Len(t, all.Heard, 1)
	assert.Equal(t, 1, all.Heard[0].Open)
	require.Len(t, all.Sources, 1)

	big, err := json.Marshal(make([]signals.Signal, signals.MostAtOnce+1))
	require.NoError(t, err)
	assert.Equal(t, "signal.many", problem(t, send(made.Key, string(big)), http.StatusRequestEntityTooLarge))
	many, err := json.Marshal(make([]signals.Signal, signals.MostAtOnce))
	require.NoError(t, err)
	for range 4 {
		assert.Equal(t, http.StatusOK, send(made.Key, string(many)).StatusCode)
	}
	res := send(made.Key, string(many))
	assert.Equal(t, "signal.flood", problem(t, res, http.StatusTooManyRequests), "a flood is slowed down")
	assert.Equal(t, "1", res.Header.Get("Retry-After"))
	assert.Equal(t, http.StatusNoContent, admin.post("/api/office/signals/sources/"+made.ID+"/end", nil).StatusCode)
	assert.Equal(t, http.StatusUnauthorized, send(made.Key, "[]").StatusCode)
}
