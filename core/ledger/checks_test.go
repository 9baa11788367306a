package ledger_test

import (
	"encoding/json"
	"testing"
	"time"

	"github.com/shopspring/decimal"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"iter.example/iter/core/ledger"
	"iter.example/iter/core/ledger/ledgertest"
	"iter.example/iter/core/reading"
	"iter.example/iter/core/records"
	"iter.example/iter/core/sheet"
	"iter.example/iter/core/substance"
	"iter.example/iter/core/view"
	"iter.example/iter/core/work"
)

// take folds entries of ann on the company's visit, and gives what came of the last.
func take(t *testing.T, docs ledger.Docs, entries ...ledger.Entry) ledgertest.Result {
	t.Helper()
	all := ledgertest.Fold(docs, entries)
	for i, r := range all[:len(all)-1] {
		require.Empty(t, r.Error, entries[i].Kind)
	}
	return all[len(all)-1]
}

func codesOf(flags []ledger.Flag) (out []string) {
	for _, f := range flags {
		out = append(out, f.Code.Code)
	}
	return out
}

func taken(point, value, unit string) ledger.Taken {
	return ledger.Taken{Asset: "A1", Kind: "booster", Point: point, Value: decimal.RequireFromString(value), Unit: unit}
}

// Readings are judged by the limits of the asset or its kind and by what was measured before, and kept whatever they are.
func TestReadingsAreJudgedAndKept(t *testing.T) {
	m, docs := company(t)
	kind := records.AssetKind{Name: "Booster set", Points: []reading.Point{{ID: "hours", Name: "Run hours", Unit: "h", Counter: true},
		{ID: "discharge", Name: "Of the kind", Unit: "bar"}}}
	require.Empty(t, take(t, docs, m.Entry("office", "record.created", "assetkind", "booster", kind)).Error)
	on := func(b ledger.Taken) ledgertest.Result {
		m.Wait(time.Minute)
		return take(t, docs, m.Entry("ann", "reading.taken", "visit", "V1", b))
	}
	assert.Empty(t, on(taken("discharge", "30", "psi")).Flags)
	assert.Empty(t, on(taken("hours", "100", "h")).Flags)
	assert.Empty(t, on(taken("hours", "90", "h")).Flags, "it is on the list of what wants attention")
	replaced := taken("hours", "5", "h")
	replaced.Replaced = &reading.Replaced{Last: decimal.NewFromInt(95), Start: decimal.Zero}
	assert.Empty(t, on(replaced).Flags, "a new counter explains it")
	assert.Equal(t, []string{"reading.unknown_point"}, codesOf(on(taken("gone", "1", "bar")).Flags), "deleted meanwhile: kept and flagged")
	assert.Empty(t, on(taken("discharge", "4", "°C")).Flags)

	v := read[work.Visit](t, docs, "visit", "V1")
	require.Len(t, v.Readings, 6)
	assert.Equal(t, work.ConcernDoubt, v.Attentions("A1", nil)[1].Concern)
	assert.Equal(t, reading.AlarmLow, v.Readings[0].Level, "30 psi is 2.07 bar; the asset's own limit counts, not the kind's")
	assert.Equal(t, "psi", v.Readings[0].Unit, "kept as the gauge showed it")
	assert.Equal(t, []reading.Doubt{"", "", reading.Fell, "", "", reading.Unlike},
		[]reading.Doubt{v.Readings[0].Doubt, v.Readings[1].Doubt, v.Readings[2].Doubt, v.Readings[3].Doubt, v.Readings[4].Doubt,
			v.Readings[5].Doubt})

	odd := v.Readings[2]
	require.Empty(t, take(t, docs, m.Entry("ann", "entry.struck", "visit", "V1",
		ledgertest.Strike(docs, ledger.Entry{ID: odd.Entry, At: odd.At, Kind: "reading.taken", Actor: "ann",
			Subject: ledger.Ref{Type: "visit", ID: "V1"}}))).Error)
	h := read[reading.History](t, docs, "measured", "A1")
	assert.Len(t, h.Before("hours", m.Entry("ann", "x", "visit", "V1", nil).At.Add(time.Hour)), 2, "struck out of the history too")
	assert.True(t, read[work.Visit](t, docs, "visit", "V1").Readings[2].Struck)

	far := taken("hours", "1", "h")
	far.Value = decimal.New(1, 13)
	assert.Equal(t, "reading.absurd", take(t, docs, m.Entry("ann", "reading.taken", "visit", "V1", far)).Error)
}

