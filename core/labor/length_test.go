package labor_test

import (
	"testing"
	"time"

	"github.com/shopspring/decimal"
	"github.com/stretchr/testify/assert"
	"pgregory.net/rapid"

	"iter.example/iter/core/labor"
	"iter.example/iter/core/money"
)

const tuesday = "2026-03-10"

func told(minutes int) labor.Length {
	return labor.Length{Entry: "told", At: clock("18:00"), What: labor.What{Kind: labor.Work, Visit: "V1"}, Minutes: minutes}
}

func clock(hhmm string) time.Time {
	t, err := time.Parse("2006-01-02 15:04", tuesday+" "+hhmm)
	if err != nil {
		panic(err)
	}
	return t
}

// A length lies before what was clocked, then after it, then between: never over it.
func TestLengthsLieWhereThereIsRoom(t *testing.T) {
	for name, c := range map[string]struct {
		stamps  []string // begin and end, in turn
		minutes int
		want    []string
	}{
		"an empty day":            {nil, 90, []string{"08:00-09:30"}},
		"before the first":        {[]string{"08:00", "12:00"}, 45, []string{"07:15-08:00"}},
		"no time between is used": {[]string{"08:00", "12:00", "12:30", "16:00"}, 30, []string{"07:30-08:00"}},
		"then after the last":     {[]string{"00:20", "06:00"}, 60, []string{"00:00-00:20", "06:00-06:40"}},
		"then between":            {[]string{"00:00", "08:00", "12:00", "23:30"}, 60, []string{"08:00-08:30", "23:30-00:00"}},
	} {
		card := labor.Timecard{Person: "ann", Date: tuesday, Lengths: []labor.Length{told(c.minutes)}}
		for i, at := range c.stamps {
			kind := labor.Work
			if i%2 == 1 {
				kind = labor.DayEnd
			}
			card.Stamps = append(card.Stamps, labor.Stamp{Entry: at, At: clock(at), What: labor.What{Kind: kind}})
		}
		var got []string
		for _, s := range labor.Spans(clock("23:59"), card) {
			if s.Loose {
				got = append(got, s.Start.Format("15:04")+"-"+s.End.Format("15:04"))
			}
		}
		assert.Equal(t, c.want, got, name)
	}
}

// Whatever was clocked, spans never overlap, and a length counts in full as long as the day has room.
func TestLengthsCountInFull(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		card := labor.Timecard{Person: "ann", Date: tuesday}
		at := 0
		for at < 20*60 && rapid.Bool().Draw(t, "more") {
			at += rapid.IntRange(0, 200).Draw(t, "gap")
			card.Add(labor.Stamp{Entry: "b" + time.Duration(at).String(), At: clock("00:00").Add(time.Duration(at) * time.Minute),
				What: labor.What{Kind: labor.Work}})
			at += rapid.IntRange(1, 200).Draw(t, "long")
			card.Add(labor.Stamp{Entry: "e" + time.Duration(at).String(), At: clock("00:00").Add(time.Duration(at) * time.Minute),
				What: labor.What{Kind: labor.DayEnd}})
		}
		clocked := sum(labor.Spans(clock("23:59").Add(12*time.Hour), card))
		minutes := rapid.IntRange(1, 300).Draw(t, "minutes")
		card.AddLength(told(minutes))
		spans := labor.Spans(clock("23:59").Add(12*time.Hour), card)
		for i := 1; i < len(spans); i++ {
			assert.False(t, spans[i].Start.Before(spans[i-1].End))
		}
		assert.LessOrEqual(t, sum(spans)-clocked, int64(minutes)*60)
		if clocked+int64(minutes)*60 <= 20*3600 {
			assert.Equal(t, int64(minutes)*60, sum(spans)-clocked)
		}
	})
}

func sum(spans []labor.Span) (n int64) {
	for _, s := range spans {
		n += s.Seconds()
	}
	return n
}

// Nobody knows that a length was in the evening: it is billed as normal time.
func TestLengthsAreBilledAsNormalTime(t *testing.T) {
	card := labor.Timecard{Person: "ann", Date: tuesday, Lengths: []labor.Length{told(60)}}
	card.Add(labor.Stamp{Entry: "b", At: clock("06:30"), What: labor.What{Kind: labor.Work, Visit: "V1"}})
	card.Add(labor.Stamp{Entry: "e", At: clock("07:00"), What: labor.What{Kind: labor.DayEnd}})
	b := labor.Billing{MorningFrom: 7 * 60, EveningFrom: 18 * 60, Rates: []labor.Rate{{Class: labor.Normal, Hour: decimal.NewFromInt(60)},
		{Class: labor.Evening, Hour: decimal.NewFromInt(90)}}}
	bill := labor.Charge([]labor.Crew{{Person: "ann", Lead: true, Spans: labor.Spans(clock("20:00"), card)}}, "", b, money.Currency("EUR"),
		labor.Zone{}, nil)
	assert.Equal(t, "105", bill.Total.String(), "an hour, and half of one in the evening")
}
