package area_test

import (
	"math"
	"slices"
	"strings"
	"testing"

	"github.com/shopspring/decimal"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"iter.example/iter/core/area"
	"iter.example/iter/core/msg"
)

func sizes(s string) []decimal.Decimal {
	var out []decimal.Decimal
	for _, f := range strings.Fields(s) {
		out = append(out, decimal.RequireFromString(f))
	}
	return out
}

func TestSquare(t *testing.T) {
	for name, c := range map[string]struct {
		unit, want string
		shapes     []area.Shape
	}{
		"a floor": {"m", "12.6", []area.Shape{{Form: area.Rectangle, Sizes: sizes("4.2 3")}}},
		"less a pit": {"m", "11.6", []area.Shape{{Form: area.Rectangle, Sizes: sizes("4.2 3")},
			{Form: area.Rectangle, Sizes: sizes("2 0.5"), Cut: true}}},
		"a tank lid":               {"m", "0.7854", []area.Shape{{Form: area.Circle, Sizes: sizes("1")}}},
		"in centimetres":           {"cm", "1.2", []area.Shape{{Form: area.Rectangle, Sizes: sizes("120 100")}}},
		"in feet":                  {"ft", "9.2903", []area.Shape{{Form: area.Rectangle, Sizes: sizes("10 10")}}},
		"a triangle":               {"m", "6", []area.Shape{{Form: area.Polygon, Sizes: sizes("3 4 5")}}},
		"a square by its diagonal": {"m", "4", []area.Shape{{Form: area.Polygon, Sizes: sizes("2 2 2 2 2.828427125")}}},
		"nothing yet":              {"m", "0", nil},
		// 1 × 1 with a point of 1 high on top: corners (0,0) (1,0) (1,1) (0.5,2) (0,1).
		"a gable": {"m", "1.5", []area.Shape{{Form: area.Polygon,
			Sizes: sizes("1 1 1.118033989 1.118033989 1 1.414213562 2.061552813")}}},
		// (0,5) (0,0) (6,0) (6,2) (2,2) (2,5)
		"an L": {"m", "18", []area.Shape{{Form: area.Polygon, Sizes: sizes("5 6 2 4 3 2 7.810249676 6.708203932 3.605551275"),
			Right: []bool{false, false, true, false}}}},
		"an L by its angles": {"m", "18", []area.Shape{{Form: area.Polygon, Sizes: sizes("5 6 2 4 3 2 90 90 90"),
			Angles: []bool{true, true, true}}}},
		"a corner on a wall": {"m", "6", []area.Shape{{Form: area.Polygon, Sizes: sizes("1 2 4 5 3"), Angles: []bool{false}}}},
		"a kite":             {"m", "18", []area.Shape{{Form: area.Polygon, Sizes: sizes("3.605551275 3.605551275 5 5 6")}}},
		"an arrowhead of the same sizes": {"m", "6", []area.Shape{{Form: area.Polygon, Sizes: sizes("3.605551275 3.605551275 5 5 6"),
			Right: []bool{false, true}}}},
		// The L from its corner at (6,0): five shapes have these sizes, one of them without a corner that bends inwards.
		"an L, unsaid": {"m", "30", []area.Shape{{Form: area.Polygon, Sizes: sizes("2 4 3 2 5 6 4.472135955 6.403124237 7.810249676")}}},
		"sides that cross": {"m", "area.crossing", []area.Shape{{Form: area.Polygon, Sizes: sizes("2 2 2 2 90"), Angles: []bool{true},
			Right: []bool{false, true}}}},
		"no angle of a corner": {"m", "area.angle", []area.Shape{{Form: area.Polygon, Sizes: sizes("2 2 2 2 360"), Angles: []bool{true}}}},
		"a wire":               {"bar", "area.unit", nil},
		"sides too short":      {"m", "area.open", []area.Shape{{Form: area.Polygon, Sizes: sizes("1 1 3")}}},
		"a diagonal lacks":     {"m", "area.sizes", []area.Shape{{Form: area.Polygon, Sizes: sizes("1 1 1 1")}}},
		"no width":             {"m", "area.size", []area.Shape{{Form: area.Rectangle, Sizes: sizes("1 0")}}},
		"one size":             {"m", "area.sizes", []area.Shape{{Form: area.Rectangle, Sizes: sizes("1")}}},
		"an oval":              {"m", "area.sizes", []area.Shape{{Form: "oval", Sizes: sizes("1 2")}}},
		"more out than there":  {"m", "area.negative", []area.Shape{{Form: area.Circle, Sizes: sizes("1"), Cut: true}}},
	} {
		got, err := area.Area{Unit: c.unit, Shapes: c.shapes}.Square()
		if strings.HasPrefix(c.want, "area.") {
			require.Error(t, err, name)
			assert.Equal(t, c.want, msg.From(err).Code, name)
			continue
		}
		require.NoError(t, err, name)
		assert.Equal(t, c.want, got.String(), name)
	}
}

