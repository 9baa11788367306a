package plan_test

import (
	"fmt"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"iter.example/iter/core/plan"
	"iter.example/iter/core/roads"
)

const (
	minute = 60
	hour   = 60 * minute
)

// flat is a table of places in a row, ten minutes from one to the next.
func flat(n int) plan.Table {
	t := plan.NewTable(n)
	for i := range n {
		for k := range n {
			t.Put(i, k, max(i-k, k-i)*10*minute, 0)
		}
	}
	return t
}

func want(id string, place, length int) plan.Want {
	return plan.Want{ID: id, Place: place, Length: length, To: plan.Whenever, Always: true}
}

func placed(w plan.Want, begin int) plan.Placed { return plan.Placed{Want: w, Begin: begin} }

// office is a day to come on which ann works from 8 to 16 from place 0, and has a visit at place 2 at ten, for an hour.
func office() *plan.Day {
	d := &plan.Day{Now: -1, Lanes: []plan.Lane{{ID: "ann", Name: "Ann", Hours: []plan.Span{{From: 8 * hour, To: 16 * hour}},
		Stops: []plan.Placed{placed(want("v1", 2, hour), 10*hour)}}}}
	d.Open(flat(8))
	return d
}

func codes(f plan.Fit) (out []string) {
	for _, w := range f.Why {
		out = append(out, w.Code)
	}
	return out
}

// Who is off and on duty all day is planned from the morning on.
func TestBestOnDuty(t *testing.T) {
	d := &plan.Day{Now: -1, Lanes: []plan.Lane{{ID: "ann", Duty: []plan.Span{{From: 0, To: 24 * hour}}}}}
	d.Open(flat(8))
	f, ok := d.Best(want("n", 0, hour), "ann")
	require.True(t, ok)
	assert.Equal(t, 8*hour, f.Begin)
	assert.Equal(t, []string{"fit.duty"}, codes(f))
}

