package ledger

import (
	"slices"
	"time"

	"iter.example/iter/core/labor"
	"iter.example/iter/core/msg"
	"iter.example/iter/core/records"
	"iter.example/iter/core/work"
)

func crewKinds() table {
	return table{
		"crew.clocked": row[CrewClocked]{subject: "visit", check: checkCrew, keys: crewKeys, apply: crewClocked, strike: strikeCrew,
			raise: []raise{asItWas}}.kind(),
		"crew.answered": row[CrewAnswered]{subject: "visit", whose: AskedAbout, check: checkCrewAnswered, keys: crewAnsweredKeys,
			apply: crewAnswered, final: "the clock is corrected on the day"}.kind(),
		"crew.joined": row[Nothing]{subject: "visit", terminal: true, whose: Anybodys, keys: joinedKeys, apply: crewJoined,
			final: "what was clocked is corrected on the day"}.kind(),
	}
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
	step := work.CrewStep{Line: e.line(), Helper: b.Helper, Clock: b.Clock, Task: b.Task}
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

func joinedKeys(e Entry, _ Nothing) []Ref { return []Ref{{"person", e.Actor}} }

// crewJoined has somebody help on a visit that they were not planned for.
func crewJoined(t *tx, e Entry, _ Nothing) error {
	v, err := t.visit()
	if err != nil {
		return err
	}
	if err := t.technician(e.Actor); err != nil {
		return err
	}
	t.meanwhile(v)
	v.Join(e.Actor)
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

// strikeCrew strikes out a step of a helper's clock, on the visit and on their card.
func strikeCrew(t *tx, s Struck) (mark, error) {
	v, err := t.visit()
	if err != nil {
		return nil, err
	}
	step, err := lineToStrike(s, v.Crew)
	if err != nil {
		return nil, err
	}
	c, err := t.cardToStrike(step.Helper, step.Line)
	if err != nil {
		return nil, err
	}
	return func(struck bool) {
		step.Struck = struck
		t.strikeStamp(c, s.Entry, struck)
		t.save(t.entry.Subject, v)
	}, nil
}
