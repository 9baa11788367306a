// Package view puts together what a screen shows of a visit, from the documents around it. The field and the office show the
// same, since both ask here.
package view

import (
	"slices"
	"time"

	"github.com/shopspring/decimal"

	"iter.example/iter/core/labor"
	"iter.example/iter/core/ledger"
	"iter.example/iter/core/msg"
	"iter.example/iter/core/ordered"
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

	Standing work.Standing `json:"standing"`

	Hours labor.Hours `json:"hours"` // seconds, of all who were on it
	Crew  []CrewTime  `json:"crew"`  // theirs, the technician first
	Tasks []TaskLine  `json:"tasks"`
	Bill  labor.Bill  `json:"bill"` // of the time
	// Ready is what still keeps the visit from being complete.
	Ready work.Readiness `json:"ready"`
	// State is where the work order stands over all its visits; "" when not all of them are known here.
	State work.State `json:"state,omitempty"`
	Days  []string   `json:"days"` // that were worked on, as 2006-01-02
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
	// Signed are the signatures that stand, with what is different since.
	Signed []Signed `json:"signed"`
	// Changed tells that what the last signature stands for, of a day when it is signed day by day, is no longer what is recorded.
	Changed bool              `json:"changed"`
	Names   map[string]string `json:"names"`            // of the people who appear, by id
	Things  []string          `json:"things,omitempty"` // the names of what goes along
}

