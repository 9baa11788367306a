package ledger

import (
	"encoding/json"

	"iter.example/iter/core/labor"
	"iter.example/iter/core/msg"
	"iter.example/iter/core/records"
	"iter.example/iter/core/stock"
)

func checkStruck(b Struck) error {
	if !ulid(b.Entry) {
		return msg.New("entry.id")
	}
	if b.Place != "" {
		if err := records.CheckID(b.Place); err != nil {
			return err
		}
	}
	if err := records.CheckID(b.Person); err != nil {
		return err
	}
	return records.CheckText("reason", b.Reason, false, 500)
}

// struckV1 raises a strike-out that did not say whose entry it struck: it was always one's own.
func struckV1(e Entry) (Entry, error) {
	var b map[string]any
	if err := json.Unmarshal(e.Body, &b); err != nil || b == nil {
		return e, msg.New("entry.body", "kind", e.Kind)
	}
	b["person"] = e.Actor
	raw, err := json.Marshal(b)
	e.Body = raw
	return e, err
}

func struckKeys(_ Entry, b Struck) []Ref {
	if b.Place != "" {
		return []Ref{{"stock", b.Place}}
	}
	return []Ref{TimecardRef(b.Person, b.At)}
}

// struckOwn is a person's own strike-out. Once the office has reviewed the visit it is for the office to strike out; what was
// struck out before that, and only heard of after, stands and is flagged.
func struckOwn(t *tx, e Entry, b Struck) error {
	v, err := t.visit()
	if err != nil {
		return err
	}
	if !v.ReviewedAt.IsZero() {
		if e.At.After(v.ReviewedAt) {
			return msg.New("strike.reviewed")
		}
		t.flag("visit.reviewed_meanwhile")
	}
	if b.Person != e.Actor {
		return msg.New("strike.not_yours")
	}
	return t.strike(b, true)
}

func struckByOffice(t *tx, _ Entry, b Struck) error { return t.strike(b, true) }

func restored(t *tx, _ Entry, b Struck) error { return t.strike(b, false) }

// strike cancels an entry of the visit everywhere it counted, or lets it count again. It stays visible.
func (t *tx) strike(b Struck, struck bool) error {
	v, err := t.visit()
	if err != nil {
		return err
	}
	var s stock.Stock
	var c labor.Timecard
	place, card := Ref{"stock", b.Place}, TimecardRef(b.Person, b.At)
	if b.Place != "" {
		_, err = t.load(place, &s)
	} else {
		_, err = t.load(card, &c)
	}
	if err != nil {
		return err
	}
	var took stock.Movement
	part := v.Part(b.Entry)
	if part != nil {
		if part.Place != b.Place {
			return msg.New("strike.place")
		}
		took = stock.Movement{Entry: b.Entry, At: part.At, Quantity: part.Quantity.Neg(), Struck: part.Struck}
	}
	if err := v.Strike(b.Entry, b.Person, struck); err != nil {
		return err
	}
	switch {
	case part != nil && took.Struck != struck:
		s.Strike(part.Part, took, struck)
		t.save(place, s)
	case b.Place == "" && c.Strike(b.Entry, struck):
		t.save(card, c)
	}
	t.save(t.entry.Subject, v)
	return nil
}
