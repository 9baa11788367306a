package checks_test

import (
	"context"
	"encoding/csv"
	"encoding/json"
	"strings"
	"testing"
	"time"

	"github.com/shopspring/decimal"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"iter.example/iter/core/formula/parse"
	"iter.example/iter/core/ledger"
	"iter.example/iter/core/ledger/ledgertest"
	"iter.example/iter/core/reading"
	"iter.example/iter/core/records"
	"iter.example/iter/core/sheet"
	"iter.example/iter/core/substance"
	"iter.example/iter/core/work"
	"iter.example/iter/server/checks"
	"iter.example/iter/server/store"
	"iter.example/iter/server/table"
)

// office is the test company with a store, and what people recorded.
type office struct {
	*testing.T
	store *store.Store
	m     *ledgertest.Maker
}

func open(t *testing.T) *office {
	s, err := store.Open(context.Background(), t.TempDir())
	require.NoError(t, err)
	t.Cleanup(func() { _ = s.Close() })
	o := &office{t, s, ledgertest.NewMaker("R1", 1)}
	for _, e := range o.m.Company() {
		o.record(e)
	}
	ratio, err := parse.Text("change(energy) / change(volume)")
	require.NoError(t, err)
	o.says("office", "record.created", "assetkind", "booster", records.AssetKind{Name: "Booster set",
		Points: []reading.Point{{ID: "energy", Name: "Energy", Unit: "kWh", Counter: true},
			{ID: "volume", Name: "Volume", Unit: "m³", Counter: true}},
		Derived: []reading.Derived{{ID: "use", Name: "Use", Unit: "kWh/m³", Places: 2, Formula: "change(energy) / change(volume)",
			Program: &ratio, Limits: reading.Limits{WarnHigh: dec("0.5")}}}})
	return o
}

func dec(s string) *decimal.Decimal { d := decimal.RequireFromString(s); return &d }

func (o *office) record(e ledger.Entry) {
	o.Helper()
	require.NoError(o, o.store.Write(context.Background(), func(tx *store.Tx) error { _, err := tx.Record(e, e.At); return err }))
}

func (o *office) says(actor, kind, typ, id string, body any) ledger.Entry {
	o.m.Wait(time.Minute)
	e := o.m.Entry(actor, kind, typ, id, body)
	o.record(e)
	return e
}

func (o *office) reads(visit, point, value, unit string) ledger.Entry {
	return o.says("ann", "reading.taken", "visit", visit, ledger.Taken{Asset: "A1", Kind: "booster", Point: point, Value: *dec(value),
		Unit: unit})
}

func ask[T any](o *office, f func(*store.Tx) (T, error)) (out T) {
	require.NoError(o, o.store.Read(context.Background(), func(tx *store.Tx) (err error) { out, err = f(tx); return err }))
	return out
}

func (o *office) secondVisit() {
	o.m.Wait(24 * time.Hour)
	o.says("office", "visit.planned", "visit", "V2", ledger.Plan{Order: "W1", Technician: "ann", Start: ledgertest.Start.AddDate(0, 0, 1),
		Minutes: 60})
}

func TestSeriesOverVisits(t *testing.T) {
	o := open(t)
	o.reads("V1", "discharge", "60", "psi")
	o.reads("V1", "energy", "1000", "kWh")
	o.reads("V1", "volume", "500", "m3")
	o.reads("V1", "old", "7", "l")
	wrong := o.reads("V1", "volume", "900", "m³")
	o.says("ann", "entry.struck", "visit", "V1", ask(o, func(tx *store.Tx) (ledger.Struck, error) { return tx.Striking(wrong) }))
	o.secondVisit()
	o.reads("V2", "discharge", "2", "bar")
	o.reads("V2", "energy", "1.6", "MWh")
	o.reads("V2", "volume", "1500", "m³")

	all := map[string]checks.Series{}
	for _, s := range ask(o, func(tx *store.Tx) ([]checks.Series, error) { return checks.Of(tx, "A1") }) {
		all[s.ID] = s
	}
	require.Len(t, all, 5, "three points, one that is gone, one derived")
	d := all["discharge"].Values
	assert.Equal(t, "4.1369 60 psi Ann Vane", d[0].Value.String()+" "+d[0].As+" "+d[0].Person)
	assert.Equal(t, reading.AlarmLow, d[1].Level)
	assert.Equal(t, "-2.1369", d[1].Change)
	require.Len(t, all["volume"].Values, 2, "without the struck one")
	assert.Equal(t, "1000", all["volume"].Values[1].Change)
	require.Len(t, all["use"].Values, 1, "the first visit has none before it")
	assert.Equal(t, "0.6", all["use"].Values[0].Value.String())
	assert.Equal(t, reading.High, all["use"].Values[0].Level)
	assert.Equal(t, "7", all["old"].Values[0].Value.String(), "of a point that is no more")
}

