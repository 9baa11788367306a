package ledger_test

import (
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"iter.example/iter/core/ledger"
	"iter.example/iter/core/work"
)

// How a task came out is the last that was said of it, by whichever entry was recorded last; struck out, the one before counts again.
func TestHowATaskCameOut(t *testing.T) {
	m, docs := company(t)
	noted := func() work.TaskNote {
		var o work.Order
		_, err := docs.Load(ledger.Ref{Type: "workorder", ID: "W1"}, &o)
		require.NoError(t, err)
		return o.Noted("t1")
	}
	first := m.Entry("ann", "task.noted", "visit", "V1", ledger.TaskNoted{Order: "W1", Task: "t1", Result: "good"})
	m.Wait(time.Minute)
	second := m.Entry("ann", "task.noted", "visit", "V1", ledger.TaskNoted{Order: "W1", Task: "t1", Result: "worn", Remark: "Seal weeps"})
	require.Empty(t, take(t, docs, second, first).Error, "heard of the other way round")
	assert.Equal(t, "worn Seal weeps", noted().Result+" "+noted().Remark)
	strike := m.Entry("ann", "entry.struck", "visit", "V1", ledger.Struck{Entry: second.ID, At: second.At, Kind: second.Kind, Person: "ann",
		Touched: []ledger.Ref{{Type: "workorder", ID: "W1"}}})
	require.Empty(t, take(t, docs, strike).Error)
	assert.Equal(t, "good", noted().Result)

	wrong := func(b ledger.TaskNoted) string {
		return take(t, docs, m.Entry("ann", "task.noted", "visit", "V1", b)).Error
	}
	assert.Contains(t, wrong(ledger.TaskNoted{Order: "W1", Task: "t9", Result: "good"}), "task.unknown")
	assert.Contains(t, wrong(ledger.TaskNoted{Order: "W1", Task: "t1"}), "text.missing", "nothing is said")
	assert.Equal(t, "good", noted().Result)
}
