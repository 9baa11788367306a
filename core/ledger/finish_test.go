package ledger_test

import (
	"maps"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"iter.example/iter/core/calendar"
	"iter.example/iter/core/ledger"
	"iter.example/iter/core/ledger/ledgertest"
	"iter.example/iter/core/records"
	"iter.example/iter/core/report"
	"iter.example/iter/core/signoff"
	"iter.example/iter/core/talk"
	"iter.example/iter/core/work"
)

func TestAReturnIsKeptOnTheWorkOrder(t *testing.T) {
	s := newScene(t)
	needed := &work.Needed{Needs: []work.Need{{Part: "P1", Quantity: d(2)}}, Skills: []string{"electrics"}, Minutes: 45,
		Note: "Bring the long ladder"}
	finish := s.m.Entry("ann", "visit.finished", "visit", "V1", ledger.Step{Outcome: work.ReturnNeeded, Reason: "part", Order: "W1",
		Needed: needed})
	require.Empty(t, s.fold(finish).Error)
	o := read[work.Order](t, s.docs, "workorder", "W1")
	require.Len(t, o.Returns, 1)
	assert.Equal(t, work.Return{Entry: finish.ID, Visit: "V1", At: finish.At, Person: "ann", Outcome: work.ReturnNeeded, Reason: "part",
		Needed: *needed}, o.Returns[0])
	v := read[work.Visit](t, s.docs, "visit", "V1")
	assert.False(t, v.Closes())
	assert.True(t, v.NeedsSignature())
	assert.Equal(t, work.Back, work.StateOf(v.Trip()))

	s.m.Wait(time.Minute)
	struck := s.m.Entry("ann", "entry.struck", "visit", "V1", ledgertest.Strike(s.docs, finish))
	require.Empty(t, s.fold(struck).Error)
	assert.Nil(t, new(read[work.Order](t, s.docs, "workorder", "W1")).Standing())

	for name, b := range map[string]ledger.Step{
		"of another order": {Outcome: work.ReturnNeeded, Order: "W9"},
		"without an order": {Outcome: work.ReturnNeeded, Needed: needed},
		"absurd":           {Outcome: work.ReturnNeeded, Order: "W1", Needed: &work.Needed{Minutes: -1}},
	} {
		assert.NotEmpty(t, s.fold(s.m.Entry("ann", "visit.finished", "visit", "V1", b)).Error, name)
	}
}

// Finished on two devices: both are kept, the later end holds, and a person is told.
func TestFinishedTwice(t *testing.T) {
	s := newScene(t)
	first := s.m.Entry("ann", "visit.finished", "visit", "V1", ledger.Step{Outcome: work.ReturnNeeded, Order: "W1"})
	s.m.Wait(time.Minute)
	second := s.m.Entry("ann", "visit.finished", "visit", "V1", ledger.Step{Outcome: work.Complete})
	require.Empty(t, s.fold(second).Flags)
	r := s.fold(first)
	require.Empty(t, r.Error)
	assert.Equal(t, "visit.finished_twice", r.Flags[0].Code.Code)
	v := read[work.Visit](t, s.docs, "visit", "V1")
	assert.Len(t, v.Steps, 2)
	assert.Equal(t, work.Complete, v.Outcome)
	assert.Equal(t, work.Closed, work.StateOf(v.Trip()))
}

func TestWorkThatIsFound(t *testing.T) {
	s := newScene(t)
	b := ledger.WorkFound{Found: work.Found{How: work.OtherAsset, Visit: "V1"}, Customer: "C1", Site: "S1", Asset: "A1",
		Problem: "Panel hums", Priority: work.Normal, Minutes: 30}
	id := "01JQ00000000000000000ABCDE"
	require.Empty(t, s.fold(s.m.Entry("ann", "work.found", "workorder", id, b)).Error)
	o := read[work.Order](t, s.docs, "workorder", id)
	assert.Equal(t, "FABCDE", o.Number)
	assert.Equal(t, work.OtherAsset, o.Found.How)
	assert.Empty(t, o.Visits, "left for planning")
	assert.NotEmpty(t, s.fold(s.m.Entry("ann", "work.found", "workorder", id, b)).Error, "once")

	b.Begin = "V7"
	require.Empty(t, s.fold(s.m.Entry("ann", "work.found", "workorder", "01JQ00000000000000000ABCDF", b)).Error)
	v := read[work.Visit](t, s.docs, "visit", "V7")
	assert.Equal(t, work.Accepted, v.Stage)
	assert.Equal(t, "ann", v.Technician)
	set := s.m.Entry("ann", "visit.arrived", "visit", "V7", ledger.Step{})
	require.Empty(t, s.fold(set).Flags)
	b.Asset, b.Begin = "A9", ""
	assert.NotEmpty(t, s.fold(s.m.Entry("ann", "work.found", "workorder", "01JQ00000000000000000ABCDG", b)).Error,
		"a machine that is not there")
}

