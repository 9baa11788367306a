// Package hours is the office's side of time: what the days of a range come to, by person and by work order, with what a person
// must look at first; the payroll file; and posting to accounting.
package hours

import (
	"encoding/json"
	"maps"
	"slices"
	"sort"
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

// Page is the hours of a range.
type Page struct {
	Range
	People []Person `json:"people"`
	Orders []Order  `json:"orders"`
	// Visits are those that the spans are for, by id.
	Visits map[string]Visit `json:"visits"`
}

// Person is one person's days.
type Person struct {
	ID   string `json:"id"`
	Name string `json:"name"`
	Days []Day  `json:"days"`
}

// Day is a day with what the office adds to it.
type Day struct {
	labor.Day
	// Open tells that a visit of the day is not over, or a clock of it still runs.
	Open bool `json:"open"`
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

// Worked is what a person's days of a range come to, with the visits that their spans are for.
type Worked struct {
	Days   []Day
	Visits map[string]Visit
}

// Remember gives a person's days that were worked out before, under a key, or works them out; they may be kept until something changes that
// they were read from when work says so.
type Remember func(tx *store.Tx, key string, work func() (days Worked, keep bool, err error)) (Worked, error)

// anew remembers nothing.
func anew(_ *store.Tx, _ string, work func() (Worked, bool, error)) (Worked, error) {
	days, _, err := work()
	return days, err
}

// Of works out a range. remember may be nil.
func Of(tx *store.Tx, r Range, now time.Time, remember Remember) (Page, error) {
	page := Page{Range: r, People: []Person{}, Orders: []Order{}, Visits: map[string]Visit{}}
	if err := r.Check(); err != nil {
		return page, err
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
		return page, err
	}
	people, err := tx.Of("person")
	if err != nil {
		return page, err
	}
	for _, doc := range people {
		var p records.Person
		if err := json.Unmarshal(doc.Body, &p); err != nil {
			return page, err
		}
		if !p.Has(records.Technician) {
			continue
		}
		w, err := remember(tx, doc.ID+" "+r.From+" "+r.To, func() (Worked, bool, error) {
			tx.HasRead(read)
			return terms.worked(tx, doc.ID, r, now)
		})
		if err != nil {
			return page, err
		}
		page.People = append(page.People, Person{ID: doc.ID, Name: p.Name, Days: w.Days})
		maps.Copy(page.Visits, w.Visits)
	}
	slices.SortFunc(page.People, func(a, b Person) int { return strings.Compare(a.Name, b.Name) })
	page.orders()
	return page, nil
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
func (t terms) worked(tx *store.Tx, person string, r Range, now time.Time) (Worked, bool, error) {
	out := Worked{Days: []Day{}, Visits: map[string]Visit{}}
	days, keep, err := t.days(tx, person, r, now)
	if err != nil {
		return out, false, err
	}
	for _, d := range days {
		x := Day{Day: d}
		for _, s := range d.Spans {
			v, err := out.visit(tx, s.Visit)
			if err != nil {
				return out, false, err
			}
			x.Open = x.Open || s.Open || (s.Visit != "" && v.Stage != work.Finished && v.Stage != work.Withdrawn)
		}
		out.Days = append(out.Days, x)
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
	keep = true
	for _, d := range labor.Days(t.zone.In(now), t.zone, t.rules, cards...) {
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

// visit finds what a span is for, once.
func (w Worked) visit(tx *store.Tx, id string) (Visit, error) {
	if v, ok := w.Visits[id]; ok || id == "" {
		return v, nil
	}
	v, err := tx.VisitWork(id)
	if err != nil {
		return Visit{}, err
	}
	out := Visit{Order: v.Visit.Order, Number: v.Order.Number, Site: v.Site.Name, Problem: v.Order.Problem, Stage: v.Visit.Stage,
		Technician: v.Visit.Technician, Tasks: map[string]string{}}
	for _, t := range v.Order.Tasks {
		out.Tasks[t.ID] = t.Name
	}
	w.Visits[id] = out
	return out, nil
}

// orders adds up the days by work order.
func (p *Page) orders() {
	spans := map[string]map[string][]labor.Span{} // by order, then person
	found := map[string]*Order{}
	for _, person := range p.People {
		for _, d := range person.Days {
			for _, s := range d.Spans {
				v, ok := p.Visits[s.Visit]
				if !ok {
					continue
				}
				if found[v.Order] == nil {
					found[v.Order] = &Order{ID: v.Order, Number: v.Number, Site: v.Site, Problem: v.Problem, People: []Share{}}
					spans[v.Order] = map[string][]labor.Span{}
				}
				found[v.Order].Open = found[v.Order].Open || s.Open || (v.Stage != work.Finished && v.Stage != work.Withdrawn)
				spans[v.Order][person.Name] = append(spans[v.Order][person.Name], s)
			}
			for _, x := range d.Exceptions {
				if o := found[p.Visits[x.Visit].Order]; o != nil {
					o.Exceptions++
				}
			}
		}
	}
	for id, o := range found {
		var all []labor.Span
		for name, s := range spans[id] {
			o.People = append(o.People, Share{name, labor.Total(s, "")})
			all = append(all, s...)
		}
		slices.SortFunc(o.People, func(a, b Share) int { return strings.Compare(a.Person, b.Person) })
		o.Hours = labor.Total(all, "")
		p.Orders = append(p.Orders, *o)
	}
	sort.Slice(p.Orders, func(i, j int) bool {
		a, b := p.Orders[i], p.Orders[j]
		if a.Exceptions != b.Exceptions {
			return a.Exceptions > b.Exceptions
		}
		return a.Number < b.Number
	})
}

// card names a person's timecard.
func card(person, date string) ledger.Ref {
	return ledger.Ref{Type: "timecard", ID: person + "+" + date}
}
