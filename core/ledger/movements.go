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

// MovementKey names a movement by its entry and its place among those of the entry.
func MovementKey(entry string, i int) string { return entry + "." + strconv.Itoa(i) }

// movesOf are the movements of several parts into or out of a place: sign is that of their quantities.
func movesOf(place, kind, other, reason string, sign int64, list []stock.Moved) (out []Movement) {
	for _, l := range stock.Sum(list) {
		out = append(out, Movement{Place: place, Part: l.Part, Kind: kind, Quantity: l.Quantity.Mul(decimal.NewFromInt(sign)),
			Other: other, Reason: reason})
	}
	return out
}

func useMoves(e Entry, b Use) []Movement {
	return []Movement{{Place: b.Place, Part: b.Part, Kind: "use", Quantity: b.Quantity.Neg(), Visit: e.Subject.ID, Serial: b.Serial}}
}

func removeMoves(e Entry, b Remove) []Movement {
	if b.Fate != work.ToStock {
		return nil
	}
	return []Movement{{Place: b.Place, Part: b.Part, Kind: "remove", Quantity: b.Quantity, Visit: e.Subject.ID, Serial: b.Serial}}
}

func kitMoves(e Entry, b UseKit) []Movement {
	out := movesOf(b.Place, "kit", "", b.Kit, -1, b.Parts)
	for i := range out {
		out[i].Visit = e.Subject.ID
	}
	return out
}

func countMoves(e Entry, b Count) []Movement {
	m := Movement{Place: e.Subject.ID, Part: b.Part, Kind: "count", Quantity: b.Quantity, Reason: b.Reason}
	if b.Expected != nil {
		m.Expected = b.Expected.String()
	}
	return []Movement{m}
}
