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
	core "iter.example/iter/core/upkeep"
	"iter.example/iter/core/work"
	"iter.example/iter/server/store"
	"iter.example/iter/server/upkeep"
)

// WeeksAsked are the days that are asked for.
type WeeksAsked struct {
	From  string `form:"from" json:"from"` // date
	Days  int    `form:"days" json:"days"` // at most mostWeekDays
	Draft bool   `form:"draft" json:"draft,omitempty"`
}

// Weeks is what people do over some days.
type Weeks struct {
	Now      time.Time    `json:"now"`
	Days     []WeekDay    `json:"days"`
	People   []WeekPerson `json:"people"`   // by name
	Unplaced []OrderLine  `json:"unplaced"` // to place, most pressing first
	More     int          `json:"more"`     // wait besides
	// Offered and Left are how many visits are on nobody's days: offered to several, and left open on earlier days.
	Offered int              `json:"offered"`
	Left    int              `json:"left"`
	Skills  []records.Choice `json:"skills"`
}

// WeekDay is what there is to know of a day beside what its people have.
type WeekDay struct {
	Date string `json:"date"`
	// Promised is work that is promised by this day and waits to be placed, and Things what is booked.
	Promised []OrderLine `json:"promised"`
	Things   []WeekThing `json:"things"`
	// Due is the work of maintenance plans that falls due on it and is not over, of all ("") and by skill: told of where more than
	// mostDriven days are asked for.
	Due map[string]WeekDue `json:"due"`
}

// WeekDue is work that falls due.
type WeekDue struct {
	Jobs    int `json:"jobs"`
	Minutes int `json:"minutes"`
}

// WeekThing is a thing that is booked.
type WeekThing struct {
	Name   string `json:"name"`
	Visits int    `json:"visits"`
}

// WeekPerson is somebody's days, as many as are asked for.
type WeekPerson struct {
	ID     string      `json:"id"`
	Name   string      `json:"name"`
	Short  string      `json:"short"`
	Team   string      `json:"team,omitempty"`
	Areas  []string    `json:"areas,omitempty"`
	Skills []string    `json:"skills"`
	Days   []PersonDay `json:"days"`
}

// PersonDay is somebody's day. Times are in seconds.
type PersonDay struct {
	Hours  int           `json:"hours"`          // that they work; 0 when they do not
	Always bool          `json:"always"`         // nothing is said of hours
	Work   int           `json:"work"`           // with driving
	Drive  int           `json:"drive"`          // 0 where it is not worked out: over more than mostDriven days
	Skills []string      `json:"skills"`         // that they have on it
	Late   int           `json:"late,omitempty"` // after what was promised
	Off    *calendar.Off `json:"off,omitempty"`
	Duty   []string      `json:"duty,omitempty"` // names of the rotas in which it is their turn
	Visits []WeekVisit   `json:"visits"`
}

// WeekVisit is a visit of somebody's day, or one that they help with.
type WeekVisit struct {
	ID       string `json:"id"`
	Order    string `json:"order"`
	Number   string `json:"number"`
	Site     string `json:"site"`
	Problem  string `json:"problem"`
	Customer string `json:"customer"`
	Kind     string `json:"kind,omitempty"`
	// Sheets are the titles of the check sheets that are filled in on it, and Undertaking the name of what it is part of.
	Sheets      []string   `json:"sheets,omitempty"`
	Undertaking string     `json:"undertaking,omitempty"`
	Start       time.Time  `json:"start"`
	Minutes     int        `json:"minutes"`
	Stage       work.Stage `json:"stage"`
	Promise     time.Time  `json:"promise,omitzero"` // by when
	With        string     `json:"with,omitempty"`   // whose it is, of one that is helped with; short
}

// How many days are told of at most, and of how many driving is worked out.
const (
	mostWeekDays = 42
	mostDriven   = 14
)

// weeks tells what people do over some days, how full their days are, and what is promised.
func (s *Server) weeks(c *gin.Context, q WeeksAsked) (Weeks, error) {
	from, err := time.Parse(time.DateOnly, q.From)
	if err != nil || q.Days < 1 || q.Days > mostWeekDays {
		return Weeks{}, refusal{status: 400, why: msg.New("http.date")}
	}
	now := s.now(c)
	var days []*dayPlan
	out, err := readPlan(s, c, q.Draft, func(tx *store.Tx) (Weeks, error) {
		rules, err := tx.Settings(now)
		if err != nil {
			return Weeks{}, err
		}
		var dates []string
		for i := range q.Days {
			dates = append(dates, from.AddDate(0, 0, i).Format(time.DateOnly))
		}
		if days, err = daysOf(tx, dates, now, rules); err != nil {
			return Weeks{}, err
		}
		return weeksOf(tx, days, now, rules)
	})
	if err != nil || len(days) > mostDriven {
		return out, err
	}
	for i, d := range days {
		if err := s.openDay(c, d); err != nil {
			return out, err
		}
		for k := range out.People {
			p := &out.People[k]
			course := d.day.Course(p.ID)
			day := &p.Days[i]
			day.Drive, day.Late, day.Work = course.Drive, course.Late, day.Work+course.Drive
		}
	}
	return out, nil
}