func TestFit(t *testing.T) {
	promised := func(w plan.Want, to int) plan.Want { w.To = to; return w }
	for name, c := range map[string]struct {
		change func(*plan.Day)
		want   plan.Want
		begin  int
		adds   plan.Course
		arrive int
		codes  []string
	}{
		"on the way costs no driving": {want: want("n", 1, 30*minute), begin: 9 * hour, arrive: 9 * hour},
		"beyond costs the way there and back": {want: want("n", 4, 30*minute), begin: 12 * hour, arrive: 12 * hour,
			adds: plan.Course{Drive: 40 * minute}},
		"too soon after: it begins later": {want: want("n", 3, 30*minute), begin: 11 * hour, arrive: 11*hour + 10*minute,
			adds: plan.Course{Drive: 20 * minute, After: 10 * minute}, codes: []string{"fit.begins"}},
		"on a day that is over": {change: func(d *plan.Day) { d.Past = true }, want: want("n", 2, hour), begin: 12 * hour, arrive: 12 * hour,
			codes: []string{"fit.past"}},
		"before the other, which begins later": {want: want("n", 3, hour), begin: 9*hour + 30*minute, arrive: 9*hour + 30*minute,
			adds: plan.Course{Drive: 20 * minute, After: 40 * minute}, codes: []string{"fit.after"}},
		"after what was promised": {want: promised(want("n", 2, hour), 12*hour), begin: 12*hour + 20*minute, arrive: 12*hour + 20*minute,
			adds: plan.Course{Late: 20 * minute}, codes: []string{"fit.late"}},
		"a promise after it is broken": {want: want("n", 2, hour), begin: 9*hour + 30*minute, arrive: 9*hour + 30*minute,
			change: func(d *plan.Day) { d.Lanes[0].Stops[0].To = 10 * hour },
			adds:   plan.Course{Late: 30 * minute, After: 30 * minute}, codes: []string{"fit.lateOthers", "fit.after"}},
		"over time with the way home": {want: want("n", 2, hour), begin: 15 * hour, arrive: 15 * hour,
			adds: plan.Course{Over: 20 * minute}, codes: []string{"fit.overtime"}},
		"a day off": {change: func(d *plan.Day) { d.Lanes[0].Hours, d.Lanes[0].Stops = nil, nil }, want: want("n", 0, hour), begin: 9 * hour,
			arrive: 9 * hour, adds: plan.Course{Over: hour}, codes: []string{"fit.off"}},
		"a day off, on duty": {change: func(d *plan.Day) {
			d.Lanes[0].Hours, d.Lanes[0].Stops, d.Lanes[0].Duty = nil, nil, []plan.Span{{From: 0, To: 24 * hour}}
		}, want: want("n", 0, hour), begin: 9 * hour, arrive: 9 * hour, codes: []string{"fit.duty"}},
		"in the evening, on duty until a little before": {change: func(d *plan.Day) {
			d.Lanes[0].Duty = []plan.Span{{From: 16 * hour, To: 18 * hour}}
		}, want: want("n", 2, hour), begin: 17 * hour, arrive: 17 * hour, adds: plan.Course{Over: 20 * minute}, codes: []string{"fit.duty",
			"fit.overtime"}},
		"lacks the skill": {want: func() plan.Want { w := want("n", 2, hour); w.Skills = []string{"pumps"}; return w }(), begin: 12 * hour,
			arrive: 12 * hour, codes: []string{"fit.skill"}},
		"the site is shut": {want: func() plan.Want {
			w := want("n", 2, hour)
			w.Always, w.Open = false, []plan.Span{{From: 8 * hour, To: 12*hour + 30*minute}}
			return w
		}(), begin: 12 * hour, arrive: 12 * hour, codes: []string{"fit.closed"}},
		"people, parts, areas": {change: func(d *plan.Day) { d.Lanes[0].Areas = []string{"north"} }, want: func() plan.Want {
			w := want("n", 2, hour)
			w.Areas, w.Prefer, w.Knows, w.Lacks = []string{"south"}, []string{"ann"}, []string{"ann"}, map[string][]string{"ann": {"Seal", "Nut"}}
			return w
		}(), begin: 12 * hour, arrive: 12 * hour, codes: []string{"fit.parts", "fit.area", "fit.preferred", "fit.knows"}},
		"not wanted there": {want: func() plan.Want { w := want("n", 2, hour); w.Refuse = []string{"ann"}; return w }(), begin: 12 * hour,
			arrive: 12 * hour, codes: []string{"fit.refused"}},
		"a site without a place":  {want: want("n", -1, hour), begin: 12 * hour, arrive: 12 * hour, codes: []string{"fit.noPlace"}},
		"a place no road goes to": {want: want("n", 99, hour), begin: 12 * hour, arrive: 12 * hour, codes: []string{"fit.noWay"}},
		"a thing that is booked": {change: func(d *plan.Day) {
			d.Lanes = append(d.Lanes, plan.Lane{ID: "boat", Name: "Boat", Thing: true, Always: true,
				Stops: []plan.Placed{placed(want("v9", 5, hour), 12*hour)}})
			d.Open(flat(8))
		}, want: func() plan.Want { w := want("n", 2, hour); w.Things = []string{"boat"}; return w }(), begin: 11*hour + 30*minute,
			arrive: 11*hour + 30*minute, codes: []string{"fit.taken"}},
		"moving it counts from where it is": {want: want("v1", 2, hour), begin: 13 * hour, arrive: 13 * hour,
			adds: plan.Course{Drive: 40 * minute}},
	} {
		t.Run(name, func(t *testing.T) {
			d := office()
			if c.change != nil {
				c.change(d)
			}
			f, ok := d.Fit(c.want, "ann", c.begin)
			require.True(t, ok)
			assert.Equal(t, c.adds, f.Adds)
			assert.Equal(t, c.arrive, f.Arrive)
			assert.Equal(t, c.codes, codes(f))
		})
	}
	_, ok := office().Fit(want("n", 1, hour), "nobody", 0)
	assert.False(t, ok)
}

func TestWhatHasBegunStays(t *testing.T) {
	d := office()
	d.Now = 11 * hour
	d.Lanes[0].Stops[0].Begun, d.Lanes[0].Stops[0].Were = true, plan.Span{From: 10*hour + 10*minute, To: 11*hour + 30*minute}
	d.Open(flat(8))
	f, _ := d.Fit(want("n", 3, hour), "ann", 9*hour) // in the past: after what is under way
	assert.Equal(t, 11*hour+40*minute, f.Arrive)
	assert.Contains(t, codes(f), "fit.past")
	best := d.Suggest(want("n", 3, hour), 1)
	require.Len(t, best, 1)
	assert.Equal(t, 11*hour+40*minute, best[0].Begin)
}

