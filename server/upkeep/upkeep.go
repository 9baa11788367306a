// Package upkeep knows what falls due by the company's maintenance plans, and opens the work orders for it, each once.
package upkeep

import (
	"cmp"
	"encoding/json"
	"maps"
	"slices"

	"iter.example/iter/core/msg"
	"iter.example/iter/core/reading"
	"iter.example/iter/core/records"
	"iter.example/iter/core/upkeep"
	"iter.example/iter/core/work"
	"iter.example/iter/server/store"
)

// Line is something that falls due, with where that is.
type Line struct {
	upkeep.Item
	Site     string
	Customer string
}

// Obstacle is why nothing falls due for a target of a plan, or no work order opens for it.
type Obstacle struct {
	Target string   `json:"target"`
	Why    msg.Code `json:"why"`
}

// Gathered is what falls due by a plan.
type Gathered struct {
	ID        string
	Plan      upkeep.Plan
	Targets   []Target
	Obstacles []Obstacle
	only      []string // targets that are looked at; nil for all
}

// Target is a machine or site of a plan, as it is by now: one whose record was merged is the one that it turned out to be.
type Target struct {
	upkeep.Target
	Name     string
	Asset    string
	Site     string
	SiteName string
	Customer string
	Gone     bool           // taken out, sold or scrapped: nothing falls due for it
	Point    *reading.Point // of a plan by counter, nil when the machine has no such point
}

// mostAtOnce is how many work orders of a target may be due to open at once: of more something is wrong with the plan, and none opens.
const mostAtOnce = 31

// Plans gathers the maintenance plans with their targets: all of them, or those that have some targets, with these alone.
func Plans(tx *store.Tx, targets []string) ([]Gathered, error) {
	docs, err := tx.Of("upkeep")
	if err != nil || len(docs) == 0 {
		return nil, err
	}
	past, err := tx.PastOf("", targets)
	if err != nil {
		return nil, err
	}
	var out []Gathered
	for _, d := range docs {
		g := Gathered{ID: d.ID, only: targets}
		if err := json.Unmarshal(d.Body, &g.Plan); err != nil {
			return nil, err
		}
		if err := g.gather(tx, past[d.ID]); err != nil {
			return nil, err
		}
		if targets == nil || len(g.Targets) > 0 {
			out = append(out, g)
		}
	}
	return out, nil
}

// Plan gathers a maintenance plan with its targets, or with some of them alone; false when there is none.
func Plan(tx *store.Tx, id string, targets ...string) (g Gathered, ok bool, err error) {
	g = Gathered{ID: id, only: targets}
	if ok, err = tx.Load("upkeep", id, &g.Plan); err != nil || !ok {
		return g, ok, err
	}
	past, err := tx.PastOf(id, targets)
	if err != nil {
		return g, ok, err
	}
	return g, ok, g.gather(tx, past[id])
}

// gather finds a plan's targets.
func (g *Gathered) gather(tx *store.Tx, past map[string][]upkeep.Past) error {
	assets, end := g.Plan.Assets, ""
	if g.Plan.Agreement != "" {
		var a work.Agreement
		if _, err := tx.Load("agreement", g.Plan.Agreement, &a); err != nil {
			return err
		}
		if len(a.Assets) == 0 {
			g.obstacle(g.Plan.Agreement, msg.New("upkeep.no_machines"))
		}
		assets, end = a.Assets, a.To
	}
	for _, id := range assets {
		if !g.looksAt(id) {
			continue
		}
		t := Target{Target: upkeep.Target{ID: id, Past: past[id], End: end}, Asset: id}
		if err := g.machine(tx, &t); err != nil {
			return err
		}
		g.Targets = append(g.Targets, t)
	}
	if g.Plan.Site != "" && g.looksAt(g.Plan.Site) {
		t := Target{Target: upkeep.Target{ID: g.Plan.Site, Past: past[g.Plan.Site]}}
		if err := g.place(tx, &t, g.Plan.Site); err != nil {
			return err
		}
		g.Targets = append(g.Targets, t)
	}
	return nil
}

func (g *Gathered) looksAt(target string) bool {
	return g.only == nil || slices.Contains(g.only, target)
}

func (g *Gathered) obstacle(target string, why *msg.Code) {
	g.Obstacles = append(g.Obstacles, Obstacle{Target: target, Why: *why})
}

// machine finds a machine, and what its counter ran.
func (g *Gathered) machine(tx *store.Tx, t *Target) error {
	a, id, known, err := asItIs(tx, "asset", t.Asset, func(a records.Asset) string { return a.Merged })
	if err != nil {
		return err
	}
	t.Asset, t.Name = id, a.Name
	if err := g.place(tx, t, a.Site); err != nil || t.Gone {
		return err
	}
	if t.Gone = !known || a.Removed != "" || a.Struck; t.Gone {
		g.obstacle(t.ID, msg.New("upkeep.gone", "name", t.called()))
		return nil
	}
	if g.Plan.Counter == nil {
		return nil
	}
	return g.runs(tx, t, a)
}

// called is what a target is called where its site does not go without saying.
func (t Target) called() string {
	if t.Name == "" || t.SiteName == "" {
		return cmp.Or(t.Name, t.SiteName, t.ID)
	}
	return t.Name + ", " + t.SiteName
}

