package sheet

import (
	"encoding/json"
	"slices"
	"strings"
	"time"

	"github.com/shopspring/decimal"

	"iter.example/iter/core/exact"
	"iter.example/iter/core/formula"
	"iter.example/iter/core/msg"
	"iter.example/iter/core/reading"
)

// Given is what there is to fill a sheet in with.
type Given struct {
	Answers  map[string]Answer         `json:"answers"` // by Key
	Items    []Item                    `json:"items"`
	Photos   map[string]int            `json:"photos"`   // how many, by Key
	Readings map[string]reading.Result `json:"readings"` // the last of each, by ReadingKey
	Asset    string                    `json:"asset"`    // of the visit
	Begun    time.Time                 `json:"begun,omitzero"`
	// Known is what is known by path (see Known), and "last:" with a question's Key. It fills in what is not answered until the
	// sheet is begun; from then on what was known is among the answers.
	Known map[string]string `json:"known"`
}

// ReadingKey is the key of a reading.
func ReadingKey(asset, point string) string { return asset + " " + point }

// State is what a sheet comes to as it is filled in.
type State struct {
	Sheet    string         `json:"sheet"`
	Title    string         `json:"title"`
	Answered int            `json:"answered"`
	Total    int            `json:"total"`
	Missing  []Missing      `json:"missing"` // in order
	Blocks   []Missing      `json:"blocks"`  // answers with which the visit can't be complete
	Alerts   []Alert        `json:"alerts"`
	Newer    bool           `json:"newer,omitempty"` // it asks for what this program does not know
	Score    *Score         `json:"score,omitempty"`
	Amount   *Money         `json:"amount,omitempty"` // of all priced lines
	Begun    time.Time      `json:"begun,omitzero"`
	Done     time.Time      `json:"done,omitzero"`      // when the last answer came, while nothing is missing
	Sections []SectionState `json:"sections,omitempty"` // those that show
	Lines    []Line         `json:"lines,omitempty"`    // those that show
	// Digest is of what a signature on the sheet stands for: the answers that show, without signatures. There is one only on sheets with a
	// question for a signature. Changed tells that one was given for other answers.
	Digest  string `json:"digest,omitempty"`
	Changed bool   `json:"changed,omitempty"`
}

// Money is an amount; its currency is the company's.
type Money = decimal.Decimal

// Missing is a question that still lacks something.
type Missing struct {
	msg.Code
	Question string `json:"question"`
	Item     string `json:"item,omitempty"`
}

// AlertKind is what an answer is to the office.
type AlertKind string

const (
	Hazard         AlertKind = "hazard"
	Failed         AlertKind = "failed"
	Recommendation AlertKind = "recommendation"
)

// Values lists the kinds of alerts, for generated types.
func (AlertKind) Values() []string {
	return []string{string(Hazard), string(Failed), string(Recommendation)}
}

// Alert is an answer that somebody should look at.
type Alert struct {
	Kind      AlertKind  `json:"kind"`
	Question  string     `json:"question"`
	Item      string     `json:"item,omitempty"`
	Text      string     `json:"text"`
	Value     string     `json:"value,omitempty"` // of a failed check: the answer, in the sheet's words; yes and no as they are
	Recommend *Recommend `json:"recommend,omitempty"`
	At        time.Time  `json:"at"`
	Person    string     `json:"person"`
	Entry     string     `json:"entry"`
}

// Score is what the points of the answers come to.
type Score struct {
	Points  decimal.Decimal `json:"points"`
	Of      decimal.Decimal `json:"of"` // of the questions that count
	Percent decimal.Decimal `json:"percent"`
	Passed  bool            `json:"passed"`
	Counts  bool            `json:"counts"` // the sheet says what it takes to pass
}

// SectionState is a section that shows, with the items it repeats for.
type SectionState struct {
	Index  int    `json:"index"`
	Items  []Item `json:"items,omitempty"`
	Amount *Money `json:"amount,omitempty"` // of its priced lines
}

// Line is a question that shows, once for each item when its section repeats.
type Line struct {
	Question string      `json:"question"`
	Item     string      `json:"item,omitempty"`
	Asset    string      `json:"asset,omitempty"` // of a reading
	Required bool        `json:"required,omitempty"`
	Value    string      `json:"value,omitempty"`  // canonical, also of what is computed
	Known    bool        `json:"known,omitempty"`  // filled in from what is known
	Amount   *Money      `json:"amount,omitempty"` // of a priced line
	Problem  *msg.Code   `json:"problem,omitempty"`
	Photo    bool        `json:"photo,omitempty"` // a photo is asked for
	Note     bool        `json:"note,omitempty"`  // a note is asked for
	Alerts   []AlertKind `json:"alerts,omitempty"`
	Changed  bool        `json:"changed,omitempty"` // of a signature: the answers are others than those it stands for
}

