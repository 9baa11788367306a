package api

import (
	"encoding/json"
	"slices"
	"strings"

	"github.com/gin-gonic/gin"

	"iter.example/iter/core/calendar"
	"iter.example/iter/core/ledger"
	"iter.example/iter/core/records"
	"iter.example/iter/server/store"
)

// Planning is when people and things can be planned.
type Planning struct {
	People    []PlannedPerson   `json:"people"` // who work in the field, by name
	Resources []PlannedResource `json:"resources"`
}

// PlannedPerson is somebody with when they are off.
type PlannedPerson struct {
	ID       string             `json:"id"`
	Person   records.Person     `json:"person"`
	Absences []calendar.Absence `json:"absences"`
}

// PlannedResource is a thing that is booked.
type PlannedResource struct {
	ID       string           `json:"id"`
	Resource records.Resource `json:"resource"`
}

// planning tells when people and things can be planned.
func (s *Server) planning(c *gin.Context) (*Planning, error) {
	return read(s, c, func(tx *store.Tx) (*Planning, error) {
		out := &Planning{People: []PlannedPerson{}, Resources: []PlannedResource{}}
		people, err := tx.Of("person")
		if err != nil {
			return nil, err
		}
		for _, d := range people {
			p := PlannedPerson{ID: d.ID, Absences: []calendar.Absence{}}
			if err := json.Unmarshal(d.Body, &p.Person); err != nil {
				return nil, err
			}
			if !p.Person.Has(records.Technician) {
				continue
			}
			a, err := absencesOf(tx, d.ID)
			if err != nil {
				return nil, err
			}
			p.Absences = append(p.Absences, a.List...)
			out.People = append(out.People, p)
		}
		slices.SortFunc(out.People, func(x, y PlannedPerson) int { return strings.Compare(x.Person.Name, y.Person.Name) })
		things, err := tx.Of("resource")
		if err != nil {
			return nil, err
		}
		for _, d := range things {
			r := PlannedResource{ID: d.ID}
			if err := json.Unmarshal(d.Body, &r.Resource); err != nil {
				return nil, err
			}
			out.Resources = append(out.Resources, r)
		}
		slices.SortFunc(out.Resources, func(x, y PlannedResource) int { return strings.Compare(x.Resource.Name, y.Resource.Name) })
		return out, nil
	})
}

func absencesOf(tx *store.Tx, person string) (a calendar.Absences, err error) {
	_, err = tx.Load("absences", person, &a)
	return a, err
}

// timesOf are when somebody works.
func timesOf(tx *store.Tx, id string, p records.Person, rules ledger.Settings) (calendar.Times, error) {
	a, err := absencesOf(tx, id)
	return calendar.Times{Weeks: p.Hours, Usual: rules.Planning.Hours, Holidays: rules.Pay.Holidays, Off: a.Off()}, err
}

// eachTechnician goes through all who work in the field, with when they work.
func eachTechnician(tx *store.Tx, rules ledger.Settings, each func(id string, p records.Person, times calendar.Times) error) error {
	people, err := tx.Of("person")
	if err != nil {
		return err
	}
	for _, d := range people {
		var p records.Person
		if err := json.Unmarshal(d.Body, &p); err != nil {
			return err
		}
		if !p.Has(records.Technician) {
			continue
		}
		times, err := timesOf(tx, d.ID, p, rules)
		if err != nil {
			return err
		}
		if err := each(d.ID, p, times); err != nil {
			return err
		}
	}
	return nil
}

// absences are those that somebody asked for, to be decided.
func (w waiting) absences() (int, []WaitingLine, error) {
	people, err := w.tx.Of("person")
	if err != nil {
		return 0, nil, err
	}
	settings, err := w.tx.Settings(w.now)
	if err != nil {
		return 0, nil, err
	}
	var out []WaitingLine
	for _, d := range people {
		a, err := absencesOf(w.tx, d.ID)
		if err != nil {
			return 0, nil, err
		}
		for _, x := range a.Waiting(settings.Company.Zone.In(w.now)) {
			var p records.Person
			if err := json.Unmarshal(d.Body, &p); err != nil {
				return 0, nil, err
			}
			out = append(out, WaitingLine{Ref: ledger.AbsencesRef(d.ID), Title: p.Name, Detail: x.Note,
				At: settings.Company.Zone.On(x.From, 0), Due: true})
		}
	}
	slices.SortStableFunc(out, func(a, b WaitingLine) int { return a.At.Compare(b.At) })
	return len(out), out, nil
}
