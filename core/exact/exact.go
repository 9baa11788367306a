// Package exact computes without rounding: with decimals as long as they have an end, and with fractions where they have none, as of what
// was measured in psi or m³/h. Only what is shown is rounded, once.
package exact

import (
	"math/big"

	"github.com/shopspring/decimal"
)

// Number is a rational number. The zero Number is 0.
type Number struct {
	dec  decimal.Decimal
	frac *big.Rat // in the place of dec, where that has no end
}

// The size from which numbers are rounded after all, to keep arithmetic quick: far past anything that is measured or charged.
const (
	places = 48  // decimal places
	bits   = 640 // of numerator and denominator together
)

// Of is a decimal as a Number.
func Of(d decimal.Decimal) Number {
	if d.Exponent() < -places {
		d = d.Round(places)
	}
	return Number{dec: d}
}

// Frac is a fraction as a Number.
func Frac(r *big.Rat) Number {
	switch {
	case r.IsInt():
		return Number{dec: decimal.NewFromBigInt(r.Num(), 0)}
	case r.Num().BitLen()+r.Denom().BitLen() > bits:
		return Number{dec: rounded(r, places, half)}
	}
	return Number{frac: r}
}

// Rat gives the number as a fraction, which is not to be changed.
func (n Number) Rat() *big.Rat {
	if n.frac != nil {
		return n.frac
	}
	return n.dec.Rat()
}

// Add gives n + m.
func (n Number) Add(m Number) Number {
	if n.frac == nil && m.frac == nil {
		return Of(n.dec.Add(m.dec))
	}
	return Frac(new(big.Rat).Add(n.Rat(), m.Rat()))
}

// Sub gives n - m.
func (n Number) Sub(m Number) Number { return n.Add(m.Neg()) }

// Mul gives n · m.
func (n Number) Mul(m Number) Number {
	if n.frac == nil && m.frac == nil {
		return Of(n.dec.Mul(m.dec))
	}
	return Frac(new(big.Rat).Mul(n.Rat(), m.Rat()))
}

// Quo gives n / m. m must not be 0.
func (n Number) Quo(m Number) Number { return Frac(new(big.Rat).Quo(n.Rat(), m.Rat())) }

// Neg gives -n.
func (n Number) Neg() Number {
	if n.frac != nil {
		return Number{frac: new(big.Rat).Neg(n.frac)}
	}
	return Number{dec: n.dec.Neg()}
}

// Abs gives n without its sign.
func (n Number) Abs() Number {
	if n.Sign() < 0 {
		return n.Neg()
	}
	return n
}

// Sqrt gives the square root: exactly when it has one among fractions, else cut after 24 places. n must not be less than 0.
func (n Number) Sqrt() Number {
	r := n.Rat()
	num, denom := new(big.Int).Sqrt(r.Num()), new(big.Int).Sqrt(r.Denom())
	square := func(root, of *big.Int) bool { return new(big.Int).Mul(root, root).Cmp(of) == 0 }
	if square(num, r.Num()) && square(denom, r.Denom()) {
		return Frac(new(big.Rat).SetFrac(num, denom))
	}
	const cut = places / 2
	shifted := rounded(r, 2*cut, down).Shift(2 * cut).BigInt()
	return Of(decimal.NewFromBigInt(shifted.Sqrt(shifted), -cut))
}

// Cmp is -1 when n is less than m, 0 when they are the same, 1 when n is more.
func (n Number) Cmp(m Number) int {
	if n.frac == nil && m.frac == nil {
		return n.dec.Cmp(m.dec)
	}
	return n.Rat().Cmp(m.Rat())
}

// Sign is -1 when n is less than 0, 0 when it is 0, 1 when it is more.
func (n Number) Sign() int {
	if n.frac != nil {
		return n.frac.Sign()
	}
	return n.dec.Sign()
}

// Whole is how many digits the number has before the point.
func (n Number) Whole() int {
	if n.frac != nil {
		return len(new(big.Int).Quo(n.frac.Num(), n.frac.Denom()).String())
	}
	return n.dec.NumDigits() + int(n.dec.Exponent())
}

// Round rounds to decimal places, halves away from zero.
func (n Number) Round(to int32) decimal.Decimal { return n.round(to, half, decimal.Decimal.Round) }

// Floor rounds down to decimal places.
func (n Number) Floor(to int32) decimal.Decimal { return n.round(to, down, decimal.Decimal.RoundFloor) }

// Ceil rounds up to decimal places.
func (n Number) Ceil(to int32) decimal.Decimal { return n.round(to, up, decimal.Decimal.RoundCeil) }

func (n Number) round(to int32, w way, plain func(decimal.Decimal, int32) decimal.Decimal) decimal.Decimal {
	if n.frac != nil {
		return rounded(n.frac, to, w)
	}
	return plain(n.dec, to)
}

// way is how a fraction becomes a decimal.
type way byte

const (
	half way = iota // to the nearest, halves away from zero
	down
	up
)

func rounded(r *big.Rat, to int32, w way) decimal.Decimal {
	scale := new(big.Int).Exp(big.NewInt(10), big.NewInt(int64(to)), nil)
	rest := new(big.Int)
	whole, rest := new(big.Int).DivMod(scale.Mul(scale, r.Num()), r.Denom(), rest) // rest is never below 0
	switch double := new(big.Int).Lsh(rest, 1).Cmp(r.Denom()); {
	case w == up && rest.Sign() > 0, w == half && (double > 0 || double == 0 && r.Sign() > 0):
		whole.Add(whole, big.NewInt(1))
	}
	return decimal.NewFromBigInt(whole, -to)
}
