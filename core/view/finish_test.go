package view_test

import (
	"encoding/json"
	"fmt"
	"strings"
	"testing"
	"time"

	"github.com/shopspring/decimal"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"iter.example/iter/core/labor"
	"iter.example/iter/core/ledger"
	"iter.example/iter/core/ledger/ledgertest"
	"iter.example/iter/core/records"
	"iter.example/iter/core/report"
	"iter.example/iter/core/signoff"
	"iter.example/iter/core/view"
	"iter.example/iter/core/work"
)

// change changes the company's rules of a subject.
func (s *scene) change(subject string, to map[string]any) {
	e := s.m.Entry("office", "settings.changed", "settings", subject, ledgertest.Changed(subject, to))
	require.Empty(s.t, ledgertest.Fold(s.docs, []ledger.Entry{e})[0].Error)
	s.wait(time.Second)
}

func (s *scene) report(w view.Wish) report.Report {
	docs := ledger.Docs{}
	for {
		r, wanted, err := view.ReportOf("V1", docs, s.now, w)
		require.NoError(s.t, err)
		if r != nil {
			return *r
		}
		for _, ref := range wanted {
			docs[ref] = s.docs[ref]
		}
	}
}

func (s *scene) summary(day string) (signoff.Summary, string) {
	docs := ledger.Docs{}
	for {
		sum, digest, wanted, err := view.SummaryOf("V1", docs, s.now, day)
		require.NoError(s.t, err)
		if len(wanted) == 0 {
			return sum, digest
		}
		for _, ref := range wanted {
			docs[ref] = s.docs[ref]
		}
	}
}

func hash(letter string) string { return strings.Repeat(letter, 64) }

// Work over two days is signed for day by day: each signature stands for what was done on its day, and only a change of that day touches
// it.
func TestSignedDayByDay(t *testing.T) {
	s := newScene(t)
	s.record("ann", "visit.arrived", "V1", ledger.Step{})
	s.record("ann", "note.written", "V1", ledger.Note{Text: "Pump out"})
	s.wait(2 * time.Hour)
	s.record("ann", "visit.paused", "V1", ledger.Step{Clock: labor.Break})
	first := s.now.Format(time.DateOnly)
	sum, digest := s.summary(first)
	assert.Equal(t, []string{"Pump out"}, sum.Notes)
	assert.InDelta(t, 7200, sum.Hours.Work, 5)
	s.record("ann", "signoff.captured", "V1", ledger.Signed{Name: "Tam Hale", Role: "Owner",
		Strokes: signoff.Strokes{{{1, 1}, {90, 40}, {200, 10}}}, Summary: sum, Digest: digest})
	assert.Contains(t, codes(s.view("V1").Ready.Missing()), "missing.task")
	assert.NotContains(t, codes(s.view("V1").Ready.Missing()), "missing.signature", "the only day so far is signed for")

	s.wait(24 * time.Hour)
	s.record("ann", "visit.resumed", "V1", ledger.Step{})
	s.record("ann", "note.written", "V1", ledger.Note{Text: "Pump in"})
	s.wait(time.Hour)
	v := s.view("V1")
	assert.Len(t, v.Days, 2)
	assert.False(t, v.Changed, "what was done today is not what was signed yesterday")
	assert.Contains(t, codes(v.Ready.Missing()), "missing.signature", "today is not signed for")
	today, _ := s.summary(s.now.Format(time.DateOnly))
	assert.Equal(t, []string{"Pump in"}, today.Notes)
	whole, _ := s.summary("")
	assert.Equal(t, []string{"Pump out", "Pump in"}, whole.Notes)
	assert.Equal(t, whole.Hours.Work, sum.Hours.Work+today.Hours.Work)
}

// A signature of before summaries had tasks and outcomes is held against what was shown then.
func TestAnEarlierSummaryIsNotChangedByALaterProgram(t *testing.T) {
	s := newScene(t)
	s.record("ann", "visit.arrived", "V1", ledger.Step{})
	old := s.view("V1").Summary
	old.V, old.Tasks, old.Advice, old.Outcome = 0, nil, nil, ""
	digest, err := signoff.Digest(old)
	require.NoError(t, err)
	s.record("ann", "signoff.captured", "V1", ledger.Signed{Name: "Tam Hale", Role: "Owner",
		Strokes: signoff.Strokes{{{1, 1}, {90, 40}, {200, 10}}}, Summary: old, Digest: digest})
	s.record("ann", "task.done", "V1", ledger.TaskTaken{Order: "W1", Task: "t1"})
	assert.False(t, s.view("V1").Changed)
	s.record("ann", "note.written", "V1", ledger.Note{Text: "Seal worn"})
	assert.True(t, s.view("V1").Changed)
}

