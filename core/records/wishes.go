package records

import (
	"slices"
	"strconv"

	"iter.example/iter/core/msg"
)

// Wishes are whom a site asks for, and who is not wanted there. Its record has the id of the site, and is on no device: it is nobody's
// business in the field.
type Wishes struct {
	Prefer []string `json:"prefer,omitempty"` // people
	Refuse []string `json:"refuse,omitempty"`
	Note   string   `json:"note,omitempty"`
}

// Check says what wishes can't be: nobody is asked for and not wanted at once.
func (w Wishes) Check() error {
	if len(w.Prefer)+len(w.Refuse) > maxList {
		return msg.New("settings.list", "list", "wishes", "max", strconv.Itoa(maxList))
	}
	for _, id := range slices.Concat(w.Prefer, w.Refuse) {
		if err := CheckID(id); err != nil {
			return err
		}
	}
	if slices.ContainsFunc(w.Prefer, func(id string) bool { return slices.Contains(w.Refuse, id) }) {
		return msg.New("wishes.both")
	}
	return CheckText("note", w.Note, false, MaxText)
}
