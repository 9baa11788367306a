package view_test

import (
	"encoding/json"
	"testing"
	"time"

	"github.com/shopspring/decimal"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"iter.example/iter/core/labor"
	"iter.example/iter/core/ledger"
	"iter.example/iter/core/ledger/ledgertest"
	"iter.example/iter/core/msg"
	"iter.example/iter/core/reading"
	"iter.example/iter/core/records"
	"iter.example/iter/core/sheet"
	"iter.example/iter/core/view"
	"iter.example/iter/core/work"
)

// scene is the test company, with the clock of whoever records.
type scene struct {
	t    *testing.T
	m    *ledgertest.Maker
	docs ledger.Docs
	now  time.Time
}

func newScene(t *testing.T) *scene {
	s := &scene{t: t, m: ledgertest.NewMaker("R1", 1), docs: ledger.Docs{}, now: ledgertest.Start}
	for _, r := range ledgertest.Fold(s.docs, s.m.Company()) {
		require.Empty(t, r.Error)
	}
	return s
}

func (s *scene) wait(d time.Duration) {
	s.m.Wait(d)
	s.now = s.now.Add(d)
}

func (s *scene) record(actor, kind, visit string, body any) ledger.Entry {
	e := s.m.Entry(actor, kind, "visit", visit, body)
	require.Empty(s.t, ledgertest.Fold(s.docs, []ledger.Entry{e})[0].Error)
	s.wait(time.Second)
	return e
}

// view asks as a device does: with what is wanted, until nothing more is.
func (s *scene) view(id string) *view.Visit {
	docs := ledger.Docs{}
	for range 10 {
		v, wanted, err := view.Of(id, docs, s.now)
		require.NoError(s.t, err)
		if len(wanted) == 0 {
			return v
		}
		for _, ref := range wanted {
			_, asked := docs[ref]
			require.False(s.t, asked, "%s is asked for twice", ref)
			docs[ref] = s.docs[ref]
		}
	}
	s.t.Fatal("it never has enough")
	return nil
}

func codes(all []msg.Code) (out []string) {
	for _, c := range all {
		out = append(out, c.Code)
	}
	return out
}

func TestNamesLevelsAndProgress(t *testing.T) {
	s := newScene(t)
	s.record("ann", "visit.arrived", "V1", ledger.Step{})
	s.record("ann", "part.used", "V1", ledger.Use{Part: "P1", Place: "van-ann", Quantity: decimal.NewFromInt(2)})
	s.record("ann", "part.used", "V1", ledger.Use{Part: "P-unknown", Place: "van-ann", Quantity: decimal.NewFromInt(1)})
	s.record("ann", "reading.taken", "V1", ledger.Taken{Asset: "A1", Point: "discharge", Value: decimal.RequireFromString("2.1"),
		Unit: "bar"})
	s.record("ann", "reading.taken", "V1", ledger.Taken{Asset: "A1", Point: "removed", Value: decimal.NewFromInt(4), Unit: "l"})
	s.record("ann", "sheet.answered", "V1", ledger.Answered{Sheet: "pump@1", Question: "noise", Value: "loud"})
	v := s.view("V1")

	assert.Equal(t, "Orrisk Pump House 3", v.Site.Name)
	assert.Equal(t, "Vella Sound Water Board", v.Customer.Name)
	assert.Equal(t, "Booster set", v.Asset.Name)
	assert.Equal(t, "Ann Vane", v.Names["ann"])
	assert.Equal(t, []string{"Mechanical seal 38 mm", "P-unknown"}, []string{v.Parts[0].Name, v.Parts[1].Name},
		"a part that is not in the catalogue is shown by its number")
	assert.Equal(t, []reading.Level{reading.AlarmLow, reading.OK}, []reading.Level{v.Readings[0].Level, v.Readings[1].Level})
	assert.Equal(t, []string{"Discharge pressure", "removed"}, []string{v.Readings[0].PointName, v.Readings[1].PointName})
	assert.Equal(t, 1, v.Progress[0].Answered)
	assert.Equal(t, []string{"missing.task", "missing.task", "missing.answers", "missing.signature"}, codes(v.Ready.Missing()))
	assert.Equal(t, "Loud", v.Summary.Answers[0].Value, "in the sheet's words")
	assert.Equal(t, "alarm_low", v.Summary.Readings[0].Mark)
}

