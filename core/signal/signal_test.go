package signal_test

import (
	"fmt"
	"strings"
	"testing"
	"time"

	"github.com/shopspring/decimal"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"iter.example/iter/core/reading"
	"iter.example/iter/core/signal"
	"iter.example/iter/core/work"
)

func num(text string) *decimal.Decimal {
	d := decimal.RequireFromString(text)
	return &d
}

var start = time.Date(2026, 11, 30, 10, 0, 0, 0, time.UTC) // a Monday

// events runs values, a minute apart unless "~" skips one with a look only, and says at which minutes something is found.
func events(r signal.Rule, values string) string {
	w := &signal.Watch{Rule: r}
	var out []string
	for i, text := range strings.Fields(values) {
		at := start.Add(time.Duration(i) * time.Minute)
		e := signal.Nothing
		if text != "~" {
			e = w.Take(signal.Value{At: at, Value: *num(text)}, at)
		}
		if e == signal.Nothing {
			e = w.Tick(at, at)
		}
		if e != signal.Nothing {
			out = append(out, fmt.Sprint(map[signal.Event]string{signal.Wrong: "wrong", signal.Well: "well"}[e], " ", i))
		}
	}
	return strings.Join(out, ", ")
}

func TestWatch(t *testing.T) {
	above := signal.Rule{When: signal.Above, Limit: num("75")}
	with := func(change func(*signal.Rule)) signal.Rule {
		r := above
		change(&r)
		return r
	}
	for name, c := range map[string]struct {
		rule         signal.Rule
		values, want string
	}{
		"above":                         {above, "70 75 76 77 75 70", "wrong 2, well 4"},
		"above for a while":             {with(func(r *signal.Rule) { r.For = 2 }), "76 70 76 76 76 76 70", "wrong 4, well 6"},
		"above, and nothing said since": {with(func(r *signal.Rule) { r.For = 3 }), "76 ~ ~ ~ ~", "wrong 3"},
		"it sways about the limit": {with(func(r *signal.Rule) { r.Back = num("70") }), "76 74 76 74 76 71 70 76",
			"wrong 0, well 6, wrong 7"},
		"below": {signal.Rule{When: signal.Below, Limit: num("2"), Back: num("2.5")}, "3 1.9 2.2 2.4 2.5",
			"wrong 1, well 4"},
		"changed and back":   {signal.Rule{When: signal.Changed}, "1 1 2 3 1 1", "wrong 2, well 4"},
		"rises too fast":     {signal.Rule{When: signal.Rate, Limit: num("5"), Per: 2}, "10 12 14 16 22 22 22 22", "wrong 4, well 6"},
		"slowly":             {signal.Rule{When: signal.Rate, Limit: num("5"), Per: 2}, "10 12 14 16 18 20", ""},
		"falls too fast":     {signal.Rule{When: signal.Rate, Limit: num("5"), Per: 2}, "20 14", "wrong 1"},
		"silent":             {signal.Rule{When: signal.Silent, For: 3}, "1 ~ ~ ~ ~ 1 1", "wrong 3, well 5"},
		"said something":     {signal.Rule{When: signal.Silent, For: 3}, "1 ~ ~ 1 ~ ~ 1", ""},
		"not in these hours": {with(func(r *signal.Rule) { r.From, r.To = "12:00", "14:00" }), "76 76 76", ""},
		"begins to count":    {with(func(r *signal.Rule) { r.From, r.To = "10:02", "14:00" }), "76 76 76", "wrong 2"},
		"over midnight":      {with(func(r *signal.Rule) { r.From, r.To = "22:00", "10:01" }), "76 76", "wrong 0"},
		"not on this day":    {with(func(r *signal.Rule) { r.Days = "02" }), "76 76", ""},
	} {
		assert.Equal(t, c.want, events(c.rule, c.values), name)
	}
}

// What comes late, or twice, changes nothing, and goes on from where it was found before.
func TestWatchOrder(t *testing.T) {
	w := &signal.Watch{Rule: signal.Rule{When: signal.Above, Limit: num("75")}}
	take := func(minute int, v string) signal.Event {
		at := start.Add(time.Duration(minute) * time.Minute)
		return w.Take(signal.Value{At: at, Value: *num(v)}, at)
	}
	assert.Equal(t, signal.Nothing, take(5, "70"))
	assert.Equal(t, signal.Nothing, take(4, "80"), "late")
	assert.Equal(t, signal.Wrong, take(6, "80"))
	assert.Equal(t, signal.Nothing, take(6, "70"), "twice")
	again := &signal.Watch{Rule: w.Rule}
	again.Resume(w.Since, nil)
	assert.Equal(t, signal.Nothing, again.Take(signal.Value{At: start.Add(7 * time.Minute), Value: *num("80")}, start), "it is known")
	assert.Equal(t, signal.Well, again.Take(signal.Value{At: start.Add(8 * time.Minute), Value: *num("70")}, start))
}

