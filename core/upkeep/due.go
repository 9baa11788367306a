package upkeep

import (
	"cmp"
	"slices"
	"strconv"
	"time"

	"iter.example/iter/core/calendar/recurrence"
	"iter.example/iter/core/work"
)

// Target is what a plan is for, a machine or a site, with what is known of when its upkeep was done.
type Target struct {
	ID   string
	Past []Past
	Runs []Run // of a plan by counter
	// End is the last day on which anything falls due for it, "" for none: of an agreement that ends.
	End string
}

// Past is an occurrence that a work order was opened for.
type Past struct {
	Key   string // of it, and First of the earliest that it stands for
	First string
	On    string // when it was to be done
	Order string
	Since time.Time // when that was opened
	// Over tells that the order is closed or cancelled, and Done on which day it was done; "" when it was not.
	Over bool
	Done string
}

// Occurrence is one time that a plan falls due. Days are 2006-01-02.
type Occurrence struct {
	Target string `json:"target"`
	// Key names it among those of its target: the day of a rule, or how many there were before it and one. First is the earliest that it
	// stands for, where some before it were missed; else it is Key.
	Key   string `json:"key"`
	First string `json:"first"`
	Due   string `json:"due"`
	On    string `json:"on"` // Due, but for one that was moved
	// From and To bound when it may be done, Opens is when its work order opens.
	From  string `json:"from"`
	To    string `json:"to"`
	Opens string `json:"opens"`
	// Guessed tells that the day follows from how fast a counter runs, Later that it hangs on when an earlier one is done: then no order
	// opens for it yet.
	Guessed bool `json:"guessed,omitempty"`
	Later   bool `json:"later,omitempty"`
	// Skipped tells that it is not done.
	Skipped bool `json:"skipped,omitempty"`
}

// most is how many occurrences of a target are worked out at once: a daily plan over two years.
const most = 800

// Coming gives the occurrences of a target that no work order was opened for, up to a day, in the order they are to be done. Those that
// were missed, because nobody looked while they fell due, are one: the latest of them, which stands for all. Skipped ones are told as such.
func (p Plan) Coming(t Target, today, until string) []Occurrence {
	for _, end := range []string{p.End, t.End} {
		if end != "" {
			until = min(until, end)
		}
	}
	var out []Occurrence
	switch {
	case p.FromLast:
		out = p.fromLast(t, until)
	case p.Rule != "":
		out = p.byRule(t, today, until)
	default:
		out = p.byCounter(t, today, until)
	}
	slices.SortStableFunc(out, func(a, b Occurrence) int { return cmp.Or(cmp.Compare(a.On, b.On), cmp.Compare(a.Due, b.Due)) })
	return out
}

// occurrence is one as it falls due, or as it was moved.
func (p Plan) occurrence(t Target, key, due string) Occurrence {
	o := Occurrence{Target: t.ID, Key: key, First: key, Due: due, On: due}
	if c := p.Changed(t.ID, key); c != nil {
		o.On, o.Skipped = cmp.Or(c.To, due), c.To == ""
	}
	o.From, o.To = AddDays(o.On, -p.Before), AddDays(o.On, p.After)
	o.Opens = AddDays(o.From, -p.Ahead)
	return o
}

// byRule gives what falls due on the days of a rule.
func (p Plan) byRule(t Target, today, until string) []Occurrence {
	rule, err := recurrence.Parse(p.Rule)
	if err != nil {
		return nil
	}
	g := gathered{p: p, t: t, today: today, last: p.last(t)}
	for _, day := range rule.Days(p.Begin, "", min(until, AddDays(max(g.last, today), most)), most*recalled) {
		g.add(day, day, false)
	}
	return g.out
}

// recalled is for how many times as many days as are to come a rule is gone through from its beginning.
const recalled = 30

// byCounter gives what falls due each time that a counter has gone on by so much, as far as how fast it runs is known.
func (p Plan) byCounter(t Target, today, until string) []Occurrence {
	base, ok := sumAt(t.Runs, p.Begin)
	if !ok {
		return nil
	}
	g := gathered{p: p, t: t, today: today, last: p.last(t)}
	for number := 1; number <= most*recalled && len(g.out) < most; number++ {
		day, guessed, ok := reaches(t.Runs, base.Add(p.Counter.Every.Mul(whole(number))), t.Runs[0].Day)
		if !ok || day > until {
			break
		}
		g.add(strconv.Itoa(number), day, guessed)
	}
	return g.out
}

