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

// card reads "08:00 travel A, 08:30 work A/t1, 10:00 stop A by=Z": a time, a kind, a visit with a task, and who stamped it.
func card(text string) labor.Timecard {
	c := labor.Timecard{Person: "ann", Date: "2026-03-10"}
	for i, s := range strings.Split(text, ", ") {
		f := strings.Fields(s)
		st := labor.Stamp{Entry: fmt.Sprintf("%02d", i), At: at(f[0]), What: labor.What{Kind: labor.Kind(f[1])}}
		for _, x := range f[2:] {
			switch by, ok := strings.CutPrefix(x, "by="); {
			case ok:
				st.By = by
			case x == "home":
				st.Home = true
			case x == "unconfirmed":
				st.Unconfirmed = true
			case st.Kind == labor.Indirect:
				st.Code = x
			default:
				st.Visit, st.Task, _ = strings.Cut(x, "/")
			}
		}
		c.Stamps = append(c.Stamps, st)
	}
	return c
}

func show(spans []labor.Span) string {
	var out []string
	for _, s := range spans {
		line := fmt.Sprintf("%s-%s %s %s", s.Start.Format("15:04"), s.End.Format("15:04"), s.Kind, s.Visit+s.Code)
		if s.Task != "" {
			line += "/" + s.Task
		}
		if s.Open {
			line += " open"
		}
		out = append(out, line)
	}
	return strings.Join(out, ", ")
}

func TestSpans(t *testing.T) {
	for name, c := range map[string]struct{ stamps, want string }{
		"a plain visit": {"08:00 travel A, 08:30 work A, 10:00 stop A", "08:00-08:30 travel A, 08:30-10:00 work A"},
		"a pause": {"08:00 work A, 09:00 break A, 09:30 work A, 10:00 stop A",
			"08:00-09:00 work A, 09:00-09:30 break A, 09:30-10:00 work A"},
		"still running": {"08:00 work A", "08:00-18:00 work A open"},
		"the next visit ends the last": {"08:00 work A, 09:00 travel B, 09:20 work B, 10:00 stop B",
			"08:00-09:00 work A, 09:00-09:20 travel B, 09:20-10:00 work B"},
		"a late finish stops only its visit": {"08:00 work A, 09:00 travel B, 09:10 stop A, 09:20 work B, 10:00 stop B",
			"08:00-09:00 work A, 09:00-09:20 travel B, 09:20-10:00 work B"},
		"a stop without a start":              {"08:00 stop A", ""},
		"two stops":                           {"08:00 work A, 09:00 stop A, 09:30 stop A", "08:00-09:00 work A"},
		"no length, no span":                  {"08:00 travel A, 08:00 work A, 09:00 stop A", "08:00-09:00 work A"},
		"a stamp in the future is not yet so": {"08:00 work A, 19:00 stop A", "08:00-18:00 work A open"},
		"tasks are switched": {"08:00 work A/t1, 09:00 work A/t2, 10:00 stop A",
			"08:00-09:00 work A/t1, 09:00-10:00 work A/t2"},
		"a task that is done ends its time": {"08:00 work A/t1, 09:00 task_end A/t1, 10:00 stop A",
			"08:00-09:00 work A/t1, 09:00-10:00 work A"},
		"another task that is done does not": {"08:00 work A/t1, 09:00 task_end A/t2, 10:00 stop A", "08:00-10:00 work A/t1"},
		"indirect time": {"08:00 indirect yard, 09:00 travel A, 10:00 stop A",
			"08:00-09:00 indirect yard, 09:00-10:00 travel A"},
		"the end of the day ends all": {"07:30 day_start, 08:00 work A, 16:00 day_end", "08:00-16:00 work A"},
		"clocked by the lead":         {"08:00 work A by=lee, 10:00 stop A by=lee", "08:00-10:00 work A"},
		"one's own clock comes first": {"08:00 work A by=lee, 09:00 work B, 10:00 stop B, 11:00 stop A by=lee",
			"08:00-09:00 work A, 09:00-10:00 work B, 10:00-11:00 work A"},
		"a helper's own stop ends what the lead clocked": {"08:00 work A by=lee, 09:00 stop A, 10:00 stop A by=lee", "08:00-09:00 work A"},
		"unless the lead begins it anew": {"08:00 work A by=lee, 09:00 stop A, 09:30 work A by=lee, 10:00 stop A by=lee",
			"08:00-09:00 work A, 09:30-10:00 work A"},
		"the lead ends the own clock":   {"08:00 work A, 10:00 stop A by=lee", "08:00-10:00 work A"},
		"not when one ended it oneself": {"08:00 work A, 10:00 stop A by=lee, 11:00 stop A", "08:00-11:00 work A"},
		"two devices of one person": {"08:00 travel A, 08:30 work A, 08:40 travel B, 09:00 stop A, 09:10 work B, 10:00 stop B",
			"08:00-08:30 travel A, 08:30-08:40 work A, 08:40-09:10 travel B, 09:10-10:00 work B"},
		"an end that the office set":   {"08:00 work A, 10:00 stop A by=mirin unconfirmed", "08:00-10:00 work A"},
		"and the person's own instead": {"08:00 work A, 10:00 stop A by=mirin unconfirmed, 11:00 stop A", "08:00-11:00 work A"},
		"not one of an earlier time there": {"07:00 work A, 07:30 stop A, 08:00 work A, 10:00 stop A by=mirin unconfirmed",
			"07:00-07:30 work A, 08:00-10:00 work A"},
	} {
		t.Run(name, func(t *testing.T) {
			assert.Equal(t, c.want, show(labor.Spans(at("18:00"), card(c.stamps))))
		})
	}
}

