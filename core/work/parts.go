package work

import (
	"slices"
	"time"

	"github.com/shopspring/decimal"

	"iter.example/iter/core/audit"
	"iter.example/iter/core/msg"
	"iter.example/iter/core/records"
	"iter.example/iter/core/stock"
)

// Need is a part that is planned for a work order.
type Need struct {
	Part     string          `json:"part"`
	Quantity decimal.Decimal `json:"quantity"`
	Request  string          `json:"request,omitempty"` // that it came of
}

// CheckNeeds says what is wrong with planned parts.
func CheckNeeds(needs []Need) error {
	if len(needs) > 200 {
		return msg.New("stock.lines", "max", "200")
	}
	for _, n := range needs {
		if err := records.CheckID(n.Part); err != nil {
			return err
		}
		if !stock.Sensible(n.Quantity, false) {
			return msg.New("quantity.absurd", "quantity", records.Clip(n.Quantity.String()))
		}
	}
	return nil
}

// PartUsed is a part used on a visit, out of a place.
type PartUsed struct {
	audit.Line
	Part     string          `json:"part"`
	Place    string          `json:"place"`
	Quantity decimal.Decimal `json:"quantity"`
	As       *Typed          `json:"as,omitempty"`
	Asset    string          `json:"asset,omitempty"`
	Task     string          `json:"task,omitempty"`
	Serial   string          `json:"serial,omitempty"`
	Price    decimal.Decimal `json:"price,omitzero"` // of one, in the catalogue of then
}

// Typed is a quantity as it was given, when that was not in the part's own unit.
type Typed struct {
	Quantity decimal.Decimal `json:"quantity"`
	Unit     string          `json:"unit"`
}

// Fate is what becomes of a part that was taken out.
type Fate string

const (
	ToStock  Fate = "stock"  // as good as new: back into the place it is carried in
	ToReturn Fate = "return" // to the supplier, for a claim or a credit
	ToCore   Fate = "core"   // to whoever overhauls it
	ToScrap  Fate = "scrap"
)

// Values lists the fates, for generated types.
func (Fate) Values() []string {
	return []string{string(ToStock), string(ToReturn), string(ToCore), string(ToScrap)}
}

// PartRemoved is a part that was taken out of a machine.
type PartRemoved struct {
	audit.Line
	Part      string          `json:"part,omitempty"`
	Text      string          `json:"text"` // in words
	Quantity  decimal.Decimal `json:"quantity"`
	Asset     string          `json:"asset,omitempty"`
	Task      string          `json:"task,omitempty"`
	Serial    string          `json:"serial,omitempty"`
	Component string          `json:"component,omitempty"` // the asset that it was
	Fate      Fate            `json:"fate"`
	Place     string          `json:"place,omitempty"` // where it went, when it is good for stock
}

// KitUsed is a kit used on a visit: its lines as they were then, at its price.
type KitUsed struct {
	audit.Line
	Kit      string          `json:"kit"`
	Name     string          `json:"name"`
	Price    decimal.Decimal `json:"price"` // of one
	Quantity decimal.Decimal `json:"quantity"`
	Place    string          `json:"place"`
	Parts    []stock.Moved   `json:"parts"`
	Asset    string          `json:"asset,omitempty"`
	Task     string          `json:"task,omitempty"`
	Labour   *KitWork        `json:"labour,omitempty"`
	Notes    string          `json:"notes,omitempty"`
}

// KitWork is who did the labour of a kit, and when.
type KitWork struct {
	Person  string    `json:"person"`
	At      time.Time `json:"at"`
	Minutes int       `json:"minutes"`
}

// ExtraKind is what something is that is charged beside parts of the catalogue.
type ExtraKind string

const (
	Item     ExtraKind = "item"     // a part that is in no catalogue
	Travel   ExtraKind = "travel"   // a charge for coming
	Mileage  ExtraKind = "mileage"  // kilometres driven
	Fee      ExtraKind = "fee"      // tolls, parking, disposal
	Purchase ExtraKind = "purchase" // bought on the way, with a receipt
)

// Values lists the kinds, for generated types.
func (ExtraKind) Values() []string {
	return []string{string(Item), string(Travel), string(Mileage), string(Fee), string(Purchase)}
}

