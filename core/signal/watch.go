package signal

import (
	"time"

	"github.com/shopspring/decimal"
)

// Event is what a watch finds.
type Event int

// Events.
const (
	Nothing Event = iota
	Wrong         // something is wrong, from now on: once, until it is well
	Well          // it is well again
)

// Watch looks at a machine by a rule. It takes values in the order of time; what comes late is not looked at any more. The same values and
// looks give the same events.
type Watch struct {
	Rule Rule
	// Open tells that something is wrong, since Since.
	Open  bool
	Since time.Time

	last   *Value
	usual  *decimal.Decimal // of a rule that looks for changes: what it was before
	bad    time.Time        // since when it has been so; zero while it is not
	recent []Value          // of a rate: those within Per minutes
}

// Resume has something be wrong since a moment already, as it was found before. usual is what the value was before, of a rule that looks
// for changes.
func (w *Watch) Resume(since time.Time, usual *decimal.Decimal) {
	w.Open, w.Since, w.usual = true, since, usual
}

// Usual is what the value was before it changed, of a rule that looks for changes.
func (w *Watch) Usual() *decimal.Decimal { return w.usual }

// Take takes a value; now is its moment by the company's clock.
func (w *Watch) Take(v Value, now time.Time) Event {
	if w.last != nil && !v.At.After(w.last.At) {
		return Nothing
	}
	w.last = &v
	if w.Rule.When == Silent {
		w.bad = time.Time{}
		return w.well()
	}
	bad := w.wrong(v)
	if !bad {
		w.bad = time.Time{}
		if w.Open && w.back(v) {
			return w.well()
		}
		return Nothing
	}
	if w.bad.IsZero() {
		w.bad = v.At
	}
	return w.look(v.At, now)
}

// Tick looks at it though nothing was reported: what is wrong may have been so for long enough by now, and who says nothing is silent.
func (w *Watch) Tick(at, now time.Time) Event {
	if w.last == nil || at.Before(w.last.At) {
		return Nothing
	}
	if w.Rule.When == Silent && w.bad.IsZero() {
		w.bad = w.last.At
	}
	if w.bad.IsZero() {
		return Nothing
	}
	return w.look(at, now)
}

// look tells that something is wrong once it has been for long enough, in the hours in which that counts.
func (w *Watch) look(at, now time.Time) Event {
	if w.Open || at.Sub(w.bad) < time.Duration(w.Rule.For)*time.Minute || !w.Rule.In(now) {
		return Nothing
	}
	w.Open, w.Since = true, w.bad
	return Wrong
}

func (w *Watch) well() Event {
	if !w.Open {
		return Nothing
	}
	w.Open = false
	return Well
}

// wrong tells whether a value is what the rule looks for.
func (w *Watch) wrong(v Value) bool {
	switch w.Rule.When {
	case Above:
		return v.Value.GreaterThan(*w.Rule.Limit)
	case Below:
		return v.Value.LessThan(*w.Rule.Limit)
	case Changed:
		if w.usual == nil {
			w.usual = &v.Value
		}
		return !v.Value.Equal(*w.usual)
	case Rate:
		return w.spread(v).GreaterThan(*w.Rule.Limit)
	}
	return false
}

// back tells whether a value that is not wrong is well again: past Back, so that what sways about the limit is one incident.
func (w *Watch) back(v Value) bool {
	if w.Rule.Back == nil {
		return true
	}
	switch w.Rule.When {
	case Above:
		return v.Value.LessThanOrEqual(*w.Rule.Back)
	case Below:
		return v.Value.GreaterThanOrEqual(*w.Rule.Back)
	case Rate:
		return between(w.recent).LessThanOrEqual(*w.Rule.Back)
	}
	return true
}

// mostRecent is how many values of the last minutes a rate is worked out of at most.
const mostRecent = 600

// spread is by how much values differ within the last minutes.
func (w *Watch) spread(v Value) decimal.Decimal {
	since := v.At.Add(-time.Duration(w.Rule.Per) * time.Minute)
	kept := w.recent[:0]
	for _, x := range w.recent {
		if !x.At.Before(since) {
			kept = append(kept, x)
		}
	}
	if len(kept) == mostRecent { // every other one of them says as much
		half := kept[:0]
		for i := 0; i < len(kept); i += 2 {
			half = append(half, kept[i])
		}
		kept = half
	}
	w.recent = append(kept, v)
	return between(w.recent)
}

func between(list []Value) decimal.Decimal {
	if len(list) == 0 {
		return decimal.Zero
	}
	low, high := list[0].Value, list[0].Value
	for _, x := range list {
		low, high = decimal.Min(low, x.Value), decimal.Max(high, x.Value)
	}
	return high.Sub(low)
}

// Curve is a series of at most so many values that looks like the one given: the first and last, and of each stretch between the lowest
// and the highest.
func Curve(list []Value, most int) []Value {
	if len(list) <= most {
		return list
	}
	out := []Value{list[0]}
	inner := list[1 : len(list)-1]
	parts := (most - 2) / 2
	for i := range parts {
		part := inner[i*len(inner)/parts : (i+1)*len(inner)/parts]
		low, high := part[0], part[0]
		for _, x := range part {
			if x.Value.LessThan(low.Value) {
				low = x
			}
			if x.Value.GreaterThan(high.Value) {
				high = x
			}
		}
		switch {
		case low.At.Equal(high.At):
			out = append(out, low)
		case low.At.Before(high.At):
			out = append(out, low, high)
		default:
			out = append(out, high, low)
		}
	}
	return append(out, list[len(list)-1])
}
