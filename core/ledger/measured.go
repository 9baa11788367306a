package ledger

import (
	"iter.example/iter/core/msg"
	"iter.example/iter/core/reading"
	"iter.example/iter/core/records"
	"iter.example/iter/core/sheet"

	"github.com/shopspring/decimal"
)

// maxReading is past any gauge there is.
var maxReading = decimal.New(1, 12)

func checkTaken(b Taken) error {
	if b.Value.Abs().GreaterThan(maxReading) || b.Value.Exponent() < -9 {
		return msg.New("reading.absurd")
	}
	if err := records.CheckText("unit", b.Unit, false, 20); err != nil {
		return err
	}
	if err := records.CheckID(b.Point); err != nil {
		return err
	}
	return records.CheckID(b.Asset)
}

func taken(t *tx, e Entry, b Taken) error {
	v, err := t.fact()
	if err != nil {
		return err
	}
	v.Readings = append(v.Readings, reading.Reading{Entry: e.ID, At: e.At, Person: e.Actor, Asset: b.Asset, Point: b.Point, Value: b.Value, Unit: b.Unit})
	t.save(e.Subject, v)
	return nil
}

func checkAnswered(b Answered) error {
	if err := records.CheckID(b.Sheet); err != nil {
		return err
	}
	if err := records.CheckID(b.Question); err != nil {
		return err
	}
	return records.CheckText("answer", b.Value, false, sheet.MaxText)
}

func answered(t *tx, e Entry, b Answered) error {
	v, err := t.fact()
	if err != nil {
		return err
	}
	value := b.Value
	var s sheet.Sheet
	if ok, err := t.load(Ref{"sheet", b.Sheet}, &s); err != nil {
		return err
	} else if q, found := s.Find(b.Question); ok && found {
		if value, err = q.Read(value); err != nil {
			return err
		}
	} else {
		t.flag("sheet.unknown_question", "sheet", b.Sheet, "question", b.Question)
	}
	if v.Answers == nil {
		v.Answers = map[string]map[string]sheet.Answer{}
	}
	if v.Answers[b.Sheet] == nil {
		v.Answers[b.Sheet] = map[string]sheet.Answer{}
	}
	// Of two answers the later stands, whichever is heard of first.
	if old := v.Answers[b.Sheet][b.Question]; old.At.After(e.At) || (old.At.Equal(e.At) && old.Entry > e.ID) {
		return nil
	}
	v.Answers[b.Sheet][b.Question] = sheet.Answer{Entry: e.ID, At: e.At, Person: e.Actor, Value: value}
	t.save(e.Subject, v)
	return nil
}
