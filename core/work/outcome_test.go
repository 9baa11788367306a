package work_test

import (
	"fmt"
	"slices"
	"testing"
	"time"

	"github.com/shopspring/decimal"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"iter.example/iter/core/audit"
	"iter.example/iter/core/work"
)

// trip is a visit that was planned for one minute, at another, and ended at a third; 0 is not yet.
func trip(start, plannedAt, ended int, outcome work.Outcome) work.Visit {
	v := work.Visit{Technician: "anna", Start: minute(start), PlannedAt: minute(plannedAt), SentAt: minute(plannedAt)}
	if ended > 0 {
		v.Steps = []work.Step{{Line: audit.Line{Entry: "1", At: minute(ended), Person: "anna"}, Action: work.Finish, Outcome: outcome,
			Closes: outcome == work.Complete || outcome == work.NotNeeded, Signature: outcome == work.Complete}}
	}
	v.Settle()
	return v
}

func stateOf(visits ...work.Visit) work.State {
	trips := make([]work.Trip, len(visits))
	for i, v := range visits {
		trips[i] = v.Trip()
	}
	return work.StateOf(trips...)
}

func TestStateOfAWorkOrder(t *testing.T) {
	gone := trip(60, 1, 0, "")
	gone.WithdrawnAt = minute(5)
	gone.Settle()
	spare := trip(60, 1, 0, "")
	spare.Spare = true
	for name, c := range map[string]struct {
		want   work.State
		visits []work.Visit
	}{
		"nobody is to come":              {work.Open, nil},
		"one is to come":                 {work.Underway, []work.Visit{trip(60, 1, 0, "")}},
		"one ended well":                 {work.Closed, []work.Visit{trip(60, 1, 90, work.Complete)}},
		"not needed closes too":          {work.Closed, []work.Visit{trip(60, 1, 90, work.NotNeeded)}},
		"one must come back":             {work.Back, []work.Visit{trip(60, 1, 90, work.ReturnNeeded)}},
		"nobody was there":               {work.Back, []work.Visit{trip(60, 1, 90, work.NoAccess)}},
		"a second is still to come":      {work.Underway, []work.Visit{trip(60, 1, 90, work.Complete), trip(300, 1, 0, "")}},
		"a spare one need not come":      {work.Closed, []work.Visit{trip(60, 1, 90, work.Complete), spare}},
		"a withdrawn one does not count": {work.Closed, []work.Visit{trip(60, 1, 90, work.Complete), gone}},
		"only a withdrawn one":           {work.Open, []work.Visit{gone}},
		"who came back finished it": {work.Closed, []work.Visit{trip(60, 1, 90, work.ReturnNeeded),
			trip(300, 120, 330, work.Complete)}},
		"planned before, for later, takes over": {work.Closed, []work.Visit{trip(60, 1, 90, work.ReturnNeeded),
			trip(300, 1, 330, work.Complete)}},
		"beside it is not after it": {work.Back, []work.Visit{trip(60, 1, 90, work.ReturnNeeded),
			trip(60, 1, 120, work.Complete)}},
		"and must come back again": {work.Back, []work.Visit{trip(60, 1, 90, work.Complete),
			trip(300, 120, 330, work.ReturnNeeded)}},
		"planned for later, ended before the other": {work.Back, []work.Visit{trip(60, 1, 90, work.ReturnNeeded),
			trip(300, 1, 80, work.Complete)}},
	} {
		assert.Equal(t, c.want, stateOf(c.visits...), name)
		slices.Reverse(c.visits)
		assert.Equal(t, c.want, stateOf(c.visits...), name+", the other way round")
	}
}

