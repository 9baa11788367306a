package ledger

import (
	"cmp"
	"encoding/json"
	"slices"
	"time"

	"iter.example/iter/core/audit"
	"iter.example/iter/core/labor"
	"iter.example/iter/core/msg"
	"iter.example/iter/core/records"
	"iter.example/iter/core/work"
)

func struckKinds() table {
	return table{
		"entry.struck": row[Struck]{terminal: true, check: checkStruck, keys: struckKeys, apply: struckOwn,
			final: "an entry is restored", raise: []raise{struckV1, struckV2, asItWas}}.kind(),
	}
}

func struckOfficeKinds() table {
	return table{
		"entry.struck_by_office": row[Struck]{office: judges, beside: true, check: checkStruck, keys: struckKeys, apply: struckByOffice,
			undo: struckAgain(restoredKind), final: "an entry is restored", raise: []raise{struckV2, asItWas}}.kind(),
		"entry.restored": row[Struck]{office: judges, beside: true, check: checkStruck, keys: struckKeys, apply: restored,
			undo: struckAgain("entry.struck_by_office"), final: "an entry is struck out again", raise: []raise{struckV2, asItWas}}.kind(),
	}
}

// restoredKind is the kind of entry that has another count again.
const restoredKind = "entry.restored"

// Struck is the body of the entries that strike one out or restore it.
type Struck struct {
	Entry  string    `json:"entry"`  // which
	At     time.Time `json:"at"`     // when it was recorded
	Kind   string    `json:"kind"`   // its kind
	Person string    `json:"person"` // who recorded it
	// Touched are the documents beside the subject that the entry counted on too. Striking gives them.
	Touched []Ref  `json:"touched,omitempty"`
	Reason  string `json:"reason,omitempty"`
}

// maxTouched is the most documents that one entry counts on.
const maxTouched = 100

// striker looks for what an entry did, and says what is wrong with a strike-out of it. It changes nothing: the mark that it gives does.
type striker func(t *tx, s Struck) (mark, error)

// mark cancels an entry, or lets it count again.
type mark func(struck bool)

// Striking completes a strike-out of an entry on a subject by the documents that the entry counted on, as those in m have it. It gives the
// documents that it wants to be put there first; with them, it is to be called again.
func Striking(m *Memory, subject Ref, s Struck) (out Struck, wanted []Ref, err error) {
	if !m.Has(subject) {
		return s, []Ref{subject}, nil
	}
	s.Touched = nil
	t := &tx{memory: m, entry: Entry{Subject: subject, Actor: s.Person}}
	t.asked = func(ref Ref) (bool, error) {
		if ref == subject || slices.Contains(s.Touched, ref) {
			return true, nil
		}
		s.Touched = append(s.Touched, ref)
		if !m.Has(ref) {
			wanted = append(wanted, ref)
		}
		return true, nil
	}
	if _, err = t.striker(s); len(wanted) > 0 {
		err = nil // what is wrong may be that they are not here yet
	}
	return s, wanted, err
}

func checkStruck(b Struck) error {
	if !ulid(b.Entry) {
		return msg.New("entry.id")
	}
	if len(b.Touched) > maxTouched {
		return msg.New("entry.large")
	}
	for _, r := range b.Touched {
		if _, known := types[r.Type]; !known {
			return msg.New("record.type", "type", records.Clip(r.Type))
		}
		if err := records.CheckID(r.ID); err != nil {
			return err
		}
	}
	if err := records.CheckID(b.Person); err != nil {
		return err
	}
	return records.CheckText("reason", b.Reason, false, 500)
}

// struckV1 raises a strike-out that did not say whose entry it struck: it was always one's own.
func struckV1(e Entry) (Entry, error) {
	return rewritten(e, func(b map[string]any) { b["person"] = e.Actor })
}

// struckV2 raises a strike-out that named what its entry was about, and not the documents.
func struckV2(e Entry) (Entry, error) {
	var was struct {
		Struck
		Place     string `json:"place"` // of a part: where it came from, or went
		Order     string `json:"order"` // of a task: the work order
		Card      string `json:"card"`  // of a helper's clock: whose it is
		Asset     string `json:"asset"` // of a reading: where it was measured
		Site      string `json:"site"`  // of a regulated substance: where it is logged
		Part      string `json:"part"`
		Serial    string `json:"serial"`
		Component string `json:"component"` // that a part with a serial number became, or was
	}
	if err := json.Unmarshal(e.Body, &was); err != nil {
		return e, err
	}
	b := was.Struck
	touch := func(said string, ref Ref) {
		if said != "" {
			b.Touched = append(b.Touched, ref)
		}
	}
	switch {
	case b.Kind == "part.requested":
		b.Touched = []Ref{RequestRef(b.Entry)}
	case was.Place != "" || was.Component != "" || was.Part != "" && was.Serial != "":
		touch(was.Place, Ref{"stock", was.Place})
		b.Touched = append(b.Touched, removedKeys(was.Component, was.Part, was.Serial)...)
	case was.Asset != "":
		b.Touched = []Ref{MeasuredRef(was.Asset)}
	case was.Site != "":
		b.Touched = []Ref{SubstancesRef(was.Site)}
	default:
		b.Touched = []Ref{TimecardRef(cmp.Or(was.Card, b.Person), b.At)}
		touch(was.Order, Ref{"workorder", was.Order})
	}
	raw, err := json.Marshal(b)
	e.Body = raw
	return e, err
}

