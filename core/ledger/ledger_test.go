package ledger_test

import (
	"encoding/json"
	"math/rand"
	"strings"
	"testing"
	"time"

	"github.com/shopspring/decimal"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"iter.example/iter/core/labor"
	"iter.example/iter/core/ledger"
	"iter.example/iter/core/ledger/ledgertest"
	"iter.example/iter/core/msg"
	"iter.example/iter/core/records"
	"iter.example/iter/core/signoff"
	"iter.example/iter/core/stock"
	"iter.example/iter/core/work"
)

// company folds the test company, and fails the test if any of it does not fit.
func company(t require.TestingT) (*ledgertest.Maker, ledger.Docs) {
	m := ledgertest.NewMaker("R1", 1)
	docs := ledger.Docs{}
	for i, r := range ledgertest.Fold(docs, m.Company()) {
		require.Empty(t, r.Error, i)
	}
	return m, docs
}

func read[T any](t require.TestingT, docs ledger.Docs, typ, id string) T {
	var v T
	require.NoError(t, json.Unmarshal(docs[ledger.Ref{Type: typ, ID: id}], &v), "%s/%s", typ, id)
	return v
}

func TestAVisitFromEndToEnd(t *testing.T) {
	m, docs := company(t)
	field := func(kind string, body any) ledger.Entry { return m.Entry("ann", kind, "visit", "V1", body) }
	one := decimal.NewFromInt(1)
	entries := []ledger.Entry{field("visit.accepted", ledger.Step{}), field("visit.set_off", ledger.Step{})}
	m.Wait(20 * time.Minute)
	entries = append(entries, field("visit.arrived", ledger.Step{Where: &work.Where{Lat: 50, Lon: -5}}),
		field("note.written", ledger.Note{Text: "Seal weeps"}),
		field("part.used", ledger.Use{Part: "P1", Place: "van-ann", Quantity: one}),
		field("reading.taken", ledger.Taken{Asset: "A1", Point: "discharge", Value: decimal.RequireFromString("2.10"), Unit: "bar"}),
		field("sheet.answered", ledger.Answered{Sheet: "pump@1", Question: "temp", Value: "61,5"}),
		field("signoff.captured", ledgertest.Signed(signoff.Summary{Order: "4127"}, "Ona Pryde")))
	m.Wait(40 * time.Minute)
	entries = append(entries, field("visit.finished", ledger.Step{Outcome: work.Complete}))
	for _, r := range ledgertest.Fold(docs, entries) {
		assert.Empty(t, r.Error)
		assert.Empty(t, r.Flags)
	}

	v := read[work.Visit](t, docs, "visit", "V1")
	assert.Equal(t, work.Finished, v.Stage)
	assert.Equal(t, work.Complete, v.Outcome)
	assert.Equal(t, "61.5", v.Answers["pump@1"]["temp"].Value)
	assert.Len(t, v.Signatures, 1)
	assert.Equal(t, "2", read[stock.Stock](t, docs, "stock", "van-ann").Lines["P1"].Balance.String())
	card := read[labor.Timecard](t, docs, "timecard", "ann+2026-03-10")
	assert.Equal(t, labor.Hours{Travel: 20 * 60, Work: 40 * 60}, labor.Total(labor.Spans(m.Entry("ann", "x", "", "", 0).At, card), "V1"))
}

