// Package unit converts between units of measure and knows which can be compared.
//
// Factors are exact fractions, as the definitions of the units have them: an inch is 25.4 mm, a psi is a pound-force on a square
// inch. What is computed with stays a fraction (package exact). A conversion to a decimal that has no end (30 psi in bar) is rounded to
// Digits.
package unit

import (
	"math"
	"math/big"
	"slices"
	"strconv"
	"strings"

	"github.com/shopspring/decimal"

	"iter.example/iter/core/exact"
	"iter.example/iter/core/money"
	"iter.example/iter/core/msg"
)

// Digits is how many significant digits a conversion without an exact result keeps.
const Digits = 20

// Dim is what a unit measures, as powers of length, mass, time, current, temperature and money. What is only counted, or has a scale
// of its own (pH, each, can), has a Label and is like nothing but itself.
type Dim struct {
	Length, Mass, Time, Current, Temperature, Money int8
	Label                                           string
}

// None is the dimension of plain numbers.
var None = Dim{}

// Times multiplies; power -1 divides. Labels do not multiply but with plain numbers.
func (d Dim) Times(o Dim, power int8) (Dim, bool) {
	if d.Label != "" && o.Label != "" {
		return Dim{}, d == o && power == -1
	}
	out := Dim{d.Length + power*o.Length, d.Mass + power*o.Mass, d.Time + power*o.Time, d.Current + power*o.Current, d.Temperature +
		power*o.Temperature, d.Money + power*o.Money, d.Label + o.Label}
	unlabelled := out
	unlabelled.Label = ""
	return out, out.Label == "" || (unlabelled == None && (o.Label == "" || power == 1))
}

// Root halves the powers.
func (d Dim) Root() (Dim, bool) {
	for _, p := range []int8{d.Length, d.Mass, d.Time, d.Current, d.Temperature, d.Money} {
		if p%2 != 0 {
			return Dim{}, false
		}
	}
	return Dim{d.Length / 2, d.Mass / 2, d.Time / 2, d.Current / 2, d.Temperature / 2, d.Money / 2, d.Label}, d.Label == ""
}

// Unit is a unit of measure: a value v in it is v·Factor + Offset in the base unit of its dimension (m, kg, s, A, K).
type Unit struct {
	Symbol string
	Dim    Dim
	Factor *big.Rat
	Offset *big.Rat // nil: none
	// times and by are Factor and its inverse: decimals where they have an end, as those of most units, since these are much quicker.
	times, by exact.Number
}

// ready fills in what makes a unit quick.
func (u Unit) ready() Unit {
	number := func(r *big.Rat) exact.Number {
		if r.Num().IsInt64() && r.Denom().IsInt64() {
			if d := ended(r.Num().Int64(), r.Denom().Int64()); d != nil {
				return exact.Of(*d)
			}
		}
		return exact.Frac(r)
	}
	u.times, u.by = number(u.Factor), number(new(big.Rat).Inv(u.Factor))
	return u
}

// ended is a fraction as a decimal, when it has an end within 15 places.
func ended(num, denom int64) *decimal.Decimal {
	for places := int32(0); places <= 15; places++ {
		if num%denom == 0 {
			d := decimal.New(num/denom, -places)
			return &d
		}
		if num > math.MaxInt64/10 {
			break
		}
		num *= 10
	}
	return nil
}

var known = map[string]Unit{}

func define(dim Dim, pairs ...string) {
	for i := 0; i < len(pairs); i += 2 {
		f, ok := new(big.Rat).SetString(pairs[i+1])
		if !ok {
			panic("unit " + pairs[i])
		}
		known[pairs[i]] = Unit{Symbol: pairs[i], Dim: dim, Factor: f}.ready()
	}
}

