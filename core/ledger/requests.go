package ledger

import (
	"slices"
	"strconv"
	"time"

	"github.com/shopspring/decimal"

	"iter.example/iter/core/audit"
	"iter.example/iter/core/msg"
	"iter.example/iter/core/records"
	"iter.example/iter/core/stock"
	"iter.example/iter/core/work"
)

func requestKinds() table {
	return table{
		"part.requested": row[PartRequested]{subject: "visit", terminal: true, check: checkRequest,
			keys:  func(e Entry, _ PartRequested) []Ref { return []Ref{RequestRef(e.ID)} },
			apply: partRequested, strike: strikeRequest}.kind(),
	}
}

func requestOfficeKinds() table {
	return table{
		"request.named": row[RequestNamed]{subject: "request", office: keepers, check: checkNamed,
			keys:  func(_ Entry, b RequestNamed) []Ref { return []Ref{{"part", b.Part}} },
			apply: requestNamed, final: "it is named again"}.kind(),
		"request.approved": answeredAs(stock.Approved),
		"request.declined": answeredAs(stock.Declined),
		"request.reserved": row[RequestReserved]{subject: "request", office: keepers, check: checkReserved,
			keys: func(_ Entry, b RequestReserved) []Ref { return append(servedKeys(b.Served), Ref{"stock", b.Place}) }, apply: requestReserved,
			final: "what is kept for an order is let go", moves: func(_ Entry, b RequestReserved) []Movement {
				return []Movement{{Place: b.Place, Part: b.Part, Kind: "reserve", Quantity: b.Quantity, Order: b.Order}}
			}}.kind(),
	}
}

func purchaseOfficeKinds() table {
	return table{
		"purchase.made": row[PurchaseMade]{subject: "purchase", office: keepers, check: checkPurchase, keys: purchaseKeys, apply: purchaseMade,
			prepare: []Preparation{NextNumber}, undo: cancelling, final: "a purchase is cancelled"}.kind(),
		"purchase.confirmed": row[PurchaseConfirmed]{subject: "purchase", office: keepers, check: checkConfirmed, apply: purchaseConfirmed,
			final: "it is confirmed again"}.kind(),
		"purchase.delivered": row[Nothing]{subject: "purchase", office: keepers, apply: purchaseDelivered,
			final: "what is not there is not booked in"}.kind(),
		"purchase.received": row[PurchaseReceived]{subject: "purchase", office: stores, check: checkReceived, keys: receivedKeys,
			apply: purchaseReceived,
			final: "what is there is counted", moves: func(e Entry, b PurchaseReceived) []Movement {
				return movesOf(b.Place, "receive", e.Subject.ID, "", 1, b.Lines)
			}}.kind(),
		"purchase.cancelled": row[PurchaseCancelled]{subject: "purchase", office: keepers, check: checkCancelled, keys: cancelledKeys,
			apply: purchaseCancelled, final: "it is ordered again"}.kind(),
	}
}

// PartRequested is the body of part.requested.
type PartRequested struct {
	Part     string          `json:"part,omitempty"`
	Text     string          `json:"text"`
	Quantity decimal.Decimal `json:"quantity"` // in the part's unit
	Note     string          `json:"note,omitempty"`
	Asset    string          `json:"asset,omitempty"`
	Approval bool            `json:"approval,omitempty"` // the customer is asked first
}

// RequestRef names the request that an entry made.
func RequestRef(entry string) Ref { return Ref{"request", entry} }

// RequestNamed is the body of request.named: which part of the catalogue is meant.
type RequestNamed struct {
	Part     string          `json:"part"`
	Quantity decimal.Decimal `json:"quantity"`
}

// RequestAnswered is the body of request.approved and request.declined.
type RequestAnswered struct {
	Customer bool   `json:"customer,omitempty"` // it is the customer's answer
	Reason   string `json:"reason,omitempty"`   // or who said so
}

