package ledger

import (
	"slices"
	"time"

	"github.com/shopspring/decimal"

	"iter.example/iter/core/msg"
	"iter.example/iter/core/records"
	"iter.example/iter/core/stock"
	"iter.example/iter/core/work"
)

// Use is the body of part.used. Quantity is in the part's own unit.
type Use struct {
	Part     string          `json:"part"`
	Place    string          `json:"place"`
	Quantity decimal.Decimal `json:"quantity"`
	As       *work.Typed     `json:"as,omitempty"`
	Asset    string          `json:"asset,omitempty"` // that it was fitted to
	Task     string          `json:"task,omitempty"`
	Serial   string          `json:"serial,omitempty"`
}

// Remove is the body of part.removed.
type Remove struct {
	Part      string          `json:"part,omitempty"`
	Text      string          `json:"text"`
	Quantity  decimal.Decimal `json:"quantity"`
	Asset     string          `json:"asset,omitempty"`
	Task      string          `json:"task,omitempty"`
	Serial    string          `json:"serial,omitempty"`
	Component string          `json:"component,omitempty"`
	Fate      work.Fate       `json:"fate"`
	Place     string          `json:"place,omitempty"`
}

// UseKit is the body of kit.used. Parts are all that went with it, Quantity kits in all.
type UseKit struct {
	Kit      string          `json:"kit"`
	Quantity decimal.Decimal `json:"quantity"`
	Place    string          `json:"place"`
	Parts    []stock.Moved   `json:"parts"`
	Asset    string          `json:"asset,omitempty"`
	Task     string          `json:"task,omitempty"`
	Labour   *work.KitWork   `json:"labour,omitempty"`
}

// AddExtra is the body of extra.added.
type AddExtra struct {
	Kind     work.ExtraKind   `json:"kind"`
	Text     string           `json:"text"`
	Quantity decimal.Decimal  `json:"quantity"`
	Unit     string           `json:"unit,omitempty"`
	Price    *decimal.Decimal `json:"price,omitempty"`
	Asset    string           `json:"asset,omitempty"`
	Task     string           `json:"task,omitempty"`
}

// ComponentRef names the component that an entry fitted.
func ComponentRef(entry string) Ref { return Ref{"asset", entry} }

// SerialRef names the life of a part with a serial number.
func SerialRef(part, serial string) Ref { return Ref{"serial", stock.SerialID(part, serial)} }

func checkQuantity(q decimal.Decimal) error {
	if !stock.Sensible(q, false) {
		return msg.New("quantity.absurd", "quantity", records.Clip(q.String()))
	}
	return nil
}

func checkUse(b Use) error {
	if err := checkQuantity(b.Quantity); err != nil {
		return err
	}
	if b.Serial != "" && !b.Quantity.Equal(decimal.NewFromInt(1)) {
		return msg.New("serial.one")
	}
	if err := records.CheckText("serial", b.Serial, false, 100); err != nil {
		return err
	}
	if b.As != nil && (!stock.Sensible(b.As.Quantity, false) || len(b.As.Unit) > 60) {
		return msg.New("quantity.absurd", "quantity", records.Clip(b.As.Quantity.String()))
	}
	if err := checkOptional(b.Asset, b.Task); err != nil {
		return err
	}
	return checkIDs(b.Place, b.Part)
}

func useKeys(e Entry, b Use) []Ref {
	out := []Ref{{"stock", b.Place}, {"part", b.Part}}
	if b.Serial != "" {
		out = append(out, SerialRef(b.Part, b.Serial))
		if b.Asset != "" {
			out = append(out, Ref{"asset", b.Asset}, ComponentRef(e.ID))
		}
	}
	return out
}

