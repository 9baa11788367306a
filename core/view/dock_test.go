package view_test

import (
	"encoding/json"
	"slices"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"iter.example/iter/core/labor"
	"iter.example/iter/core/ledger"
	"iter.example/iter/core/ledger/ledgertest"
	"iter.example/iter/core/records"
	"iter.example/iter/core/view"
	"iter.example/iter/core/work"
)

// places are the sites of the round's visits.
var places = map[string]string{"V1": "S1", "V2": "S1", "V3": "S2"}

// round gives ann three visits, two of them at one site, and ben the first to help with.
func (s *scene) round() {
	s.office("record.created", "site", "S2", records.Site{Customer: "C1", Name: "Tern Quay Marina", Lat: 50.2, Lon: -5.1})
	for _, v := range []string{"V2", "V3"} {
		s.office("work.opened", "workorder", "W"+v, work.Order{Number: "9" + v, Customer: "C1", Site: places[v], Problem: "Panel hums",
			Priority: work.Normal, Minutes: 30})
		s.office("visit.planned", "visit", v, ledger.Plan{Order: "W" + v, Technician: "ann", Start: ledgertest.Start.Add(time.Hour),
			Minutes: 30})
		s.office("visit.sent", "visit", v, ledger.Nothing{})
	}
	s.record("ann", "crew.clocked", "V1", ledger.CrewClocked{Helper: "ann", Clock: labor.Stop})
}

// cards are a person's, all of them.
func (s *scene) cards(person string) []labor.Timecard {
	var out []labor.Timecard
	for ref, body := range s.docs {
		if ref.Type == "timecard" && strings.HasPrefix(ref.ID, person+"+") {
			var c labor.Timecard
			require.NoError(s.t, json.Unmarshal(body, &c))
			out = append(out, c)
		}
	}
	slices.SortFunc(out, func(a, b labor.Timecard) int { return strings.Compare(a.Date, b.Date) })
	return out
}

func (s *scene) dock(id, person string) view.Dock {
	var v work.Visit
	require.NoError(s.t, json.Unmarshal(s.docs[ledger.Ref{Type: "visit", ID: id}], &v))
	var o work.Order
	require.NoError(s.t, json.Unmarshal(s.docs[ledger.Ref{Type: "workorder", ID: v.Order}], &o))
	return view.DockOf(id, v, o, person, view.Clocks{Now: s.now, Cards: slices.Concat(s.cards("ann"), s.cards("ben")), Sites: places})
}

func TestLeavingPausesAndComingBackResumes(t *testing.T) {
	s := newScene(t)
	s.round()
	s.record("ann", "visit.arrived", "V1", ledger.Step{})
	assert.Equal(t, []work.Action{work.Finish, work.Pause}, s.dock("V1", "ann").Actions)
	assert.Equal(t, []work.Action{work.Accept, work.Decline}, s.dock("V2", "ann").Actions)
	s.record("ann", "visit.accepted", "V2", ledger.Step{})
	s.record("ann", "visit.accepted", "V3", ledger.Step{})

	d := s.dock("V2", "ann")
	assert.Equal(t, []work.Action{work.Arrive}, d.Actions, "who is at the site already does not set off")
	assert.Equal(t, "V1", d.Stops)
	assert.Equal(t, []work.Action{work.SetOff}, s.dock("V3", "ann").Actions)

	left := s.now
	s.record("ann", "visit.arrived", "V2", ledger.Step{})
	d = s.dock("V1", "ann")
	assert.Equal(t, work.Standing{Stage: work.Paused, Since: left, Left: true, For: &labor.What{Kind: labor.Work, Visit: "V2"}}, d.Standing)
	assert.Equal(t, []work.Action{work.Resume, work.Finish}, d.Actions)
	assert.False(t, d.On)

	s.record("ann", "visit.finished", "V2", ledger.Step{Outcome: work.Complete})
	assert.Equal(t, left, s.dock("V1", "ann").Standing.Since)
	s.record("ann", "visit.resumed", "V1", ledger.Step{})
	assert.True(t, s.dock("V1", "ann").Standing.On)

	s.record("ann", "visit.set_off", "V3", ledger.Step{})
	assert.Equal(t, []work.Action{work.SetOff, work.Resume, work.Finish}, s.dock("V1", "ann").Actions, "the way back is time too")
	s.record("ann", "visit.resumed", "V1", ledger.Step{})
	assert.Equal(t, []work.Action{work.SetOff, work.Arrive}, s.dock("V3", "ann").Actions, "a way that was left is gone on with")
}

func TestDockWhenTheDayEnds(t *testing.T) {
	s := newScene(t)
	s.round()
	s.record("ann", "visit.arrived", "V1", ledger.Step{})
	s.wait(time.Hour)
	left := s.now
	end := s.m.Entry("ann", "day.ended", "timecard", ledger.TimecardRef("ann", s.now).ID, ledger.Nothing{})
	require.Empty(t, ledgertest.Fold(s.docs, []ledger.Entry{end})[0].Error)
	s.wait(time.Minute)
	d := s.dock("V1", "ann")
	assert.Equal(t, work.Standing{Stage: work.Paused, Since: left, Left: true}, d.Standing)
	assert.Equal(t, []work.Action{work.SetOff, work.Resume, work.Finish}, d.Actions)
	assert.False(t, d.On)
}

func TestDockOfAVisitTakenBackUnderAClock(t *testing.T) {
	s := newScene(t)
	s.record("ann", "visit.arrived", "V1", ledger.Step{})
	s.office("visit.withdrawn", "visit", "V1", ledger.Withdraw{Reason: "double"})
	d := s.dock("V1", "ann")
	assert.True(t, d.On)
	assert.Equal(t, []work.Action{work.Finish}, d.Actions, "its clock can be stopped")
}

