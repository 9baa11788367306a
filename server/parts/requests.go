package parts

import (
	"time"

	"github.com/shopspring/decimal"

	"iter.example/iter/core/records"
	"iter.example/iter/core/stock"
	"iter.example/iter/core/work"
	"iter.example/iter/server/store"
)

// RequestLine is a request for a part with what is known around it.
type RequestLine struct {
	ID      string        `json:"id"`
	Request stock.Request `json:"request"`
	// Days is how long it has waited, and Long tells that this is longer than it should.
	Days       int             `json:"days"`
	Long       bool            `json:"long"`
	Number     string          `json:"number"` // of the work order
	Customer   string          `json:"customer"`
	Site       string          `json:"site"`
	Phone      string          `json:"phone,omitempty"` // of the customer's contact
	PersonName string          `json:"personName"`
	PartName   string          `json:"partName,omitempty"`
	Unit       string          `json:"unit,omitempty"`
	Supplier   string          `json:"supplier,omitempty"`
	Cost       decimal.Decimal `json:"cost"`
	There      decimal.Decimal `json:"there"` // free in the main store
	Store      string          `json:"store,omitempty"`
	Purchase   string          `json:"purchase,omitempty"` // number of the order to the supplier
	Due        string          `json:"due,omitempty"`
	Photos     []string        `json:"photos"` // by hash
}

// defaultWaiting is after how many days a request waits long, when the company has not said.
const defaultWaiting = 3

// Requests lists requests that wait for something, the oldest first, or those that are over, the latest first.
func Requests(tx *store.Tx, over bool, now time.Time) ([]RequestLine, error) {
	ids, err := tx.RequestsOpen()
	if over {
		ids, err = tx.RequestsOver(100)
	}
	if err != nil {
		return nil, err
	}
	return requestLines(tx, ids, over, now)
}

// RequestsOf lists the requests for a work order, in the order they were made.
func RequestsOf(tx *store.Tx, order string, now time.Time) ([]RequestLine, error) {
	ids, err := tx.RequestsFor(order, false)
	if err != nil {
		return nil, err
	}
	return requestLines(tx, ids, true, now)
}

func requestLines(tx *store.Tx, ids []string, over bool, now time.Time) ([]RequestLine, error) {
	rules, err := store.SettingsAt[stock.Settings](tx, now)
	if err != nil {
		return nil, err
	}
	places, err := Places(tx)
	if err != nil {
		return nil, err
	}
	main, _ := mainStore(places)
	shelves, err := shelf(tx, main.ID)
	if err != nil {
		return nil, err
	}
	long := rules.Waiting
	if long == 0 {
		long = defaultWaiting
	}
	out := []RequestLine{}
	for _, id := range ids {
		l := RequestLine{ID: id, Photos: []string{}, Store: main.ID}
		if _, err := tx.Load("request", id, &l.Request); err != nil {
			return nil, err
		}
		r := l.Request
		l.Days = int(now.Sub(r.At).Hours() / 24)
		l.Long = !over && l.Days >= long
		w, err := tx.Work(r.Order)
		if err != nil {
			return nil, err
		}
		var v work.Visit
		if _, err := tx.Load("visit", r.Visit, &v); err != nil {
			return nil, err
		}
		l.Number, l.Customer, l.Site, l.Phone = w.Order.Number, w.Customer.Name, w.Site.Name, w.Customer.Contact.Phone
		if l.PersonName, err = nameOf(tx, r.Person); err != nil {
			return nil, err
		}
		if r.Part != "" {
			p, err := partOf(tx, r.Part)
			if err != nil {
				return nil, err
			}
			l.PartName, l.Unit, l.Supplier, l.There = p.Name, p.Unit, p.Supplier, decimal.Max(shelves.Free(r.Part), decimal.Zero)
			if l.Cost, err = costOf(tx, r.Part, p); err != nil {
				return nil, err
			}
		}
		for _, step := range r.Steps {
			if step.Purchase == "" {
				continue
			}
			var p stock.Purchase
			if _, err := tx.Load("purchase", step.Purchase, &p); err != nil {
				return nil, err
			}
			l.Purchase, l.Due = p.Number, p.Due
		}
		for _, f := range v.Files {
			if f.About.Entry == id && !f.Struck {
				l.Photos = append(l.Photos, f.Hash)
			}
		}
		out = append(out, l)
	}
	return out, nil
}