func used(t *tx, e Entry, b Use) error {
	v, err := t.fact()
	if err != nil {
		return err
	}
	s := stock.Stock{Place: b.Place}
	part := stock.Part{Name: b.Part}
	var life stock.SerialLife
	var asset records.Asset
	place := Ref{"stock", b.Place}
	if _, err := t.load(place, &s); err != nil {
		return err
	}
	known, err := t.load(Ref{"part", b.Part}, &part)
	if err != nil {
		return err
	}
	fits := false
	if b.Serial != "" {
		if _, err := t.load(SerialRef(b.Part, b.Serial), &life); err != nil {
			return err
		}
		if b.Asset != "" {
			if fits, err = t.load(Ref{"asset", b.Asset}, &asset); err != nil {
				return err
			}
		}
	}
	if !known || part.Retired {
		t.flag("part.gone", "part", part.Name, "number", b.Part)
	}
	t.take(&s, v.Order, e, b.Part, part.Name, b.Quantity)
	t.save(place, s)
	if b.Serial != "" {
		life.Part, life.Serial = b.Part, b.Serial
		if life.Fit(stock.Fitted{Entry: e.ID, At: e.At, Visit: e.Subject.ID, Asset: b.Asset}) != nil {
			t.flag("serial.twice", "serial", records.Clip(b.Serial), "part", part.Name)
		}
		t.save(SerialRef(b.Part, b.Serial), life)
	}
	if fits {
		c := records.Asset{Site: asset.Site, Parent: b.Asset, Name: part.Name, Serial: b.Serial, Installed: e.At.Format(time.DateOnly), Part: b.Part, Fitted: e.ID}
		if part.Warranty > 0 {
			c.Warranty = e.At.AddDate(0, part.Warranty, 0).Format(time.DateOnly)
		}
		t.save(ComponentRef(e.ID), c)
	}
	v.Parts = append(v.Parts, work.PartUsed{Entry: e.ID, At: e.At, Person: e.Actor, Part: b.Part, Place: b.Place, Quantity: b.Quantity, As: b.As, Asset: b.Asset, Task: b.Task, Serial: b.Serial, Price: part.Price})
	t.save(e.Subject, v)
	return nil
}

// take takes a part out of a place for a visit, and flags it when the book says that there was not as much.
func (t *tx) take(s *stock.Stock, order string, e Entry, part, name string, q decimal.Decimal) {
	before := s.Balance(part)
	left := s.Use(part, order, stock.Movement{Entry: e.ID, At: e.At, Quantity: q.Neg(), Visit: e.Subject.ID})
	if left.IsNegative() && !before.IsNegative() { // told once, until it is counted
		t.flag("stock.below_zero", "part", name, "number", part, "place", s.Place, "balance", left.String())
	}
}

func checkRemove(b Remove) error {
	if err := checkQuantity(b.Quantity); err != nil {
		return err
	}
	if !slices.Contains(b.Fate.Values(), string(b.Fate)) {
		return msg.New("part.fate")
	}
	if b.Fate == work.ToStock {
		if err := checkIDs(b.Part, b.Place); err != nil {
			return msg.New("part.fate_stock")
		}
	} else if b.Place != "" {
		return msg.New("part.fate")
	}
	if err := checkOptional(b.Part, b.Asset, b.Task, b.Component, b.Place); err != nil {
		return err
	}
	if err := records.CheckText("serial", b.Serial, false, 100); err != nil {
		return err
	}
	return records.CheckText("text", b.Text, true, 500)
}

func removeKeys(_ Entry, b Remove) []Ref {
	var out []Ref
	if b.Place != "" {
		out = append(out, Ref{"stock", b.Place})
	}
	return append(out, removedKeys(b.Component, b.Part, b.Serial)...)
}

// removedKeys are the documents that know that a part is no longer fitted.
func removedKeys(component, part, serial string) []Ref {
	var out []Ref
	if component != "" {
		out = append(out, Ref{"asset", component})
	}
	if part != "" && serial != "" {
		out = append(out, SerialRef(part, serial))
	}
	return out
}