func TestExceptions(t *testing.T) {
	kinds := func(v *view.Visit) (out []string) {
		for _, e := range v.Exceptions() {
			out = append(out, string(e.Kind)+" "+e.Text)
		}
		return out
	}
	s := newScene(t)
	s.wait(3 * time.Hour)
	s.record("ann", "visit.arrived", "V1", ledger.Step{})
	s.record("ann", "reading.taken", "V1", ledger.Taken{Asset: "A1", Point: "discharge", Value: decimal.RequireFromString("2.1"),
		Unit: "bar"})
	for _, task := range []string{"t1", "t2"} {
		s.record("ann", "task.done", "V1", ledger.TaskTaken{Order: "W1", Task: task})
	}
	s.record("ann", "ready.skipped", "V1", ledger.Skipped{Key: "sheet pump@1", Reason: "no_time"})
	s.wait(125 * time.Minute)
	s.record("ann", "visit.finished", "V1", ledger.Step{Outcome: work.Complete})
	assert.Equal(t, []string{"unsigned ", "limits 1", "over_time 35", "left_out 1"}, kinds(s.view("V1")), "90 minutes were expected")

	// The promise was kept or not by when somebody came.
	var o work.Order
	require.NoError(t, json.Unmarshal(s.docs[ledger.Ref{Type: "workorder", ID: "W1"}], &o))
	o.PromiseTo = ledgertest.Start.Add(2 * time.Hour)
	raw, err := json.Marshal(o)
	require.NoError(t, err)
	s.docs[ledger.Ref{Type: "workorder", ID: "W1"}] = raw
	s.record("ann", "signoff.missed", "V1", ledger.Absent{Reason: "nobody"})
	assert.Equal(t, []string{"absent ", "limits 1", "over_time 35", "late 60", "left_out 1"}, kinds(s.view("V1")))
}

func TestWhatAReportSays(t *testing.T) {
	s := newScene(t)
	s.change("company", map[string]any{"phone": "0200 41 22"})
	s.change("reports", map[string]any{"lines": []string{"Quay 4"}, "layout": "short"})
	s.change("visits", map[string]any{
		"returns": []records.Choice{{ID: "part", Text: "A part is needed"}}})
	s.record("ann", "visit.arrived", "V1", ledger.Step{})
	s.record("ann", "note.written", "V1", ledger.Note{Text: "Seal worn"})
	s.record("ann", "note.written", "V1", ledger.Note{Text: "They pay late", Office: true})
	wrong := s.record("ann", "note.written", "V1", ledger.Note{Text: "Wrong site"})
	s.record("ann", "entry.struck", "V1", ledgertest.Strike(s.docs, wrong))
	s.record("ann", "part.used", "V1", ledger.Use{Part: "P1", Place: "van-ann", Quantity: decimal.NewFromInt(1)})
	s.record("ann", "reading.taken", "V1", ledger.Taken{Asset: "A1", Point: "discharge", Value: decimal.RequireFromString("2.1"),
		Unit: "bar"})
	price := decimal.NewFromInt(9)
	s.record("ann", "work.proposed", "V1", ledger.Proposed{Kind: work.Recommendation, Text: "Second seal",
		Lines: []work.ProposalLine{{Text: "Seal", Quantity: decimal.NewFromInt(1), Price: &price}}})
	file := func(letter string, size int64, print *work.FileRef) ledger.Entry {
		return s.record("ann", "file.attached", "V1",
			ledger.File{FileRef: work.FileRef{Hash: hash(letter), Name: letter + ".jpg", Type: "image/jpeg", Size: size}, Print: print})
	}
	small := &work.FileRef{Hash: hash("b"), Name: "a.jpg", Type: "image/jpeg", Size: 900}
	large := file("a", 3<<20, small)
	file("c", 1000, nil)
	s.wait(time.Hour)
	s.record("ann", "visit.finished", "V1", ledger.Step{Outcome: work.ReturnNeeded, Reason: "part", Order: "W1"})

	r := s.report(view.Wish{By: "Ann Vane", CheckAt: "https://iter.example/check/",
		Words: map[string]string{"return_needed": "Return needed"}})
	assert.Equal(t, []any{report.Short, "Ann Vane", "https://iter.example/check/", "Test", "Return needed", "A part is needed"},
		[]any{r.Layout, r.By, r.CheckAt, r.Firm.Name, r.Outcome, r.Reason})
	require.Len(t, r.Findings, 1, "neither what is for the office nor what was struck out")
	assert.Equal(t, "Seal worn", r.Findings[0].Text)
	assert.Equal(t, "Mechanical seal 38 mm", r.Parts[0].Name)
	assert.Equal(t, []any{"2.1", "alarm_low", "2.5"}, []any{r.Readings[0].Value, string(r.Readings[0].Level),
		r.Readings[0].Limits.AlarmLow.String()})
	assert.Nil(t, r.Advice[0].Lines[0].Price, "the policy shows no prices")
	assert.Equal(t, []string{hash("b"), hash("c")}, r.Files(), "the smaller copy where there is one")

	r = s.report(view.Wish{Layout: report.Full, Here: map[string]bool{hash("a"): true}})
	assert.Equal(t, []any{report.Full, []string{hash("a")}, 1}, []any{r.Layout, r.Files(), r.PhotosBeside},
		"what is here, and how much is not")
	r = s.report(view.Wish{Photos: []string{large.ID}})
	assert.Equal(t, []string{hash("b")}, r.Files(), "those that were chosen")
	r = s.report(view.Wish{Photos: []string{}})
	assert.Empty(t, r.Files())

	s.change("visits", map[string]any{"prices": true})
	assert.Equal(t, "9", s.report(view.Wish{}).Advice[0].Lines[0].Price.String())
	assert.Contains(t, s.view("V1").Summary.Advice[1].Price, "9.00 EUR")
	docs := ledger.Docs{{Type: "visit", ID: "V9"}: nil}
	_, _, err := view.ReportOf("V9", docs, s.now, view.Wish{})
	assert.Error(t, err)
}

