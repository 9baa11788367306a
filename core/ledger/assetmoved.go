package ledger

import (
	"slices"
	"strconv"
	"time"

	"iter.example/iter/core/audit"
	"iter.example/iter/core/msg"
	"iter.example/iter/core/records"
)

// AssetMoved is the body of asset.moved: a machine goes to another site, with the components that hang under it, or leaves those that are
// known.
type AssetMoved struct {
	Why        records.MoveReason `json:"why"`
	Site       string             `json:"site,omitempty"`  // where to; none of one that is scrapped, or sold to somebody unknown
	Until      string             `json:"until,omitempty"` // of one that is lent or rented, 2006-01-02
	Note       string             `json:"note,omitempty"`
	Components []string           `json:"components,omitempty"`
}

// maxComponents is how many components go with a machine.
const maxComponents = 100

func checkAssetMoved(b AssetMoved) error {
	if !slices.Contains(b.Why.Values(), string(b.Why)) {
		return msg.New("asset.why")
	}
	away := b.Why == records.Scrapped || b.Why == records.Sold && b.Site == ""
	if (b.Site == "") != away {
		return msg.New("asset.where")
	}
	if b.Until != "" {
		if _, err := time.Parse(time.DateOnly, b.Until); err != nil || b.Why != records.Lent && b.Why != records.Rented {
			return msg.New("asset.until")
		}
	}
	if len(b.Components) > maxComponents {
		return msg.New("asset.components", "max", strconv.Itoa(maxComponents))
	}
	if err := checkOptional(append([]string{b.Site}, b.Components...)...); err != nil {
		return err
	}
	return records.CheckText("note", b.Note, false, 500)
}

func assetMovedKeys(_ Entry, b AssetMoved) []Ref {
	var out []Ref
	if b.Site != "" {
		out = append(out, Ref{"site", b.Site})
	}
	for _, c := range b.Components {
		out = append(out, Ref{"asset", c})
	}
	return out
}

func assetMoved(t *tx, e Entry, b AssetMoved) error {
	if b.Site != "" && !t.exists(Ref{"site", b.Site}) {
		return msg.New("record.unknown", "type", "site", "id", b.Site)
	}
	for i, id := range append([]string{e.Subject.ID}, b.Components...) {
		ref := Ref{"asset", id}
		var a records.Asset
		if ok, err := t.load(ref, &a); err != nil {
			return err
		} else if !ok {
			return msg.New("record.unknown", "type", "asset", "id", id)
		}
		if i > 0 && a.Parent == "" {
			return msg.New("asset.component", "name", records.Clip(a.Name))
		}
		a.Moves = audit.Add(a.Moves, records.AssetMove{Line: e.line(), Why: b.Why, From: a.Site, To: b.Site, Until: b.Until, Note: b.Note})
		switch {
		case b.Site == "":
			a.Removed = e.At.Format(time.DateOnly)
		default:
			a.Site, a.Removed = b.Site, ""
		}
		t.save(ref, a)
	}
	return nil
}

// assetBack brings a machine back to where it was.
func assetBack(before Loader, e Entry, b AssetMoved) ([]Command, error) {
	var a records.Asset
	if ok, err := before(e.Subject, &a); err != nil || !ok {
		return nil, err
	}
	return []Command{{Kind: e.Kind, Subject: e.Subject, Body: AssetMoved{Why: records.Back, Site: a.Site, Components: b.Components}}}, nil
}