// RequestReserved is the body of request.reserved: there was one, and it is kept for the work order.
type RequestReserved struct {
	Place string `json:"place"`
	Served
}

// Served is a request that is served by parts that are there.
type Served struct {
	Request  string          `json:"request"`
	Order    string          `json:"order"` // that waits for it
	Part     string          `json:"part"`
	Quantity decimal.Decimal `json:"quantity"`
}

// PurchaseMade is the body of purchase.made.
type PurchaseMade struct {
	Number   string               `json:"number"`
	Supplier string               `json:"supplier"`
	Place    string               `json:"place"`
	Lines    []stock.PurchaseLine `json:"lines"`
}

// PurchaseConfirmed is the body of purchase.confirmed: what the supplier answered.
type PurchaseConfirmed struct {
	Reference string `json:"reference"`
	Due       string `json:"due"` // 2006-01-02
}

// PurchaseReceived is the body of purchase.received: what was booked in, and for which requests it is kept.
type PurchaseReceived struct {
	Place  string        `json:"place"`
	Lines  []stock.Moved `json:"lines"`
	Served []Served      `json:"served,omitempty"`
}

// PurchaseCancelled is the body of purchase.cancelled. Requests are those it was for: they are asked for again.
type PurchaseCancelled struct {
	Reason   string   `json:"reason"`
	Requests []string `json:"requests,omitempty"`
}

// CostRef names what was paid for a part.
func CostRef(part string) Ref { return Ref{"cost", part} }

func checkRequest(b PartRequested) error {
	if err := checkQuantity(b.Quantity); err != nil {
		return err
	}
	if err := checkOptional(b.Part, b.Asset); err != nil {
		return err
	}
	if err := records.CheckText("note", b.Note, false, records.MaxText); err != nil {
		return err
	}
	return records.CheckText("text", b.Text, true, 500)
}

func partRequested(t *tx, e Entry, b PartRequested) error {
	v, err := t.fact()
	if err != nil {
		return err
	}
	v.Requests = audit.Add(v.Requests, work.Request{Line: e.line(), Part: b.Part, Text: b.Text, Quantity: b.Quantity})
	r := stock.Request{Visit: e.Subject.ID, Order: v.Order, Person: e.Actor, At: e.At, Part: b.Part, Text: b.Text, Quantity: b.Quantity,
		Note: b.Note, Asset: b.Asset, Approval: b.Approval}
	r.Settle()
	t.save(RequestRef(e.ID), r)
	t.save(e.Subject, v)
	return nil
}

// request loads a request for something that is done about it.
func (t *tx) request(id string, from ...stock.RequestState) (*stock.Request, error) {
	var r stock.Request
	if ok, err := t.load(RequestRef(id), &r); err != nil {
		return nil, err
	} else if !ok {
		return nil, msg.New("record.unknown", "type", "request", "id", id)
	}
	if !slices.Contains(from, r.State) {
		return nil, msg.New("request.over", "state", string(r.State))
	}
	return &r, nil
}

func checkNamed(b RequestNamed) error {
	if err := checkQuantity(b.Quantity); err != nil {
		return err
	}
	return records.CheckID(b.Part)
}

func requestNamed(t *tx, e Entry, b RequestNamed) error {
	r, err := t.request(e.Subject.ID, stock.Asked, stock.Approved)
	if err != nil {
		return err
	}
	if !t.exists(Ref{"part", b.Part}) {
		return msg.New("record.unknown", "type", "part", "id", b.Part)
	}
	r.Part, r.Quantity = b.Part, b.Quantity
	t.save(e.Subject, r)
	return nil
}

func answeredAs(state stock.RequestState) kind {
	check := func(b RequestAnswered) error {
		return records.CheckText("reason", b.Reason, state == stock.Declined, 500)
	}
	apply := func(t *tx, e Entry, b RequestAnswered) error {
		r, err := t.request(e.Subject.ID, stock.Asked, stock.Approved)
		if err != nil {
			return err
		}
		r.Step(stock.RequestStep{Entry: e.ID, At: e.At, Person: e.Actor, State: state, Reason: b.Reason, Customer: b.Customer})
		if state == stock.Declined {
			t.tell(r, "request.declined", "reason", b.Reason)
		}
		t.save(e.Subject, r)
		return nil
	}
	return row[RequestAnswered]{subject: "request", office: keepers, check: check, apply: apply, final: "it is answered again"}.kind()
}

