package records

import (
	"regexp"
	"slices"

	"iter.example/iter/core/msg"
)

// Template is a message to customers, with fields in braces.
type Template struct {
	ID   string `json:"id"`
	Name string `json:"name"`
	Text string `json:"text"`
}

// MessageSettings are a company's ready-made messages.
type MessageSettings struct {
	Templates []Template `json:"templates,omitempty"`
}

// Check says which template can't be.
func (s MessageSettings) Check() error {
	for _, t := range s.Templates {
		if err := t.Check(); err != nil {
			return err
		}
	}
	return nil
}

// MessageFields are what a template can name, each in braces.
var MessageFields = []string{"contact", "company", "technician", "time", "site", "number", "phone"}

var field = regexp.MustCompile(`\{([a-z]+)\}`)

// Check says what a template lacks, or which of its fields there is not.
func (t Template) Check() error {
	if err := CheckID(t.ID); err != nil {
		return err
	}
	for _, m := range field.FindAllStringSubmatch(t.Text, -1) {
		if !slices.Contains(MessageFields, m[1]) {
			return msg.New("message.field", "field", m[1])
		}
	}
	return CheckText("message", t.Text, true, 1000)
}

// Fill gives the message with the values of its fields. One without a value is left empty.
func (t Template) Fill(values map[string]string) string {
	return field.ReplaceAllStringFunc(t.Text, func(m string) string { return values[m[1:len(m)-1]] })
}
