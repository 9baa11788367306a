package formula

import (
	"slices"
	"strings"

	"github.com/shopspring/decimal"

	"iter.example/iter/core/exact"
	"iter.example/iter/core/unit"
)

// function is an operator or function: how many arguments it takes (most 0: any number), whether lists are among them, its type
// and its value.
type function struct {
	least, most int
	lists       bool
	name        string
	check       func(Node, []Type) (Type, *Problem)
	eval        func(Node, []Value) (Value, error)
}

func (f function) label(op string) string {
	if f.name != "" {
		return f.name
	}
	return op
}

var functions = map[string]function{}

func init() {
	for name, f := range map[string]function{
		"+": {least: 2, most: 2, check: alike, eval: arithmetic(exact.Number.Add)},
		"-": {least: 2, most: 2, check: alike, eval: arithmetic(exact.Number.Sub)},
		"*": {least: 2, most: 2, check: scaled(1), eval: arithmetic(exact.Number.Mul)},
		"/": {least: 2, most: 2, check: scaled(-1), eval: divide},
		"neg": {least: 1, most: 1, name: "-", check: alike, eval: func(_ Node, a []Value) (Value, error) {
			return Of(a[0].Num.Neg()),
				nil
		}},
		"<": compared(func(c int) bool { return c < 0 }), "<=": compared(func(c int) bool { return c <= 0 }),
		">": compared(func(c int) bool { return c > 0 }), ">=": compared(func(c int) bool { return c >= 0 }),
		"==":  {least: 2, most: 2, check: equal, eval: func(_ Node, a []Value) (Value, error) { return truth(same(a[0], a[1])), nil }},
		"!=":  {least: 2, most: 2, check: equal, eval: func(_ Node, a []Value) (Value, error) { return truth(!same(a[0], a[1])), nil }},
		"and": {least: 2, most: 2, check: booleans}, "or": {least: 2, most: 2, check: booleans},
		"not": {least: 1, most: 1, check: booleans, eval: func(_ Node, a []Value) (Value, error) { return truth(!a[0].Bool), nil }},
		"?:":  {least: 3, most: 3, check: chosen}, "??": {least: 2, most: 2,
			check: func(n Node, a []Type) (Type, *Problem) { return match(n, a[0], a[1]) }},
		"in": {least: 2, most: 2, check: within, eval: func(_ Node, a []Value) (Value, error) {
			return truth(slices.Contains(strings.Split(a[1].Text, ","), a[0].Text)), nil
		}},
		"sum": {least: 1, lists: true, check: alike, eval: folded(exact.Number.Add)},
		"min": {least: 1, lists: true, check: alike, eval: folded(least)},
		"max": {least: 1, lists: true, check: alike, eval: folded(greatest)},
		"mean": {least: 1, lists: true, check: alike, eval: func(n Node, a []Value) (Value, error) {
			sum, err := folded(exact.Number.Add)(n, a)
			if err != nil {
				return sum, err
			}
			return Of(sum.Num.Quo(integer(len(flat(a))))), nil
		}},
		"count": {least: 1, most: 1, lists: true, check: func(Node, []Type) (Type, *Problem) { return Type{Kind: Number}, nil },
			eval: func(_ Node, a []Value) (Value, error) { return Of(integer(len(flat(a)))), nil }},
		"abs":   {least: 1, most: 1, check: alike, eval: func(_ Node, a []Value) (Value, error) { return Of(a[0].Num.Abs()), nil }},
		"sqrt":  {least: 1, most: 1, check: rooted, eval: func(n Node, a []Value) (Value, error) { return root(n, a[0].Num) }},
		"round": {least: 1, most: 3, check: rounding, eval: rounded(exact.Number.Round)},
		"ceil":  {least: 1, most: 3, check: rounding, eval: rounded(exact.Number.Ceil)},
		"floor": {least: 1, most: 3, check: rounding, eval: rounded(exact.Number.Floor)},
		"unit": {least: 2, most: 2, check: unitOf, eval: func(n Node, a []Value) (Value, error) {
			u, _ := unit.Parse(n.Args[1].Text)
			return Of(u.From(a[0].Num)), nil
		}},
		"value": {least: 2, most: 2, check: valueIn, eval: func(n Node, a []Value) (Value, error) {
			u, _ := unit.Parse(n.Args[1].Text)
			return Of(u.Of(a[0].Num)), nil
		}},
	} {
		functions[name] = f
	}
}