func TestEntriesThatCanNotBeTaken(t *testing.T) {
	m, docs := company(t)
	field := func(kind string, body any) ledger.Entry { return m.Entry("ann", kind, "visit", "V1", body) }
	with := func(change func(*ledger.Entry)) ledger.Entry {
		e := field("note.written", ledger.Note{Text: "x"})
		change(&e)
		return e
	}
	one := decimal.NewFromInt(1)
	unsigned := ledgertest.Signed(signoff.Summary{}, "Ona")
	unsigned.Strokes = nil
	forged := ledgertest.Signed(signoff.Summary{}, "Ona")
	forged.Summary.Order = "1"
	for name, c := range map[string]struct {
		e    ledger.Entry
		code string
	}{
		"unknown kind":          {with(func(e *ledger.Entry) { e.Kind = "visit.vanished" }), "entry.kind"},
		"newer version":         {with(func(e *ledger.Entry) { e.V = 2 }), "entry.version"},
		"version zero":          {with(func(e *ledger.Entry) { e.V = 0 }), "entry.version"},
		"no id":                 {with(func(e *ledger.Entry) { e.ID = "" }), "entry.id"},
		"lower-case id":         {with(func(e *ledger.Entry) { e.ID = strings.ToLower(e.ID) }), "entry.id"},
		"no time":               {with(func(e *ledger.Entry) { e.At = time.Time{} }), "entry.time"},
		"no actor":              {with(func(e *ledger.Entry) { e.Actor = "" }), "id.unusable"},
		"a path as id":          {with(func(e *ledger.Entry) { e.Subject.ID = "../../etc" }), "id.unusable"},
		"about the wrong type":  {with(func(e *ledger.Entry) { e.Subject.Type = "site" }), "entry.subject"},
		"body of another shape": {with(func(e *ledger.Entry) { e.Body = json.RawMessage(`{"text":{}}`) }), "entry.body"},
		"body not JSON":         {with(func(e *ledger.Entry) { e.Body = json.RawMessage(`{`) }), "entry.body"},
		"huge body":             {with(func(e *ledger.Entry) { e.Body = make([]byte, ledger.MaxBody+1) }), "entry.large"},
		"unknown visit":         {with(func(e *ledger.Entry) { e.Subject.ID = "V9" }), "record.unknown"},
		"empty note":            {field("note.written", ledger.Note{Text: " "}), "text.missing"},
		"negative quantity":     {field("part.used", ledger.Use{Part: "P1", Place: "van-ann", Quantity: one.Neg()}), "quantity.absurd"},
		"no quantity":           {field("part.used", ledger.Use{Part: "P1", Place: "van-ann"}), "quantity.absurd"},
		"a million seals": {field("part.used", ledger.Use{Part: "P1", Place: "van-ann", Quantity: decimal.New(1, 6)}),
			"quantity.absurd"},
		"absurd reading": {field("reading.taken", ledger.Taken{Asset: "A1", Point: "discharge", Value: decimal.New(1, 13)}),
			"reading.absurd"},
		"answer out of the sheet": {field("sheet.answered", ledger.Answered{Sheet: "pump@1", Question: "temp", Value: "999"}),
			"answer.above"},
		"signature with no stroke": {field("signoff.captured", unsigned), "signature.empty"},
		"another summary's digest": {field("signoff.captured", forged), "signature.digest"},
		"no outcome":               {field("visit.finished", ledger.Step{}), "visit.outcome"},
		"a drive of a pause":       {field("visit.paused", ledger.Step{Drive: &work.Drive{}}), "visit.clock"},
		"a drive of a year":        {field("visit.set_off", ledger.Step{Drive: &work.Drive{Seconds: 365 * 86400}}), "drive.absurd"},
		"a drive all on a ferry":   {field("visit.set_off", ledger.Step{Drive: &work.Drive{Seconds: 60, Ferry: 61}}), "drive.absurd"},
		"a pause that works":       {field("visit.paused", ledger.Step{Clock: labor.Work}), "visit.clock"},
		"off the earth":            {field("visit.arrived", ledger.Step{Where: &work.Where{Lat: 91}}), "site.position"},
		"strike what is not there": {field("entry.struck", ledger.Struck{Entry: "01HZZZZZZZZZZZZZZZZZZZZZZZ", Kind: "note.written",
			Person: "ann"}), "strike.unknown"},
		"not a technician": {m.Entry("office", "visit.planned", "visit", "V3",
			ledger.Plan{Order: "W1", Technician: "office", Start: ledgertest.Start, Minutes: 5}), "visit.technician"},
		"an order twice": {m.Entry("office", "work.opened", "workorder", "W1",
			work.Order{Customer: "C1", Site: "S1", Problem: "x", Priority: work.Soon, Minutes: 5}), "record.exists"},
		"order at nobody's site": {m.Entry("office", "work.opened", "workorder", "W2",
			work.Order{Customer: "C1", Site: "S9", Problem: "x", Priority: work.Soon, Minutes: 5}), "record.unknown"},
		"a sheet changed": {m.Entry("office", "record.amended", "sheet", "pump@1", map[string]any{"title": "x"}),
			"sheet.published"},
		"a name taken away": {m.Entry("office", "record.amended", "site", "S1", map[string]any{"name": nil}), "text.missing"},
		"no such record":    {m.Entry("office", "record.created", "spell", "x", map[string]any{}), "record.type"},
	} {
		t.Run(name, func(t *testing.T) {
			before, _ := json.Marshal(docs[ledger.Ref{Type: "visit", ID: "V1"}])
			_, _, err := ledger.Apply(docs, c.e)
			require.Error(t, err)
			assert.Equal(t, c.code, msg.From(err).Code)
			after, _ := json.Marshal(docs[ledger.Ref{Type: "visit", ID: "V1"}])
			assert.Equal(t, before, after)
		})
	}
}

