package ledger

import (
	"iter.example/iter/core/records"
	"iter.example/iter/core/talk"
)

func talkKinds() table {
	return table{
		"talk.said": row[TalkSaid]{subject: "talk", office: judges, field: true, beside: true, check: checkTalkSaid, apply: talkSaid,
			final: "others have read it"}.kind(),
		"talk.read": row[TalkRead]{subject: "talk", office: judges, field: true, beside: true,
			check: func(b TalkRead) error { return records.CheckID(b.Entry) }, apply: talkRead,
			final: "what was read was read"}.kind(),
	}
}

// TalkSaid is the body of talk.said. Its subject is the talk with the id of the work order.
type TalkSaid struct {
	Text  string `json:"text"`
	Visit string `json:"visit,omitempty"`
	// Office tells that the office says it.
	Office bool `json:"office,omitempty"`
}

// TalkRead is the body of talk.read: whoever records it has read up to an entry.
type TalkRead struct {
	Entry  string `json:"entry"`
	Office bool   `json:"office,omitempty"` // for the office
}

// ForOffice tells whether an entry of a conversation speaks, or has read, for the office.
func (f *Fact) ForOffice() bool {
	switch b := f.body.(type) {
	case TalkSaid:
		return b.Office
	case TalkRead:
		return b.Office
	}
	return false
}

// TalkRef names the conversation about a work order.
func TalkRef(order string) Ref { return Ref{"talk", order} }

func checkTalkSaid(b TalkSaid) error {
	if err := checkOptional(b.Visit); err != nil {
		return err
	}
	return records.CheckText("text", b.Text, true, 2000)
}

func talkSaid(t *tx, e Entry, b TalkSaid) error {
	var c talk.Talk
	if _, err := t.load(e.Subject, &c); err != nil {
		return err
	}
	c.Add(talk.Said{Entry: e.ID, At: e.At, Person: e.Actor, Text: b.Text, Office: b.Office, Visit: b.Visit})
	t.save(e.Subject, c)
	return nil
}

func talkRead(t *tx, e Entry, b TalkRead) error {
	var c talk.Talk
	if ok, err := t.load(e.Subject, &c); err != nil || !ok {
		return err
	}
	reader := e.Actor
	if b.Office {
		reader = talk.Office
	}
	c.See(reader, b.Entry)
	t.save(e.Subject, c)
	return nil
}
