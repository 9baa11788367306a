package work

import (
	"slices"
	"time"

	"github.com/shopspring/decimal"

	"iter.example/iter/core/audit"
	"iter.example/iter/core/msg"
	"iter.example/iter/core/records"
	"iter.example/iter/core/stock"
)

// ProposalKind is what further work is to the office.
type ProposalKind string

const (
	FollowUp       ProposalKind = "follow_up"      // has to be done
	Recommendation ProposalKind = "recommendation" // is for the customer to take or leave
)

// Values lists the kinds, for generated types.
func (ProposalKind) Values() []string { return []string{string(FollowUp), string(Recommendation)} }

// Proposal is further work that somebody on a visit saw to be done. Photos of it are files about its entry.
type Proposal struct {
	audit.Line
	Kind     ProposalKind     `json:"kind"`
	Text     string           `json:"text"`
	Asset    string           `json:"asset,omitempty"`
	Part     string           `json:"part,omitempty"`
	Kit      string           `json:"kit,omitempty"`
	Quantity *decimal.Decimal `json:"quantity,omitempty"`
	Price    *decimal.Decimal `json:"price,omitempty"` // of one
	About    string           `json:"about,omitempty"` // the reading's or answer's entry, or sheet and question
	Lines    []ProposalLine   `json:"lines,omitempty"`
	// AnsweredAt is when somebody answered last, and AnsweredBy who: a name.
	AnsweredAt time.Time `json:"answeredAt,omitzero"`
	AnsweredBy string    `json:"answeredBy,omitempty"`
}

// Answer is what a customer says to a line of a recommendation.
type Answer string

const (
	Unanswered Answer = ""
	Taken      Answer = "accepted"
	Left       Answer = "declined"
)

// Values lists the answers, for generated types.
func (Answer) Values() []string { return []string{"", string(Taken), string(Left)} }

// ProposalLine is one line of a recommendation, taken or left by itself.
type ProposalLine struct {
	Text     string           `json:"text"`
	Part     string           `json:"part,omitempty"`
	Quantity decimal.Decimal  `json:"quantity"`
	Unit     string           `json:"unit,omitempty"`
	Price    *decimal.Decimal `json:"price,omitempty"` // of one; none: the office sets it
	Answer   Answer           `json:"answer,omitempty"`
}

// Taken tells whether the customer accepted a line.
func (p Proposal) Taken() bool {
	return slices.ContainsFunc(p.Lines, func(l ProposalLine) bool { return l.Answer == Taken })
}

const maxLines = 50

// CheckLines says what is wrong with the lines of a recommendation.
func CheckLines(lines []ProposalLine) error {
	if len(lines) > maxLines {
		return msg.New("stock.lines", "max", "50")
	}
	for _, l := range lines {
		if !stock.Sensible(l.Quantity, false) {
			return msg.New("quantity.absurd", "quantity", records.Clip(l.Quantity.String()))
		}
		if l.Price != nil && (l.Price.IsNegative() || !stock.Sensible(*l.Price, true)) {
			return msg.New("part.price")
		}
		if l.Part != "" {
			if err := records.CheckID(l.Part); err != nil {
				return err
			}
		}
		if l.Answer != Unanswered {
			return msg.New("proposal.answered")
		}
		if err := records.CheckText("text", l.Text, true, 500); err != nil {
			return err
		}
	}
	return nil
}

// Reply puts what a customer said to the lines of a recommendation on it. The last answer by time counts.
func (v *Visit) Reply(entry string, answers []Answer, name string, at time.Time) error {
	i := slices.IndexFunc(v.Proposals, func(p Proposal) bool { return p.Entry == entry })
	if i < 0 {
		return msg.New("proposal.unknown")
	}
	v.Proposals = slices.Clone(v.Proposals)
	p := &v.Proposals[i]
	if len(answers) != len(p.Lines) {
		return msg.New("proposal.lines")
	}
	if at.Before(p.AnsweredAt) {
		return nil
	}
	p.Lines = slices.Clone(p.Lines)
	for n, a := range answers {
		p.Lines[n].Answer = a
	}
	p.AnsweredAt, p.AnsweredBy = at, name
	return nil
}
