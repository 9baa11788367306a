package reading

import (
	"cmp"
	"slices"
	"sort"
	"time"

	"github.com/shopspring/decimal"

	"iter.example/iter/core/msg"
	"iter.example/iter/core/ordered"
	"iter.example/iter/core/unit"
)

// Doubt is why a value can hardly be right. It is asked about once, then kept and flagged.
type Doubt string

const (
	Sure    Doubt = ""
	Outside Doubt = "outside" // past what can be measured at the point
	Jump    Doubt = "jump"    // eight times off all that was measured before: most often a slipped decimal point
	Fell    Doubt = "fell"    // a counter below what it last showed
	Unlike  Doubt = "unlike"  // in a unit that measures something else
)

// Values lists the doubts, for generated types.
func (Doubt) Values() []string {
	return []string{string(Sure), string(Outside), string(Jump), string(Fell), string(Unlike)}
}

// Result is a reading as an asset's history keeps it.
type Result struct {
	Entry    string          `json:"entry"`
	At       time.Time       `json:"at"`
	Visit    string          `json:"visit"`
	Value    decimal.Decimal `json:"value"`
	Unit     string          `json:"unit"`
	Level    Level           `json:"level,omitempty"`
	Doubt    Doubt           `json:"doubt,omitempty"`
	Replaced *Replaced       `json:"replaced,omitempty"`
	Struck   bool            `json:"struck,omitempty"`
}

// History is what was measured on an asset lately, by point, in order of time. It is a document of its own, so that devices have it.
type History struct {
	Points map[string][]Result `json:"points"`
	// Told are the last answers to questions of check sheets that are to be filled in the same the next time, in order of time.
	Told []Told `json:"told,omitempty"`
}

// Told is an answer to a question of a check sheet.
type Told struct {
	Sheet string    `json:"sheet"` // its id, whatever the version
	Key   string    `json:"key"`
	Value string    `json:"value"`
	At    time.Time `json:"at"`
	// Entry is what recorded it; "" where it was not kept yet.
	Entry  string `json:"entry,omitempty"`
	Struck bool   `json:"struck,omitempty"`
}

// How many answers are remembered, the latest of them: of all questions, and of one, should the last be struck out.
const (
	maxTold  = 400
	toldEach = 3
)

// Answer remembers an answer.
func (h *History) Answer(t Told) {
	list := append(slices.Clone(h.Told), t)
	ordered.Stable(list, func(a, b Told) int { return cmp.Or(a.At.Compare(b.At), cmp.Compare(a.Entry, b.Entry)) })
	same := func(o Told) bool { return o.Sheet == t.Sheet && o.Key == t.Key }
	for i, n := len(list)-1, 0; i >= 0; i-- {
		if same(list[i]) {
			if n++; n > toldEach {
				list = slices.Delete(list, i, i+1)
			}
		}
	}
	h.Told = list[max(0, len(list)-maxTold):]
}

// StrikeTold strikes the answer of an entry out, or restores it, and tells whether it is remembered.
func (h *History) StrikeTold(entry string, struck bool) bool {
	i := slices.IndexFunc(h.Told, func(t Told) bool { return t.Entry == entry })
	if i < 0 {
		return false
	}
	h.Told = slices.Clone(h.Told)
	h.Told[i].Struck = struck
	return true
}

// kept is how many results of a point a history keeps: some years of quarterly visits.
const kept = 24

// Add puts a result where it belongs by time, and lets go of the oldest beyond what is kept.
func (h *History) Add(point string, r Result) {
	if h.Points == nil {
		h.Points = map[string][]Result{}
	}
	list := h.Points[point]
	i, _ := slices.BinarySearchFunc(list, r, func(a, b Result) int {
		if c := a.At.Compare(b.At); c != 0 {
			return c
		}
		if a.Entry < b.Entry {
			return -1
		}
		return 1
	})
	list = slices.Insert(slices.Clone(list), i, r)
	h.Points[point] = list[max(0, len(list)-kept):]
}

