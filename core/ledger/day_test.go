package ledger_test

import (
	"maps"
	"testing"
	"time"

	"github.com/shopspring/decimal"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"iter.example/iter/core/labor"
	"iter.example/iter/core/ledger"
	"iter.example/iter/core/ledger/ledgertest"
	"iter.example/iter/core/records"
	"iter.example/iter/core/work"
)

// scene folds entries one by one into the test company.
type scene struct {
	*testing.T
	m    *ledgertest.Maker
	docs ledger.Docs
}

func newScene(t *testing.T) *scene {
	m, docs := company(t)
	return &scene{t, m, docs}
}

func (s *scene) fold(e ledger.Entry) ledgertest.Result {
	return ledgertest.Fold(s.docs, []ledger.Entry{e})[0]
}

// says records something about a visit that fits, and gives its flags.
func (s *scene) says(actor, kind, visit string, body any) (ledger.Entry, []string) {
	s.Helper()
	e := s.m.Entry(actor, kind, "visit", visit, body)
	r := s.fold(e)
	require.Empty(s, r.Error, kind)
	return e, codes(r)
}

// card records something on a timecard, and gives what is wrong with it and its flags.
func (s *scene) card(actor, kind, card string, body any) (ledger.Entry, string, []string) {
	e := s.m.Entry(actor, kind, "timecard", card, body)
	r := s.fold(e)
	return e, r.Error, codes(r)
}

func codes(r ledgertest.Result) []string {
	out := []string{}
	for _, f := range r.Flags {
		out = append(out, f.Code.Code)
	}
	return out
}

func (s *scene) spans(person string) []labor.Span {
	now := s.m.Entry("ann", "x", "", "", 0).At
	return labor.Spans(now, read[labor.Timecard](s, s.docs, "timecard", person+"+2026-03-10"))
}

const annsDay = "ann+2026-03-10"

func TestTheFirstToAcceptAnOfferHasIt(t *testing.T) {
	s := newScene(t)
	s.says("office", "visit.planned", "V3", ledger.Plan{Order: "W1", Offer: []string{"ann", "ben"}, Start: ledgertest.Start, Minutes: 30})
	s.says("office", "visit.sent", "V3", ledger.Nothing{})
	assert.Equal(t, work.Sent, read[work.Visit](t, s.docs, "visit", "V3").Stage)

	s.m.Wait(time.Hour)
	_, flags := s.says("ben", "visit.accepted", "V3", ledger.Step{})
	assert.Empty(t, flags)
	s.m.Wait(-30 * time.Minute) // ann accepted earlier, and is heard of later
	_, flags = s.says("ann", "visit.accepted", "V3", ledger.Step{})
	assert.Equal(t, []string{"offer.gone"}, flags)
	v := read[work.Visit](t, s.docs, "visit", "V3")
	assert.Equal(t, "ben", v.Technician)
	assert.Equal(t, work.Accepted, v.Stage)
	assert.True(t, v.Had("ann"))
}

func TestAnOfferThatIsTakenBackIsOpenAgain(t *testing.T) {
	s := newScene(t)
	s.says("office", "visit.planned", "V3", ledger.Plan{Order: "W1", Offer: []string{"ann", "ben"}, Start: ledgertest.Start, Minutes: 30})
	s.says("office", "visit.sent", "V3", ledger.Nothing{})
	e, _ := s.says("ben", "visit.accepted", "V3", ledger.Step{})
	s.says("ben", "entry.struck", "V3", ledgertest.Strike(s.docs, e))
	v := read[work.Visit](t, s.docs, "visit", "V3")
	assert.Equal(t, []any{"", work.Sent}, []any{v.Technician, v.Stage})
	s.says("ben", "visit.declined", "V3", ledger.Step{Reason: "off"})
	assert.Equal(t, work.Sent, read[work.Visit](t, s.docs, "visit", "V3").Stage, "ann may still have it")
	s.says("ann", "visit.declined", "V3", ledger.Step{Reason: "off"})
	assert.Equal(t, work.Declined, read[work.Visit](t, s.docs, "visit", "V3").Stage)
	s.says("office", "visit.moved", "V3", ledger.Move{Technician: "ben", Start: ledgertest.Start, Minutes: 30})
	assert.Equal(t, "ben", read[work.Visit](t, s.docs, "visit", "V3").Technician)
}

