package ledger

import (
	"encoding/json"
	"maps"
	"reflect"
	"runtime"
	"slices"

	"iter.example/iter/core/msg"
	"iter.example/iter/core/records"
)

// table holds rows of the table of kinds, by the kind's name. Rows stand in the file of their subject.
type table map[string]kind

// kinds is the table of kinds. A rule that strikes an entry out looks the entry's kind up in it, so it is put together once the program
// runs.
var kinds = table{}

// onDevice tells that this is the core of a device. Kinds that only the office records are not in it: a device is told of documents, and
// applies no entries but its own.
const onDevice = runtime.GOOS == "js"

func init() {
	rows := []table{
		recordKinds(), orderKinds(), visitKinds(), stepKinds(), taskKinds(), crewKinds(), noteKinds(), troubleKinds(), signoffKinds(),
		messageKinds(),
		reviewKinds(), proposalKinds(), reportKinds(), absenceKinds(), talkKinds(), sheetKinds(), readingKinds(), fileKinds(),
		substanceKinds(), partKinds(), requestKinds(), placeKinds(), timecardKinds(), struckKinds(), flagKinds(),
	}
	if !onDevice {
		rows = append(rows, recordOfficeKinds(), settingsOfficeKinds(), orderOfficeKinds(), visitOfficeKinds(), draftOfficeKinds(),
			reviewOfficeKinds(),
			requestOfficeKinds(), purchaseOfficeKinds(), placeOfficeKinds(), timecardOfficeKinds(), absenceOfficeKinds(), struckOfficeKinds(),
			flagOfficeKinds(), upkeepOfficeKinds(), incidentOfficeKinds())
	}
	for _, of := range rows {
		maps.Copy(kinds, of)
	}
}

// row is what there is to say of a kind of entry with a body B. What is left out is so for most kinds.
type row[B any] struct {
	// subject is the type of document that an entry is about; "" for a record of any type.
	subject string
	// office are those who record it as an office command, which may be refused; nobody when it is a fact from the field alone, which is
	// not.
	office []records.Role
	// field tells of an office command that it is recorded in the field too.
	field bool
	// terminal tells that a shared terminal records it for those who identify themselves at it.
	terminal bool
	// phoned tells that the office writes it down for whoever did it and tells it by telephone.
	phoned bool
	// beside tells that the office may record it whatever became of its subject meanwhile, as a word in a conversation may.
	beside bool
	// whose says whose the subject must be when a device records it; as the type of the subject has it, when left out.
	whose Whose
	// prepare is what the server fills in of an office command.
	prepare []Preparation
	// sends tells that a customer gets it through the gateway.
	sends bool

	check func(B) error
	// keys are the documents, beside the subject, that apply loads or saves.
	keys func(Entry, B) []Ref
	// guards are the documents, beside the subject, that must be as whoever gives the command saw them.
	guards func(B) []Ref
	apply  func(*tx, Entry, B) error
	// strike cancels what an entry did, or lets it count again. A kind has this or final.
	strike striker
	// final says why an entry of the kind is not struck out.
	final string
	// undo are the commands that take one back at the office, for Fact.Undo. A kind that is struck out needs none.
	undo func(Loader, Entry, B) ([]Command, error)
	// moves are the changes of stock that an entry makes.
	moves func(Entry, B) []Movement
	// marks are the flags that an entry says are seen or settled.
	marks func(Entry, B) FlagMark
	// raise are the earlier versions: how each is raised to the next, from the first.
	raise []raise
}

// kind is a row whose body is of any type.
type kind struct {
	row[any]
	body reflect.Type
}

// read reads and checks an entry's body. The error is a *msg.Code.
func (k kind) read(e Entry) (any, error) {
	b := reflect.New(k.body)
	if len(e.Body) > 0 {
		if err := json.Unmarshal(e.Body, b.Interface()); err != nil {
			return nil, msg.New("entry.body", "kind", e.Kind)
		}
	}
	body := b.Elem().Interface()
	if k.check != nil {
		if err := k.check(body); err != nil {
			return nil, msg.From(err)
		}
	}
	return body, nil
}

