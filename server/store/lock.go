package store

import (
	"errors"
	"fmt"
	"io/fs"
	"os"
	"path/filepath"
	"syscall"

	"github.com/gofrs/flock"
)

// ErrInUse says that another program serves from a directory.
var ErrInUse = errors.New("another Iter uses this directory")

// ErrUnusable says that a directory can't be written to.
var ErrUnusable = errors.New("nothing can be written there")

// LockName is the name of the file that a program locks while it serves from a directory.
const LockName = "iter.lock"

// Lock takes a directory for a program that serves from it or fills it, and makes it when it is missing. Nobody else may until unlock.
// Nothing in it is changed. The error is ErrInUse, ErrUnusable or ErrFull.
func Lock(dir string) (unlock func() error, err error) {
	if err := usable(dir); err != nil {
		return nil, err
	}
	l := flock.New(filepath.Join(dir, LockName), flock.SetPermissions(0o600))
	got, err := l.TryLock()
	if err != nil {
		return nil, fmt.Errorf("lock %s: %w", dir, err)
	}
	if !got {
		return nil, fmt.Errorf("%s: %w; stop it first, or choose another with --data", dir, ErrInUse)
	}
	return l.Unlock, nil
}

// trial is as much as is written to see whether there is room: what SQLite needs to begin.
const trial = 256 << 10

// usable makes a directory when it is missing, and sees whether it can be written to: SQLite would only speak of an I/O error.
func usable(dir string) error {
	err := os.MkdirAll(dir, 0o700)
	if err == nil {
		err = try(dir)
	}
	switch {
	case err == nil:
		return nil
	case errors.Is(err, syscall.ENOSPC), errors.Is(err, syscall.EDQUOT):
		return fmt.Errorf("%s: %w: make room there, or choose another directory with --data", dir, ErrFull)
	case errors.Is(err, fs.ErrPermission), errors.Is(err, syscall.EROFS):
		return fmt.Errorf("%s: %w: it is read-only, or somebody else's; choose another directory with --data", dir, ErrUnusable)
	}
	return fmt.Errorf("%s: %w: %w; choose another directory with --data", dir, ErrUnusable, err)
}

func try(dir string) error {
	f, err := os.CreateTemp(dir, ".try-")
	if err != nil {
		return err
	}
	_, err = f.Write(make([]byte, trial))
	return errors.Join(err, f.Close(), os.Remove(f.Name()))
}
