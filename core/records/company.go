package records

import (
	"iter.example/iter/core/labor"
	"iter.example/iter/core/money"
	"iter.example/iter/core/msg"
)

// Company is what a company says of itself: the settings of the subject company.
type Company struct {
	Name     string         `json:"name"`
	Phone    string         `json:"phone,omitempty"`
	Currency money.Currency `json:"currency"`
	Zone     labor.Zone     `json:"zone"`
	// KeepDays is for how many days devices keep what the office has acknowledged, when the office has no second copy of its data. 0:
	// seven.
	KeepDays int `json:"keepDays,omitempty"`
}

// Check says what a company's name can't be.
func (c Company) Check() error { return CheckText("company", c.Name, true, 200) }

// CheckRules says whether there is no such currency or zone, and what else can't be meant.
func (c Company) CheckRules() error {
	if !c.Currency.Known() {
		return msg.New("settings.currency", "currency", Clip(string(c.Currency)))
	}
	if err := checkZone(c.Zone); err != nil {
		return err
	}
	return CheckText("phone", c.Phone, false, 200)
}
