package view_test

import (
	"testing"

	"github.com/shopspring/decimal"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"iter.example/iter/core/ledger"
	"iter.example/iter/core/ledger/ledgertest"
	"iter.example/iter/core/signoff"
	"iter.example/iter/core/stock"
	"iter.example/iter/core/view"
	"iter.example/iter/core/work"
)

func n(i int64) decimal.Decimal { return decimal.NewFromInt(i) }

// What a signer is shown of parts: kits by name, parts with their serial numbers, what is in no catalogue, what was taken out.
func TestPartsOfAVisit(t *testing.T) {
	s := newScene(t)
	s.office("record.created", "part", "M1", stock.Part{Number: "M1", Name: "Motor", Unit: "each", Serial: true})
	s.office("record.created", "kit", "K1", stock.Kit{Number: "K1", Name: "Seal kit", Price: n(90)})
	s.record("ann", "kit.used", "V1", ledger.UseKit{Kit: "K1", Quantity: n(1), Place: "van-ann",
		Parts: []stock.Moved{{Part: "P2", Quantity: n(2)}}})
	bare := s.record("ann", "part.used", "V1", ledger.Use{Part: "M1", Place: "van-ann", Quantity: n(1)})
	s.record("ann", "extra.added", "V1", ledger.AddExtra{Kind: work.Item, Text: "Bracket", Quantity: n(1)})
	s.record("ann", "part.removed", "V1", ledger.Remove{Text: "Old motor", Quantity: n(1), Fate: work.ToCore})
	v := s.view("V1")
	assert.Equal(t, []view.PartName{{Part: "P2", Name: "O-ring EPDM 72", Unit: "each", Quantity: n(2)}}, v.Kits[0].Lines)
	assert.Contains(t, codes(v.Ready.Missing()), "missing.serial")
	assert.Equal(t, []signoff.Line{{Name: "Seal kit", Value: "1"}, {Name: "Motor", Value: "1", Unit: "each"},
		{Name: "Bracket", Value: "1"}, {Name: "Old motor", Value: "1", Mark: "removed"}}, v.Summary.Parts)

	s.record("ann", "entry.struck", "V1", ledgertest.Strike(s.docs, bare))
	s.record("ann", "part.used", "V1", ledger.Use{Part: "M1", Place: "van-ann", Quantity: n(1), Serial: "X-7"})
	v = s.view("V1")
	assert.NotContains(t, codes(v.Ready.Missing()), "missing.serial")
	assert.Equal(t, "Motor · X-7", v.Summary.Parts[1].Name)
	assert.True(t, v.Parts[0].Struck, "what was struck out stays, and is not signed for")
	assert.Equal(t, "gone", partOf(s, "gone"), "a part that is not in the catalogue is called by its id")
}

func partOf(s *scene, id string) string {
	s.record("ann", "part.used", "V1", ledger.Use{Part: id, Place: "van-ann", Quantity: n(1)})
	all := s.view("V1").Parts
	return all[len(all)-1].Name
}

// What is planned for the work, less what all its visits used.
func TestNeedsOverVisits(t *testing.T) {
	s := newScene(t)
	s.office("work.needs_planned", "workorder", "W1",
		ledger.NeedsPlanned{Needs: []work.Need{{Part: "P1", Quantity: n(3)}, {Part: "P2", Quantity: n(1)}}})
	s.record("ann", "part.used", "V1", ledger.Use{Part: "P1", Place: "van-ann", Quantity: n(2)})
	s.office("visit.planned", "visit", "V2", ledger.Plan{Order: "W1", Technician: "ann", Start: ledgertest.Start, Minutes: 30})
	left := func() map[string]string {
		out := map[string]string{}
		for _, l := range s.view("V2").Needs {
			out[l.Part] = l.Left.String()
		}
		return out
	}
	assert.Equal(t, map[string]string{"P1": "1", "P2": "1"}, left())
	s.record("ann", "kit.used", "V2", ledger.UseKit{Kit: "K9", Quantity: n(1), Place: "van-ann",
		Parts: []stock.Moved{{Part: "P1", Quantity: n(4)}, {Part: "P2", Quantity: n(1)}}})
	assert.Equal(t, map[string]string{"P1": "0", "P2": "0"}, left())
}

// Two stops need what the van has once: the first to be come to has it.
func TestDemandsOfADay(t *testing.T) {
	var van stock.Stock
	van.Count("P1", "c", ledgertest.Start, n(1))
	order := func(q int64) work.Order { return work.Order{Needs: []work.Need{{Part: "P1", Quantity: n(q)}}} }
	used := work.Visit{Parts: []work.PartUsed{{Part: "P1", Quantity: n(1)}}}
	got := view.Demands{Stock: van, Stops: []view.NeedyStop{{ID: "V1", Order: "W1", Work: order(1)},
		{ID: "V2", Order: "W2", Work: order(2), Visits: []work.Visit{used}}, {ID: "V3", Order: "W3"}}}.Allot()
	require.Len(t, got, 2)
	assert.Equal(t, []string{"V1", "0", "V2", "1"}, []string{got[0].Stop, got[0].Lacks.String(), got[1].Stop, got[1].Lacks.String()})
}
