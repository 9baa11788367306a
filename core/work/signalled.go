package work

import (
	"time"

	"github.com/shopspring/decimal"
)

// Reported is a value that a machine reported by itself.
type Reported struct {
	At    time.Time       `json:"at"`
	Value decimal.Decimal `json:"value"`
}

// Signalled is what a machine reported that an order was opened for.
type Signalled struct {
	Incident string    `json:"incident"`
	Point    string    `json:"point,omitempty"` // name
	Unit     string    `json:"unit,omitempty"`
	Since    time.Time `json:"since"`
	Well     time.Time `json:"well,omitzero"` // since when it is well again
	// Limit is what was passed, nil where it is no matter of that.
	Limit  *decimal.Decimal `json:"limit,omitempty"`
	Values []Reported       `json:"values,omitempty"`
}
