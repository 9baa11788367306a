package view_test

import (
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
	"iter.example/iter/core/substance"
	"iter.example/iter/core/view"
	"iter.example/iter/core/work"
)

// office records a command about any document.
func (s *scene) office(kind, typ, id string, body any) {
	e := s.m.Entry("office", kind, typ, id, body)
	require.Empty(s.t, ledgertest.Fold(s.docs, []ledger.Entry{e})[0].Error, kind)
	s.wait(time.Second)
}

// plan plans another visit of the company's work order.
func (s *scene) plan(id string) {
	s.office("visit.planned", "visit", id, ledger.Plan{Order: "W1", Technician: "ann", Start: s.now, Minutes: 30})
}

func (s *scene) read(visit, point, value, unit string) {
	s.record("ann", "reading.taken", visit, ledger.Taken{Asset: "A1", Kind: "booster", Point: point,
		Value: decimal.RequireFromString(value), Unit: unit})
}

func (s *scene) kind() {
	n, err := parse.Text("change(energy) / change(volume)")
	require.NoError(s.t, err)
	s.office("record.created", "assetkind", "booster", records.AssetKind{Name: "Booster set",
		Points: []reading.Point{{ID: "energy", Name: "Energy", Unit: "kWh", Counter: true},
			{ID: "volume", Name: "Volume", Unit: "m³", Counter: true}},
		Derived: []reading.Derived{{ID: "use", Name: "Use", Unit: "kWh/m³", Places: 2, Formula: "change(energy) / change(volume)",
			Program: &n, Limits: reading.Limits{WarnHigh: new(decimal.RequireFromString("0.4"))}}}})
}

// A visit shows what was measured before it, and what follows from what was measured on it; looked at later, it shows the same.
func TestAVisitKnowsWhatWasBefore(t *testing.T) {
	s := newScene(t)
	s.kind()
	s.read("V1", "energy", "1000", "kWh")
	s.read("V1", "volume", "500", "m³")
	s.read("V1", "discharge", "4", "bar")
	s.record("ann", "visit.finished", "V1", ledger.Step{Outcome: work.Complete})
	s.plan("V2")
	s.wait(time.Hour)
	s.read("V2", "energy", "1100", "kWh")
	s.read("V2", "volume", "700", "m³")
	s.read("V2", "discharge", "60", "psi")

	first, second := s.view("V1"), s.view("V2")
	use := func(v *view.Visit) *decimal.Decimal { return v.Machines[0].Derived[0].Value }
	assert.Nil(t, use(first), "there is nothing before the first")
	assert.Equal(t, "0.5", use(second).String())
	require.Len(t, second.Attention, 1, "a derived value out of its limits wants attention as a reading does")
	assert.Equal(t, "warning Use 0.5 kWh/m³ high",
		strings.Join([]string{string(second.Attention[0].Concern), second.Attention[0].Point, second.Attention[0].Value,
			second.Attention[0].Unit, second.Attention[0].Code}, " "))
	before := func(v *view.Visit, point string) (out []string) {
		for _, p := range v.Machines[0].Points {
			if p.ID == point {
				for _, b := range p.Before {
					out = append(out, b.Value)
				}
			}
		}
		return out
	}
	assert.Equal(t, []string{"1000"}, before(second, "energy"))
	assert.Empty(t, before(first, "energy"), "what came after a finished visit is not before it")
	lines := map[string]view.ReadingLine{}
	for _, r := range second.Readings {
		lines[r.Point] = r
	}
	assert.Equal(t, "100", lines["energy"].Change)
	assert.Equal(t, "4.1369 bar 0.13685", lines["discharge"].Shown+" "+lines["discharge"].ShownUnit+" "+lines["discharge"].Change)
	assert.Equal(t, "Energy", lines["energy"].PointName)
	assert.Equal(t, "psi", second.Machines[0].Points[2].Units[0])

	// What it rested on is struck out: it says nothing until there is another.
	r := second.Visit.Readings[1]
	s.record("ann", "entry.struck", "V2", ledgertest.Strike(s.docs, ledger.Entry{ID: r.Entry, At: r.At, Kind: "reading.taken",
		Actor: "ann", Subject: ledger.Ref{Type: "visit", ID: "V2"}}))
	assert.Empty(t, s.view("V2").Attention)
	s.read("V2", "volume", "1500", "m³")
	assert.Empty(t, s.view("V2").Attention, "0.1 is within its limits")
	s.read("V2", "volume", "600", "m³")
	assert.Len(t, s.view("V2").Attention, 2, "a doubt, since the counter fell, and the use")
}

// Limits that change later do not rewrite how a value was seen.
func TestLevelsStayAsTheyWereSeen(t *testing.T) {
	s := newScene(t)
	s.read("V1", "discharge", "2", "bar")
	assert.Equal(t, reading.AlarmLow, s.view("V1").Readings[0].Level)
	s.office("record.amended", "asset", "A1", map[string]any{"points": []reading.Point{{ID: "discharge", Name: "Discharge", Unit: "bar"}}})
	v := s.view("V1")
	assert.Equal(t, reading.AlarmLow, v.Readings[0].Level)
	assert.Equal(t, "Discharge", v.Readings[0].PointName)
	s.office("record.amended", "asset", "A1", map[string]any{"points": []reading.Point{}})
	v = s.view("V1")
	assert.Equal(t, "discharge 2 bar", v.Readings[0].PointName+" "+v.Readings[0].Shown+" "+v.Readings[0].ShownUnit,
		"a point that was deleted leaves its readings readable")
}

// A trend is at most so long, however often a machine was measured.
func TestTrendsAreShort(t *testing.T) {
	s := newScene(t)
	for range 30 {
		s.read("V1", "discharge", "4", "bar")
	}
	s.plan("V2")
	p := s.view("V2").Machines[0].Points[0]
	assert.Len(t, p.Before, 8)
	assert.Equal(t, "bar", p.Units[0])
}

func TestSubstancesOfASite(t *testing.T) {
	s := newScene(t)
	move := func(visit string, act substance.Act, asset, amount string) {
		s.record("ann", "substance.moved", visit, ledger.SubstanceMoved{Site: "S1", Substance: "coolant", Act: act, Asset: asset,
			Amount: decimal.RequireFromString(amount), Unit: "kg"})
	}
	assert.Empty(t, s.view("V1").Substances, "a company that logs none")
	s.change("substances", map[string]any{"substances": []substance.Substance{{ID: "coolant", Name: "Coolant", Unit: "kg"},
		{ID: "other", Name: "Other", Unit: "l"}}})
	assert.Empty(t, s.view("V1").Substances, "nor a machine that holds any")
	s.office("record.amended", "asset", "A1", map[string]any{"charges": []records.Charge{{Substance: "coolant",
		Amount: decimal.NewFromInt(8)}}})
	assert.Len(t, s.view("V1").Substances, 1, "before anything is logged")
	move("V1", substance.Delivered, "", "10")
	move("V1", substance.PutIn, "A1", "2")
	s.plan("V2")
	move("V2", substance.PutIn, "A1", "1")
	v := s.view("V2")
	require.Len(t, v.Substances, 1)
	assert.Equal(t, "7", v.Substances[0].OnSite.String())
	assert.Equal(t, "37.5", v.Substances[0].Machines[0].Loss.String(), "three of eight")
	assert.False(t, v.Substances[0].Machines[0].Over, "nothing is allowed or not")
	assert.Len(t, v.Moves, 1, "those of the visit")
	assert.Equal(t, "Booster set", v.Names["A1"])
}
