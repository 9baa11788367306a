package sheet

import (
	"encoding/json"
	"strconv"
	"strings"
	"time"

	"github.com/shopspring/decimal"

	"iter.example/iter/core/formula"
	"iter.example/iter/core/msg"
	"iter.example/iter/core/signoff"
	"iter.example/iter/core/unit"
)

// state sums up what was worked out, in the order of the sheet.
func (f *filler) state() State {
	c := f.c
	out := State{Sheet: c.Sheet.Ref(), Title: c.Sheet.Title, Missing: []Missing{}, Blocks: []Missing{}, Alerts: []Alert{}, Newer: c.newer,
		Begun: f.g.Begun}
	score := Score{Counts: c.Sheet.Pass != nil}
	var last time.Time
	next := 0
	for i, sec := range c.Sheet.Sections {
		first := next
		for next < len(c.cells) && c.cells[next].section == i {
			next++
		}
		shown := SectionState{Index: i}
		for n, it := range f.items[i] {
			if !f.shows(i, n) {
				continue
			}
			if sec.Repeat != nil {
				shown.Items = append(shown.Items, it)
			}
			for _, cell := range c.cells[first:next] {
				at := f.line(cell, n, it, &out, &shown, &score)
				if at.After(last) {
					last = at
				}
			}
		}
		if sec.Repeat != nil && f.holds(c.heads[i], i, -1) {
			if n := len(f.items[i]); n < sec.Repeat.Least {
				out.Missing = append(out.Missing, Missing{Code: *msg.New("missing.items", "noun", sec.Repeat.Noun, "count",
					strconv.Itoa(sec.Repeat.Least-n)), Question: sec.ID})
			}
			out.Sections = append(out.Sections, shown)
		} else if sec.Repeat == nil && f.shows(i, 0) {
			out.Sections = append(out.Sections, shown)
		}
	}
	if c.newer {
		out.Missing = append(out.Missing, Missing{Code: *msg.New("missing.newer")})
	}
	if len(out.Missing) == 0 {
		out.Done = last
	}
	if !score.Of.IsZero() {
		score.Percent = score.Points.Mul(decimal.NewFromInt(100)).DivRound(score.Of, 1)
		score.Passed = !score.Counts || score.Percent.GreaterThanOrEqual(*c.Sheet.Pass)
		out.Score = &score
		if !score.Passed && len(out.Missing) == 0 {
			out.Alerts = append(out.Alerts, Alert{Kind: Failed, Text: c.Sheet.Title, Value: score.Percent.String() + " %", At: last})
		}
	}
	f.sign(&out)
	return out
}

// said is an answer as a signature stands for it.
type said struct {
	Question string `json:"question"`
	Item     string `json:"item,omitempty"`
	Value    string `json:"value"`
	Note     string `json:"note,omitempty"`
}

// sign works out what signatures on the sheet stand for, and which stand for something else.
func (f *filler) sign(out *State) {
	all := []said{}
	var drawn []*Line
	for i := range out.Lines {
		l := &out.Lines[i]
		switch {
		case f.c.cells[f.c.at[l.Question]].Kind == Signature:
			drawn = append(drawn, l)
		case l.Value != "":
			all = append(all, said{l.Question, l.Item, l.Value, f.g.Answers[Key(l.Question, l.Item)].Note})
		}
	}
	if len(drawn) == 0 {
		return
	}
	out.Digest, _ = signoff.Digest(all) // of texts alone, which there is always a digest of
	for _, l := range drawn {
		var d Drawn
		l.Changed = json.Unmarshal([]byte(l.Value), &d) == nil && d.Digest != "" && d.Digest != out.Digest
		out.Changed = out.Changed || l.Changed
	}
}

// line adds a question for one item, and gives when it was answered.
func (f *filler) line(c *cell, n int, it Item, out *State, sec *SectionState, score *Score) time.Time {
	v := f.cells[c.index][n]
	if !v.shown {
		return time.Time{}
	}
	key := Key(c.ID, it.ID)
	given := f.g.Answers[key]
	l := Line{Question: c.ID, Item: it.ID, Required: c.Required || (c.require != nil && f.holds(c.require, c.section, n)), Value: v.text,
		Known: v.known, Problem: v.problem}
	if c.Kind == Reading {
		l.Asset = f.asset(it)
	}
	if v.problem == nil {
		l.Problem = f.compared(c, v.judged(), n)
	}
	miss := func(code string, args ...string) {
		out.Missing = append(out.Missing, Missing{Code: *msg.New(code, args...), Question: c.ID, Item: it.ID})
	}
	asked := c.Kind != Computed && c.Kind != Instruction
	answered := v.text != "" && l.Problem == nil
	if c.Kind == Photo {
		answered = f.g.Photos[key] >= max(c.Least, 1)
		l.Required = l.Required || c.Least > 0
	}
	if asked {
		out.Total++
		switch {
		case answered:
			out.Answered++
		case l.Problem != nil:
			miss("missing.wrong")
		case l.Required && c.Kind == Photo:
			miss("missing.photos", "count", strconv.Itoa(max(c.Least, 1)-f.g.Photos[key]))
		case l.Required:
			miss("missing.answer")
		}
	}
	if answered || c.Kind == Computed {
		f.follow(c, v, it, given, &l, out, miss)
	}
	f.price(c, v, &l, out, sec)
	f.score(c, v, answered, score)
	out.Lines = append(out.Lines, l)
	if r, ok := f.g.Readings[ReadingKey(f.asset(it), c.Point)]; ok && c.Kind == Reading {
		return r.At
	}
	return given.At
}

