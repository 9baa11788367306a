package records

import (
	"strconv"

	"iter.example/iter/core/msg"
)

// KnowHow is something the company has learned, for whoever meets it again: about troubles of its tree and kinds of machine.
type KnowHow struct {
	Title string `json:"title"`
	Text  string `json:"text,omitempty"`
	// Troubles are the nodes of the tree that it hangs on, with all below them (core/trouble), and Kinds the kinds of machine; none: any.
	Troubles []string `json:"troubles,omitempty"`
	Kinds    []string `json:"kinds,omitempty"`
	// Documents are its pictures and papers, by hash.
	Documents map[string]Document `json:"documents,omitempty"`
	Author    string              `json:"author,omitempty"` // person
	// Sent is of one from the field that the office has not taken up: nobody is offered it. Gone is of one that was withdrawn.
	Sent bool `json:"sent,omitempty"`
	Gone bool `json:"gone,omitempty"`
}

// maxHangers is on how many troubles and kinds of machine know-how hangs at most, each.
const maxHangers = 100

// Check says what is wrong with know-how.
func (k KnowHow) Check() error {
	for _, ids := range [][]string{k.Troubles, k.Kinds} {
		if len(ids) > maxHangers {
			return msg.New("settings.list", "list", "knowhow", "max", strconv.Itoa(maxHangers))
		}
		for _, id := range ids {
			if err := CheckID(id); err != nil {
				return err
			}
		}
	}
	if err := CheckText("title", k.Title, true, 200); err != nil {
		return err
	}
	if err := CheckPapers(k.Documents); err != nil {
		return err
	}
	return CheckText("text", k.Text, false, 20_000)
}
