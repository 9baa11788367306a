package records

import "iter.example/iter/core/calendar"

// Resource is what is booked beside people: a boat, a lifting rig, a trailer, a bay in the workshop.
type Resource struct {
	Name string `json:"name"`
	Kind string `json:"kind,omitempty"` // in words: boat, rig
	// Hours are when it can be had, and Out when it can't all the same; nothing said: always.
	Hours []calendar.Week `json:"hours,omitempty"`
	Out   []calendar.Off  `json:"out,omitempty"`
	Note  string          `json:"note,omitempty"`
	// Gone tells that it is not there any more.
	Gone bool `json:"gone,omitempty"`
}

// Check says what a resource's record lacks.
func (r Resource) Check() error {
	if err := calendar.CheckWeeks(r.Hours); err != nil {
		return err
	}
	if err := calendar.CheckOff(r.Out); err != nil {
		return err
	}
	if err := checkShort([][2]string{{"kind", r.Kind}}); err != nil {
		return err
	}
	if err := CheckText("note", r.Note, false, MaxText); err != nil {
		return err
	}
	return CheckText("name", r.Name, true, 200)
}