func TestStruckAndRepeatedStampsDoNotCount(t *testing.T) {
	c := card("08:00 work A, 08:30 break A, 09:00 stop A")
	c.Stamps[1].Struck = true
	assert.Equal(t, "08:00-09:00 work A", show(labor.Spans(at("18:00"), c, c)))
}

func TestTimecardTakesAStampOnce(t *testing.T) {
	var c labor.Timecard
	for _, s := range card("09:00 stop A, 08:00 work A, 09:00 stop A").Stamps {
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
		parts := labor.Split([]labor.Span{{What: labor.What{Kind: labor.Work}, Start: noon.AddDate(0, 0, -1), End: noon.AddDate(0, 0, 1),
			Open: true}}, z)
		require.Len(t, parts, 3, date)
		assert.Equal(t, hours, parts[1].End.Sub(parts[1].Start).Hours(), date)
		assert.Equal(t, []bool{false, false, true}, []bool{parts[0].Open, parts[1].Open, parts[2].Open})
	}
}

// anyCard draws a person's three days: own stamps and those of a lead, with corrections.
func anyCard(t *rapid.T) labor.Timecard {
	minute := rapid.IntRange(0, 3*24*60)
	what := func(kinds []labor.Kind, label string) labor.What {
		w := labor.What{Kind: rapid.SampledFrom(kinds).Draw(t, label), Visit: rapid.SampledFrom([]string{"A", "B", "C"}).Draw(t, "visit")}
		switch w.Kind {
		case labor.Indirect, labor.Off:
			w.Visit, w.Code = "", "yard"
		case labor.Travel:
			w.Home = rapid.Bool().Draw(t, "home")
		case labor.Work, labor.TaskEnd:
			w.Task = rapid.SampledFrom([]string{"", "t1", "t2"}).Draw(t, "task")
		}
		return w
	}
	var all []labor.Kind
	for _, k := range labor.Kind("").Values() {
		if k != string(labor.Off) {
			all = append(all, labor.Kind(k))
		}
	}
	c := labor.Timecard{Person: "ann", Date: "2026-03-10"}
	for i := range rapid.IntRange(0, 30).Draw(t, "stamps") {
		c.Stamps = append(c.Stamps, labor.Stamp{Entry: fmt.Sprintf("%03d", i),
			At: at("00:00").Add(time.Duration(minute.Draw(t, "minute")) * time.Minute), What: what(all, "kind"),
			By: rapid.SampledFrom([]string{"", "", "lee"}).Draw(t, "by")})
	}
	for i := range rapid.IntRange(0, 4).Draw(t, "corrections") {
		from := at("00:00").Add(time.Duration(minute.Draw(t, "from")) * time.Minute)
		p := labor.Piece{What: what(labor.Spanning, "piece"), Start: from,
			End: from.Add(time.Duration(rapid.IntRange(1, 300).Draw(t, "length")) * time.Minute)}
		c.Corrections = append(c.Corrections, labor.Correction{Entry: fmt.Sprintf("c%02d", i), At: p.End, Pieces: []labor.Piece{p}})
	}
	return c
}

func shuffled[T any](t *rapid.T, in []T) []T {
	out := append([]T{}, in...)
	rand.New(rand.NewSource(rapid.Int64().Draw(t, "shuffle"))).Shuffle(len(out), func(i, j int) { out[i], out[j] = out[j], out[i] })
	return out
}

