// Package view puts together what a screen shows of a visit, from the documents around it. The field and the office show the
// same, since both ask here.
package view

import (
	"encoding/json"
	"slices"
	"time"

	"github.com/shopspring/decimal"

	"iter.example/iter/core/labor"
	"iter.example/iter/core/ledger"
	"iter.example/iter/core/msg"
	"iter.example/iter/core/reading"
	"iter.example/iter/core/records"
	"iter.example/iter/core/sheet"
	"iter.example/iter/core/signoff"
	"iter.example/iter/core/stock"
	"iter.example/iter/core/work"
)

// Visit is a visit as it stands at a moment.
type Visit struct {
	ID       string           `json:"id"`
	Visit    work.Visit       `json:"visit"`
	Order    work.Order       `json:"order"`
	Customer records.Customer `json:"customer"`
	Site     records.Site     `json:"site"`
	Asset    *records.Asset   `json:"asset,omitempty"`

	Hours    labor.Hours     `json:"hours"` // seconds, of all who were on it
	Spans    []labor.Span    `json:"spans"` // of this visit
	Missing  []msg.Code      `json:"missing"`
	Sheets   []sheet.Sheet   `json:"sheets"`
	Progress []sheet.State   `json:"progress"`
	Parts    []PartLine      `json:"parts"`
	Readings []ReadingLine   `json:"readings"`
	Summary  signoff.Summary `json:"summary"` // what would be signed now
	Digest   string          `json:"digest"`  // of Summary
	// Changed tells that what the last signature stands for is no longer what is recorded.
	Changed bool              `json:"changed"`
	Names   map[string]string `json:"names"` // of the people who appear, by id
}

// PartLine is a part used, with its name.
type PartLine struct {
	work.PartUsed
	Number string `json:"number"`
	Name   string `json:"name"`
	Unit   string `json:"unit"`
}

// ReadingLine is a reading with the names of its asset and point, and how it lies to the limits.
type ReadingLine struct {
	reading.Reading
	AssetName string        `json:"assetName"`
	PointName string        `json:"pointName"`
	Level     reading.Level `json:"level"`
}

// Of builds the view of a visit at now from documents. wanted are those it would still use: load what there is of them,
// add it to docs and ask again, until a call wants nothing that was not asked for before.
func Of(id string, docs ledger.Docs, now time.Time) (v *Visit, wanted []ledger.Ref, err error) {
	b := &builder{docs: docs}
	out := &Visit{ID: id, Names: map[string]string{}, Sheets: []sheet.Sheet{}, Progress: []sheet.State{}, Parts: []PartLine{}, Readings: []ReadingLine{}, Spans: []labor.Span{}}
	if !b.load("visit", id, &out.Visit) {
		if b.err == nil && len(b.wanted) == 0 {
			b.err = msg.New("record.unknown", "type", "visit", "id", id)
		}
		return nil, b.wanted, b.err
	}
	b.load("workorder", out.Visit.Order, &out.Order)
	b.load("customer", out.Order.Customer, &out.Customer)
	b.load("site", out.Order.Site, &out.Site)
	if a := new(records.Asset); b.load("asset", out.Order.Asset, a) {
		out.Asset = a
	}
	for _, p := range b.people(out.Visit) {
		var person records.Person
		if b.load("person", p, &person) {
			out.Names[p] = person.Name
		}
	}
	for _, ref := range out.Order.Sheets {
		var s sheet.Sheet
		if b.load("sheet", ref, &s) {
			out.Sheets = append(out.Sheets, s)
			out.Progress = append(out.Progress, s.Progress(out.Visit.Answers[ref]))
		}
	}
	for _, p := range out.Visit.Parts {
		line := PartLine{PartUsed: p, Name: p.Part}
		var part stock.Part
		if b.load("part", p.Part, &part) {
			line.Number, line.Name, line.Unit = part.Number, part.Name, part.Unit
		}
		out.Parts = append(out.Parts, line)
	}
	for _, r := range out.Visit.Readings {
		line := ReadingLine{Reading: r, AssetName: r.Asset, PointName: r.Point, Level: reading.OK}
		var a records.Asset
		if b.load("asset", r.Asset, &a) {
			line.AssetName = a.Name
			if p, ok := a.Point(r.Point); ok {
				line.PointName, line.Level = p.Name, p.Judge(r.Value)
			}
		}
		out.Readings = append(out.Readings, line)
	}
	out.Missing = work.Missing(out.Visit, out.Progress)
	out.Spans = b.spans(id, out.Visit, now)
	out.Hours = labor.Total(out.Spans, id)
	if b.err == nil {
		out.Summary, out.Digest, b.err = b.summary(out, out.Spans, now)
	}
	for _, s := range slices.Backward(out.Visit.Signatures) {
		if s.Struck {
			continue
		}
		_, then, err := b.summary(out, b.spans(id, out.Visit, s.Summary.Until), s.Summary.Until)
		out.Changed = err == nil && then != s.Digest
		break
	}
	return out, b.wanted, b.err
}

