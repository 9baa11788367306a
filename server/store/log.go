package store

import (
	"context"
	"database/sql"
	"encoding/json"
	"errors"
	"fmt"
	"slices"
	"strings"
	"time"

	"iter.example/iter/core/ledger"
	"iter.example/iter/core/msg"
	"iter.example/iter/core/work"
	"iter.example/iter/server/spelling"
)

// Tx is a transaction.
type Tx struct {
	sql    *sql.Tx
	ctx    context.Context
	docs   ledger.Memory        // read or changed in this transaction
	revs   map[ledger.Ref]int64 // theirs
	dirty  map[ledger.Ref]bool  // changed and not yet written
	orders map[string]bool      // work orders whose state is to be worked out anew
	// histories are the revisions of sites' histories that were asked for last; a flush forgets them.
	histories map[string]int64
	changed   []ledger.Ref
	subjects  []ledger.Ref // of the entries that were taken into the log
	appended  int64        // the place of the last of them
	unwritten []any        // what is to stand in the rows of those that are not in their table yet, row by row
	spelled   []string     // words of records that were written
	sources   names        // what was read
	written   names        // which tables were, beside documents and entries
	// statements are those asked again and again in one transaction, by text. They end with it.
	statements map[string]*sql.Stmt
	prepared   *prepared
	vocabulary *spelling.Vocabulary
	interrupt  func()
}

// statement gives a statement in the transaction.
func (t *Tx) statement(query string) (*sql.Stmt, error) {
	if len(t.unwritten) > 0 && strings.Contains(query, "entries") {
		if err := t.writeEntries(); err != nil {
			return nil, err
		}
	}
	t.note(query)
	if st, ok := t.statements[query]; ok {
		return st, nil
	}
	var st *sql.Stmt
	var err error
	if whole := t.prepared.get(query); whole != nil {
		st = t.sql.StmtContext(t.ctx, whole)
	} else {
		st, err = t.sql.PrepareContext(t.ctx, query)
	}
	if err == nil {
		t.statements[query] = st
	}
	return st, err
}

