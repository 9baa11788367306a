// Package area works out measured areas, for work that is priced by size: shapes put together, with others cut out.
package area

import (
	"strconv"

	"github.com/shopspring/decimal"

	"iter.example/iter/core/exact"
	"iter.example/iter/core/msg"
	"iter.example/iter/core/records"
	"iter.example/iter/core/unit"
)

// Form is what a shape is.
type Form string

const (
	Rectangle Form = "rectangle" // two sizes: length and width
	Circle    Form = "circle"    // one: the diameter
	// Polygon is what a tape can measure: the n sides in turn, then the n-3 distances from the first corner to the third, the fourth
	// and so on to the last but one. A triangle has three sides and no more.
	Polygon Form = "polygon"
)

// Values lists the forms, for generated types.
func (Form) Values() []string { return []string{string(Rectangle), string(Circle), string(Polygon)} }

// Shape is a part of an area.
type Shape struct {
	Form  Form              `json:"form"`
	Sizes []decimal.Decimal `json:"sizes"` // in the area's unit
	Cut   bool              `json:"cut,omitempty"`
	Name  string            `json:"name,omitempty"`
}

// Area is what was measured of a surface.
type Area struct {
	Name   string  `json:"name"`
	Unit   string  `json:"unit"` // of the sizes: m, cm, mm, ft, in
	Shapes []Shape `json:"shapes"`
}

// Limits of what is taken: past any floor or roof.
const (
	maxShapes  = 100
	maxCorners = 40
)

var longest = decimal.New(1, 6)

// pi to 30 places.
var pi = decimal.RequireFromString("3.141592653589793238462643383280")

// Square gives the area in square metres, rounded to the square centimetre. The error says which shape can't be, counted from 1.
func (a Area) Square() (decimal.Decimal, error) {
	u, err := unit.Parse(a.Unit)
	if err != nil || u.Dim != (unit.Dim{Length: 1}) {
		return decimal.Decimal{}, msg.New("area.unit", "unit", records.Clip(a.Unit))
	}
	if len(a.Shapes) > maxShapes {
		return decimal.Decimal{}, msg.New("area.shapes", "max", strconv.Itoa(maxShapes))
	}
	if err := records.CheckText("name", a.Name, false, 200); err != nil {
		return decimal.Decimal{}, err
	}
	var sum decimal.Decimal
	for i, s := range a.Shapes {
		got, err := s.square(func(d decimal.Decimal) decimal.Decimal { return u.Base(d).Round(20) })
		if err != nil {
			c := msg.From(err)
			return sum, msg.New(c.Code, "shape", strconv.Itoa(i+1))
		}
		if s.Cut {
			got = got.Neg()
		}
		sum = sum.Add(got)
	}
	if sum.IsNegative() {
		return sum, msg.New("area.negative")
	}
	return sum.Round(4), nil
}

func (s Shape) square(metres func(decimal.Decimal) decimal.Decimal) (decimal.Decimal, error) {
	want := map[Form]int{Rectangle: 2, Circle: 1}[s.Form]
	if s.Form == Polygon {
		// n sides and n-3 distances: three, then every odd number above.
		if n := len(s.Sizes); n >= 3 && n%2 == 1 && n <= 2*maxCorners-3 {
			want = n
		}
	}
	if want == 0 || len(s.Sizes) != want {
		return decimal.Decimal{}, msg.New("area.sizes")
	}
	m := make([]decimal.Decimal, want)
	for i, d := range s.Sizes {
		if !d.IsPositive() || d.GreaterThan(longest) || d.Exponent() < -9 {
			return d, msg.New("area.size")
		}
		m[i] = metres(d)
	}
	switch s.Form {
	case Rectangle:
		return m[0].Mul(m[1]), nil
	case Circle:
		return m[0].Mul(m[0]).Mul(pi).DivRound(decimal.NewFromInt(4), 20), nil
	}
	// From the first corner the polygon falls into triangles: two of its sides at the ends, distances between.
	n := (len(m) + 3) / 2
	sides, across := m[:n], m[n:]
	sum := decimal.Decimal{}
	from := sides[0]
	for i := 1; i < n-1; i++ {
		to := sides[n-1]
		if i < n-2 {
			to = across[i-1]
		}
		t, ok := triangle(from, sides[i], to)
		if !ok {
			return sum, msg.New("area.open")
		}
		sum = sum.Add(t)
		from = to
	}
	return sum, nil
}

// triangle is Heron's formula; not ok tells that the sides do not meet.
func triangle(a, b, c decimal.Decimal) (decimal.Decimal, bool) {
	p := a.Add(b).Add(c)
	two := decimal.NewFromInt(2)
	x, y, z := p.Sub(a.Mul(two)), p.Sub(b.Mul(two)), p.Sub(c.Mul(two))
	if !x.IsPositive() || !y.IsPositive() || !z.IsPositive() {
		return p, false
	}
	return exact.Of(p.Mul(x).Mul(y).Mul(z)).Sqrt().Round(20).DivRound(decimal.NewFromInt(4), 20), true
}
