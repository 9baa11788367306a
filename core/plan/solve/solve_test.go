package solve_test

import (
	"context"
	"fmt"
	"slices"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"iter.example/iter/core/plan"
	"iter.example/iter/core/plan/solve"
)

const (
	minute = 60
	hour   = 60 * minute
)

// some draws a problem of some people, days and visits, of which some are planned and some stay as they are planned.
func some(t *rapid.T, people, days, visits int) solve.Problem {
	places := rapid.IntRange(1, 8).Draw(t, "places")
	table := plan.NewTable(places)
	for i := range places {
		for k := range places {
			if rapid.IntRange(0, 9).Draw(t, "no road") > 0 {
				table.Put(i, k, rapid.IntRange(0, 90*minute).Draw(t, "way"), 0)
			}
		}
	}
	place := func() int { return rapid.IntRange(0, places-1).Draw(t, "place") }
	p := solve.Problem{Seed: rapid.Uint64().Draw(t, "seed"), Rounds: 200}
	for range days {
		d := &plan.Day{Now: -1}
		for i := range people {
			l := plan.Lane{ID: fmt.Sprint("p", i), Start: place(), Skills: []string{fmt.Sprint("s", i%2)}}
			if from := rapid.IntRange(6, 12).Draw(t, "from"); from < 12 { // else they are off
				l.Hours = []plan.Span{{From: from * hour, To: 12 * hour}, {From: 12*hour + 30*minute, To: 16 * hour}}
			}
			if rapid.Bool().Draw(t, "duty") {
				l.Duty = []plan.Span{{From: 0, To: 24 * hour}}
			}
			d.Lanes = append(d.Lanes, l)
		}
		d.Lanes = append(d.Lanes, plan.Lane{ID: "boat", Thing: true, Start: -1, Hours: []plan.Span{{From: 7 * hour, To: 18 * hour}}})
		p.Days = append(p.Days, d)
	}
	want := func(id string) plan.Want {
		w := plan.Want{ID: id, Place: place(), Length: rapid.IntRange(1, 36).Draw(t, "length") * 5 * minute, To: plan.Whenever, Always: true}
		if rapid.Bool().Draw(t, "promised") {
			w.From = rapid.IntRange(0, 14).Draw(t, "promise") * hour
			w.To = w.From + 2*hour
		}
		if rapid.Bool().Draw(t, "shut") {
			w.Always, w.Open = false, []plan.Span{{From: 9 * hour, To: 12 * hour}, {From: 13 * hour, To: 15 * hour}}
		}
		if rapid.Bool().Draw(t, "skilled") {
			w.Skills = []string{fmt.Sprint("s", rapid.IntRange(0, 2).Draw(t, "skill"))} // nobody has the third
		}
		return w
	}
	for i := range visits {
		v := solve.Visit{ID: fmt.Sprint("v", i), Worth: rapid.IntRange(1, 20).Draw(t, "worth") * hour, Moved: 10 * minute}
		w := want(v.ID)
		for range days {
			v.Wants = append(v.Wants, w)
		}
		kind := rapid.IntRange(0, 3).Draw(t, "stands")
		if kind >= 2 { // what is planned with others is of the tests of the server
			v.People = rapid.SampledFrom([]int{0, 1, 1, 1, 2, 3}).Draw(t, "people")
			if rapid.IntRange(0, 5).Draw(t, "several days") == 0 {
				v.Parts = []int{2 * hour, hour}
			}
			if rapid.IntRange(0, 4).Draw(t, "boat") == 0 {
				for i := range v.Wants {
					v.Wants[i].Things = []string{"boat"}
				}
			}
		}
		if kind > 0 {
			p.Visits = append(p.Visits, v)
		}
		if kind < 2 && people > 0 { // it is planned, and stays where kind is 0
			day, lane := rapid.IntRange(0, days-1).Draw(t, "day"), rapid.IntRange(0, people-1).Draw(t, "lane")
			begin := rapid.IntRange(6*12, 18*12).Draw(t, "begin") * 5 * minute
			l := &p.Days[day].Lanes[lane]
			l.Stops = append(l.Stops, plan.Placed{Want: w, Begin: begin})
			if kind == 1 {
				p.Visits[len(p.Visits)-1].Was = &solve.Place{Day: day, Lane: l.ID, Begin: begin}
			}
		}
	}
	for _, d := range p.Days {
		d.Open(table)
	}
	return p
}

