// Package replication keeps a second copy of the data in another place, all the time: the database as a stream of its changes,
// with litestream, and the files beside it. Another place is a directory: on another disk, or mounted from another machine.
package replication

import (
	"context"
	"errors"
	"fmt"
	"io/fs"
	"log/slog"
	"os"
	"path/filepath"
	"time"

	"github.com/benbjohnson/litestream"
	"github.com/benbjohnson/litestream/file"

	"iter.example/iter/server/store"
)

// filesEvery is how often files that have arrived are copied. The database follows within a second.
const filesEvery = 10 * time.Second

// levels say how changes are put together as they age, so that a restore need not read each.
var levels = litestream.CompactionLevels{{Level: 0}, {Level: 1, Interval: 30 * time.Second}, {Level: 2, Interval: 5 * time.Minute}, {Level: 3, Interval: time.Hour}}

func changes(dir string) string { return filepath.Join(dir, "changes") }

// Start copies what is in the store, and from then on what changes, to a directory. stop copies the rest and ends it.
func Start(ctx context.Context, s *store.Store, to string, log *slog.Logger) (stop func() error, err error) {
	if err := os.MkdirAll(changes(to), 0o700); err != nil {
		return nil, fmt.Errorf("replicate: %w (is the other place there?)", err)
	}
	db := litestream.NewDB(s.Path())
	client := file.NewReplicaClient(changes(to))
	db.Replica = litestream.NewReplicaWithClient(db, client)
	client.Replica = db.Replica
	ls := litestream.NewStore([]*litestream.DB{db}, levels)
	ls.Logger = log
	if err := ls.Open(ctx); err != nil {
		return nil, fmt.Errorf("replicate to %s: %w", to, err)
	}
	done, ended := make(chan struct{}), make(chan struct{})
	go func() {
		defer close(ended)
		for tick := time.NewTicker(filesEvery); ; {
			if _, err := s.CopyFiles(context.WithoutCancel(ctx), to); err != nil {
				log.Error("files are not replicated", "to", to, "error", err, "hint", "is the other place there, and has it room? It is tried again")
			}
			select {
			case <-tick.C:
			case <-done:
				tick.Stop()
				return
			}
		}
	}()
	return func() error {
		close(done)
		<-ended
		last := context.WithoutCancel(ctx)
		_, err := s.CopyFiles(last, to)
		return errors.Join(err, db.Sync(last), db.Replica.Sync(last), ls.Close(last))
	}, nil
}

// Restore puts the copy in a directory back to another, which must not hold data yet.
func Restore(ctx context.Context, from, to string) error {
	path := filepath.Join(to, store.FileName)
	if _, err := os.Stat(path); !errors.Is(err, fs.ErrNotExist) {
		return errors.Join(err, fmt.Errorf("restore: %s holds data already; choose an empty directory", to))
	}
	if _, err := os.Stat(changes(from)); err != nil {
		return fmt.Errorf("restore: there is no copy in %s: %w", from, err)
	}
	if err := os.MkdirAll(to, 0o700); err != nil {
		return fmt.Errorf("restore: %w", err)
	}
	opt := litestream.NewRestoreOptions()
	opt.OutputPath = path
	r := litestream.NewReplicaWithClient(nil, file.NewReplicaClient(changes(from)))
	if err := r.Restore(ctx, opt); err != nil {
		return fmt.Errorf("restore from %s: %w", from, err)
	}
	_, err := store.CopyFiles(ctx, from, to)
	return err
}
