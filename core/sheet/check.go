package sheet

import (
	"slices"
	"strconv"
	"strings"

	"iter.example/iter/core/formula"
	"iter.example/iter/core/msg"
	"iter.example/iter/core/records"
)

// Problem is something wrong with a sheet, and where.
type Problem struct {
	msg.Code
	Section  int    `json:"section"`            // index
	Question string `json:"question,omitempty"` // id
	Field    string `json:"field,omitempty"`    // which of the question's: formula, showIf …
	At       int    `json:"at,omitempty"`       // character in a formula
}

// The largest sheet.
const (
	maxSections  = 200
	maxQuestions = 1000
	maxOptions   = 200
	maxRules     = 50
)

// maxName is the longest id of a question.
const maxName = 40

// isName tells whether a formula can call a question so.
func isName(id string) bool {
	return id != "" && len(id) <= maxName && 'a' <= id[0] && id[0] <= 'z' && strings.Trim(id, "abcdefghijklmnopqrstuvwxyz0123456789_") == ""
}

// words that formulas read as something else.
var reserved = []string{"and", "or", "not", "in", "true", "false", "nil", "let", "matches", "contains", "if", "else"}

// Check says what is wrong with a sheet before it may be used: the first problem there is.
func (s Sheet) Check() error {
	if s.Format > Format {
		return msg.New("sheet.newer")
	}
	if _, problems := Compile(s); len(problems) > 0 {
		p := problems[0]
		args := map[string]string{"question": p.Question}
		for k, v := range p.Args {
			args[k] = v
		}
		return &msg.Code{Code: p.Code.Code, Args: args}
	}
	return nil
}

type checker struct {
	c        *Compiled
	problems []Problem
}

func (k *checker) fail(c *cell, field, code string, args ...string) {
	p := Problem{Code: *msg.New(code, args...), Field: field}
	if c != nil {
		p.Section, p.Question = c.section, c.ID
	}
	k.problems = append(k.problems, p)
}

// sheet looks at each question by itself.
func (k *checker) sheet() {
	s := k.c.Sheet
	if records.CheckID(s.ID) != nil || strings.Contains(s.ID, "@") || s.Version < 1 ||
		records.CheckText("title", s.Title, true, 200) != nil || len(s.Sections) == 0 || len(s.Sections) > maxSections {
		k.fail(nil, "title", "sheet.incomplete")
	}
	sections := map[string]bool{}
	for i, sec := range s.Sections {
		head := &cell{section: i}
		if records.CheckText("title", sec.Title, true, 200) != nil || (sec.ID != "" && sections[sec.ID]) {
			k.fail(head, "title", "sheet.section")
		}
		sections[sec.ID] = true
		if sec.Repeat != nil && (!isName(sec.ID) || strings.TrimSpace(sec.Repeat.Noun) == "" || sec.Repeat.Least < 0 ||
			sec.Repeat.Least > 100) {
			k.fail(head, "repeat", "sheet.repeat")
		}
		for _, q := range sec.Questions {
			c := &cell{Question: q, section: i, index: len(k.c.cells)}
			k.question(c)
			if _, twice := k.c.at[q.ID]; !twice {
				k.c.at[q.ID] = c.index
			}
			k.c.cells = append(k.c.cells, c)
			if len(k.c.cells) > maxQuestions {
				k.fail(c, "", "sheet.large")
				return
			}
		}
	}
}

