package syncing

import (
	"errors"
	"strings"
	"time"

	"iter.example/iter/core/ledger"
	"iter.example/iter/core/msg"
	"iter.example/iter/core/records"
	"iter.example/iter/server/accounts"
	"iter.example/iter/server/store"
)

// Verdict is what a person decides on a held entry: that it counts after all, or that it does not.
type Verdict string

const (
	TakeOn   Verdict = "take"
	SetAside Verdict = "set_aside"
)

// Values lists the verdicts, for generated types.
func (Verdict) Values() []string { return []string{string(TakeOn), string(SetAside)} }

// Outlook is what would happen if a held entry were taken on.
type Outlook struct {
	// Why is why whoever asks can't take it on, or why it does not fit; nil when they can and it does.
	Why *msg.Code
	// Theirs tells that the entry is for whoever asks to decide on: they may at least set it aside.
	Theirs  bool
	Changes []store.Change
	Flags   []ledger.Flag
}

// LookAhead tells what would happen if a person took on a held entry. tx is thrown away afterwards.
func LookAhead(tx *store.Tx, d Device, h store.HeldEntry) (Outlook, error) {
	f, err := ledger.Open(h.Entry)
	if err != nil { // nobody can take on what does not read
		return Outlook{Why: msg.From(err), Theirs: d.Person.Has(records.Dispatcher, records.Reviewer)}, nil
	}
	out := Outlook{Theirs: f.MayTakeOn(d.Person)}
	if out.Why, err = mayTakeOn(tx, d, h, f); out.Why != nil || err != nil {
		return out, err
	}
	out.Changes, out.Flags, err = tx.Preview(f)
	if code, ok := errors.AsType[*msg.Code](err); ok {
		out.Why, err = code, nil
	}
	return out, err
}

// Decide carries out a person's decision on a held entry. Deciding the same again changes nothing. The error is a *msg.Code when
// they may not, when somebody decided otherwise before, or when the entry does not fit.
func Decide(tx *store.Tx, d Device, id int64, v Verdict, now time.Time) error {
	h, ok, err := tx.HeldByID(id)
	if err != nil {
		return err
	}
	if !ok {
		return msg.New("held.decided")
	}
	state := map[Verdict]string{TakeOn: "taken", SetAside: "set_aside"}[v]
	if h.State != "held" {
		if by, _, _ := strings.Cut(h.Decided, " "); h.State == state && by == d.PersonID {
			return nil
		}
		return msg.New("held.decided")
	}
	f, err := ledger.Open(h.Entry)
	switch {
	case err != nil && v == TakeOn:
		return msg.From(err)
	case err != nil && !d.Person.Has(records.Dispatcher, records.Reviewer), err == nil && !f.MayTakeOn(d.Person):
		return msg.New("held.right")
	}
	if v == TakeOn {
		if why, err := mayTakeOn(tx, d, h, f); why != nil || err != nil {
			return errors.Join(err, orNil(why))
		}
		flag := msg.New("entry.taken_by_hand", "by", d.Person.Name)
		if _, err := tx.Append(f, store.Arrival{At: now, By: d.PersonID, Apart: []*msg.Code{flag}}); err != nil {
			return err
		}
	}
	return tx.Decide(id, state, d.PersonID, now)
}

// orNil is a code as an error: a nil *msg.Code would be an error that is not nil.
func orNil(c *msg.Code) error {
	if c == nil {
		return nil
	}
	return c
}

// mayTakeOn says why a person can't take on a held entry: it is not for them to decide on, it speaks for somebody else than who
// sent it, or for another's device, or its id is taken.
func mayTakeOn(tx *store.Tx, d Device, h store.HeldEntry, f *ledger.Fact) (*msg.Code, error) {
	if !f.MayTakeOn(d.Person) {
		return msg.New("held.right"), nil
	}
	e := h.Entry
	proven, err := accounts.Proven(tx, h.Person, e)
	if err != nil {
		return nil, err
	}
	if e.Actor != h.Person && !proven {
		actor, err := tx.NameOf(e.Actor)
		if err != nil {
			return nil, err
		}
		sender, err := tx.NameOf(h.Person)
		return msg.New("held.foreign", "actor", actor, "sender", sender), err
	}
	if dev, known, err := tx.Device(e.Replica); err != nil {
		return nil, err
	} else if !known || dev.Person != h.Person {
		return msg.New("scope.device"), nil
	}
	_, found, err := tx.Find(e.ID)
	if found {
		return msg.New("entry.id_reused"), err
	}
	return nil, err
}
