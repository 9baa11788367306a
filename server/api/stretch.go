package api

import (
	"cmp"
	"context"
	"slices"
	"time"

	"iter.example/iter/core/ledger"
	"iter.example/iter/core/msg"
	"iter.example/iter/core/plan"
	"iter.example/iter/core/plan/solve"
	"iter.example/iter/core/records"
	"iter.example/iter/core/work"
	"iter.example/iter/server/store"
)

// SolvingAsked is what is to be planned anew.
type SolvingAsked struct {
	From  string `json:"from"`            // date
	Days  int    `json:"days"`            // at most mostDriven
	Draft bool   `json:"draft,omitempty"` // on the plan as it would be with the draft of whoever asks
	// People are those whose days it is about; none for all.
	People []string `json:"people,omitempty"`
	// Chosen are visits and work orders that it is about alone; none for all that waits.
	Chosen []string `json:"chosen,omitempty"`
	// Move has visits that are planned already, and neither begun nor fixed, go elsewhere where that saves enough.
	Move bool `json:"move,omitempty"`
}

// Solution is how a stretch of days could be planned.
type Solution struct {
	Lines []SolutionLine `json:"lines"` // by day and time: each counts for the next
	Left  []SolutionLeft `json:"left"`
	// More is how much was not looked at: beyond what is listed, or a draft holds.
	More int `json:"more,omitempty"`
	// Before and After are what the days come to.
	Before plan.Course `json:"before"`
	After  plan.Course `json:"after"`
}

// SolutionLine is a visit that would be planned, or moved.
type SolutionLine struct {
	ID      string    `json:"id"`              // of the visit that is moved, or of the work order
	Moved   bool      `json:"moved,omitempty"` // from where Was tells
	Order   OrderLine `json:"order"`
	Start   time.Time `json:"start"`
	Minutes int       `json:"minutes"`
	Name    string    `json:"name"`           // whose it would be, short
	With    []string  `json:"with,omitempty"` // who comes along
	// Part tells that it is one of Parts days of the same work; 0 of one alone.
	Part  int          `json:"part,omitempty"`
	Parts int          `json:"parts,omitempty"`
	Was   *SolutionWas `json:"was,omitempty"`
	Fit   plan.Fit     `json:"fit"`
	// Warned is what of the fit stays with the visit.
	Warned []msg.Code `json:"warned,omitempty"`
}

// SolutionWas is where a visit is planned.
type SolutionWas struct {
	Name  string    `json:"name"` // short
	Start time.Time `json:"start"`
}

// SolutionLeft is what would not be planned, with what comes nearest to it on the first day that has anything: nothing where nobody is at
// work, or it waits for parts, or what it takes is not there.
type SolutionLeft struct {
	Order OrderLine `json:"order"`
	// Stays tells that it is planned, and stays as it is.
	Stays bool      `json:"stays,omitempty"`
	Day   string    `json:"day,omitempty"`
	Fit   *plan.Fit `json:"fit,omitempty"`
}

const (
	// solveRounds is for how many rounds a day is improved: a second or two for thirty people. Several days have more, up to mostRounds.
	solveRounds = 2000
	mostRounds  = 10000
	// movedPlanned and movedTold are how many seconds of driving it must save to move a visit: of one that its technician was told of more.
	movedPlanned = 20 * 60
	movedTold    = 60 * 60
	// aboutThen is within how many seconds of when it is planned a visit stays that is not moved to another day or person.
	aboutThen = 30 * 60
	// stays is what a visit that is planned is worth: it is not left out.
	staysWorth = 30 * 24 * 3600
	// urgentBy is within how many seconds of the first day's hours an emergency is to begin, if nothing else is promised.
	urgentBy = 2 * 3600
	aDay     = 24 * 3600
)

// stretch is some days that are planned anew, with what is to be placed on them.
type stretch struct {
	days    []*dayPlan
	problem solve.Problem
	places  []records.Point
	orders  map[string]OrderLine // by what is placed
	wants   map[string][]plan.Want
	moved   map[string]work.Visit
	listed  []string // what is placed, in order
	waits   []OrderLine
	more    int
}

