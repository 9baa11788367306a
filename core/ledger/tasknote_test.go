package ledger_test

import (
	"slices"
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

// A step that was found on site is one of the order's, after the office's and by time; taken away again, what was done on it stays.
func TestATaskThatIsAdded(t *testing.T) {
	m, docs := company(t)
	names := func() (out []string) {
		var o work.Order
		_, err := docs.Load(ledger.Ref{Type: "workorder", ID: "W1"}, &o)
		require.NoError(t, err)
		for _, x := range o.AllTasks() {
			out = append(out, x.Name)
		}
		return out
	}
	office := names()
	add := func(name, asset string) ledger.Entry {
		m.Wait(time.Minute)
		return m.Entry("ann", "task.added", "visit", "V1", ledger.TaskAdded{Order: "W1", Name: name, Asset: asset})
	}
	first, second := add("Grease the bearings", "A1"), add("Clean the strainer", "")
	require.Empty(t, take(t, docs, second, first).Error, "heard of the other way round")
	assert.Equal(t, append(slices.Clone(office), "Grease the bearings", "Clean the strainer"), names())

	m.Wait(time.Minute)
	start := m.Entry("ann", "task.started", "visit", "V1", ledger.TaskTaken{Order: "W1", Task: first.ID})
	require.Empty(t, take(t, docs, start).Error, "it is worked on as any other")
	m.Wait(time.Minute)
	strike := m.Entry("ann", "entry.struck", "visit", "V1", ledger.Struck{Entry: first.ID, At: first.At, Kind: first.Kind, Person: "ann",
		Touched: []ledger.Ref{{Type: "workorder", ID: "W1"}}})
	require.Empty(t, take(t, docs, strike).Error)
	assert.Equal(t, append(slices.Clone(office), "Clean the strainer"), names())
	m.Wait(time.Minute)
	done := m.Entry("ann", "task.done", "visit", "V1", ledger.TaskTaken{Order: "W1", Task: first.ID})
	require.Empty(t, take(t, docs, done).Error, "what was on its way meanwhile is no error")

	for name, asset := range map[string]string{"": "", "Oil the gate": "A9"} {
		assert.NotEmpty(t, take(t, docs, add(name, asset)).Error, "%s %s", name, asset)
	}
}