func TestATapShowsAtOnceWhateverTheClockSays(t *testing.T) {
	s := newScene(t)
	e := s.m.Entry("ann", "visit.arrived", "visit", "V1", ledger.Step{})
	require.Empty(t, ledgertest.Fold(s.docs, []ledger.Entry{e})[0].Error)
	for name, ahead := range map[string]time.Duration{"in the same moment": 0, "by a clock that was a little ahead": -2 * time.Second} {
		s.now = e.At.Add(ahead)
		assert.True(t, s.dock("V1", "ann").On, name)
		assert.True(t, s.view("V1").Standing.On, name)
		assert.NotNil(t, labor.Running(labor.Days(s.now, ledgertest.Settings.Company.Zone, nil, s.cards("ann")...)[0].Spans), name)
	}
}

// Whatever is tapped, where and in whatever order it is heard of: the dock, Time and the visit as the office sees it agree about which
// clock runs, at most one of a person's does, and a visit that is begun and has no clock offers a way on.
func TestDockTimeAndBoardAgree(t *testing.T) {
	rapid.Check(t, func(rt *rapid.T) {
		s := newScene(t)
		s.round()
		var earlier []ledger.Entry
		for range rapid.IntRange(1, 30).Draw(rt, "taps") {
			s.wait(time.Duration(rapid.IntRange(0, 5*60).Draw(rt, "minutes")) * time.Minute)
			e := s.tap(rt, earlier)
			ledgertest.Fold(s.docs, []ledger.Entry{e}) // some are refused
			earlier = append(earlier, e)
			for _, person := range []string{"ann", "ben"} {
				s.agree(rt, person)
			}
		}
	})
}

// tap draws something that turns a clock or takes such a thing back, at times recorded earlier than what came before it.
func (s *scene) tap(rt *rapid.T, earlier []ledger.Entry) ledger.Entry {
	person := rapid.SampledFrom([]string{"ann", "ann", "ann", "ben"}).Draw(rt, "person")
	visit := rapid.SampledFrom([]string{"V1", "V2", "V3"}).Draw(rt, "visit")
	kind := rapid.SampledFrom([]string{"visit.accepted", "visit.set_off", "visit.arrived", "visit.paused", "visit.resumed",
		"visit.finished", "crew.clocked",
		"time.started", "time.stopped", "day.ended", "task.started", "task.done", "entry.struck", "visit.closed",
		"time.corrected"}).Draw(rt, "kind")
	var body any = ledger.Nothing{}
	typ, id := "visit", visit
	switch kind {
	case "visit.finished":
		body = ledger.Step{Outcome: work.Complete}
	case "crew.clocked":
		body = ledger.CrewClocked{Helper: "ben", Clock: rapid.SampledFrom([]labor.Kind{labor.Work, labor.Stop}).Draw(rt, "clock")}
	case "task.started", "task.done":
		body, id = ledger.TaskTaken{Order: "W1", Task: "t1"}, "V1"
	case "visit.closed":
		person, body = "office", ledger.Closed{Outcome: work.Complete, End: s.now, People: []string{"ann"}}
	case "time.started":
		body = ledger.Clocked{Code: "workshop"}
	case "entry.struck":
		if len(earlier) == 0 {
			break
		}
		e := rapid.SampledFrom(earlier).Draw(rt, "struck")
		person, typ, id = e.Actor, e.Subject.Type, e.Subject.ID
		body = ledgertest.Strike(s.docs, e)
	}
	if kind == "time.started" || kind == "time.stopped" || kind == "day.ended" || kind == "time.corrected" {
		typ, id = "timecard", ledger.TimecardRef(person, s.now).ID
	}
	e := s.m.Entry(person, kind, typ, id, body)
	if kind == "time.corrected" {
		e.Body, _ = json.Marshal(ledger.Corrected{Reason: "forgot",
			Pieces: []labor.Piece{{What: labor.What{Kind: labor.Break}, Start: e.At.Add(-time.Hour), End: e.At.Add(-time.Minute)}}})
	}
	if back := rapid.IntRange(0, 90).Draw(rt, "earlier"); typ == "visit" && kind != "entry.struck" && back > 60 {
		e.At = e.At.Add(-time.Duration(back) * time.Minute) // it was offline
	}
	return e
}

// agree compares what a person is shown with their spans.
func (s *scene) agree(rt *rapid.T, person string) {
	var running *labor.Span // as Time says
	for _, d := range labor.Days(s.now, ledgertest.Settings.Company.Zone, nil, s.cards(person)...) {
		if r := labor.Running(d.Spans); r != nil {
			running = r
		}
	}
	for id := range places {
		d, office := s.dock(id, person), s.view(id)
		require.Equal(rt, running != nil && running.Visit == id, d.On, "dock of %s for %s", id, person)
		require.Equal(rt, office.Standing, d.Standing, "office and field on %s", id)
		if office.Visit.CurrentPerson() != person || !office.Visit.Stage.Begun() {
			continue
		}
		require.Equal(rt, d.On, d.Standing.On, "%s", id)
		if d.On {
			require.Equal(rt, map[labor.Kind]work.Stage{labor.Travel: work.Travelling, labor.Work: work.OnSite, labor.Wait: work.Paused,
				labor.Break: work.Paused}[running.Kind], d.Standing.Stage)
			continue
		}
		require.Equal(rt, work.Paused, d.Standing.Stage)
		if person == "ann" {
			require.NotEmpty(rt, d.Actions, "a way on with %s", id)
		}
	}
}
