package api_test

import (
	"encoding/json"
	"math"
	"net/http"
	"slices"
	"testing"
	"time"

	"github.com/oklog/ulid/v2"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"iter.example/iter/core/ledger"
	"iter.example/iter/core/ledger/ledgertest"
	"iter.example/iter/core/work"
	"iter.example/iter/server/api"
	"iter.example/iter/server/office"
)

// drafter is a dispatcher with a draft of their own.
type drafter struct {
	*client
	t  *testing.T
	id string
}

func (d drafter) does(commands ...api.DraftCommand) *http.Response {
	var batch office.Batch
	for _, c := range commands {
		batch.Entries = append(batch.Entries, office.Command{ID: ulid.Make().String(), Kind: c.Kind, Subject: c.Subject, Body: c.Body})
	}
	batch.Seen = math.MaxInt64
	return d.post("/api/office/entries", batch)
}

func (d drafter) changes(changes ...ledger.DraftChange) *http.Response {
	return d.does(d.own("draft.changed", ledger.DraftChanged{Changes: changes}))
}

// own is a command about the draft.
func (d drafter) own(kind string, body any) api.DraftCommand {
	raw, err := json.Marshal(body)
	require.NoError(d.t, err)
	return api.DraftCommand{Kind: kind, Subject: ledger.DraftRef(d.id), Body: raw}
}

func (d drafter) draft() api.PlanDraft { return read[api.PlanDraft](d.t, d.get("/api/office/draft")) }

// publish gives what a draft's changes stand for and ends it.
func (d drafter) publish() *http.Response {
	var commands []api.DraftCommand
	var visits []string
	for _, l := range d.draft().Lines {
		commands, visits = append(commands, l.Commands...), append(visits, l.Visit)
	}
	// First the draft ends: taken back, the plan is changed back before the draft is made again from it.
	return d.does(append([]api.DraftCommand{d.own("draft.published", ledger.DraftEnded{Visits: visits})}, commands...)...)
}

// boardVisits are the visits of a board by whose they are, and what it has to place.
func (d drafter) boardVisits(query string) (lanes map[string][]string, waits []string) {
	b := read[api.Board](d.t, d.get("/api/office/board?"+query))
	lanes = map[string][]string{}
	for _, p := range b.People {
		for _, v := range p.Visits {
			lanes[p.ID] = append(lanes[p.ID], v.ID+" "+v.Start.Format("15:04")+" "+string(v.Stage))
		}
	}
	for _, o := range b.Unplaced {
		waits = append(waits, o.ID)
	}
	return lanes, waits
}

func drafting(t *testing.T) (*program, drafter, string) {
	p := start(t)
	p.now = ledgertest.Start
	m := ledgertest.NewMaker("R", 11)
	p.writes(t, m.Entry("office", "work.opened", "workorder", "WX", work.Order{Number: "5001", Customer: "C1", Site: "S1",
		Problem: "Hums", Priority: work.Normal, Minutes: 60, PromiseTo: p.now.Add(2 * time.Hour)}))
	return p, drafter{p.client("a-dispatcher"), t, "a-dispatcher"}, p.now.Format(time.DateOnly)
}

// A draft shows the board as it would be, changes nothing for others, and published makes exactly that of it; taken back, it is a draft
// again.
func TestADraftIsPublishedAsItWasShown(t *testing.T) {
	p, d, date := drafting(t)
	before, waits := d.boardVisits("date=" + date)
	require.Contains(t, waits, "WX")
	at := p.now.Add(5 * time.Hour)
	require.Equal(t, 200, d.changes(
		ledger.DraftChange{Visit: "N1", Plan: &ledger.Plan{Order: "WX", Technician: "ben", Start: at, Minutes: 60}},
		ledger.DraftChange{Visit: "V1", Move: &ledger.Move{Technician: "ben", Start: at.Add(2 * time.Hour), Minutes: 60}},
	).StatusCode)
	would, wouldWait := d.boardVisits("draft=true&date=" + date)
	assert.NotContains(t, wouldWait, "WX")
	assert.Len(t, would["ben"], 2)
	again, _ := d.boardVisits("date=" + date)
	assert.Equal(t, before, again, "the plan is as it was")
	draft := d.draft()
	require.Len(t, draft.Lines, 2)
	assert.Equal(t, date, draft.Days[0].Date)
	assert.Equal(t, 3*3600, draft.Days[0].After.Late-draft.Days[0].Before.Late)
	other := drafter{p.client("a-reviewer"), t, "a-reviewer"}
	assert.Equal(t, http.StatusForbidden, other.get("/api/office/draft").StatusCode)
	otherBoard, _ := other.boardVisits("draft=true&date=" + date)
	assert.Equal(t, before, otherBoard, "another's draft is empty")

	res := d.publish()
	require.Equal(t, 200, res.StatusCode)
	entries := read[api.Recorded](t, res).Entries
	published, _ := d.boardVisits("date=" + date)
	assert.Equal(t, would, published)
	assert.Empty(t, d.draft().Lines)

	require.Equal(t, 200, d.post("/api/office/undo/"+entries[0].ID, api.UndoReason{}).StatusCode)
	lanes, waits := d.boardVisits("date=" + date)
	assert.Contains(t, waits, "WX")
	assert.True(t, slices.ContainsFunc(lanes["ann"], func(s string) bool { return s[:2] == "V1" }), "it is ann's again")
	assert.Len(t, d.draft().Lines, 2, "what was published is a draft again")
	require.Equal(t, 200, d.publish().StatusCode)
	published, _ = d.boardVisits("date=" + date)
	assert.Equal(t, would, published, "and can be published again")
}

