package api

import (
	"cmp"
	"encoding/json"
	"net/http"
	"slices"
	"strconv"
	"time"

	"github.com/gin-gonic/gin"
	"github.com/shopspring/decimal"

	"iter.example/iter/core/calendar"
	"iter.example/iter/core/ledger"
	"iter.example/iter/core/plan"
	"iter.example/iter/core/records"
	"iter.example/iter/core/stock"
	"iter.example/iter/core/work"
	"iter.example/iter/server/store"
)

// knownFor is for how many days somebody who was at a site knows it.
const knownFor = 400

// dayPlan gathers a day as fits are worked out of it, with the places that its table of ways is of.
type dayPlan struct {
	tx     *store.Tx
	rules  ledger.Settings
	begin  time.Time
	day    plan.Day
	places []records.Point
	rows   map[records.Point]int
	vans   map[string]string         // by person
	stocks map[string]stock.Stock    // of those that were looked into, by place
	parts  map[string]string         // names
	wishes map[string]records.Wishes // by site; nil until they are read
	known  int                       // how many of the places are of the day itself, and not of what is looked for
}

// newDayPlan begins with a day on which nobody does anything.
func newDayPlan(tx *store.Tx, date string, now time.Time, rules ledger.Settings) *dayPlan {
	zone := rules.Company.Zone
	d := &dayPlan{tx: tx, rules: rules, begin: zone.On(date, 0), rows: map[records.Point]int{}, vans: map[string]string{},
		stocks: map[string]stock.Stock{}, parts: map[string]string{}}
	week, _ := calendar.Date(date)
	d.day = plan.Day{Date: date, Begin: d.begin, Week: int(week.Weekday()) * 24 * 3600, Busy: rules.Road.Busy, Lanes: []plan.Lane{},
		Wants: []plan.Want{}, Weights: rules.Planning.Weights}
	today := zone.In(now).Format(time.DateOnly)
	if d.day.Now, d.day.Past = -1, date < today; date == today {
		d.day.Now = d.since(now)
	}
	return d
}

func (d *dayPlan) since(t time.Time) int { return int(t.Sub(d.begin) / time.Second) }

// at is the moment of a second of the day.
func (d *dayPlan) at(second int) time.Time { return d.begin.Add(time.Duration(second) * time.Second) }

// pointsOf are the places where somebody is on the day.
func (d *dayPlan) pointsOf(l plan.Lane) (out []records.Point) {
	rows := []int{l.Start}
	for _, p := range l.Stops {
		rows = append(rows, p.Place)
	}
	for _, r := range rows {
		if r >= 0 {
			out = append(out, d.places[r])
		}
	}
	return out
}

// row is where a place stands in the table; below zero for one that nobody knows.
func (d *dayPlan) row(p *records.Point) int {
	if p == nil {
		return -1
	}
	if i, ok := d.rows[*p]; ok {
		return i
	}
	d.rows[*p] = len(d.places)
	d.places = append(d.places, *p)
	return len(d.places) - 1
}

func (d *dayPlan) spans(list []calendar.Interval) (out []plan.Span) {
	for _, i := range list {
		out = append(out, plan.Span{From: d.since(i.Begin), To: d.since(i.End)})
	}
	return out
}

// hours are when something can be had on the day; always where nothing is said.
func (d *dayPlan) hours(t calendar.Times) (spans []plan.Span, always bool) {
	if !t.Known() && len(t.Off) == 0 {
		return nil, true
	}
	return d.spans(t.On(d.day.Date, d.rules.Company.Zone)), false
}

// person adds somebody's lane, with the visits that are theirs on the day.
func (d *dayPlan) person(id string, p records.Person, start *records.Point, times calendar.Times) {
	l := plan.Lane{ID: id, Name: cmp.Or(p.Short, p.Name), Start: d.row(start), Skills: p.SkillsOn(d.day.Date), Areas: p.Areas}
	l.Hours, l.Always = d.hours(times)
	for _, duty := range d.duty(id) {
		l.Duty = append(l.Duty, plan.Span{From: d.since(duty.Begin), To: d.since(duty.End)})
	}
	d.day.Lanes = append(d.day.Lanes, l)
	if p.Van != "" {
		d.vans[id] = p.Van
	}
}

// duty is when somebody is on duty on the day.
func (d *dayPlan) duty(person string) []calendar.Turn {
	zone := d.rules.Company.Zone
	return calendar.DutyOf(d.rules.Planning.Rotas, person, calendar.Interval{Begin: d.begin, End: zone.On(d.day.Date, 24*time.Hour)}, zone)
}

