package syncing

import (
	"bytes"
	"errors"
	"slices"
	"strconv"
	"time"

	"iter.example/iter/core/ledger"
	"iter.example/iter/core/msg"
	"iter.example/iter/core/replica"
	"iter.example/iter/server/store"
)

type taker struct {
	tx      *store.Tx
	device  Device
	replica string
	now     time.Time
	brought string          // the person who took in the file that the entries came in; "" when the device sent them
	had     map[string]bool // people and visits that are known to be or to have been theirs
	log     map[string]store.Logged
	held    map[string]bool // entries that wait, or waited, for a person
	again   bool            // the entry at hand was acknowledged before the server was restored
}

// lookUp finds at once which of the entries have arrived before.
func (t *taker) lookUp(entries []ledger.Entry) (err error) {
	ids := make([]string, len(entries))
	for i, e := range entries {
		ids[i] = e.ID
	}
	if t.log, err = t.tx.FindAll(ids); err != nil {
		return err
	}
	t.held, err = t.tx.HeldAmong(ids)
	return err
}

// meter counts what the entries weigh. The error is a *msg.Code when the person's devices have brought more than they may in a day.
func (t *taker) meter(entries []ledger.Entry) error {
	var n int64
	for _, e := range entries {
		n += int64(len(e.Body) + len(e.Base))
	}
	if n == 0 {
		return nil
	}
	today, err := t.tx.BytesToday(t.device.PersonID, t.now)
	if err != nil {
		return err
	}
	if today+n > maxBytes {
		return msg.New("quota.bytes", "max", strconv.Itoa(maxBytes>>30))
	}
	return t.tx.AddBytes(t.device.PersonID, t.now, n)
}

// strange tells whether a device sends new entries under numbers that it has used before: it was restored from a copy.
func (t *taker) strange(entries []ledger.Entry, last int64) bool {
	return slices.ContainsFunc(entries, func(e ledger.Entry) bool {
		_, have := t.log[e.ID]
		return e.N <= last && !have && !t.held[e.ID]
	})
}

// take takes one entry, or holds it. The error is one of the store's.
func (t *taker) take(e ledger.Entry) (replica.Receipt, error) {
	if have, found := t.log[e.ID]; found {
		if have.Kind != e.Kind || have.Actor != e.Actor || have.Subject != e.Subject || !bytes.Equal(have.Body, e.Body) {
			return t.hold(e, msg.New("entry.id_reused"))
		}
		return replica.Receipt{ID: e.ID, Seq: have.Seq, Verdict: replica.Duplicate}, nil
	}
	if t.held[e.ID] {
		if r, ok, err := t.fate(e.ID); ok || err != nil {
			return r, err
		}
		return t.hold(e, msg.New("entry.id_reused")) // what waits under this id is somebody else's
	}
	f, err := ledger.Open(e)
	if err != nil {
		return t.hold(e, msg.From(err))
	}
	if err := t.allowed(f); err != nil {
		if c, ok := errors.AsType[*msg.Code](err); ok {
			return t.hold(e, c)
		}
		return replica.Receipt{}, err
	}
	wait, flag := ledger.Timely(e.At, t.now)
	if t.again && !e.At.After(t.now) {
		wait, flag = nil, nil // it was timely when it came first
	}
	if wait != nil {
		return t.hold(e, wait)
	}
	seq, err := t.tx.Append(f, store.Arrival{At: t.now, By: t.brought, Apart: []*msg.Code{flag}})
	if c, ok := errors.AsType[*msg.Code](err); ok {
		return t.hold(e, c)
	} else if err != nil {
		return replica.Receipt{}, err
	}
	t.log[e.ID] = store.Logged{Entry: e, Seq: seq}
	return replica.Receipt{ID: e.ID, Seq: seq, Verdict: replica.Taken}, nil
}

func (t *taker) hold(e ledger.Entry, why *msg.Code) (replica.Receipt, error) {
	if waiting, err := t.tx.CountHeld(t.device.PersonID); err != nil {
		return replica.Receipt{}, err
	} else if waiting >= maxHeld {
		return replica.Receipt{}, msg.New("quota.held", "max", strconv.Itoa(maxHeld))
	}
	t.held[e.ID] = true
	return replica.Receipt{ID: e.ID, Verdict: replica.Held, Why: why},
		t.tx.Hold(e, t.device.PersonID, why, store.Arrival{At: t.now, By: t.brought, Again: t.again})
}

// fate says what became of a held entry.
func (t *taker) fate(id string) (replica.Receipt, bool, error) {
	all, err := t.tx.HeldByEntry(id)
	if err != nil || len(all) == 0 || all[0].Person != t.device.PersonID {
		return replica.Receipt{}, false, err
	}
	h := all[0]
	switch h.State {
	case "taken":
		have, _, err := t.tx.Find(id)
		return replica.Receipt{ID: id, Seq: have.Seq, Verdict: replica.Taken}, true, err
	case "set_aside":
		seq, err := t.tx.Seq() // as far as the log must be in a second place for the decision to be
		return replica.Receipt{ID: id, Seq: seq, Verdict: replica.SetAside}, true, err
	}
	return replica.Receipt{ID: id, Verdict: replica.Held, Why: &h.Why}, true, nil
}
