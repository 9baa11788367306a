// Package hours is the office's side of time: what the days of a range come to, by person and by work order, with what a person
// must look at first; the payroll file; and posting to accounting.
package hours

import (
	"cmp"
	"encoding/json"
	"slices"
	"strings"
	"time"

	"iter.example/iter/core/labor"
	"iter.example/iter/core/ledger"
	"iter.example/iter/core/msg"
	"iter.example/iter/core/records"
	"iter.example/iter/core/work"
	"iter.example/iter/server/store"
)

// Range is dates from one to another, both included.
type Range struct {
	From string `form:"from" json:"from"` // 2006-01-02
	To   string `form:"to" json:"to"`
}

// maxDays is the longest range that is looked at at once.
const maxDays = 62

// Check says whether the range is one.
func (r Range) Check() error {
	from, erra := time.Parse(time.DateOnly, r.From)
	to, errb := time.Parse(time.DateOnly, r.To)
	if erra != nil || errb != nil || to.Before(from) {
		return msg.New("http.date")
	}
	if to.Sub(from) > maxDays*24*time.Hour {
		return msg.New("hours.range", "days", "62")
	}
	return nil
}

// Page is what the days of a range come to.
type Page struct {
	Range
	People []Person `json:"people"`
	// Sites are those of the visits that exceptions are about: names, by visit.
	Sites map[string]string `json:"sites"`
}

// Person is what one person's days come to.
type Person struct {
	ID   string `json:"id"`
	Name string `json:"name"`
	Days []Sum  `json:"days"`
}

// Sum is what a day comes to. Times are in seconds.
type Sum struct {
	Date       string            `json:"date"`
	Ended      bool              `json:"ended"` // the person said so
	Normal     int64             `json:"normal"`
	Overtime   int64             `json:"overtime"`
	Double     int64             `json:"double"`
	Worked     bool              `json:"worked"`  // there is time on it
	Running    bool              `json:"running"` // a clock of it still runs
	Open       bool              `json:"open"`    // a visit of it is not over, or a clock still runs
	Exceptions []labor.Exception `json:"exceptions"`
	Approved   *labor.Approval   `json:"approved,omitempty"`
	Posted     time.Time         `json:"posted,omitzero"`
}

// Day is a day of a person, with the visits that its spans are for.
type Day struct {
	labor.Day
	// Open tells that a visit of the day is not over, or a clock of it still runs.
	Open   bool             `json:"open"`
	Visits map[string]Visit `json:"visits"` // by id
}

func (d Day) sum() Sum {
	return Sum{Date: d.Date, Ended: !d.Ended.IsZero(), Normal: d.Paid.Normal, Overtime: d.Paid.Overtime, Double: d.Paid.Double,
		Worked: len(d.Spans) > 0, Running: slices.ContainsFunc(d.Spans, func(s labor.Span) bool { return s.Open }), Open: d.Open,
		Exceptions: d.Exceptions, Approved: d.Approved, Posted: d.Posted}
}

// Visit is what a span is for, in words.
type Visit struct {
	Order      string            `json:"order"`
	Number     string            `json:"number"`
	Site       string            `json:"site"`
	Problem    string            `json:"problem"`
	Stage      work.Stage        `json:"stage"`
	Tasks      map[string]string `json:"tasks"` // names, by id
	Technician string            `json:"technician"`
}

// Order is the time that went to a work order, by person.
type Order struct {
	ID         string      `json:"id"`
	Number     string      `json:"number"`
	Site       string      `json:"site"`
	Problem    string      `json:"problem"`
	Open       bool        `json:"open"` // a visit of it is not over
	Hours      labor.Hours `json:"hours"`
	People     []Share     `json:"people"`
	Exceptions int         `json:"exceptions"`
}

// Share is a person's part of a work order's time.
type Share struct {
	Person string      `json:"person"` // name
	Hours  labor.Hours `json:"hours"`
}

// Remember gives a person's days that were worked out before, under a key, or works them out; they may be kept until something changes that
// they were read from when work says so.
type Remember func(tx *store.Tx, key string, work func() (days []Day, keep bool, err error)) ([]Day, error)

