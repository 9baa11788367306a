package feed_test

import (
	"strings"
	"testing"
	"time"

	ics "github.com/arran4/golang-ical"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"iter.example/iter/core/records"
	"iter.example/iter/server/feed"
)

// What is written is read back as it was meant, whatever stands in a name.
func TestCalendar(t *testing.T) {
	zone := time.FixedZone("", 3600)
	day := func(d int) time.Time { return time.Date(2026, 3, d, 0, 0, 0, 0, zone) }
	start := time.Date(2026, 3, 10, 9, 0, 0, 0, zone)
	text := feed.Calendar("Ann Vale", []feed.Event{
		{ID: "v1", Summary: "Well 7: hums; drips, and\nleaks", Location: "Slip Lane 4", Description: "4127", Start: start,
			End: start.Add(time.Hour), At: &records.Point{Lat: 54.5, Lon: -9.25}},
		{ID: "a1", Summary: "Leave", AllDay: true, Start: day(12), End: day(14)},
	}, start)
	c, err := ics.ParseCalendar(strings.NewReader(text))
	require.NoError(t, err)
	events := c.Events()
	require.Len(t, events, 2)
	at, err := events[0].GetStartAt()
	require.NoError(t, err)
	assert.True(t, at.Equal(start), at)
	assert.Equal(t, "Well 7: hums; drips, and\nleaks", ics.FromText(events[0].GetProperty(ics.ComponentPropertySummary).Value))
	assert.Equal(t, "v1@iter", events[0].Id())
	assert.Equal(t, "54.5;-9.25", events[0].GetProperty(ics.ComponentPropertyGeo).Value)
	assert.Contains(t, text, "DTSTART;VALUE=DATE:20260312\r\n")
	assert.Contains(t, text, "DTEND;VALUE=DATE:20260314\r\n")
	for line := range strings.SplitSeq(text, "\r\n") {
		assert.LessOrEqual(t, len(line), 75, "RFC 5545, 3.1: %s", line)
	}
}
