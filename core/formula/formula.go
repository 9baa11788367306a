// Package formula computes exactly and with units: the formulas of check sheets and of derived readings.
//
// A formula is written as text, in the syntax of the expr language, and parsed once, when it is published
// (package parse). What travels to devices is the tree of Nodes; this package checks its types and units, and evaluates it.
// Quantities are in the base units of their dimensions: 2 bar and 200 kPa are the same value. There are no floats, no time and
// no randomness: the same values give the same result everywhere.
package formula

import (
	"errors"
	"strconv"

	"github.com/shopspring/decimal"

	"iter.example/iter/core/exact"
	"iter.example/iter/core/msg"
	"iter.example/iter/core/unit"
)

// Node is a step of a formula.
type Node struct {
	Op   string           `json:"op"`             // one of the operators or functions below
	Args []Node           `json:"args,omitempty"` // what it works on
	Name string           `json:"name,omitempty"` // of a "name": what it refers to
	Num  *decimal.Decimal `json:"num,omitempty"`  // of a "number"
	Text string           `json:"text,omitempty"` // of a "text"
	At   int              `json:"at,omitempty"`   // where it is in the text, in characters
}

// The largest formula, in nodes and in depth. A person's formula has some ten of the one and five of the other.
const (
	maxNodes = 400
	maxDepth = 40
)

// Kind is what a value is.
type Kind byte

const (
	Number Kind = iota + 1
	Text
	Bool
	Texts // several of a list
)

// Type is what a formula or a name in it gives.
type Type struct {
	Kind Kind
	Dim  unit.Dim
	List bool // one for each time a section is repeated
}

// Value is what was computed. The zero Value is none: something it needs is not known.
type Value struct {
	Kind Kind
	Num  exact.Number // in the base unit of its dimension
	Text string
	Bool bool
	List []Value // of a List: those that are known
	Many bool    // it is a List
}

// None tells that there is no value.
func (v Value) None() bool { return v.Kind == 0 }

// Of is a number as a value.
func Of(n exact.Number) Value { return Value{Kind: Number, Num: n} }

// Problem is what is wrong with a formula, and where.
type Problem struct {
	msg.Code
	At int `json:"at"` // character in the text, from 0
}

func (p *Problem) Error() string { return p.Code.Error() }

func problem(n Node, code string, args ...string) *Problem {
	return &Problem{*msg.New(code, args...), n.At}
}

// ChangeOf is the name under which a formula refers to what a counter moved on by: change(hours).
func ChangeOf(name string) string { return "change:" + name }

// Names lists what the formula refers to, each once, in order.
func (n Node) Names() []string {
	var out []string
	seen := map[string]bool{}
	n.walk(func(n Node) {
		if n.Op == "name" && !seen[n.Name] {
			seen[n.Name] = true
			out = append(out, n.Name)
		}
	})
	return out
}

func (n Node) walk(f func(Node)) {
	f(n)
	for _, a := range n.Args {
		a.walk(f)
	}
}

func (n Node) size(depth int) int {
	if depth > maxDepth {
		return maxNodes + 1
	}
	sum := 1
	for _, a := range n.Args {
		if sum += a.size(depth + 1); sum > maxNodes {
			return sum
		}
	}
	return sum
}

// Check gives the type of a formula whose names have types. It never panics, whatever tree it is given.
func Check(n Node, names func(string) (Type, bool)) (Type, *Problem) {
	if n.size(1) > maxNodes {
		return Type{}, problem(n, "formula.large")
	}
	return check(n, names)
}

func check(n Node, names func(string) (Type, bool)) (Type, *Problem) {
	switch n.Op {
	case "number":
		if n.Num == nil || n.Num.NumDigits() > 40 || n.Num.Exponent() < -30 || n.Num.Exponent() > 30 {
			return Type{}, problem(n, "formula.number")
		}
		return Type{Kind: Number}, nil
	case "text":
		return Type{Kind: Text}, nil
	case "true", "false":
		return Type{Kind: Bool}, nil
	case "name":
		t, ok := names(n.Name)
		if !ok {
			return t, problem(n, "formula.name", "name", clip(n.Name))
		}
		return t, nil
	}
	f, ok := functions[n.Op]
	if !ok {
		return Type{}, problem(n, "formula.unknown", "name", clip(n.Op))
	}
	if len(n.Args) < f.least || (f.most > 0 && len(n.Args) > f.most) {
		return Type{}, problem(n, "formula.arguments", "name", f.label(n.Op), "count", strconv.Itoa(len(n.Args)))
	}
	args := make([]Type, len(n.Args))
	for i, a := range n.Args {
		t, p := check(a, names)
		if p != nil {
			return t, p
		}
		args[i] = t
		if t.List && !f.lists {
			return t, problem(a, "formula.list", "name", f.label(n.Op))
		}
	}
	return f.check(n, args)
}

var errNone = errors.New("no value")

// Eval evaluates a formula that Check has passed. Something it needs that has no value, a division by zero and a root of less than
// nothing give none, with the Problem when there is one to tell.
func Eval(n Node, names func(string) Value) (Value, *Problem) {
	v, err := eval(n, names)
	var p *Problem
	if errors.As(err, &p) {
		return Value{}, p
	}
	if err != nil {
		return Value{}, nil
	}
	return v, nil
}

func eval(n Node, names func(string) Value) (Value, error) {
	switch n.Op {
	case "number":
		return Of(exact.Of(*n.Num)), nil
	case "text":
		return Value{Kind: Text, Text: n.Text}, nil
	case "true", "false":
		return Value{Kind: Bool, Bool: n.Op == "true"}, nil
	case "name":
		v := names(n.Name)
		if v.None() {
			return v, errNone
		}
		return v, nil
	case "?:":
		c, err := eval(n.Args[0], names)
		if err != nil {
			return c, err
		}
		if c.Bool {
			return eval(n.Args[1], names)
		}
		return eval(n.Args[2], names)
	case "??":
		v, err := eval(n.Args[0], names)
		if errors.Is(err, errNone) {
			return eval(n.Args[1], names)
		}
		return v, err
	case "and", "or":
		v, err := eval(n.Args[0], names)
		if err != nil || v.Bool == (n.Op == "or") {
			return v, err
		}
		return eval(n.Args[1], names)
	}
	f, ok := functions[n.Op]
	if !ok {
		return Value{}, problem(n, "formula.unknown", "name", clip(n.Op))
	}
	args := make([]Value, len(n.Args))
	for i, a := range n.Args {
		v, err := eval(a, names)
		if err != nil {
			return v, err
		}
		args[i] = v
	}
	v, err := f.eval(n, args)
	if err == nil && v.Kind == Number && !v.Many {
		return bounded(n, v)
	}
	return v, err
}

// digits before the point that a number may have: past anything that is measured or charged.
const digits = 30

// bounded keeps numbers to a size that arithmetic stays quick with.
func bounded(n Node, v Value) (Value, error) {
	if v.Num.Whole() > digits {
		return v, problem(n, "formula.overflow")
	}
	return v, nil
}

func clip(s string) string {
	if r := []rune(s); len(r) > 30 {
		return string(r[:30]) + "…"
	}
	return s
}