// Signed is a signature that stands, and what is different since.
type Signed struct {
	Entry   string           `json:"entry"`
	Changes []signoff.Change `json:"changes"`
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
	Result  string       `json:"result,omitempty"` // how it came out, by the ids of the settings of orders
	Remark  string       `json:"remark,omitempty"`
	Seconds int64        `json:"seconds"`
	Running bool         `json:"running,omitempty"` // somebody's clock is on it
	Label   string       `json:"label"`             // what its label says
	Machine string       `json:"machine,omitempty"` // the name of the one that it is on, when it is not the order's
	Added   string       `json:"added,omitempty"`   // who added it on a visit
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

// Documents are what views are made of. They belong to whoever holds them: a view changes nothing in what it loads.
type Documents interface {
	// Has tells whether a document is known, be it there or not.
	Has(ledger.Ref) bool
	// Load reads a document into a pointer, and tells whether it exists. The error is a *msg.Code.
	Load(ledger.Ref, any) (bool, error)
}

// Of builds the view of a visit at now from documents. wanted are those it would still use: load what there is of them,
// add it to docs and ask again, until a call wants nothing that was not asked for before.
func Of(id string, docs Documents, now time.Time) (v *Visit, wanted []ledger.Ref, err error) {
	b := &builder{docs: docs}
	v = b.visit(id, now)
	return v, b.wanted, b.err
}

// visit builds the view; nil when there is no such visit, or it is wanted first.
func (b *builder) visit(id string, now time.Time) *Visit {
	out := &Visit{ID: id, Days: []string{}, Signed: []Signed{}, Names: map[string]string{}, Progress: []sheet.State{},
		Machines: []Machine{}, Substances: []substance.Stand{}, Moves: []substance.Move{}, Parts: []PartLine{}, Removed: []RemovedLine{},
		Kits: []KitLine{}, Needs: []NeedLine{}, Readings: []ReadingLine{}, Crew: []CrewTime{}, Tasks: []TaskLine{}}
	if !b.load("visit", id, &out.Visit) {
		if b.err == nil && len(b.wanted) == 0 {
			b.err = msg.New("record.unknown", "type", "visit", "id", id)
		}
		return nil
	}
	b.load("workorder", out.Visit.Order, &out.Order)
	b.load("customer", out.Order.Customer, &out.Customer)
	b.load("site", out.Order.Site, &out.Site)
	if a := new(records.Asset); b.load("asset", out.Order.Asset, a) {
		out.Asset = a
	}
	for _, id := range out.Visit.Things {
		var thing records.Resource
		if b.load("resource", id, &thing) {
			out.Things = append(out.Things, thing.Name)
		}
	}
	for _, p := range b.people(out.Visit) {
		var person records.Person
		if b.load("person", p, &person) {
			out.Names[p] = person.Name
		}
	}
	b.settings(out, now)
	for _, ref := range out.Order.Sheets {
		if c := b.sheet(ref); c != nil {
			st := c.Fill(out.Visit.Given(ref, out.Order.Asset))
			b.filled = append(b.filled, filledSheet{c, st})
			st.Lines, st.Sections = nil, nil
			out.Progress = append(out.Progress, st)
		}
	}
	unserial := b.parts(out)
	b.machines(out)
	b.substances(out, now)
	out.Attention = out.Visit.Attentions(out.Order.Asset, out.Progress)
	out.Standing = b.standing(id, out.Visit, now)
	out.Crew = b.crew(id, out.Visit, now)
	out.Hours = total(id, out.Crew)
	out.Days = days(out.Crew)
	out.Tasks = b.tasks(out.Visit.Order, out.Order, out.Crew)
	around := work.Around{Order: out.Order, Rules: b.rules, Sheets: out.Progress, Unserial: unserial,
		Names: func(part string) string { return b.part(part).Name }, Days: out.Days}
	if len(out.Machines) > 0 && out.Machines[0].ID == out.Order.Asset {
		for _, p := range out.Machines[0].Points {
			around.Points = append(around.Points, p.Point)
		}
	}
	out.Ready = out.Visit.Ready(around)
	out.State = b.state(out)
	b.bill(out)
	if b.err == nil {
		out.Summary, out.Digest, b.err = b.summary(out, scope{until: now, version: signoff.Version,
			ended: out.Visit.Stage == work.Finished})
	}
	b.signed(out)
	return out
}

// signed compares what each signature stands for with what is recorded now.
func (b *builder) signed(v *Visit) {
	seen := map[string]bool{}
	for _, s := range slices.Backward(v.Visit.Signatures) {
		if s.Struck || b.err != nil {
			continue
		}
		line := Signed{Entry: s.Entry, Changes: []signoff.Change{}}
		is, digest, err := b.summary(v, scope{until: s.Summary.Until, day: s.Summary.Day, version: s.Summary.V,
			ended: s.Summary.Outcome != ""})
		if err != nil {
			b.err = err
			return
		}
		if digest != s.Digest {
			line.Changes = signoff.Diff(s.Summary, is)
			v.Changed = v.Changed || !seen[s.Summary.Day]
		}
		seen[s.Summary.Day] = true
		v.Signed = append(v.Signed, line)
	}
	slices.Reverse(v.Signed)
}

// state is where the work order stands, when all its visits are known here.
func (b *builder) state(v *Visit) work.State {
	trips := []work.Trip{v.Visit.Trip()}
	for _, id := range v.Order.Visits {
		if id == v.ID {
			continue
		}
		var other work.Visit
		if !b.load("visit", id, &other) {
			return ""
		}
		trips = append(trips, other.Trip())
	}
	return v.Order.State(trips...)
}

// days are the dates on which somebody worked.
func days(crew []CrewTime) []string {
	out := []string{}
	for _, c := range crew {
		for _, s := range c.Spans {
			if s.Kind == labor.Work {
				out = append(out, s.Start.Format(time.DateOnly))
			}
		}
	}
	slices.Sort(out)
	return slices.Compact(out)
}

type builder struct {
	docs   Documents
	wanted []ledger.Ref
	err    error
	filled []filledSheet
	// company and rules are those of the day, 2006-01-02, on which the visit ended; today's while it has not.
	company records.Company
	rules   work.VisitSettings
	day     string
}

// settings reads the rules that the visit is looked at by.
func (b *builder) settings(v *Visit, now time.Time) {
	var err error
	if b.company, b.day, err = ledger.CompanyAt(b.document, now); err == nil {
		if end := v.Visit.Ended(); !end.IsZero() {
			b.day = end.Format(time.DateOnly)
		}
		b.rules, err = ledger.SettingsOn[work.VisitSettings](b.document, b.day)
	}
	b.note(err)
}

// note keeps the first thing that went wrong.
func (b *builder) note(err error) {
	if b.err == nil {
		b.err = err
	}
}

// document is load for the rules that read settings.
func (b *builder) document(r ledger.Ref, v any) (bool, error) { return b.load(r.Type, r.ID, v), nil }

// load reads a document, or notes that it is wanted. A nil body in docs says that there is none.
func (b *builder) load(typ, id string, v any) bool {
	if id == "" {
		return false
	}
	ref := ledger.Ref{Type: typ, ID: id}
	if !b.docs.Has(ref) && !slices.Contains(b.wanted, ref) {
		b.wanted = append(b.wanted, ref)
	}
	found, err := b.docs.Load(ref, v)
	b.note(err)
	return found
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
	for _, q := range v.Questions {
		out = append(out, q.Person, q.AnsweredBy)
	}
	for _, r := range v.Reports {
		out = append(out, r.Person)
	}
	for _, p := range v.Proposals {
		out = append(out, p.Person)
	}
	for _, s := range v.Crew {
		out = append(out, s.Person, s.Helper)
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
	ordered.Stable(people, func(x, y string) int { return rank(v, x) - rank(v, y) })
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
			if s.Helper == person && !s.Asked {
				turned(s.At, s.Clock)
			}
		}
		if first.IsZero() {
			continue
		}
		if !stopped {
			last = later(last, now.In(last.Location()))
		}
		cards := b.cards(person, first, last)
		c := CrewTime{Person: person, Spans: []labor.Span{}}
		for _, s := range labor.Spans(now, cards...) {
			if s.Visit == id {
				c.Spans = append(c.Spans, s)
			}
		}
		var who records.Person
		b.load("person", person, &who)
		c.Spans = labor.Usually(c.Spans, who.Sort)
		c.Hours = labor.Total(c.Spans, id)
		out = append(out, c)
	}
	return out
}

