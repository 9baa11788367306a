package labor_test

import (
	"fmt"
	"math/rand"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"iter.example/iter/core/labor"
)

func at(hm string) time.Time {
	t, err := time.Parse("2006-01-02 15:04", "2026-03-10 "+hm)
	if err != nil {
		panic(err)
	}
	return t
}

// stamps reads "08:00 travel A, 08:30 work A": a time, a kind, a visit.
func stamps(text string) []labor.Stamp {
	var out []labor.Stamp
	for i, s := range strings.Split(text, ", ") {
		f := strings.Fields(s)
		out = append(out, labor.Stamp{Entry: fmt.Sprintf("%02d", i), At: at(f[0]), Kind: labor.Kind(f[1]), Visit: f[2]})
	}
	return out
}

func show(spans []labor.Span) string {
	var out []string
	for _, s := range spans {
		line := fmt.Sprintf("%s-%s %s %s", s.Start.Format("15:04"), s.End.Format("15:04"), s.Kind, s.Visit)
		if s.Open {
			line += " open"
		}
		out = append(out, line)
	}
	return strings.Join(out, ", ")
}

func TestSpans(t *testing.T) {
	for name, c := range map[string]struct{ stamps, want string }{
		"a plain visit":                       {"08:00 travel A, 08:30 work A, 10:00 stop A", "08:00-08:30 travel A, 08:30-10:00 work A"},
		"a pause":                             {"08:00 work A, 09:00 break A, 09:30 work A, 10:00 stop A", "08:00-09:00 work A, 09:00-09:30 break A, 09:30-10:00 work A"},
		"still running":                       {"08:00 work A", "08:00-18:00 work A open"},
		"the next visit ends the last":        {"08:00 work A, 09:00 travel B, 09:20 work B, 10:00 stop B", "08:00-09:00 work A, 09:00-09:20 travel B, 09:20-10:00 work B"},
		"a late finish stops only its visit":  {"08:00 work A, 09:00 travel B, 09:10 stop A, 09:20 work B, 10:00 stop B", "08:00-09:00 work A, 09:00-09:20 travel B, 09:20-10:00 work B"},
		"a stop without a start":              {"08:00 stop A", ""},
		"two stops":                           {"08:00 work A, 09:00 stop A, 09:30 stop A", "08:00-09:00 work A"},
		"no length, no span":                  {"08:00 travel A, 08:00 work A, 09:00 stop A", "08:00-09:00 work A"},
		"a stamp in the future is not yet so": {"08:00 work A, 19:00 stop A", "08:00-18:00 work A open"},
	} {
		t.Run(name, func(t *testing.T) {
			assert.Equal(t, c.want, show(labor.Spans(stamps(c.stamps), at("18:00"))))
		})
	}
}

func TestStruckAndRepeatedStampsDoNotCount(t *testing.T) {
	s := stamps("08:00 work A, 08:30 break A, 09:00 stop A")
	s[1].Struck = true
	assert.Equal(t, "08:00-09:00 work A", show(labor.Spans(append(s, s...), at("18:00"))))
}

func TestTimecardTakesAStampOnce(t *testing.T) {
	var c labor.Timecard
	for _, s := range stamps("09:00 stop A, 08:00 work A, 09:00 stop A") {
		s.Entry = s.At.Format("1504")
		c.Add(s)
	}
	require.Len(t, c.Stamps, 2)
	assert.Equal(t, labor.Work, c.Stamps[0].Kind, "in order of time")
	assert.True(t, c.Strike("0800", true))
	assert.False(t, c.Strike("0800", true), "once")
	assert.False(t, c.Strike("0700", true), "never recorded")
}

