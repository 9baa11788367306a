package ledger_test

import (
	"math/rand"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"iter.example/iter/core/calendar"
	"iter.example/iter/core/ledger"
	"iter.example/iter/core/ledger/ledgertest"
)

// Who is off when: asked for and granted, entered by the office, withdrawn; the last word counts, in whatever order it is heard of.
func TestAbsences(t *testing.T) {
	m, _ := company(t)
	off := func(from, to string) ledger.AbsenceAsked {
		return ledger.AbsenceAsked{Off: calendar.Off{From: from, To: to}}
	}
	about := func(actor, kind string, body any) ledger.Entry {
		m.Wait(time.Minute)
		return m.Entry(actor, kind, "absences", "ann", body)
	}
	feast := about("ann", "absence.asked", off("2026-12-21", "2026-12-24"))
	course := about("desk", "absence.asked", off("2026-11-30", "2026-11-30"))
	summer := about("ann", "absence.asked", off("2027-07-01", "2027-07-14"))
	entries := []ledger.Entry{feast, course, summer,
		about("desk", "absence.decided", ledger.AbsenceDecided{Absence: feast.ID, Text: "Too many are off"}),
		about("desk", "absence.decided", ledger.AbsenceDecided{Absence: feast.ID, Granted: true}),
		about("ann", "absence.withdrawn", ledger.AbsenceWithdrawn{Absence: summer.ID}),
	}
	r := rand.New(rand.NewSource(1))
	for range 20 {
		docs := ledger.Docs{}
		for _, f := range ledgertest.Fold(docs, entries) {
			require.Empty(t, f.Error)
		}
		a := read[calendar.Absences](t, docs, "absences", "ann")
		assert.ElementsMatch(t, []calendar.Off{{From: "2026-11-30", To: "2026-11-30"}, {From: "2026-12-21", To: "2026-12-24"}}, a.Off())
		was, _ := a.At(feast.ID)
		assert.Equal(t, []any{calendar.Granted, "desk"}, []any{was.State, was.By})
		gone, _ := a.At(summer.ID)
		assert.Equal(t, calendar.Withdrawn, gone.State)
		assert.Empty(t, a.Waiting(ledgertest.Start))
		r.Shuffle(len(entries), func(i, j int) { entries[i], entries[j] = entries[j], entries[i] })
	}
	docs := ledger.Docs{}
	ledgertest.Fold(docs, []ledger.Entry{feast})
	a := read[calendar.Absences](t, docs, "absences", "ann")
	assert.Len(t, a.Waiting(ledgertest.Start), 1)
	assert.Empty(t, a.Off())
}