func TestHoursFollowThePersonNotTheVisit(t *testing.T) {
	s := newScene(t)
	require.Empty(t, ledgertest.Fold(s.docs, []ledger.Entry{
		s.m.Entry("office", "visit.planned", "visit", "V2", ledger.Plan{Order: "W1", Technician: "ann", Start: s.now, Minutes: 30}),
	})[0].Error)
	s.record("ann", "visit.set_off", "V1", ledger.Step{})
	s.wait(10*time.Minute - time.Second)
	s.record("ann", "visit.arrived", "V1", ledger.Step{})
	s.wait(30*time.Minute - time.Second)
	s.record("ann", "visit.set_off", "V2", ledger.Step{}) // called away, with the first visit open
	s.wait(5 * time.Minute)
	assert.Equal(t, labor.Hours{Travel: 600, Work: 1800}, s.view("V1").Hours)
	assert.Equal(t, int64(301), s.view("V2").Hours.Travel)
	s.record("ann", "visit.finished", "V1", ledger.Step{Outcome: work.Complete})
	assert.Equal(t, labor.Hours{Travel: 600, Work: 1800}, s.view("V1").Hours, "finishing late adds nothing")
}

func TestAVisitOverMidnight(t *testing.T) {
	s := newScene(t)
	s.wait(16 * time.Hour) // 23:00
	s.record("ann", "visit.arrived", "V1", ledger.Step{})
	s.wait(2*time.Hour - time.Second)
	assert.Equal(t, int64(7200), s.view("V1").Hours.Work, "while it runs")
	s.record("ann", "visit.finished", "V1", ledger.Step{Outcome: work.Complete})
	s.wait(3 * time.Hour)
	assert.Equal(t, int64(7200), s.view("V1").Hours.Work)
	require.Len(t, s.view("V1").Crew, 1)
	assert.Len(t, s.view("V1").Crew[0].Spans, 1)
}

func TestTwoPeopleOnAVisitThatWasMoved(t *testing.T) {
	s := newScene(t)
	s.record("ann", "visit.arrived", "V1", ledger.Step{})
	s.wait(10*time.Minute - time.Second)
	s.record("ben", "visit.arrived", "V1", ledger.Step{})
	s.wait(20*time.Minute - time.Second)
	s.record("ben", "visit.finished", "V1", ledger.Step{Outcome: work.Complete})
	s.record("ann", "visit.finished", "V1", ledger.Step{Outcome: work.Complete})
	v := s.view("V1")
	assert.Equal(t, int64(30*60+1+20*60), v.Hours.Work, "each is credited their own time")
	assert.Equal(t, "Ben Orme", v.Names["ben"])
}

func TestChangedSinceSigned(t *testing.T) {
	s := newScene(t)
	s.record("ann", "visit.arrived", "V1", ledger.Step{})
	s.wait(30 * time.Minute)
	s.record("ann", "note.written", "V1", ledger.Note{Text: "Seal changed"})
	sign := func() {
		shown := s.view("V1")
		s.wait(40 * time.Second) // it takes a while to sign
		body := ledgertest.Signed(shown.Summary, "Ona Pryde")
		require.Equal(t, shown.Digest, body.Digest)
		s.record("ann", "signoff.captured", "V1", body)
	}
	sign()
	assert.False(t, s.view("V1").Changed)
	s.wait(time.Hour)
	assert.False(t, s.view("V1").Changed, "time that passes is not a change")
	s.record("ann", "visit.finished", "V1", ledger.Step{Outcome: work.Complete})
	assert.False(t, s.view("V1").Changed, "nor is finishing")

	part := s.record("ann", "part.used", "V1", ledger.Use{Part: "P1", Place: "van-ann", Quantity: decimal.NewFromInt(1)})
	assert.True(t, s.view("V1").Changed)
	s.record("ann", "entry.struck", "V1", ledgertest.Strike(s.docs, part))
	assert.False(t, s.view("V1").Changed, "what was struck out again is as it was signed")
	s.record("ann", "note.written", "V1", ledger.Note{Text: "One more thing"})
	assert.True(t, s.view("V1").Changed)
	sign()
	assert.False(t, s.view("V1").Changed, "signed again")
}