func (k *checker) question(c *cell) {
	q := c.Question
	_, twice := k.c.at[q.ID]
	switch {
	case !isName(q.ID) || slices.Contains(reserved, q.ID):
		k.fail(c, "id", "sheet.question_id", "id", records.Clip(q.ID))
	case twice:
		k.fail(c, "id", "sheet.question_twice", "id", q.ID)
	}
	if records.CheckText("text", q.Text, true, 1000) != nil || records.CheckText("help", q.Help, false, MaxText) != nil {
		k.fail(c, "text", "sheet.question_text")
	}
	if !slices.Contains(q.Kind.Values(), string(q.Kind)) {
		k.c.newer = true
		k.fail(c, "kind", "sheet.question_kind", "kind", records.Clip(string(q.Kind)))
		return
	}
	var err error
	if c.typ, err = q.typed(); err != nil && q.Kind != Instruction {
		k.fail(c, "unit", "unit.unknown", "unit", records.Clip(q.Unit))
	}
	c.unit, _ = unitOf(q, c.typ)
	if q.Kind == Choice || q.Kind == Several {
		k.options(c)
	}
	for v := range q.Score {
		if _, ok := q.operand(c.typ, k.scored(q), v); !ok {
			k.fail(c, "score", "sheet.score")
		}
	}
	switch {
	case q.Min != nil && q.Max != nil && q.Min.GreaterThan(*q.Max):
		k.fail(c, "min", "sheet.limits")
	case q.Kind == Reading && records.CheckID(q.Point) != nil:
		k.fail(c, "point", "sheet.point")
	case q.Least < 0 || q.Least > 100 || q.Places < 0 || q.Places > 6:
		k.fail(c, "least", "sheet.count")
	}
	writable, known := Known[q.Prefill]
	if q.Prefill != "" && !known || q.Update && !writable || q.Prefill != "" && q.Prefill != "last" &&
		!slices.Contains([]Kind{Text, Scan, Date}, q.Kind) {
		k.fail(c, "prefill", "sheet.prefill")
	}
	if q.Document != nil && (q.Document.Hash == "" || records.CheckText("name", q.Document.Name, true, 200) != nil) {
		k.fail(c, "document", "sheet.document")
	}
	if len(q.On) > maxRules || len(q.Compare) > maxRules {
		k.fail(c, "on", "sheet.large")
	}
}

// scored is how an answer's points are looked up.
func (k *checker) scored(q Question) Is {
	if q.Kind == Several {
		return Has
	}
	return Equals
}

func (k *checker) options(c *cell) {
	if len(c.Options) < 2 || len(c.Options) > maxOptions {
		k.fail(c, "options", "sheet.options")
	}
	seen := map[string]bool{}
	for _, o := range c.Options {
		if o.ID == "" || strings.ContainsAny(o.ID, ", ") || len(o.ID) > 40 || seen[o.ID] ||
			records.CheckText("option", o.Text, true, 200) != nil {
			k.fail(c, "options", "sheet.options")
			return
		}
		seen[o.ID] = true
	}
}

// rules finds out what each question depends on.
func (k *checker) rules() {
	for _, c := range k.c.cells {
		sec := k.c.Sheet.Sections[c.section]
		names := append(questions(sec.ShowIf), questions(c.ShowIf)...)
		if c.Quantity != "" {
			names = append(names, c.Quantity)
		}
		if c.Program != nil && c.Kind == Computed {
			names = append(names, c.Program.Names()...)
		}
		for _, n := range names {
			if i, ok := k.c.at[n]; ok && !slices.Contains(c.dependsOn, i) {
				c.dependsOn = append(c.dependsOn, i)
			}
		}
	}
}

func questions(c *Condition) []string {
	var out []string
	if c != nil {
		for _, t := range c.Tests {
			out = append(out, t.Question)
		}
	}
	return out
}

// sort puts the questions in an order of dependency, depth first. Questions in a circle are a problem of each of them.
func (k *checker) sort() {
	const (
		fresh = iota
		open
		done
	)
	state := make([]int, len(k.c.cells))
	circle := map[int]bool{}
	var path []int
	var visit func(i int)
	visit = func(i int) {
		state[i] = open
		path = append(path, i)
		for _, d := range k.c.cells[i].dependsOn {
			switch state[d] {
			case fresh:
				visit(d)
			case open:
				for _, p := range path[slices.Index(path, d):] {
					circle[p] = true
				}
			}
		}
		path = path[:len(path)-1]
		state[i] = done
		k.c.order = append(k.c.order, k.c.cells[i])
	}
	for i := range k.c.cells {
		if state[i] == fresh {
			visit(i)
		}
	}
	for i, c := range k.c.cells {
		if circle[i] {
			var names []string
			for _, d := range c.dependsOn {
				if circle[d] {
					names = append(names, k.c.cells[d].ID)
				}
			}
			k.fail(c, "formula", "sheet.circle", "questions", strings.Join(names, ", "))
			c.dependsOn, c.Program = nil, nil
		}
	}
}

