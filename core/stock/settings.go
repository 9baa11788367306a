package stock

import (
	"iter.example/iter/core/msg"
	"iter.example/iter/core/records"
)

// Settings are a company's rules of its stores.
type Settings struct {
	Suppliers []Supplier       `json:"suppliers,omitempty"` // that parts are ordered from
	Taxes     []records.Choice `json:"taxes,omitempty"`     // classes that parts are in
	Waiting   int              `json:"waiting,omitempty"`   // days after which a request for a part waits long; 0: three
	Lead      int              `json:"lead,omitempty"`      // days from an order to a supplier until it is there; 0: three
}

// usualLead is how many days suppliers take where the company says nothing.
const usualLead = 3

// LeadDays is how many days before a part is needed it must be ordered.
func (s Settings) LeadDays() int {
	if s.Lead > 0 {
		return s.Lead
	}
	return usualLead
}

// Supplier is one that parts are ordered from.
type Supplier struct {
	ID    string `json:"id"`
	Name  string `json:"name"`
	Email string `json:"email,omitempty"`
}

// Check says what is wrong with rules of stores: nothing can be.
func (s Settings) Check() error { return nil }

// CheckRules says what of them can't be meant.
func (s Settings) CheckRules() error {
	if s.Waiting < 0 || s.Waiting > 365 {
		return msg.New("settings.number", "field", "waiting")
	}
	if s.Lead < 0 || s.Lead > 365 {
		return msg.New("settings.number", "field", "lead")
	}
	suppliers := make([]records.Choice, len(s.Suppliers))
	for i, x := range s.Suppliers {
		suppliers[i] = records.Choice{ID: x.ID, Text: x.Name}
	}
	return records.CheckChoices(records.Choices{"taxes": s.Taxes, "suppliers": suppliers})
}