func TestSheetsAreBegunRepeatedAndAnswered(t *testing.T) {
	m, docs := company(t)
	on := func(kind string, body any) ledgertest.Result {
		m.Wait(time.Minute)
		return take(t, docs, m.Entry("ann", kind, "visit", "V1", body))
	}
	require.Empty(t, on("sheet.begun", ledger.SheetBegun{Sheet: "pump@1",
		Known: []ledger.Given{{Question: "remark", Value: "as ever"}, {Question: "temp", Value: "hot"}},
		Items: []ledger.Repeated{{Section: "rooms", Item: "A1", Name: "Booster", Asset: "A1"}}}).Error)
	v := read[work.Visit](t, docs, "visit", "V1")
	begun := v.SheetsBegun["pump@1"]
	assert.Equal(t, "as ever", v.Answers["pump@1"]["remark"].Value)
	assert.True(t, v.Answers["pump@1"]["remark"].Known)
	assert.NotContains(t, v.Answers["pump@1"], "temp", "what does not answer the question is not taken for an answer")

	require.Empty(t, on("sheet.answered", ledger.Answered{Sheet: "pump@1", Question: "remark", Value: "hums", Note: "at full load"}).Error)
	require.Empty(t, on("sheet.begun", ledger.SheetBegun{Sheet: "pump@1",
		Known: []ledger.Given{{Question: "remark", Value: "as ever"}}}).Error)
	v = read[work.Visit](t, docs, "visit", "V1")
	assert.Equal(t, sheet.Answer{Entry: v.Answers["pump@1"]["remark"].Entry, At: v.Answers["pump@1"]["remark"].At, Person: "ann",
		Value: "hums", Note: "at full load"}, v.Answers["pump@1"]["remark"], "an answer is not undone by what is known")
	assert.Equal(t, begun, v.SheetsBegun["pump@1"], "begun once")

	first := m.Entry("ann", "sheet.repeated", "visit", "V1", ledger.SheetRepeated{Sheet: "pump@1",
		Repeated: ledger.Repeated{Section: "rooms", Item: "r1", Name: "Cellar",
			Copied: []ledger.Given{{Question: "remark", Item: "r1", Value: "damp"}}}})
	m.Wait(time.Minute)
	second := m.Entry("ann", "sheet.repeated", "visit", "V1", ledger.SheetRepeated{Sheet: "pump@1",
		Repeated: ledger.Repeated{Section: "rooms", Item: "r1", Name: "Cellar, north"}})
	require.Empty(t, take(t, docs, second, first).Error, "whichever is heard of first")
	v = read[work.Visit](t, docs, "visit", "V1")
	assert.Equal(t, []string{"Booster", "Cellar, north"}, []string{v.Items["pump@1"][0].Name, v.Items["pump@1"][1].Name})
	assert.Equal(t, "damp", v.Answers["pump@1"]["remark@r1"].Value)

	it := v.Items["pump@1"][1]
	require.Empty(t, on("entry.struck", ledger.Struck{Entry: it.Entry, At: it.At, Kind: "sheet.repeated", Person: "ann"}).Error)
	assert.True(t, read[work.Visit](t, docs, "visit", "V1").Items["pump@1"][1].Struck)

	require.Empty(t, on("sheet.answered", ledger.Answered{Sheet: "pump@1", Question: "remark", Value: "sings", Asset: "A1"}).Error)
	known := func() string {
		h := read[reading.History](t, docs, "measured", "A1")
		return view.Around{Told: h.Told}.Known(ledgertest.Sheet)["last:remark"]
	}
	assert.Equal(t, "sings", known(), "for the next visit")
	m.Wait(time.Minute)
	slip := m.Entry("ann", "sheet.answered", "visit", "V1", ledger.Answered{Sheet: "pump@1", Question: "remark", Value: "sinks", Asset: "A1"})
	require.Empty(t, take(t, docs, slip).Error)
	assert.Equal(t, "sinks", known())
	require.Empty(t, on("entry.struck", ledgertest.Strike(docs, slip)).Error)
	assert.Equal(t, "sings", known(), "what was struck out is filled in nowhere")

	// Somebody else begins the sheet later, and is heard of before what was answered by hand.
	m.Wait(time.Minute)
	early := m.Entry("ann", "sheet.answered", "visit", "V1", ledger.Answered{Sheet: "pump@1", Question: "guard", Value: "no"})
	m.Wait(time.Minute)
	late := m.Entry("ben", "sheet.begun", "visit", "V1", ledger.SheetBegun{Sheet: "pump@1",
		Known: []ledger.Given{{Question: "guard", Value: "yes"}}})
	require.Empty(t, take(t, docs, late).Error)
	require.Empty(t, take(t, docs, early).Error)
	assert.Equal(t, "no", read[work.Visit](t, docs, "visit", "V1").Answers["pump@1"]["guard"].Value,
		"what was answered stands before what was known")

	newer := ledgertest.Sheet
	newer.Version, newer.Format = 2, sheet.Format+1
	newer.Sections = []sheet.Section{{Title: "X", Questions: []sheet.Question{{ID: "holo", Kind: "hologram", Text: "Hologram"}}}}
	docs[ledger.Ref{Type: "sheet", ID: "pump@2"}] = mustJSON(t, newer)
	require.Empty(t, on("sheet.answered", ledger.Answered{Sheet: "pump@2", Question: "holo", Value: "3D:00ff"}).Error)
	assert.Equal(t, "3D:00ff", read[work.Visit](t, docs, "visit", "V1").Answers["pump@2"]["holo"].Value,
		"what is not understood is kept as it is")
}

