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

func crewClocked(t *tx, e Entry, b CrewClocked) error {
	v, err := t.fact()
	if err != nil {
		return err
	}
	if err := t.technician(b.Helper); err != nil {
		return err
	}
	v.AddCrewStep(work.CrewStep{Entry: e.ID, At: e.At, Person: e.Actor, Helper: b.Helper, Clock: b.Clock, Task: b.Task})
	s := labor.Stamp{Entry: e.ID, At: e.At, What: labor.What{Kind: b.Clock, Visit: e.Subject.ID, Task: b.Task}}
	if b.Helper != e.Actor {
		s.By = e.Actor
	}
	if err := t.stamp(b.Helper, s); err != nil {
		return err
	}
	t.save(e.Subject, v)
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
