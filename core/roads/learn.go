package roads

import (
	"slices"
	"time"
)

// Driven is a drive that was made: when it was begun, by the company's clock, what its roads take when they are free, and what they took,
// in seconds and without ferries.
type Driven struct {
	At         time.Time
	Free, Took int
}

// Learned is what drives say of an hour: how long they took, in percent of what they take on free roads, and how many they are.
type Learned struct {
	Busy
	Count int `json:"count"`
}

const (
	// Drives that are shorter than this, in seconds, say more of parking than of roads; and whoever took many times as long did something
	// else on the way.
	leastDriven = 5 * 60
	mostTimes   = 4
	// leastDrives is how many drives say something of an hour.
	leastDrives = 5
)

// sorts are the days that are taken to be alike: those of the week, Saturdays and Sundays.
var sorts = [][]int{{1, 2, 3, 4, 5}, {6}, {0}}

// Learn tells for each hour, of days that are alike, the middle of what its drives took. Hours of few drives are left out.
func Learn(drives []Driven) []Learned {
	out := []Learned{}
	for _, days := range sorts {
		var of [24][]int
		for _, d := range drives {
			if d.Free >= leastDriven && d.Took > 0 && d.Took <= mostTimes*d.Free && slices.Contains(days, int(d.At.Weekday())) {
				of[d.At.Hour()] = append(of[d.At.Hour()], d.Took*100/d.Free)
			}
		}
		for h, percents := range of {
			if len(percents) < leastDrives {
				continue
			}
			slices.Sort(percents)
			middle := min(max(percents[len(percents)/2], leastPercent), mostPercent)
			out = append(out, Learned{Busy{Days: days, From: h, To: h + 1, Percent: middle}, len(percents)})
		}
	}
	return out
}
