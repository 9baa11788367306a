package plan_test

import (
	"testing"

	"github.com/stretchr/testify/assert"

	"iter.example/iter/core/calendar"
	"iter.example/iter/core/plan"
	"iter.example/iter/core/records"
)

// An area that bends inwards contains what is within its line.
func TestAreas(t *testing.T) {
	bay := plan.Area{ID: "bay", Name: "The bay", Line: []records.Point{{Lat: 54, Lon: -9}, {Lat: 54, Lon: -8}, {Lat: 55, Lon: -8},
		{Lat: 54.2, Lon: -8.5}, {Lat: 55, Lon: -9}}}
	for p, want := range map[records.Point]bool{{Lat: 54.1, Lon: -8.5}: true, {Lat: 54.8, Lon: -8.5}: false, {Lat: 54.8, Lon: -8.05}: true,
		{Lat: 54.8, Lon: -8.95}: true, {Lat: 53.9, Lon: -8.5}: false, {Lat: 54.5, Lon: -7}: false} {
		assert.Equal(t, want, bay.Contains(p), p)
	}
	assert.NoError(t, plan.Settings{Areas: []plan.Area{bay}}.CheckRules())
	for name, s := range map[string]plan.Settings{
		"two corners":      {Areas: []plan.Area{{ID: "x", Name: "X", Line: bay.Line[:2]}}},
		"no name":          {Areas: []plan.Area{{ID: "x", Line: bay.Line}}},
		"off the earth":    {Areas: []plan.Area{{ID: "x", Name: "X", Line: append(bay.Line[:2:2], records.Point{Lat: 95})}}},
		"many":             {Areas: make([]plan.Area, 201)},
		"hours of no time": {Hours: []calendar.Week{{Days: [7][]calendar.Stretch{{{From: "x", To: "y"}}}}}},
		"a weight below 0": {Weights: &plan.Weights{Late: -1}},
		"a day's worth":    {Weights: &plan.Weights{Hour: 24*60 + 1}},
		"a team twice":     {Teams: []records.Choice{{ID: "a", Text: "A"}, {ID: "a", Text: "B"}}},
	} {
		assert.Error(t, s.CheckRules(), name)
	}
}
