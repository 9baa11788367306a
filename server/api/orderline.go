package api

import (
	"slices"
	"time"

	"iter.example/iter/core/records"
	"iter.example/iter/core/stock"
	"iter.example/iter/core/work"
	"iter.example/iter/server/store"
)

// OfferLine is a visit that was offered to several people.
type OfferLine struct {
	Visit    string    `json:"visit"`
	Order    OrderLine `json:"order"`
	Start    time.Time `json:"start"`
	To       []string  `json:"to"` // short names
	Declined []Decline `json:"declined"`
}

// Decline is somebody's no to a visit.
type Decline struct {
	Name   string `json:"name"`             // short
	Reason string `json:"reason,omitempty"` // the id of a reason, or words
}

// OrderLine is a work order in a list.
type OrderLine struct {
	ID       string        `json:"id"`
	Number   string        `json:"number"`
	Customer string        `json:"customer"`
	Kind     string        `json:"kind,omitempty"`
	Site     string        `json:"site"`
	Problem  string        `json:"problem"`
	Priority work.Priority `json:"priority"`
	Promise  time.Time     `json:"promise,omitzero"` // by when somebody comes
	DoneBy   time.Time     `json:"doneBy,omitzero"`
	Minutes  int           `json:"minutes"`
	Skills   []string      `json:"skills"`
	Crew     int           `json:"crew,omitempty"`   // how many people it takes, where that is not one
	Things   []string      `json:"things,omitempty"` // what goes along, by the ids of resources
	Opened   time.Time     `json:"opened"`
	// Waits is how many requests for parts it still waits for, and Back tells that a visit ended without closing it: Visit, with Outcome,
	// for Reason. Needs and Note are what whoever ended it says the next one needs; Minutes and Skills have theirs too.
	Waits   int          `json:"waits,omitempty"`
	Back    bool         `json:"back,omitempty"`
	Visit   string       `json:"visit,omitempty"`
	Outcome work.Outcome `json:"outcome,omitempty"`
	Reason  string       `json:"reason,omitempty"`
	Needs   []NeedLine   `json:"needs,omitempty"`
	Note    string       `json:"note,omitempty"`
	// Found is how it came up, when somebody in the field opened it.
	Found *work.Found `json:"found,omitempty"`
	// In tells that parts that were asked for have come.
	In bool `json:"in,omitempty"`
	// DueFrom and DueBy bound the days on which work of maintenance plans may be done, 2006-01-02.
	DueFrom string `json:"dueFrom,omitempty"`
	DueBy   string `json:"dueBy,omitempty"`
}

// NeedLine is a part that a visit needs.
type NeedLine struct {
	work.Need
	Name string `json:"name"`
	Unit string `json:"unit"`
}

// mostUnplaced is how many work orders to place the board lists; it says how many more there are.
const mostUnplaced = 200

// waits says why a work order came back and what its next visit needs, and what it waits for.
func waits(tx *store.Tx, l *OrderLine, rules work.VisitSettings) error {
	all, err := tx.RequestsFor(l.ID, false)
	if err != nil {
		return err
	}
	open, err := tx.RequestsFor(l.ID, true)
	if err != nil {
		return err
	}
	l.Waits, l.In = len(open), len(all) > 0 && len(open) == 0
	var o work.Order
	if _, err := tx.Load("workorder", l.ID, &o); err != nil {
		return err
	}
	state, err := tx.OrderState(l.ID)
	if err != nil {
		return err
	}
	if l.Back = state == work.Back; !l.Back {
		return nil
	}
	r := o.Standing()
	if r == nil { // closed by the office, or recorded by an earlier app: the visit says how it ended
		if r, err = lastEnd(tx, o); err != nil || r == nil {
			return err
		}
	}
	l.Outcome, l.Reason = r.Outcome, r.Reason
	for _, known := range rules.Returns {
		if known.ID == r.Reason {
			l.Reason = known.Text
		}
	}
	l.Note, l.Visit = r.Note, r.Visit
	if r.Minutes > 0 {
		l.Minutes = r.Minutes
	}
	for _, s := range r.Skills {
		if !slices.Contains(l.Skills, s) {
			l.Skills = append(l.Skills, s)
		}
	}
	for _, n := range r.Needs {
		part := stock.Part{Name: n.Part}
		if _, err := tx.Load("part", n.Part, &part); err != nil {
			return err
		}
		l.Needs = append(l.Needs, NeedLine{n, part.Name, part.Unit})
	}
	return nil
}

// lastEnd is how the last of a work order's visits ended; nil when none did.
func lastEnd(tx *store.Tx, o work.Order) (out *work.Return, err error) {
	for _, id := range o.Visits {
		var v work.Visit
		if _, err := tx.Load("visit", id, &v); err != nil {
			return nil, err
		}
		for _, s := range v.Steps {
			if s.Action == work.Finish && !s.Struck && (out == nil || !s.At.Before(out.At)) {
				out = &work.Return{Visit: id, At: s.At, Outcome: s.Outcome, Reason: s.Reason}
			}
		}
	}
	return out, nil
}

func openOffers(tx *store.Tx) ([]OfferLine, error) {
	out := []OfferLine{}
	ids, err := tx.OffersOpen()
	if err != nil {
		return nil, err
	}
	for _, id := range ids {
		var v work.Visit
		if _, err := tx.Load("visit", id, &v); err != nil {
			return nil, err
		}
		l := OfferLine{Visit: id, Start: v.Start, To: []string{}, Declined: []Decline{}}
		if l.Order, err = orderLine(tx, v.Order); err != nil {
			return nil, err
		}
		for _, p := range v.Offered {
			var person records.Person
			if _, err := tx.Load("person", p, &person); err != nil {
				return nil, err
			}
			l.To = append(l.To, person.Short)
			for _, s := range v.Declines() {
				if s.Person == p {
					l.Declined = append(l.Declined, Decline{person.Short, s.Reason})
				}
			}
		}
		out = append(out, l)
	}
	return out, nil
}

func orderLine(tx *store.Tx, id string) (OrderLine, error) {
	w, err := tx.Work(id)
	o := w.Order
	line := OrderLine{ID: id, Number: o.Number, Customer: w.Customer.Name, Kind: o.Kind, Site: w.Site.Name, Problem: o.Problem,
		Priority: o.Priority,
		Promise:  o.PromiseTo, DoneBy: o.DoneBy, Minutes: o.Minutes, Skills: append([]string{}, o.Skills...), Opened: o.OpenedAt, Found: o.Found}
	line.DueFrom, line.DueBy, _ = o.Window()
	line.Things = o.Things
	if o.Crew > 1 {
		line.Crew = o.Crew
	}
	return line, err
}
