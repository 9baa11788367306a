// Package checks is the office's side of check sheets and readings: what was measured on a machine over the years, what wants attention,
// the log of regulated substances, and files of it all.
package checks

import (
	"slices"
	"time"

	"github.com/shopspring/decimal"

	"iter.example/iter/core/ledger"
	"iter.example/iter/core/reading"
	"iter.example/iter/core/records"
	"iter.example/iter/core/signal"
	"iter.example/iter/core/substance"
	"iter.example/iter/core/unit"
	"iter.example/iter/core/work"
	"iter.example/iter/server/store"
)

// Series is what was measured at a point, or derived, over the years.
type Series struct {
	ID      string  `json:"id"`
	Name    string  `json:"name"`
	Unit    string  `json:"unit"`
	Counter bool    `json:"counter,omitempty"`
	Derived bool    `json:"derived,omitempty"`
	Values  []Value `json:"values"` // in order of time
	reading.Limits
}

// Value is one of them, as the company shows it.
type Value struct {
	At     time.Time       `json:"at"`
	Visit  string          `json:"visit"`
	Value  decimal.Decimal `json:"value"`
	As     string          `json:"as,omitempty"` // what the gauge showed, when that was in another unit
	Change string          `json:"change,omitempty"`
	Level  reading.Level   `json:"level"`
	Doubt  reading.Doubt   `json:"doubt,omitempty"`
	Person string          `json:"person"` // name
	// Own tells that the machine reported it by itself, when something was found to be wrong.
	Own bool `json:"own,omitempty"`
}

// most is how many readings of an asset its page looks back on.
const most = 2000

// Of gives the series of an asset: of its points, of what is derived from them, and of points that it has no more.
func Of(tx *store.Tx, asset string) ([]Series, error) {
	var a records.Asset
	var kind records.AssetKind
	if _, err := tx.Load("asset", asset, &a); err != nil {
		return nil, err
	}
	if a.Kind != "" {
		if _, err := tx.Load("assetkind", a.Kind, &kind); err != nil {
			return nil, err
		}
	}
	all, err := tx.MeasuredOn(asset, most)
	if err != nil {
		return nil, err
	}
	names := map[string]string{}
	points := kind.PointsOf(a)
	var gone []string
	for _, m := range all {
		if names[m.Person], err = name(tx, names, m.Person); err != nil {
			return nil, err
		}
		if _, ok := reading.Find(points, m.Point); !ok && !slices.Contains(gone, m.Point) {
			gone = append(gone, m.Point)
		}
	}
	for _, id := range gone {
		points = append(points, reading.Point{ID: id, Name: id, Unit: lastUnit(all, id)})
	}
	own, err := reported(tx, asset)
	if err != nil {
		return nil, err
	}
	out := []Series{}
	for _, p := range points {
		s := measured(p, all, names)
		s.report(p, own[p.ID])
		out = append(out, s)
	}
	return append(out, derived(kind, points, all)...), nil
}

// mostIncidents is how many incidents of an asset are looked back on.
const mostIncidents = 200

// reported are the values by which the machine was found to be wrong, by point.
func reported(tx *store.Tx, asset string) (map[string][]signal.Value, error) {
	ids, err := tx.IncidentsOf(asset, mostIncidents)
	if err != nil {
		return nil, err
	}
	out := map[string][]signal.Value{}
	for _, id := range ids {
		var i ledger.Incident
		if _, err := tx.Load("incident", id, &i); err != nil {
			return nil, err
		}
		if n := len(i.Values); n > 0 {
			out[i.Rule.Point] = append(out[i.Rule.Point], i.Values[n-1])
		}
	}
	return out, nil
}

// report adds what the machine reported of a point by itself.
func (s *Series) report(p reading.Point, list []signal.Value) {
	for _, v := range list {
		s.Values = append(s.Values, Value{At: v.At, Value: v.Value, Level: p.Judge(v.Value), Own: true})
	}
	slices.SortStableFunc(s.Values, func(a, b Value) int { return a.At.Compare(b.At) })
}

func name(tx *store.Tx, known map[string]string, id string) (string, error) {
	if n, ok := known[id]; ok {
		return n, nil
	}
	var p records.Person
	if ok, err := tx.Load("person", id, &p); err != nil || !ok {
		return id, err
	}
	return p.Name, nil
}

func lastUnit(all []store.Measured, point string) (out string) {
	for _, m := range all {
		if m.Point == point {
			out = m.Unit
		}
	}
	return out
}

func result(m store.Measured) reading.Result {
	return reading.Result{Entry: m.Entry, At: m.At, Visit: m.Visit, Value: m.Value, Unit: m.Unit, Replaced: m.Replaced}
}

func measured(p reading.Point, all []store.Measured, names map[string]string) Series {
	s := Series{ID: p.ID, Name: p.Name, Unit: p.Unit, Counter: p.Counter, Limits: p.Limits, Values: []Value{}}
	var last *reading.Result
	for _, m := range all {
		if m.Point != p.ID {
			continue
		}
		r := result(m)
		d, ok := r.In(p.Unit)
		if !ok {
			continue
		}
		v := Value{At: m.At, Visit: m.Visit, Value: d, Level: m.Level, Doubt: m.Doubt, Person: names[m.Person]}
		if v.Level == "" {
			v.Level = p.Judge(d)
		}
		if m.Unit != p.Unit {
			v.As = m.Value.String() + " " + m.Unit
		}
		if last != nil {
			if moved, ok := p.Moved(*last, r); ok {
				v.Change = unit.Shown(moved).String()
			}
		}
		last = &r
		s.Values = append(s.Values, v)
	}
	return s
}

