package ledger

import (
	"slices"

	"github.com/shopspring/decimal"

	"iter.example/iter/core/audit"
	"iter.example/iter/core/msg"
	"iter.example/iter/core/records"
	"iter.example/iter/core/stock"
	"iter.example/iter/core/work"
)

func proposalKinds() table {
	return table{
		"work.proposed": row[Proposed]{subject: "visit", check: checkProposed, apply: proposed,
			strike: strikeLine(func(v *work.Visit) []work.Proposal { return v.Proposals })}.kind(),
		"proposal.answered": row[ProposalAnswered]{subject: "visit", check: checkProposalAnswered, apply: proposalAnswered,
			final: "it is answered again"}.kind(),
	}
}

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

// ProposalAnswered is the body of proposal.answered: what the customer said to the lines of a recommendation, in their order.
type ProposalAnswered struct {
	Proposal string        `json:"proposal"` // its entry
	Answers  []work.Answer `json:"answers"`
	Name     string        `json:"name,omitempty"` // who said so
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
	v.Proposals = audit.Add(v.Proposals, work.Proposal{Line: e.line(), Kind: b.Kind, Text: b.Text, Asset: b.Asset, Part: b.Part, Kit: b.Kit,
		Quantity: b.Quantity, Price: b.Price, About: b.About, Lines: b.Lines})
	t.save(e.Subject, v)
	return nil
}

func checkProposalAnswered(b ProposalAnswered) error {
	if len(b.Answers) == 0 || len(b.Answers) > 50 {
		return msg.New("proposal.lines")
	}
	for _, a := range b.Answers {
		if !slices.Contains(a.Values(), string(a)) {
			return msg.New("proposal.answer")
		}
	}
	if err := records.CheckID(b.Proposal); err != nil {
		return err
	}
	return records.CheckText("name", b.Name, false, 200)
}

func proposalAnswered(t *tx, e Entry, b ProposalAnswered) error {
	v, err := t.fact()
	if err != nil {
		return err
	}
	if err := v.Reply(b.Proposal, b.Answers, b.Name, e.At); err != nil {
		return err
	}
	t.save(e.Subject, v)
	return nil
}
