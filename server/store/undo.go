package store

import (
	"database/sql"
	"encoding/json"
	"errors"

	"iter.example/iter/core/ledger"
)

// Undoable is a batch of commands that somebody gave, and what takes it back.
type Undoable struct {
	ID       string     // of the first entry
	Person   string     // who gave it
	Seq      int64      // of the last entry
	Kind     string     // of the last entry
	Subject  ledger.Ref // of the last entry
	Entries  []string   // ids
	Commands string     // that take it back, as whoever keeps it writes them
	Undone   []string   // ids of the entries that took it back
}

// keptUndoable is how many batches are kept of a person: those that were taken back are among them.
const keptUndoable = 60

// KeepUndoable keeps what somebody did, and lets go of what they did long before.
func (t *Tx) KeepUndoable(d Undoable) error {
	entries, err := json.Marshal(d.Entries)
	if err != nil {
		return err
	}
	if _, err := t.exec("INSERT INTO undoable (id, person, seq, kind, type, subject, entries, commands, undone) VALUES (?,?,?,?,?,?,?,?,'[]')",
		d.ID, d.Person, d.Seq, d.Kind, d.Subject.Type, d.Subject.ID, string(entries), d.Commands); err != nil {
		return err
	}
	_, err = t.exec(`DELETE FROM undoable WHERE person = ?1
		AND seq <= (SELECT seq FROM undoable WHERE person = ?1 ORDER BY seq DESC LIMIT 1 OFFSET ?2)`, d.Person, keptUndoable)
	return err
}

// NoteUndone notes which entries took back what somebody did.
func (t *Tx) NoteUndone(id string, entries []string) error {
	text, err := json.Marshal(entries)
	if err != nil {
		return err
	}
	_, err = t.exec("UPDATE undoable SET undone = ? WHERE id = ?", string(text), id)
	return err
}

const undoableColumns = "id, person, seq, kind, type, subject, entries, commands, undone"

func scanUndoable(row interface{ Scan(...any) error }) (d Undoable, err error) {
	var entries, undone string
	if err := row.Scan(&d.ID, &d.Person, &d.Seq, &d.Kind, &d.Subject.Type, &d.Subject.ID, &entries, &d.Commands, &undone); err != nil {
		return d, err
	}
	return d, errors.Join(json.Unmarshal([]byte(entries), &d.Entries), json.Unmarshal([]byte(undone), &d.Undone))
}

// UndoableBy lists what somebody did last, the latest first.
func (t *Tx) UndoableBy(person string) ([]Undoable, error) {
	return collect(t, scanUndoable, "SELECT "+undoableColumns+" FROM undoable WHERE person = ? ORDER BY seq DESC", person)
}

// UndoableAs gives what somebody did by the id of its first entry.
func (t *Tx) UndoableAs(id string) (d Undoable, ok bool, err error) {
	d, err = scanUndoable(t.row("SELECT "+undoableColumns+" FROM undoable WHERE id = ?", id))
	if errors.Is(err, sql.ErrNoRows) {
		return d, false, nil
	}
	return d, err == nil, err
}