// follow works out what follows from an answer.
func (f *filler) follow(c *cell, v filled, it Item, given Answer, l *Line, out *State, miss func(string, ...string)) {
	photo, note := false, false
	alert := func(kind AlertKind, text string, r *Recommend) {
		l.Alerts = append(l.Alerts, kind)
		if it.Name != "" {
			text = it.Name + ": " + text
		}
		out.Alerts = append(out.Alerts, Alert{Kind: kind, Question: c.ID, Item: it.ID, Text: text, Recommend: r, At: given.At,
			Person: given.Person, Entry: given.Entry})
	}
	for _, t := range c.triggers {
		if !t.Is.holds(v.judged(), t.value) {
			continue
		}
		photo, note = photo || t.Photo, note || t.Note
		if t.Hazard != "" {
			alert(Hazard, t.Hazard, nil)
		}
		if t.Fails {
			alert(Failed, c.Text, nil)
			out.Alerts[len(out.Alerts)-1].Value = f.words(c, v)
		}
		if t.Recommend != nil {
			alert(Recommendation, t.Recommend.Text, t.Recommend)
		}
		if t.Block {
			out.Blocks = append(out.Blocks, Missing{Code: *msg.New("missing.block", "question", c.Text), Question: c.ID, Item: it.ID})
		}
	}
	if photo {
		l.Photo = true
		if f.g.Photos[Key(c.ID, it.ID)] == 0 {
			miss("missing.photo")
		}
	}
	if note {
		l.Note = true
		if strings.TrimSpace(given.Note) == "" {
			miss("missing.note")
		}
	}
}

// words is what was answered, in a few words.
func (f *filler) words(c *cell, v filled) string {
	if c.Kind == YesNo {
		return v.text
	}
	return strings.TrimSpace(c.Words(v.text) + " " + c.Unit)
}

// broken says how an answer does not lie to another.
var broken = map[Is]string{Above: "answer.compare_above", AtLeast: "answer.compare_at_least", Below: "answer.compare_below",
	AtMost: "answer.compare_at_most"}

// compared tells which bound by another answer is broken.
func (f *filler) compared(c *cell, v formula.Value, item int) *msg.Code {
	if v.None() {
		return nil
	}
	for _, cmp := range c.Compare {
		o := f.named(cmp.Question, c.section, item, filled.judged)
		if !o.None() && !o.Many && !cmp.Is.holds(v, o) {
			other := f.c.cells[f.c.at[cmp.Question]]
			return msg.New(broken[cmp.Is], "question", other.Text)
		}
	}
	return nil
}

// price adds a priced line to the subtotal and total.
func (f *filler) price(c *cell, v filled, l *Line, out *State, sec *SectionState) {
	if c.typ.Dim != (unit.Dim{Money: 1}) || v.value.None() || v.value.Many {
		return
	}
	amount := v.value.Num.Round(2)
	l.Amount = &amount
	if c.Kind != Part { // what is computed from lines is not added to them again
		return
	}
	add := func(to **Money) {
		sum := amount
		if *to != nil {
			sum = (*to).Add(amount)
		}
		*to = &sum
	}
	add(&sec.Amount)
	add(&out.Amount)
}

func (f *filler) score(c *cell, v filled, answered bool, s *Score) {
	if len(c.Score) == 0 {
		return
	}
	best, all := decimal.Decimal{}, decimal.Decimal{}
	for _, p := range c.Score {
		best = decimal.Max(best, p)
		all = all.Add(decimal.Max(p, decimal.Decimal{}))
	}
	if c.Kind == Several {
		s.Of = s.Of.Add(all)
		for _, id := range strings.Split(v.text, ",") {
			s.Points = s.Points.Add(c.Score[id])
		}
		return
	}
	got, counts := c.Score[v.text]
	if answered && !counts {
		return // not applicable
	}
	s.Of, s.Points = s.Of.Add(best), s.Points.Add(got)
}
