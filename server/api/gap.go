package api

import (
	"cmp"
	"slices"
	"time"

	"github.com/gin-gonic/gin"

	"iter.example/iter/core/ledger"
	"iter.example/iter/core/msg"
	"iter.example/iter/core/plan"
	"iter.example/iter/core/records"
	"iter.example/iter/core/roads"
	"iter.example/iter/core/work"
	"iter.example/iter/server/store"
)

// GapAsked is a time of somebody's day on which nothing is planned.
type GapAsked struct {
	Person string    `form:"person" json:"person"`
	At     time.Time `form:"at" json:"at"`
	Draft  bool      `form:"draft" json:"draft,omitempty"`
	// Without is a work order that is not to fill it: whose visit was just withdrawn.
	Without string `form:"without" json:"without,omitempty"`
}

// Gap is a stretch of somebody's day on which nothing is planned, and the work that fits into it, the best first. Without From there is no
// gap: it is over.
type Gap struct {
	Person string    `json:"person"`
	Name   string    `json:"name"` // short
	From   time.Time `json:"from,omitzero"`
	To     time.Time `json:"to,omitzero"`
	Lines  []GapLine `json:"lines"`
	// More is how much of what was looked at fits besides, and Left how much lay too far away to be looked at.
	More int `json:"more,omitempty"`
	Left int `json:"left,omitempty"`
}

// GapLine is work for a gap: what waits, or a visit that is planned later.
type GapLine struct {
	Order OrderLine `json:"order"`
	Fit   plan.Fit  `json:"fit"`
	Begin time.Time `json:"begin"`
	// Minutes is how long it takes.
	Minutes int `json:"minutes"`
	// Visit is one that would come sooner than it is planned now, at Start with Name.
	Visit string    `json:"visit,omitempty"`
	Start time.Time `json:"start,omitzero"`
	Name  string    `json:"name,omitempty"` // short
}

// What is looked at for a gap: visits of so many days on, and of all that waits and is planned as much as lies nearest; so much is told.
const (
	gapDays  = 7
	gapNear  = 60
	gapLines = 8
)

// candidate is work that might fit into a gap.
type candidate struct {
	id    string // of the visit, or of the order
	order string
	o     work.Order
	visit *work.Visit
	line  GapLine // what is told of it, but for when
	away  float64 // metres from where the person is that day, beyond all where nobody knows
}

// gap tells what fits into a gap of somebody's day.
func (s *Server) gap(c *gin.Context, q GapAsked) (Gap, error) {
	now := s.now(c)
	out := Gap{Person: q.Person, Lines: []GapLine{}}
	var d *dayPlan
	var all []candidate
	look := func(tx *store.Tx) (struct{}, error) {
		rules, err := tx.Settings(now)
		if err != nil {
			return struct{}{}, err
		}
		at := rules.Company.Zone.In(q.At)
		if d, err = dayOf(tx, at.Format(time.DateOnly), now, rules); err != nil {
			return struct{}{}, err
		}
		if !slices.ContainsFunc(d.day.Lanes, func(l plan.Lane) bool { return l.ID == q.Person && !l.Thing }) {
			return struct{}{}, refusal{status: 404, why: msg.New("record.unknown", "type", "person", "id", records.Clip(q.Person))}
		}
		if all, err = candidates(tx, d, q, at); err != nil {
			return struct{}{}, err
		}
		out.Left = max(len(all)-gapNear, 0)
		all = all[:min(len(all), gapNear)]
		for i := range all {
			x := &all[i]
			if err := x.tell(tx, rules); err != nil {
				return struct{}{}, err
			}
			w, err := d.want(x.id, x.o, x.line.Minutes, x.line.Order.Skills)
			if err != nil {
				return struct{}{}, err
			}
			if x.visit != nil {
				w.Things = x.visit.Things
			}
			d.day.Wants = append(d.day.Wants, w)
		}
		return struct{}{}, d.whoKnows()
	}
	if _, err := readPlan(s, c, q.Draft, look); err != nil {
		return out, err
	}
	if err := s.openDay(c, d); err != nil {
		return out, err
	}
	out.Name = d.day.Lane(q.Person).Name
	gap, ok := d.day.Gap(q.Person, d.since(q.At))
	if !ok {
		return out, nil
	}
	out.From, out.To = d.at(gap.From), d.at(gap.To)
	found := d.day.Fill(q.Person, gap, d.day.Wants)
	out.More = max(len(found)-gapLines, 0)
	for _, f := range found[:min(len(found), gapLines)] {
		l := all[slices.IndexFunc(all, func(x candidate) bool { return x.id == f.ID })].line
		l.Fit, l.Begin = f.Fit, d.at(f.Fit.Begin)
		out.Lines = append(out.Lines, l)
	}
	return out, nil
}

// tell fills in what is told of a candidate where it fits.
func (x *candidate) tell(tx *store.Tx, rules ledger.Settings) (err error) {
	if x.line.Order, err = orderLine(tx, x.order); err != nil {
		return err
	}
	if x.visit == nil {
		err = waits(tx, &x.line.Order, rules.Visits)
		x.line.Minutes = x.line.Order.Minutes
		return err
	}
	x.line.Minutes, x.line.Visit, x.line.Start = x.visit.Minutes, x.id, x.visit.Start
	x.line.Name, err = shortOf(tx, x.visit.Technician)
	return err
}

// candidates are what waits, and what is planned later and nobody has begun, the nearest to somebody's way first.
func candidates(tx *store.Tx, d *dayPlan, q GapAsked, at time.Time) ([]candidate, error) {
	var near []records.Point
	for _, l := range d.day.Lanes {
		if l.ID == q.Person {
			near = d.pointsOf(l)
		}
	}
	var out []candidate
	add := func(x candidate) error {
		if _, err := tx.Load("workorder", x.order, &x.o); err != nil {
			return err
		}
		var site records.Site
		if _, err := tx.Load("site", x.o.Site, &site); err != nil {
			return err
		}
		x.away = 1e9
		if here := (records.Point{Lat: site.Lat, Lon: site.Lon}); here != (records.Point{}) {
			for _, p := range near {
				x.away = min(x.away, roads.Metres(p, here))
			}
		}
		out = append(out, x)
		return nil
	}
	waiting, err := tx.Unplaced(d.day.Date, mostCandidates)
	if err != nil {
		return nil, err
	}
	for _, id := range waiting {
		if id == q.Without {
			continue
		}
		if err := add(candidate{id: id, order: id}); err != nil {
			return nil, err
		}
	}
	visits, err := tx.VisitsBetween(d.day.Date, at.AddDate(0, 0, gapDays).Format(time.DateOnly))
	if err != nil {
		return nil, err
	}
	for _, id := range visits {
		var v work.Visit
		if _, err := tx.Load("visit", id, &v); err != nil {
			return nil, err
		}
		if v.Technician == "" || !v.Start.After(at) || !slices.Contains([]work.Stage{work.Planned, work.Sent, work.Accepted}, v.Stage) {
			continue
		}
		if v.Technician == q.Person && d.since(v.Start) < 24*3600 { // it would leave as much of a gap
			continue
		}
		if err := add(candidate{id: id, order: v.Order, visit: &v}); err != nil {
			return nil, err
		}
	}
	slices.SortStableFunc(out, func(a, b candidate) int { return cmp.Compare(a.away, b.away) })
	return out, nil
}

// mostCandidates is how much of what waits is looked at.
const mostCandidates = 2000