// readStretch gathers what a question is about, of which room changes at most are made.
func readStretch(tx *store.Tx, q SolvingAsked, room int, now time.Time) (*stretch, error) {
	from, err := time.Parse(time.DateOnly, q.From)
	if err != nil || q.Days < 1 || q.Days > mostDriven {
		return nil, refusal{status: 400, why: msg.New("http.date")}
	}
	rules, err := tx.Settings(now)
	if err != nil {
		return nil, err
	}
	var dates []string
	for i := range q.Days {
		dates = append(dates, from.AddDate(0, 0, i).Format(time.DateOnly))
	}
	s := &stretch{orders: map[string]OrderLine{}, wants: map[string][]plan.Want{}, moved: map[string]work.Visit{}}
	if s.days, err = daysOf(tx, dates, now, rules); err != nil {
		return nil, err
	}
	if len(q.People) > 0 {
		for _, d := range s.days {
			d.day.Lanes = slices.DeleteFunc(d.day.Lanes, func(l plan.Lane) bool { return !l.Thing && !slices.Contains(q.People, l.ID) })
		}
	}
	s.problem = solve.Problem{Seed: 1, Rounds: min(solveRounds*q.Days, mostRounds)}
	if q.Move || len(q.Chosen) > 0 {
		if err := s.planned(tx, q, &room); err != nil {
			return nil, err
		}
	}
	if err := s.waiting(tx, q, &room, now, rules); err != nil {
		return nil, err
	}
	s.unite()
	return s, s.know(tx)
}

// planned gathers visits that may be moved.
func (s *stretch) planned(tx *store.Tx, q SolvingAsked, room *int) error {
	for i, d := range s.days {
		ids, err := tx.VisitsOn(d.day.Date)
		if err != nil {
			return err
		}
		for _, id := range ids {
			var v work.Visit
			if _, err := tx.Load("visit", id, &v); err != nil {
				return err
			}
			chosen := slices.Contains(q.Chosen, id)
			coming := slices.Contains([]work.Stage{work.Planned, work.Sent, work.Accepted}, v.Stage)
			here := d.rules.Company.Zone.In(v.Start).Format(time.DateOnly) == d.day.Date && d.since(v.Start) > d.day.Now
			known := func(person string) bool {
				return slices.ContainsFunc(d.day.Lanes, func(l plan.Lane) bool { return l.ID == person })
			}
			if !coming || !here || v.Fixed || len(q.Chosen) > 0 && !chosen || !known(v.Technician) ||
				slices.ContainsFunc(v.Helpers, func(h string) bool { return !known(h) }) {
				continue
			}
			if *room == 0 {
				s.more++
				continue
			}
			*room--
			if err := s.move(tx, id, v, i); err != nil {
				return err
			}
		}
	}
	return nil
}

// move adds a visit that may be moved from where it is planned.
func (s *stretch) move(tx *store.Tx, id string, v work.Visit, day int) error {
	line, err := orderLine(tx, v.Order)
	if err != nil {
		return err
	}
	var o work.Order
	if _, err := tx.Load("workorder", v.Order, &o); err != nil {
		return err
	}
	line.Minutes = v.Minutes
	begin := s.days[day].since(v.Start)
	x := solve.Visit{ID: id, Worth: staysWorth, People: len(v.Helpers) + 1, Moved: movedPlanned,
		Was: &solve.Place{Day: day, Lane: v.Technician, Begin: begin}}
	if v.Stage != work.Planned {
		x.Moved = movedTold
	}
	for i, d := range s.days {
		w, err := d.want(id, o, v.Minutes, o.Skills)
		if err != nil {
			return err
		}
		w.Things = v.Things
		s.wants[id] = append(s.wants[id], w)
		if i == day { // whoever was told a time is not told another for nothing
			w.From, w.To = max(w.From, begin), min(w.To, begin+aboutThen)
		}
		x.Wants = append(x.Wants, w)
	}
	s.add(x, line)
	s.moved[id] = v
	return nil
}

func (s *stretch) add(v solve.Visit, line OrderLine) {
	s.problem.Visits = append(s.problem.Visits, v)
	s.orders[v.ID] = line
	s.listed = append(s.listed, v.ID)
}

// waiting gathers the orders that wait to be placed.
func (s *stretch) waiting(tx *store.Tx, q SolvingAsked, room *int, now time.Time, rules ledger.Settings) error {
	by := max(s.days[len(s.days)-1].day.Date, rules.Company.Zone.In(now).Format(time.DateOnly))
	ids, err := tx.Unplaced(by, mostUnplaced)
	if err != nil {
		return err
	}
	all, err := tx.CountUnplaced(by)
	if err != nil {
		return err
	}
	if len(q.Chosen) == 0 {
		s.more += all - len(ids)
	}
	for _, id := range ids {
		if len(q.Chosen) > 0 && !slices.Contains(q.Chosen, id) {
			continue
		}
		line, err := orderLine(tx, id)
		if err != nil {
			return err
		}
		if err := waits(tx, &line, rules.Visits); err != nil {
			return err
		}
		if line.Waits > 0 {
			s.waits = append(s.waits, line)
			continue
		}
		if err := s.place(tx, id, line, room); err != nil {
			return err
		}
	}
	return nil
}

