package labor

import (
	"slices"
	"time"

	"iter.example/iter/core/msg"
	"iter.example/iter/core/ordered"
)

// Length is how long somebody was at something on a day, told without begin and end. It counts like clocked time, at the normal class,
// and lies where the day has room.
type Length struct {
	Entry string    `json:"entry"`
	At    time.Time `json:"at"` // when it was told
	What
	Minutes int `json:"minutes"`
	Standing
}

// maxLength is the longest length of a day, in minutes.
const maxLength = 16 * 60

// Check says what is wrong with a length.
func (l Length) Check() error {
	switch {
	case !slices.Contains([]Kind{Work, Travel, Wait, Indirect}, l.Kind):
		return msg.New("time.kind")
	case l.Minutes < 1 || l.Minutes > maxLength:
		return msg.New("time.minutes")
	case l.Kind == Indirect && l.Code == "":
		return msg.New("time.code")
	}
	return nil
}

// AddLength puts a length on the card, once.
func (c *Timecard) AddLength(l Length) {
	if c.Has(l.Entry) {
		return
	}
	l.Late = c.Approved != nil
	c.Lengths = append(slices.Clone(c.Lengths), l)
	ordered.Stable(c.Lengths, func(a, b Length) int {
		if before(a.At, a.Entry, b.At, b.Entry) {
			return -1
		}
		return 1
	})
}

// usualBegin is when a day begins on which nothing but lengths was told, in hours past midnight.
const usualBegin = 8

// withLength puts a length of a date among spans in order of time, in as many pieces as it takes: before the first span of the day, so
// that no time between spans is filled that was a break; then after the last; then between. What a day has no room for does not count.
func withLength(spans []Span, l Length, date string) []Span {
	midnight, err := time.ParseInLocation(time.DateOnly, date, l.At.Location())
	if err != nil {
		return spans
	}
	left := time.Duration(l.Minutes) * time.Minute
	out := slices.Clone(spans)
	put := func(start, end time.Time) {
		if start.Before(end) {
			left -= end.Sub(start)
			out = append(out, Span{What: l.What, Start: start, End: end, From: l.Entry, Loose: true})
		}
	}
	next := midnight.AddDate(0, 0, 1)
	var day []Span
	for _, s := range spans {
		if s.Start.Before(next) && s.End.After(midnight) {
			day = append(day, s)
		}
	}
	if len(day) == 0 {
		begin := midnight.Add(min(usualBegin*time.Hour, next.Sub(midnight)-left))
		put(begin, begin.Add(left))
		return sorted(out)
	}
	first, last := day[0].Start, latestEnd(day)
	put(latest(midnight, first.Add(-left)), first)
	put(last, earliest(next, last.Add(left)))
	for i := 1; i < len(day) && left > 0; i++ {
		put(day[i-1].End, earliest(day[i].Start, day[i-1].End.Add(left)))
	}
	return sorted(out)
}

func latestEnd(spans []Span) (end time.Time) {
	for _, s := range spans {
		end = latest(end, s.End)
	}
	return end
}

func sorted(spans []Span) []Span {
	ordered.Stable(spans, func(a, b Span) int { return a.Start.Compare(b.Start) })
	return spans
}
