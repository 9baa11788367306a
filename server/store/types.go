package store

import (
	"encoding/json"
	"strings"
	"time"

	"iter.example/iter/core/ledger"
	"iter.example/iter/core/stock"
	"iter.example/iter/core/work"
)

// docType is what the store does with documents of a type, beside what follows from which devices hold it.
type docType struct {
	// index keeps the tables that answer questions in step with a document; nil when it is in none.
	index func(t *Tx, id string) error
	// people are those to whose devices a changed document may matter; nil when it may to all that can hold it.
	people func(t *Tx, id string) ([]string, error)
}

// docTypes are the rows, by the name of the type: of those that are in tables of the store, or of concern to some people alone.
var docTypes map[string]docType

func init() {
	docTypes = map[string]docType{
		"customer":   {index: (*Tx).indexCustomer},
		"site":       {index: (*Tx).indexSite},
		"asset":      {index: (*Tx).indexAsset},
		"assetkind":  {index: (*Tx).indexAssetKind},
		"person":     {index: (*Tx).indexPerson},
		"part":       {index: (*Tx).indexPart},
		"knowhow":    {index: (*Tx).indexKnowHow},
		"visit":      {index: (*Tx).indexVisit, people: (*Tx).peopleOfVisit},
		"workorder":  {index: (*Tx).indexOrder, people: (*Tx).peopleOfOrder},
		"talk":       {index: (*Tx).indexTalk, people: (*Tx).peopleOfOrder}, // it has the id of the order
		"timecard":   {people: func(_ *Tx, id string) ([]string, error) { who, _, _ := strings.Cut(id, "+"); return []string{who}, nil }},
		"absences":   {people: func(_ *Tx, id string) ([]string, error) { return []string{id}, nil }},
		"notices":    {people: func(_ *Tx, id string) ([]string, error) { return []string{id}, nil }},
		"stock":      {people: (*Tx).peopleOfPlace},
		"handover":   {index: (*Tx).indexHandover, people: (*Tx).peopleOfHandover},
		"request":    {index: (*Tx).indexRequest, people: (*Tx).peopleOfRequest},
		"purchase":   {index: (*Tx).indexPurchase},
		"measured":   {people: nobody},
		"substances": {people: nobody},
		"levels":     {people: (*Tx).peopleOfPlace},
		"incident":   {index: (*Tx).indexIncident},
	}
}

// nobody is told of documents that change with others which people are told of.
func nobody(*Tx, string) ([]string, error) { return nil, nil }

// index keeps the tables that answer questions in step with a document.
func (t *Tx) index(d ledger.Ref) error {
	if f := docTypes[d.Type].index; f != nil {
		return f(t, d.ID)
	}
	return nil
}

// Concerned tells to whose devices changed documents may matter; nil means to all.
func (t *Tx) Concerned(refs []ledger.Ref) (map[string]bool, error) {
	out := map[string]bool{}
	for _, r := range refs {
		if ledger.ReachOf(r.Type) == ledger.AtTheOffice {
			continue
		}
		f := docTypes[r.Type].people
		if f == nil {
			return nil, nil
		}
		people, err := f(t, r.ID)
		if err != nil {
			return nil, err
		}
		for _, p := range people {
			out[p] = true
		}
	}
	return out, nil
}

func (t *Tx) indexVisit(id string) error {
	var v work.Visit
	if _, err := t.Load("visit", id, &v); err != nil {
		return err
	}
	ended, endedDay := "", ""
	if e := v.Ended(); !e.IsZero() {
		ended, endedDay = utc(e), e.Format(time.DateOnly)
	}
	shown := !v.SentAt.IsZero() && (v.WithdrawnAt.IsZero() || v.Begun())
	trip, err := json.Marshal(v.Trip())
	if err != nil {
		return err
	}
	// Changed in place: what is put anew is put into each of the indexes again.
	_, err = t.exec(`INSERT INTO visits
		(id, workorder, technician, day, start, stage, shown, ended, reviewed, outcome, unsigned, asked, trip, until, minutes, ended_day,
		number, label, problem, kind, priority, customer, customer_name, site, site_name)
		SELECT ?,?2,?,?,?,?,?,?,?,?,?,?,?,?,?,?, coalesce(w.number, 0), coalesce(w.label, ''), coalesce(w.problem, ''), coalesce(w.kind, ''),
		coalesce(w.priority, ''), coalesce(w.customer, ''), coalesce(w.customer_name, ''), coalesce(w.site, ''), coalesce(w.site_name, '')
		FROM (SELECT 1) LEFT JOIN workorders w ON w.id = ?2 WHERE true
		ON CONFLICT (id) DO UPDATE SET workorder = excluded.workorder, technician = excluded.technician, day = excluded.day,
		start = excluded.start, stage = excluded.stage, shown = excluded.shown, ended = excluded.ended,
		reviewed = excluded.reviewed, outcome = excluded.outcome, unsigned = excluded.unsigned, asked = excluded.asked,
		trip = excluded.trip, until = excluded.until, minutes = excluded.minutes, ended_day = excluded.ended_day,
		number = excluded.number, label = excluded.label, problem = excluded.problem, kind = excluded.kind,
		priority = excluded.priority, customer = excluded.customer, customer_name = excluded.customer_name, site = excluded.site,
		site_name = excluded.site_name`,
		id, v.Order, v.Technician, v.Start.Format(time.DateOnly), utc(v.Start), v.Stage, shown, ended, !v.ReviewedAt.IsZero(), v.Outcome,
		v.NeedsSignature(), v.Asked() != nil, string(trip), v.LastDay(), v.Minutes, endedDay)
	if err != nil {
		return err
	}
	if _, err := t.exec("DELETE FROM visit_people WHERE visit = ?", id); err != nil {
		return err
	}
	for _, p := range v.Others() {
		if _, err := t.exec("INSERT OR IGNORE INTO visit_people (person, visit) VALUES (?,?)", p, id); err != nil {
			return err
		}
	}
	if err := t.measured(id, v); err != nil {
		return err
	}
	return t.ended(id, v)
}