// tell has the person who asked for a part told what became of it, on their visit.
func (t *tx) tell(r *stock.Request, code string, pairs ...string) {
	c := msg.New(code, append([]string{"part", r.Text, "quantity", r.Quantity.String()}, pairs...)...)
	t.flags = append(t.flags, Flag{Code: *c, Entry: t.entry.ID, Subject: Ref{"visit", r.Visit}, Person: r.Person})
}

func (b Served) check() error {
	if err := checkQuantity(b.Quantity); err != nil {
		return err
	}
	return checkIDs(b.Request, b.Order, b.Part)
}

func servedKeys(list ...Served) []Ref {
	var out []Ref
	for _, s := range list {
		out = append(out, RequestRef(s.Request), Ref{"workorder", s.Order})
	}
	return out
}

// serve keeps parts of a place for the work orders that asked for them: the requests are in, the parts are planned for the work, and
// those who asked are told.
func (t *tx) serve(e Entry, s *stock.Stock, list []Served) error {
	requests, orders := map[string]*stock.Request{}, map[string]*work.Order{}
	for _, x := range list {
		r, err := t.request(x.Request, stock.Asked, stock.Approved, stock.Ordered)
		if err != nil {
			return err
		}
		if r.Order != x.Order || (r.Part != "" && r.Part != x.Part) {
			return msg.New("request.other")
		}
		o, ok := orders[x.Order]
		if !ok {
			o = new(work.Order)
			if ok, err := t.load(Ref{"workorder", x.Order}, o); err != nil || !ok {
				return msg.New("record.unknown", "type", "workorder", "id", x.Order)
			}
			o.Needs = slices.Clone(o.Needs)
		}
		requests[x.Request], orders[x.Order] = r, o
	}
	for _, x := range list {
		r, o := requests[x.Request], orders[x.Order]
		s.Reserve(x.Order, x.Part, e.At, x.Quantity)
		r.Part = x.Part
		r.Step(stock.RequestStep{Entry: e.ID, At: e.At, Person: e.Actor, State: stock.In, Place: s.Place})
		o.Needs = append(o.Needs, work.Need{Part: x.Part, Quantity: x.Quantity, Request: x.Request})
		t.tell(r, "request.in")
		t.save(RequestRef(x.Request), r)
		t.save(Ref{"workorder", x.Order}, o)
	}
	return nil
}

// waiting leaves out requests that are over: what came is there all the same.
func (t *tx) waiting(list []Served) (out []Served, err error) {
	for _, x := range list {
		var r stock.Request
		if _, err := t.load(RequestRef(x.Request), &r); err != nil {
			return nil, err
		}
		if !r.State.Over() {
			out = append(out, x)
		}
	}
	return out, nil
}

func checkReserved(b RequestReserved) error {
	if err := b.check(); err != nil {
		return err
	}
	return records.CheckID(b.Place)
}

func requestReserved(t *tx, e Entry, b RequestReserved) error {
	if b.Request != e.Subject.ID {
		return msg.New("request.other")
	}
	s := stock.Stock{Place: b.Place}
	if _, err := t.load(Ref{"stock", b.Place}, &s); err != nil {
		return err
	}
	if s.Free(b.Part).LessThan(b.Quantity) {
		return msg.New("stock.not_free", "free", s.Free(b.Part).String())
	}
	if err := t.serve(e, &s, []Served{b.Served}); err != nil {
		return err
	}
	t.save(Ref{"stock", b.Place}, s)
	return nil
}

