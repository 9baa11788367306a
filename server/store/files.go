package store

import (
	"context"
	"database/sql"
	"encoding/json"
	"errors"
	"fmt"
	"io"
	"io/fs"
	"os"
	"path/filepath"
	"strings"
	"time"

	"iter.example/iter/core/ledger"
)

// FilesDir is the directory for files, beside the database.
const FilesDir = "files"

// File is a photo or document that has arrived whole.
type File struct {
	Hash     string
	Type     string // by content
	Size     int64
	Thumb    bool
	Person   string // who sent it
	Received time.Time
}

// File gives a file, and whether it is there.
func (t *Tx) File(hash string) (File, bool, error) {
	f := File{Hash: hash}
	var received string
	err := t.row("SELECT type, size, thumb, person, received FROM files WHERE hash = ?", hash).Scan(&f.Type, &f.Size, &f.Thumb, &f.Person,
		&received)
	if errors.Is(err, sql.ErrNoRows) {
		return f, false, nil
	}
	if err == nil {
		f.Received, err = time.Parse(time.RFC3339Nano, received)
	}
	return f, err == nil, err
}

// CountFiles is how many files there are.
func (t *Tx) CountFiles() (n int64, err error) {
	return n, t.row("SELECT count(*) FROM files").Scan(&n)
}

// PutFile notes that a file is there.
func (t *Tx) PutFile(f File) error {
	_, err := t.exec("INSERT OR IGNORE INTO files (hash, type, size, thumb, person, received) VALUES (?,?,?,?,?,?)", f.Hash, f.Type,
		f.Size, f.Thumb, f.Person, stamp(f.Received))
	return err
}

// mentioned notes which files an entry mentions, by hash: whoever may see what the entry is about may see them.
func (t *Tx) mentioned(f *ledger.Fact) error {
	e := f.Entry
	for _, hash := range hashesIn(e.Body) {
		if _, err := t.exec("INSERT OR IGNORE INTO mentions (hash, type, id) VALUES (?,?,?)", hash, e.Subject.Type,
			e.Subject.ID); err != nil {
			return err
		}
	}
	return nil
}

// hashLength is that of a SHA-256 in hex.
const hashLength = 64

// hashesIn lists what in a JSON text can be the hash of a file: 64 digits of base 16 in quotes.
func hashesIn(raw []byte) (out []string) {
	run := 0
	for i, c := range raw {
		switch {
		case c >= '0' && c <= '9' || c >= 'a' && c <= 'f':
			run++
			continue
		case c == '"' && run == hashLength && raw[i-run-1] == '"':
			out = append(out, string(raw[i-run:i]))
		}
		run = 0
	}
	return out
}

// MaySee tells whether a person's devices hold something that a file belongs to: a document that an entry mentioned it about, the history
// of the site of a visit that it is of, or what all devices hold. Whoever sent it may see it too.
func (t *Tx) MaySee(person, hash string) (may bool, err error) {
	common, err := json.Marshal(Common)
	if err != nil {
		return false, err
	}
	err = t.row(`SELECT EXISTS (SELECT 1 FROM files WHERE hash = ?1 AND person = ?2)
		OR EXISTS (SELECT 1 FROM mentions m WHERE m.hash = ?1 AND m.type IN (SELECT value FROM json_each(?3)))
		OR EXISTS (SELECT 1 FROM mentions m JOIN packs p ON p.type = m.type AND p.id = m.id AND p.rev != ?4
		JOIN devices d ON d.replica = p.replica WHERE m.hash = ?1 AND d.person = ?2)
		OR EXISTS (SELECT 1 FROM mentions m JOIN history h ON h.visit = m.id JOIN packs p ON p.type = 'history' AND p.id = h.site
		AND p.rev != ?4 JOIN devices d ON d.replica = p.replica
			WHERE m.hash = ?1 AND m.type = 'visit' AND d.person = ?2)`, hash, person, string(common), Gone).Scan(&may)
	return may, err
}

// AddBytes notes that a person's devices brought so many bytes of files or entries on the day of now.
func (t *Tx) AddBytes(person string, now time.Time, n int64) error {
	_, err := t.exec(`INSERT INTO brought_bytes (person, day, bytes) VALUES (?,?,?) ON CONFLICT (person, day) DO UPDATE
		SET bytes = bytes + excluded.bytes`, person, now.UTC().Format(time.DateOnly), n)
	if err == nil {
		_, err = t.exec("DELETE FROM brought_bytes WHERE day < ?", now.UTC().AddDate(0, 0, -2).Format(time.DateOnly))
	}
	return err
}

