package area_test

import (
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
		"a wire":              {"bar", "area.unit", nil},
		"sides too short":     {"m", "area.open", []area.Shape{{Form: area.Polygon, Sizes: sizes("1 1 3")}}},
		"a diagonal lacks":    {"m", "area.sizes", []area.Shape{{Form: area.Polygon, Sizes: sizes("1 1 1 1")}}},
		"no width":            {"m", "area.size", []area.Shape{{Form: area.Rectangle, Sizes: sizes("1 0")}}},
		"one size":            {"m", "area.sizes", []area.Shape{{Form: area.Rectangle, Sizes: sizes("1")}}},
		"an oval":             {"m", "area.sizes", []area.Shape{{Form: "oval", Sizes: sizes("1 2")}}},
		"more out than there": {"m", "area.negative", []area.Shape{{Form: area.Circle, Sizes: sizes("1"), Cut: true}}},
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
