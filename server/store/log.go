package store

import (
	"context"
	"database/sql"
	"encoding/json"
	"errors"
	"fmt"
	"time"

	"iter.example/iter/core/ledger"
	"iter.example/iter/core/msg"
)

// Tx is a transaction.
type Tx struct {
	sql     *sql.Tx
	ctx     context.Context
	cache   map[ledger.Ref]cached
	changed []ledger.Ref
	// statements are those asked again and again in one transaction, by text. They end with it.
	statements map[string]*sql.Stmt
}

// statement prepares a statement once in the transaction.
func (t *Tx) statement(query string) (*sql.Stmt, error) {
	if st, ok := t.statements[query]; ok {
		return st, nil
	}
	st, err := t.sql.PrepareContext(t.ctx, query)
	if err == nil {
		t.statements[query] = st
	}
	return st, err
}

// exec runs a statement that gives no rows.
func (t *Tx) exec(query string, args ...any) (sql.Result, error) {
	st, err := t.statement(query)
	if err != nil {
		return nil, err
	}
	return st.ExecContext(t.ctx, args...)
}

// row runs a statement that gives one row.
func (t *Tx) row(query string, args ...any) interface{ Scan(...any) error } {
	st, err := t.statement(query)
	if err != nil {
		return failed{err}
	}
	return st.QueryRowContext(t.ctx, args...)
}

// failed is a row whose statement could not be prepared.
type failed struct{ err error }

func (f failed) Scan(...any) error { return f.err }

// cached is a document as this transaction sees it. A document changed many times in one transaction is written once.
type cached struct {
	doc   ledger.Doc
	dirty bool
}

// Doc gives a document. One that does not exist has no body.
func (t *Tx) Doc(ref ledger.Ref) (ledger.Doc, error) {
	if c, ok := t.cache[ref]; ok {
		return c.doc, nil
	}
	d := ledger.Doc{Ref: ref}
	err := t.row("SELECT rev, body FROM docs WHERE type = ? AND id = ?", ref.Type, ref.ID).Scan(&d.Rev, (*[]byte)(&d.Body))
	if err != nil && !errors.Is(err, sql.ErrNoRows) {
		return d, fmt.Errorf("document %s: %w", ref, err)
	}
	t.cache[ref] = cached{doc: d}
	return d, nil
}

// Docs gives the bodies of documents. Those that do not exist are there without a body.
func (t *Tx) Docs(refs []ledger.Ref) (ledger.Docs, error) {
	out := ledger.Docs{}
	for _, r := range refs {
		d, err := t.Doc(r)
		if err != nil {
			return nil, err
		}
		out[r] = d.Body
	}
	return out, nil
}

// Load reads a document's body into v, and tells whether it exists.
func (t *Tx) Load(typ, id string, v any) (bool, error) {
	d, err := t.Doc(ledger.Ref{Type: typ, ID: id})
	if err != nil || d.Body == nil {
		return false, err
	}
	return true, json.Unmarshal(d.Body, v)
}

// Append takes an entry into the log and folds it into the documents. The error is a *msg.Code when the entry does not
// fit: then nothing was written.
func (t *Tx) Append(f *ledger.Fact, received time.Time, extra ...*msg.Code) (int64, error) {
	docs, err := t.Docs(f.Keys())
	if err != nil {
		return 0, err
	}
	changed, flags, err := f.Apply(docs)
	if err != nil {
		return 0, err
	}
	e := f.Entry
	res, err := t.exec(`INSERT INTO entries (id, kind, v, at, actor, replica, n, subject_type, subject_id, body, base, received) VALUES (?,?,?,?,?,?,?,?,?,?,?,?)`,
		e.ID, e.Kind, e.V, stamp(e.At), e.Actor, e.Replica, e.N, e.Subject.Type, e.Subject.ID, []byte(e.Body), []byte(e.Base), stamp(received))
	if err != nil {
		return 0, fmt.Errorf("append %s: %w", e.ID, err)
	}
	seq, err := res.LastInsertId()
	if err != nil {
		return 0, err
	}
	for ref, body := range changed {
		t.cache[ref] = cached{ledger.Doc{Ref: ref, Rev: seq, Body: body}, true}
	}
	for _, x := range extra {
		if x != nil {
			flags = append(flags, ledger.Flag{Code: *x, Entry: e.ID, Subject: e.Subject, Person: e.Actor})
		}
	}
	for _, fl := range flags {
		args, err := json.Marshal(fl.Args)
		if err != nil {
			return 0, err
		}
		if _, err := t.exec(`INSERT INTO flags (entry, code, args, person, subject_type, subject_id, at) VALUES (?,?,?,?,?,?,?)`,
			fl.Entry, fl.Code.Code, args, fl.Person, fl.Subject.Type, fl.Subject.ID, stamp(received)); err != nil {
			return 0, fmt.Errorf("flag %s: %w", e.ID, err)
		}
	}
	return seq, nil
}

