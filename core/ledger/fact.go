package ledger

import (
	"cmp"
	"slices"

	"iter.example/iter/core/msg"
	"iter.example/iter/core/records"
)

// Fact is an entry that was found well formed, with its body read.
type Fact struct {
	Entry Entry // as it was recorded
	read  Entry // as it would be recorded today, but for its version
	kind  kind
	body  any
}

// Open reads an entry. The error is a *msg.Code that says why it can't be taken: an unknown kind or version, a body
// that does not read, a quantity that can't be meant, and the like. Whether it fits the documents is for Apply.
//
// An entry of an earlier version is read as if it had been recorded today, be it of another kind and about another document; the log
// keeps it as it was.
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
	k = kinds[now.Kind]
	body, err := k.read(now)
	if err != nil {
		return nil, err
	}
	return &Fact{e, now, k, body}, nil
}

// Field tells whether the entry is a fact from the field, which is never refused, rather than an office command.
func (f *Fact) Field() bool { return f.kind.field }

// Office tells whether it can be an office command. Some facts are recorded in the field and at the office.
func (f *Fact) Office() bool { return f.kind.office != nil }

// AtTerminal tells whether a shared terminal records it for those who identify themselves at it.
func (f *Fact) AtTerminal() bool { return f.kind.terminal }

// Phoned tells whether the office writes it down for whoever did it and tells it by telephone.
func (f *Fact) Phoned() bool { return f.kind.phoned }

// MayCommand tells whether a person may record the entry as an office command. For a record it depends on its type and on the fields
// that are set.
func (f *Fact) MayCommand(p records.Person) bool {
	e := f.read
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
	return p.Has(f.kind.office...)
}

// Needs lists the roles of which an office command takes one; of a record, those that its type asks for, or the first field that a person
// may not amend.
func (f *Fact) Needs(p records.Person) []records.Role {
	row := types[f.read.Subject.Type]
	switch f.read.Kind {
	case "record.created":
		return row.create
	case "record.amended":
		for _, field := range fieldsOf(f.read.Body) {
			if roles := row.amenders(field); !p.Has(roles...) {
				return roles
			}
		}
	}
	return f.kind.office
}

// MayTakeOn tells whether a person at the office may decide that the entry counts although it was held: they need the right to
// record it, and the judges decide on facts that only the field records.
func (f *Fact) MayTakeOn(p records.Person) bool {
	return f.MayCommand(p) || (!f.Office() && p.Has(judges...))
}

// Keys lists the documents that the entry touches or that its rules read: first its subject.
func (f *Fact) Keys() []Ref {
	out := []Ref{f.read.Subject}
	if f.kind.keys != nil {
		out = append(out, f.kind.keys(f.read, f.body)...)
	}
	return out
}

// Guards lists the documents that must be as whoever gives the office command saw them.
func (f *Fact) Guards() []Ref {
	if f.kind.beside {
		return nil
	}
	out := []Ref{f.read.Subject}
	if f.kind.guards != nil {
		out = append(out, f.kind.guards(f.body)...)
	}
	return out
}

// Clashes lists what of a document that it guards the entry would change and is no longer what the entry says that it replaces. ok is false
// of an entry that does not say what it replaces.
func (f *Fact) Clashes(d Doc) (list []Clash, ok bool, err error) {
	if len(f.read.Base) == 0 {
		return nil, false, nil
	}
	switch b := f.body.(type) {
	case SettingsChanged:
		list, err = b.clashes(d, f.read.Base)
		return list, true, err
	default:
		if f.read.Kind != "record.amended" {
			return nil, false, nil
		}
		return clashes("", d.Body, f.read.Body, f.read.Base, true), true, nil
	}
}

// Whose says whose the subject must be for a device to record the entry.
func (f *Fact) Whose() Whose {
	if f.kind.whose != OfType {
		return f.kind.whose
	}
	return cmp.Or(types[f.read.Subject.Type].whose, TheirPlace)
}

// Subject names the document that the entry is about: for an entry of an earlier version, that which took the place of what it names.
func (f *Fact) Subject() Ref { return f.read.Subject }

// Sends tells whether a customer gets the entry through the gateway.
func (f *Fact) Sends() bool { return f.kind.sends }

// Movements lists what the entry moves. What arrives for requests is kept for their work orders, and not listed again.
func (f *Fact) Movements() []Movement {
	if f.kind.moves == nil {
		return nil
	}
	return f.kind.moves(f.read, f.body)
}

// Marks gives the flags that the entry says are seen or settled, and whether it says so of any.
func (f *Fact) Marks() (FlagMark, bool) {
	if f.kind.marks == nil {
		return FlagMark{}, false
	}
	return f.kind.marks(f.read, f.body), true
}

// Strikes names the entry that this one strikes out, or restores; "" when it does neither.
func (f *Fact) Strikes() (entry string, struck bool) {
	b, ok := f.body.(Struck)
	return b.Entry, ok && f.read.Kind != restoredKind
}

// Preparations lists what the server fills in of an office command of a kind.
func Preparations(kind string) []Preparation { return kinds[kind].prepare }

// Apply opens an entry and applies it.
func Apply(docs Docs, e Entry) (Docs, []Flag, error) {
	f, err := Open(e)
	if err != nil {
		return nil, nil, err
	}
	return f.Apply(docs)
}

// Right is what may be recorded at the office: a kind of entry; of records a kind with the type of document, as "record.created place".
type Right string

// Values lists the rights there are, for generated types.
func (Right) Values() []string {
	var out []string
	for _, r := range rights(func(roles []records.Role) bool { return len(roles) > 0 }) {
		out = append(out, string(r))
	}
	return out
}

// RightsOf lists what a person may record at the office; amend a record when they may a field of it.
func RightsOf(p records.Person) []Right {
	return rights(func(roles []records.Role) bool { return p.Has(roles...) })
}

// rights are those whose roles will do.
func rights(do func(roles []records.Role) bool) []Right {
	out := []Right{}
	for _, name := range Kinds() {
		if do(kinds[name].office) {
			out = append(out, Right(name))
		}
	}
	for _, t := range Types() {
		if do(t.Create) {
			out = append(out, Right("record.created "+t.Name))
		}
		if slices.ContainsFunc(t.Fields, func(f FieldRow) bool { return do(f.Amend) }) {
			out = append(out, Right("record.amended "+t.Name))
		}
	}
	return out
}
