package work

import (
	"iter.example/iter/core/msg"
	"iter.example/iter/core/records"
)

// Template is ready-made work: what an order for it says, to be taken while somebody is on the telephone.
type Template struct {
	Name string `json:"name"`
	Job
	// Gone tells that it is not offered any more.
	Gone bool `json:"gone,omitempty"`
}

// Job is what an order says of work that is much the same each time.
type Job struct {
	Problem string   `json:"problem"`
	Kind    string   `json:"kind,omitempty"`
	Tasks   []string `json:"tasks,omitempty"` // names
	Minutes int      `json:"minutes"`
	Skills  []string `json:"skills,omitempty"`
	Crew    int      `json:"crew,omitempty"`   // how many people it takes, one where it is less
	Things  []string `json:"things,omitempty"` // what goes along, by the ids of resources
	Needs   []Need   `json:"needs,omitempty"`
	Sheets  []string `json:"sheets,omitempty"` // as id@version; none: as the rules have it
}

// maxTasks is how many tasks ready-made work has.
const maxTasks = 60

// Check says what ready-made work lacks.
func (t Template) Check() error {
	if err := t.Job.Check(); err != nil {
		return err
	}
	return records.CheckText("name", t.Name, true, 100)
}

// Check says what a job lacks.
func (j Job) Check() error {
	if j.Minutes < 1 || j.Minutes > MaxMinutes {
		return msg.New("order.minutes")
	}
	if len(j.Tasks) > maxTasks || len(j.Skills) > maxTasks || len(j.Sheets) > maxTasks {
		return msg.New("entry.large")
	}
	for _, name := range j.Tasks {
		if err := records.CheckText("task", name, true, 200); err != nil {
			return err
		}
	}
	if err := checkCrew(j.Crew, j.Things); err != nil {
		return err
	}
	if err := CheckNeeds(j.Needs); err != nil {
		return err
	}
	if err := records.CheckText("kind", j.Kind, false, 80); err != nil {
		return err
	}
	return records.CheckText("problem", j.Problem, true, records.MaxText)
}
