package bridge_test

import (
	"encoding/json"
	"testing"
	"time"

	"github.com/shopspring/decimal"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"iter.example/iter/core/area"
	"iter.example/iter/core/audit"
	"iter.example/iter/core/bridge"
	"iter.example/iter/core/labor"
	"iter.example/iter/core/ledger"
	"iter.example/iter/core/reading"
	"iter.example/iter/core/records"
	"iter.example/iter/core/replica"
	"iter.example/iter/core/settings"
	"iter.example/iter/core/sheet"
	"iter.example/iter/core/view"
	"iter.example/iter/core/work"
)

// ask calls a function as a browser would, and reads what it gives.
func ask[Out any](t *testing.T, name string, in any) (out Out) {
	t.Helper()
	raw, err := json.Marshal(in)
	require.NoError(t, err)
	answer := bridge.Call(name, raw)
	require.NoError(t, json.Unmarshal(answer, &out), string(answer))
	return out
}

func TestDock(t *testing.T) {
	o := work.Order{Tasks: []work.Task{{ID: "t1", Name: "First"}, {ID: "t2", Name: "Second"}}}
	v := work.Visit{Technician: "ann", Helpers: []string{"ben"}, Stage: work.OnSite,
		Steps: []work.Step{{Line: audit.Line{Entry: "1", Person: "ann"}, Action: work.StartTask, Clock: labor.Work, Task: "t2"}}}
	card := labor.Timecard{Person: "ann",
		Stamps: []labor.Stamp{{Entry: "1", At: time.UnixMilli(0), What: labor.What{Kind: labor.Work, Visit: "V1", Task: "t2"}}}}
	moment := func(v work.Visit) bridge.Moment {
		v.Order = "W1"
		m := bridge.Moment{Now: 60_000}
		for ref, body := range map[ledger.Ref]any{{Type: "visit", ID: "V1"}: v, {Type: "workorder", ID: "W1"}: o,
			{Type: "timecard", ID: "ann+1970-01-01"}: card} {
			raw, err := json.Marshal(body)
			require.NoError(t, err)
			m.Docs = append(m.Docs, ledger.Doc{Ref: ref, Body: raw})
		}
		return m
	}
	dock := func(v work.Visit, person string, cards ...string) view.Dock {
		d := ask[bridge.Docked](t, "dock", bridge.Dock{Moment: moment(v), ID: "V1", Person: person, Cards: cards})
		require.NotNil(t, d.Dock)
		return *d.Dock
	}
	standing := work.Standing{Stage: work.OnSite, On: true}
	assert.Equal(t, view.Dock{Actions: []work.Action{work.Finish, work.Pause}, Standing: standing, Task: "t2", Running: "t2",
		Clocking: []string{}, On: true}, dock(v, "ann", "ann+1970-01-01"))
	assert.Equal(t, view.Dock{Actions: []work.Action{}, Standing: standing, Clocking: []string{}, Helping: true},
		dock(v, "ben", "ann+1970-01-01"))
	assert.Equal(t, []work.Standing{standing}, ask[bridge.Stood](t, "standings",
		bridge.Standings{Moment: moment(v), Visits: []string{"V1"}, Cards: []string{"ann+1970-01-01"}}).Standings)
	assert.Equal(t, []work.Action{}, dock(v, "cay").Actions, "nothing, for whom it is not, and a list, never null")
	offer := work.Visit{Offered: []string{"ann", "ben"}, Stage: work.Sent}
	assert.Equal(t, []work.Action{work.Accept, work.Decline}, dock(offer, "ben").Actions)
	v.Stage = work.Finished
	assert.Equal(t, []work.Action{}, dock(v, "ann").Actions)
	assert.Equal(t, []ledger.Ref{{Type: "visit", ID: "V2"}},
		ask[bridge.Docked](t, "dock", bridge.Dock{Moment: moment(v), ID: "V2", Person: "ann"}).Wanted)
}

