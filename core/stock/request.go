package stock

import (
	"slices"
	"time"

	"github.com/shopspring/decimal"

	"iter.example/iter/core/ordered"
)

// RequestState is where a request for a part stands.
type RequestState string

const (
	Asked     RequestState = "asked"
	Approved  RequestState = "approved" // by the customer, or by the office
	Ordered   RequestState = "ordered"
	In        RequestState = "in" // and kept for the work order
	Declined  RequestState = "declined"
	Withdrawn RequestState = "withdrawn"
)

// Values lists the states, for generated types.
func (RequestState) Values() []string {
	return []string{string(Asked), string(Approved), string(Ordered), string(In), string(Declined), string(Withdrawn)}
}

// Over tells whether nobody waits for anything more.
func (s RequestState) Over() bool { return s == In || s == Declined || s == Withdrawn }

// Request is a part that somebody asked for, and what became of it.
type Request struct {
	Visit    string          `json:"visit"`
	Order    string          `json:"order,omitempty"`
	Person   string          `json:"person"`
	At       time.Time       `json:"at"`
	Part     string          `json:"part,omitempty"`
	Text     string          `json:"text"` // what is asked for, in words
	Quantity decimal.Decimal `json:"quantity"`
	Note     string          `json:"note,omitempty"`
	Asset    string          `json:"asset,omitempty"`
	Approval bool            `json:"approval,omitempty"` // the customer is asked first
	Steps    []RequestStep   `json:"steps,omitempty"`
	Struck   bool            `json:"struck,omitempty"`

	// State and Since follow from the rest; Settle keeps them so.
	State RequestState `json:"state"`
	Since time.Time    `json:"since"`
}

// RequestStep is something that was done about a request.
type RequestStep struct {
	Entry    string       `json:"entry"`
	At       time.Time    `json:"at"`
	Person   string       `json:"person"`
	State    RequestState `json:"state"`
	Reason   string       `json:"reason,omitempty"`
	Purchase string       `json:"purchase,omitempty"`
	Place    string       `json:"place,omitempty"`
	Customer bool         `json:"customer,omitempty"` // it was the customer who approved or declined
}

// Step notes what was done, and where the request stands after it.
func (r *Request) Step(s RequestStep) {
	r.Steps = append(slices.Clone(r.Steps), s)
	r.Settle()
}

// Settle derives the state from the steps, by the time they were taken, and as they were heard of within a moment.
func (r *Request) Settle() {
	ordered.Stable(r.Steps, func(a, b RequestStep) int { return a.At.Compare(b.At) })
	r.State, r.Since = Asked, r.At
	for _, s := range r.Steps {
		r.State, r.Since = s.State, s.At
	}
	if r.Struck && r.State != In && r.State != Ordered {
		r.State = Withdrawn
	}
}
