package plan

import (
	"cmp"
	"strings"
	"time"

	"github.com/shopspring/decimal"

	"iter.example/iter/core/ordered"
	"iter.example/iter/core/records"
	"iter.example/iter/core/roads"
)

// Holder is a place that has a part, as it was last heard of.
type Holder struct {
	Place  string          `json:"place"`
	Name   string          `json:"name"`
	Person string          `json:"person,omitempty"` // who carries it, by name
	Phone  string          `json:"phone,omitempty"`
	At     *records.Point  `json:"at,omitempty"` // where it was last; none when nobody knows
	Seen   time.Time       `json:"seen,omitzero"`
	Free   decimal.Decimal `json:"free"` // what nobody waits for
}

// Near is a holder with the way to it.
type Near struct {
	Holder
	Seconds int  `json:"seconds"` // below zero: nobody knows the way
	Metres  int  `json:"metres"`
	Enough  bool `json:"enough"` // it has as many as are needed
}

// Nearby lists the holders that have any: those with enough first, then the nearest; those of whom nobody knows where they are last.
// hours say when roads take longer, by the clock of now.
func Nearby(from *records.Point, need decimal.Decimal, holders []Holder, now time.Time, r Roads, hours *roads.Hours) []Near {
	var to []records.Point
	out := []Near{}
	for _, h := range holders {
		if !h.Free.IsPositive() {
			continue
		}
		out = append(out, Near{Holder: h, Seconds: -1, Enough: h.Free.GreaterThanOrEqual(need)})
		if h.At != nil {
			to = append(to, *h.At)
		}
	}
	if from != nil {
		ways := r.Ways(*from, to...)
		for i := range out {
			if out[i].At == nil {
				continue
			}
			if w := ways[0]; w != nil {
				out[i].Seconds, out[i].Metres = hours.From(w, now).Seconds, w.Metres
			}
			ways = ways[1:]
		}
	}
	ordered.Stable(out, func(a, b Near) int {
		if a.Enough != b.Enough {
			if a.Enough {
				return -1
			}
			return 1
		}
		if (a.Seconds < 0) != (b.Seconds < 0) {
			return cmp.Compare(b.Seconds, a.Seconds)
		}
		return cmp.Or(cmp.Compare(a.Seconds, b.Seconds), strings.Compare(a.Name, b.Name))
	})
	return out
}
