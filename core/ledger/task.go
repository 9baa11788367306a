package ledger

import (
	"slices"
	"strconv"

	"iter.example/iter/core/audit"
	"iter.example/iter/core/labor"
	"iter.example/iter/core/msg"
	"iter.example/iter/core/records"
	"iter.example/iter/core/work"
)

func taskKinds() table {
	return table{
		"task.started": task(work.TaskStarted),
		"task.held":    task(work.TaskHeld),
		"task.done":    task(work.TaskDone),
		"task.added": row[TaskAdded]{subject: "visit", terminal: true, phoned: true, check: checkTaskAdded, keys: taskAddedKeys,
			apply: taskAdded, strike: strikeOnOrder(func(o *work.Order) *[]work.AddedTask { return &o.Added })}.kind(),
		"task.noted": row[TaskNoted]{subject: "visit", terminal: true, phoned: true, check: checkTaskNoted,
			keys: func(_ Entry, b TaskNoted) []Ref { return []Ref{{"workorder", b.Order}} }, apply: taskNoted,
			strike: strikeOnOrder(func(o *work.Order) *[]work.TaskNote { return &o.TaskNotes })}.kind(),
	}
}

// TaskTaken is the body of the entries about a task.
type TaskTaken struct {
	Order  string `json:"order"`
	Task   string `json:"task"`
	Reason string `json:"reason,omitempty"` // of putting it on hold
}

// TaskNoted is the body of task.noted: how a task came out.
type TaskNoted struct {
	Order  string `json:"order"`
	Task   string `json:"task"`
	Result string `json:"result,omitempty"` // by the ids of the settings of orders
	Remark string `json:"remark,omitempty"`
}

// TaskAdded is the body of task.added: a step that is to be done as well, on a machine at the site. Its id is the entry's.
type TaskAdded struct {
	Order   string `json:"order"`
	Name    string `json:"name"`
	Asset   string `json:"asset,omitempty"`   // the machine, when it is not the order's
	Minutes int    `json:"minutes,omitempty"` // expected
}

func checkTaskAdded(b TaskAdded) error {
	if err := records.CheckID(b.Order); err != nil {
		return err
	}
	if err := checkOptional(b.Asset); err != nil {
		return err
	}
	return work.Task{Name: b.Name, Minutes: b.Minutes}.Check()
}

func taskAddedKeys(_ Entry, b TaskAdded) []Ref {
	out := []Ref{{"workorder", b.Order}}
	if b.Asset != "" {
		out = append(out, Ref{"asset", b.Asset})
	}
	return out
}

func taskAdded(t *tx, e Entry, b TaskAdded) error {
	v, err := t.fact()
	if err != nil {
		return err
	}
	var o work.Order
	order := Ref{"workorder", b.Order}
	if ok, err := t.load(order, &o); err != nil {
		return err
	} else if !ok || v.Order != b.Order {
		return msg.New("record.unknown", "type", "workorder", "id", b.Order)
	}
	if b.Asset != "" {
		var a records.Asset
		if ok, err := t.load(Ref{"asset", b.Asset}, &a); err != nil {
			return err
		} else if !ok || a.Site != o.Site {
			return msg.New("order.asset_site")
		}
	}
	o.Added = audit.Add(o.Added, work.AddedTask{Line: e.line(), Visit: e.Subject.ID,
		Task: work.Task{ID: e.ID, Name: b.Name, Minutes: b.Minutes, Asset: b.Asset}})
	t.save(order, o)
	t.save(e.Subject, v)
	return nil
}

// strikeOnOrder strikes out a line that an entry about a visit put on its work order: how a task came out, or a step that was added, on
// which what was done stays.
func strikeOnOrder[L any, P audit.Embeds[L]](of func(*work.Order) *[]L) striker {
	return func(t *tx, s Struck) (mark, error) {
		v, err := t.visit()
		if err != nil {
			return nil, err
		}
		var o work.Order
		order := Ref{"workorder", v.Order}
		if _, err := t.load(order, &o); err != nil {
			return nil, err
		}
		lines := of(&o)
		*lines = slices.Clone(*lines)
		line, err := s.checkLine(audit.Of[L, P](*lines, s.Entry))
		if err != nil {
			return nil, err
		}
		return func(struck bool) {
			line.Struck = struck
			t.save(order, o)
			t.save(t.entry.Subject, v)
		}, nil
	}
}

