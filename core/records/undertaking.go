package records

import (
	"slices"
	"strconv"

	"iter.example/iter/core/msg"
)

// Undertaking is what several work orders are part of: the fitting out of a dairy, say. Which orders those are stands with the orders.
type Undertaking struct {
	Name        string `json:"name"`
	Responsible string `json:"responsible,omitempty"` // person
	// Seers are those at the office who see it, beside whoever is responsible; none: everybody there.
	Seers []string `json:"seers,omitempty"`
	Note  string   `json:"note,omitempty"`
	Done  bool     `json:"done,omitempty"`
}

// maxSeers is how many may be named who see an undertaking.
const maxSeers = 200

// Check says what an undertaking lacks.
func (u Undertaking) Check() error {
	if len(u.Seers) > maxSeers {
		return msg.New("settings.list", "list", "seers", "max", strconv.Itoa(maxSeers))
	}
	for _, id := range append(slices.Clone(u.Seers), u.Responsible) {
		if id == "" {
			continue
		}
		if err := CheckID(id); err != nil {
			return err
		}
	}
	if err := CheckText("note", u.Note, false, MaxText); err != nil {
		return err
	}
	return CheckText("name", u.Name, true, 200)
}

// SeenBy tells whether somebody at the office may see it.
func (u Undertaking) SeenBy(person string) bool {
	return len(u.Seers) == 0 || person == u.Responsible || slices.Contains(u.Seers, person)
}

// OwnedBy says whether a person may make or change it: whoever may see it.
func (u Undertaking) OwnedBy(person string) error {
	if !u.SeenBy(person) {
		return msg.New("undertaking.hidden")
	}
	return nil
}