// PurchaseLine is an order to a supplier with the names of what is in it.
type PurchaseLine struct {
	ID         string         `json:"id"`
	Purchase   stock.Purchase `json:"purchase"`
	Supplier   string         `json:"supplier"` // name
	PlaceName  string         `json:"placeName"`
	PersonName string         `json:"personName"`
	Parts      []PartName     `json:"parts"` // in the order of its lines
	Overdue    bool           `json:"overdue"`
}

// PartName is a part by name.
type PartName struct {
	Number string `json:"number"`
	Name   string `json:"name"`
	Unit   string `json:"unit"`
}

// Purchases lists the orders to suppliers, those that are not over first.
func Purchases(tx *store.Tx, now time.Time) ([]PurchaseLine, error) {
	ids, err := tx.Purchases(100)
	if err != nil {
		return nil, err
	}
	out := []PurchaseLine{}
	for _, id := range ids {
		l, err := PurchaseOf(tx, id, now)
		if err != nil {
			return nil, err
		}
		out = append(out, *l)
	}
	return out, nil
}

// PurchaseOf gives one order to a supplier.
func PurchaseOf(tx *store.Tx, id string, now time.Time) (*PurchaseLine, error) {
	l := &PurchaseLine{ID: id, Parts: []PartName{}}
	if _, err := tx.Load("purchase", id, &l.Purchase); err != nil {
		return nil, err
	}
	_, today, err := tx.Company(now)
	if err != nil {
		return nil, err
	}
	rules, err := store.SettingsOn[stock.Settings](tx, today)
	if err != nil {
		return nil, err
	}
	l.Supplier = l.Purchase.Supplier
	for _, s := range rules.Suppliers {
		if s.ID == l.Purchase.Supplier {
			l.Supplier = s.Name
		}
	}
	var place stock.Place
	if _, err := tx.Load("place", l.Purchase.Place, &place); err != nil {
		return nil, err
	}
	l.PlaceName = place.Name
	if l.PersonName, err = nameOf(tx, l.Purchase.By); err != nil {
		return nil, err
	}
	for _, x := range l.Purchase.Lines {
		p, err := partOf(tx, x.Part)
		if err != nil {
			return nil, err
		}
		l.Parts = append(l.Parts, PartName{p.Number, p.Name, p.Unit})
	}
	l.Overdue = !l.Purchase.Over() && l.Purchase.Due != "" && l.Purchase.Due < today
	return l, nil
}

// HandoverLine is parts on their way, or of which something is missing.
type HandoverLine struct {
	ID       string         `json:"id"`
	Handover stock.Handover `json:"handover"`
	FromName string         `json:"fromName"`
	ToName   string         `json:"toName"`
	ByName   string         `json:"byName"`
	Parts    []PartName     `json:"parts"`   // in the order of its lines
	Missing  []stock.Moved  `json:"missing"` // of what was confirmed
}

// Handovers lists what is on its way between places, and what did not arrive.
func Handovers(tx *store.Tx) ([]HandoverLine, error) {
	ids, err := tx.HandoversOf("")
	if err != nil {
		return nil, err
	}
	out := []HandoverLine{}
	for _, id := range ids {
		l := HandoverLine{ID: id, Parts: []PartName{}, Missing: []stock.Moved{}}
		if _, err := tx.Load("handover", id, &l.Handover); err != nil {
			return nil, err
		}
		for _, x := range []struct {
			place string
			name  *string
		}{{l.Handover.From, &l.FromName}, {l.Handover.To, &l.ToName}} {
			var p stock.Place
			if _, err := tx.Load("place", x.place, &p); err != nil {
				return nil, err
			}
			*x.name = p.Name
		}
		if l.ByName, err = nameOf(tx, l.Handover.By); err != nil {
			return nil, err
		}
		for _, x := range l.Handover.Lines {
			p, err := partOf(tx, x.Part)
			if err != nil {
				return nil, err
			}
			l.Parts = append(l.Parts, PartName{p.Number, p.Name, p.Unit})
		}
		if !l.Handover.Open() {
			l.Missing = l.Handover.Missing()
		}
		out = append(out, l)
	}
	return out, nil
}

// MovementLine is a movement with names.
type MovementLine struct {
	store.Movement
	PartName   string `json:"partName"`
	Unit       string `json:"unit"`
	PlaceName  string `json:"placeName"`
	OtherName  string `json:"otherName,omitempty"`
	PersonName string `json:"personName"`
	OrderNo    string `json:"orderNo,omitempty"`
}

