package work_test

import (
	"testing"

	"github.com/shopspring/decimal"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"iter.example/iter/core/audit"
	"iter.example/iter/core/stock"
	"iter.example/iter/core/work"
)

func pcs(n int64) decimal.Decimal { return decimal.NewFromInt(n) }

func TestOutstanding(t *testing.T) {
	o := work.Order{Needs: []work.Need{{Part: "A", Quantity: pcs(2)}, {Part: "B", Quantity: pcs(1)},
		{Part: "A", Quantity: pcs(1), Request: "r"}}}
	used := func(part string, n int64, struck bool) work.Visit {
		return work.Visit{Parts: []work.PartUsed{{Part: part, Quantity: pcs(n), Line: audit.Line{Struck: struck}}}}
	}
	kit := work.Visit{Kits: []work.KitUsed{{Parts: []stock.Moved{{Part: "A", Quantity: pcs(1)}, {Part: "B", Quantity: pcs(1)}}}}}
	for name, c := range map[string]struct {
		visits []work.Visit
		want   map[string]string
	}{
		"nothing used":          {nil, map[string]string{"A": "3", "B": "1"}},
		"some of it":            {[]work.Visit{used("A", 2, false)}, map[string]string{"A": "1", "B": "1"}},
		"struck out does not":   {[]work.Visit{used("A", 2, true)}, map[string]string{"A": "3", "B": "1"}},
		"in a kit":              {[]work.Visit{kit}, map[string]string{"A": "2"}},
		"over several visits":   {[]work.Visit{kit, used("A", 1, false), used("A", 1, false)}, map[string]string{}},
		"more than was planned": {[]work.Visit{used("B", 9, false)}, map[string]string{"A": "3"}},
		"what was not planned":  {[]work.Visit{used("C", 9, false)}, map[string]string{"A": "3", "B": "1"}},
		"a struck kit is nothing": {[]work.Visit{{Kits: []work.KitUsed{{Line: audit.Line{Struck: true}, Parts: kit.Kits[0].Parts}}}},
			map[string]string{"A": "3", "B": "1"}},
	} {
		got := map[string]string{}
		for _, n := range o.Outstanding(c.visits...) {
			got[n.Part] = n.Quantity.String()
		}
		assert.Equal(t, c.want, got, name)
	}
	assert.Len(t, o.Needs, 3, "the order stays as it is")
}

// However much is used in whatever order, what is outstanding is never below zero, and never more than planned.
func TestOutstandingIsBounded(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		o := work.Order{Needs: []work.Need{{Part: "A", Quantity: pcs(rapid.Int64Range(1, 9).Draw(t, "planned"))}}}
		var visits []work.Visit
		sum := decimal.Zero
		for range rapid.IntRange(0, 5).Draw(t, "visits") {
			q := pcs(rapid.Int64Range(1, 4).Draw(t, "used"))
			visits = append(visits, work.Visit{Parts: []work.PartUsed{{Part: "A", Quantity: q}}})
			sum = sum.Add(q)
		}
		left := decimal.Zero
		for _, n := range o.Outstanding(visits...) {
			require.True(t, n.Quantity.IsPositive())
			left = n.Quantity
		}
		require.Equal(t, decimal.Max(o.Needs[0].Quantity.Sub(sum), decimal.Zero).String(), left.String())
	})
}

func TestCheckNeeds(t *testing.T) {
	assert.NoError(t, work.CheckNeeds([]work.Need{{Part: "A", Quantity: pcs(1)}}))
	assert.ErrorContains(t, work.CheckNeeds([]work.Need{{Part: "../A", Quantity: pcs(1)}}), "id.unusable")
	assert.ErrorContains(t, work.CheckNeeds([]work.Need{{Part: "A"}}), "quantity.absurd")
	assert.ErrorContains(t, work.CheckNeeds(make([]work.Need, 201)), "stock.lines")
}
