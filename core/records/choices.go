package records

import (
	"maps"
	"slices"
	"strconv"

	"iter.example/iter/core/labor"
	"iter.example/iter/core/msg"
)

// Choice is one of a list of the company's own: a reason, a kind of work, a skill, a class of tax.
type Choice struct {
	ID   string `json:"id"`
	Text string `json:"text"`
	// Clock is what a pause for this reason counts as: a wait or a break.
	Clock labor.Kind `json:"clock,omitempty"`
}

// Choices are lists of choices, by the names of the fields they are in.
type Choices map[string][]Choice

// The most that a list of settings holds, and the longest of its texts, in characters.
const (
	maxList = 500
	maxLine = 500
)

// CheckChoices says which list is too long, or has a choice without text, or twice.
func CheckChoices(lists Choices) error {
	for _, name := range slices.Sorted(maps.Keys(lists)) {
		list := lists[name]
		if len(list) > maxList {
			return msg.New("settings.list", "list", name, "max", strconv.Itoa(maxList))
		}
		seen := map[string]bool{}
		for _, r := range list {
			if err := CheckID(r.ID); err != nil {
				return err
			}
			if seen[r.ID] {
				return msg.New("settings.twice", "list", name, "id", r.ID)
			}
			seen[r.ID] = true
			if err := CheckText(name, r.Text, true, maxLine); err != nil {
				return err
			}
		}
	}
	return nil
}

// CheckLines says whether a list of texts is too long, or one of them empty or too long.
func CheckLines(name string, list []string) error {
	if len(list) > maxList {
		return msg.New("settings.list", "list", name, "max", strconv.Itoa(maxList))
	}
	for _, text := range list {
		if err := CheckText(name, text, true, maxLine); err != nil {
			return err
		}
	}
	return nil
}
