package syncing_test

import (
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"iter.example/iter/core/ledger"
	"iter.example/iter/core/ledger/ledgertest"
	"iter.example/iter/core/work"
)

// A device holds as much of what is to come as its person sees ahead: once the next visit is over the one after it comes, and what was
// hidden comes back when the rule is another.
func TestAhead(t *testing.T) {
	w := newWorld(t, t.TempDir())
	for id, in := range map[string]time.Duration{"V8": 3 * time.Hour, "V9": 27 * time.Hour} {
		require.NoError(t, w.office("visit.planned", "visit", id, ledger.Plan{Order: "W1", Technician: "ann", Start: w.now.Add(in), Minutes: 30}))
		require.NoError(t, w.office("visit.sent", "visit", id, ledger.Nothing{}))
	}
	ann := w.device("ann", 1)
	ann.settle()
	sees := func() (out []string) {
		for _, id := range []string{"V1", "V8", "V9"} {
			if ann.has("visit", id) {
				out = append(out, id)
			}
		}
		return out
	}
	require.Equal(t, []string{"V1", "V8", "V9"}, sees())
	rule := func(ahead string) {
		require.NoError(t, w.office("settings.changed", "settings", "visits", ledgertest.Changed("visits", map[string]any{"ahead": ahead})))
		ann.settle()
	}
	rule("today")
	assert.Equal(t, []string{"V1", "V8"}, sees())
	rule("next")
	assert.Equal(t, []string{"V1"}, sees())
	require.True(t, ann.record("visit.finished", "V1", ledger.Step{Outcome: work.Complete}))
	ann.settle()
	ann.settle()
	assert.Equal(t, []string{"V1", "V8"}, sees(), "the next comes when this one is over")
	rule("all")
	assert.Equal(t, []string{"V1", "V8", "V9"}, sees())
}
