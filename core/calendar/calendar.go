// Package calendar is when people, things and places can be planned: working hours by week, what they are off for, holidays, and when a
// site is open. Dates are of the company's calendar, times of day of its clock.
package calendar

import (
	"cmp"
	"slices"
	"time"

	"iter.example/iter/core/msg"
)

// Stretch is a part of a day: from a time to another, as 08:00 to 16:30. One that ends no later than it begins goes on over midnight;
// 24:00 is the end of the day.
type Stretch struct {
	From string `json:"from"`
	To   string `json:"to"`
}

// Week is what repeats by week from a date on, until another begins or it ends. Of several that hold on a date the one that begins last
// counts.
type Week struct {
	From string `json:"from,omitempty"` // date; "" is always
	To   string `json:"to,omitempty"`   // the last date; "" is none
	// Days are the stretches of each day: 0 is Sunday, 6 is Saturday.
	Days [7][]Stretch `json:"days"`
}

// Off is when somebody or something is not there: from a moment to another, or all of some days.
type Off struct {
	From string `json:"from"` // date
	To   string `json:"to"`   // the last date
	// Begin and End are times of the first day and the last, "" for all of them.
	Begin string `json:"begin,omitempty"`
	End   string `json:"end,omitempty"`
	Why   string `json:"why,omitempty"` // the id of a reason, or words
}

// Interval is a stretch of time.
type Interval struct {
	Begin time.Time `json:"begin"`
	End   time.Time `json:"end"`
}

// Length is how long it is.
func (i Interval) Length() time.Duration { return i.End.Sub(i.Begin) }

// Clock tells moments by dates and times of day: a zone.
type Clock interface {
	// On is a moment of a date, which may be past its midnight.
	On(date string, sinceMidnight time.Duration) time.Time
}

const day = 24 * time.Hour

// minutes reads a time of day, 00:00 to 24:00.
func minutes(text string) (time.Duration, bool) {
	if text == "24:00" {
		return day, true
	}
	t, err := time.Parse("15:04", text)
	return time.Duration(t.Hour())*time.Hour + time.Duration(t.Minute())*time.Minute, err == nil
}

func (s Stretch) bounds() (from, to time.Duration, ok bool) {
	from, okFrom := minutes(s.From)
	to, okTo := minutes(s.To)
	if from == day {
		return 0, 0, false
	}
	if to <= from {
		to += day
	}
	return from, to, okFrom && okTo
}

// Date reads a date.
func Date(text string) (time.Time, error) { return time.Parse(time.DateOnly, text) }

// next is the date so many days after another.
func next(date string, days int) string {
	d, err := Date(date)
	if err != nil {
		return date
	}
	return d.AddDate(0, 0, days).Format(time.DateOnly)
}

// on gives the week that holds on a date; nil when none does.
func on(weeks []Week, date string) *Week {
	var best *Week
	for i, w := range weeks {
		if w.From <= date && (w.To == "" || date <= w.To) && (best == nil || w.From >= best.From) {
			best = &weeks[i]
		}
	}
	return best
}

// Times is when somebody, something or a place can be planned. Usual are the weeks of those who have none of their own.
type Times struct {
	Weeks    []Week
	Usual    []Week
	Holidays []string // dates on which nobody works
	Off      []Off
}

// Known tells whether anything is said of when: without, it is always.
func (t Times) Known() bool { return len(t.Weeks)+len(t.Usual) > 0 }

// On gives the working hours of a date: the stretches that begin on it, without holidays and what is off, in order and apart from each
// other.
func (t Times) On(date string, clock Clock) []Interval {
	var out []Interval
	d, err := Date(date)
	if err != nil {
		return nil
	}
	week := on(t.Weeks, date)
	if week == nil {
		week = on(t.Usual, date)
	}
	switch {
	case slices.Contains(t.Holidays, date):
	case week == nil && !t.Known():
		out = append(out, Interval{clock.On(date, 0), clock.On(date, day)})
	case week != nil:
		for _, s := range week.Days[d.Weekday()] {
			if from, to, ok := s.bounds(); ok {
				out = append(out, Interval{clock.On(date, from), clock.On(date, to)})
			}
		}
	}
	out = merge(out)
	for _, o := range t.Off {
		out = without(out, o.Interval(clock))
	}
	return out
}

// Between gives the working hours within a stretch of time.
func (t Times) Between(in Interval, clock Clock) []Interval {
	var out []Interval
	// What begins the day before may go on over midnight.
	for date := in.Begin.AddDate(0, 0, -1).Format(time.DateOnly); date <= in.End.Format(time.DateOnly); date = next(date, 1) {
		for _, i := range t.On(date, clock) {
			if i = i.within(in); i.Length() > 0 {
				out = append(out, i)
			}
		}
	}
	return merge(out)
}

