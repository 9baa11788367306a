package ledger

import (
	"slices"
	"strconv"
	"time"

	"iter.example/iter/core/labor"
	"iter.example/iter/core/msg"
	"iter.example/iter/core/records"
	"iter.example/iter/core/work"
)

// TaskTaken is the body of the entries about a task.
type TaskTaken struct {
	Order  string `json:"order"`
	Task   string `json:"task"`
	Reason string `json:"reason,omitempty"` // of putting it on hold
}

// CrewClocked is the body of crew.clocked: a helper's clock on the visit, turned by the lead or by the helper.
type CrewClocked struct {
	Helper string     `json:"helper"`
	Clock  labor.Kind `json:"clock"` // travel, work, wait, break or stop
	Task   string     `json:"task,omitempty"`
}

// CrewAnswered is the body of crew.answered: whether its actor was there, whose clock somebody turned on a visit that they were not planned
// for.
type CrewAnswered struct {
	There bool      `json:"there"`
	Steps []StepRef `json:"steps"`
}

// StepRef names a step of a helper's clock.
type StepRef struct {
	Entry string    `json:"entry"`
	At    time.Time `json:"at"`
}

// MessageSent is the body of message.sent: what the customer is told, as the sender saw it.
type MessageSent struct {
	Template string    `json:"template"`
	To       string    `json:"to"`
	Text     string    `json:"text"`
	Expected time.Time `json:"expected,omitzero"`
}

// Closed is the body of visit.closed: somebody else than its technician ends a visit. End and People are those that
// work.Visit.Closing gives.
type Closed struct {
	Outcome work.Outcome `json:"outcome"`
	Reason  string       `json:"reason,omitempty"`
	End     time.Time    `json:"end"`
	People  []string     `json:"people,omitempty"`
}

// EndConfirmed is the body of visit.end_confirmed: when the technician ended the visit that somebody else closed.
type EndConfirmed struct {
	End time.Time `json:"end"`
}

func task(act work.TaskAct) *kind {
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
		return []Ref{{"workorder", b.Order}, TimecardRef(e.Actor, e.At), {"policy", "company"}}
	}
	return of("visit", nil, check, keys, func(t *tx, e Entry, b TaskTaken) error {
		v, err := t.fact()
		if err != nil {
			return err
		}
		ref := Ref{"workorder", b.Order}
		var o work.Order
		if ok, err := t.load(ref, &o); err != nil {
			return err
		} else if _, has := o.Task(b.Task); !ok || !has || v.Order != b.Order {
			return msg.New("task.unknown", "task", records.Clip(b.Task))
		}
		o.AddTaskStep(work.TaskStep{Entry: e.ID, At: e.At, Person: e.Actor, Visit: e.Subject.ID, Task: b.Task, Act: act, Reason: b.Reason})
		what := labor.What{Kind: labor.TaskEnd, Visit: e.Subject.ID, Task: b.Task}
		switch act {
		case work.TaskStarted:
			what.Kind = labor.Work
			v.Steps = append(slices.Clone(v.Steps), work.Step{Entry: e.ID, At: e.At, Person: e.Actor, Action: work.StartTask, Clock: labor.Work, Task: b.Task})
			v.Settle()
		case work.TaskHeld:
			var p records.Policy
			if _, err := t.load(Ref{"policy", "company"}, &p); err != nil {
				return err
			}
			if n := len(o.OnHold(e.Actor)); n > p.Holds() {
				t.flag("task.too_many_held", "count", strconv.Itoa(n), "max", strconv.Itoa(p.Holds()))
			}
		}
		if err := t.stamp(e.Actor, labor.Stamp{Entry: e.ID, At: e.At, What: what}); err != nil {
			return err
		}
		t.save(ref, o)
		t.save(e.Subject, v)
		return nil
	})
}

func checkCrew(b CrewClocked) error {
	if !slices.Contains([]labor.Kind{labor.Travel, labor.Work, labor.Wait, labor.Break, labor.Stop}, b.Clock) {
		return msg.New("visit.clock")
	}
	if b.Task != "" {
		if err := records.CheckID(b.Task); err != nil {
			return err
		}
	}
	return records.CheckID(b.Helper)
}

func crewKeys(e Entry, b CrewClocked) []Ref {
	return []Ref{TimecardRef(b.Helper, e.At), {"person", b.Helper}}
}

// UnsureHelper names the helper whose clock an entry of an earlier version turns, which would count at once.
func (f *Fact) UnsureHelper() string {
	if b, ok := f.body.(CrewClocked); ok && f.Entry.V == 1 && b.Helper != f.Entry.Actor {
		return b.Helper
	}
	return ""
}

// crewClocked turns a helper's clock. Since version 2, whoever was not planned and is not on the visit is asked first, on their own device.
func crewClocked(t *tx, e Entry, b CrewClocked) error {
	v, err := t.fact()
	if err != nil {
		return err
	}
	if err := t.technician(b.Helper); err != nil {
		return err
	}
	step := work.CrewStep{Entry: e.ID, At: e.At, Person: e.Actor, Helper: b.Helper, Clock: b.Clock, Task: b.Task}
	step.Asked = e.V > 1 && b.Helper != e.Actor && !v.Crewed(b.Helper)
	v.AddCrewStep(step)
	if !step.Asked {
		if err := t.stamp(step.Helper, crewStamp(e.Subject.ID, step)); err != nil {
			return err
		}
	}
	t.save(e.Subject, v)
	return nil
}

