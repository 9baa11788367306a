package records

import (
	"slices"
	"strings"

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

// Check says what a template lacks, or which of its fields there is not.
func (t Template) Check() error {
	if err := CheckID(t.ID); err != nil {
		return err
	}
	for _, name := range t.fields() {
		if !slices.Contains(MessageFields, name) {
			return msg.New("message.field", "field", name)
		}
	}
	return CheckText("message", t.Text, true, 1000)
}

// Fill gives the message with the values of its fields. One without a value is left empty.
func (t Template) Fill(values map[string]string) string {
	text := t.Text
	var out strings.Builder
	for _, name := range t.fields() {
		before, after, _ := strings.Cut(text, "{"+name+"}")
		out.WriteString(before + values[name])
		text = after
	}
	return out.String() + text
}

// fields are the names in braces, in small letters, in the order of the text.
func (t Template) fields() []string {
	var out []string
	for _, part := range strings.Split(t.Text, "{")[1:] {
		name, _, closed := strings.Cut(part, "}")
		if closed && name != "" && !strings.ContainsFunc(name, func(r rune) bool { return r < 'a' || r > 'z' }) {
			out = append(out, name)
		}
	}
	return out
}
