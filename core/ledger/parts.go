package ledger

import (
	"slices"
	"time"

	"github.com/shopspring/decimal"

	"iter.example/iter/core/audit"
	"iter.example/iter/core/msg"
	"iter.example/iter/core/records"
	"iter.example/iter/core/stock"
	"iter.example/iter/core/work"
)

func partKinds() table {
	return table{
		"part.used": row[Use]{subject: "visit", phoned: true, check: checkUse, keys: useKeys, apply: used, strike: strikeUse,
			moves: useMoves}.kind(),
		"part.removed": row[Remove]{subject: "visit", check: checkRemove, keys: removeKeys, apply: removed, strike: strikeRemoval,
			moves: removeMoves}.kind(),
		"kit.used": row[UseKit]{subject: "visit", phoned: true, check: checkKit,
			keys: func(_ Entry, b UseKit) []Ref { return []Ref{{"stock", b.Place}, {"kit", b.Kit}} }, apply: kitUsed,
			strike: strikeKit, moves: kitMoves}.kind(),
		"extra.added": row[AddExtra]{subject: "visit", phoned: true, check: checkExtra, apply: extraAdded,
			strike: strikeLine(func(v *work.Visit) []work.Extra { return v.Extras })}.kind(),
	}
}

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
	Trip     *work.Journey    `json:"trip,omitempty"`
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
		c := records.Asset{Site: asset.Site, Parent: b.Asset, Name: part.Name, Serial: b.Serial, Installed: e.At.Format(time.DateOnly),
			Part: b.Part, Fitted: e.ID}
		if part.Warranty > 0 {
			c.Warranty = e.At.AddDate(0, part.Warranty, 0).Format(time.DateOnly)
		}
		t.save(ComponentRef(e.ID), c)
	}
	v.Parts = audit.Add(v.Parts, work.PartUsed{Line: e.line(), Part: b.Part, Place: b.Place, Quantity: b.Quantity, As: b.As, Asset: b.Asset,
		Task: b.Task, Serial: b.Serial, Price: part.Price})
	t.save(e.Subject, v)
	return nil
}

