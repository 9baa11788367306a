package work

import (
	"slices"
	"time"

	"iter.example/iter/core/calendar"
	"iter.example/iter/core/msg"
	"iter.example/iter/core/records"
)

// PromiseRule says by when work is promised that comes in now: within some hours, or by a time of day some working days on.
type PromiseRule struct {
	Priority Priority `json:"priority"`
	Work     string   `json:"work,omitempty"`    // a kind of work, by its id; "": any
	Done     bool     `json:"done,omitempty"`    // by when the work is done; else by when somebody comes
	Hours    int      `json:"hours,omitempty"`   // within so many; 0: by day
	Working  bool     `json:"working,omitempty"` // hours in which the company works; else of day and night
	Days     int      `json:"days,omitempty"`    // working days from today on, which is 0
	Until    string   `json:"until,omitempty"`   // time of that day, as 17:00
}

// Promise is by when somebody comes, and by when the work is done. Zero: nothing is promised.
type Promise struct {
	Come time.Time
	Done time.Time
}

// Workdays are when a company works.
type Workdays struct {
	Free  func(date string) bool                // whether nobody works on a date
	Hours func(date string) []calendar.Interval // when they do; nil where nothing is said: then whole working days count
}

// What is promised by a rule lies at most so far ahead.
const (
	mostHours    = 24 * 60
	mostDays     = 400
	mostPromises = 100
)

func (r PromiseRule) check() error {
	if !slices.Contains(r.Priority.Values(), string(r.Priority)) {
		return msg.New("order.priority")
	}
	_, err := time.Parse("15:04", r.Until)
	if r.Hours < 0 || r.Hours > mostHours || r.Days < 0 || r.Days > mostDays || r.Hours == 0 && err != nil {
		return msg.New("settings.promise")
	}
	if r.Work != "" {
		return records.CheckID(r.Work)
	}
	return nil
}

// grain is to what a promise within some hours is rounded up.
const grain = 15 * time.Minute

// Promise is what is promised of work of a priority and a kind that comes in at a moment, by the company's clock: by the rule for the kind,
// or else the one for any.
func (s OrderSettings) Promise(p Priority, kind string, now time.Time, w Workdays) Promise {
	return Promise{s.promise(false, p, kind, now, w), s.promise(true, p, kind, now, w)}
}

func (s OrderSettings) promise(done bool, p Priority, kind string, now time.Time, w Workdays) time.Time {
	find := func(of string) int {
		return slices.IndexFunc(s.Promises, func(r PromiseRule) bool { return r.Priority == p && r.Done == done && r.Work == of })
	}
	rule := find(kind)
	if rule < 0 {
		rule = find("")
	}
	if rule < 0 || s.Promises[rule].check() != nil {
		return time.Time{}
	}
	r := s.Promises[rule]
	switch {
	case r.Hours > 0 && r.Working:
		return roundedUp(w.after(now, time.Duration(r.Hours)*time.Hour))
	case r.Hours > 0:
		return roundedUp(now.Add(time.Duration(r.Hours) * time.Hour))
	}
	return r.byDay(now, w)
}

// roundedUp is a moment on the clock that promises are given on.
func roundedUp(t time.Time) time.Time {
	if past := t.Truncate(grain); past.Before(t) {
		return past.Add(grain)
	}
	return t
}

// byDay is when the rule's day ends that is so many working days on.
func (r PromiseRule) byDay(now time.Time, w Workdays) time.Time {
	until, _ := time.Parse("15:04", r.Until) // it was checked
	on := func(after int) time.Time {
		y, m, d := now.Date()
		return time.Date(y, m, d+after, until.Hour(), until.Minute(), 0, 0, now.Location())
	}
	day, left := 0, r.Days
	if left == 0 && !on(0).After(now) {
		left = 1 // it is too late today
	}
	for tried := 0; tried < 2*mostDays && (left > 0 || w.Free(on(day).Format(time.DateOnly))); tried++ {
		day++
		if !w.Free(on(day).Format(time.DateOnly)) && left > 0 {
			left--
		}
	}
	return on(day)
}

// after is when so much working time is over from a moment on. Where nobody works for long, it is as if they worked day and night.
func (w Workdays) after(now time.Time, left time.Duration) time.Time {
	for after := range 2 * mostDays {
		y, m, d := now.Date()
		day := time.Date(y, m, d+after, 0, 0, 0, 0, now.Location())
		date := day.Format(time.DateOnly)
		if w.Free(date) {
			continue
		}
		for _, h := range w.hours(date, day) {
			begin := later(h.Begin, now)
			if length := h.End.Sub(begin); length >= left {
				return begin.Add(left).In(now.Location())
			} else if length > 0 {
				left -= length
			}
		}
	}
	return now.Add(left)
}

func (w Workdays) hours(date string, day time.Time) []calendar.Interval {
	if w.Hours != nil {
		return w.Hours(date)
	}
	return []calendar.Interval{{Begin: day, End: day.AddDate(0, 0, 1)}}
}

func later(a, b time.Time) time.Time {
	if a.After(b) {
		return a
	}
	return b
}
