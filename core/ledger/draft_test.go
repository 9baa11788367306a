package ledger_test

import (
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"iter.example/iter/core/ledger"
	"iter.example/iter/core/ledger/ledgertest"
	"iter.example/iter/core/msg"
	"iter.example/iter/core/work"
)

// drafting applies entries of the office's about its draft, and gives the code of what refuses one.
func drafting(t *testing.T) (docs ledger.Docs, say func(kind string, body any) string, m *ledgertest.Maker) {
	m, docs = company(t)
	return docs, func(kind string, body any) string {
		m.Wait(time.Minute)
		changed, _, err := ledger.Apply(docs, m.Entry("office", kind, "draft", "office", body))
		if err != nil {
			return msg.From(err).Code
		}
		for ref, b := range changed {
			docs[ref] = b
		}
		return ""
	}, m
}

func TestADraftKeepsOneChangeOfAVisit(t *testing.T) {
	at := ledgertest.Start
	plan := ledger.Plan{Order: "W1", Technician: "ann", Start: at, Minutes: 60, Helpers: []string{"ben"}}
	planned := func() *ledger.Plan { p := plan; return &p }
	move := func(who string, hours int, helpers []string) *ledger.Move {
		return &ledger.Move{Technician: who, Start: at.Add(time.Duration(hours) * time.Hour), Minutes: 60, Helpers: helpers}
	}
	type change = ledger.DraftChange
	for name, c := range map[string]struct {
		changes []change
		want    []ledger.Command
	}{
		"planned and moved": {[]change{{Visit: "N1", Plan: planned()}, {Visit: "N1", Move: move("ben", 2, nil)}},
			[]ledger.Command{{Kind: "visit.planned", Body: ledger.Plan{Order: "W1", Technician: "ben", Start: at.Add(2 * time.Hour), Minutes: 60,
				Helpers: []string{"ben"}}}}},
		"planned and withdrawn": {[]change{{Visit: "N1", Plan: planned()}, {Visit: "N1", Withdraw: &ledger.Withdraw{}}}, nil},
		"moved twice, with who comes along": {[]change{{Visit: "V1", Move: move("ben", 2, []string{"ann"})},
			{Visit: "V1", Move: move("ben", 3, nil)}},
			[]ledger.Command{{Kind: "visit.moved", Body: *move("ben", 3, []string{"ann"})}}},
		"moved and back": {[]change{{Visit: "V1", Move: move("ben", 2, nil)}, {Visit: "V1", Move: move("ann", 1, nil)}}, nil},
		"withdrawn and moved": {[]change{{Visit: "V1", Withdraw: &ledger.Withdraw{}}, {Visit: "V1", Move: move("ben", 2, nil)}},
			[]ledger.Command{{Kind: "visit.moved", Body: *move("ben", 2, nil)}}},
	} {
		docs, say, _ := drafting(t)
		v := read[work.Visit](t, docs, "visit", "V1")
		require.True(t, v.Technician == "ann" && v.Start.Equal(at.Add(time.Hour)), "V1 is ann's, an hour on")
		for i := range c.changes {
			if m := c.changes[i].Move; m != nil && c.changes[i].Visit == "V1" {
				m.Minutes = v.Minutes
			}
			require.Empty(t, say("draft.changed", ledger.DraftChanged{Changes: c.changes[i : i+1]}), name)
		}
		d := read[ledger.Draft](t, docs, "draft", "office")
		require.Len(t, d.Changes, len(c.want), name)
		for i, want := range c.want {
			got := d.Changes[i].Commands()[0]
			assert.Equal(t, want.Kind, got.Kind, name)
			if b, ok := got.Body.(ledger.Move); ok {
				assert.Equal(t, want.Body.(ledger.Move).Helpers, b.Helpers, name)
				assert.True(t, want.Body.(ledger.Move).Start.Equal(b.Start), name)
			} else {
				assert.Equal(t, want.Body.(ledger.Plan).Helpers, got.Body.(ledger.Plan).Helpers, name)
				assert.Equal(t, want.Body.(ledger.Plan).Technician, got.Body.(ledger.Plan).Technician, name)
			}
		}
		assert.Equal(t, v, read[work.Visit](t, docs, "visit", "V1"), "a draft changes nothing")
	}
}

func TestADraftIsItsAuthors(t *testing.T) {
	m, docs := company(t)
	e := m.Entry("office", "draft.dropped", "draft", "ann", ledger.DraftEnded{})
	_, _, err := ledger.Apply(docs, e)
	assert.Equal(t, "draft.others", msg.From(err).Code)
}

func TestADraftTellsWhatBecameOfAVisit(t *testing.T) {
	docs, say, m := drafting(t)
	move := &ledger.Move{Technician: "ben", Start: ledgertest.Start.Add(5 * time.Hour), Minutes: 60}
	require.Empty(t, say("draft.changed", ledger.DraftChanged{Changes: []ledger.DraftChange{{Visit: "V1", Move: move}}}))
	underneath := func() bool {
		v := read[work.Visit](t, docs, "visit", "V1")
		return read[ledger.Draft](t, docs, "draft", "office").Changes[0].Underneath(&v)
	}
	apply := func(who, kind string, body any) {
		m.Wait(time.Minute)
		changed, _, err := ledger.Apply(docs, m.Entry(who, kind, "visit", "V1", body))
		require.NoError(t, err)
		for ref, b := range changed {
			docs[ref] = b
		}
	}
	assert.False(t, underneath())
	apply("ann", "visit.accepted", ledger.Step{})
	assert.False(t, underneath(), "it was only answered")
	apply("ann", "visit.set_off", ledger.Step{})
	assert.True(t, underneath(), "it is under way")
}
