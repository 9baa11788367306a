package upkeep_test

import (
	"fmt"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"iter.example/iter/core/msg"
	"iter.example/iter/core/upkeep"
	"iter.example/iter/core/work"
)

func TestPlansAreChecked(t *testing.T) {
	require.NoError(t, plan(quarterly).Check())
	for code, change := range map[string]func(*upkeep.Plan){
		"upkeep.rule":      func(*upkeep.Plan) {},
		"recurrence.every": func(p *upkeep.Plan) { p.Rule = "FREQ=DAILY;INTERVAL=0" },
		"recurrence.never": func(p *upkeep.Plan) { p.Rule = "FREQ=YEARLY;BYMONTH=2;BYMONTHDAY=30" },
		"recurrence.begin": func(p *upkeep.Plan) { quarterly(p); p.Begin = "soon" },
		"upkeep.end":       func(p *upkeep.Plan) { quarterly(p); p.End = "2025-01-01" },
		"upkeep.days":      func(p *upkeep.Plan) { quarterly(p); p.Ahead = 4000 },
		"upkeep.target":    func(p *upkeep.Plan) { quarterly(p); p.Site = "kessel" },
		"upkeep.twice":     func(p *upkeep.Plan) { quarterly(p); p.Assets = []string{"pump", "pump"} },
		"upkeep.counter_site": func(p *upkeep.Plan) {
			p.Assets, p.Site, p.Counter = nil, "kessel", &upkeep.Counter{Point: "hours", Every: hours(5)}
		},
		"upkeep.both":           func(p *upkeep.Plan) { quarterly(p); p.Counter = &upkeep.Counter{Point: "hours", Every: hours(5)} },
		"upkeep.every":          func(p *upkeep.Plan) { p.Counter = &upkeep.Counter{Point: "hours", Every: hours(0)} },
		"order.minutes":         func(p *upkeep.Plan) { quarterly(p); p.Minutes = 0 },
		"recurrence.unreadable": func(p *upkeep.Plan) { p.Rule = "every now and then" },
	} {
		err := plan(change).Check()
		require.Error(t, err, code)
		assert.Equal(t, code, msg.From(err).Code)
	}
	for code, c := range map[string]upkeep.Change{
		"upkeep.day":   {Target: "pump", Key: "1", Due: "2026-01-10", To: "31 June"},
		"id.unusable":  {Key: "1", Due: "2026-01-10", To: "2026-01-11"},
		"text.missing": {Target: "pump", Key: "1", Due: "2026-01-10"}, // why it is skipped
	} {
		err := c.Check()
		require.Error(t, err, code)
		assert.Equal(t, code, msg.From(err).Code)
	}
}

func item(id, target, on string, change func(*upkeep.Plan)) upkeep.Item {
	p := plan(quarterly)
	change(&p)
	o := upkeep.Occurrence{Target: target, Key: on, First: on, Due: on, On: on, From: on, To: on, Opens: on}
	return upkeep.Item{Occurrence: o, PlanID: id, Plan: p, Asset: target}
}

func asIs(*upkeep.Plan) {}

func within(x upkeep.Item, from, to, opens string) upkeep.Item {
	x.From, x.To, x.Opens = from, to, opens
	return x
}