func TestDays(t *testing.T) {
	zone := labor.Zone{Shifts: []labor.Shift{{Offset: 3600}}}
	at := func(day, hour int) time.Time { return time.Date(2026, 3, day, hour, 0, 0, 0, time.UTC) }
	work := func(visit string) labor.What { return labor.What{Kind: labor.Work, Visit: visit} }
	cards := []labor.Timecard{
		{Person: "ann", Date: "2026-03-10", Stamps: []labor.Stamp{{Entry: "1", At: at(10, 21), What: work("A")}}},
		{Person: "ann", Date: "2026-03-11", Stamps: []labor.Stamp{{Entry: "2", At: at(11, 1),
			What: labor.What{Kind: labor.Stop, Visit: "A"}}, {Entry: "3", At: at(11, 7), What: work("B")}}},
	}
	got := ask[[]labor.Day](t, "days", bridge.Days{Cards: cards, Now: at(11, 8).UnixMilli(), Zone: zone,
		Pay: settings.Dated{"2026-01-01": {"weekAfter": json.RawMessage("240")}}})
	require.Len(t, got, 2)
	assert.Equal(t, int64(2*3600), got[0].Hours.Work)
	assert.Equal(t, int64(3*3600), got[1].Hours.Work)
	assert.Equal(t, int64(3600), got[1].Paid.Overtime, "over four hours of the week")
}

func TestRecordAndShow(t *testing.T) {
	at := bridge.Moment{Now: time.Date(2026, 3, 10, 9, 0, 0, 0, time.UTC).UnixMilli()}
	in := bridge.Record{Moment: at, State: replica.State{Replica: "R", Person: "ann"}, ID: "01KKB59BR0ABYZR1S1G9JMY5HZ",
		Draft: replica.Draft{Kind: "visit.arrived", Subject: ledger.Ref{Type: "visit", ID: "V1"}, Body: json.RawMessage(`{}`)}}
	in.Holder = -3
	first := ask[bridge.Recorded](t, "record", in)
	keys := []ledger.Ref{{Type: "visit", ID: "V1"}, {Type: "timecard", ID: "ann+2026-03-10"}}
	assert.Equal(t, keys, first.Wanted)

	base := []ledger.Doc{{Ref: keys[0], Rev: 4, Body: json.RawMessage(`{"technician":"ann","sentAt":"2026-03-10T07:00:00Z"}`)},
		{Ref: keys[1], Body: json.RawMessage(`null`)}}
	in.Docs = base
	r := ask[bridge.Recorded](t, "record", in)
	assert.Empty(t, r.Flags)
	changed := ask[bridge.Changed](t, "changed", bridge.Documents{Holder: -3}).Docs
	require.Len(t, changed, 2)
	byRef := map[ledger.Ref]string{}
	for _, d := range changed {
		byRef[d.Ref] = string(d.Body)
	}
	assert.Contains(t, byRef[keys[0]], `"stage":"on_site"`)

	show := bridge.Show{Pending: []replica.Pending{{Entry: r.Entry}}}
	assert.Equal(t, keys, ask[bridge.Shown](t, "show", show).Wanted)
	show.Docs = base
	for _, d := range ask[bridge.Shown](t, "show", show).Docs {
		assert.JSONEq(t, byRef[d.Ref], string(d.Body), "the same when it is folded anew")
	}
}

// What a holder was told once the core keeps, until it is told otherwise; another holder's it does not see.
func TestTheCoreKeepsWhatItIsTold(t *testing.T) {
	ref := ledger.Ref{Type: "visit", ID: "V1"}
	note := func(holder int64, id, text string, docs ...ledger.Doc) (string, []ledger.Ref) {
		raw, err := json.Marshal(map[string]string{"text": text})
		require.NoError(t, err)
		r := ask[bridge.Recorded](t, "record", bridge.Record{ID: id, State: replica.State{Replica: "R", Person: "ann"},
			Moment: bridge.Moment{Documents: bridge.Documents{Holder: holder, Docs: docs}, Now: time.Now().UnixMilli()},
			Draft:  replica.Draft{Kind: "note.written", Subject: ref, Body: raw}})
		shown := ""
		for _, d := range ask[bridge.Changed](t, "changed", bridge.Documents{Holder: holder}).Docs {
			shown += string(d.Body)
		}
		return shown, r.Wanted
	}
	sent := ledger.Doc{Ref: ref, Body: json.RawMessage(`{"technician":"ann","sentAt":"2026-03-10T07:00:00Z"}`)}
	const a, b, c = "01KKB59BR0ABYZR1S1G9JMY5HA", "01KKB59BR0ABYZR1S1G9JMY5HB", "01KKB59BR0ABYZR1S1G9JMY5HC"
	shown, _ := note(-1, a, "one", sent)
	assert.Contains(t, shown, "one")
	shown, _ = note(-1, b, "two")
	assert.Contains(t, shown, "one")
	assert.Contains(t, shown, "two")
	_, wanted := note(-2, a, "one")
	assert.Equal(t, []ledger.Ref{ref}, wanted)
	shown, _ = note(-1, c, "three", sent)
	assert.NotContains(t, shown, "two", "told anew")
}