// Fill works out a sheet: what applies, what is computed, what is missing, and what follows from the answers. The answer to a question
// that is hidden does not count, and is not touched.
func (c *Compiled) Fill(g Given) State { return c.Refill(nil, g).State }

// Filling is a sheet as it was worked out, to work it out anew from after an answer.
type Filling struct {
	State State
	cells [][]filled
	items [][]Item
}

// Refill is Fill for what was filled in before: what rests on nothing that changed is taken over.
func (c *Compiled) Refill(last *Filling, g Given) *Filling {
	f := &filler{c: c, g: g, last: last, cells: make([][]filled, len(c.cells)), changed: make([]bool, len(c.cells)),
		heads: make([][]bool, len(c.heads)), headsDone: make([]bool, len(c.heads))}
	f.items = make([][]Item, len(c.Sheet.Sections))
	for i, s := range c.Sheet.Sections {
		f.items[i] = []Item{{}}
		if s.Repeat != nil {
			f.items[i] = f.items[i][:0]
			for _, it := range g.Items {
				if it.Section == s.ID && !it.Struck {
					f.items[i] = append(f.items[i], it)
				}
			}
		}
	}
	for _, cell := range c.order {
		f.cell(cell)
	}
	return &Filling{f.state(), f.cells, f.items}
}

// filled is a question for one item.
type filled struct {
	shown   bool
	given   string // the answer as it came
	asKnown bool   // it came from what was known
	text    string // canonical
	value   formula.Value
	rounded formula.Value // of a computed number: as text has it
	known   bool
	problem *msg.Code
}

// exact is the answer as formulas compute with it.
func (v filled) exact() formula.Value { return v.value }

// judged is the answer as rules judge it: as people see it.
func (v filled) judged() formula.Value {
	if v.rounded.None() {
		return v.value
	}
	return v.rounded
}

type filler struct {
	c         *Compiled
	g         Given
	last      *Filling
	items     [][]Item
	cells     [][]filled // by question, then item
	changed   []bool     // by question: whether it is another than in last
	heads     [][]bool   // whether sections show, by item
	headsDone []bool
}

func (f *filler) cell(c *cell) {
	out := make([]filled, len(f.items[c.section]))
	before, steady := f.before(c)
	f.changed[c.index] = before == nil
	for i := range out {
		if out[i].shown = f.shows(c.section, i) && f.holds(c.show, c.section, i); out[i].shown {
			given := f.g.Answers[Key(c.ID, f.items[c.section][i].ID)]
			out[i].given, out[i].asKnown = given.Value, given.Known
			if before != nil && steady && before[i].shown && before[i].given == out[i].given && before[i].asKnown == out[i].asKnown {
				out[i] = before[i]
				continue
			}
			f.answer(c, i, &out[i])
		}
		if before != nil && (before[i].shown || out[i].shown) {
			f.changed[c.index] = true
		}
	}
	f.cells[c.index] = out
}

// before gives a question as it was, when it is of the same items, and tells whether nothing it rests on has changed since.
func (f *filler) before(c *cell) (was []filled, steady bool) {
	if f.last == nil || !slices.EqualFunc(f.last.items[c.section], f.items[c.section], func(a, b Item) bool { return a.ID == b.ID }) {
		return nil, false
	}
	// What is not among the answers is looked at anew, and so is what may be filled in from what is known.
	if c.Kind == Photo || c.Kind == Reading || c.Prefill != "" {
		return f.last.cells[c.index], false
	}
	for _, d := range c.dependsOn {
		if f.changed[d] {
			return f.last.cells[c.index], false
		}
	}
	return f.last.cells[c.index], true
}

func (f *filler) shows(section, item int) bool {
	if !f.headsDone[section] {
		f.headsDone[section] = true
		f.heads[section] = make([]bool, len(f.items[section]))
		for i := range f.items[section] {
			f.heads[section][i] = f.holds(f.c.heads[section], section, i)
		}
	}
	return f.heads[section][item]
}