func TestSuggest(t *testing.T) {
	d := office()
	d.Lanes = append(d.Lanes,
		plan.Lane{ID: "ben", Name: "Ben", Start: 7, Hours: []plan.Span{{From: 8 * hour, To: 16 * hour}}},
		plan.Lane{ID: "cat", Name: "Cat", Start: 3, Skills: []string{"pumps"}}, // off
		plan.Lane{ID: "boat", Name: "Boat", Thing: true, Always: true})
	d.Open(flat(8))
	fits := d.Suggest(want("n", 1, 30*minute), 5)
	require.Len(t, fits, 3)
	assert.Equal(t, "ann", fits[0].Lane)
	assert.Equal(t, 8*hour+10*minute, fits[0].Begin, "after the way there")
	assert.Zero(t, fits[0].Adds.Drive)
	assert.Equal(t, "ben", fits[1].Lane)
	assert.Equal(t, "cat", fits[2].Lane)
	assert.Equal(t, 8*hour, fits[2].Begin/hour*hour, "nobody is sent at midnight, off as they are")
	d.Past = true
	assert.Empty(t, d.Suggest(want("n", 1, 30*minute), 5))
	d.Past = false
	w := want("n", 1, 30*minute)
	w.Skills = []string{"pumps"}
	assert.Equal(t, "cat", d.Suggest(w, 1)[0].Lane, "who can, even on a day off, before who can't")
}

// someTable draws a table of ways between some places, a tenth of which nobody knows.
func someTable(t *rapid.T) (int, plan.Table) {
	n := rapid.IntRange(1, 9).Draw(t, "places")
	table := plan.NewTable(n)
	for i := range n {
		for k := range n {
			if rapid.IntRange(0, 9).Draw(t, "way") > 0 {
				seconds := rapid.IntRange(0, 2*hour).Draw(t, "seconds")
				table.Put(i, k, seconds, rapid.IntRange(0, seconds).Draw(t, "ferry"))
			}
		}
	}
	return n, table
}

// Placing visits one after another adds up to what the whole route costs, whatever the roads are like.
func TestFitsAddUp(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		n, table := someTable(t)
		d := &plan.Day{Now: rapid.IntRange(-hour, 20*hour).Draw(t, "now"), Week: 24 * hour,
			Busy:  []roads.Busy{{Days: []int{1}, From: 7, To: 9, Percent: 150}},
			Lanes: []plan.Lane{{ID: "ann", Start: rapid.IntRange(-1, n-1).Draw(t, "start"), Hours: []plan.Span{{From: 8 * hour, To: 16 * hour}}}}}
		d.Open(table)
		was := d.Course("ann")
		var sum plan.Course
		for i := range rapid.IntRange(1, 8).Draw(t, "visits") {
			w := want(fmt.Sprint("v", i), rapid.IntRange(-1, n-1).Draw(t, "place"), rapid.IntRange(1, 3*hour).Draw(t, "length"))
			if rapid.Bool().Draw(t, "promised") {
				w.To = rapid.IntRange(0, 24*hour).Draw(t, "to")
			}
			begin := rapid.IntRange(0, 24*hour).Draw(t, "begin")
			f, ok := d.Fit(w, "ann", begin)
			require.True(t, ok)
			sum.Drive, sum.Late = sum.Drive+f.Adds.Drive, sum.Late+f.Adds.Late
			sum.After, sum.Over = sum.After+f.Adds.After, sum.Over+f.Adds.Over
			d.Lanes[0].Stops = append(d.Lanes[0].Stops, placed(w, begin))
			d.Open(table)
		}
		now := d.Course("ann")
		assert.Equal(t, plan.Course{Drive: now.Drive - was.Drive, Late: now.Late - was.Late, After: now.After - was.After,
			Over: now.Over - was.Over}, sum)
	})
}

func TestTable(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		n := rapid.IntRange(0, 6).Draw(t, "n")
		table := plan.NewTable(n)
		read, err := plan.ReadTable(n, table.Bytes())
		require.NoError(t, err)
		assert.Equal(t, table, read)
		_, err = plan.ReadTable(n+1, table.Bytes())
		assert.Error(t, err)
	})
}

// What the company says weighs: with nothing said it is as usual, and a suggestion differs from the nearest person where somebody is asked
// for.
func TestWeights(t *testing.T) {
	day := func(w *plan.Weights) *plan.Day {
		d := two()
		d.Weights = w
		d.Open(flat(8))
		return d
	}
	asked := want("n", 4, hour)
	asked.Prefer = []string{"ann"} // ben is at place 4 already
	none := plan.Weights{}
	far := plan.UsualWeights
	far.Asked = 0
	usual := plan.UsualWeights
	assert.Equal(t, day(nil).Suggest(asked, 5), day(&usual).Suggest(asked, 5))
	assert.Equal(t, "ann", day(nil).Suggest(asked, 5)[0].Lane, "who is asked for, though another is nearer")
	assert.Equal(t, "ben", day(&far).Suggest(asked, 5)[0].Lane)
	late := want("l", 1, hour)
	late.To = 8 * hour
	f, ok := day(&none).Fit(late, "ben", 12*hour)
	require.True(t, ok)
	assert.Equal(t, f.Adds.Drive, f.Cost, "nothing but driving counts")
	g, _ := day(nil).Fit(late, "ben", 12*hour)
	assert.Equal(t, f.Adds, g.Adds)
	assert.Equal(t, g.Adds.Drive+4*g.Adds.Late+2*g.Adds.Over+g.Adds.After+12*60, g.Cost)
}

