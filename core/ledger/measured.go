package ledger

import (
	"github.com/shopspring/decimal"

	"iter.example/iter/core/audit"
	"iter.example/iter/core/msg"
	"iter.example/iter/core/reading"
	"iter.example/iter/core/records"
)

func readingKinds() table {
	return table{
		"reading.taken": row[Taken]{subject: "visit", phoned: true, check: checkTaken, keys: takenKeys, apply: taken,
			strike: strikeReading}.kind(),
	}
}

// Taken is the body of reading.taken: what a gauge showed, in the gauge's unit.
type Taken struct {
	Asset    string            `json:"asset"`
	Kind     string            `json:"kind,omitempty"` // of the asset, which has the points that are not its own
	Point    string            `json:"point"`
	Value    decimal.Decimal   `json:"value"`
	Unit     string            `json:"unit"`
	Replaced *reading.Replaced `json:"replaced,omitempty"` // of a counter that is new since the last time
	From     string            `json:"from,omitempty"`     // the instrument
}

// maxReading is past any gauge there is.
var maxReading = decimal.New(1, 12)

func checkTaken(b Taken) error {
	values := []decimal.Decimal{b.Value}
	if b.Replaced != nil {
		values = append(values, b.Replaced.Last, b.Replaced.Start)
	}
	for _, v := range values {
		if v.Abs().GreaterThan(maxReading) || v.Exponent() < -9 || v.Exponent() > 12 {
			return msg.New("reading.absurd")
		}
	}
	if err := records.CheckText("unit", b.Unit, false, 20); err != nil {
		return err
	}
	if err := records.CheckText("from", b.From, false, 100); err != nil {
		return err
	}
	if b.Kind != "" {
		if err := records.CheckID(b.Kind); err != nil {
			return err
		}
	}
	if err := records.CheckID(b.Point); err != nil {
		return err
	}
	return records.CheckID(b.Asset)
}

// MeasuredRef names the history of what was measured on an asset.
func MeasuredRef(asset string) Ref { return Ref{"measured", asset} }

func takenKeys(_ Entry, b Taken) []Ref {
	out := []Ref{{"asset", b.Asset}, MeasuredRef(b.Asset)}
	if b.Kind != "" {
		out = append(out, Ref{"assetkind", b.Kind})
	}
	return out
}

func taken(t *tx, e Entry, b Taken) error {
	v, err := t.fact()
	if err != nil {
		return err
	}
	var a records.Asset
	var kind records.AssetKind
	var h reading.History
	known, err := t.load(Ref{"asset", b.Asset}, &a)
	if err == nil && b.Kind != "" {
		_, err = t.load(Ref{"assetkind", b.Kind}, &kind)
	}
	if err == nil {
		_, err = t.load(MeasuredRef(b.Asset), &h)
	}
	if err != nil {
		return err
	}
	r := reading.Reading{Line: e.line(), Asset: b.Asset, Point: b.Point, Value: b.Value, Unit: b.Unit, Replaced: b.Replaced, From: b.From,
		Level: reading.OK}
	result := reading.Result{Entry: e.ID, At: e.At, Visit: e.Subject.ID, Value: b.Value, Unit: b.Unit, Replaced: b.Replaced}
	point, ok := reading.Find(kind.PointsOf(a), b.Point)
	if known && !ok {
		t.flag("reading.unknown_point", "point", b.Point, "asset", a.Name)
	}
	if ok {
		j := point.Weigh(h.Before(b.Point, e.At), result)
		r.Level, r.Doubt = j.Level, j.Doubt
	}
	result.Level, result.Doubt = r.Level, r.Doubt
	h.Add(b.Point, result)
	if ok {
		h.Doubt(point, e.At)
	}
	t.save(MeasuredRef(b.Asset), h)
	v.Readings = audit.Add(v.Readings, r)
	v.Doubt(b.Asset, h)
	v.NoteDerived(b.Asset, v.Derive(e.Subject.ID, b.Asset, kind, a, h))
	t.save(e.Subject, v)
	return nil
}

// strikeReading strikes out a reading on the visit and in the history of its asset.
func strikeReading(t *tx, s Struck) (mark, error) {
	v, err := t.visit()
	if err != nil {
		return nil, err
	}
	r, err := lineToStrike(s, v.Readings)
	if err != nil {
		return nil, err
	}
	var h reading.History
	if _, err := t.load(MeasuredRef(r.Asset), &h); err != nil {
		return nil, err
	}
	// What was judged by it is judged anew.
	var a records.Asset
	var kind records.AssetKind
	known, err := t.load(Ref{"asset", r.Asset}, &a)
	if err == nil && a.Kind != "" {
		_, err = t.load(Ref{"assetkind", a.Kind}, &kind)
	}
	if err != nil {
		return nil, err
	}
	return func(struck bool) {
		r.Struck = struck
		if h.Strike(s.Entry, struck) {
			if p, ok := reading.Find(kind.PointsOf(a), r.Point); ok {
				h.Doubt(p, r.At)
				v.Doubt(r.Asset, h)
			}
			t.save(MeasuredRef(r.Asset), h)
		}
		if known {
			v.NoteDerived(r.Asset, v.Derive(t.entry.Subject.ID, r.Asset, kind, a, h))
		}
		t.save(t.entry.Subject, v)
	}, nil
}
