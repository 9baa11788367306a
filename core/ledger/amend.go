package ledger

import (
	"bytes"
	"encoding/json"
	"maps"
	"slices"

	"iter.example/iter/core/msg"
	"iter.example/iter/core/records"
	"iter.example/iter/core/signoff"
)

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
	return f.amendsOnly(FieldsCorrected(f.Entry.Subject.Type))
}

// CorrectsContacts tells whether the entry is a correction that a technician may make of a record that their device does not hold.
func (f *Fact) CorrectsContacts() bool {
	return f.Correction() && f.amendsOnly(types[f.Entry.Subject.Type].met)
}

func (f *Fact) amendsOnly(may []string) bool {
	return !slices.ContainsFunc(fieldsOf(f.Entry.Body), func(name string) bool { return !slices.Contains(may, name) })
}

// Clash is a field that an amendment changes and that is no longer what the amendment was made from: what it is now, and what it
// would be. Values are JSON; a field in an object has the names of both, with a dot between.
type Clash struct {
	Field         string
	Theirs, Yours json.RawMessage
}

// maxClash is the longest value of a clash that is kept beside the one that stands, in bytes.
const maxClash = 8 << 10

// mergePatch applies an RFC 7396 merge patch to a record, and names the fields whose value is no longer the one in base.
// The patch stands all the same: the later change wins.
func mergePatch(doc, patch, base json.RawMessage) (json.RawMessage, []Clash, error) {
	if !json.Valid(doc) {
		return nil, nil, msg.New("document.unreadable")
	}
	if len(base) > 0 && fields(base) == nil {
		return nil, nil, msg.New("entry.body", "kind", "record.amended")
	}
	out, err := merged(doc, patch)
	if err != nil || fields(patch) == nil {
		return nil, nil, msg.New("entry.body", "kind", "record.amended")
	}
	return out, clashes("", doc, patch, base, false), nil
}

// merged gives a document with a merge patch (RFC 7396): its values, objects merged into objects, and without what is null.
func merged(doc, patch json.RawMessage) (json.RawMessage, error) {
	changes := fields(patch)
	if changes == nil {
		return patch, nil
	}
	out := fields(doc)
	if out == nil {
		out = map[string]json.RawMessage{}
	}
	for name, value := range changes {
		if string(value) == "null" {
			delete(out, name)
			continue
		}
		var err error
		if out[name], err = merged(out[name], value); err != nil {
			return nil, err
		}
	}
	return json.Marshal(out)
}

// clashes compares what a patch replaces with the base it was made on, field by field, and into objects where the patch goes
// into them. whole tells that base names all fields there were.
func clashes(path string, doc, patch, base json.RawMessage, whole bool) []Clash {
	have, want, had := fields(doc), fields(patch), fields(base)
	var out []Clash
	for _, f := range slices.Sorted(maps.Keys(want)) {
		was, known := had[f]
		if !known && !whole {
			continue
		}
		if fields(want[f]) != nil && fields(was) != nil {
			out = append(out, clashes(path+f+".", have[f], want[f], was, whole)...)
			continue
		}
		// Two people who wrote the same agree.
		if !same(was, have[f]) && !same(want[f], have[f]) {
			out = append(out, Clash{path + f, orNull(have[f]), orNull(want[f])})
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
	v, err := readRecord(e.Subject, e.V, merged)
	if err != nil {
		return err
	}
	// Whose it was counts, whatever else is wrong with it by now: an amendment may be what mends it.
	before := types[e.Subject.Type].body()
	if json.Unmarshal(old, before) == nil {
		if err := theirs(e, before); err != nil {
			return err
		}
	}
	if err := theirs(e, v); err != nil {
		return err
	}
	if err := t.fits(e.Subject, v); err != nil {
		return err
	}
	for _, c := range clashes {
		if len(c.Theirs) <= maxClash {
			t.flag("record.clash", "field", c.Field, "earlier", string(c.Theirs), "later", string(c.Yours))
		}
	}
	t.save(e.Subject, v)
	return nil
}

// Difference is a field of a record that is not the same in two bodies. A value that is not there is null.
type Difference struct {
	Field         string
	Before, After json.RawMessage
}

// Differences lists the fields in which two bodies of a record differ, by name; none of a type that is no record.
func Differences(typ string, before, after json.RawMessage) []Difference {
	if types[typ].body == nil {
		return nil
	}
	was, is := fields(before), fields(after)
	all := map[string]json.RawMessage{}
	maps.Copy(all, was)
	maps.Copy(all, is)
	var out []Difference
	for _, f := range slices.Sorted(maps.Keys(all)) {
		if !same(was[f], is[f]) {
			out = append(out, Difference{f, orNull(was[f]), orNull(is[f])})
		}
	}
	return out
}

func orNull(raw json.RawMessage) json.RawMessage {
	if len(raw) == 0 {
		return json.RawMessage("null")
	}
	return raw
}
