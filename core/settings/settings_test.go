package settings_test

import (
	"encoding/json"
	"math/rand"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"iter.example/iter/core/settings"
)

func fields(t *testing.T, text string) settings.Fields {
	t.Helper()
	var out settings.Fields
	require.NoError(t, json.Unmarshal([]byte(text), &out))
	return out
}

func TestRulesByDay(t *testing.T) {
	d := settings.Dated{}.
		Change("2026-01-01", fields(t, `{"rate":68,"round":{"minutes":15,"way":"up"},"travel":true}`)).
		Change("2027-01-01", fields(t, `{"rate":75}`)).
		Change("2026-11-29", fields(t, `{"rate":70,"round":{"minutes":5},"travel":null}`))
	type rules struct {
		Rate  int
		Round struct {
			Minutes int
			Way     string
		}
		Travel bool
	}
	on := func(d settings.Dated, day string) (r rules) {
		require.NoError(t, d.Read(day, &r))
		return r
	}
	is := func(rate, minutes int, way string, travel bool) (r rules) {
		r.Rate, r.Round.Minutes, r.Round.Way, r.Travel = rate, minutes, way, travel
		return r
	}
	for day, want := range map[string]rules{
		"2025-06-01": is(68, 15, "up", true), // what the first day says has always held
		"2026-01-01": is(68, 15, "up", true),
		"2026-11-28": is(68, 15, "up", true),
		"2026-11-29": is(70, 5, "", false), // a value takes the place of all of the one before
		"2027-01-01": is(75, 5, "", false), // and holds until a later day has another
	} {
		assert.Equal(t, want, on(d, day), day)
	}
	assert.Equal(t, is(70, 0, "", true), on(d.Change("2026-11-29", fields(t, `{"travel":true,"round":null}`)), "2026-12-01"))
	assert.Equal(t, is(70, 5, "", false), on(d, "2026-12-01"), "a change leaves what there was")

	earlier := d.Change("2025-01-01", fields(t, `{"rate":60}`))
	assert.Equal(t, is(60, 15, "up", true), on(earlier, "2025-06-01"), "a day before all others begins with what held")
	assert.Equal(t, is(68, 15, "up", true), on(earlier, "2026-01-01"))

	var r rules
	assert.NoError(t, settings.Dated(nil).Read("2026-11-29", &r))
	assert.Error(t, settings.Dated{"2026-01-01": fields(t, `{"rate":"much"}`)}.Read("2026-01-01", &r))
	for _, day := range []string{"", "29/11/2026", "2026-02-30"} {
		assert.Error(t, settings.CheckDay(day), day)
	}
}

// Whatever was changed before and after it, a change holds on its own day, and the days before it are as they were.
func TestAChangeMovesNoDayBefore(t *testing.T) {
	r := rand.New(rand.NewSource(1))
	first := time.Date(2026, 1, 1, 0, 0, 0, 0, time.UTC)
	dayOf := func(n int) string { return first.AddDate(0, 0, n).Format(time.DateOnly) }
	names := []string{"a", "b", "c"}
	d := settings.Dated{}.Change(dayOf(0), fields(t, `{"a":0,"b":0,"c":0}`))
	for range 300 {
		n := 1 + r.Intn(40)
		to := settings.Fields{}
		for _, f := range names {
			if r.Intn(2) == 0 {
				to[f] = json.RawMessage([]string{"null", "1", "2", "3"}[r.Intn(4)])
			}
		}
		next := d.Change(dayOf(n), to)
		for m := range n {
			require.Equal(t, d.On(dayOf(m)), next.On(dayOf(m)))
		}
		was, is := d.On(dayOf(n)), next.On(dayOf(n))
		for _, f := range names {
			want := was[f]
			if v, said := to[f]; said {
				want = v
			}
			require.Equal(t, want, is[f])
		}
		d = next
	}
}