func checkPurchase(b PurchaseMade) error {
	var lines []stock.Moved
	for _, l := range b.Lines {
		lines = append(lines, stock.Moved{Part: l.Part, Quantity: l.Quantity})
		if !stock.Sensible(l.Cost, true) {
			return msg.New("part.price")
		}
		for _, r := range l.Requests {
			if err := checkIDs(r.Request); err != nil {
				return err
			}
		}
	}
	if err := stock.CheckMoved(lines, false); err != nil {
		return err
	}
	if err := checkIDs(b.Supplier, b.Place); err != nil {
		return err
	}
	return records.CheckText("number", b.Number, true, 60)
}

func purchaseKeys(_ Entry, b PurchaseMade) []Ref {
	out := []Ref{{"place", b.Place}}
	for _, l := range b.Lines {
		for _, r := range l.Requests {
			out = append(out, RequestRef(r.Request))
		}
	}
	return out
}

func purchaseMade(t *tx, e Entry, b PurchaseMade) error {
	if t.exists(e.Subject) {
		return msg.New("record.exists", "type", "purchase", "id", e.Subject.ID)
	}
	if !t.exists(Ref{"place", b.Place}) {
		return msg.New("record.unknown", "type", "place", "id", b.Place)
	}
	p := stock.Purchase{Number: b.Number, Supplier: b.Supplier, Place: b.Place, At: e.At, By: e.Actor, Lines: slices.Clone(b.Lines),
		State: stock.Sent}
	requests := map[string]*stock.Request{}
	for i := range p.Lines {
		l := &p.Lines[i]
		l.Received = decimal.Zero
		for _, ref := range l.Requests {
			r, err := t.request(ref.Request, stock.Asked, stock.Approved)
			if err != nil {
				return err
			}
			if r.Approval && r.State == stock.Asked {
				return msg.New("request.unapproved", "part", r.Text)
			}
			r.Part = l.Part
			requests[ref.Request] = r
		}
	}
	for id, r := range requests {
		r.Step(stock.RequestStep{Entry: e.ID, At: e.At, Person: e.Actor, State: stock.Ordered, Purchase: e.Subject.ID})
		t.save(RequestRef(id), r)
	}
	t.save(e.Subject, p)
	return nil
}

// purchase loads an order to a supplier that is not over.
func (t *tx) purchase() (*stock.Purchase, error) {
	var p stock.Purchase
	if ok, err := t.load(t.entry.Subject, &p); err != nil {
		return nil, err
	} else if !ok {
		return nil, msg.New("record.unknown", "type", "purchase", "id", t.entry.Subject.ID)
	}
	if p.Over() {
		return nil, msg.New("purchase.over", "number", p.Number)
	}
	return &p, nil
}

func checkConfirmed(b PurchaseConfirmed) error {
	if _, err := time.Parse(time.DateOnly, b.Due); err != nil {
		return msg.New("purchase.due")
	}
	return records.CheckText("reference", b.Reference, false, 100)
}

func purchaseConfirmed(t *tx, e Entry, b PurchaseConfirmed) error {
	p, err := t.purchase()
	if err != nil {
		return err
	}
	if p.State == stock.Sent {
		p.State = stock.Confirmed
	}
	p.Reference, p.Due = b.Reference, b.Due
	t.save(e.Subject, p)
	return nil
}

func purchaseDelivered(t *tx, e Entry, _ Nothing) error {
	p, err := t.purchase()
	if err != nil {
		return err
	}
	p.State = stock.Delivered
	t.save(e.Subject, p)
	return nil
}

func checkReceived(b PurchaseReceived) error {
	if err := stock.CheckMoved(b.Lines, false); err != nil {
		return err
	}
	for _, s := range b.Served {
		if err := s.check(); err != nil {
			return err
		}
	}
	return records.CheckID(b.Place)
}

func receivedKeys(_ Entry, b PurchaseReceived) []Ref {
	out := append([]Ref{{"stock", b.Place}}, servedKeys(b.Served...)...)
	for _, l := range b.Lines {
		out = append(out, CostRef(l.Part))
	}
	return out
}

