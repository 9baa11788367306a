package store

import (
	"context"
	"database/sql"
	"errors"
	"fmt"
	"os"
	"strings"

	"iter.example/iter/core/ledger"
)

// folds are the tables that are folded from the log, with the order in which to compare them.
var folds = []struct{ table, columns, order, where string }{
	{"docs", "type, id, rev, body", "type, id", "1"},
	{"visits", `id, workorder, technician, day, start, stage, shown, ended, reviewed, outcome, unsigned, asked, trip, until, minutes,
		ended_day, number, label, problem, kind, priority, customer, customer_name, site, site_name`, "id", "1"},
	{"workorders", `id, number, priority, opened, promise, customer, site, placed, state, held, label, problem, kind, urgency, asset, theirs,
		responsible, minutes, visits, opened_day, promise_day, customer_name, site_name, asset_name, text, undertaking, due_by`, "id", "1"},
	{"customers", "id, name, address, contact, phone", "id", "1"},
	{"sites", "id, name, customer, customer_name, address, contact, phone, hazard, placed", "id", "1"},
	{"assets", `id, name, kind, kind_name, maker, serial, site, site_name, customer, customer_name, installed, warranty, removed`, "id",
		"1"},
	{"people", "id, name, short, roles, phone", "id", "1"},
	{"parts", "id, number, name, category, unit, price, supplier, retired", "id", "1"},
	{"assets_by_site", "site, asset", "site, asset", "1"},
	{"due", "plan, target, key, first, day, workorder", "plan, target, key, workorder", "1"},
	{"incidents", "id, asset, rule, since, ended, waits", "id", "1"},
	{"found", "type, id, owner, title, detail, text, at, tag", "type, id", "1"},
	{"readings", "entry, visit, asset, point, at, body", "entry", "1"},
	{"attention", "visit, key, concern, at, handled, body", "visit, key", "1"},
	{"movements", "key, entry, place, part, at, kind, person, visit, struck, body", "key", "1"},
	{"handovers", `id, "from", "to", at, live`, "id", "1"},
	{"requests", "id, visit, workorder, person, state, at, since", "id", "1"},
	{"purchases", "id, state, place, at", "id", "1"},
	{"history", "site, visit, ended, rev, body, cards", "visit", "1"},
	{"reports", "entry, visit, code, pdf, struck", "entry", "1"},
	{"talks", "workorder, at, unread", "workorder", "1"},
	{"visit_people", "person, visit", "person, visit", "1"},
	{"mentions", "hash, type, id", "hash, type, id", "1"},
	{"flags", "entry, code, args, person, subject_type, subject_id, at, seq, seen, settled, apart", "seq, entry, code, args", "apart = 0"},
}

// FoldVersion is that of what this program folds out of the log. It goes up with each release that folds into more, or otherwise.
const FoldVersion = 23

// beginFold notes that a database without entries has all that this program folds.
func beginFold(ctx context.Context, db *sql.DB) error {
	var entries bool
	if err := db.QueryRowContext(ctx, "SELECT EXISTS (SELECT 1 FROM entries)").Scan(&entries); err != nil || entries {
		return err
	}
	_, err := db.ExecContext(ctx, fmt.Sprint("PRAGMA user_version = ", FoldVersion))
	return err
}

// Stale tells whether an earlier program folded what there is: then Rebuild folds it anew.
func (s *Store) Stale(ctx context.Context) (bool, error) {
	var have int
	err := s.read.QueryRowContext(ctx, "PRAGMA user_version").Scan(&have)
	return have < FoldVersion, wrap("open", err)
}

// Progress is told how many of how many entries have been folded.
type Progress func(done, total int64)

// Difference is a row of a table that is not what the log folds to.
type Difference struct{ Table, Row string }

// maxDifferences is how many differences are told one by one.
const maxDifferences = 100

// Verify folds the log anew, in a database of its own beside this one, and compares. The program may be running.
func (s *Store) Verify(ctx context.Context, p Progress) (differ []Difference, entries int64, err error) {
	fold, err := s.beside(ctx)
	if err != nil {
		return nil, 0, err
	}
	defer func() { err = errors.Join(err, fold.discard()) }()
	err = s.Read(ctx, func(tx *Tx) error {
		if entries, err = fold.from(tx, 0, p); err != nil {
			return err
		}
		return fold.Read(ctx, func(fresh *Tx) error {
			for _, f := range folds {
				differ, err = compare(differ, f.table, "SELECT "+f.columns+" FROM "+f.table+" WHERE "+f.where+" ORDER BY "+f.order, tx,
					fresh)
				if err != nil {
					return err
				}
			}
			return nil
		})
	})
	return differ, entries, err
}

// Rebuild folds the log anew and puts the tables folded from it in the place of those there are. Until the last moment, the
// old ones stay and the program may be running.
func (s *Store) Rebuild(ctx context.Context, p Progress) (entries int64, err error) {
	fold, err := s.beside(ctx)
	if err != nil {
		return 0, err
	}
	defer func() { err = errors.Join(err, fold.discard()) }()
	for {
		before := entries
		if err := s.Read(ctx, func(tx *Tx) error { entries, err = fold.from(tx, before, p); return err }); err != nil {
			return entries, err
		}
		done, err := s.take(ctx, fold, entries)
		if err != nil || done {
			return entries, err
		}
	}
}

