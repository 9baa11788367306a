package plan

import (
	"cmp"
	"slices"
	"strconv"
	"time"

	"iter.example/iter/core/msg"
	"iter.example/iter/core/ordered"
	"iter.example/iter/core/roads"
)

// Day is a day of the firm as fits are worked out of it. Times are in seconds since its midnight by the company's clock, places are rows of
// a table of ways.
type Day struct {
	Date  string    `json:"date"`
	Begin time.Time `json:"begin"` // its midnight
	// Week is the second of the week at which it begins, and Now the moment it is: below zero on other days, of which Past are those before.
	Week  int          `json:"week"`
	Now   int          `json:"now"`
	Past  bool         `json:"past,omitempty"`
	Busy  []roads.Busy `json:"busy,omitempty"` // hours in which roads are not free
	Lanes []Lane       `json:"lanes"`
	Wants []Want       `json:"wants"` // what waits to be placed
	// Weights say what counts how much; nil: as usual.
	Weights *Weights `json:"weights,omitempty"`

	weigh Weights
	hours *roads.Hours
	table Table
	lanes map[string]int
	// morning is when days begin for those of whom nothing is said, or who are off.
	morning int
}

// Whenever is the time of what has none.
const Whenever = 1 << 40

// Span is a stretch of a day.
type Span struct {
	From int `json:"from"`
	To   int `json:"to"`
}

// Lane is what somebody does on a day, or what a thing is booked for.
type Lane struct {
	ID    string `json:"id"`
	Name  string `json:"name"`
	Start int    `json:"start"` // where the day begins and ends, below zero: nobody knows
	// Hours are when they work, in order. Without any they are off, but where Always is set: then nothing is said of hours.
	Hours  []Span   `json:"hours,omitempty"`
	Always bool     `json:"always,omitempty"`
	Duty   []Span   `json:"duty,omitempty"` // when they are on duty, which is no overtime
	Skills []string `json:"skills,omitempty"`
	Areas  []string `json:"areas,omitempty"`
	Thing  bool     `json:"thing,omitempty"` // a boat, a rig: it needs no way
	Stops  []Placed `json:"stops,omitempty"`
}

// Want is a visit as far as it matters where it goes.
type Want struct {
	ID     string `json:"id"` // of the visit, or of the work order that has none yet
	Site   string `json:"site"`
	Place  int    `json:"place"`
	Length int    `json:"length"`
	// From and To bound what was promised: Whenever is To where nothing was.
	From int `json:"from"`
	To   int `json:"to"`
	// Done is by when the work is promised to be done; 0: nothing was.
	Done int `json:"done,omitempty"`
	// Due tells that it is no promise, but the days on which work of maintenance plans may be done.
	Due bool `json:"due,omitempty"`
	// Open are the hours of the site; without any it is closed, but where Always is set.
	Open   []Span   `json:"open,omitempty"`
	Always bool     `json:"always,omitempty"`
	Skills []string `json:"skills,omitempty"`
	Areas  []string `json:"areas,omitempty"`  // that the site lies in
	Things []string `json:"things,omitempty"` // that go along
	Prefer []string `json:"prefer,omitempty"` // people who are asked for there
	Refuse []string `json:"refuse,omitempty"` // and who are not wanted
	Knows  []string `json:"knows,omitempty"`  // who was there lately
	// Lacks are the parts that vans lack, by person.
	Lacks map[string][]string `json:"lacks,omitempty"`
}

// Placed is a visit on a lane.
type Placed struct {
	Want
	Begin int `json:"begin"` // as it was planned
	// Begun tells that somebody is on the way or there, Over that it is done: From is when they arrived, To when they leave, as far as
	// that is known or expected.
	Begun bool `json:"begun,omitempty"`
	// Fixed tells that it stays where it is, whatever would be better.
	Fixed bool `json:"fixed,omitempty"`
	Over  bool `json:"over,omitempty"`
	Were  Span `json:"were,omitzero"`
}

// Course is what a lane's day comes to, in seconds.
type Course struct {
	Drive int `json:"drive"`
	Late  int `json:"late"`  // after what was promised
	After int `json:"after"` // later than was planned
	Over  int `json:"over"`  // of work outside the day's hours, breaks within them aside
}

func (c Course) minus(d Course) Course {
	return Course{c.Drive - d.Drive, c.Late - d.Late, c.After - d.After, c.Over - d.Over}
}