// BytesToday is how many bytes a person's devices brought on the day of now.
func (t *Tx) BytesToday(person string, now time.Time) (n int64, err error) {
	err = t.row("SELECT coalesce(sum(bytes), 0) FROM brought_bytes WHERE person = ? AND day = ?", person,
		now.UTC().Format(time.DateOnly)).Scan(&n)
	return n, err
}

// Backup copies the database, as it is at one moment, and the files to another directory, which it makes; it tells how many
// files were not there yet. The program may be running. An earlier backup in the directory is replaced at the end, whole.
func (s *Store) Backup(ctx context.Context, to string) (files int, err error) {
	if err := os.MkdirAll(to, 0o700); err != nil {
		return 0, fmt.Errorf("backup: %w", err)
	}
	if same, err := sameDir(s.dir, to); err != nil || same {
		return 0, errors.Join(err, fmt.Errorf("backup: %s holds the data itself; choose another directory", to))
	}
	fresh := filepath.Join(to, FileName+".new")
	if err := os.Remove(fresh); err != nil && !errors.Is(err, fs.ErrNotExist) {
		return 0, fmt.Errorf("backup: %w", err)
	}
	db, err := sql.Open("sqlite", "file:"+s.Path()+"?_pragma=busy_timeout(10000)")
	if err != nil {
		return 0, wrap("backup", err)
	}
	if _, err := db.ExecContext(ctx, "VACUUM INTO ?", fresh); err != nil {
		return 0, errors.Join(wrap("backup", err), db.Close())
	}
	if err := db.Close(); err != nil {
		return 0, wrap("backup", err)
	}
	if err := BeginHistory(ctx, fresh); err != nil {
		return 0, err
	}
	// Files that the copied database knows are all there already: they are put before they are noted.
	if files, err = s.CopyFiles(ctx, to); err != nil {
		return files, fmt.Errorf("backup: %w", err)
	}
	for _, end := range []string{"-wal", "-shm"} { // of a backup that was opened
		if err := os.Remove(filepath.Join(to, FileName+end)); err != nil && !errors.Is(err, fs.ErrNotExist) {
			return files, fmt.Errorf("backup: %w", err)
		}
	}
	return files, os.Rename(fresh, filepath.Join(to, FileName))
}

func sameDir(a, b string) (bool, error) {
	ia, err := os.Stat(a)
	if err != nil {
		return false, err
	}
	ib, err := os.Stat(b)
	return err == nil && os.SameFile(ia, ib), err
}

// CopyFiles copies the store's files that are not there yet to another directory, and tells how many they were.
func (s *Store) CopyFiles(ctx context.Context, to string) (int, error) {
	return CopyFiles(ctx, s.dir, to)
}

// CopyFiles copies files from one data directory to another, and the roads. A file never changes, since its name is its hash.
func CopyFiles(ctx context.Context, from, to string) (n int, err error) {
	from, to = filepath.Join(from, FilesDir), filepath.Join(to, FilesDir)
	err = filepath.WalkDir(from, func(path string, e fs.DirEntry, err error) error {
		if err != nil || e.IsDir() {
			if errors.Is(err, fs.ErrNotExist) && path == from {
				return fs.SkipAll // no files yet
			}
			return errors.Join(err, ctx.Err())
		}
		rel, err := filepath.Rel(from, path)
		if err != nil || strings.HasPrefix(rel, "partial") {
			return err
		}
		target := filepath.Join(to, rel)
		if have, err := os.Stat(target); err == nil {
			if is, err := e.Info(); err == nil && is.Size() == have.Size() {
				return nil
			}
		}
		n++
		return copyFile(path, target)
	})
	return n, errors.Join(err, copyRegion(filepath.Dir(from), filepath.Dir(to)))
}

func copyFile(from, to string) error {
	if err := os.MkdirAll(filepath.Dir(to), 0o700); err != nil {
		return err
	}
	in, err := os.Open(from)
	if err != nil {
		return err
	}
	defer in.Close()
	out, err := os.Create(to + ".new")
	if err != nil {
		return err
	}
	_, err = io.Copy(out, in)
	if err = errors.Join(err, out.Sync(), out.Close()); err != nil {
		return err
	}
	return os.Rename(to+".new", to)
}