// exec runs a statement that gives no rows.
func (t *Tx) exec(query string, args ...any) (sql.Result, error) {
	if t.interrupt != nil {
		t.interrupt()
	}
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

// Doc gives a document. One that does not exist has no body.
func (t *Tx) Doc(ref ledger.Ref) (ledger.Doc, error) {
	if err := t.fetch(ref); err != nil {
		return ledger.Doc{Ref: ref}, err
	}
	body, err := t.docs.Text(ref)
	return ledger.Doc{Ref: ref, Rev: t.revs[ref], Body: body}, err
}

// fetch reads a document once in the transaction.
func (t *Tx) fetch(ref ledger.Ref) error {
	t.sources.add(ref)
	if t.docs.Has(ref) {
		return nil
	}
	var rev int64
	var body []byte
	err := t.row(readDoc, ref.Type, ref.ID).Scan(&rev, &body)
	if err != nil && !errors.Is(err, sql.ErrNoRows) {
		return fmt.Errorf("document %s: %w", ref, err)
	}
	t.docs.Put(ref, body)
	t.revs[ref] = rev
	return nil
}

// ReadAhead reads documents at once that are asked for one by one afterwards.
func (t *Tx) ReadAhead(refs []ledger.Ref) error {
	var names [][2]string
	for _, r := range refs {
		if t.sources.add(r); !t.docs.Has(r) {
			names = append(names, [2]string{r.Type, r.ID})
		}
	}
	if len(names) < 2 {
		return nil // what is asked for one by one is read then
	}
	list, err := json.Marshal(names)
	if err != nil {
		return err
	}
	found, err := collect(t, func(row interface{ Scan(...any) error }) (d ledger.Doc, err error) {
		return d, row.Scan(&d.Type, &d.ID, &d.Rev, (*[]byte)(&d.Body))
	}, `SELECT d.type, d.id, d.rev, d.body FROM json_each(?) j CROSS JOIN docs d ON d.type = j.value ->> 0 AND d.id = j.value ->> 1`,
		string(list))
	if err != nil {
		return err
	}
	for _, name := range names {
		t.docs.Put(ledger.Ref{Type: name[0], ID: name[1]}, nil)
	}
	for _, d := range found {
		t.docs.Put(d.Ref, d.Body)
		t.revs[d.Ref] = d.Rev
	}
	return nil
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

// Load reads a document's body into v, and tells whether it exists. What v then refers to is shared, and only to be read.
func (t *Tx) Load(typ, id string, v any) (bool, error) {
	ref := ledger.Ref{Type: typ, ID: id}
	if err := t.fetch(ref); err != nil {
		return false, err
	}
	return t.docs.Load(ref, v)
}

// Arrival is how an entry came to the log.
type Arrival struct {
	At time.Time
	// By is the person who brought it, when it did not come from its actor's own device; "" when it did.
	By string
	// Again tells that it was acknowledged before the server was restored from a copy.
	Again bool
	// Asked is the digest of the office's command that it was made of.
	Asked string
	// Apart are flags beside those that the entry raises; nil ones are left out.
	Apart []*msg.Code
}

// Append takes an entry into the log and folds it into the documents. The error is a *msg.Code when the entry does not fit: then
// nothing was written.
func (t *Tx) Append(f *ledger.Fact, in Arrival) (int64, error) {
	received := in.At
	changed, flags, err := t.apply(f)
	if err != nil {
		return 0, err
	}
	e := f.Entry
	if t.appended == 0 {
		if t.appended, err = t.Seq(); err != nil {
			return 0, err
		}
	}
	seq := t.appended + 1
	t.unwritten = append(t.unwritten, seq, e.ID, e.Kind, e.V, stamp(e.At), e.Actor, e.Replica, e.N, e.Subject.Type, e.Subject.ID,
		[]byte(e.Body), []byte(e.Base), stamp(received), in.By, in.Asked)
	if len(t.unwritten) == atOnce*entryColumns {
		if err := t.writeEntries(); err != nil {
			return 0, err
		}
	}
	t.subjects, t.appended = append(t.subjects, e.Subject), seq
	for _, x := range in.Apart {
		if x != nil {
			if err := t.putFlag(ledger.Flag{Code: *x, Entry: e.ID, Subject: e.Subject, Person: e.Actor}, seq, received, true); err != nil {
				return 0, err
			}
		}
	}
	if f.Sends() {
		if _, err := t.exec("INSERT OR IGNORE INTO messages (entry, type, about) VALUES (?,?,?)", e.ID, e.Subject.Type,
			e.Subject.ID); err != nil {
			return 0, err
		}
	}
	return seq, t.folded(f, seq, received, changed, flags)
}

// How many columns an entry has, and how many entries are written by one statement: to run one costs about as much as to write an entry.
const (
	entryColumns = 15
	atOnce       = 20
)

// insertEntries writes so many entries.
func insertEntries(n int) string {
	row := ",(" + strings.Repeat(",?", entryColumns)[1:] + ")"
	return "INSERT INTO entries (seq, id, kind, v, at, actor, replica, n, subject_type, subject_id, body, base, received, brought, asked) " +
		"VALUES " + strings.Repeat(row, n)[1:]
}

var insertOne, insertMany = insertEntries(1), insertEntries(atOnce)

// writeEntries writes the entries that are not in their table yet.
func (t *Tx) writeEntries() error {
	rows := t.unwritten
	t.unwritten = nil
	if len(rows) == atOnce*entryColumns {
		_, err := t.exec(insertMany, rows...)
		return err
	}
	for row := range slices.Chunk(rows, entryColumns) {
		if _, err := t.exec(insertOne, row...); err != nil {
			return fmt.Errorf("append %s: %w", row[1], err)
		}
	}
	return nil
}

// Record opens an entry and takes it into the log.
func (t *Tx) Record(e ledger.Entry, received time.Time) (int64, error) {
	f, err := ledger.Open(e)
	if err != nil {
		return 0, err
	}
	return t.Append(f, Arrival{At: received})
}

// Suppose folds an entry that is not recorded into the documents of a transaction that is thrown away (Store.Trial).
func (t *Tx) Suppose(f *ledger.Fact) error {
	changed, _, err := t.apply(f)
	for _, ref := range changed {
		t.dirty[ref] = true
	}
	return err
}

// Change is a document before an entry and after it. Bodies are as they are stored; before is nil for a new document.
type Change struct {
	ledger.Ref
	Before, After json.RawMessage
}

// Preview tells what an entry would change and flag, as things stand. It is for a transaction that is thrown away: documents that
// are read in it afterwards are as they would be.
func (t *Tx) Preview(f *ledger.Fact) ([]Change, []ledger.Flag, error) {
	before, err := t.Docs(f.Keys())
	if err != nil {
		return nil, nil, err
	}
	changed, flags, err := t.apply(f)
	if err != nil {
		return nil, nil, err
	}
	out := make([]Change, len(changed))
	for i, ref := range changed {
		out[i] = Change{Ref: ref, Before: before[ref]}
		if out[i].After, err = t.docs.Text(ref); err != nil {
			return nil, nil, err
		}
	}
	return out, flags, nil
}

// apply folds an entry into the documents of the transaction.
func (t *Tx) apply(f *ledger.Fact) ([]ledger.Ref, []ledger.Flag, error) {
	for _, k := range f.Keys() {
		if err := t.fetch(k); err != nil {
			return nil, nil, err
		}
	}
	return t.docs.Apply(f)
}

// folded notes what an entry of the log changed.
func (t *Tx) folded(f *ledger.Fact, seq int64, received time.Time, changed []ledger.Ref, flags []ledger.Flag) error {
	for _, ref := range changed {
		t.revs[ref], t.dirty[ref] = seq, true
	}
	for _, fl := range flags {
		if err := t.putFlag(fl, seq, received, false); err != nil {
			return err
		}
	}
	if err := t.mentioned(f); err != nil {
		return fmt.Errorf("files of %s: %w", f.Entry.ID, err)
	}
	if err := t.moved(f); err != nil {
		return fmt.Errorf("movements of %s: %w", f.Entry.ID, err)
	}
	return t.markFlags(f, seq)
}

// Striking makes the body of what strikes an entry out, or restores it.
func (t *Tx) Striking(e ledger.Entry) (ledger.Struck, error) {
	s := ledger.Struck{Entry: e.ID, At: e.At, Kind: e.Kind, Person: e.Actor}
	for wanted := []ledger.Ref{e.Subject}; len(wanted) > 0; {
		for _, ref := range wanted {
			if err := t.fetch(ref); err != nil {
				return s, err
			}
		}
		var err error
		if s, wanted, err = ledger.Striking(&t.docs, e.Subject, s); err != nil {
			return s, err
		}
	}
	return s, nil
}

// flush writes the documents that changed, and the tables that answer questions about them.
func (t *Tx) flush() error {
	if err := t.writeEntries(); err != nil {
		return err
	}
	doubted := map[string]bool{} // visits
	for ref := range t.dirty {
		d, err := t.Doc(ref)
		if err != nil {
			return err
		}
		if ref.Type == "measured" {
			if err := t.doubted(ref, d.Body, doubted); err != nil {
				return err
			}
		}
		if _, err := t.exec(`INSERT INTO docs (type, id, rev, body) VALUES (?,?,?,?) ON CONFLICT (type, id) DO UPDATE
			SET rev = excluded.rev, body = excluded.body`,
			ref.Type, ref.ID, d.Rev, []byte(d.Body)); err != nil {
			return fmt.Errorf("document %s: %w", ref, err)
		}
		if err := t.index(ref); err != nil {
			return fmt.Errorf("index %s: %w", ref, err)
		}
		delete(t.dirty, ref)
		t.changed = append(t.changed, ref)
	}
	for id := range doubted {
		var v work.Visit
		if ok, err := t.Load("visit", id, &v); err != nil || !ok {
			return err
		}
		if err := t.measured(id, v); err != nil {
			return err
		}
	}
	if len(t.orders) == 0 {
		return nil
	}
	t.histories = nil
	return t.stand()
}

// Logged is an entry as the log has it.
type Logged struct {
	ledger.Entry
	Seq      int64     `json:"seq"`
	Received time.Time `json:"received"`
	// Brought is the person who brought it, when it did not come from its actor's own device.
	Brought string `json:"brought,omitempty"`
}

const loggedColumns = "seq, id, kind, v, at, actor, replica, n, subject_type, subject_id, body, base, received, brought"

func scanLogged(row interface{ Scan(...any) error }) (Logged, error) {
	var l Logged
	var at, received string
	err := row.Scan(&l.Seq, &l.ID, &l.Kind, &l.V, &at, &l.Actor, &l.Replica, &l.N, &l.Subject.Type, &l.Subject.ID, (*[]byte)(&l.Body),
		(*[]byte)(&l.Base), &received, &l.Brought)
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

// FindAll gives those of the entries with some ids that there are.
func (t *Tx) FindAll(ids []string) (map[string]Logged, error) {
	list, err := json.Marshal(ids)
	if err != nil {
		return nil, err
	}
	all, err := collect(t, scanLogged, "SELECT "+loggedColumns+" FROM entries WHERE id IN (SELECT value FROM json_each(?))", string(list))
	out := map[string]Logged{}
	for _, l := range all {
		out[l.ID] = l
	}
	return out, err
}

// Trail gives the entries about a document, in the order they were taken.
func (t *Tx) Trail(subject ledger.Ref) ([]Logged, error) {
	t.sources.add(subject)
	return collect(t, scanLogged, "SELECT "+loggedColumns+" FROM entries WHERE subject_type = ? AND subject_id = ? ORDER BY seq",
		subject.Type, subject.ID)
}

// TrailSince gives the entries about a document after a place in the log, and the last that changed it, which may be about another: at
// most 100, in the order they were taken.
func (t *Tx) TrailSince(d ledger.Doc, seq int64) ([]Logged, error) {
	return collect(t, scanLogged,
		"SELECT "+loggedColumns+" FROM entries WHERE (subject_type = ?1 AND subject_id = ?2 AND seq > ?3) OR seq = ?4 "+
			"ORDER BY seq LIMIT 100", d.Type, d.ID, seq, d.Rev)
}

// Asked gives the digest of the command that an entry was made of.
func (t *Tx) Asked(entry string) (digest string, err error) {
	err = t.row("SELECT asked FROM entries WHERE id = ?", entry).Scan(&digest)
	return digest, err
}

// Seq is the place of the last entry in the log.
func (t *Tx) Seq() (int64, error) {
	var seq int64
	err := t.row("SELECT coalesce(max(seq), 0) FROM entries").Scan(&seq)
	return seq, err
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