// gathered are the occurrences of a target, while they are gone through in order.
type gathered struct {
	p      Plan
	t      Target
	today  string
	last   string // key of the last that was opened in its turn
	out    []Occurrence
	missed *int // the one in out that stands for what was missed
}

// add takes an occurrence up, unless a work order was opened for it. What is before the last that was opened is over, but where it was
// moved.
func (g *gathered) add(key, due string, guessed bool) {
	c := g.p.Changed(g.t.ID, key)
	if c == nil && compareKeys(key, g.last) <= 0 || g.p.opened(g.t, key) {
		return
	}
	o := g.p.occurrence(g.t, key, due)
	o.Guessed = guessed
	if c == nil && due < g.today {
		if g.missed != nil {
			o.First = g.out[*g.missed].First
			g.out[*g.missed] = o
			return
		}
		g.missed = new(len(g.out))
	}
	g.out = append(g.out, o)
}

// last is the key of the last occurrence that was opened in its turn: one that had been moved to be sooner says nothing of those before it.
func (p Plan) last(t Target) (key string) {
	for _, x := range t.Past {
		if compareKeys(x.Key, key) > 0 && !p.changedBy(t.ID, x.Key, x.Since) {
			key = x.Key
		}
	}
	return key
}

// opened tells whether a work order was opened for an occurrence, or for a later one that stands for it: not for one that had been moved or
// skipped by then.
func (p Plan) opened(t Target, key string) bool {
	return slices.ContainsFunc(t.Past, func(x Past) bool {
		between := compareKeys(cmp.Or(x.First, x.Key), key) <= 0 && compareKeys(key, x.Key) < 0
		return x.Key == key || between && !p.changedBy(t.ID, key, x.Since)
	})
}

// compareKeys orders keys: days, or numbers.
func compareKeys(a, b string) int { return cmp.Or(cmp.Compare(len(a), len(b)), cmp.Compare(a, b)) }

// fromLast gives what falls due some time after it was done last. All but the first hang on when that is done.
func (p Plan) fromLast(t Target, until string) (out []Occurrence) {
	rule, _ := recurrence.Parse(p.Rule) // one that does not read gives no days
	number, base, open := 1, "", false
	for _, x := range t.Past {
		if n, _ := strconv.Atoi(x.Key); n >= number {
			number, base, open = n+1, cmp.Or(x.Done, x.On), !x.Over
		}
	}
	for ; len(out) < most; number++ {
		due, guessed, ok := p.after(t, rule, base)
		if !ok || due > until {
			break
		}
		o := p.occurrence(t, strconv.Itoa(number), due)
		o.Guessed, o.Later = guessed, open
		// What was reckoned from the counter moves with each reading: one that was skipped is counted from when it was to be.
		if base = o.On; o.Skipped {
			base = max(p.Changed(t.ID, o.Key).Due, base)
		}
		out, open = append(out, o), open || !o.Skipped
	}
	return out
}

// after is when it falls due next after it was done on a day; the first time when that is none.
func (p Plan) after(t Target, rule recurrence.Rule, done string) (day string, guessed, ok bool) {
	from := cmp.Or(done, p.Begin)
	if p.Rule != "" { // far enough to come to a season that is months away
		if days := rule.Days(from, done, AddDays(from, farthest), 1); len(days) > 0 {
			day, ok = days[0], true
		}
	}
	if p.Counter == nil {
		return day, false, ok
	}
	base, known := sumAt(t.Runs, from)
	if !known {
		return day, false, ok
	}
	reached, by, known := reaches(t.Runs, base.Add(p.Counter.Every), from)
	if known {
		reached = max(reached, AddDays(from, 1)) // not twice on a day
	}
	if known && (!ok || reached < day) {
		return reached, by, true
	}
	return day, false, ok
}

// farthest is how many days ahead what comes next is looked for.
const farthest = 12 * 366

// DueOf is what a work order says of an occurrence that it was opened for.
func (o Occurrence) DueOf(plan string) work.Due {
	d := work.Due{Plan: plan, Target: o.Target, Key: o.Key, On: o.On, From: o.From, To: o.To}
	if o.First != o.Key {
		d.First = o.First
	}
	return d
}

// AddDays is a day so many days on.
func AddDays(day string, n int) string {
	t, err := time.Parse(time.DateOnly, day)
	if err != nil {
		return day
	}
	return t.AddDate(0, 0, n).Format(time.DateOnly)
}
