// Package syncing is the server's side of sync: it takes a device's entries, and tells the device what changed in its scope.
//
// Taking is idempotent by entry id, and one entry never blocks the next: what can't be taken is held for a person. Telling
// is by what the device confirmed: whatever was in an answer that it did not confirm is told again.
package syncing

import (
	"context"
	"fmt"
	"slices"
	"strings"
	"time"

	"iter.example/iter/core/ledger"
	"iter.example/iter/core/msg"
	"iter.example/iter/core/records"
	"iter.example/iter/core/replica"
	"iter.example/iter/core/work"
	"iter.example/iter/server/store"
)

// How much one answer carries, and how far a device's scope reaches.
const (
	pageDocs  = 1000
	pageBytes = 2 << 20
	readAhead = 100 // documents are read so many at once
	scopeDays = 14
	// restless is how long a device may go on asking for nothing new before its contact is noted again.
	restless = time.Minute
	// maxHeld is how many entries of a person may wait for a decision, and maxBytes how many bytes of entries and files their devices bring
	// in a day: beyond them nothing is taken, and the device keeps what it has.
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
	if len(r.Entries) == 0 && len(r.Held) == 0 && len(r.Again) == 0 && len(r.Looked) == 0 && !r.Wiped {
		if out, ok, err := nothingNew(ctx, s, d, r, cur, now); ok || err != nil {
			out.Kept, out.Alone = kept, s.Alone()
			return out, err
		}
	}
	var out replica.Response
	var telling bool
	err = s.Write(ctx, func(tx *store.Tx) (err error) {
		out, telling, err = receive(tx, d, r, &cur, now)
		return err
	})
	if err == nil && telling {
		err = inform(ctx, s, d, r, cur, now, &out)
	}
	out.Kept, out.Alone = kept, s.Alone()
	return out, err
}

// nothingNew answers a device that has all there is, without writing anything.
func nothingNew(ctx context.Context, s *store.Store, d Device, r replica.Request, cur cursor, now time.Time) (out replica.Response,
	ok bool, err error) {
	err = s.Read(ctx, func(tx *store.Tx) error {
		dev, known, err := tx.Device(r.Replica)
		if err != nil || !known || dev.Person != d.PersonID {
			return err
		}
		seq, err := tx.Seq()
		if err != nil {
			return err
		}
		company, _, err := tx.Company(now)
		if err != nil {
			return err
		}
		sameDay := company.Zone.Midnight(dev.Contact).Equal(company.Zone.Midnight(now)) // the scope moves at midnight
		history, err := tx.History()
		if err != nil {
			return err
		}
		ok = (r.History == "" || r.History == history) && cur.fold == store.FoldVersion && dev.Ended.IsZero() && !d.Ended &&
			cur.seq == seq && cur.tick == dev.Tick && sameDay && now.Sub(dev.Contact) < restless
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

// receive takes what a device brings, and tells whether it is to be told what is new. cur is how far it has been told.
func receive(tx *store.Tx, d Device, r replica.Request, cur *cursor, now time.Time) (out replica.Response, telling bool, err error) {
	out = empty(now)
	dev, known, err := tx.Device(r.Replica)
	if err != nil {
		return out, false, err
	}
	seq, err := tx.Seq()
	if err != nil {
		return out, false, err
	}
	// The identity is somebody else's; or the device has forgotten an answer that it had had, since it was restored from a
	// copy; or it has had answers that were never given, since the server was. Neither knows what the device holds.
	if d.Ended && dev.Ended.IsZero() {
		dev.Ended = now
	}
	if out.History, err = tx.History(); err != nil {
		return out, false, err
	}
	ended := !dev.Ended.IsZero()
	// What a device knows of another history than this says nothing here. One that has never heard of any is of before there were such.
	if !ended && r.History != "" && r.History != out.History {
		out.Renew = true
		return out, false, nil
	}
	if (known && dev.Person != d.PersonID) || (!ended && (cur.tick < dev.Had || cur.tick > dev.Tick || cur.seq > seq)) {
		out.Renew = true
		return out, false, nil
	}
	dev.Had = max(dev.Had, min(cur.tick, dev.Tick))
	if cur.fold != store.FoldVersion { // what it holds was folded otherwise: it is told all again
		if err := tx.TellAgain(r.Replica); err != nil {
			return out, false, err
		}
		cur.seq, cur.fold = 0, store.FoldVersion
	}
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
		return out, false, err
	}
	if err := t.meter(all); err != nil {
		return out, false, err
	}
	if err := t.takeAgain(r.Again, &out); err != nil {
		return out, false, err
	}
	if out.Renew = !ended && t.strange(r.Entries, dev.N); out.Renew {
		return out, false, nil
	}
	for _, e := range r.Entries {
		receipt, err := t.take(e)
		if err != nil {
			return out, false, err
		}
		out.Receipts = append(out.Receipts, receipt)
		dev.N = max(dev.N, e.N)
	}
	for _, id := range r.Held {
		if receipt, ok, err := t.fate(id); err != nil {
			return out, false, err
		} else if ok {
			out.Receipts = append(out.Receipts, receipt)
		}
	}
	if r.Wiped {
		if err := tx.ForgetPushAddressOf(r.Replica); err != nil {
			return out, false, err
		}
	}
	if ended {
		out.Ended = true
		if r.Wiped && dev.Wiped.IsZero() {
			dev.Wiped = now
		}
		return out, false, tx.PutDevice(dev)
	}
	if err := noteLooks(tx, d.PersonID, r.Looked, now); err != nil {
		return out, false, err
	}
	return out, true, tx.PutDevice(dev)
}

// noteLooks notes which visits somebody looked at on their device: not later than now, whatever its clock says.
func noteLooks(tx *store.Tx, person string, looked []replica.Look, now time.Time) error {
	for _, s := range looked[max(0, len(looked)-replica.MostLooks):] {
		at := s.At
		if at.After(now) {
			at = now
		}
		if err := tx.SawVisit(person, work.Known{Visit: s.Visit, Start: s.Start}, at.UTC()); err != nil {
			return err
		}
	}
	return nil
}

// TakeFile takes entries of a person's device that somebody brought in a file. Only facts from the field count that way.
func TakeFile(ctx context.Context, s *store.Store, d Device, rep, broughtBy string, entries []ledger.Entry,
	now time.Time) (out []replica.Receipt, err error) {
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

// cursor is how far a device has been told: up to which answer, up to which place in the log, and folded by which version of the fold.
type cursor struct {
	tick, seq int64
	fold      int
}

func (c cursor) String() string { return fmt.Sprintf("%d.%d.%d", c.tick, c.seq, c.fold) }

// parseCursor reads a cursor. One that does not read is that of a device that has nothing; one without a version of the fold is of before
// there was one in it.
func parseCursor(s string) cursor {
	var c cursor
	switch strings.Count(s, ".") {
	case 1:
		s += ".0"
	case 2:
	default:
		return c
	}
	if n, err := fmt.Sscanf(s, "%d.%d.%d", &c.tick, &c.seq, &c.fold); n != 3 || err != nil || c.tick < 0 || c.seq < 0 {
		return cursor{}
	}
	return c
}
