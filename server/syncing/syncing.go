// Package syncing is the server's side of sync: it takes a device's entries, and tells the device what changed in its scope.
//
// Taking is idempotent by entry id, and one entry never blocks the next: what can't be taken is held for a person. Telling
// is by what the device confirmed: whatever was in an answer that it did not confirm is told again.
package syncing

import (
	"bytes"
	"context"
	"errors"
	"fmt"
	"slices"
	"strconv"
	"strings"
	"time"

	"iter.example/iter/core/ledger"
	"iter.example/iter/core/msg"
	"iter.example/iter/core/records"
	"iter.example/iter/core/replica"
	"iter.example/iter/core/stock"
	"iter.example/iter/core/work"
	"iter.example/iter/server/accounts"
	"iter.example/iter/server/store"
)

// How much one answer carries, and how far a device's scope reaches.
const (
	pageDocs  = 1000
	pageBytes = 2 << 20
	scopeDays = 14
	// restless is how long a device may go on asking for nothing new before its contact is noted again.
	restless = time.Minute
	// maxHeld is how many entries of a person may wait for a decision, and maxBytes how many bytes of entries and files their devices bring in
	// a day: beyond them nothing is taken, and the device keeps what it has.
	maxHeld  = 1000
	maxBytes = 4 << 30
	// maxKey is the longest public key of a device, in characters.
	maxKey = 500
)

// OfficeReplica is under which replica the office's commands are logged.
const OfficeReplica = "office"

// Device is who asks.
type Device struct {
	PersonID string
	Person   records.Person
	Agent    string // what the browser says it is
	// Ended tells that the access it signed in with was ended: it hands over what it has and is told nothing.
	Ended bool
}

// Sync takes in a request and answers it. now is the server's clock.
func Sync(ctx context.Context, s *store.Store, d Device, r replica.Request, now time.Time) (replica.Response, error) {
	if err := records.CheckID(r.Replica); err != nil {
		return replica.Response{}, err
	}
	if len(r.Entries) > replica.MaxEntries || len(r.Held) > replica.MaxEntries*5 {
		return replica.Response{}, msg.New("sync.too_many", "max", fmt.Sprint(replica.MaxEntries))
	}
	if len(r.Again) > replica.MaxEntries {
		return replica.Response{}, msg.New("sync.too_many", "max", fmt.Sprint(replica.MaxEntries))
	}
	cur := parseCursor(r.Cursor)
	kept, err := s.Kept(ctx, now)
	if err != nil {
		return replica.Response{}, err
	}
	if len(r.Entries) == 0 && len(r.Held) == 0 && len(r.Again) == 0 {
		if out, ok, err := nothingNew(ctx, s, d, r, cur, now); ok || err != nil {
			out.Kept, out.Alone = kept, s.Alone()
			return out, err
		}
	}
	var out replica.Response
	err = s.Write(ctx, func(tx *store.Tx) error {
		var err error
		out, err = answer(tx, d, r, cur, now)
		return err
	})
	out.Kept, out.Alone = kept, s.Alone()
	return out, err
}

// nothingNew answers a device that has all there is, without writing anything.
func nothingNew(ctx context.Context, s *store.Store, d Device, r replica.Request, cur cursor, now time.Time) (out replica.Response, ok bool, err error) {
	err = s.Read(ctx, func(tx *store.Tx) error {
		dev, known, err := tx.Device(r.Replica)
		if err != nil || !known || dev.Person != d.PersonID {
			return err
		}
		seq, err := tx.Seq()
		if err != nil {
			return err
		}
		policy, err := tx.Policy()
		if err != nil {
			return err
		}
		sameDay := policy.Zone.Midnight(dev.Contact).Equal(policy.Zone.Midnight(now)) // the scope moves at midnight
		history, err := tx.History()
		if err != nil {
			return err
		}
		ok = (r.History == "" || r.History == history) && dev.Ended.IsZero() && !d.Ended && cur.seq == seq && cur.tick == dev.Tick && sameDay && now.Sub(dev.Contact) < restless
		out = empty(now)
		out.History = history
		out.Cursor = cur.String()
		return nil
	})
	return out, ok && err == nil, err
}

func empty(now time.Time) replica.Response {
	return replica.Response{Receipts: []replica.Receipt{}, Docs: []ledger.Doc{}, Gone: []ledger.Ref{}, ServerTime: now}
}

