package store

import (
	"encoding/json"

	"iter.example/iter/core/ledger"
)

// PhonedOn names those at the office who wrote down what was told by telephone of some visits, by visit.
func (t *Tx) PhonedOn(visits []string) (map[string][]string, error) {
	ids, err := json.Marshal(visits)
	if err != nil {
		return nil, err
	}
	type line struct{ visit, person string }
	lines, err := collect(t, func(row interface{ Scan(...any) error }) (l line, err error) { return l, row.Scan(&l.visit, &l.person) },
		`SELECT DISTINCT subject_id, brought FROM entries WHERE subject_type = 'visit' AND replica = 'office' AND brought <> ''
			AND subject_id IN (SELECT value FROM json_each(?)) ORDER BY 1, 2`, string(ids))
	if err != nil {
		return nil, err
	}
	out := map[string][]string{}
	for _, l := range lines {
		t.sources.add(ledger.Ref{Type: "visit", ID: l.visit}) // an entry more changes it
		name, err := t.NameOf(l.person)
		if err != nil {
			return nil, err
		}
		out[l.visit] = append(out[l.visit], name)
	}
	return out, nil
}
