package ledger_test

import (
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"iter.example/iter/core/ledger"
	"iter.example/iter/core/msg"
	"iter.example/iter/core/records"
	"iter.example/iter/core/work"
)

func TestAnOrderIsHeldCancelledAndReopened(t *testing.T) {
	m, docs := company(t)
	say := func(kind string, body any) string {
		m.Wait(time.Minute)
		e := m.Entry("office", kind, "workorder", "W1", body)
		changed, _, err := ledger.Apply(docs, e)
		if err != nil {
			return msg.From(err).Code
		}
		for ref, b := range changed {
			docs[ref] = b
		}
		return ""
	}
	for _, step := range []struct {
		kind string
		body any
		want string
	}{
		{"work.released", ledger.OrderActed{}, "order.not_held"},
		{"work.held", ledger.OrderHeld{Reason: "permit", Until: "2026-03-09"}, "order.until"}, // yesterday
		{"work.held", ledger.OrderHeld{Reason: "permit", Until: "2026-04-01"}, ""},
		{"work.held", ledger.OrderHeld{Reason: "permit is late", Until: "2026-05-01"}, ""},
		{"work.released", ledger.OrderActed{}, ""},
		{"work.cancelled", ledger.OrderActed{Reason: "sold"}, ""},
		{"work.closed", ledger.OrderActed{Reason: "x"}, "order.over"},
		{"work.held", ledger.OrderHeld{Reason: "x", Until: "2026-05-01"}, "order.over"},
		{"work.reopened", ledger.OrderActed{}, ""},
		{"work.closed", ledger.OrderActed{Reason: "another firm did it"}, ""},
	} {
		assert.Equal(t, step.want, say(step.kind, step.body), step.kind)
	}
	o := read[work.Order](t, docs, "workorder", "W1")
	assert.Len(t, o.Acts, 6)
	assert.Equal(t, work.Closed, o.State())
	for kind, body := range map[string]any{"work.cancelled": ledger.OrderActed{}, "work.held": ledger.OrderHeld{Until: "2026-05-01"},
		"work.closed": ledger.OrderActed{Reason: "  "}} {
		_, err := ledger.Open(m.Entry("office", kind, "workorder", "W1", body))
		assert.Error(t, err, "%s has a reason", kind)
	}
	_, err := ledger.Open(m.Entry("office", "work.held", "workorder", "W1", ledger.OrderHeld{Reason: "x", Until: "soon"}))
	assert.Equal(t, "order.until", msg.From(err).Code)
}

// The office changes what an order says, and nobody what follows from other entries. Two who change the same field are noticed.
func TestAnOrderIsAmended(t *testing.T) {
	m, docs := company(t)
	amend := func(to map[string]any, base string) (*ledger.Fact, error) {
		e := m.Entry("office", "record.amended", "workorder", "W1", to)
		e.Base = []byte(base)
		return ledger.Open(e)
	}
	f, err := amend(map[string]any{"problem": "Pump hums loudly", "theirs": "PO-77", "instruction": "Gate 4410",
		"people": []records.Contact{{Name: "Ida Moss", Phone: "555"}}}, `{"problem":"another"}`)
	require.NoError(t, err)
	changed, flags, err := f.Apply(docs)
	require.NoError(t, err)
	docs[f.Entry.Subject] = changed[f.Entry.Subject]
	require.Len(t, flags, 1)
	assert.Equal(t, "record.clash", flags[0].Code.Code)
	o := read[work.Order](t, docs, "workorder", "W1")
	assert.Equal(t, "Pump hums loudly", o.Problem)
	assert.Equal(t, "PO-77", o.Theirs)
	assert.NotEmpty(t, o.Number, "the rest stays")

	desk := records.Person{Roles: []records.Role{records.Dispatcher}}
	assert.True(t, f.MayCommand(desk))
	for _, field := range []string{"number", "customer", "visits", "acts", "taskSteps", "needs"} {
		f, err := amend(map[string]any{field: nil}, "")
		require.NoError(t, err)
		assert.False(t, f.MayCommand(desk), field)
	}
	for name, to := range map[string]map[string]any{
		"order.promise":  {"promiseFrom": "2026-03-10T10:00:00Z", "promiseTo": "2026-03-10T09:00:00Z"},
		"order.priority": {"urgency": "very"},
		"order.task":     {"tasks": []work.Task{{ID: "a", Name: "x"}, {ID: "a", Name: "y"}}},
		"order.people":   {"people": make([]records.Contact, 11)},
	} {
		f, err := amend(to, "")
		require.NoError(t, err)
		_, _, err = f.Apply(docs)
		assert.Equal(t, name, msg.From(err).Code)
	}
}