// Plus is what two courses come to together.
func (c Course) Plus(d Course) Course {
	return Course{c.Drive + d.Drive, c.Late + d.Late, c.After + d.After, c.Over + d.Over}
}

// Cost weighs a course, in seconds of driving.
func (d *Day) Cost(c Course) int {
	return c.Drive + d.weigh.Late*c.Late + d.weigh.Overtime*c.Over + d.weigh.After*c.After
}

// Wait weighs when a visit begins: of several times that are as good, the soonest is the best.
func (d *Day) Wait(begin int) int { return begin * d.weigh.Hour / 60 }

// Fit is what it comes to when somebody does a visit at a time.
type Fit struct {
	Lane   string `json:"lane"`
	Begin  int    `json:"begin"`
	Arrive int    `json:"arrive"` // when they are there: after Begin when they can't be sooner
	// Adds is what it adds to the lane's day: the fits of visits placed one after another add up to the whole. Late is how much of the
	// lateness is its own, the rest is of promises after it.
	Adds Course `json:"adds"`
	Late int    `json:"late"`
	// Cost weighs all that, and what Why says: the least is the best.
	Cost int        `json:"cost"`
	Why  []msg.Code `json:"why"`
}

// What counts whatever the company says, in seconds of driving: who can't do the work, or is not wanted, comes after all who can.
const (
	forbidden  = 24 * 3600
	wayUnknown = 30 * 60
)

// warned are the reasons that whoever plans is to know of and that stay with a visit.
var warned = []string{"fit.past", "fit.refused", "fit.skill", "fit.off", "fit.closed", "fit.taken", "fit.late", "fit.doneLate",
	"fit.lateOthers", "fit.overtime", "fit.parts"}

// Warnings are the reasons of a fit that whoever plans is to know of.
func (f Fit) Warnings() (out []msg.Code) {
	for _, w := range f.Why {
		if slices.Contains(warned, w.Code) {
			out = append(out, w)
		}
	}
	return out
}

// Open gets a day ready for fits.
func (d *Day) Open(t Table) {
	if d.weigh = UsualWeights; d.Weights != nil {
		d.weigh = *d.Weights
	}
	d.hours, d.table, d.lanes, d.morning = roads.NewHours(d.Busy), t, map[string]int{}, usualMorning
	for i := range d.Lanes {
		l := &d.Lanes[i]
		d.lanes[l.ID] = i
		if len(l.Hours) > 0 && !l.Thing {
			d.morning = min(d.morning, l.Hours[0].From)
		}
		ordered.Stable(l.Stops, func(a, b Placed) int { return a.order(b) })
	}
}

// usualMorning is when a day begins at the latest, where it is anybody's.
const usualMorning = 8 * 3600

// order puts what has begun first, as it did, and then what is to come as it is planned.
func (p Placed) order(q Placed) int {
	a, b := p.Begun || p.Over, q.Begun || q.Over
	switch {
	case a && b:
		return cmp.Or(cmp.Compare(p.Were.From, q.Were.From), cmp.Compare(p.ID, q.ID))
	case a:
		return -1
	case b:
		return 1
	}
	return cmp.Or(cmp.Compare(p.Begin, q.Begin), cmp.Compare(p.ID, q.ID))
}

// Seconds gives how long the way from a place to another takes on free roads, and whether one is known.
func (d *Day) Seconds(from, to int) (int, bool) { return d.table.Seconds(from, to) }

// Lane gives a lane by its id; nil when there is none.
func (d *Day) Lane(id string) *Lane {
	if i, ok := d.lanes[id]; ok {
		return &d.Lanes[i]
	}
	return nil
}

// Pass is how a day goes through a stop: when they set off, arrive and leave, and for how long they drive.
type Pass struct{ Off, Arrive, Leave, Drive int }

// never is since when nobody is free yet: the day has not begun.
const never = -Whenever

