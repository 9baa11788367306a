package ledger

import (
	"bytes"
	"encoding/json"
	"maps"
	"slices"

	jsonpatch "github.com/evanphx/json-patch/v5"

	"iter.example/iter/core/msg"
	"iter.example/iter/core/records"
	"iter.example/iter/core/signoff"
)

// Editable are the fields of records that a technician may amend in the field.
var Editable = map[string][]string{
	"customer": {"contact"},
	"site":     {"access", "hazard", "contact", "areas"},
	"asset":    {"name", "maker", "serial", "installed"},
}

func checkAmendment(patch json.RawMessage) error {
	var fields map[string]json.RawMessage
	if err := json.Unmarshal(patch, &fields); err != nil || len(fields) == 0 {
		return msg.New("entry.body", "kind", "record.amended")
	}
	return nil
}

// Correction tells whether the entry amends only what a technician may amend.
func (f *Fact) Correction() bool {
	if f.Entry.Kind != "record.amended" {
		return false
	}
	var fields map[string]json.RawMessage
	if err := json.Unmarshal(f.Entry.Body, &fields); err != nil {
		return false
	}
	for name := range fields {
		if !slices.Contains(Editable[f.Entry.Subject.Type], name) {
			return false
		}
	}
	return true
}

// clash is a field that somebody else changed between the base an amendment was made on and its arrival. Values are JSON.
type clash struct{ field, earlier, later string }

// maxClash is the longest value of a clash that is kept beside the one that stands, in bytes.
const maxClash = 8 << 10

// mergePatch applies an RFC 7396 merge patch to a record, and names the fields whose value is no longer the one in base.
// The patch stands all the same: the later change wins.
func mergePatch(doc, patch, base json.RawMessage) (json.RawMessage, []clash, error) {
	if !json.Valid(doc) {
		return nil, nil, msg.New("document.unreadable")
	}
	if len(base) > 0 && fields(base) == nil {
		return nil, nil, msg.New("entry.body", "kind", "record.amended")
	}
	out, err := jsonpatch.MergePatch(doc, patch)
	if err != nil {
		return nil, nil, msg.New("entry.body", "kind", "record.amended")
	}
	return out, clashes("", doc, patch, base), nil
}

// clashes compares what a patch replaces with the base it was made on, field by field, and into objects where the patch goes
// into them.
func clashes(path string, doc, patch, base json.RawMessage) []clash {
	have, want, had := fields(doc), fields(patch), fields(base)
	var out []clash
	for _, f := range slices.Sorted(maps.Keys(want)) {
		was, known := had[f]
		if !known {
			continue
		}
		if fields(want[f]) != nil && fields(was) != nil {
			out = append(out, clashes(path+f+".", have[f], want[f], was)...)
			continue
		}
		// Two people who wrote the same agree.
		if len(have[f]) <= maxClash && !same(was, have[f]) && !same(want[f], have[f]) {
			out = append(out, clash{path + f, text(have[f]), text(want[f])})
		}
	}
	return out
}

// fields reads an object; what is none has none.
func fields(raw json.RawMessage) map[string]json.RawMessage {
	var out map[string]json.RawMessage
	if json.Unmarshal(raw, &out) != nil {
		return nil
	}
	return out
}

// text is a JSON value as it is kept in a flag; absent is null.
func text(raw json.RawMessage) string {
	if len(raw) == 0 {
		return "null"
	}
	return string(raw)
}

// same compares JSON values by what they say. Absent, null and empty text are the same: records leave out what is empty.
func same(a, b json.RawMessage) bool {
	plain := func(raw json.RawMessage) json.RawMessage {
		if len(raw) == 0 || string(raw) == `""` {
			return json.RawMessage("null")
		}
		return raw
	}
	a, b = plain(a), plain(b)
	ca, erra := signoff.Canonical(a)
	cb, errb := signoff.Canonical(b)
	if erra != nil || errb != nil {
		return bytes.Equal(a, b)
	}
	return bytes.Equal(ca, cb)
}

func amended(t *tx, e Entry, patch json.RawMessage) error {
	if !t.exists(e.Subject) {
		return msg.New("record.unknown", "type", records.Clip(e.Subject.Type), "id", e.Subject.ID)
	}
	if e.Subject.Type == "sheet" {
		return msg.New("sheet.published")
	}
	old, err := t.memory.Text(e.Subject)
	if err != nil {
		return err
	}
	merged, clashes, err := mergePatch(old, patch, e.Base)
	if err != nil {
		return err
	}
	v, err := record(e.Subject, merged)
	if err != nil {
		return err
	}
	for _, c := range clashes {
		t.flag("record.clash", "field", c.field, "earlier", c.earlier, "later", c.later)
	}
	t.save(e.Subject, v)
	return nil
}