// formulas checks types and units, each after what it refers to.
func (k *checker) formulas() {
	for _, c := range k.c.order {
		if c.Kind != Computed {
			continue
		}
		if c.Program == nil {
			if !slices.ContainsFunc(k.problems, func(p Problem) bool { return p.Question == c.ID && p.Field == "formula" }) {
				k.fail(c, "formula", "formula.empty")
			}
			continue
		}
		t, p := formula.Check(*c.Program, func(name string) (formula.Type, bool) {
			i, ok := k.c.at[name]
			if !ok {
				return formula.Type{}, false
			}
			o := k.c.cells[i]
			typ := o.typ
			typ.List = o.section != c.section && k.c.Sheet.Sections[o.section].Repeat != nil
			return typ, typ.Kind != 0
		})
		if p == nil && t.List {
			p = &formula.Problem{Code: *msg.New("formula.list", "name", "=")}
		}
		if p != nil {
			k.problems = append(k.problems, Problem{Code: p.Code, Section: c.section, Question: c.ID, Field: "formula", At: p.At})
			c.Program = nil
			continue
		}
		c.typ = t
		u, err := unitOf(c.Question, t)
		if t.Kind == formula.Number && (err != nil || u.Dim != t.Dim) {
			k.fail(c, "unit", "formula.result", "unit", c.Unit)
		}
		c.unit = u
	}
}

// conditions reads what answers are compared with, once all types are known.
func (k *checker) conditions() {
	for _, sec := range k.c.Sheet.Sections {
		head := &cell{section: len(k.c.heads)}
		k.c.heads = append(k.c.heads, k.condition(head, "showIf", sec.ShowIf))
	}
	for _, c := range k.c.cells {
		c.show, c.require = k.condition(c, "showIf", c.ShowIf), k.condition(c, "requireIf", c.RequireIf)
		for _, on := range c.On {
			v, ok := c.operand(c.typ, on.Is, on.Value)
			if !ok || c.typ.Kind == 0 || records.CheckText("hazard", on.Hazard, false, 500) != nil ||
				(on.Recommend != nil && records.CheckText("recommendation", on.Recommend.Text, true, 500) != nil) {
				k.fail(c, "on", "sheet.rule", "value", records.Clip(on.Value))
				continue
			}
			c.triggers = append(c.triggers, trigger{on, v})
		}
		if o := k.find(c.Quantity); c.Quantity != "" && (c.Kind != Part || o == nil || o.typ.Kind != formula.Number ||
			(o.section != c.section && k.c.Sheet.Sections[o.section].Repeat != nil)) {
			k.fail(c, "quantity", "sheet.quantity")
			c.Quantity = ""
		}
		for _, cmp := range c.Compare {
			o := k.find(cmp.Question)
			if o == nil || o == c || o.typ.Kind != c.typ.Kind || o.typ.Dim != c.typ.Dim ||
				!slices.Contains([]Is{Above, AtLeast, Below, AtMost}, cmp.Is) {
				k.fail(c, "compare", "sheet.compare", "other", records.Clip(cmp.Question))
			}
		}
	}
}

func (k *checker) find(id string) *cell {
	if i, ok := k.c.at[id]; ok {
		return k.c.cells[i]
	}
	return nil
}

func (k *checker) condition(of *cell, field string, in *Condition) *condition {
	if in == nil || len(in.Tests) == 0 {
		return nil
	}
	if len(in.Tests) > maxRules {
		k.fail(of, field, "sheet.large")
		return nil
	}
	out := &condition{any: in.Any}
	for n, t := range in.Tests {
		o := k.find(t.Question)
		if o == nil || o.ID == of.ID || o.typ.Kind == 0 || (of.ID == "" && o.section == of.section) {
			k.fail(of, field, "sheet.rule_question", "rule", strconv.Itoa(n+1))
			continue
		}
		v, ok := o.operand(o.typ, t.Is, t.Value)
		if !ok || !slices.Contains(t.Is.Values(), string(t.Is)) {
			k.fail(of, field, "sheet.rule", "value", records.Clip(t.Value))
			continue
		}
		out.tests = append(out.tests, test{o.index, t.Is, v})
	}
	return out
}
