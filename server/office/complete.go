package office

import (
	"bytes"
	"encoding/json"

	"iter.example/iter/core/ledger"
	"iter.example/iter/core/msg"
	"iter.example/iter/core/records"
	"iter.example/iter/core/sheet"
	"iter.example/iter/core/work"
	"iter.example/iter/server/store"
)

// Completed fills in what only the server knows of a command, as its kind has it.
func Completed(tx *store.Tx, rules sheet.Settings, c Command) (json.RawMessage, error) {
	body, err := c.Body, error(nil)
	for _, p := range ledger.Preparations(c.Kind) {
		switch p {
		case ledger.NextNumber:
			body, err = with(c.Kind, body, "number", func() (any, error) { return tx.NextNumber(c.Subject.Type) })
		case ledger.UsualSheets:
			var o work.Order
			if json.Unmarshal(body, &o) == nil && o.Sheets == nil {
				body, err = with(c.Kind, body, "sheets", func() (any, error) { return attached(tx, rules, o) })
			}
		case ledger.Programs:
			body, err = programmed(c.Subject.Type, body)
		}
		if err != nil {
			return nil, err
		}
	}
	return body, nil
}

// with sets a field of a command's body.
func with(kind string, body json.RawMessage, field string, value func() (any, error)) (json.RawMessage, error) {
	var b map[string]any
	d := json.NewDecoder(bytes.NewReader(body))
	d.UseNumber()
	if d.Decode(&b) != nil || b == nil {
		return nil, msg.New("entry.body", "kind", kind)
	}
	var err error
	if b[field], err = value(); err != nil {
		return nil, err
	}
	return json.Marshal(b)
}

// attached lists the check sheets that rules attach to a work order; without rules, those for all work.
func attached(tx *store.Tx, rules sheet.Settings, o work.Order) ([]string, error) {
	if len(rules.Rules) == 0 {
		return rules.Always, nil
	}
	refs, err := tx.IDs("sheet")
	if err != nil {
		return nil, err
	}
	var a records.Asset
	if _, err := tx.Load("asset", o.Asset, &a); err != nil {
		return nil, err
	}
	return sheet.For(rules.Rules, sheet.Work{Kind: o.Kind, Asset: a.Kind, Site: o.Site}, refs), nil
}
