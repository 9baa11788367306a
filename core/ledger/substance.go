package ledger

import (
	"github.com/shopspring/decimal"

	"iter.example/iter/core/msg"
	"iter.example/iter/core/substance"
	"iter.example/iter/core/work"
)

func substanceKinds() table {
	return table{
		"substance.moved": row[SubstanceMoved]{subject: "visit", check: checkMoved,
			keys: func(_ Entry, b SubstanceMoved) []Ref { return []Ref{SubstancesRef(b.Site)} }, apply: substanceMoved,
			strike: strikeSubstance}.kind(),
	}
}

// SubstanceMoved is the body of substance.moved.
type SubstanceMoved struct {
	Site      string          `json:"site"`
	Substance string          `json:"substance"`
	Act       substance.Act   `json:"act"`
	Asset     string          `json:"asset,omitempty"`
	Amount    decimal.Decimal `json:"amount"`
	Unit      string          `json:"unit"`
	Away      bool            `json:"away,omitempty"`
	Note      string          `json:"note,omitempty"`
}

// SubstancesRef names the substance log of a site.
func SubstancesRef(site string) Ref { return Ref{"substances", site} }

func (b SubstanceMoved) move(e Entry) substance.Move {
	return substance.Move{Line: e.line(), Visit: e.Subject.ID, Substance: b.Substance, Act: b.Act, Asset: b.Asset, Amount: b.Amount,
		Unit: b.Unit, Away: b.Away, Note: b.Note}
}

func checkMoved(b SubstanceMoved) error {
	if err := checkIDs(b.Site); err != nil {
		return err
	}
	return b.move(Entry{}).Check()
}

func substanceMoved(t *tx, e Entry, b SubstanceMoved) error {
	if _, err := t.fact(); err != nil {
		return err
	}
	var l substance.Log
	ref := SubstancesRef(b.Site)
	if _, err := t.load(ref, &l); err != nil {
		return err
	}
	l.Add(b.move(e))
	t.save(ref, l)
	return nil
}

// strikeSubstance strikes out a line of the substance log of the visit's site.
func strikeSubstance(t *tx, s Struck) (mark, error) {
	v, err := t.visit()
	if err != nil {
		return nil, err
	}
	ref, named := s.touched("substances")
	if !named {
		var o work.Order
		if _, err := t.load(Ref{"workorder", v.Order}, &o); err != nil {
			return nil, err
		}
		ref = SubstancesRef(o.Site)
	}
	var l substance.Log
	if _, err := t.load(ref, &l); err != nil {
		return nil, err
	}
	m, err := lineToStrike(s, l.Moves)
	if err != nil {
		return nil, err
	}
	if m.Visit != t.entry.Subject.ID {
		return nil, msg.New("strike.unknown")
	}
	return func(struck bool) {
		m.Struck = struck
		t.save(ref, l)
	}, nil
}
