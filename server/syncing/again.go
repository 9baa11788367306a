package syncing

import (
	"context"
	"errors"
	"time"

	"iter.example/iter/core/ledger"
	"iter.example/iter/core/msg"
	"iter.example/iter/core/records"
	"iter.example/iter/core/replica"
	"iter.example/iter/server/store"
)

// byRestore is who decides on what was held since it rested on something that was not given again yet.
const byRestore = "restore"

// takeAgain takes entries that were acknowledged before the server was restored from a copy of before them. They come from many devices in
// any order: what rests on something that is not there yet is held, and tried again with each that comes.
func (t *taker) takeAgain(entries []ledger.Entry, out *replica.Response) error {
	if len(entries) == 0 {
		return nil
	}
	// To a server that was not restored nobody has anything to give again but what it has.
	restored, err := t.tx.Restored()
	if err != nil {
		return err
	}
	t.again = restored
	defer func() { t.again = false }()
	for _, e := range entries {
		receipt, err := t.take(e)
		if err != nil {
			return err
		}
		out.Receipts = append(out.Receipts, receipt)
	}
	return settleAgain(t.tx, t)
}

// settleAgain tries what was held when it was given again, until none of it fits any more.
func settleAgain(tx *store.Tx, t *taker) error {
	for {
		waiting, err := tx.HeldAgain()
		if err != nil {
			return err
		}
		settled := false
		for _, h := range waiting {
			var p records.Person
			if _, err := tx.Load("person", h.Person, &p); err != nil {
				return err
			}
			one := taker{tx: tx, device: Device{PersonID: h.Person, Person: p}, now: t.now, had: map[string]bool{}, again: true}
			f, err := ledger.Open(h.Entry)
			if err != nil || one.allowed(f) != nil {
				continue
			}
			_, err = tx.Append(f, store.Arrival{At: t.now, By: h.Brought})
			if _, unfit := errors.AsType[*msg.Code](err); unfit {
				continue
			} else if err != nil {
				return err
			}
			if err := tx.Decide(h.ID, "taken", byRestore, t.now); err != nil {
				return err
			}
			settled = true
		}
		if !settled {
			return nil
		}
	}
}

// TakeOffice takes office commands as they were logged before the server was restored, from whoever recorded them.
func TakeOffice(ctx context.Context, s *store.Store, d Device, entries []ledger.Entry, now time.Time) (out replica.Response, err error) {
	if len(entries) > replica.MaxEntries {
		return out, msg.New("sync.too_many")
	}
	err = s.Write(ctx, func(tx *store.Tx) error {
		out = empty(now)
		t := taker{tx: tx, device: d, now: now, had: map[string]bool{}}
		if err := t.lookUp(entries); err != nil {
			return err
		}
		return t.takeAgain(entries, &out)
	})
	return out, err
}