func TestSpansProperties(t *testing.T) {
	now := at("00:00").Add(3 * 24 * time.Hour)
	rapid.Check(t, func(t *rapid.T) {
		c := anyCard(t)
		spans := labor.Spans(now, c)
		for i, s := range spans {
			require.True(t, s.Start.Before(s.End), "a span has a length")
			if i > 0 {
				require.False(t, s.Start.Before(spans[i-1].End), "spans overlap: %v", show(spans))
			}
		}
		other := c
		other.Stamps, other.Corrections = shuffled(t, c.Stamps), shuffled(t, c.Corrections)
		require.Equal(t, spans, labor.Spans(now, other), "order of arrival does not matter")

		split := labor.Split(spans, labor.Zone{})
		require.Equal(t, labor.Total(spans, ""), labor.Total(split, ""), "a split loses no second")
		sum := labor.Total(spans, "")
		sum.Indirect = 0
		for _, v := range []string{"A", "B", "C"} {
			h := labor.Total(spans, v)
			sum = labor.Hours{Travel: sum.Travel - h.Travel, Work: sum.Work - h.Work, Wait: sum.Wait - h.Wait, Break: sum.Break - h.Break}
		}
		require.Zero(t, sum, "visits and indirect time add up to the day")
	})
}

// The last thing said of a stretch of time is what it went to.
func TestCorrections(t *testing.T) {
	piece := func(from, to, what string) labor.Piece {
		kind, visit, _ := strings.Cut(what, " ")
		return labor.Piece{What: labor.What{Kind: labor.Kind(kind), Visit: visit}, Start: at(from), End: at(to)}
	}
	const day = "08:00 travel A, 08:30 work A, 10:00 stop A"
	for name, c := range map[string]struct {
		pieces []labor.Piece
		want   string
	}{
		"add":    {[]labor.Piece{piece("10:00", "10:30", "work A")}, "08:00-08:30 travel A, 08:30-10:00 work A, 10:00-10:30 work A"},
		"remove": {[]labor.Piece{piece("08:30", "10:00", "off")}, "08:00-08:30 travel A, 08:30-10:00 off "},
		"move": {[]labor.Piece{piece("08:30", "09:00", "off"), piece("09:00", "11:00", "work A")},
			"08:00-08:30 travel A, 08:30-09:00 off , 09:00-11:00 work A"},
		"split": {[]labor.Piece{piece("09:00", "09:15", "break")},
			"08:00-08:30 travel A, 08:30-09:00 work A, 09:00-09:15 break , 09:15-10:00 work A"},
		"a boundary": {[]labor.Piece{piece("08:30", "08:40", "travel A")},
			"08:00-08:30 travel A, 08:30-08:40 travel A, 08:40-10:00 work A"},
	} {
		t.Run(name, func(t *testing.T) {
			require.NoError(t, labor.CheckPieces(c.pieces, "2026-03-10", at("18:00")))
			k := card(day)
			k.Correct(labor.Correction{Entry: "c1", At: at("17:00"), Pieces: c.pieces})
			k.Correct(labor.Correction{Entry: "c1", At: at("17:00"), Pieces: c.pieces})
			assert.Equal(t, c.want, show(labor.Spans(at("18:00"), k)))
			assert.Len(t, k.Stamps, 3, "the stamps stay")
			assert.Len(t, k.Corrections, 1, "once")
			assert.True(t, k.Strike("c1", true))
			assert.Equal(t, "08:00-08:30 travel A, 08:30-10:00 work A", show(labor.Spans(at("18:00"), k)), "struck out")
		})
	}
	for code, pieces := range map[string][]labor.Piece{
		"time.pieces":      nil,
		"time.kind":        {piece("08:00", "09:00", "stop A")},
		"time.backwards":   {piece("09:00", "08:00", "work A")},
		"time.not_yet":     {piece("17:00", "19:00", "work A")},
		"time.overlapping": {piece("08:00", "09:00", "work A"), piece("08:30", "10:00", "work B")},
		"time.code":        {piece("08:00", "09:00", "indirect")},
	} {
		assert.ErrorContains(t, labor.CheckPieces(pieces, "2026-03-10", at("18:00")), code)
	}
	assert.ErrorContains(t, labor.CheckPieces([]labor.Piece{piece("08:00", "09:00", "work A")}, "2026-03-11", at("18:00")),
		"time.other_day")
}