func TestJudgeAndAnswer(t *testing.T) {
	p := reading.Point{Limits: reading.Limits{AlarmLow: new(decimal.NewFromInt(2))}}
	assert.Equal(t, reading.AlarmLow, ask[view.Judged](t, "judge", view.Judge{Point: p, Text: "1,9"}).Level)
	assert.Equal(t, "number.unreadable", ask[view.Judged](t, "judge", view.Judge{Point: p, Text: "?"}).Error.Code)
	q := sheet.Question{ID: "t", Kind: sheet.Number, Max: new(decimal.NewFromInt(9))}
	assert.Equal(t, "8.5", ask[bridge.Answered](t, "answer", bridge.Answer{Question: q, Value: " 8,50 "}).Value)
	assert.Equal(t, "answer.above", ask[bridge.Failure](t, "answer", bridge.Answer{Question: q, Value: "10"}).Error.Code)
}

func TestNextAndReceive(t *testing.T) {
	next := ask[replica.Request](t, "next", bridge.Next{State: replica.State{Replica: "R", Cursor: "1.2"}, Now: 1000})
	assert.Equal(t, "1.2", next.Cursor)
	assert.Equal(t, "1970-01-01T00:00:01Z", next.Now.Format(time.RFC3339))
	c := ask[replica.Change](t, "receive", bridge.Receive{State: replica.State{Replica: "R"},
		Response: replica.Response{Cursor: "2.3", ServerTime: time.UnixMilli(61_000)}, Sent: 500, Now: 1500, Took: 1000})
	assert.Equal(t, "2.3", c.State.Cursor)
	assert.Equal(t, int64(60_000), c.State.Skew)
	assert.JSONEq(t, `[]`, string(bridge.Call("touched", []byte(`{"response":{}}`))))
}

// After the first time a screen says only what changed, and is told when the core no longer knows what it was told.
func TestFillGoesOn(t *testing.T) {
	s := sheet.Sheet{ID: "s", Version: 1, Title: "S", Sections: []sheet.Section{{Title: "A", Questions: []sheet.Question{
		{ID: "a", Kind: sheet.YesNo, Text: "A", Required: true},
		{ID: "b", Kind: sheet.Text, Text: "B", ShowIf: &sheet.Condition{Tests: []sheet.Test{{Question: "a", Is: sheet.Equals,
			Value: "yes"}}}},
	}}}}
	raw, err := json.Marshal(s)
	require.NoError(t, err)
	assert.Nil(t, ask[bridge.Filled](t, "fill", bridge.Fill{Ref: "other@1"}).State, "a sheet it has not seen")
	first := ask[bridge.Filled](t, "fill", bridge.Fill{Ref: "s@1", Sheet: raw, As: 7})
	assert.Len(t, first.State.Lines, 1)
	next := ask[bridge.Filled](t, "fill", bridge.Fill{Ref: "s@1", As: 8, Since: 7, Changed: map[string]sheet.Answer{"a": {Value: "yes"}}})
	assert.Len(t, next.State.Lines, 2)
	assert.Empty(t, next.State.Missing)
	assert.Nil(t, ask[bridge.Filled](t, "fill", bridge.Fill{Ref: "s@1", As: 9, Since: 7}).State, "of an answer before the last")
	whole := ask[bridge.Filled](t, "fill", bridge.Fill{Ref: "s@1",
		Visit: work.Visit{Answers: map[string]map[string]sheet.Answer{"s@1": {"a": {Value: "no"}}}}})
	assert.Len(t, whole.State.Lines, 1)
	assert.Equal(t, "document.unreadable", ask[bridge.Failure](t, "fill", bridge.Fill{Ref: "x@1", Sheet: []byte(`7`)}).Error.Code)
}

