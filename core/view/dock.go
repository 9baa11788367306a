package view

import (
	"slices"

	"iter.example/iter/core/labor"
	"iter.example/iter/core/work"
)

// Dock is what a person can do on a visit now, at the bottom of the screen.
type Dock struct {
	// Actions are for whoever has the visit, or was offered it. The first is the one next step.
	Actions []work.Action `json:"actions"`
	// Task is what an arrival or a resumption goes on with; none when the order has no task left.
	Task string `json:"task,omitempty"`
	// Running is the task that the person's time goes to.
	Running string `json:"running,omitempty"`
	// Clocking are the helpers whose clocks run.
	Clocking []string `json:"clocking"`
	// Helping tells that the person goes along, and On that their clock runs.
	Helping bool `json:"helping,omitempty"`
	On      bool `json:"on,omitempty"`
}

// DockOf works out a person's dock for a visit.
func DockOf(v work.Visit, o work.Order, person string) Dock {
	d := Dock{Actions: []work.Action{}, Clocking: v.Clocking()}
	switch {
	case v.Technician == person:
		d.Actions = work.Next(v.Stage)
	case v.Technician == "" && slices.Contains(v.Offered, person):
		if v.Answered(person) != work.Decline {
			d.Actions = work.Next(v.Stage)
		}
	case slices.Contains(v.Helpers, person):
		d.Helping, d.On = true, slices.Contains(d.Clocking, person)
		d.Clocking = []string{}
		return d
	case slices.Contains(v.Former, person) && v.Begun():
		d.Actions = work.Next(v.Stage) // what they began before it was moved, they can end
	}
	d.Task = o.NextTask()
	for _, s := range v.Steps {
		if s.Struck || s.Person != person || s.Clock == "" {
			continue
		}
		d.Running = ""
		if s.Clock != labor.Work || s.Task == "" {
			continue
		}
		if a := o.Stands(s.Task).Act; a != work.TaskDone && a != work.TaskHeld {
			d.Running, d.Task = s.Task, s.Task // what was worked on last is gone on with
		}
	}
	return d
}
