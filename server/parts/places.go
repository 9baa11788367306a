// Package parts is the office's side of parts: what is where, what is asked for, what to pick, what to fill up, and the files and
// papers about it.
package parts

import (
	"encoding/json"
	"slices"
	"strings"
	"time"

	"github.com/shopspring/decimal"

	"iter.example/iter/core/ledger"
	"iter.example/iter/core/money"
	"iter.example/iter/core/records"
	"iter.example/iter/core/stock"
	"iter.example/iter/core/work"
	"iter.example/iter/server/store"
)

// shelf gives what a place holds, for the caller to change.
func shelf(tx *store.Tx, place string) (stock.Stock, error) {
	s := stock.Stock{Place: place}
	d, err := tx.Doc(ledger.Ref{Type: "stock", ID: place})
	if err != nil || d.Body == nil {
		return s, err
	}
	return s, json.Unmarshal(d.Body, &s)
}

// Place is a stock location with its id.
type Place struct {
	ID string `json:"id"`
	stock.Place
	PersonName string `json:"personName,omitempty"`
}

// Places lists all stock locations: stores first, then vans, by name.
func Places(tx *store.Tx) ([]Place, error) {
	docs, err := tx.Of("place")
	if err != nil {
		return nil, err
	}
	out := []Place{}
	for _, d := range docs {
		p := Place{ID: d.ID}
		if err := json.Unmarshal(d.Body, &p.Place); err != nil {
			return nil, err
		}
		if p.PersonName, err = nameOf(tx, p.Person); err != nil {
			return nil, err
		}
		out = append(out, p)
	}
	slices.SortStableFunc(out, func(a, b Place) int {
		if a.Kind != b.Kind {
			return strings.Compare(a.Kind, b.Kind) // "store" before "van"
		}
		return natural(a.Name, b.Name)
	})
	return out, nil
}

// natural compares names so that Van 2 comes before Van 10.
func natural(a, b string) int {
	if len(a) != len(b) && strings.TrimRight(a, "0123456789") == strings.TrimRight(b, "0123456789") {
		return len(a) - len(b)
	}
	return strings.Compare(a, b)
}

func nameOf(tx *store.Tx, person string) (string, error) {
	if person == "" {
		return "", nil
	}
	var p records.Person
	if ok, err := tx.Load("person", person, &p); err != nil || !ok {
		return person, err
	}
	return p.Name, nil
}

// partOf gives a part; one that is not in the catalogue is called by its id.
func partOf(tx *store.Tx, id string) (stock.Part, error) {
	p := stock.Part{Number: id, Name: id}
	_, err := tx.Load("part", id, &p)
	return p, err
}

// Shelf is a place with all that it holds.
type Shelf struct {
	Place Place           `json:"place"`
	Lines []ShelfLine     `json:"lines"`
	Value decimal.Decimal `json:"value"` // at average cost
	// Currency is that of all amounts of the shelf.
	Currency money.Currency `json:"currency"`
	// Levelled tells that there is a record of levels.
	Levelled bool `json:"levelled"`
}

// ShelfLine is a part at a place.
type ShelfLine struct {
	Part     string          `json:"part"`
	Number   string          `json:"number"`
	Name     string          `json:"name"`
	Unit     string          `json:"unit"`
	Category string          `json:"category,omitempty"`
	Balance  decimal.Decimal `json:"balance"`
	Held     []HeldFor       `json:"held"` // for work orders
	Incoming decimal.Decimal `json:"incoming"`
	Level    stock.Level     `json:"level"`
	Cost     decimal.Decimal `json:"cost"` // average, each
	Counted  time.Time       `json:"counted,omitzero"`
}

// HeldFor is what is kept for a work order.
type HeldFor struct {
	Order    string          `json:"order"`
	Number   string          `json:"number"`
	Quantity decimal.Decimal `json:"quantity"`
	Done     bool            `json:"done"` // its last visit ended complete: it can be let go
}

// ShelfOf gives a place with all that it holds or should hold, by name of the part.
func ShelfOf(tx *store.Tx, place Place, now time.Time) (*Shelf, error) {
	s, err := shelf(tx, place.ID)
	if err != nil {
		return nil, err
	}
	var levels stock.Levels
	levelled, err := tx.Load("levels", place.ID, &levels)
	if err != nil {
		return nil, err
	}
	incoming, err := incoming(tx, place.ID)
	if err != nil {
		return nil, err
	}
	ids := map[string]bool{}
	for id := range s.Lines {
		ids[id] = true
	}
	for id := range levels.Levels {
		ids[id] = true
	}
	for id := range incoming {
		ids[id] = true
	}
	company, _, err := tx.Company(now)
	if err != nil {
		return nil, err
	}
	out := &Shelf{Place: place, Lines: []ShelfLine{}, Levelled: levelled, Currency: company.Currency}
	for id := range ids {
		p, err := partOf(tx, id)
		if err != nil {
			return nil, err
		}
		cost, err := costOf(tx, id, p)
		if err != nil {
			return nil, err
		}
		l := ShelfLine{Part: id, Number: p.Number, Name: p.Name, Unit: p.Unit, Category: p.Category, Balance: s.Balance(id),
			Held: []HeldFor{}, Incoming: incoming[id], Level: levels.Levels[id], Cost: cost}
		if have := s.Lines[id]; have != nil {
			l.Counted = have.CountedAt
		}
		if l.Held, err = heldFor(tx, s, id); err != nil {
			return nil, err
		}
		out.Value = out.Value.Add(decimal.Max(l.Balance, decimal.Zero).Mul(cost))
		out.Lines = append(out.Lines, l)
	}
	out.Value = out.Currency.Round(out.Value)
	slices.SortFunc(out.Lines, func(a, b ShelfLine) int {
		if c := strings.Compare(a.Name, b.Name); c != 0 {
			return c
		}
		return strings.Compare(a.Part, b.Part)
	})
	return out, nil
}