// anew remembers nothing.
func anew(_ *store.Tx, _ string, work func() ([]Day, bool, error)) ([]Day, error) {
	days, _, err := work()
	return days, err
}

// Of says what the days of a range come to. remember may be nil.
func Of(tx *store.Tx, r Range, now time.Time, remember Remember) (Page, error) {
	page := Page{Range: r, People: []Person{}, Sites: map[string]string{}}
	people, err := worked(tx, r, now, remember)
	for _, p := range people {
		sums := make([]Sum, 0, len(p.days))
		for _, d := range p.days {
			if len(d.Spans)+len(d.Stamps) == 0 && d.Approved == nil {
				continue // nothing happened on it
			}
			sums = append(sums, d.sum())
			for _, x := range d.Exceptions {
				if v, ok := d.Visits[x.Visit]; ok {
					page.Sites[x.Visit] = v.Site
				}
			}
		}
		page.People = append(page.People, Person{ID: p.id, Name: p.name, Days: sums})
	}
	return page, err
}

// OfDay works out a person's day; one of which there is nothing is not found.
func OfDay(tx *store.Tx, person, date string, now time.Time) (Day, bool, error) {
	terms, err := termsAt(tx, now)
	if err != nil {
		return Day{}, false, err
	}
	days, _, err := terms.worked(tx, person, Range{From: date, To: date}, now)
	if err != nil || len(days) == 0 {
		return Day{}, false, err
	}
	return days[0], true, nil
}

// worker is a person with the days of a range.
type worker struct {
	id, name string
	days     []Day
}

// worked works out the days of a range, by person, by name. remember may be nil.
func worked(tx *store.Tx, r Range, now time.Time, remember Remember) ([]worker, error) {
	if err := r.Check(); err != nil {
		return nil, err
	}
	if remember == nil {
		remember = anew
	}
	var terms terms
	read, err := tx.Reading(func() (err error) {
		terms, err = termsAt(tx, now)
		return err
	})
	if err != nil {
		return nil, err
	}
	people, err := tx.Of("person")
	if err != nil {
		return nil, err
	}
	var out []worker
	for _, doc := range people {
		var p records.Person
		if err := json.Unmarshal(doc.Body, &p); err != nil {
			return nil, err
		}
		if !p.Has(records.Technician) {
			continue
		}
		days, err := remember(tx, doc.ID+" "+r.From+" "+r.To, func() ([]Day, bool, error) {
			tx.HasRead(read)
			return terms.worked(tx, doc.ID, r, now)
		})
		if err != nil {
			return nil, err
		}
		out = append(out, worker{doc.ID, p.Name, days})
	}
	slices.SortFunc(out, func(a, b worker) int { return cmp.Or(strings.Compare(a.name, b.name), strings.Compare(a.id, b.id)) })
	return out, nil
}

// terms are what days are worked out by: the company's clock and the terms of pay.
type terms struct {
	zone  labor.Zone
	rules []labor.Rules
}

func termsAt(tx *store.Tx, now time.Time) (terms, error) {
	c, _, err := tx.Company(now)
	if err != nil {
		return terms{}, err
	}
	rules, err := tx.PayRules()
	return terms{c.Zone, rules}, err
}

// worked works out a person's days, and tells whether they keep.
func (t terms) worked(tx *store.Tx, person string, r Range, now time.Time) ([]Day, bool, error) {
	days, keep, err := t.days(tx, person, r, now)
	if err != nil {
		return nil, false, err
	}
	known := map[string]Visit{}
	out := make([]Day, 0, len(days))
	for _, d := range days {
		x := Day{Day: d, Visits: map[string]Visit{}}
		for _, s := range d.Spans {
			v, err := visitOf(tx, known, s.Visit)
			if err != nil {
				return nil, false, err
			}
			if s.Visit != "" {
				x.Visits[s.Visit] = v
			}
			x.Open = x.Open || s.Open || (s.Visit != "" && v.Stage != work.Finished && v.Stage != work.Withdrawn)
		}
		out = append(out, x)
	}
	return out, keep, nil
}