func TestFlags(t *testing.T) {
	m, docs := company(t)
	apply := func(e ledger.Entry) (codes []string) {
		r := ledgertest.Fold(docs, []ledger.Entry{e})[0]
		require.Empty(t, r.Error)
		for _, f := range r.Flags {
			codes = append(codes, f.Code.Code)
		}
		return codes
	}
	note := ledger.Note{Text: "x"}
	assert.Equal(t, []string{"visit.not_theirs"}, apply(m.Entry("ben", "note.written", "visit", "V1", note)))
	assert.Equal(t, []string{"stock.below_zero"}, apply(m.Entry("ann", "part.used", "visit", "V1",
		ledger.Use{Part: "P1", Place: "van-ann", Quantity: decimal.NewFromInt(4)})))
	assert.Equal(t, []string{"sheet.unknown_question"},
		apply(m.Entry("ann", "sheet.answered", "visit", "V1", ledger.Answered{Sheet: "pump@1", Question: "none", Value: "kept"})))
	assert.Equal(t, "kept", read[work.Visit](t, docs, "visit", "V1").Answers["pump@1"]["none"].Value)

	amend := m.Entry("office", "record.amended", "site", "S1", map[string]any{"access": "Code 1"})
	amend.Base = json.RawMessage(`{"access":null}`)
	assert.Empty(t, apply(amend))
	amend = m.Entry("office", "record.amended", "site", "S1", map[string]any{"access": "Code 2"})
	amend.Base = json.RawMessage(`{"access":null}`)
	assert.Equal(t, []string{"record.clash"}, apply(amend))
	assert.Equal(t, "Code 2", read[records.Site](t, docs, "site", "S1").Access, "the later stands")

	done := ledger.Step{Outcome: work.Complete}
	assert.Empty(t, apply(m.Entry("ann", "visit.finished", "visit", "V1", done)))
	assert.Equal(t, []string{"visit.finished_twice"}, apply(m.Entry("ann", "visit.finished", "visit", "V1", done)))
	assert.Empty(t, apply(m.Entry("office", "visit.planned", "visit", "V2",
		ledger.Plan{Order: "W1", Technician: "ann", Start: ledgertest.Start, Minutes: 5})))
	assert.Empty(t, apply(m.Entry("office", "visit.withdrawn", "visit", "V2", ledger.Withdraw{})))
	assert.Equal(t, []string{"visit.withdrawn_meanwhile"}, apply(m.Entry("ann", "visit.arrived", "visit", "V2", ledger.Step{})))
	assert.Equal(t, work.Withdrawn, read[work.Visit](t, docs, "visit", "V2").Stage)
}

func TestCommandsOnAVisitThatIsOverOrBegun(t *testing.T) {
	m, docs := company(t)
	move := ledger.Move{Technician: "ben", Start: ledgertest.Start, Minutes: 5}
	refuse := func(kind string, body any) string {
		_, _, err := ledger.Apply(docs, m.Entry("office", kind, "visit", "V1", body))
		return msg.From(err).Code
	}
	require.Empty(t, ledgertest.Fold(docs, []ledger.Entry{m.Entry("ann", "visit.set_off", "visit", "V1", ledger.Step{})})[0].Error)
	assert.Equal(t, "visit.begun", refuse("visit.moved", move))
	require.Empty(t, ledgertest.Fold(docs, []ledger.Entry{m.Entry("ann", "visit.finished", "visit", "V1",
		ledger.Step{Outcome: work.Complete})})[0].Error)
	assert.Equal(t, "visit.over", refuse("visit.moved", move))
	assert.Equal(t, "visit.over", refuse("visit.withdrawn", ledger.Withdraw{}))
	assert.Equal(t, "visit.over", refuse("visit.sent", ledger.Nothing{}))
}

