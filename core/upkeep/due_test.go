package upkeep_test

import (
	"strconv"
	"testing"
	"time"

	"github.com/shopspring/decimal"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"iter.example/iter/core/audit"
	"iter.example/iter/core/reading"
	"iter.example/iter/core/upkeep"
	"iter.example/iter/core/work"
)

var service = work.Job{Problem: "Service of the booster set", Minutes: 60}

func plan(change func(*upkeep.Plan)) upkeep.Plan {
	p := upkeep.Plan{Name: "Service", Job: service, Assets: []string{"pump"}, Begin: "2026-01-10"}
	change(&p)
	return p
}

func quarterly(p *upkeep.Plan) { p.Rule = "FREQ=MONTHLY;INTERVAL=3" }

func hours(n int64) decimal.Decimal { return decimal.NewFromInt(n) }

// days tells of each occurrence when it is to be done, with a mark: ? guessed, > hangs on an earlier one, - skipped.
func days(list []upkeep.Occurrence) []string {
	out := []string{}
	for _, o := range list {
		text := o.On
		for mark, is := range map[string]bool{"?": o.Guessed, ">": o.Later, "-": o.Skipped} {
			if is {
				text += mark
			}
		}
		out = append(out, text)
	}
	return out
}

func day(text string) time.Time {
	t, _ := time.Parse(time.DateOnly, text)
	return t.Add(9 * time.Hour)
}

// run reads a counter of hours on days.
func run(values ...any) []upkeep.Run {
	var list []reading.Result
	for i := 0; i < len(values); i += 2 {
		list = append(list, reading.Result{At: day(values[i].(string)), Value: hours(int64(values[i+1].(int))), Unit: "h"})
	}
	return upkeep.RunsOf(reading.Point{ID: "hours", Unit: "h", Counter: true}, list)
}

func TestComing(t *testing.T) {
	everyThousand := &upkeep.Counter{Point: "hours", Every: hours(1000)}
	for _, c := range []struct {
		name   string
		plan   upkeep.Plan
		target upkeep.Target
		want   []string
	}{
		{"fixed", plan(quarterly), upkeep.Target{Past: []upkeep.Past{{Key: "2026-04-10"}}}, []string{"2026-07-10", "2026-10-10", "2027-01-10"}},
		{"those missed are one", plan(quarterly), upkeep.Target{}, []string{"2026-04-10", "2026-07-10", "2026-10-10", "2027-01-10"}},
		{"ended", plan(func(p *upkeep.Plan) { quarterly(p); p.End = "2026-08-01" }), upkeep.Target{Past: []upkeep.Past{{Key: "2026-04-10"}}},
			[]string{"2026-07-10"}},
		{"an agreement that ends", plan(quarterly), upkeep.Target{End: "2026-08-01", Past: []upkeep.Past{{Key: "2026-04-10"}}},
			[]string{"2026-07-10"}},
		{"skipped and moved", plan(func(p *upkeep.Plan) {
			quarterly(p)
			p.Changes = []upkeep.Change{{Key: "2026-07-10", Due: "2026-07-10"}, {Key: "2026-10-10", Due: "2026-10-10", To: "2027-02-01"}}
		}), upkeep.Target{Past: []upkeep.Past{{Key: "2026-04-10"}}}, []string{"2026-07-10-", "2027-01-10", "2027-02-01"}},
		{"moved back", plan(func(p *upkeep.Plan) {
			quarterly(p)
			p.Changes = []upkeep.Change{{Key: "2026-07-10", Due: "2026-07-10"}, {Key: "2026-07-10", Due: "2026-07-10", To: "2026-07-10"}}
		}), upkeep.Target{Past: []upkeep.Past{{Key: "2026-04-10"}}}, []string{"2026-07-10", "2026-10-10", "2027-01-10"}},
		{"counted from the last, which is done", plan(func(p *upkeep.Plan) { quarterly(p); p.FromLast = true }),
			upkeep.Target{Past: []upkeep.Past{{Key: "1", On: "2026-01-10", Over: true, Done: "2026-05-04"}}},
			[]string{"2026-08-04", "2026-11-04>", "2027-02-04>"}},
		{"counted from the last, which is open", plan(func(p *upkeep.Plan) { quarterly(p); p.FromLast = true }),
			upkeep.Target{Past: []upkeep.Past{{Key: "1", On: "2026-05-04"}}}, []string{"2026-08-04>", "2026-11-04>", "2027-02-04>"}},
		{"a season is waited for", plan(func(p *upkeep.Plan) { p.Rule, p.FromLast = "FREQ=MONTHLY;INTERVAL=6;BYMONTH=4,10", true }),
			upkeep.Target{Past: []upkeep.Past{{Key: "1", On: "2026-04-01", Over: true, Done: "2026-04-20"}}}, []string{"2026-10-20"}},
		{"by what it runs: 10 h a day", plan(func(p *upkeep.Plan) { p.Counter = everyThousand }),
			upkeep.Target{Past: []upkeep.Past{{Key: "1"}}, Runs: run("2026-01-10", 500, "2026-05-30", 1900)},
			[]string{"2026-07-29?", "2026-11-06?", "2027-02-14?"}},
		{"passed twice is one", plan(func(p *upkeep.Plan) { p.Counter = everyThousand }),
			upkeep.Target{Runs: run("2026-01-10", 0, "2026-05-30", 2800)}, []string{"2026-05-30", "2026-06-09?", "2026-07-29?", "2026-09-17?",
				"2026-11-06?", "2026-12-26?", "2027-02-14?"}},
		{"a counter that stands", plan(func(p *upkeep.Plan) { p.Counter = everyThousand }),
			upkeep.Target{Runs: run("2026-01-10", 500, "2026-05-30", 500)}, []string{}},
		{"never read", plan(func(p *upkeep.Plan) { p.Counter = everyThousand }), upkeep.Target{}, []string{}},
		{"whichever is first: the date", plan(func(p *upkeep.Plan) { p.Rule, p.FromLast, p.Counter = "FREQ=MONTHLY", true, everyThousand }),
			upkeep.Target{Past: []upkeep.Past{{Key: "1", Over: true, Done: "2026-05-20"}}, Runs: run("2026-01-10", 0, "2026-05-30", 140)},
			[]string{"2026-06-20", "2026-07-20>", "2026-08-20>", "2026-09-20>", "2026-10-20>", "2026-11-20>", "2026-12-20>", "2027-01-20>",
				"2027-02-20>"}},
		{"whichever is first: the counter", plan(func(p *upkeep.Plan) { p.Rule, p.FromLast, p.Counter = "FREQ=YEARLY", true, everyThousand }),
			upkeep.Target{Past: []upkeep.Past{{Key: "1", Over: true, Done: "2026-05-20"}}, Runs: run("2026-01-10", 0, "2026-05-20", 1300)},
			[]string{"2026-08-28?", "2026-12-06?>"}},
	} {
		for i := range c.plan.Changes {
			c.plan.Changes[i].Target = ""
		}
		assert.Equal(t, c.want, days(c.plan.Coming(c.target, "2026-06-01", "2027-02-28")), c.name)
	}
}