// With adds what another history has.
func (h *History) With(o History) {
	for point, list := range o.Points {
		for _, r := range list {
			h.Add(point, r)
		}
	}
	for _, t := range o.Told {
		h.Answer(t)
	}
}

// Without takes out what another history has too.
func (h *History) Without(o History) {
	points := map[string][]Result{}
	for point, list := range h.Points {
		points[point] = slices.DeleteFunc(slices.Clone(list), func(r Result) bool {
			return slices.ContainsFunc(o.Points[point], func(x Result) bool { return x.Entry == r.Entry })
		})
	}
	h.Points = points
	h.Told = slices.DeleteFunc(slices.Clone(h.Told), func(t Told) bool { return slices.Contains(o.Told, t) })
}

// Doubt says anew which results of a point after a moment can hardly be right, since something was heard of that was measured then.
func (h *History) Doubt(p Point, after time.Time) {
	list := h.Points[p.ID]
	first := sort.Search(len(list), func(i int) bool { return list[i].At.After(after) })
	if first == len(list) {
		return
	}
	anew := slices.Clone(list)
	for i := first; i < len(list); i++ {
		anew[i].Doubt = p.Weigh(h.Before(p.ID, list[i].At), list[i]).Doubt
	}
	h.Points[p.ID] = anew
}

// DoubtOf gives the doubt about the result of an entry at a point, and whether it is remembered.
func (h History) DoubtOf(point, entry string) (Doubt, bool) {
	i := slices.IndexFunc(h.Points[point], func(r Result) bool { return r.Entry == entry })
	if i < 0 {
		return Sure, false
	}
	return h.Points[point][i].Doubt, true
}

// Strike marks the result of an entry, and tells whether there was one.
func (h *History) Strike(entry string, struck bool) bool {
	for _, list := range h.Points {
		for i := range list {
			if list[i].Entry == entry {
				list[i].Struck = struck
				return true
			}
		}
	}
	return false
}

// Before gives the results of a point before a moment, struck ones left out, in order of time. They are only to be read.
func (h History) Before(point string, at time.Time) []Result {
	list := h.Points[point]
	n := sort.Search(len(list), func(i int) bool { return !list[i].At.Before(at) })
	return without(list[:n:n], func(r *Result) bool { return r.Struck })
}

// Earlier gives the results of a point before a moment that are of other visits than one. They are only to be read.
func (h History) Earlier(point, visit string, at time.Time) []Result {
	return without(h.Before(point, at), func(r *Result) bool { return r.Visit == visit })
}

// without gives a list without some results: the list itself where it has none of them, since results are large.
func without(list []Result, out func(*Result) bool) []Result {
	first := 0
	for ; first < len(list) && !out(&list[first]); first++ {
	}
	if first == len(list) {
		return list
	}
	kept := slices.Clone(list[:first])
	for i := range list[first:] {
		if r := &list[first+i]; !out(r) {
			kept = append(kept, *r)
		}
	}
	return kept
}

// In gives the result's value in a unit as it is shown, and judged: as it was read, or converted and rounded.
func (r Result) In(to string) (decimal.Decimal, bool) {
	v, ok := r.convert(to)
	if r.Unit != to {
		v = unit.Shown(v)
	}
	return v, ok
}

func (r Result) convert(to string) (decimal.Decimal, bool) {
	v, _, err := unit.Convert(r.Value, r.Unit, to)
	return v, err == nil
}

// Judgement is how a value lies to a point's limits and to what was measured before.
type Judgement struct {
	Value decimal.Decimal // in the point's unit, as it is shown
	Level Level
	Doubt Doubt
	// Change is by how much it differs from the last: of a counter what it moved on by. Nil: there was none, or it can't be told.
	Change *decimal.Decimal
}

