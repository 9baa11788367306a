package ledger

import (
	"slices"
	"strconv"

	"iter.example/iter/core/msg"
	"iter.example/iter/core/reading"
	"iter.example/iter/core/records"
	"iter.example/iter/core/substance"
	"iter.example/iter/core/work"
)

// Merged is the body of record.merged: a customer, site or machine turned out to be one that is known already, and what hangs on it goes
// there. It is the body of record.parted as well: they are two after all, and what went there comes back.
type Merged struct {
	Into   string   `json:"into"`             // of the same type
	Sites  []string `json:"sites,omitempty"`  // of a customer
	Assets []string `json:"assets,omitempty"` // of a site; of a machine its components
	Orders []string `json:"orders,omitempty"`
}

// maxMoved is how many records go elsewhere with another at a time.
const maxMoved = 5000

// mergeable are the types of what can turn out to be twice.
var mergeable = []string{"customer", "site", "asset"}

func checkMovedIDs(ids ...string) error {
	if len(ids) > maxMoved {
		return msg.New("merge.many", "max", strconv.Itoa(maxMoved))
	}
	return checkIDs(ids...)
}

func checkMerged(b Merged) error {
	return checkMovedIDs(slices.Concat([]string{b.Into}, b.Sites, b.Assets, b.Orders)...)
}

func mergedKeys(e Entry, b Merged) []Ref {
	out := []Ref{{e.Subject.Type, b.Into}}
	switch e.Subject.Type {
	case "site":
		out = append(out, SubstancesRef(b.Into), SubstancesRef(e.Subject.ID))
	case "asset":
		out = append(out, MeasuredRef(b.Into), MeasuredRef(e.Subject.ID))
	}
	for typ, ids := range map[string][]string{"site": b.Sites, "asset": b.Assets, "workorder": b.Orders} {
		for _, id := range ids {
			out = append(out, Ref{typ, id})
		}
	}
	return out
}

func recordMerged(t *tx, e Entry, b Merged) error {
	if !slices.Contains(mergeable, e.Subject.Type) || b.Into == e.Subject.ID {
		return msg.New("merge.what")
	}
	for _, ref := range []Ref{{e.Subject.Type, b.Into}, e.Subject} {
		if was, err := mergedInto(t, ref); err != nil {
			return err
		} else if was != "" {
			return msg.New("merge.gone")
		}
	}
	if err := setMerged(t, e.Subject, b.Into); err != nil {
		return err
	}
	if err := rehang(t, e.Subject, b.Into, b, func() error { return msg.New("merge.elsewhere") }); err != nil {
		return err
	}
	return histories(t, e.Subject, b.Into, false)
}

func recordParted(t *tx, e Entry, b Merged) error {
	switch was, err := mergedInto(t, e.Subject); {
	case err != nil:
		return err
	case was == "" || was != b.Into:
		return msg.New("merge.apart")
	}
	if err := setMerged(t, e.Subject, ""); err != nil {
		return err
	}
	// What somebody moved on since stays where it is.
	if err := rehang(t, Ref{e.Subject.Type, b.Into}, e.Subject.ID, b, func() error { return nil }); err != nil {
		return err
	}
	return histories(t, e.Subject, b.Into, true)
}

// mergedInto is what a record turned out to be, "" for itself.
func mergedInto(t *tx, ref Ref) (string, error) {
	var r struct {
		Merged string `json:"merged"`
	}
	if ok, err := t.load(ref, &r); err != nil {
		return "", err
	} else if !ok {
		return "", msg.New("record.unknown", "type", ref.Type, "id", ref.ID)
	}
	return r.Merged, nil
}

func setMerged(t *tx, ref Ref, into string) error {
	switch ref.Type {
	case "customer":
		return change(t, ref, func(c *records.Customer) error { c.Merged = into; return nil })
	case "site":
		return change(t, ref, func(s *records.Site) error { s.Merged = into; return nil })
	default:
		return change(t, ref, func(a *records.Asset) error { a.Merged = into; return nil })
	}
}

// change loads a document, changes it and saves it.
func change[D any](t *tx, ref Ref, how func(*D) error) error {
	var d D
	if ok, err := t.load(ref, &d); err != nil {
		return err
	} else if !ok {
		return msg.New("record.unknown", "type", ref.Type, "id", ref.ID)
	}
	if err := how(&d); err != nil {
		return err
	}
	t.save(ref, d)
	return nil
}

// rehang has what hangs on a record hang on another of the same type. elsewhere says what to make of something that hangs on neither.
func rehang(t *tx, from Ref, to string, b Merged, elsewhere func() error) error {
	swap := func(at *string) error {
		if *at != from.ID {
			return elsewhere()
		}
		*at = to
		return nil
	}
	for _, id := range b.Sites {
		if err := change(t, Ref{"site", id}, func(s *records.Site) error { return swap(&s.Customer) }); err != nil {
			return err
		}
	}
	for _, id := range b.Assets {
		if err := change(t, Ref{"asset", id}, func(a *records.Asset) error {
			if from.Type == "asset" {
				return swap(&a.Parent)
			}
			return swap(&a.Site)
		}); err != nil {
			return err
		}
	}
	for _, id := range b.Orders {
		if err := change(t, Ref{"workorder", id}, func(o *work.Order) error {
			switch from.Type {
			case "customer":
				return swap(&o.Customer)
			case "site":
				return swap(&o.Site)
			}
			return swap(&o.Asset)
		}); err != nil {
			return err
		}
	}
	return nil
}

// histories has what was measured on a machine, or logged of substances at a site, be in the history of another too; or no more. That of
// the record itself stays as it was.
func histories(t *tx, of Ref, into string, apart bool) error {
	switch of.Type {
	case "asset":
		var own, other reading.History
		if _, err := t.load(MeasuredRef(of.ID), &own); err != nil {
			return err
		}
		if _, err := t.load(MeasuredRef(into), &other); err != nil {
			return err
		}
		if other.Without(own); !apart {
			other.With(own)
		}
		if len(own.Points)+len(own.Told) > 0 {
			t.save(MeasuredRef(into), other)
		}
	case "site":
		var own, other substance.Log
		if _, err := t.load(SubstancesRef(of.ID), &own); err != nil {
			return err
		}
		if _, err := t.load(SubstancesRef(into), &other); err != nil {
			return err
		}
		other.Moves = slices.DeleteFunc(slices.Clone(other.Moves), func(m substance.Move) bool {
			return slices.ContainsFunc(own.Moves, func(o substance.Move) bool { return o.Entry == m.Entry })
		})
		for _, m := range own.Moves {
			if !apart {
				other.Add(m)
			}
		}
		if len(own.Moves) > 0 {
			t.save(SubstancesRef(into), other)
		}
	}
	return nil
}

// mergedBack takes a merge back by a parting, or a parting by a merge.
func mergedBack(kind string) func(Loader, Entry, Merged) ([]Command, error) {
	return func(_ Loader, e Entry, b Merged) ([]Command, error) {
		return []Command{{Kind: kind, Subject: e.Subject, Body: b}}, nil
	}
}