// standing are the days as a plan has them.
func standing(p solve.Problem, places map[string][]solve.Place) (days []*plan.Day) {
	of := map[string]solve.Visit{}
	for _, v := range p.Visits {
		of[v.ID] = v
	}
	for i, was := range p.Days {
		d := *was
		d.Lanes = slices.Clone(was.Lanes)
		for k := range d.Lanes {
			l := &d.Lanes[k]
			l.Stops = slices.DeleteFunc(slices.Clone(l.Stops), func(s plan.Placed) bool { _, is := of[s.ID]; return is })
			for id, all := range places {
				for _, at := range all {
					x := plan.Placed{Want: of[id].Wants[i], Begin: at.Begin}
					x.Length = at.Length
					if at.Day == i && (at.Lane == l.ID || slices.Contains(at.With, l.ID) || slices.Contains(x.Things, l.ID)) {
						l.Stops = append(l.Stops, x)
					}
				}
			}
			slices.SortFunc(l.Stops, func(a, b plan.Placed) int { return a.Begin - b.Begin })
		}
		days = append(days, &d)
	}
	return days
}

// costs are what a plan comes to, worked out of its days anew.
func costs(t require.TestingT, p solve.Problem, out solve.Plan) (sum int) {
	days := standing(p, out.Places)
	for _, d := range days {
		for i := range d.Lanes {
			l := &d.Lanes[i]
			if l.Thing {
				continue
			}
			w, load := d.Walk(l), 0
			for k := range l.Stops {
				d.Visit(l, &w, &l.Stops[k])
				load += l.Stops[k].Length
			}
			d.Home(l, &w)
			sum += d.CostOf(w) + d.Even(l, load+w.Drive)
		}
	}
	for _, v := range p.Visits {
		all, is := out.Places[v.ID]
		if is == slices.Contains(out.Left, v.ID) {
			require.Fail(t, "a visit is placed or left, one of both", v.ID)
		}
		if !is {
			sum += v.Worth
			continue
		}
		if len(all) != max(len(v.Parts), 1) {
			require.Fail(t, "all of a visit is placed, or nothing", v.ID)
		}
		for i, at := range all {
			sum += costOf(t, days[at.Day], v, at)
			if i > 0 && (at.Day <= all[i-1].Day || at.Lane != all[i-1].Lane) {
				require.Fail(t, "what takes several days is done by one, a day each", v.ID)
			}
		}
	}
	return sum
}

// costOf is what it costs that this is who does a visit, at that time.
func costOf(t require.TestingT, d *plan.Day, v solve.Visit, at solve.Place) (sum int) {
	if len(at.With) != max(v.People, 1)-1 {
		require.Fail(t, "as many go as it takes", v.ID)
	}
	for _, id := range append([]string{at.Lane}, at.With...) {
		l := d.Lane(id)
		w := d.Walk(l)
		for k := range l.Stops {
			if s := d.Visit(l, &w, &l.Stops[k]); l.Stops[k].ID == v.ID && len(at.With) > 0 && s.Arrive != at.Begin {
				require.Fail(t, "all are there when it begins", v.ID)
			}
		}
		if len(l.Hours) == 0 && v.Was == nil {
			require.Fail(t, "nobody is given work on a day off", v.ID)
		}
	}
	for _, id := range v.Wants[at.Day].Things {
		l := d.Lane(id)
		for _, s := range l.Stops {
			if s.ID != v.ID && s.Begin < at.Begin+at.Length && at.Begin < s.Begin+s.Length {
				require.Fail(t, "a thing goes to one place at a time", v.ID)
			}
		}
		if at.Begin < l.Hours[0].From || at.Begin+at.Length > l.Hours[0].To {
			require.Fail(t, "a thing goes when it can be had", v.ID)
		}
	}
	i := slices.IndexFunc(d.Lanes, func(l plan.Lane) bool { return l.ID == at.Lane })
	who, can := d.Against(v.Wants[at.Day], &d.Lanes[i])
	was := v.Was != nil && v.Was.Day == at.Day && v.Was.Lane == at.Lane
	if !can && was {
		who = 0 // whoever planned it knew why
	} else if !can {
		require.Fail(t, "whoever can't do it is not given it", v.ID)
	}
	if v.Was != nil && !was {
		sum += v.Moved
	}
	if len(d.Lanes[i].Hours) == 0 && !was {
		require.Fail(t, "nobody is given work on a day off", v.ID)
	}
	sum += who + d.Wait(at.Day*24*hour+at.Begin)
	return sum
}

