package area

import (
	"slices"

	"github.com/shopspring/decimal"

	"iter.example/iter/core/exact"
	"iter.example/iter/core/msg"
)

// Outline is a way that the sizes of a polygon can lie.
type Outline struct {
	Right  []bool          `json:"right"`  // see Shape
	Points []Point         `json:"points"` // the corners, the first at 0, 0 and the second to the right of it
	Square decimal.Decimal `json:"square"` // in the unit of the sizes, squared
}

// Point is a corner, in the unit of the sizes.
type Point struct {
	X decimal.Decimal `json:"x"`
	Y decimal.Decimal `json:"y"`
}

// digits are the decimal places that corners are computed with, and tried the most corners that are tried to be placed: a shape of which
// more is unknown is to be measured by its angles.
const (
	digits = 20
	tried  = 5000
)

func (p Point) sub(q Point) Point { return Point{p.X.Sub(q.X), p.Y.Sub(q.Y)} }
func (p Point) add(q Point) Point { return Point{p.X.Add(q.X), p.Y.Add(q.Y)} }
func (p Point) times(f decimal.Decimal) Point {
	return Point{p.X.Mul(f).Round(digits), p.Y.Mul(f).Round(digits)}
}
func (p Point) cross(q Point) decimal.Decimal { return p.X.Mul(q.Y).Sub(p.Y.Mul(q.X)) }
func (p Point) dot(q Point) decimal.Decimal   { return p.X.Mul(q.X).Add(p.Y.Mul(q.Y)) }

// polygon is one that is being put together, corner by corner.
type polygon struct {
	sides []decimal.Decimal
	ties  []decimal.Decimal
	angle []bool // of ties
	right []bool // as it was said; nil: it was not
	any   bool   // an angle is among the ties: the inside is to the left, and not only by agreement
	tries int
	found []Outline
	met   bool // all sides met at least once
}

// outlines finds all ways that the sizes can lie without crossing themselves. A shape and its mirror image are one.
func (s Shape) outlines() ([]Outline, error) {
	n := (len(s.Sizes) + 3) / 2
	p := polygon{sides: s.Sizes[:n], ties: s.Sizes[n:], angle: slices.Clone(s.Angles), right: s.Right}
	for len(p.angle) < n-3 {
		p.angle = append(p.angle, false)
	}
	p.any = slices.Contains(p.angle, true)
	p.place([]Point{{}, {X: p.sides[0]}}, nil)
	switch {
	case p.tries > tried:
		return nil, msg.New("area.unclear")
	case len(p.found) == 0 && p.met:
		return nil, msg.New("area.crossing")
	case len(p.found) == 0:
		return nil, msg.New("area.open")
	}
	return p.found, nil
}

// Convex tells whether no corner bends inwards.
func (o Outline) Convex() bool {
	n := len(o.Points)
	for i, c := range o.Points {
		if c.sub(o.Points[(i+n-1)%n]).cross(o.Points[(i+1)%n].sub(c)).IsNegative() {
			return false
		}
	}
	return true
}

// place puts the next corner wherever it can be.
func (p *polygon) place(at []Point, right []bool) {
	if p.tries++; p.tries > tried {
		return
	}
	k, n := len(at), len(p.sides) // corner k+1 of n is to be placed
	if k == n {
		p.met = true
		p.close(at, right)
		return
	}
	last := at[k-1]
	if k < n-1 && p.angle[k-2] {
		way := last.sub(at[k-2])
		next := last.add(turned(way, decimal.NewFromInt(180).Sub(p.ties[k-2])).times(p.sides[k-1].DivRound(p.sides[k-2], digits)))
		p.try(at, right, next, false)
		return
	}
	away := p.sides[n-1]
	if k < n-1 {
		away = p.ties[k-2]
	}
	// The corner is so far from the first one, and a side from the last: on either side of the line between these.
	two := decimal.NewFromInt(2)
	far := exact.Of(last.dot(last)).Sqrt().Round(digits)
	if far.IsZero() {
		return
	}
	along := away.Mul(away).Add(last.dot(last)).Sub(p.sides[k-1].Mul(p.sides[k-1])).DivRound(two.Mul(far), digits)
	square := away.Mul(away).Sub(along.Mul(along))
	if square.IsNegative() {
		if square.Abs().GreaterThan(away.Mul(away).Shift(-9)) { // more than rounding explains
			return
		}
		square = decimal.Decimal{}
	}
	up := exact.Of(square).Sqrt().Round(digits)
	unit := Point{last.X.DivRound(far, digits), last.Y.DivRound(far, digits)}
	base, off := unit.times(along), Point{unit.Y.Neg(), unit.X}.times(up)
	p.try(at, right, base.add(off), false)
	mirrored := k == 2 && !p.any // the other side is the mirror image
	if !up.IsZero() && !mirrored {
		p.try(at, right, base.sub(off), true)
	}
}

