package api_test

import (
	"net/http"
	"net/url"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"iter.example/iter/core/ledger"
	"iter.example/iter/core/ledger/ledgertest"
	"iter.example/iter/core/work"
	"iter.example/iter/server/api"
)

// A gap tells what fits into it: what waits, and what is planned later; nothing while somebody is at work, or of whom nobody knows.
func TestGap(t *testing.T) {
	p, d, _ := drafting(t)
	m := ledgertest.NewMaker("R3", 13)
	on := p.now.AddDate(0, 0, 1)
	for _, e := range []ledger.Entry{
		m.Entry("office", "work.opened", "workorder", "WL", work.Order{Number: "5002", Customer: "C1", Site: "S1", Problem: "Later",
			Priority: work.Normal, Minutes: 60}),
		m.Entry("office", "visit.planned", "visit", "VA", ledger.Plan{Order: "W1", Technician: "ann", Start: on.Add(4 * time.Hour), Minutes: 60}),
		m.Entry("office", "visit.planned", "visit", "VL", ledger.Plan{Order: "WL", Technician: "ben", Start: on.AddDate(0, 0, 2), Minutes: 60}),
	} {
		p.writes(t, e)
	}
	ask := func(person string, at time.Time) *http.Response {
		return d.get("/api/office/gap?" + url.Values{"person": {person}, "at": {at.Format(time.RFC3339)}}.Encode())
	}
	gap := read[api.Gap](t, ask("ann", on.Add(time.Hour)))
	require.False(t, gap.From.IsZero())
	assert.True(t, gap.To.Equal(on.Add(4*time.Hour)), "until the next begins")
	found := map[string]string{}
	for _, l := range gap.Lines {
		found[l.Order.ID] = l.Visit
	}
	assert.Equal(t, map[string]string{"WL": "VL"}, found, "WX was promised for today: tomorrow is too late for it")
	busy := read[api.Gap](t, ask("ann", on.Add(4*time.Hour+30*time.Minute)))
	assert.True(t, busy.From.Equal(on.Add(5*time.Hour)), "once they are free")
	over := read[api.Gap](t, ask("ann", p.now.AddDate(0, 0, -1)))
	assert.True(t, over.From.IsZero())
	assert.Equal(t, "record.unknown", problem(t, ask("nobody", on), http.StatusNotFound))
	assert.Equal(t, http.StatusBadRequest, d.get("/api/office/gap?person=ann&at=soon").StatusCode)
	assert.Equal(t, http.StatusForbidden, p.client("a-reviewer").get("/api/office/gap?person=ann").StatusCode)
}