// take replaces the folded tables by those of fold, unless the log has grown since.
func (s *Store) take(ctx context.Context, fold *refold, upTo int64) (bool, error) {
	s.writing.Lock()
	defer s.writing.Unlock()
	c, err := s.write.Conn(ctx)
	if err != nil {
		return false, err
	}
	defer c.Close()
	if _, err := c.ExecContext(ctx, "ATTACH ? AS fold", fold.path); err != nil {
		return false, wrap("attach", err)
	}
	defer func() { _, _ = c.ExecContext(context.WithoutCancel(ctx), "DETACH fold") }()
	tx, err := c.BeginTx(ctx, nil)
	if err != nil {
		return false, wrap("begin", err)
	}
	defer func() { _ = tx.Rollback() }()
	var last int64
	if err := tx.QueryRowContext(ctx, "SELECT coalesce(max(seq), 0) FROM main.entries").Scan(&last); err != nil || last != upTo {
		return false, err
	}
	for _, f := range folds {
		for _, q := range []string{"DELETE FROM main." + f.table + " WHERE " + f.where, "INSERT INTO main." + f.table + " (" + f.columns +
			") SELECT " + f.columns + " FROM fold." + f.table + " WHERE " + f.where + " ORDER BY " + f.order} {
			if _, err := tx.ExecContext(ctx, q); err != nil {
				return false, wrap("rebuild "+f.table, err)
			}
		}
	}
	// Every device is told again what is in its scope: a rebuilt document may be another at the same revision. What one is being told was
	// folded before, and is not noted as told: its answer has another number.
	for _, q := range []string{"UPDATE packs SET rev = 0 WHERE rev > 0", "UPDATE devices SET tick = tick + 1"} {
		if _, err := tx.ExecContext(ctx, q); err != nil {
			return false, wrap("rebuild packs", err)
		}
	}
	if _, err := tx.ExecContext(ctx, fmt.Sprint("PRAGMA main.user_version = ", FoldVersion)); err != nil {
		return false, wrap("rebuild", err)
	}
	return true, wrap("commit", tx.Commit())
}

// refold is a store that holds only what is folded from another's log.
type refold struct {
	*Store
	path string
	dir  string
}

func (s *Store) beside(ctx context.Context) (*refold, error) {
	dir, err := os.MkdirTemp(s.dir, "refold-")
	if err != nil {
		return nil, fmt.Errorf("fold anew: %w (there must be room beside the database)", err)
	}
	fresh, err := Open(ctx, dir)
	if err != nil {
		return nil, errors.Join(err, os.RemoveAll(dir))
	}
	// What is lost with the power is begun again.
	_, err = fresh.write.ExecContext(ctx, "PRAGMA synchronous = OFF")
	return &refold{Store: fresh, path: dir + "/iter.db", dir: dir}, err
}

func (f *refold) discard() error { return errors.Join(f.Close(), os.RemoveAll(f.dir)) }

// foldBatch is how many entries are folded in one transaction.
const foldBatch = 5000

// from folds the entries of a log after a seq, and gives the seq of the last.
func (f *refold) from(log *Tx, after int64, p Progress) (int64, error) {
	total, err := log.Seq()
	if err != nil {
		return after, err
	}
	for after < total {
		batch, err := collect(log, scanLogged, "SELECT "+loggedColumns+" FROM entries WHERE seq > ? ORDER BY seq LIMIT ?", after, foldBatch)
		if err != nil {
			return after, err
		}
		if len(batch) == 0 {
			break
		}
		err = f.Write(log.ctx, func(tx *Tx) error {
			for _, l := range batch {
				if err := tx.refold(l); err != nil {
					return fmt.Errorf("entry %d (%s): %w", l.Seq, l.ID, err)
				}
			}
			return nil
		})
		if err != nil {
			return after, err
		}
		after = batch[len(batch)-1].Seq
		if p != nil {
			p(after, total)
		}
	}
	return after, nil
}

// refold folds an entry that the log has.
func (t *Tx) refold(l Logged) error {
	f, err := ledger.Open(l.Entry)
	if err != nil {
		return err
	}
	changed, flags, err := t.apply(f)
	if err != nil {
		return err
	}
	return t.folded(f, l.Seq, l.Received, changed, flags)
}

// compare walks two answers to the same query side by side, both sorted, and adds the rows that only one has.
func compare(differ []Difference, table, query string, kept, fresh *Tx) ([]Difference, error) {
	a, err := walk(kept, query)
	if err != nil {
		return differ, err
	}
	defer a.rows.Close()
	b, err := walk(fresh, query)
	if err != nil {
		return differ, err
	}
	defer b.rows.Close()
	for a.next(); a.row != nil; a.next() {
		b.next()
		if a.text() != b.text() && len(differ) < maxDifferences {
			differ = append(differ, Difference{table, clip(a.text())})
		}
	}
	for b.next(); b.row != nil; b.next() {
		if len(differ) < maxDifferences {
			differ = append(differ, Difference{table, clip(b.text())})
		}
	}
	return differ, errors.Join(a.err, b.err)
}

type walker struct {
	rows *sql.Rows
	row  []any
	err  error
	size int
}

func walk(t *Tx, query string) (*walker, error) {
	rows, err := t.sql.QueryContext(t.ctx, query)
	if err != nil {
		return nil, err
	}
	names, err := rows.Columns()
	return &walker{rows: rows, size: len(names)}, err
}

func (w *walker) next() {
	w.row = nil
	if w.err != nil || !w.rows.Next() {
		w.err = errors.Join(w.err, w.rows.Err())
		return
	}
	row, to := make([]any, w.size), make([]any, w.size)
	for i := range row {
		to[i] = &row[i]
	}
	if w.err = w.rows.Scan(to...); w.err == nil {
		w.row = row
	}
}

func (w *walker) text() string {
	var b strings.Builder
	for _, v := range w.row {
		if raw, ok := v.([]byte); ok {
			v = string(raw)
		}
		fmt.Fprint(&b, v, " ")
	}
	return b.String()
}

func clip(s string) string {
	if len(s) > 100 {
		return s[:100] + "…"
	}
	return s
}