// No sequence of ends makes a work order closed while a required visit isn't over, or while one that did not close it was followed by none.
func TestAnOrderIsClosedOnlyWhenItsVisitsAre(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		var visits []work.Visit
		for range rapid.IntRange(0, 5).Draw(t, "visits") {
			v := trip(rapid.IntRange(1, 40).Draw(t, "start"), rapid.IntRange(1, 40).Draw(t, "planned"),
				rapid.IntRange(0, 40).Draw(t, "ended"), work.Outcome(rapid.SampledFrom(work.Outcome("").Values()).Draw(t, "outcome")))
			v.Spare = rapid.IntRange(0, 4).Draw(t, "spare") == 0
			if rapid.IntRange(0, 5).Draw(t, "withdrawn") == 0 {
				v.WithdrawnAt = minute(1)
				v.Settle()
			}
			visits = append(visits, v)
		}
		state := stateOf(visits...)
		var last work.Visit
		for _, v := range visits {
			if v.Stage == work.Finished && (last.Ended().IsZero() || v.Ended().After(last.Ended())) {
				last = v
			}
			if state == work.Closed && v.Stage != work.Finished {
				require.True(t, v.Spare || v.Stage == work.Withdrawn, "closed while %s at %s", v.Stage, v.Start)
			}
		}
		if state == work.Closed {
			ends := 0
			for _, v := range visits {
				if v.Stage == work.Finished && v.Ended().Equal(last.Ended()) && v.Closes() {
					ends++
				}
			}
			require.Positive(t, ends, "the last to end closes it")
		}
	})
}

func TestWhatTheNextVisitNeeds(t *testing.T) {
	need := func(part string, n int64) work.Need { return work.Need{Part: part, Quantity: decimal.NewFromInt(n)} }
	o := work.Order{Needs: []work.Need{need("P1", 1)}, Returns: []work.Return{
		{Entry: "b", At: minute(9), Needed: work.Needed{Minutes: 45, Needs: []work.Need{need("P2", 2)}}},
		{Entry: "a", At: minute(5), Needed: work.Needed{Minutes: 30, Needs: []work.Need{need("P1", 1)}}},
	}}
	say := func() string {
		out := ""
		for _, n := range o.Outstanding() {
			out += fmt.Sprint(n.Quantity, n.Part, " ")
		}
		return out
	}
	assert.Equal(t, "2P1 2P2 ", say())
	assert.Equal(t, 45, o.Standing().Minutes)
	assert.True(t, o.StrikeReturn("b", true))
	assert.Equal(t, "2P1 ", say())
	assert.Equal(t, 30, o.Standing().Minutes, "what was struck out asks for nothing")
	assert.False(t, o.StrikeReturn("z", true))
	assert.Nil(t, work.Order{}.Standing())
}

func TestNeedsSignature(t *testing.T) {
	v := trip(60, 1, 90, work.Complete)
	assert.True(t, v.NeedsSignature())
	v.Absences = []work.Absence{{Line: audit.Line{Entry: "a"}}}
	assert.False(t, v.NeedsSignature(), "it was said why nobody signs")
	still := trip(60, 1, 0, "")
	assert.False(t, still.NeedsSignature(), "it is not over")
	left := trip(60, 1, 90, work.NoAccess)
	assert.False(t, left.NeedsSignature(), "nobody was there")
}

func TestReplyToARecommendation(t *testing.T) {
	v := work.Visit{Proposals: []work.Proposal{{Line: audit.Line{Entry: "p"},
		Lines: []work.ProposalLine{{Text: "Seal"}, {Text: "Coupling"}}}}}
	require.NoError(t, v.Reply("p", []work.Answer{work.Taken, work.Left}, "Tam Hale", minute(9)))
	assert.True(t, v.Proposals[0].Taken())
	require.NoError(t, v.Reply("p", []work.Answer{work.Left, work.Left}, "Tam Hale", minute(3)))
	assert.True(t, v.Proposals[0].Taken(), "the last answer by time counts")
	require.Error(t, v.Reply("p", []work.Answer{work.Taken}, "", minute(10)))
	require.Error(t, v.Reply("q", nil, "", time.Time{}))
	assert.Equal(t, "Tam Hale", v.Proposals[0].AnsweredBy)
}
