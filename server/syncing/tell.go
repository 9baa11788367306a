package syncing

import (
	"context"
	"slices"
	"time"

	"iter.example/iter/core/ledger"
	"iter.example/iter/core/records"
	"iter.example/iter/core/replica"
	"iter.example/iter/server/store"
)

// scopeOf names what a person's device holds beside what all hold.
func scopeOf(tx *store.Tx, d Device, today time.Time) ([]ledger.Ref, error) {
	if d.Person.Has(records.Terminal) {
		return tx.TerminalScope(today.AddDate(0, 0, -scopeDays), today)
	}
	return tx.Scope(d.PersonID, today.AddDate(0, 0, -scopeDays), today.AddDate(0, 0, scopeDays), today)
}

// inform tells a device what it does not have yet. What that is is found beside other writes; that it was told is noted in one of its own.
func inform(ctx context.Context, s *store.Store, d Device, r replica.Request, cur cursor, now time.Time, out *replica.Response) error {
	n, ok, err := queue.find(ctx, question{store: s, device: d, replica: r.Replica, cur: cur, now: now}, len(out.Receipts) > 0)
	if err != nil {
		return err
	}
	if !ok {
		out.More, out.Cursor = true, cur.String()
		return nil
	}
	return s.Write(ctx, func(tx *store.Tx) error { return noteTold(tx, d, r.Replica, cur, now, n, out) })
}

// noteTold notes that a device is told something, and puts it in its answer. What was found before another answer to the device was given,
// or before all was folded anew, is found again.
func noteTold(tx *store.Tx, d Device, rep string, cur cursor, now time.Time, n news, out *replica.Response) error {
	dev, _, err := tx.Device(rep)
	if err != nil {
		return err
	}
	if !dev.Ended.IsZero() { // meanwhile: what it brought counts, and it is told nothing more
		out.Ended = true
		return nil
	}
	if dev.Tick+1 != n.cursor.tick {
		if n, err = tell(tx, d, rep, cur, now); err != nil {
			return err
		}
	}
	if err := tx.PutPacked(rep, n.cursor.tick, n.told); err != nil {
		return err
	}
	if err := tx.ForgetGone(rep, n.confirmed); err != nil {
		return err
	}
	dev.Tick = n.cursor.tick
	out.Docs, out.Gone, out.More, out.Cursor = n.docs, n.gone, n.more, n.cursor.String()
	return tx.PutDevice(dev)
}

// news is what a device is told.
type news struct {
	docs      []ledger.Doc
	gone      []ledger.Ref
	more      bool                 // there is more to tell
	told      map[ledger.Ref]int64 // at which revisions; store.Gone for what it is to drop
	cursor    cursor               // how far it has been told then
	confirmed int64                // the last answer that it has had for certain
}

// tell finds what a device does not have yet.
func tell(tx *store.Tx, d Device, rep string, cur cursor, now time.Time) (news, error) {
	out := news{docs: []ledger.Doc{}, gone: []ledger.Ref{}, told: map[ledger.Ref]int64{}}
	dev, _, err := tx.Device(rep)
	if err != nil {
		return out, err
	}
	company, _, err := tx.Company(now)
	if err != nil {
		return out, err
	}
	today := company.Zone.In(now)
	scope, err := scopeOf(tx, d, today)
	if err != nil {
		return out, err
	}
	pack, err := tx.Pack(rep)
	if err != nil {
		return out, err
	}
	seq, err := tx.Seq()
	if err != nil {
		return out, err
	}
	out.confirmed = min(cur.tick, dev.Tick)
	out.cursor = cursor{dev.Tick + 1, seq, store.FoldVersion}
	var missing []ledger.Ref
	for _, ref := range append(scope, ledger.NoticesRef(d.PersonID)) {
		had, ok := pack[ref]
		delete(pack, ref)
		switch ref.Type { // made when they are asked for, and not stored
		case "notices":
			if had.Now, err = tx.NoticesRev(ref.ID); err != nil {
				return out, err
			}
		case "history":
			if had.Now, err = tx.HistoryRev(ref.ID); err != nil {
				return out, err
			}
		}
		if !ok || had.Rev != had.Now || had.Tick > out.confirmed {
			missing = append(missing, ref)
		}
	}
	bytes := 0
	for page := range slices.Chunk(missing, readAhead) {
		if err := tx.ReadAhead(slices.DeleteFunc(slices.Clone(page), isMade)); err != nil {
			return out, err
		}
		for _, ref := range page {
			if out.more = out.more || len(out.docs) >= pageDocs || bytes > pageBytes; out.more {
				break
			}
			doc, err := scoped(tx, ref)
			if err != nil {
				return out, err
			}
			if doc.Body == nil {
				continue
			}
			bytes += len(doc.Body)
			out.docs = append(out.docs, doc)
			out.told[ref] = doc.Rev
		}
		if out.more {
			break
		}
	}
	for ref, had := range pack { // no longer in scope
		if had.Rev == store.Gone && had.Tick <= out.confirmed {
			continue
		}
		out.gone = append(out.gone, ref)
		out.told[ref] = store.Gone
	}
	common, err := tx.CommonSince(cur.seq, pageDocs)
	if err != nil {
		return out, err
	}
	for _, doc := range common {
		if doc, err = ledger.ForDevice(doc, d.PersonID); err != nil {
			return out, err
		}
		out.docs = append(out.docs, doc)
	}
	if len(common) >= pageDocs {
		out.cursor.seq, out.more = common[len(common)-1].Rev, true
	}
	return out, nil
}

// isMade tells whether a document is made when it is asked for, and not stored.
func isMade(r ledger.Ref) bool { return r.Type == "notices" || r.Type == "history" }

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