// Work for somebody nobody knew: customer, site and machine come into being with it, or nothing does.
func TestWorkThatIsFoundForSomebodyNew(t *testing.T) {
	s := newScene(t)
	b := ledger.WorkFound{Found: work.Found{How: work.Seen, New: []string{"person"}}, Customer: "C7", Site: "S7", Asset: "A7",
		Problem: "Panel hums", Priority: work.Normal, Minutes: 30,
		Records: &ledger.NewRecords{Customer: &records.Customer{Name: "Quill Dairy"}, Site: &records.Site{Customer: "C7", Name: "Weir"},
			Asset: &records.Asset{Site: "S7", Name: "Pump"}}}
	found := func(b ledger.WorkFound) string {
		return s.fold(s.m.Entry("ann", "work.found", "workorder", "01JQ00000000000000000ABCDE", b)).Error
	}
	for name, wrong := range map[string]func(*ledger.WorkFound){
		"a site of somebody else's": func(b *ledger.WorkFound) { b.Records.Site = &records.Site{Customer: "C1", Name: "Weir"} },
		"a machine elsewhere":       func(b *ledger.WorkFound) { b.Records.Asset = &records.Asset{Site: "S1", Name: "Pump"} },
		"a customer without a name": func(b *ledger.WorkFound) { b.Records.Customer = &records.Customer{} },
		"no site":                   func(b *ledger.WorkFound) { b.Records.Site = nil },
		"a customer that there is": func(b *ledger.WorkFound) {
			b.Customer, b.Records.Site = "C1", &records.Site{Customer: "C1", Name: "Weir"}
		},
	} {
		bad := b
		made := *b.Records
		bad.Records = &made
		wrong(&bad)
		assert.NotEmpty(t, found(bad), name)
		assert.NotContains(t, s.docs, ledger.Ref{Type: "site", ID: "S7"}, name)
	}
	require.Empty(t, found(b))
	assert.Equal(t, "Quill Dairy", read[records.Customer](t, s.docs, "customer", "C7").Name)
	assert.Equal(t, "S7", read[records.Asset](t, s.docs, "asset", "A7").Site)
	o := read[work.Order](t, s.docs, "workorder", "01JQ00000000000000000ABCDE")
	assert.Equal(t, []string{"asset", "customer", "site"}, o.Found.New)
}

// One signature for several work orders: a colleague's visit is signed without a word about whose it is.
func TestSignedTogether(t *testing.T) {
	s := newScene(t)
	require.Empty(t, s.fold(s.m.Entry("office", "visit.planned", "visit", "V2",
		ledger.Plan{Order: "W1", Technician: "ben", Start: ledgertest.Start, Minutes: 30})).Error)
	b := ledgertest.Signed(signoff.Summary{Order: "4127"}, "Tam Hale")
	alone := s.fold(s.m.Entry("ann", "signoff.captured", "visit", "V2", b))
	assert.Equal(t, "visit.not_theirs", alone.Flags[0].Code.Code)
	b.With = []string{"V1"}
	assert.Empty(t, s.fold(s.m.Entry("ann", "signoff.captured", "visit", "V2", b)).Flags)
	require.Empty(t, s.fold(s.m.Entry("office", "visit.withdrawn", "visit", "V2", ledger.Withdraw{})).Error)
	late := s.fold(s.m.Entry("ann", "signoff.captured", "visit", "V2", b))
	assert.Empty(t, late.Error, "signed after it was withdrawn: kept")
	assert.Equal(t, "visit.withdrawn_meanwhile", late.Flags[0].Code.Code)
	assert.Len(t, read[work.Visit](t, s.docs, "visit", "V2").Signatures, 3)
}

