package work

import (
	"slices"
	"time"

	"iter.example/iter/core/audit"
	"iter.example/iter/core/labor"
	"iter.example/iter/core/ordered"
)

// CrewStep is a helper's clock as it was turned on a visit, by the lead or by the helper.
type CrewStep struct {
	audit.Line
	Helper string     `json:"helper"` // whose clock it is
	Clock  labor.Kind `json:"clock"`
	Task   string     `json:"task,omitempty"`
	// Asked tells that the helper was not planned and has not said yet that they were there: until then it counts for nothing.
	Asked bool `json:"asked,omitempty"`
}

// Message is one that was sent to the customer about the visit.
type Message struct {
	audit.Line
	Template string    `json:"template"`
	To       string    `json:"to"` // a telephone number or an e-mail address
	Text     string    `json:"text"`
	Expected time.Time `json:"expected,omitzero"` // when it says that somebody will be there
	Report   string    `json:"report,omitempty"`  // the entry of the report that goes with it
}

// AddCrewStep puts a helper's clock on the visit, in order of time.
func (v *Visit) AddCrewStep(s CrewStep) {
	v.Crew = append(slices.Clone(v.Crew), s)
	ordered.Stable(v.Crew, func(a, b CrewStep) int { return byTime(a.At, a.Entry, b.At, b.Entry) })
	if !s.Asked {
		v.Join(s.Helper)
	}
}

// Join has a person help on the visit.
func (v *Visit) Join(person string) {
	if !v.Crewed(person) {
		v.Helpers = append(slices.Clone(v.Helpers), person)
	}
}

// Crewed tells whether a person is on the visit: it is theirs, or they help on it.
func (v Visit) Crewed(person string) bool {
	return person == v.Technician || slices.Contains(v.Helpers, person)
}

// Asks lists those whose clocks were turned on the visit though they were not planned for it, and who have not said yet that they were
// there.
func (v Visit) Asks() []string {
	var out []string
	for _, s := range v.Crew {
		if s.Asked && !s.Struck && !slices.Contains(out, s.Helper) {
			out = append(out, s.Helper)
		}
	}
	return out
}

// AnswerCrew carries out what a helper says of some steps of their clock that they were asked about: that they were there, or that they
// were not. It gives those that count from now on.
func (v *Visit) AnswerCrew(helper string, entries []string, there bool) []CrewStep {
	v.Crew = slices.Clone(v.Crew)
	var out []CrewStep
	for i := range v.Crew {
		s := &v.Crew[i]
		if s.Helper != helper || !s.Asked || !slices.Contains(entries, s.Entry) {
			continue
		}
		if s.Asked = false; !there {
			s.Struck = true
		}
		if there && !s.Struck {
			out = append(out, *s)
		}
	}
	if there {
		v.Join(helper)
	}
	return out
}

// Clocking are the helpers whose clocks run on the visit.
func (v Visit) Clocking() []string {
	out := []string{}
	for _, h := range v.Helpers {
		last := labor.Stop
		for _, s := range v.Crew {
			if s.Helper == h && !s.Struck {
				last = s.Clock
			}
		}
		if last != labor.Stop {
			out = append(out, h)
		}
	}
	return out
}

// Closing is where the time on the visit ends, and for whom, when somebody else than its technician closes it at a moment: at
// the planned end, or with the last that was stamped when that was later. It is never stretched to the moment of closing.
func (v Visit) Closing(at time.Time) (end time.Time, people []string) {
	end = v.Start.Add(time.Duration(v.Minutes) * time.Minute)
	if at.Before(end) {
		end = at
	}
	people = v.Clocking()
	running := labor.Stop
	later := func(t time.Time) {
		if t.After(end) {
			end = t
		}
	}
	for _, s := range v.Steps {
		if !s.Struck && s.Clock != "" {
			later(s.At)
			if s.Person == v.Technician {
				running = s.Clock
			}
		}
	}
	for _, s := range v.Crew {
		if !s.Struck && !s.Asked {
			later(s.At)
		}
	}
	if running != labor.Stop {
		people = append(people, v.Technician)
	}
	slices.Sort(people)
	return end, people
}

// Unconfirmed is the end that the office set and nobody has confirmed, or nil.
func (v Visit) Unconfirmed() *Step {
	var out *Step
	for i, s := range v.Steps {
		switch {
		case s.Struck || s.Action != Finish:
		case !s.Unconfirmed:
			return nil
		default:
			out = &v.Steps[i]
		}
	}
	return out
}

// Others are those beside the technician on whose devices the visit is: those it is or was offered to, those who help, and those who
// are asked whether they do.
func (v Visit) Others() []string {
	return slices.DeleteFunc(slices.Concat(v.Offered, v.Helpers, v.Asks()), func(p string) bool { return p == v.Technician })
}

// Expects tells whether somebody is to go there: it is theirs, they come along, or they were offered it and may still take it.
func (v Visit) Expects(person string) bool {
	open := v.Technician == "" && slices.Contains(v.Offered, person) && v.Answered(person) != Decline
	return v.Technician == person || slices.Contains(v.Helpers, person) || open
}

// Declines are the answers with which people declined the visit, or an offer of it, each one's last.
func (v Visit) Declines() []Step {
	var out []Step
	for i, s := range v.Steps {
		later := slices.ContainsFunc(v.Steps[i+1:], func(x Step) bool {
			return x.Person == s.Person && !x.Struck && (x.Action == Accept || x.Action == Decline)
		})
		if s.Action == Decline && !s.Struck && !later {
			out = append(out, s)
		}
	}
	return out
}

// Answered is what a person last answered, to an offer or to a visit that was sent to them; "" for nothing yet.
func (v Visit) Answered(person string) Action {
	for _, s := range slices.Backward(v.Steps) {
		if s.Person == person && !s.Struck && (s.Action == Accept || s.Action == Decline) {
			return s.Action
		}
	}
	return ""
}
