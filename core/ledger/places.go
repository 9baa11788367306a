package ledger

import (
	"github.com/shopspring/decimal"

	"iter.example/iter/core/msg"
	"iter.example/iter/core/records"
	"iter.example/iter/core/stock"
)

func placeKinds() table {
	return table{
		"stock.counted": row[Count]{subject: "stock", office: stores, field: true, beside: true, check: checkCount, apply: counted,
			final: "it is counted again",
			moves: countMoves, marks: countMarks}.kind(),
		"stock.scrapped": row[Scrap]{subject: "stock", office: stores, field: true, beside: true, check: checkScrap, apply: scrapped,
			final: "what is there is counted",
			moves: func(e Entry, b Scrap) []Movement {
				return []Movement{{Place: e.Subject.ID, Part: b.Part, Kind: "scrap", Quantity: b.Quantity.Neg(), Reason: b.Reason}}
			}}.kind(),
		"handover.sent": row[HandOver]{subject: "handover", office: stores, field: true, beside: true, whose: OffTheShelf,
			check: checkHandOver, keys: handOverKeys, apply: handedOver,
			final: "parts are handed back", moves: func(_ Entry, b HandOver) []Movement {
				return movesOf(b.From, "send", b.To, b.Note, -1, b.Lines)
			}}.kind(),
		"handover.received": row[TakeOver]{subject: "handover", office: stores, field: true, check: checkTakeOver, keys: takeOverKeys,
			apply: takenOver,
			final: "parts are handed back", moves: func(e Entry, b TakeOver) []Movement {
				return movesOf(b.Place, "arrive", e.Subject.ID, "", 1, b.Lines)
			}}.kind(),
		"handover.returned": row[TakeBack]{subject: "handover", office: stores, field: true, check: checkTakeBack, keys: takeBackKeys,
			apply: takenBack,
			final: "parts are handed over again", moves: func(e Entry, b TakeBack) []Movement {
				return movesOf(b.Place, "back", e.Subject.ID, "", 1, b.Lines)
			}}.kind(),
	}
}

func placeOfficeKinds() table {
	return table{
		"stock.received": row[Receive]{subject: "stock", office: stores, beside: true, check: checkReceive,
			keys:  func(_ Entry, b Receive) []Ref { return []Ref{CostRef(b.Part)} },
			apply: received, final: "what is there is counted", moves: func(e Entry, b Receive) []Movement {
				return []Movement{{Place: e.Subject.ID, Part: b.Part, Kind: "receive", Quantity: b.Quantity, Reason: b.Reason}}
			}}.kind(),
		"stock.reserved": row[Reserve]{subject: "stock", office: keepers, beside: true, check: checkReserve, apply: reserved,
			final: "what is kept for an order is let go",
			moves: func(e Entry, b Reserve) []Movement {
				return []Movement{{Place: e.Subject.ID, Part: b.Part, Kind: "reserve", Quantity: b.Quantity, Order: b.Order}}
			}}.kind(),
	}
}

// Count is the body of stock.counted, whose subject is the stock of a place.
type Count struct {
	Part     string           `json:"part"`
	Quantity decimal.Decimal  `json:"quantity"`
	Expected *decimal.Decimal `json:"expected,omitempty"` // what the book said to whoever counted
	Reason   string           `json:"reason,omitempty"`   // for the difference
}

// Scrap is the body of stock.scrapped, whose subject is the stock of a place: parts that are lost or thrown away.
type Scrap struct {
	Part     string          `json:"part"`
	Quantity decimal.Decimal `json:"quantity"`
	Reason   string          `json:"reason"`
}

// Receive is the body of stock.received, whose subject is the stock of a place: parts that came without an order.
type Receive struct {
	Part     string           `json:"part"`
	Quantity decimal.Decimal  `json:"quantity"`
	Cost     *decimal.Decimal `json:"cost,omitempty"` // each
	Reason   string           `json:"reason,omitempty"`
}

// Reserve is the body of stock.reserved, whose subject is the stock of a place: what is kept for a work order. Below zero it is let
// go again.
type Reserve struct {
	Order    string          `json:"order"`
	Part     string          `json:"part"`
	Quantity decimal.Decimal `json:"quantity"`
}

// HandOver is the body of handover.sent: parts leave a place for another.
type HandOver struct {
	From  string        `json:"from"`
	To    string        `json:"to"`
	Lines []stock.Moved `json:"lines"`
	Note  string        `json:"note,omitempty"`
}

