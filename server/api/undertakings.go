package api

import (
	"cmp"
	"encoding/json"
	"slices"

	"github.com/gin-gonic/gin"
	"github.com/shopspring/decimal"

	"iter.example/iter/core/labor"
	"iter.example/iter/core/ledger"
	"iter.example/iter/core/records"
	"iter.example/iter/core/work"
	"iter.example/iter/server/store"
)

// UndertakingLine is an undertaking in the list of those that somebody may see.
type UndertakingLine struct {
	ID string `json:"id"`
	records.Undertaking
	By     string `json:"by,omitempty"` // name of whoever is responsible
	Orders int    `json:"orders"`
}

// UndertakingPage is an undertaking with its work orders and what they come to.
type UndertakingPage struct {
	ID          string              `json:"id"`
	Undertaking records.Undertaking `json:"undertaking"`
	Orders      []UndertakingOrder  `json:"orders"` // the latest first
	More        int                 `json:"more"`   // beyond those that are summed up and listed
	Hours       labor.Hours         `json:"hours"`  // seconds, of all
	Parts       []UndertakingPart   `json:"parts"`  // by name
	Papers      []UndertakingPaper  `json:"papers"` // the latest first
	// Office are those who may be responsible, or see it.
	Office []store.Named `json:"office"`
}

// UndertakingOrder is a work order of an undertaking.
type UndertakingOrder struct {
	OpenOrder
	Customer string      `json:"customer"` // name
	SiteName string      `json:"siteName"`
	Hours    labor.Hours `json:"hours"`
}

// UndertakingPart is how much of a part went into an undertaking.
type UndertakingPart struct {
	Part     string          `json:"part"`
	Number   string          `json:"number"`
	Name     string          `json:"name"`
	Unit     string          `json:"unit"`
	Quantity decimal.Decimal `json:"quantity"`
}

// UndertakingPaper is a service report or an attached document of one of its visits.
type UndertakingPaper struct {
	Number string `json:"number"` // of the work order
	Name   string `json:"name"`
	Entry  string `json:"entry,omitempty"` // of a service report
	Hash   string `json:"hash,omitempty"`  // of a document
}

// mostOrders is how many work orders of an undertaking are listed and summed up.
const mostOrders = 200

// undertakings lists those that whoever asks may see, open ones first.
func (s *Server) undertakings(c *gin.Context) ([]UndertakingLine, error) {
	return read(s, c, func(tx *store.Tx) ([]UndertakingLine, error) {
		docs, err := tx.Of("undertaking")
		if err != nil {
			return nil, err
		}
		out := []UndertakingLine{}
		for _, d := range docs {
			l := UndertakingLine{ID: d.ID}
			if err := json.Unmarshal(d.Body, &l.Undertaking); err != nil {
				return nil, err
			}
			if !l.SeenBy(who(c).PersonID) {
				continue
			}
			orders, err := tx.OrdersWithin(d.ID)
			if err != nil {
				return nil, err
			}
			l.Orders = len(orders)
			if l.Responsible != "" {
				if l.By, err = tx.NameOf(l.Responsible); err != nil {
					return nil, err
				}
			}
			out = append(out, l)
		}
		rank := map[bool]int{true: 1}
		slices.SortStableFunc(out, func(a, b UndertakingLine) int {
			return cmp.Or(rank[a.Done]-rank[b.Done], cmp.Compare(a.Name, b.Name))
		})
		return out, nil
	})
}

// undertaking is the page of one. Whoever may not see it is not told that it is there.
func (s *Server) undertaking(c *gin.Context) (*UndertakingPage, error) {
	ref := ledger.Ref{Type: "undertaking", ID: c.Param("id")}
	return read(s, c, func(tx *store.Tx) (*UndertakingPage, error) {
		p := &UndertakingPage{ID: ref.ID, Orders: []UndertakingOrder{}, Parts: []UndertakingPart{}, Papers: []UndertakingPaper{}}
		if ok, err := tx.Load("undertaking", ref.ID, &p.Undertaking); err != nil || !ok || !p.Undertaking.SeenBy(who(c).PersonID) {
			return nil, unknownRecord(err, ref)
		}
		ids, err := tx.OrdersWithin(ref.ID)
		if err != nil {
			return nil, err
		}
		p.More = max(0, len(ids)-mostOrders)
		used := map[string]*UndertakingPart{}
		for _, id := range ids[:min(len(ids), mostOrders)] {
			page, err := orderPage(tx, id, s.now(c))
			if err != nil {
				return nil, err
			}
			p.add(id, page, used)
		}
		for _, part := range used {
			p.Parts = append(p.Parts, *part)
		}
		slices.SortFunc(p.Parts, func(a, b UndertakingPart) int {
			return cmp.Or(cmp.Compare(a.Name, b.Name), cmp.Compare(a.Part, b.Part))
		})
		p.Office, err = officeNames(tx)
		return p, err
	})
}

// add sums up a work order.
func (p *UndertakingPage) add(id string, page *OrderPage, used map[string]*UndertakingPart) {
	o := page.Order
	line := UndertakingOrder{OpenOrder: OpenOrder{id, o.Number, o.Problem, o.Site, o.Asset, page.State, o.OpenedAt},
		Customer: page.Customer.Name, SiteName: page.Site.Name}
	for _, v := range page.Visits {
		line.Hours = line.Hours.Plus(v.Hours)
		for _, x := range v.Parts {
			if x.Struck {
				continue
			}
			if used[x.Part] == nil {
				used[x.Part] = &UndertakingPart{Part: x.Part, Number: x.Number, Name: x.Name, Unit: x.Unit}
			}
			used[x.Part].Quantity = used[x.Part].Quantity.Add(x.Quantity)
		}
		for _, r := range v.Visit.Reports {
			if !r.Struck {
				p.Papers = append(p.Papers, UndertakingPaper{Number: o.Number, Name: r.Code, Entry: r.Entry})
			}
		}
		for _, f := range v.Visit.Files {
			if !f.Struck && f.Type == "application/pdf" {
				p.Papers = append(p.Papers, UndertakingPaper{Number: o.Number, Name: f.Name, Hash: f.Hash})
			}
		}
	}
	p.Hours = p.Hours.Plus(line.Hours)
	p.Orders = append(p.Orders, line)
}

// undertakingOf names what a work order is part of, for somebody who may see it; nil otherwise.
func undertakingOf(tx *store.Tx, o work.Order, person string) (*store.Named, error) {
	var u records.Undertaking
	if ok, err := tx.Load("undertaking", o.Undertaking, &u); err != nil || !ok || !u.SeenBy(person) {
		return nil, err
	}
	return &store.Named{ID: o.Undertaking, Name: u.Name}, nil
}