func TestTasks(t *testing.T) {
	s := newScene(t)
	task := func(kind, id string) (ledger.Entry, []string) {
		return s.says("ann", "task."+kind, "V1", ledger.TaskTaken{Order: "W1", Task: id})
	}
	s.says("ann", "visit.arrived", "V1", ledger.Step{Task: "t1"})
	s.m.Wait(20 * time.Minute)
	task("started", "t2")
	s.m.Wait(10 * time.Minute)
	done, _ := task("done", "t2")
	s.m.Wait(5 * time.Minute)
	spans := s.spans("ann")
	require.Len(t, spans, 3)
	assert.Equal(t, []string{"t1", "t2", ""}, []string{spans[0].Task, spans[1].Task, spans[2].Task})
	o := read[work.Order](t, s.docs, "workorder", "W1")
	assert.Equal(t, work.TaskDone, o.Stands("t2").Act)
	assert.Equal(t, "t1", o.NextTask())

	s.says("ann", "entry.struck", "V1", ledgertest.Strike(s.docs, done))
	assert.Equal(t, work.TaskStarted, read[work.Order](t, s.docs, "workorder", "W1").Stands("t2").Act)
	assert.Equal(t, "t2", s.spans("ann")[1].Task)
	assert.Len(t, s.spans("ann"), 2)

	_, flags := task("held", "t2")
	assert.Empty(t, flags)
	assert.Equal(t, []string{"t2"}, read[work.Order](t, s.docs, "workorder", "W1").OnHold("ann"))
	s.fold(s.m.Entry("office", "settings.changed", "settings", "orders", ledgertest.Changed("orders", map[string]any{"maxHolds": 1})))
	_, flags = task("held", "t1")
	assert.Equal(t, []string{"task.too_many_held"}, flags)

	r := s.fold(s.m.Entry("ann", "task.started", "visit", "V1", ledger.TaskTaken{Order: "W1", Task: "t9"}))
	assert.Contains(t, r.Error, "task.unknown")
}

// Starting a task is being on site: nobody has to say both.
func TestStartingATaskArrives(t *testing.T) {
	s := newScene(t)
	s.says("ann", "task.started", "V1", ledger.TaskTaken{Order: "W1", Task: "t1"})
	v := read[work.Visit](t, s.docs, "visit", "V1")
	assert.Equal(t, work.OnSite, v.Stage)
	assert.True(t, v.Begun())
}

// there has a helper say whether they were there when their clock was turned.
func (s *scene) there(helper, visit string, yes bool) (ledger.Entry, []string) {
	var steps []ledger.StepRef
	for _, c := range read[work.Visit](s, s.docs, "visit", visit).Crew {
		if c.Asked && c.Helper == helper {
			steps = append(steps, ledger.StepRef{Entry: c.Entry, At: c.At})
		}
	}
	return s.says(helper, "crew.answered", visit, ledger.CrewAnswered{There: yes, Steps: steps})
}

// Somebody who was not planned for a visit is asked on their own device before their clock counts: nobody clocks whom they like.
func TestAHelperWhoWasNotPlannedIsAsked(t *testing.T) {
	s := newScene(t)
	s.says("ann", "visit.arrived", "V1", ledger.Step{})
	turn := func(kind labor.Kind) {
		s.says("ann", "crew.clocked", "V1", ledger.CrewClocked{Helper: "ben", Clock: kind})
	}
	turn(labor.Work)
	s.m.Wait(40 * time.Minute)
	turn(labor.Stop)
	v := read[work.Visit](t, s.docs, "visit", "V1")
	assert.Equal(t, []string{"ben"}, v.Asks())
	assert.Contains(t, v.Others(), "ben", "the visit is on his device, so that he can answer")
	assert.Empty(t, append(v.Helpers, v.Clocking()...))
	assert.Empty(t, s.docs[ledger.TimecardRef("ben", ledgertest.Start)], "nothing is on his card")

	no := maps.Clone(s.docs)
	_, flags := s.there("ben", "V1", false)
	assert.Equal(t, []string{"crew.denied"}, flags, "the office hears of it")
	v = read[work.Visit](t, s.docs, "visit", "V1")
	assert.Empty(t, append(v.Asks(), v.Helpers...))
	assert.Empty(t, s.docs[ledger.TimecardRef("ben", ledgertest.Start)])

	s.docs = no
	s.there("ben", "V1", true)
	spans := s.spans("ben")
	require.Len(t, spans, 1, "all of it, on one card")
	assert.EqualValues(t, 40*60, spans[0].Seconds())
	assert.Equal(t, "ann", spans[0].By)
	assert.Equal(t, []string{"ben"}, read[work.Visit](t, s.docs, "visit", "V1").Helpers)
	again := s.fold(s.m.Entry("ben", "crew.answered", "visit", "V1", ledger.CrewAnswered{There: true,
		Steps: []ledger.StepRef{{Entry: spans[0].Visit, At: ledgertest.Start}}}))
	assert.Contains(t, again.Error, "crew.not_asked")
	s.m.Wait(time.Minute)
	turn(labor.Work)
	assert.Equal(t, []string{"ben"}, read[work.Visit](t, s.docs, "visit", "V1").Clocking(), "who said so once is on the visit")
}

