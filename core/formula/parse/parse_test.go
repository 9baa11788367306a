package parse_test

import (
	"errors"
	"fmt"
	"strconv"
	"strings"
	"testing"

	"github.com/shopspring/decimal"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"iter.example/iter/core/exact"
	"iter.example/iter/core/formula"
	"iter.example/iter/core/formula/parse"
	"iter.example/iter/core/unit"
)

var units = map[string]string{"suction": "bar", "discharge": "kPa", "l1": "A", "l2": "A", "l3": "A", "area": "m2", "rate": "EUR/m2",
	"n": "", "m": "", "zero": "", "gone": "", "temp": "°C", "ph": "pH"}

var values = map[string]string{"suction": "0.4", "discharge": "430", "l1": "10", "l2": "11", "l3": "9", "area": "12.5", "rate": "19.90",
	"n": "7", "m": "-2", "zero": "0", "temp": "20", "ph": "7.2"}

func typeOf(name string) (formula.Type, bool) {
	switch name {
	case "rooms":
		return formula.Type{Kind: formula.Number, List: true}, true
	case "ok":
		return formula.Type{Kind: formula.Bool}, true
	case "noise":
		return formula.Type{Kind: formula.Text}, true
	case "found":
		return formula.Type{Kind: formula.Texts}, true
	}
	u, ok := units[name]
	if !ok {
		return formula.Type{}, false
	}
	p, _ := unit.Parse(u)
	return formula.Type{Kind: formula.Number, Dim: p.Dim}, true
}

func valueOf(name string) formula.Value {
	switch name {
	case "rooms":
		return formula.Value{Kind: formula.Number, Many: true, List: []formula.Value{formula.Of(exact.Of(decimal.NewFromInt(3))),
			formula.Of(exact.Of(decimal.NewFromInt(5)))}}
	case "ok":
		return formula.Value{Kind: formula.Bool, Bool: true}
	case "noise":
		return formula.Value{Kind: formula.Text, Text: "loud"}
	case "found":
		return formula.Value{Kind: formula.Texts, Text: "leak,rust"}
	}
	v, ok := values[name]
	if !ok {
		return formula.Value{}
	}
	u, _ := unit.Parse(units[name])
	return formula.Of(u.Base(decimal.RequireFromString(v)))
}

// compute gives a result in a unit, or the code of what is wrong.
func compute(t require.TestingT, text, in string) string {
	n, err := parse.Text(text)
	var p *formula.Problem
	if errors.As(err, &p) {
		return p.Code.Code
	}
	require.NoError(t, err)
	typ, p := formula.Check(n, typeOf)
	if p != nil {
		return p.Code.Code
	}
	v, p := formula.Eval(n, valueOf)
	switch {
	case p != nil:
		return p.Code.Code
	case v.None():
		return "none"
	case v.Kind == formula.Bool:
		return map[bool]string{true: "true", false: "false"}[v.Bool]
	case v.Kind == formula.Text:
		return v.Text
	}
	u, err := unit.Parse(in)
	require.NoError(t, err)
	require.Equal(t, u.Dim, typ.Dim, text)
	return u.Of(v.Num).Round(20).String()
}

