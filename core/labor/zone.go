package labor

import (
	"sort"
	"time"
)

// Zone is the company's time zone as data, so that the core needs no time zone database: the name, and the moments at
// which the offset changes. It travels to the devices inside the policy.
type Zone struct {
	Name   string  `json:"name"`
	Shifts []Shift `json:"shifts"` // in order of From
}

// Shift is a moment from which an offset from UTC holds.
type Shift struct {
	From   int64 `json:"from"`   // seconds since 1970, UTC
	Offset int   `json:"offset"` // seconds east of UTC
}

// In gives t on the company's clock. A Zone with no shifts is UTC; before its first shift, the first offset holds.
func (z Zone) In(t time.Time) time.Time {
	if len(z.Shifts) == 0 {
		return t.UTC()
	}
	i := sort.Search(len(z.Shifts), func(i int) bool { return z.Shifts[i].From > t.Unix() })
	return t.In(time.FixedZone("", z.Shifts[max(i-1, 0)].Offset))
}

// Midnight is the first moment of t's local date.
func (z Zone) Midnight(t time.Time) time.Time {
	return z.Clock(t, 0)
}

// Tomorrow is the first moment of the local date after t's.
func (z Zone) Tomorrow(t time.Time) time.Time {
	// 36 hours past a local midnight is within the next local date, on days of 23 and 25 hours too.
	return z.Midnight(z.Midnight(t).Add(36 * time.Hour))
}

// Clock is the first moment at which the clock shows so many minutes past midnight, on t's local date. What it never shows, since it was
// put on past that, is the moment at which it was.
func (z Zone) Clock(t time.Time, minutes int) time.Time {
	l := z.In(t)
	return z.shows(time.Date(l.Year(), l.Month(), l.Day(), 0, minutes, 0, 0, time.UTC).Unix())
}

// On is the moment of a date (2006-01-02) so long after its midnight by the clock; the zero time when it is no date.
func (z Zone) On(date string, since time.Duration) time.Time {
	d, err := time.Parse(time.DateOnly, date)
	if err != nil {
		return time.Time{}
	}
	return z.shows(d.Add(since).Unix())
}

// shows is the first moment at which the clock shows what one of UTC does at wall, in seconds since 1970.
func (z Zone) shows(wall int64) time.Time {
	if len(z.Shifts) == 0 {
		return time.Unix(wall, 0).UTC()
	}
	// Each offset holds up to the shift after it: the first under which the clock comes to show this.
	for i, s := range z.Shifts {
		at := max(wall-int64(s.Offset), s.From)
		if i == 0 {
			at = wall - int64(s.Offset)
		}
		if i == len(z.Shifts)-1 || at < z.Shifts[i+1].From {
			return z.In(time.Unix(at, 0))
		}
	}
	return time.Time{} // there is a last shift
}

// ZoneOf reads the shifts of a location between two years, both included, to the second.
func ZoneOf(loc *time.Location, from, to int) Zone {
	z := Zone{Name: loc.String()}
	offset := func(s int64) int { _, o := time.Unix(s, 0).In(loc).Zone(); return o }
	end := time.Date(to+1, 1, 1, 0, 0, 0, 0, time.UTC).Unix()
	at := time.Date(from, 1, 1, 0, 0, 0, 0, time.UTC).Unix()
	z.Shifts = append(z.Shifts, Shift{at, offset(at)})
	const day = 24 * 60 * 60
	for ; at < end; at += day {
		if offset(at) == offset(at+day) {
			continue
		}
		lo, hi := at, at+day // the offset changes in (lo, hi]
		for lo+1 < hi {
			if mid := (lo + hi) / 2; offset(mid) == offset(at) {
				lo = mid
			} else {
				hi = mid
			}
		}
		z.Shifts = append(z.Shifts, Shift{hi, offset(hi)})
	}
	return z
}
