package ledger

import (
	"cmp"
	"slices"

	"iter.example/iter/core/audit"
	"iter.example/iter/core/labor"
	"iter.example/iter/core/msg"
	"iter.example/iter/core/records"
	"iter.example/iter/core/work"
)

func stepKinds() table {
	return table{
		"visit.accepted": step(work.Accept),
		"visit.declined": step(work.Decline),
		"visit.set_off":  step(work.SetOff),
		"visit.arrived":  step(work.Arrive),
		"visit.paused":   step(work.Pause),
		"visit.resumed":  step(work.Resume),
		"visit.finished": step(work.Finish),
	}
}

// atTerminals are the actions that are taken at a shared terminal too: they turn a clock off.
var atTerminals = []work.Action{work.Pause, work.Finish}

// Step is the body of the entries that change a visit's stage.
type Step struct {
	Reason  string       `json:"reason,omitempty"`  // of a pause, a decline or a return: the id of a reason, or words
	Outcome work.Outcome `json:"outcome,omitempty"` // of a finish
	Clock   labor.Kind   `json:"clock,omitempty"`   // of a pause: wait or break
	Where   *work.Where  `json:"where,omitempty"`   // when the device gave it
	Task    string       `json:"task,omitempty"`    // of an arrival or resumption: what is worked on
	Home    bool         `json:"home,omitempty"`    // of setting off: from home, or for home
	Drive   *work.Drive  `json:"drive,omitempty"`   // of setting off: the way there, when it is known
	// Order is the visit's work order, of a finish that does not close it: what the next visit needs is kept there.
	Order  string       `json:"order,omitempty"`
	Needed *work.Needed `json:"needed,omitempty"`
}

var actionClock = map[work.Action]labor.Kind{
	work.SetOff: labor.Travel, work.Arrive: labor.Work, work.Pause: labor.Wait, work.Resume: labor.Work, work.Finish: labor.Stop,
}

func step(a work.Action) kind {
	clocked := actionClock[a] != ""
	check := func(b Step) error {
		switch {
		case a == work.Finish && !slices.Contains(b.Outcome.Values(), string(b.Outcome)):
			return msg.New("visit.outcome")
		case a != work.Finish && (b.Order != "" || b.Needed != nil), b.Needed != nil && b.Order == "":
			return msg.New("visit.outcome")
		case (b.Home || b.Drive != nil) && a != work.SetOff, b.Task != "" && a != work.Arrive && a != work.Resume:
			return msg.New("visit.clock")
		case b.Clock != "" && (a != work.Pause || (b.Clock != labor.Wait && b.Clock != labor.Break)):
			return msg.New("visit.clock")
		}
		if err := checkWhere(b.Where); err != nil {
			return err
		}
		if b.Drive != nil {
			if err := b.Drive.Check(); err != nil {
				return err
			}
		}
		if b.Needed != nil {
			if err := b.Needed.Check(); err != nil {
				return err
			}
		}
		if err := checkOptional(b.Order); err != nil {
			return err
		}
		return records.CheckText("reason", b.Reason, false, 500)
	}
	keys := func(e Entry, b Step) []Ref {
		var out []Ref
		if clocked {
			out = append(out, TimecardRef(e.Actor, e.At))
		}
		if a == work.Finish {
			out = append(out, visitSettings)
		}
		if b.Order != "" {
			out = append(out, Ref{"workorder", b.Order})
		}
		return out
	}
	apply := func(t *tx, e Entry, b Step) error {
		load := t.fact
		if a == work.Accept || a == work.Decline {
			load = func() (*work.Visit, error) { return t.answer(a) }
		}
		v, err := load()
		if err != nil {
			return err
		}
		if a == work.Finish && v.Stage == work.Finished && v.Unconfirmed() == nil {
			t.flag("visit.finished_twice")
		}
		if a != work.Finish {
			b.Outcome = ""
		}
		if a == work.Accept && v.Technician == "" && slices.Contains(v.Offered, e.Actor) {
			v.Technician = e.Actor // the first to accept has it
		}
		clock := actionClock[a]
		if b.Clock != "" {
			clock = b.Clock
		}
		s := work.Step{Line: e.line(), Action: a, Clock: clock, Task: b.Task, Home: b.Home, Reason: b.Reason, Outcome: b.Outcome,
			Where: b.Where, Drive: b.Drive}
		if a == work.Finish {
			if err := t.finished(v, &s, b.Order, b.Needed); err != nil {
				return err
			}
		}
		v.Steps = append(v.Steps, s)
		v.Settle()
		if clocked {
			what := labor.What{Kind: clock, Visit: e.Subject.ID, Task: b.Task, Home: b.Home}
			if a == work.Pause {
				what.Code = b.Reason
			}
			if err := t.stamp(e.Actor, labor.Stamp{Entry: e.ID, At: e.At, What: what}); err != nil {
				return err
			}
		}
		t.save(e.Subject, v)
		return nil
	}
	return row[Step]{subject: "visit", phoned: true, terminal: slices.Contains(atTerminals, a), check: check, keys: keys, apply: apply,
		strike: strikeStep}.kind()
}

