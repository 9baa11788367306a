package work_test

import (
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"iter.example/iter/core/calendar"
	"iter.example/iter/core/labor"
	"iter.example/iter/core/work"
)

// By when work is promised, by what the rules say and when it comes in. 28 November 2026 is a Saturday, and the 30th a holiday.
func TestPromises(t *testing.T) {
	rules := work.OrderSettings{Promises: []work.PromiseRule{
		{Priority: work.Emergency, Hours: 4}, {Priority: work.Soon, Days: 1, Until: "17:00"}, {Priority: work.Normal, Days: 5, Until: "12:00"},
		{Priority: work.Emergency, Work: "service", Days: 0, Until: "16:00"},
	}}
	free := func(date string) bool {
		d, _ := time.Parse(time.DateOnly, date)
		return d.Weekday() == time.Saturday || d.Weekday() == time.Sunday || date == "2026-11-30"
	}
	for _, c := range []struct {
		priority work.Priority
		kind     string
		now      string
		want     string
	}{
		{work.Emergency, "repair", "2026-11-25 10:07", "2026-11-25 14:15"},
		{work.Emergency, "", "2026-11-25 10:00", "2026-11-25 14:00"},
		{work.Emergency, "repair", "2026-11-28 23:00", "2026-11-29 03:00"},
		{work.Emergency, "service", "2026-11-25 10:00", "2026-11-25 16:00"},
		{work.Emergency, "service", "2026-11-25 16:00", "2026-11-26 16:00"},
		{work.Emergency, "service", "2026-11-28 10:00", "2026-12-01 16:00"},
		{work.Soon, "", "2026-11-25 18:00", "2026-11-26 17:00"},
		{work.Soon, "", "2026-11-27 08:00", "2026-12-01 17:00"},
		{work.Normal, "", "2026-11-25 08:00", "2026-12-03 12:00"},
	} {
		now, err := time.Parse("2006-01-02 15:04", c.now)
		assert.NoError(t, err)
		by := rules.Promise(c.priority, c.kind, now, work.Workdays{Free: free}).Come
		assert.Equal(t, c.want, by.Format("2006-01-02 15:04"), "%s %s at %s", c.priority, c.kind, c.now)
	}
	assert.Zero(t, work.OrderSettings{}.Promise(work.Soon, "", time.Now(), work.Workdays{Free: free}))
	never := work.Workdays{Free: func(string) bool { return true }}
	by := rules.Promise(work.Normal, "", time.Date(2026, 11, 25, 8, 0, 0, 0, time.UTC), never).Come
	assert.False(t, by.IsZero(), "nobody ever works: it still ends")
	for name, r := range map[string]work.PromiseRule{"no priority": {Hours: 1}, "nothing": {Priority: work.Soon},
		"a time that is none": {Priority: work.Soon, Days: 1, Until: "25:00"}, "too far": {Priority: work.Soon, Hours: 10_000},
		"no kind": {Priority: work.Soon, Hours: 1, Work: "a b"}} {
		assert.Error(t, work.OrderSettings{Promises: []work.PromiseRule{r}}.CheckRules(), name)
	}
}

// Hours in which the company works: from eight to four, and to noon on Fridays; and by when work is done, beside when somebody comes.
func TestPromisesInWorkingHours(t *testing.T) {
	rules := work.OrderSettings{Promises: []work.PromiseRule{{Priority: work.Soon, Hours: 4, Working: true},
		{Priority: work.Soon, Hours: 16, Working: true, Done: true}, {Priority: work.Normal, Days: 2, Until: "16:00", Done: true}}}
	week := calendar.Week{}
	for i := 1; i <= 5; i++ {
		week.Days[i] = []calendar.Stretch{{From: "08:00", To: "12:00"}, {From: "12:30", To: "16:30"}}
	}
	week.Days[5] = week.Days[5][:1]
	zone := labor.Zone{}
	times := calendar.Times{Usual: []calendar.Week{week}}
	w := work.Workdays{Free: func(date string) bool { return date == "2026-11-26" },
		Hours: func(date string) []calendar.Interval { return times.On(date, zone) }}
	at := func(text string) time.Time {
		out, err := time.Parse("2006-01-02 15:04", text)
		require.NoError(t, err)
		return out
	}
	for _, c := range []struct{ now, come, done string }{
		{"2026-11-23 08:00", "2026-11-23 12:00", "2026-11-24 16:30"}, // Monday
		{"2026-11-23 10:00", "2026-11-23 14:30", "2026-11-25 10:00"},
		{"2026-11-25 15:30", "2026-11-27 11:00", "2026-12-01 11:00"}, // over a holiday, a short Friday and the weekend
		{"2026-11-28 03:00", "2026-11-30 12:00", "2026-12-01 16:30"},
		{"2026-11-23 12:05", "2026-11-23 16:30", "2026-11-25 12:00"},
	} {
		p := rules.Promise(work.Soon, "", at(c.now), w)
		assert.Equal(t, []time.Time{at(c.come), at(c.done)}, []time.Time{p.Come.UTC(), p.Done.UTC()}, c.now)
	}
	p := rules.Promise(work.Normal, "", at("2026-11-23 08:00"), w)
	assert.Zero(t, p.Come)
	assert.Equal(t, at("2026-11-25 16:00"), p.Done.UTC())
	never := work.Workdays{Free: w.Free, Hours: func(string) []calendar.Interval { return nil }}
	assert.Equal(t, at("2026-11-23 12:00"), rules.Promise(work.Soon, "", at("2026-11-23 08:00"), never).Come.UTC(), "nobody ever works")
}