// weeksOf gathers weeks, without driving.
func weeksOf(tx *store.Tx, days []*dayPlan, now time.Time, rules ledger.Settings) (Weeks, error) {
	zone := rules.Company.Zone
	out := Weeks{Now: zone.In(now), Days: []WeekDay{}, People: []WeekPerson{}, Unplaced: []OrderLine{},
		Skills: append([]records.Choice{}, rules.Orders.Skills...)}
	for _, d := range days {
		out.Days = append(out.Days, WeekDay{Date: d.day.Date, Promised: []OrderLine{}, Things: []WeekThing{}, Due: map[string]WeekDue{}})
	}
	err := eachTechnician(tx, rules, func(id string, p records.Person, times calendar.Times) error {
		person := WeekPerson{ID: id, Name: p.Name, Short: p.Short, Team: p.Team, Areas: p.Areas,
			Skills: append([]string{}, p.SkillsOn(days[0].day.Date)...)}
		for _, d := range days {
			day, err := d.personDay(tx, id)
			if err != nil {
				return err
			}
			if off, is := times.Absent(d.day.Date, zone); is {
				day.Off = &off
			}
			for _, r := range rules.Planning.Rotas {
				if r.On(d.day.Date) == id {
					day.Duty = append(day.Duty, r.Name)
				}
			}
			day.Skills = append([]string{}, p.SkillsOn(d.day.Date)...)
			person.Days = append(person.Days, day)
		}
		out.People = append(out.People, person)
		return nil
	})
	if err != nil {
		return out, err
	}
	slices.SortFunc(out.People, func(a, b WeekPerson) int { return strings.Compare(a.Name, b.Name) })
	for i, d := range days {
		for _, l := range d.day.Lanes {
			if l.Thing && len(l.Stops) > 0 {
				out.Days[i].Things = append(out.Days[i].Things, WeekThing{l.Name, len(l.Stops)})
			}
		}
	}
	asked, err := openOffers(tx)
	if err != nil {
		return out, err
	}
	left, err := tx.VisitsLeft(out.Now.Format(time.DateOnly))
	if err != nil {
		return out, err
	}
	out.Offered, out.Left = len(asked), len(left)
	if len(days) > mostDriven {
		if err := upkeep.EachDue(tx, out.Now.Format(time.DateOnly), days[len(days)-1].day.Date, out.due); err != nil {
			return out, err
		}
	}
	return out, out.toPlace(tx, days[len(days)-1].day.Date, rules)
}

// due adds work that falls due on a day.
func (w *Weeks) due(date string, p core.Plan) {
	i := w.dayAt(date)
	if i < 0 {
		return
	}
	for _, skill := range append([]string{""}, p.Skills...) {
		d := w.Days[i].Due[skill]
		w.Days[i].Due[skill] = WeekDue{d.Jobs + 1, d.Minutes + p.Minutes}
	}
}

// dayAt is where a day is among those told of, -1 when it is not.
func (w *Weeks) dayAt(date string) int {
	return slices.IndexFunc(w.Days, func(d WeekDay) bool { return d.Date == date })
}

// toPlace adds what waits to be placed, on the days that it is promised by as well.
func (w *Weeks) toPlace(tx *store.Tx, by string, rules ledger.Settings) error {
	by = max(by, w.Now.Format(time.DateOnly))
	ids, err := tx.Unplaced(by, mostUnplaced)
	if err != nil {
		return err
	}
	all, err := tx.CountUnplaced(by)
	if err != nil {
		return err
	}
	w.More = all - len(ids)
	for _, id := range ids {
		o, err := orderLine(tx, id)
		if err == nil {
			err = waits(tx, &o, rules.Visits)
		}
		if err != nil {
			return err
		}
		w.Unplaced = append(w.Unplaced, o)
		if o.Promise.IsZero() {
			continue
		}
		date := rules.Company.Zone.In(o.Promise).Format(time.DateOnly)
		if i := w.dayAt(date); i >= 0 {
			w.Days[i].Promised = append(w.Days[i].Promised, o)
		}
	}
	return nil
}

// personDay is what somebody has on the day, without driving.
func (d *dayPlan) personDay(tx *store.Tx, person string) (PersonDay, error) {
	out := PersonDay{Visits: []WeekVisit{}}
	i := slices.IndexFunc(d.day.Lanes, func(l plan.Lane) bool { return l.ID == person })
	if i < 0 {
		return out, nil
	}
	l := d.day.Lanes[i]
	for _, h := range l.Hours {
		out.Hours += h.To - h.From
	}
	out.Always = l.Always
	for _, p := range l.Stops {
		out.Work += p.Length
		var v work.Visit
		if _, err := tx.Load("visit", p.ID, &v); err != nil {
			return out, err
		}
		o, err := orderLine(tx, v.Order)
		if err != nil {
			return out, err
		}
		line := WeekVisit{ID: p.ID, Order: v.Order, Number: o.Number, Site: o.Site, Problem: o.Problem, Customer: o.Customer, Kind: o.Kind,
			Start: v.Start, Minutes: v.Minutes, Stage: v.Stage, Promise: o.Promise}
		if err := line.belongs(tx, v.Order); err != nil {
			return out, err
		}
		if v.Technician != person {
			if line.With, err = shortOf(tx, v.Technician); err != nil {
				return out, err
			}
		}
		out.Visits = append(out.Visits, line)
	}
	slices.SortStableFunc(out.Visits, func(a, b WeekVisit) int { return a.Start.Compare(b.Start) })
	return out, nil
}

// belongs notes which sheets are filled in for an order, and what it is part of.
func (v *WeekVisit) belongs(tx *store.Tx, order string) error {
	var o work.Order
	if _, err := tx.Load("workorder", order, &o); err != nil {
		return err
	}
	for _, ref := range o.Sheets {
		var sheet struct {
			Title string `json:"title"`
		}
		if _, err := tx.Load("sheet", ref, &sheet); err != nil {
			return err
		}
		v.Sheets = append(v.Sheets, cmp.Or(sheet.Title, ref))
	}
	if o.Undertaking == "" {
		return nil
	}
	u := records.Undertaking{Name: o.Undertaking}
	_, err := tx.Load("undertaking", o.Undertaking, &u)
	v.Undertaking = u.Name
	return err
}
