package office

import (
	"encoding/json"
	"errors"

	"iter.example/iter/core/formula"
	"iter.example/iter/core/formula/parse"
	"iter.example/iter/core/msg"
	"iter.example/iter/core/records"
	"iter.example/iter/core/sheet"
)

// programmed parses the formulas of a record that has some, so that what is published can be evaluated anywhere. A formula that does not
// read has no program, which the record's own check refuses.
func programmed(typ string, raw json.RawMessage) (json.RawMessage, error) {
	switch typ {
	case "sheet": // a draft needs none: it is looked at with its formulas parsed each time
		var s sheet.Sheet
		if json.Unmarshal(raw, &s) != nil || s.ID == "" {
			return raw, nil
		}
		WithPrograms(&s)
		return json.Marshal(s)
	case "assetkind":
		var k struct {
			records.AssetKind
			Name    *string `json:"name,omitempty"`
			Points  any     `json:"points,omitempty"`
			Derived any     `json:"derived,omitempty"`
		}
		var whole records.AssetKind
		if json.Unmarshal(raw, &k) != nil || json.Unmarshal(raw, &whole) != nil || k.Derived == nil {
			return raw, nil
		}
		for i := range whole.Derived {
			d := &whole.Derived[i]
			if d.Program = nil; d.Formula != "" {
				n, err := parse.Text(d.Formula)
				if err != nil {
					return nil, msg.New("derived.unreadable", "name", d.Name)
				}
				d.Program = &n
			}
		}
		k.Derived = whole.Derived
		return json.Marshal(k)
	}
	return raw, nil
}

// WithPrograms parses the formulas of a sheet. The problems say which do not read.
func WithPrograms(s *sheet.Sheet) []sheet.Problem {
	var out []sheet.Problem
	for i := range s.Sections {
		for j := range s.Sections[i].Questions {
			q := &s.Sections[i].Questions[j]
			if q.Program = nil; q.Kind != sheet.Computed || q.Formula == "" {
				continue
			}
			n, err := parse.Text(q.Formula)
			var p *formula.Problem
			if errors.As(err, &p) {
				out = append(out, sheet.Problem{Code: p.Code, Section: i, Question: q.ID, Field: "formula", At: p.At})
				continue
			}
			q.Program = &n
		}
	}
	return out
}
