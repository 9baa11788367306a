// Package sheet is the check sheet: what it asks (this file), what counts as an answer (answer.go), when a question applies
// (rule.go), what is wrong with a sheet before it is published (check.go), and what a filled-in sheet comes to (fill.go).
//
// A sheet is data, made in the designer and published as a version that never changes. Compile makes of it what Fill runs, once;
// Fill is a pure function of the answers, so that phone and office come to the same.
package sheet

import (
	"strconv"

	"github.com/shopspring/decimal"

	"iter.example/iter/core/formula"
)

// Format is the newest format of sheets that this program knows. A newer one is shown and its answers are kept, but it can't be told
// whether it is done.
const Format = 1

// Kind is what a question asks for. What its answer looks like is in answer.go.
type Kind string

const (
	YesNo       Kind = "yesno"
	Choice      Kind = "choice"  // one of Options
	Several     Kind = "several" // some of Options
	Number      Kind = "number"  // in Unit, within Min and Max
	Text        Kind = "text"
	Date        Kind = "date"
	DateTime    Kind = "datetime"
	Photo       Kind = "photo" // at least Least
	Signature   Kind = "signature"
	Part        Kind = "part"    // a part or kit out of the catalogue, with quantity and price
	Reading     Kind = "reading" // at the Point of the section's or visit's asset
	Area        Kind = "area"    // a measured area
	Scan        Kind = "scan"    // what a code says
	Computed    Kind = "computed"
	Instruction Kind = "instruction" // asks nothing; may have a Document
)

// Values lists the kinds, for generated types.
func (Kind) Values() []string {
	return []string{string(YesNo), string(Choice), string(Several), string(Number), string(Text), string(Date), string(DateTime),
		string(Photo), string(Signature),
		string(Part), string(Reading), string(Area), string(Scan), string(Computed), string(Instruction)}
}

// Sheet is one version of a check sheet. Its document's id is ID@Version; a version never changes.
type Sheet struct {
	ID       string           `json:"id"`
	Version  int              `json:"version"`
	Title    string           `json:"title"`
	Format   int              `json:"format,omitempty"` // absent: 1
	Pass     *decimal.Decimal `json:"pass,omitempty"`   // per cent of the points it takes to pass; absent: nothing is failed by points
	Sections []Section        `json:"sections"`
}

// Section is a titled group of questions.
type Section struct {
	ID        string     `json:"id,omitempty"` // needed by one that repeats
	Title     string     `json:"title"`
	Repeat    *Repeat    `json:"repeat,omitempty"`
	ShowIf    *Condition `json:"showIf,omitempty"`
	Questions []Question `json:"questions"`
}

// Repeat has a section filled in once for each room, area or machine.
type Repeat struct {
	Noun   string `json:"noun"`             // what one is called: room, tank
	Assets bool   `json:"assets,omitempty"` // begins with one for each machine of the site
	Kind   string `json:"kind,omitempty"`   // of machine, with Assets; absent: all
	Least  int    `json:"least,omitempty"`  // how many there must be
}

// Question asks for one answer.
type Question struct {
	ID        string                     `json:"id"` // letters, digits and _, as formulas call it
	Kind      Kind                       `json:"kind"`
	Text      string                     `json:"text"`
	Help      string                     `json:"help,omitempty"`
	Required  bool                       `json:"required,omitempty"`
	ShowIf    *Condition                 `json:"showIf,omitempty"`
	RequireIf *Condition                 `json:"requireIf,omitempty"`
	Options   []Option                   `json:"options,omitempty"`
	Unit      string                     `json:"unit,omitempty"` // of a number, reading or computed number
	Min       *decimal.Decimal           `json:"min,omitempty"`  // of a number; included
	Max       *decimal.Decimal           `json:"max,omitempty"`  // of a number; included
	Compare   []Compare                  `json:"compare,omitempty"`
	Least     int                        `json:"least,omitempty"`    // of photos
	Point     string                     `json:"point,omitempty"`    // of a reading
	Quantity  string                     `json:"quantity,omitempty"` // of a part: the question whose number or area is the quantity
	Formula   string                     `json:"formula,omitempty"`
	Program   *formula.Node              `json:"program,omitempty"` // Formula as it is evaluated; the server makes it
	Places    int                        `json:"places,omitempty"`  // decimals of a computed number
	Document  *Paper                     `json:"document,omitempty"`
	Prefill   string                     `json:"prefill,omitempty"` // what is known: one of Known
	Update    bool                       `json:"update,omitempty"`  // the answer becomes what is known
	Score     map[string]decimal.Decimal `json:"score,omitempty"`   // points by answer; an answer without any is left out of the count
	On        []Trigger                  `json:"on,omitempty"`
}

// Option is one answer to choose.
type Option struct {
	ID   string `json:"id"`
	Text string `json:"text"`
}

// Paper is a document that comes with an instruction.
type Paper struct {
	Hash string `json:"hash"`
	Name string `json:"name"`
	Type string `json:"type"`
	Size int64  `json:"size"`
}

// Known are the paths that a question can be filled in from: of the work order, site, machine, or the answer of the visit before. Those
// that map to true can be updated by the answer.
var Known = map[string]bool{
	"order.number": false, "order.problem": false, "customer.name": false, "customer.contact.name": false,
	"site.name": false, "site.address": false, "site.access": true, "site.hazard": true, "site.contact.name": true,
	"site.contact.phone": true,
	"asset.name":         true, "asset.maker": true, "asset.serial": true, "asset.installed": true, "last": false,
}

// Ref is the id of the sheet's document.
func (s Sheet) Ref() string { return s.ID + "@" + strconv.Itoa(s.Version) }

// Find gives the question with an id.
func (s Sheet) Find(id string) (Question, bool) {
	for _, sec := range s.Sections {
		for _, q := range sec.Questions {
			if q.ID == id {
				return q, true
			}
		}
	}
	return Question{}, false
}

// Key is the key of an answer: the question's id, and after an @ the item's when its section repeats.
func Key(question, item string) string {
	if item == "" {
		return question
	}
	return question + "@" + item
}
