package substance

import (
	"github.com/shopspring/decimal"

	"iter.example/iter/core/msg"
	"iter.example/iter/core/records"
)

// Settings are a company's rules of regulated substances.
type Settings struct {
	Substances []Substance `json:"substances,omitempty"` // that are logged
}

// Substance is one that the law wants a log of.
type Substance struct {
	ID   string `json:"id"`
	Name string `json:"name"`
	Unit string `json:"unit"`
	// Allowed is what a machine may lose in a year, in per cent of its charge. Nil: no limit, what goes in is used up.
	Allowed *decimal.Decimal `json:"allowed,omitempty"`
}

// Check says what is wrong with rules of substances: nothing can be.
func (s Settings) Check() error { return nil }

// CheckRules says what of them can't be meant.
func (s Settings) CheckRules() error {
	list := make([]records.Choice, len(s.Substances))
	for i, x := range s.Substances {
		list[i] = records.Choice{ID: x.ID, Text: x.Name}
		if x.Allowed != nil && x.Allowed.IsNegative() {
			return msg.New("settings.allowed", "name", records.Clip(x.Name))
		}
	}
	return records.CheckChoices(records.Choices{"substances": list})
}