func TestJudgeAreaAndAnswer(t *testing.T) {
	hours := reading.Point{ID: "h", Unit: "h", Counter: true, Limits: reading.Limits{WarnHigh: new(decimal.NewFromInt(9000))}}
	past := []view.Past{{Value: "8000"}}
	j := ask[view.Judged](t, "judge", view.Judge{Point: hours, Text: "8100", Unit: "h", Before: past})
	assert.Equal(t, "100", j.Change)
	assert.Equal(t, reading.OK, j.Level)
	j = ask[view.Judged](t, "judge", view.Judge{Point: hours, Text: "546000", Unit: "min", Before: past})
	assert.Equal(t, "9100 high", j.Shown+" "+string(j.Level))
	assert.Equal(t, reading.Fell, ask[view.Judged](t, "judge", view.Judge{Point: hours, Text: "12", Unit: "h", Before: past}).Doubt)
	j = ask[view.Judged](t, "judge", view.Judge{Point: hours, Text: "12", Unit: "h", Before: past,
		Replaced: &reading.Replaced{Last: decimal.NewFromInt(8010), Start: decimal.NewFromInt(2)}})
	assert.Equal(t, "20 ", j.Change+" "+string(j.Doubt))
	assert.Equal(t, reading.Unlike, ask[view.Judged](t, "judge", view.Judge{Point: hours, Text: "3", Unit: "bar"}).Doubt)

	assert.Equal(t, "7.5", ask[bridge.Square](t, "area", area.Area{Unit: "m",
		Shapes: []area.Shape{{Form: area.Rectangle, Sizes: []decimal.Decimal{decimal.NewFromInt(3),
			decimal.RequireFromString("2.5")}}}}).Square.String())
	assert.Equal(t, "area.sizes", ask[bridge.Failure](t, "area", area.Area{Unit: "m",
		Shapes: []area.Shape{{Form: area.Circle}}}).Error.Code)
	assert.Equal(t, "2.5", ask[bridge.Answered](t, "answer", bridge.Answer{Question: sheet.Question{Kind: sheet.Number, Unit: "bar"},
		Value: "250 kPa"}).Value)
	assert.Equal(t, "answer.date", ask[bridge.Failure](t, "answer", bridge.Answer{Question: sheet.Question{Kind: sheet.Date},
		Value: "tomorrow"}).Error.Code)
}

// How a sheet begins is worked out the same, however often and in whatever order it is asked.
func TestBegin(t *testing.T) {
	s := sheet.Sheet{ID: "s", Version: 1, Title: "S", Sections: []sheet.Section{
		{Title: "A", Questions: []sheet.Question{{ID: "who", Kind: sheet.Text, Text: "Who", Prefill: "site.contact.name"},
			{ID: "none", Kind: sheet.Text, Text: "None", Prefill: "asset.maker"}}},
		{ID: "m", Title: "M", Repeat: &sheet.Repeat{Noun: "machine", Assets: true},
			Questions: []sheet.Question{{ID: "ok", Kind: sheet.YesNo, Text: "OK?"}}},
	}}
	raw, err := json.Marshal(s)
	require.NoError(t, err)
	around := view.Around{Site: records.Site{Contact: records.Contact{Name: "R. Keast"}},
		Assets: map[string]records.Asset{"A3": {Name: "Filter"}, "A1": {Name: "Pump"}, "A2": {Name: "Filter"}}}
	for range 5 {
		b := ask[bridge.Filled](t, "begin", bridge.Fill{Ref: "s@1", Sheet: raw, Around: around}).Begin
		assert.Equal(t, []ledger.Given{{Question: "who", Value: "R. Keast"}}, b.Known)
		var ids []string
		for _, it := range b.Items {
			ids = append(ids, it.Item)
		}
		assert.Equal(t, []string{"A2", "A3", "A1"}, ids, "by name, then by number")
	}
	assert.Equal(t, "document.unreadable", ask[bridge.Failure](t, "begin", bridge.Fill{Ref: "s@1"}).Error.Code)
}
