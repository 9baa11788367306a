package api

import (
	"encoding/json"
	"maps"
	"slices"
	"strings"
	"time"

	"github.com/gin-gonic/gin"
	"github.com/shopspring/decimal"

	"iter.example/iter/core/ledger"
	"iter.example/iter/core/msg"
	"iter.example/iter/core/records"
	"iter.example/iter/core/stock"
	"iter.example/iter/core/upkeep"
	"iter.example/iter/core/view"
	"iter.example/iter/core/work"
	"iter.example/iter/server/parts"
	"iter.example/iter/server/store"
)

// OrderPage is a work order with all that was planned, done and said for it.
type OrderPage struct {
	Line  OrderLine  `json:"line"` // as lists and plans have it
	Order work.Order `json:"order"`
	State work.State `json:"state"`
	// Come and Done are how what was promised stands.
	Come work.PromiseStanding `json:"come"`
	Done work.PromiseStanding `json:"done"`

	Customer records.Customer `json:"customer"`
	Site     records.Site     `json:"site"`
	Asset    *records.Asset   `json:"asset,omitempty"`
	Machines []store.Named    `json:"machines"` // at the site

	Visits []view.Visit `json:"visits"` // by when they begin
	// Phoned names those who wrote down what was told by telephone, by visit.
	Phoned map[string][]string `json:"phoned"`
	// Messages tells what became of each message to the customer, by entry: waiting, sent or late.
	Messages map[string]string   `json:"messages"`
	Here     map[string]bool     `json:"here"`     // which of the visits' files have arrived, by hash
	Requests []parts.RequestLine `json:"requests"` // for parts
	Needs    []OrderNeed         `json:"needs"`    // parts that are planned
	Follows  *store.Named        `json:"follows,omitempty"`
	// Undertaking is what it is part of, for whoever may see that.
	Undertaking *store.Named      `json:"undertaking,omitempty"`
	Plans       []store.Named     `json:"plans"`   // maintenance plans that it is due by
	History     []TrailLine       `json:"history"` // of the order itself, the latest first
	Flags       []ledger.Notice   `json:"flags"`   // not settled
	Names       map[string]string `json:"names"`   // of people, by id
	// Office are those at the office, one of whom may be responsible.
	Office []store.Named `json:"office"`
}

// OrderNeed is a part that is planned for a work order, and how much of it was used on its visits.
type OrderNeed struct {
	work.Need
	Name string          `json:"name"`
	Unit string          `json:"unit"`
	Used decimal.Decimal `json:"used"`
}

// order is the page of a work order.
func (s *Server) order(c *gin.Context) (*OrderPage, error) {
	id := c.Param("id")
	return read(s, c, func(tx *store.Tx) (*OrderPage, error) {
		p, err := orderPage(tx, id, s.now(c))
		if err == nil {
			p.Undertaking, err = undertakingOf(tx, p.Order, who(c).PersonID)
		}
		if err == nil {
			p.Plans, err = plansOf(tx, p.Order)
		}
		return p, err
	})
}

// plansOf names the maintenance plans that an order is due by.
func plansOf(tx *store.Tx, o work.Order) ([]store.Named, error) {
	out := []store.Named{}
	for _, d := range o.Due {
		if slices.ContainsFunc(out, func(n store.Named) bool { return n.ID == d.Plan }) {
			continue
		}
		p := upkeep.Plan{Name: d.Plan}
		if _, err := tx.Load("upkeep", d.Plan, &p); err != nil {
			return nil, err
		}
		out = append(out, store.Named{ID: d.Plan, Name: p.Name})
	}
	return out, nil
}

func orderPage(tx *store.Tx, id string, now time.Time) (*OrderPage, error) {
	ref := ledger.Ref{Type: "workorder", ID: id}
	p := &OrderPage{Machines: []store.Named{}, Visits: []view.Visit{}, Messages: map[string]string{}, Here: map[string]bool{},
		History: []TrailLine{}, Names: map[string]string{}}
	if ok, err := tx.Load("workorder", id, &p.Order); err != nil {
		return nil, err
	} else if !ok {
		return nil, msg.New("record.unknown", "type", "workorder", "id", records.Clip(id))
	}
	w, err := tx.Work(id)
	if err != nil {
		return nil, err
	}
	p.Customer, p.Site = w.Customer, w.Site
	if p.State, err = tx.OrderState(id); err != nil {
		return nil, err
	}
	if _, p.Come, p.Done, err = promisesOf(tx, id, now); err != nil {
		return nil, err
	}
	settings, err := tx.Settings(now)
	if err != nil {
		return nil, err
	}
	if p.Line, err = orderLine(tx, id); err != nil {
		return nil, err
	}
	if err := waits(tx, &p.Line, settings.Visits); err != nil {
		return nil, err
	}
	if p.Order.Asset != "" {
		p.Asset = &records.Asset{}
		if _, err := tx.Load("asset", p.Order.Asset, p.Asset); err != nil {
			return nil, err
		}
	}
	if p.Machines, err = tx.AssetsAt(p.Order.Site); err != nil {
		return nil, err
	}
	if err := p.visits(tx, now); err != nil {
		return nil, err
	}
	if p.Phoned, err = tx.PhonedOn(p.Order.Visits); err != nil {
		return nil, err
	}
	if err := p.needs(tx); err != nil {
		return nil, err
	}
	if p.Follows, err = follows(tx, p.Order); err != nil {
		return nil, err
	}
	if p.Requests, err = parts.RequestsOf(tx, id, now); err != nil {
		return nil, err
	}
	if p.Flags, err = tx.FlagsOn(ref); err != nil {
		return nil, err
	}
	if p.History, err = orderHistory(tx, ref); err != nil {
		return nil, err
	}
	if p.Office, err = officeNames(tx); err != nil {
		return nil, err
	}
	for _, person := range []string{p.Order.OpenedBy, p.Order.Responsible} {
		if person != "" {
			if p.Names[person], err = tx.NameOf(person); err != nil {
				return nil, err
			}
		}
	}
	return p, nil
}