func checkTaskNoted(b TaskNoted) error {
	for _, id := range []string{b.Order, b.Task} {
		if err := records.CheckID(id); err != nil {
			return err
		}
	}
	if err := records.CheckText("result", b.Result, false, 80); err != nil {
		return err
	}
	return records.CheckText("remark", b.Remark, b.Result == "", 2000)
}

func taskNoted(t *tx, e Entry, b TaskNoted) error {
	v, err := t.fact()
	if err != nil {
		return err
	}
	o, err := t.taskOf(v, b.Order, b.Task)
	if err != nil {
		return err
	}
	o.TaskNotes = audit.Add(o.TaskNotes, work.TaskNote{Line: e.line(), Visit: e.Subject.ID, Task: b.Task, Result: b.Result,
		Remark: b.Remark})
	t.save(Ref{"workorder", b.Order}, o)
	t.save(e.Subject, v)
	return nil
}

func task(act work.TaskAct) kind {
	check := func(b TaskTaken) error {
		if err := records.CheckID(b.Order); err != nil {
			return err
		}
		if err := records.CheckID(b.Task); err != nil {
			return err
		}
		return records.CheckText("reason", b.Reason, false, 500)
	}
	keys := func(e Entry, b TaskTaken) []Ref {
		return []Ref{{"workorder", b.Order}, TimecardRef(e.Actor, e.At), orderSettings}
	}
	apply := func(t *tx, e Entry, b TaskTaken) error {
		v, err := t.fact()
		if err != nil {
			return err
		}
		o, err := t.taskOf(v, b.Order, b.Task)
		if err != nil {
			return err
		}
		o.AddTaskStep(work.TaskStep{Line: e.line(), Visit: e.Subject.ID, Task: b.Task, Act: act, Reason: b.Reason})
		what := labor.What{Kind: labor.TaskEnd, Visit: e.Subject.ID, Task: b.Task}
		switch act {
		case work.TaskStarted:
			what.Kind = labor.Work
			v.Steps = append(slices.Clone(v.Steps), work.Step{Line: e.line(), Action: work.StartTask, Clock: labor.Work, Task: b.Task})
			v.Settle()
		case work.TaskHeld:
			rules, err := settingsNow[work.OrderSettings](t)
			if err != nil {
				return err
			}
			if n := len(o.OnHold(e.Actor)); n > rules.Holds() {
				t.flag("task.too_many_held", "count", strconv.Itoa(n), "max", strconv.Itoa(rules.Holds()))
			}
		}
		if err := t.stamp(e.Actor, labor.Stamp{Entry: e.ID, At: e.At, What: what}); err != nil {
			return err
		}
		t.save(Ref{"workorder", b.Order}, o)
		t.save(e.Subject, v)
		return nil
	}
	return row[TaskTaken]{subject: "visit", terminal: true, phoned: true, check: check, keys: keys, apply: apply, strike: strikeTask}.kind()
}

// taskOf gives the work order of a visit, which must have a task.
func (t *tx) taskOf(v *work.Visit, order, task string) (o work.Order, err error) {
	ok, err := t.load(Ref{"workorder", order}, &o)
	if err != nil {
		return o, err
	}
	if _, has := o.Task(task); !ok || !has || v.Order != order {
		return o, msg.New("task.unknown", "task", records.Clip(task))
	}
	return o, nil
}

// strikeTask strikes out what was done to a task. What it was, but for its start, is on the work order alone.
func strikeTask(t *tx, s Struck) (mark, error) {
	v, err := t.visit()
	if err != nil {
		return nil, err
	}
	var o work.Order
	order := Ref{"workorder", v.Order}
	if _, err := t.load(order, &o); err != nil {
		return nil, err
	}
	step := audit.Of(v.Steps, s.Entry)
	onOrder := slices.IndexFunc(o.TaskSteps, func(x work.TaskStep) bool { return x.Entry == s.Entry && x.Visit == t.entry.Subject.ID })
	line := step
	if onOrder >= 0 {
		line = &o.TaskSteps[onOrder].Line
	}
	if line, err = s.checkLine(line); err != nil {
		return nil, err
	}
	c, err := t.cardToStrike(line.Person, *line)
	if err != nil {
		return nil, err
	}
	return func(struck bool) {
		if step != nil {
			step.Struck = struck
			v.Settle()
		}
		if onOrder >= 0 {
			o.TaskSteps[onOrder].Struck = struck
			t.save(order, o)
		}
		t.strikeStamp(c, s.Entry, struck)
		t.save(t.entry.Subject, v)
	}, nil
}
