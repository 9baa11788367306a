package store

import (
	"errors"
	"io/fs"
	"os"
	"path/filepath"
	"strings"
	"time"
)

// What a firm brought of its region is kept beside the database: in a directory for each time that it was brought, whose name says when,
// the files that were made of it. The latest counts, and the others go.
const (
	RegionDir     = "region"
	RoadsFile     = "roads"        // core/roads
	MapFile       = "map.pmtiles"  // server/tiles
	AddressesFile = "addresses.db" // server/addresses
)

// unfinished ends the name of a directory that is not whole.
const unfinished = ".new"

// Region gives the directory of the region that a data directory holds, and its name; "" when there is none.
func Region(dir string) (path, rev string, err error) {
	list, err := os.ReadDir(filepath.Join(dir, RegionDir)) // in order of their names
	if err != nil && !errors.Is(err, fs.ErrNotExist) {
		return "", "", err
	}
	for _, e := range list {
		if e.IsDir() && !strings.HasSuffix(e.Name(), unfinished) {
			rev = e.Name()
		}
	}
	if rev == "" {
		return "", "", nil
	}
	return filepath.Join(dir, RegionDir, rev), rev, nil
}

// PutRegion brings a region to a data directory, in place of the one that is there: whole or not at all. fill makes its files.
func PutRegion(dir string, at time.Time, fill func(dir string) error) error {
	return putRegion(dir, at.UTC().Format(revForm), fill)
}

// revForm is the name of a region, as its revision.
const revForm = "20060102T150405.000000Z"

// RegionTime is when a region was brought.
func RegionTime(rev string) (time.Time, error) { return time.Parse(revForm, rev) }

func putRegion(dir, rev string, fill func(dir string) error) error {
	all := filepath.Join(dir, RegionDir)
	if err := os.MkdirAll(all, 0o700); err != nil {
		return err
	}
	made, err := os.MkdirTemp(all, rev+".*"+unfinished)
	if err != nil {
		return err
	}
	defer os.RemoveAll(made)
	if err := errors.Join(fill(made), syncDir(made)); err != nil {
		return err
	}
	if err := os.Rename(made, filepath.Join(all, rev)); err != nil {
		return err
	}
	if err := syncDir(all); err != nil {
		return err
	}
	older, err := os.ReadDir(all)
	for _, e := range older {
		if e.Name() < rev && !strings.HasSuffix(e.Name(), unfinished) {
			err = errors.Join(err, os.RemoveAll(filepath.Join(all, e.Name())))
		}
	}
	return err
}

// syncDir has the names in a directory be on the disk.
func syncDir(dir string) error {
	d, err := os.Open(dir)
	if err != nil {
		return err
	}
	return errors.Join(d.Sync(), d.Close())
}

// copyRegion copies the region of a data directory, unless it is there already.
func copyRegion(from, to string) error {
	path, rev, err := Region(from)
	if err != nil || rev == "" {
		return err
	}
	if _, have, err := Region(to); err != nil || have >= rev {
		return err
	}
	files, err := os.ReadDir(path)
	if err != nil {
		return err
	}
	return putRegion(to, rev, func(dir string) error {
		for _, f := range files {
			if err := copyFile(filepath.Join(path, f.Name()), filepath.Join(dir, f.Name())); err != nil {
				return err
			}
		}
		return nil
	})
}
