// Package store keeps the log of entries and what is folded from it in one SQLite file.
//
// There is one writer at a time and any number of readers. A write is whole or not at all: entries, documents and the tables that answer
// questions change together. Writes that wait for one another share a transaction.
package store

import (
	"cmp"
	"context"
	"database/sql"
	"embed"
	"errors"
	"fmt"
	"io/fs"
	"path/filepath"
	"runtime"
	"slices"
	"sync"
	"sync/atomic"
	"time"

	"github.com/pressly/goose/v3"
	"modernc.org/sqlite"
	sqlite3 "modernc.org/sqlite/lib"

	"iter.example/iter/core/ledger"
	"iter.example/iter/server/spelling"
)

//go:embed migrations/*.sql
var migrations embed.FS

// Store is an open database.
type Store struct {
	dir         string
	write, read *sql.DB
	writing     sync.Mutex
	interrupt   func() // guarded by writing

	forWriting, forReading *prepared
	vocabulary             spelling.Vocabulary

	replicated atomic.Int64 // how far the second copy goes; unkept: there is none
	keptLock   sync.Mutex
	keptSeq    int64     // guarded by keptLock
	keptAt     time.Time // when that was asked for; guarded by keptLock

	mu       sync.Mutex
	watchers []func(Changed) // guarded by mu
	waiting  []*write        // guarded by mu; what came of them by writing
}

// ErrFull says that the disk took no more. What was being written was not, and nothing before it is affected.
var ErrFull = errors.New("the disk is full")

// ErrBusy says that another program holds the database for longer than is waited. Nothing was changed.
var ErrBusy = errors.New("another program holds the database")

// ErrDamaged says that a file is no database, or not all of one.
var ErrDamaged = errors.New("the database is damaged; put a backup in its place, or the second copy with iter restore")

// Open opens the database in a directory, making both when they are missing, and brings its tables up to date.
func Open(ctx context.Context, dir string) (*Store, error) {
	if err := usable(dir); err != nil {
		return nil, err
	}
	path := filepath.Join(dir, FileName)
	// FULL: an entry that was acknowledged survives a loss of power.
	const pragmas = "?_pragma=busy_timeout(10000)&_pragma=journal_mode(WAL)&_pragma=synchronous(FULL)" +
		"&_pragma=foreign_keys(ON)&_pragma=cache_size(-65536)"
	w, err := sql.Open("sqlite", "file:"+path+pragmas+"&_txlock=immediate")
	if err != nil {
		return nil, fmt.Errorf("open %s: %w", path, err)
	}
	w.SetMaxOpenConns(1)
	sub, err := fs.Sub(migrations, "migrations")
	if err != nil {
		return nil, err
	}
	p, err := goose.NewProvider(goose.DialectSQLite3, w, sub)
	if err == nil {
		_, err = p.Up(ctx)
	}
	if err == nil {
		err = makeSecrets(ctx, w)
	}
	if err == nil {
		err = beginFold(ctx, w)
	}
	if err != nil {
		return nil, errors.Join(fmt.Errorf("bring %s up to date: %w", path, wrap("open", err)), w.Close())
	}
	r, err := sql.Open("sqlite", "file:"+path+pragmas+"&_pragma=query_only(ON)")
	if err != nil {
		return nil, errors.Join(err, w.Close())
	}
	most := max(4, runtime.NumCPU())
	r.SetMaxOpenConns(most)
	r.SetMaxIdleConns(most) // one that is closed loses its prepared statements
	s := &Store{dir: dir, write: w, read: r, forWriting: prepare(w), forReading: prepare(r)}
	s.replicated.Store(unkept)
	return s, nil
}

// Close closes the database.
func (s *Store) Close() error { return errors.Join(s.read.Close(), s.write.Close()) }

// FileName is the name of the database in its directory.
const FileName = "iter.db"

// Dir is the directory the store was opened in.
func (s *Store) Dir() string { return s.dir }

// Path is where the database lies.
func (s *Store) Path() string { return filepath.Join(s.dir, FileName) }

