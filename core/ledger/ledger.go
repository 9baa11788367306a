// Package ledger is the one write path: entries, the documents each touches, and how it changes them.
//
// An entry is a fact that was recorded, in the field or at the office. Documents are folded from entries, in the order the
// server took them, by Apply; the same code does it on the server and on every device. Nothing here reads a clock or draws
// a random number, and no input makes it panic.
package ledger

import (
	"encoding/json"
	"slices"
	"strings"
	"time"

	"iter.example/iter/core/msg"
	"iter.example/iter/core/records"
)

// Ref names a document.
type Ref struct {
	Type string `json:"type"`
	ID   string `json:"id"`
}

func (r Ref) String() string { return r.Type + "/" + r.ID }

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
	N       int64           `json:"n"` // 1, 2, 3 … per replica
	Subject Ref             `json:"subject"`
	Body    json.RawMessage `json:"body"`
	Base    json.RawMessage `json:"base,omitempty"` // of an amendment: the values it replaced
	// Proof is of an entry from a shared terminal: that its actor was there. The log does not keep it.
	Proof *Proof `json:"proof,omitempty"`
}

// Flag is something about an entry that a person must look at.
type Flag struct {
	msg.Code
	Entry   string `json:"entry"`
	Subject Ref    `json:"subject"`
	Person  string `json:"person"` // whose entry it is
}

// Docs are documents by name. An absent one does not exist.
type Docs map[Ref]json.RawMessage

// MaxBody is the largest body of an entry, in bytes.
const MaxBody = 256 << 10

// Fact is an entry that was found well formed, with its body read.
type Fact struct {
	Entry Entry
	kind  *kind
	body  any
}

// Open reads an entry. The error is a *msg.Code that says why it can't be taken: an unknown kind or version, a body
// that does not read, a quantity that can't be meant, and the like. Whether it fits the documents is for Apply.
//
// An entry of an earlier version is read as if it had been recorded today; the log keeps it as it was.
func Open(e Entry) (fact *Fact, err error) {
	k, ok := kinds[e.Kind]
	if !ok {
		return nil, msg.New("entry.kind", "kind", records.Clip(e.Kind))
	}
	if e.V < 1 || e.V > k.version() {
		return nil, msg.New("entry.version", "kind", e.Kind)
	}
	if len(e.Body) > MaxBody || len(e.Base) > MaxBody {
		return nil, msg.New("entry.large")
	}
	if !ulid(e.ID) {
		return nil, msg.New("entry.id")
	}
	if y := e.At.Year(); y < 2000 || y > 2200 {
		return nil, msg.New("entry.time")
	}
	if e.Subject.Type != k.subject && k.subject != "" {
		return nil, msg.New("entry.subject", "kind", e.Kind)
	}
	if err = records.CheckID(e.Subject.ID); err != nil {
		return nil, err
	}
	if err = records.CheckID(e.Actor); err != nil {
		return nil, err
	}
	now := e
	for _, raise := range k.raise[e.V-1:] {
		if now, err = raise(now); err != nil {
			return nil, msg.New("entry.body", "kind", e.Kind)
		}
	}
	body, err := k.read(now)
	if err != nil {
		return nil, err
	}
	return &Fact{e, k, body}, nil
}

// Version is the version of a kind that is recorded today; 1 for a kind that is not known.
func Version(name string) int {
	if k, ok := kinds[name]; ok {
		return k.version()
	}
	return 1
}

// Field tells whether the entry is a fact from the field, which is never refused, rather than an office command.
func (f *Fact) Field() bool { return f.kind.roles == nil || f.kind.field }

// Office tells whether it can be an office command. Some facts are recorded in the field and at the office.
func (f *Fact) Office() bool { return f.kind.roles != nil }

// AtTerminal tells whether a shared terminal records it for those who identify themselves at it.
func (f *Fact) AtTerminal() bool { return f.kind.terminal }

// MayCommand tells whether a person may record the entry as an office command. For a record it depends on its type and on the fields
// that are set.
func (f *Fact) MayCommand(p records.Person) bool {
	e := f.Entry
	row := types[e.Subject.Type]
	switch e.Kind {
	case "record.created":
		return p.Has(row.create...) && !slices.ContainsFunc(fieldsOf(e.Body), func(field string) bool {
			roles, own := row.fields[field]
			return own && !p.Has(roles...)
		})
	case "record.amended":
		return !slices.ContainsFunc(fieldsOf(e.Body), func(field string) bool { return !p.Has(row.amenders(field)...) })
	}
	return p.Has(f.kind.roles...)
}

// Needs lists the roles of which an office command takes one; of a record, those that its type asks for, or the first field that a person
// may not amend.
func (f *Fact) Needs(p records.Person) []records.Role {
	row := types[f.Entry.Subject.Type]
	switch f.Entry.Kind {
	case "record.created":
		return row.create
	case "record.amended":
		for _, field := range fieldsOf(f.Entry.Body) {
			if roles := row.amenders(field); !p.Has(roles...) {
				return roles
			}
		}
	}
	return f.kind.roles
}

