package work_test

import (
	"maps"
	"slices"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"

	"iter.example/iter/core/records"
	"iter.example/iter/core/work"
)

func TestSeenAhead(t *testing.T) {
	tomorrow := time.Date(2026, 3, 11, 0, 0, 0, 0, time.UTC)
	list := []work.Coming{
		{"over", tomorrow.Add(-40 * time.Hour), work.Finished},
		{"left", tomorrow.Add(-30 * time.Hour), work.Accepted},
		{"begun", tomorrow.Add(-14 * time.Hour), work.OnSite},
		{"declined", tomorrow.Add(-31 * time.Hour), work.Declined},
		{"later", tomorrow.Add(-9 * time.Hour), work.Sent},
		{"last", tomorrow.Add(-8 * time.Hour), work.Accepted},
		{"tomorrow", tomorrow.Add(9 * time.Hour), work.Sent},
	}
	for ahead, want := range map[records.Ahead][]string{
		"":                 {"begun", "declined", "last", "later", "left", "over", "tomorrow"},
		records.AheadAll:   {"begun", "declined", "last", "later", "left", "over", "tomorrow"},
		records.AheadToday: {"begun", "declined", "last", "later", "left", "over"},
		records.AheadNext:  {"begun", "declined", "later", "left", "over"},
	} {
		seen := work.SeenAhead(ahead, tomorrow, list)
		maps.DeleteFunc(seen, func(_ string, yes bool) bool { return !yes })
		assert.Equal(t, want, slices.Sorted(maps.Keys(seen)), ahead)
	}
	assert.Empty(t, work.SeenAhead(records.AheadNext, tomorrow, nil))
}
