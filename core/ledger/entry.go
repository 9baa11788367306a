// Package ledger is the one write path: entries, the documents each touches, and how it changes them.
//
// An entry is a fact that was recorded, in the field or at the office. Documents are folded from entries, in the order the
// server took them, by Apply; the same code does it on the server and on every device. Nothing here reads a clock or draws
// a random number, and no input makes it panic.
package ledger

import (
	"cmp"
	"encoding/json"
	"strings"
	"time"

	"iter.example/iter/core/audit"
	"iter.example/iter/core/msg"
)

// Ref names a document.
type Ref struct {
	Type string `json:"type"`
	ID   string `json:"id"`
}

func (r Ref) String() string { return r.Type + "/" + r.ID }

// Compare orders names by type, then by id.
func (r Ref) Compare(o Ref) int { return cmp.Or(cmp.Compare(r.Type, o.Type), cmp.Compare(r.ID, o.ID)) }

// Doc is a document at a revision: the seq of the last entry that changed it.
type Doc struct {
	Ref
	Rev  int64           `json:"rev"`
	Body json.RawMessage `json:"body"`
}

// Entry is a recorded fact.
type Entry struct {
	ID      string          `json:"id"` // ULID, made where it is recorded
	Kind    string          `json:"kind"`
	V       int             `json:"v"`  // version of the kind
	At      time.Time       `json:"at"` // on the company's clock, to the millisecond
	Actor   string          `json:"actor"`
	Replica string          `json:"replica"`
	N       int64           `json:"n"` // increasing, per device
	Subject Ref             `json:"subject"`
	Body    json.RawMessage `json:"body"`
	Base    json.RawMessage `json:"base,omitempty"` // of an amendment: the values it replaced
	// Proof is of an entry from a shared terminal: that its actor was there. The log does not keep it.
	Proof *Proof `json:"proof,omitempty"`
}

// line is what whatever the entry adds to a document says of it.
func (e Entry) line() audit.Line { return audit.Line{Entry: e.ID, At: e.At, Person: e.Actor} }

// Flag is something about an entry that a person must look at.
type Flag struct {
	msg.Code
	Entry   string `json:"entry"`
	Subject Ref    `json:"subject"`
	Person  string `json:"person"` // whose entry it is
}

// Docs are documents by name. An absent one does not exist.
type Docs map[Ref]json.RawMessage

// Has tells whether a document is known, be it there or not.
func (d Docs) Has(r Ref) bool {
	_, known := d[r]
	return known
}

// Load reads a document into v, a pointer, and tells whether it exists.
func (d Docs) Load(r Ref, v any) (bool, error) {
	text := d[r]
	if len(text) == 0 || string(text) == "null" {
		return false, nil
	}
	if err := json.Unmarshal(text, v); err != nil {
		return false, msg.New("document.unreadable", "document", r.String())
	}
	return true, nil
}

// MaxBody is the largest body of an entry, in bytes.
const MaxBody = 256 << 10

// ulid tells whether s is 26 characters of Crockford's base 32, upper case, within 128 bits.
func ulid(s string) bool {
	if len(s) != 26 || s[0] > '7' {
		return false
	}
	for _, r := range s {
		if !strings.ContainsRune("0123456789ABCDEFGHJKMNPQRSTVWXYZ", r) {
			return false
		}
	}
	return true
}