// TakeOver is the body of handover.received: the receiver confirms what arrived, in full or not. A place that takes parts itself, off
// a store's shelf, sends and receives in one.
type TakeOver struct {
	Place string        `json:"place"`
	Lines []stock.Moved `json:"lines"`
}

// TakeBack is the body of handover.returned: what has not arrived is with the sender again.
type TakeBack struct {
	Place string        `json:"place"` // the sender
	Lines []stock.Moved `json:"lines"` // what is missing, by part; below zero what arrived beyond it
}

func checkCount(b Count) error {
	if !stock.Sensible(b.Quantity, true) {
		return msg.New("quantity.absurd", "quantity", records.Clip(b.Quantity.String()))
	}
	if err := records.CheckText("reason", b.Reason, false, 500); err != nil {
		return err
	}
	return records.CheckID(b.Part)
}

// countMarks settles what was flagged of a part at a place: now somebody has counted it.
func countMarks(_ Entry, b Count) FlagMark {
	return FlagMark{Code: belowZero, Settled: true, Part: b.Part}
}

// belowZero flags that more of a part left a place than the book says was there.
const belowZero = "stock.below_zero"

// shelf loads the stock that an entry is about.
func (t *tx) shelf(ref Ref) (stock.Stock, error) {
	s := stock.Stock{Place: ref.ID}
	_, err := t.load(ref, &s)
	return s, err
}

func counted(t *tx, e Entry, b Count) error {
	s, err := t.shelf(e.Subject)
	if err != nil {
		return err
	}
	s.Count(b.Part, e.ID, e.At, b.Quantity)
	t.save(e.Subject, s)
	return nil
}

func checkScrap(b Scrap) error {
	if err := checkQuantity(b.Quantity); err != nil {
		return err
	}
	if err := records.CheckText("reason", b.Reason, true, 500); err != nil {
		return err
	}
	return records.CheckID(b.Part)
}

func scrapped(t *tx, e Entry, b Scrap) error {
	s, err := t.shelf(e.Subject)
	if err != nil {
		return err
	}
	t.send(e, &s, []stock.Moved{{Part: b.Part, Quantity: b.Quantity}})
	t.save(e.Subject, s)
	return nil
}

// send takes lines out of a place, and flags what the book says was not there.
func (t *tx) send(e Entry, s *stock.Stock, lines []stock.Moved) {
	for _, p := range s.Send(e.ID, e.At, lines) {
		t.flag(belowZero, "part", p, "number", p, "place", s.Place, "balance", s.Balance(p).String())
	}
}

func checkReceive(b Receive) error {
	if err := checkQuantity(b.Quantity); err != nil {
		return err
	}
	if b.Cost != nil && !stock.Sensible(*b.Cost, true) {
		return msg.New("part.price")
	}
	if err := records.CheckText("reason", b.Reason, false, 500); err != nil {
		return err
	}
	return records.CheckID(b.Part)
}

func received(t *tx, e Entry, b Receive) error {
	s, err := t.shelf(e.Subject)
	if err != nil {
		return err
	}
	if b.Cost != nil {
		var c stock.Cost
		if _, err := t.load(CostRef(b.Part), &c); err != nil {
			return err
		}
		c.Add(b.Quantity, *b.Cost)
		t.save(CostRef(b.Part), c)
	}
	s.Put(e.ID, e.At, []stock.Moved{{Part: b.Part, Quantity: b.Quantity}})
	t.save(e.Subject, s)
	return nil
}

func checkReserve(b Reserve) error {
	if !stock.Sensible(b.Quantity.Abs(), false) {
		return msg.New("quantity.absurd", "quantity", records.Clip(b.Quantity.String()))
	}
	return checkIDs(b.Order, b.Part)
}

func reserved(t *tx, e Entry, b Reserve) error {
	s, err := t.shelf(e.Subject)
	if err != nil {
		return err
	}
	if b.Quantity.IsPositive() {
		if s.Free(b.Part).LessThan(b.Quantity) {
			return msg.New("stock.not_free", "free", s.Free(b.Part).String())
		}
	} else if s.HeldFor(b.Order, b.Part).LessThan(b.Quantity.Neg()) {
		return msg.New("stock.not_held", "held", s.HeldFor(b.Order, b.Part).String())
	}
	s.Reserve(b.Order, b.Part, e.At, b.Quantity)
	t.save(e.Subject, s)
	return nil
}