// place adds an order that waits.
func (s *stretch) place(tx *store.Tx, id string, line OrderLine, room *int) error {
	var o work.Order
	if _, err := tx.Load("workorder", id, &o); err != nil {
		return err
	}
	v := solve.Visit{ID: id, People: line.Crew, Parts: s.partsOf(line.Minutes * 60)}
	if *room < max(len(v.Parts), 1) {
		s.more++
		return nil
	}
	*room -= max(len(v.Parts), 1)
	for _, d := range s.days {
		w, err := d.want(id, o, line.Minutes, line.Skills)
		if err != nil {
			return err
		}
		s.wants[id] = append(s.wants[id], w)
		v.Wants = append(v.Wants, w)
	}
	first, last := &s.days[0].day, &s.days[len(s.days)-1].day
	v.Worth = worth(last, line, v.Wants[len(v.Wants)-1])
	late := v.Wants[0].To <= max(first.Now, 0)
	lateDone := v.Wants[0].Done != 0 && v.Wants[0].Done <= max(first.Now, 0)
	for i := range v.Wants {
		w := &v.Wants[i]
		if late { // it has no claim to come before all else
			w.To = plan.Whenever
		}
		if lateDone {
			w.Done = 0
		}
		if soon := max(first.Now, 8*3600) + urgentBy - i*aDay; line.Priority == work.Emergency && w.To > soon {
			w.To = soon
		}
		if line.Priority == work.Soon && w.To > aDay-i*aDay {
			w.To = aDay - i*aDay
		}
	}
	s.add(v, line)
	return nil
}

// partsOf says how work is done that is longer than anybody's day; nil for what is not.
func (s *stretch) partsOf(length int) (parts []int) {
	longest := 0
	for _, d := range s.days {
		for _, l := range d.day.Lanes {
			if n := len(l.Hours); !l.Thing && n > 0 {
				longest = max(longest, l.Hours[n-1].To-l.Hours[0].From)
			}
		}
	}
	if longest == 0 {
		longest = 8 * 3600
	}
	if length <= longest {
		return nil
	}
	for left := length; left > 0; left -= longest {
		parts = append(parts, min(left, longest))
	}
	return parts
}

// worth is how many seconds of driving it is worth to plan work by the end of a day rather than to leave it for another.
func worth(last *plan.Day, o OrderLine, w plan.Want) int {
	const hour = 3600
	out := map[work.Priority]int{work.Emergency: 24 * hour, work.Soon: 8 * hour}[o.Priority]
	out = max(out, 3*hour) + (max(o.Minutes*60-4*hour, 0))
	if w.To < aDay { // a promise by then: how late it is by then is no reason to leave it
		out = max(out, 12*hour) + last.Cost(plan.Course{Late: aDay - max(w.To, -aDay*mostDriven)})
	}
	return out
}

// unite has all days number places alike, since one table of ways is of all of them.
func (s *stretch) unite() {
	rows := map[records.Point]int{}
	row := func(d *dayPlan, place int) int {
		if place < 0 {
			return place
		}
		p := d.places[place]
		if _, is := rows[p]; !is {
			rows[p] = len(s.places)
			s.places = append(s.places, p)
		}
		return rows[p]
	}
	for i, d := range s.days {
		for k := range d.day.Lanes {
			l := &d.day.Lanes[k]
			l.Start = row(d, l.Start)
			for j := range l.Stops {
				l.Stops[j].Place = row(d, l.Stops[j].Place)
			}
		}
		for k := range s.problem.Visits {
			v := &s.problem.Visits[k]
			v.Wants[i].Place = row(d, v.Wants[i].Place)
			s.wants[v.ID][i].Place = v.Wants[i].Place
		}
		d.day.Wants = nil
		s.problem.Days = append(s.problem.Days, &d.day)
	}
}

// know notes who was at the sites lately.
func (s *stretch) know(tx *store.Tx) error {
	var sites []string
	for _, v := range s.problem.Visits {
		sites = append(sites, v.Wants[0].Site)
	}
	known, err := tx.WhoWasAt(sites, s.days[0].begin.AddDate(0, 0, -knownFor).Format(time.DateOnly))
	for _, v := range s.problem.Visits {
		for i := range v.Wants {
			v.Wants[i].Knows = known[v.Wants[i].Site]
			s.wants[v.ID][i].Knows = v.Wants[i].Knows
		}
	}
	return err
}

