package plan

import (
	"encoding/json"

	"iter.example/iter/core/msg"
)

// Question is what a screen asks of a day: the fit of a visit in a lane at a time, or without a lane the best fits over all people, at most
// so many. The visit is one of the day or one that waits, by its id, or another.
type Question struct {
	ID    string `json:"id,omitempty"`
	Want  *Want  `json:"want,omitempty"`
	Lane  string `json:"lane,omitempty"`
	Begin int    `json:"begin,omitempty"`
	Most  int    `json:"most,omitempty"`
	// HandOver asks who could do what is left of the lane's day, Give who could do some visits or what waits, by their ids; with To when
	// somebody could.
	HandOver bool     `json:"handOver,omitempty"`
	Give     []string `json:"give,omitempty"`
	To       string   `json:"to,omitempty"`
	// Repair asks how to put the day right, with what waits of Give as what can't wait.
	Repair bool `json:"repair,omitempty"`
	// Gaps asks for the gaps in the lane's hours.
	Gaps bool `json:"gaps,omitempty"`
}

// OpenDay reads a day as a board brings it, with its table of so many places.
func OpenDay(raw []byte, places int, table []byte) (*Day, error) {
	d := &Day{}
	if err := json.Unmarshal(raw, d); err != nil {
		return nil, msg.From(err)
	}
	t, err := ReadTable(places, table)
	if err != nil {
		return nil, err
	}
	d.Open(t)
	return d, nil
}

// Ask answers a question as JSON: with a list of fits, none where the visit or the lane is not of the day; with a list of Handed where a
// day is to be handed over, of Repaired where it is to be put right, and of Span where gaps are asked for.
func (d *Day) Ask(raw []byte) []byte {
	var q Question
	var answer any = []Fit{}
	if err := json.Unmarshal(raw, &q); err == nil {
		switch {
		case q.Repair:
			answer = d.Repair(q.Give)
		case len(q.Give) > 0:
			answer = d.Give(q.Give, q.To)
		case q.HandOver:
			answer = d.HandOver(q.Lane, q.To)
		case q.Gaps:
			answer = d.Gaps(q.Lane)
		default:
			answer = d.answer(q)
		}
	}
	out, err := json.Marshal(answer)
	if err != nil {
		return []byte("[]")
	}
	return out
}

func (d *Day) answer(q Question) []Fit {
	w := q.Want
	if p := d.find(q.ID); w == nil && p != nil {
		w = &p.Want
	}
	switch {
	case w == nil:
		return []Fit{}
	case q.Lane == "":
		return d.Suggest(*w, q.Most)
	}
	if f, ok := d.Fit(*w, q.Lane, q.Begin); ok {
		return []Fit{f}
	}
	return []Fit{}
}

// find gives a visit of the day, or what waits, which has no time, by its id.
func (d *Day) find(id string) *Placed {
	for i := range d.Wants {
		if d.Wants[i].ID == id {
			return &Placed{Want: d.Wants[i], Begin: never}
		}
	}
	for i := range d.Lanes {
		for k := range d.Lanes[i].Stops {
			if p := &d.Lanes[i].Stops[k]; p.ID == id {
				return p
			}
		}
	}
	return nil
}
