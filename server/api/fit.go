package api

import (
	"cmp"
	"slices"
	"time"

	"github.com/gin-gonic/gin"

	"iter.example/iter/core/msg"
	"iter.example/iter/core/plan"
	"iter.example/iter/core/records"
	"iter.example/iter/core/work"
	"iter.example/iter/server/store"
)

// FitAsked is a visit, or a work order that waits, and a person and a day that are thought of for it.
type FitAsked struct {
	Visit  string `form:"visit" json:"visit,omitempty"`
	Order  string `form:"order" json:"order,omitempty"` // without a visit
	Person string `form:"person" json:"person"`
	Date   string `form:"date" json:"date"`
	// Time is when it is to begin, as 08:30; "" for a visit's own time of day, or the best.
	Time  string `form:"time" json:"time,omitempty"`
	Draft bool   `form:"draft" json:"draft,omitempty"`
}

// FitFound is what it comes to: Fit is nil when there is no time left on the day.
type FitFound struct {
	Fit     *plan.Fit `json:"fit,omitempty"`
	Start   time.Time `json:"start,omitzero"`
	Minutes int       `json:"minutes"`
}

// fit tells what it comes to when somebody does a visit on a day.
func (s *Server) fit(c *gin.Context, q FitAsked) (FitFound, error) {
	now := s.now(c)
	var d *dayPlan
	var w plan.Want
	begin := -1
	out, err := readPlan(s, c, q.Draft, func(tx *store.Tx) (out FitFound, err error) {
		rules, err := tx.Settings(now)
		if err != nil {
			return out, err
		}
		if _, err := time.Parse(time.DateOnly, q.Date); err != nil {
			return out, refusal{status: 400, why: msg.New("http.date")}
		}
		if d, err = dayOf(tx, q.Date, now, rules); err != nil {
			return out, err
		}
		if !slices.ContainsFunc(d.day.Lanes, func(l plan.Lane) bool { return l.ID == q.Person && !l.Thing }) {
			return out, refusal{status: 404, why: msg.New("record.unknown", "type", "person", "id", records.Clip(q.Person))}
		}
		var v work.Visit
		order, at := q.Order, q.Time
		if q.Visit != "" {
			if ok, err := tx.Load("visit", q.Visit, &v); err != nil || !ok {
				return out, cmp.Or(err, error(refusal{status: 404, why: msg.New("record.unknown", "type", "visit", "id", records.Clip(q.Visit))}))
			}
			order, out.Minutes = v.Order, v.Minutes
			at = cmp.Or(at, rules.Company.Zone.In(v.Start).Format("15:04"))
		}
		line, err := orderLine(tx, order)
		if err != nil {
			return out, err
		}
		if err := waits(tx, &line, rules.Visits); err != nil {
			return out, err
		}
		var o work.Order
		if _, err := tx.Load("workorder", order, &o); err != nil {
			return out, err
		}
		out.Minutes = cmp.Or(out.Minutes, line.Minutes)
		if w, err = d.want(cmp.Or(q.Visit, order), o, out.Minutes, line.Skills); err != nil {
			return out, err
		}
		if q.Visit != "" {
			w.Things = v.Things
		}
		if at != "" {
			t, err := time.Parse("15:04", at)
			if err != nil {
				return out, refusal{status: 400, why: msg.New("http.query")}
			}
			begin = d.since(rules.Company.Zone.On(q.Date, time.Duration(t.Hour())*time.Hour+time.Duration(t.Minute())*time.Minute))
		}
		return out, nil
	})
	if err != nil {
		return out, err
	}
	if err := s.openDay(c, d); err != nil {
		return out, err
	}
	f, ok := d.day.Best(w, q.Person)
	if begin >= 0 {
		f, ok = d.day.Fit(w, q.Person, begin)
	}
	if ok {
		out.Fit, out.Start = &f, d.at(f.Begin)
	}
	return out, nil
}