// take takes a part out of a place for a visit, and flags it when the book says that there was not as much.
func (t *tx) take(s *stock.Stock, order string, e Entry, part, name string, q decimal.Decimal) {
	before := s.Balance(part)
	left := s.Use(part, order, stock.Movement{Entry: e.ID, At: e.At, Quantity: q.Neg(), Visit: e.Subject.ID})
	if left.IsNegative() && !before.IsNegative() { // told once, until it is counted
		t.flag(belowZero, "part", name, "number", part, "place", s.Place, "balance", left.String())
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
	out, err := t.removedFrom(b.Component, b.Part, b.Serial)
	if err != nil {
		return err
	}
	out(e.At.Format(time.DateOnly), func(l *stock.SerialLife) {
		l.TakeOut(stock.Fitted{Entry: e.ID, At: e.At, Visit: e.Subject.ID, Asset: b.Asset})
	})
	if b.Place != "" {
		s.Move(b.Part, stock.Movement{Entry: e.ID, At: e.At, Quantity: b.Quantity})
		t.save(Ref{"stock", b.Place}, s)
	}
	v.Removed = audit.Add(v.Removed, work.PartRemoved{Line: e.line(), Part: b.Part, Text: b.Text, Quantity: b.Quantity,
		Asset: b.Asset, Task: b.Task, Serial: b.Serial, Component: b.Component, Fate: b.Fate, Place: b.Place})
	t.save(e.Subject, v)
	return nil
}

// removedFrom loads the component that was taken out and the life of its serial number. What it gives notes that it was, on a day; "" says
// that it was not.
func (t *tx) removedFrom(component, part, serial string) (func(day string, life func(*stock.SerialLife)), error) {
	var a records.Asset
	var l stock.SerialLife
	was, err := false, error(nil)
	if component != "" {
		if was, err = t.load(Ref{"asset", component}, &a); err != nil {
			return nil, err
		}
	}
	numbered := part != "" && serial != ""
	if numbered {
		if _, err := t.load(SerialRef(part, serial), &l); err != nil {
			return nil, err
		}
	}
	return func(day string, life func(*stock.SerialLife)) {
		if numbered {
			l.Part, l.Serial = part, serial
			life(&l)
			t.save(SerialRef(part, serial), l)
		}
		if was {
			a.Removed = day
			t.save(Ref{"asset", component}, a)
		}
	}, nil
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
	v.Kits = audit.Add(v.Kits, work.KitUsed{Line: e.line(), Kit: b.Kit, Name: kit.Name, Price: kit.Price, Quantity: b.Quantity,
		Place: b.Place, Parts: b.Parts, Asset: b.Asset, Task: b.Task, Labour: b.Labour, Notes: kit.Notes})
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
	if b.Trip != nil {
		if err := b.Trip.Check(); err != nil {
			return err
		}
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
	v.Extras = audit.Add(v.Extras, work.Extra{Line: e.line(), Kind: b.Kind, Text: b.Text, Quantity: b.Quantity, Unit: b.Unit,
		Price: b.Price, Asset: b.Asset, Task: b.Task, Trip: b.Trip})
	t.save(e.Subject, v)
	return nil
}

// strikeUse cancels what a part that was used did to stock, its component and its serial number, or lets it count again.
func strikeUse(t *tx, s Struck) (mark, error) {
	v, err := t.visit()
	if err != nil {
		return nil, err
	}
	p, err := lineToStrike(s, v.Parts)
	if err != nil {
		return nil, err
	}
	shelf, err := t.shelf(Ref{"stock", p.Place})
	if err != nil {
		return nil, err
	}
	var a records.Asset
	var life stock.SerialLife
	component := false
	if p.Serial != "" {
		if _, err := t.load(SerialRef(p.Part, p.Serial), &life); err != nil {
			return nil, err
		}
		if p.Asset != "" {
			if component, err = t.load(ComponentRef(s.Entry), &a); err != nil {
				return nil, err
			}
		}
	}
	return func(struck bool) {
		t.unuse(v, &shelf, p.Line, []stock.Moved{{Part: p.Part, Quantity: p.Quantity}}, struck)
		if p.Serial != "" {
			life.Strike(s.Entry, struck)
			t.save(SerialRef(p.Part, p.Serial), life)
		}
		if component {
			a.Struck = struck
			t.save(ComponentRef(s.Entry), a)
		}
		p.Struck = struck
		t.save(t.entry.Subject, v)
	}, nil
}

// unuse gives a place back what was taken out of it for a visit, or takes it again; once, however often it is struck out.
func (t *tx) unuse(v *work.Visit, shelf *stock.Stock, l audit.Line, moves []stock.Moved, struck bool) {
	if l.Struck == struck {
		return
	}
	for _, m := range moves {
		shelf.Unuse(m.Part, v.Order, stock.Movement{Entry: l.Entry, At: l.At, Quantity: m.Quantity.Neg(), Visit: t.entry.Subject.ID},
			struck)
	}
	t.save(Ref{"stock", shelf.Place}, *shelf)
}

// strikeRemoval has a part that was taken out be where it was, or not.
func strikeRemoval(t *tx, s Struck) (mark, error) {
	v, err := t.visit()
	if err != nil {
		return nil, err
	}
	r, err := lineToStrike(s, v.Removed)
	if err != nil {
		return nil, err
	}
	var shelf stock.Stock
	if r.Place != "" {
		if shelf, err = t.shelf(Ref{"stock", r.Place}); err != nil {
			return nil, err
		}
	}
	out, err := t.removedFrom(r.Component, r.Part, r.Serial)
	if err != nil {
		return nil, err
	}
	return func(struck bool) {
		day := r.At.Format(time.DateOnly)
		if struck {
			day = ""
		}
		out(day, func(l *stock.SerialLife) { l.Strike(s.Entry, struck) })
		if r.Place != "" && r.Struck != struck {
			shelf.Strike(r.Part, stock.Movement{Entry: s.Entry, At: r.At, Quantity: r.Quantity, Visit: t.entry.Subject.ID}, struck)
			t.save(Ref{"stock", r.Place}, shelf)
		}
		r.Struck = struck
		t.save(t.entry.Subject, v)
	}, nil
}

// strikeKit gives back all that went with a kit.
func strikeKit(t *tx, s Struck) (mark, error) {
	v, err := t.visit()
	if err != nil {
		return nil, err
	}
	k, err := lineToStrike(s, v.Kits)
	if err != nil {
		return nil, err
	}
	shelf, err := t.shelf(Ref{"stock", k.Place})
	if err != nil {
		return nil, err
	}
	return func(struck bool) {
		t.unuse(v, &shelf, k.Line, k.Parts, struck)
		k.Struck = struck
		t.save(t.entry.Subject, v)
	}, nil
}
