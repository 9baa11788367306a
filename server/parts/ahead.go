package parts

import (
	"time"

	"github.com/shopspring/decimal"

	"iter.example/iter/core/stock"
	"iter.example/iter/core/work"
	"iter.example/iter/server/store"
)

// AheadLine is a part that work to come will be short of.
type AheadLine struct {
	stock.Shortage
	Number   string          `json:"number"`
	Name     string          `json:"name"`
	Unit     string          `json:"unit"`
	Supplier string          `json:"supplier,omitempty"`
	Cost     decimal.Decimal `json:"cost"`
	// OrderBy is the last day on which it can be ordered and be there, 2006-01-02; "" when nobody knows when it is needed.
	OrderBy string `json:"orderBy,omitempty"`
	// For are the work orders.
	For []store.Named `json:"for"`
}

// AheadList is what work to come will be short of, and the store that it is ordered for.
type AheadList struct {
	Store Place       `json:"store"`
	Lines []AheadLine `json:"lines"`
}

// Ahead lists what the parts planned for work orders that are not over come to, against what is free in the stores and on order.
func Ahead(tx *store.Tx, now time.Time) (*AheadList, error) {
	places, err := Places(tx)
	if err != nil {
		return nil, err
	}
	rules, err := store.SettingsAt[stock.Settings](tx, now)
	if err != nil {
		return nil, err
	}
	out := &AheadList{Lines: []AheadLine{}}
	out.Store, _ = mainStore(places)
	free, held := map[string]decimal.Decimal{}, map[string]map[string]decimal.Decimal{}
	for _, p := range places {
		s, err := shelf(tx, p.ID)
		if err != nil {
			return nil, err
		}
		for part := range s.Lines {
			if p.Kind == "store" {
				free[part] = free[part].Add(decimal.Max(s.Free(part), decimal.Zero))
			}
		}
		for order, of := range s.Held {
			for part := range of {
				if held[order] == nil {
					held[order] = map[string]decimal.Decimal{}
				}
				held[order][part] = held[order][part].Add(s.HeldFor(order, part))
			}
		}
	}
	coming, err := onOrder(tx)
	if err != nil {
		return nil, err
	}
	wanted, numbers, err := wants(tx, held)
	if err != nil {
		return nil, err
	}
	for _, s := range stock.Ahead(wanted, free, coming) {
		part, err := partOf(tx, s.Part)
		if err != nil {
			return nil, err
		}
		l := AheadLine{Shortage: s, Number: part.Number, Name: part.Name, Unit: part.Unit, Supplier: part.Supplier, For: []store.Named{}}
		if l.Cost, err = costOf(tx, s.Part, part); err != nil {
			return nil, err
		}
		if day, err := time.Parse(time.DateOnly, s.Day); err == nil {
			l.OrderBy = day.AddDate(0, 0, -rules.LeadDays()).Format(time.DateOnly)
		}
		for _, id := range s.Orders {
			l.For = append(l.For, store.Named{ID: id, Name: numbers[id]})
		}
		out.Lines = append(out.Lines, l)
	}
	return out, nil
}

// onOrder lists what suppliers have still to deliver, but for what is ordered for requests: those have it.
func onOrder(tx *store.Tx) ([]stock.Coming, error) {
	ids, err := tx.PurchasesOpen()
	if err != nil {
		return nil, err
	}
	var out []stock.Coming
	for _, id := range ids {
		var p stock.Purchase
		if _, err := tx.Load("purchase", id, &p); err != nil {
			return nil, err
		}
		for _, l := range p.Lines {
			left := l.Quantity.Sub(l.Received)
			for _, r := range l.Requests {
				left = left.Sub(r.Quantity)
			}
			if left.IsPositive() {
				out = append(out, stock.Coming{Part: l.Part, Day: p.Due, Quantity: left})
			}
		}
	}
	return out, nil
}

// wants lists what work orders that are not over still need of what is planned, and their numbers. What was used, or is kept for them, is
// there; what came of a request is seen to with that.
func wants(tx *store.Tx, held map[string]map[string]decimal.Decimal) ([]stock.Want, map[string]string, error) {
	ids, err := tx.OrdersToCome()
	if err != nil {
		return nil, nil, err
	}
	var out []stock.Want
	numbers := map[string]string{}
	for _, id := range ids {
		var o work.Order
		if _, err := tx.Load("workorder", id, &o); err != nil {
			return nil, nil, err
		}
		if len(o.Needs) == 0 {
			continue
		}
		day, used, err := dayOf(tx, o)
		if err != nil {
			return nil, nil, err
		}
		for _, n := range o.Needs {
			left := n.Quantity.Sub(used[n.Part]).Sub(held[id][n.Part])
			if n.Request == "" && left.IsPositive() {
				numbers[id] = o.Number
				out = append(out, stock.Want{Part: n.Part, Order: id, Day: day, Quantity: left})
			}
		}
	}
	return out, numbers, nil
}

// dayOf is the day on which somebody goes next for an order, or has promised to, 2006-01-02; "" when nobody knows. used is what was used
// for it so far.
func dayOf(tx *store.Tx, o work.Order) (day string, used map[string]decimal.Decimal, err error) {
	used = map[string]decimal.Decimal{}
	for _, id := range o.Visits {
		var v work.Visit
		if _, err := tx.Load("visit", id, &v); err != nil {
			return "", nil, err
		}
		for _, p := range v.Parts {
			if !p.Struck {
				used[p.Part] = used[p.Part].Add(p.Quantity)
			}
		}
		if v.Stage == work.Finished || v.Stage == work.Withdrawn || v.Stage == work.Declined {
			continue
		}
		if d := v.Start.Format(time.DateOnly); day == "" || d < day {
			day = d
		}
	}
	if day == "" && !o.PromiseTo.IsZero() {
		day = o.PromiseTo.Format(time.DateOnly)
	}
	return day, used, nil
}
