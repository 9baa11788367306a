package calendar

import (
	"time"

	"iter.example/iter/core/audit"
)

// State is where an absence stands.
type State string

const (
	Asked     State = "asked" // by the person, for somebody to decide
	Granted   State = "granted"
	Declined  State = "declined"
	Withdrawn State = "withdrawn"
)

// Values lists the states, for generated types.
func (State) Values() []string {
	return []string{string(Asked), string(Granted), string(Declined), string(Withdrawn)}
}

// Absence is when a person is off, or asks to be.
type Absence struct {
	audit.Line
	Off
	Note string `json:"note,omitempty"` // of whoever entered it
	// Office tells that the office entered it: it need not be granted.
	Office bool  `json:"office,omitempty"`
	State  State `json:"state"`
	// By and Text are whose the last word on it is, and what they say.
	By   string `json:"by,omitempty"`
	Text string `json:"text,omitempty"`
}

// Answer is a word on an absence, by whichever entry said it.
type Answer struct {
	audit.Moment
	State  State  `json:"state"`
	Person string `json:"person"`
	Text   string `json:"text,omitempty"`
}

// Absences are those of one person. Answers may be heard of before what they answer.
type Absences struct {
	List    []Absence         `json:"list"`
	Answers map[string]Answer `json:"answers,omitempty"` // by the entry of the absence
}

// Add takes an absence in.
func (a *Absences) Add(x Absence) {
	a.List = audit.Add(a.List, x)
	a.settle()
}

// Answer takes a word on an absence in: the last one counts.
func (a *Absences) Answer(entry string, w Answer) {
	if had, ok := a.Answers[entry]; ok && !had.Before(w.Moment) {
		return
	}
	answers := map[string]Answer{entry: w}
	for k, v := range a.Answers {
		if k != entry {
			answers[k] = v
		}
	}
	a.Answers = answers
	a.settle()
}

func (a *Absences) settle() {
	list := make([]Absence, len(a.List))
	for i, x := range a.List {
		x.State, x.By, x.Text = Asked, "", ""
		if x.Office {
			x.State = Granted
		}
		if w, ok := a.Answers[x.Entry]; ok {
			x.State, x.By, x.Text = w.State, w.Person, w.Text
		}
		list[i] = x
	}
	a.List = list
}

// Off are the absences that hold.
func (a Absences) Off() []Off {
	var out []Off
	for _, x := range a.List {
		if x.State == Granted && !x.Struck {
			out = append(out, x.Off)
		}
	}
	return out
}

// At gives the absence that an entry made.
func (a Absences) At(entry string) (Absence, bool) {
	for _, x := range a.List {
		if x.Entry == entry {
			return x, true
		}
	}
	return Absence{}, false
}

// Waiting are those that somebody has to decide on, of days that are not over.
func (a Absences) Waiting(now time.Time) []Absence {
	var out []Absence
	for _, x := range a.List {
		if x.State == Asked && !x.Struck && x.To >= now.Format(time.DateOnly) {
			out = append(out, x)
		}
	}
	return out
}
