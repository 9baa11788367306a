package work_test

import (
	"testing"
	"time"

	"github.com/stretchr/testify/assert"

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
		by, ok := rules.Promise(c.priority, c.kind, now, free)
		assert.True(t, ok)
		assert.Equal(t, c.want, by.Format("2006-01-02 15:04"), "%s %s at %s", c.priority, c.kind, c.now)
	}
	_, ok := work.OrderSettings{}.Promise(work.Soon, "", time.Now(), free)
	assert.False(t, ok)
	by, ok := rules.Promise(work.Normal, "", time.Date(2026, 11, 25, 8, 0, 0, 0, time.UTC), func(string) bool { return true })
	assert.True(t, ok, "nobody ever works: it still ends")
	assert.False(t, by.IsZero())
	for name, r := range map[string]work.PromiseRule{"no priority": {Hours: 1}, "nothing": {Priority: work.Soon},
		"a time that is none": {Priority: work.Soon, Days: 1, Until: "25:00"}, "too far": {Priority: work.Soon, Hours: 10_000},
		"no kind": {Priority: work.Soon, Hours: 1, Work: "a b"}} {
		assert.Error(t, work.OrderSettings{Promises: []work.PromiseRule{r}}.CheckNew(), name)
	}
}
