package syncing

import (
	"cmp"
	"context"
	"errors"
	"log/slog"
	"runtime"
	"runtime/debug"
	"slices"
	"sync"
	"time"

	"iter.example/iter/server/store"
)

const (
	// Whoever brought something is answered without what is new when it takes so long until others have been told: that it has arrived is
	// what people wait for. The device asks for the rest at once, and waits for its turn.
	patience = 100 * time.Millisecond
	// together is how many devices that wait are told out of one transaction: what was read for one is at hand for the next.
	together = 16
)

// question is what a device does not have yet.
type question struct {
	store   *store.Store
	device  Device
	replica string
	cur     cursor
	now     time.Time
}

// waiting is a question that waits for its answer.
type waiting struct {
	question
	found news
	err   error
	done  chan struct{} // closed when the answer is there
}

// tellings answers questions, a few groups at a time: it takes the processor, and all at once would all wait for the last.
type tellings struct {
	mu    sync.Mutex
	line  []*waiting // guarded by mu
	busy  int        // groups that are being answered; guarded by mu
	limit int
}

var queue = &tellings{limit: max(1, runtime.GOMAXPROCS(0)/2)}

// find answers a question. When the asker is in a hurry and others come first, it may give no answer.
func (q *tellings) find(ctx context.Context, asked question, hurry bool) (news, bool, error) {
	w := &waiting{question: asked, done: make(chan struct{})}
	q.mu.Lock()
	q.line = append(q.line, w)
	if q.busy < q.limit {
		q.busy++
		go q.work()
	}
	q.mu.Unlock()
	var late <-chan time.Time
	if hurry {
		late = time.After(patience)
	}
	select {
	case <-w.done:
	case <-ctx.Done():
		q.leave(w)
		return news{}, false, ctx.Err()
	case <-late:
		if q.leave(w) {
			return news{}, false, nil
		}
		<-w.done // it is being answered
	}
	return w.found, true, w.err
}

// leave takes a question out of the line, and tells whether it still was in it.
func (q *tellings) leave(w *waiting) bool {
	q.mu.Lock()
	defer q.mu.Unlock()
	i := slices.Index(q.line, w)
	if i >= 0 {
		q.line = slices.Delete(q.line, i, i+1)
	}
	return i >= 0
}

// next takes those that are answered together, of one store; none when nobody waits.
func (q *tellings) next() (group []*waiting) {
	q.mu.Lock()
	defer q.mu.Unlock()
	var rest []*waiting
	for _, w := range q.line {
		if len(group) < together && (len(group) == 0 || group[0].store == w.store) {
			group = append(group, w)
		} else {
			rest = append(rest, w)
		}
	}
	if q.line = rest; len(group) == 0 {
		q.busy--
	}
	return group
}

func (q *tellings) work() {
	for group := q.next(); len(group) > 0; group = q.next() {
		answer(group)
	}
}

// answer answers questions out of one transaction.
func answer(group []*waiting) {
	err := errors.New("what is new could not be found") // should it panic
	defer func() {
		if p := recover(); p != nil {
			slog.Error("telling devices panicked", "panic", p, "stack", string(debug.Stack()))
		}
		for _, w := range group {
			w.err = cmp.Or(w.err, err)
			close(w.done)
		}
	}()
	err = group[0].store.Read(context.Background(), func(tx *store.Tx) error {
		for _, w := range group {
			w.found, w.err = tell(tx, w.device, w.replica, w.cur, w.now)
		}
		return nil
	})
}
