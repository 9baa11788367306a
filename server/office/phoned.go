package office

import (
	"slices"
	"time"

	"iter.example/iter/core/ledger"
	"iter.example/iter/core/msg"
	"iter.example/iter/core/records"
	"iter.example/iter/server/store"
	"iter.example/iter/server/syncing"
)

// writers are those who write down what somebody tells by telephone.
var writers = []records.Role{records.Dispatcher, records.Reviewer}

// mayWrite says why a person may not write down what another tells by telephone: it takes a role, things that are told so, of visits that
// are theirs who tell it, and not before they happened. The error is a *msg.Code then.
func mayWrite(tx *store.Tx, d syncing.Device, f *ledger.Fact, now time.Time) error {
	if !slices.ContainsFunc(writers, func(r records.Role) bool { return d.Person.Has(r) }) {
		return ErrRole(writers)
	}
	if !f.Phoned() {
		return msg.New("scope.phoned", "kind", f.Entry.Kind)
	}
	teller := syncing.Device{PersonID: f.Entry.Actor}
	if _, err := tx.Load("person", f.Entry.Actor, &teller.Person); err != nil {
		return err
	}
	if f.Entry.At.After(now) {
		return msg.New("phoned.future")
	}
	if wait, _ := ledger.Timely(f.Entry.At, now); wait != nil {
		return wait
	}
	return syncing.Theirs(tx, teller, f, now)
}