// officePeople lists those who work at the office.
func (s *Server) officePeople(c *gin.Context) ([]store.Named, error) { return read(s, c, officeNames) }

// officeNames are those who work at the office.
func officeNames(tx *store.Tx) ([]store.Named, error) {
	people, err := tx.Of("person")
	if err != nil {
		return nil, err
	}
	out := []store.Named{}
	for _, d := range people {
		var who records.Person
		if err := json.Unmarshal(d.Body, &who); err != nil {
			return nil, err
		}
		if who.Has(records.Dispatcher, records.Reviewer, records.Stores) {
			out = append(out, store.Named{ID: d.ID, Name: who.Name})
		}
	}
	return out, nil
}

// follows is the work order that an order follows up; nil when it follows none.
func follows(tx *store.Tx, o work.Order) (*store.Named, error) {
	if o.From == nil {
		return nil, nil
	}
	from := o.From.Order
	if from == "" {
		var v work.Visit
		if _, err := tx.Load("visit", o.From.Visit, &v); err != nil {
			return nil, err
		}
		from = v.Order
	}
	var before work.Order
	ok, err := tx.Load("workorder", from, &before)
	if err != nil || !ok {
		return nil, err
	}
	return &store.Named{ID: from, Name: before.Number}, nil
}

// visits puts the order's visits on its page.
func (p *OrderPage) visits(tx *store.Tx, now time.Time) error {
	for _, id := range p.Order.Visits {
		v, err := visitView(tx, id, now)
		if err != nil {
			return err
		}
		states, err := tx.MessageStates(ledger.Ref{Type: "visit", ID: id})
		if err != nil {
			return err
		}
		maps.Copy(p.Messages, states)
		maps.Copy(p.Names, v.Names)
		for _, f := range v.Visit.Files {
			if _, p.Here[f.Hash], err = tx.File(f.Hash); err != nil {
				return err
			}
		}
		p.Visits = append(p.Visits, *v)
	}
	own, err := tx.MessageStates(ledger.Ref{Type: "workorder", ID: p.Line.ID})
	if err != nil {
		return err
	}
	maps.Copy(p.Messages, own)
	for _, m := range p.Order.Messages {
		if p.Names[m.Person], err = tx.NameOf(m.Person); err != nil {
			return err
		}
	}
	slices.SortStableFunc(p.Visits, func(a, b view.Visit) int { return a.Visit.Start.Compare(b.Visit.Start) })
	return nil
}

// needs puts the planned parts on the page, with what of them was used.
func (p *OrderPage) needs(tx *store.Tx) error {
	p.Needs = []OrderNeed{}
	for _, n := range p.Order.Needs {
		part := stock.Part{Name: n.Part}
		if _, err := tx.Load("part", n.Part, &part); err != nil {
			return err
		}
		line := OrderNeed{Need: n, Name: part.Name, Unit: part.Unit}
		for _, v := range p.Visits {
			for _, used := range v.Parts {
				if used.Part == n.Part && !used.Struck {
					line.Used = line.Used.Add(used.Quantity)
				}
			}
		}
		p.Needs = append(p.Needs, line)
	}
	return nil
}

// orderHistory lists what was recorded of an order itself, the latest first.
func orderHistory(tx *store.Tx, ref ledger.Ref) ([]TrailLine, error) {
	log, err := tx.Trail(ref)
	if err != nil {
		return nil, err
	}
	out := []TrailLine{}
	for _, l := range slices.Backward(log) {
		line := TrailLine{ID: l.ID, Kind: l.Kind, At: l.At, Received: l.Received, Args: map[string]string{}}
		if line.Actor, line.Device, err = recordedBy(tx, l); err != nil {
			return nil, err
		}
		var b struct{ Reason, Until, To string }
		_ = json.Unmarshal(l.Body, &b) // a body of another shape leaves them empty
		line.Args["reason"], line.Args["until"], line.Args["to"] = b.Reason, b.Until, b.To
		if l.Kind == "record.amended" {
			var fields map[string]json.RawMessage
			_ = json.Unmarshal(l.Body, &fields)
			line.Args["fields"] = strings.Join(slices.Sorted(maps.Keys(fields)), ",")
		}
		out = append(out, line)
	}
	return out, nil
}
