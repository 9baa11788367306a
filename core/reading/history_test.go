package reading_test

import (
	"math/rand"
	"testing"
	"time"

	"github.com/shopspring/decimal"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"iter.example/iter/core/formula/parse"
	"iter.example/iter/core/reading"
)

var start = time.Date(2026, 3, 2, 9, 0, 0, 0, time.UTC)

func result(n int, value, unit string) reading.Result {
	return reading.Result{Entry: string(rune('a' + n)), At: start.AddDate(0, n, 0), Value: decimal.RequireFromString(value), Unit: unit}
}

func TestCounters(t *testing.T) {
	ring := reading.Point{ID: "h", Name: "Hours", Unit: "h", Counter: true, RollsAt: dec("100000")}
	plain := reading.Point{ID: "h", Name: "Hours", Unit: "h", Counter: true}
	new := result(1, "12", "h")
	new.Replaced = &reading.Replaced{Last: decimal.RequireFromString("8400"), Start: decimal.RequireFromString("2")}
	overZero := new
	overZero.Replaced = &reading.Replaced{Last: decimal.RequireFromString("5"), Start: decimal.Zero}
	for name, c := range map[string]struct {
		point     reading.Point
		last, now reading.Result
		want      string // "" when it can't be told
	}{
		"moved on":                   {plain, result(0, "8000", "h"), result(1, "8123.5", "h"), "123.5"},
		"stood still":                {plain, result(0, "8000", "h"), result(1, "8000", "h"), "0"},
		"in minutes":                 {plain, result(0, "8000", "h"), result(1, "480060", "min"), "1"},
		"passed zero":                {ring, result(0, "99990", "h"), result(1, "15", "h"), "25"},
		"fell":                       {plain, result(0, "8000", "h"), result(1, "7999", "h"), ""},
		"fell, and could not pass":   {ring, result(0, "40000", "h"), result(1, "15", "h"), ""},
		"replaced":                   {plain, result(0, "8000", "h"), new, "410"},
		"replaced after it passed 0": {ring, result(0, "99990", "h"), overZero, "27"},
		"replaced, but the old fell": {plain, result(0, "9000", "h"), new, ""},
	} {
		got := c.point.Weigh([]reading.Result{c.last}, c.now)
		if c.want == "" {
			assert.Nil(t, got.Change, name)
			assert.Equal(t, reading.Fell, got.Doubt, name)
			continue
		}
		require.NotNil(t, got.Change, name)
		assert.Equal(t, c.want, got.Change.String(), name)
		assert.Equal(t, reading.Sure, got.Doubt, name)
	}
}

func TestDoubts(t *testing.T) {
	p := reading.Point{ID: "p", Name: "Pressure", Unit: "bar", Limits: reading.Limits{WarnLow: dec("3"), AlarmLow: dec("2"),
		AlarmHigh: dec("8")}, Least: dec("-1"), Most: dec("100")}
	before := []reading.Result{result(0, "4.1", "bar"), result(1, "420", "kPa"), result(2, "3.9", "bar")}
	for _, c := range []struct {
		value, unit string
		level       reading.Level
		doubt       reading.Doubt
		change      string
	}{
		{"4.2", "bar", reading.OK, reading.Sure, "0.3"},
		{"42", "bar", reading.AlarmHigh, reading.Jump, "38.1"},
		{"0.4", "bar", reading.AlarmLow, reading.Jump, "-3.5"},
		{"290", "kPa", reading.Low, reading.Sure, "-1"},
		{"0", "bar", reading.AlarmLow, reading.Sure, "-3.9"}, // a pump that stands shows nothing
		{"420", "bar", reading.AlarmHigh, reading.Outside, "416.1"},
		{"20", "°C", reading.OK, reading.Unlike, ""},
	} {
		got := p.Weigh(before, result(3, c.value, c.unit))
		assert.Equal(t, c.level, got.Level, c.value)
		assert.Equal(t, c.doubt, got.Doubt, c.value)
		if c.change != "" {
			assert.Equal(t, c.change, got.Change.String(), c.value)
		}
	}
	assert.Equal(t, reading.Sure, p.Weigh(before[:2], result(3, "42", "bar")).Doubt, "two results are no habit")
}

func TestPointCheck(t *testing.T) {
	for name, c := range map[string]struct {
		point reading.Point
		ok    bool
	}{
		"plain":       {reading.Point{ID: "p", Name: "P", Unit: "bar"}, true},
		"no name":     {reading.Point{ID: "p"}, false},
		"no unit":     {reading.Point{ID: "p", Name: "P"}, true},
		"an odd unit": {reading.Point{ID: "p", Name: "P", Unit: "m//s"}, false},
		"limits crossed": {reading.Point{ID: "p", Name: "P", Unit: "bar",
			Limits: reading.Limits{WarnLow: dec("3"), AlarmHigh: dec("2")}}, false},
		"rolls, no counter": {reading.Point{ID: "p", Name: "P", Unit: "h", RollsAt: dec("100")}, false},
	} {
		assert.Equal(t, c.ok, c.point.Check() == nil, name)
	}
}

