package stock_test

import (
	"fmt"
	"testing"
	"time"

	"github.com/shopspring/decimal"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"iter.example/iter/core/stock"
)

func TestHolds(t *testing.T) {
	var s stock.Stock
	s.Count("P", "c", hour(1), num("5"))
	s.Reserve("W1", "P", hour(2), num("3"))
	assert.Equal(t, []string{"3", "2"}, []string{s.HeldFor("W1", "P").String(), s.Free("P").String()})
	s.Use("P", "W1", move("u", 3, "-2"))
	assert.Equal(t, []string{"1", "2"}, []string{s.HeldFor("W1", "P").String(), s.Free("P").String()},
		"what the order uses is what was kept for it")
	s.Use("P", "W2", move("v", 3, "-1"))
	assert.Equal(t, []string{"1", "1"}, []string{s.HeldFor("W1", "P").String(), s.Free("P").String()}, "others use what is free")
	s.Unuse("P", "W1", move("u", 3, "-2"), true)
	assert.Equal(t, []string{"3", "1"}, []string{s.HeldFor("W1", "P").String(), s.Free("P").String()},
		"a strike-out restores what was kept")
	s.Unuse("P", "W1", move("u", 3, "-2"), false)
	assert.Equal(t, "1", s.HeldFor("W1", "P").String())
	s.Reserve("W1", "P", hour(4), num("-9"))
	assert.Equal(t, "0", s.HeldFor("W1", "P").String(), "never below zero")
	s.Reserve("W3", "P", hour(24*100), num("1"))
	assert.NotContains(t, s.Held, "W1", "what was used up long ago is forgotten")
}

func TestAllot(t *testing.T) {
	var s stock.Stock
	s.Count("P", "c", hour(1), num("4"))
	s.Count("Q", "c", hour(1), num("-2"))
	s.Reserve("W2", "P", hour(2), num("3"))
	got := s.Allot([]stock.Demand{{Stop: "a", Order: "W1", Part: "P", Quantity: num("2")},
		{Stop: "b", Order: "W2", Part: "P", Quantity: num("4")}, {Stop: "b", Order: "W2", Part: "Q", Quantity: num("1")}})
	var lines []string
	for _, a := range got {
		lines = append(lines, fmt.Sprint(a.Stop, " ", a.Part, " has ", a.Has, " lacks ", a.Lacks))
	}
	assert.Equal(t, []string{"a P has 1 lacks 1", "b P has 3 lacks 1", "b Q has 0 lacks 1"}, lines)

	var more stock.Stock // is kept than there is
	more.Count("P", "c", hour(1), num("5"))
	more.Reserve("W1", "P", hour(2), num("5"))
	more.Reserve("W2", "P", hour(2), num("5"))
	got = more.Allot([]stock.Demand{{Order: "W1", Part: "P", Quantity: num("5")}, {Order: "W2", Part: "P", Quantity: num("5")}})
	assert.Equal(t, []string{"5", "0"}, []string{got[0].Has.String(), got[1].Has.String()})
}

// However demands and holds lie, no more is given than there is, and nobody gets what is kept for another.
func TestAllotGivesNoMoreThanThereIs(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		var s stock.Stock
		n := func(name string, most int64) decimal.Decimal {
			return decimal.NewFromInt(rapid.Int64Range(0, most).Draw(t, name))
		}
		s.Count("P", "c", hour(1), n("balance", 12))
		for i := range 3 {
			s.Reserve(fmt.Sprint("W", i), "P", hour(2), n("held", 4))
		}
		var demands []stock.Demand
		for i := range rapid.IntRange(0, 6).Draw(t, "demands") {
			demands = append(demands, stock.Demand{Stop: fmt.Sprint(i), Order: fmt.Sprint("W", rapid.IntRange(0, 4).Draw(t, "order")),
				Part: "P", Quantity: n("need", 6)})
		}
		sum, of := decimal.Zero, map[string]decimal.Decimal{}
		for _, a := range s.Allot(demands) {
			require.False(t, a.Has.IsNegative() || a.Lacks.IsNegative())
			require.True(t, a.Has.Add(a.Lacks).Equal(a.Quantity))
			sum, of[a.Order] = sum.Add(a.Has), of[a.Order].Add(a.Has)
		}
		require.True(t, sum.LessThanOrEqual(s.Balance("P")), "%s of %s", sum, s.Balance("P"))
		for o, had := range of {
			require.True(t, had.LessThanOrEqual(decimal.Max(s.Free("P"), decimal.Zero).Add(s.HeldFor(o, "P"))))
		}
	})
}

func TestRestock(t *testing.T) {
	level := func(min, max string) stock.Level { return stock.Level{Min: num(min), Max: num(max)} }
	for name, c := range map[string]struct {
		r    stock.Restock
		want string
	}{
		"enough":                         {stock.Restock{Balance: num("4"), Level: level("3", "8")}, "0"},
		"below the least":                {stock.Restock{Balance: num("2"), Level: level("3", "8")}, "6"},
		"something is on its way":        {stock.Restock{Balance: num("2"), Incoming: num("1"), Level: level("3", "8")}, "0"},
		"tomorrow needs it":              {stock.Restock{Balance: num("4"), Needed: num("2"), Level: level("3", "8")}, "6"},
		"used more than the levels say":  {stock.Restock{Balance: num("4"), Used: num("24"), Level: level("1", "2")}, "8"},
		"by the pack":                    {stock.Restock{Balance: num("2"), Level: level("3", "8"), Pack: num("10")}, "10"},
		"no levels, and never used":      {stock.Restock{}, "0"},
		"no levels, and needed":          {stock.Restock{Needed: num("2")}, "2"},
		"below zero":                     {stock.Restock{Balance: num("-2"), Level: level("1", "2")}, "4"},
		"a week's use of a counted part": {stock.Restock{Used: num("3"), Whole: true}, "2"},
		"a week's use of metres":         {stock.Restock{Used: num("3")}, "1.5"},
	} {
		assert.Equal(t, c.want, c.r.Quantity().String(), name)
	}
	var s stock.Stock
	s.Count("P", "c", hour(0), num("9"))
	s.Move("P", stock.Movement{Entry: "a", At: hour(5), Quantity: num("-2"), Visit: "V"})
	s.Move("P", stock.Movement{Entry: "b", At: hour(6), Quantity: num("-3")}) // handed over, not used
	s.Move("P", stock.Movement{Entry: "d", At: hour(7), Quantity: num("-1"), Visit: "V", Struck: true})
	assert.Equal(t, "2", s.Lines["P"].Used(hour(1)).String())
	assert.Equal(t, "0", s.Lines["P"].Used(hour(6)).String())
}