func init() {
	define(None, "", "1", "%", "1/100", "ppm", "1/1000000")
	define(Dim{Length: 1}, "m", "1", "mm", "1/1000", "cm", "1/100", "km", "1000", "in", "0.0254", "ft", "0.3048", "yd", "0.9144",
		"µm", "1/1000000")
	define(Dim{Length: 2}, "m2", "1", "ha", "10000", "mm2", "1/1000000", "cm2", "1/10000", "ft2", "0.09290304")
	define(Dim{Length: 3}, "m3", "1", "l", "1/1000", "ml", "1/1000000", "gal", "0.003785411784", "ft3", "0.028316846592")
	define(Dim{Mass: 1}, "kg", "1", "g", "1/1000", "mg", "1/1000000", "t", "1000", "lb", "0.45359237", "oz", "0.028349523125")
	define(Dim{Time: 1}, "s", "1", "min", "60", "h", "3600", "d", "86400", "ms", "1/1000")
	define(Dim{Time: -1}, "Hz", "1", "rpm", "1/60")
	define(Dim{Length: 1, Mass: 1, Time: -2}, "N", "1", "kN", "1000")
	define(Dim{Length: -1, Mass: 1, Time: -2}, "bar", "100000", "mbar", "100", "kPa", "1000", "MPa", "1000000", "Pa", "1",
		// A pound-force is 0.45359237 kg at 9.80665 m/s²; an inch is 0.0254 m. Water column at 4 °C and mercury column at 0 °C, by
		// convention: 1000 and 13,595.1 kg/m³.
		"psi", "44482216152605/6451600000", "mWC", "9806.65", "mH2O", "9806.65", "inHg", "3386.388640341")
	define(Dim{Length: 2, Mass: 1, Time: -3}, "W", "1", "kW", "1000", "MW", "1000000",
		"hp", "745.69987158227022") // 550 foot-pounds-force a second
	define(Dim{Length: 2, Mass: 1, Time: -2}, "kWh", "3600000", "Wh", "3600", "MWh", "3600000000", "J", "1", "mJ", "1/1000", "kJ", "1000",
		"MJ", "1000000")
	define(Dim{Current: 1}, "A", "1", "mA", "1/1000")
	define(Dim{Length: 2, Mass: 1, Time: -3, Current: -1}, "V", "1", "mV", "1/1000", "kV", "1000")
	define(Dim{Length: 2, Mass: 1, Time: -3, Current: -2}, "MΩ", "1000000", "kΩ", "1000", "Ω", "1", "GΩ", "1000000000")
	define(Dim{Length: -2, Mass: -1, Time: 3, Current: 2}, "S", "1", "mS", "1/1000", "µS", "1/1000000")
	define(Dim{Temperature: 1}, "°C", "1", "K", "1", "°F", "5/9")
	define(Dim{Length: 3, Time: -1}, "cfm", "0.0004719474432", "gpm", "0.0000630901964") // cubic feet and gallons a minute
	known["°C"] = offset(known["°C"], "273.15")
	known["°F"] = offset(known["°F"], "45967/180")
}

func offset(u Unit, by string) Unit {
	u.Offset, _ = new(big.Rat).SetString(by)
	return u
}

// offered are the units a person may choose from, in the order they are shown, by the unit a point has.
var offered = [][]string{
	{"bar", "kPa", "MPa", "mbar", "psi", "mWC", "inHg"}, {"m³/h", "l/s", "l/min", "l/h", "gal/min", "cfm"}, {"l", "m³", "ml", "gal", "ft³"},
	{"kg", "g", "lb", "oz", "t"}, {"°C", "K", "°F"},
	{"MΩ", "kΩ", "GΩ", "Ω"}, {"A", "mA"}, {"V", "mV", "kV"}, {"kW", "W", "hp"}, {"kWh", "MWh", "MJ"}, {"mm/s", "in/s"},
	{"m", "cm", "mm", "ft", "in", "yd"}, {"m²", "ft²"}, {"h", "min", "d"},
	{"mg/l", "g/m³", "g/l"}, {"Hz", "rpm"}, {"µS/cm", "mS/cm"}, {"%", "ppm"}, {"kWh/m³", "Wh/l"},
}

// Like lists the units that a value of a unit may be given in, that unit first.
func Like(symbol string) []string {
	if u, err := Parse(symbol); err != nil || u.Dim.Label != "" {
		return []string{symbol}
	}
	same := func(s string) bool { return plain(s) == plain(symbol) }
	out := []string{symbol}
	for _, list := range offered {
		if slices.ContainsFunc(list, same) {
			out = append(out, slices.DeleteFunc(slices.Clone(list), same)...)
		}
	}
	return out
}

// Parse reads a unit: a symbol, or symbols multiplied by · and divided by / as in m3/h, kWh/m3, EUR/m2. The code of a currency is one. A
// word that is no unit is a label: it is like itself alone.
//
// Powers may be raised: m³/h is m3/h. PSI, RPM, GPM and CFM are as gauges have them in capitals.
func Parse(text string) (Unit, error) {
	text = plain(text)
	if u, ok := known[text]; ok {
		return u, nil
	}
	if text == "" || len(text) > 20 {
		return Unit{}, msg.New("unit.unknown", "unit", clip(text))
	}
	if !strings.ContainsAny(text, "/·") {
		if money.Currency(text).Known() {
			return Unit{Symbol: text, Dim: Dim{Money: 1}, Factor: big.NewRat(1, 1)}.ready(), nil
		}
		return Unit{Symbol: text, Dim: Dim{Label: text}, Factor: big.NewRat(1, 1)}.ready(), nil
	}
	out := Unit{Symbol: text, Factor: big.NewRat(1, 1)}
	power := int8(1)
	for len(text) > 0 {
		i := strings.IndexAny(text, "/·")
		word := text
		var next int8
		if i >= 0 {
			word, next = text[:i], 1
			if text[i] == '/' {
				next = -1
			}
			text = strings.TrimPrefix(text[i:], "·")
			text = strings.TrimPrefix(text, "/")
		} else {
			text = ""
		}
		if err := out.multiply(word, power); err != nil {
			return Unit{}, err
		}
		if next != 0 && text == "" {
			return Unit{}, msg.New("unit.unknown", "unit", clip(out.Symbol))
		}
		power = next
	}
	return out.ready(), nil
}