func derived(t require.TestingT, id, unit, text string, places int) reading.Derived {
	n, err := parse.Text(text)
	require.NoError(t, err)
	return reading.Derived{ID: id, Name: id, Unit: unit, Places: places, Formula: text, Program: &n}
}

func TestDerive(t *testing.T) {
	points := []reading.Point{{ID: "suction", Name: "S", Unit: "bar"}, {ID: "discharge", Name: "D", Unit: "bar"},
		{ID: "energy", Name: "E", Unit: "kWh", Counter: true}, {ID: "volume", Name: "V", Unit: "m3", Counter: true}}
	head := derived(t, "head", "m", `(discharge - suction) / (unit(998, "kg/m3") * unit(9.80665, "m/s2"))`, 1)
	head.WarnLow = dec("40")
	use := derived(t, "use", "kWh/m3", `change(energy) / change(volume)`, 3)
	wrong := derived(t, "wrong", "bar", `discharge - energy`, 0)
	assert.Nil(t, head.Check(points))
	assert.Equal(t, "formula.units", wrong.Check(points).Code.Code)
	assert.Equal(t, "formula.result", derived(t, "x", "m", "discharge", 0).Check(points).Code.Code)
	assert.Equal(t, "formula.name", derived(t, "x", "bar", "change(discharge)", 0).Check(points).Code.Code, "only counters move on")
	now := map[string]reading.Result{"suction": result(1, "40", "kPa"), "discharge": result(1, "4.3", "bar"),
		"energy": result(1, "1250", "kWh"), "volume": result(1, "700", "m3")}
	before := map[string]reading.Result{"energy": result(0, "1.05", "MWh"), "volume": result(0, "200", "m3")}
	got := reading.Derive([]reading.Derived{head, use, wrong}, points, now, before)
	require.Len(t, got, 2, "what does not fit its points is left out")
	assert.Equal(t, "39.8", got[0].Value.String())
	assert.Equal(t, reading.Low, got[0].Level)
	assert.Equal(t, "0.4", got[1].Value.String())
	// What is shown is judged, of what was read in a unit that does not go into the point's too.
	two := derived(t, "two", "psi", `discharge + discharge`, 2)
	two.AlarmHigh = dec("60")
	now["discharge"] = result(1, "30", "psi")
	psi := reading.Derive([]reading.Derived{two}, points, now, before)[0]
	assert.Equal(t, []string{"60", "alarm_high"}, []string{psi.Value.String(), string(psi.Level)})
	high := points[1]
	high.AlarmHigh = dec("2.0684")
	assert.Equal(t, reading.AlarmHigh, high.Weigh(nil, now["discharge"]).Level, "30 psi shows as 2.0684 bar")
	before["volume"] = result(0, "700", "m3")
	assert.Equal(t, "formula.zero", reading.Derive([]reading.Derived{use}, points, now, before)[0].Problem.Code)
	delete(now, "volume")
	assert.Nil(t, reading.Derive([]reading.Derived{use}, points, now, before)[0].Value)
}

// The history is the same in whatever order results arrive, and a counter's steps add up to what lies between its ends.
func TestHistoryInAnyOrder(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		n := rapid.IntRange(2, 40).Draw(t, "results")
		p := reading.Point{ID: "h", Name: "Hours", Unit: "h", Counter: true, RollsAt: dec("1000")}
		total, list := decimal.Zero, []reading.Result{}
		for i := range n {
			if i > 0 {
				total = total.Add(decimal.New(rapid.Int64Range(0, 4999).Draw(t, "step"), -1))
			}
			list = append(list, reading.Result{Entry: string(rune('A' + i)), At: start.Add(time.Duration(i) * time.Hour),
				Value: total.Mod(*p.RollsAt), Unit: "h"})
		}
		var there, here reading.History
		for _, r := range list {
			there.Add("h", r)
		}
		mixed := append([]reading.Result{}, list...)
		rand.New(rand.NewSource(int64(n))).Shuffle(n, func(i, j int) { mixed[i], mixed[j] = mixed[j], mixed[i] })
		for _, r := range mixed {
			here.Add("h", r)
		}
		require.Equal(t, there, here)
		sum := decimal.Zero
		for i := 1; i < n; i++ {
			d, ok := p.Moved(list[i-1], list[i])
			require.True(t, ok)
			sum = sum.Add(d)
		}
		require.True(t, sum.Equal(total), "%s, %s", sum, total)
	})
}
