package api_test

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"iter.example/iter/core/ledger"
	"iter.example/iter/core/work"
	"iter.example/iter/server/api"
)

// Each role is told what waits for it, the most pressing first, and nothing else.
func TestWhatWaitsForEachRole(t *testing.T) {
	p := start(t)
	desk := p.client("a-dispatcher")
	open := func(id string, priority work.Priority) {
		res := desk.does("work.opened", "workorder", id, ledger.WorkOpened{Customer: "C1", Site: "S1", Problem: "Leaks " + id, Priority: priority,
			Minutes: 30})
		require.Equal(t, 200, res.StatusCode)
	}
	open("W7", work.Normal)
	open("W8", work.Emergency)
	groups := func(login string) map[api.WaitingFor]api.WaitingGroup {
		out := map[api.WaitingFor]api.WaitingGroup{}
		for _, g := range read[[]api.WaitingGroup](t, p.client(login).get("/api/office/home")) {
			assert.NotZero(t, g.Count)
			assert.LessOrEqual(t, len(g.Lines), g.Count)
			out[g.Name] = g
		}
		return out
	}
	place := groups("a-dispatcher")[api.ToPlace]
	require.GreaterOrEqual(t, place.Count, 2)
	assert.Equal(t, ledger.Ref{Type: "workorder", ID: "W8"}, place.Lines[0].Ref)
	assert.True(t, place.Lines[0].Bad, "an emergency can't wait")
	assert.NotContains(t, groups("a-stores"), api.ToPlace)
	assert.NotContains(t, groups("a-reviewer"), api.ToPlace)
	assert.Contains(t, groups("a-administrator"), api.ToPlace)
	assert.Equal(t, 403, p.client("ann").get("/api/office/home").StatusCode)
}
