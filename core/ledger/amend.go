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

// clash is a field that somebody else changed between the base an amendment was made on and its arrival.
type clash struct{ field, was, now string }

// mergePatch applies an RFC 7396 merge patch to a record, and names the fields whose value is no longer the one in base.
// The patch stands all the same: the later change wins.
func mergePatch(doc, patch, base json.RawMessage) (json.RawMessage, []clash, error) {
	var fields, had, have map[string]json.RawMessage
	if err := json.Unmarshal(patch, &fields); err != nil || len(fields) == 0 {
		return nil, nil, msg.New("entry.body", "kind", "record.amended")
	}
	if len(base) > 0 {
		if err := json.Unmarshal(base, &had); err != nil {
			return nil, nil, msg.New("entry.body", "kind", "record.amended")
		}
	}
	if err := json.Unmarshal(doc, &have); err != nil {
		return nil, nil, msg.New("document.unreadable")
	}
	var clashes []clash
	for _, f := range slices.Sorted(maps.Keys(had)) {
		if _, patched := fields[f]; patched && !same(had[f], have[f]) {
			clashes = append(clashes, clash{f, records.Clip(string(had[f])), records.Clip(string(have[f]))})
		}
	}
	out, err := jsonpatch.MergePatch(doc, patch)
	if err != nil {
		return nil, nil, msg.New("entry.body", "kind", "record.amended")
	}
	return out, clashes, nil
}

// same compares JSON values by what they say. Absent and null are the same.
func same(a, b json.RawMessage) bool {
	if len(a) == 0 {
		a = json.RawMessage("null")
	}
	if len(b) == 0 {
		b = json.RawMessage("null")
	}
	ca, erra := signoff.Canonical(a)
	cb, errb := signoff.Canonical(b)
	if erra != nil || errb != nil {
		return bytes.Equal(a, b)
	}
	return bytes.Equal(ca, cb)
}