func (f *filler) answer(c *cell, item int, out *filled) {
	it := f.items[c.section][item]
	key := Key(c.ID, it.ID)
	switch c.Kind {
	case Computed:
		f.compute(c, item, out)
	case Photo:
		if n := f.g.Photos[key]; n > 0 {
			count := decimal.NewFromInt(int64(n))
			out.text, out.value = count.String(), formula.Of(exact.Of(count))
		}
	case Reading:
		if r, ok := f.g.Readings[ReadingKey(f.asset(it), c.Point)]; ok {
			if v, fits := r.In(c.Unit); fits {
				out.text, out.value = v.String(), formula.Of(c.unit.Base(v))
			}
		}
	case Instruction:
	default:
		out.text = out.given
		out.known = f.g.Answers[key].Known
		if _, answered := f.g.Answers[key]; !answered && f.g.Begun.IsZero() && c.Prefill != "" {
			path := c.Prefill
			if path == "last" {
				path = "last:" + key
			}
			if v, err := c.Read(f.g.Known[path]); err == nil && v != "" {
				out.text, out.known = v, true
			}
		}
		if out.text == "" {
			return
		}
		if c.Kind == Number && c.quick(out) {
			return
		}
		text, err := c.Read(out.text)
		if err != nil {
			out.problem = msg.From(err)
			return
		}
		out.text, out.value = text, c.value(text)
		if c.Quantity != "" {
			f.priced(c, item, out)
		}
	}
}

// quick takes a number that is canonical already, as nearly all are, without reading it as something typed.
func (c *cell) quick(out *filled) bool {
	if strings.ContainsAny(out.text, "eE") {
		return false // never canonical
	}
	d, err := decimal.NewFromString(out.text)
	if err != nil || c.unit.Factor == nil || (c.Min != nil && d.LessThan(*c.Min)) || (c.Max != nil && d.GreaterThan(*c.Max)) {
		return false
	}
	out.value = formula.Of(c.unit.Base(d))
	return true
}

// priced takes the quantity of a part from the question that has it.
func (f *filler) priced(c *cell, item int, out *filled) {
	var p Pick
	o := f.c.cells[f.c.at[c.Quantity]]
	if v := f.named(c.Quantity, c.section, item, filled.judged); json.Unmarshal([]byte(out.text), &p) == nil && !v.None() {
		p.Quantity = o.unit.Of(v.Num).Round(6)
		if text, err := canonical(p); err == nil {
			out.text, out.value = text, formula.Of(exact.Of(p.Amount()))
			return
		}
	}
	out.value = formula.Value{}
}

func (f *filler) asset(it Item) string {
	if it.Asset != "" {
		return it.Asset
	}
	return f.g.Asset
}

func (f *filler) compute(c *cell, item int, out *filled) {
	if c.Program == nil {
		return
	}
	v, p := formula.Eval(*c.Program, func(name string) formula.Value { return f.named(name, c.section, item, filled.exact) })
	if p != nil {
		out.problem = &p.Code
		return
	}
	out.value = v
	switch v.Kind {
	case formula.Number:
		places := int32(c.Places)
		if c.typ.Dim.Money != 0 && places == 0 {
			places = 2
		}
		shown := c.unit.Of(v.Num).Round(places)
		out.text, out.rounded = shown.String(), formula.Of(c.unit.Base(shown))
	case formula.Bool:
		out.text = map[bool]string{true: "yes", false: "no"}[v.Bool]
	default:
		out.text = v.Text
	}
}

// named is the value of a question as a formula or rule in a section's item sees it: of the same item, or the only one, or all as a list.
func (f *filler) named(name string, section, item int, value func(filled) formula.Value) formula.Value {
	i, ok := f.c.at[name]
	if !ok {
		return formula.Value{}
	}
	o := f.c.cells[i]
	values := f.cells[i]
	switch {
	case values == nil:
		return formula.Value{}
	case o.section == section:
		return value(values[item])
	case f.c.Sheet.Sections[o.section].Repeat == nil:
		return value(values[0])
	}
	out := formula.Value{Kind: o.typ.Kind, Many: true}
	for _, v := range values {
		if x := value(v); !x.None() {
			out.List = append(out.List, x)
		}
	}
	return out
}

func (f *filler) holds(c *condition, section, item int) bool {
	if c == nil {
		return true
	}
	for _, t := range c.tests {
		if f.passes(t, section, item) == c.any {
			return c.any
		}
	}
	return !c.any
}

func (f *filler) passes(t test, section, item int) bool {
	o := f.c.cells[t.cell]
	values := f.cells[t.cell]
	if values == nil {
		return t.is.holds(formula.Value{}, t.value)
	}
	if o.section == section || f.c.Sheet.Sections[o.section].Repeat == nil {
		if o.section != section {
			item = 0
		}
		return t.is.holds(values[item].judged(), t.value)
	}
	for _, v := range values {
		if t.is.holds(v.judged(), t.value) {
			return true
		}
	}
	return t.is == Empty && len(values) == 0
}
