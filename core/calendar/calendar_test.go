package calendar_test

import (
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"iter.example/iter/core/calendar"
)

// dublin is a clock that is put forward and back in summer.
type dublin struct{ *time.Location }

func (d dublin) On(date string, since time.Duration) time.Time {
	t, _ := time.Parse(time.DateOnly, date)
	minutes := int(since / time.Minute)
	return time.Date(t.Year(), t.Month(), t.Day(), minutes/60, minutes%60, 0, 0, d.Location)
}

func clock(t require.TestingT) dublin {
	l, err := time.LoadLocation("Europe/Dublin")
	require.NoError(t, err)
	return dublin{l}
}

// week has the same stretches from Monday to Friday.
func week(from, to string, stretches ...calendar.Stretch) calendar.Week {
	w := calendar.Week{From: from, To: to}
	for d := 1; d <= 5; d++ {
		w.Days[d] = stretches
	}
	return w
}

func show(list []calendar.Interval) string {
	var out []string
	for _, i := range list {
		out = append(out, i.Begin.Format("2 15:04")+"-"+i.End.Format("2 15:04"))
	}
	return strings.Join(out, ", ")
}

var long, early = calendar.Stretch{From: "08:00", To: "16:30"}, calendar.Stretch{From: "06:00", To: "12:00"}

// Working hours of days in November and December 2026; the 25th is a Wednesday.
func TestHoursOfADay(t *testing.T) {
	c := clock(t)
	times := calendar.Times{
		Weeks: []calendar.Week{week("2026-12-01", "2026-12-11", early), week("2026-12-07", "", calendar.Stretch{From: "22:00", To: "06:00"})},
		Usual: []calendar.Week{week("", "", calendar.Stretch{From: "08:00", To: "12:00"}, calendar.Stretch{From: "12:30", To: "16:30"}),
			week("2026-11-27", "", long)},
		Holidays: []string{"2026-11-30"},
		Off: []calendar.Off{{From: "2026-11-26", To: "2026-11-26", End: "10:00"}, {From: "2026-12-02", To: "2026-12-03"},
			{From: "2026-11-27", To: "2026-11-27", Begin: "14:00"}},
	}
	for date, want := range map[string]string{
		"2026-11-25": "25 08:00-25 12:00, 25 12:30-25 16:30",
		"2026-11-26": "26 10:00-26 12:00, 26 12:30-26 16:30",
		"2026-11-27": "27 08:00-27 14:00",
		"2026-11-28": "", "2026-11-30": "",
		"2026-12-01": "1 06:00-1 12:00",
		"2026-12-02": "", "2026-12-03": "",
		"2026-12-07": "7 22:00-8 06:00", // the week that begins last counts
		"2026-12-14": "14 22:00-15 06:00",
		"nonsense":   "",
	} {
		assert.Equal(t, want, show(times.On(date, c)), date)
	}
	off, is := times.Absent("2026-12-02", c)
	assert.True(t, is)
	assert.Equal(t, "2026-12-02", off.From)
	for _, date := range []string{"2026-11-26", "2026-11-28", "2026-11-30", "2026-12-01"} {
		_, is := times.Absent(date, c)
		assert.False(t, is, date)
	}
	night := calendar.Interval{Begin: c.On("2026-12-15", 4*time.Hour), End: c.On("2026-12-16", 23*time.Hour)}
	assert.Equal(t, "15 04:00-15 06:00, 15 22:00-16 06:00, 16 22:00-16 23:00", show(times.Between(night, c)))
	assert.Equal(t, 24*time.Hour, calendar.Sum(calendar.Times{}.On("2026-11-25", c)), "nothing is said of when")
	// A night on which the clock is put back has an hour more.
	always := calendar.Times{Weeks: []calendar.Week{{Days: [7][]calendar.Stretch{6: {{From: "22:00", To: "06:00"}}}}}}
	assert.Equal(t, 9*time.Hour, calendar.Sum(always.On("2026-10-24", c)))
}

