// Package store keeps the log of entries and what is folded from it in one SQLite file.
//
// There is one writer at a time and any number of readers. A write is one transaction: entries, documents and the tables
// that answer questions change together or not at all.
package store

import (
	"context"
	"database/sql"
	"embed"
	"errors"
	"fmt"
	"io/fs"
	"path/filepath"
	"runtime"
	"sync"
	"sync/atomic"
	"time"

	"github.com/pressly/goose/v3"
	"modernc.org/sqlite"
	sqlite3 "modernc.org/sqlite/lib"

	"iter.example/iter/core/ledger"
)

//go:embed migrations/*.sql
var migrations embed.FS

// Store is an open database.
type Store struct {
	dir         string
	write, read *sql.DB
	writing     sync.Mutex
	prepared    prepared // on write, guarded by writing
	interrupt   func()   // guarded by writing

	replicated atomic.Int64 // how far the second copy goes; unkept: there is none
	keptLock   sync.Mutex
	keptSeq    int64     // guarded by keptLock
	keptAt     time.Time // when that was asked for; guarded by keptLock

	mu       sync.Mutex
	watchers []func(Changed)
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
	r.SetMaxOpenConns(max(4, runtime.NumCPU()))
	s := &Store{dir: dir, write: w, read: r}
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

// Write runs f in a transaction of its own, commits if it gives no error, and tells the watchers.
func (s *Store) Write(ctx context.Context, f func(*Tx) error) error {
	s.writing.Lock()
	defer s.writing.Unlock()
	if err := s.prepared.catchUp(s.write); err != nil {
		return wrap("prepare", err)
	}
	sqltx, err := s.write.BeginTx(ctx, nil)
	if err != nil {
		return wrap("begin", err)
	}
	tx := newTx(ctx, sqltx)
	tx.prepared, tx.interrupt = &s.prepared, s.interrupt
	defer func() { _ = sqltx.Rollback() }() // also when f panics; after the commit it does nothing
	if err := f(tx); err != nil {
		return wrap("write", err)
	}
	if err := tx.flush(); err != nil {
		return wrap("write", err)
	}
	if tx.interrupt != nil {
		tx.interrupt()
	}
	if err := sqltx.Commit(); err != nil {
		return wrap("commit", err)
	}
	changed, names, news := tx.whatChanged()
	tx.collected(names)
	if news {
		s.mu.Lock()
		watchers := s.watchers
		s.mu.Unlock()
		for _, w := range watchers {
			w(changed)
		}
	}
	return nil
}

// Read runs f on a snapshot.
func (s *Store) Read(ctx context.Context, f func(*Tx) error) error {
	sqltx, err := s.read.BeginTx(ctx, &sql.TxOptions{ReadOnly: true})
	if err != nil {
		return wrap("begin", err)
	}
	tx := newTx(ctx, sqltx)
	err = f(tx)
	tx.collected(nil)
	return errors.Join(wrap("read", err), ignoreDone(sqltx.Rollback()))
}

func newTx(ctx context.Context, t *sql.Tx) *Tx {
	return &Tx{sql: t, ctx: ctx, revs: map[ledger.Ref]int64{}, dirty: map[ledger.Ref]bool{}, orders: map[string]bool{},
		sources: names{}, written: names{}, statements: map[string]*sql.Stmt{}}
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
