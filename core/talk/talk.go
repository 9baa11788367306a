// Package talk is the conversation about a work order, between those in the field and the office.
package talk

import (
	"cmp"
	"slices"
	"strings"
	"time"

	"iter.example/iter/core/ordered"
)

// Office is what the office reads as: whoever of it has read something, it has.
const Office = "office"

// Said is something somebody said.
type Said struct {
	Entry  string    `json:"entry"`
	At     time.Time `json:"at"`
	Person string    `json:"person"`
	Text   string    `json:"text"`
	Office bool      `json:"office,omitempty"` // said by the office
	Visit  string    `json:"visit,omitempty"`  // that it was said on
}

// Talk is a conversation. The zero value is one in which nothing was said.
type Talk struct {
	Said []Said `json:"said"` // in order of time
	// Read is how far each has read: the entry of the last they saw, by person, and that of the office by Office.
	Read map[string]string `json:"read,omitempty"`
}

// Add puts something said in its place.
func (t *Talk) Add(s Said) {
	t.Said = append(slices.Clone(t.Said), s)
	ordered.Stable(t.Said, func(a, b Said) int { return cmp.Or(a.At.Compare(b.At), strings.Compare(a.Entry, b.Entry)) })
}

// See notes that somebody has read up to an entry. What they read before stays read.
func (t *Talk) See(reader, entry string) {
	at := func(e string) int { return slices.IndexFunc(t.Said, func(s Said) bool { return s.Entry == e }) }
	if at(entry) < 0 || (t.Read[reader] != "" && at(entry) <= at(t.Read[reader])) {
		return
	}
	read := map[string]string{reader: entry}
	for r, e := range t.Read {
		if r != reader {
			read[r] = e
		}
	}
	t.Read = read
}

// Unread is how many things others said that a reader has not seen: after the last they saw, and after the last they said themselves.
func (t Talk) Unread(reader string) int {
	n := 0
	for _, s := range t.Said {
		own := s.Person == reader || (reader == Office && s.Office)
		if s.Entry == t.Read[reader] || own {
			n = 0
			continue
		}
		n++
	}
	return n
}