func costOf(tx *store.Tx, id string, p stock.Part) (decimal.Decimal, error) {
	var c stock.Cost
	_, err := tx.Load("cost", id, &c)
	return c.Average(p), err
}

func heldFor(tx *store.Tx, s stock.Stock, part string) ([]HeldFor, error) {
	out := []HeldFor{}
	for order := range s.Held {
		q := s.HeldFor(order, part)
		if q.IsZero() {
			continue
		}
		h := HeldFor{Order: order, Quantity: q}
		var o work.Order
		if _, err := tx.Load("workorder", order, &o); err != nil {
			return nil, err
		}
		h.Number = o.Number
		if n := len(o.Visits); n > 0 {
			var v work.Visit
			if _, err := tx.Load("visit", o.Visits[n-1], &v); err != nil {
				return nil, err
			}
			h.Done = v.Stage == work.Finished && v.Outcome != work.ReturnNeeded
		}
		out = append(out, h)
	}
	slices.SortFunc(out, func(a, b HeldFor) int { return strings.Compare(a.Number, b.Number) })
	return out, nil
}

// incoming is what is on its way to a place: handed over to it, or ordered for it.
func incoming(tx *store.Tx, place string) (map[string]decimal.Decimal, error) {
	out := map[string]decimal.Decimal{}
	ids, err := tx.HandoversOf(place)
	if err != nil {
		return nil, err
	}
	for _, id := range ids {
		var h stock.Handover
		if _, err := tx.Load("handover", id, &h); err != nil {
			return nil, err
		}
		if h.To == place && h.Open() {
			for _, l := range h.Lines {
				out[l.Part] = out[l.Part].Add(l.Quantity)
			}
		}
	}
	open, err := tx.PurchasesFor(place)
	if err != nil {
		return nil, err
	}
	for _, id := range open {
		var p stock.Purchase
		if _, err := tx.Load("purchase", id, &p); err != nil {
			return nil, err
		}
		for _, l := range p.Lines {
			if left := l.Quantity.Sub(l.Received); left.IsPositive() {
				out[l.Part] = out[l.Part].Add(left)
			}
		}
	}
	return out, nil
}

// withIncoming is a place as it will be once what was handed over to it has arrived.
func withIncoming(tx *store.Tx, place string) (stock.Stock, error) {
	s, err := shelf(tx, place)
	if err != nil {
		return s, err
	}
	ids, err := tx.HandoversOf(place)
	if err != nil {
		return s, err
	}
	for _, id := range ids {
		var h stock.Handover
		if _, err := tx.Load("handover", id, &h); err != nil {
			return s, err
		}
		if h.To == place && h.Open() {
			s.Put(id, h.At, h.Lines)
		}
	}
	return s, nil
}

// needs is what a person's visits of a day still need, in the order of the visits.
func needs(tx *store.Tx, person, day string) ([]stock.Demand, error) {
	ids, err := tx.VisitsOn(day)
	if err != nil {
		return nil, err
	}
	var out []stock.Demand
	for _, id := range ids {
		var v work.Visit
		if _, err := tx.Load("visit", id, &v); err != nil {
			return nil, err
		}
		if v.Technician != person || v.Stage == work.Finished || v.Stage == work.Withdrawn || v.Stage == work.Declined {
			continue
		}
		var o work.Order
		if _, err := tx.Load("workorder", v.Order, &o); err != nil {
			return nil, err
		}
		if len(o.Needs) == 0 {
			continue
		}
		visits := []work.Visit{}
		for _, other := range o.Visits {
			var x work.Visit
			if _, err := tx.Load("visit", other, &x); err != nil {
				return nil, err
			}
			visits = append(visits, x)
		}
		for _, n := range o.Outstanding(visits...) {
			out = append(out, stock.Demand{Stop: id, Order: v.Order, Part: n.Part, Quantity: n.Quantity})
		}
	}
	return out, nil
}

// mainStore is the first store there is: where vans are filled from.
func mainStore(places []Place) (Place, bool) {
	i := slices.IndexFunc(places, func(p Place) bool { return p.Kind == "store" })
	if i < 0 {
		return Place{}, false
	}
	return places[i], true
}