func (t *Tx) peopleOfVisit(id string) ([]string, error) {
	var v work.Visit
	_, err := t.Load("visit", id, &v)
	return append(append(v.Others(), v.Former...), v.Technician), err
}

func (t *Tx) indexOrder(id string) error {
	t.orders[id] = true
	// The visits of an order that turned out to be for another site are of the history of that one.
	if _, err := t.exec(`UPDATE history SET site = d.body ->> '$.site', rev = ?2 FROM docs d WHERE d.type = 'workorder' AND d.id = ?1
		AND site <> d.body ->> '$.site' AND visit IN (SELECT id FROM visits WHERE workorder = ?1)`, id,
		t.revs[ledger.Ref{Type: "workorder", ID: id}]); err != nil {
		return err
	}
	return t.findOrder(id)
}

// peopleOfOrder are those on its visits.
func (t *Tx) peopleOfOrder(order string) ([]string, error) {
	var o work.Order
	if _, err := t.Load("workorder", order, &o); err != nil {
		return nil, err
	}
	var out []string
	for _, id := range o.Visits {
		var v work.Visit
		if _, err := t.Load("visit", id, &v); err != nil {
			return nil, err
		}
		out = append(out, append(v.Others(), v.Technician)...)
	}
	return out, nil
}

// carriersOf are those who carry places.
func (t *Tx) carriersOf(places ...string) ([]string, error) {
	var out []string
	for _, id := range places {
		var p stock.Place
		if _, err := t.Load("place", id, &p); err != nil {
			return nil, err
		}
		out = append(out, p.Person)
	}
	return out, nil
}

// peopleOfPlace is who carries a place.
func (t *Tx) peopleOfPlace(id string) ([]string, error) { return t.carriersOf(id) }

func (t *Tx) indexHandover(id string) error {
	var h stock.Handover
	if _, err := t.Load("handover", id, &h); err != nil {
		return err
	}
	_, err := t.exec(`INSERT OR REPLACE INTO handovers (id, "from", "to", at, live) VALUES (?,?,?,?,?)`,
		id, h.From, h.To, utc(h.At), h.Open() || (!h.Back && len(h.Missing()) > 0))
	return err
}

func (t *Tx) peopleOfHandover(id string) ([]string, error) {
	var h stock.Handover
	if _, err := t.Load("handover", id, &h); err != nil {
		return nil, err
	}
	return t.carriersOf(h.From, h.To)
}

func (t *Tx) indexRequest(id string) error {
	var r stock.Request
	if _, err := t.Load("request", id, &r); err != nil {
		return err
	}
	_, err := t.exec("INSERT OR REPLACE INTO requests (id, visit, workorder, person, state, at, since) VALUES (?,?,?,?,?,?,?)",
		id, r.Visit, r.Order, r.Person, r.State, utc(r.At), utc(r.Since))
	return err
}

func (t *Tx) peopleOfRequest(id string) ([]string, error) {
	var r stock.Request
	_, err := t.Load("request", id, &r)
	return []string{r.Person}, err
}

func (t *Tx) indexPurchase(id string) error {
	var p stock.Purchase
	if _, err := t.Load("purchase", id, &p); err != nil {
		return err
	}
	_, err := t.exec("INSERT OR REPLACE INTO purchases (id, state, place, at) VALUES (?,?,?,?)", id, p.State, p.Place, utc(p.At))
	return err
}
