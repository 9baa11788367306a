// Package area works out measured areas, for work that is priced by size: shapes put together, with others cut out.
package area

import (
	"slices"
	"strconv"

	"github.com/shopspring/decimal"

	"iter.example/iter/core/msg"
	"iter.example/iter/core/records"
	"iter.example/iter/core/unit"
)

// Form is what a shape is.
type Form string

const (
	Rectangle Form = "rectangle" // two sizes: length and width
	Circle    Form = "circle"    // one: the diameter
	// Polygon is what a tape can measure: the n sides in turn, then n-3 ties, of the third corner, the fourth and so on to the last but one:
	// its distance from the first, or, where there is a wall in between, the angle at the corner before. A triangle has three sides and no
	// more.
	Polygon Form = "polygon"
)

// Values lists the forms, for generated types.
func (Form) Values() []string { return []string{string(Rectangle), string(Circle), string(Polygon)} }

// Shape is a part of an area.
type Shape struct {
	Form  Form              `json:"form"`
	Sizes []decimal.Decimal `json:"sizes"` // in the area's unit; angles in degrees
	// Angles tells of each tie of a polygon whether it is an angle: that inside, above 180 where the corner bends inwards.
	Angles []bool `json:"angles,omitempty"`
	// Right tells of each corner of a polygon from the third on whether it lies to the right of the line from the first corner to the one
	// before it, since the sizes alone may fit several shapes. Where nothing is said, no corner bends inwards if that can be.
	Right []bool `json:"right,omitempty"`
	Cut   bool   `json:"cut,omitempty"`
	Name  string `json:"name,omitempty"`
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

// around are the degrees of a full turn.
var around = decimal.NewFromInt(360)

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
		metre := u.Base(decimal.NewFromInt(1)).Round(digits)
		got, err := s.square()
		got = got.Mul(metre).Mul(metre)
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

// CheckNew says which shape has sizes that leave open what was measured. Before somebody could say, it was taken to bend nowhere inwards.
func (a Area) CheckNew() error {
	for i, s := range a.Shapes {
		if s.Form != Polygon || s.Right != nil {
			continue
		}
		s.Right = []bool{}
		if _, err := s.square(); err != nil {
			return msg.New(msg.From(err).Code, "shape", strconv.Itoa(i+1))
		}
	}
	return nil
}

// check says what is wrong with the sizes as such.
func (s Shape) check() error {
	want := map[Form]int{Rectangle: 2, Circle: 1}[s.Form]
	if s.Form == Polygon {
		// n sides and n-3 distances: three, then every odd number above.
		if n := len(s.Sizes); n >= 3 && n%2 == 1 && n <= 2*maxCorners-3 {
			want = n
		}
	}
	if want == 0 || len(s.Sizes) != want || len(s.Angles) > maxCorners || len(s.Right) > maxCorners {
		return msg.New("area.sizes")
	}
	sides := (want + 3) / 2
	for i, d := range s.Sizes {
		if !d.IsPositive() || d.GreaterThan(longest) || d.Exponent() < -9 {
			return msg.New("area.size")
		}
		if tie := i - sides; s.Form == Polygon && tie >= 0 && tie < len(s.Angles) && s.Angles[tie] && d.GreaterThanOrEqual(around) {
			return msg.New("area.angle")
		}
	}
	return nil
}

// square is the shape's area in the unit of its sizes, squared.
func (s Shape) square() (decimal.Decimal, error) {
	if err := s.check(); err != nil {
		return decimal.Decimal{}, err
	}
	switch s.Form {
	case Rectangle:
		return s.Sizes[0].Mul(s.Sizes[1]), nil
	case Circle:
		return s.Sizes[0].Mul(s.Sizes[0]).Mul(pi).DivRound(decimal.NewFromInt(4), digits), nil
	}
	all, err := s.outlines()
	if err != nil {
		return decimal.Decimal{}, err
	}
	if i := slices.IndexFunc(all, Outline.Convex); s.Right == nil && i >= 0 {
		return all[i].Square, nil
	}
	// Several shapes may fit, and only one that was measured. What they have in common is known all the same.
	least, most := all[0].Square, all[0].Square
	for _, o := range all[1:] {
		least, most = decimal.Min(least, o.Square), decimal.Max(most, o.Square)
	}
	if most.Sub(least).GreaterThan(most.Shift(-6)) {
		return most, msg.New("area.unclear")
	}
	return most, nil
}

// Outlines gives the ways that the sizes of a polygon can lie, for somebody to say which it is. The error says what is wrong with them.
func (s Shape) Outlines() ([]Outline, error) {
	if err := s.check(); err != nil || s.Form != Polygon {
		return nil, err
	}
	s.Right = nil
	return s.outlines()
}
