package api

import (
	"slices"
	"time"

	"github.com/gin-gonic/gin"

	"iter.example/iter/core/work"
	"iter.example/iter/server/store"
)

// PromisesAsked says of how many weeks it is asked, this one among them; 0: usualPromiseWeeks.
type PromisesAsked struct {
	Weeks int `form:"weeks" json:"weeks,omitempty"`
}

// PromiseFigures are how promises stand, by the week in which they end.
type PromiseFigures struct {
	Weeks []PromiseWeek `json:"weeks"` // the latest first
	// Wrong are orders of which a promise is at risk, late or broken, the latest promise first; More there are besides.
	Wrong []PromiseLine `json:"wrong"`
	More  int           `json:"more,omitempty"`
	// Cut tells that earlier orders were not looked at.
	Cut bool `json:"cut,omitempty"`
}

// PromiseWeek is a week, with how many promises stand how: that somebody comes, and that work is done.
type PromiseWeek struct {
	Monday string                    `json:"monday"` // 2006-01-02
	Come   map[work.PromiseState]int `json:"come"`
	Done   map[work.PromiseState]int `json:"done"`
}

// PromiseLine is an order with how its promises stand.
type PromiseLine struct {
	Order OrderLine            `json:"order"`
	Come  work.PromiseStanding `json:"come"`
	Done  work.PromiseStanding `json:"done"`
}

const (
	usualPromiseWeeks = 13
	mostPromiseWeeks  = 53
	mostPromised      = 5000
	mostWrong         = 100
)

// promiseFigures tells how promises of the last weeks stand.
func (s *Server) promiseFigures(c *gin.Context, q PromisesAsked) (*PromiseFigures, error) {
	now := s.now(c)
	weeks := q.Weeks
	if weeks < 1 || weeks > mostPromiseWeeks {
		weeks = usualPromiseWeeks
	}
	return read(s, c, func(tx *store.Tx) (*PromiseFigures, error) {
		rules, err := tx.Settings(now)
		if err != nil {
			return nil, err
		}
		zone := rules.Company.Zone
		out := &PromiseFigures{Weeks: []PromiseWeek{}, Wrong: []PromiseLine{}}
		this := mondayOf(zone.In(now))
		for i := range weeks {
			out.Weeks = append(out.Weeks, PromiseWeek{this.AddDate(0, 0, -7*i).Format(time.DateOnly), map[work.PromiseState]int{},
				map[work.PromiseState]int{}})
		}
		ids, err := tx.PromisedSince(out.Weeks[weeks-1].Monday, mostPromised+1)
		if err != nil {
			return nil, err
		}
		out.Cut = len(ids) > mostPromised
		for _, id := range ids[:min(len(ids), mostPromised)] {
			if err := out.add(tx, id, now, func(t time.Time) string { return mondayOf(zone.In(t)).Format(time.DateOnly) }); err != nil {
				return nil, err
			}
		}
		return out, nil
	})
}

func mondayOf(t time.Time) time.Time { return t.AddDate(0, 0, -(int(t.Weekday())+6)%7) }

// add counts an order.
func (f *PromiseFigures) add(tx *store.Tx, id string, now time.Time, week func(time.Time) string) error {
	o, come, done, err := promisesOf(tx, id, now)
	if err != nil {
		return err
	}
	count := func(s work.PromiseStanding, by time.Time, of func(*PromiseWeek) map[work.PromiseState]int) {
		if s.State == work.PromiseNone {
			return
		}
		if i := slices.IndexFunc(f.Weeks, func(w PromiseWeek) bool { return w.Monday == week(by) }); i >= 0 {
			of(&f.Weeks[i])[s.State]++
		}
	}
	count(come, o.PromiseTo, func(w *PromiseWeek) map[work.PromiseState]int { return w.Come })
	count(done, o.DoneBy, func(w *PromiseWeek) map[work.PromiseState]int { return w.Done })
	wrong := []work.PromiseState{work.PromiseAtRisk, work.PromiseLate, work.PromiseBroken}
	if !slices.Contains(wrong, come.State) && !slices.Contains(wrong, done.State) {
		return nil
	}
	if len(f.Wrong) == mostWrong {
		f.More++
		return nil
	}
	line, err := orderLine(tx, id)
	f.Wrong = append(f.Wrong, PromiseLine{line, come, done})
	return err
}

// promisesOf is an order with how its promises stand.
func promisesOf(tx *store.Tx, id string, now time.Time) (o work.Order, come, done work.PromiseStanding, err error) {
	if _, err = tx.Load("workorder", id, &o); err != nil {
		return o, come, done, err
	}
	state, err := tx.OrderState(id)
	if err != nil {
		return o, come, done, err
	}
	visits := make([]work.Visit, len(o.Visits))
	for i, v := range o.Visits {
		if _, err := tx.Load("visit", v, &visits[i]); err != nil {
			return o, come, done, err
		}
	}
	come, done = work.Promised(o, state, visits, now)
	return o, come, done, nil
}
