package view

import (
	"slices"
	"time"

	"github.com/shopspring/decimal"

	"iter.example/iter/core/msg"
	"iter.example/iter/core/reading"
	"iter.example/iter/core/records"
	"iter.example/iter/core/unit"
)

// Machine is an asset of a visit with what is measured on it.
type Machine struct {
	ID      string                 `json:"id"`
	Asset   records.Asset          `json:"asset"`
	Points  []Measured             `json:"points"`
	Derived []reading.DerivedValue `json:"derived"`
}

// Measured is a reading point with what was measured there before the visit.
type Measured struct {
	reading.Point
	Units  []string `json:"units"`  // that it may be read in, the last used first
	Before []Past   `json:"before"` // the last ones, in order of time
}

// Past is a result in the point's unit, as it is shown.
type Past struct {
	At    time.Time     `json:"at"`
	Value string        `json:"value"`
	Level reading.Level `json:"level,omitempty"`
}

// shownPast is how many results a trend shows.
const shownPast = 8

// machines adds what is measured on the visit, and what was before.
func (b *builder) machines(v *Visit) {
	ids := []string{}
	add := func(id string) {
		if id != "" && !slices.Contains(ids, id) {
			ids = append(ids, id)
		}
	}
	add(v.Order.Asset)
	for _, items := range v.Visit.Items {
		for _, it := range items {
			if !it.Struck {
				add(it.Asset)
			}
		}
	}
	for _, r := range v.Visit.Readings {
		add(r.Asset)
	}
	lines := make([]ReadingLine, len(v.Visit.Readings))
	for _, id := range ids {
		m := Machine{ID: id, Points: []Measured{}}
		var kind records.AssetKind
		var h reading.History
		found := b.load("asset", id, &m.Asset)
		if found {
			b.load("assetkind", m.Asset.Kind, &kind)
			b.load("measured", id, &h)
		}
		points := kind.PointsOf(m.Asset)
		for _, p := range points {
			m.Points = append(m.Points, measured(p, h, v.ID, v.Visit.Ended()))
		}
		for i, r := range v.Visit.Readings {
			if r.Asset == id {
				lines[i] = line(r, m.Asset, points, h, v.ID)
			}
		}
		m.Derived = v.Visit.Derive(v.ID, id, kind, m.Asset, h)
		if found {
			v.Machines = append(v.Machines, m)
		}
	}
	v.Readings = append(v.Readings, lines...)
}

// measured is a point with what was measured there on other visits, for a visit that is over on those before it.
func measured(p reading.Point, h reading.History, visit string, ended time.Time) Measured {
	out := Measured{Point: p, Units: unit.Like(p.Unit), Before: []Past{}}
	for _, r := range h.Points[p.ID] {
		if r.Struck {
			continue
		}
		if i := slices.Index(out.Units, r.Unit); i > 0 { // as it was read the last time, it will be read again
			out.Units = slices.Insert(slices.Delete(slices.Clone(out.Units), i, i+1), 0, r.Unit)
		}
		if d, ok := r.In(p.Unit); ok && r.Visit != visit && (ended.IsZero() || r.At.Before(ended)) {
			out.Before = append(out.Before, Past{r.At, d.String(), r.Level})
		}
	}
	out.Before = out.Before[max(0, len(out.Before)-shownPast):]
	return out
}

// line is a reading as it is shown. How it lies to the limits is as it was judged when it was recorded; one from before readings were is
// judged now.
func line(r reading.Reading, a records.Asset, points []reading.Point, h reading.History, visit string) ReadingLine {
	out := ReadingLine{Reading: r, AssetName: a.Name, PointName: r.Point, Shown: r.Value.String(), ShownUnit: r.Unit}
	if a.Name == "" {
		out.AssetName = r.Asset
	}
	p, ok := reading.Find(points, r.Point)
	if ok {
		out.PointName = p.Name
		now := reading.Result{At: r.At, Value: r.Value, Unit: r.Unit, Replaced: r.Replaced}
		j := p.Weigh(h.Earlier(p.ID, visit, r.At), now)
		if j.Doubt != reading.Unlike {
			out.Shown, out.ShownUnit = j.Value.String(), p.Unit
			if j.Change != nil {
				out.Change = unit.Shown(*j.Change).String()
			}
		}
		if r.Level == "" {
			out.Level = j.Level
		}
	}
	if out.Level == "" {
		out.Level = reading.OK
	}
	return out
}

// Judge is a value as it is typed.
type Judge struct {
	Point    reading.Point     `json:"point"`
	Text     string            `json:"text"`
	Unit     string            `json:"unit"` // the gauge's
	Before   []Past            `json:"before"`
	Replaced *reading.Replaced `json:"replaced,omitempty"`
}

// Judged is what to say of a reading while it is typed.
type Judged struct {
	Value  *decimal.Decimal `json:"value,omitempty"` // in the gauge's unit
	Shown  string           `json:"shown,omitempty"` // in the point's, when that is another
	Level  reading.Level    `json:"level,omitempty"`
	Doubt  reading.Doubt    `json:"doubt,omitempty"`
	Change string           `json:"change,omitempty"` // in the point's unit
	Error  *msg.Code        `json:"error,omitempty"`
}

// Of reads what was typed for a point, and compares it with the limits and with what was measured before.
func (j Judge) Of() Judged {
	d, err := reading.Parse(j.Text)
	if err != nil {
		return Judged{Error: msg.From(err)}
	}
	var past []reading.Result
	for _, p := range j.Before {
		if v, err := decimal.NewFromString(p.Value); err == nil {
			past = append(past, reading.Result{At: p.At, Value: v, Unit: j.Point.Unit})
		}
	}
	got := j.Point.Weigh(past, reading.Result{Value: d, Unit: j.Unit, Replaced: j.Replaced})
	out := Judged{Value: &d, Level: got.Level, Doubt: got.Doubt}
	if j.Unit != j.Point.Unit && got.Doubt != reading.Unlike {
		out.Shown = got.Value.String()
	}
	if got.Change != nil {
		out.Change = unit.Shown(*got.Change).String()
	}
	return out
}