func TestTimely(t *testing.T) {
	now := ledgertest.Start
	for _, c := range []struct {
		off        time.Duration
		hold, flag bool
	}{
		{0, false, false}, {-20 * 24 * time.Hour, false, false}, {4 * time.Minute, false, false},
		{time.Hour, false, true}, {24 * time.Hour, true, false}, {-46 * 24 * time.Hour, true, false}, {20000 * time.Hour, true, false},
	} {
		hold, flag := ledger.Timely(now.Add(c.off), now)
		assert.Equal(t, c.hold, hold != nil, c.off)
		assert.Equal(t, c.flag, flag != nil, c.off)
	}
}

// Whatever is recorded, right or wrong: only the documents named by Keys are read or changed, nothing panics, the same
// entries give the same bytes, and the van's balance is what was counted less what was used and not struck out.
func TestRandomSequences(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		seed := rapid.Int64().Draw(t, "seed")
		r := rand.New(rand.NewSource(seed))
		m, docs := company(t)
		again := ledger.Docs{}
		for k, v := range docs {
			again[k] = v
		}
		entries := []ledger.Entry{m.Entry("ann", "note.written", "visit", "V1", ledger.Note{Text: "first"})}
		for range rapid.IntRange(1, 40).Draw(t, "entries") {
			e := m.Random(r, entries)
			entries = append(entries, e)
			f, err := ledger.Open(e)
			if err != nil {
				continue
			}
			narrow := ledger.Docs{}
			for _, k := range f.Keys() {
				if b, ok := docs[k]; ok {
					narrow[k] = b
				}
			}
			wide, _, errWide := f.Apply(docs)
			slim, _, errSlim := f.Apply(narrow)
			require.Equal(t, errWide, errSlim)
			require.Equal(t, wide, slim, "reads more than its keys")
			for k := range wide {
				require.Contains(t, f.Keys(), k, "changes more than its keys")
			}
		}
		ledgertest.Fold(docs, entries)
		ledgertest.Fold(again, entries)
		require.Equal(t, docs, again)
		orderStands(t, docs)

		used := decimal.Zero
		for _, id := range []string{"V1", "V2"} {
			if docs[ledger.Ref{Type: "visit", ID: id}] == nil {
				continue
			}
			for _, p := range read[work.Visit](t, docs, "visit", id).Parts {
				if p.Place == "van-ann" && p.Part == "P1" && !p.Struck {
					used = used.Add(p.Quantity)
				}
			}
		}
		require.Equal(t, decimal.NewFromInt(3).Sub(used).String(), read[stock.Stock](t, docs, "stock",
			"van-ann").Lines["P1"].Balance.String())
	})
}

func FuzzApply(f *testing.F) {
	m, docs := company(f)
	for _, kind := range ledger.Kinds() {
		f.Add(kind, "visit", "V1", []byte(`{"text":"x","part":"P1","place":"van-ann","quantity":"1"}`), []byte(`{}`))
	}
	e := m.Entry("ann", "x", "", "", 0)
	f.Fuzz(func(t *testing.T, kind, typ, id string, body, base []byte) {
		e.Kind, e.Subject, e.Body, e.Base = kind, ledger.Ref{Type: typ, ID: id}, body, base
		changed, _, err := ledger.Apply(docs, e)
		if err != nil && msg.From(err).Code == "unreadable" {
			t.Fatal("an error without a code: ", err)
		}
		for k, b := range changed {
			if !json.Valid(b) {
				t.Fatalf("%s is no JSON any more", k)
			}
		}
	})
}

// orderStands checks that no work order is closed while a visit that it waits for is not over.
func orderStands(t require.TestingT, docs ledger.Docs) {
	for ref := range docs {
		if ref.Type != "workorder" {
			continue
		}
		o := read[work.Order](t, docs, ref.Type, ref.ID)
		var visits []work.Visit
		var trips []work.Trip
		for _, id := range o.Visits {
			v := read[work.Visit](t, docs, "visit", id)
			visits, trips = append(visits, v), append(trips, v.Trip())
		}
		if work.StateOf(trips...) != work.Closed {
			continue
		}
		for _, v := range visits {
			require.True(t, v.Stage == work.Finished || v.Stage == work.Withdrawn || v.Stage == work.Declined || v.Spare,
				"%s is closed while a visit is %s", ref, v.Stage)
		}
	}
}
