// Package region keeps what a firm brought of its region, beside its database: roads, map and addresses. They may be brought anew while the
// program runs.
package region

import (
	"bufio"
	"context"
	"errors"
	"io"
	"os"
	"path/filepath"
	"sync"
	"time"

	"iter.example/iter/core/roads"
	"iter.example/iter/server/addresses"
	"iter.example/iter/server/extract"
	"iter.example/iter/server/store"
	"iter.example/iter/server/tiles"
)

// Put brings a region to a data directory, in place of the one that is there: whole or not at all. progress may be nil.
func Put(ctx context.Context, dir string, at time.Time, r *extract.Region, progress extract.Progress) error {
	if progress == nil {
		progress = func(string, int64, int64) {}
	}
	return store.PutRegion(dir, at, func(dir string) error {
		if err := writeRoads(filepath.Join(dir, store.RoadsFile), r.Roads); err != nil {
			return err
		}
		progress("looking up", 0, 1)
		if err := addresses.Write(ctx, filepath.Join(dir, store.AddressesFile), r.Addresses); err != nil {
			return err
		}
		_, err := tiles.Write(ctx, filepath.Join(dir, store.MapFile), r.Map, func(part float64) { progress("drawing", int64(part*1000), 1000) })
		return err
	})
}

func writeRoads(path string, r *roads.Region) error {
	out, err := os.Create(path)
	if err != nil {
		return err
	}
	w := bufio.NewWriter(out)
	err = r.Write(w)
	return errors.Join(err, w.Flush(), out.Sync(), out.Close())
}

// Current opens a file of the region that a data directory holds, and another in its place as soon as one is brought. What can't be opened
// leaves the one before in place, and is tried once.
type Current[T any] struct {
	dir, name string
	open      func(path string) (T, error)

	mu    sync.Mutex
	value T
	rev   string // of the value
	tried string // the last one
	// last is let go of when the next comes: somebody may still read it now.
	last io.Closer
}

// NewCurrent gives the file of a name in the region that a data directory holds: there may be none yet.
func NewCurrent[T any](dir, name string, open func(path string) (T, error)) *Current[T] {
	return &Current[T]{dir: dir, name: name, open: open}
}

// Get gives what is open, and the revision of the region that it is of, "" when there is none.
func (c *Current[T]) Get() (T, string, error) {
	c.mu.Lock()
	defer c.mu.Unlock()
	path, rev, err := store.Region(c.dir)
	if err != nil || rev == c.tried {
		return c.value, c.rev, err
	}
	c.tried = rev
	value, err := c.open(filepath.Join(path, c.name))
	if err != nil {
		return c.value, c.rev, err
	}
	if c.last != nil {
		_ = c.last.Close() // it was only read
		c.last = nil
	}
	if c.rev != "" {
		c.last, _ = any(c.value).(io.Closer)
	}
	c.value, c.rev = value, rev
	return value, rev, nil
}

// Roads opens the roads of a region.
func Roads(path string) (*roads.Region, error) {
	f, err := os.Open(path)
	if err != nil {
		return nil, err
	}
	defer f.Close()
	return roads.Open(f)
}
