package api

import (
	"cmp"
	"slices"
	"strings"
	"time"

	"github.com/gin-gonic/gin"

	"iter.example/iter/core/calendar"
	"iter.example/iter/core/ledger"
	"iter.example/iter/core/msg"
	"iter.example/iter/core/plan"
	"iter.example/iter/core/records"
	"iter.example/iter/core/work"
	"iter.example/iter/server/store"
)

// FreeAsked is what a visit is looked for: of an order, or of one that is not open yet.
type FreeAsked struct {
	Order   string `form:"order" json:"order,omitempty"`
	Site    string `form:"site" json:"site,omitempty"`
	Minutes int    `form:"minutes" json:"minutes,omitempty"`
	Skills  string `form:"skills" json:"skills,omitempty"` // ids, apart by commas
	From    string `form:"from" json:"from,omitempty"`     // date, "" for today
}

// FreeTime is when somebody could come.
type FreeTime struct {
	Date   string    `json:"date"`
	Start  time.Time `json:"start"`
	Person string    `json:"person"`
	Name   string    `json:"name"` // short
	Fit    plan.Fit  `json:"fit"`
}

// For how many days free times are looked for, and how many are told of each.
const (
	freeDays   = 7
	freeOfDay  = 2
	freeAtMost = 6
)

// free tells when somebody could come: the best times of the coming days, the best first.
func (s *Server) free(c *gin.Context, q FreeAsked) ([]FreeTime, error) {
	now := s.now(c)
	var days []*dayPlan
	_, err := read(s, c, func(tx *store.Tx) (struct{}, error) {
		settings, err := tx.Settings(now)
		if err != nil {
			return struct{}{}, err
		}
		from := settings.Company.Zone.In(now)
		if q.From > from.Format(time.DateOnly) {
			if from, err = time.Parse(time.DateOnly, q.From); err != nil {
				return struct{}{}, refusal{status: 400, why: msg.New("http.date")}
			}
		}
		for i := range freeDays {
			d, err := freeDay(tx, from.AddDate(0, 0, i).Format(time.DateOnly), now, settings, q)
			if err != nil {
				return struct{}{}, err
			}
			days = append(days, d)
		}
		return struct{}{}, nil
	})
	if err != nil {
		return nil, err
	}
	out := []FreeTime{}
	for i, d := range days {
		if err := s.openDay(c, d); err != nil {
			return nil, err
		}
		for _, f := range d.day.Suggest(d.day.Wants[len(d.day.Wants)-1], freeOfDay) {
			f.Cost += i * 24 * 3600 / 60 // a day later costs as much as on one day 24 hours do
			out = append(out, FreeTime{Date: d.day.Date, Start: d.at(f.Begin), Person: f.Lane,
				Name: d.day.Lane(f.Lane).Name, Fit: f})
		}
	}
	slices.SortStableFunc(out, func(a, b FreeTime) int { return cmp.Compare(a.Fit.Cost, b.Fit.Cost) })
	return out[:min(len(out), freeAtMost)], nil
}

// dayOf gathers a day of all people and things with their visits.
func dayOf(tx *store.Tx, date string, now time.Time, rules ledger.Settings) (*dayPlan, error) {
	d := newDayPlan(tx, date, now, rules)
	err := eachTechnician(tx, rules, func(id string, p records.Person, times calendar.Times) error {
		d.person(id, p, startOf(p, rules.Road), times)
		return nil
	})
	if err == nil {
		err = d.things()
	}
	if err != nil {
		return nil, err
	}
	ids, err := tx.VisitsOn(date)
	if err != nil {
		return nil, err
	}
	for _, id := range ids {
		var v work.Visit
		if _, err := tx.Load("visit", id, &v); err != nil {
			return nil, err
		}
		if err := d.visit(id, v, rules.Company.Zone.In(now)); err != nil {
			return nil, err
		}
	}
	return d, nil
}

// freeDay gathers a day of those who are not off, with what is looked for as the last of what waits.
func freeDay(tx *store.Tx, date string, now time.Time, rules ledger.Settings, q FreeAsked) (*dayPlan, error) {
	d, err := dayOf(tx, date, now, rules)
	if err != nil {
		return nil, err
	}
	d.day.Lanes = slices.DeleteFunc(d.day.Lanes, func(l plan.Lane) bool { return !l.Thing && !l.Always && len(l.Hours) == 0 })
	o, minutes := work.Order{Site: q.Site}, q.Minutes
	skills := strings.FieldsFunc(q.Skills, func(r rune) bool { return r == ',' })
	if q.Order != "" {
		line, err := orderLine(tx, q.Order)
		if err != nil {
			return nil, err
		}
		if err := waits(tx, &line, rules.Visits); err != nil {
			return nil, err
		}
		if _, err := tx.Load("workorder", q.Order, &o); err != nil {
			return nil, err
		}
		minutes, skills = cmp.Or(q.Minutes, line.Minutes), line.Skills
	}
	w, err := d.want(q.Order, o, max(minutes, 1), skills)
	if err != nil {
		return nil, err
	}
	d.day.Wants = append(d.day.Wants, w)
	return d, d.whoKnows()
}
