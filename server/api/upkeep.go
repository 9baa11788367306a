package api

import (
	"cmp"
	"slices"
	"time"

	"github.com/gin-gonic/gin"

	"iter.example/iter/core/ledger"
	"iter.example/iter/core/msg"
	"iter.example/iter/core/records"
	core "iter.example/iter/core/upkeep"
	"iter.example/iter/core/work"
	"iter.example/iter/server/store"
	"iter.example/iter/server/upkeep"
)

// Upkeep is what falls due by the company's maintenance plans.
type Upkeep struct {
	Plans []UpkeepLine `json:"plans"` // by name
	Due   []DueLine    `json:"due"`   // what is open first, then by day
	More  int          `json:"more"`  // beyond those that are listed
	Today string       `json:"today"` // 2006-01-02
}

// UpkeepLine is a maintenance plan in a list.
type UpkeepLine struct {
	ID       string    `json:"id"`
	Plan     core.Plan `json:"plan"`
	Customer string    `json:"customer"` // name, "" when it is for several
	Targets  int       `json:"targets"`
	Next     string    `json:"next"`    // day; "" when nothing falls due
	Overdue  int       `json:"overdue"` // work orders that are open past their window
	// Counter is the name of the one that it goes by, Unit its own.
	Counter   string            `json:"counter,omitempty"`
	Unit      string            `json:"unit,omitempty"`
	Obstacles []upkeep.Obstacle `json:"obstacles"`
}

// DueLine is something that falls due, or a work order that was opened for it and is not over.
type DueLine struct {
	core.Occurrence
	Plan     string `json:"plan"`
	PlanName string `json:"planName"`
	Name     string `json:"name"`  // of the machine; "" for a site as a whole
	Asset    string `json:"asset"` // as it is by now
	Site     string `json:"site"`
	SiteName string `json:"siteName"`
	Customer string `json:"customer"` // id
	Whose    string `json:"whose"`    // name
	Minutes  int    `json:"minutes"`
	// Order is the work order that was opened, Number and State its own; "" while none is.
	Order   string     `json:"order,omitempty"`
	Number  string     `json:"number,omitempty"`
	State   work.State `json:"state,omitempty"`
	Overdue bool       `json:"overdue,omitempty"` // the last day on which it might be done is over
	Done    string     `json:"done,omitempty"`    // day
}

// UpkeepAsked says up to which day it is asked what falls due.
type UpkeepAsked struct {
	Until string `form:"until" json:"until,omitempty"` // 2006-01-02; "" for some weeks on
}

const (
	// mostDue is how much that falls due is listed, and mostPastDue how much of a target is over.
	mostDue     = 400
	mostPastDue = 12
	usualDue    = 60 // days
	mostDueDays = 800
)

// upkeep lists maintenance plans and what falls due.
func (s *Server) upkeep(c *gin.Context, q UpkeepAsked) (*Upkeep, error) {
	return read(s, c, func(tx *store.Tx) (*Upkeep, error) {
		out := &Upkeep{Plans: []UpkeepLine{}, Due: []DueLine{}}
		u, err := s.dueUntil(c, tx, q.Until, usualDue)
		if err != nil {
			return nil, err
		}
		out.Today = u.today
		plans, err := upkeep.Plans(tx, nil)
		if err != nil {
			return nil, err
		}
		for i := range plans {
			g := &plans[i]
			line := UpkeepLine{ID: g.ID, Plan: g.Plan, Targets: len(g.Targets), Obstacles: []upkeep.Obstacle{}}
			due, err := u.of(tx, g, max(u.until, core.AddDays(u.today, 370)))
			if err != nil {
				return nil, err
			}
			for _, l := range due {
				switch {
				case l.Overdue:
					line.Overdue++
				case !l.Skipped && l.Order == "" && (line.Next == "" || l.On < line.Next):
					line.Next = l.On
				}
				if l.On <= u.until || l.Order != "" {
					out.Due = append(out.Due, l)
				}
			}
			if line.Customer, err = u.whose(tx, g); err != nil {
				return nil, err
			}
			line.Counter, line.Unit = counterOf(g)
			line.Plan.Changes = nil
			line.Obstacles = append(line.Obstacles, g.Obstacles...)
			out.Plans = append(out.Plans, line)
		}
		slices.SortStableFunc(out.Plans, func(a, b UpkeepLine) int {
			return cmp.Or(cmp.Compare(a.Plan.Name, b.Plan.Name), cmp.Compare(a.Customer, b.Customer))
		})
		sortDue(out.Due)
		out.More = max(len(out.Due)-mostDue, 0)
		out.Due = out.Due[:min(len(out.Due), mostDue)]
		return out, nil
	})
}

func sortDue(due []DueLine) {
	slices.SortStableFunc(due, func(a, b DueLine) int {
		return cmp.Or(cmp.Compare(a.On, b.On), cmp.Compare(a.Whose, b.Whose), cmp.Compare(a.SiteName, b.SiteName), cmp.Compare(a.Name, b.Name))
	})
}