func removed(t *tx, e Entry, b Remove) error {
	v, err := t.fact()
	if err != nil {
		return err
	}
	s := stock.Stock{Place: b.Place}
	if b.Place != "" {
		if _, err := t.load(Ref{"stock", b.Place}, &s); err != nil {
			return err
		}
	}
	if err := t.markRemoved(b.Component, b.Part, b.Serial, e.At.Format(time.DateOnly), func(l *stock.SerialLife) {
		l.TakeOut(stock.Fitted{Entry: e.ID, At: e.At, Visit: e.Subject.ID, Asset: b.Asset})
	}); err != nil {
		return err
	}
	if b.Place != "" {
		s.Move(b.Part, stock.Movement{Entry: e.ID, At: e.At, Quantity: b.Quantity})
		t.save(Ref{"stock", b.Place}, s)
	}
	v.Removed = append(slices.Clone(v.Removed), work.PartRemoved{Entry: e.ID, At: e.At, Person: e.Actor, Part: b.Part, Text: b.Text, Quantity: b.Quantity, Asset: b.Asset, Task: b.Task, Serial: b.Serial, Component: b.Component, Fate: b.Fate, Place: b.Place})
	t.save(e.Subject, v)
	return nil
}

// markRemoved notes on a component and on the life of its serial number that it was taken out; an empty day says that it was not.
func (t *tx) markRemoved(component, part, serial, day string, life func(*stock.SerialLife)) error {
	var a records.Asset
	var l stock.SerialLife
	was := false
	var err error
	if component != "" {
		if was, err = t.load(Ref{"asset", component}, &a); err != nil {
			return err
		}
	}
	if part != "" && serial != "" {
		if _, err := t.load(SerialRef(part, serial), &l); err != nil {
			return err
		}
		l.Part, l.Serial = part, serial
		life(&l)
		t.save(SerialRef(part, serial), l)
	}
	if was {
		a.Removed = day
		t.save(Ref{"asset", component}, a)
	}
	return nil
}

func checkKit(b UseKit) error {
	if err := checkQuantity(b.Quantity); err != nil {
		return err
	}
	if len(b.Parts) > 0 {
		if err := stock.CheckMoved(b.Parts, false); err != nil {
			return err
		}
	}
	if l := b.Labour; l != nil {
		if err := records.CheckID(l.Person); err != nil {
			return err
		}
		if y := l.At.Year(); y < 2000 || y > 2200 || l.Minutes < 0 || l.Minutes > 7*24*60 {
			return msg.New("kit.labour")
		}
	}
	if err := checkOptional(b.Asset, b.Task); err != nil {
		return err
	}
	return checkIDs(b.Kit, b.Place)
}

func kitUsed(t *tx, e Entry, b UseKit) error {
	v, err := t.fact()
	if err != nil {
		return err
	}
	place := Ref{"stock", b.Place}
	s := stock.Stock{Place: b.Place}
	kit := stock.Kit{Name: b.Kit}
	if _, err := t.load(place, &s); err != nil {
		return err
	}
	if _, err := t.load(Ref{"kit", b.Kit}, &kit); err != nil {
		return err
	}
	for _, p := range b.Parts {
		t.take(&s, v.Order, e, p.Part, p.Part, p.Quantity)
	}
	t.save(place, s)
	v.Kits = append(slices.Clone(v.Kits), work.KitUsed{Entry: e.ID, At: e.At, Person: e.Actor, Kit: b.Kit, Name: kit.Name, Price: kit.Price, Quantity: b.Quantity, Place: b.Place, Parts: b.Parts, Asset: b.Asset, Task: b.Task, Labour: b.Labour, Notes: kit.Notes})
	t.save(e.Subject, v)
	return nil
}

func checkExtra(b AddExtra) error {
	if !slices.Contains(b.Kind.Values(), string(b.Kind)) {
		return msg.New("extra.kind")
	}
	if err := checkQuantity(b.Quantity); err != nil {
		return err
	}
	if b.Price != nil && !stock.Sensible(*b.Price, true) {
		return msg.New("part.price")
	}
	if err := checkOptional(b.Asset, b.Task); err != nil {
		return err
	}
	if err := records.CheckText("unit", b.Unit, false, 60); err != nil {
		return err
	}
	return records.CheckText("text", b.Text, true, 500)
}