// Sessions gives the connections on which sessions are kept.
func (s *Store) Sessions() *sql.DB { return s.write }

// Watch asks to be told what changed, after each write that was committed. f must not block.
func (s *Store) Watch(f func(Changed)) {
	s.mu.Lock()
	defer s.mu.Unlock()
	s.watchers = append(s.watchers, f)
}

// Write runs f in a transaction, commits if it gives no error, and tells the watchers. Writes that wait for one another are committed
// together, each of them whole or not at all.
func (s *Store) Write(ctx context.Context, f func(*Tx) error) error {
	w := &write{ctx: ctx, f: f}
	s.mu.Lock()
	s.waiting = append(s.waiting, w)
	s.mu.Unlock()
	s.writing.Lock()
	defer s.writing.Unlock()
	if !w.done { // nobody before took it along
		s.mu.Lock()
		group := s.waiting
		s.waiting = nil
		s.mu.Unlock()
		s.commit(group)
	}
	if w.panicked != nil {
		panic(w.panicked)
	}
	return w.err
}

// write is a write that waits, and what came of it.
type write struct {
	ctx      context.Context
	f        func(*Tx) error
	done     bool
	err      error
	panicked any
	changed  Changed
	names    names
	news     bool
	tx       *Tx
}

// commit runs writes in one transaction. It is called with writing locked.
func (s *Store) commit(group []*write) {
	fail := func(err error) {
		for _, w := range group {
			w.done = true
			if w.err == nil {
				w.err = err
			}
		}
	}
	if err := s.forWriting.catchUp(); err != nil {
		fail(wrap("prepare", err))
		return
	}
	// One who waits no longer takes nothing from the others: what has begun goes on.
	sqltx, err := s.write.BeginTx(context.WithoutCancel(group[0].ctx), nil)
	if err != nil {
		fail(wrap("begin", err))
		return
	}
	defer func() {
		_ = sqltx.Rollback() // after the commit it does nothing
		if p := recover(); p != nil {
			for _, w := range group {
				w.done, w.panicked = true, p
			}
		}
	}()
	for _, w := range group {
		if err := s.within(sqltx, w, len(group) > 1); err != nil {
			fail(wrap("write", err))
			return
		}
	}
	if !slices.ContainsFunc(group, (*write).good) {
		fail(nil)
		return
	}
	if s.interrupt != nil {
		s.interrupt()
	}
	if err := sqltx.Commit(); err != nil {
		fail(wrap("commit", err))
		return
	}
	s.mu.Lock()
	watchers := s.watchers
	s.mu.Unlock()
	for _, w := range group {
		if w.done = true; !w.good() {
			continue
		}
		w.tx.collected(w.names)
		s.vocabulary.Add(w.tx.spelled)
		if w.news {
			for _, tell := range watchers {
				tell(w.changed)
			}
		}
	}
}

// within runs a write in a transaction, beside others at a savepoint of its own. The error says that the whole transaction can't go on.
func (s *Store) within(sqltx *sql.Tx, w *write, beside bool) error {
	if w.err = w.ctx.Err(); w.err != nil {
		return nil
	}
	ctx := context.WithoutCancel(w.ctx)
	if beside {
		if _, err := sqltx.ExecContext(ctx, "SAVEPOINT one"); err != nil {
			return err
		}
	}
	w.tx = newTx(ctx, sqltx, s.forWriting, &s.vocabulary)
	w.tx.interrupt = s.interrupt
	w.run()
	if w.good() {
		w.changed, w.names, w.news = w.tx.whatChanged()
		if !beside {
			return nil
		}
		_, err := sqltx.ExecContext(ctx, "RELEASE one")
		return err
	}
	if !beside {
		return nil // there is nothing else to commit
	}
	// A disk that is full may have undone all of it already: then there is no savepoint to go back to.
	if _, err := sqltx.ExecContext(ctx, "ROLLBACK TO one"); err != nil {
		return errors.Join(w.err, err)
	}
	_, err := sqltx.ExecContext(ctx, "RELEASE one")
	return err
}

