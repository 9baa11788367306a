package ledger

import (
	"strconv"

	"github.com/shopspring/decimal"

	"iter.example/iter/core/stock"
	"iter.example/iter/core/work"
)

// Movement is one change of what a place has of a part, as an entry made it.
type Movement struct {
	Place    string          `json:"place"`
	Part     string          `json:"part"`
	Kind     string          `json:"kind"`     // use, kit, remove, scrap, receive, send, arrive, back, count, reserve
	Quantity decimal.Decimal `json:"quantity"` // above zero in; of a count, what there was; of a reservation, what is kept
	Visit    string          `json:"visit,omitempty"`
	Order    string          `json:"order,omitempty"`
	Other    string          `json:"other,omitempty"` // the place or purchase at the other end
	Reason   string          `json:"reason,omitempty"`
	Serial   string          `json:"serial,omitempty"`
	Expected string          `json:"expected,omitempty"` // of a count: what the book said
}

// Movements lists what the entry moves. What arrives for requests is kept for their work orders, and not listed again.
func (f *Fact) Movements() []Movement {
	e := f.Entry
	lines := func(place, kind, other, reason string, sign int64, list []stock.Moved) (out []Movement) {
		for _, l := range stock.Sum(list) {
			out = append(out, Movement{Place: place, Part: l.Part, Kind: kind, Quantity: l.Quantity.Mul(decimal.NewFromInt(sign)), Other: other, Reason: reason})
		}
		return out
	}
	switch b := f.body.(type) {
	case Use:
		return []Movement{{Place: b.Place, Part: b.Part, Kind: "use", Quantity: b.Quantity.Neg(), Visit: e.Subject.ID, Serial: b.Serial}}
	case Remove:
		if b.Fate == work.ToStock {
			return []Movement{{Place: b.Place, Part: b.Part, Kind: "remove", Quantity: b.Quantity, Visit: e.Subject.ID, Serial: b.Serial}}
		}
	case UseKit:
		out := lines(b.Place, "kit", "", b.Kit, -1, b.Parts)
		for i := range out {
			out[i].Visit = e.Subject.ID
		}
		return out
	case Count:
		m := Movement{Place: e.Subject.ID, Part: b.Part, Kind: "count", Quantity: b.Quantity, Reason: b.Reason}
		if b.Expected != nil {
			m.Expected = b.Expected.String()
		}
		return []Movement{m}
	case Scrap:
		return []Movement{{Place: e.Subject.ID, Part: b.Part, Kind: "scrap", Quantity: b.Quantity.Neg(), Reason: b.Reason}}
	case Receive:
		return []Movement{{Place: e.Subject.ID, Part: b.Part, Kind: "receive", Quantity: b.Quantity, Reason: b.Reason}}
	case Reserve:
		return []Movement{{Place: e.Subject.ID, Part: b.Part, Kind: "reserve", Quantity: b.Quantity, Order: b.Order}}
	case RequestReserved:
		return []Movement{{Place: b.Place, Part: b.Part, Kind: "reserve", Quantity: b.Quantity, Order: b.Order}}
	case HandOver:
		return lines(b.From, "send", b.To, b.Note, -1, b.Lines)
	case TakeOver:
		return lines(b.Place, "arrive", e.Subject.ID, "", 1, b.Lines)
	case TakeBack:
		return lines(b.Place, "back", e.Subject.ID, "", 1, b.Lines)
	case PurchaseReceived:
		return lines(b.Place, "receive", e.Subject.ID, "", 1, b.Lines)
	}
	return nil
}

// MovementKey names a movement by its entry and its place among those of the entry.
func MovementKey(entry string, i int) string { return entry + "." + strconv.Itoa(i) }
