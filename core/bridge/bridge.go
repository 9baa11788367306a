// Package bridge is the core as a browser calls it: a function's name and JSON in, JSON out. The WebAssembly program does
// nothing but hand strings to Call, so whatever runs here runs there.
package bridge

import (
	"encoding/json"
	"maps"
	"reflect"
	"slices"

	"iter.example/iter/core/msg"
)

// Failure is what Call gives when a function failed.
type Failure struct {
	Error *msg.Code `json:"error"`
}

// Nothing is what a function gives that only says what is wrong.
type Nothing *struct{}

// functions are the functions of the core, by name.
type functions map[string]function

type function struct {
	in, out reflect.Type
	call    func([]byte) (any, error)
}

var all = functions{}

func init() {
	for _, f := range []functions{entryFunctions, visitFunctions, dayFunctions, routeFunctions, sheetFunctions, partsFunctions} {
		maps.Copy(all, f)
	}
}

// Row is a function of the core, for whoever generates from it: what it takes and gives.
type Row struct {
	Name    string
	In, Out reflect.Type
}

// Functions lists the functions of the core, by name.
func Functions() []Row {
	var out []Row
	for _, name := range slices.Sorted(maps.Keys(all)) {
		out = append(out, Row{name, all[name].in, all[name].out})
	}
	return out
}

// Call runs a function of the core. It never panics: what goes wrong comes back as {"error": {"code": …}}.
func Call(name string, in []byte) (out []byte) {
	defer func() {
		if recover() != nil {
			out = failure(msg.New("core.broken", "call", name))
		}
	}()
	f, ok := all[name]
	if !ok {
		return failure(msg.New("core.unknown", "call", name))
	}
	v, err := f.call(in)
	if err != nil {
		return failure(msg.From(err))
	}
	raw, err := json.Marshal(v)
	if err != nil {
		return failure(msg.New("core.unwritable", "call", name))
	}
	return raw
}

func failure(c *msg.Code) []byte {
	raw, _ := json.Marshal(Failure{c})
	return raw
}

func with[In, Out any](f func(In) (Out, error)) function {
	return function{reflect.TypeFor[In](), reflect.TypeFor[Out](), func(raw []byte) (any, error) {
		var in In
		if err := json.Unmarshal(raw, &in); err != nil {
			return nil, msg.New("core.unreadable")
		}
		return f(in)
	}}
}
