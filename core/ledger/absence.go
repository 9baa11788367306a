package ledger

import (
	"iter.example/iter/core/audit"
	"iter.example/iter/core/calendar"
	"iter.example/iter/core/records"
)

func absenceKinds() table {
	return table{
		"absence.asked": row[AbsenceAsked]{subject: "absences", office: planners, field: true, whose: TheirOwn, beside: true,
			check: checkAbsence, apply: absenceAsked, undo: withdrawAbsence, final: "it is withdrawn"}.kind(),
		"absence.withdrawn": row[AbsenceWithdrawn]{subject: "absences", office: planners, field: true, whose: TheirOwn, beside: true,
			check: func(b AbsenceWithdrawn) error { return records.CheckID(b.Absence) }, apply: absenceWithdrawn,
			final: "it is asked for again"}.kind(),
	}
}

func absenceOfficeKinds() table {
	return table{
		"absence.decided": row[AbsenceDecided]{subject: "absences", office: planners, beside: true,
			check: checkAbsenceDecided, apply: absenceDecided, final: "it is decided again"}.kind(),
	}
}

// AbsenceAsked is the body of absence.asked: when the person whose absences are the subject is off, or asks to be. What somebody else
// enters for them holds at once.
type AbsenceAsked struct {
	calendar.Off
	Note string `json:"note,omitempty"`
}

// AbsenceDecided is the body of absence.decided: what somebody says to an absence that was asked for, by its entry.
type AbsenceDecided struct {
	Absence string `json:"absence"` // entry
	Granted bool   `json:"granted,omitempty"`
	Text    string `json:"text,omitempty"`
}

// AbsenceWithdrawn is the body of absence.withdrawn: an absence that is not to be any more, by its entry.
type AbsenceWithdrawn struct {
	Absence string `json:"absence"` // entry
}

// AbsencesRef names the absences of a person.
func AbsencesRef(person string) Ref { return Ref{"absences", person} }

func checkAbsence(b AbsenceAsked) error {
	if err := b.Off.Check(); err != nil {
		return err
	}
	return records.CheckText("note", b.Note, false, 500)
}

func checkAbsenceDecided(b AbsenceDecided) error {
	if err := records.CheckID(b.Absence); err != nil {
		return err
	}
	return records.CheckText("text", b.Text, false, 500)
}

func absenceAsked(t *tx, e Entry, b AbsenceAsked) error {
	var a calendar.Absences
	if _, err := t.load(e.Subject, &a); err != nil {
		return err
	}
	a.Add(calendar.Absence{Line: e.line(), Off: b.Off, Note: b.Note, Office: e.Actor != e.Subject.ID})
	t.save(e.Subject, a)
	return nil
}

func absenceDecided(t *tx, e Entry, b AbsenceDecided) error {
	state := calendar.Declined
	if b.Granted {
		state = calendar.Granted
	}
	return t.answerAbsence(e, b.Absence, calendar.Answer{State: state, Text: b.Text})
}

func absenceWithdrawn(t *tx, e Entry, b AbsenceWithdrawn) error {
	return t.answerAbsence(e, b.Absence, calendar.Answer{State: calendar.Withdrawn})
}

// withdrawAbsence takes back what was entered.
func withdrawAbsence(_ Loader, e Entry, _ AbsenceAsked) ([]Command, error) {
	return []Command{{Kind: "absence.withdrawn", Subject: e.Subject, Body: AbsenceWithdrawn{Absence: e.ID}}}, nil
}

func (t *tx) answerAbsence(e Entry, absence string, w calendar.Answer) error {
	var a calendar.Absences
	if _, err := t.load(e.Subject, &a); err != nil {
		return err
	}
	w.Moment, w.Person = audit.Moment{At: e.At, Entry: e.ID}, e.Actor
	a.Answer(absence, w)
	t.save(e.Subject, a)
	return nil
}