// Weigh judges a result of a point by what was measured there before it.
func (p Point) Weigh(before []Result, now Result) Judgement {
	v, ok := now.In(p.Unit)
	if !ok {
		return Judgement{Value: now.Value, Level: OK, Doubt: Unlike}
	}
	j := Judgement{Value: v, Level: p.Judge(v)}
	if len(before) > 0 {
		if d, ok := p.Moved(before[len(before)-1], now); ok {
			j.Change = &d
		}
	}
	switch {
	case p.Least != nil && v.LessThan(*p.Least), p.Most != nil && v.GreaterThan(*p.Most), p.Counter &&
		(v.IsNegative() || (p.RollsAt != nil && v.GreaterThanOrEqual(*p.RollsAt))):
		j.Doubt = Outside
	case p.Counter && len(before) > 0 && j.Change == nil:
		j.Doubt = Fell
	case !p.Counter && p.jumps(before, v):
		j.Doubt = Jump
	}
	return j
}

// jumps tells whether a value is eight times off everything measured before, of which there must be some.
func (p Point) jumps(before []Result, v decimal.Decimal) bool {
	const enough, times = 3, 8
	n := 0
	high, low := decimal.Decimal{}, decimal.Decimal{}
	for _, r := range before {
		if b, ok := r.In(p.Unit); ok && !b.IsZero() {
			if b = b.Abs(); n == 0 || b.LessThan(low) {
				low = b
			}
			high = decimal.Max(high, b)
			n++
		}
	}
	v = v.Abs()
	return n >= enough && !v.IsZero() && (v.GreaterThan(high.Mul(decimal.NewFromInt(times))) ||
		v.Mul(decimal.NewFromInt(times)).LessThan(low))
}

// Moved is the difference of two results: of a counter what it counted between them, over a replacement and over zero. Not ok: the
// counter fell by more than passing zero explains (more than half its range), or the units do not go together.
func (p Point) Moved(last, now Result) (decimal.Decimal, bool) {
	a, ok := last.convert(p.Unit)
	b, fits := now.convert(p.Unit)
	if !ok || !fits {
		return b, false
	}
	if !p.Counter {
		return b.Sub(a), true
	}
	if now.Replaced != nil {
		old, _, err := unit.Convert(now.Replaced.Last, now.Unit, p.Unit)
		start, _, err2 := unit.Convert(now.Replaced.Start, now.Unit, p.Unit)
		if err != nil || err2 != nil {
			return b, false
		}
		before, ok := p.counted(a, old)
		after, fits := p.counted(start, b)
		return before.Add(after), ok && fits
	}
	return p.counted(a, b)
}

func (p Point) counted(from, to decimal.Decimal) (decimal.Decimal, bool) {
	d := to.Sub(from)
	if !d.IsNegative() {
		return d, true
	}
	if p.RollsAt == nil {
		return d, false
	}
	d = d.Add(*p.RollsAt)
	return d, !d.IsNegative() && d.Mul(decimal.NewFromInt(2)).LessThanOrEqual(*p.RollsAt)
}

// Check says what is wrong with a point.
func (p Point) Check() error {
	if p.ID == "" || p.Name == "" || len(p.Name) > 200 {
		return msg.New("asset.point", "point", p.ID)
	}
	if _, err := unit.Parse(p.Unit); err != nil && p.Unit != "" {
		return msg.New("point.unit", "point", p.Name)
	}
	if p.RollsAt != nil && (!p.Counter || !p.RollsAt.IsPositive()) {
		return msg.New("point.rolls", "point", p.Name)
	}
	return p.Limits.check(p.Name)
}

func (p Limits) check(name string) error {
	var last *decimal.Decimal
	for _, l := range []*decimal.Decimal{p.AlarmLow, p.WarnLow, p.WarnHigh, p.AlarmHigh} {
		if l == nil {
			continue
		}
		if last != nil && l.LessThan(*last) {
			return msg.New("point.limits", "point", name)
		}
		last = l
	}
	return nil
}