func TestTheHistoryOfASiteHasNames(t *testing.T) {
	s := newScene(t)
	s.record("ann", "visit.arrived", "V1", ledger.Step{})
	s.record("ann", "note.written", "V1", ledger.Note{Text: strings.Repeat("word ", 400)})
	s.record("ann", "part.used", "V1", ledger.Use{Part: "P1", Place: "van-ann", Quantity: decimal.NewFromInt(2)})
	s.record("ann", "reading.taken", "V1", ledger.Taken{Asset: "A1", Point: "discharge", Value: decimal.RequireFromString("4.1"),
		Unit: "bar"})
	s.record("ann", "visit.finished", "V1", ledger.Step{Outcome: work.Complete})
	var v work.Visit
	var o work.Order
	require.NoError(t, json.Unmarshal(s.docs[ledger.Ref{Type: "visit", ID: "V1"}], &v))
	require.NoError(t, json.Unmarshal(s.docs[ledger.Ref{Type: "workorder", ID: "W1"}], &o))
	raw, err := json.Marshal(view.SiteHistory{Visits: []view.EarlierVisit{view.Earlier("V1", v, o)}})
	require.NoError(t, err)

	docs := ledger.Docs{{Type: "history", ID: "S1"}: raw}
	var lines []view.EarlierLine
	for range 5 {
		var wanted []ledger.Ref
		lines, wanted, err = view.HistoryAt("S1", docs)
		require.NoError(t, err)
		if len(wanted) == 0 {
			break
		}
		for _, ref := range wanted {
			docs[ref] = s.docs[ref]
		}
	}
	require.Len(t, lines, 1)
	l := lines[0]
	assert.Equal(t, []any{"4127", "Booster set", []string{"Ann Vane"}, work.Complete}, []any{l.Number, l.AssetName, l.Names, l.Outcome})
	assert.Equal(t, signoff.Line{Name: "Mechanical seal 38 mm", Value: "2", Unit: "each"}, l.Used[0])
	assert.Equal(t, signoff.Line{Name: "Discharge pressure", Value: "4.1", Unit: "bar"}, l.Measured[0])
	assert.Less(t, len(l.Notes[0]), 700, "long words are cut short: the record has them all")
}

// A report has the signatures that stand, says which are of something else than it says now, and why there are none.
func TestWhoSignedAReport(t *testing.T) {
	s := newScene(t)
	s.change("visits", map[string]any{"unsigned": []records.Choice{{ID: "nobody", Text: "Nobody there"}}})
	s.record("ann", "visit.arrived", "V1", ledger.Step{})
	s.record("ann", "signoff.missed", "V1", ledger.Absent{Reason: "nobody"})
	assert.Equal(t, "Nobody there", s.report(view.Wish{}).Unsigned)

	sign := func(name string) ledger.Entry {
		sum, digest := s.summary("")
		return s.record("ann", "signoff.captured", "V1", ledger.Signed{Name: name, Role: "Owner",
			Strokes: signoff.Strokes{{{1, 1}, {90, 40}, {200, 10}}}, Summary: sum, Digest: digest})
	}
	signed := func() (out []string) {
		r := s.report(view.Wish{})
		assert.Empty(t, r.Unsigned)
		for _, g := range r.Signatures {
			out = append(out, fmt.Sprint(g.Name, " ", g.Changed))
		}
		return out
	}
	first := sign("Tam Hale")
	assert.Equal(t, []string{"Tam Hale false"}, signed())
	s.record("ann", "part.used", "V1", ledger.Use{Part: "P1", Place: "van-ann", Quantity: decimal.NewFromInt(1)})
	assert.Equal(t, []string{"Tam Hale true"}, signed())
	sign("Жанна Ёлкина")
	assert.Equal(t, []string{"Tam Hale true", "Жанна Ёлкина false"}, signed())
	s.record("ann", "entry.struck", "V1", ledgertest.Strike(s.docs, first))
	assert.Equal(t, []string{"Жанна Ёлкина false"}, signed())
}