// Movements lists the latest movements at a place, of a part, or of all.
func Movements(tx *store.Tx, place, part string, limit int) ([]MovementLine, error) {
	all, err := tx.Movements(place, part, limit)
	if err != nil {
		return nil, err
	}
	out := []MovementLine{}
	for _, m := range all {
		l := MovementLine{Movement: m}
		p, err := partOf(tx, m.Part)
		if err != nil {
			return nil, err
		}
		l.PartName, l.Unit = p.Name, p.Unit
		var at, other stock.Place
		if _, err := tx.Load("place", m.Place, &at); err != nil {
			return nil, err
		}
		l.PlaceName = at.Name
		if m.Other != "" {
			to := m.Other
			var h stock.Handover
			var buy stock.Purchase
			if ok, err := tx.Load("handover", m.Other, &h); err != nil {
				return nil, err
			} else if ok {
				if to = h.From; h.From == m.Place {
					to = h.To
				}
			} else if ok, err := tx.Load("purchase", m.Other, &buy); err != nil {
				return nil, err
			} else if ok {
				l.OtherName = buy.Number
			}
			if ok, err := tx.Load("place", to, &other); err != nil {
				return nil, err
			} else if ok {
				l.OtherName = other.Name
			}
		}
		if l.PersonName, err = nameOf(tx, m.Person); err != nil {
			return nil, err
		}
		order := m.Order
		if m.Visit != "" {
			var v work.Visit
			if _, err := tx.Load("visit", m.Visit, &v); err != nil {
				return nil, err
			}
			order = v.Order
		}
		if order != "" {
			var o work.Order
			if _, err := tx.Load("workorder", order, &o); err != nil {
				return nil, err
			}
			l.OrderNo = o.Number
		}
		out = append(out, l)
	}
	return out, nil
}

// RoundUp is what all places have, as devices keep it to see who has a part.
type RoundUp struct {
	At     time.Time      `json:"at"`
	Places []RoundUpPlace `json:"places"`
}

// RoundUpPlace is a place with what is free there, where it was last, and when that was.
type RoundUpPlace struct {
	Place
	Phone string                     `json:"phone,omitempty"`
	Where *records.Point             `json:"where,omitempty"`
	Seen  time.Time                  `json:"seen,omitzero"`
	Free  map[string]decimal.Decimal `json:"free"`
}

// Round makes the round-up.
func Round(tx *store.Tx, now time.Time) (*RoundUp, error) {
	places, err := Places(tx)
	if err != nil {
		return nil, err
	}
	out := &RoundUp{At: now, Places: []RoundUpPlace{}}
	for _, p := range places {
		l := RoundUpPlace{Place: p, Where: p.At, Free: map[string]decimal.Decimal{}}
		s, err := shelf(tx, p.ID)
		if err != nil {
			return nil, err
		}
		for id := range s.Lines {
			if f := s.Free(id); f.IsPositive() {
				l.Free[id] = f
			}
		}
		if p.Person != "" {
			var person records.Person
			if _, err := tx.Load("person", p.Person, &person); err != nil {
				return nil, err
			}
			l.Phone = person.Phone
			if err := lastSeen(tx, p.Person, now, &l); err != nil {
				return nil, err
			}
		}
		out.Places = append(out.Places, l)
	}
	return out, nil
}

// lastSeen says where somebody was last: where a device said so on their last visit, or at its site.
func lastSeen(tx *store.Tx, person string, now time.Time, l *RoundUpPlace) error {
	id, err := tx.LastSeen(person, now)
	if err != nil || id == "" {
		return err
	}
	v, err := tx.VisitWork(id)
	if err != nil {
		return err
	}
	s := v.Site
	for _, x := range v.Visit.Steps {
		if x.Struck || x.At.Before(l.Seen) {
			continue
		}
		switch {
		case x.Where != nil:
			l.Where, l.Seen = &records.Point{Lat: x.Where.Lat, Lon: x.Where.Lon}, x.At
		case x.Action != work.SetOff && x.Action != work.Accept && (s.Lat != 0 || s.Lon != 0):
			l.Where, l.Seen = &records.Point{Lat: s.Lat, Lon: s.Lon}, x.At
		}
	}
	return nil
}
