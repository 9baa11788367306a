package ledger

import (
	"encoding/json"
	"maps"
	"reflect"
	"slices"
	"strings"

	"iter.example/iter/core/calendar"
	"iter.example/iter/core/labor"
	"iter.example/iter/core/msg"
	"iter.example/iter/core/reading"
	"iter.example/iter/core/records"
	"iter.example/iter/core/settings"
	"iter.example/iter/core/sheet"
	"iter.example/iter/core/signal"
	"iter.example/iter/core/stock"
	"iter.example/iter/core/substance"
	"iter.example/iter/core/talk"
	"iter.example/iter/core/upkeep"
	"iter.example/iter/core/work"
)

// docType is a row of the table of document types: who makes a document by record.created, and who changes which of its fields
// by record.amended. A type that only other kinds of entries make and change is in the table without either.
type docType struct {
	// doc is what the body of a document is.
	doc reflect.Type
	// reach says which devices hold a document.
	reach Reach
	// whose says whose a document must be for a device to record about it, where the kind of entry does not say.
	whose  Whose
	body   func() checker // an empty body, to read a record into; nil when no record.* entry is about the type
	create []records.Role
	amend  []records.Role
	// fields are those that others amend than the rest. Nobody amends a field without roles: it follows from other entries.
	fields map[string][]records.Role
	// own are fields that reach the devices of the person alone whose record it is.
	own []string
	// corrected are the fields that a technician amends in the field, of records that their device holds; met are those of them that they
	// amend of any record: whom they met, or had on the telephone.
	corrected, met []string
}

// Reach says which devices hold documents of a type.
type Reach int

const (
	// Unsaid is no answer: a test asks for one.
	Unsaid Reach = iota
	// ToAll are on every device, whole.
	ToAll
	// WithWork come with the visits that need them.
	WithWork
	// ToTheirs are on the devices of those whose they are.
	ToTheirs
	// MadeWhenAsked are not stored: the server makes them for a device.
	MadeWhenAsked
	// AtTheOffice are on no device.
	AtTheOffice
)

// checker is a body that says what is wrong with it.
type checker interface{ Check() error }

var (
	planners       = []records.Role{records.Dispatcher}
	keepers        = []records.Role{records.Dispatcher, records.Stores}
	stores         = []records.Role{records.Stores}
	administrators = []records.Role{records.Administrator}
	judges         = []records.Role{records.Dispatcher, records.Reviewer}
	// byType are the roles of record.created and record.amended: the table of document types says which of them, for which type.
	byType = append(slices.Clone(keepers), records.Administrator, records.Reviewer)
	// anyone at the office.
	anyone = byType
	// contacts are the fields of people at a customer's or a site.
	contacts = []string{"contact", "people"}
)

// types is the table of document types: what they are, which devices hold them, who creates them and who amends which field of what.
var types = map[string]docType{
	"person": record(ToAll, body[records.Person], docType{create: administrators, amend: administrators,
		own: []string{"home", "hours", "certificates"}, fields: map[string][]records.Role{"hours": planners, "team": planners,
			"ahead": planners, "areas": planners, "certificates": planners, "phone": planners, "email": planners}}),

	"customer": record(WithWork, body[records.Customer], docType{create: planners, amend: planners, corrected: contacts, met: contacts,
		fields: fixed("merged")}),
	"site": record(WithWork, body[records.Site], docType{create: planners, amend: planners,
		corrected: append([]string{"access", "hazard", "areas", "lat", "lon"}, contacts...), met: contacts, fields: fixed("moves", "merged")}),
	"asset": record(WithWork, body[records.Asset], docType{create: planners, amend: planners,
		corrected: []string{"name", "maker", "serial", "installed"},
		fields:    fixed("fitted", "struck", "moves", "merged")}),

	"assetkind": record(ToAll, body[records.AssetKind], docType{create: planners, amend: planners}),
	"sheet":     record(ToAll, body[sheet.Sheet], docType{create: planners}), // a version that was published never changes

	"part":   record(ToAll, body[stock.Part], docType{create: keepers, amend: keepers}),
	"kit":    record(ToAll, body[stock.Kit], docType{create: keepers, amend: keepers}),
	"place":  record(ToAll, body[place], docType{doc: reflect.TypeFor[stock.Place](), create: stores, amend: stores}),
	"levels": record(ToTheirs, body[stock.Levels], docType{create: keepers, amend: keepers}),

	"resource": record(ToAll, body[records.Resource], docType{create: planners, amend: planners}),

	"knowhow": record(ToAll, body[records.KnowHow], docType{create: judges, amend: judges, fields: fixed("author")}),

	"settings": folded[settings.Dated](ToAll, OfType),
	// What an order is for, who is to come and what was done follows from other entries; the rest the office changes.
	"workorder": record(WithWork, body[work.Order], docType{amend: planners, fields: fixed("number", "customer", "site", "asset", "sheets",
		"from", "needs", "openedAt", "openedBy", "visits", "found", "returns", "due", "taskSteps", "taskNotes", "acts", "added", "messages",
		"signal")}),
	"visit":      folded[work.Visit](ToTheirs, TheirVisit),
	"timecard":   folded[labor.Timecard](ToTheirs, TheirDay),
	"talk":       folded[talk.Talk](WithWork, TheirTalk),
	"report":     folded[Report](AtTheOffice, OfType),
	"purchase":   folded[stock.Purchase](AtTheOffice, OfType),
	"cost":       folded[stock.Cost](AtTheOffice, OfType),
	"serial":     folded[stock.SerialLife](AtTheOffice, OfType),
	"measured":   folded[reading.History](WithWork, OfType),
	"substances": folded[substance.Log](WithWork, OfType),
	"stock":      folded[stock.Stock](ToTheirs, TheirPlace),
	"handover":   folded[stock.Handover](ToTheirs, TheirPlace),
	"request":    folded[stock.Request](WithWork, OfType),
	"absences":   folded[calendar.Absences](ToTheirs, TheirOwn),
	"notices":    folded[Notices](MadeWhenAsked, OfType),
	"history":    {reach: MadeWhenAsked}, // of core/view
}