func TestSheetsAreAttachedByHand(t *testing.T) {
	m, docs := company(t)
	other := ledgertest.Sheet
	other.Version = 2
	require.Empty(t, take(t, docs, m.Entry("office", "record.created", "sheet", "pump@2", other)).Error)
	body := ledger.SheetAttached{Order: "W1", Sheet: "pump@2"}
	require.Empty(t, take(t, docs, m.Entry("ann", "sheet.attached", "visit", "V1", body),
		m.Entry("office", "work.sheet_attached", "workorder", "W1", body)).Error, "twice is once")
	assert.Equal(t, []string{"pump@1", "pump@2"}, read[work.Order](t, docs, "workorder", "W1").Sheets)
	body.Sheet = "lost@1"
	assert.Contains(t, take(t, docs, m.Entry("ann", "sheet.attached", "visit", "V1", body)).Error, "record.unknown")
	assert.Contains(t, take(t, docs, m.Entry("office", "record.amended", "sheet", "pump@1", map[string]any{"title": "Other"})).Error,
		"sheet.published", "a version never changes")
}

func TestPhotosAreDescribed(t *testing.T) {
	m, docs := company(t)
	photo := m.Entry("ann", "file.attached", "visit", "V1",
		ledger.File{FileRef: work.FileRef{Hash: hash, Name: "seal.jpg", Type: "image/jpeg", Size: 900},
			About: work.About{Sheet: "pump@1", Question: "guard"}})
	m.Wait(time.Minute)
	say := func(caption string, marks ...work.Mark) ledger.Entry {
		m.Wait(time.Second)
		return m.Entry("ann", "file.described", "visit", "V1", ledger.FileDescribed{File: photo.ID, Caption: caption, Moment: work.Before,
			Marks: marks})
	}
	arrow := work.Mark{Form: work.Arrow, Points: []int{0, 0, 5000, 5000}, Colour: "signal"}
	first, second := say("first", arrow), say("second")
	require.Empty(t, take(t, docs, photo, second, first).Error)
	f := read[work.Visit](t, docs, "visit", "V1").Files[0]
	assert.Equal(t, "second", f.Caption, "the later stands, whichever is heard of first")
	assert.Empty(t, f.Marks)
	assert.Equal(t, hash, f.Hash, "what was taken stays as it is")
	for name, mark := range map[string]work.Mark{
		"one point":  {Form: work.Line, Points: []int{1, 2}, Colour: "ink"},
		"no words":   {Form: work.Words, Points: []int{1, 2}, Colour: "ink"},
		"odd":        {Form: work.Free, Points: []int{1, 2, 3, 4, 5}, Colour: "ink"},
		"far off":    {Form: work.Box, Points: []int{1, 2, 3, 1 << 20}, Colour: "ink"},
		"odd colour": {Form: work.Box, Points: []int{1, 2, 3, 4}, Colour: "url(x)"},
		"too much":   {Form: work.Free, Points: make([]int, 5000), Colour: "ink"},
	} {
		assert.NotEmpty(t, take(t, docs, say("x", mark)).Error, name)
	}
}

