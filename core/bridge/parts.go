package bridge

import (
	"time"

	"github.com/shopspring/decimal"

	"iter.example/iter/core/labor"
	"iter.example/iter/core/plan"
	"iter.example/iter/core/records"
	"iter.example/iter/core/roads"
	"iter.example/iter/core/stock"
	"iter.example/iter/core/view"
)

var partsFunctions = functions{
	"nearby": with(func(in Nearby) ([]plan.Near, error) {
		return plan.Nearby(in.from(), in.Quantity, in.Holders, in.Zone.In(time.UnixMilli(in.Now)), in.Ways, roads.NewHours(in.Busy)), nil
	}),
	"allot": with(func(in view.Demands) ([]stock.Allotment, error) { return in.Allot(), nil }),
	"code":  with(func(in Label) (stock.Code, error) { return stock.ReadCode(in.Text) }),
	"codes": with(func(in Codes) ([]string, error) {
		out := make([]string, len(in.Codes))
		for i, c := range in.Codes {
			if read, err := stock.ReadCode(c); err == nil {
				out[i] = read.Key
			}
		}
		return out, nil
	}),
	"quantity": with(func(in InUnit) (Converted, error) {
		q, err := in.Part.InUnit(in.Quantity, in.Unit)
		return Converted{q}, err
	}),
	"units": with(func(in stock.Part) (Units, error) { return Units{in.Units()}, nil }),
}

// Nearby asks who has a part, seen from a place.
type Nearby struct {
	From     *records.Point  `json:"from,omitempty"`
	Quantity decimal.Decimal `json:"quantity"`
	Holders  []plan.Holder   `json:"holders"`
	Now      int64           `json:"now"`
	Zone     labor.Zone      `json:"zone"`
	Ways     *roads.Answers  `json:"ways,omitempty"` // that are known
	Busy     []roads.Busy    `json:"busy,omitempty"` // when they take longer
}

// atPlace is how near somebody is to a place to be there, as far as driving goes, in metres.
const atPlace = 300

// from is the place that somebody is at, so that a way from there is known; else where they are.
func (n Nearby) from() *records.Point {
	if n.From != nil {
		if p := n.Ways.Near(*n.From, atPlace); p != nil {
			return p
		}
	}
	return n.From
}

// Label is what a label says, as a scanner reads it.
type Label struct {
	Text string `json:"text"`
}

// Codes asks what catalogues find parts by that have some codes on their labels.
type Codes struct {
	Codes []string `json:"codes"`
}

// InUnit asks for a quantity in the part's own unit.
type InUnit struct {
	Part     stock.Part      `json:"part"`
	Quantity decimal.Decimal `json:"quantity"`
	Unit     string          `json:"unit"`
}

// Converted is the answer.
type Converted struct {
	Quantity decimal.Decimal `json:"quantity"`
}

// Units lists the units that a part may be given in.
type Units struct {
	Units []string `json:"units"`
}