func TestAttentionUntilItIsHandled(t *testing.T) {
	o := open(t)
	o.reads("V1", "discharge", "1", "bar")
	o.says("ann", "work.proposed", "visit", "V1", ledger.Proposed{Kind: work.Recommendation, Text: "Change the seal", Asset: "A1",
		Part: "P1"})
	list := func(handled bool) []checks.Concern {
		return ask(o, func(tx *store.Tx) ([]checks.Concern, error) { return checks.Attention(tx, handled) })
	}
	open := list(false)
	require.Len(t, open, 2)
	assert.Equal(t, work.ConcernAlarm, open[0].Concern)
	assert.Equal(t, "4127 Orrisk Pump House 3 Booster set Discharge pressure 2.5 bar Ann Vane",
		strings.Join([]string{open[0].Number, open[0].SiteName, open[0].AssetName, open[0].PointName, open[0].Limit.String(),
			open[0].LimitUnit, open[0].By}, " "))
	assert.Equal(t, "Mechanical seal 38 mm", open[1].PartName)
	o.says("office", "work.opened", "workorder", "W2", work.Order{Number: "4128", Customer: "C1", Site: "S1", Problem: "Low pressure",
		Priority: work.Soon, Minutes: 60, From: &work.Origin{Visit: "V1", Key: open[0].Key}})
	o.says("office", "attention.handled", "visit", "V1", ledger.AttentionHandled{Key: open[0].Key, Order: "W2"})
	assert.Len(t, list(false), 1)
	assert.Equal(t, "4128", list(true)[0].Work)
	o.reads("V1", "discharge", "4", "bar")
	assert.Empty(t, list(true), "put right: nothing was left to handle")
	differ, _, err := o.store.Verify(context.Background(), nil)
	require.NoError(t, err)
	assert.Empty(t, differ)
}

