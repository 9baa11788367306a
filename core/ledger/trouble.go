package ledger

import (
	"iter.example/iter/core/audit"
	"iter.example/iter/core/msg"
	"iter.example/iter/core/records"
	"iter.example/iter/core/work"
)

func troubleKinds() table {
	return table{
		"trouble.found": row[TroubleFound]{subject: "visit", terminal: true, phoned: true, check: checkTroubleFound, apply: troubleFound,
			strike: strikeLine(func(v *work.Visit) []work.Diagnosis { return v.Diagnoses })}.kind(),
		"knowhow.sent": row[KnowHowSent]{subject: "knowhow", check: func(b KnowHowSent) error { return b.knowHow(Entry{}).Check() },
			apply: knowHowSent, final: "the office withdraws it"}.kind(),
	}
}

// TroubleFound is the body of trouble.found: what was wrong, why, and what was done about it, by the ids of the company's tree. What
// is left out is not known.
type TroubleFound struct {
	Asset   string `json:"asset,omitempty"`
	Trouble string `json:"trouble,omitempty"`
	Cause   string `json:"cause,omitempty"`
	Remedy  string `json:"remedy,omitempty"`
}

func checkTroubleFound(b TroubleFound) error {
	if b.Trouble == "" && b.Cause == "" && b.Remedy == "" {
		return msg.New("trouble.nothing")
	}
	return checkOptional(b.Asset, b.Trouble, b.Cause, b.Remedy)
}

func troubleFound(t *tx, e Entry, b TroubleFound) error {
	v, err := t.fact()
	if err != nil {
		return err
	}
	v.Diagnoses = audit.Add(v.Diagnoses, work.Diagnosis{Line: e.line(), Asset: b.Asset, Trouble: b.Trouble, Cause: b.Cause, Remedy: b.Remedy})
	t.save(e.Subject, v)
	return nil
}

// KnowHowSent is the body of knowhow.sent: what somebody in the field learned, for the office to look at before others are offered it.
type KnowHowSent struct {
	Title     string                      `json:"title"`
	Text      string                      `json:"text"`
	Troubles  []string                    `json:"troubles,omitempty"`
	Kinds     []string                    `json:"kinds,omitempty"`
	Documents map[string]records.Document `json:"documents,omitempty"`
}

func (b KnowHowSent) knowHow(e Entry) records.KnowHow {
	return records.KnowHow{Title: b.Title, Text: b.Text, Troubles: b.Troubles, Kinds: b.Kinds, Documents: b.Documents, Author: e.Actor,
		Sent: true}
}

func knowHowSent(t *tx, e Entry, b KnowHowSent) error {
	if t.exists(e.Subject) {
		return msg.New("record.exists", "type", "knowhow", "id", e.Subject.ID)
	}
	t.save(e.Subject, b.knowHow(e))
	return nil
}
