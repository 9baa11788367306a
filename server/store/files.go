package store

import (
	"context"
	"database/sql"
	"errors"
	"fmt"
	"io"
	"io/fs"
	"os"
	"path/filepath"
	"strings"
	"time"
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
	err := t.row("SELECT type, size, thumb, person, received FROM files WHERE hash = ?", hash).Scan(&f.Type, &f.Size, &f.Thumb, &f.Person, &received)
	if errors.Is(err, sql.ErrNoRows) {
		return f, false, nil
	}
	if err == nil {
		f.Received, err = time.Parse(time.RFC3339Nano, received)
	}
	return f, err == nil, err
}

// PutFile notes that a file is there.
func (t *Tx) PutFile(f File) error {
	_, err := t.exec("INSERT OR IGNORE INTO files (hash, type, size, thumb, person, received) VALUES (?,?,?,?,?,?)", f.Hash, f.Type, f.Size, f.Thumb, f.Person, stamp(f.Received))
	return err
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

// CopyFiles copies files from one data directory to another. A file never changes, since its name is its hash.
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
	return n, err
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
