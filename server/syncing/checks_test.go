package syncing_test

import (
	"encoding/json"
	"testing"
	"time"

	"github.com/shopspring/decimal"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"iter.example/iter/core/area"
	"iter.example/iter/core/ledger"
	"iter.example/iter/core/reading"
	"iter.example/iter/core/records"
	"iter.example/iter/core/sheet"
	"iter.example/iter/core/stock"
	"iter.example/iter/core/substance"
	"iter.example/iter/core/work"
)

func taken(value string) ledger.Taken {
	return ledger.Taken{Asset: "A1", Point: "discharge", Value: decimal.RequireFromString(value), Unit: "bar"}
}

// What was measured on a machine, and what is logged at its site, is on the devices of those who go there, and goes on growing there
// with no signal.
func TestHistoryTravels(t *testing.T) {
	w := newWorld(t, t.TempDir())
	require.NoError(t, w.office("record.created", "assetkind", "booster", records.AssetKind{Name: "Booster set"}))
	require.NoError(t, w.office("record.created", "kit", "K1", stock.Kit{Number: "K1", Name: "Seal change"}))
	require.NoError(t, w.office("record.created", "sheetdraft", "next", sheet.Sheet{ID: "next", Title: "Next"}))
	ann, ben := w.device("ann", 1), w.device("ben", 2)
	ann.settle()
	ben.settle()
	for _, d := range []*device{ann, ben} {
		assert.True(t, d.has("assetkind", "booster"))
		assert.True(t, d.has("kit", "K1"))
		assert.False(t, d.has("sheetdraft", "next"), "a draft is the designer's")
	}
	require.True(t, ann.record("reading.taken", "V1", taken("4.2")), "the first of an asset makes its history")
	require.True(t, ann.record("substance.moved", "V1", ledger.SubstanceMoved{Site: "S1", Substance: "coolant", Act: substance.Delivered,
		Amount: decimal.NewFromInt(5), Unit: "kg"}))
	assert.True(t, ann.has("measured", "A1"), "before it is at the office")
	ann.settle()
	assert.False(t, ben.has("measured", "A1"))

	require.NoError(t, w.office("visit.planned", "visit", "V7", ledger.Plan{Order: "W1", Technician: "ben", Start: w.now.Add(time.Hour),
		Minutes: 30}))
	require.NoError(t, w.office("visit.sent", "visit", "V7", ledger.Nothing{}))
	ben.settle()
	assert.True(t, ben.has("measured", "A1"))
	assert.True(t, ben.has("substances", "S1"))
	require.True(t, ben.record("reading.taken", "V7", taken("4.4")))
	require.True(t, ann.record("reading.taken", "V1", taken("4.3")))
	ann.settle()
	ben.settle()
	ann.settle()
	for _, d := range []*device{ann, ben} {
		var h reading.History
		require.NoError(t, unmarshal(d.shown[ledger.MeasuredRef("A1")], &h))
		assert.Len(t, h.Points["discharge"], 3, "what both measured is in both histories")
	}
}

// A technician may keep a measured area with the site and add a sheet, and may not do what is the office's.
func TestWhatTheFieldMayWrite(t *testing.T) {
	w := newWorld(t, t.TempDir())
	require.NoError(t, w.office("record.created", "sheet", "extra@1", sheet.Sheet{ID: "extra", Version: 1, Title: "Extra",
		Sections: []sheet.Section{{Title: "A", Questions: []sheet.Question{{ID: "q", Kind: sheet.Text, Text: "Q"}}}}}))
	ann := w.device("ann", 1)
	ann.settle()
	floor := area.Area{Name: "Pump room", Unit: "m",
		Shapes: []area.Shape{{Form: area.Rectangle, Sizes: []decimal.Decimal{decimal.NewFromInt(3), decimal.NewFromInt(4)}}}}
	require.True(t, ann.about("record.amended", ledger.Ref{Type: "site", ID: "S1"},
		map[string]any{"areas": map[string]any{"Pump room": floor}}))
	require.True(t, ann.record("sheet.attached", "V1", ledger.SheetAttached{Order: "W1", Sheet: "extra@1"}))
	require.True(t, ann.record("sheet.answered", "V1", ledger.Answered{Sheet: "extra@1", Question: "q", Value: "a"}))
	ann.settle()
	assert.Empty(t, ann.heldCodes())
	var s records.Site
	require.NoError(t, unmarshal(ann.shown[ledger.Ref{Type: "site", ID: "S1"}], &s))
	assert.Contains(t, string(s.Areas["Pump room"]), "rectangle")
	var o work.Order
	require.NoError(t, unmarshal(ann.shown[ledger.Ref{Type: "workorder", ID: "W1"}], &o))
	assert.Equal(t, []string{"pump@1", "extra@1"}, o.Sheets)

	require.True(t, ann.about("record.amended", ledger.Ref{Type: "site", ID: "S1"}, map[string]any{"name": "Mine"}))
	require.True(t, ann.about("record.created", ledger.Ref{Type: "sheet", ID: "mine@1"},
		sheet.Sheet{ID: "mine", Version: 1, Title: "Mine",
			Sections: []sheet.Section{{Title: "A", Questions: []sheet.Question{{ID: "q", Kind: sheet.Text, Text: "Q"}}}}}))
	require.True(t, ann.record("attention.handled", "V1", ledger.AttentionHandled{Key: "x"}))
	for ann.sync(false) {
	}
	assert.Equal(t, []string{"scope.role", "scope.role", "scope.role"}, ann.heldCodes(), "kept, and for the office to decide on")
}

// heldCodes says why each entry that waits for a decision does.
func (d *device) heldCodes() (out []string) {
	for _, p := range d.pending {
		if p.Held != nil {
			out = append(out, p.Held.Code)
		}
	}
	return out
}

func unmarshal(raw json.RawMessage, v any) error { return json.Unmarshal(raw, v) }