// What was recorded before helpers were asked counts as it did.
func TestAHelpersClockOfBefore(t *testing.T) {
	s := newScene(t)
	e := s.m.Entry("ann", "crew.clocked", "visit", "V1", ledger.CrewClocked{Helper: "ben", Clock: labor.Work})
	e.V = 1
	assert.Empty(t, s.fold(e).Error)
	assert.Equal(t, []string{"ben"}, read[work.Visit](t, s.docs, "visit", "V1").Clocking())
}

func TestALeadClocksAHelper(t *testing.T) {
	s := newScene(t)
	clock := func(actor string, kind labor.Kind, visit string) []string {
		_, flags := s.says(actor, "crew.clocked", visit, ledger.CrewClocked{Helper: "ben", Clock: kind})
		return flags
	}
	s.says("ann", "visit.arrived", "V1", ledger.Step{})
	assert.Empty(t, clock("ann", labor.Work, "V1"))
	s.there("ben", "V1", true)
	v := read[work.Visit](t, s.docs, "visit", "V1")
	assert.Equal(t, []string{"ben"}, v.Clocking())
	s.m.Wait(30 * time.Minute)
	assert.Equal(t, []string{"time.overlap"}, clock("ben", labor.Work, "V1"), "the helper clocks too")
	s.m.Wait(30 * time.Minute)
	clock("ben", labor.Stop, "V1")
	s.m.Wait(30 * time.Minute)
	clock("ann", labor.Stop, "V1")
	spans := s.spans("ben")
	require.Len(t, spans, 2, "%v", spans)
	assert.Equal(t, []string{"ann", ""}, []string{spans[0].By, spans[1].By}, "the own device comes first")
	assert.Equal(t, int64(3600), spans[0].Seconds()+spans[1].Seconds())
	assert.Equal(t, work.OnSite, read[work.Visit](t, s.docs, "visit", "V1").Stage, "a helper's clock is not the visit's stage")
}

// When somebody else closes a visit its end is where it was planned, and waits to be confirmed.
func TestAForgottenFinish(t *testing.T) {
	s := newScene(t)
	s.m.Wait(time.Hour)
	s.says("ann", "visit.arrived", "V1", ledger.Step{}) // 08:00, planned until 09:30
	s.says("ann", "crew.clocked", "V1", ledger.CrewClocked{Helper: "ben", Clock: labor.Work})
	s.there("ben", "V1", true)
	s.m.Wait(5 * time.Hour)
	now := s.m.Entry("x", "x", "", "", 0).At
	v := read[work.Visit](t, s.docs, "visit", "V1")
	end, people := v.Closing(now)
	assert.Equal(t, "09:30", end.Format("15:04"))
	assert.Equal(t, []string{"ann", "ben"}, people)
	r := s.fold(s.m.Entry("office", "visit.closed", "visit", "V1", ledger.Closed{Outcome: work.Complete, End: now, People: people}))
	assert.Contains(t, r.Error, "visit.changed_meanwhile", "it is not stretched to the moment of closing")
	s.says("office", "visit.closed", "V1", ledger.Closed{Outcome: work.Complete, End: end, People: people})
	v = read[work.Visit](t, s.docs, "visit", "V1")
	assert.Equal(t, work.Finished, v.Stage)
	require.NotNil(t, v.Unconfirmed())
	for _, p := range people {
		assert.Equal(t, int64(90*60), s.spans(p)[0].Seconds(), p)
	}

	_, flags := s.says("ann", "visit.end_confirmed", "V1", ledger.EndConfirmed{End: end.Add(45 * time.Minute)})
	assert.Empty(t, flags)
	v = read[work.Visit](t, s.docs, "visit", "V1")
	assert.Nil(t, v.Unconfirmed())
	assert.Equal(t, "10:15", v.Ended().Format("15:04"))
	assert.Equal(t, work.Complete, v.Outcome)
	assert.Equal(t, int64(135*60), s.spans("ann")[0].Seconds())
	assert.Len(t, v.Steps, 3, "the end that was set stays visible")
}

