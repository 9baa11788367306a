package stock

import (
	"cmp"
	"slices"

	"github.com/shopspring/decimal"
)

// Want is a part that a work order will need, on a day; "" when nobody knows yet: after all that have one.
type Want struct {
	Part, Order string
	Day         string // 2006-01-02
	Quantity    decimal.Decimal
}

// Coming is a part that is on order, and the day it is due; "" when the supplier has not said.
type Coming struct {
	Part, Day string
	Quantity  decimal.Decimal
}

// Shortage is a part of which there will be too little.
type Shortage struct {
	Part string `json:"part"`
	// Short is how many more are needed than there are, and are on order. Zero: what is on order comes too late.
	Short decimal.Decimal `json:"short"`
	// Late is how many are on order for which nothing is due in time.
	Late decimal.Decimal `json:"late"`
	// Day is the first day on which there is too little, 2006-01-02; "" when nobody knows yet.
	Day string `json:"day,omitempty"`
	// Orders are the work orders that need it, by when they do.
	Orders []string `json:"orders"`
}

// Ahead works out what will be missing of what work orders need on days to come, by what is free in the stores and on order. Those that are
// short first are first.
func Ahead(wanted []Want, free map[string]decimal.Decimal, coming []Coming) []Shortage {
	byPart := map[string][]Want{}
	for _, w := range wanted {
		byPart[w.Part] = append(byPart[w.Part], w)
	}
	out := []Shortage{}
	for part, wants := range byPart {
		slices.SortStableFunc(wants, func(a, b Want) int {
			return cmp.Or(cmp.Compare(dayOrLast(a.Day), dayOrLast(b.Day)), cmp.Compare(a.Order, b.Order))
		})
		s := Shortage{Part: part}
		there := decimal.Max(free[part], decimal.Zero)
		var sum, onOrder decimal.Decimal
		for _, c := range coming {
			if c.Part == part {
				onOrder = onOrder.Add(c.Quantity)
			}
		}
		short := false
		for _, w := range wants {
			sum = sum.Add(w.Quantity)
			inTime := there
			for _, c := range coming {
				if c.Part == part && c.Day != "" && c.Day <= dayOrLast(w.Day) {
					inTime = inTime.Add(c.Quantity)
				}
			}
			if !slices.Contains(s.Orders, w.Order) {
				s.Orders = append(s.Orders, w.Order)
			}
			if missing := sum.Sub(inTime); missing.IsPositive() {
				if !short {
					short, s.Day = true, w.Day
				}
				s.Late = decimal.Max(s.Late, missing)
			}
		}
		if !short {
			continue
		}
		s.Short = decimal.Max(sum.Sub(there).Sub(onOrder), decimal.Zero)
		s.Late = s.Late.Sub(decimal.Min(s.Short, s.Late))
		out = append(out, s)
	}
	slices.SortFunc(out, func(a, b Shortage) int {
		return cmp.Or(cmp.Compare(dayOrLast(a.Day), dayOrLast(b.Day)), cmp.Compare(a.Part, b.Part))
	})
	return out
}

func dayOrLast(day string) string { return cmp.Or(day, "9999-12-31") }