func TestAVisitThatIsNotThere(t *testing.T) {
	_, wanted, err := view.Of("V9", ledger.Docs{}, ledgertest.Start)
	require.NoError(t, err)
	assert.Equal(t, []ledger.Ref{{Type: "visit", ID: "V9"}}, wanted)
	_, _, err = view.Of("V9", ledger.Docs{{Type: "visit", ID: "V9"}: nil}, ledgertest.Start)
	assert.Equal(t, "record.unknown", msg.From(err).Code)
	_, _, err = view.Of("V9", ledger.Docs{{Type: "visit", ID: "V9"}: json.RawMessage(`{"steps":7}`)}, ledgertest.Start)
	assert.Equal(t, "document.unreadable", msg.From(err).Code)
}

func TestJudge(t *testing.T) {
	p := reading.Point{Unit: "bar", Limits: reading.Limits{WarnHigh: new(decimal.NewFromInt(5))}}
	for text, want := range map[string]string{"4,9": "ok", "5": "high", "x": "number.unreadable", "": "number.unreadable"} {
		j := view.Judge{Point: p, Text: text, Unit: "bar"}.Of()
		if j.Error != nil {
			assert.Equal(t, want, j.Error.Code, text)
			continue
		}
		assert.Equal(t, want, string(j.Level), text)
	}
}

// Who was on a visit, what their time went to, and what it is billed as.
func TestCrewTasksAndBill(t *testing.T) {
	s := newScene(t)
	s.record("ann", "visit.arrived", "V1", ledger.Step{Task: "t1"})
	s.record("ann", "crew.clocked", "V1", ledger.CrewClocked{Helper: "ben", Clock: labor.Work})
	asked := s.view("V1").Visit.Crew[0]
	s.record("ben", "crew.answered", "V1", ledger.CrewAnswered{There: true, Steps: []ledger.StepRef{{Entry: asked.Entry, At: asked.At}}})
	s.wait(30*time.Minute - 3*time.Second)
	s.record("ann", "task.started", "V1", ledger.TaskTaken{Order: "W1", Task: "t2"})
	s.record("ann", "crew.clocked", "V1", ledger.CrewClocked{Helper: "ben", Clock: labor.Stop})
	s.wait(15 * time.Minute)
	v := s.view("V1")
	require.Len(t, v.Crew, 2)
	assert.Equal(t, []string{"ann", "ben"}, []string{v.Crew[0].Person, v.Crew[1].Person}, "the technician first")
	assert.InDelta(t, 1800, v.Crew[1].Hours.Work, 3)
	assert.Equal(t, v.Hours.Work, v.Crew[0].Hours.Work+v.Crew[1].Hours.Work)
	require.Len(t, v.Tasks, 2)
	assert.InDelta(t, 1800, v.Tasks[0].Seconds, 3)
	assert.False(t, v.Tasks[0].Running)
	assert.True(t, v.Tasks[1].Running)
	assert.Equal(t, work.TaskStarted, v.Tasks[1].Act)
	assert.Equal(t, "ITER-T/W1/t2", v.Tasks[1].Label)
	assert.Equal(t, "Ben Orme", v.Names["ben"])
	assert.Len(t, v.Bill.Lines, 2)
	assert.True(t, v.Bill.Total.IsZero(), "no rates, no amount")
}

// A rate that changes bills what is worked from then on: what was worked before keeps its price.
func TestAChangedRateRepricesNothing(t *testing.T) {
	s := newScene(t)
	rates := func(day, hour string) {
		s.office("settings.changed", "settings", "billing", ledgertest.ChangedFrom(day, "billing",
			map[string]any{"rates": []labor.Rate{{Class: labor.Normal, Hour: decimal.RequireFromString(hour)}}}))
	}
	rates("2026-03-01", "60")
	s.record("ann", "visit.arrived", "V1", ledger.Step{})
	s.wait(time.Hour)
	s.record("ann", "visit.finished", "V1", ledger.Step{Outcome: work.Complete})
	total := s.view("V1").Bill.Total
	assert.InDelta(t, 60, total.InexactFloat64(), 0.1)
	rates("2026-03-11", "90")
	assert.Equal(t, total.String(), s.view("V1").Bill.Total.String())
	s.wait(24 * time.Hour)
	assert.Equal(t, total.String(), s.view("V1").Bill.Total.String(), "looked at later")
	rates("2026-03-10", "70")
	assert.InDelta(t, 70, s.view("V1").Bill.Total.InexactFloat64(), 0.1, "from its own day on")
}

