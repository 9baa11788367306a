package sheet

import (
	"encoding/json"
	"hash/fnv"
	"sync"

	"iter.example/iter/core/formula"
	"iter.example/iter/core/unit"
)

// Compiled is a sheet made ready to be filled in: questions in an order in which each comes after those it depends on, conditions with
// their values read.
type Compiled struct {
	Sheet Sheet
	cells []*cell        // one for each question, in the order of the sheet
	order []*cell        // the same, each after what it depends on
	at    map[string]int // question -> index in cells
	heads []*condition   // of sections
	newer bool
}

// cell is a question with its rules.
type cell struct {
	Question
	section   int
	index     int
	typ       formula.Type
	unit      unit.Unit
	show      *condition
	require   *condition
	triggers  []trigger
	dependsOn []int
}

type condition struct {
	any   bool
	tests []test
}

type test struct {
	cell  int
	is    Is
	value formula.Value
}

type trigger struct {
	Trigger
	value formula.Value
}

// unitOf is the unit that a number of the question is shown in.
func unitOf(q Question, t formula.Type) (unit.Unit, error) {
	switch {
	case q.Kind == Area:
		return unit.Parse("m²")
	case t.Dim == unit.Dim{Money: 1} && q.Unit == "":
		return unit.Parse("EUR") // whatever the company has: one money is like another here
	}
	return unit.Parse(q.Unit)
}

// Compile makes a sheet ready. The problems are what keeps it from being published; a sheet that has some is still compiled, as far as
// it makes sense, since answers to it may have to be shown.
func Compile(s Sheet) (*Compiled, []Problem) {
	c := &Compiled{Sheet: s, at: map[string]int{}, newer: s.Format > Format}
	k := &checker{c: c}
	k.sheet()
	k.rules()
	k.sort()
	k.formulas()
	k.conditions()
	return c, k.problems
}

// loaded keeps the sheets compiled last: versions never change, and a screen asks for the same one after each tap.
var loaded = struct {
	sync.Mutex
	by map[uint64]*Compiled
}{by: map[uint64]*Compiled{}}

const maxLoaded = 64

// Load compiles a sheet from its document.
func Load(raw []byte) (*Compiled, error) {
	h := fnv.New64a()
	h.Write(raw)
	key := h.Sum64()
	loaded.Lock()
	defer loaded.Unlock()
	if c := loaded.by[key]; c != nil {
		return c, nil
	}
	var s Sheet
	if err := json.Unmarshal(raw, &s); err != nil {
		return nil, err
	}
	c, _ := Compile(s)
	if len(loaded.by) >= maxLoaded {
		clear(loaded.by)
	}
	loaded.by[key] = c
	return c, nil
}
