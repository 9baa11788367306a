package store

import (
	"database/sql"
	"encoding/json"
	"errors"

	"iter.example/iter/core/ledger"
)

// Done is a batch of commands that somebody gave, and what takes it back.
type Done struct {
	ID       string     // of the first entry
	Person   string     // who gave it
	Seq      int64      // of the last entry
	Kind     string     // of the last entry
	Subject  ledger.Ref // of the last entry
	Entries  []string   // ids
	Commands string     // that take it back, as whoever keeps it writes them
	Undone   []string   // ids of the entries that took it back
}

// keptDone is how many batches are kept of a person: those that were taken back are among them.
const keptDone = 60

// KeepDone keeps what somebody did, and lets go of what they did long before.
func (t *Tx) KeepDone(d Done) error {
	entries, err := json.Marshal(d.Entries)
	if err != nil {
		return err
	}
	if _, err := t.exec("INSERT INTO done (id, person, seq, kind, type, subject, entries, commands, undone) VALUES (?,?,?,?,?,?,?,?,'[]')",
		d.ID, d.Person, d.Seq, d.Kind, d.Subject.Type, d.Subject.ID, string(entries), d.Commands); err != nil {
		return err
	}
	_, err = t.exec(`DELETE FROM done WHERE person = ?1
		AND seq <= (SELECT seq FROM done WHERE person = ?1 ORDER BY seq DESC LIMIT 1 OFFSET ?2)`, d.Person, keptDone)
	return err
}

// Undone notes which entries took back what somebody did.
func (t *Tx) Undone(id string, entries []string) error {
	text, err := json.Marshal(entries)
	if err != nil {
		return err
	}
	_, err = t.exec("UPDATE done SET undone = ? WHERE id = ?", string(text), id)
	return err
}

const doneColumns = "id, person, seq, kind, type, subject, entries, commands, undone"

func scanDone(row interface{ Scan(...any) error }) (d Done, err error) {
	var entries, undone string
	if err := row.Scan(&d.ID, &d.Person, &d.Seq, &d.Kind, &d.Subject.Type, &d.Subject.ID, &entries, &d.Commands, &undone); err != nil {
		return d, err
	}
	return d, errors.Join(json.Unmarshal([]byte(entries), &d.Entries), json.Unmarshal([]byte(undone), &d.Undone))
}

// DoneBy lists what somebody did last, the latest first.
func (t *Tx) DoneBy(person string) ([]Done, error) {
	return collect(t, scanDone, "SELECT "+doneColumns+" FROM done WHERE person = ? ORDER BY seq DESC", person)
}

// DoneAs gives what somebody did by the id of its first entry.
func (t *Tx) DoneAs(id string) (d Done, ok bool, err error) {
	d, err = scanDone(t.row("SELECT "+doneColumns+" FROM done WHERE id = ?", id))
	if errors.Is(err, sql.ErrNoRows) {
		return d, false, nil
	}
	return d, err == nil, err
}
