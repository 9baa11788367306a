package plan_test

import (
	"fmt"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"iter.example/iter/core/plan"
)

// two is a day of ann, who has visits at places 2, 4 and 2, and ben, who has one at place 4.
func two() *plan.Day {
	hours := []plan.Span{{From: 8 * hour, To: 16 * hour}}
	d := &plan.Day{Now: -1, Lanes: []plan.Lane{
		{ID: "ann", Name: "Ann", Hours: hours, Stops: []plan.Placed{placed(want("v1", 2, hour), 9*hour), placed(want("v2", 4, hour), 11*hour),
			placed(want("v3", 2, hour), 14*hour)}},
		{ID: "ben", Name: "Ben", Hours: hours, Skills: []string{"pumps"}, Stops: []plan.Placed{placed(want("v4", 4, hour), 9*hour)}},
		{ID: "boat", Name: "Boat", Thing: true, Always: true},
	}}
	d.Open(flat(8))
	return d
}

func TestGap(t *testing.T) {
	for name, c := range map[string]struct {
		lane string
		at   int
		want []plan.Span
	}{
		"between two":      {"ann", 12*hour + 30*minute, []plan.Span{{From: 12 * hour, To: 14 * hour}}},
		"before the first": {"ann", 8*hour + 10*minute, []plan.Span{{From: 8 * hour, To: 9 * hour}}},
		"after the last":   {"ben", 13 * hour, []plan.Span{{From: 10 * hour, To: 16 * hour}}},
		"after hours":      {"ben", 17 * hour, []plan.Span{{From: 10 * hour, To: 17*hour + 5*minute}}},
		"while at work":    {"ann", 9*hour + 10*minute, []plan.Span{{From: 10 * hour, To: 11 * hour}}},
		"of a thing":       {"boat", 9 * hour, nil},
		"of nobody":        {"eve", 9 * hour, nil},
	} {
		gap, ok := two().Gap(c.lane, c.at)
		assert.Equal(t, len(c.want) == 1, ok, name)
		if ok {
			assert.Equal(t, c.want[0], gap, name)
		}
	}
}

// Whoever is late for a visit is on the way to it, and free after it.
func TestGapWhileLate(t *testing.T) {
	d := two()
	d.Lanes[0].Stops[1].Begin = 9*hour + 30*minute // the one before goes on until ten
	d.Open(flat(8))
	gap, ok := d.Gap("ann", 10*hour+5*minute)
	assert.True(t, ok)
	assert.Equal(t, plan.Span{From: 11*hour + 20*minute, To: 14 * hour}, gap)
}

func TestGaps(t *testing.T) {
	assert.Equal(t, []plan.Span{{From: 8 * hour, To: 9 * hour}, {From: 10 * hour, To: 11 * hour}, {From: 12 * hour, To: 14 * hour},
		{From: 15 * hour, To: 16 * hour}}, two().Gaps("ann"))
	d := two()
	d.Now = 12*hour + 30*minute
	for i := range 2 {
		p := &d.Lanes[0].Stops[i]
		p.Over, p.Were = true, plan.Span{From: p.Begin, To: p.Begin + p.Length}
	}
	assert.Equal(t, []plan.Span{{From: 12*hour + 30*minute, To: 14 * hour}, {From: 15 * hour, To: 16 * hour}}, d.Gaps("ann"))
	assert.Empty(t, d.Gaps("boat"))
}

func TestFill(t *testing.T) {
	late := want("promised before", 3, 30*minute)
	late.To = 11 * hour
	skilled := want("skilled", 3, 30*minute)
	skilled.Skills = []string{"wells"}
	closed := want("closed", 3, 30*minute)
	closed.Always, closed.Open = false, []plan.Span{{From: 8 * hour, To: 9 * hour}}
	got := two().Fill("ann", plan.Span{From: 12 * hour, To: 14 * hour}, []plan.Want{want("far", 7, 45*minute), want("near", 3, 30*minute),
		want("long", 3, 3*hour), late, skilled, closed, want("there", 4, 30*minute)})
	var ids []string
	for _, f := range got {
		ids = append(ids, f.ID)
	}
	assert.Equal(t, []string{"there", "near"}, ids, "what is far would not let them be at the next in time")
	assert.Equal(t, 12*hour+10*minute, got[1].Fit.Begin)
}