func TestTheOfficeAsks(t *testing.T) {
	s := newScene(t)
	ask := func() ledger.Entry {
		return s.m.Entry("office", "visit.questioned", "visit", "V1", ledger.Questioned{Text: "Which seal?"})
	}
	assert.NotEmpty(t, s.fold(ask()).Error, "it is not over")
	require.Empty(t, s.fold(s.m.Entry("ann", "visit.finished", "visit", "V1", ledger.Step{Outcome: work.Complete})).Error)
	q := ask()
	require.Empty(t, s.fold(q).Error)
	assert.NotEmpty(t, s.fold(ask()).Error, "one at a time")
	require.Empty(t, s.fold(s.m.Entry("ann", "question.answered", "visit", "V1",
		ledger.QuestionAnswered{Question: q.ID, Text: "The upper"})).Error)
	s.m.Wait(time.Minute)
	require.Empty(t, s.fold(s.m.Entry("ann", "question.answered", "visit", "V1",
		ledger.QuestionAnswered{Question: q.ID, Text: "38 mm"})).Error)
	v := read[work.Visit](t, s.docs, "visit", "V1")
	assert.Nil(t, v.Asked())
	assert.Equal(t, "The upper\n38 mm", v.Questions[0].Answer, "two answers from two devices are both kept")
}

func TestTalk(t *testing.T) {
	s := newScene(t)
	say := func(actor, text string, office bool) ledger.Entry {
		e := s.m.Entry(actor, "talk.said", "talk", "W1", ledger.TalkSaid{Text: text, Office: office})
		require.Empty(t, s.fold(e).Error)
		s.m.Wait(time.Second)
		return e
	}
	say("ann", "Gate is locked", false)
	last := say("office", "Ring Tam Hale", true)
	c := read[talk.Talk](t, s.docs, "talk", "W1")
	assert.Equal(t, []int{1, 0}, []int{c.Unread("ann"), c.Unread(talk.Office)})
	require.Empty(t, s.fold(s.m.Entry("ann", "talk.read", "talk", "W1", ledger.TalkRead{Entry: last.ID})).Error)
	assert.Zero(t, new(read[talk.Talk](t, s.docs, "talk", "W1")).Unread("ann"))
}

func TestReports(t *testing.T) {
	s := newScene(t)
	r := report.Report{Layout: report.Full, Order: "4127", At: ledgertest.Start}
	digest, err := r.Digest()
	require.NoError(t, err)
	b := ledger.ReportMade{Report: r, Digest: digest, PDF: strings.Repeat("a", 64), Size: 9000}
	made := s.m.Entry("ann", "report.made", "visit", "V1", b)
	require.Empty(t, s.fold(made).Error)
	assert.Equal(t, report.Code(digest), read[work.Visit](t, s.docs, "visit", "V1").Reports[0].Code)
	b.Report.Order = "4128"
	assert.NotEmpty(t, s.fold(s.m.Entry("ann", "report.made", "visit", "V1", b)).Error, "what it says is not what the digest is of")

	require.Empty(t, s.fold(s.m.Entry("ann", "report.sent", "visit", "V1",
		ledger.ReportSent{Report: made.ID, To: "tam@example.net"})).Error)
	assert.Equal(t, made.ID, read[work.Visit](t, s.docs, "visit", "V1").Messages[0].Report)
	assert.NotEmpty(t, s.fold(s.m.Entry("ann", "report.sent", "visit", "V1",
		ledger.ReportSent{Report: "01JQ00000000000000000ABCDE", To: "x"})).Error)
}

func TestARecommendationAndANoteForTheOffice(t *testing.T) {
	s := newScene(t)
	p := s.m.Entry("ann", "work.proposed", "visit", "V1", ledger.Proposed{Kind: work.Recommendation, Text: "Second seal",
		Lines: []work.ProposalLine{{Text: "Seal", Part: "P1", Quantity: d(1)}, {Text: "Labour", Quantity: d(2), Unit: "h"}}})
	require.Empty(t, s.fold(p).Error)
	require.Empty(t, s.fold(s.m.Entry("ann", "proposal.answered", "visit", "V1",
		ledger.ProposalAnswered{Proposal: p.ID, Answers: []work.Answer{work.Taken, work.Left}, Name: "Tam Hale"})).Error)
	require.Empty(t, s.fold(s.m.Entry("ann", "note.written", "visit", "V1", ledger.Note{Text: "Gate code is new", Office: true})).Error)
	v := read[work.Visit](t, s.docs, "visit", "V1")
	var got []work.Concern
	for _, a := range v.Attentions("A1", nil) {
		got = append(got, a.Concern)
	}
	assert.Equal(t, []work.Concern{work.ConcernNote, work.ConcernFollowUp}, got)
	assert.NotEmpty(t, s.fold(s.m.Entry("ann", "work.proposed", "visit", "V1",
		ledger.Proposed{Kind: work.Recommendation, Text: "x",
			Lines: []work.ProposalLine{{Text: "Seal", Quantity: d(1), Answer: work.Taken}}})).Error, "nobody accepts before it is put to them")
}

