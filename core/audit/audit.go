// Package audit is what every line of a document says of the entry that made it.
package audit

import (
	"maps"
	"time"
)

// Line is embedded in whatever an entry adds to a document: a note on a visit, a part used. A line that is struck out stays, and counts for
// nothing.
type Line struct {
	Entry  string    `json:"entry"`  // the id of the entry
	At     time.Time `json:"at"`     // when it was recorded, by the device's corrected clock
	Person string    `json:"person"` // who recorded it
	Struck bool      `json:"struck,omitempty"`
}

// Moment is when an entry did something, and which: of two that do the same the later holds, whichever is heard of first.
type Moment struct {
	At    time.Time `json:"at"`
	Entry string    `json:"entry"`
}

// Before tells whether it was earlier than another.
func (m Moment) Before(o Moment) bool {
	if c := m.At.Compare(o.At); c != 0 {
		return c < 0
	}
	return m.Entry < o.Entry
}

// Strikes are when entries were struck out or restored last, by entry.
type Strikes map[string]Moment

// With gives the strikes with one more, and whether it is the latest on its entry.
func (m Strikes) With(entry string, by Moment) (Strikes, bool) {
	if by.Before(m[entry]) {
		return m, false
	}
	out := maps.Clone(m)
	if out == nil {
		out = Strikes{}
	}
	out[entry] = by
	return out, true
}

func (l *Line) line() *Line { return l }

// Embeds are pointers to what has a Line in it.
type Embeds[L any] interface {
	*L
	line() *Line
}

// Add gives lines with one more, in order of time, whichever order they are heard of in. The lines given stay as they are.
func Add[L any, P Embeds[L]](lines []L, l L) []L {
	moment := func(l *L) Moment { return Moment{P(l).line().At, P(l).line().Entry} }
	at := moment(&l)
	i := len(lines)
	for i > 0 && at.Before(moment(&lines[i-1])) {
		i--
	}
	out := make([]L, 0, len(lines)+1)
	return append(append(append(out, lines[:i]...), l), lines[i:]...)
}

// Find gives what an entry made, or nil.
func Find[L any, P Embeds[L]](lines []L, entry string) *L {
	for i := range lines {
		if P(&lines[i]).line().Entry == entry {
			return &lines[i]
		}
	}
	return nil
}

// Of gives the line of what an entry made, or nil.
func Of[L any, P Embeds[L]](lines []L, entry string) *Line {
	if l := Find[L, P](lines, entry); l != nil {
		return P(l).line()
	}
	return nil
}
