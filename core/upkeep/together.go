package upkeep

import (
	"cmp"
	"slices"
	"strconv"
	"strings"

	"iter.example/iter/core/records"
	"iter.example/iter/core/work"
)

// Item is an occurrence with the plan that it is of.
type Item struct {
	Occurrence
	PlanID string
	Plan   Plan
	Asset  string // the machine; "" when it is the site as a whole
}

// mostTogether is for how many minutes at most occurrences are put into one work order: a day's work.
const mostTogether = 8 * 60

// How many tasks and parts a work order for several occurrences has at most.
const (
	maxTasks = 60
	maxNeeds = 200
)

// Together puts what falls due at a site into work orders, those that are to be opened by now: what may be done on the same days is one, as
// far as it is a day's work. What is to open later comes along with it.
func Together(items []Item, today string) (out [][]Item) {
	var left []Item
	for _, x := range items {
		if !x.Skipped && !x.Later {
			left = append(left, x)
		}
	}
	slices.SortStableFunc(left, func(a, b Item) int {
		return cmp.Or(cmp.Compare(a.To, b.To), cmp.Compare(a.On, b.On), cmp.Compare(a.PlanID, b.PlanID), cmp.Compare(a.Target, b.Target),
			compareKeys(a.Key, b.Key))
	})
	taken := make([]bool, len(left))
	for i, x := range left {
		if taken[i] || x.Opens > today {
			continue
		}
		taken[i] = true
		group := []Item{x}
		from, to := x.From, x.To
		if to < today {
			to = today // it is late: what may be done now comes along
		}
		for k, y := range left {
			if taken[k] || max(from, y.From) > min(to, max(y.To, today)) || !fits(group, y) {
				continue
			}
			taken[k], group = true, append(group, y)
			from, to = max(from, y.From), min(to, max(y.To, today))
		}
		out = append(out, group)
	}
	return out
}

// fits tells whether an occurrence may be put with others: each of a plan's machines once, and not more than a day's work.
func fits(group []Item, y Item) bool {
	minutes, tasks, needs, text := 0, 0, 0, 0
	for _, x := range append(slices.Clone(group), y) {
		minutes, tasks = minutes+x.Plan.Minutes, tasks+max(len(x.Plan.Tasks), 1)
		needs, text = needs+len(x.Plan.Needs), text+len(x.Plan.Problem)+len("; ")
	}
	twice := slices.ContainsFunc(group, func(x Item) bool { return x.PlanID == y.PlanID && x.Target == y.Target })
	return !twice && minutes <= mostTogether && tasks <= maxTasks && needs <= maxNeeds && text <= records.MaxText
}

// OrderOf is the work order for occurrences at one site: their tasks machine by machine, and all that they need. Customer and site are its
// caller's to say.
func OrderOf(group []Item) work.Order {
	o := work.Order{Priority: work.Normal, Kind: group[0].Plan.Kind, Asset: group[0].Asset}
	var problems []string
	for _, x := range group {
		if !slices.Contains(problems, x.Plan.Problem) {
			problems = append(problems, x.Plan.Problem)
		}
		if x.Asset != o.Asset {
			o.Asset = "" // it is for several
		}
	}
	o.Problem = strings.Join(problems, "; ")
	for _, x := range group {
		o.Due = append(o.Due, x.DueOf(x.PlanID))
		o.Minutes = min(o.Minutes+x.Plan.Minutes, work.MaxMinutes)
		o.Skills, o.Sheets = union(o.Skills, x.Plan.Skills), union(o.Sheets, x.Plan.Sheets)
		o.Crew, o.Things = max(o.Crew, x.Plan.Crew), union(o.Things, x.Plan.Things)
		names := x.Plan.Tasks
		if len(names) == 0 && len(group) > 1 {
			names = []string{x.Plan.Name}
		}
		for _, name := range names {
			t := work.Task{ID: "t" + strconv.Itoa(len(o.Tasks)+1), Name: name}
			if x.Asset != o.Asset {
				t.Asset = x.Asset
			}
			o.Tasks = append(o.Tasks, t)
		}
		for _, n := range x.Plan.Needs {
			if i := slices.IndexFunc(o.Needs, func(m work.Need) bool { return m.Part == n.Part }); i >= 0 {
				o.Needs[i].Quantity = o.Needs[i].Quantity.Add(n.Quantity)
			} else {
				o.Needs = append(o.Needs, n)
			}
		}
	}
	return o
}

func union(list, more []string) []string {
	for _, x := range more {
		if !slices.Contains(list, x) {
			list = append(list, x)
		}
	}
	return list
}