// A sheet on a visit: what is known fills it in, what was measured before is there, and its answers are what is signed.
func TestSheetsAndMachines(t *testing.T) {
	s := newScene(t)
	survey := sheet.Sheet{ID: "survey", Version: 1, Title: "Survey", Sections: []sheet.Section{
		{Title: "A", Questions: []sheet.Question{
			{ID: "access", Kind: sheet.Text, Text: "Access", Prefill: "site.access", Update: true},
			{ID: "setting", Kind: sheet.Number, Text: "Setting", Prefill: "last"},
			{ID: "discharge", Kind: sheet.Reading, Text: "Discharge", Point: "discharge", Unit: "bar", Required: true},
		}},
		{ID: "machines", Title: "Each machine", Repeat: &sheet.Repeat{Noun: "machine", Assets: true, Kind: "booster"},
			Questions: []sheet.Question{{ID: "clean", Kind: sheet.YesNo, Text: "Clean?", Required: true,
				On: []sheet.Trigger{{Is: sheet.Equals, Value: "no", Hazard: "Dirt", Block: true}}}}},
	}}
	require.NoError(t, survey.Check())
	for _, e := range []ledger.Entry{
		s.m.Entry("office", "record.created", "sheet", "survey@1", survey),
		s.m.Entry("office", "work.sheet_attached", "workorder", "W1", ledger.SheetAttached{Order: "W1", Sheet: "survey@1"}),
		s.m.Entry("office", "record.amended", "site", "S1", map[string]string{"access": "Key at the gate"}),
	} {
		require.Empty(t, ledgertest.Fold(s.docs, []ledger.Entry{e})[0].Error)
	}
	c, _ := sheet.Compile(survey)
	v := s.view("V1")
	around := view.Around{Order: v.Order, Customer: v.Customer, Site: v.Site, Asset: v.Asset,
		Assets: map[string]records.Asset{"A1": *v.Asset, "A2": {Name: "Other", Kind: "uv"}},
		Told:   []reading.Told{{Sheet: "survey", Key: "setting", Value: "4.2"}, {Sheet: "other", Key: "setting", Value: "9"}}}
	begin := view.Begin(c, v.Visit, around)
	assert.Equal(t, []ledger.Given{{Question: "access", Value: "Key at the gate"}, {Question: "setting", Value: "4.2"}}, begin.Known)
	require.Len(t, begin.Items, 1, "machines of the kind only")
	s.record("ann", "sheet.begun", "V1", begin)
	s.record("ann", "reading.taken", "V1", ledger.Taken{Asset: "A1", Point: "discharge", Value: decimal.NewFromInt(450), Unit: "kPa"})
	s.record("ann", "sheet.answered", "V1", ledger.Answered{Sheet: "survey@1", Question: "clean", Item: "A1", Value: "no"})
	v = s.view("V1")
	st := v.Progress[1]
	assert.Equal(t, 4, st.Answered)
	assert.Empty(t, st.Lines, "what each question comes to is for Fill")
	assert.Contains(t, codes(v.Ready.Missing()), "missing.blocked")
	assert.Equal(t, work.ConcernHazard, v.Attention[0].Concern)
	assert.Equal(t, "4.5", v.Readings[0].Shown)
	assert.Equal(t, "bar", v.Readings[0].ShownUnit)
	assert.Equal(t, "kPa", v.Machines[0].Points[0].Units[0], "as it was read the last time, it will be read again")
	var names []string
	for _, l := range v.Summary.Answers {
		names = append(names, l.Name+" "+l.Value)
	}
	assert.Contains(t, names, "Booster set: Clean? no")
	assert.Contains(t, names, "Access Key at the gate")

	// On the next visit it is there as what was before.
	require.Empty(t, ledgertest.Fold(s.docs, []ledger.Entry{s.m.Entry("office", "visit.planned", "visit", "V2",
		ledger.Plan{Order: "W1", Technician: "ann", Start: s.now, Minutes: 30})})[0].Error)
	next := s.view("V2")
	require.Len(t, next.Machines[0].Points[0].Before, 1)
	assert.Equal(t, "4.5", next.Machines[0].Points[0].Before[0].Value)
}
