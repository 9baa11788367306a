package office

import (
	"encoding/json"

	"iter.example/iter/core/ledger"
	"iter.example/iter/core/msg"
	"iter.example/iter/core/records"
	"iter.example/iter/core/sheet"
	"iter.example/iter/core/work"
	"iter.example/iter/server/store"
)

// openedWith gives a new work order the next number, and the company's check sheets when it names none.
func openedWith(tx *store.Tx, policy records.Policy, raw json.RawMessage) (json.RawMessage, error) {
	var o work.Order
	if err := json.Unmarshal(raw, &o); err != nil {
		return nil, msg.New("entry.body", "kind", "work.opened")
	}
	var err error
	if o.Number, err = tx.NextNumber(); err != nil {
		return nil, err
	}
	if o.Sheets == nil {
		if o.Sheets, err = attached(tx, policy, o); err != nil {
			return nil, err
		}
	}
	return json.Marshal(o)
}

// numbered gives a new order to a supplier the next number.
func numbered(tx *store.Tx, raw json.RawMessage) (json.RawMessage, error) {
	var p ledger.PurchaseMade
	if err := json.Unmarshal(raw, &p); err != nil {
		return nil, msg.New("entry.body", "kind", "purchase.made")
	}
	n, err := tx.LastPurchase()
	if err != nil {
		return nil, err
	}
	p.Number = ledger.NextPurchase(n)
	return json.Marshal(p)
}

// attached lists the check sheets that the policy's rules attach to a work order; without rules, those for all work.
func attached(tx *store.Tx, policy records.Policy, o work.Order) ([]string, error) {
	if len(policy.SheetRules) == 0 {
		return policy.Sheets, nil
	}
	refs, err := tx.IDs("sheet")
	if err != nil {
		return nil, err
	}
	var a records.Asset
	if _, err := tx.Load("asset", o.Asset, &a); err != nil {
		return nil, err
	}
	return sheet.For(policy.SheetRules, sheet.Work{Kind: o.Kind, Asset: a.Kind, Site: o.Site}, refs), nil
}
