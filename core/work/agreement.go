package work

import (
	"slices"
	"strconv"
	"time"

	"iter.example/iter/core/msg"
	"iter.example/iter/core/records"
)

// Agreement is a contract with a customer about machines: from when to when it holds, and how soon somebody comes and is done. Days are
// 2006-01-02.
type Agreement struct {
	Customer string   `json:"customer"`
	Name     string   `json:"name"`
	Assets   []string `json:"assets,omitempty"` // the machines that it is about
	From     string   `json:"from"`
	To       string   `json:"to,omitempty"` // the last day; "": until it is ended
	// Promises take the place of the company's rules for work on the machines.
	Promises []PromiseRule `json:"promises,omitempty"`
	Note     string        `json:"note,omitempty"`
}

// maxAgreed is how many machines an agreement is about.
const maxAgreed = 500

// Check says what an agreement lacks.
func (a Agreement) Check() error {
	if err := records.CheckID(a.Customer); err != nil {
		return err
	}
	if err := records.CheckText("name", a.Name, true, 100); err != nil {
		return err
	}
	if len(a.Assets) > maxAgreed {
		return msg.New("settings.list", "list", "assets", "max", strconv.Itoa(maxAgreed))
	}
	for i, id := range a.Assets {
		if err := records.CheckID(id); err != nil {
			return err
		}
		if slices.Contains(a.Assets[:i], id) {
			return msg.New("upkeep.twice")
		}
	}
	if _, err := time.Parse(time.DateOnly, a.From); err != nil {
		return msg.New("recurrence.begin")
	}
	if a.To != "" {
		if _, err := time.Parse(time.DateOnly, a.To); err != nil || a.To < a.From {
			return msg.New("upkeep.end")
		}
	}
	if len(a.Promises) > mostPromises {
		return msg.New("settings.list", "list", "promises", "max", strconv.Itoa(mostPromises))
	}
	for _, r := range a.Promises {
		if err := r.check(); err != nil {
			return err
		}
	}
	return records.CheckText("note", a.Note, false, records.MaxText)
}

// Holds tells whether an agreement is about a machine on a day.
func (a Agreement) Holds(asset, day string) bool {
	return a.From <= day && (a.To == "" || day <= a.To) && slices.Contains(a.Assets, asset)
}