// flush writes the documents that changed, and the tables that answer questions about them.
func (t *Tx) flush() error {
	for ref, c := range t.cache {
		if !c.dirty {
			continue
		}
		if _, err := t.exec(`INSERT INTO docs (type, id, rev, body) VALUES (?,?,?,?) ON CONFLICT (type, id) DO UPDATE SET rev = excluded.rev, body = excluded.body`,
			ref.Type, ref.ID, c.doc.Rev, []byte(c.doc.Body)); err != nil {
			return fmt.Errorf("document %s: %w", ref, err)
		}
		if err := t.index(c.doc); err != nil {
			return fmt.Errorf("index %s: %w", ref, err)
		}
		t.cache[ref] = cached{doc: c.doc}
		t.changed = append(t.changed, ref)
	}
	return nil
}

// Logged is an entry as the log has it.
type Logged struct {
	ledger.Entry
	Seq      int64     `json:"seq"`
	Received time.Time `json:"received"`
}

const loggedColumns = "seq, id, kind, v, at, actor, replica, n, subject_type, subject_id, body, base, received"

func scanLogged(row interface{ Scan(...any) error }) (Logged, error) {
	var l Logged
	var at, received string
	err := row.Scan(&l.Seq, &l.ID, &l.Kind, &l.V, &at, &l.Actor, &l.Replica, &l.N, &l.Subject.Type, &l.Subject.ID, (*[]byte)(&l.Body), (*[]byte)(&l.Base), &received)
	if err != nil {
		return l, err
	}
	if l.At, err = time.Parse(time.RFC3339Nano, at); err == nil {
		l.Received, err = time.Parse(time.RFC3339Nano, received)
	}
	if len(l.Base) == 0 {
		l.Base = nil
	}
	return l, err
}

// Find gives the entry with an id, and whether there is one.
func (t *Tx) Find(id string) (Logged, bool, error) {
	l, err := scanLogged(t.row("SELECT "+loggedColumns+" FROM entries WHERE id = ?", id))
	if errors.Is(err, sql.ErrNoRows) {
		return l, false, nil
	}
	return l, err == nil, err
}

// Trail gives the entries about a document, in the order they were taken.
func (t *Tx) Trail(subject ledger.Ref) ([]Logged, error) {
	return collect(t, scanLogged, "SELECT "+loggedColumns+" FROM entries WHERE subject_type = ? AND subject_id = ? ORDER BY seq", subject.Type, subject.ID)
}

// Flags gives the flags about a document, oldest first.
func (t *Tx) Flags(subject ledger.Ref) ([]ledger.Flag, error) {
	return collect(t, func(row interface{ Scan(...any) error }) (ledger.Flag, error) {
		f := ledger.Flag{Subject: subject}
		var args []byte
		if err := row.Scan(&f.Entry, &f.Code.Code, &args, &f.Person); err != nil {
			return f, err
		}
		return f, json.Unmarshal(args, &f.Args)
	}, "SELECT entry, code, args, person FROM flags WHERE subject_type = ? AND subject_id = ? ORDER BY id", subject.Type, subject.ID)
}

// Seq is the place of the last entry in the log.
func (t *Tx) Seq() (int64, error) {
	var seq int64
	err := t.row("SELECT coalesce(max(seq), 0) FROM entries").Scan(&seq)
	return seq, err
}

// Verify folds the whole log anew and names the documents that differ from those kept.
func (t *Tx) Verify() (differ []ledger.Ref, entries int, err error) {
	rows, err := t.sql.QueryContext(t.ctx, "SELECT "+loggedColumns+" FROM entries ORDER BY seq")
	if err != nil {
		return nil, 0, err
	}
	defer rows.Close()
	docs := ledger.Docs{}
	for rows.Next() {
		l, err := scanLogged(rows)
		if err != nil {
			return nil, entries, err
		}
		entries++
		changed, _, err := ledger.Apply(docs, l.Entry)
		if err != nil {
			differ = append(differ, l.Subject)
			continue
		}
		for ref, b := range changed {
			docs[ref] = b
		}
	}
	if err := rows.Err(); err != nil {
		return nil, entries, err
	}
	kept, err := t.every("SELECT type, id, rev, body FROM docs")
	if err != nil {
		return nil, entries, err
	}
	for _, d := range kept {
		if string(docs[d.Ref]) != string(d.Body) {
			differ = append(differ, d.Ref)
		}
		delete(docs, d.Ref)
	}
	for ref := range docs {
		differ = append(differ, ref)
	}
	return differ, entries, nil
}

func (t *Tx) every(query string, args ...any) ([]ledger.Doc, error) {
	return collect(t, func(row interface{ Scan(...any) error }) (ledger.Doc, error) {
		var d ledger.Doc
		err := row.Scan(&d.Type, &d.ID, &d.Rev, (*[]byte)(&d.Body))
		return d, err
	}, query, args...)
}

// collect reads all rows of a query.
func collect[T any](t *Tx, scan func(interface{ Scan(...any) error }) (T, error), query string, args ...any) ([]T, error) {
	st, err := t.statement(query)
	if err != nil {
		return nil, err
	}
	rows, err := st.QueryContext(t.ctx, args...)
	if err != nil {
		return nil, err
	}
	defer rows.Close()
	out := []T{}
	for rows.Next() {
		v, err := scan(rows)
		if err != nil {
			return nil, err
		}
		out = append(out, v)
	}
	return out, rows.Err()
}

func stamp(t time.Time) string { return t.Format(time.RFC3339Nano) }
