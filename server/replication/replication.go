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

// every is how often the copy is brought up to the log.
const every = 2 * time.Second

// levels say how changes are put together as they age, so that a restore need not read each.
var levels = litestream.CompactionLevels{{Level: 0}, {Level: 1, Interval: 30 * time.Second}, {Level: 2, Interval: 5 * time.Minute},
	{Level: 3, Interval: time.Hour}}

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
	s.Replicated(0)
	r := replicator{s: s, db: db, to: to, log: log}
	done, ended := make(chan struct{}), make(chan struct{})
	go func() {
		defer close(ended)
		for tick := time.NewTicker(every); ; {
			r.pass(context.WithoutCancel(ctx))
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
		return errors.Join(r.copy(last), ls.Close(last))
	}, nil
}

// replicator copies what changed, pass by pass.
type replicator struct {
	s    *store.Store
	db   *litestream.DB
	to   string
	log  *slog.Logger
	done extent // how far the copy goes
}

// extent is how much there is: the last place in the log, the number of files, and the region.
type extent struct {
	seq, files int64
	region     string
}

// pass has the copy go as far as the log does, and says so: of all that was in the log before it began, the changes and the files are
// there.
func (r *replicator) pass(ctx context.Context) {
	var now extent
	err := r.s.Read(ctx, func(tx *store.Tx) (err error) {
		if now.seq, err = tx.Seq(); err == nil {
			now.files, err = tx.CountFiles()
		}
		return err
	})
	if err == nil {
		_, now.region, err = store.Region(filepath.Dir(r.s.Path()))
	}
	if err == nil && now == r.done {
		return
	}
	if err == nil {
		err = r.copy(ctx)
	}
	if err != nil {
		r.log.Error("the second copy falls behind", "to", r.to, "error", err, "hint",
			"is the other place there, and has it room? It is tried again")
		return
	}
	r.done = now
	r.s.Replicated(now.seq)
}

// copy copies what there is: files before the changes that mention them, and again those that came meanwhile.
func (r *replicator) copy(ctx context.Context) error {
	if _, err := r.s.CopyFiles(ctx, r.to); err != nil {
		return err
	}
	return errors.Join(r.db.Sync(ctx), r.db.Replica.Sync(ctx))
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
	return errors.Join(err, store.BeginHistory(ctx, path))
}