// crewStamp is a step of a helper's clock as it is stamped on their card.
func crewStamp(visit string, c work.CrewStep) labor.Stamp {
	s := labor.Stamp{Entry: c.Entry, At: c.At, What: labor.What{Kind: c.Clock, Visit: visit, Task: c.Task}}
	if c.Helper != c.Person {
		s.By = c.Person
	}
	return s
}

func checkCrewAnswered(b CrewAnswered) error {
	if len(b.Steps) == 0 || len(b.Steps) > 100 {
		return msg.New("crew.steps")
	}
	for _, s := range b.Steps {
		if err := records.CheckID(s.Entry); err != nil {
			return err
		}
	}
	return nil
}

func crewAnsweredKeys(e Entry, b CrewAnswered) []Ref {
	var out []Ref
	for _, s := range b.Steps {
		out = append(out, TimecardRef(e.Actor, s.At))
	}
	return out
}

func crewAnswered(t *tx, e Entry, b CrewAnswered) error {
	v, err := t.visit()
	if err != nil {
		return err
	}
	var entries []string
	for _, s := range b.Steps {
		// The card that a step is stamped on is one of the entry's keys only if it says when the step was.
		if slices.ContainsFunc(v.Crew, func(c work.CrewStep) bool { return c.Entry == s.Entry && c.At.Equal(s.At) }) {
			entries = append(entries, s.Entry)
		}
	}
	asked := *v
	steps := asked.AnswerCrew(e.Actor, entries, b.There)
	if slices.Equal(asked.Crew, v.Crew) {
		return msg.New("crew.not_asked")
	}
	var stamps []labor.Stamp
	for _, s := range steps {
		stamps = append(stamps, crewStamp(e.Subject.ID, s))
	}
	if err := t.stamp(e.Actor, stamps...); err != nil {
		return err
	}
	t.meanwhile(v)
	if !b.There {
		t.flag("crew.denied")
	}
	t.save(e.Subject, asked)
	return nil
}

func checkMessage(b MessageSent) error {
	if err := records.CheckText("to", b.To, true, 200); err != nil {
		return err
	}
	return records.CheckText("message", b.Text, true, 1000)
}

func messageSent(t *tx, e Entry, b MessageSent) error {
	v, err := t.fact()
	if err != nil {
		return err
	}
	v.Messages = append(slices.Clone(v.Messages), work.Message{Entry: e.ID, At: e.At, Person: e.Actor, Template: b.Template, To: b.To, Text: b.Text, Expected: b.Expected})
	t.save(e.Subject, v)
	return nil
}

func checkClosed(b Closed) error {
	if !slices.Contains(b.Outcome.Values(), string(b.Outcome)) {
		return msg.New("visit.outcome")
	}
	if len(b.People) > 50 {
		return msg.New("entry.large")
	}
	for _, p := range b.People {
		if err := records.CheckID(p); err != nil {
			return err
		}
	}
	return records.CheckText("reason", b.Reason, false, 500)
}

func closedKeys(_ Entry, b Closed) []Ref {
	out := []Ref{policyRef}
	for _, p := range b.People {
		out = append(out, TimecardRef(p, b.End))
	}
	return out
}

func closed(t *tx, e Entry, b Closed) error {
	v, err := t.command()
	if err != nil {
		return err
	}
	end, people := v.Closing(e.At)
	// The planned end does not move, the moment of closing does: while that comes first, the one that was shown holds.
	planned := v.Start.Add(time.Duration(v.Minutes) * time.Minute)
	if shown := !b.End.After(e.At) && end.Equal(e.At) && e.At.Before(planned); shown {
		end, _ = v.Closing(b.End)
	}
	if !end.Equal(b.End) || !slices.Equal(people, b.People) {
		return msg.New("visit.changed_meanwhile")
	}
	s := work.Step{Entry: e.ID, At: b.End, Person: v.Technician, By: e.Actor, Action: work.Finish, Clock: labor.Stop, Reason: b.Reason, Outcome: b.Outcome, Unconfirmed: v.Begun()}
	if err := t.finished(v, &s, "", nil); err != nil {
		return err
	}
	v.Steps = append(slices.Clone(v.Steps), s)
	v.Settle()
	for _, p := range people {
		if err := t.stamp(p, labor.Stamp{Entry: e.ID, At: b.End, What: labor.What{Kind: labor.Stop, Visit: e.Subject.ID}, By: e.Actor, Unconfirmed: true}); err != nil {
			return err
		}
	}
	t.save(e.Subject, v)
	return nil
}

func endKeys(e Entry, b EndConfirmed) []Ref { return []Ref{TimecardRef(e.Actor, b.End)} }

func endConfirmed(t *tx, e Entry, b EndConfirmed) error {
	v, err := t.fact()
	if err != nil {
		return err
	}
	if b.End.After(e.At) {
		return msg.New("time.not_yet")
	}
	open := v.Unconfirmed()
	if open == nil {
		return msg.New("visit.end_known")
	}
	v.Steps = append(slices.Clone(v.Steps), work.Step{Entry: e.ID, At: b.End, Person: e.Actor, Action: work.Finish, Clock: labor.Stop, Reason: open.Reason, Outcome: open.Outcome, Closes: open.Closes, Signature: open.Signature})
	v.Settle()
	if err := t.stamp(e.Actor, labor.Stamp{Entry: e.ID, At: b.End, What: labor.What{Kind: labor.Stop, Visit: e.Subject.ID}}); err != nil {
		return err
	}
	t.save(e.Subject, v)
	return nil
}