func checkHandOver(b HandOver) error {
	if b.From == b.To {
		return msg.New("handover.same")
	}
	if err := stock.CheckMoved(b.Lines, false); err != nil {
		return err
	}
	if err := records.CheckText("note", b.Note, false, 500); err != nil {
		return err
	}
	return checkIDs(b.From, b.To)
}

func handOverKeys(_ Entry, b HandOver) []Ref { return []Ref{{"stock", b.From}} }

func handedOver(t *tx, e Entry, b HandOver) error {
	if t.exists(e.Subject) {
		return msg.New("record.exists", "type", "handover", "id", e.Subject.ID)
	}
	s, err := t.shelf(Ref{"stock", b.From})
	if err != nil {
		return err
	}
	t.send(e, &s, b.Lines)
	t.save(Ref{"stock", b.From}, s)
	t.save(e.Subject, stock.Handover{From: b.From, To: b.To, At: e.At, By: e.Actor, Note: b.Note, Lines: b.Lines})
	return nil
}

func checkTakeOver(b TakeOver) error {
	if err := stock.CheckMoved(b.Lines, true); err != nil {
		return err
	}
	return records.CheckID(b.Place)
}

func takeOverKeys(_ Entry, b TakeOver) []Ref { return []Ref{{"stock", b.Place}} }

// handover loads the hand-over that an entry is about.
func (t *tx) handover() (stock.Handover, error) {
	var h stock.Handover
	ok, err := t.load(t.entry.Subject, &h)
	if err == nil && !ok {
		err = msg.New("record.unknown", "type", "handover", "id", t.entry.Subject.ID)
	}
	return h, err
}

func takenOver(t *tx, e Entry, b TakeOver) error {
	h, err := t.handover()
	if err != nil {
		return err
	}
	switch {
	case h.To != b.Place:
		return msg.New("handover.other")
	case !h.Open():
		return msg.New("handover.done")
	}
	s, err := t.shelf(Ref{"stock", b.Place})
	if err != nil {
		return err
	}
	lines := []stock.Moved{}
	for _, l := range b.Lines {
		if l.Quantity.IsPositive() {
			lines = append(lines, l)
		}
	}
	s.Put(e.ID, e.At, lines)
	h.Taken, h.DoneAt, h.DoneBy = lines, e.At, e.Actor
	for _, m := range h.Missing() {
		t.flag("handover.differs", "part", m.Part, "missing", m.Quantity.String(), "from", h.From, "to", h.To)
	}
	t.save(Ref{"stock", b.Place}, s)
	t.save(e.Subject, h)
	return nil
}

func checkTakeBack(b TakeBack) error {
	if len(b.Lines) == 0 || len(b.Lines) > 500 {
		return msg.New("stock.lines", "max", "500")
	}
	for _, l := range b.Lines {
		if !stock.Sensible(l.Quantity.Abs(), false) {
			return msg.New("quantity.absurd", "quantity", records.Clip(l.Quantity.String()))
		}
		if err := records.CheckID(l.Part); err != nil {
			return err
		}
	}
	return records.CheckID(b.Place)
}

func takeBackKeys(_ Entry, b TakeBack) []Ref { return []Ref{{"stock", b.Place}} }

func takenBack(t *tx, e Entry, b TakeBack) error {
	h, err := t.handover()
	if err != nil {
		return err
	}
	missing := h.Missing()
	switch {
	case h.From != b.Place:
		return msg.New("handover.other")
	case h.Back || len(missing) == 0:
		return msg.New("handover.done")
	case !sameLines(missing, b.Lines):
		return msg.New("handover.changed")
	}
	s, err := t.shelf(Ref{"stock", b.Place})
	if err != nil {
		return err
	}
	back := missing
	if h.Open() { // all of it, with what was kept for orders
		back = h.Lines
		h.DoneAt, h.DoneBy = e.At, e.Actor
	}
	s.Put(e.ID, e.At, back)
	h.Back = true
	t.save(Ref{"stock", b.Place}, s)
	t.save(e.Subject, h)
	return nil
}

func sameLines(a, b []stock.Moved) bool {
	if len(a) != len(b) {
		return false
	}
	for i := range a {
		if a[i].Part != b[i].Part || !a[i].Quantity.Equal(b[i].Quantity) {
			return false
		}
	}
	return true
}