// visit goes from a place to a stop, when one is free at a time.
func (d *Day) visit(at, free int, p *Placed) Pass {
	s := Pass{}
	road, known := d.table.way(at, p.Place)
	switch {
	case p.Begun || p.Over:
		if known {
			s.Drive = d.hours.After(d.Week+max(free, 0), road.road, road.ferry)
		}
		s.Arrive, s.Leave = p.Were.From, p.Were.To
		s.Off = s.Arrive - s.Drive
	case free == never:
		if known {
			s.Drive = d.hours.Before(d.Week+p.Begin, road.road, road.ferry)
		}
		s.Off = p.Begin - s.Drive
		if s.Off < d.Now {
			s.Off = d.Now
			if known {
				s.Drive = d.hours.After(d.Week+s.Off, road.road, road.ferry)
			}
		}
		s.Arrive = max(p.Begin, s.Off+s.Drive)
		s.Leave = s.Arrive + p.Length
	default:
		s.Off = max(free, d.Now)
		if known {
			s.Drive = d.hours.After(d.Week+s.Off, road.road, road.ferry)
		}
		s.Arrive = max(p.Begin, s.Off+s.Drive)
		s.Off = s.Arrive - s.Drive // nobody waits at a gate: they set off later
		s.Leave = s.Arrive + p.Length
	}
	return s
}

// through goes through a lane's stops, with another among them where extra is not nil, and gives what they come to; each is told of every
// stop.
func (d *Day) through(l *Lane, without string, extra *Placed, each func(p *Placed, s Pass)) Course {
	w := d.Walk(l)
	visit := func(p *Placed) {
		s := d.Visit(l, &w, p)
		if each != nil {
			each(p, s)
		}
	}
	for i := range l.Stops {
		p := &l.Stops[i]
		if p.ID == without {
			continue
		}
		if extra != nil && extra.order(*p) < 0 {
			visit(extra)
			extra = nil
		}
		visit(p)
	}
	if extra != nil {
		visit(extra)
	}
	d.Home(l, &w)
	return w.Course
}

// outside is how much of a stretch lies before the first hours of a lane and after the last, where nobody is on duty.
func (l *Lane) outside(from, to int) int {
	switch {
	case l.Always || to <= from:
		return 0
	case len(l.Hours) == 0:
		return outsideAll(l.Duty, false, from, to)
	}
	first, last := l.Hours[0].From, l.Hours[len(l.Hours)-1].To
	return outsideAll(l.Duty, false, from, min(to, first)) + outsideAll(l.Duty, false, max(from, last), to)
}

// Course is what a lane's day comes to as it is planned.
func (d *Day) Course(lane string) Course {
	l := d.Lane(lane)
	if l == nil {
		return Course{}
	}
	return d.through(l, "", nil, nil)
}

// Total is what the day comes to for all people together.
func (d *Day) Total() (sum Course) {
	for i := range d.Lanes {
		if l := &d.Lanes[i]; !l.Thing {
			sum = sum.Plus(d.through(l, "", nil, nil))
		}
	}
	return sum
}

// Fit says what it comes to when a lane takes a visit at a time, away from where it is now; false where there is no such lane.
func (d *Day) Fit(w Want, lane string, begin int) (Fit, bool) {
	l := d.Lane(lane)
	if l == nil {
		return Fit{}, false
	}
	return d.fit(w, l, begin, d.through(l, w.ID, nil, nil)), true
}

func (d *Day) fit(w Want, l *Lane, begin int, before Course) Fit {
	f := Fit{Lane: l.ID, Begin: begin, Why: []msg.Code{}}
	extra := Placed{Want: w, Begin: begin}
	var own Pass
	after := d.through(l, w.ID, &extra, func(p *Placed, s Pass) {
		if p == &extra {
			own = s
		}
	})
	f.Arrive, f.Adds = own.Arrive, after.minus(before)
	f.Late = w.late(own)
	f.Cost = d.Cost(f.Adds) + d.Wait(begin)
	d.reasons(&f, w, l, own)
	return f
}

// late is how much after what was promised a pass comes to a visit, and is done with it.
func (w Want) late(s Pass) (late int) {
	if w.To < Whenever {
		late = max(s.Arrive-w.To, 0)
	}
	if w.Done != 0 {
		late += max(s.Leave-w.Done, 0)
	}
	return late
}

// why adds a reason to a fit with what it costs.
func (f *Fit) why(cost int, code string, args ...string) {
	f.Cost += cost
	f.Why = append(f.Why, *msg.New(code, args...))
}