// has is how many of a part somebody's van has. Vans are looked into when that matters: what a board is read from is asked for again when
// it changes.
func (d *dayPlan) has(person, part string) (decimal.Decimal, error) {
	van := d.vans[person]
	s, ok := d.stocks[van]
	if !ok {
		if _, err := d.tx.Load("stock", van, &s); err != nil {
			return decimal.Zero, err
		}
		d.stocks[van] = s
	}
	return s.Balance(part), nil
}

// things adds a lane for each thing that is booked.
func (d *dayPlan) things() error {
	docs, err := d.tx.Of("resource")
	if err != nil {
		return err
	}
	for _, doc := range docs {
		var r records.Resource
		if err := json.Unmarshal(doc.Body, &r); err != nil {
			return err
		}
		if r.Gone {
			continue
		}
		l := plan.Lane{ID: doc.ID, Name: r.Name, Start: -1, Thing: true}
		l.Hours, l.Always = d.hours(calendar.Times{Weeks: r.Hours, Off: r.Out})
		d.day.Lanes = append(d.day.Lanes, l)
	}
	slices.SortStableFunc(d.day.Lanes, func(a, b plan.Lane) int {
		switch {
		case a.Thing == b.Thing:
			return cmp.Compare(a.Name, b.Name)
		case a.Thing:
			return 1
		}
		return -1
	})
	return nil
}

// want is what it takes to do an order: for a visit of it, or for one to come.
func (d *dayPlan) want(id string, o work.Order, minutes int, skills []string) (plan.Want, error) {
	w := plan.Want{ID: id, Site: o.Site, Place: -1, Length: minutes * 60, To: plan.Whenever, Skills: skills}
	if !o.PromiseFrom.IsZero() {
		w.From = d.since(o.PromiseFrom)
	}
	if !o.PromiseTo.IsZero() {
		w.To = d.since(o.PromiseTo)
	}
	if !o.DoneBy.IsZero() {
		w.Done = cmp.Or(d.since(o.DoneBy), -1) // 0 would be none
	}
	if from, to, ok := o.Window(); ok && o.PromiseTo.IsZero() {
		zone := d.rules.Company.Zone
		w.Due, w.From, w.To = true, d.since(zone.On(from, 0)), d.since(zone.On(to, 24*time.Hour))
	}
	var site records.Site
	if _, err := d.tx.Load("site", o.Site, &site); err != nil {
		return w, err
	}
	wishes, err := d.wishesOf(o.Site)
	if err != nil {
		return w, err
	}
	w.Prefer, w.Refuse = wishes.Prefer, wishes.Refuse
	w.Open, w.Always = d.hours(calendar.Times{Weeks: site.Open, Off: site.Closed})
	if site.Lat != 0 || site.Lon != 0 {
		at := records.Point{Lat: site.Lat, Lon: site.Lon}
		w.Place = d.row(&at)
		for _, a := range d.rules.Planning.Areas {
			if a.Contains(at) {
				w.Areas = append(w.Areas, a.ID)
			}
		}
	}
	w.Things = o.Things
	needs := o.Needs
	if r := o.Standing(); r != nil {
		needs = append(slices.Clone(needs), r.Needs...)
	}
	for _, n := range needs {
		name, err := d.part(n.Part)
		if err != nil {
			return w, err
		}
		for person := range d.vans {
			have, err := d.has(person, n.Part)
			if err != nil {
				return w, err
			}
			if have.LessThan(n.Quantity) {
				if w.Lacks == nil {
					w.Lacks = map[string][]string{}
				}
				w.Lacks[person] = append(w.Lacks[person], name)
			}
		}
	}
	return w, nil
}

// wishesOf are whom a site asks for: those of all are read at once, since few say any.
func (d *dayPlan) wishesOf(site string) (records.Wishes, error) {
	if d.wishes == nil {
		docs, err := d.tx.Of("wishes")
		if err != nil {
			return records.Wishes{}, err
		}
		d.wishes = map[string]records.Wishes{}
		for _, doc := range docs {
			var w records.Wishes
			if err := json.Unmarshal(doc.Body, &w); err != nil {
				return w, err
			}
			d.wishes[doc.ID] = w
		}
	}
	return d.wishes[site], nil
}