func truth(b bool) Value { return Value{Kind: Bool, Bool: b} }

// alike wants numbers that measure the same, and gives one.
func alike(n Node, args []Type) (Type, *Problem) {
	first := args[0]
	for i, a := range args {
		if a.Kind != Number {
			return a, problem(n.Args[i], "formula.number_wanted")
		}
		if a.Dim != first.Dim {
			return a, problem(n, "formula.units")
		}
	}
	return Type{Kind: Number, Dim: first.Dim}, nil
}

func scaled(power int8) func(Node, []Type) (Type, *Problem) {
	return func(n Node, args []Type) (Type, *Problem) {
		for i, a := range args {
			if a.Kind != Number {
				return a, problem(n.Args[i], "formula.number_wanted")
			}
		}
		d, ok := args[0].Dim.Times(args[1].Dim, power)
		if !ok {
			return args[0], problem(n, "formula.units")
		}
		return Type{Kind: Number, Dim: d}, nil
	}
}

func match(n Node, a, b Type) (Type, *Problem) {
	switch {
	case a.Kind != b.Kind:
		return a, problem(n, "formula.kinds")
	case a.Dim != b.Dim:
		return a, problem(n, "formula.units")
	}
	return a, nil
}

func equal(n Node, a []Type) (Type, *Problem) {
	_, p := match(n, a[0], a[1])
	return Type{Kind: Bool}, p
}

func booleans(n Node, args []Type) (Type, *Problem) {
	for i, a := range args {
		if a.Kind != Bool {
			return a, problem(n.Args[i], "formula.bool_wanted")
		}
	}
	return Type{Kind: Bool}, nil
}

func chosen(n Node, a []Type) (Type, *Problem) {
	if a[0].Kind != Bool {
		return a[0], problem(n.Args[0], "formula.bool_wanted")
	}
	return match(n, a[1], a[2])
}

func within(n Node, a []Type) (Type, *Problem) {
	if a[0].Kind != Text || a[1].Kind != Texts {
		return a[0], problem(n, "formula.kinds")
	}
	return Type{Kind: Bool}, nil
}

func rooted(n Node, a []Type) (Type, *Problem) {
	t, p := alike(n, a)
	if p != nil {
		return t, p
	}
	d, ok := t.Dim.Root()
	if !ok {
		return t, problem(n, "formula.units")
	}
	return Type{Kind: Number, Dim: d}, nil
}

// rounding is of a number, to places, in a unit: round(x), round(x, 2), round(head, 1, "m"). What has a dimension needs the unit,
// since it is in that that places are meant.
func rounding(n Node, a []Type) (Type, *Problem) {
	if a[0].Kind != Number {
		return a[0], problem(n.Args[0], "formula.number_wanted")
	}
	if len(a) > 1 && (n.Args[1].Op != "number" || !n.Args[1].Num.IsInteger() || n.Args[1].Num.IsNegative() ||
		n.Args[1].Num.GreaterThan(decimal.NewFromInt(12))) {
		return a[0], problem(n.Args[1], "formula.places")
	}
	d := unit.None
	if len(a) > 2 {
		u, p := unitText(n.Args[2])
		if p != nil {
			return a[0], p
		}
		d = u.Dim
	}
	if d != a[0].Dim && (len(a) > 2 || a[0].Dim.Money == 0 || a[0].Dim != unit.Dim{Money: 1}) {
		return a[0], problem(n, "formula.round_unit")
	}
	return Type{Kind: Number, Dim: a[0].Dim}, nil
}

