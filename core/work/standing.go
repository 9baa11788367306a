package work

import (
	"slices"
	"time"

	"iter.example/iter/core/labor"
)

// Standing is where a visit stands by the clock of whoever is on it. The stage follows from what was tapped on the visit; whether its time
// still counts follows from all that the person tapped, wherever. A visit that is begun and whose clock went elsewhere is paused.
type Standing struct {
	Stage Stage     `json:"stage"`
	Since time.Time `json:"since"`
	// On tells that the person's clock runs on the visit.
	On bool `json:"on,omitempty"`
	// Left tells that the clock of a visit that is begun went elsewhere: For is what to, nil when it stopped.
	Left bool        `json:"left,omitempty"`
	For  *labor.What `json:"for,omitempty"`
	// Reason is that of a pause that was tapped, or of declining: an id of the policy, or words.
	Reason string `json:"reason,omitempty"`
}

// clockStage is the stage that a clock stands for.
var clockStage = map[labor.Kind]Stage{labor.Travel: Travelling, labor.Work: OnSite, labor.Wait: Paused, labor.Break: Paused}

// Begun tells whether the stage is one between setting off and the end.
func (s Stage) Begun() bool { return s == Travelling || s == OnSite || s == Paused }

// StandingAt works out where the visit that has this id stands at a moment, by timecards from the day on which it came to its stage;
// those of other people among them do not matter.
func (v Visit) StandingAt(id string, now time.Time, cards []labor.Timecard) Standing {
	out := Standing{Stage: v.Stage, Since: v.Since}
	step := v.current()
	if step != nil && v.Stage == Declined && step.Action == Decline {
		out.Reason = step.Reason
	}
	if step == nil || !v.Stage.Begun() {
		return out
	}
	spans := labor.Current(step.Person, now, cards)
	if s := labor.Running(spans); s != nil && s.Visit == id {
		out.On, out.Stage = true, clockStage[s.Kind]
		if out.Stage == Paused {
			out.Reason = s.Code
		}
		return out
	}
	out.Stage, out.Left = Paused, true
	for _, s := range spans {
		if s.Visit == id && s.End.After(out.Since) {
			out.Since = s.End
		}
	}
	if i := slices.IndexFunc(spans, func(s labor.Span) bool { return s.Start.Equal(out.Since) }); i >= 0 {
		out.For = &spans[i].What
	}
	return out
}

// LastDay is the last date that the visit is on: of its planned end, or of what was tapped on it when that is later.
func (v Visit) LastDay() string {
	end := v.Start.Add(time.Duration(v.Minutes)*time.Minute - time.Nanosecond)
	if s := v.current(); s != nil && s.Clock != "" {
		if s.At.After(end) || v.Stage == Finished && s.At.After(v.Start) {
			end = s.At
		}
	}
	return max(end.Format(time.DateOnly), v.Start.Format(time.DateOnly))
}

// CurrentPerson is whoever took the step that the visit stands at; "" before the first.
func (v Visit) CurrentPerson() string {
	if s := v.current(); s != nil {
		return s.Person
	}
	return ""
}

// current is the step that the visit stands at: the last that counts.
func (v Visit) current() *Step {
	var out *Step
	begun, led := false, false
	own := v.Unconfirmed() == nil // an end that somebody else set yields to the technician's own
	for i, s := range v.Steps {
		answer := s.Action == Accept || s.Action == Decline
		// An answer counts while it is that of the person it is sent to, is to the time that they were asked for last, and nothing has been
		// done yet.
		if s.Struck || (answer && (begun || s.Person != v.Technician || s.At.Before(v.AskedAt))) || (s.Unconfirmed && own) {
			continue
		}
		// A visit stands where its technician is: a task that a helper begins moves it only while nobody leads.
		if s.Action == StartTask && s.Person != v.Technician && led {
			continue
		}
		begun, led = begun || !answer, led || !answer && s.Person == v.Technician
		out = &v.Steps[i]
	}
	return out
}

// Next lists what the visit's technician can do at a stage. The first is the one next step of the dock.
func Next(s Stage) []Action {
	switch s {
	case Sent:
		return []Action{Accept, Decline}
	case Accepted:
		return []Action{SetOff}
	case Travelling:
		return []Action{Arrive}
	case OnSite:
		return []Action{Finish, Pause}
	case Paused:
		return []Action{Resume}
	}
	return []Action{}
}

// NextHere is Next by where the visit stands and where the technician is. Whoever is at the site already has no way to go, and what
// was left can be gone on with or ended.
func (v Visit) NextHere(s Standing, here bool) []Action {
	switch {
	case s.Left && v.Stage == Travelling && !here:
		return []Action{SetOff, Arrive}
	case s.Left && v.Stage != Travelling && here:
		return []Action{Resume, Finish}
	case s.Left && v.Stage != Travelling:
		return []Action{SetOff, Resume, Finish}
	case here && (s.Left || s.Stage == Accepted):
		return []Action{Arrive}
	}
	return Next(s.Stage)
}