func (d *dayPlan) part(id string) (string, error) {
	if name, ok := d.parts[id]; ok {
		return name, nil
	}
	p := stock.Part{Name: id}
	_, err := d.tx.Load("part", id, &p)
	d.parts[id] = p.Name
	return p.Name, err
}

// visit puts a visit on the lanes of those who do it.
func (d *dayPlan) visit(id string, v work.Visit, now time.Time) error {
	if v.Stage == work.Withdrawn {
		return nil
	}
	var o work.Order
	if _, err := d.tx.Load("workorder", v.Order, &o); err != nil {
		return err
	}
	w, err := d.want(id, o, v.Minutes, o.Skills)
	if err != nil {
		return err
	}
	w.Things = v.Things
	if v.Stage == work.Declined { // it takes nobody's time, and somebody else's is looked for
		d.day.Wants = append(d.day.Wants, w)
		return nil
	}
	p := plan.Placed{Want: w, Begin: d.since(v.Start), Over: v.Stage == work.Finished, Begun: v.Stage.Begun(), Fixed: v.Fixed}
	if p.Begin < 0 { // begun on an earlier day: what is left of it
		p.Length, p.Begin = max(p.Begin+p.Length, 0), 0
	}
	p.Length = min(p.Length, 24*3600-p.Begin)
	if s := plan.StopOf(id, v, o, records.Site{}); p.Over || p.Begun {
		p.Were = plan.Span{From: p.Begin, To: p.Begin + p.Length}
		if !s.Arrived.IsZero() {
			p.Were.From = max(d.since(s.Arrived), 0)
		} else {
			p.Were.From = max(p.Were.From, d.since(now))
		}
		if p.Were.To = max(p.Were.From+p.Length, d.since(now)); p.Over {
			p.Were.To = max(d.since(s.Left), p.Were.From)
		}
	}
	for i := range d.day.Lanes {
		l := &d.day.Lanes[i]
		if l.ID == v.Technician || slices.Contains(v.Helpers, l.ID) || slices.Contains(v.Things, l.ID) {
			l.Stops = append(l.Stops, p)
		}
	}
	return nil
}

// place adds an order that waits.
func (d *dayPlan) place(id string, minutes int, skills []string) error {
	var o work.Order
	if _, err := d.tx.Load("workorder", id, &o); err != nil {
		return err
	}
	w, err := d.want(id, o, minutes, skills)
	d.day.Wants = append(d.day.Wants, w)
	return err
}

// whoKnows notes who was at the sites lately, of the day's visits and of what waits.
func (d *dayPlan) whoKnows() error {
	var sites []string
	each := func(f func(*plan.Want)) {
		for i := range d.day.Wants {
			f(&d.day.Wants[i])
		}
		for i := range d.day.Lanes {
			for k := range d.day.Lanes[i].Stops {
				f(&d.day.Lanes[i].Stops[k].Want)
			}
		}
	}
	each(func(w *plan.Want) { sites = append(sites, w.Site) })
	known, err := d.tx.WhoWasAt(sites, d.begin.AddDate(0, 0, -knownFor).Format(time.DateOnly))
	if err == nil {
		each(func(w *plan.Want) { w.Knows = known[w.Site] })
	}
	return err
}

// openDay gets a day ready for fits, by the ways between its places; without roads, or while a routing server is down, nobody knows them.
func (s *Server) openDay(c *gin.Context, d *dayPlan) error {
	table, _, err := s.roads.Table(c.Request.Context(), s.Now(), d.places)
	if err != nil {
		s.Log.Warn("no ways for a day", "error", err)
		table = plan.NewTable(len(d.places))
	}
	d.day.Open(table)
	return c.Request.Context().Err()
}

// dayWays answers with the table of ways that a board's fits are worked out of, as bytes (plan.Table). Its revision is the ETag.
func (s *Server) dayWays(c *gin.Context) {
	b, _, _, err := s.boardOf(c, BoardDay{Date: c.Query("date"), Draft: c.Query("draft") == "true"})
	if err != nil {
		s.fail(c, err)
		return
	}
	table, rev, err := s.roads.Table(c.Request.Context(), s.Now(), b.places)
	if err != nil {
		s.Log.Warn("no ways for the board", "error", err)
		s.fail(c, err)
		return
	}
	c.Header("ETag", strconv.Quote(rev))
	c.Header("Cache-Control", "private, no-cache")
	c.Data(http.StatusOK, "application/octet-stream", table.Bytes())
}
