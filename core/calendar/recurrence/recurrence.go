// Package recurrence is days that come back, by the rules of RFC 5545 (3.3.10).
package recurrence

import (
	"strings"
	"time"

	"github.com/teambition/rrule-go"

	"iter.example/iter/core/msg"
)

// Rule says which days come back: FREQ=MONTHLY;INTERVAL=3, say. It is of days, so it has no time of day, and whoever has it says from
// which day it holds and until when.
type Rule struct{ options rrule.ROption }

const (
	// maxText is how long a rule may be, and mostEvery how far apart its days, in its own unit.
	maxText   = 200
	mostEvery = 1000
	// looked is for how many years it is looked whether a rule ever gives a day.
	looked = 12
)

// Parse reads a rule.
func Parse(text string) (Rule, error) {
	if len(text) > maxText {
		return Rule{}, msg.New("recurrence.unreadable", "rule", text[:maxText])
	}
	o, err := rrule.StrToROption(text)
	if err != nil || strings.Contains(text, "\n") {
		return Rule{}, msg.New("recurrence.unreadable", "rule", text)
	}
	if o.Freq > rrule.DAILY {
		return Rule{}, msg.New("recurrence.often")
	}
	if !o.Dtstart.IsZero() || !o.Until.IsZero() || o.Count != 0 || len(o.Byhour)+len(o.Byminute)+len(o.Bysecond)+len(o.Byeaster) > 0 {
		return Rule{}, msg.New("recurrence.parts")
	}
	if strings.Contains(text, "INTERVAL") && o.Interval < 1 || o.Interval > mostEvery {
		return Rule{}, msg.New("recurrence.every")
	}
	o.Dtstart = time.Unix(0, 0).UTC() // the library looks whether the parts are in bounds as it makes a rule
	if _, err := rrule.NewRRule(*o); err != nil {
		return Rule{}, msg.New("recurrence.unreadable", "rule", text)
	}
	return Rule{*o}, nil
}

// Days gives the days of a rule that holds from a day on, from after one until another, at most so many. All are 2006-01-02; those that
// don't read give none.
func (r Rule) Days(begin, after, until string, most int) []string {
	start, err := time.Parse(time.DateOnly, begin)
	end, err2 := time.Parse(time.DateOnly, until)
	if err != nil || err2 != nil {
		return nil
	}
	o := r.options
	o.Dtstart, o.Until = start, end
	lastOfMonth(&o, start)
	rule, err := rrule.NewRRule(o)
	if err != nil {
		return nil
	}
	var out []string
	next := rule.Iterator()
	for day, ok := next(); ok && len(out) < most; day, ok = next() {
		if date := day.Format(time.DateOnly); date > after {
			out = append(out, date)
		}
	}
	return out
}

// lastOfMonth has a rule that says nothing of the day within the month, and began on one that some months lack, come on their last. By the
// RFC alone it would pass those months over, which nobody means who has a machine looked after every month from 31 January on.
func lastOfMonth(o *rrule.ROption, start time.Time) {
	if o.Freq != rrule.MONTHLY && (o.Freq != rrule.YEARLY || len(o.Bymonth) > 1) || start.Day() <= 28 ||
		len(o.Byweekday)+len(o.Bymonthday)+len(o.Byyearday)+len(o.Byweekno)+len(o.Bysetpos) > 0 {
		return
	}
	if o.Freq == rrule.YEARLY && len(o.Bymonth) == 0 {
		o.Bymonth = []int{int(start.Month())}
	}
	for day := 28; day <= start.Day(); day++ {
		o.Bymonthday = append(o.Bymonthday, day)
	}
	o.Bysetpos = []int{-1}
}

// Check says what is wrong with a rule that is to hold from a day on: one that never gives a day.
func Check(text, begin string) error {
	r, err := Parse(text)
	if err != nil {
		return err
	}
	from, err := time.Parse(time.DateOnly, begin)
	if err != nil {
		return msg.New("recurrence.begin")
	}
	if len(r.Days(begin, "", from.AddDate(looked, 0, 0).Format(time.DateOnly), 1)) == 0 {
		return msg.New("recurrence.never", "years", "12")
	}
	return nil
}