// solve plans it, with a table of the ways between its places.
func (s *stretch) solve(ctx context.Context, table plan.Table, better func(solve.Plan)) Solution {
	for _, d := range s.days {
		d.day.Open(table)
	}
	return s.tell(solve.Solve(ctx, s.problem, better))
}

// tell says what a plan changes, and what that comes to.
func (s *stretch) tell(found solve.Plan) Solution {
	out := Solution{Lines: []SolutionLine{}, Left: []SolutionLeft{}, More: s.more}
	goes := map[string]bool{} // elsewhere than it is
	for id, at := range found.Places {
		goes[id] = !s.stays(id, at)
	}
	names := s.names()
	after := make([]*plan.Day, len(s.days))
	for i, d := range s.days {
		out.Before = out.Before.Plus(d.day.Total())
		day := d.day
		day.Lanes = slices.Clone(day.Lanes)
		for k := range day.Lanes {
			l := &day.Lanes[k]
			l.Stops = slices.DeleteFunc(slices.Clone(l.Stops), func(p plan.Placed) bool { return goes[p.ID] })
		}
		handed, then := day.Try(s.placesOn(i, found, goes))
		for _, h := range handed {
			out.Lines = append(out.Lines, s.line(h, i, found.Places[h.ID], names))
		}
		after[i] = then
		out.After = out.After.Plus(then.Total())
	}
	for _, id := range s.listed {
		if _, is := found.Places[id]; !is {
			out.Left = append(out.Left, s.leftOut(id, after))
		}
	}
	for _, line := range s.waits {
		out.Left = append(out.Left, SolutionLeft{Order: line})
	}
	return out
}

// names are those of people, short.
func (s *stretch) names() map[string]string {
	out := map[string]string{}
	for _, l := range s.days[0].day.Lanes {
		out[l.ID] = l.Name
	}
	return out
}

// stays tells whether a visit is to be where it is planned.
func (s *stretch) stays(id string, at []solve.Place) bool {
	v, is := s.moved[id]
	if !is || len(at) != 1 {
		return false
	}
	p := at[0]
	return p.Lane == v.Technician && s.days[p.Day].at(p.Begin).Equal(v.Start) && sameIDs(p.With, v.Helpers)
}

func sameIDs(a, b []string) bool {
	return slices.Equal(slices.Sorted(slices.Values(a)), slices.Sorted(slices.Values(b)))
}

// placesOn is what goes where on a day, by time.
func (s *stretch) placesOn(day int, found solve.Plan, goes map[string]bool) (out []plan.At) {
	for id, all := range found.Places {
		for _, p := range all {
			if p.Day != day || !goes[id] {
				continue
			}
			w := s.wants[id][day]
			w.Length = p.Length
			out = append(out, plan.At{ID: id, Want: &w, Lane: p.Lane, Begin: p.Begin, With: p.With})
		}
	}
	slices.SortFunc(out, func(a, b plan.At) int { return cmp.Or(cmp.Compare(a.Begin, b.Begin), cmp.Compare(a.ID, b.ID)) })
	return out
}

func (s *stretch) line(h plan.Handed, day int, all []solve.Place, names map[string]string) SolutionLine {
	i := slices.IndexFunc(all, func(p solve.Place) bool { return p.Day == day })
	p := all[i]
	out := SolutionLine{ID: h.ID, Order: s.orders[h.ID], Start: s.days[day].at(p.Begin), Minutes: p.Length / 60, Name: names[p.Lane],
		With: p.With, Fit: *h.Fit, Warned: h.Fit.Warnings()}
	if len(all) > 1 {
		out.Part, out.Parts = i+1, len(all)
	}
	if v, is := s.moved[h.ID]; is {
		out.Moved, out.Was = true, &SolutionWas{Name: names[v.Technician], Start: v.Start}
	}
	return out
}

// leftOut says what comes nearest to placing what was left.
func (s *stretch) leftOut(id string, after []*plan.Day) SolutionLeft {
	out := SolutionLeft{Order: s.orders[id]}
	if _, out.Stays = s.moved[id]; out.Stays || out.Order.Crew > 1 || s.partsOf(out.Order.Minutes*60) != nil {
		return out
	}
	for i, d := range after {
		for _, f := range d.Suggest(s.wants[id][i], 1) {
			out.Day, out.Fit = d.Date, &f
			return out
		}
	}
	return out
}
