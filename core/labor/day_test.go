package labor_test

import (
	"fmt"
	"slices"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"iter.example/iter/core/labor"
)

func troubles(d labor.Day) string {
	var out []string
	for _, x := range d.Exceptions {
		line := string(x.Trouble) + " " + x.Start.Format("15:04")
		if !x.End.IsZero() {
			line += "-" + x.End.Format("15:04")
		}
		out = append(out, line)
	}
	return strings.Join(out, ", ")
}

func TestExceptionsOfADay(t *testing.T) {
	for name, c := range map[string]struct{ card, now, want string }{
		"a day in order":       {"08:00 day_start, 08:00 work A, 16:00 stop A, 16:00 day_end", "17:00", ""},
		"running now":          {"08:00 work A", "17:00", ""},
		"too long":             {"01:00 work A, 16:00 stop A", "17:00", "long_span 01:00-16:00"},
		"running for too long": {"01:00 work A", "17:00", "missing_end 01:00-17:00"},
		"a gap":                {"08:00 work A, 09:00 stop A, 09:20 work B, 10:00 stop B", "17:00", "gap 09:00-09:20"},
		"a short gap":          {"08:00 work A, 09:00 stop A, 09:10 work B, 10:00 stop B", "17:00", ""},
		"from the day's start": {"07:30 day_start, 08:00 work A, 09:00 stop A, 09:30 day_end", "17:00",
			"gap 07:30-08:00, gap 09:00-09:30"},
		"begun again": {"08:00 day_start, 08:00 work A, 10:00 stop A, 10:00 day_end, 15:00 day_start, 15:20 work " +
			"B, 16:00 stop B, 16:00 day_end", "17:00", "gap 15:00-15:20"},
		"two clocks":            {"08:00 work A by=lee, 10:00 stop A by=lee, 09:00 work B, 11:00 stop B", "17:00", "overlap 09:00-10:00"},
		"an end set by another": {"08:00 work A, 10:00 stop A by=mirin unconfirmed", "17:00", "end_unconfirmed 10:00"},
	} {
		t.Run(name, func(t *testing.T) {
			days := labor.Days(at(c.now), labor.Zone{}, nil, card(c.card))
			require.Len(t, days, 1)
			assert.Equal(t, c.want, troubles(days[0]))
		})
	}
}

func TestAForgottenClockIsToldOnItsOwnDay(t *testing.T) {
	days := labor.Days(at("08:00").Add(24*time.Hour), labor.Zone{}, nil, card("15:00 work A"))
	require.Len(t, days, 2)
	assert.Equal(t, "missing_end 15:00-08:00", troubles(days[0]))
	assert.Equal(t, "", troubles(days[1]))
	assert.Equal(t, int64(9*3600), days[0].Hours.Work)
}

// Once a day is approved, what still arrives waits for the office to approve it anew.
func TestApprovedDaysStayAsTheyWere(t *testing.T) {
	c := card("08:00 work A, 10:00 stop A")
	now := at("18:00")
	c.Correct(labor.Correction{Entry: "c1", At: at("11:00"), By: "ann",
		Pieces: []labor.Piece{{What: labor.What{Kind: labor.Work, Visit: "A"}, Start: at("10:00"), End: at("10:30")}}})
	assert.Equal(t, "correction_waits 10:00-10:30", troubles(labor.Days(now, labor.Zone{}, nil, c)[0]))
	c.Approve(labor.Approval{At: at("17:00"), By: "noll"})
	assert.Empty(t, labor.Days(now, labor.Zone{}, nil, c)[0].Exceptions)
	before := labor.Spans(now, c)

	c.Add(labor.Stamp{Entry: "99", At: at("12:00"), What: labor.What{Kind: labor.Work, Visit: "B"}})
	c.Correct(labor.Correction{Entry: "c2", At: at("16:00"),
		Pieces: []labor.Piece{{What: labor.What{Kind: labor.Off}, Start: at("08:00"), End: at("09:00")}}})
	assert.Equal(t, before, labor.Spans(now, c))
	assert.Equal(t, "late_stamp 08:00, late_stamp 12:00", troubles(labor.Days(now, labor.Zone{}, nil, c)[0]))

	c.Strike("01", true)
	assert.Equal(t, before, labor.Spans(now, c), "so does what was struck out")
	assert.Equal(t, "late_stamp 08:00, late_stamp 10:00, late_stamp 12:00", troubles(labor.Days(now, labor.Zone{}, nil, c)[0]))
	c.Strike("01", false)
	assert.Equal(t, before, labor.Spans(now, c))
	c.Strike("99", true)
	c.Strike("99", false)
	assert.Equal(t, before, labor.Spans(now, c), "and what was struck out and restored")

	struck := c
	struck.Stamps, struck.Corrections = slices.Clone(c.Stamps), slices.Clone(c.Corrections)
	struck.Strike("01", true)
	struck.Reopen()
	assert.Equal(t, "08:00-09:00 off , 09:00-10:00 work A, 10:00-10:30 work A, 10:30-12:00 work A, 12:00-18:00 work B open",
		show(labor.Spans(now, struck)), "once the day is open again, all counts")

	c.Approve(labor.Approval{At: at("17:30"), By: "noll"})
	assert.Equal(t, "08:00-09:00 off , 09:00-10:00 work A, 10:00-10:30 work A, 12:00-18:00 work B open", show(labor.Spans(now, c)))
}