func rounded(f func(exact.Number, int32) decimal.Decimal) func(Node, []Value) (Value, error) {
	return func(n Node, a []Value) (Value, error) {
		to := int32(0)
		if len(a) > 1 {
			to = int32(n.Args[1].Num.IntPart())
		}
		if len(a) > 2 {
			u, _ := unit.Parse(n.Args[2].Text)
			return Of(u.Base(f(u.Of(a[0].Num), to))), nil
		}
		return Of(exact.Of(f(a[0].Num, to))), nil
	}
}

func unitText(n Node) (unit.Unit, *Problem) {
	if n.Op != "text" {
		return unit.Unit{}, problem(n, "formula.unit_wanted")
	}
	u, err := unit.Parse(n.Text)
	if err != nil {
		return u, problem(n, "unit.unknown", "unit", clip(n.Text))
	}
	return u, nil
}

// unitOf makes a number a quantity: unit(998, "kg/m3").
func unitOf(n Node, a []Type) (Type, *Problem) {
	u, p := unitText(n.Args[1])
	if p != nil {
		return a[0], p
	}
	if a[0].Kind != Number || a[0].Dim != unit.None {
		return a[0], problem(n.Args[0], "formula.number_wanted")
	}
	return Type{Kind: Number, Dim: u.Dim}, nil
}

// valueIn makes a quantity a number: value(area, "m2").
func valueIn(n Node, a []Type) (Type, *Problem) {
	u, p := unitText(n.Args[1])
	if p != nil {
		return a[0], p
	}
	if a[0].Kind != Number || a[0].Dim != u.Dim {
		return a[0], problem(n, "formula.units")
	}
	return Type{Kind: Number}, nil
}

func arithmetic(f func(a, b exact.Number) exact.Number) func(Node, []Value) (Value, error) {
	return func(_ Node, a []Value) (Value, error) { return Of(f(a[0].Num, a[1].Num)), nil }
}

func divide(n Node, a []Value) (Value, error) {
	if a[1].Num.Sign() == 0 {
		return Value{}, problem(n, "formula.zero")
	}
	return Of(a[0].Num.Quo(a[1].Num)), nil
}

func compared(f func(int) bool) function {
	return function{least: 2, most: 2,
		check: func(n Node, a []Type) (Type, *Problem) { _, p := alike(n, a); return Type{Kind: Bool}, p },
		eval:  func(_ Node, a []Value) (Value, error) { return truth(f(a[0].Num.Cmp(a[1].Num))), nil }}
}

func same(a, b Value) bool {
	switch a.Kind {
	case Number:
		return a.Num.Cmp(b.Num) == 0
	case Bool:
		return a.Bool == b.Bool
	}
	return a.Text == b.Text
}

// flat gives all values of arguments, those of lists too.
func flat(args []Value) []Value {
	var out []Value
	for _, a := range args {
		if a.Many {
			out = append(out, a.List...)
		} else {
			out = append(out, a)
		}
	}
	return out
}

func integer(n int) exact.Number { return exact.Of(decimal.NewFromInt(int64(n))) }

func least(a, b exact.Number) exact.Number {
	if b.Cmp(a) < 0 {
		return b
	}
	return a
}

func greatest(a, b exact.Number) exact.Number {
	if b.Cmp(a) > 0 {
		return b
	}
	return a
}

func folded(f func(a, b exact.Number) exact.Number) func(Node, []Value) (Value, error) {
	return func(n Node, args []Value) (Value, error) {
		all := flat(args)
		if len(all) == 0 {
			return Value{}, errNone
		}
		out := all[0].Num
		for _, v := range all[1:] {
			out = f(out, v.Num)
		}
		return bounded(n, Of(out))
	}
}

func root(n Node, v exact.Number) (Value, error) {
	if v.Sign() < 0 {
		return Value{}, problem(n, "formula.root")
	}
	return Of(v.Sqrt()), nil
}