// Every visit is placed or left, what stays stays, who can't is not asked, the cost is that of the days, and never more than before.
func TestPlansHold(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		p := some(t, rapid.IntRange(0, 3).Draw(t, "people"), rapid.IntRange(1, 2).Draw(t, "days"), rapid.IntRange(0, 9).Draw(t, "visits"))
		var before [][]plan.Lane
		for _, d := range p.Days {
			before = append(before, slices.Clone(d.Lanes))
		}
		last := -1
		out := solve.Solve(t.Context(), p, func(x solve.Plan) {
			require.True(t, last < 0 || x.Cost < last, "each is better than the one before")
			last = x.Cost
			require.Equal(t, costs(t, p, x), x.Cost)
		})
		assert.Equal(t, last, out.Cost)
		for i, d := range p.Days {
			assert.Equal(t, before[i], d.Lanes, "the days that were given stay as they are")
		}
		assert.Equal(t, out, solve.Solve(t.Context(), p, nil), "the same problem has the same plan")
		if !slices.ContainsFunc(p.Visits, func(v solve.Visit) bool { return v.Was != nil }) {
			assert.Equal(t, after(p, nil), after(p, out.Places), "what stays is not made later")
		}
	})
}

// after is how much later than it was planned the day's work begins.
func after(p solve.Problem, places map[string][]solve.Place) (sum int) {
	for _, d := range standing(p, places) {
		sum += d.Total().After
	}
	return sum
}

// least is what the best plan costs, of all that there are.
func least(t require.TestingT, p solve.Problem) int {
	type tour struct {
		day, lane int
		visits    []int
	}
	var tours []*tour
	for i, d := range p.Days {
		for k := range d.Lanes {
			if !d.Lanes[k].Thing {
				tours = append(tours, &tour{day: i, lane: k})
			}
		}
	}
	best := -1
	var place func(v int, left []string)
	place = func(v int, left []string) {
		if v == len(p.Visits) {
			out := solve.Plan{Places: map[string][]solve.Place{}, Left: left}
			for _, x := range tours {
				d := p.Days[x.day]
				l := &d.Lanes[x.lane]
				w := d.Walk(l)
				for _, i := range x.visits {
					want := p.Visits[i].Wants[x.day]
					begin := d.Soonest(l, w, want)
					if _, can := d.Against(want, l); !can || len(l.Hours) == 0 || begin >= 24*hour {
						return
					}
					d.Visit(l, &w, &plan.Placed{Want: want, Begin: begin})
					out.Places[p.Visits[i].ID] = []solve.Place{{Day: x.day, Lane: l.ID, Begin: begin, Length: want.Length}}
				}
			}
			if c := costs(t, p, out); best < 0 || c < best {
				best = c
			}
			return
		}
		for _, x := range tours {
			for at := range len(x.visits) + 1 {
				x.visits = slices.Insert(x.visits, at, v)
				place(v+1, left)
				x.visits = slices.Delete(x.visits, at, at+1)
			}
		}
		place(v+1, append(slices.Clone(left), p.Visits[v].ID))
	}
	place(0, nil)
	return best
}

// Of what is small enough to try everything, the best is found: with nothing that is planned yet. The same cases each time, since nothing
// promises it of all that there are.
func TestTheBestIsFound(t *testing.T) {
	small := rapid.Custom(func(t *rapid.T) solve.Problem {
		p := some(t, rapid.IntRange(1, 2).Draw(t, "people"), 1, rapid.IntRange(1, 4).Draw(t, "visits"))
		for i := range p.Visits {
			v := &p.Visits[i]
			v.Was, v.People, v.Parts, v.Wants[0].Things = nil, 0, nil, nil
		}
		for _, d := range p.Days {
			for k := range d.Lanes {
				d.Lanes[k].Stops = nil
			}
		}
		p.Rounds = 1500
		return p
	})
	for i := range 200 {
		p := small.Example(i)
		assert.Equal(t, least(t, p), solve.Solve(t.Context(), p, nil).Cost, i)
	}
}

