package parts

import (
	"slices"
	"strings"
	"time"

	"github.com/shopspring/decimal"

	"iter.example/iter/core/stock"
	"iter.example/iter/server/store"
)

// PickList is what a van needs from the store for a day.
type PickList struct {
	Day   string     `json:"day"`
	From  Place      `json:"from"`
	Van   Place      `json:"van"`
	Lines []PickLine `json:"lines"`
}

// PickLine is a part to pick for a work order.
type PickLine struct {
	Part     string          `json:"part"`
	Number   string          `json:"number"`
	Name     string          `json:"name"`
	Unit     string          `json:"unit"`
	Quantity decimal.Decimal `json:"quantity"`
	Order    string          `json:"order"`
	OrderNo  string          `json:"orderNo"`
	Site     string          `json:"site"`
	Start    time.Time       `json:"start"`
	There    decimal.Decimal `json:"there"` // in the store, for this order or for nobody
	Held     decimal.Decimal `json:"held"`  // kept there for this order
	Keys     []string        `json:"keys"`  // what scanners may say for it
}

// Picks lists what is to be picked for a day, by van. Vans that have all they need are left out.
func Picks(tx *store.Tx, day string) ([]PickList, error) {
	places, err := Places(tx)
	if err != nil {
		return nil, err
	}
	out := []PickList{}
	from, ok := mainStore(places)
	if !ok {
		return out, nil
	}
	shelves, err := shelf(tx, from.ID)
	if err != nil {
		return nil, err
	}
	var lacking []stock.Demand // of all vans: what one gets, the next can't have
	vans := map[string]Place{}
	for _, van := range places {
		if van.Person == "" {
			continue
		}
		demands, err := needs(tx, van.Person, day)
		if err != nil {
			return nil, err
		}
		if len(demands) == 0 {
			continue
		}
		has, err := withIncoming(tx, van.ID)
		if err != nil {
			return nil, err
		}
		for _, a := range has.Allot(demands) {
			if a.Lacks.IsPositive() {
				a.Demand.Quantity = a.Lacks
				lacking = append(lacking, a.Demand)
				vans[a.Stop] = van
			}
		}
	}
	for _, a := range shelves.Allot(lacking) {
		l, err := pickLine(tx, a)
		if err != nil {
			return nil, err
		}
		l.Held = shelves.HeldFor(a.Order, a.Part)
		van := vans[a.Stop]
		if n := len(out); n == 0 || out[n-1].Van.ID != van.ID {
			out = append(out, PickList{Day: day, From: from, Van: van, Lines: []PickLine{}})
		}
		last := &out[len(out)-1]
		last.Lines = append(last.Lines, l)
	}
	return out, nil
}

func pickLine(tx *store.Tx, a stock.Allotment) (PickLine, error) {
	p, err := partOf(tx, a.Part)
	if err != nil {
		return PickLine{}, err
	}
	v, err := tx.VisitWork(a.Stop)
	if err != nil {
		return PickLine{}, err
	}
	return PickLine{Part: a.Part, Number: p.Number, Name: p.Name, Unit: p.Unit, Quantity: a.Quantity, Order: a.Order, OrderNo: v.Order.Number,
		Site: v.Site.Name, Start: v.Visit.Start, There: a.Has, Keys: keys(a.Part, p)}, nil
}

// keys are what scanners may say for a part.
func keys(id string, p stock.Part) []string {
	out := []string{}
	for _, code := range append([]string{stock.PartLabel(id), p.Number}, p.Codes...) {
		if c, err := stock.ReadCode(code); err == nil && !slices.Contains(out, c.Key) {
			out = append(out, c.Key)
		}
	}
	return out
}

// Fill is what a place should be filled up with.
type Fill struct {
	Place Place      `json:"place"`
	From  Place      `json:"from"` // for a van: the store; for a store none
	Lines []FillLine `json:"lines"`
}

// FillLine is a part to fill up, and why.
type FillLine struct {
	Part     string          `json:"part"`
	Number   string          `json:"number"`
	Name     string          `json:"name"`
	Unit     string          `json:"unit"`
	Why      stock.Restock   `json:"why"`
	Quantity decimal.Decimal `json:"quantity"`
	There    decimal.Decimal `json:"there"` // free in the store
	Supplier string          `json:"supplier,omitempty"`
	Cost     decimal.Decimal `json:"cost"`
}

// Fills proposes what to fill up each place with: vans from the store, the store from suppliers. day is the next day of work.
func Fills(tx *store.Tx, day string, now time.Time) ([]Fill, error) {
	places, err := Places(tx)
	if err != nil {
		return nil, err
	}
	from, _ := mainStore(places)
	shelves, err := shelf(tx, from.ID)
	if err != nil {
		return nil, err
	}
	out := []Fill{}
	for _, p := range places {
		f := Fill{Place: p, Lines: []FillLine{}}
		if p.Kind != "store" {
			f.From = from
		}
		s, err := shelf(tx, p.ID)
		if err != nil {
			return nil, err
		}
		var levels stock.Levels
		if _, err := tx.Load("levels", p.ID, &levels); err != nil {
			return nil, err
		}
		coming, err := incoming(tx, p.ID)
		if err != nil {
			return nil, err
		}
		needed := map[string]decimal.Decimal{}
		if p.Person != "" {
			demands, err := needs(tx, p.Person, day)
			if err != nil {
				return nil, err
			}
			for _, d := range demands {
				needed[d.Part] = needed[d.Part].Add(d.Quantity)
			}
		}
		ids := map[string]bool{}
		for id := range levels.Levels {
			ids[id] = true
		}
		for id := range s.Lines {
			ids[id] = true
		}
		for id := range needed {
			ids[id] = true
		}
		since := now.AddDate(0, 0, -7*stock.Weeks)
		for id := range ids {
			part, err := partOf(tx, id)
			if err != nil {
				return nil, err
			}
			if part.Retired {
				continue
			}
			r := stock.Restock{Balance: s.Balance(id), Incoming: coming[id], Level: levels.Levels[id], Used: s.Lines[id].Used(since),
				Needed: needed[id], Whole: part.Whole()}
			if p.Kind == "store" { // what is kept for work orders is as good as gone
				r.Balance = s.Free(id)
				if len(part.Packs) > 0 {
					r.Pack = part.Packs[0].Size
				}
			}
			q := r.Quantity()
			if !q.IsPositive() {
				continue
			}
			cost, err := costOf(tx, id, part)
			if err != nil {
				return nil, err
			}
			f.Lines = append(f.Lines, FillLine{Part: id, Number: part.Number, Name: part.Name, Unit: part.Unit, Why: r, Quantity: q,
				There: decimal.Max(shelves.Free(id), decimal.Zero), Supplier: part.Supplier, Cost: cost})
		}
		slices.SortFunc(f.Lines, func(a, b FillLine) int { return strings.Compare(a.Name+a.Part, b.Name+b.Part) })
		if len(f.Lines) > 0 {
			out = append(out, f)
		}
	}
	return out, nil
}