func struckKeys(_ Entry, b Struck) []Ref { return b.Touched }

// struckOwn is a person's own strike-out. Once the office has reviewed the visit it is for the office to strike out; what was
// struck out before that, and only heard of after, stands and is flagged.
func struckOwn(t *tx, e Entry, b Struck) error {
	if b.Person != e.Actor {
		return msg.New("strike.not_yours")
	}
	if e.Subject.Type == "visit" {
		v, err := t.visit()
		if err != nil {
			return err
		}
		if !v.ReviewedAt.IsZero() {
			if e.At.After(v.ReviewedAt) {
				return msg.New("strike.reviewed")
			}
			t.flag("visit.reviewed_meanwhile")
		}
	}
	return t.strike(b, true)
}

func struckByOffice(t *tx, _ Entry, b Struck) error { return t.strike(b, true) }

func restored(t *tx, _ Entry, b Struck) error { return t.strike(b, false) }

// strike cancels an entry everywhere it counted, or lets it count again; it stays visible. It does so in the documents that the strike-out
// names. One of an earlier version did not always name the work order, the timecard, or the machine and its history: then the entry
// stays on them. Of two that are about the same entry the later holds, whichever is heard of first.
func (t *tx) strike(b Struck, struck bool) error {
	earlier := t.entry.V < Version(t.entry.Kind)
	t.asked = func(ref Ref) (bool, error) {
		switch {
		case ref == t.entry.Subject || slices.Contains(b.Touched, ref):
			return true, nil
		case earlier && slices.Contains([]string{"workorder", "timecard", "measured", "asset", "assetkind"}, ref.Type):
			return false, nil
		}
		return false, msg.New("strike.unknown")
	}
	strike, err := t.striker(b)
	if err != nil {
		return err
	}
	before, err := t.strikes()
	if err != nil {
		return err
	}
	after, last := before.With(b.Entry, audit.Moment{At: t.entry.At, Entry: t.entry.ID})
	if !last {
		return nil
	}
	strike(struck)
	return t.saveStrikes(after)
}

// strikes gives the strike-outs and restorations on the subject.
func (t *tx) strikes() (audit.Strikes, error) {
	var has struct{ Strikes audit.Strikes }
	_, err := t.load(t.entry.Subject, &has)
	return has.Strikes, err
}

// saveStrikes keeps them there, on the document as the strike-out has left it.
func (t *tx) saveStrikes(m audit.Strikes) error {
	var v *work.Visit
	var c labor.Timecard
	var err error
	for _, s := range t.saved {
		switch is := s.value.(type) {
		case work.Visit:
			v = &is
		case labor.Timecard:
			if s.ref == t.entry.Subject {
				c = is
			}
		}
	}
	if t.entry.Subject.Type == "timecard" {
		if c.Person == "" {
			c, err = t.card(false)
		}
		c.Strikes = m
		t.save(t.entry.Subject, c)
		return err
	}
	if v == nil {
		v, err = t.visit()
	}
	if err == nil {
		v.Strikes = m
		t.save(t.entry.Subject, v)
	}
	return err
}

// striker finds what an entry did, as its kind has it.
func (t *tx) striker(b Struck) (mark, error) {
	k := kinds[b.Kind]
	switch {
	case k.strike == nil:
		return nil, msg.New("strike.final", "kind", records.Clip(b.Kind))
	case k.subject != t.entry.Subject.Type:
		return nil, msg.New("strike.unknown")
	}
	return k.strike(t, b)
}

// touched gives the document of a type that the strike-out names, and whether it names one.
func (s Struck) touched(typ string) (Ref, bool) {
	i := slices.IndexFunc(s.Touched, func(r Ref) bool { return r.Type == typ })
	if i < 0 {
		return Ref{}, false
	}
	return s.Touched[i], true
}

// checkPerson says why an entry can't be struck out as whose it is said to be.
func (s Struck) checkPerson(person string) error {
	if person != s.Person {
		return msg.New("strike.not_yours")
	}
	return nil
}

// strikeLine strikes an entry out whose line is on the visit alone.
func strikeLine[L any, P audit.Embeds[L]](lines func(*work.Visit) []L) striker {
	return func(t *tx, s Struck) (mark, error) {
		v, err := t.visit()
		if err != nil {
			return nil, err
		}
		l, err := s.checkLine(audit.Of[L, P](lines(v), s.Entry))
		if err != nil {
			return nil, err
		}
		return func(struck bool) {
			l.Struck = struck
			t.save(t.entry.Subject, v)
		}, nil
	}
}

// lineToStrike gives what the entry made.
func lineToStrike[L any, P audit.Embeds[L]](s Struck, lines []L) (*L, error) {
	_, err := s.checkLine(audit.Of[L, P](lines, s.Entry))
	return audit.Find[L, P](lines, s.Entry), err
}

// checkLine says what is wrong with the line that an entry is said to have made.
func (s Struck) checkLine(l *audit.Line) (*audit.Line, error) {
	if l == nil {
		return nil, msg.New("strike.unknown")
	}
	return l, s.checkPerson(l.Person)
}
