package work

import (
	"slices"

	"iter.example/iter/core/audit"
	"iter.example/iter/core/msg"
	"iter.example/iter/core/ordered"
	"iter.example/iter/core/records"
)

// Task is one job step of a work order, with its own time.
type Task struct {
	ID      string `json:"id"`
	Name    string `json:"name"`
	Minutes int    `json:"minutes,omitempty"` // expected
	Asset   string `json:"asset,omitempty"`   // the machine that it is on, when it is not the order's
}

// TaskAct is what somebody does to a task.
type TaskAct string

const (
	TaskStarted TaskAct = "started"
	TaskHeld    TaskAct = "held" // put on hold, to go on with later
	TaskDone    TaskAct = "done"
)

// Values lists the acts, for generated types.
func (TaskAct) Values() []string {
	return []string{string(TaskStarted), string(TaskHeld), string(TaskDone)}
}

// TaskStep is an act as it was taken.
type TaskStep struct {
	audit.Line
	Visit  string  `json:"visit"`
	Task   string  `json:"task"`
	Act    TaskAct `json:"act"`
	Reason string  `json:"reason,omitempty"`
}

// TaskNote is how a task came out: a result of the company's own, and a remark. The last on a task that stands counts.
type TaskNote struct {
	audit.Line
	Visit  string `json:"visit"`
	Task   string `json:"task"`
	Result string `json:"result,omitempty"` // by the ids of OrderSettings
	Remark string `json:"remark,omitempty"`
}

// Noted is how a task came out; one without an entry when nobody said.
func (o Order) Noted(task string) TaskNote {
	for _, n := range slices.Backward(o.TaskNotes) {
		if n.Task == task && !n.Struck {
			return n
		}
	}
	return TaskNote{}
}

func checkTasks(tasks []Task) error {
	seen := map[string]bool{}
	for _, t := range tasks {
		if err := records.CheckID(t.ID); err != nil {
			return err
		}
		if seen[t.ID] {
			return msg.New("order.task", "task", t.ID)
		}
		seen[t.ID] = true
		if err := t.Check(); err != nil {
			return err
		}
	}
	return nil
}

// Check says what is wrong with a task, but for its id.
func (t Task) Check() error {
	if t.Minutes < 0 || t.Minutes > MaxMinutes {
		return msg.New("order.minutes")
	}
	return records.CheckText("task", t.Name, true, 200)
}

// AddedTask is a task that somebody on a visit found to be done as well.
type AddedTask struct {
	audit.Line
	Task
	Visit string `json:"visit"`
}

// AllTasks are the office's tasks of the order in their order, then those that were added on visits, by time.
func (o Order) AllTasks() []Task {
	out := slices.Clone(o.Tasks)
	for _, a := range o.Added {
		if !a.Struck {
			out = append(out, a.Task)
		}
	}
	return out
}

// Task gives the order's task with an id; one that was struck out, too: what was done on it before stays.
func (o Order) Task(id string) (Task, bool) {
	if i := slices.IndexFunc(o.Tasks, func(t Task) bool { return t.ID == id }); i >= 0 {
		return o.Tasks[i], true
	}
	if i := slices.IndexFunc(o.Added, func(t AddedTask) bool { return t.ID == id }); i >= 0 {
		return o.Added[i].Task, true
	}
	return Task{}, false
}

// AddTaskStep puts an act on the order, in order of time.
func (o *Order) AddTaskStep(s TaskStep) {
	o.TaskSteps = append(slices.Clone(o.TaskSteps), s)
	ordered.Stable(o.TaskSteps, func(a, b TaskStep) int { return byTime(a.At, a.Entry, b.At, b.Entry) })
}

// Stands is the last act on a task that holds; one without an entry when nothing was done on it.
func (o Order) Stands(task string) TaskStep {
	for _, s := range slices.Backward(o.TaskSteps) {
		if s.Task == task && !s.Struck {
			return s
		}
	}
	return TaskStep{}
}

// OnHold are the tasks of the order that a person has put on hold.
func (o Order) OnHold(person string) []string {
	var out []string
	for _, t := range o.AllTasks() {
		if s := o.Stands(t.ID); s.Act == TaskHeld && s.Person == person {
			out = append(out, t.ID)
		}
	}
	return out
}

// NextTask is the first task that is neither done nor on hold, or "".
func (o Order) NextTask() string {
	for _, t := range o.AllTasks() {
		if a := o.Stands(t.ID).Act; a != TaskDone && a != TaskHeld {
			return t.ID
		}
	}
	return ""
}

// TaskLabel is what the label of a task says, as a code to scan.
func TaskLabel(order, task string) string { return "ITER-T/" + order + "/" + task }