// Days are cut at the first moment of a date, where the clock is put on or back at midnight too.
func TestDaysBeginWithTheirDate(t *testing.T) {
	for _, c := range []struct{ zone, date, want string }{
		{"Atlantic/Azores", "2026-10-25", "2026-10-25T00:00:00Z"}, // at one it is midnight again
		{"Atlantic/Azores", "2026-03-29", "2026-03-29T01:00:00Z"}, // at midnight it is one
		{"America/Havana", "2026-11-01", "2026-11-01T04:00:00Z"},
		{"America/Havana", "2026-03-08", "2026-03-08T05:00:00Z"},
		{"America/Scoresbysund", "2026-10-25", "2026-10-25T02:00:00Z"},
		{"Asia/Beirut", "2026-10-25", "2026-10-24T22:00:00Z"}, // at midnight it is eleven of the day before again
		{"Europe/Lisbon", "2026-10-25", "2026-10-24T23:00:00Z"},
	} {
		loc, err := time.LoadLocation(c.zone)
		require.NoError(t, err)
		zone := labor.ZoneOf(loc, 2026, 2026)
		noon, err := time.ParseInLocation("2006-01-02 15", c.date+" 12", loc)
		require.NoError(t, err)
		assert.Equal(t, c.want, zone.Midnight(noon).UTC().Format(time.RFC3339), "%s %s", c.zone, c.date)
		assert.Equal(t, zone.Midnight(noon), zone.Tomorrow(noon.Add(-24*time.Hour)), c.zone)
	}
	// In every zone and year, a second before the first moment of a date it is the date before.
	names := []string{"Atlantic/Azores", "America/Havana", "America/Scoresbysund", "Asia/Beirut", "Africa/Cairo", "America/Asuncion",
		"America/Santiago", "Australia/Lord_Howe", "Europe/Lisbon", "Asia/Kathmandu", "Asia/Tehran"}
	rapid.Check(t, func(t *rapid.T) {
		loc, err := time.LoadLocation(rapid.SampledFrom(names).Draw(t, "zone"))
		require.NoError(t, err)
		year := rapid.IntRange(2000, 2035).Draw(t, "year")
		zone := labor.ZoneOf(loc, year-1, year+1)
		at := time.Date(year, 1, 1, 0, 0, rapid.IntRange(0, 365*24*3600).Draw(t, "second"), 0, time.UTC)
		first := zone.Midnight(at)
		date := zone.In(at).Format(time.DateOnly)
		require.Equal(t, date, first.Format(time.DateOnly))
		require.Less(t, zone.In(first.Add(-time.Second)).Format(time.DateOnly), date)
		require.False(t, first.After(at))
	})
}

func TestZoneClock(t *testing.T) {
	loc, err := time.LoadLocation("Europe/Lisbon")
	require.NoError(t, err)
	zone := labor.ZoneOf(loc, 2026, 2026)
	for _, date := range []string{"2026-03-28", "2026-03-29", "2026-10-25"} {
		noon, err := time.ParseInLocation("2006-01-02 15", date+" 12", loc)
		require.NoError(t, err)
		for _, m := range []int{7 * 60, 18*60 + 30} {
			assert.Equal(t, fmt.Sprintf("%s %02d:%02d", date, m/60, m%60), zone.Clock(noon, m).Format("2006-01-02 15:04"))
		}
	}
}
