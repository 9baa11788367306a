package formula_test

import (
	"strings"
	"testing"

	"github.com/shopspring/decimal"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"iter.example/iter/core/formula"
	"iter.example/iter/core/unit"
)

func num(s string) formula.Node {
	d := decimal.RequireFromString(s)
	return formula.Node{Op: "number", Num: &d}
}

func op(name string, args ...formula.Node) formula.Node { return formula.Node{Op: name, Args: args} }

func name(s string) formula.Node { return formula.Node{Op: "name", Name: s} }

func text(s string) formula.Node { return formula.Node{Op: "text", Text: s} }

func none(string) (formula.Type, bool) { return formula.Type{}, false }

func nothing(string) formula.Value { return formula.Value{} }

// A tree that came with a sheet of a stranger's is checked before it is evaluated: whatever it is, there is a problem or a value.
func TestStrangeTrees(t *testing.T) {
	deep := num("1")
	for range 200 {
		deep = op("neg", deep)
	}
	wide := op("sum")
	for range 1000 {
		wide.Args = append(wide.Args, num("1"))
	}
	for what, c := range map[string]struct {
		node formula.Node
		want string
	}{
		"no operator":        {formula.Node{}, "formula.unknown"},
		"an odd operator":    {op("exec", text("rm")), "formula.unknown"},
		"a number of none":   {formula.Node{Op: "number"}, "formula.number"},
		"a number too long":  {num("1" + strings.Repeat("0", 50)), "formula.number"},
		"a huge exponent":    {num("1e31"), "formula.number"},
		"too deep":           {deep, "formula.large"},
		"too wide":           {wide, "formula.large"},
		"too few arguments":  {op("+", num("1")), "formula.arguments"},
		"too many":           {op("sqrt", num("1"), num("2")), "formula.arguments"},
		"none of a function": {op("max"), "formula.arguments"},
		"nobody":             {name("nobody"), "formula.name"},
		"text for a number":  {op("*", text("x"), num("2")), "formula.number_wanted"},
		"a unit computed":    {op("unit", num("1"), op("+", num("1"), num("1"))), "formula.unit_wanted"},
		"an odd unit":        {op("value", num("1"), text("a/")), "unit.unknown"},
		"places of a name":   {op("round", num("1"), op("neg", num("1"))), "formula.places"},
		"either of two":      {op("?:", num("1"), num("2"), num("3")), "formula.bool_wanted"},
		"of two sorts":       {op("?:", op("true"), num("2"), text("x")), "formula.kinds"},
		"in a number":        {op("in", text("a"), num("1")), "formula.kinds"},
		"root of a length":   {op("sqrt", op("unit", num("4"), text("m"))), "formula.units"},
	} {
		_, p := formula.Check(c.node, none)
		require.NotNil(t, p, what)
		assert.Equal(t, c.want, p.Code.Code, what)
	}
}

func TestUnitsMultiply(t *testing.T) {
	of := func(v, u string) formula.Node { return op("unit", num(v), text(u)) }
	for _, c := range []struct {
		node     formula.Node
		in, want string
	}{
		{op("*", of("3", "m"), of("4", "m")), "m²", "12"},
		{op("/", of("12", "kWh"), of("4", "m³")), "kWh/m³", "3"},
		{op("sqrt", of("9", "m²")), "m", "3"},
		{op("*", of("10", "A"), of("400", "V")), "kW", "4"},
		{op("/", of("1", "h"), of("1", "min")), "", "60"},
		{op("-", of("1", "m"), of("1", "cm")), "mm", "990"},
		{op("mean", of("1", "bar"), of("300", "kPa")), "bar", "2"},
		{op("round", of("1.26", "bar"), num("1"), text("bar")), "bar", "1.3"},
		{op("floor", of("1999", "g"), num("0"), text("kg")), "kg", "1"},
		{op("value", of("2", "bar"), text("kPa")), "", "200"},
		{op("*", of("2", "m²"), of("19.9", "EUR/m²")), "EUR", "39.8"},
		{op("/", of("6", "pH"), of("2", "pH")), "", "3"},
	} {
		typ, p := formula.Check(c.node, none)
		require.Nil(t, p)
		u, err := unit.Parse(c.in)
		require.NoError(t, err)
		assert.Equal(t, u.Dim, typ.Dim, c.in)
		v, p := formula.Eval(c.node, nothing)
		require.Nil(t, p)
		assert.Equal(t, c.want, u.Of(v.Num).Round(20).String(), c.in)
	}
}

// What is not known makes what rests on it not known, unless the formula says what then; nothing of it is a problem.
func TestWhatIsNotKnown(t *testing.T) {
	known := func(n string) formula.Value {
		if n == "yes" {
			return formula.Value{Kind: formula.Bool, Bool: true}
		}
		return formula.Value{}
	}
	for what, c := range map[string]struct {
		node formula.Node
		want string
	}{
		"a sum":              {op("+", num("1"), name("x")), ""},
		"something instead":  {op("??", name("x"), num("7")), "7"},
		"first of three":     {op("??", name("x"), op("??", name("y"), num("3"))), "3"},
		"the other branch":   {op("?:", name("yes"), num("1"), name("x")), "1"},
		"the branch taken":   {op("?:", name("yes"), name("x"), num("1")), ""},
		"or that holds":      {op("?:", op("or", name("yes"), name("x")), num("1"), num("2")), "1"},
		"and that needs it":  {op("?:", op("and", name("yes"), name("x")), num("1"), num("2")), ""},
		"the list of nobody": {op("sum", name("x")), ""},
	} {
		v, p := formula.Eval(c.node, known)
		assert.Nil(t, p, what)
		if c.want == "" {
			assert.True(t, v.None(), what)
			continue
		}
		assert.Equal(t, c.want, v.Num.Round(20).String(), what)
	}
}

func TestNamesAreListedOnce(t *testing.T) {
	assert.Equal(t, []string{"a", "b"}, op("+", name("a"), op("*", name("b"), name("a"))).Names())
}