// What becomes of the plan under a draft is shown, and nothing of it is overwritten: what can't be is left out.
func TestADraftOverAChangedPlan(t *testing.T) {
	p, d, date := drafting(t)
	at := p.now.Add(5 * time.Hour)
	require.Equal(t, 200, d.changes(
		ledger.DraftChange{Visit: "N1", Plan: &ledger.Plan{Order: "WX", Technician: "ben", Start: at, Minutes: 60}},
		ledger.DraftChange{Visit: "V1", Move: &ledger.Move{Technician: "ben", Start: at, Minutes: 60}},
	).StatusCode)
	m := ledgertest.NewMaker("R2", 12)
	p.writes(t, m.Entry("ann", "visit.finished", "visit", "V1", ledger.Step{Outcome: work.Complete}))
	lines := d.draft().Lines
	require.Len(t, lines, 2)
	assert.Nil(t, lines[0].Now)
	require.NotNil(t, lines[1].Now)
	assert.Equal(t, work.Finished, lines[1].Now.Stage)
	require.NotNil(t, lines[1].Cannot)
	assert.Equal(t, "visit.over", lines[1].Cannot.Code)
	assert.Equal(t, http.StatusConflict, d.publish().StatusCode, "all or nothing")
	lanes, _ := d.boardVisits("date=" + date)
	assert.Empty(t, lanes["ben"])
	require.Equal(t, 200, d.does(d.own("draft.dropped", ledger.DraftEnded{Visits: []string{"V1"}})).StatusCode)
	require.Equal(t, 200, d.publish().StatusCode)
	lanes, _ = d.boardVisits("date=" + date)
	assert.Len(t, lanes["ben"], 1)
}

// Work that somebody plans, or closes, while it is planned in a draft too is said to be: nobody is to come twice without being meant to.
func TestADraftOfWorkThatOthersPlan(t *testing.T) {
	p, d, _ := drafting(t)
	at := p.now.Add(5 * time.Hour)
	plan := func(id string) ledger.DraftChange {
		return ledger.DraftChange{Visit: id, Plan: &ledger.Plan{Order: "WX", Technician: "ben", Start: at, Minutes: 60}}
	}
	require.Equal(t, 200, d.changes(plan("N1"), plan("N2")).StatusCode)
	for _, l := range d.draft().Lines {
		assert.False(t, l.Besides, "its own two are meant")
	}
	m := ledgertest.NewMaker("R9", 19)
	p.writes(t, m.Entry("office", "visit.planned", "visit", "VO", ledger.Plan{Order: "WX", Technician: "ann", Start: at, Minutes: 60}))
	require.Equal(t, 200, d.changes(ledger.DraftChange{Visit: "N1", Move: &ledger.Move{Technician: "ann", Start: at, Minutes: 90}}).StatusCode)
	for _, l := range d.draft().Lines {
		assert.True(t, l.Besides, l.Visit)
		assert.False(t, l.Over)
	}
	p.writes(t, m.Entry("office", "visit.withdrawn", "visit", "VO", ledger.Withdraw{}))
	m.Wait(time.Minute)
	p.writes(t, m.Entry("office", "work.cancelled", "workorder", "WX", ledger.OrderActed{Reason: "sold"}))
	for _, l := range d.draft().Lines {
		assert.True(t, l.Over, l.Visit)
	}
}

// A draft is its author's: nobody changes another's, and what can't be meant is refused.
func TestADraftThatCantBe(t *testing.T) {
	_, d, _ := drafting(t)
	change := func(c ledger.DraftChange) string { return problem(t, d.changes(c), http.StatusConflict) }
	assert.Equal(t, "draft.change", change(ledger.DraftChange{Visit: "V1"}))
	assert.Equal(t, "order.minutes", change(ledger.DraftChange{Visit: "V1", Move: &ledger.Move{Technician: "ben", Start: ledgertest.Start}}))
	theirs := drafter{d.client, t, "ann"}
	assert.Equal(t, "draft.others", problem(t, theirs.changes(ledger.DraftChange{Visit: "V1", Withdraw: &ledger.Withdraw{}}),
		http.StatusConflict))
	many := make([]ledger.DraftChange, ledger.MostDraftChanges+1)
	for i := range many {
		many[i] = ledger.DraftChange{Visit: ulid.Make().String(), Withdraw: &ledger.Withdraw{}}
	}
	assert.Equal(t, "draft.large", problem(t, d.changes(many...), http.StatusConflict))
}
