package work_test

import (
	"testing"

	"github.com/stretchr/testify/assert"

	"iter.example/iter/core/audit"
	"iter.example/iter/core/labor"
	"iter.example/iter/core/msg"
	"iter.example/iter/core/reading"
	"iter.example/iter/core/sheet"
	"iter.example/iter/core/signoff"
	"iter.example/iter/core/work"
)

var everything = work.VisitSettings{Ready: []work.Requirement{
	{Check: work.CheckReadings, Duty: work.Asked}, {Check: work.CheckBefore, Duty: work.Optional},
	{Check: work.CheckAfter, Duty: work.Required},
	{Check: work.CheckNote, Duty: work.Asked, Works: []string{"repair"}}, {Check: work.CheckAnswers, Duty: work.Required},
	{Check: work.CheckAnswers, Duty: work.Optional, Works: []string{"survey"}},
}}

func around() work.Around {
	return work.Around{
		Rules: everything,
		Order: work.Order{Asset: "A1", Kind: "repair", Tasks: []work.Task{{ID: "t1", Name: "Change seal"}, {ID: "t2", Name: "Align"}}},
		Sheets: []sheet.State{{Sheet: "s@1", Title: "Inspection", Total: 5, Missing: []sheet.Missing{{Question: "a"}, {Question: "b"}},
			Blocks: []sheet.Missing{{Code: *msg.New("missing.block", "question", "Guards?"), Question: "guard"}}}},
		Points:   []reading.Point{{ID: "press", Name: "Pressure"}, {ID: "flow", Name: "Flow"}},
		Unserial: []work.PartUsed{{Line: audit.Line{Entry: "p1"}, Part: "M1"}},
		Names:    func(string) string { return "Motor" },
	}
}

func said(r work.Readiness) []string {
	var out []string
	for _, m := range r.Missing() {
		out = append(out, m.Error())
	}
	return out
}

func TestReadyListsWhatIsMissingInTheOrderOfTheWork(t *testing.T) {
	a := around()
	v := visit("arrived")
	v.Helpers = []string{"bela"}
	v.Crew = []work.CrewStep{{Line: audit.Line{Entry: "c"}, Helper: "bela", Clock: labor.Work}}
	r := v.Ready(a)
	assert.Equal(t, []string{"missing.blocked question=Guards? sheet=Inspection", "missing.task task=Change seal",
		"missing.task task=Align", "missing.reading point=Pressure", "missing.reading point=Flow",
		"missing.answers count=2 sheet=Inspection", "missing.serial part=Motor", "missing.before", "missing.after", "missing.findings",
		"missing.clock count=1", "missing.signature"}, said(r))
	assert.Equal(t, work.Jump{Section: "checks", Sheet: "s@1", Question: "guard"}, r.Lacking[0].Jump)
	assert.Equal(t, work.Jump{Section: "checks", Sheet: "s@1", Question: "a"}, r.Lacking[5].Jump)
	// The blocking answer, two tasks, two readings, five questions, a serial number, the photo after, a note, a signature; three questions
	// are answered.
	assert.Equal(t, [2]int{3, 14}, [2]int{r.Done, r.Of})
	codes := func(d work.Duty) (out []string) {
		for _, l := range r.Open(d) {
			out = append(out, l.What.Code)
		}
		return out
	}
	assert.Equal(t, []string{"missing.blocked", "missing.answers", "missing.after"}, codes(work.Required))
	assert.Equal(t, []string{"missing.before", "missing.clock"}, codes(work.Optional))
}

func TestReadyWhenAllIsThere(t *testing.T) {
	a := around()
	a.Sheets[0].Missing, a.Sheets[0].Blocks, a.Unserial = nil, nil, nil
	a.Order.AddTaskStep(work.TaskStep{Line: audit.Line{Entry: "1"}, Task: "t1", Act: work.TaskDone})
	a.Order.AddTaskStep(work.TaskStep{Line: audit.Line{Entry: "2"}, Task: "t2", Act: work.TaskDone})
	v := visit("arrived")
	v.Readings = []reading.Reading{{Line: audit.Line{Entry: "r1"}, Asset: "A1", Point: "press"},
		{Line: audit.Line{Entry: "r2"}, Asset: "A1", Point: "flow"}}
	v.Files = []work.File{{Line: audit.Line{Entry: "f1"}, Moment: work.Before}, {Line: audit.Line{Entry: "f2"}, Moment: work.After}}
	v.Notes = []work.Note{{Line: audit.Line{Entry: "n"}}}
	v.Signatures = []signoff.Signature{{Line: audit.Line{Entry: "s"}}}
	r := v.Ready(a)
	assert.Empty(t, r.Lacking)
	assert.Equal(t, r.Of, r.Done)
	v.Files[1].Struck = true
	assert.Equal(t, []string{"missing.after"}, said(v.Ready(a)), "a photo that was struck out shows nothing")
}

func TestLeftOutWithAReason(t *testing.T) {
	a := around()
	v := visit("arrived")
	v.Skips = []work.Skip{{Line: audit.Line{Entry: "k1", Person: "anna"}, Key: "task t2", Reason: "no_time"},
		{Line: audit.Line{Entry: "k2"}, Key: "sheet s@1", Reason: "no_time"},
		{Line: audit.Line{Entry: "k3"}, Key: "blocked s@1 guard", Reason: "no_time"}}
	before := v.Ready(a)
	assert.NotContains(t, said(before), "missing.task task=Align")
	assert.Contains(t, said(before), "missing.answers count=2 sheet=Inspection", "what is required can't be left out")
	assert.Contains(t, said(before), "missing.blocked question=Guards? sheet=Inspection")
	v.Skips[0].Struck = true
	after := v.Ready(a)
	assert.Contains(t, said(after), "missing.task task=Align", "until the reason is struck out")
	assert.Equal(t, before.Done-1, after.Done)
	a.Order.Kind = "survey"
	assert.NotContains(t, said(v.Ready(a)), "missing.answers count=2 sheet=Inspection", "optional for this kind of work, and left out")
}

func TestSignedDayByDay(t *testing.T) {
	sign := func(days ...string) (out []signoff.Signature) {
		for _, d := range days {
			out = append(out, signoff.Signature{Line: audit.Line{Entry: d}, Summary: signoff.Summary{Day: d}})
		}
		return out
	}
	worked := []string{"2026-03-10", "2026-03-11"}
	for _, c := range []struct {
		signed  []string
		missing bool
	}{{nil, true}, {[]string{"2026-03-10"}, true}, {worked, false}, {[]string{""}, false}, {[]string{"2026-03-10", ""}, false}} {
		v := visit("arrived")
		v.Signatures = sign(c.signed...)
		assert.Equal(t, c.missing, len(v.Ready(work.Around{Days: worked}).Lacking) > 0, c.signed)
	}
	v := visit("arrived")
	v.Absences = []work.Absence{{Line: audit.Line{Entry: "a", Person: "anna"}, Reason: "nobody"}}
	assert.Empty(t, v.Ready(work.Around{Days: worked}).Lacking, "said why nobody signs")
}
