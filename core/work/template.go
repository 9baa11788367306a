package work

import (
	"iter.example/iter/core/msg"
	"iter.example/iter/core/records"
)

// Template is ready-made work: what an order for it says, to be taken while somebody is on the telephone.
type Template struct {
	Name    string   `json:"name"`
	Problem string   `json:"problem"`
	Kind    string   `json:"kind,omitempty"`
	Tasks   []string `json:"tasks,omitempty"` // names
	Minutes int      `json:"minutes"`
	Skills  []string `json:"skills,omitempty"`
	Needs   []Need   `json:"needs,omitempty"`
	Sheets  []string `json:"sheets,omitempty"` // as id@version; none: as the rules have it
	// Gone tells that it is not offered any more.
	Gone bool `json:"gone,omitempty"`
}

// maxTasks is how many tasks ready-made work has.
const maxTasks = 60

// Check says what ready-made work lacks.
func (t Template) Check() error {
	if t.Minutes < 1 || t.Minutes > MaxMinutes {
		return msg.New("order.minutes")
	}
	if len(t.Tasks) > maxTasks || len(t.Skills) > maxTasks || len(t.Sheets) > maxTasks {
		return msg.New("entry.large")
	}
	for _, name := range t.Tasks {
		if err := records.CheckText("task", name, true, 200); err != nil {
			return err
		}
	}
	if err := CheckNeeds(t.Needs); err != nil {
		return err
	}
	if err := records.CheckText("kind", t.Kind, false, 80); err != nil {
		return err
	}
	if err := records.CheckText("problem", t.Problem, true, records.MaxText); err != nil {
		return err
	}
	return records.CheckText("name", t.Name, true, 100)
}
