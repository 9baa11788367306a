package stock_test

import (
	"encoding/json"
	"fmt"
	"testing"

	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"iter.example/iter/core/stock"
)

// Whatever the order in which use and hand-overs are heard of, balances are the same; what is kept for orders is, too, as long as it was
// reserved before it is heard that it was taken.
func TestLinesArriveInAnyOrder(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		var acts []func(*stock.Stock)
		orders := []string{"W1", "W2"}
		start := func() *stock.Stock {
			s := &stock.Stock{Place: "van"}
			s.Count("P", "count", hour(0), num("9"))
			for _, o := range orders {
				s.Reserve(o, "P", hour(0), num("3"))
			}
			return s
		}
		for i := range rapid.IntRange(0, 15).Draw(t, "n") {
			id, h := fmt.Sprintf("e%02d", i), rapid.IntRange(1, 20).Draw(t, "hour")
			q := num(fmt.Sprint(rapid.IntRange(1, 4).Draw(t, "quantity")))
			order := rapid.SampledFrom(append(orders, "W9", "")).Draw(t, "order")
			switch rapid.IntRange(0, 2).Draw(t, "do") {
			case 0:
				acts = append(acts, func(s *stock.Stock) {
					s.Use("P", order, stock.Movement{Entry: id, At: hour(h), Quantity: q.Neg(), Visit: "V"})
				})
			case 1:
				acts = append(acts, func(s *stock.Stock) {
					s.Send(id, hour(h), []stock.Moved{{Part: "P", Quantity: q, Order: order}})
				})
			default:
				acts = append(acts, func(s *stock.Stock) { s.Put(id, hour(h), []stock.Moved{{Part: "P", Quantity: q}}) })
			}
		}
		want, got := start(), start()
		for _, a := range acts {
			a(want)
		}
		for _, a := range rapid.Permutation(acts).Draw(t, "order of arrival") {
			a(got)
		}
		w, err := json.Marshal(want)
		require.NoError(t, err)
		g, err := json.Marshal(got)
		require.NoError(t, err)
		require.JSONEq(t, string(w), string(g))
	})
}

// Using and striking out again leaves balance and holds as they were, however often.
func TestStrikingOutRestoresExactly(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		s := &stock.Stock{}
		s.Count("P", "count", hour(0), num("9"))
		s.Reserve("W1", "P", hour(0), num("4"))
		balance, held := s.Balance("P").String(), s.HeldFor("W1", "P").String()
		m := move("use", 2, fmt.Sprint(-rapid.IntRange(1, 12).Draw(t, "quantity")))
		order := rapid.SampledFrom([]string{"W1", "W2"}).Draw(t, "order")
		s.Use("P", order, m)
		struck := false
		for range rapid.IntRange(1, 5).Draw(t, "times") {
			struck = !struck
			s.Unuse("P", order, m, struck)
		}
		if !struck {
			s.Unuse("P", order, m, true)
		}
		require.Equal(t, []string{balance, held}, []string{s.Balance("P").String(), s.HeldFor("W1", "P").String()})
	})
}
