package ledger

import (
	"iter.example/iter/core/audit"
	"iter.example/iter/core/msg"
	"iter.example/iter/core/records"
	"iter.example/iter/core/signoff"
	"iter.example/iter/core/work"
)

func signoffKinds() table {
	return table{
		"signoff.captured": row[Signed]{subject: "visit", whose: SignedTogether, check: checkSigned, apply: signed,
			strike: strikeLine(func(v *work.Visit) []signoff.Signature { return v.Signatures })}.kind(),
		"signoff.missed": row[Absent]{subject: "visit", check: checkAbsent, apply: absent,
			strike: strikeLine(func(v *work.Visit) []work.Absence { return v.Absences })}.kind(),
	}
}

// Signed is the body of signoff.captured.
type Signed struct {
	Name    string          `json:"name"`
	Role    string          `json:"role"`
	Strokes signoff.Strokes `json:"strokes"`
	Summary signoff.Summary `json:"summary"`
	Digest  string          `json:"digest"`
	Where   *work.Where     `json:"where,omitempty"`
	// With are the other visits that were signed with the same strokes: those of colleagues at the same site among them.
	With []string `json:"with,omitempty"`
}

// Absent is the body of signoff.missed: nobody signed.
type Absent struct {
	Reason string      `json:"reason"`
	Name   string      `json:"name,omitempty"` // who would have had to
	Where  *work.Where `json:"where,omitempty"`
}

// SignedWith names the other visits that a signature was given for.
func (f *Fact) SignedWith() []string {
	b, _ := f.body.(Signed)
	return b.With
}

func checkSigned(b Signed) error {
	if len(b.With) > 50 {
		return msg.New("entry.large")
	}
	if err := checkIDs(b.With...); err != nil {
		return err
	}
	if err := checkWhere(b.Where); err != nil {
		return err
	}
	return signature(Entry{}, b).Check()
}

func signature(e Entry, b Signed) signoff.Signature {
	return signoff.Signature{Line: e.line(), Name: b.Name, Role: b.Role, Strokes: b.Strokes, Digest: b.Digest, Summary: b.Summary}
}

func signed(t *tx, e Entry, b Signed) error {
	if len(b.With) == 0 {
		if _, err := t.fact(); err != nil {
			return err
		}
	}
	v, err := t.visit()
	if err != nil {
		return err
	}
	if len(b.With) > 0 { // whoever holds out the device has it signed for all who worked there
		t.meanwhile(v)
	}
	v.Signatures = audit.Add(v.Signatures, signature(e, b))
	t.save(e.Subject, v)
	return nil
}

func checkAbsent(b Absent) error {
	if err := checkWhere(b.Where); err != nil {
		return err
	}
	if err := records.CheckText("name", b.Name, false, 200); err != nil {
		return err
	}
	return records.CheckText("reason", b.Reason, true, 500)
}

func absent(t *tx, e Entry, b Absent) error {
	v, err := t.fact()
	if err != nil {
		return err
	}
	v.Absences = audit.Add(v.Absences, work.Absence{Line: e.line(), Reason: b.Reason, Name: b.Name})
	t.save(e.Subject, v)
	return nil
}
