package stock

import (
	"cmp"
	"encoding/hex"
	"slices"
	"strings"
	"time"

	"iter.example/iter/core/digest"
	"iter.example/iter/core/ordered"
)

// SerialID names the life of one part with a serial number: whatever the number is written with, it names a document.
func SerialID(part, serial string) string {
	sum := digest.Sum([]byte(part + "\x00" + strings.ToUpper(strings.TrimSpace(serial))))
	return hex.EncodeToString(sum[:16])
}

// SerialLife is where a part with a serial number was fitted, and taken out.
type SerialLife struct {
	Part   string   `json:"part"`
	Serial string   `json:"serial"`
	Fitted []Fitted `json:"fitted"`
	Out    []Fitted `json:"out,omitempty"`
}

// Fitted is a time that it was fitted, or taken out.
type Fitted struct {
	Entry  string    `json:"entry"`
	At     time.Time `json:"at"`
	Visit  string    `json:"visit"`
	Asset  string    `json:"asset,omitempty"`
	Struck bool      `json:"struck,omitempty"`
}

// Fit notes that it was fitted. It gives the fitting that stands in the way: it was fitted before and not taken out since.
func (s *SerialLife) Fit(f Fitted) *Fitted {
	var before *Fitted
	for i, x := range s.Fitted {
		if x.Struck || x.Entry == f.Entry {
			continue
		}
		if !slices.ContainsFunc(s.Out, func(o Fitted) bool { return !o.Struck && !o.At.Before(x.At) && !o.At.After(f.At) }) {
			before = &s.Fitted[i]
		}
	}
	s.Fitted = inOrder(s.Fitted, f)
	return before
}

// TakeOut notes that it was taken out.
func (s *SerialLife) TakeOut(f Fitted) { s.Out = inOrder(s.Out, f) }

// inOrder gives a list with one more, in order of time.
func inOrder(list []Fitted, f Fitted) []Fitted {
	out := append(slices.Clone(list), f)
	ordered.Stable(out, func(a, b Fitted) int { return cmp.Or(a.At.Compare(b.At), cmp.Compare(a.Entry, b.Entry)) })
	return out
}

// Strike cancels what an entry noted, or lets it count again.
func (s *SerialLife) Strike(entry string, struck bool) {
	s.Fitted, s.Out = slices.Clone(s.Fitted), slices.Clone(s.Out)
	for _, list := range [][]Fitted{s.Fitted, s.Out} {
		for i := range list {
			if list[i].Entry == entry {
				list[i].Struck = struck
			}
		}
	}
}