// dueUntil is what it takes to say what falls due.
type dueUntil struct{ today, until string }

func (s *Server) dueUntil(c *gin.Context, tx *store.Tx, until string, usual int) (u dueUntil, err error) {
	now := s.now(c)
	if _, u.today, err = tx.Company(now); err != nil {
		return u, err
	}
	if u.until = core.AddDays(u.today, usual); until != "" {
		if _, err := time.Parse(time.DateOnly, until); err != nil {
			return u, refusal{status: 400, why: msg.New("http.date")}
		}
		u.until = min(until, core.AddDays(u.today, mostDueDays))
	}
	return u, nil
}

// of lists what falls due by a plan up to a day, with the work orders that were opened and are not over.
func (u dueUntil) of(tx *store.Tx, g *upkeep.Gathered, until string) (out []DueLine, err error) {
	for _, l := range g.Coming(u.today, until) {
		d := DueLine{Occurrence: l.Occurrence, Minutes: l.Plan.Minutes}
		d.Overdue = d.To < u.today && !d.Skipped && !d.Later
		out = append(out, d)
	}
	for _, t := range g.Targets {
		for _, x := range t.Past {
			if x.Over {
				continue
			}
			d, err := u.opened(tx, g, t.ID, x)
			if err != nil {
				return nil, err
			}
			out = append(out, d)
		}
	}
	for i := range out {
		if err := out[i].about(tx, g); err != nil {
			return nil, err
		}
	}
	return out, nil
}

// opened is an occurrence that a work order was opened for.
func (u dueUntil) opened(tx *store.Tx, g *upkeep.Gathered, target string, x core.Past) (d DueLine, err error) {
	var o work.Order
	if _, err = tx.Load("workorder", x.Order, &o); err != nil {
		return d, err
	}
	d = DueLine{Occurrence: core.Occurrence{Target: target, Key: x.Key, First: x.First, Due: x.On, On: x.On}, Minutes: g.Plan.Minutes,
		Order: x.Order, Number: o.Number, Done: x.Done}
	if c := g.Plan.Changed(target, x.Key); c != nil {
		d.Due = c.Due
	}
	for _, due := range o.Due {
		if due.Plan == g.ID && due.Target == target && due.Key == x.Key {
			d.From, d.To = due.From, due.To
		}
	}
	d.State, err = tx.OrderState(x.Order)
	d.Overdue = !x.Over && d.To < u.today
	return d, err
}

// about says what and whose it is.
func (d *DueLine) about(tx *store.Tx, g *upkeep.Gathered) error {
	d.Plan, d.PlanName = g.ID, g.Plan.Name
	i := slices.IndexFunc(g.Targets, func(t upkeep.Target) bool { return t.ID == d.Target })
	t := g.Targets[i]
	d.Name, d.Asset, d.Site, d.SiteName, d.Customer = t.Name, t.Asset, t.Site, t.SiteName, t.Customer
	var customer records.Customer
	_, err := tx.Load("customer", d.Customer, &customer)
	d.Whose = customer.Name
	return err
}

// whose is the name of the customer that a plan is for.
func (dueUntil) whose(tx *store.Tx, g *upkeep.Gathered) (string, error) {
	id := ""
	for _, t := range g.Targets {
		if t.Customer == "" || t.Customer == id {
			continue
		}
		if id != "" {
			return "", nil
		}
		id = t.Customer
	}
	var c records.Customer
	_, err := tx.Load("customer", id, &c)
	return c.Name, err
}

// counterOf is the name and unit of the counter that a plan goes by.
func counterOf(g *upkeep.Gathered) (name, unit string) {
	for _, t := range g.Targets {
		if t.Point != nil {
			return t.Point.Name, t.Point.Unit
		}
	}
	return "", ""
}

// UpkeepPage is a maintenance plan with what falls due by it.
type UpkeepPage struct {
	ID        string              `json:"id"`
	Plan      core.Plan           `json:"plan"`
	Customer  string              `json:"customer"`            // name, "" when it is for several
	Agreement *store.Named        `json:"agreement,omitempty"` // that it is part of
	Targets   []UpkeepTarget      `json:"targets"`
	Coming    []DueLine           `json:"coming"`  // within a year, and the work orders that are open
	Past      []DueLine           `json:"past"`    // what is over, the latest first
	Earlier   int                 `json:"earlier"` // that is over, beyond those that are listed
	More      int                 `json:"more"`    // beyond those that are listed as coming
	Changes   []UpkeepChangedLine `json:"changes"`
	Obstacles []upkeep.Obstacle   `json:"obstacles"`
	Counter   string              `json:"counter,omitempty"` // name of the counter that it goes by, and Unit its own
	Unit      string              `json:"unit,omitempty"`
	Today     string              `json:"today"`
}

// UpkeepTarget is a machine or site of a plan.
type UpkeepTarget struct {
	ID       string `json:"id"`
	Name     string `json:"name"`
	Asset    string `json:"asset,omitempty"`
	Site     string `json:"site"`
	SiteName string `json:"siteName"`
	Gone     bool   `json:"gone,omitempty"`
}