func TestZone(t *testing.T) {
	loc, err := time.LoadLocation("Europe/Lisbon")
	require.NoError(t, err)
	z := labor.ZoneOf(loc, 2026, 2027)
	require.Len(t, z.Shifts, 5, "a start and four changes")
	rapid.Check(t, func(t *rapid.T) {
		m := time.Unix(rapid.Int64Range(z.Shifts[0].From, z.Shifts[0].From+2*365*86400-1).Draw(t, "moment"), 0)
		const layout = "2006-01-02T15:04:05Z07:00"
		assert.Equal(t, m.In(loc).Format(layout), z.In(m).Format(layout))
		y, mo, d := m.In(loc).Date()
		assert.True(t, time.Date(y, mo, d, 0, 0, 0, 0, loc).Equal(z.Midnight(m)))
	})
	assert.Equal(t, at("08:00"), labor.Zone{}.In(at("08:00")), "an empty zone is UTC")
}

func TestSplitOnDaysOf23And25Hours(t *testing.T) {
	loc, err := time.LoadLocation("Europe/Lisbon")
	require.NoError(t, err)
	z := labor.ZoneOf(loc, 2026, 2026)
	for date, hours := range map[string]float64{"2026-03-29": 23, "2026-10-25": 25, "2026-06-01": 24} {
		noon, err := time.ParseInLocation("2006-01-02 15", date+" 12", loc)
		require.NoError(t, err)
		parts := labor.Split([]labor.Span{{Kind: labor.Work, Start: noon.AddDate(0, 0, -1), End: noon.AddDate(0, 0, 1), Open: true}}, z)
		require.Len(t, parts, 3, date)
		assert.Equal(t, hours, parts[1].End.Sub(parts[1].Start).Hours(), date)
		assert.Equal(t, []bool{false, false, true}, []bool{parts[0].Open, parts[1].Open, parts[2].Open})
	}
}

func anyStamps(t *rapid.T) []labor.Stamp {
	n := rapid.IntRange(0, 30).Draw(t, "n")
	out := make([]labor.Stamp, n)
	for i := range out {
		out[i] = labor.Stamp{
			Entry: fmt.Sprintf("%03d", i),
			At:    at("06:00").Add(time.Duration(rapid.IntRange(0, 3*24*60).Draw(t, "minute")) * time.Minute),
			Kind:  rapid.SampledFrom([]labor.Kind{labor.Travel, labor.Work, labor.Wait, labor.Break, labor.Stop}).Draw(t, "kind"),
			Visit: rapid.SampledFrom([]string{"A", "B", "C"}).Draw(t, "visit"),
		}
	}
	return out
}

func TestSpansProperties(t *testing.T) {
	now := at("06:00").Add(3 * 24 * time.Hour)
	rapid.Check(t, func(t *rapid.T) {
		in := anyStamps(t)
		spans := labor.Spans(in, now)
		for i, s := range spans {
			require.False(t, s.End.Before(s.Start))
			if i > 0 {
				require.False(t, s.Start.Before(spans[i-1].End), "spans overlap")
			}
			require.Equal(t, i == len(spans)-1 && s.Open, s.Open, "only the last may run")
		}
		shuffled := append([]labor.Stamp{}, in...)
		rand.New(rand.NewSource(rapid.Int64().Draw(t, "shuffle"))).Shuffle(len(shuffled), func(i, j int) {
			shuffled[i], shuffled[j] = shuffled[j], shuffled[i]
		})
		require.Equal(t, spans, labor.Spans(shuffled, now), "order of arrival does not matter")

		split := labor.Split(spans, labor.Zone{})
		require.Equal(t, labor.Total(spans, ""), labor.Total(split, ""), "a split loses no second")
		var sum labor.Hours
		for _, v := range []string{"A", "B", "C"} {
			h := labor.Total(spans, v)
			sum = labor.Hours{Travel: sum.Travel + h.Travel, Work: sum.Work + h.Work, Wait: sum.Wait + h.Wait, Break: sum.Break + h.Break}
		}
		require.Equal(t, labor.Total(spans, ""), sum, "visits add up to the day")
	})
}