// Breaks are kept: nothing is proposed to begin in one, and what was worked through one is made up for before the next.
func TestBreaksAreKept(t *testing.T) {
	for name, c := range map[string]struct{ begin, length, place, soonest int }{
		"free in the break":      {8 * hour, 4 * hour, 0, 12*hour + 30*minute},
		"worked through it":      {8 * hour, 5 * hour, 0, 13*hour + 30*minute},
		"through a part of it":   {8 * hour, 4*hour + 10*minute, 0, 12*hour + 30*minute},
		"after it":               {8*hour + 30*minute, 4 * hour, 0, 13 * hour},
		"on the way there in it": {8 * hour, 4*hour - 10*minute, 4, 12*hour + 30*minute},
	} {
		d := &plan.Day{Now: -1, Lanes: []plan.Lane{{ID: "ann", Hours: []plan.Span{{From: 8 * hour, To: 12 * hour},
			{From: 12*hour + 30*minute, To: 16 * hour}}, Stops: []plan.Placed{placed(want("v1", 0, c.length), c.begin)}}}}
		d.Open(flat(8))
		f, ok := d.Best(want("n", c.place, 2*hour), "ann")
		require.True(t, ok)
		assert.Equal(t, c.soonest, f.Begin, name)
	}
}

// The nearest is not always the best: what else there is to know of a place counts, and is said.
func TestTheBestIsNotTheNearest(t *testing.T) {
	hours := []plan.Span{{From: 8 * hour, To: 16 * hour}}
	for name, c := range map[string]struct {
		near plan.Lane
		w    func(*plan.Want)
		says string // of the nearest
	}{
		"lacks the skill":     {plan.Lane{Hours: hours}, func(w *plan.Want) { w.Skills = []string{"gas"} }, "fit.skill"},
		"is off":              {plan.Lane{}, func(*plan.Want) {}, "fit.off"},
		"is not wanted there": {plan.Lane{Hours: hours}, func(w *plan.Want) { w.Refuse = []string{"near"} }, "fit.refused"},
		"lacks parts": {plan.Lane{Hours: hours}, func(w *plan.Want) { w.Lacks = map[string][]string{"near": {"a", "b", "c"}} },
			"fit.parts"},
		"comes too late": {plan.Lane{Hours: hours, Stops: []plan.Placed{placed(want("v1", 1, 4*hour), 8*hour)}},
			func(w *plan.Want) { w.To = 10 * hour }, "fit.late"},
		"has no time left": {plan.Lane{Hours: hours, Stops: []plan.Placed{placed(want("v1", 1, 8*hour), 8*hour)}}, func(*plan.Want) {},
			"fit.overtime"},
	} {
		near, far := c.near, plan.Lane{ID: "far", Start: 2, Hours: hours, Skills: []string{"gas"}, Areas: []string{"south"}}
		near.ID, near.Start = "near", 1
		d := &plan.Day{Now: -1, Lanes: []plan.Lane{near, far}}
		d.Open(flat(8))
		w := want("n", 0, hour)
		c.w(&w)
		fits := d.Suggest(w, 2)
		require.Len(t, fits, 2, name)
		assert.Equal(t, "far", fits[0].Lane, name)
		assert.Contains(t, codes(fits[1]), c.says, name)
		if name != "comes too late" && name != "has no time left" {
			assert.Less(t, fits[1].Adds.Drive, fits[0].Adds.Drive, name)
		}
	}
}

// What is promised to be done by a time is late when it is done after it, whenever it begins.
func TestDoneLate(t *testing.T) {
	d := office()
	w := want("n", 0, 3*hour)
	w.Done = 10*hour + 30*minute
	f, ok := d.Fit(w, "ann", 8*hour)
	require.True(t, ok)
	assert.Equal(t, 30*minute, f.Late)
	assert.Contains(t, codes(f), "fit.doneLate")
	assert.Equal(t, 30*minute, f.Adds.Late)
	w.Done = 11 * hour
	f, _ = d.Fit(w, "ann", 8*hour)
	assert.Zero(t, f.Late)
}
