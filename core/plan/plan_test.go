package plan_test

import (
	"fmt"
	"slices"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"iter.example/iter/core/plan"
	"iter.example/iter/core/records"
	"iter.example/iter/core/roads"
	"iter.example/iter/core/work"
)

// street is a straight road: a minute for each hundredth of a degree east.
type street struct{}

func (street) Ways(from records.Point, to ...records.Point) []*roads.Way {
	out := make([]*roads.Way, len(to))
	for i, p := range to {
		d := p.Lon - from.Lon
		if d < 0 {
			d = -d
		}
		out[i] = &roads.Way{Seconds: int(d*6000 + 0.5)}
	}
	return out
}

func at(hm string) time.Time {
	t, err := time.Parse("2006-01-02 15:04", "2026-03-10 "+hm)
	if err != nil {
		panic(err)
	}
	return t
}

// stop is one an hour long, so many minutes down the street, accepted.
func stop(id string, minutes int, planned string) plan.Stop {
	return plan.Stop{ID: id, Place: &records.Point{Lon: float64(minutes) / 100}, Planned: at(planned), Length: time.Hour,
		Stage: work.Accepted}
}

func show(legs []plan.Leg) (out []string) {
	for _, l := range legs {
		line := fmt.Sprintf("%s %s-%s", l.ID, l.Arrive.Format("15:04"), l.Leave.Format("15:04"))
		if l.Risk != "" {
			line += " " + string(l.Risk)
		}
		out = append(out, line)
	}
	return out
}

func TestExpectedArrivalsMoveWithReality(t *testing.T) {
	home := &records.Point{}
	a, b, c := stop("a", 10, "08:00"), stop("b", 20, "09:30"), stop("c", 50, "11:00")
	c.To = at("12:00")
	for name, x := range map[string]struct {
		change func()
		now    string
		want   []string
	}{
		"as planned":         {func() {}, "07:00", []string{"a 08:00-09:00", "b 09:30-10:30", "c 11:00-12:00"}},
		"nobody has set off": {func() {}, "08:20", []string{"a 08:30-09:30", "b 09:40-10:40", "c 11:10-12:10"}},
		"on the way": {func() { a.Stage, a.SetOff = work.Travelling, at("08:05") }, "08:07",
			[]string{"a 08:15-09:15", "b 09:30-10:30", "c 11:00-12:00"}},
		"on the way for long": {func() { a.Stage, a.SetOff = work.Travelling, at("08:05") }, "08:40",
			[]string{"a 08:40-09:40", "b 09:50-10:50", "c 11:20-12:20"}},
		"it takes longer": {func() { a.Stage, a.Arrived = work.OnSite, at("08:00") }, "10:15",
			[]string{"a 08:00-10:15", "b 10:25-11:25", "c 11:55-12:55 tight"}},
		"much longer": {func() { a.Stage, a.Arrived = work.OnSite, at("08:00") }, "10:45",
			[]string{"a 08:00-10:45", "b 10:55-11:55", "c 12:25-13:25 late"}},
		"done early": {func() { a.Stage, a.Arrived, a.Left = work.Finished, at("08:00"), at("08:30") }, "08:31",
			[]string{"a 08:00-08:30", "b 09:30-10:30", "c 11:00-12:00"}},
		"withdrawn": {func() { b.Stage = work.Withdrawn }, "07:00", []string{"a 08:00-09:00", "b 00:00-00:00", "c 11:00-12:00"}},
	} {
		t.Run(name, func(t *testing.T) {
			a, b = stop("a", 10, "08:00"), stop("b", 20, "09:30")
			x.change()
			assert.Equal(t, x.want, show(plan.Route([]plan.Stop{a, b, c}, nil, home, at(x.now), street{}, nil)))
		})
	}
}

func TestAStopThatNobodyKnowsTheWayTo(t *testing.T) {
	a, b := stop("a", 10, "08:00"), stop("b", 20, "09:30")
	a.Place = nil
	legs := plan.Route([]plan.Stop{a, b}, nil, nil, at("07:00"), street{}, nil)
	assert.Nil(t, legs[0].Way)
	assert.Nil(t, legs[1].Way, "no guess")
	assert.Equal(t, "08:00", legs[0].Arrive.Format("15:04"))
}

func TestArrange(t *testing.T) {
	a, b, c, d := stop("a", 1, "08:00"), stop("b", 1, "09:00"), stop("c", 1, "10:00"), stop("d", 1, "11:00")
	c.SetOff = at("07:50")
	ids := func(stops []plan.Stop) (out string) {
		for _, s := range stops {
			out += s.ID
		}
		return out
	}
	all := []plan.Stop{a, b, c, d}
	assert.Equal(t, "cabd", ids(plan.Arrange(all, nil)))
	assert.Equal(t, "cdab", ids(plan.Arrange(all, []string{"d", "gone"})))
}

func TestOrder(t *testing.T) {
	home := &records.Point{}
	near, mid, far := stop("near", 10, "10:00"), stop("mid", 20, "09:00"), stop("west", -10, "08:00")
	got := plan.Order([]plan.Stop{mid, far, near}, nil, home, at("07:00"), street{}, nil)
	assert.Equal(t, 20*60, got.Saved, "one side after the other, and home")
	assert.Equal(t, plan.Ordered{IDs: []string{"near", "mid"}}, plan.Order([]plan.Stop{near, mid}, nil, home, at("07:00"), street{}, nil),
		"there and back is as far either way")

	far.From, far.To = at("07:45"), at("08:30") // promised early: it goes first
	assert.Equal(t, "west", plan.Order([]plan.Stop{mid, near, far}, nil, home, at("07:00"), street{}, nil).IDs[0])

	done := stop("done", 40, "06:00")
	done.Stage, done.Arrived, done.Left = work.Finished, at("06:00"), at("06:50")
	far.To = time.Time{}
	got = plan.Order([]plan.Stop{done, near, far, mid}, nil, home, at("07:00"), street{}, nil)
	assert.Equal(t, []string{"mid", "near", "west"}, got.IDs, "from where the person is; what is done stays")
}

func TestOrderNeverMakesItWorse(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		var stops []plan.Stop
		for i := range rapid.IntRange(0, 12).Draw(t, "stops") {
			s := stop(fmt.Sprint(i), rapid.IntRange(0, 90).Draw(t, "place"), "08:00")
			if rapid.Bool().Draw(t, "promised") {
				s.From = at("07:00").Add(time.Duration(rapid.IntRange(0, 600).Draw(t, "from")) * time.Minute)
				s.To = s.From.Add(time.Duration(rapid.IntRange(0, 240).Draw(t, "window")) * time.Minute)
			}
			stops = append(stops, s)
		}
		got := plan.Order(stops, nil, &records.Point{}, at("07:00"), street{}, nil)
		require.Len(t, got.IDs, len(stops))
		for _, s := range stops {
			require.True(t, slices.Contains(got.IDs, s.ID))
		}
		require.GreaterOrEqual(t, got.Late, 0)
		if got.Late == 0 {
			require.GreaterOrEqual(t, got.Saved, 0)
		}
		again := make([]plan.Stop, 0, len(stops))
		for _, id := range got.IDs {
			again = append(again, stops[slices.IndexFunc(stops, func(s plan.Stop) bool { return s.ID == id })])
		}
		if len(stops) <= 10 {
			require.Equal(t, plan.Ordered{IDs: got.IDs}, plan.Order(again, got.IDs, &records.Point{}, at("07:00"), street{}, nil),
				"the best order stays")
		}
	})
}
