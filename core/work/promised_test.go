package work_test

import (
	"testing"
	"time"

	"github.com/stretchr/testify/assert"

	"iter.example/iter/core/audit"
	"iter.example/iter/core/work"
)

// How promises stand: somebody is to come by ten, and the work to be done by twelve.
func TestPromised(t *testing.T) {
	at := func(clock string) time.Time {
		out, err := time.Parse("2006-01-02 15:04", "2026-11-30 "+clock)
		assert.NoError(t, err)
		return out
	}
	planned := func(start string, minutes int) work.Visit {
		return work.Visit{Stage: work.Sent, Start: at(start), Minutes: minutes}
	}
	came := func(v work.Visit, stage work.Stage, arrived, ended string) work.Visit {
		v.Stage = stage
		v.Steps = []work.Step{{Line: audit.Line{At: at(arrived)}, Action: work.Arrive}}
		if ended != "" {
			v.Steps = append(v.Steps, work.Step{Line: audit.Line{At: at(ended)}, Action: work.Finish})
		}
		return v
	}
	usual := planned("09:00", 60)
	for name, c := range map[string]struct {
		visits     []work.Visit
		state      work.State
		now        string
		come, done work.PromiseStanding
	}{
		"nothing is planned": {nil, work.Open, "08:00", work.PromiseStanding{State: "open"}, work.PromiseStanding{State: "open"}},
		"planned in time": {[]work.Visit{usual}, work.Underway, "08:00", work.PromiseStanding{State: "open"},
			work.PromiseStanding{State: "open"}},
		"planned too late": {[]work.Visit{planned("10:30", 60)}, work.Underway, "08:00", work.PromiseStanding{State: "risk"},
			work.PromiseStanding{State: "open"}},
		"planned too long": {[]work.Visit{planned("09:00", 200)}, work.Underway, "08:00", work.PromiseStanding{State: "open"},
			work.PromiseStanding{State: "risk"}},
		"past": {nil, work.Open, "13:00", work.PromiseStanding{State: "late"}, work.PromiseStanding{State: "late"}},
		"came in time, and is there": {[]work.Visit{came(usual, work.OnSite, "09:10", "")}, work.Underway, "11:30",
			work.PromiseStanding{State: "kept"}, work.PromiseStanding{State: "open"}},
		"came late, done in time": {[]work.Visit{came(usual, work.Finished, "10:20", "11:00")}, work.Closed, "13:00",
			work.PromiseStanding{State: "broken", Late: 1200}, work.PromiseStanding{State: "kept"}},
		"done late": {[]work.Visit{came(usual, work.Finished, "09:20", "12:30")}, work.Closed, "13:00",
			work.PromiseStanding{State: "kept"}, work.PromiseStanding{State: "broken", Late: 1800}},
		"somebody must come again": {[]work.Visit{came(usual, work.Finished, "09:20", "11:30")}, work.Back, "13:00",
			work.PromiseStanding{State: "kept"}, work.PromiseStanding{State: "late"}},
		"cancelled": {nil, work.Cancelled, "13:00", work.PromiseStanding{State: "moot"}, work.PromiseStanding{State: "moot"}},
	} {
		come, done := work.Promised(work.Order{PromiseTo: at("10:00"), DoneBy: at("12:00")}, c.state, c.visits, at(c.now))
		assert.Equal(t, []work.PromiseStanding{c.come, c.done}, []work.PromiseStanding{come, done}, name)
		come, done = work.Promised(work.Order{}, c.state, c.visits, at(c.now))
		assert.Equal(t, [2]work.PromiseStanding{}, [2]work.PromiseStanding{come, done}, name)
	}
}
