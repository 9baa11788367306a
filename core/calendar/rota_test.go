package calendar_test

import (
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"iter.example/iter/core/calendar"
)

// nights is a rota of three people, a week each from a Monday on: from the end of the day to the morning, all of Sunday.
func nights() calendar.Rota {
	r := calendar.Rota{ID: "nights", Name: "Nights", From: "2026-03-02", Days: 7, People: []string{"ann", "ben", "cat"}}
	for d := range r.Hours {
		r.Hours[d] = []calendar.Stretch{{From: "16:30", To: "08:00"}}
	}
	r.Hours[time.Sunday] = []calendar.Stretch{{From: "08:00", To: "08:00"}}
	return r
}

func TestWhoseTurnADateIs(t *testing.T) {
	r := nights()
	r.To = "2026-06-30"
	r.Swaps = []calendar.Swap{{From: "2026-03-03", To: "2026-03-05", Person: "cat"}, {From: "2026-03-05", To: "2026-03-05", Person: "dov"}}
	for date, want := range map[string]string{
		"2026-03-01": "", "2026-03-02": "ann", "2026-03-03": "cat", "2026-03-05": "dov", "2026-03-06": "ann", "2026-03-08": "ann",
		"2026-03-09": "ben", "2026-03-16": "cat", "2026-03-23": "ann",
		"2026-03-29": "ann", // the clock is put forward in many places
		"2026-03-30": "ben", "2026-06-30": "cat", "2026-07-01": "", "soon": "",
	} {
		assert.Equal(t, want, r.On(date), date)
	}
}

// Duty over midnight is of whoever it began for, on both days, and each moment of a rota without gaps is somebody's and of one alone.
func TestDutyOf(t *testing.T) {
	clock := clock(t)
	on := func(date string) calendar.Interval {
		return calendar.Interval{Begin: clock.On(date, 0), End: clock.On(date, 24*time.Hour)}
	}
	got := calendar.DutyOf([]calendar.Rota{nights()}, "ann", on("2026-03-09"), clock)
	require.Len(t, got, 1, "it is ben's turn, and ann's night ends at eight")
	assert.Equal(t, "00:00 08:00", got[0].Begin.Format("15:04")+" "+got[0].End.Format("15:04"))
	assert.Equal(t, "Nights", got[0].Rota)
	ben := calendar.DutyOf([]calendar.Rota{nights()}, "ben", on("2026-03-09"), clock)
	require.Len(t, ben, 1)
	assert.Equal(t, "16:30", ben[0].Begin.Format("15:04"))

	r := nights()
	for d := range r.Hours {
		r.Hours[d] = []calendar.Stretch{{From: "08:00", To: "08:00"}}
	}
	for date := clock.On("2026-03-10", 0); date.Before(clock.On("2026-05-01", 0)); date = date.AddDate(0, 0, 1) {
		day := on(date.Format(time.DateOnly))
		var sum time.Duration
		for _, p := range r.People {
			for _, d := range calendar.DutyOf([]calendar.Rota{r}, p, day, clock) {
				sum += d.Length()
			}
		}
		assert.Equal(t, day.Length(), sum, date)
	}
}

func TestCheckRotas(t *testing.T) {
	require.NoError(t, calendar.CheckRotas([]calendar.Rota{nights()}))
	for name, change := range map[string]func(*calendar.Rota){
		"no name":             func(r *calendar.Rota) { r.Name = "" },
		"no beginning":        func(r *calendar.Rota) { r.From = "" },
		"ends before":         func(r *calendar.Rota) { r.To = "2026-03-01" },
		"turns of no days":    func(r *calendar.Rota) { r.Days = 0 },
		"nobody":              func(r *calendar.Rota) { r.People = nil },
		"no such time":        func(r *calendar.Rota) { r.Hours[1] = []calendar.Stretch{{From: "25:00", To: "26:00"}} },
		"swapped with nobody": func(r *calendar.Rota) { r.Swaps = []calendar.Swap{{From: "2026-03-03", To: "2026-03-04"}} },
	} {
		r := nights()
		change(&r)
		assert.Error(t, calendar.CheckRotas([]calendar.Rota{r}), name)
	}
}
