package work

import (
	"slices"
	"time"

	"iter.example/iter/core/msg"
	"iter.example/iter/core/records"
)

// PromiseRule says by when work is promised that comes in now: within some hours, or by a time of day some working days on.
type PromiseRule struct {
	Priority Priority `json:"priority"`
	Work     string   `json:"work,omitempty"`  // a kind of work, by its id; "": any
	Hours    int      `json:"hours,omitempty"` // within so many, day and night; 0: by day
	Days     int      `json:"days,omitempty"`  // working days from today on, which is 0
	Until    string   `json:"until,omitempty"` // time of that day, as 17:00
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

// Promise is by when work of a priority and a kind is promised that comes in at a moment, by the company's clock: by the rule for the kind,
// or else the one for any. free tells of a date whether nobody works then. There is none without a rule.
func (s OrderSettings) Promise(p Priority, kind string, now time.Time, free func(date string) bool) (by time.Time, ok bool) {
	rule := slices.IndexFunc(s.Promises, func(r PromiseRule) bool { return r.Priority == p && r.Work != "" && r.Work == kind })
	if rule < 0 {
		rule = slices.IndexFunc(s.Promises, func(r PromiseRule) bool { return r.Priority == p && r.Work == "" })
	}
	if rule < 0 || s.Promises[rule].check() != nil {
		return by, false
	}
	r := s.Promises[rule]
	if r.Hours > 0 {
		by = now.Add(time.Duration(r.Hours) * time.Hour)
		if past := by.Truncate(grain); past.Before(by) {
			by = past.Add(grain)
		}
		return by, true
	}
	until, _ := time.Parse("15:04", r.Until) // it was checked
	on := func(after int) time.Time {
		y, m, d := now.Date()
		return time.Date(y, m, d+after, until.Hour(), until.Minute(), 0, 0, now.Location())
	}
	day, left := 0, r.Days
	if left == 0 && !on(0).After(now) {
		left = 1 // it is too late today
	}
	for tried := 0; tried < 2*mostDays && (left > 0 || free(on(day).Format(time.DateOnly))); tried++ {
		day++
		if !free(on(day).Format(time.DateOnly)) && left > 0 {
			left--
		}
	}
	return on(day), true
}