// Whatever is reported, wrong and well take turns, and what is open at the end was not well yet.
func TestTurns(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		whens := []signal.When{signal.Above, signal.Below, signal.Changed, signal.Rate, signal.Silent}
		r := signal.Rule{When: rapid.SampledFrom(whens).Draw(t, "when"), Limit: num("5"), Per: 3, For: rapid.IntRange(0, 4).Draw(t, "for")}
		if rapid.Bool().Draw(t, "back") && r.When != signal.Below {
			r.Back = num("4")
		}
		w := &signal.Watch{Rule: r}
		open := false
		at := start
		for range rapid.IntRange(0, 60).Draw(t, "steps") {
			at = at.Add(time.Duration(rapid.IntRange(-1, 3).Draw(t, "minutes")) * time.Minute)
			var e signal.Event
			if rapid.Bool().Draw(t, "tick") {
				e = w.Tick(at, at)
			} else {
				e = w.Take(signal.Value{At: at, Value: decimal.NewFromInt(int64(rapid.IntRange(0, 10).Draw(t, "value")))}, at)
			}
			switch e {
			case signal.Wrong:
				require.False(t, open)
				open = true
			case signal.Well:
				require.True(t, open)
				open = false
			}
			require.Equal(t, open, w.Open)
		}
	})
}

// Rules that can't be meant are refused: those that would fire always or never among them.
func TestCheckRules(t *testing.T) {
	good := signal.Rule{ID: "hot", Point: "bearing", When: signal.Above, Limit: num("75"), Do: signal.Order, Text: "Bearing too hot",
		Priority: work.Soon, Minutes: 60}
	require.NoError(t, signal.Rules{Rules: []signal.Rule{good}}.Check())
	points := []reading.Point{{ID: "bearing", Least: num("-20"), Most: num("150")}}
	require.NoError(t, signal.Rules{Rules: []signal.Rule{good}}.CheckFor(points))
	for code, change := range map[string]func(*signal.Rule){
		"signal.limit":   func(r *signal.Rule) { r.Limit = nil },
		"signal.back":    func(r *signal.Rule) { r.Back = num("80") },
		"signal.always":  func(r *signal.Rule) { r.When, r.For = signal.Silent, 0 },
		"signal.minutes": func(r *signal.Rule) { r.For = -1 },
		"signal.hours":   func(r *signal.Rule) { r.From = "08:00" },
		"signal.order":   func(r *signal.Rule) { r.Minutes = 0 },
		"signal.rule":    func(r *signal.Rule) { r.When = "odd" },
		"text.missing":   func(r *signal.Rule) { r.Text = " " },
	} {
		r := good
		change(&r)
		assert.ErrorContains(t, signal.Rules{Rules: []signal.Rule{r}}.Check(), code)
	}
	assert.ErrorContains(t, signal.Rules{Rules: []signal.Rule{good, good}}.Check(), "signal.twice")
	for code, change := range map[string]func(*signal.Rule){
		"signal.point":  func(r *signal.Rule) { r.Point = "none" },
		"signal.never":  func(r *signal.Rule) { r.Limit = num("150") },
		"signal.always": func(r *signal.Rule) { r.Limit = num("-21") },
	} {
		r := good
		change(&r)
		assert.ErrorContains(t, signal.Rules{Rules: []signal.Rule{r}}.CheckFor(points), code)
	}
}

// A curve keeps the ends, the highest and the lowest.
func TestCurve(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		var list []signal.Value
		for i := range rapid.IntRange(0, 300).Draw(t, "values") {
			list = append(list, signal.Value{At: start.Add(time.Duration(i) * time.Second),
				Value: decimal.NewFromInt(int64(rapid.IntRange(0, 1000).Draw(t, "value")))})
		}
		out := signal.Curve(list, 40)
		require.LessOrEqual(t, len(out), max(40, 0))
		if len(list) == 0 {
			return
		}
		bounds := func(l []signal.Value) (low, high decimal.Decimal) {
			low, high = l[0].Value, l[0].Value
			for _, x := range l {
				low, high = decimal.Min(low, x.Value), decimal.Max(high, x.Value)
			}
			return low, high
		}
		low, high := bounds(list)
		gotLow, gotHigh := bounds(out)
		require.True(t, low.Equal(gotLow) && high.Equal(gotHigh))
		require.Equal(t, list[0], out[0])
		require.Equal(t, list[len(list)-1], out[len(out)-1])
		for i := 1; i < len(out); i++ {
			require.True(t, out[i].At.After(out[i-1].At))
		}
	})
}