func answer(tx *store.Tx, d Device, r replica.Request, cur cursor, now time.Time) (replica.Response, error) {
	out := empty(now)
	dev, known, err := tx.Device(r.Replica)
	if err != nil {
		return out, err
	}
	seq, err := tx.Seq()
	if err != nil {
		return out, err
	}
	// The identity is somebody else's; or the device has forgotten an answer that it had had, since it was restored from a
	// copy; or it has had answers that were never given, since the server was. Neither knows what the device holds.
	if d.Ended && dev.Ended.IsZero() {
		dev.Ended = now
	}
	if out.History, err = tx.History(); err != nil {
		return out, err
	}
	ended := !dev.Ended.IsZero()
	// What a device knows of another history than this says nothing here. One that has never heard of any is of before there were such.
	if !ended && r.History != "" && r.History != out.History {
		out.Renew = true
		return out, nil
	}
	if (known && dev.Person != d.PersonID) || (!ended && (cur.tick < dev.Had || cur.tick > dev.Tick || cur.seq > seq)) {
		out.Renew = true
		return out, nil
	}
	dev.Had = max(dev.Had, min(cur.tick, dev.Tick))
	dev.Person, dev.Contact, dev.Agent = d.PersonID, now, d.Agent
	dev.Version, dev.Unsent = records.Clip(r.Version), max(r.Unsent, 0)
	if dev.Key == "" && len(r.Key) <= maxKey { // the first stands: whoever has the session later can't put another in its place
		dev.Key = r.Key
	}
	if !r.Now.IsZero() {
		dev.Skew = r.Now.Sub(now)
	}
	t := taker{tx: tx, device: d, replica: r.Replica, now: now, had: map[string]bool{}}
	all := slices.Concat(r.Again, r.Entries)
	if err := t.lookUp(all); err != nil {
		return out, err
	}
	if err := t.meter(all); err != nil {
		return out, err
	}
	if err := t.takeAgain(r.Again, &out); err != nil {
		return out, err
	}
	if out.Renew = !ended && t.strange(r.Entries, dev.N); out.Renew {
		return out, nil
	}
	for _, e := range r.Entries {
		receipt, err := t.take(e)
		if err != nil {
			return out, err
		}
		out.Receipts = append(out.Receipts, receipt)
		dev.N = max(dev.N, e.N)
	}
	for _, id := range r.Held {
		if receipt, ok, err := t.fate(id); err != nil {
			return out, err
		} else if ok {
			out.Receipts = append(out.Receipts, receipt)
		}
	}
	if ended {
		out.Ended = true
		if r.Wiped && dev.Wiped.IsZero() {
			dev.Wiped = now
		}
		return out, tx.PutDevice(dev)
	}
	if err := tell(tx, d, r.Replica, &dev, cur, now, &out); err != nil {
		return out, err
	}
	return out, tx.PutDevice(dev)
}

// TakeFile takes entries of a person's device that somebody brought in a file. Only facts from the field count that way.
func TakeFile(ctx context.Context, s *store.Store, d Device, rep, broughtBy string, entries []ledger.Entry, now time.Time) (out []replica.Receipt, err error) {
	if len(entries) == 0 {
		return nil, nil
	}
	err = s.Write(ctx, func(tx *store.Tx) error {
		t := taker{tx: tx, device: d, replica: rep, now: now, brought: broughtBy, had: map[string]bool{}}
		if err := t.lookUp(entries); err != nil {
			return err
		}
		for _, e := range entries {
			receipt, err := t.take(e)
			if err != nil {
				return err
			}
			out = append(out, receipt)
		}
		return nil
	})
	return out, err
}

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
	return replica.Receipt{ID: e.ID, Verdict: replica.Held, Why: why}, t.tx.Hold(e, t.device.PersonID, why, store.Arrival{At: t.now, By: t.brought, Again: t.again})
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
	case e.Kind == "flag.seen":
		return nil // about one's own notices only
	case !f.Office() && !t.device.Person.Has(records.Technician):
		return msg.New("scope.role", "kind", e.Kind)
	case e.Subject.Type == "timecard":
		return nil // one's own: the rules see to that
	case e.Subject.Type == "talk":
		return t.theirTalk(f)
	case e.Kind == "signoff.captured":
		return t.theirSignature(f)
	case e.Subject.Type != "visit":
		return t.theirPlaces(f, false)
	}
	return t.theirs(f)
}