// Extra is something that is charged beside parts of the catalogue. A photo of its receipt is a file about its entry.
type Extra struct {
	audit.Line
	Kind     ExtraKind        `json:"kind"`
	Text     string           `json:"text"`
	Quantity decimal.Decimal  `json:"quantity"`
	Unit     string           `json:"unit,omitempty"`
	Price    *decimal.Decimal `json:"price,omitempty"` // of one; none: the office sets it
	Asset    string           `json:"asset,omitempty"`
	Task     string           `json:"task,omitempty"`
	Trip     *Journey         `json:"trip,omitempty"` // of kilometres: where they were driven
}

// Journey is where kilometres were driven: from one place to another by their names, and back. Metres is how far that is by road as it was
// known then, one way, 0 when nobody knew. Begin and End are what the odometer said.
type Journey struct {
	From   string           `json:"from,omitempty"`
	To     string           `json:"to,omitempty"`
	Back   bool             `json:"back,omitempty"`
	Metres int              `json:"metres,omitempty"`
	Begin  *decimal.Decimal `json:"begin,omitempty"` // kilometres
	End    *decimal.Decimal `json:"end,omitempty"`   // kilometres
}

// mostOdometer is how far an odometer counts, in kilometres.
var mostOdometer = decimal.NewFromInt(10_000_000)

// Check says what can't be a journey.
func (t Journey) Check() error {
	for field, text := range map[string]string{"from": t.From, "to": t.To} {
		if err := records.CheckText(field, text, false, 200); err != nil {
			return err
		}
	}
	if t.Metres < 0 || t.Metres > mostMetres {
		return msg.New("drive.absurd")
	}
	for _, o := range []*decimal.Decimal{t.Begin, t.End} {
		if o != nil && (o.IsNegative() || o.GreaterThan(mostOdometer)) {
			return msg.New("drive.odometer")
		}
	}
	if t.Begin != nil && t.End != nil && t.End.LessThan(*t.Begin) {
		return msg.New("drive.odometer")
	}
	return nil
}

// Request is a part that somebody asked for on a visit. What becomes of it is in the request's own document.
type Request struct {
	audit.Line
	Part     string          `json:"part,omitempty"`
	Text     string          `json:"text"` // what is asked for, in words
	Quantity decimal.Decimal `json:"quantity"`
}

// Part gives the part that an entry used, or nil.
func (v *Visit) Part(entry string) *PartUsed {
	i := slices.IndexFunc(v.Parts, func(p PartUsed) bool { return p.Entry == entry })
	if i < 0 {
		return nil
	}
	return &v.Parts[i]
}

// Used is how much of each part the visit used, kits included.
func (v Visit) Used() map[string]decimal.Decimal {
	out := map[string]decimal.Decimal{}
	for _, p := range v.Parts {
		if !p.Struck {
			out[p.Part] = out[p.Part].Add(p.Quantity)
		}
	}
	for _, k := range v.Kits {
		for _, p := range k.Parts {
			if !k.Struck {
				out[p.Part] = out[p.Part].Add(p.Quantity)
			}
		}
	}
	return out
}

// Outstanding are the order's planned parts, and those that a visit before found missing, that its visits have not used yet, each part
// once.
func (o Order) Outstanding(visits ...Visit) []Need {
	out := []Need{}
	planned := slices.Clone(o.Needs)
	for _, r := range o.Returns {
		if !r.Struck {
			planned = append(planned, r.Needs...)
		}
	}
	for _, n := range planned {
		if i := slices.IndexFunc(out, func(x Need) bool { return x.Part == n.Part }); i >= 0 {
			out[i].Quantity = out[i].Quantity.Add(n.Quantity)
			continue
		}
		out = append(out, Need{Part: n.Part, Quantity: n.Quantity})
	}
	for _, v := range visits {
		for part, q := range v.Used() {
			if i := slices.IndexFunc(out, func(x Need) bool { return x.Part == part }); i >= 0 {
				out[i].Quantity = out[i].Quantity.Sub(q)
			}
		}
	}
	return slices.DeleteFunc(out, func(n Need) bool { return !n.Quantity.IsPositive() })
}