func purchaseReceived(t *tx, e Entry, b PurchaseReceived) error {
	p, err := t.purchase()
	if err != nil {
		return err
	}
	s := stock.Stock{Place: b.Place}
	if _, err := t.load(Ref{"stock", b.Place}, &s); err != nil {
		return err
	}
	costs := map[string]stock.Cost{}
	for _, l := range b.Lines {
		i := slices.IndexFunc(p.Lines, func(x stock.PurchaseLine) bool { return x.Part == l.Part })
		if i < 0 {
			return msg.New("purchase.line", "part", l.Part)
		}
		c := costs[l.Part]
		if _, have := costs[l.Part]; !have {
			if _, err := t.load(CostRef(l.Part), &c); err != nil {
				return err
			}
		}
		c.Add(l.Quantity, p.Lines[i].Cost)
		costs[l.Part] = c
	}
	served, err := t.waiting(b.Served)
	if err != nil {
		return err
	}
	if err := t.serve(e, &s, served); err != nil {
		return err
	}
	s.Put(e.ID, e.At, stock.Sum(b.Lines))
	p.Receive(b.Lines)
	for part, c := range costs {
		t.save(CostRef(part), c)
	}
	t.save(Ref{"stock", b.Place}, s)
	t.save(e.Subject, p)
	return nil
}

func checkCancelled(b PurchaseCancelled) error {
	if len(b.Requests) > 500 {
		return msg.New("entry.large")
	}
	if err := checkIDs(b.Requests...); err != nil {
		return err
	}
	return records.CheckText("reason", b.Reason, true, 500)
}

func cancelledKeys(_ Entry, b PurchaseCancelled) []Ref {
	var out []Ref
	for _, r := range b.Requests {
		out = append(out, RequestRef(r))
	}
	return out
}

func purchaseCancelled(t *tx, e Entry, b PurchaseCancelled) error {
	p, err := t.purchase()
	if err != nil {
		return err
	}
	if slices.ContainsFunc(p.Lines, func(l stock.PurchaseLine) bool { return l.Received.IsPositive() }) {
		return msg.New("purchase.begun", "number", p.Number)
	}
	named := 0
	for _, l := range p.Lines {
		for _, r := range l.Requests {
			if !slices.Contains(b.Requests, r.Request) {
				return msg.New("request.other")
			}
			named++
		}
	}
	if named != len(b.Requests) {
		return msg.New("request.other")
	}
	for _, id := range b.Requests {
		r, err := t.request(id, stock.Ordered)
		if err != nil {
			continue // served by something else meanwhile
		}
		r.Step(stock.RequestStep{Entry: e.ID, At: e.At, Person: e.Actor, State: stock.Approved, Reason: b.Reason})
		t.save(RequestRef(id), r)
	}
	p.State, p.Reason = stock.Cancelled, b.Reason
	t.save(e.Subject, p)
	return nil
}

// NextPurchase is the number of an order to a supplier, after n others.
func NextPurchase(n int) string { return "P" + strconv.Itoa(1001+n) }

// strikeRequest withdraws a request, or has it stand again.
func strikeRequest(t *tx, s Struck) (mark, error) {
	v, err := t.visit()
	if err != nil {
		return nil, err
	}
	l, err := s.checkLine(audit.Of(v.Requests, s.Entry))
	if err != nil {
		return nil, err
	}
	var r stock.Request
	known, err := t.load(RequestRef(s.Entry), &r)
	if err != nil {
		return nil, err
	}
	return func(struck bool) {
		l.Struck = struck
		t.save(t.entry.Subject, v)
		if !known {
			return // from before requests had documents
		}
		r.Struck = struck
		r.Settle()
		if struck && (r.State == stock.Ordered || r.State == stock.In) {
			t.flag("request.withdrawn_late", "part", r.Text, "state", string(r.State))
		}
		t.save(RequestRef(s.Entry), r)
	}, nil
}
