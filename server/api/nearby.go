package api

import (
	"cmp"
	"slices"
	"time"

	"github.com/gin-gonic/gin"
	"github.com/oklog/ulid/v2"

	"iter.example/iter/core/ledger"
	"iter.example/iter/core/msg"
	"iter.example/iter/core/plan"
	"iter.example/iter/core/work"
	"iter.example/iter/server/company"
	"iter.example/iter/server/store"
)

// Nearby is work that waits and that a technician could do today, the best first.
type Nearby struct {
	Lines []NearbyLine `json:"lines"`
	// Take tells that they may take it; else they ask the office.
	Take bool `json:"take"`
	More int  `json:"more,omitempty"` // that would fit too
}

// NearbyLine is a work order that waits.
type NearbyLine struct {
	ID       string        `json:"id"`
	Number   string        `json:"number"`
	Site     string        `json:"site"`
	Address  string        `json:"address,omitempty"`
	Problem  string        `json:"problem"`
	Priority work.Priority `json:"priority"`
	Minutes  int           `json:"minutes"`
	Start    time.Time     `json:"start"`
	Drive    int           `json:"drive"` // seconds that it adds
}

// NearbyTaken is what a technician takes.
type NearbyTaken struct {
	Order string `json:"order"`
}

// mostNearby is how much of it is told.
const mostNearby = 5

// nearby tells a technician what they could do today beside what they have.
func (s *Server) nearby(c *gin.Context) (Nearby, error) {
	out := Nearby{Lines: []NearbyLine{}}
	d, take, err := s.nearbyDay(c)
	if err != nil {
		return out, err
	}
	out.Take = take
	type found struct {
		w plan.Want
		f plan.Fit
	}
	var all []found
	for _, w := range d.day.Wants {
		if f, ok := d.day.Best(w, who(c).PersonID); ok && freely(f) {
			all = append(all, found{w, f})
		}
	}
	slices.SortStableFunc(all, func(a, b found) int { return cmp.Compare(a.f.Cost, b.f.Cost) })
	out.More = max(len(all)-mostNearby, 0)
	return read(s, c, func(tx *store.Tx) (Nearby, error) {
		for _, x := range all[:min(len(all), mostNearby)] {
			w, err := tx.Work(x.w.ID)
			if err != nil {
				return out, err
			}
			out.Lines = append(out.Lines, NearbyLine{ID: x.w.ID, Number: w.Order.Number, Site: w.Site.Name, Address: w.Site.Address,
				Problem: w.Order.Problem, Priority: w.Order.Priority, Minutes: x.w.Length / 60, Start: d.at(x.f.Begin), Drive: x.f.Adds.Drive})
		}
		return out, nil
	})
}

// freely tells whether somebody can do something without overtime, without coming late elsewhere, and with what their van has.
func freely(f plan.Fit) bool {
	return !slices.ContainsFunc(f.Warnings(), func(x msg.Code) bool { return x.Code != "fit.late" && x.Code != "fit.doneLate" })
}

// nearbyDay is the day of whoever asks, with what waits and takes nobody and nothing else.
func (s *Server) nearbyDay(c *gin.Context) (d *dayPlan, take bool, err error) {
	now, me := s.now(c), who(c).PersonID
	_, err = read(s, c, func(tx *store.Tx) (Done, error) {
		rules, err := tx.Settings(now)
		if err != nil {
			return Done{}, err
		}
		take = rules.Visits.Nearby
		today := rules.Company.Zone.In(now).Format(time.DateOnly)
		if d, err = dayOf(tx, today, now, rules); err != nil {
			return Done{}, err
		}
		d.day.Lanes = slices.DeleteFunc(d.day.Lanes, func(l plan.Lane) bool { return l.ID != me })
		d.day.Wants = nil
		ids, err := tx.Unplaced(today, mostUnplaced)
		if err != nil {
			return Done{}, err
		}
		for _, id := range ids {
			line, err := orderLine(tx, id)
			if err == nil {
				err = waits(tx, &line, rules.Visits)
			}
			if err != nil {
				return Done{}, err
			}
			if line.Waits > 0 || line.Crew > 1 || len(line.Things) > 0 {
				continue
			}
			if err := d.place(id, line.Minutes, line.Skills); err != nil {
				return Done{}, err
			}
		}
		return Done{}, d.whoKnows()
	})
	if err != nil {
		return nil, take, err
	}
	return d, take, s.openDay(c, d)
}

// takeNearby plans work that waits for whoever asks for it, today, where the company lets them.
func (s *Server) takeNearby(c *gin.Context, q NearbyTaken) (Done, error) {
	me, now := who(c).PersonID, s.now(c)
	if theirs, err := s.hasToday(c, me, q.Order); err != nil || theirs {
		return Done{}, err // they took it already: the answer was lost
	}
	d, take, err := s.nearbyDay(c)
	if err != nil {
		return Done{}, err
	}
	gone := refusal{status: 409, why: msg.New("nearby.gone")}
	i := slices.IndexFunc(d.day.Wants, func(w plan.Want) bool { return w.ID == q.Order })
	if !take || i < 0 {
		return Done{}, gone
	}
	f, ok := d.day.Best(d.day.Wants[i], me)
	if !ok || !freely(f) {
		return Done{}, gone
	}
	return Done{}, s.Store.Write(c.Request.Context(), func(tx *store.Tx) error {
		waiting, err := tx.IsUnplaced(q.Order)
		if err != nil || !waiting {
			return cmp.Or(err, error(gone))
		}
		w := company.Writer{Tx: tx, Now: now}
		visit := ledger.Ref{Type: "visit", ID: ulid.Make().String()}
		start := d.at(f.Begin)
		if _, err := w.Append("visit.planned", visit, me, now, ledger.Plan{Order: q.Order, Technician: me, Start: start,
			Minutes: d.day.Wants[i].Length / 60, Against: againstOf(f)}, nil); err != nil {
			return err
		}
		_, err = w.Append("visit.sent", visit, me, now, ledger.Nothing{}, nil)
		return err
	})
}

// hasToday tells whether somebody has a visit of an order that is not over today.
func (s *Server) hasToday(c *gin.Context, person, order string) (bool, error) {
	now := s.now(c)
	return read(s, c, func(tx *store.Tx) (bool, error) {
		_, today, err := tx.Company(now)
		if err != nil {
			return false, err
		}
		ids, err := tx.VisitsOf(person, today, today)
		if err != nil {
			return false, err
		}
		for _, id := range ids {
			var v work.Visit
			if _, err := tx.Load("visit", id, &v); err != nil {
				return false, err
			}
			if v.Order == order && v.Technician == person && !slices.Contains(overStages, v.Stage) {
				return true, nil
			}
		}
		return false, nil
	})
}

// againstOf is what a visit is planned against, nil for nothing.
func againstOf(f plan.Fit) *work.Against {
	if warned := f.Warnings(); len(warned) > 0 {
		return &work.Against{Warned: warned}
	}
	return nil
}