func extraAdded(t *tx, e Entry, b AddExtra) error {
	v, err := t.fact()
	if err != nil {
		return err
	}
	v.Extras = append(slices.Clone(v.Extras), work.Extra{Entry: e.ID, At: e.At, Person: e.Actor, Kind: b.Kind, Text: b.Text, Quantity: b.Quantity, Unit: b.Unit, Price: b.Price, Asset: b.Asset, Task: b.Task})
	t.save(e.Subject, v)
	return nil
}

// strikeParts cancels what a visit's entry did to stock, components and serial numbers, or lets it count again. It tells whether the
// entry is about parts.
func (t *tx) strikeParts(v *work.Visit, b Struck, struck bool) (bool, error) {
	undo := func(place, person, serialPart, serial, component string, was bool, moves []stock.Moved, sign int64) error {
		switch {
		case place != b.Place:
			return msg.New("strike.place")
		case serial != b.Serial || component != b.Component || (serial != "" && serialPart != b.Part):
			return msg.New("strike.serial")
		case person != b.Person:
			return msg.New("strike.not_yours")
		case was == struck:
			return nil
		}
		s := stock.Stock{Place: place}
		if place != "" {
			if _, err := t.load(Ref{"stock", place}, &s); err != nil {
				return err
			}
			for _, m := range moves {
				x := stock.Movement{Entry: b.Entry, At: b.At, Quantity: m.Quantity.Mul(decimal.NewFromInt(sign)), Visit: t.entry.Subject.ID}
				if sign < 0 {
					s.Unuse(m.Part, v.Order, x, struck)
				} else {
					s.Strike(m.Part, x, struck)
				}
			}
			t.save(Ref{"stock", place}, s)
		}
		return nil
	}
	life := func(l *stock.SerialLife) { l.Strike(b.Entry, struck) }
	if p := v.Part(b.Entry); p != nil {
		component := ""
		if p.Serial != "" && p.Asset != "" {
			component = b.Entry
		}
		b.At = p.At
		if err := undo(p.Place, p.Person, p.Part, p.Serial, component, p.Struck, []stock.Moved{{Part: p.Part, Quantity: p.Quantity}}, -1); err != nil {
			return true, err
		}
		if p.Serial == "" {
			return true, nil
		}
		var a records.Asset
		var l stock.SerialLife
		if _, err := t.load(SerialRef(p.Part, p.Serial), &l); err != nil {
			return true, err
		}
		if component != "" {
			if ok, err := t.load(ComponentRef(b.Entry), &a); err != nil {
				return true, err
			} else if ok {
				a.Struck = struck
				t.save(ComponentRef(b.Entry), a)
			}
		}
		life(&l)
		t.save(SerialRef(p.Part, p.Serial), l)
		return true, nil
	}
	if i := slices.IndexFunc(v.Removed, func(r work.PartRemoved) bool { return r.Entry == b.Entry }); i >= 0 {
		r := v.Removed[i]
		b.At = r.At
		if err := undo(r.Place, r.Person, r.Part, r.Serial, r.Component, r.Struck, []stock.Moved{{Part: r.Part, Quantity: r.Quantity}}, 1); err != nil {
			return true, err
		}
		day := r.At.Format(time.DateOnly)
		if struck {
			day = ""
		}
		return true, t.markRemoved(r.Component, r.Part, r.Serial, day, life)
	}
	if i := slices.IndexFunc(v.Kits, func(k work.KitUsed) bool { return k.Entry == b.Entry }); i >= 0 {
		k := v.Kits[i]
		b.At = k.At
		return true, undo(k.Place, k.Person, "", "", "", k.Struck, k.Parts, -1)
	}
	return false, nil
}