// officeTypes are the rows of records that are on no device: its core does without them, as it does without the kinds of entries that make
// and change them.
func officeTypes() map[string]docType {
	return map[string]docType{
		"sheetdraft":  record(AtTheOffice, body[sheetDraft], docType{doc: reflect.TypeFor[sheet.Sheet](), create: planners, amend: planners}),
		"draft":       folded[Draft](AtTheOffice, OfType),
		"incident":    folded[Incident](AtTheOffice, OfType),
		"signalrules": record(AtTheOffice, body[signalRules], docType{doc: reflect.TypeFor[signal.Rules](), create: planners, amend: planners}),
		"undertaking": record(AtTheOffice, body[records.Undertaking], docType{create: judges, amend: judges}),
		"wishes":      record(AtTheOffice, body[records.Wishes], docType{create: planners, amend: planners}),
		"upkeep":      record(AtTheOffice, body[upkeep.Plan], docType{create: planners, amend: planners, fields: fixed("changes")}),
		"agreement":   record(AtTheOffice, body[work.Agreement], docType{create: planners, amend: planners}),
		"template":    record(AtTheOffice, body[work.Template], docType{create: planners, amend: planners}),
		"listview":    record(AtTheOffice, body[records.ListView], docType{create: anyone, amend: anyone}),
	}
}

func init() {
	if !onDevice {
		maps.Copy(types, officeTypes())
	}
}

// fixed are fields that nobody amends: they follow from other entries.
func fixed(names ...string) map[string][]records.Role {
	out := map[string][]records.Role{}
	for _, name := range names {
		out[name] = nil
	}
	return out
}

// record is a type that record.* entries are about.
func record(reach Reach, body func() checker, row docType) docType {
	row.reach, row.body = reach, body
	if row.doc == nil {
		row.doc = reflect.TypeOf(body()).Elem()
	}
	return row
}

// folded is a type whose documents other kinds of entries make and change.
func folded[D any](reach Reach, whose Whose) docType {
	return docType{reach: reach, whose: whose, doc: reflect.TypeFor[D]()}
}

// ReachOf says which devices hold documents of a type.
func ReachOf(typ string) Reach { return types[typ].reach }

// TypesReaching lists the types of documents that reach so far, by name.
func TypesReaching(reach Reach) []string {
	var out []string
	for _, name := range slices.Sorted(maps.Keys(types)) {
		if types[name].reach == reach {
			out = append(out, name)
		}
	}
	return out
}

func body[B any, P interface {
	*B
	checker
}]() checker {
	return P(new(B))
}

// TypeRow is a row of the table of document types, for whoever shows or tests it.
type TypeRow struct {
	Name   string
	Doc    reflect.Type // of its body; nil of a type that the core does not know the body of
	Reach  Reach
	Record bool // whether record.* entries are about it
	Create []records.Role
	Fields []FieldRow // by name
}

// FieldRow is a field of a record: who amends it at the office, and whether a technician corrects it in the field.
type FieldRow struct {
	Name      string
	Amend     []records.Role
	Corrected bool
	Met       bool // of a record that their device does not hold, too
}

// Types lists the table of document types, by name.
func Types() []TypeRow {
	var out []TypeRow
	for _, name := range slices.Sorted(maps.Keys(types)) {
		d := types[name]
		row := TypeRow{Name: name, Doc: d.doc, Reach: d.reach, Record: d.body != nil, Create: d.create}
		if row.Record {
			for _, f := range jsonFields(reflect.TypeOf(d.body()).Elem()) {
				row.Fields = append(row.Fields, FieldRow{f, d.amenders(f), slices.Contains(d.corrected, f), slices.Contains(d.met, f)})
			}
		}
		out = append(out, row)
	}
	return out
}

// jsonFields lists the names that the fields of a type of struct have in JSON, with those of the structs in it, sorted.
func jsonFields(t reflect.Type) []string {
	var out []string
	for i := range t.NumField() {
		f := t.Field(i)
		name, _, _ := strings.Cut(f.Tag.Get("json"), ",")
		switch {
		case f.Anonymous && name == "":
			out = append(out, jsonFields(f.Type)...)
		case name != "-" && name != "":
			out = append(out, name)
		}
	}
	slices.Sort(out)
	return out
}

// FieldsCorrected lists the fields of a type of record that a technician may amend in the field.
func FieldsCorrected(typ string) []string { return types[typ].corrected }

// ForDevice gives a document as a person's devices are told it: without what is another's own, such as where a colleague lives.
func ForDevice(d Doc, person string) (Doc, error) {
	own := types[d.Type].own
	if len(own) == 0 || d.ID == person || len(d.Body) == 0 {
		return d, nil
	}
	all := fields(d.Body)
	if all == nil {
		return d, msg.New("document.unreadable", "document", d.Ref.String())
	}
	before := len(all)
	for _, f := range own {
		delete(all, f)
	}
	if len(all) == before {
		return d, nil
	}
	body, err := json.Marshal(all)
	d.Body = body
	return d, err
}

// amenders lists who may amend a field of a type of record.
func (d docType) amenders(field string) []records.Role {
	if roles, own := d.fields[field]; own {
		return roles
	}
	return d.amend
}

// fieldsOf names the fields that a merge patch changes.
func fieldsOf(patch json.RawMessage) []string {
	return slices.Sorted(maps.Keys(fields(patch)))
}