// Commands lists the kinds that a person may record at the office; of records once for each type that they create or amend fields of, as
// "record.created place".
func Commands(p records.Person) []string {
	out := []string{}
	for _, name := range Kinds() {
		if p.Has(kinds[name].roles...) {
			out = append(out, name)
		}
	}
	for _, t := range Types() {
		if p.Has(t.Create...) {
			out = append(out, "record.created "+t.Name)
		}
		if slices.ContainsFunc(t.Fields, func(f FieldRow) bool { return p.Has(f.Amend...) }) {
			out = append(out, "record.amended "+t.Name)
		}
	}
	return out
}

// MayTakeOn tells whether a person at the office may decide that the entry counts although it was held: they need the right to
// record it, and the judges decide on facts that only the field records.
func (f *Fact) MayTakeOn(p records.Person) bool {
	return f.MayCommand(p) || (!f.Office() && p.Has(judges...))
}

// Keys lists the documents that the entry touches or that its rules read.
func (f *Fact) Keys() []Ref { return f.kind.keys(f.Entry, f.body) }

// Guards lists the documents that must be as whoever gives the office command saw them.
func (f *Fact) Guards() []Ref {
	if f.kind.beside {
		return nil
	}
	out := []Ref{f.Entry.Subject}
	if b, ok := f.body.(Plan); ok {
		out = append(out, Ref{"workorder", b.Order}) // two people may plan the same work at once
	}
	return out
}

// Apply opens an entry and applies it.
func Apply(docs Docs, e Entry) (Docs, []Flag, error) {
	f, err := Open(e)
	if err != nil {
		return nil, nil, err
	}
	return f.Apply(docs)
}

// Kinds lists all kinds of entry, sorted.
func Kinds() []string {
	out := make([]string, 0, len(kinds))
	for k := range kinds {
		out = append(out, k)
	}
	slices.Sort(out)
	return out
}

// KindRow is a row of the table of kinds, for whoever shows or tests it.
type KindRow struct {
	Name     string
	Office   []records.Role // who records it at the office; nobody when it is a fact from the field alone
	Field    bool           // recorded in the field
	Terminal bool           // recorded at a shared terminal
}

// KindRows lists the table of kinds, by name.
func KindRows() []KindRow {
	var out []KindRow
	for _, name := range Kinds() {
		k := kinds[name]
		out = append(out, KindRow{name, k.roles, k.roles == nil || k.field, k.terminal})
	}
	return out
}

// kind is one kind of entry. subject is the type of document it is about, "" for any record; roles are those who may
// record it as an office command, nil for a fact from the field.
type kind struct {
	subject string
	roles   []records.Role
	read    func(Entry) (any, error)
	keys    func(Entry, any) []Ref
	apply   func(*tx, Entry, any) error
	raise   []raise
	field   bool // recorded in the field too
	// terminal tells that a shared terminal records it too.
	terminal bool
	// beside tells that it may be recorded whatever became of its subject meanwhile, as a word in a conversation may.
	beside bool
}

// raise makes of an entry of one version one of the next.
type raise func(Entry) (Entry, error)

// rewritten is an entry with another body: what change makes of it.
func rewritten(e Entry, change func(body map[string]any)) (Entry, error) {
	var b map[string]any
	if err := json.Unmarshal(e.Body, &b); err != nil || b == nil {
		return e, msg.New("entry.body", "kind", e.Kind)
	}
	change(b)
	raw, err := json.Marshal(b)
	e.Body = raw
	return e, err
}

func (k *kind) version() int { return 1 + len(k.raise) }

// since gives the kind its earlier versions: how each is raised to the next, from the first.
func (k *kind) since(earlier ...raise) *kind {
	k.raise = earlier
	return k
}

// both makes an office command a fact from the field as well.
func (k *kind) both() *kind {
	k.field = true
	return k
}

// shared has the kind recorded at a shared terminal as well.
func (k *kind) shared() *kind {
	k.terminal = true
	return k
}

// whatever lets the office record the kind whatever became of its subject meanwhile.
func (k *kind) whatever() *kind {
	k.beside = true
	return k
}

// of builds a kind from functions on its body's type.
func of[B any](subject string, roles []records.Role, check func(B) error, keys func(Entry, B) []Ref, apply func(*tx, Entry, B) error) *kind {
	return &kind{
		subject: subject, roles: roles,
		read: func(e Entry) (any, error) {
			var b B
			if len(e.Body) > 0 {
				if err := json.Unmarshal(e.Body, &b); err != nil {
					return nil, msg.New("entry.body", "kind", e.Kind)
				}
			}
			if check != nil {
				if err := check(b); err != nil {
					return nil, msg.From(err)
				}
			}
			return b, nil
		},
		keys: func(e Entry, b any) []Ref {
			out := []Ref{e.Subject}
			if keys != nil {
				out = append(out, keys(e, b.(B))...)
			}
			return out
		},
		apply: func(t *tx, e Entry, b any) error { return apply(t, e, b.(B)) },
	}
}

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