func checkWhere(w *work.Where) error {
	if w != nil && (w.Lat < -90 || w.Lat > 90 || w.Lon < -180 || w.Lon > 180 || w.Accuracy < 0) {
		return msg.New("site.position")
	}
	return nil
}

// finished puts what follows from the outcome on a finish, and what the next visit needs on the work order.
func (t *tx) finished(v *work.Visit, s *work.Step, order string, needed *work.Needed) error {
	rules, err := settingsNow[work.VisitSettings](t)
	if err != nil {
		return err
	}
	o, ok := rules.Outcome(s.Outcome)
	if !ok {
		t.flag("outcome.unknown")
	}
	s.Closes, s.Signature = o.Closes, o.Signature
	if order == "" {
		return nil
	}
	if order != v.Order {
		return msg.New("visit.other_order")
	}
	var w work.Order
	ref := Ref{"workorder", order}
	if ok, err := t.load(ref, &w); err != nil || !ok {
		return err
	}
	r := work.Return{Entry: s.Entry, Visit: t.entry.Subject.ID, At: s.At, Person: s.Person, Outcome: s.Outcome, Reason: s.Reason}
	if needed != nil {
		r.Needed = *needed
	}
	w.Returns = append(slices.Clone(w.Returns), r)
	t.save(ref, w)
	return nil
}

// strikeStep strikes out a step of a visit, and the stamps of it. Whoever accepted an offer has not: it is open again. The end that the
// office gave a visit is everybody's who was there.
func strikeStep(t *tx, s Struck) (mark, error) {
	v, err := t.visit()
	if err != nil {
		return nil, err
	}
	step := audit.Find(v.Steps, s.Entry)
	if step == nil {
		return nil, msg.New("strike.unknown")
	}
	if err := s.checkPerson(cmp.Or(step.By, step.Person)); err != nil {
		return nil, err
	}
	people := []string{}
	if step.Clock != "" {
		people = append(people, step.Person)
	}
	if step.By != "" {
		people = append(people, v.Helpers...)
	}
	var cards []labor.Timecard
	for _, p := range people {
		c, err := t.cardToStrike(p, step.Line)
		if err != nil {
			return nil, err
		}
		cards = append(cards, c)
	}
	var o work.Order
	order := Ref{"workorder", v.Order}
	if step.Action == work.Finish {
		if _, err := t.load(order, &o); err != nil {
			return nil, err
		}
	}
	return func(struck bool) {
		step.Struck = struck
		if struck && step.Action == work.Accept && len(v.Offered) > 0 && step.Person == v.Technician && !v.Begun() {
			v.Technician = ""
		}
		v.Settle()
		if o.StrikeReturn(s.Entry, struck) {
			t.save(order, o)
		}
		for _, c := range cards {
			t.strikeStamp(c, s.Entry, struck)
		}
		t.save(t.entry.Subject, v)
	}, nil
}