// reasons says what there is to know of a fit, the gravest first.
func (d *Day) reasons(f *Fit, w Want, l *Lane, own Pass) {
	if d.Past || f.Begin < d.Now-Grain {
		f.why(0, "fit.past")
	}
	f.cannot(w, l)
	outside := outsideAll(l.Hours, l.Always, own.Arrive, own.Leave) > 0
	onDuty := outside && !l.Thing && outsideAll(l.Duty, false, own.Arrive, own.Leave) == 0
	if !l.Always && len(l.Hours) == 0 && !onDuty {
		f.why(0, "fit.off") // all of it is overtime
	}
	if onDuty {
		f.why(0, "fit.duty")
	}
	for _, t := range w.Things {
		if over := d.taken(t, w.ID, own); over > 0 {
			f.why(d.weigh.Shut*over, "fit.taken", "thing", d.name(t), "minutes", minutes(over))
		}
	}
	if shut := outsideAll(w.Open, w.Always, own.Arrive, own.Leave); shut > 0 {
		f.why(d.weigh.Shut*shut, "fit.closed", "minutes", minutes(shut))
	}
	if late := own.Arrive - w.To; late > 0 && w.Due {
		f.why(0, "fit.overdue", "minutes", minutes(late))
	} else if late > 0 {
		f.why(0, "fit.late", "minutes", minutes(late))
	}
	if late := own.Leave - w.Done; late > 0 && w.Done != 0 {
		f.why(0, "fit.doneLate", "minutes", minutes(late))
	}
	if others := f.Adds.Late - f.Late; others > 0 {
		f.why(0, "fit.lateOthers", "minutes", minutes(others))
	}
	if len(l.Hours) > 0 && f.Adds.Over > 0 {
		f.why(0, "fit.overtime", "minutes", minutes(f.Adds.Over))
	}
	if own := f.Arrive - f.Begin; own > 0 {
		f.why(0, "fit.begins", "minutes", minutes(own))
	}
	if others := f.Adds.After - (f.Arrive - f.Begin); others > 0 {
		f.why(0, "fit.after", "minutes", minutes(others))
	}
	d.whoever(f, w, l)
}

// cannot says why somebody is not to do a visit at all.
func (f *Fit) cannot(w Want, l *Lane) {
	if slices.Contains(w.Refuse, l.ID) {
		f.why(forbidden, "fit.refused")
	}
	for _, s := range w.Skills {
		if !l.Thing && !slices.Contains(l.Skills, s) {
			f.why(forbidden, "fit.skill", "skill", s)
		}
	}
}

// whoever says what there is to know of somebody who does a visit, whenever they do.
func (d *Day) whoever(f *Fit, w Want, l *Lane) {
	if parts := w.Lacks[l.ID]; len(parts) > 0 {
		f.why(d.weigh.Parts*60*len(parts), "fit.parts", "count", strconv.Itoa(len(parts)), "part", parts[0])
	}
	if len(l.Areas) > 0 && len(w.Areas) > 0 && !slices.ContainsFunc(w.Areas, func(a string) bool { return slices.Contains(l.Areas, a) }) {
		f.why(d.weigh.Elsewhere*60, "fit.area")
	}
	if w.Place < 0 && !l.Thing {
		f.why(wayUnknown, "fit.noPlace")
	} else if _, known := d.table.way(l.Start, w.Place); !known && l.Start >= 0 && !l.Thing {
		f.why(wayUnknown, "fit.noWay")
	}
	if slices.Contains(w.Prefer, l.ID) {
		f.why(-d.weigh.Asked*60, "fit.preferred")
	}
	if slices.Contains(w.Knows, l.ID) {
		f.why(-d.weigh.Knows*60, "fit.knows")
	}
}

// Against weighs what there is to say of somebody who does a visit, whenever they do, in seconds of driving; false when they are not to.
func (d *Day) Against(w Want, l *Lane) (int, bool) {
	var f Fit
	if f.cannot(w, l); len(f.Why) > 0 {
		return 0, false
	}
	d.whoever(&f, w, l)
	return f.Cost, true
}

func (d *Day) name(lane string) string {
	if l := d.Lane(lane); l != nil {
		return l.Name
	}
	return lane
}

// taken is how long of a visit a thing is booked for others, or can't be had.
func (d *Day) taken(thing, visit string, own Pass) int {
	l := d.Lane(thing)
	if l == nil {
		return 0
	}
	sum := outsideAll(l.Hours, l.Always, own.Arrive, own.Leave)
	for _, p := range l.Stops {
		if p.ID != visit && !p.Over {
			sum += max(min(own.Leave, p.Begin+p.Length)-max(own.Arrive, p.Begin), 0)
		}
	}
	return sum
}

