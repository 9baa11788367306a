package api_test

import (
	"net/http"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"iter.example/iter/core/calendar"
	"iter.example/iter/core/ledger"
	"iter.example/iter/core/ledger/ledgertest"
	"iter.example/iter/core/plan"
	"iter.example/iter/core/records"
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
	solve := func(q api.SolvingAsked) api.Solution {
		q.Days = max(q.Days, 1)
		require.NotNil(t, read[api.Solving](t, d.post("/api/office/solving", q)).Asked)
		var now api.Solving
		require.Eventually(t, func() bool { now = read[api.Solving](t, d.get("/api/office/solving")); return now.Solution != nil },
			time.Minute, time.Millisecond)
		return *now.Solution
	}
	before := read[api.Board](t, d.get("/api/office/board?date="+date))
	s := solve(api.SolvingAsked{From: date})
	begins := map[string]int{}
	for _, l := range s.Lines {
		begins[l.ID] = l.Fit.Begin
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
	for _, l := range s.Lines {
		adds += day.Cost(l.Fit.Adds)
	}
	assert.Equal(t, day.Cost(s.After)-day.Cost(s.Before), adds, "the fits add up to what the day becomes")
	assert.Equal(t, s, solve(api.SolvingAsked{From: date}), "asked again it is the same")

	one := solve(api.SolvingAsked{From: date, Chosen: []string{"WS2"}})
	require.Len(t, one.Lines, 1)
	assert.Equal(t, "WS2", one.Lines[0].ID, "what is chosen alone")
	assert.Zero(t, one.More)
	for _, l := range solve(api.SolvingAsked{From: date, People: []string{"ben"}}).Lines {
		assert.Equal(t, "ben", l.Fit.Lane, "whose days are asked for alone")
	}
	for _, l := range solve(api.SolvingAsked{From: date, People: []string{"nobody"}}).Left {
		assert.Nil(t, l.Fit, "nobody is there")
	}

	over := solve(api.SolvingAsked{From: p.now.AddDate(0, 0, -1).Format(time.DateOnly)})
	assert.Empty(t, over.Lines, "nothing is planned on a day that is over")
	require.Len(t, over.Left, len(before.Unplaced))
	assert.Nil(t, over.Left[0].Fit)
	for _, q := range []api.SolvingAsked{{From: "soon", Days: 1}, {From: date}, {From: date, Days: 15}} {
		assert.Equal(t, http.StatusBadRequest, d.post("/api/office/solving", q).StatusCode)
	}
	assert.Equal(t, http.StatusForbidden, p.client("a-reviewer").post("/api/office/solving", api.SolvingAsked{From: date, Days: 1}).StatusCode)
	assert.Equal(t, http.StatusNoContent, d.post("/api/office/solving/stop", nil).StatusCode)
	assert.Nil(t, read[api.Solving](t, d.get("/api/office/solving")).Asked, "what has ended is forgotten")
}

// What is planned goes elsewhere only when that is asked for and saves enough, and what is fixed stays. What takes two people, a thing or
// more than a day is planned for all of them.
func TestPlannedVisitsAreMoved(t *testing.T) {
	p, d, _ := drafting(t)
	m := ledgertest.NewMaker("R4", 14)
	on := p.now.AddDate(0, 0, 1)
	date := on.Format(time.DateOnly)
	at := func(hour int) time.Time { return time.Date(on.Year(), on.Month(), on.Day(), hour, 0, 0, 0, time.UTC) }
	week := []calendar.Week{{Days: [7][]calendar.Stretch{}}}
	for i := range week[0].Days {
		week[0].Days[i] = []calendar.Stretch{{From: "08:00", To: "16:00"}}
	}
	for _, id := range []string{"ann", "ben"} {
		e := m.Entry("office", "record.amended", "person", id, map[string]any{"hours": week})
		e.Base = nil
		p.writes(t, e)
	}
	order := func(id string, o work.Order) {
		o.Customer, o.Site, o.Problem, o.Priority, o.Number = "C1", "S1", "Hums", work.Normal, "7"+id
		p.writes(t, m.Entry("office", "work.opened", "workorder", id, o))
	}
	order("WM", work.Order{Minutes: 60, PromiseTo: at(9)})
	order("WL", work.Order{Minutes: 12 * 60, Crew: 2, Things: []string{"boat"}})
	p.writes(t, m.Entry("office", "record.created", "resource", "boat", records.Resource{Name: "Work boat"}))
	// It was promised for nine, and is planned for the afternoon behind another.
	p.writes(t, m.Entry("office", "visit.planned", "visit", "VM", ledger.Plan{Order: "WM", Technician: "ann", Start: at(15), Minutes: 60}))
	solve := func(q api.SolvingAsked) (lines map[string][]api.SolutionLine) {
		q.From = date
		d.post("/api/office/solving", q)
		var now api.Solving
		require.Eventually(t, func() bool { now = read[api.Solving](t, d.get("/api/office/solving")); return now.Solution != nil },
			time.Minute, time.Millisecond)
		lines = map[string][]api.SolutionLine{}
		for _, l := range now.Solution.Lines {
			lines[l.ID] = append(lines[l.ID], l)
		}
		return lines
	}
	found := solve(api.SolvingAsked{Days: 3})
	assert.NotContains(t, found, "VM", "what is planned stays")
	long := found["WL"]
	require.Len(t, long, 2, "twelve hours are two days of eight")
	assert.Equal(t, [2]int{8 * 60, 4 * 60}, [2]int{long[0].Minutes, long[1].Minutes})
	assert.Equal(t, [2]int{2, 2}, [2]int{long[1].Part, long[1].Parts})
	for _, l := range long {
		assert.Len(t, l.With, 1)
		assert.NotEqual(t, l.Fit.Lane, l.With[0])
	}
	moved := solve(api.SolvingAsked{Days: 3, Move: true})["VM"]
	require.Len(t, moved, 1)
	assert.True(t, moved[0].Moved)
	assert.Equal(t, at(15), moved[0].Was.Start.UTC())
	p.writes(t, m.Entry("office", "visit.fixed", "visit", "VM", ledger.Fixed{Fixed: true}))
	assert.NotContains(t, solve(api.SolvingAsked{Days: 3, Move: true}), "VM")
	assert.NotContains(t, solve(api.SolvingAsked{Days: 3, Chosen: []string{"VM"}}), "VM")
}

// By the company's timetable the coming days are planned once a day into a draft that is empty, and it says so.
func TestPlannedByTimetable(t *testing.T) {
	p, d, date := drafting(t)
	midnight := read[api.Board](t, d.get("/api/office/board?date="+date)).Plan.Begin
	at := func(clock string) time.Time {
		after, err := time.Parse("15:04", clock)
		require.NoError(t, err)
		return midnight.Add(time.Duration(after.Hour())*time.Hour + time.Duration(after.Minute())*time.Minute)
	}
	me := read[api.Me](t, d.get("/api/me")).ID
	plans := func(clock string) int {
		require.NoError(t, p.server.PlanAhead(t.Context(), at(clock)))
		return len(d.draft().Lines)
	}
	assert.Zero(t, plans("05:30"), "no timetable, no plan")
	settle := func(to plan.Timetable) *http.Response {
		return p.client("a-administrator").does("settings.changed", "settings", "planning",
			ledgertest.Changed("planning", map[string]any{"timetable": to}))
	}
	for _, wrong := range []plan.Timetable{{At: "25:00", Days: 1, Person: me}, {At: "05:00", Person: me},
		{At: "05:00", Days: 15, Person: me}} {
		assert.Equal(t, "settings.timetable", problem(t, settle(wrong), http.StatusConflict))
	}
	require.Equal(t, 200, settle(plan.Timetable{At: "05:00", Days: 2, Person: me}).StatusCode)
	assert.Zero(t, plans("04:59"), "not yet")
	assert.Zero(t, plans("09:00"), "too late for today")
	n := plans("05:10")
	assert.Positive(t, n)
	assert.False(t, d.draft().Worked.IsZero())
	assert.Equal(t, n, plans("05:20"), "once")
	var visits []string
	for _, l := range d.draft().Lines {
		visits = append(visits, l.Visit)
	}
	require.Equal(t, 200, d.does(d.own("draft.dropped", ledger.DraftEnded{Visits: visits})).StatusCode)
	assert.True(t, d.draft().Worked.IsZero())
	assert.Zero(t, plans("05:30"), "what was thrown away stays so")
}
