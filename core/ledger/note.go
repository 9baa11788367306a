package ledger

import (
	"iter.example/iter/core/audit"
	"iter.example/iter/core/records"
	"iter.example/iter/core/work"
)

func noteKinds() table {
	return table{
		"note.written": row[Note]{subject: "visit", terminal: true, phoned: true, check: checkNote, apply: noted,
			strike: strikeLine(func(v *work.Visit) []work.Note { return v.Notes })}.kind(),
		"note.to_office": row[Note]{subject: "timecard", terminal: true, check: checkNote, apply: told, final: "the office has it"}.kind(),
	}
}

// Note is the body of note.written.
type Note struct {
	Text   string `json:"text"`
	Office bool   `json:"office,omitempty"` // for the office to see to
}

// maxNote is the longest note, in characters: findings of some thousand words.
const maxNote = 30_000

func checkNote(b Note) error { return records.CheckText("note", b.Text, true, maxNote) }

func noted(t *tx, e Entry, b Note) error {
	v, err := t.fact()
	if err != nil {
		return err
	}
	v.Notes = audit.Add(v.Notes, work.Note{Line: e.line(), Text: b.Text, Office: b.Office})
	t.save(e.Subject, v)
	return nil
}

// told is a note to the office: it changes nothing, and somebody looks at it.
func told(t *tx, _ Entry, b Note) error {
	if _, err := t.card(true); err != nil {
		return err
	}
	t.flag("note.to_office", "text", b.Text)
	return nil
}
