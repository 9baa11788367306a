package api

import (
	"encoding/json"
	"slices"
	"time"

	"github.com/gin-gonic/gin"

	"iter.example/iter/core/calendar"
	"iter.example/iter/core/work"
	"iter.example/iter/server/store"
)

// PromiseAsked says of what work it is asked by when it is promised.
type PromiseAsked struct {
	Priority work.Priority `form:"priority" json:"priority"`
	Work     string        `form:"work" json:"work,omitempty"`   // kind of work
	Asset    string        `form:"asset" json:"asset,omitempty"` // machine
}

// PromiseAnswer is by when work is promised that comes in now; nothing where no rule says it.
type PromiseAnswer struct {
	By        time.Time `json:"by,omitzero"`         // when somebody comes
	Agreement string    `json:"agreement,omitempty"` // name of the one that says it; "" where the company's own rules do
	// Done is by when the work is done, DoneAgreement the name of the agreement that says that.
	Done          time.Time `json:"done,omitzero"`
	DoneAgreement string    `json:"doneAgreement,omitempty"`
}

// promise tells what an agreement about the machine, or else the company's rules, promise of work that comes in now.
func (s *Server) promise(c *gin.Context, q PromiseAsked) (*PromiseAnswer, error) {
	rules, err := s.settings(c)
	if err != nil {
		return nil, err
	}
	rest := rules.Pay.RestDays
	if len(rest) == 0 {
		rest = []int{int(time.Saturday), int(time.Sunday)}
	}
	free := func(date string) bool {
		d, err := time.Parse(time.DateOnly, date)
		return err == nil && slices.Contains(rest, int(d.Weekday())) || slices.Contains(rules.Pay.Holidays, date)
	}
	now := rules.Company.Zone.In(s.now(c))
	agreements, err := s.agreementsOn(c, q.Asset, now.Format(time.DateOnly))
	if err != nil {
		return nil, err
	}
	times := calendar.Times{Usual: rules.Planning.Hours, Holidays: rules.Pay.Holidays}
	days := work.Workdays{Free: free}
	if times.Known() {
		days.Hours = func(date string) []calendar.Interval { return times.On(date, rules.Company.Zone) }
	}
	usual := rules.Orders.Promise(q.Priority, q.Work, now, days)
	out := &PromiseAnswer{}
	for _, a := range agreements {
		p := work.OrderSettings{Promises: a.Promises}.Promise(q.Priority, q.Work, now, days)
		if out.By.IsZero() && !p.Come.IsZero() {
			out.By, out.Agreement = p.Come, a.Name
		}
		if out.Done.IsZero() && !p.Done.IsZero() {
			out.Done, out.DoneAgreement = p.Done, a.Name
		}
	}
	if out.By.IsZero() {
		out.By = usual.Come
	}
	if out.Done.IsZero() {
		out.Done = usual.Done
	}
	return out, nil
}

// agreementsOn are those that are about a machine on a day.
func (s *Server) agreementsOn(c *gin.Context, asset, day string) (out []work.Agreement, err error) {
	if asset == "" {
		return nil, nil
	}
	return read(s, c, func(tx *store.Tx) ([]work.Agreement, error) {
		docs, err := tx.Of("agreement")
		if err != nil {
			return nil, err
		}
		for _, d := range docs {
			var a work.Agreement
			if err := json.Unmarshal(d.Body, &a); err != nil {
				return nil, err
			}
			if a.Holds(asset, day) {
				out = append(out, a)
			}
		}
		return out, nil
	})
}