// allowedAtTerminal says why a terminal may not write an entry: what it records is of people who work in the field, and who proved
// that they were there.
func (t *taker) allowedAtTerminal(f *ledger.Fact) error {
	e := f.Entry
	if e.Replica != t.replica && !t.again {
		return msg.New("scope.device")
	}
	if e.Actor == t.device.PersonID && e.Kind == "flag.seen" {
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
	if e.Subject.Type == "timecard" {
		return nil
	}
	return t.theirs(f)
}

// theirTalk says why a word in a conversation is not its actor's: they must be, or have been, on a visit of the work order, and don't speak for
// the office.
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

// theirSignature says why a signature is not its actor's to bring: it is for a visit that is or was theirs, or for a colleague's at the same
// site that was signed together with one of theirs.
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

// theirs says why an entry about a visit is not its actor's to write.
func (t *taker) theirs(f *ledger.Fact) error {
	e := f.Entry
	if known := e.Actor + " " + e.Subject.ID; !t.had[known] {
		var v work.Visit
		if ok, err := t.tx.Load("visit", e.Subject.ID, &v); err != nil {
			return err
		} else if !ok {
			return msg.New("record.unknown", "type", "visit", "id", e.Subject.ID)
		}
		if e.Kind == "crew.answered" && slices.Contains(v.Asks(), e.Actor) {
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
		if p.Person == e.Actor || (p.Kind == "store" && (visit || e.Kind == "handover.sent")) {
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

// scopeOf names what a person's device holds beside what all hold.
func scopeOf(tx *store.Tx, d Device, today time.Time) ([]ledger.Ref, error) {
	if d.Person.Has(records.Terminal) {
		return tx.TerminalScope(today.AddDate(0, 0, -scopeDays), today)
	}
	return tx.Scope(d.PersonID, today.AddDate(0, 0, -scopeDays), today.AddDate(0, 0, scopeDays))
}

// tell fills in what the device does not have yet.
func tell(tx *store.Tx, d Device, rep string, dev *store.Device, cur cursor, now time.Time, out *replica.Response) error {
	policy, err := tx.Policy()
	if err != nil {
		return err
	}
	today := policy.Zone.In(now)
	scope, err := scopeOf(tx, d, today)
	if err != nil {
		return err
	}
	pack, err := tx.Pack(rep)
	if err != nil {
		return err
	}
	seq, err := tx.Seq()
	if err != nil {
		return err
	}
	confirmed := min(cur.tick, dev.Tick)
	tick := dev.Tick + 1
	bytes := 0
	for _, ref := range append(scope, ledger.NoticesRef(d.PersonID)) {
		had, ok := pack[ref]
		delete(pack, ref)
		switch ref.Type { // made when they are asked for, and not stored
		case "notices":
			if had.Now, err = tx.NoticesRev(ref.ID); err != nil {
				return err
			}
		case "history":
			if had.Now, err = tx.HistoryRev(ref.ID); err != nil {
				return err
			}
		}
		if ok && had.Rev == had.Now && had.Tick <= confirmed {
			continue
		}
		if len(out.Docs) >= pageDocs || bytes > pageBytes {
			out.More = true
			continue
		}
		doc, err := scoped(tx, ref)
		if err != nil {
			return err
		}
		if doc.Body == nil {
			continue
		}
		bytes += len(doc.Body)
		out.Docs = append(out.Docs, doc)
		if err := tx.PutPacked(rep, ref, store.Packed{Rev: doc.Rev, Tick: tick}); err != nil {
			return err
		}
	}
	for ref, had := range pack { // no longer in scope
		if had.Rev == store.Gone && had.Tick <= confirmed {
			continue
		}
		out.Gone = append(out.Gone, ref)
		if err := tx.PutPacked(rep, ref, store.Packed{Rev: store.Gone, Tick: tick}); err != nil {
			return err
		}
	}
	if err := tx.ForgetGone(rep, confirmed); err != nil {
		return err
	}
	common, err := tx.CommonSince(cur.seq, pageDocs)
	if err != nil {
		return err
	}
	for _, doc := range common {
		if doc, err = ledger.ForDevice(doc, d.PersonID); err != nil {
			return err
		}
		out.Docs = append(out.Docs, doc)
	}
	next := cursor{tick: tick, seq: seq}
	if len(common) >= pageDocs {
		next.seq, out.More = common[len(common)-1].Rev, true
	}
	dev.Tick = tick
	out.Cursor = next.String()
	return nil
}

// scoped gives a document of a device's scope: as it is stored, or a person's notices or a site's history, which are made when they are
// asked for.
func scoped(tx *store.Tx, ref ledger.Ref) (ledger.Doc, error) {
	switch ref.Type {
	case "notices":
		return tx.NoticesOf(ref.ID)
	case "history":
		return tx.HistoryOf(ref.ID)
	}
	return tx.Doc(ref)
}

// cursor is how far a device has been told: the number of the last answer it has, and how far that went in the log.
type cursor struct{ tick, seq int64 }

func (c cursor) String() string { return fmt.Sprintf("%d.%d", c.tick, c.seq) }

// parseCursor reads a cursor. One that does not read is that of a device that has nothing.
func parseCursor(s string) cursor {
	var c cursor
	if strings.Count(s, ".") != 1 {
		return c
	}
	if n, err := fmt.Sscanf(s, "%d.%d", &c.tick, &c.seq); n != 2 || err != nil || c.tick < 0 || c.seq < 0 {
		return cursor{}
	}
	return c
}
