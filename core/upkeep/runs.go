package upkeep

import (
	"slices"
	"time"

	"github.com/shopspring/decimal"

	"iter.example/iter/core/reading"
)

// Run is how far a counter had gone on a day, since it was read first: over replacements, and over zero.
type Run struct {
	Day string
	Sum decimal.Decimal
}

// RunsOf adds up what was read at a counter, in order of time. What was struck out is left out, and what the counter can't have shown: one
// that fell without having been replaced, until it is read higher than it was.
func RunsOf(p reading.Point, list []reading.Result) (out []Run) {
	var last reading.Result
	for _, r := range list {
		if r.Struck || r.Doubt == reading.Unlike {
			continue
		}
		day := r.At.Format(time.DateOnly)
		if len(out) == 0 {
			if _, fits := p.Moved(r, r); !fits {
				continue
			}
			out, last = append(out, Run{day, decimal.Zero}), r
			continue
		}
		moved, ok := p.Moved(last, r)
		if !ok || moved.IsNegative() {
			continue
		}
		at := &out[len(out)-1]
		if sum := at.Sum.Add(moved); at.Day == day {
			at.Sum = sum
		} else {
			out = append(out, Run{day, sum})
		}
		last = r
	}
	return out
}

// lately is over how many days how fast a counter runs is taken from, and soonest how many at least.
const lately, soonest = 400, 7

// pace is how much a counter runs in how many days, by its readings of the last while; not ok when it stands, or too little is known.
func pace(runs []Run) (moved decimal.Decimal, days int, ok bool) {
	if len(runs) < 2 {
		return moved, 0, false
	}
	last := runs[len(runs)-1]
	first := runs[0]
	for _, r := range runs {
		if apart(r.Day, last.Day) <= lately {
			break
		}
		first = r
	}
	moved, days = last.Sum.Sub(first.Sum), apart(first.Day, last.Day)
	return moved, days, days >= soonest && moved.IsPositive()
}

// sumAt is how far a counter had gone by the end of a day: between two readings in proportion, after the last as it runs, and before the
// first as at it. Not ok without a reading.
func sumAt(runs []Run, day string) (decimal.Decimal, bool) {
	if len(runs) == 0 {
		return decimal.Zero, false
	}
	i, found := slices.BinarySearchFunc(runs, day, func(r Run, day string) int {
		switch {
		case r.Day < day:
			return -1
		case r.Day > day:
			return 1
		}
		return 0
	})
	switch {
	case found || i == 0:
		return runs[i].Sum, true
	case i == len(runs):
		last := runs[i-1]
		moved, days, ok := pace(runs)
		if !ok {
			return last.Sum, true
		}
		return last.Sum.Add(moved.Mul(whole(apart(last.Day, day))).DivRound(whole(days), places)), true
	}
	a, b := runs[i-1], runs[i]
	return a.Sum.Add(b.Sum.Sub(a.Sum).Mul(whole(apart(a.Day, day))).DivRound(whole(apart(a.Day, b.Day)), places)), true
}

// places is to how many decimals what a counter showed between readings is reckoned.
const places = 6

// reaches is the day on which a counter comes to a sum, not before a day; guessed when that is after its last reading. Not ok when how
// fast it runs is not known.
func reaches(runs []Run, sum decimal.Decimal, since string) (day string, guessed, ok bool) {
	for _, r := range runs {
		if r.Day >= since && r.Sum.GreaterThanOrEqual(sum) {
			return r.Day, false, true
		}
	}
	moved, days, ok := pace(runs)
	if !ok {
		return "", false, false
	}
	last := runs[len(runs)-1]
	left := sum.Sub(last.Sum).Mul(whole(days)).DivRound(moved, places).Ceil()
	if left.GreaterThan(whole(farthest)) {
		return "", false, false
	}
	return max(AddDays(last.Day, int(max(left.IntPart(), 0))), since), true, true
}

// apart is how many days lie between two.
func apart(from, to string) int {
	a, err := time.Parse(time.DateOnly, from)
	b, err2 := time.Parse(time.DateOnly, to)
	if err != nil || err2 != nil {
		return 0
	}
	return int(b.Sub(a) / (24 * time.Hour))
}

func whole(n int) decimal.Decimal { return decimal.NewFromInt(int64(n)) }