func TestFormulas(t *testing.T) {
	for _, c := range []struct{ text, unit, want string }{
		{"0.1 + 0.2", "", "0.3"},
		{"1.10 * 3", "", "3.3"},
		{"discharge - suction", "bar", "3.9"},
		{"round((discharge - suction) / (unit(998, \"kg/m3\") * unit(9.80665, \"m/s2\")), 2, \"m\")", "m", "39.85"},
		{"round((max(l1, l2, l3) - mean(l1, l2, l3)) / mean(l1, l2, l3), 3)", "%", "10"},
		{"area * rate", "EUR", "248.75"},
		{"value(area, \"ft2\") > 134", "", "true"},
		{"sum(rooms)", "", "8"}, {"sum(n, m, 1)", "", "6"}, {"sum(rooms, n)", "", "15"},
		{"mean(rooms)", "", "4"}, {"count(rooms)", "", "2"}, {"max(rooms) - min(rooms)", "", "2"},
		{"-m + +n", "", "9"}, {"abs(m)", "", "2"}, {"sqrt(n + 2)", "", "3"}, {"ceil(n / 2)", "", "4"}, {"floor(n / 2)", "", "3"},
		{"n > 5 ? n : m", "", "7"}, {"noise == \"loud\" and not (n < 3)", "", "true"}, {"\"leak\" in found", "", "true"},
		{"\"lea\" in found", "", "false"},
		{"ok ? \"a\" : \"b\"", "", "a"},
		{"gone + 1", "", "none"}, {"gone ?? 4", "", "4"}, {"ok or gone > 3", "", "true"}, {"!ok and gone > 3", "", "false"},
		{"temp", "°C", "20"}, {"temp", "K", "293.15"}, {"ph * 2", "pH", "14.4"},
		{"n / zero", "", "formula.zero"}, {"sqrt(m)", "", "formula.root"},
		{"suction + l1", "", "formula.units"}, {"area * rate + 1", "", "formula.units"}, {"ph + n", "", "formula.units"},
		{"suction > 3", "", "formula.units"},
		{"round(area, 1)", "", "formula.round_unit"}, {"round(area, 1, \"bar\")", "", "formula.round_unit"},
		{"round(n, 1.5)", "", "formula.places"},
		{"nobody + 1", "", "formula.name"}, {"rooms + 1", "", "formula.list"}, {"ok + 1", "", "formula.number_wanted"},
		{"n and ok", "", "formula.bool_wanted"},
		{"ok == 1", "", "formula.kinds"}, {"unit(n, \"/\")", "", "unit.unknown"}, {"unit(n, noise)", "", "formula.unit_wanted"},
		{"n +", "", "formula.unreadable"}, {"(n", "", "formula.unreadable"}, {"", "", "formula.empty"}, {"n ** 9", "", "formula.unknown"},
		{"env(\"x\")", "", "formula.unknown"},
		{"[1, 2]", "", "formula.unreadable"}, {"n.x", "", "formula.unreadable"}, {"min()", "", "formula.arguments"},
		{strings.Repeat("n*", 499) + "n", "", "formula.large"}, {strings.Repeat("(", 200) + "n" + strings.Repeat(")", 200), "",
			"formula.large"},
		{"1000000000000000000.0 * 1000000000000000000.0", "", "formula.overflow"},
	} {
		assert.Equal(t, c.want, compute(t, c.text, c.unit), c.text)
	}
}

func TestWhereItIs(t *testing.T) {
	n, err := parse.Text("n + (nobody * 2)")
	require.NoError(t, err)
	_, p := formula.Check(n, typeOf)
	require.NotNil(t, p)
	assert.Equal(t, 5, p.At)
	assert.Equal(t, []string{"n", "nobody"}, n.Names())
}

// Sums do not depend on the order of what is added, nor on the unit it was measured in.
func TestSumsAreExact(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		a, b := rapid.Int64Range(-99999, 99999).Draw(t, "a"), rapid.Int64Range(-99999, 99999).Draw(t, "b")
		da, db := decimal.New(a, -3), decimal.New(b, -3)
		want := da.Add(db).String()
		for _, text := range []string{da.String() + " + " + db.String(), db.String() + " + " + da.String()} {
			require.Equal(t, want, compute(t, text, ""))
		}
		inBar := compute(t, "unit("+da.String()+", \"bar\") + unit("+db.String()+", \"bar\")", "bar")
		require.Equal(t, want, inBar)
	})
}

// Whole numbers in any unit add up and compare as they are written, and are their own floor and ceiling, with an end in the base unit or
// without.
func TestWholeNumbersStayWhole(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		in := rapid.SampledFrom([]string{"m³/h", "l/min", "l/h", "gal/min", "psi", "rpm", "cfm", "kWh", "ft²", "inHg", "hp",
			"oz", "1/min", "g/ft3",
			"EUR/d"}).Draw(t, "unit")
		a, b := rapid.IntRange(-9999, 9999).Draw(t, "a"), rapid.IntRange(-9999, 9999).Draw(t, "b")
		of := func(n int) string { return fmt.Sprintf("unit(%d, %q)", n, in) }
		for text, want := range map[string]string{
			of(a) + " + " + of(b) + " == " + of(a+b):                        "true",
			of(a) + " + " + of(b) + " < " + of(a+b):                         "false",
			of(a) + " - " + of(b) + " >= " + of(a-b):                        "true",
			of(a) + " / 7 * 7 == " + of(a):                                  "true",
			"mean(" + of(a) + ", " + of(a) + ", " + of(a) + ") == " + of(a): "true",
		} {
			require.Equal(t, want, compute(t, text, ""), text)
		}
		in = rapid.SampledFrom([]string{in, "°F", "°C"}).Draw(t, "unit to round in")
		for _, f := range []string{"floor", "ceil", "round"} {
			require.Equal(t, strconv.Itoa(a), compute(t, fmt.Sprintf("%s(%s, 0, %q)", f, of(a), in), in))
		}
	})
}

func FuzzText(f *testing.F) {
	for _, s := range []string{"1+1", "round(area, 1, \"m2\")", "a?b:c", "\"x\" in y", "((((1", "1e99999", "0x1F", "a..b", "`x`"} {
		f.Add(s)
	}
	f.Fuzz(func(t *testing.T, s string) {
		n, err := parse.Text(s)
		if err != nil {
			return
		}
		if _, p := formula.Check(n, typeOf); p == nil {
			formula.Eval(n, valueOf)
		}
	})
}
