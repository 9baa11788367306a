// Package parse reads formulas from text, in the syntax of the expr language, whose parser it uses. It is no part of what devices
// load: they have the trees.
package parse

import (
	"errors"
	"strings"

	"github.com/expr-lang/expr/ast"
	"github.com/expr-lang/expr/builtin"
	"github.com/expr-lang/expr/conf"
	"github.com/expr-lang/expr/file"
	"github.com/expr-lang/expr/parser"
	"github.com/shopspring/decimal"

	"iter.example/iter/core/formula"
	"iter.example/iter/core/msg"
)

// MaxText is the longest formula, in bytes.
const MaxText = 1000

// syntax has sum take several values, as min and max do: the language's own takes a list, and what to do with each of it.
var syntax = func() *conf.Config {
	c := conf.CreateNew()
	c.Functions["sum"] = &builtin.Function{Name: "sum"}
	return c
}()

// Text reads a formula. The error is a *formula.Problem that says what is wrong and where.
func Text(text string) (node formula.Node, err error) {
	if strings.TrimSpace(text) == "" {
		return node, &formula.Problem{Code: *msg.New("formula.empty")}
	}
	if len(text) > MaxText || strings.Count(text, "(") > 100 {
		return node, &formula.Problem{Code: *msg.New("formula.large")}
	}
	tree, err := parser.ParseWithConfig(text, syntax)
	var at *file.Error
	switch {
	case errors.As(err, &at):
		return node, &formula.Problem{Code: *msg.New("formula.unreadable"), At: at.From}
	case err != nil:
		return node, &formula.Problem{Code: *msg.New("formula.unreadable")}
	}
	r := reader{text: text}
	node = r.read(tree.Node)
	if r.problem != nil {
		return node, r.problem
	}
	return node, nil
}

type reader struct {
	text    string
	problem *formula.Problem
}

var operators = map[string]string{"&&": "and", "||": "or", "!": "not", "and": "and", "or": "or", "not": "not"}

func (r *reader) read(n ast.Node) formula.Node {
	at := n.Location().From
	node := func(op string, args ...ast.Node) formula.Node {
		out := formula.Node{Op: op, At: at}
		for _, a := range args {
			out.Args = append(out.Args, r.read(a))
		}
		return out
	}
	switch n := n.(type) {
	case *ast.IntegerNode:
		d := decimal.NewFromInt(int64(n.Value))
		return formula.Node{Op: "number", Num: &d, At: at}
	case *ast.FloatNode:
		d, err := r.number(n)
		if err != nil {
			return r.fail(at, "formula.number")
		}
		return formula.Node{Op: "number", Num: &d, At: at}
	case *ast.StringNode:
		return formula.Node{Op: "text", Text: n.Value, At: at}
	case *ast.BoolNode:
		if n.Value {
			return node("true")
		}
		return node("false")
	case *ast.IdentifierNode:
		return formula.Node{Op: "name", Name: n.Value, At: at}
	case *ast.UnaryNode:
		switch n.Operator {
		case "-":
			return node("neg", n.Node)
		case "+":
			return r.read(n.Node)
		}
		return node(operators[n.Operator], n.Node)
	case *ast.BinaryNode:
		if op, ok := operators[n.Operator]; ok {
			return node(op, n.Left, n.Right)
		}
		return node(n.Operator, n.Left, n.Right)
	case *ast.ConditionalNode:
		return node("?:", n.Cond, n.Exp1, n.Exp2)
	case *ast.BuiltinNode:
		return node(n.Name, n.Arguments...)
	case *ast.CallNode:
		if id, ok := n.Callee.(*ast.IdentifierNode); ok {
			// change(hours) is a name of its own: what a counter moved on by since the visit before.
			if of, ok := one(n.Arguments).(*ast.IdentifierNode); ok && id.Value == "change" {
				return formula.Node{Op: "name", Name: formula.ChangeOf(of.Value), At: at}
			}
			return node(id.Value, n.Arguments...)
		}
	}
	return r.fail(at, "formula.unreadable")
}

func one(args []ast.Node) ast.Node {
	if len(args) == 1 {
		return args[0]
	}
	return nil
}

// number reads the digits as they are written: a float would have rounded them.
func (r *reader) number(n *ast.FloatNode) (decimal.Decimal, error) {
	runes := []rune(r.text)
	loc := n.Location()
	if loc.From >= 0 && loc.To > loc.From && loc.To <= len(runes) {
		if d, err := decimal.NewFromString(strings.ReplaceAll(string(runes[loc.From:loc.To]), "_", "")); err == nil {
			return d, nil
		}
	}
	return decimal.NewFromFloat(n.Value), nil
}

func (r *reader) fail(at int, code string) formula.Node {
	if r.problem == nil {
		r.problem = &formula.Problem{Code: *msg.New(code), At: at}
	}
	return formula.Node{At: at}
}
