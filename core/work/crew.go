package work

import (
	"slices"
	"time"

	"iter.example/iter/core/labor"
)

// CrewStep is a helper's clock as it was turned on a visit, by the lead or by the helper.
type CrewStep struct {
	Entry  string     `json:"entry"`
	At     time.Time  `json:"at"`
	Person string     `json:"person"` // who recorded it
	Helper string     `json:"helper"` // whose clock it is
	Clock  labor.Kind `json:"clock"`
	Task   string     `json:"task,omitempty"`
	Struck bool       `json:"struck,omitempty"`
}

// Message is one that was sent to the customer about the visit.
type Message struct {
	Entry    string    `json:"entry"`
	At       time.Time `json:"at"`
	Person   string    `json:"person"`
	Template string    `json:"template"`
	To       string    `json:"to"` // a telephone number or an e-mail address
	Text     string    `json:"text"`
	Expected time.Time `json:"expected,omitzero"` // when it says that somebody will be there
	Report   string    `json:"report,omitempty"`  // the entry of the report that goes with it
}

// AddCrewStep puts a helper's clock on the visit, in order of time.
func (v *Visit) AddCrewStep(s CrewStep) {
	v.Crew = append(slices.Clone(v.Crew), s)
	slices.SortStableFunc(v.Crew, func(a, b CrewStep) int { return byTime(a.At, a.Entry, b.At, b.Entry) })
	if s.Helper != v.Technician && !slices.Contains(v.Helpers, s.Helper) {
		v.Helpers = append(slices.Clone(v.Helpers), s.Helper)
	}
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
		if !s.Struck {
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

// Others are those beside the technician on whose devices the visit is: those it is or was offered to, and those who help.
func (v Visit) Others() []string {
	return slices.DeleteFunc(append(slices.Clone(v.Offered), v.Helpers...), func(p string) bool { return p == v.Technician })
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