func TestClosingLaterThanPlannedButStamped(t *testing.T) {
	s := newScene(t)
	s.m.Wait(4 * time.Hour)
	s.says("ann", "visit.arrived", "V1", ledger.Step{}) // 11:00, after the planned end
	s.m.Wait(time.Hour)
	end, _ := read[work.Visit](t, s.docs, "visit", "V1").Closing(s.m.Entry("x", "x", "", "", 0).At)
	assert.Equal(t, "11:00", end.Format("15:04"))
}

func TestIndirectTimeAndTheDay(t *testing.T) {
	s := newScene(t)
	for _, step := range []struct {
		kind string
		body any
	}{{"day.started", ledger.DayBegun{Home: true}}, {"time.started", ledger.Clocked{Code: "yard"}}, {"time.stopped", ledger.Nothing{}},
		{"time.started", ledger.Clocked{Code: "workshop"}}, {"day.ended", ledger.Nothing{}}} {
		_, code, _ := s.card("ann", step.kind, annsDay, step.body)
		require.Empty(t, code)
		s.m.Wait(10 * time.Minute)
	}
	spans := s.spans("ann")
	require.Len(t, spans, 2)
	assert.Equal(t, []string{"yard", "workshop"}, []string{spans[0].Code, spans[1].Code})
	_, code, _ := s.card("ann", "time.started", "ann+2026-03-11", ledger.Clocked{Code: "yard"})
	assert.Contains(t, code, "time.other_day")
	_, code, _ = s.card("ben", "time.started", annsDay, ledger.Clocked{Code: "yard"})
	assert.Contains(t, code, "strike.not_yours")
	_, code, _ = s.card("ann", "time.started", "ann", ledger.Clocked{Code: "yard"})
	assert.Contains(t, code, "time.card")
	_, _, flags := s.card("ann", "note.to_office", annsDay, ledger.Note{Text: "Out of grease"})
	assert.Equal(t, []string{"note.to_office"}, flags)
}

func TestCorrectionsAndApproval(t *testing.T) {
	s := newScene(t)
	at := func(minutes int) time.Time { return ledgertest.Start.Add(time.Duration(minutes) * time.Minute) }
	body := ledger.Corrected{Reason: "Forgot to tap",
		Pieces: []labor.Piece{{What: labor.What{Kind: labor.Work, Visit: "V1"}, Start: at(0), End: at(30)}}}
	s.m.Wait(2 * time.Hour)
	fix, code, _ := s.card("ann", "time.corrected", annsDay, body)
	require.Empty(t, code)
	assert.Equal(t, int64(1800), s.spans("ann")[0].Seconds())
	_, code, _ = s.card("ann", "time.corrected", annsDay, ledger.Corrected{Pieces: body.Pieces})
	assert.Contains(t, code, "text.missing", "a correction has a reason")
	_, code, _ = s.card("ben", "time.corrected", annsDay, body)
	assert.Contains(t, code, "strike.not_yours")
	struck := ledgertest.Strike(s.docs, fix)
	_, code, _ = s.card("ann", "entry.struck", annsDay, struck)
	require.Empty(t, code)
	assert.Empty(t, s.spans("ann"))

	s.says("ann", "visit.arrived", "V1", ledger.Step{})
	s.m.Wait(time.Minute)
	_, code, _ = s.card("office", "day.approved", annsDay, ledger.Nothing{})
	assert.Contains(t, code, "time.running", "a day that runs is not over")
	s.m.Wait(time.Hour)
	finished, _ := s.says("ann", "visit.finished", "V1", ledger.Step{Outcome: work.Complete})
	undone := ledgertest.Strike(s.docs, finished)
	_, code, _ = s.card("office", "day.approved", annsDay, ledger.Nothing{})
	require.Empty(t, code)

	// From now on only the office changes it, after it has opened it again.
	s.m.Wait(time.Minute)
	_, code, _ = s.card("ann", "time.corrected", annsDay, body)
	assert.Contains(t, code, "time.approved")
	_, code, _ = s.card("office", "time.corrected_by_office", annsDay, body)
	assert.Contains(t, code, "time.approved")
	r := s.fold(s.m.Entry("ann", "entry.struck", "visit", "V1", undone))
	assert.Contains(t, r.Error, "time.approved")
	before := s.spans("ann")
	_, flags := s.says("ann", "visit.arrived", "V1", ledger.Step{})
	assert.Equal(t, []string{"time.approved_meanwhile"}, flags, "what happened is kept")
	assert.Equal(t, before, s.spans("ann"))
	s.m.Wait(-30 * time.Minute) // recorded before the approval, and heard of after
	_, code, flags = s.card("ann", "time.corrected", annsDay, ledger.Corrected{Reason: "x",
		Pieces: []labor.Piece{{What: labor.What{Kind: labor.Off}, Start: at(60), End: at(70)}}})
	assert.Empty(t, code)
	assert.Equal(t, []string{"time.approved_meanwhile"}, flags)
	_, flags = s.says("ann", "entry.struck", "V1", undone)
	assert.Equal(t, []string{"time.approved_meanwhile"}, flags, "a strike-out of before the approval is kept too")
	assert.Equal(t, work.OnSite, read[work.Visit](t, s.docs, "visit", "V1").Stage)
	s.m.Wait(time.Hour)
	assert.Equal(t, before, s.spans("ann"), "and changes nothing on the day that was approved")

	_, code, _ = s.card("office", "day.posted", annsDay, ledger.Nothing{})
	require.Empty(t, code)
	_, code, _ = s.card("office", "day.reopened", annsDay, ledger.Nothing{})
	require.Empty(t, code)
	_, code, _ = s.card("office", "day.reopened", annsDay, ledger.Nothing{})
	assert.Contains(t, code, "time.not_approved")
	_, code, _ = s.card("office", "time.corrected_by_office", annsDay, body)
	assert.Empty(t, code)
}

