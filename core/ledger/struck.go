package ledger

import (
	"cmp"
	"slices"

	"iter.example/iter/core/labor"
	"iter.example/iter/core/msg"
	"iter.example/iter/core/reading"
	"iter.example/iter/core/records"
	"iter.example/iter/core/substance"
	"iter.example/iter/core/work"
)

func checkStruck(b Struck) error {
	if !ulid(b.Entry) {
		return msg.New("entry.id")
	}
	for _, id := range []string{b.Place, b.Order, b.Card, b.Asset, b.Site, b.Part, b.Component} {
		if id == "" {
			continue
		}
		if err := records.CheckID(id); err != nil {
			return err
		}
	}
	if err := records.CheckID(b.Person); err != nil {
		return err
	}
	if err := records.CheckText("serial", b.Serial, false, 100); err != nil {
		return err
	}
	return records.CheckText("reason", b.Reason, false, 500)
}

// struckV1 raises a strike-out that did not say whose entry it struck: it was always one's own.
func struckV1(e Entry) (Entry, error) {
	return rewritten(e, func(b map[string]any) { b["person"] = e.Actor })
}

func struckKeys(_ Entry, b Struck) []Ref {
	parts := removedKeys(b.Component, b.Part, b.Serial)
	switch {
	case b.Kind == "part.requested":
		return []Ref{RequestRef(b.Entry)}
	case b.Place != "":
		return append([]Ref{{"stock", b.Place}}, parts...)
	case len(parts) > 0:
		return parts
	case b.Asset != "":
		return []Ref{MeasuredRef(b.Asset)}
	case b.Site != "":
		return []Ref{SubstancesRef(b.Site)}
	}
	out := []Ref{TimecardRef(cmp.Or(b.Card, b.Person), b.At)}
	if b.Order != "" {
		out = append(out, Ref{"workorder", b.Order})
	}
	return out
}

// struckOwn is a person's own strike-out. Once the office has reviewed the visit it is for the office to strike out; what was
// struck out before that, and only heard of after, stands and is flagged.
func struckOwn(t *tx, e Entry, b Struck) error {
	if b.Person != e.Actor {
		return msg.New("strike.not_yours")
	}
	if e.Subject.Type == "timecard" {
		return t.strike(b, true)
	}
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
	return t.strike(b, true)
}

func struckByOffice(t *tx, _ Entry, b Struck) error { return t.strike(b, true) }

func restored(t *tx, _ Entry, b Struck) error { return t.strike(b, false) }

// strike cancels an entry everywhere it counted, or lets it count again. It stays visible.
func (t *tx) strike(b Struck, struck bool) error {
	switch t.entry.Subject.Type {
	case "timecard":
		return t.strikeTime(b, struck)
	case "visit":
		return t.strikeVisit(b, struck)
	}
	return msg.New("entry.subject", "kind", t.entry.Kind)
}

// strikeTime strikes out what was recorded on a timecard alone.
func (t *tx) strikeTime(b Struck, struck bool) error {
	c, err := t.card(false)
	if err != nil {
		return err
	}
	by := ""
	for _, s := range c.Stamps {
		if s.Entry == b.Entry && s.Visit == "" {
			by = cmp.Or(s.By, c.Person)
		}
	}
	for _, x := range c.Corrections {
		if x.Entry == b.Entry {
			by = x.By
		}
	}
	switch {
	case by == "":
		return msg.New("strike.unknown")
	case by != b.Person:
		return msg.New("strike.not_yours")
	case c.Approved != nil:
		return msg.New("time.approved", "date", c.Date)
	}
	if c.Strike(b.Entry, struck) {
		t.save(t.entry.Subject, c)
	}
	return nil
}

// strikeVisit strikes out what was recorded on a visit.
func (t *tx) strikeVisit(b Struck, struck bool) error {
	v, err := t.visit()
	if err != nil {
		return err
	}
	if about, err := t.strikeParts(v, b, struck); about {
		if err != nil {
			return err
		}
		if err := v.Strike(b.Entry, b.Person, struck); err != nil {
			return err
		}
		t.save(t.entry.Subject, v)
		return nil
	}
	if b.Kind == "part.requested" {
		if err := v.Strike(b.Entry, b.Person, struck); err != nil {
			return err
		}
		t.save(t.entry.Subject, v)
		return t.strikeRequest(b, struck)
	}
	if b.Place == "" && b.Asset != "" {
		return t.strikeReading(v, b, struck)
	}
	if b.Place == "" && b.Site != "" {
		return t.strikeSubstance(b, struck)
	}
	if b.Place != "" || b.Serial != "" || b.Component != "" {
		return msg.New("strike.unknown")
	}
	var c labor.Timecard
	var o work.Order
	card, order := TimecardRef(cmp.Or(b.Card, b.Person), b.At), Ref{"workorder", b.Order}
	_, err = t.load(card, &c)
	c.Stamps = slices.Clone(c.Stamps)
	if err == nil && b.Order != "" {
		_, err = t.load(order, &o)
	}
	if err != nil {
		return err
	}
	if c.Approved != nil && c.Has(b.Entry) {
		return msg.New("time.approved", "date", c.Date)
	}
	// What was done to a task, but to start it, is on the work order alone.
	onOrder := slices.ContainsFunc(o.TaskSteps, func(s work.TaskStep) bool {
		return s.Entry == b.Entry && s.Visit == t.entry.Subject.ID && s.Person == b.Person
	})
	if err := v.Strike(b.Entry, b.Person, struck); err != nil && !onOrder {
		return err
	}
	if onOrder {
		o.StrikeTask(b.Entry, struck)
	}
	if b.Order != "" && (o.StrikeReturn(b.Entry, struck) || onOrder) {
		t.save(order, o)
	}
	if c.Strike(b.Entry, struck) {
		t.save(card, c)
	}
	t.save(t.entry.Subject, v)
	return nil
}

// strikeReading strikes out a reading on the visit and in the history of its asset.
func (t *tx) strikeReading(v *work.Visit, b Struck, struck bool) error {
	var h reading.History
	if _, err := t.load(MeasuredRef(b.Asset), &h); err != nil {
		return err
	}
	if err := v.Strike(b.Entry, b.Person, struck); err != nil {
		return err
	}
	if h.Strike(b.Entry, struck) {
		t.save(MeasuredRef(b.Asset), h)
	}
	v.NoteDerived(b.Asset, nil) // they may have rested on it; the next reading works them out anew
	t.save(t.entry.Subject, v)
	return nil
}

// strikeSubstance strikes out a line of a site's substance log.
func (t *tx) strikeSubstance(b Struck, struck bool) error {
	var l substance.Log
	if _, err := t.load(SubstancesRef(b.Site), &l); err != nil {
		return err
	}
	i := slices.IndexFunc(l.Moves, func(m substance.Move) bool { return m.Entry == b.Entry })
	switch {
	case i < 0 || l.Moves[i].Visit != t.entry.Subject.ID:
		return msg.New("strike.unknown")
	case l.Moves[i].Person != b.Person:
		return msg.New("strike.not_yours")
	}
	l.Strike(b.Entry, struck)
	t.save(SubstancesRef(b.Site), l)
	return nil
}
