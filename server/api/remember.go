package api

import (
	"sync"

	"iter.example/iter/server/store"
)

// remembered keeps what was worked out of the store, until something that it was read from changes. It is safe for use by many at once.
type remembered[T any] struct {
	mu     sync.Mutex
	of     map[string]worked[T]
	upTo   int64           // the place in the log up to which changes were heard of
	recent []store.Changed // the last of them
	count  int             // how many there were
}

// worked is a value with what it was read from.
type worked[T any] struct {
	value T
	read  []string
}

// How many changes are looked back on (a value that took longer to work out is not kept), and how many values are kept: past that all are
// let go of, since those of days and visits that nobody asks for any more are among them.
const (
	mostChanges = 500
	mostValues  = 1000
)

// heard forgets what rests on a change. The store tells of changes in the order of the log, each before whoever made it is answered.
func (r *remembered[T]) heard(c store.Changed) {
	r.mu.Lock()
	defer r.mu.Unlock()
	r.upTo = max(r.upTo, c.Seq)
	r.count++
	if r.recent = append(r.recent, c); len(r.recent) > mostChanges {
		r.recent = r.recent[len(r.recent)-mostChanges:]
	}
	for key, w := range r.of {
		if c.Touches(w.read) {
			delete(r.of, key)
		}
	}
}

// asking is a question that values are used in: how many changes had been heard of before its transaction began, and up to where in the log
// that sees.
type asking struct {
	began int
	seq   int64
}

// ask begins a question. It is to be called before the question's transaction begins.
func (r *remembered[T]) ask() *asking {
	r.mu.Lock()
	defer r.mu.Unlock()
	return &asking{began: r.count, seq: -1}
}

// get gives what is kept for a key, or works it out in a question's transaction and keeps it if it may be kept. What was heard of since the
// question began, which its transaction may not see, is taken into account.
func (r *remembered[T]) get(tx *store.Tx, q *asking, key string, work func() (value T, keep bool, err error)) (T, error) {
	var value T
	var err error
	if q.seq < 0 {
		if q.seq, err = tx.Seq(); err != nil {
			return value, err
		}
	}
	r.mu.Lock()
	w, ok := r.of[key]
	ok = ok && q.seq <= r.upTo // else something is in the transaction that is not heard of yet
	r.mu.Unlock()
	if ok {
		tx.HasRead(w.read)
		return w.value, nil
	}
	keep := false
	read, err := tx.Reading(func() (err error) {
		value, keep, err = work()
		return err
	})
	if err != nil || !keep {
		return value, err
	}
	r.mu.Lock()
	defer r.mu.Unlock()
	since := r.count - q.began
	if since > len(r.recent) {
		return value, nil
	}
	for _, c := range r.recent[len(r.recent)-since:] {
		if c.Touches(read) {
			return value, nil
		}
	}
	if r.of == nil || len(r.of) >= mostValues {
		r.of = map[string]worked[T]{}
	}
	r.of[key] = worked[T]{value, read}
	return value, nil
}
