package accounts

import (
	"context"
	"errors"
	"sync"
	"time"
)

// Brake slows down whoever fails again and again. Its zero value is ready.
type Brake struct {
	mu    sync.Mutex
	fails map[string]failures
}

type failures struct {
	n     int
	until time.Time
}

const (
	freeTries = 5
	longest   = 15 * time.Minute
	remember  = 4096
)

// Try counts a try under some keys, such as a login and an address, before it is known whether it is right: tries side by side all
// count. It tells how long to wait first; then the try did not count and must not be made. The first few cost nothing; then the wait
// doubles, from a second to a quarter of an hour.
func (b *Brake) Try(now time.Time, keys ...string) time.Duration {
	b.mu.Lock()
	defer b.mu.Unlock()
	var wait time.Duration
	for _, k := range keys {
		wait = max(wait, b.fails[k].until.Sub(now))
	}
	if wait > 0 {
		return wait
	}
	if b.fails == nil || len(b.fails) > remember {
		kept := map[string]failures{}
		for k, f := range b.fails {
			if f.until.After(now) {
				kept[k] = f
			}
		}
		b.fails = kept
	}
	for _, k := range keys {
		f := b.fails[k]
		f.n++
		if f.n >= freeTries {
			f.until = now.Add(min(longest, time.Second<<min(f.n-freeTries, 20)))
		}
		b.fails[k] = f
	}
	return 0
}

// Worked forgets the failures of some keys: the try was right.
func (b *Brake) Worked(keys ...string) {
	b.mu.Lock()
	defer b.mu.Unlock()
	for _, k := range keys {
		delete(b.fails, k)
	}
}

// ErrBusy says that too many passwords are being checked at once.
var ErrBusy = errors.New("too many sign-ins at once")

// queue lets a few in at a time, and some wait.
type queue struct{ places, waiting chan struct{} }

func newQueue(places, waiting int) *queue {
	return &queue{make(chan struct{}, places), make(chan struct{}, places+waiting)}
}

// do runs f when there is a place. The error is ErrBusy when too many wait already, or the context's.
func (q *queue) do(ctx context.Context, f func() error) error {
	select {
	case q.waiting <- struct{}{}:
	default:
		return ErrBusy
	}
	defer func() { <-q.waiting }()
	select {
	case q.places <- struct{}{}:
	case <-ctx.Done():
		return ctx.Err()
	}
	defer func() { <-q.places }()
	return f()
}

// A hash takes 64 MB while it is worked out. Browsers that signed in before have a place of their own: a flood of strangers does not
// keep their people out.
var (
	strangers = newQueue(2, 30)
	known     = newQueue(1, 30)
)