// Absent tells why nobody is there at any time of a date on which there would be hours; "" when somebody is.
func (t Times) Absent(date string, clock Clock) (Off, bool) {
	whole := Times{Weeks: t.Weeks, Usual: t.Usual, Holidays: t.Holidays}.On(date, clock)
	if len(whole) == 0 || len(t.On(date, clock)) > 0 {
		return Off{}, false
	}
	for _, o := range t.Off {
		if len(without(whole, o.Interval(clock))) < len(whole) || sum(without(whole, o.Interval(clock))) < sum(whole) {
			return o, true
		}
	}
	return Off{}, false
}

// Interval is when somebody is off.
func (o Off) Interval(clock Clock) Interval {
	begin, end := time.Duration(0), day
	if b, ok := minutes(o.Begin); ok && o.Begin != "" {
		begin = b
	}
	if e, ok := minutes(o.End); ok && o.End != "" {
		end = e
	}
	return Interval{clock.On(o.From, begin), clock.On(o.To, end)}
}

func (i Interval) within(in Interval) Interval {
	if i.Begin.Before(in.Begin) {
		i.Begin = in.Begin
	}
	if i.End.After(in.End) {
		i.End = in.End
	}
	return i
}

// merge puts intervals in order, those that touch as one.
func merge(list []Interval) []Interval {
	slices.SortFunc(list, func(a, b Interval) int { return cmp.Or(a.Begin.Compare(b.Begin), a.End.Compare(b.End)) })
	var out []Interval
	for _, i := range list {
		if n := len(out); n > 0 && !i.Begin.After(out[n-1].End) {
			if i.End.After(out[n-1].End) {
				out[n-1].End = i.End
			}
			continue
		}
		out = append(out, i)
	}
	return out
}

// without takes an interval out of others.
func without(list []Interval, off Interval) []Interval {
	var out []Interval
	for _, i := range list {
		if !off.Begin.Before(i.End) || !i.Begin.Before(off.End) {
			out = append(out, i)
			continue
		}
		if i.Begin.Before(off.Begin) {
			out = append(out, Interval{i.Begin, off.Begin})
		}
		if off.End.Before(i.End) {
			out = append(out, Interval{off.End, i.End})
		}
	}
	return out
}

// sum is how long intervals are together.
func sum(list []Interval) (out time.Duration) {
	for _, i := range list {
		out += i.Length()
	}
	return out
}

// Sum is how long intervals are together.
func Sum(list []Interval) time.Duration { return sum(list) }

// Outside is how much of an interval is in none of some others.
func Outside(i Interval, hours []Interval) time.Duration {
	left := []Interval{i}
	for _, h := range hours {
		left = without(left, h)
	}
	return sum(left)
}

// How much is said of hours at most.
const (
	mostWeeks     = 100
	mostStretches = 8
	mostOff       = 1000
)

// CheckWeeks says what can't be meant by weeks.
func CheckWeeks(weeks []Week) error {
	if len(weeks) > mostWeeks {
		return msg.New("calendar.many")
	}
	for _, w := range weeks {
		if err := checkDates(w.From, w.To); err != nil {
			return err
		}
		for _, stretches := range w.Days {
			if len(stretches) > mostStretches {
				return msg.New("calendar.many")
			}
			last := time.Duration(-1)
			for _, s := range stretches {
				from, to, ok := s.bounds()
				if !ok {
					return msg.New("calendar.time", "from", s.From, "to", s.To)
				}
				if from < last {
					return msg.New("calendar.overlap")
				}
				last = to
			}
		}
	}
	return nil
}

// CheckOff says what can't be meant by what somebody or something is off for.
func CheckOff(list []Off) error {
	if len(list) > mostOff {
		return msg.New("calendar.many")
	}
	for _, o := range list {
		if err := o.Check(); err != nil {
			return err
		}
	}
	return nil
}

// Check says what can't be meant.
func (o Off) Check() error {
	if o.From == "" || o.To == "" {
		return msg.New("calendar.date", "date", o.From)
	}
	if err := checkDates(o.From, o.To); err != nil {
		return err
	}
	for _, t := range []string{o.Begin, o.End} {
		if _, ok := minutes(t); t != "" && !ok {
			return msg.New("calendar.time", "from", o.Begin, "to", o.End)
		}
	}
	if o.From == o.To && o.Begin != "" && o.End != "" && o.End <= o.Begin {
		return msg.New("calendar.time", "from", o.Begin, "to", o.End)
	}
	if len(o.Why) > 500 {
		return msg.New("text.long", "field", "why")
	}
	return nil
}

func checkDates(from, to string) error {
	for _, d := range []string{from, to} {
		if _, err := Date(d); d != "" && err != nil {
			return msg.New("calendar.date", "date", d)
		}
	}
	if from != "" && to != "" && to < from {
		return msg.New("calendar.date", "date", to)
	}
	return nil
}