func TestMessagesAndRequests(t *testing.T) {
	s := newScene(t)
	_, flags := s.says("ann", "message.sent", "V1", ledger.MessageSent{Template: "on_the_way", To: "+353 1 555 1000", Text: "On the way."})
	assert.Empty(t, flags)
	_, flags = s.says("ann", "part.requested", "V1", ledger.PartRequested{Text: "Seal 38 mm", Quantity: decimal.NewFromInt(2)})
	assert.Empty(t, flags)
	v := read[work.Visit](t, s.docs, "visit", "V1")
	assert.Len(t, v.Messages, 1)
	assert.Len(t, v.Requests, 1)
	for _, body := range []ledger.MessageSent{{Text: "x"}, {To: "x"}} {
		assert.NotEmpty(t, s.fold(s.m.Entry("ann", "message.sent", "visit", "V1", body)).Error)
	}
	assert.NotEmpty(t, s.fold(s.m.Entry("ann", "part.requested", "visit", "V1",
		ledger.PartRequested{Text: "x", Quantity: decimal.NewFromInt(-1)})).Error)
}

func TestTemplates(t *testing.T) {
	m := records.Template{ID: "way", Text: "{technician} of {company} is on the way, at about {time}. {}"}
	require.NoError(t, m.Check())
	assert.Equal(t, "Ann of Vella is on the way, at about 10:20. {}",
		m.Fill(map[string]string{"technician": "Ann", "company": "Vella", "time": "10:20"}))
	assert.ErrorContains(t, records.Template{ID: "way", Text: "{colour}"}.Check(), "message.field")
}

// A length of time without begin and end counts where the company takes such, and is struck out like what was tapped.
func TestALengthOfTimeIsTold(t *testing.T) {
	m, docs := company(t)
	tell := func(b ledger.TimeTold) ledgertest.Result {
		m.Wait(time.Minute)
		return take(t, docs, m.Entry("ann", "time.told", "timecard", ledger.TimecardRef("ann", m.Now()).ID, b))
	}
	work := labor.What{Kind: labor.Work, Visit: "V1"}
	require.Empty(t, tell(ledger.TimeTold{What: work, Minutes: 45, Text: "Drawings"}).Error)
	card := ledger.TimecardRef("ann", m.Now()).ID
	spans := func() []labor.Span { return labor.Spans(m.Now(), read[labor.Timecard](t, docs, "timecard", card)) }
	require.Len(t, spans(), 1)
	assert.Equal(t, []any{int64(45 * 60), true, "Drawings"}, []any{spans()[0].Seconds(), spans()[0].Loose, spans()[0].Text})
	assert.Contains(t, tell(ledger.TimeTold{What: work}).Error, "time.minutes")
	assert.Contains(t, tell(ledger.TimeTold{What: labor.What{Kind: labor.Break}, Minutes: 5}).Error, "time.kind")
	m.Wait(time.Minute)
	require.Empty(t, take(t, docs, m.Entry("office", "settings.changed", "settings", "time",
		ledgertest.Changed("time", map[string]any{"lengths": false}))).Error)
	assert.Contains(t, tell(ledger.TimeTold{What: work, Minutes: 5}).Error, "time.lengths")
}
