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

// Ask answers a question with a list of fits, as JSON; with none where the visit or the lane is not of the day.
func (d *Day) Ask(raw []byte) []byte {
	fits := []Fit{}
	var q Question
	if err := json.Unmarshal(raw, &q); err == nil {
		fits = d.answer(q)
	}
	out, err := json.Marshal(fits)
	if err != nil {
		return []byte("[]")
	}
	return out
}

func (d *Day) answer(q Question) []Fit {
	w := q.Want
	if w == nil {
		w = d.find(q.ID)
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

// find gives a visit of the day, or what waits, by its id.
func (d *Day) find(id string) *Want {
	for i := range d.Wants {
		if d.Wants[i].ID == id {
			return &d.Wants[i]
		}
	}
	for i := range d.Lanes {
		for k := range d.Lanes[i].Stops {
			if w := &d.Lanes[i].Stops[k].Want; w.ID == id {
				return w
			}
		}
	}
	return nil
}