func TestTogether(t *testing.T) {
	names := func(groups [][]upkeep.Item) (out []string) {
		for _, g := range groups {
			text := ""
			for _, x := range g {
				text += x.Target + " "
			}
			out = append(out, text)
		}
		return out
	}
	long := func(p *upkeep.Plan) { p.Minutes = 300 }
	wordy := func(p *upkeep.Plan) { p.Problem = strings.Repeat("x", 3000) }
	for _, c := range []struct {
		name  string
		items []upkeep.Item
		want  []string
	}{
		{"overlapping windows are one, and what opens later comes along", []upkeep.Item{
			within(item("p", "a", "2026-06-10", asIs), "2026-06-01", "2026-06-20", "2026-05-20"),
			within(item("q", "b", "2026-06-25", asIs), "2026-06-15", "2026-07-05", "2026-06-15"),
			within(item("q", "c", "2026-07-25", asIs), "2026-07-15", "2026-08-05", "2026-07-15")}, []string{"a b "}},
		{"windows that only touch a third's are not all one", []upkeep.Item{
			within(item("p", "a", "2026-06-05", asIs), "2026-06-01", "2026-06-10", "2026-05-20"),
			within(item("p", "b", "2026-06-10", asIs), "2026-06-08", "2026-06-20", "2026-05-20"),
			within(item("p", "c", "2026-06-20", asIs), "2026-06-15", "2026-06-30", "2026-05-20")}, []string{"a b ", "c "}},
		{"no more than a day's work", []upkeep.Item{
			within(item("p", "a", "2026-06-05", long), "2026-06-01", "2026-06-10", "2026-05-20"),
			within(item("p", "b", "2026-06-05", long), "2026-06-01", "2026-06-10", "2026-05-20")}, []string{"a ", "b "}},
		{"no longer text than an order has", []upkeep.Item{
			within(item("p", "a", "2026-06-05", wordy), "2026-06-01", "2026-06-10", "2026-05-20"),
			within(item("p", "b", "2026-06-05", wordy), "2026-06-01", "2026-06-10", "2026-05-20")}, []string{"a ", "b "}},
		{"a machine's next is another order", []upkeep.Item{
			within(item("p", "a", "2026-06-05", asIs), "2026-06-01", "2026-06-30", "2026-05-20"),
			within(item("p", "a", "2026-06-12", asIs), "2026-06-01", "2026-06-30", "2026-05-20")}, []string{"a ", "a "}},
		{"late work comes together", []upkeep.Item{
			within(item("p", "a", "2026-02-05", asIs), "2026-02-01", "2026-02-10", "2026-01-20"),
			within(item("p", "b", "2026-04-05", asIs), "2026-04-01", "2026-04-10", "2026-03-20")}, []string{"a b "}},
	} {
		assert.Equal(t, c.want, names(upkeep.Together(c.items, "2026-06-01")), c.name)
	}
	assert.Empty(t, upkeep.Together([]upkeep.Item{{Occurrence: upkeep.Occurrence{Skipped: true}},
		{Occurrence: upkeep.Occurrence{Later: true}}}, "2026-06-01"))
}

// Nothing that is to open by now is left out, nothing is in two orders, and all of an order have a day in common.
func TestTogetherKeepsAll(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		var items []upkeep.Item
		want := map[string]bool{}
		for i := range rapid.IntRange(0, 12).Draw(t, "items") {
			date := func(n int) string { return day("2026-06-01").AddDate(0, 0, n).Format(time.DateOnly) }
			from := rapid.IntRange(1, 60).Draw(t, "from")
			x := within(item("p", fmt.Sprint("m", i), date(from), func(p *upkeep.Plan) { p.Minutes = rapid.IntRange(10, 500).Draw(t, "minutes") }),
				date(from), date(from+rapid.IntRange(0, 30).Draw(t, "long")), date(from-rapid.IntRange(0, 60).Draw(t, "ahead")))
			items = append(items, x)
			want[x.Target] = x.Opens <= "2026-06-01"
		}
		got := map[string]bool{}
		for _, g := range upkeep.Together(items, "2026-06-01") {
			from, to, ok := upkeep.OrderOf(g).Window()
			assert.True(t, ok && from <= to)
			for _, x := range g {
				assert.False(t, got[x.Target], "in two orders")
				got[x.Target] = true
			}
		}
		for target, opens := range want {
			assert.True(t, got[target] || !opens, "left out")
		}
	})
}

func TestOrderOf(t *testing.T) {
	seals := func(p *upkeep.Plan) {
		p.Job = work.Job{Problem: "Yearly service", Minutes: 90, Tasks: []string{"Check seals", "Oil"}, Skills: []string{"pumps"},
			Needs: []work.Need{{Part: "oil", Quantity: hours(2)}}, Sheets: []string{"service@1"}}
	}
	one := upkeep.OrderOf([]upkeep.Item{item("p", "a", "2026-06-10", seals)})
	assert.Equal(t, "a", one.Asset)
	assert.Equal(t, []work.Task{{ID: "t1", Name: "Check seals"}, {ID: "t2", Name: "Oil"}}, one.Tasks)
	both := upkeep.OrderOf([]upkeep.Item{item("p", "a", "2026-06-10", seals), item("p", "b", "2026-06-10", seals),
		item("q", "c", "2026-06-10", asIs)})
	assert.Equal(t, "", both.Asset)
	assert.Equal(t, "Yearly service; Service of the booster set", both.Problem)
	assert.Equal(t, 240, both.Minutes)
	assert.Equal(t, []string{"pumps"}, both.Skills)
	assert.Equal(t, "4", both.Needs[0].Quantity.String())
	assert.Equal(t, []string{"service@1"}, both.Sheets)
	assert.Equal(t, []work.Task{{ID: "t1", Name: "Check seals", Asset: "a"}, {ID: "t2", Name: "Oil", Asset: "a"},
		{ID: "t3", Name: "Check seals", Asset: "b"}, {ID: "t4", Name: "Oil", Asset: "b"}, {ID: "t5", Name: "Service", Asset: "c"}}, both.Tasks)
	assert.Len(t, both.Due, 3)
	both.Customer, both.Site = "kessel", "dairy"
	assert.NoError(t, both.Check())
}