// runs adds up what a machine's counter showed.
func (g *Gathered) runs(tx *store.Tx, t *Target, a records.Asset) error {
	var kind records.AssetKind
	if _, err := tx.Load("assetkind", a.Kind, &kind); err != nil {
		return err
	}
	p, ok := reading.Find(kind.PointsOf(a), g.Plan.Counter.Point)
	if !ok || !p.Counter {
		g.obstacle(t.ID, msg.New("upkeep.no_counter", "name", t.called()))
		return nil
	}
	// All that was ever read, and not the history that devices hold, which lets go of the oldest: it is counted from the first day.
	var all []reading.Result
	for _, id := range slices.Compact([]string{t.ID, t.Asset}) {
		list, err := tx.MeasuredAt(id, p.ID)
		if err != nil {
			return err
		}
		for _, m := range list {
			all = append(all, reading.Result{Entry: m.Entry, At: m.At, Value: m.Value, Unit: m.Unit, Doubt: m.Doubt, Replaced: m.Replaced})
		}
	}
	slices.SortStableFunc(all, func(a, b reading.Result) int { return a.At.Compare(b.At) })
	t.Point, t.Runs = &p, upkeep.RunsOf(p, all)
	return nil
}

// place finds where a target is, and whose.
func (g *Gathered) place(tx *store.Tx, t *Target, site string) error {
	x, id, known, err := asItIs(tx, "site", site, func(x records.Site) string { return x.Merged })
	if err != nil {
		return err
	}
	if t.Site, t.SiteName, t.Customer = id, x.Name, x.Customer; !known {
		t.Gone = true
		g.obstacle(t.ID, msg.New("upkeep.gone", "name", t.called()))
	}
	return nil
}

// asItIs loads a record, or the one that it turned out to be, with its id.
func asItIs[R any](tx *store.Tx, typ, id string, merged func(R) string) (R, string, bool, error) {
	for range 10 {
		var r R
		known, err := tx.Load(typ, id, &r)
		if err != nil || !known || merged(r) == "" {
			return r, id, known, err
		}
		id = merged(r)
	}
	return *new(R), id, false, nil
}

// Coming gives what falls due by a plan up to a day, by site, and notes what would open too much at once.
func (g *Gathered) Coming(today, until string) (out []Line) {
	for _, t := range g.Targets {
		if t.Gone {
			continue
		}
		list := g.Plan.Coming(t.Target, today, until)
		opening := 0
		for _, o := range list {
			if o.Opens <= today && !o.Later && !o.Skipped {
				opening++
			}
		}
		if opening > mostAtOnce {
			g.obstacle(t.ID, msg.New("upkeep.too_many", "name", t.called()))
			continue
		}
		if g.Plan.Counter != nil && len(list) == 0 && t.Point != nil {
			g.obstacle(t.ID, msg.New("upkeep.no_pace", "name", t.called(), "point", t.Point.Name))
		}
		for _, o := range list {
			out = append(out, Line{Item: upkeep.Item{Occurrence: o, PlanID: g.ID, Plan: g.Plan, Asset: t.Asset}, Site: t.Site, Customer: t.Customer})
		}
	}
	return out
}

// EachDue tells of what falls due by all plans up to a day, and of work orders that were opened for them and are not over, each with the
// day that it is due on, which may be past.
func EachDue(tx *store.Tx, today, until string, each func(day string, p upkeep.Plan)) error {
	plans, err := Plans(tx, nil)
	if err != nil {
		return err
	}
	for i := range plans {
		g := &plans[i]
		for _, l := range g.Coming(today, until) {
			if !l.Skipped {
				each(l.On, g.Plan)
			}
		}
		for _, t := range g.Targets {
			for _, x := range t.Past {
				if !x.Over {
					each(x.On, g.Plan)
				}
			}
		}
	}
	return nil
}

// horizon is up to when what falls due matters for what is to be opened today: as far as windows reach that may overlap, and what was moved
// to be sooner.
func horizon(plans []Gathered, today string) string {
	days, moved := 0, ""
	for _, g := range plans {
		days = max(days, g.Plan.Ahead+2*g.Plan.Before+g.Plan.After)
		for _, c := range g.Plan.Changes {
			moved = max(moved, c.Due)
		}
	}
	return max(upkeep.AddDays(today, 2*days+1), moved)
}

// ToOpen gives what is to be opened by a day, in the work orders that it makes.
func ToOpen(tx *store.Tx, today string) ([][]Line, error) {
	plans, err := Plans(tx, nil)
	if err != nil || len(plans) == 0 {
		return nil, err
	}
	until := horizon(plans, today)
	sites := map[string][]Line{}
	for i := range plans {
		for _, l := range plans[i].Coming(today, until) {
			sites[l.Site] = append(sites[l.Site], l)
		}
	}
	var out [][]Line
	for _, site := range slices.Sorted(maps.Keys(sites)) {
		items := make([]upkeep.Item, len(sites[site]))
		for i, l := range sites[site] {
			items[i] = l.Item
		}
		for _, group := range upkeep.Together(items, today) {
			lines := make([]Line, len(group))
			for i, x := range group {
				lines[i] = Line{Item: x, Site: site, Customer: sites[site][0].Customer}
			}
			out = append(out, lines)
		}
	}
	return out, nil
}
