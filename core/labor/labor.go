// Package labor turns stamps, the moments a clock was tapped, into spans, the stretches of time between them.
//
// One person does one thing at a time: a stamp ends whatever ran before and begins what it names. A stop ends only what
// it belongs to, so a visit that is closed late does not stop the clock of the next one. Hours are always derived,
// never entered.
package labor

import (
	"sort"
	"time"
)

// Kind is what a person's time goes to.
type Kind string

const (
	Travel Kind = "travel"
	Work   Kind = "work"
	Wait   Kind = "wait"
	Break  Kind = "break"
	Stop   Kind = "stop" // a stamp only: nothing begins
)

// Values lists the kinds, for generated types.
func (Kind) Values() []string {
	return []string{string(Travel), string(Work), string(Wait), string(Break), string(Stop)}
}

// Stamp is a moment a person's clock was tapped.
type Stamp struct {
	Entry  string    `json:"entry"` // the entry that recorded it
	At     time.Time `json:"at"`
	Kind   Kind      `json:"kind"`
	Visit  string    `json:"visit,omitempty"`
	Struck bool      `json:"struck,omitempty"`
}

// Span is a stretch of one person's time. Start is included, End is not.
type Span struct {
	Kind  Kind      `json:"kind"`
	Visit string    `json:"visit,omitempty"`
	Start time.Time `json:"start"`
	End   time.Time `json:"end"`
	Open  bool      `json:"open,omitempty"` // still running at the moment asked for
	From  string    `json:"from"`           // entry of the stamp that began it
}

// Seconds is the span's length.
func (s Span) Seconds() int64 { return int64(s.End.Sub(s.Start) / time.Second) }

// Timecard is one person's one day, by the date on the company's clock at the stamp.
type Timecard struct {
	Person string  `json:"person"`
	Date   string  `json:"date"` // 2006-01-02
	Stamps []Stamp `json:"stamps"`
}

// Add puts a stamp on the card, once.
func (c *Timecard) Add(s Stamp) {
	for _, have := range c.Stamps {
		if have.Entry == s.Entry {
			return
		}
	}
	c.Stamps = append(c.Stamps, s)
	sortStamps(c.Stamps)
}

// Strike cancels the stamp of an entry, or lets it count again, and tells whether that changed anything.
func (c *Timecard) Strike(entry string, struck bool) bool {
	for i := range c.Stamps {
		if c.Stamps[i].Entry == entry && c.Stamps[i].Struck != struck {
			c.Stamps[i].Struck = struck
			return true
		}
	}
	return false
}

// Spans derives one person's spans from stamps in any order, as they stood at now. They are in order of time, never
// overlap, and leave out stretches of no length. Stamps after now do not count yet; one entry counts once.
func Spans(stamps []Stamp, now time.Time) []Span {
	in := make([]Stamp, 0, len(stamps))
	seen := map[string]bool{}
	for _, s := range stamps {
		if s.Struck || s.At.After(now) || seen[s.Entry] {
			continue
		}
		seen[s.Entry] = true
		in = append(in, s)
	}
	sortStamps(in)
	var out []Span
	var open *Span
	end := func(at time.Time) {
		if open != nil && at.After(open.Start) {
			open.End = at
			out = append(out, *open)
		}
		open = nil
	}
	for _, s := range in {
		if s.Kind == Stop {
			if open != nil && open.Visit == s.Visit {
				end(s.At)
			}
			continue
		}
		end(s.At)
		open = &Span{Kind: s.Kind, Visit: s.Visit, Start: s.At, From: s.Entry}
	}
	if open != nil {
		open.End, open.Open = now, true
		out = append(out, *open)
	}
	return out
}

// Split cuts spans at local midnight, so that each belongs to one date.
func Split(spans []Span, zone Zone) []Span {
	var out []Span
	for _, s := range spans {
		for {
			// 36 hours past a local midnight is within the next local date, on days of 23 and 25 hours too.
			next := zone.Midnight(zone.Midnight(s.Start).Add(36 * time.Hour))
			if !next.Before(s.End) {
				break
			}
			head := s
			head.End, head.Open = next, false
			out = append(out, head)
			s.Start = next
		}
		out = append(out, s)
	}
	return out
}

// Hours are seconds by kind.
type Hours struct {
	Travel int64 `json:"travel"`
	Work   int64 `json:"work"`
	Wait   int64 `json:"wait"`
	Break  int64 `json:"break"`
}

// Total adds up the spans of one visit, or of all when visit is empty.
func Total(spans []Span, visit string) Hours {
	var h Hours
	for _, s := range spans {
		if visit != "" && s.Visit != visit {
			continue
		}
		switch s.Kind {
		case Travel:
			h.Travel += s.Seconds()
		case Work:
			h.Work += s.Seconds()
		case Wait:
			h.Wait += s.Seconds()
		case Break:
			h.Break += s.Seconds()
		}
	}
	return h
}

func sortStamps(s []Stamp) {
	sort.SliceStable(s, func(i, j int) bool {
		if !s[i].At.Equal(s[j].At) {
			return s[i].At.Before(s[j].At)
		}
		return s[i].Entry < s[j].Entry
	})
}
