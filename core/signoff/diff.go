package signoff

import (
	"fmt"
	"slices"
)

// Part is a part of a summary.
type Part string

const (
	PartWork     Part = "work" // what the order is, and for whom
	PartHours    Part = "hours"
	PartTasks    Part = "tasks"
	PartNotes    Part = "notes"
	PartParts    Part = "parts"
	PartReadings Part = "readings"
	PartAnswers  Part = "answers"
	PartAdvice   Part = "advice"
	PartOutcome  Part = "outcome"
)

// Values lists the parts in the order they are shown, for generated types.
func (Part) Values() []string {
	return []string{string(PartWork), string(PartHours), string(PartTasks), string(PartNotes), string(PartParts), string(PartReadings),
		string(PartAnswers), string(PartAdvice), string(PartOutcome)}
}

// Change is a line of a summary that is not as it was signed.
type Change struct {
	Part Part  `json:"part"`
	Was  *Line `json:"was,omitempty"` // none: it came later
	Is   *Line `json:"is,omitempty"`  // none: it is no longer there
}

// Diff lists what is different between a summary that was signed and one of now. Two that have the same digest differ in nothing, and
// two that have not differ in something: the moment up to which hours count is not a difference.
func Diff(was, is Summary) []Change {
	out := []Change{}
	one := func(part Part, name, a, b string) {
		if a != b {
			out = append(out, Change{part, &Line{Name: name, Value: a}, &Line{Name: name, Value: b}})
		}
	}
	one(PartWork, "order", was.Order, is.Order)
	one(PartWork, "customer", was.Customer, is.Customer)
	one(PartWork, "site", was.Site, is.Site)
	one(PartWork, "asset", was.Asset, is.Asset)
	one(PartWork, "problem", was.Problem, is.Problem)
	one(PartWork, "person", was.Person, is.Person)
	one(PartWork, "day", was.Day, is.Day)
	one(PartHours, "travel", fmt.Sprint(was.Hours.Travel), fmt.Sprint(is.Hours.Travel))
	one(PartHours, "work", fmt.Sprint(was.Hours.Work), fmt.Sprint(is.Hours.Work))
	one(PartHours, "wait", fmt.Sprint(was.Hours.Wait), fmt.Sprint(is.Hours.Wait))
	one(PartHours, "break", fmt.Sprint(was.Hours.Break), fmt.Sprint(is.Hours.Break))
	one(PartHours, "indirect", fmt.Sprint(was.Hours.Indirect), fmt.Sprint(is.Hours.Indirect))
	out = append(out, lines(PartTasks, was.Tasks, is.Tasks)...)
	out = append(out, lines(PartNotes, texts(was.Notes), texts(is.Notes))...)
	out = append(out, lines(PartParts, was.Parts, is.Parts)...)
	out = append(out, lines(PartReadings, was.Readings, is.Readings)...)
	out = append(out, lines(PartAnswers, was.Answers, is.Answers)...)
	out = append(out, lines(PartAdvice, was.Advice, is.Advice)...)
	one(PartOutcome, "outcome", was.Outcome, is.Outcome)
	return out
}

func texts(list []string) []Line {
	out := make([]Line, len(list))
	for i, s := range list {
		out[i] = Line{Name: s}
	}
	return out
}

// lines compares two lists: what is in both, in whatever place, is no difference; of the rest, lines of one name are one that changed.
// Lists that have the same lines in another order differ in the first that moved.
func lines(part Part, was, is []Line) []Change {
	gone, come := minus(was, is), minus(is, was)
	out := []Change{}
	for _, g := range gone {
		c := Change{Part: part, Was: &g}
		for i := range come {
			if come[i].Name == g.Name {
				now := come[i]
				c.Is = &now
				come = slices.Delete(come, i, i+1)
				break
			}
		}
		out = append(out, c)
	}
	for _, c := range come {
		out = append(out, Change{Part: part, Is: &c})
	}
	if len(out) == 0 {
		for i := range was {
			if was[i] != is[i] {
				return []Change{{part, &was[i], &is[i]}}
			}
		}
	}
	return out
}

// minus are the lines of a that b does not have, each as often as it has it less.
func minus(a, b []Line) []Line {
	have := map[Line]int{}
	for _, l := range b {
		have[l]++
	}
	out := []Line{}
	for _, l := range a {
		if have[l] > 0 {
			have[l]--
			continue
		}
		out = append(out, l)
	}
	return out
}