// kind makes a row of the table.
func (r row[B]) kind() kind {
	k := kind{body: reflect.TypeFor[B]()}
	k.subject, k.office, k.field, k.terminal, k.phoned, k.beside, k.whose, k.prepare, k.sends = r.subject, r.office,
		r.field || r.office == nil && r.whose != Anybodys, r.terminal, r.phoned, r.beside, r.whose, r.prepare, r.sends
	k.strike, k.final, k.raise = r.strike, r.final, r.raise
	if r.check != nil {
		k.check = func(b any) error { return r.check(b.(B)) }
	}
	k.apply = func(t *tx, e Entry, b any) error { return r.apply(t, e, b.(B)) }
	if r.keys != nil {
		k.keys = func(e Entry, b any) []Ref { return r.keys(e, b.(B)) }
	}
	if r.guards != nil {
		k.guards = func(b any) []Ref { return r.guards(b.(B)) }
	}
	if r.undo != nil {
		k.undo = func(before Loader, e Entry, b any) ([]Command, error) { return r.undo(before, e, b.(B)) }
	}
	if r.moves != nil {
		k.moves = func(e Entry, b any) []Movement { return r.moves(e, b.(B)) }
	}
	if r.marks != nil {
		k.marks = func(e Entry, b any) FlagMark { return r.marks(e, b.(B)) }
	}
	return k
}

// version is the version that is recorded today.
func (k kind) version() int { return 1 + len(k.raise) }

// Whose says whose the subject of an entry must be for a device to record it.
type Whose int

const (
	// OfType is what the table of document types says.
	OfType Whose = iota
	// TheirNotices are those of the actor, whatever the subject is: they see what is flagged about their own entries.
	TheirNotices
	// TheirVisit is one that is or was the actor's. What is used on it may come out of a store, or of the van of somebody else who is on
	// it.
	TheirVisit
	// AskedAbout is their visit too, or one that asks the actor whether they were there.
	AskedAbout
	// SignedTogether is their visit too, or a colleague's at the same site that was signed together with one of theirs.
	SignedTogether
	// TheirDay is a timecard of the actor's. The rules of the kind see to that.
	TheirDay
	// TheirTalk is the conversation about a work order of which the actor has, or had, a visit.
	TheirTalk
	// TheirPlace is the van that the actor carries, where the entry is about stock at all.
	TheirPlace
	// Anybodys is any visit there is. It is for terminals alone, where whoever joins in has proved who they are.
	Anybodys
	// TheirOwn is the document that has the actor's id.
	TheirOwn
	// OffTheShelf is their place too, or a store: whoever has a van takes parts to it themselves.
	OffTheShelf
)

// Preparation is what the server fills in of an office command before it is recorded.
type Preparation int

const (
	// NextNumber is the next number of the subject's type, as number.
	NextNumber Preparation = iota
	// UsualSheets are the check sheets that the company's rules attach to a work order that names none, as sheets.
	UsualSheets
	// Programs are those of a sheet's, or a kind of machine's, formulas.
	Programs
)

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

// Version is the version of a kind that is recorded today; 1 for a kind that is not known.
func Version(name string) int {
	if k, ok := kinds[name]; ok {
		return k.version()
	}
	return 1
}

// Kinds lists all kinds of entry, sorted.
func Kinds() []string { return slices.Sorted(maps.Keys(kinds)) }

// KindRow is a row of the table of kinds, for whoever shows it, tests it or generates from it.
type KindRow struct {
	Name     string
	Subject  string         // the type of document it is about; "" for any record
	Body     reflect.Type   // of its entries
	Office   []records.Role // who records it at the office; nobody when it is a fact from the field alone
	Field    bool           // recorded in the field
	Terminal bool           // recorded at a shared terminal
	Phoned   bool           // written down at the office for whoever tells it by telephone
	Struck   bool           // an entry can be struck out
	Final    string         // why it can't be
}

// KindRows lists the table of kinds, by name.
func KindRows() []KindRow {
	var out []KindRow
	for _, name := range Kinds() {
		k := kinds[name]
		out = append(out, KindRow{name, k.subject, k.body, k.office, k.field, k.terminal, k.phoned, k.strike != nil, k.final})
	}
	return out
}

// Strikable tells whether entries of a kind can be struck out.
func Strikable(kind string) bool { return kinds[kind].strike != nil }