// UpkeepChangedLine is an occurrence that somebody moved or skipped.
type UpkeepChangedLine struct {
	core.Change
	Name string `json:"name"` // of the machine
	By   string `json:"by"`   // short name
}

// upkeepPlan is the page of a maintenance plan.
func (s *Server) upkeepPlan(c *gin.Context) (*UpkeepPage, error) {
	ref := ledger.Ref{Type: "upkeep", ID: c.Param("id")}
	return read(s, c, func(tx *store.Tx) (*UpkeepPage, error) {
		u, err := s.dueUntil(c, tx, "", 370)
		if err != nil {
			return nil, err
		}
		g, ok, err := upkeep.Plan(tx, ref.ID)
		if err != nil || !ok {
			return nil, unknownRecord(err, ref)
		}
		p := &UpkeepPage{ID: ref.ID, Plan: g.Plan, Targets: []UpkeepTarget{}, Past: []DueLine{}, Changes: []UpkeepChangedLine{}, Today: u.today}
		if p.Customer, err = u.whose(tx, &g); err != nil {
			return nil, err
		}
		due, err := u.of(tx, &g, u.until)
		if err != nil {
			return nil, err
		}
		sortDue(due)
		p.More, p.Coming = max(len(due)-mostDue, 0), append([]DueLine{}, due[:min(len(due), mostDue)]...)
		if err := p.targets(tx, u, &g); err != nil {
			return nil, err
		}
		p.Obstacles = append([]upkeep.Obstacle{}, g.Obstacles...)
		if g.Plan.Agreement != "" {
			a := work.Agreement{Name: g.Plan.Agreement}
			if _, err := tx.Load("agreement", g.Plan.Agreement, &a); err != nil {
				return nil, err
			}
			p.Agreement = &store.Named{ID: g.Plan.Agreement, Name: a.Name}
		}
		return p, p.changes(tx, &g)
	})
}

// targets lists what a plan is for, and what of it is over.
func (p *UpkeepPage) targets(tx *store.Tx, u dueUntil, g *upkeep.Gathered) error {
	p.Counter, p.Unit = counterOf(g)
	for _, t := range g.Targets {
		p.Targets = append(p.Targets, UpkeepTarget{t.ID, t.Name, t.Asset, t.Site, t.SiteName, t.Gone})
		listed := 0
		for _, x := range slices.Backward(t.Past) {
			if !x.Over {
				continue
			}
			if listed == mostPastDue {
				p.Earlier++
				continue
			}
			d, err := u.opened(tx, g, t.ID, x)
			if err != nil {
				return err
			}
			listed++
			if err := d.about(tx, g); err != nil {
				return err
			}
			p.Past = append(p.Past, d)
		}
	}
	slices.SortStableFunc(p.Past, func(a, b DueLine) int { return cmp.Compare(b.On, a.On) })
	p.Earlier += max(len(p.Past)-mostDue, 0)
	p.Past = p.Past[:min(len(p.Past), mostDue)]
	return nil
}

// changes lists what was moved or skipped, the latest first.
func (p *UpkeepPage) changes(tx *store.Tx, g *upkeep.Gathered) error {
	for _, ch := range slices.Backward(g.Plan.Changes) {
		by, err := shortOf(tx, ch.Person)
		if err != nil {
			return err
		}
		line := UpkeepChangedLine{Change: ch, By: by}
		if i := slices.IndexFunc(g.Targets, func(t upkeep.Target) bool { return t.ID == ch.Target }); i >= 0 {
			line.Name = g.Targets[i].Name
		}
		p.Changes = append(p.Changes, line)
	}
	p.Plan.Changes = nil
	return nil
}

// RecordDue is what falls due within a year for a customer, at a site or on a machine, and the work orders for it that are open.
type RecordDue struct {
	Lines []DueLine `json:"lines"` // by day
	More  int       `json:"more"`  // beyond those that are listed
}

// due lists what falls due for a customer, at a site or on a machine.
func (s *Server) due(c *gin.Context) (*RecordDue, error) {
	ref := ledger.Ref{Type: c.Param("type"), ID: c.Param("id")}
	return read(s, c, func(tx *store.Tx) (*RecordDue, error) {
		if err := workIsAbout(tx, ref); err != nil {
			return nil, err
		}
		u, err := s.dueUntil(c, tx, "", 370)
		if err != nil {
			return nil, err
		}
		targets, err := tx.MachinesOf(ref)
		if err != nil {
			return nil, err
		}
		plans, err := upkeep.Plans(tx, targets)
		if err != nil {
			return nil, err
		}
		out := &RecordDue{Lines: []DueLine{}}
		for i := range plans {
			lines, err := u.of(tx, &plans[i], u.until)
			if err != nil {
				return nil, err
			}
			out.Lines = append(out.Lines, lines...)
		}
		sortDue(out.Lines)
		out.More = max(len(out.Lines)-mostDue, 0)
		out.Lines = out.Lines[:min(len(out.Lines), mostDue)]
		return out, nil
	})
}
