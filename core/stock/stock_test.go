package stock_test

import (
	"encoding/json"
	"fmt"
	"testing"
	"time"

	"github.com/shopspring/decimal"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"iter.example/iter/core/stock"
)

func num(s string) decimal.Decimal { return decimal.RequireFromString(s) }

func hour(h int) time.Time { return time.Date(2026, 3, 10, h, 0, 0, 0, time.UTC) }

func move(id string, h int, q string) stock.Movement {
	return stock.Movement{Entry: id, At: hour(h), Quantity: num(q)}
}

func TestBalances(t *testing.T) {
	for name, c := range map[string]struct {
		do   func(*stock.Stock)
		want string
	}{
		"used from a count": {func(s *stock.Stock) {
			s.Count("P", "a", hour(1), num("4"))
			s.Move("P",
				move("b", 2, "-1.5"))
		}, "2.5"},
		"heard of before the count": {func(s *stock.Stock) { s.Move("P", move("b", 2, "-1")); s.Count("P", "a", hour(1), num("4")) },
			"3"},
		"used before the count": {func(s *stock.Stock) { s.Count("P", "a", hour(3), num("4")); s.Move("P", move("b", 2, "-1")) },
			"4"},
		"an older count heard of later": {func(s *stock.Stock) {
			s.Count("P", "b", hour(3), num("4"))
			s.Count("P", "a", hour(1),
				num("9"))
		}, "4"},
		"the same entry twice": {func(s *stock.Stock) { s.Move("P", move("b", 2, "-1")); s.Move("P", move("b", 2, "-1")) }, "-1"},
		"below zero, since reality wins": {func(s *stock.Stock) { s.Count("P", "a", hour(1), num("1")); s.Move("P", move("b", 2, "-3")) },
			"-2"},
		"a strike-out restores": {func(s *stock.Stock) {
			s.Move("P", move("b", 2, "-3"))
			s.Strike("P", move("b", 2, "-3"), true)
			s.Strike("P", move("b", 2, "-3"), true)
		}, "0"},
		"a clock set years ahead": {func(s *stock.Stock) {
			for i := range 9 {
				s.Move("P", move(fmt.Sprint(i), i, "-1"))
			}
			s.Move("P", move("z", 24*3000, "-1"))
			s.Count("P", "c", hour(20), num("7"))
		}, "6"},
		"another part is another line": {func(s *stock.Stock) { s.Move("P", move("b", 2, "2")); s.Move("Q", move("c", 2, "-3")) },
			"2"},
		"two counts at the same moment": {func(s *stock.Stock) {
			s.Count("P", "b", hour(1), num("7"))
			s.Count("P", "a", hour(1),
				num("9"))
		}, "7"},
		"hundredths stay exact when summed": {func(s *stock.Stock) { s.Move("P", move("a", 1, "0.1")); s.Move("P", move("b", 1, "0.2")) },
			"0.3"},
	} {
		t.Run(name, func(t *testing.T) {
			var s stock.Stock
			c.do(&s)
			assert.Equal(t, c.want, s.Lines["P"].Balance.String())
		})
	}
}

func TestSensible(t *testing.T) {
	for q, want := range map[string]bool{"1": true, "0.5": true, "0": false, "-1": false, "100000": true, "100001": false,
		"0.0000001": false, "1e30": false} {
		assert.Equal(t, want, stock.Sensible(num(q), false), q)
	}
	assert.True(t, stock.Sensible(num("0"), true), "a count may find nothing")
}

// Whatever the order in which movements, counts and strike-outs arrive, the balances are the same.
func TestOrderOfArrivalDoesNotMatter(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		var acts []func(*stock.Stock)
		for i := range rapid.IntRange(0, 20).Draw(t, "n") {
			id := fmt.Sprintf("e%02d", i)
			part := rapid.SampledFrom([]string{"P", "Q"}).Draw(t, "part")
			h := rapid.IntRange(0, 20).Draw(t, "hour")
			q := decimal.NewFromInt(int64(rapid.IntRange(-5, 9).Draw(t, "quantity")))
			if rapid.IntRange(0, 4).Draw(t, "count") == 0 {
				acts = append(acts, func(s *stock.Stock) { s.Count(part, id, hour(h), q.Abs()) })
			} else {
				acts = append(acts, func(s *stock.Stock) { s.Move(part, stock.Movement{Entry: id, At: hour(h), Quantity: q}) })
			}
		}
		var want, got stock.Stock
		for _, a := range acts {
			a(&want)
		}
		for _, a := range rapid.Permutation(acts).Draw(t, "order") {
			a(&got)
			if rapid.Bool().Draw(t, "again") {
				a(&got)
			}
		}
		w, err := json.Marshal(want)
		require.NoError(t, err)
		g, err := json.Marshal(got)
		require.NoError(t, err)
		require.JSONEq(t, string(w), string(g))
	})
}

// A year of movements, some struck out and some of those restored: the line lists two months of them and still adds up.
func TestALineDoesNotGrowForEver(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		var s stock.Stock
		s.Count("P", "count", hour(0), num("100"))
		var moves []stock.Movement
		sum := num("100")
		for day := range 365 {
			m := move(fmt.Sprintf("m%03d", day), 24*day, "-1")
			s.Move("P", m)
			moves = append(moves, m)
			sum = sum.Add(m.Quantity)
			if i := rapid.IntRange(0, 2*day).Draw(t, "strike"); i <= day {
				s.Strike("P", moves[i], true)
				sum = sum.Sub(moves[i].Quantity)
				moves[i].Quantity = decimal.Zero // and never twice, as the visit knows
			}
		}
		require.Equal(t, sum.String(), s.Lines["P"].Balance.String())
		require.LessOrEqual(t, len(s.Lines["P"].Moves), 70)
	})
}
