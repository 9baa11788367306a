package work_test

import (
	"fmt"
	"slices"
	"testing"

	"github.com/stretchr/testify/assert"
	"pgregory.net/rapid"

	"iter.example/iter/core/audit"
	"iter.example/iter/core/work"
)

func act(at int, what work.OrderAct) work.OrderStep {
	return work.OrderStep{Line: audit.Line{Entry: fmt.Sprint(at), At: minute(at), Person: "office"}, Act: what, Until: "2026-04-01"}
}

func TestWhatTheOfficeDoesToAnOrder(t *testing.T) {
	begun := trip(60, 1, 0, "")
	begun.Steps = []work.Step{{Line: audit.Line{Entry: "b", At: minute(70), Person: "anna"}, Action: work.SetOff}}
	begun.Settle()
	struck := act(100, work.Cancel)
	struck.Struck = true
	visits := func(all ...work.Visit) []work.Visit { return all }
	for name, c := range map[string]struct {
		want   work.State
		visits []work.Visit
		acts   []work.OrderStep
	}{
		"nothing":                            {work.Open, nil, nil},
		"on hold":                            {work.OnHold, nil, acts(act(10, work.Hold))},
		"on hold, back for planning":         {work.OnHold, visits(trip(60, 1, 90, work.NoAccess)), acts(act(100, work.Hold))},
		"on hold while one is to come":       {work.Underway, visits(trip(60, 1, 0, "")), acts(act(10, work.Hold))},
		"released":                           {work.Open, nil, acts(act(10, work.Hold), act(20, work.Release))},
		"put on hold again":                  {work.OnHold, nil, acts(act(10, work.Hold), act(20, work.Release), act(30, work.Hold))},
		"cancelled":                          {work.Cancelled, nil, acts(act(10, work.Cancel))},
		"cancelled with a planned visit":     {work.Cancelled, visits(trip(60, 1, 0, "")), acts(act(10, work.Cancel))},
		"cancelled while one is at it":       {work.Underway, visits(begun), acts(act(100, work.Cancel))},
		"cancelled, struck out":              {work.Open, nil, acts(struck)},
		"cancelled and reopened":             {work.Open, nil, acts(act(10, work.Cancel), act(20, work.Reopen))},
		"closed by the office":               {work.Closed, visits(trip(60, 1, 90, work.NoAccess)), acts(act(100, work.Close))},
		"closed before one came back":        {work.Back, visits(trip(60, 1, 200, work.NoAccess)), acts(act(100, work.Close))},
		"closed while one is to come":        {work.Underway, visits(trip(60, 1, 0, "")), acts(act(100, work.Close))},
		"reopened after its visit closed it": {work.Back, visits(trip(60, 1, 90, work.Complete)), acts(act(100, work.Reopen))},
		"reopened, and done since": {work.Closed, visits(trip(60, 1, 90, work.Complete), trip(300, 120, 330, work.Complete)),
			acts(act(100, work.Reopen))},
	} {
		o := work.Order{Acts: c.acts}
		var trips []work.Trip
		for _, v := range c.visits {
			trips = append(trips, v.Trip())
		}
		assert.Equal(t, c.want, o.State(trips...), name)
	}
	assert.Equal(t, "2026-04-01", work.Order{Acts: acts(act(1, work.Hold))}.HeldUntil())
	assert.Empty(t, work.Order{Acts: acts(act(1, work.Hold), act(2, work.Release))}.HeldUntil())
}

func acts(all ...work.OrderStep) []work.OrderStep { return all }

// In whatever order acts are heard of, the last by its time holds.
func TestTheLastActHolds(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		n := rapid.IntRange(1, 6).Draw(t, "acts")
		var all []work.OrderStep
		for i := range n {
			all = append(all, act(i+1, work.OrderAct(rapid.SampledFrom(work.OrderAct("").Values()).Draw(t, "act"))))
		}
		var o work.Order
		for _, i := range rapid.Permutation(slices.Collect(func(yield func(int) bool) {
			for i := range n {
				if !yield(i) {
					return
				}
			}
		})).Draw(t, "heard") {
			o.Acts = audit.Add(o.Acts, all[i])
		}
		assert.Equal(t, all[n-1].Act, o.Act().Act)
	})
}