type builder struct {
	docs   ledger.Docs
	wanted []ledger.Ref
	err    error
}

// load reads a document, or notes that it is wanted. A nil body in docs says that there is none.
func (b *builder) load(typ, id string, v any) bool {
	if id == "" {
		return false
	}
	ref := ledger.Ref{Type: typ, ID: id}
	raw, asked := b.docs[ref]
	if !asked && !slices.Contains(b.wanted, ref) {
		b.wanted = append(b.wanted, ref)
	}
	if len(raw) == 0 || string(raw) == "null" {
		return false
	}
	if err := json.Unmarshal(raw, v); err != nil {
		b.err = msg.New("document.unreadable", "document", ref.String())
		return false
	}
	return true
}

func (b *builder) people(v work.Visit) []string {
	out := append([]string{v.Technician}, v.Former...)
	for _, s := range v.Steps {
		out = append(out, s.Person)
	}
	for _, n := range v.Notes {
		out = append(out, n.Person)
	}
	for _, f := range v.Files {
		out = append(out, f.Person)
	}
	slices.Sort(out)
	return slices.Compact(out)
}

// spans derives the visit's spans from the timecards of everybody who took a step on it: what else they did shows when
// their time on it ended.
func (b *builder) spans(id string, v work.Visit, now time.Time) []labor.Span {
	out := []labor.Span{}
	for _, person := range b.people(v) {
		var first, last time.Time
		stopped := false
		for _, s := range v.Steps {
			if s.Person != person || s.Clock == "" {
				continue
			}
			if first.IsZero() {
				first = s.At
			}
			last, stopped = s.At, s.Clock == labor.Stop
		}
		if first.IsZero() {
			continue
		}
		if !stopped {
			last = later(last, now.In(last.Location()))
		}
		var stamps []labor.Stamp
		for day := first; ; day = day.AddDate(0, 0, 1) {
			var c labor.Timecard
			if ref := ledger.TimecardRef(person, day); b.load(ref.Type, ref.ID, &c) {
				stamps = append(stamps, c.Stamps...)
			}
			if day.Format(time.DateOnly) >= last.Format(time.DateOnly) {
				break
			}
		}
		for _, s := range labor.Spans(stamps, now) {
			if s.Visit == id {
				out = append(out, s)
			}
		}
	}
	return out
}

func later(a, b time.Time) time.Time {
	// A visit left open is looked at for a week, not for ever.
	if limit := a.AddDate(0, 0, 7); b.After(limit) {
		return limit
	}
	if b.After(a) {
		return b
	}
	return a
}

// summary is what a signer is shown of the visit with its hours up to a moment.
func (b *builder) summary(v *Visit, spans []labor.Span, until time.Time) (signoff.Summary, string, error) {
	s := signoff.Summary{
		Order: v.Order.Number, Customer: v.Customer.Name, Site: v.Site.Name, Problem: v.Order.Problem,
		Person: v.Names[v.Visit.Technician], Until: until, Hours: labor.Total(spans, v.ID),
		Notes: []string{}, Parts: []signoff.Line{}, Readings: []signoff.Line{}, Answers: []signoff.Line{},
	}
	if v.Asset != nil {
		s.Asset = v.Asset.Name
	}
	for _, n := range v.Visit.Notes {
		if !n.Struck {
			s.Notes = append(s.Notes, n.Text)
		}
	}
	for _, p := range v.Parts {
		if !p.Struck {
			s.Parts = append(s.Parts, signoff.Line{Name: p.Name, Value: p.Quantity.String(), Unit: p.Unit})
		}
	}
	for _, r := range v.Readings {
		if r.Struck {
			continue
		}
		line := signoff.Line{Name: r.AssetName + ": " + r.PointName, Value: r.Value.String(), Unit: r.Unit}
		if r.Level != reading.OK {
			line.Mark = string(r.Level)
		}
		s.Readings = append(s.Readings, line)
	}
	for _, sh := range v.Sheets {
		for _, sec := range sh.Sections {
			for _, q := range sec.Questions {
				if a := v.Visit.Answers[sh.Ref()][q.ID]; a.Value != "" {
					s.Answers = append(s.Answers, signoff.Line{Name: q.Text, Value: answerText(q, a.Value), Unit: q.Unit})
				}
			}
		}
	}
	d, err := signoff.Digest(s)
	return s, d, err
}

// answerText is an answer in the sheet's own words.
func answerText(q sheet.Question, value string) string {
	for _, o := range q.Options {
		if o.ID == value {
			return o.Text
		}
	}
	return value
}

// Judged is what to say of a reading while it is typed.
type Judged struct {
	Value *decimal.Decimal `json:"value,omitempty"`
	Level reading.Level    `json:"level,omitempty"`
	Error *msg.Code        `json:"error,omitempty"`
}

// Judge reads what was typed for a point, and compares it with the limits.
func Judge(p reading.Point, text string) Judged {
	d, err := reading.Parse(text)
	if err != nil {
		return Judged{Error: msg.From(err)}
	}
	return Judged{Value: &d, Level: p.Judge(d)}
}
