package stock

import (
	"slices"

	"github.com/shopspring/decimal"

	"iter.example/iter/core/msg"
	"iter.example/iter/core/records"
	"iter.example/iter/core/unit"
)

// Part is a catalogue item.
type Part struct {
	Number   string          `json:"number"`
	Name     string          `json:"name"`
	Names    []string        `json:"names,omitempty"` // what people call it too
	Category string          `json:"category,omitempty"`
	Unit     string          `json:"unit"`            // what a quantity counts: "each", "pair", "m", "l"
	Packs    []Pack          `json:"packs,omitempty"` // it is sold by, too
	Price    decimal.Decimal `json:"price"`           // per unit, in the company's currency
	Cost     decimal.Decimal `json:"cost,omitzero"`   // per unit, when it is bought
	Tax      string          `json:"tax,omitempty"`   // class
	Codes    []string        `json:"codes,omitempty"` // barcodes
	Serial   bool            `json:"serial,omitempty"`
	// Warranty is how many months one is covered from the day it is fitted.
	Warranty int    `json:"warranty,omitempty"`
	Supplier string `json:"supplier,omitempty"`
	// Documents are papers about the part, by hash.
	Documents  map[string]records.Document `json:"documents,omitempty"`
	ReplacedBy string                      `json:"replacedBy,omitempty"` // the part to take instead
	Retired    bool                        `json:"retired,omitempty"`    // no longer in the catalogue
}

// Pack is a way a part is sold: a box of 10, a coil of 50 m.
type Pack struct {
	Name string          `json:"name"`
	Size decimal.Decimal `json:"size"` // in the part's unit
}

// Kit is a named set of parts and labour with a price of its own.
type Kit struct {
	Number   string          `json:"number"`
	Name     string          `json:"name"`
	Category string          `json:"category,omitempty"`
	Price    decimal.Decimal `json:"price"` // of the whole, in the company's currency
	Parts    []KitPart       `json:"parts"`
	Labour   []KitLabour     `json:"labour,omitempty"`
	Notes    string          `json:"notes,omitempty"`
}

// KitPart is how many of a part are in a kit.
type KitPart struct {
	Part     string          `json:"part"`
	Quantity decimal.Decimal `json:"quantity"`
}

// KitLabour is work that a kit's price covers.
type KitLabour struct {
	Name    string `json:"name"`
	Minutes int    `json:"minutes"`
}

// Place is a stock location: a store, or a van with the person who drives it.
type Place struct {
	Name   string         `json:"name"`
	Kind   string         `json:"kind"` // "store" or "van"
	Person string         `json:"person,omitempty"`
	At     *records.Point `json:"at,omitempty"` // where it stands; a van is where its driver is
}

// Levels are how much of each part a place should have, by part.
type Levels struct {
	Levels map[string]Level `json:"levels"`
}

// Level is how much of a part a place should have: filled up to Max when it falls below Min.
type Level struct {
	Min decimal.Decimal `json:"min"`
	Max decimal.Decimal `json:"max"`
}

// Check says what is wrong with a catalogue item.
func (p Part) Check() error {
	if p.Price.IsNegative() || p.Cost.IsNegative() {
		return msg.New("part.price")
	}
	for _, k := range p.Packs {
		if err := records.CheckText("pack", k.Name, true, 60); err != nil {
			return err
		}
		if !Sensible(k.Size, false) || k.Name == p.Unit {
			return msg.New("part.pack", "pack", records.Clip(k.Name))
		}
	}
	if p.Warranty < 0 || p.Warranty > 600 {
		return msg.New("part.warranty")
	}
	for _, c := range p.Codes {
		if _, err := ReadCode(c); err != nil {
			return err
		}
	}
	for _, s := range []string{p.Category, p.Unit, p.Tax, p.Supplier, p.ReplacedBy} {
		if err := records.CheckText("text", s, false, 200); err != nil {
			return err
		}
	}
	return records.CheckText("name", p.Name, true, 200)
}

// Check says what is wrong with a kit.
func (k Kit) Check() error {
	if k.Price.IsNegative() {
		return msg.New("part.price")
	}
	for i, p := range k.Parts {
		if !Sensible(p.Quantity, false) {
			return msg.New("quantity.absurd", "quantity", records.Clip(p.Quantity.String()))
		}
		if slices.ContainsFunc(k.Parts[:i], func(x KitPart) bool { return x.Part == p.Part }) {
			return msg.New("stock.twice", "part", records.Clip(p.Part))
		}
	}
	for _, l := range k.Labour {
		if l.Minutes < 1 || l.Minutes > 24*60 {
			return msg.New("order.minutes")
		}
	}
	if err := records.CheckText("notes", k.Notes, false, records.MaxText); err != nil {
		return err
	}
	return records.CheckText("name", k.Name, true, 200)
}

// Check says what is wrong with levels.
func (l Levels) Check() error {
	for part, x := range l.Levels {
		if !Sensible(x.Min, true) || !Sensible(x.Max, true) || x.Max.LessThan(x.Min) {
			return msg.New("stock.level", "part", records.Clip(part))
		}
	}
	return nil
}

// Units are those a quantity of the part may be given in: its own first, then its packs, then those that measure the same.
func (p Part) Units() []string {
	out := []string{p.Unit}
	for _, k := range p.Packs {
		out = append(out, k.Name)
	}
	for _, u := range unit.Like(p.Unit) {
		if !slices.Contains(out, u) {
			out = append(out, u)
		}
	}
	return out
}

// Whole tells whether the part is counted, so that there is no half of one.
func (p Part) Whole() bool {
	u, err := unit.Parse(p.Unit)
	return err != nil || u.Dim.Label != ""
}

// InUnit gives a quantity in the part's own unit: exactly of a pack, and to six decimal places of what measures the same, as quantities
// are kept. The error says that the part is not sold by that unit, or that there would be a part of a part.
func (p Part) InUnit(q decimal.Decimal, in string) (decimal.Decimal, error) {
	out := q
	pack := slices.IndexFunc(p.Packs, func(k Pack) bool { return k.Name == in })
	switch {
	case in == "" || in == p.Unit:
	case pack >= 0:
		out = q.Mul(p.Packs[pack].Size)
	case p.Whole():
		return q, msg.New("quantity.unit", "unit", records.Clip(in), "part", p.Name, "sold", p.Unit)
	default:
		v, _, err := unit.Convert(q, in, p.Unit)
		if err != nil {
			return q, msg.New("quantity.unit", "unit", records.Clip(in), "part", p.Name, "sold", p.Unit)
		}
		out = v.Round(6)
	}
	if p.Whole() && !out.Equal(out.Truncate(0)) {
		return q, msg.New("quantity.whole", "quantity", out.String(), "part", p.Name, "unit", p.Unit)
	}
	if !Sensible(out, false) {
		return q, msg.New("quantity.absurd", "quantity", records.Clip(out.String()))
	}
	return out, nil
}

// CheckNew says which papers of a part can't be.
func (p Part) CheckNew() error { return records.CheckPapers(p.Documents) }
