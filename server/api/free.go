package api

import (
	"cmp"
	"maps"
	"slices"
	"strings"
	"time"

	"github.com/gin-gonic/gin"

	"iter.example/iter/core/calendar"
	"iter.example/iter/core/ledger"
	"iter.example/iter/core/msg"
	"iter.example/iter/core/plan"
	"iter.example/iter/core/records"
	"iter.example/iter/core/stock"
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
	// Days, After and Before are when it suits whoever is there: weekdays as digits (0 is Sunday; "" for all), and times of day between which
	// somebody arrives.
	Days   string `form:"days" json:"days,omitempty"`
	After  string `form:"after" json:"after,omitempty"`
	Before string `form:"before" json:"before,omitempty"`
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
	freeDays   = 14
	freeOfDay  = 2
	freeAtMost = 6
)

// suits is when somebody may arrive, in seconds of a day.
func (q FreeAsked) suits() (after, before int, err error) {
	before = plan.Whenever
	for text, to := range map[string]*int{q.After: &after, q.Before: &before} {
		if text == "" {
			continue
		}
		t, err := time.Parse("15:04", text)
		if err != nil {
			return 0, 0, refusal{status: 400, why: msg.New("http.query")}
		}
		*to = t.Hour()*3600 + t.Minute()*60
	}
	return after, before, nil
}

// free tells when somebody could come: the best times of the coming days, the best first.
func (s *Server) free(c *gin.Context, q FreeAsked) ([]FreeTime, error) {
	now := s.now(c)
	after, before, err := q.suits()
	if err != nil {
		return nil, err
	}
	var days []*dayPlan
	asking := s.gathered.ask()
	_, err = read(s, c, func(tx *store.Tx) (struct{}, error) {
		settings, err := tx.Settings(now)
		if err != nil {
			return struct{}{}, err
		}
		from := settings.Company.Zone.In(now)
		today := from.Format(time.DateOnly)
		if q.From > today {
			if from, err = time.Parse(time.DateOnly, q.From); err != nil {
				return struct{}{}, refusal{status: 400, why: msg.New("http.date")}
			}
		}
		for i := range freeDays {
			on := from.AddDate(0, 0, i)
			if q.Days != "" && !strings.ContainsRune(q.Days, rune('0'+int(on.Weekday()))) {
				continue
			}
			date := on.Format(time.DateOnly)
			base, err := s.gathered.get(tx, asking, date, func() (*dayPlan, bool, error) {
				rules, err := tx.Settings(now) // what they say is part of what the day was read from
				if err != nil {
					return nil, false, err
				}
				d, err := dayOf(tx, date, now, rules)
				return d, date > today, err
			})
			if err != nil {
				return struct{}{}, err
			}
			d := base.with(tx)
			if err := d.look(q, after, before); err != nil {
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
	for _, d := range days {
		if err := s.openFor(c, d); err != nil {
			return nil, err
		}
		ahead := int(d.begin.Sub(now)/(24*time.Hour)) * 24 * 3600 / 60 // a day later costs as much as on one day 24 hours do
		told := 0
		for _, f := range d.day.Suggest(d.day.Wants[0], len(d.day.Lanes)) {
			if told == freeOfDay {
				break
			}
			if f.Arrive < after || f.Arrive > before {
				continue
			}
			f.Cost += ahead
			told++
			out = append(out, FreeTime{Date: d.day.Date, Start: d.at(f.Begin), Person: f.Lane, Name: d.day.Lane(f.Lane).Name, Fit: f})
		}
	}
	slices.SortStableFunc(out, func(a, b FreeTime) int { return cmp.Compare(a.Fit.Cost, b.Fit.Cost) })
	return out[:min(len(out), freeAtMost)], nil
}

// with is a day that was gathered before, to look for something on it: of those who are not off, and without what waits.
func (d *dayPlan) with(tx *store.Tx) *dayPlan {
	out := *d
	out.tx, out.known = tx, len(d.places)
	out.places, out.rows, out.parts, out.stocks = slices.Clone(d.places), maps.Clone(d.rows), map[string]string{}, map[string]stock.Stock{}
	out.day.Wants, out.day.Lanes = nil, nil
	for _, l := range d.day.Lanes {
		if l.Thing || l.Always || len(l.Hours) > 0 {
			l.Stops = slices.Clone(l.Stops) // they are put in order
			out.day.Lanes = append(out.day.Lanes, l)
		}
	}
	return &out
}

// openFor gets a day ready for fits of what is looked for: of its place alone the ways are worked out.
func (s *Server) openFor(c *gin.Context, d *dayPlan) error {
	if len(d.places) == d.known {
		return s.openDay(c, d)
	}
	table, err := s.roads.TableWith(c.Request.Context(), s.Now(), d.places[:d.known], d.places[d.known])
	if err != nil {
		s.Log.Warn("no ways for a day", "error", err)
		table = plan.NewTable(len(d.places))
	}
	d.day.Open(table)
	return c.Request.Context().Err()
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

// look has a day be looked at for a visit, which is what it wants alone.
func (d *dayPlan) look(q FreeAsked, after, before int) error {
	o, minutes := work.Order{Site: q.Site}, q.Minutes
	skills := strings.FieldsFunc(q.Skills, func(r rune) bool { return r == ',' })
	if q.Order != "" {
		line, err := orderLine(d.tx, q.Order)
		if err != nil {
			return err
		}
		if err := waits(d.tx, &line, d.rules.Visits); err != nil {
			return err
		}
		if _, err := d.tx.Load("workorder", q.Order, &o); err != nil {
			return err
		}
		minutes, skills = cmp.Or(q.Minutes, line.Minutes), line.Skills
	}
	w, err := d.want(q.Order, o, max(minutes, 1), skills)
	if err != nil {
		return err
	}
	w.From, w.To = max(w.From, after), min(w.To, before)
	known, err := d.tx.WhoWasAt([]string{w.Site}, d.begin.AddDate(0, 0, -knownFor).Format(time.DateOnly))
	w.Knows = known[w.Site]
	d.day.Wants = []plan.Want{w}
	return err
}