// derived computes what follows from the readings of each visit, with those of the visit before.
func derived(kind records.AssetKind, points []reading.Point, all []store.Measured) []Series {
	out := []Series{}
	for _, d := range kind.Derived {
		out = append(out, Series{ID: d.ID, Name: d.Name, Unit: d.Unit, Derived: true, Limits: d.Limits, Values: []Value{}})
	}
	before := map[string]reading.Result{}
	for i := 0; i < len(all); {
		now := map[string]reading.Result{}
		first := i
		for ; i < len(all) && all[i].Visit == all[first].Visit; i++ {
			now[all[i].Point] = result(all[i])
		}
		for _, v := range reading.Derive(kind.Derived, points, now, before) {
			if v.Value == nil {
				continue
			}
			k := slices.IndexFunc(out, func(s Series) bool { return s.ID == v.ID })
			out[k].Values = append(out[k].Values, Value{At: all[i-1].At, Visit: all[first].Visit, Value: *v.Value, Level: v.Level})
		}
		for id, r := range now {
			before[id] = r
		}
	}
	return out
}

// Concern is a point of attention with what the office needs to act on it.
type Concern struct {
	store.Attended
	Order     string           `json:"order"`  // id
	Number    string           `json:"number"` // of the order
	Site      string           `json:"site"`
	Customer  string           `json:"customer"`
	SiteName  string           `json:"siteName"`
	AssetName string           `json:"assetName,omitempty"`
	PointName string           `json:"pointName,omitempty"`
	PartName  string           `json:"partName,omitempty"`
	By        string           `json:"by"`              // name
	Limit     *decimal.Decimal `json:"limit,omitempty"` // that a reading is past, in its point's unit
	LimitUnit string           `json:"limitUnit,omitempty"`
	Work      string           `json:"work,omitempty"` // number of the work order opened for it
}

// mostConcerns is how many are listed at once.
const mostConcerns = 200

// Attention lists what wants attention, or what was handled.
func Attention(tx *store.Tx, handled bool) ([]Concern, error) {
	all, err := tx.Attention(handled, mostConcerns)
	if err != nil {
		return nil, err
	}
	out := []Concern{}
	names := map[string]string{}
	for _, a := range all {
		c := Concern{Attended: a}
		v, err := tx.VisitWork(a.Visit)
		if err != nil {
			return nil, err
		}
		c.Order, c.Number, c.Site, c.Customer, c.SiteName = v.Visit.Order, v.Order.Number, v.Order.Site, v.Order.Customer, v.Site.Name
		if names[a.Person], err = name(tx, names, a.Person); err != nil {
			return nil, err
		}
		c.By = names[a.Person]
		if err := c.named(tx); err != nil {
			return nil, err
		}
		if a.Handled != nil && a.Handled.Order != "" {
			var w work.Order
			if _, err := tx.Load("workorder", a.Handled.Order, &w); err != nil {
				return nil, err
			}
			c.Work = w.Number
		}
		out = append(out, c)
	}
	return out, nil
}

// named puts names in place of ids.
func (c *Concern) named(tx *store.Tx) error {
	if c.Asset != "" {
		var a records.Asset
		var k records.AssetKind
		if _, err := tx.Load("asset", c.Asset, &a); err != nil {
			return err
		}
		if a.Kind != "" {
			if _, err := tx.Load("assetkind", a.Kind, &k); err != nil {
				return err
			}
		}
		c.AssetName, c.PointName = a.Name, c.Point
		if p, ok := reading.Find(k.PointsOf(a), c.Point); ok {
			c.PointName, c.LimitUnit = p.Name, p.Unit
			c.Limit = map[string]*decimal.Decimal{string(reading.AlarmLow): p.AlarmLow, string(reading.Low): p.WarnLow,
				string(reading.High): p.WarnHigh, string(reading.AlarmHigh): p.AlarmHigh}[c.Code]
		}
	}
	if c.Part != "" {
		for _, typ := range []string{"part", "kit"} {
			var p struct{ Name string }
			if ok, err := tx.Load(typ, c.Part, &p); err != nil {
				return err
			} else if ok {
				c.PartName = p.Name
			}
		}
	}
	return nil
}

// SubstancePage is a site's log of regulated substances.
type SubstancePage struct {
	Site   string            `json:"site"`
	Name   string            `json:"name"`
	Stands []substance.Stand `json:"stands"`
	Moves  []substance.Move  `json:"moves"` // the latest first
	Names  map[string]string `json:"names"` // of people and machines, by id
	At     time.Time         `json:"at"`
}

// Substances gives a site's log; one where nothing was logged has no stands.
func Substances(tx *store.Tx, site string, now time.Time) (*SubstancePage, error) {
	out := &SubstancePage{Site: site, Names: map[string]string{}, At: now}
	var s records.Site
	var log substance.Log
	if _, err := tx.Load("site", site, &s); err != nil {
		return nil, err
	}
	if _, err := tx.Load("substances", site, &log); err != nil {
		return nil, err
	}
	rules, err := store.SettingsAt[substance.Settings](tx, now)
	if err != nil {
		return nil, err
	}
	out.Name = s.Name
	assets := map[string]records.Asset{}
	at, err := tx.AssetsAt(site)
	if err != nil {
		return nil, err
	}
	for _, n := range at {
		var a records.Asset
		if _, err := tx.Load("asset", n.ID, &a); err != nil {
			return nil, err
		}
		assets[n.ID], out.Names[n.ID] = a, n.Name
	}
	out.Stands = log.Stands(rules.Substances, assets, now)
	out.Moves = append([]substance.Move{}, log.Moves...)
	slices.Reverse(out.Moves)
	for _, m := range out.Moves {
		if out.Names[m.Person], err = name(tx, out.Names, m.Person); err != nil {
			return nil, err
		}
	}
	return out, nil
}
