package syncing

import (
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
	return tx.Scope(d.PersonID, today.AddDate(0, 0, -scopeDays), today.AddDate(0, 0, scopeDays))
}

// tell fills in what the device does not have yet.
func tell(tx *store.Tx, d Device, rep string, dev *store.Device, cur cursor, now time.Time, out *replica.Response) error {
	company, _, err := tx.Company(now)
	if err != nil {
		return err
	}
	today := company.Zone.In(now)
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
	var news []ledger.Ref
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
		if !ok || had.Rev != had.Now || had.Tick > confirmed {
			news = append(news, ref)
		}
	}
	told := map[ledger.Ref]int64{}
	bytes := 0
	for page := range slices.Chunk(news, readAhead) {
		if err := tx.ReadAhead(slices.DeleteFunc(slices.Clone(page), isMade)); err != nil {
			return err
		}
		for _, ref := range page {
			if out.More = out.More || len(out.Docs) >= pageDocs || bytes > pageBytes; out.More {
				break
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
			told[ref] = doc.Rev
		}
		if out.More {
			break
		}
	}
	for ref, had := range pack { // no longer in scope
		if had.Rev == store.Gone && had.Tick <= confirmed {
			continue
		}
		out.Gone = append(out.Gone, ref)
		told[ref] = store.Gone
	}
	if err := tx.PutPacked(rep, tick, told); err != nil {
		return err
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
	next := cursor{tick, seq, store.FoldVersion}
	if len(common) >= pageDocs {
		next.seq, out.More = common[len(common)-1].Rev, true
	}
	dev.Tick = tick
	out.Cursor = next.String()
	return nil
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
