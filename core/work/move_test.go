package work_test

import (
	"testing"
	"time"

	"github.com/stretchr/testify/assert"

	"iter.example/iter/core/audit"
	"iter.example/iter/core/work"
)

// Whoever accepted a visit is asked again when it is moved by more than the policy's minutes from when they were told, however many moves
// that takes; moved back it is as it was; what somebody says counts for the time that they were asked for.
func TestMove(t *testing.T) {
	nine := time.Date(2026, 3, 10, 9, 0, 0, 0, time.UTC)
	type move struct {
		who  string
		plus time.Duration
	}
	for name, c := range map[string]struct {
		again  int
		moves  []move
		accept bool // again after the moves
		stage  work.Stage
		from   time.Duration // of MovedFrom, after nine; below zero: none
	}{
		"a little":                {60, []move{{"ann", 30 * time.Minute}}, false, work.Accepted, 0},
		"far":                     {60, []move{{"ann", 2 * time.Hour}}, false, work.Sent, 0},
		"earlier":                 {60, []move{{"ann", -2 * time.Hour}}, false, work.Sent, 0},
		"far, a little at a time": {60, []move{{"ann", 40 * time.Minute}, {"ann", 80 * time.Minute}}, false, work.Sent, 0},
		"far and back":            {60, []move{{"ann", 2 * time.Hour}, {"ann", 0}}, false, work.Accepted, -1},
		"never asked":             {0, []move{{"ann", 9 * time.Hour}}, false, work.Accepted, 0},
		"accepted again":          {60, []move{{"ann", 2 * time.Hour}}, true, work.Accepted, 0},
		"to somebody else":        {60, []move{{"ben", 2 * time.Hour}}, false, work.Sent, -1},
	} {
		v := work.Visit{Technician: "ann", Start: nine, Minutes: 60, SentAt: nine.Add(-24 * time.Hour)}
		step := func(at time.Time) {
			v.Steps = append(v.Steps, work.Step{Line: audit.Line{Entry: at.String(), At: at, Person: "ann"}, Action: work.Accept})
		}
		step(nine.Add(-20 * time.Hour))
		v.Settle()
		at := nine.Add(-10 * time.Hour)
		for i, m := range c.moves {
			v.Move(m.who, nine.Add(m.plus), c.again, at.Add(time.Duration(i)*time.Minute))
			v.Settle()
		}
		if c.accept {
			step(at.Add(time.Hour))
			v.Settle()
		}
		assert.Equal(t, c.stage, v.Stage, name)
		if c.from < 0 {
			assert.Zero(t, v.MovedFrom, name)
		} else {
			assert.True(t, nine.Add(c.from).Equal(v.MovedFrom), name)
		}
	}
	// Accepted at the new time, the next move counts from there.
	v := work.Visit{Technician: "ann", Start: nine, Minutes: 60, SentAt: nine.Add(-24 * time.Hour)}
	v.Move("ann", nine.Add(2*time.Hour), 60, nine.Add(-3*time.Hour))
	v.Steps = append(v.Steps, work.Step{Line: audit.Line{Entry: "1", At: nine.Add(-2 * time.Hour), Person: "ann"}, Action: work.Accept})
	v.Settle()
	v.Move("ann", nine.Add(2*time.Hour+30*time.Minute), 60, nine.Add(-time.Hour))
	v.Settle()
	assert.Equal(t, work.Accepted, v.Stage)
	assert.True(t, nine.Add(2*time.Hour).Equal(v.MovedFrom))
}