// It ends when it is told to.
func TestItEnds(t *testing.T) {
	p := solve.Problem{Rounds: 1 << 30, Days: []*plan.Day{{Now: -1, Lanes: []plan.Lane{{ID: "ann", Always: true}}}}}
	p.Days[0].Open(plan.NewTable(1))
	for i := range 3 {
		p.Visits = append(p.Visits, solve.Visit{ID: fmt.Sprint(i), Worth: hour,
			Wants: []plan.Want{{Length: hour, To: plan.Whenever, Always: true}}})
	}
	ctx, end := context.WithCancel(t.Context())
	out := solve.Solve(ctx, p, func(solve.Plan) { end() })
	assert.Zero(t, out.Rounds)
	assert.Len(t, out.Places, 3)
}

// crew is a problem of three people at one place on some days, who work from 8 to 16, with a boat.
func crew(days int, visits ...solve.Visit) solve.Problem {
	p := solve.Problem{Rounds: 300, Seed: 1}
	for range days {
		d := &plan.Day{Now: -1}
		for _, id := range []string{"ann", "ben", "cat"} {
			d.Lanes = append(d.Lanes, plan.Lane{ID: id, Hours: []plan.Span{{From: 8 * hour, To: 16 * hour}}})
		}
		d.Lanes = append(d.Lanes, plan.Lane{ID: "boat", Thing: true, Start: -1, Hours: []plan.Span{{From: 9 * hour, To: 15 * hour}}})
		p.Days = append(p.Days, d)
	}
	for _, v := range visits {
		w := v.Wants[0]
		w.ID, w.To, w.Always = v.ID, plan.Whenever, true
		v.Wants, v.Worth = slices.Repeat([]plan.Want{w}, days), 20*hour
		p.Visits = append(p.Visits, v)
	}
	for _, d := range p.Days {
		d.Open(plan.NewTable(1))
	}
	return p
}

// Two go for three days with the boat, while others do what one can do; on a day off they rest, and the boat goes to one place at a time.
func TestSeveralPeopleThingsAndDays(t *testing.T) {
	boat := []plan.Want{{Length: 2 * hour, Things: []string{"boat"}}}
	p := crew(4, solve.Visit{ID: "long", People: 2, Wants: boat, Parts: []int{6 * hour, 6 * hour, 2 * hour}},
		solve.Visit{ID: "short", Wants: boat}, solve.Visit{ID: "alone", Wants: []plan.Want{{Length: hour}}})
	for i := range 2 {
		p.Days[1].Lanes[i].Hours = nil // Ann and Ben are off
	}
	out := solve.Solve(t.Context(), p, nil)
	costs(t, p, out)
	require.Empty(t, out.Left)
	long := out.Places["long"]
	require.Len(t, long, 3)
	for i, at := range long {
		assert.Equal(t, []int{0, 2, 3}[i], at.Day, "not on the day off")
		assert.ElementsMatch(t, []string{"ann", "ben"}, append([]string{at.Lane}, at.With...), "the same two")
	}
	assert.Equal(t, 9*hour, long[0].Begin, "when the boat can be had")
	assert.Equal(t, 1, out.Places["short"][0].Day, "while the boat is free")
	for _, v := range []solve.Visit{{ID: "x", People: 4, Wants: []plan.Want{{Length: hour}}},
		{ID: "x", Wants: []plan.Want{{Length: 7 * hour, Things: []string{"boat"}}}},
		{ID: "x", Wants: []plan.Want{{Length: hour}}, Parts: slices.Repeat([]int{hour}, 5)}} {
		p := crew(4, v)
		assert.Equal(t, []string{"x"}, solve.Solve(t.Context(), p, nil).Left, "more than there is")
	}
}

// Work is shared as far as the company says it is worth.
func TestLoadIsShared(t *testing.T) {
	var visits []solve.Visit
	for i := range 6 {
		visits = append(visits, solve.Visit{ID: fmt.Sprint(i), Wants: []plan.Want{{Length: hour}}})
	}
	for even, most := range map[int]int{0: 6, 60: 2} {
		p := crew(1, visits...)
		p.Days[0].Weights = &plan.Weights{Even: even}
		p.Days[0].Open(plan.NewTable(1))
		of := map[string]int{}
		for _, at := range solve.Solve(t.Context(), p, nil).Places {
			of[at[0].Lane]++
		}
		worst := 0
		for _, n := range of {
			worst = max(worst, n)
		}
		assert.Equal(t, most, worst, even)
	}
}
