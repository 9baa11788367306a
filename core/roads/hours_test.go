package roads_test

import (
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"pgregory.net/rapid"

	"iter.example/iter/core/roads"
)

const hour, day = 3600, 24 * 3600

var working = []int{1, 2, 3, 4, 5}

// How long an hour's way with half an hour of ferry takes, by when it begins: on Mondays it is half as long again from 7 to 9.
func TestBusyHours(t *testing.T) {
	h := roads.NewHours([]roads.Busy{{Days: working, From: 7, To: 9, Percent: 150}, {Days: []int{0}, From: 0, To: 24, Percent: 80}})
	for _, c := range []struct {
		at, road, ferry, want int
	}{
		{day + 12*hour, hour, 0, hour},
		{day + 7*hour, hour, 0, 5400},
		{day + 6*hour + hour/2, hour, 0, 1800 + 2700},     // half of it before
		{day + 8*hour + hour/2, hour, 0, 1800 + 2400},     // a third of it in the last half hour
		{day + 7*hour, hour, 1800, 5400 + 1800},           // ferries keep their time
		{day + 7*hour, 0, 1800, 1800},                     // and nothing else is slower
		{12 * hour, hour, 0, 2880},                        // Sunday
		{7*day - hour/2, hour, 0, 1800 + 1440},            // over the end of the week, into Sunday
		{day - hour/2, 6 * hour, 0, 1800 + 6*hour - 2250}, // Sunday's last half hour does 2250 s, and it ends before seven
	} {
		assert.InDelta(t, c.want, h.After(c.at, c.road, c.ferry), 2, "%+v", c)
	}
	assert.Equal(t, 90, (*roads.Hours)(nil).After(0, 60, 30))
	assert.Equal(t, 90, (*roads.Hours)(nil).Before(0, 60, 30))
	assert.Nil(t, roads.NewHours(nil))
}

// Who sets off later is never there sooner, and who is to be there at a moment and sets off in time is there at it.
func TestLaterIsNeverSooner(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		var said []roads.Busy
		for range rapid.IntRange(1, 6).Draw(t, "lines") {
			from := rapid.IntRange(0, 23).Draw(t, "from")
			said = append(said, roads.Busy{Days: rapid.SliceOfNDistinct(rapid.IntRange(0, 6), 1, 7, rapid.ID[int]).Draw(t, "days"), From: from,
				To: rapid.IntRange(from+1, 24).Draw(t, "to"), Percent: rapid.IntRange(50, 400).Draw(t, "percent")})
		}
		h := roads.NewHours(said)
		at, road := rapid.IntRange(0, 7*day-1).Draw(t, "at"), rapid.IntRange(0, 8*hour).Draw(t, "road")
		ferry := rapid.IntRange(0, hour).Draw(t, "ferry")
		there := at + h.After(at, road, ferry)
		later := at + rapid.IntRange(0, hour).Draw(t, "later")
		assert.LessOrEqual(t, there, later+h.After(later, road, ferry)+1)
		assert.InDelta(t, there-at, h.Before(there%(7*day), road, ferry), 12, "and back")
		assert.LessOrEqual(t, h.After(at, road, ferry), 4*road+ferry)
		assert.GreaterOrEqual(t, 2*h.After(at, road, ferry)+2, road+2*ferry)
	})
}

// What is said of hours must be hours.
func TestHoursAreChecked(t *testing.T) {
	for name, b := range map[string]roads.Busy{
		"no day": {From: 7, To: 9, Percent: 120}, "a day that is none": {Days: []int{7}, From: 7, To: 9, Percent: 120},
		"backwards": {Days: working, From: 9, To: 7, Percent: 120}, "too late": {Days: working, From: 7, To: 25, Percent: 120},
		"nothing": {Days: working, From: 7, To: 9}, "standing still": {Days: working, From: 7, To: 9, Percent: 5000},
	} {
		assert.Error(t, roads.Settings{Busy: []roads.Busy{b}}.CheckRules(), name)
		assert.Equal(t, 60, roads.NewHours([]roads.Busy{b}).After(day+8*hour, 60, 0), name)
	}
	assert.NoError(t, roads.Settings{Busy: []roads.Busy{{Days: working, From: 0, To: 24, Percent: 100}}}.CheckRules())
	assert.Equal(t, 3*day+5*hour+61, roads.SecondOfWeek(time.Date(2026, 11, 25, 5, 1, 1, 0, time.UTC)))
}

// What was driven says how long drives take at an hour: the middle of them, where they are enough, without those that say nothing.
func TestHoursAreLearned(t *testing.T) {
	monday := time.Date(2026, 11, 23, 8, 20, 0, 0, time.UTC)
	var drives []roads.Driven
	add := func(at time.Time, free int, percents ...int) {
		for i, p := range percents {
			drives = append(drives, roads.Driven{At: at.AddDate(0, 0, i%5), Free: free, Took: free * p / 100})
		}
	}
	add(monday, 1200, 150, 140, 160, 130, 145, 390)
	add(monday.Add(4*time.Hour), 1200, 100, 100, 90, 110)     // too few
	add(monday.Add(6*time.Hour), 60, 900, 900, 900, 900, 900) // parking
	add(monday.Add(8*time.Hour), 1200, 900, 900, 900, 900, 900, 100)
	for range 5 {
		drives = append(drives, roads.Driven{At: monday.AddDate(0, 0, 5), Free: 1000, Took: 300})
	}
	assert.Equal(t, []roads.Learned{{Busy: roads.Busy{Days: working, From: 8, To: 9, Percent: 150}, Count: 6},
		{Busy: roads.Busy{Days: []int{6}, From: 8, To: 9, Percent: 50}, Count: 5}}, roads.Learn(drives))
	assert.Empty(t, roads.Learn(nil))
	w := roads.NewHours([]roads.Busy{{Days: working, From: 0, To: 24, Percent: 200}}).From(&roads.Way{Seconds: 900, Ferry: 300,
		Parts: []roads.Part{{Class: roads.Main, Seconds: 600}, {Class: roads.Ferry, Seconds: 300}}}, monday)
	assert.Equal(t, []int{1500, 900, 1200, 300}, []int{w.Seconds, w.Free, w.Parts[0].Seconds, w.Parts[1].Seconds})
}