func TestWindowsAndOpening(t *testing.T) {
	p := plan(func(p *upkeep.Plan) { quarterly(p); p.Before, p.After, p.Ahead = 7, 14, 21 })
	o := p.Coming(upkeep.Target{ID: "pump", Past: []upkeep.Past{{Key: "2026-04-10"}}}, "2026-06-01", "2026-08-01")[0]
	assert.Equal(t, upkeep.Occurrence{Target: "pump", Key: "2026-07-10", First: "2026-07-10", Due: "2026-07-10", On: "2026-07-10",
		From: "2026-07-03", To: "2026-07-24", Opens: "2026-06-12"}, o)
	assert.Equal(t, work.Due{Plan: "p", Target: "pump", Key: "2026-07-10", On: "2026-07-10", From: "2026-07-03", To: "2026-07-24"},
		o.DueOf("p"))
}

// A counter that is replaced, passes zero, or is misread once goes on.
func TestRunsOf(t *testing.T) {
	p := reading.Point{ID: "hours", Unit: "h", Counter: true, RollsAt: new(hours(10_000))}
	list := []reading.Result{
		{At: day("2026-01-01"), Value: hours(9000), Unit: "h"},
		{At: day("2026-02-01"), Value: hours(400), Unit: "h"},                                                                     // over zero
		{At: day("2026-03-01"), Value: hours(9999), Unit: "h", Struck: true},                                                      //
		{At: day("2026-04-01"), Value: hours(100), Unit: "h", Replaced: &reading.Replaced{Last: hours(900), Start: decimal.Zero}}, // a new one
		{At: day("2026-05-01"), Value: hours(40), Unit: "h"},                                                                      // can't be
		{At: day("2026-05-02"), Value: hours(3), Unit: "bar", Doubt: reading.Unlike},                                              // nor this
		{At: day("2026-05-03"), Value: hours(160), Unit: "h"},
		{At: day("2026-05-03").Add(time.Hour), Value: hours(161), Unit: "h"}, // twice on a day
	}
	assert.Equal(t, "[2026-01-01 0 2026-02-01 1400 2026-04-01 2000 2026-05-03 2061]", show(upkeep.RunsOf(p, list)))
	assert.Empty(t, upkeep.RunsOf(p, list[5:6]))
}

func show(runs []upkeep.Run) string {
	out := "["
	for i, r := range runs {
		if i > 0 {
			out += " "
		}
		out += r.Day + " " + r.Sum.String()
	}
	return out + "]"
}