// corners makes the corners of some floor that does not cross itself, against the clock: a skyline, or a star about a point within.
func corners(t *rapid.T) [][2]float64 {
	if rapid.Bool().Draw(t, "skyline") {
		steps := rapid.IntRange(1, 3).Draw(t, "steps")
		out := [][2]float64{{0, 0}, {float64(2 * steps), 0}}
		last := 0
		for i := steps; i > 0; i-- {
			h := rapid.IntRange(1, 6).Filter(func(h int) bool { return h != last }).Draw(t, "height")
			last = h
			out = append(out, [2]float64{float64(2 * i), float64(h)}, [2]float64{float64(2*i - 2), float64(h)})
		}
		return out
	}
	n := rapid.IntRange(3, 7).Draw(t, "corners")
	var out [][2]float64
	for i := range n {
		r := rapid.Float64Range(1, 9).Draw(t, "radius")
		a := (float64(i) + rapid.Float64Range(0, 0.7).Draw(t, "turn")) * 2 * math.Pi / float64(n)
		out = append(out, [2]float64{r * math.Cos(a), r * math.Sin(a)})
	}
	return out
}

// Whatever floor it is, and whichever corner is the first: its area comes out when what the sizes leave open is said, by sides and
// distances and by sides and angles. When it is not said, it is asked for, or did not matter. The test computes with coordinates that
// the sizes do not tell.
func TestPolygonsThatBendInwards(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		at := corners(t)
		n := len(at)
		if n < 3 {
			t.Skip()
		}
		turn := rapid.IntRange(0, n-1).Draw(t, "first corner")
		at = append(append([][2]float64{}, at[turn:]...), at[:turn]...)
		cross := func(a, b, c [2]float64) float64 { return (b[0]-a[0])*(c[1]-a[1]) - (b[1]-a[1])*(c[0]-a[0]) }
		long := func(i, j int) decimal.Decimal {
			return decimal.NewFromFloat(math.Hypot(at[i%n][0]-at[j%n][0], at[i%n][1]-at[j%n][1])).Round(9)
		}
		want := 0.0
		for i := range n {
			want += (at[i][0]*at[(i+1)%n][1] - at[i][1]*at[(i+1)%n][0]) / 2
		}
		if want < 0.1 {
			t.Skip() // a star whose middle is outside
		}
		s := area.Shape{Form: area.Polygon}
		for i := range n {
			s.Sizes = append(s.Sizes, long(i, i+1))
		}
		byAngle := area.Shape{Form: area.Polygon, Sizes: append([]decimal.Decimal{}, s.Sizes...)}
		for i := 2; i < n-1; i++ {
			s.Sizes = append(s.Sizes, long(0, i))
			a, b, c := at[i-2], at[i-1], at[i]
			angle := 180 - math.Atan2((b[0]-a[0])*(c[1]-b[1])-(b[1]-a[1])*(c[0]-b[0]), (b[0]-a[0])*(c[0]-b[0])+(b[1]-a[1])*(c[1]-b[1]))*180/math.Pi
			byAngle.Sizes, byAngle.Angles = append(byAngle.Sizes, decimal.NewFromFloat(angle).Round(9)), append(byAngle.Angles, true)
		}
		first := cross(at[0], at[1], at[2])
		for i := 2; i < n; i++ {
			s.Right = append(s.Right, cross(at[0], at[i-1], at[i])*first < 0)
			byAngle.Right = append(byAngle.Right, cross(at[0], at[i-1], at[i]) < 0)
		}
		for _, x := range []area.Shape{s, byAngle} {
			said, err := area.Area{Unit: "m", Shapes: []area.Shape{x}}.Square()
			require.NoError(t, err, "%v %v", x, at)
			require.InDelta(t, want, said.InexactFloat64(), 0.001, "%v %v", x, at)
			all, err := x.Outlines()
			require.NoError(t, err)
			require.True(t, slices.ContainsFunc(all, func(o area.Outline) bool { return math.Abs(o.Square.InexactFloat64()-want) < 0.001 }))
			x.Right = nil
			unsaid, err := area.Area{Unit: "m", Shapes: []area.Shape{x}}.Square()
			if err != nil {
				require.Equal(t, "area.unclear", msg.From(err).Code)
				require.Greater(t, len(all), 1)
			} else {
				require.True(t, slices.ContainsFunc(all, func(o area.Outline) bool {
					return math.Abs(o.Square.InexactFloat64()-unsaid.InexactFloat64()) < 0.001
				}))
				if !slices.ContainsFunc(all, area.Outline.Convex) {
					require.InDelta(t, want, unsaid.InexactFloat64(), 0.001)
				}
			}
		}
	})
}

