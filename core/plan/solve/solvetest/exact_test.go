package solvetest_test

import (
	"testing"

	"github.com/stretchr/testify/assert"

	"iter.example/iter/core/plan/solve"
	"iter.example/iter/core/plan/solve/solvetest"
)

// The kept costs are the best there are, found another way. Solving comes to most of them, to none below, and to none by far.
func TestSolvingComesToTheBest(t *testing.T) {
	all, best := solvetest.Exacts(), 0
	for _, e := range all {
		p := e.Problem()
		assert.Equal(t, solvetest.Best(p), e.Cost, e)
		p.Rounds = 2000
		found := solve.Solve(t.Context(), p, nil).Cost
		p.Rounds = 0
		first := solve.Solve(t.Context(), p, nil).Cost
		assert.GreaterOrEqual(t, first, found, "no worse than putting one after another where it costs least")
		assert.GreaterOrEqual(t, found, e.Cost, e)
		assert.LessOrEqual(t, float64(found), 1.06*float64(e.Cost), e)
		if found == e.Cost {
			best++
		}
	}
	assert.Greater(t, best, len(all)*9/10)
}