// Whatever days the program is down, and whatever is moved or skipped, each occurrence is opened once, stands in one that was, is skipped
// or is still to come.
func TestOccurrencesAreConserved(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		p := plan(func(p *upkeep.Plan) {
			p.Rule = rapid.SampledFrom([]string{"FREQ=WEEKLY", "FREQ=MONTHLY", "FREQ=DAILY;INTERVAL=10", "FREQ=MONTHLY;BYDAY=1MO"}).Draw(t, "rule")
			p.Ahead, p.Before = rapid.IntRange(0, 40).Draw(t, "ahead"), rapid.IntRange(0, 5).Draw(t, "before")
		})
		target := upkeep.Target{ID: "pump"}
		skipped := map[string]bool{}
		now := day(p.Begin).AddDate(0, 0, -10)
		end := now.AddDate(0, 0, 300)
		for ; now.Before(end); now = now.AddDate(0, 0, rapid.SampledFrom([]int{1, 1, 1, 5, 40}).Draw(t, "days")) {
			today := now.Format(time.DateOnly)
			coming := p.Coming(target, today, now.AddDate(0, 0, 90).Format(time.DateOnly))
			for _, o := range coming {
				if o.Opens <= today && !o.Skipped {
					target.Past = append(target.Past, upkeep.Past{Key: o.Key, First: o.First, On: o.On, Since: now})
					for _, x := range target.Past[:len(target.Past)-1] {
						assert.NotEqual(t, x.Key, o.Key, "opened twice")
					}
				}
			}
			if len(coming) > 0 && rapid.IntRange(0, 9).Draw(t, "changes") == 0 {
				o := coming[rapid.IntRange(0, len(coming)-1).Draw(t, "which")]
				if o.Opens <= today || o.Skipped { // it was opened just now
					continue
				}
				c := upkeep.Change{Line: audit.Line{Entry: strconv.Itoa(len(p.Changes) + 1000), At: now.Add(time.Minute)}, Target: "pump",
					Key: o.Key, Due: o.Due}
				if rapid.Bool().Draw(t, "moved") {
					c.To = now.AddDate(0, 0, rapid.IntRange(-20, 120).Draw(t, "by")).Format(time.DateOnly)
				}
				require.NoError(t, p.Keep(c))
				skipped[o.Key] = c.To == ""
			}
		}
		today := now.Format(time.DateOnly)
		due := map[string]int{} // how often each is accounted for
		all := plan(func(q *upkeep.Plan) { q.Rule = p.Rule }).Coming(upkeep.Target{}, p.Begin, today)
		count := func(first, key string) {
			for _, o := range all {
				if o.Key == key || o.Key >= first && o.Key < key && !changedBefore(p, o.Key, target, key) {
					due[o.Key]++
				}
			}
		}
		for _, x := range target.Past {
			count(x.First, x.Key)
		}
		for _, o := range p.Coming(target, today, now.AddDate(1, 0, 0).Format(time.DateOnly)) {
			count(o.First, o.Key)
		}
		for _, o := range all {
			assert.Equal(t, 1, due[o.Key], "%s of %+v, %v", o.Key, target.Past, p.Changes)
		}
	})
}

// changedBefore tells whether an occurrence had been moved or skipped when a later one was opened that would stand for it.
func changedBefore(p upkeep.Plan, key string, t upkeep.Target, by string) bool {
	for _, c := range p.Changes {
		for _, x := range t.Past {
			if c.Key == key && x.Key == by && c.At.Before(x.Since) {
				return true
			}
		}
	}
	for _, x := range t.Past { // one that is still to come stands for none that was changed
		if x.Key == by {
			return false
		}
	}
	for _, c := range p.Changes {
		if c.Key == key {
			return true
		}
	}
	return false
}

// Counted from the last, one falls due at a time, and the next no sooner than after it.
func TestOneAtATime(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		p := plan(func(p *upkeep.Plan) {
			p.FromLast, p.Rule = true, rapid.SampledFrom([]string{"FREQ=WEEKLY", "FREQ=MONTHLY;INTERVAL=2"}).Draw(t, "rule")
			if rapid.Bool().Draw(t, "counter") {
				p.Counter = &upkeep.Counter{Point: "hours", Every: hours(int64(rapid.IntRange(1, 3000).Draw(t, "every")))}
			}
		})
		target := upkeep.Target{Runs: run("2026-01-10", 0, "2026-03-01", rapid.IntRange(0, 5000).Draw(t, "ran"))}
		now := day("2026-03-05")
		for i := range 8 {
			list := p.Coming(target, now.Format(time.DateOnly), now.AddDate(0, 8, 0).Format(time.DateOnly))
			for k, o := range list {
				assert.Equal(t, k > 0, o.Later)
				if k > 0 {
					assert.Greater(t, o.On, list[k-1].On)
				}
			}
			if len(list) == 0 {
				return
			}
			now = now.AddDate(0, 0, rapid.IntRange(0, 90).Draw(t, "done"))
			target.Past = append(target.Past, upkeep.Past{Key: list[0].Key, On: list[0].On, Over: true, Done: now.Format(time.DateOnly)})
			assert.Equal(t, strconv.Itoa(i+1), list[0].Key)
		}
	})
}
