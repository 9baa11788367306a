package work_test

import (
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"pgregory.net/rapid"

	"iter.example/iter/core/work"
)

func TestNewsOf(t *testing.T) {
	morning := time.Date(2026, 3, 10, 0, 0, 0, 0, time.UTC)
	at := func(visit string, hour int) work.Known {
		return work.Known{Visit: visit, Start: morning.Add(time.Duration(hour) * time.Hour)}
	}
	for name, c := range map[string]struct {
		plan, known []work.Known
		want        work.News
	}{
		"nothing":        {},
		"as it is known": {plan: []work.Known{at("V1", 8)}, known: []work.Known{at("V1", 8)}},
		"one more":       {plan: []work.Known{at("V2", 9), at("V1", 8)}, want: work.News{New: []work.Known{at("V1", 8), at("V2", 9)}}},
		"moved": {plan: []work.Known{at("V1", 9)}, known: []work.Known{at("V1", 8)},
			want: work.News{Moved: []work.Known{at("V1", 9)}}},
		"taken away":               {known: []work.Known{at("V1", 8)}, want: work.News{Gone: []work.Known{at("V1", 8)}}},
		"taken away, of yesterday": {known: []work.Known{at("V1", -8)}},
		"yesterday's, told late":   {plan: []work.Known{at("V1", -8)}},
		"brought forward from then": {plan: []work.Known{at("V1", 8)}, known: []work.Known{at("V1", -8)},
			want: work.News{Moved: []work.Known{at("V1", 8)}}},
	} {
		t.Run(name, func(t *testing.T) { assert.Equal(t, c.want, work.NewsOf(c.plan, c.known, morning)) })
	}
}

// Whoever is told all news has none, whatever they knew: each change is told once.
func TestNewsAreToldOnce(t *testing.T) {
	morning := time.Date(2026, 3, 10, 0, 0, 0, 0, time.UTC)
	visits := rapid.Custom(func(t *rapid.T) work.Known {
		return work.Known{Visit: rapid.SampledFrom([]string{"V1", "V2", "V3", "V4"}).Draw(t, "visit"),
			Start: morning.Add(time.Duration(rapid.IntRange(-30, 30).Draw(t, "hour")) * time.Hour)}
	})
	byVisit := func(k work.Known) string { return k.Visit }
	rapid.Check(t, func(t *rapid.T) {
		plan := rapid.SliceOfDistinct(visits, byVisit).Draw(t, "plan")
		known := rapid.SliceOfDistinct(visits, byVisit).Draw(t, "known")
		n := work.NewsOf(plan, known, morning)
		assert.LessOrEqual(t, len(n.New)+len(n.Moved), len(plan))
		assert.True(t, work.NewsOf(plan, plan, morning).Empty())
	})
}
