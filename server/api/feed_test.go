package api_test

import (
	"io"
	"net/http"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"iter.example/iter/core/calendar"
	"iter.example/iter/core/ledger"
	"iter.example/iter/core/ledger/ledgertest"
	"iter.example/iter/core/records"
	"iter.example/iter/server/api"
	"iter.example/iter/server/store"
)

// A plan is read by its secret address alone: what was sent and when somebody is off, until a new address is made, it is ended, or they
// work in the field no more.
func TestAPlanIsReadByItsAddress(t *testing.T) {
	p := start(t)
	p.now = ledgertest.Start
	m := ledgertest.NewMaker("R", 11)
	visit := func(id string, days int) {
		p.writes(t, m.Entry("office", "visit.planned", "visit", id, ledger.Plan{Order: "W1", Technician: "ann", Start: p.now.AddDate(0, 0, days),
			Minutes: 60}))
	}
	visit("VA", 1)
	visit("VB", 2)
	p.writes(t, m.Entry("office", "visit.sent", "visit", "VA", ledger.Nothing{}))
	p.writes(t, m.Entry("office", "absence.asked", "absences", "ann", ledger.AbsenceAsked{Off: calendar.Off{From: "2026-03-20",
		To: "2026-03-21", Why: "Leave"}}))

	ann, stranger := p.client("ann"), p.client("")
	assert.True(t, read[api.FeedState](t, ann.get("/api/feed")).Made.IsZero())
	path := read[api.FeedMade](t, ann.post("/api/feed", nil)).Path
	assert.False(t, read[api.FeedState](t, ann.get("/api/feed")).Made.IsZero())
	res := stranger.get(path)
	require.Equal(t, http.StatusOK, res.StatusCode)
	assert.Equal(t, "text/calendar; charset=utf-8", res.Header.Get("Content-Type"))
	text, err := io.ReadAll(res.Body)
	require.NoError(t, err)
	assert.Contains(t, string(text), "UID:VA@iter")
	assert.NotContains(t, string(text), "VB@iter", "nobody was told of it yet")
	assert.Contains(t, string(text), "SUMMARY:Leave")

	again := read[api.FeedMade](t, p.client("a-dispatcher").post("/api/office/feeds/ann", nil)).Path
	assert.Equal(t, http.StatusNotFound, stranger.get(path).StatusCode)
	assert.Equal(t, http.StatusOK, stranger.get(again).StatusCode)
	for _, wrong := range []string{"/calendar/x.ics", "/calendar/.ics", again[:len(again)-4]} {
		assert.Equal(t, http.StatusNotFound, stranger.get(wrong).StatusCode, wrong)
	}
	e := m.Entry("office", "record.amended", "person", "ann", map[string]any{"roles": []records.Role{records.Stores}})
	e.Base = []byte(`{"roles":["technician"]}`)
	p.writes(t, e)
	assert.Equal(t, http.StatusNotFound, stranger.get(again).StatusCode)
	e = m.Entry("office", "record.amended", "person", "ann", map[string]any{"roles": []records.Role{records.Technician}})
	e.Base = []byte(`{"roles":["stores"]}`)
	p.writes(t, e)
	assert.Equal(t, http.StatusOK, stranger.get(again).StatusCode)
	access := func(disabled bool) {
		require.NoError(t, p.store.Write(t.Context(), func(tx *store.Tx) error {
			a, _, err := tx.AccountOf("ann")
			require.NoError(t, err)
			if a.Disabled = (time.Time{}); disabled {
				a.Disabled = p.now
			}
			return tx.PutAccount(a)
		}))
	}
	access(true)
	assert.Equal(t, http.StatusNotFound, stranger.get(again).StatusCode, "whose access was ended is read by nobody")
	access(false)
	assert.Equal(t, http.StatusNoContent, ann.post("/api/feed/end", nil).StatusCode)
	assert.Equal(t, http.StatusNotFound, stranger.get(again).StatusCode)

	assert.Equal(t, http.StatusForbidden, p.client("a-reviewer").post("/api/office/feeds/ann", nil).StatusCode)
	assert.Equal(t, http.StatusForbidden, p.client("a-stores").get("/api/feed").StatusCode)
}
