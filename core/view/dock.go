package view

import (
	"slices"
	"time"

	"iter.example/iter/core/labor"
	"iter.example/iter/core/work"
)

// Clocks are what the clocks of some people say at a moment: Cards are their timecards, Sites the sites of the visits that are on them, by
// visit.
type Clocks struct {
	Now   time.Time
	Cards []labor.Timecard
	Sites map[string]string
}

// Dock is what a person can do on a visit now, at the bottom of the screen.
type Dock struct {
	// Actions are for whoever has the visit, or was offered it. The first is the one next step.
	Actions []work.Action `json:"actions"`
	// Standing is where the visit stands. Of what is no longer begun, On may still tell that the person's clock runs on it.
	Standing work.Standing `json:"standing"`
	// Here tells that the person is at the site, by their clock on this or another visit there.
	Here bool `json:"here,omitempty"`
	// Stops is another visit that the person's clock runs on: any step that turns the clock ends that.
	Stops string `json:"stops,omitempty"`
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

// DockOf works out a person's dock for the visit that has this id.
func DockOf(id string, v work.Visit, o work.Order, person string, c Clocks) Dock {
	spans := labor.Current(person, c.Now, c.Cards)
	running := labor.Running(spans)
	d := Dock{Actions: []work.Action{}, Clocking: c.clocking(id, v), Standing: v.StandingAt(id, c.Now, c.Cards),
		Here: c.here(person, spans, o.Site)}
	d.On = running != nil && running.Visit == id
	if running != nil && !d.On {
		d.Stops = running.Visit
	}
	switch {
	case v.Technician == person:
		d.Actions = v.NextHere(d.Standing, d.Here)
	case v.Technician == "" && slices.Contains(v.Offered, person):
		if v.Answered(person) != work.Decline {
			d.Actions = work.Next(v.Stage)
		}
	case slices.Contains(v.Helpers, person):
		d.Helping = true
		d.Clocking = []string{}
		return d
	case slices.Contains(v.Former, person) && v.Begun():
		d.Actions = v.NextHere(d.Standing, d.Here) // what they began before it was moved, they can end
	}
	if d.On && !slices.Contains(d.Actions, work.Finish) && !v.Stage.Begun() {
		d.Actions = append(d.Actions, work.Finish) // whatever became of the visit, a clock that runs can be stopped
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
			d.Task = s.Task // what was worked on last is gone on with
			if d.On {
				d.Running = s.Task
			}
		}
	}
	return d
}

// clocking are the helpers whose clocks run on the visit: by what was tapped on it, and by their cards where they are known.
func (c Clocks) clocking(id string, v work.Visit) []string {
	return slices.DeleteFunc(v.Clocking(), func(helper string) bool {
		known := slices.ContainsFunc(c.Cards, func(card labor.Timecard) bool { return card.Person == helper })
		running := labor.Running(labor.Current(helper, c.Now, c.Cards))
		return known && (running == nil || running.Visit != id)
	})
}

// here tells whether the last that a person's time went to today was at a site, and their day has not ended since.
func (c Clocks) here(person string, spans []labor.Span, site string) bool {
	if len(spans) == 0 || site == "" {
		return false
	}
	last := spans[len(spans)-1]
	if last.Kind == labor.Travel || c.Sites[last.Visit] != site || last.End.Format(time.DateOnly) != c.Now.Format(time.DateOnly) {
		return false
	}
	return !slices.ContainsFunc(c.Cards, func(card labor.Timecard) bool {
		return card.Person == person && slices.ContainsFunc(card.Stamps, func(s labor.Stamp) bool {
			return s.Kind == labor.DayEnd && !s.Struck && !s.At.Before(last.End) && !s.At.After(c.Now)
		})
	})
}
