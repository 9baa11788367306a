package sheet

import (
	"slices"
	"strings"
	"time"

	"github.com/shopspring/decimal"

	"iter.example/iter/core/formula"
)

// Is is how an answer is compared.
type Is string

const (
	Equals   Is = "is"
	Differs  Is = "is_not"
	Above    Is = "above"
	AtLeast  Is = "at_least"
	Below    Is = "below"
	AtMost   Is = "at_most"
	Has      Is = "has" // of several
	Answered Is = "answered"
	Empty    Is = "empty"
)

// Values lists the comparisons, for generated types.
func (Is) Values() []string {
	return []string{string(Equals), string(Differs), string(Above), string(AtLeast), string(Below), string(AtMost), string(Has),
		string(Answered), string(Empty)}
}

// Test compares an answer with a value. Of a question in another section that repeats, one item that passes is enough.
type Test struct {
	Question string `json:"question"`
	Is       Is     `json:"is"`
	Value    string `json:"value,omitempty"` // canonical, in the question's unit
}

// Condition holds when all its tests do, or with Any one of them.
type Condition struct {
	Any   bool   `json:"any,omitempty"`
	Tests []Test `json:"tests"`
}

// Compare bounds an answer by another: at most what was answered to Question.
type Compare struct {
	Is       Is     `json:"is"` // above, at_least, below, at_most
	Question string `json:"question"`
}

// Trigger is what follows from a certain answer to its question.
type Trigger struct {
	Is        Is         `json:"is"`
	Value     string     `json:"value,omitempty"`
	Photo     bool       `json:"photo,omitempty"`  // ask for a photo of it
	Note      bool       `json:"note,omitempty"`   // ask for a note
	Fails     bool       `json:"fails,omitempty"`  // the check is failed
	Hazard    string     `json:"hazard,omitempty"` // tell the office at once; what of
	Recommend *Recommend `json:"recommend,omitempty"`
	Block     bool       `json:"block,omitempty"` // the visit can't be complete
}

// Recommend is work to propose to the customer.
type Recommend struct {
	Text     string           `json:"text"`
	Part     string           `json:"part,omitempty"`
	Kit      string           `json:"kit,omitempty"`
	Quantity *decimal.Decimal `json:"quantity,omitempty"`
}

// holds compares a value, none when there is no answer, with another. What is not answered passes no test but empty.
func (is Is) holds(v, than formula.Value) bool {
	switch is {
	case Answered:
		return !v.None()
	case Empty:
		return v.None()
	}
	if v.None() || than.None() {
		return false
	}
	switch is {
	case Equals, Differs:
		var eq bool
		switch v.Kind {
		case formula.Number:
			eq = v.Num.Cmp(than.Num) == 0
		case formula.Bool:
			eq = v.Bool == than.Bool
		default:
			eq = v.Text == than.Text
		}
		return eq == (is == Equals)
	case Has:
		return slices.Contains(strings.Split(v.Text, ","), than.Text)
	}
	c := 0
	if v.Kind == formula.Number {
		c = v.Num.Cmp(than.Num)
	} else {
		c = strings.Compare(v.Text, than.Text) // dates
	}
	switch is {
	case Above:
		return c > 0
	case AtLeast:
		return c >= 0
	case Below:
		return c < 0
	case AtMost:
		return c <= 0
	}
	return false
}

// operand reads the value that answers of a question are compared with.
func (q Question) operand(t formula.Type, is Is, value string) (formula.Value, bool) {
	switch {
	case is == Answered || is == Empty:
		return formula.Value{}, true
	case is == Has:
		return formula.Value{Kind: formula.Text, Text: value}, q.Kind == Several && q.has(value)
	}
	ordered := is == Above || is == AtLeast || is == Below || is == AtMost
	switch t.Kind {
	case formula.Number:
		d, err := decimal.NewFromString(value)
		if err != nil {
			return formula.Value{}, false
		}
		return q.inUnit(t, d)
	case formula.Bool:
		return formula.Value{Kind: formula.Bool, Bool: value == "yes"}, !ordered && (value == "yes" || value == "no")
	case formula.Texts:
		return formula.Value{}, false
	}
	switch q.Kind {
	case Choice:
		return formula.Value{Kind: formula.Text, Text: value}, !ordered && q.has(value)
	case Date:
		_, err := time.Parse(time.DateOnly, value)
		return formula.Value{Kind: formula.Text, Text: value}, err == nil
	case DateTime:
		_, err := time.Parse("2006-01-02T15:04", value)
		return formula.Value{Kind: formula.Text, Text: value}, err == nil
	}
	return formula.Value{Kind: formula.Text, Text: value}, !ordered
}

func (q Question) inUnit(t formula.Type, d decimal.Decimal) (formula.Value, bool) {
	u, err := unitOf(q, t)
	if err != nil {
		return formula.Value{}, false
	}
	return formula.Of(u.Base(d)), true
}