func (u *Unit) multiply(word string, power int8) error {
	if word == "1" {
		word = ""
	} else if word == "" {
		return msg.New("unit.unknown", "unit", clip(u.Symbol))
	}
	factor, n := word, int8(1)
	if last := len(word) - 1; last > 0 && word[last] >= '2' && word[last] <= '9' {
		if _, ok := known[word]; !ok { // s2: a power of a unit without a name of its own
			p, _ := strconv.Atoi(word[last:])
			factor, n = word[:last], int8(p)
		}
	}
	f, err := Parse(factor)
	if err != nil {
		return err
	}
	for range n {
		var ok bool
		if u.Dim, ok = u.Dim.Times(f.Dim, power); !ok || f.Offset != nil {
			return msg.New("unit.unknown", "unit", clip(u.Symbol))
		}
		if power > 0 {
			u.Factor = new(big.Rat).Mul(u.Factor, f.Factor)
		} else {
			u.Factor = new(big.Rat).Quo(u.Factor, f.Factor)
		}
	}
	return nil
}

var raised = strings.NewReplacer("²", "2", "³", "3", "₂", "2")

// plain is a symbol as the table of units has it.
func plain(symbol string) string {
	s := raised.Replace(strings.TrimSpace(symbol))
	switch s {
	case "PSI", "RPM", "CFM", "GPM":
		return strings.ToLower(s)
	}
	return s
}

// Base gives a value of the unit in the base unit of its dimension.
func (u Unit) Base(v decimal.Decimal) exact.Number { return u.From(exact.Of(v)) }

// From is Base for what was computed.
func (u Unit) From(v exact.Number) exact.Number {
	n := v.Mul(u.times)
	if u.Offset != nil {
		n = n.Add(exact.Frac(u.Offset))
	}
	return n
}

// Of gives a value of the base unit in the unit.
func (u Unit) Of(base exact.Number) exact.Number {
	if u.Offset != nil {
		base = base.Sub(exact.Frac(u.Offset))
	}
	return base.Mul(u.by)
}

// Convert gives a value of one unit in another, and tells whether that is exact. The error says that they measure different
// things, or currencies: those are not converted.
func Convert(v decimal.Decimal, from, to string) (decimal.Decimal, bool, error) {
	if from == to {
		return v, true, nil
	}
	f, err := Parse(from)
	if err != nil {
		return v, false, err
	}
	t, err := Parse(to)
	if err != nil {
		return v, false, err
	}
	if f.Dim != t.Dim || f.Dim.Money != 0 {
		return v, false, msg.New("unit.unlike", "from", clip(from), "to", clip(to))
	}
	d, ends := round(t.Of(f.Base(v)).Rat())
	return d, ends, nil
}

// Shown rounds a converted value to what is sensible to read: five significant digits, and none of a whole number's cut.
func Shown(v decimal.Decimal) decimal.Decimal {
	places := int32(5 - (v.NumDigits() + int(v.Exponent())))
	return trim(v.Round(max(places, 0)))
}

// round gives a fraction as a decimal: exactly when it has an end within 30 places, else to Digits significant digits.
func round(r *big.Rat) (decimal.Decimal, bool) {
	d := new(big.Int).Set(r.Denom())
	twos, fives := 0, 0
	for _, p := range []struct {
		of int64
		n  *int
	}{{2, &twos}, {5, &fives}} {
		f, rest, quo := big.NewInt(p.of), new(big.Int), new(big.Int)
		for *p.n <= 30 {
			if quo.QuoRem(d, f, rest); rest.Sign() != 0 {
				break
			}
			d, quo = quo, new(big.Int)
			*p.n++
		}
	}
	places := max(twos, fives)
	ends := d.IsInt64() && d.Int64() == 1 && places <= 30
	if !ends {
		whole := new(big.Int).Quo(r.Num(), r.Denom())
		lead := len(new(big.Int).Abs(whole).String())
		if whole.Sign() == 0 && r.Sign() != 0 { // 0.00012: leading zeros are no digits
			lead = 1 - (len(r.Denom().String()) - len(new(big.Int).Abs(r.Num()).String()))
		}
		places = max(Digits-lead, 0)
	}
	scaled := new(big.Int).Mul(r.Num(), new(big.Int).Exp(big.NewInt(10), big.NewInt(int64(places)), nil))
	half := new(big.Int).Quo(r.Denom(), big.NewInt(2))
	if scaled.Sign() < 0 {
		half.Neg(half)
	}
	scaled.Quo(scaled.Add(scaled, half), r.Denom())
	return trim(decimal.NewFromBigInt(scaled, -int32(places))), ends
}

// trim drops zeros at the end of the fraction, so that equal values are written the same.
func trim(d decimal.Decimal) decimal.Decimal {
	out, err := decimal.NewFromString(d.String())
	if err != nil {
		return d
	}
	return out
}

func clip(s string) string {
	if r := []rune(s); len(r) > 20 {
		return string(r[:20]) + "…"
	}
	return s
}
