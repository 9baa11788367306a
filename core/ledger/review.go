package ledger

import (
	"maps"
	"slices"

	"iter.example/iter/core/audit"
	"iter.example/iter/core/msg"
	"iter.example/iter/core/records"
	"iter.example/iter/core/work"
)

func reviewKinds() table {
	return table{
		"ready.skipped": row[Skipped]{subject: "visit", check: checkSkipped, apply: skipped,
			strike: strikeLine(func(v *work.Visit) []work.Skip { return v.Skips })}.kind(),
		"question.answered": row[QuestionAnswered]{subject: "visit", check: checkQuestionAnswered, apply: questionAnswered,
			final: "a second answer is kept beside it"}.kind(),
	}
}

func reviewOfficeKinds() table {
	return table{
		"attention.handled": row[AttentionHandled]{subject: "visit", office: judges, beside: true, check: checkHandled, apply: handled,
			final: "it is handled again"}.kind(),
		"visit.questioned": row[Questioned]{subject: "visit", office: judges, check: checkQuestioned, apply: questioned,
			final: "whoever was asked has it"}.kind(),
	}
}

// Questioned is the body of visit.questioned: the office sends a visit back to whoever did it.
type Questioned struct {
	Text string `json:"text"`
}

// QuestionAnswered is the body of question.answered.
type QuestionAnswered struct {
	Question string `json:"question"` // its entry
	Text     string `json:"text"`
}

// AttentionHandled is the body of attention.handled: the office has seen to a point of attention.
type AttentionHandled struct {
	Key    string `json:"key"`
	Order  string `json:"order,omitempty"` // the work order opened for it
	Reason string `json:"reason,omitempty"`
}

// Skipped is the body of ready.skipped: something that was asked for is left out.
type Skipped struct {
	Key    string `json:"key"` // of what is lacking
	Reason string `json:"reason"`
}

func checkQuestioned(b Questioned) error { return records.CheckText("text", b.Text, true, 1000) }

func questioned(t *tx, e Entry, b Questioned) error {
	v, err := t.visit()
	switch {
	case err != nil:
		return err
	case v.Stage != work.Finished:
		return msg.New("visit.not_over")
	case !v.ReviewedAt.IsZero():
		return msg.New("visit.reviewed")
	case v.Asked() != nil:
		return msg.New("visit.asked")
	}
	v.Questions = audit.Add(v.Questions, work.Question{Line: e.line(), Text: b.Text})
	t.save(e.Subject, v)
	return nil
}

func checkQuestionAnswered(b QuestionAnswered) error {
	if err := records.CheckID(b.Question); err != nil {
		return err
	}
	return records.CheckText("text", b.Text, true, records.MaxText)
}

func questionAnswered(t *tx, e Entry, b QuestionAnswered) error {
	v, err := t.fact()
	if err != nil {
		return err
	}
	i := slices.IndexFunc(v.Questions, func(q work.Question) bool { return q.Entry == b.Question })
	if i < 0 {
		return msg.New("question.unknown")
	}
	v.Questions = slices.Clone(v.Questions)
	v.Questions[i].Reply(work.Reply{Line: e.line(), Text: b.Text})
	t.save(e.Subject, v)
	return nil
}

func checkHandled(b AttentionHandled) error {
	if err := records.CheckText("key", b.Key, true, 300); err != nil {
		return err
	}
	if err := checkOptional(b.Order); err != nil {
		return err
	}
	return records.CheckText("reason", b.Reason, false, 500)
}

func handled(t *tx, e Entry, b AttentionHandled) error {
	v, err := t.visit()
	if err != nil {
		return err
	}
	if v.Handled = maps.Clone(v.Handled); v.Handled == nil {
		v.Handled = map[string]work.Handled{}
	}
	v.Handled[b.Key] = work.Handled{At: e.At, Person: e.Actor, Order: b.Order, Reason: b.Reason}
	t.save(e.Subject, v)
	return nil
}

func checkSkipped(b Skipped) error {
	if err := records.CheckText("key", b.Key, true, 300); err != nil {
		return err
	}
	return records.CheckText("reason", b.Reason, true, 500)
}

func skipped(t *tx, e Entry, b Skipped) error {
	v, err := t.fact()
	if err != nil {
		return err
	}
	v.Skips = audit.Add(v.Skips, work.Skip{Line: e.line(), Key: b.Key, Reason: b.Reason})
	t.save(e.Subject, v)
	return nil
}