// days works out a person's days of a range. The cards go back to before the Monday of its week, for the week's overtime. The days keep
// while no clock runs on the cards and nothing is set for later: then they do not change with time.
func (t terms) days(tx *store.Tx, person string, r Range, now time.Time) (out []labor.Day, keep bool, err error) {
	from, err := time.Parse(time.DateOnly, r.From)
	if err != nil {
		return nil, false, msg.New("http.date")
	}
	back := from.AddDate(0, 0, -(int(from.Weekday())+6)%7-1).Format(time.DateOnly)
	cards, err := tx.Cards(person, back, r.To)
	if err != nil {
		return nil, false, err
	}
	wrong, err := tx.ClockErrors(person)
	if err != nil {
		return nil, false, err
	}
	var who records.Person
	if _, err := tx.Load("person", person, &who); err != nil {
		return nil, false, err
	}
	keep = true
	for _, d := range labor.Days(t.zone.In(now), t.zone, t.rules, cards...) {
		d.Spans = labor.Usually(d.Spans, who.Sort)
		keep = keep && !d.Ended.After(now) && !slices.ContainsFunc(d.Spans, func(s labor.Span) bool { return s.Open }) &&
			!slices.ContainsFunc(d.Stamps, func(s labor.Stamp) bool { return s.At.After(now) })
		if d.Date < r.From || d.Date > r.To {
			continue
		}
		for _, s := range d.Stamps {
			if at, ok := wrong[s.Entry]; ok && !s.Struck {
				d.Exceptions = append(d.Exceptions, labor.Exception{Trouble: labor.ClockError, Start: at, Entry: s.Entry, Visit: s.Visit})
			}
		}
		out = append(out, d)
	}
	return out, keep, nil
}

// visitOf finds what a span is for, once.
func visitOf(tx *store.Tx, known map[string]Visit, id string) (Visit, error) {
	if v, ok := known[id]; ok || id == "" {
		return v, nil
	}
	v, err := tx.VisitWork(id)
	if err != nil {
		return Visit{}, err
	}
	out := Visit{Order: v.Visit.Order, Number: v.Order.Number, Site: v.Site.Name, Problem: v.Order.Problem, Stage: v.Visit.Stage,
		Technician: v.Visit.Technician, Tasks: map[string]string{}}
	for _, t := range v.Order.AllTasks() {
		out.Tasks[t.ID] = t.Name
	}
	known[id] = out
	return out, nil
}

// Orders adds up the time of a range by work order, those with most to look at first. remember may be nil.
func Orders(tx *store.Tx, r Range, now time.Time, remember Remember) ([]Order, error) {
	people, err := worked(tx, r, now, remember)
	if err != nil {
		return nil, err
	}
	spans := map[string][]labor.Span{} // by order
	found := map[string]*Order{}
	for _, p := range people {
		mine := map[string][]labor.Span{} // by order
		for _, d := range p.days {
			for _, s := range d.Spans {
				v, ok := d.Visits[s.Visit]
				if !ok {
					continue
				}
				if found[v.Order] == nil {
					found[v.Order] = &Order{ID: v.Order, Number: v.Number, Site: v.Site, Problem: v.Problem, People: []Share{}}
				}
				found[v.Order].Open = found[v.Order].Open || s.Open || (v.Stage != work.Finished && v.Stage != work.Withdrawn)
				mine[v.Order] = append(mine[v.Order], s)
			}
			for _, x := range d.Exceptions {
				if o := found[d.Visits[x.Visit].Order]; o != nil {
					o.Exceptions++
				}
			}
		}
		for order, s := range mine {
			found[order].People = append(found[order].People, Share{p.name, labor.Total(s, "")})
			spans[order] = append(spans[order], s...)
		}
	}
	out := make([]Order, 0, len(found))
	for id, o := range found {
		o.Hours = labor.Total(spans[id], "")
		out = append(out, *o)
	}
	slices.SortFunc(out, func(a, b Order) int {
		return cmp.Or(cmp.Compare(b.Exceptions, a.Exceptions), strings.Compare(a.Number, b.Number), strings.Compare(a.ID, b.ID))
	})
	return out, nil
}

// card names a person's timecard.
func card(person, date string) ledger.Ref {
	return ledger.Ref{Type: "timecard", ID: person + "+" + date}
}
