package syncing

import (
	"errors"
	"slices"
	"time"

	"iter.example/iter/core/ledger"
	"iter.example/iter/core/msg"
	"iter.example/iter/core/records"
	"iter.example/iter/core/stock"
	"iter.example/iter/core/work"
	"iter.example/iter/server/accounts"
	"iter.example/iter/server/store"
)

// allowed says why a person may not write an entry: it is somebody else's, about a visit that never was theirs, out of
// another van, or an office command of a role they do not have.
func (t *taker) allowed(f *ledger.Fact) error {
	e := f.Entry
	switch {
	case t.device.Person.Has(records.Terminal):
		return t.allowedAtTerminal(f)
	case e.Actor != t.device.PersonID:
		return msg.New("scope.actor")
	case t.again && e.Replica == OfficeReplica:
		if !f.MayCommand(t.device.Person) {
			return msg.New("scope.role", "kind", e.Kind)
		}
		return nil
	case e.Replica != t.replica && !t.again:
		return msg.New("scope.device")
	case f.CorrectsContacts() && t.device.Person.Has(records.Technician):
		return nil
	case f.Correction() && t.device.Person.Has(records.Technician):
		if held, err := t.tx.HasHeld(e.Actor, e.Subject); err != nil || held {
			return err
		}
		return msg.New("scope.record")
	case !f.Field() && t.brought != "":
		return msg.New("scope.file", "kind", e.Kind)
	case !f.Field():
		if !f.MayCommand(t.device.Person) {
			return msg.New("scope.role", "kind", e.Kind)
		}
		return nil
	case f.Whose() != ledger.TheirNotices && !f.Office() && !t.device.Person.Has(records.Technician):
		return msg.New("scope.role", "kind", e.Kind)
	}
	return t.theirs(f)
}

// Theirs says why a person could not write an entry on a device of theirs: they don't work in the field, or it is not theirs. The error is
// a *msg.Code then.
func Theirs(tx *store.Tx, d Device, f *ledger.Fact, now time.Time) error {
	if !d.Person.Has(records.Technician) {
		return msg.New("scope.role", "kind", f.Entry.Kind)
	}
	t := &taker{tx: tx, device: d, now: now, had: map[string]bool{}}
	return t.theirs(f)
}

// theirs says why what an entry is about is not its actor's.
func (t *taker) theirs(f *ledger.Fact) error {
	switch f.Whose() {
	case ledger.TheirNotices, ledger.TheirDay, ledger.Anybodys:
		return nil // the rules of the kind see to that
	case ledger.TheirOwn:
		if f.Entry.Subject.ID != f.Entry.Actor {
			return msg.New("scope.own")
		}
		return nil
	case ledger.TheirTalk:
		return t.theirTalk(f)
	case ledger.SignedTogether:
		return t.theirSignature(f)
	case ledger.TheirVisit, ledger.AskedAbout:
		return t.theirVisit(f)
	}
	return t.theirPlaces(f, false)
}

// allowedAtTerminal says why a terminal may not write an entry: what it records is of people who work in the field, and who proved
// that they were there.
func (t *taker) allowedAtTerminal(f *ledger.Fact) error {
	e := f.Entry
	if e.Replica != t.replica && !t.again {
		return msg.New("scope.device")
	}
	if e.Actor == t.device.PersonID && f.Whose() == ledger.TheirNotices {
		return nil
	}
	var p records.Person
	if _, err := t.tx.Load("person", e.Actor, &p); err != nil {
		return err
	}
	if !p.Has(records.Technician) || !f.AtTerminal() {
		return msg.New("scope.terminal", "kind", e.Kind)
	}
	if proven, err := accounts.Proven(t.tx, t.device.PersonID, e); err != nil {
		return err
	} else if !proven {
		return msg.New("scope.identity")
	}
	return t.theirs(f)
}

