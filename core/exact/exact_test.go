package exact_test

import (
	"math/big"
	"testing"

	"github.com/shopspring/decimal"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"iter.example/iter/core/exact"
)

func frac(num, denom int64) exact.Number { return exact.Frac(big.NewRat(num, denom)) }

func TestRounding(t *testing.T) {
	for _, c := range []struct {
		num, denom         int64
		to                 int32
		round, floor, ceil string
	}{
		{2, 3, 2, "0.67", "0.66", "0.67"},
		{-2, 3, 2, "-0.67", "-0.67", "-0.66"},
		{1, 8, 2, "0.13", "0.12", "0.13"}, // half, away from zero
		{-1, 8, 2, "-0.13", "-0.13", "-0.12"},
		{5, 1, 0, "5", "5", "5"},
		{-5, 1, 0, "-5", "-5", "-5"},
		{1, 3, 0, "0", "0", "1"},
	} {
		for _, n := range []exact.Number{frac(c.num, c.denom), exact.Of(decimal.NewFromInt(c.num)).Quo(exact.Of(decimal.NewFromInt(c.denom)))} {
			assert.Equal(t, []string{c.round, c.floor, c.ceil}, []string{n.Round(c.to).String(), n.Floor(c.to).String(), n.Ceil(c.to).String()})
		}
	}
	assert.Equal(t, []int{3, 1, 1}, []int{frac(1000, 3).Whole(), frac(1, 3).Whole(), exact.Number{}.Whole()})
}

func TestSqrt(t *testing.T) {
	assert.Zero(t, frac(4, 9).Sqrt().Cmp(frac(2, 3)), "exact where it can be")
	assert.Zero(t, exact.Of(decimal.RequireFromString("0.25")).Sqrt().Cmp(frac(1, 2)))
	assert.Equal(t, "1.414213562373095", exact.Of(decimal.NewFromInt(2)).Sqrt().Floor(15).String())
	assert.Equal(t, "0.577350269189626", frac(1, 3).Sqrt().Round(15).String())
	rapid.Check(t, func(t *rapid.T) {
		v := decimal.New(rapid.Int64Range(0, 1<<40).Draw(t, "v"), -4)
		r := exact.Of(v).Sqrt().Floor(24)
		require.True(t, r.Mul(r).LessThanOrEqual(v), "%s² is more than %s", r, v)
		next := r.Add(decimal.New(1, -24))
		require.True(t, next.Mul(next).GreaterThan(v), "%s is too small for %s", r, v)
	})
}

// Arithmetic is that of fractions, whichever way the numbers are held.
func TestArithmeticIsThatOfFractions(t *testing.T) {
	number := rapid.Custom(func(t *rapid.T) exact.Number {
		if rapid.Bool().Draw(t, "decimal") {
			return exact.Of(decimal.New(rapid.Int64Range(-9999, 9999).Draw(t, "digits"), -int32(rapid.IntRange(0, 4).Draw(t, "places"))))
		}
		return frac(rapid.Int64Range(-9999, 9999).Draw(t, "num"), rapid.Int64Range(1, 999).Draw(t, "denom"))
	})
	rapid.Check(t, func(t *rapid.T) {
		n, m := number.Draw(t, "n"), number.Draw(t, "m")
		for _, c := range []struct {
			got  exact.Number
			want func(*big.Rat, *big.Rat) *big.Rat
		}{
			{n.Add(m), new(big.Rat).Add}, {n.Sub(m), new(big.Rat).Sub}, {n.Mul(m), new(big.Rat).Mul},
		} {
			require.Zero(t, c.got.Rat().Cmp(c.want(n.Rat(), m.Rat())))
		}
		if m.Sign() != 0 {
			require.Zero(t, n.Quo(m).Mul(m).Cmp(n))
		}
		require.Equal(t, n.Rat().Cmp(m.Rat()), n.Cmp(m))
		require.Zero(t, n.Abs().Rat().Cmp(new(big.Rat).Abs(n.Rat())))
	})
}

// However long a calculation goes on, numbers stay small enough to go on with.
func TestNumbersStaySmall(t *testing.T) {
	n := exact.Of(decimal.NewFromInt(1))
	for i := range int64(2000) {
		n = n.Mul(frac(1_000_003+i, 1_000_000+i)).Quo(exact.Of(decimal.RequireFromString("1.0000017")))
	}
	assert.Less(t, n.Rat().Denom().BitLen(), 700)
}
