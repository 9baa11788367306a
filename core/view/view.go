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
	"iter.example/iter/core/substance"
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

	Hours   labor.Hours `json:"hours"` // seconds, of all who were on it
	Crew    []CrewTime  `json:"crew"`  // theirs, the technician first
	Tasks   []TaskLine  `json:"tasks"`
	Bill    labor.Bill  `json:"bill"` // of the time
	Missing []msg.Code  `json:"missing"`
	// Progress is what each sheet of the order comes to, without its lines: those Fill gives.
	Progress   []sheet.State     `json:"progress"`
	Machines   []Machine         `json:"machines"` // what is measured on, the order's first
	Attention  []work.Attention  `json:"attention"`
	Substances []substance.Stand `json:"substances"` // that are logged at the site
	Moves      []substance.Move  `json:"moves"`      // of the log, on this visit
	Parts      []PartLine        `json:"parts"`
	Removed    []RemovedLine     `json:"removed"`
	Kits       []KitLine         `json:"kits"`
	Needs      []NeedLine        `json:"needs"` // planned for the work order, and what of it is not used yet
	Readings   []ReadingLine     `json:"readings"`
	Summary    signoff.Summary   `json:"summary"` // what would be signed now
	Digest     string            `json:"digest"`  // of Summary
	// Changed tells that what the last signature stands for is no longer what is recorded.
	Changed bool              `json:"changed"`
	Names   map[string]string `json:"names"` // of the people who appear, by id
}

// CrewTime is one person's time on a visit.
type CrewTime struct {
	Person string       `json:"person"`
	Hours  labor.Hours  `json:"hours"`
	Spans  []labor.Span `json:"spans"`
}

// TaskLine is a task of the work order as it stands, with the time that went to it on this visit.
type TaskLine struct {
	work.Task
	Act     work.TaskAct `json:"act,omitempty"` // the last; none while nobody began it
	Entry   string       `json:"entry,omitempty"`
	By      string       `json:"by,omitempty"`
	Reason  string       `json:"reason,omitempty"`
	Seconds int64        `json:"seconds"`
	Running bool         `json:"running,omitempty"` // somebody's clock is on it
	Label   string       `json:"label"`             // what its label says
}

// PartLine is a part used, with its name.
type PartLine struct {
	work.PartUsed
	Number string `json:"number"`
	Name   string `json:"name"`
	Unit   string `json:"unit"`
}

// RemovedLine is a part taken out, with its name.
type RemovedLine struct {
	work.PartRemoved
	Name string `json:"name"`
}

// KitLine is a kit used, with the names of its parts.
type KitLine struct {
	work.KitUsed
	Lines []PartName `json:"lines"`
}

// PartName is a quantity of a part, by name.
type PartName struct {
	Part     string          `json:"part"`
	Name     string          `json:"name"`
	Unit     string          `json:"unit"`
	Quantity decimal.Decimal `json:"quantity"`
}

// NeedLine is a part planned for the work order.
type NeedLine struct {
	PartName
	Left decimal.Decimal `json:"left"` // not used yet
}

// ReadingLine is a reading with the names of its asset and point, and how it lies to the limits.
type ReadingLine struct {
	reading.Reading
	AssetName string `json:"assetName"`
	PointName string `json:"pointName"`
	// Shown is the value in ShownUnit, the point's, as the company shows it.
	Shown     string `json:"shown"`
	ShownUnit string `json:"shownUnit"`
	// Change is how much it differs from the last before it, in ShownUnit: of a counter what it moved on by.
	Change string `json:"change,omitempty"`
}