func TestFiles(t *testing.T) {
	o := open(t)
	priced := sheet.Sheet{ID: "priced", Version: 1, Title: "Priced",
		Sections: []sheet.Section{{ID: "rooms", Title: "Rooms", Repeat: &sheet.Repeat{Noun: "room"}, Questions: []sheet.Question{
			{ID: "fit", Kind: sheet.Part, Text: "Fit"}, {ID: "why", Kind: sheet.Text, Text: "Why"},
			{ID: "how", Kind: sheet.Choice, Text: "How", Options: []sheet.Option{{ID: "a", Text: "At once"}, {ID: "b", Text: "Later"}}}}}}}
	o.says("office", "record.created", "sheet", "priced@1", priced)
	o.says("ann", "sheet.attached", "visit", "V1", ledger.SheetAttached{Order: "W1", Sheet: "priced@1"})
	o.says("ann", "sheet.repeated", "visit", "V1", ledger.SheetRepeated{Sheet: "priced@1",
		Repeated: ledger.Repeated{Section: "rooms", Item: "r1", Name: "Cellar, \"north\""}})
	for q, v := range map[string]string{"fit": `{"part":"P1","name":"Seal","quantity":"2","price":"10.5"}`, "why": "=HYPERLINK(\"x\")",
		"how": "b"} {
		o.says("ann", "sheet.answered", "visit", "V1", ledger.Answered{Sheet: "priced@1", Question: q, Item: "r1", Value: v})
	}
	o.reads("V1", "discharge", "60", "psi")
	day := checks.Range{From: "2026-03-10", To: "2026-03-10"}
	lines := ask(o, func(tx *store.Tx) (table.Table, error) { return checks.Answers(tx, day, "priced", ledgertest.Start) })
	raw, err := lines.CSV()
	require.NoError(t, err)
	rows, err := csv.NewReader(strings.NewReader(string(raw))).ReadAll()
	require.NoError(t, err)
	assert.Equal(t, checks.AnswerColumns, rows[0])
	require.Len(t, rows, 4)
	byQuestion := map[string]map[string]string{}
	for _, r := range rows[1:] {
		line := map[string]string{}
		for i, c := range rows[0] {
			line[c] = r[i]
		}
		byQuestion[line["question"]] = line
	}
	assert.Equal(t, "21.00", byQuestion["fit"]["amount"])
	assert.Equal(t, "2 × Seal", byQuestion["fit"]["words"])
	assert.Equal(t, "'=HYPERLINK(\"x\")", byQuestion["why"]["value"], "a spreadsheet must not run it")
	assert.Equal(t, "Later", byQuestion["how"]["words"])
	assert.Equal(t, "Cellar, \"north\"", byQuestion["how"]["item_name"])
	assert.Equal(t, "4127", byQuestion["how"]["work_order"])

	// A sheet that asks for nothing but a reading is in the file too.
	measured := sheet.Sheet{ID: "measured", Version: 1, Title: "M",
		Sections: []sheet.Section{{Title: "A", Questions: []sheet.Question{{ID: "p", Kind: sheet.Reading, Text: "P", Point: "discharge",
			Unit: "kPa"}}}}}
	o.says("office", "record.created", "sheet", "measured@1", measured)
	o.says("office", "work.opened", "workorder", "W3", work.Order{Number: "4300", Customer: "C1", Site: "S1", Asset: "A1",
		Problem: "Measure", Priority: work.Normal, Minutes: 5, Sheets: []string{"measured@1"}})
	o.says("office", "visit.planned", "visit", "V3", ledger.Plan{Order: "W3", Technician: "ann", Start: ledgertest.Start, Minutes: 5})
	o.reads("V3", "discharge", "4", "bar")
	only := ask(o, func(tx *store.Tx) (table.Table, error) { return checks.Answers(tx, day, "measured", ledgertest.Start) })
	require.Len(t, only.Rows, 1)
	assert.Contains(t, only.Rows[0], "400")

	readings := ask(o, func(tx *store.Tx) (table.Table, error) { return checks.Readings(tx, day) })
	out, err := readings.JSON()
	require.NoError(t, err)
	var list []map[string]string
	require.NoError(t, json.Unmarshal(out, &list))
	assert.Equal(t, "4.1369 bar 60 psi ok", strings.Join([]string{list[0]["value"], list[0]["unit"], list[0]["as_read"],
		list[0]["as_read_unit"], list[0]["level"]}, " "))
	assert.Empty(t, ask(o, func(tx *store.Tx) (table.Table, error) {
		return checks.Readings(tx, checks.Range{From: "2026-03-11", To: "2026-03-12"})
	}).Rows)
	for _, r := range []checks.Range{{}, {From: "2026-03-10"}, {From: "2026-03-10", To: "2026-03-09"},
		{From: "1999-01-01", To: "2026-03-09"}} {
		assert.Error(t, r.Check())
	}
}

func TestSubstanceLog(t *testing.T) {
	o := open(t)
	o.says("office", "settings.changed", "settings", "substances", ledgertest.Changed("substances",
		map[string]any{"substances": []substance.Substance{{ID: "coolant", Name: "Coolant", Unit: "kg", Allowed: dec("5")}}}))
	o.says("office", "record.amended", "asset", "A1",
		map[string]any{"charges": []records.Charge{{Substance: "coolant", Amount: *dec("8")}}})
	o.says("ann", "substance.moved", "visit", "V1", ledger.SubstanceMoved{Site: "S1", Substance: "coolant", Act: substance.PutIn,
		Asset: "A1", Amount: *dec("500"), Unit: "g", Away: true})
	page := ask(o, func(tx *store.Tx) (*checks.SubstancePage, error) {
		return checks.Substances(tx, "S1", ledgertest.Start.AddDate(0, 1, 0))
	})
	assert.Equal(t, "6.3", page.Stands[0].Machines[0].Loss.String())
	assert.True(t, page.Stands[0].Machines[0].Over)
	assert.Equal(t, "Booster set", page.Names["A1"])
	assert.Equal(t, "Ann Vane", page.Names["ann"])
	assert.Empty(t, ask(o, func(tx *store.Tx) (*checks.SubstancePage, error) {
		return checks.Substances(tx, "S9", ledgertest.Start)
	}).Stands)
}
