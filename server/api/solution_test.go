package api_test

import (
	"net/http"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"iter.example/iter/core/ledger/ledgertest"
	"iter.example/iter/core/plan"
	"iter.example/iter/core/work"
	"iter.example/iter/server/api"
)

// All that waits is planned together, one after another; what nobody can do is left, with why. What is planned stays as it is.
func TestWhatWaitsIsPlannedTogether(t *testing.T) {
	p, d, _ := drafting(t)
	m := ledgertest.NewMaker("R4", 14)
	on := p.now.AddDate(0, 0, 1)
	date := on.Format(time.DateOnly)
	for _, id := range []string{"WS1", "WS2", "WS3"} {
		o := work.Order{Number: "60" + id[2:], Customer: "C1", Site: "S1", Problem: "Hums", Priority: work.Normal, Minutes: 60}
		if id == "WS3" {
			o.Skills = []string{"crane"}
		}
		p.writes(t, m.Entry("office", "work.opened", "workorder", id, o))
	}
	ask := func(date string) *http.Response { return d.get("/api/office/solution?date=" + date) }
	before := read[api.Board](t, d.get("/api/office/board?date="+date))
	s := read[api.Solution](t, ask(date))
	begins := map[string]int{}
	for _, h := range s.Lines {
		require.NotNil(t, h.Fit)
		begins[h.ID] = h.Fit.Begin
	}
	assert.Contains(t, begins, "WS1")
	assert.Contains(t, begins, "WS2")
	left := map[string][]string{}
	for _, l := range s.Left {
		require.NotNil(t, l.Fit, l.Order.ID)
		for _, w := range l.Fit.Why {
			left[l.Order.ID] = append(left[l.Order.ID], w.Code)
		}
	}
	assert.Zero(t, s.More)
	assert.NotContains(t, begins, "WS3", "nobody can do it")
	assert.Contains(t, left["WS3"], "fit.skill")
	assert.Len(t, before.Unplaced, len(s.Lines)+len(s.Left), "nothing is lost on the way")
	var day plan.Day
	day.Open(plan.NewTable(0))
	var adds int
	for _, h := range s.Lines {
		adds += day.Cost(h.Fit.Adds)
	}
	assert.Equal(t, day.Cost(s.After)-day.Cost(s.Before), adds, "the fits add up to what the day becomes")
	assert.Equal(t, s, read[api.Solution](t, ask(date)), "asked again it is the same")

	over := read[api.Solution](t, ask(p.now.AddDate(0, 0, -1).Format(time.DateOnly)))
	assert.Empty(t, over.Lines, "nothing is planned on a day that is over")
	require.Len(t, over.Left, len(before.Unplaced))
	assert.Nil(t, over.Left[0].Fit)
	assert.Equal(t, http.StatusBadRequest, ask("soon").StatusCode)
	assert.Equal(t, http.StatusForbidden, p.client("a-reviewer").get("/api/office/solution?date="+date).StatusCode)
}
