// Package recorded is what every line of a document says of the entry that made it.
package recorded

import "time"

// Line is embedded in whatever an entry adds to a document: a note on a visit, a part used. A line that is struck out stays, and counts for
// nothing.
type Line struct {
	Entry  string    `json:"entry"`  // the id of the entry
	At     time.Time `json:"at"`     // when it was recorded, by the device's corrected clock
	Person string    `json:"person"` // who recorded it
	Struck bool      `json:"struck,omitempty"`
}

func (l *Line) line() *Line { return l }

// Embeds are pointers to what has a Line in it.
type Embeds[L any] interface {
	*L
	line() *Line
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
