package view

import (
	"github.com/shopspring/decimal"

	"iter.example/iter/core/signoff"
	"iter.example/iter/core/stock"
	"iter.example/iter/core/work"
)

// part loads a part of the catalogue; one that is not there is called by its id.
func (b *builder) part(id string) stock.Part {
	p := stock.Part{Name: id}
	b.load("part", id, &p)
	return p
}

func (b *builder) named(id string, q decimal.Decimal) PartName {
	p := b.part(id)
	return PartName{Part: id, Name: p.Name, Unit: p.Unit, Quantity: q}
}

// parts adds what was used and taken out, and what is planned. It gives what was used without the serial number that it has.
func (b *builder) parts(v *Visit) (unserial []work.PartUsed) {
	for _, p := range v.Visit.Parts {
		part := b.part(p.Part)
		v.Parts = append(v.Parts, PartLine{PartUsed: p, Number: part.Number, Name: part.Name, Unit: part.Unit})
		if part.Serial && p.Serial == "" && !p.Struck {
			unserial = append(unserial, p)
		}
	}
	for _, r := range v.Visit.Removed {
		line := RemovedLine{PartRemoved: r, Name: r.Text}
		if r.Part != "" {
			line.Name = b.part(r.Part).Name
		}
		v.Removed = append(v.Removed, line)
	}
	for _, k := range v.Visit.Kits {
		line := KitLine{KitUsed: k, Lines: []PartName{}}
		for _, p := range k.Parts {
			line.Lines = append(line.Lines, b.named(p.Part, p.Quantity))
		}
		v.Kits = append(v.Kits, line)
	}
	if len(v.Order.Outstanding()) == 0 {
		return unserial
	}
	visits := []work.Visit{v.Visit}
	for _, id := range v.Order.Visits {
		var other work.Visit
		if id != v.ID && b.load("visit", id, &other) {
			visits = append(visits, other)
		}
	}
	left := map[string]decimal.Decimal{}
	for _, n := range v.Order.Outstanding(visits...) {
		left[n.Part] = n.Quantity
	}
	for _, n := range v.Order.Outstanding() {
		v.Needs = append(v.Needs, NeedLine{b.named(n.Part, n.Quantity), left[n.Part]})
	}
	return unserial
}

// removedMark marks a part in the summary that was taken out.
const removedMark = "removed"

// partLines are the parts as a signer is shown them: kits by name, parts by quantity, what is in no catalogue, and what was taken out.
func (b *builder) partLines(v *Visit, in scope) []signoff.Line {
	out := []signoff.Line{}
	rules := b.rulesOn(in)
	add := func(l signoff.Line, price *decimal.Decimal) {
		if in.version >= 2 && rules.Prices && price != nil {
			l.Price = b.company.Currency.Text(*price)
		}
		out = append(out, l)
	}
	for _, k := range v.Kits {
		if !k.Struck && in.on(k.At) {
			add(signoff.Line{Name: k.Name, Value: k.Quantity.String()}, &k.Price)
		}
	}
	for _, p := range v.Parts {
		if !p.Struck && in.on(p.At) {
			name := p.Name
			if p.Serial != "" {
				name += " · " + p.Serial
			}
			add(signoff.Line{Name: name, Value: p.Quantity.String(), Unit: p.Unit}, &p.Price)
		}
	}
	for _, x := range v.Visit.Extras {
		if !x.Struck && in.on(x.At) {
			add(signoff.Line{Name: x.Text, Value: x.Quantity.String(), Unit: x.Unit}, x.Price)
		}
	}
	for _, r := range v.Removed {
		if !r.Struck && in.on(r.At) {
			add(signoff.Line{Name: r.Name, Value: r.Quantity.String(), Mark: removedMark}, nil)
		}
	}
	return out
}

// Demands is what stops of a day still need, in the order they are come to.
type Demands struct {
	Stops []NeedyStop `json:"stops"`
	Stock stock.Stock `json:"stock"`
}

// NeedyStop is a stop with the parts planned for its work order. Visits are those of the order that are known, its own among them.
type NeedyStop struct {
	ID     string       `json:"id"`
	Order  string       `json:"order"`
	Work   work.Order   `json:"work"`
	Visits []work.Visit `json:"visits"`
}

// Allot shares what there is among the stops.
func (d Demands) Allot() []stock.Allotment {
	var demands []stock.Demand
	for _, s := range d.Stops {
		for _, n := range s.Work.Outstanding(s.Visits...) {
			demands = append(demands, stock.Demand{Stop: s.ID, Order: s.Order, Part: n.Part, Quantity: n.Quantity})
		}
	}
	return d.Stock.Allot(demands)
}