// try goes on with a corner, unless it was said to lie on the other side or a side crosses one before.
func (p *polygon) try(at []Point, right []bool, next Point, isRight bool) {
	k := len(at)
	if i := k - 2; p.right != nil && i < len(p.right) && p.right[i] != isRight && !(k < len(p.sides)-1 && p.angle[i]) {
		return
	}
	for i := 0; i < k-2; i++ {
		if meet(at[i], at[i+1], at[k-1], next) {
			p.met = true
			return
		}
	}
	if back(at[k-2], at[k-1], next) {
		p.met = true
		return
	}
	p.place(append(slices.Clone(at), next), append(slices.Clone(right), isRight))
}

// close keeps the polygon if its last side meets no other.
func (p *polygon) close(at []Point, right []bool) {
	n := len(at)
	for i := 1; i < n-2; i++ {
		if meet(at[i], at[i+1], at[n-1], at[0]) {
			return
		}
	}
	if back(at[n-2], at[n-1], at[0]) || back(at[n-1], at[0], at[1]) {
		return
	}
	double := decimal.Decimal{}
	for i := range at {
		double = double.Add(at[i].cross(at[(i+1)%n]))
	}
	if p.any && double.IsNegative() {
		return // the angles were those outside
	}
	points := make([]Point, n)
	for i, c := range at {
		points[i] = Point{c.X.Round(6), c.Y.Round(6)}
	}
	p.found = append(p.found, Outline{Right: right, Points: points, Square: double.Abs().DivRound(decimal.NewFromInt(2), digits)})
}

// meet tells whether two stretches have a point in common.
func meet(a, b, c, d Point) bool {
	side := func(p, q, r Point) int { return q.sub(p).cross(r.sub(p)).Round(12).Sign() }
	within := func(p, q, r Point) bool { // r, which is in line with p and q, is between them
		return r.sub(p).dot(r.sub(q)).Sign() <= 0
	}
	s1, s2, s3, s4 := side(a, b, c), side(a, b, d), side(c, d, a), side(c, d, b)
	return s1*s2 < 0 && s3*s4 < 0 || s1 == 0 && within(a, b, c) || s2 == 0 && within(a, b, d) || s3 == 0 && within(c, d, a) ||
		s4 == 0 && within(c, d, b)
}

// back tells whether a side goes back over the one before.
func back(a, b, c Point) bool {
	return b.sub(a).cross(c.sub(b)).Round(12).IsZero() && b.sub(a).dot(c.sub(b)).IsNegative()
}

// turned is a way turned to the left by degrees.
func turned(p Point, degrees decimal.Decimal) Point {
	right := decimal.NewFromInt(90)
	for range 4 { // right angles, which most are, exactly
		if degrees.Abs().LessThan(right) {
			break
		}
		if degrees.IsPositive() {
			p, degrees = Point{p.Y.Neg(), p.X}, degrees.Sub(right)
		} else {
			p, degrees = Point{p.Y, p.X.Neg()}, degrees.Add(right)
		}
	}
	if degrees.IsZero() {
		return p
	}
	r := degrees.Mul(pi).DivRound(decimal.NewFromInt(180), 30)
	sin, cos := r.Sin().Round(digits), r.Cos().Round(digits)
	return Point{p.X.Mul(cos).Sub(p.Y.Mul(sin)).Round(digits), p.X.Mul(sin).Add(p.Y.Mul(cos)).Round(digits)}
}