// cards are a person's timecards from one day to another.
func (b *builder) cards(person string, first, last time.Time) []labor.Timecard {
	var out []labor.Timecard
	for day := first; ; day = day.AddDate(0, 0, 1) {
		var c labor.Timecard
		if ref := ledger.TimecardRef(person, day); b.load(ref.Type, ref.ID, &c) {
			out = append(out, c)
		}
		if day.Format(time.DateOnly) >= last.Format(time.DateOnly) {
			return out
		}
	}
}

// standing is where the visit stands by the clock of whoever is on it.
func (b *builder) standing(id string, v work.Visit, now time.Time) work.Standing {
	var cards []labor.Timecard
	if v.Stage.Begun() {
		cards = b.cards(v.CurrentPerson(), v.Since, later(v.Since, now.In(v.Since.Location())))
	}
	return v.StandingAt(id, now, cards)
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
func (b *builder) tasks(order string, o work.Order, crew []CrewTime) []TaskLine {
	out := []TaskLine{}
	for _, t := range o.AllTasks() {
		s := o.Stands(t.ID)
		n := o.Noted(t.ID)
		l := TaskLine{Task: t, Result: n.Result, Remark: n.Remark, Act: s.Act, Entry: s.Entry, By: s.Person,
			Reason: s.Reason, Label: work.TaskLabel(order, t.ID)}
		if t.Asset != "" {
			var a records.Asset
			b.load("asset", t.Asset, &a)
			l.Machine = a.Name
		}
		if i := slices.IndexFunc(o.Added, func(a work.AddedTask) bool { return a.ID == t.ID }); i >= 0 {
			l.Added = o.Added[i].Person
		}
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

// bill works out what the visit's time is billed as, by the rates of the day on which work began. The first skill that the order needs has
// the rate.
func (b *builder) bill(v *Visit) {
	skill := ""
	if len(v.Order.Skills) > 0 {
		skill = v.Order.Skills[0]
	}
	var crew []labor.Crew
	for _, c := range v.Crew {
		crew = append(crew, labor.Crew{Person: c.Person, Lead: c.Person == v.Visit.Technician, Spans: c.Spans})
	}
	day := append(slices.Clone(v.Days), b.day)[0]
	billing, err := ledger.SettingsOn[labor.Billing](b.document, day)
	b.note(err)
	pay, err := ledger.PayRules(b.document)
	b.note(err)
	v.Bill = labor.Charge(crew, skill, billing, b.company.Currency, b.company.Zone, pay)
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