// outsideAll is how much of a stretch is in none of some spans.
func outsideAll(spans []Span, always bool, from, to int) int {
	if always {
		return 0
	}
	left := max(to-from, 0)
	for _, s := range spans {
		left -= max(min(to, s.To)-max(from, s.From), 0)
	}
	return max(left, 0)
}

func minutes(seconds int) string { return strconv.Itoa((seconds + 59) / 60) }

// Grain is the step of the clock on which visits are planned, in seconds.
const Grain = 5 * 60

func rounded(t int) int { return (t + Grain - 1) / Grain * Grain }

// Suggest gives the best fits of a visit over all people, the best first, one for each of them, at most so many; none on days over.
func (d *Day) Suggest(w Want, most int) []Fit {
	out := []Fit{}
	if d.Past {
		return out
	}
	for i := range d.Lanes {
		if l := &d.Lanes[i]; !l.Thing {
			if f, ok := d.best(w, l); ok {
				out = append(out, f)
			}
		}
	}
	ordered.Stable(out, func(a, b Fit) int { return cmp.Or(cmp.Compare(a.Cost, b.Cost), cmp.Compare(a.Lane, b.Lane)) })
	return out[:min(most, len(out))]
}

// Best is the best time of a lane for a visit; false where none is left, or there is no such lane.
func (d *Day) Best(w Want, lane string) (Fit, bool) {
	l := d.Lane(lane)
	if l == nil || d.Past {
		return Fit{}, false
	}
	return d.best(w, l)
}

// best is the best time of a lane for a visit: as soon as can be before each of its stops, and after the last.
func (d *Day) best(w Want, l *Lane) (Fit, bool) {
	var places []spot
	last := spot{at: l.Start, free: never, next: Whenever}
	before := d.through(l, w.ID, nil, func(p *Placed, s Pass) {
		if !p.Begun && !p.Over {
			last.next = p.Begin
			places = append(places, last)
		}
		last = spot{at: p.Place, free: s.Leave, owed: l.owed(last.owed, last.free, s), next: Whenever}
	})
	places = append(places, last)
	best, found := Fit{}, false
	for _, x := range places {
		begin := d.soonest(w, l, x)
		if begin >= 24*3600 || begin >= x.next {
			continue
		}
		if f := d.fit(w, l, begin, before); !found || f.Cost < best.Cost {
			best, found = f, true
		}
	}
	return best, found
}

// spot is a place between two stops of a lane: where one is, since when, how much of a break is owed by then, and when the next is planned.
type spot struct{ at, free, owed, next int }

// owed is how much of their breaks somebody is owed after a stop, of what they worked and drove through: what they had nothing to do since
// then makes up for it. Breaks are the gaps in their hours.
func (l *Lane) owed(before, free int, s Pass) int {
	if free != never {
		before = max(before-max(s.Off-free, 0), 0)
	}
	for i := 1; i < len(l.Hours); i++ {
		before += max(min(s.Leave, l.Hours[i].From)-max(s.Off, l.Hours[i-1].To), 0)
	}
	return before
}

// afterBreak is when somebody begins who would in a break.
func (l *Lane) afterBreak(t int) int {
	for i := 1; i < len(l.Hours); i++ {
		if l.Hours[i-1].To <= t && t < l.Hours[i].From {
			return l.Hours[i].From
		}
	}
	return t
}

// soonest is when a visit can begin in a spot, with the breaks that somebody has: on the clock that visits are planned on.
func (d *Day) soonest(w Want, l *Lane, x spot) int {
	off := max(x.free+x.owed, d.Now)
	if x.free == never {
		first := d.morning
		switch {
		case len(l.Hours) > 0:
			first = l.Hours[0].From
		case len(l.Duty) > 0:
			first = max(first, l.Duty[0].From) // nobody is sent out at night for what can wait
		}
		off = max(off, first)
	}
	if road, known := d.table.way(x.at, w.Place); known {
		off += d.hours.After(d.Week+off, road.road, road.ferry)
	}
	begin := max(l.afterBreak(off), w.From)
	for _, s := range w.Open { // not while it is closed
		if begin+w.Length <= s.To {
			begin = max(begin, s.From)
			break
		}
	}
	return rounded(l.afterBreak(begin))
}