// theirTalk says why a word in a conversation is not its actor's: they must be, or have been, on a visit of the work order, and don't speak
// for the office.
func (t *taker) theirTalk(f *ledger.Fact) error {
	if f.ForOffice() {
		return msg.New("scope.role", "kind", f.Entry.Kind)
	}
	var o work.Order
	if _, err := t.tx.Load("workorder", f.Entry.Subject.ID, &o); err != nil {
		return err
	}
	for _, id := range o.Visits {
		if had, err := t.hadVisit(f.Entry.Actor, id); had || err != nil {
			return err
		}
	}
	return msg.New("scope.visit")
}

// theirSignature says why a signature is not its actor's to bring: it is for a visit that is or was theirs, or for a colleague's at the
// same site that was signed together with one of theirs.
func (t *taker) theirSignature(f *ledger.Fact) error {
	subject := f.Entry.Subject.ID
	if had, err := t.hadVisit(f.Entry.Actor, subject); had || err != nil {
		return err
	}
	site, err := t.siteOf(subject)
	if err != nil {
		return err
	}
	for _, id := range f.SignedWith() {
		had, err := t.hadVisit(f.Entry.Actor, id)
		if err != nil {
			return err
		}
		if at, err := t.siteOf(id); had && at == site {
			return err
		}
	}
	return msg.New("scope.visit")
}

// siteOf gives the site of a visit.
func (t *taker) siteOf(visit string) (string, error) {
	var v work.Visit
	var o work.Order
	if _, err := t.tx.Load("visit", visit, &v); err != nil {
		return "", err
	}
	_, err := t.tx.Load("workorder", v.Order, &o)
	return o.Site, err
}

// hadVisit tells whether a visit is or was a person's.
func (t *taker) hadVisit(person, id string) (bool, error) {
	var v work.Visit
	ok, err := t.tx.Load("visit", id, &v)
	return ok && v.Had(person), err
}

// theirVisit says why an entry about a visit is not its actor's to write.
func (t *taker) theirVisit(f *ledger.Fact) error {
	e := f.Entry
	if known := e.Actor + " " + e.Subject.ID; !t.had[known] {
		var v work.Visit
		if ok, err := t.tx.Load("visit", e.Subject.ID, &v); err != nil {
			return err
		} else if !ok {
			return msg.New("record.unknown", "type", "visit", "id", e.Subject.ID)
		}
		if f.Whose() == ledger.AskedAbout && slices.Contains(v.Asks(), e.Actor) {
			return nil
		}
		if !v.Had(e.Actor) {
			return msg.New("scope.visit")
		}
		t.had[known] = true
	}
	if helper := f.UnsureHelper(); helper != "" {
		var v work.Visit
		if _, err := t.tx.Load("visit", e.Subject.ID, &v); err != nil || !v.Crewed(helper) {
			return errors.Join(err, orNil(msg.New("scope.helper")))
		}
	}
	return t.theirPlaces(f, true)
}

// theirPlaces says why an entry about stock is not its actor's to write: it must be about the van they carry. What is used on a
// visit may come out of a store too, or out of the van of somebody else who is on it; and whoever has a van takes parts to it off a
// store's shelf.
func (t *taker) theirPlaces(f *ledger.Fact, visit bool) error {
	e := f.Entry
	for _, k := range f.Keys() {
		if k.Type != "stock" {
			continue
		}
		var p stock.Place
		if ok, err := t.tx.Load("place", k.ID, &p); err != nil {
			return err
		} else if !ok {
			return msg.New("scope.place")
		}
		if p.Person == e.Actor || (p.Kind == "store" && (visit || f.Whose() == ledger.OffTheShelf)) {
			continue
		}
		var v work.Visit
		if visit && p.Person != "" {
			if _, err := t.tx.Load("visit", e.Subject.ID, &v); err != nil {
				return err
			}
		}
		if !v.Had(p.Person) || p.Person == "" {
			return msg.New("scope.place")
		}
	}
	return nil
}