func TestFoundWorkOfAnEarlierProgram(t *testing.T) {
	s := newScene(t)
	e := s.m.Entry("ann", "work.found", "workorder", "W7", map[string]any{"how": "discovered", "customer": "C1", "site": "S1",
		"problem": "Drain cover is cracked", "priority": "normal", "minutes": 60})
	e.V = 1
	require.Empty(t, s.fold(e).Error)
	assert.Equal(t, work.Seen, read[work.Order](t, s.docs, "workorder", "W7").Found.How)
}

// What can't be meant is refused, and leaves everything as it was; the same with what was meant is taken.
func TestWhatEndsAVisitIsChecked(t *testing.T) {
	long := strings.Repeat("long ", 7000)
	found := ledger.WorkFound{Found: work.Found{How: work.Seen, Visit: "V1"}, Customer: "C1", Site: "S1",
		Problem: "Drain cover is cracked", Priority: work.Normal, Minutes: 60}
	wrongly := func(change func(*ledger.WorkFound)) ledger.WorkFound {
		b := found
		change(&b)
		return b
	}
	for kind, c := range map[string]struct {
		subject, id string
		right       any
		wrong       map[string]any
	}{
		"ready.skipped": {"visit", "V1", ledger.Skipped{Key: "note", Reason: "no_time"}, map[string]any{
			"of nothing": ledger.Skipped{Reason: "no_time"}, "without a reason": ledger.Skipped{Key: "note"}}},
		"signoff.missed": {"visit", "V1", ledger.Absent{Reason: "nobody"}, map[string]any{
			"without a reason": ledger.Absent{Name: "Tam Hale"}, "of a long name": ledger.Absent{Reason: "nobody", Name: long},
			"beyond the pole": ledger.Absent{Reason: "nobody", Where: &work.Where{Lat: 91}}}},
		"note.written": {"visit", "V1", ledger.Note{Text: long[:30_000]}, map[string]any{
			"empty": ledger.Note{}, "of blanks": ledger.Note{Text: " \n "}, "too long": ledger.Note{Text: long}}},
		"talk.said": {"talk", "W1", ledger.TalkSaid{Text: "Gate is locked", Visit: "V1"}, map[string]any{
			"empty": ledger.TalkSaid{Visit: "V1"}, "of a visit with no id": ledger.TalkSaid{Text: "x", Visit: "a b/c"},
			"too long": ledger.TalkSaid{Text: long}}},
		"absence.asked": {"absences", "ann", ledger.AbsenceAsked{Off: calendar.Off{From: "2026-12-21", To: "2026-12-24"}}, map[string]any{
			"of no day": ledger.AbsenceAsked{}, "backwards": ledger.AbsenceAsked{Off: calendar.Off{From: "2026-12-21", To: "2026-12-20"}},
			"of a long note": ledger.AbsenceAsked{Off: calendar.Off{From: "2026-12-21", To: "2026-12-24"}, Note: long}}},
		"work.found": {"workorder", "W7", found, map[string]any{
			"in no way we know":   wrongly(func(b *ledger.WorkFound) { b.How = "heard" }),
			"without a problem":   wrongly(func(b *ledger.WorkFound) { b.Problem = "" }),
			"for a long name":     wrongly(func(b *ledger.WorkFound) { b.Who = long }),
			"of no time":          wrongly(func(b *ledger.WorkFound) { b.Minutes = -1 }),
			"on a wrong machine":  wrongly(func(b *ledger.WorkFound) { b.Asset = "a b/c" }),
			"at a site not there": wrongly(func(b *ledger.WorkFound) { b.Site = "S99" })}},
	} {
		t.Run(kind, func(t *testing.T) {
			s := newScene(t)
			before := maps.Clone(s.docs)
			for name, b := range c.wrong {
				assert.NotEmpty(t, s.fold(s.m.Entry("ann", kind, c.subject, c.id, b)).Error, name)
			}
			assert.Equal(t, before, s.docs)
			assert.Empty(t, s.fold(s.m.Entry("ann", kind, c.subject, c.id, c.right)).Error)
			assert.NotEqual(t, before, s.docs)
		})
	}
}