// What was measured is said, where the sizes leave it open, before it is kept.
func TestWhatSizesLeaveOpenIsAskedFor(t *testing.T) {
	l := area.Shape{Form: area.Polygon, Sizes: sizes("2 4 3 2 5 6 4.472135955 6.403124237 7.810249676")}
	floor := func(s area.Shape) area.Area {
		return area.Area{Unit: "m", Shapes: []area.Shape{{Form: area.Circle, Sizes: sizes("1")}, s}}
	}
	assert.Equal(t, msg.New("area.unclear", "shape", "2"), msg.From(floor(l).CheckNew()))
	l.Right = []bool{false, true, false, false}
	require.NoError(t, floor(l).CheckNew())
	require.NoError(t, floor(area.Shape{Form: area.Polygon, Sizes: sizes("3 4 5")}).CheckNew())
	assert.Equal(t, "area.open", msg.From(floor(area.Shape{Form: area.Polygon, Sizes: sizes("1 1 3")}).CheckNew()).Code)
}

// A rectangle measured as a polygon is the same area, in whatever unit.
func TestPolygonOfARectangle(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		// Sides of a Pythagorean triangle have a diagonal without an error of its own.
		k := decimal.NewFromInt(rapid.Int64Range(1, 500).Draw(t, "k"))
		w, h, d := k.Mul(decimal.NewFromInt(8)), k.Mul(decimal.NewFromInt(15)), k.Mul(decimal.NewFromInt(17))
		for _, u := range []string{"m", "cm", "in"} {
			plain, err := area.Area{Unit: u, Shapes: []area.Shape{{Form: area.Rectangle, Sizes: []decimal.Decimal{w, h}}}}.Square()
			require.NoError(t, err)
			walked, err := area.Area{Unit: u, Shapes: []area.Shape{{Form: area.Polygon, Sizes: []decimal.Decimal{w, h, w, h, d}}}}.Square()
			require.NoError(t, err)
			require.True(t, plain.Equal(walked), "%s, %s", plain, walked)
		}
	})
}
