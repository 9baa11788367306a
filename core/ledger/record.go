package ledger

import (
	"encoding/json"

	"iter.example/iter/core/msg"
	"iter.example/iter/core/records"
	"iter.example/iter/core/sheet"
	"iter.example/iter/core/stock"
)

func recordKinds() table {
	return table{
		"record.amended": row[json.RawMessage]{office: byType, check: checkAmendment, keys: recordKeys[json.RawMessage], apply: amended,
			prepare: []Preparation{Programs},
			undo:    amendedBack, final: "a record is amended again", raise: []raise{asItWas, policyV2}}.kind(),
	}
}

func recordOfficeKinds() table {
	return table{
		"record.created": row[json.RawMessage]{office: byType, keys: recordKeys[json.RawMessage], apply: created,
			prepare: []Preparation{Programs},
			undo:    createdNoMore, final: "a record is amended",
			raise: []raise{asItWas, policyV2}}.kind(),
		"asset.moved": row[AssetMoved]{subject: "asset", office: planners, check: checkAssetMoved, keys: assetMovedKeys, apply: assetMoved,
			undo: assetBack, final: "it is moved back"}.kind(),
		"site.moved": row[SiteMoved]{subject: "site", office: planners, check: checkSiteMoved, keys: siteMovedKeys, apply: siteMoved,
			undo: siteBack, final: "it is moved back"}.kind(),
		"record.merged": row[Merged]{office: planners, check: checkMerged, keys: mergedKeys, apply: recordMerged,
			undo: mergedBack("record.parted"), final: "they are parted"}.kind(),
		"record.parted": row[Merged]{office: planners, check: checkMerged, keys: mergedKeys, apply: recordParted,
			undo: mergedBack("record.merged"), final: "they are merged again"}.kind(),
	}
}

// sheetDraft is a sheet that is being designed: whatever is wrong with it yet, it is kept.
type sheetDraft struct{ sheet.Sheet }

func (d sheetDraft) Check() error { return records.CheckText("title", d.Title, true, 200) }

type place struct{ stock.Place }

func (p place) Check() error { return records.CheckText("name", p.Name, true, 200) }

// asItWas leaves an entry of an earlier version as it is: what is asked or done since is not of what was recorded before.
func asItWas(e Entry) (Entry, error) { return e, nil }

// newChecker is a record of which more is asked since version 2.
type newChecker interface{ CheckNew() error }

// readRecord reads a body as the record its subject names. v is the version of the entry.
func readRecord(r Ref, v int, raw json.RawMessage) (any, error) {
	row := types[r.Type]
	if row.body == nil {
		return nil, msg.New("record.type", "type", records.Clip(r.Type))
	}
	out := row.body()
	if err := json.Unmarshal(raw, out); err != nil {
		return nil, msg.New("entry.body", "kind", r.Type)
	}
	if err := out.Check(); err != nil {
		return nil, msg.From(err)
	}
	if strict, more := out.(newChecker); more && v > 1 {
		if err := strict.CheckNew(); err != nil {
			return nil, msg.From(err)
		}
	}
	return out, nil
}

// owned is a record that nobody makes or changes but whose it is.
type owned interface{ OwnedBy(person string) error }

// theirs says whether a record that somebody owns is theirs who recorded the entry.
func theirs(e Entry, record any) error {
	if o, ok := record.(owned); ok {
		return o.OwnedBy(e.Actor)
	}
	return nil
}

func created(t *tx, e Entry, raw json.RawMessage) error {
	if t.exists(e.Subject) {
		return msg.New("record.exists", "type", e.Subject.Type, "id", e.Subject.ID)
	}
	v, err := readRecord(e.Subject, e.V, raw)
	if err != nil {
		return err
	}
	if err := theirs(e, v); err != nil {
		return err
	}
	if err := t.fits(e.Subject, v); err != nil {
		return err
	}
	t.save(e.Subject, v)
	return nil
}
