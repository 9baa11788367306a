package work

import (
	"strconv"
	"time"

	"iter.example/iter/core/msg"
	"iter.example/iter/core/records"
)

// Due is an occurrence of a maintenance plan that a work order was opened for (core/upkeep). Days are 2006-01-02.
type Due struct {
	Plan   string `json:"plan"`
	Target string `json:"target"` // the machine or site
	Key    string `json:"key"`    // of the occurrence
	First  string `json:"first,omitempty"`
	On     string `json:"on"`   // when it is to be done
	From   string `json:"from"` // the first day on which it may be, and To the last
	To     string `json:"to"`
}

// maxDue is how many occurrences one work order is for.
const maxDue = 100

func checkDue(list []Due) error {
	if len(list) > maxDue {
		return msg.New("settings.list", "list", "due", "max", strconv.Itoa(maxDue))
	}
	for _, d := range list {
		for _, id := range []string{d.Plan, d.Target, d.Key} {
			if err := records.CheckID(id); err != nil {
				return err
			}
		}
		for _, day := range []string{d.On, d.From, d.To} {
			if _, err := time.Parse(time.DateOnly, day); err != nil {
				return msg.New("upkeep.day")
			}
		}
	}
	return nil
}

// Window is when all that a work order is due for may be done: the days that its occurrences have in common. Not ok when it is for none.
func (o Order) Window() (from, to string, ok bool) {
	for i, d := range o.Due {
		if i == 0 {
			from, to = d.From, d.To
		}
		from, to = max(from, d.From), min(to, d.To)
	}
	return from, to, len(o.Due) > 0
}