func TestAttentionAndWhatIsDoneAboutIt(t *testing.T) {
	m, docs := company(t)
	require.Empty(t, take(t, docs,
		m.Entry("ann", "reading.taken", "visit", "V1", taken("discharge", "1", "bar")),
		m.Entry("ann", "work.proposed", "visit", "V1", ledger.Proposed{Kind: work.FollowUp, Text: "Change the seal", Asset: "A1",
			About: "reading A1 discharge"})).Error)
	v := read[work.Visit](t, docs, "visit", "V1")
	all := v.Attentions("A1", nil)
	require.Len(t, all, 2)
	assert.Equal(t, []work.Concern{work.ConcernAlarm, work.ConcernFollowUp}, []work.Concern{all[0].Concern, all[1].Concern})
	require.Empty(t, take(t, docs, m.Entry("office", "attention.handled", "visit", "V1",
		ledger.AttentionHandled{Key: all[0].Key, Order: "W1"})).Error)
	v = read[work.Visit](t, docs, "visit", "V1")
	assert.Equal(t, "W1", v.Attentions("A1", nil)[0].Handled.Order)
	m.Wait(time.Minute)
	require.Empty(t, take(t, docs, m.Entry("ann", "reading.taken", "visit", "V1", taken("discharge", "4", "bar"))).Error)
	v = read[work.Visit](t, docs, "visit", "V1")
	assert.Len(t, v.Attentions("A1", nil), 1, "what was put right wants no attention")
}

func TestSubstancesAreLoggedAndStruck(t *testing.T) {
	m, docs := company(t)
	put := m.Entry("ann", "substance.moved", "visit", "V1", ledger.SubstanceMoved{Site: "S1", Substance: "coolant", Act: substance.PutIn,
		Asset: "A1", Amount: decimal.RequireFromString("0.4"), Unit: "kg"})
	require.Empty(t, take(t, docs, put).Error)
	strike := ledgertest.Strike(docs, put)
	foreign := strike
	foreign.Person = "ben"
	assert.Contains(t, take(t, docs, m.Entry("ben", "entry.struck", "visit", "V1", foreign)).Error, "strike.not_yours")
	require.Empty(t, take(t, docs, m.Entry("ann", "entry.struck", "visit", "V1", strike)).Error)
	assert.True(t, read[substance.Log](t, docs, "substances", "S1").Moves[0].Struck)
}

func mustJSON(t *testing.T, v any) json.RawMessage {
	raw, err := json.Marshal(v)
	require.NoError(t, err)
	return raw
}

// A phone that was not updated strikes a reading out without saying where it was measured: the visit is right, the history keeps it.
func TestAStrikeOutOfAnOlderPhone(t *testing.T) {
	m, docs := company(t)
	e := m.Entry("ann", "reading.taken", "visit", "V1", ledger.Taken{Asset: "A1", Point: "discharge", Value: decimal.NewFromInt(4),
		Unit: "bar"})
	require.Empty(t, take(t, docs, e).Error, "nor which kind of machine it is")
	older := m.Entry("ann", "entry.struck", "visit", "V1", map[string]any{"entry": e.ID, "at": e.At, "kind": e.Kind, "person": "ann"})
	older.V = 2
	require.Empty(t, take(t, docs, older).Error)
	assert.True(t, read[work.Visit](t, docs, "visit", "V1").Readings[0].Struck)
	assert.False(t, read[reading.History](t, docs, "measured", "A1").Points["discharge"][0].Struck)
	strike := ledgertest.Strike(docs, e)
	m.Wait(time.Minute)
	require.Empty(t, take(t, docs, m.Entry("office", "entry.struck_by_office", "visit", "V1", strike)).Error)
	m.Wait(time.Minute)
	assert.True(t, read[reading.History](t, docs, "measured", "A1").Points["discharge"][0].Struck)
	require.Empty(t, take(t, docs, m.Entry("office", "entry.restored", "visit", "V1", strike)).Error)
	assert.False(t, read[work.Visit](t, docs, "visit", "V1").Readings[0].Struck)
	assert.False(t, read[reading.History](t, docs, "measured", "A1").Points["discharge"][0].Struck)
}

func TestWorkThatFollowsUp(t *testing.T) {
	m, docs := company(t)
	o := work.Order{Number: "4200", Customer: "C1", Site: "S1", Problem: "Guard missing", Priority: work.Emergency, Minutes: 60,
		Kind: "repair", From: &work.Origin{Visit: "V1", Key: "proposal x"}}
	require.Empty(t, take(t, docs, m.Entry("office", "work.opened", "workorder", "W5", o)).Error)
	got := read[work.Order](t, docs, "workorder", "W5")
	assert.Equal(t, work.Origin{Visit: "V1", Key: "proposal x"}, *got.From)
	assert.Equal(t, "repair", got.Kind)
	price := decimal.NewFromInt(-1)
	bad := ledger.Proposed{Kind: work.Recommendation, Text: "x", Price: &price}
	assert.Contains(t, take(t, docs, m.Entry("ann", "work.proposed", "visit", "V1", bad)).Error, "part.price")
	assert.Contains(t, take(t, docs, m.Entry("ann", "attention.handled", "visit", "V9", ledger.AttentionHandled{Key: "k"})).Error,
		"record.unknown")
}
