// Package promises works out by when work is promised that comes in: by agreements about the machine, or else by the company's rules.
package promises

import (
	"encoding/json"
	"slices"
	"time"

	"iter.example/iter/core/calendar"
	"iter.example/iter/core/work"
	"iter.example/iter/server/store"
)

// Promise is by when work is promised; nothing where no rule says it.
type Promise struct {
	By        time.Time `json:"by,omitzero"`         // when somebody comes
	Agreement string    `json:"agreement,omitempty"` // name of the one that says it; "" where the company's own rules do
	// Done is by when the work is done, DoneAgreement the name of the agreement that says that.
	Done          time.Time `json:"done,omitzero"`
	DoneAgreement string    `json:"doneAgreement,omitempty"`
}

// Of is what is promised of work that comes in at a moment, of a priority and a kind, on a machine; "" for none.
func Of(tx *store.Tx, now time.Time, priority work.Priority, kind, asset string) (*Promise, error) {
	rules, err := tx.Settings(now)
	if err != nil {
		return nil, err
	}
	rest := rules.Pay.RestDays
	if len(rest) == 0 {
		rest = []int{int(time.Saturday), int(time.Sunday)}
	}
	days := work.Workdays{Free: func(date string) bool {
		d, err := time.Parse(time.DateOnly, date)
		return err == nil && slices.Contains(rest, int(d.Weekday())) || slices.Contains(rules.Pay.Holidays, date)
	}}
	times := calendar.Times{Usual: rules.Planning.Hours, Holidays: rules.Pay.Holidays}
	if times.Known() {
		days.Hours = func(date string) []calendar.Interval { return times.On(date, rules.Company.Zone) }
	}
	now = rules.Company.Zone.In(now)
	agreements, err := agreementsOn(tx, asset, now.Format(time.DateOnly))
	if err != nil {
		return nil, err
	}
	usual := rules.Orders.Promise(priority, kind, now, days)
	out := &Promise{}
	for _, a := range agreements {
		p := work.OrderSettings{Promises: a.Promises}.Promise(priority, kind, now, days)
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
func agreementsOn(tx *store.Tx, asset, day string) (out []work.Agreement, err error) {
	if asset == "" {
		return nil, nil
	}
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
}
