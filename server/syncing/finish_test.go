package syncing_test

import (
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"iter.example/iter/core/ledger"
	"iter.example/iter/core/ledger/ledgertest"
	"iter.example/iter/core/signoff"
	"iter.example/iter/core/talk"
	"iter.example/iter/core/view"
	"iter.example/iter/core/work"
)

// beside opens a second work order at ann's site, with a visit of ben's.
func (w *world) beside() {
	require.NoError(w.t, w.office("work.opened", "workorder", "W2", work.Order{Number: "4128", Customer: "C1", Site: "S1",
		Problem: "Valve weeps", Priority: work.Normal, Minutes: 30}))
	require.NoError(w.t, w.office("visit.planned", "visit", "V2", ledger.Plan{Order: "W2", Technician: "ben", Start: w.now, Minutes: 30}))
	require.NoError(w.t, w.office("visit.sent", "visit", "V2", ledger.Nothing{}))
}

// Whoever has the customer's signature has it for a colleague's finished visit at the site too, and for no other.
func TestAColleaguesVisitIsSignedTogether(t *testing.T) {
	w := newWorld(t, t.TempDir())
	w.beside()
	ann, ben := w.device("ann", 1), w.device("ben", 2)
	ann.settle()
	ben.settle()
	assert.False(t, ann.has("visit", "V2"), "it is not over")
	require.True(t, ben.record("visit.finished", "V2", ledger.Step{Outcome: work.Complete}))
	ben.settle()
	ann.settle()
	require.True(t, ann.has("visit", "V2"), "it is over and unsigned")
	assert.True(t, ann.has("timecard", ledger.TimecardRef("ben", w.now).ID), "with the hours that are signed for")

	signed := ledgertest.Signed(signoff.Summary{Order: "4128"}, "Tam Hale")
	require.True(t, ann.record("signoff.captured", "V2", signed))
	signed.With = []string{"V1"}
	require.True(t, ann.record("signoff.captured", "V2", signed))
	ann.settle()
	assert.Equal(t, []string{"scope.visit"}, ann.held(), "alone it is not hers to sign")
	require.True(t, ann.has("visit", "V2"), "signed, it stays for the day: another may sign too")
	again := ledgertest.Signed(signoff.Summary{Order: "4128"}, "Ida Moss")
	again.With = []string{"V1"}
	require.True(t, ann.record("signoff.captured", "V2", again))
	ann.settle()
	ben.settle()
	assert.Len(t, shown[work.Visit](ben, "visit", "V2").Signatures, 2)
	w.now = w.now.AddDate(0, 0, 3)
	ann.settle()
	assert.False(t, ann.has("visit", "V2"), "after that it is no longer beside hers")
}

// A site's history is on the devices of those who come next, and follows what is struck out.
func TestTheHistoryOfASite(t *testing.T) {
	w := newWorld(t, t.TempDir())
	w.beside()
	ann, ben := w.device("ann", 1), w.device("ben", 2)
	ben.settle()
	assert.False(t, ben.has("history", "S1"), "nothing was done there yet")
	ann.settle()
	require.True(t, ann.record("note.written", "V1", ledger.Note{Text: "Seal worn"}))
	require.True(t, ann.record("visit.finished", "V1", ledger.Step{Outcome: work.Complete}))
	ann.settle()
	ben.settle()
	history := shown[view.SiteHistory](ben, "history", "S1")
	require.Len(t, history.Visits, 1)
	assert.Equal(t, []string{"Seal worn"}, history.Visits[0].Notes)
	assert.Equal(t, "4127", history.Visits[0].Number)

	end := shown[work.Visit](ann, "visit", "V1").Steps[0]
	w.now = w.now.Add(time.Minute)
	require.True(t, ann.record("entry.struck", "V1", ledgertest.Strike(ann.shown,
		ledger.Entry{ID: end.Entry, At: end.At, Kind: "visit.finished", Actor: "ann", Subject: ledger.Ref{Type: "visit", ID: "V1"}})))
	ann.settle()
	ben.settle()
	assert.False(t, ben.has("history", "S1"), "it was not over after all")
}

func TestWhoSpeaksInAConversation(t *testing.T) {
	w := newWorld(t, t.TempDir())
	w.beside()
	ann, ben := w.device("ann", 1), w.device("ben", 2)
	ann.settle()
	ben.settle()
	require.True(t, ann.say("", "talk.said", ledger.TalkRef("W1"), ledger.TalkSaid{Text: "Gate is locked", Visit: "V1"}))
	require.True(t, ann.say("", "talk.said", ledger.TalkRef("W1"), ledger.TalkSaid{Text: "We never said so", Office: true}))
	require.True(t, ben.say("", "talk.said", ledger.TalkRef("W1"), ledger.TalkSaid{Text: "Me too"}))
	ann.settle()
	ben.settle()
	assert.Equal(t, []string{"scope.role"}, ann.held(), "nobody in the field speaks for the office")
	assert.Equal(t, []string{"scope.visit"}, ben.held(), "it is not his work")
	require.NoError(t, w.office("talk.said", "talk", "W1", ledger.TalkSaid{Text: "Ring Tam Hale", Office: true}))
	ann.settle()
	c := shown[talk.Talk](ann, "talk", "W1")
	assert.Len(t, c.Said, 2)
	assert.Equal(t, 1, c.Unread("ann"))
}

// Work found with no signal and done at once is at the office, with all that was done on it.
func TestWorkFoundOffline(t *testing.T) {
	w := newWorld(t, t.TempDir())
	ann := w.device("ann", 1)
	ann.settle()
	found := ledger.WorkFound{Found: work.Found{How: work.Seen, Visit: "V1"}, Customer: "C1", Site: "S1", Problem: "Panel hums",
		Priority: work.Soon, Minutes: 30, Begin: "V9"}
	require.True(t, ann.say("", "work.found", ledger.Ref{Type: "workorder", ID: "W9"}, found))
	require.True(t, ann.record("visit.arrived", "V9", ledger.Step{}))
	require.True(t, ann.record("note.written", "V9", ledger.Note{Text: "Fan bearing"}))
	ann.settle()
	assert.Empty(t, ann.held())
	assert.True(t, ann.has("workorder", "W9"), "and it is in her scope from then on")
	assert.Equal(t, work.OnSite, shown[work.Visit](ann, "visit", "V9").Stage)
}
