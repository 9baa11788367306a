// Package sheet is the check sheet: sections of questions, what counts as an answer to each, and what is still missing.
package sheet

import (
	"slices"
	"strings"
	"time"

	"github.com/shopspring/decimal"

	"iter.example/iter/core/msg"
	"iter.example/iter/core/reading"
)

// Kind is what a question asks for.
type Kind string

const (
	YesNo  Kind = "yesno"  // "yes" or "no"
	Choice Kind = "choice" // the id of one option
	Number Kind = "number" // a decimal, within Min and Max
	Text   Kind = "text"
)

// Values lists the kinds, for generated types.
func (Kind) Values() []string {
	return []string{string(YesNo), string(Choice), string(Number), string(Text)}
}

// Sheet is one version of a check sheet. Its document's id is ID@Version; a version never changes.
type Sheet struct {
	ID       string    `json:"id"`
	Version  int       `json:"version"`
	Title    string    `json:"title"`
	Sections []Section `json:"sections"`
}

// Section is a titled group of questions.
type Section struct {
	Title     string     `json:"title"`
	Questions []Question `json:"questions"`
}

// Question asks for one answer.
type Question struct {
	ID       string           `json:"id"`
	Kind     Kind             `json:"kind"`
	Text     string           `json:"text"`
	Required bool             `json:"required,omitempty"`
	Options  []Option         `json:"options,omitempty"` // of a choice
	Unit     string           `json:"unit,omitempty"`    // of a number
	Min      *decimal.Decimal `json:"min,omitempty"`     // of a number; included
	Max      *decimal.Decimal `json:"max,omitempty"`     // of a number; included
}

// Option is one answer to choose.
type Option struct {
	ID   string `json:"id"`
	Text string `json:"text"`
}

// Answer is what was answered to a question, in the canonical form that Read gives. An empty value takes the answer back.
type Answer struct {
	Entry  string    `json:"entry"`
	At     time.Time `json:"at"`
	Person string    `json:"person"`
	Value  string    `json:"value"`
	Struck string    `json:"struck,omitempty"` // what it said before it was struck out
}

// Strike takes an answer back, or gives it again.
func (a Answer) Strike(struck bool) Answer {
	switch {
	case struck && a.Value != "":
		a.Value, a.Struck = "", a.Value
	case !struck && a.Struck != "":
		a.Value, a.Struck = a.Struck, ""
	}
	return a
}

// MaxText is the longest text answer, in characters.
const MaxText = 5000

// Read gives the canonical form of an answer, or says what is wrong with it.
func (q Question) Read(value string) (string, error) {
	v := strings.TrimSpace(value)
	if v == "" {
		return "", nil
	}
	switch q.Kind {
	case YesNo:
		if v != "yes" && v != "no" {
			return "", msg.New("answer.yesno")
		}
	case Choice:
		if !slices.ContainsFunc(q.Options, func(o Option) bool { return o.ID == v }) {
			return "", msg.New("answer.choice")
		}
	case Number:
		d, err := reading.Parse(v)
		if err != nil {
			return "", err
		}
		if q.Min != nil && d.LessThan(*q.Min) {
			return "", msg.New("answer.below", "min", q.Min.String(), "unit", q.Unit)
		}
		if q.Max != nil && d.GreaterThan(*q.Max) {
			return "", msg.New("answer.above", "max", q.Max.String(), "unit", q.Unit)
		}
		return d.String(), nil
	case Text:
		if len([]rune(v)) > MaxText {
			return "", msg.New("text.long", "max", "5000")
		}
	default:
		return "", msg.New("answer.kind", "kind", string(q.Kind))
	}
	return v, nil
}

// Find gives the question with an id.
func (s Sheet) Find(id string) (Question, bool) {
	for _, sec := range s.Sections {
		for _, q := range sec.Questions {
			if q.ID == id {
				return q, true
			}
		}
	}
	return Question{}, false
}

// Ref is the id of the sheet's document.
func (s Sheet) Ref() string { return s.ID + "@" + decimal.NewFromInt(int64(s.Version)).String() }

// State is how far a sheet is filled in.
type State struct {
	Sheet    string   `json:"sheet"`
	Title    string   `json:"title"`
	Answered int      `json:"answered"`
	Total    int      `json:"total"`
	Missing  []string `json:"missing"` // required questions without an answer, in order
}

// Progress counts what is answered. Answers that the sheet does not ask for, or can't take, do not count.
func (s Sheet) Progress(answers map[string]Answer) State {
	st := State{Sheet: s.Ref(), Title: s.Title, Missing: []string{}}
	for _, sec := range s.Sections {
		for _, q := range sec.Questions {
			st.Total++
			if v, err := q.Read(answers[q.ID].Value); err == nil && v != "" {
				st.Answered++
			} else if q.Required {
				st.Missing = append(st.Missing, q.ID)
			}
		}
	}
	return st
}

// Check says what is wrong with a sheet before it may be used: ids twice, kinds unknown, choices without options.
func (s Sheet) Check() error {
	if s.ID == "" || s.Version < 1 || s.Title == "" || len(s.Sections) == 0 {
		return msg.New("sheet.incomplete")
	}
	seen := map[string]bool{}
	for _, sec := range s.Sections {
		for _, q := range sec.Questions {
			if q.ID == "" || q.Text == "" || seen[q.ID] {
				return msg.New("sheet.question", "question", q.ID)
			}
			seen[q.ID] = true
			if !slices.Contains((Kind)("").Values(), string(q.Kind)) || (q.Kind == Choice && len(q.Options) < 2) {
				return msg.New("sheet.question", "question", q.ID)
			}
		}
	}
	return nil
}