func TestHandOver(t *testing.T) {
	d := two()
	pumps := want("v3", 2, hour)
	pumps.Skills = []string{"wells"}
	d.Lanes[0].Stops[2] = placed(pumps, 14*hour)
	d.Lanes[0].Stops[0].Over, d.Lanes[0].Stops[0].Were = true, plan.Span{From: 9 * hour, To: 10 * hour}
	d.Open(flat(8))
	got := map[string]*plan.Fit{}
	for _, h := range d.HandOver("ann", "") {
		got[h.ID] = h.Fit
	}
	require.Len(t, got, 2, "what is over stays")
	assert.Nil(t, got["v3"], "nobody else can")
	require.NotNil(t, got["v2"])
	assert.Equal(t, 11*hour, got["v2"].Begin, "it stays when it was told")
	asked := d.HandOver("ann", "ben")
	for _, h := range asked {
		require.NotNil(t, h.Fit, "whoever is asked to have it can be said to, with what stands in the way")
	}
	assert.Empty(t, d.HandOver("eve", ""))
	assert.Len(t, d.Lanes[1].Stops, 1, "the day is as it was")
}

func TestGive(t *testing.T) {
	d := two()
	d.Wants = []plan.Want{want("w1", 2, hour), want("w2", 3, 30*minute)}
	got := d.Give([]string{"w1", "w2", "v1", "nothing"}, "ben")
	require.Len(t, got, 3)
	begins := map[int]bool{}
	for _, h := range got {
		require.NotNil(t, h.Fit)
		assert.Equal(t, "ben", h.Fit.Lane)
		assert.False(t, begins[h.Fit.Begin], "each counts for the next")
		begins[h.Fit.Begin] = true
	}
	assert.Empty(t, d.Give([]string{"nothing"}, ""))
	d.Past = true
	assert.Empty(t, d.Give([]string{"w1"}, ""))
}

// However a day lies, each visit that is not begun is handed to somebody else or said to be nobody's, once, and who takes it can.
func TestHandOverLosesNothing(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		d := someDay(t)
		lane := d.Lanes[0].ID
		want := map[string]bool{}
		for _, p := range d.Lanes[0].Stops {
			if !p.Begun && !p.Over {
				want[p.ID] = true
			}
		}
		for _, h := range d.HandOver(lane, "") {
			if !want[h.ID] {
				t.Fatalf("%s is handed over twice, or was not to be", h.ID)
			}
			delete(want, h.ID)
			if h.Fit != nil && h.Fit.Lane == lane {
				t.Fatalf("%s is handed to whoever had it", h.ID)
			}
		}
		if len(want) > 0 {
			t.Fatalf("left out: %v", want)
		}
	})
}

// someDay draws a day of three people with some visits, of which some have begun.
func someDay(t *rapid.T) *plan.Day {
	n, table := someTable(t)
	d := &plan.Day{Now: rapid.IntRange(-hour, 20*hour).Draw(t, "now")}
	for _, id := range []string{"ann", "ben", "cat"} {
		l := plan.Lane{ID: id, Start: rapid.IntRange(-1, n-1).Draw(t, "start")}
		if rapid.IntRange(0, 3).Draw(t, "works") > 0 {
			l.Hours = []plan.Span{{From: 8 * hour, To: 16 * hour}}
		}
		for i := range rapid.IntRange(0, 5).Draw(t, "visits") {
			p := placed(want(fmt.Sprint(id, i), rapid.IntRange(-1, n-1).Draw(t, "place"), rapid.IntRange(1, 3*hour).Draw(t, "length")),
				rapid.IntRange(0, 24*hour).Draw(t, "begin"))
			if p.Begun = rapid.IntRange(0, 4).Draw(t, "begun") == 0; p.Begun {
				p.Were = plan.Span{From: p.Begin, To: p.Begin + p.Length}
			}
			l.Stops = append(l.Stops, p)
		}
		d.Lanes = append(d.Lanes, l)
	}
	d.Open(table)
	return d
}