// Of builds the view of a visit at now from documents. wanted are those it would still use: load what there is of them,
// add it to docs and ask again, until a call wants nothing that was not asked for before.
func Of(id string, docs ledger.Docs, now time.Time) (v *Visit, wanted []ledger.Ref, err error) {
	b := &builder{docs: docs}
	out := &Visit{ID: id, Names: map[string]string{}, Progress: []sheet.State{}, Machines: []Machine{}, Substances: []substance.Stand{}, Moves: []substance.Move{}, Parts: []PartLine{}, Removed: []RemovedLine{}, Kits: []KitLine{}, Needs: []NeedLine{}, Readings: []ReadingLine{}, Crew: []CrewTime{}, Tasks: []TaskLine{}}
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
	var filled []filledSheet
	for _, ref := range out.Order.Sheets {
		if c := b.sheet(ref); c != nil {
			st := c.Fill(out.Visit.Given(ref, out.Order.Asset))
			filled = append(filled, filledSheet{c, st})
			st.Lines, st.Sections = nil, nil
			out.Progress = append(out.Progress, st)
		}
	}
	serials := b.parts(out)
	b.machines(out)
	b.substances(out, now)
	out.Attention = out.Visit.Attentions(out.Order.Asset, out.Progress)
	out.Missing = append(serials, work.Missing(out.Visit, out.Progress)...)
	out.Crew = b.crew(id, out.Visit, now)
	out.Hours = total(id, out.Crew)
	out.Tasks = tasks(out.Visit.Order, out.Order, out.Crew)
	var policy records.Policy
	b.load("policy", "company", &policy)
	out.Bill = bill(out, policy)
	if b.err == nil {
		out.Summary, out.Digest, b.err = b.summary(out, filled, out.Hours, now)
	}
	for _, s := range slices.Backward(out.Visit.Signatures) {
		if s.Struck {
			continue
		}
		_, then, err := b.summary(out, filled, total(id, b.crew(id, out.Visit, s.Summary.Until)), s.Summary.Until)
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
	for _, m := range v.Messages {
		out = append(out, m.Person)
	}
	out = append(append(out, v.Helpers...), v.Offered...)
	out = slices.DeleteFunc(out, func(p string) bool { return p == "" })
	slices.Sort(out)
	return slices.Compact(out)
}

// crew derives the spans of everybody whose clock was turned on the visit from their timecards: what else they did shows when
// their time on it ended.
func (b *builder) crew(id string, v work.Visit, now time.Time) []CrewTime {
	out := []CrewTime{}
	people := b.people(v)
	slices.SortStableFunc(people, func(x, y string) int { return rank(v, x) - rank(v, y) })
	for _, person := range people {
		var first, last time.Time
		stopped := false
		turned := func(at time.Time, clock labor.Kind) {
			if first.IsZero() || at.Before(first) {
				first = at
			}
			if !at.Before(last) {
				last, stopped = at, clock == labor.Stop
			}
		}
		for _, s := range v.Steps {
			if s.Person == person && s.Clock != "" {
				turned(s.At, s.Clock)
			}
		}
		for _, s := range v.Crew {
			if s.Helper == person {
				turned(s.At, s.Clock)
			}
		}
		if first.IsZero() {
			continue
		}
		if !stopped {
			last = later(last, now.In(last.Location()))
		}
		var cards []labor.Timecard
		for day := first; ; day = day.AddDate(0, 0, 1) {
			var c labor.Timecard
			if ref := ledger.TimecardRef(person, day); b.load(ref.Type, ref.ID, &c) {
				cards = append(cards, c)
			}
			if day.Format(time.DateOnly) >= last.Format(time.DateOnly) {
				break
			}
		}
		c := CrewTime{Person: person, Spans: []labor.Span{}}
		for _, s := range labor.Spans(now, cards...) {
			if s.Visit == id {
				c.Spans = append(c.Spans, s)
			}
		}
		c.Hours = labor.Total(c.Spans, id)
		out = append(out, c)
	}
	return out
}

// rank puts the technician before the others.
func rank(v work.Visit, person string) int {
	if person == v.Technician {
		return 0
	}
	return 1
}

func total(id string, crew []CrewTime) labor.Hours {
	var all []labor.Span
	for _, c := range crew {
		all = append(all, c.Spans...)
	}
	return labor.Total(all, id)
}

// tasks gives the order's tasks as they stand.
func tasks(order string, o work.Order, crew []CrewTime) []TaskLine {
	out := []TaskLine{}
	for _, t := range o.Tasks {
		s := o.Stands(t.ID)
		l := TaskLine{Task: t, Act: s.Act, Entry: s.Entry, By: s.Person, Reason: s.Reason, Label: work.TaskLabel(order, t.ID)}
		for _, c := range crew {
			for _, span := range c.Spans {
				if span.Kind == labor.Work && span.Task == t.ID {
					l.Seconds += span.Seconds()
					l.Running = l.Running || span.Open
				}
			}
		}
		out = append(out, l)
	}
	return out
}

// bill is what the visit's time is billed as. The first skill that the order needs has the rate.
func bill(v *Visit, p records.Policy) labor.Bill {
	skill := ""
	if len(v.Order.Skills) > 0 {
		skill = v.Order.Skills[0]
	}
	var crew []labor.Crew
	for _, c := range v.Crew {
		crew = append(crew, labor.Crew{Person: c.Person, Lead: c.Person == v.Visit.Technician, Spans: c.Spans})
	}
	return labor.Charge(crew, skill, p.Billing, p.Zone, p.Hours)
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
func (b *builder) summary(v *Visit, filled []filledSheet, hours labor.Hours, until time.Time) (signoff.Summary, string, error) {
	s := signoff.Summary{
		Order: v.Order.Number, Customer: v.Customer.Name, Site: v.Site.Name, Problem: v.Order.Problem,
		Person: v.Names[v.Visit.Technician], Until: until, Hours: hours,
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
	s.Parts = partLines(v)
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
	for _, f := range filled {
		s.Answers = append(s.Answers, f.lines(v.Order.Sheets)...)
	}
	d, err := signoff.Digest(s)
	return s, d, err
}
