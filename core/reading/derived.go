package reading

import (
	"slices"
	"strings"

	"github.com/shopspring/decimal"

	"iter.example/iter/core/formula"
	"iter.example/iter/core/msg"
	"iter.example/iter/core/unit"
)

// Derived is a value computed from what was measured: the head of a pump, the imbalance of three phases.
type Derived struct {
	ID      string `json:"id"`
	Name    string `json:"name"`
	Unit    string `json:"unit"`
	Places  int    `json:"places"`  // decimals it is shown with
	Formula string `json:"formula"` // as it was written; names are ids of points, change(id) is what a counter moved on by
	// Program is Formula as it is evaluated. The server makes it when the formula is saved.
	Program *formula.Node `json:"program,omitempty"`
	Limits
}

// DerivedValue is what came of a Derived.
type DerivedValue struct {
	ID      string           `json:"id"`
	Name    string           `json:"name"`
	Unit    string           `json:"unit"`
	Value   *decimal.Decimal `json:"value,omitempty"` // nil: something it needs was not measured
	Level   Level            `json:"level"`
	Problem *msg.Code        `json:"problem,omitempty"` // a division by zero and the like
	Limits
}

// Check says what is wrong with a derived value of points.
func (d Derived) Check(points []Point) *formula.Problem {
	if d.ID == "" || d.Name == "" || d.Program == nil || d.Places < 0 || d.Places > 6 {
		return &formula.Problem{Code: *msg.New("derived.incomplete", "name", d.Name)}
	}
	if err := d.Limits.check(d.Name); err != nil {
		return &formula.Problem{Code: *msg.From(err)}
	}
	want, err := unit.Parse(d.Unit)
	if err != nil {
		return &formula.Problem{Code: *msg.From(err)}
	}
	got, p := formula.Check(*d.Program, func(name string) (formula.Type, bool) {
		id, change := strings.CutPrefix(name, formula.ChangeOf(""))
		i := slices.IndexFunc(points, func(p Point) bool { return p.ID == id })
		if i < 0 || (change && !points[i].Counter) {
			return formula.Type{}, false
		}
		u, err := unit.Parse(points[i].Unit)
		return formula.Type{Kind: formula.Number, Dim: u.Dim}, err == nil
	})
	switch {
	case p != nil:
		return p
	case got.Kind != formula.Number || got.Dim != want.Dim:
		return &formula.Problem{Code: *msg.New("formula.result", "unit", d.Unit)}
	}
	return nil
}

// Derive computes the derived values of an asset from what was measured together, now, and what was measured before that; both by
// point, the last of each.
func Derive(derived []Derived, points []Point, now, before map[string]Result) []DerivedValue {
	out := []DerivedValue{}
	for _, d := range derived {
		v := DerivedValue{ID: d.ID, Name: d.Name, Unit: d.Unit, Level: OK, Limits: d.Limits}
		to, err := unit.Parse(d.Unit)
		if d.Program == nil || err != nil || d.Check(points) != nil {
			continue // of a newer program, or its points are gone
		}
		got, p := formula.Eval(*d.Program, func(name string) formula.Value {
			id, change := strings.CutPrefix(name, formula.ChangeOf(""))
			i := slices.IndexFunc(points, func(p Point) bool { return p.ID == id })
			r, measured := now[id]
			if i < 0 || !measured {
				return formula.Value{}
			}
			if change {
				was, known := before[id]
				moved, ok := points[i].Moved(was, r)
				u, err := unit.Parse(points[i].Unit)
				if u.Offset = nil; err != nil || !ok || !known {
					return formula.Value{}
				}
				return formula.Of(u.Base(moved))
			}
			u, err := unit.Parse(r.Unit) // as it was read, and not as it is shown
			if want, wrong := unit.Parse(points[i].Unit); err != nil || wrong != nil || u.Dim != want.Dim {
				return formula.Value{}
			}
			return formula.Of(u.Base(r.Value))
		})
		if p != nil {
			v.Problem = &p.Code
		} else if !got.None() {
			value := to.Of(got.Num).Round(int32(d.Places))
			v.Value, v.Level = &value, d.Judge(value)
		}
		out = append(out, v)
	}
	return out
}
