package ledger

import (
	"time"

	"iter.example/iter/core/audit"
	"iter.example/iter/core/records"
	"iter.example/iter/core/work"
)

func messageKinds() table {
	return table{
		"message.sent": row[MessageSent]{subject: "visit", sends: true, check: checkMessage, apply: messageSent,
			final: "the customer has it"}.kind(),
	}
}

// MessageSent is the body of message.sent: what the customer is told, as the sender saw it.
type MessageSent struct {
	Template string    `json:"template"`
	To       string    `json:"to"`
	Text     string    `json:"text"`
	Expected time.Time `json:"expected,omitzero"`
}

func checkMessage(b MessageSent) error {
	if err := records.CheckText("to", b.To, true, 200); err != nil {
		return err
	}
	return records.CheckText("message", b.Text, true, 1000)
}

func messageSent(t *tx, e Entry, b MessageSent) error {
	v, err := t.fact()
	if err != nil {
		return err
	}
	v.Messages = audit.Add(v.Messages, work.Message{Line: e.line(), Template: b.Template, To: b.To, Text: b.Text,
		Expected: b.Expected})
	t.save(e.Subject, v)
	return nil
}