// After a fill-up there is enough: the same question asks for nothing more.
func TestAFillUpIsEnough(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		n := func(name string, least, most int64) decimal.Decimal {
			return decimal.NewFromInt(rapid.Int64Range(least, most).Draw(t, name))
		}
		r := stock.Restock{Balance: n("balance", -5, 20), Incoming: n("incoming", 0, 5), Used: n("used", 0, 40), Needed: n("needed", 0, 9),
			Pack: n("pack", 0, 12), Whole: true}
		r.Level.Min = n("min", 0, 10)
		r.Level.Max = r.Level.Min.Add(n("more", 0, 10))
		q := r.Quantity()
		require.False(t, q.IsNegative())
		r.Incoming = r.Incoming.Add(q)
		require.True(t, r.Quantity().IsZero())
		if r.Pack.IsPositive() {
			require.True(t, q.Mod(r.Pack).IsZero())
		}
	})
}

// Average cost is the same whatever the order of the receipts, and a receipt taken back leaves no trace.
func TestAverageCost(t *testing.T) {
	p := stock.Part{Cost: num("7")}
	assert.Equal(t, "7", stock.Cost{}.Average(p).String())
	var a, b stock.Cost
	a.Add(num("3"), num("10"))
	a.Add(num("1"), num("6"))
	b.Add(num("1"), num("6"))
	b.Add(num("3"), num("10"))
	assert.Equal(t, "9", a.Average(p).String())
	assert.Equal(t, a, b)
	a.Add(num("-1"), num("6"))
	assert.Equal(t, "10", a.Average(p).String())
}

func TestSerialLife(t *testing.T) {
	fit := func(entry string, h int) stock.Fitted {
		return stock.Fitted{Entry: entry, At: hour(h), Visit: "V", Asset: "A"}
	}
	var l stock.SerialLife
	assert.Nil(t, l.Fit(fit("a", 1)))
	l.TakeOut(fit("b", 2))
	assert.Nil(t, l.Fit(fit("c", 3)), "it was taken out before")
	assert.NotNil(t, l.Fit(fit("d", 4)), "it is still fitted")
	l.Strike("c", true)
	l.Strike("d", true)
	assert.Nil(t, l.Fit(fit("e", 5)), "what was struck out was never fitted")
	assert.Equal(t, stock.SerialID("P", "ab-1 "), stock.SerialID("P", "AB-1"))
	assert.NotEqual(t, stock.SerialID("P", "1"), stock.SerialID("P1", ""))
}

func TestRequestsStandWhereTheirLastStepLeftThem(t *testing.T) {
	r := stock.Request{At: hour(1)}
	r.Settle()
	assert.Equal(t, stock.Asked, r.State)
	r.Step(stock.RequestStep{Entry: "b", At: hour(3), State: stock.Ordered})
	r.Step(stock.RequestStep{Entry: "a", At: hour(2), State: stock.Approved})
	assert.Equal(t, stock.Ordered, r.State, "by the time it was done, not heard of")
	assert.Equal(t, hour(3), r.Since)
	r.Struck = true
	r.Settle()
	assert.Equal(t, stock.Ordered, r.State, "what is ordered comes")
	assert.True(t, stock.In.Over())
	assert.False(t, stock.Ordered.Over())
}

func TestPurchases(t *testing.T) {
	p := stock.Purchase{State: stock.Sent, Lines: []stock.PurchaseLine{{Part: "P", Quantity: num("2")}, {Part: "Q", Quantity: num("1")}}}
	p.Receive([]stock.Moved{{Part: "P", Quantity: num("2")}})
	assert.Equal(t, stock.Delivered, p.State)
	p.Receive([]stock.Moved{{Part: "Q", Quantity: num("1")}})
	assert.Equal(t, stock.Received, p.State)
	assert.True(t, p.Over())
}

func TestHandovers(t *testing.T) {
	h := stock.Handover{Lines: []stock.Moved{{Part: "P", Quantity: num("3"), Order: "W"}, {Part: "P", Quantity: num("1")},
		{Part: "Q", Quantity: num("2")}}}
	assert.True(t, h.Open())
	h.Taken, h.DoneAt = []stock.Moved{{Part: "P", Quantity: num("4")}, {Part: "Q", Quantity: num("1")}}, time.Now()
	assert.Equal(t, []stock.Moved{{Part: "Q", Quantity: num("1")}}, h.Missing())
	assert.ErrorContains(t, stock.CheckMoved(nil, false), "stock.lines")
	assert.ErrorContains(t, stock.CheckMoved([]stock.Moved{{Part: "P", Quantity: num("1")}, {Part: "P", Quantity: num("1")}}, false),
		"stock.twice")
	assert.ErrorContains(t, stock.CheckMoved([]stock.Moved{{Part: "P"}}, false), "quantity.absurd")
}