// good tells whether all is there but the commit.
func (w *write) good() bool { return w.err == nil && w.panicked == nil }

// run runs a write up to where only the commit is left.
func (w *write) run() {
	defer func() { w.panicked = recover() }()
	if w.err = w.f(w.tx); w.err == nil {
		w.err = w.tx.flush()
	}
	w.err = wrap("write", w.err)
}

// errTrial undoes a trial.
var errTrial = errors.New("it was a trial")

// Trial lets suppose change documents (Tx.Suppose), has f read what would be, and takes it all back. Others wait to write meanwhile.
func (s *Store) Trial(ctx context.Context, suppose, f func(*Tx) error) error {
	err := s.Write(ctx, func(tx *Tx) error {
		err := suppose(tx)
		if err == nil {
			err = tx.flush()
		}
		if err == nil {
			err = f(tx)
		}
		tx.collected(nil)
		return cmp.Or(err, errTrial)
	})
	if errors.Is(err, errTrial) {
		return nil
	}
	return err
}

// Read runs f on a snapshot.
func (s *Store) Read(ctx context.Context, f func(*Tx) error) error {
	sqltx, err := s.read.BeginTx(ctx, &sql.TxOptions{ReadOnly: true})
	if err != nil {
		return wrap("begin", err)
	}
	tx := newTx(ctx, sqltx, s.forReading, &s.vocabulary)
	err = f(tx)
	tx.collected(nil)
	if err = errors.Join(wrap("read", err), ignoreDone(sqltx.Rollback())); err != nil {
		return err
	}
	return wrap("prepare", s.forReading.catchUp())
}

func newTx(ctx context.Context, t *sql.Tx, p *prepared, v *spelling.Vocabulary) *Tx {
	return &Tx{sql: t, ctx: ctx, prepared: p, vocabulary: v, revs: map[ledger.Ref]int64{}, dirty: map[ledger.Ref]bool{},
		orders: map[string]bool{}, sources: names{}, written: names{}, statements: map[string]*sql.Stmt{}}
}

// Interrupt has f called before every statement of a write and before its commit: where a test lets the program die. nil ends
// it.
func (s *Store) Interrupt(f func()) {
	s.writing.Lock()
	defer s.writing.Unlock()
	s.interrupt = f
}

// LimitPages bounds the database to a number of pages beyond what it has, as a full disk would. 0 lifts the bound.
func (s *Store) LimitPages(ctx context.Context, more int) error {
	var have int
	if err := s.write.QueryRowContext(ctx, "PRAGMA page_count").Scan(&have); err != nil {
		return err
	}
	limit := have + more
	if more == 0 {
		limit = 1 << 30
	}
	_, err := s.write.ExecContext(ctx, fmt.Sprintf("PRAGMA max_page_count = %d", limit))
	return err
}

func wrap(op string, err error) error {
	e, ok := errors.AsType[*sqlite.Error](err)
	if !ok {
		return err
	}
	switch e.Code() & 0xff {
	case sqlite3.SQLITE_FULL:
		return fmt.Errorf("%s: %w", op, errors.Join(ErrFull, err))
	case sqlite3.SQLITE_BUSY, sqlite3.SQLITE_LOCKED:
		return fmt.Errorf("%s: %w", op, errors.Join(ErrBusy, err))
	case sqlite3.SQLITE_READONLY, sqlite3.SQLITE_CANTOPEN, sqlite3.SQLITE_PERM:
		return fmt.Errorf("%s: %w", op, errors.Join(ErrUnusable, err))
	case sqlite3.SQLITE_NOTADB, sqlite3.SQLITE_CORRUPT:
		return fmt.Errorf("%s: %w", op, errors.Join(ErrDamaged, err))
	}
	return err
}

func ignoreDone(err error) error {
	if errors.Is(err, sql.ErrTxDone) {
		return nil
	}
	return err
}
