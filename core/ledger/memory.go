package ledger

import (
	"encoding/json"
	"reflect"

	"iter.example/iter/core/msg"
)

// Memory holds documents while entries are applied to them, one after another: each is read once and written when it is
// asked for. The zero value is ready for use.
type Memory struct{ docs map[Ref]*kept }

// kept is a document as text, as a value, or as both. A value without text is newer than what was put.
type kept struct {
	text  json.RawMessage
	value any // as a rule saved it: never a pointer
}

// Put gives a document as it is stored. A nil text says that it does not exist.
func (m *Memory) Put(r Ref, text json.RawMessage) {
	if m.docs == nil {
		m.docs = map[Ref]*kept{}
	}
	if string(text) == "null" {
		text = nil
	}
	m.docs[r] = &kept{text: text}
}

// Has tells whether a document was put or changed, be it there or not.
func (m *Memory) Has(r Ref) bool { return m.docs[r] != nil }

// Exists tells whether a document that was put or changed is there.
func (m *Memory) Exists(r Ref) bool {
	k := m.docs[r]
	return k != nil && (k.text != nil || k.value != nil)
}

// Text gives a document as it is to be stored: nil when it does not exist.
func (m *Memory) Text(r Ref) (json.RawMessage, error) {
	k := m.docs[r]
	if k == nil || k.text != nil || k.value == nil {
		if k == nil {
			return nil, nil
		}
		return k.text, nil
	}
	text, err := json.Marshal(k.value)
	if err != nil {
		return nil, msg.New("document.unwritable", "document", r.String())
	}
	k.text = text
	return text, nil
}

// Load reads a document into v, a pointer, and tells whether it exists. What v then refers to belongs to the memory.
func (m *Memory) Load(r Ref, v any) (bool, error) {
	if !m.Exists(r) {
		return false, nil
	}
	k := m.docs[r]
	to := reflect.ValueOf(v).Elem()
	if k.value != nil && reflect.TypeOf(k.value) == to.Type() {
		to.Set(reflect.ValueOf(k.value))
		return true, nil
	}
	text, err := m.Text(r)
	if err != nil {
		return false, err
	}
	if err := json.Unmarshal(text, v); err != nil {
		return false, msg.New("document.unreadable", "document", r.String())
	}
	k.value = to.Interface()
	return true, nil
}

// Apply applies an entry to the documents, which must have been put for all of its Keys that exist. It gives the documents
// that changed, and flags. On an error, a *msg.Code, the entry does not fit and nothing changed.
func (m *Memory) Apply(f *Fact) ([]Ref, []Flag, error) {
	tx := &tx{memory: m, entry: f.read}
	if err := f.kind.apply(tx, f.read, f.body); err != nil {
		return nil, nil, err
	}
	refs := make([]Ref, 0, len(tx.saved))
	for _, s := range tx.saved {
		if m.docs[s.ref] == nil {
			m.Put(s.ref, nil)
		}
		*m.docs[s.ref] = kept{value: s.value}
		refs = append(refs, s.ref)
	}
	return refs, tx.flags, nil
}

// Apply gives the documents that the entry changes, and flags. docs must hold those of Keys that exist; they stay as they are.
func (f *Fact) Apply(docs Docs) (Docs, []Flag, error) {
	var m Memory
	for _, k := range f.Keys() {
		m.Put(k, docs[k])
	}
	refs, flags, err := m.Apply(f)
	if err != nil {
		return nil, nil, err
	}
	changed := Docs{}
	for _, r := range refs {
		if changed[r], err = m.Text(r); err != nil {
			return nil, nil, err
		}
	}
	return changed, flags, nil
}

// tx is what a rule works on: documents in, changed documents and flags out. What a rule loads is shared with the entries
// after it: a rule changes it only once nothing can keep the entry from being applied.
type tx struct {
	memory *Memory
	saved  []saved
	flags  []Flag
	entry  Entry
	// asked is told of each document that a rule loads, and says whether it may: one that it may not counts as not there. Nil: any.
	asked func(Ref) (bool, error)
}

type saved struct {
	ref   Ref
	value any
}

func (t *tx) flag(code string, pairs ...string) { t.flagFor(t.entry.Actor, code, pairs...) }

// flagFor flags something about the entry that is for another person to look at as well.
func (t *tx) flagFor(person, code string, pairs ...string) {
	t.flags = append(t.flags, Flag{Code: *msg.New(code, pairs...), Entry: t.entry.ID, Subject: t.entry.Subject, Person: person})
}

// load reads a document into v, and tells whether it exists.
func (t *tx) load(r Ref, v any) (bool, error) {
	if t.asked != nil {
		if may, err := t.asked(r); !may || err != nil {
			return false, err
		}
	}
	return t.memory.Load(r, v)
}

// exists tells whether a document is there.
func (t *tx) exists(r Ref) bool { return t.memory.Exists(r) }

// save gives a changed document.
func (t *tx) save(r Ref, v any) {
	if p := reflect.ValueOf(v); p.Kind() == reflect.Pointer {
		v = p.Elem().Interface()
	}
	t.saved = append(t.saved, saved{r, v})
}