// Hours add up: what is off and what is left of any day are what there would be, and nothing overlaps.
func TestHoursAddUp(t *testing.T) {
	c := clock(t)
	at := func(t *rapid.T, label string) string {
		return time.Unix(int64(rapid.IntRange(0, 95).Draw(t, label)*900), 0).UTC().Format("15:04")
	}
	date := func(t *rapid.T, label string) string {
		return time.Date(2026, 3, 20+rapid.IntRange(0, 20).Draw(t, label), 0, 0, 0, 0, time.UTC).Format(time.DateOnly)
	}
	rapid.Check(t, func(t *rapid.T) {
		var times calendar.Times
		for range rapid.IntRange(0, 3).Draw(t, "weeks") {
			w := calendar.Week{From: date(t, "from")}
			for d := range w.Days {
				for range rapid.IntRange(0, 2).Draw(t, "stretches") {
					w.Days[d] = append(w.Days[d], calendar.Stretch{From: at(t, "begin"), To: at(t, "end")})
				}
			}
			times.Weeks = append(times.Weeks, w)
		}
		for range rapid.IntRange(0, 3).Draw(t, "off") {
			from, to := date(t, "off from"), date(t, "off to")
			if to < from {
				from, to = to, from
			}
			o := calendar.Off{From: from, To: to}
			if rapid.Bool().Draw(t, "part") && from != to {
				o.Begin, o.End = at(t, "off begin"), at(t, "off end")
			}
			times.Off = append(times.Off, o)
		}
		on := date(t, "on")
		whole := calendar.Times{Weeks: times.Weeks}.On(on, c)
		left := times.On(on, c)
		taken := time.Duration(0)
		for _, i := range whole {
			taken += calendar.Outside(i, left)
		}
		assert.Equal(t, calendar.Sum(whole), calendar.Sum(left)+taken)
		for i := 1; i < len(left); i++ {
			assert.True(t, left[i-1].End.Before(left[i].Begin) || left[i-1].End.Equal(left[i].Begin))
		}
		for _, i := range left {
			assert.Zero(t, calendar.Outside(i, whole), "nobody works when there are no hours")
		}
	})
}

// What is said of hours must be hours.
func TestHoursAreChecked(t *testing.T) {
	for name, w := range map[string]calendar.Week{
		"no date": {From: "soon"}, "ends before it begins": {From: "2026-12-01", To: "2026-11-01"},
		"no time":      week("", "", calendar.Stretch{From: "8", To: "12:00"}),
		"from the end": week("", "", calendar.Stretch{From: "24:00", To: "24:00"}),
		"twice":        week("", "", long, early), "many": week("", "", make([]calendar.Stretch, 9)...),
	} {
		assert.Error(t, calendar.CheckWeeks([]calendar.Week{w}), name)
	}
	late := calendar.Stretch{From: "12:00", To: "24:00"}
	assert.NoError(t, calendar.CheckWeeks([]calendar.Week{week("2026-01-01", "2026-12-31", early, late)}))
	assert.Error(t, calendar.CheckWeeks(make([]calendar.Week, 101)))
	for name, o := range map[string]calendar.Off{
		"no day": {}, "no last day": {From: "2026-01-01"}, "backwards": {From: "2026-01-02", To: "2026-01-01"},
		"no time":                          {From: "2026-01-01", To: "2026-01-01", Begin: "noon"},
		"a day that ends before it begins": {From: "2026-01-01", To: "2026-01-01", Begin: "12:00", End: "11:00"},
		"a novel":                          {From: "2026-01-01", To: "2026-01-01", Why: strings.Repeat("x", 501)},
	} {
		assert.Error(t, calendar.CheckOff([]calendar.Off{o}), name)
	}
	assert.NoError(t, calendar.CheckOff([]calendar.Off{{From: "2026-01-01", To: "2026-01-09", Begin: "12:00", End: "11:00"}}))
	assert.Error(t, calendar.CheckOff(make([]calendar.Off, 1001)))
}
