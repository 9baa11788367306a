package ledger

import (
	"maps"
	"slices"

	"github.com/shopspring/decimal"

	"iter.example/iter/core/msg"
	"iter.example/iter/core/records"
	"iter.example/iter/core/stock"
	"iter.example/iter/core/substance"
	"iter.example/iter/core/work"
)

// Proposed is the body of work.proposed: further work that was seen to be done.
type Proposed struct {
	Kind     work.ProposalKind `json:"kind"`
	Text     string            `json:"text"`
	Asset    string            `json:"asset,omitempty"`
	Part     string            `json:"part,omitempty"`
	Kit      string            `json:"kit,omitempty"`
	Quantity *decimal.Decimal  `json:"quantity,omitempty"`
	Price    *decimal.Decimal  `json:"price,omitempty"`
	About    string            `json:"about,omitempty"` // the key of the point of attention it was made of
	// Lines are what it takes, each to be accepted or not by itself.
	Lines []work.ProposalLine `json:"lines,omitempty"`
}

// AttentionHandled is the body of attention.handled: the office has seen to a point of attention.
type AttentionHandled struct {
	Key    string `json:"key"`
	Order  string `json:"order,omitempty"` // the work order opened for it
	Reason string `json:"reason,omitempty"`
}

// SubstanceMoved is the body of substance.moved.
type SubstanceMoved struct {
	Site      string          `json:"site"`
	Substance string          `json:"substance"`
	Act       substance.Act   `json:"act"`
	Asset     string          `json:"asset,omitempty"`
	Amount    decimal.Decimal `json:"amount"`
	Unit      string          `json:"unit"`
	Away      bool            `json:"away,omitempty"`
	Note      string          `json:"note,omitempty"`
}

func checkProposed(b Proposed) error {
	if !slices.Contains(b.Kind.Values(), string(b.Kind)) {
		return msg.New("proposal.kind")
	}
	if b.Quantity != nil && !stock.Sensible(*b.Quantity, false) {
		return msg.New("quantity.absurd", "quantity", records.Clip(b.Quantity.String()))
	}
	if b.Price != nil && (b.Price.IsNegative() || !stock.Sensible(*b.Price, true)) {
		return msg.New("part.price")
	}
	if err := checkOptional(b.Asset, b.Part, b.Kit); err != nil {
		return err
	}
	if err := records.CheckText("about", b.About, false, 300); err != nil {
		return err
	}
	if err := work.CheckLines(b.Lines); err != nil {
		return err
	}
	return records.CheckText("text", b.Text, true, records.MaxText)
}

func proposed(t *tx, e Entry, b Proposed) error {
	v, err := t.fact()
	if err != nil {
		return err
	}
	v.Proposals = append(v.Proposals, work.Proposal{Entry: e.ID, At: e.At, Person: e.Actor, Kind: b.Kind, Text: b.Text, Asset: b.Asset, Part: b.Part, Kit: b.Kit, Quantity: b.Quantity, Price: b.Price, About: b.About, Lines: b.Lines})
	t.save(e.Subject, v)
	return nil
}

func checkHandled(b AttentionHandled) error {
	if err := records.CheckText("key", b.Key, true, 300); err != nil {
		return err
	}
	if err := checkOptional(b.Order); err != nil {
		return err
	}
	return records.CheckText("reason", b.Reason, false, 500)
}

func handled(t *tx, e Entry, b AttentionHandled) error {
	v, err := t.visit()
	if err != nil {
		return err
	}
	if v.Handled = maps.Clone(v.Handled); v.Handled == nil {
		v.Handled = map[string]work.Handled{}
	}
	v.Handled[b.Key] = work.Handled{At: e.At, Person: e.Actor, Order: b.Order, Reason: b.Reason}
	t.save(e.Subject, v)
	return nil
}

// SubstancesRef names the substance log of a site.
func SubstancesRef(site string) Ref { return Ref{"substances", site} }

func (b SubstanceMoved) move(e Entry) substance.Move {
	return substance.Move{Entry: e.ID, At: e.At, Person: e.Actor, Visit: e.Subject.ID, Substance: b.Substance, Act: b.Act, Asset: b.Asset, Amount: b.Amount, Unit: b.Unit, Away: b.Away, Note: b.Note}
}

func checkMoved(b SubstanceMoved) error {
	if err := checkIDs(b.Site); err != nil {
		return err
	}
	return b.move(Entry{}).Check()
}

func substanceMoved(t *tx, e Entry, b SubstanceMoved) error {
	if _, err := t.fact(); err != nil {
		return err
	}
	var l substance.Log
	ref := SubstancesRef(b.Site)
	if _, err := t.load(ref, &l); err != nil {
		return err
	}
	l.Add(b.move(e))
	t.save(ref, l)
	return nil
}
