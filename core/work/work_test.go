package work_test

import (
	"fmt"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"iter.example/iter/core/audit"
	"iter.example/iter/core/msg"
	"iter.example/iter/core/signoff"
	"iter.example/iter/core/work"
)

func minute(n int) time.Time { return time.Date(2026, 3, 10, 8, n, 0, 0, time.UTC) }

// visit reads steps such as "accepted set_off", a minute apart, by anna unless a name follows a colon. An exclamation mark strikes out.
func visit(steps string) work.Visit {
	v := work.Visit{Technician: "anna", SentAt: minute(-60)}
	for i, s := range strings.Fields(steps) {
		s, struck := strings.CutSuffix(s, "!")
		action, person, ok := strings.Cut(s, ":")
		if !ok {
			person = "anna"
		}
		v.Steps = append(v.Steps, work.Step{Line: audit.Line{Entry: fmt.Sprint(i), At: minute(i), Person: person, Struck: struck},
			Action: work.Action(action)})
	}
	v.Settle()
	return v
}

func TestStages(t *testing.T) {
	for steps, want := range map[string]work.Stage{
		"":                                        work.Sent,
		"accepted":                                work.Accepted,
		"declined":                                work.Declined,
		"accepted set_off":                        work.Travelling,
		"accepted set_off arrived":                work.OnSite,
		"accepted set_off arrived paused":         work.Paused,
		"set_off arrived paused resumed":          work.OnSite,
		"arrived finished":                        work.Finished,
		"arrived finished!":                       work.OnSite,
		"accepted set_off!":                       work.Accepted,
		"set_off accepted":                        work.Travelling, // an answer heard of late does not go back
		"accepted:bela":                           work.Sent,       // the answer of somebody who no longer has it
		"set_off:bela arrived:bela":               work.OnSite,     // what was done was done, whoever did it
		"arrived finished arrived":                work.OnSite,     // gone back
		"started_task:bela":                       work.OnSite,     // nobody leads yet
		"arrived paused started_task:bela":        work.Paused,     // a helper's task moves no visit that is led
		"arrived finished started_task:bela":      work.Finished,
		"accepted set_off arrived paused! paused": work.Paused,
	} {
		assert.Equal(t, want, visit(steps).Stage, steps)
	}
	v := visit("arrived")
	v.WithdrawnAt = minute(30)
	v.Settle()
	assert.Equal(t, work.Withdrawn, v.Stage)
	assert.Equal(t, work.Planned, func() work.Stage { v := work.Visit{}; v.Settle(); return v.Stage }())
}

func TestTimes(t *testing.T) {
	v := visit("accepted set_off! set_off arrived finished arrived finished")
	assert.Equal(t, minute(2), v.Taken(work.SetOff))
	assert.Equal(t, minute(3), v.Taken(work.Arrive))
	assert.Equal(t, minute(6), v.Ended())
	assert.Equal(t, minute(6), v.Since)
	assert.True(t, visit("").Taken(work.Arrive).IsZero())
	assert.True(t, visit("arrived").Ended().IsZero())
	assert.False(t, visit("accepted").Begun())
	assert.True(t, visit("set_off").Begun())
}

// Every stage but the last ones offers a next step, and taking it leads on.
func TestNextLeadsOn(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		v := work.Visit{Technician: "anna", SentAt: minute(-1)}
		v.Settle()
		for i := range rapid.IntRange(0, 12).Draw(t, "steps") {
			next := work.Next(v.Stage)
			if len(next) == 0 {
				require.Contains(t, []work.Stage{work.Finished, work.Declined}, v.Stage)
				return
			}
			before := v.Stage
			v.Steps = append(v.Steps, work.Step{Line: audit.Line{Entry: fmt.Sprint(i), At: minute(i), Person: "anna"},
				Action: rapid.SampledFrom(next).Draw(t, "action")})
			v.Settle()
			require.NotEqual(t, before, v.Stage)
		}
	})
}

func TestWhatIsStruckOutDoesNotCount(t *testing.T) {
	v := visit("set_off arrived")
	v.Signatures = []signoff.Signature{{}}
	assert.True(t, v.Signed())
	v.Steps[1].Struck, v.Signatures[0].Struck = true, true
	v.Settle()
	assert.Equal(t, work.Travelling, v.Stage)
	assert.False(t, v.Signed())
}

func TestOrderCheck(t *testing.T) {
	good := work.Order{Customer: "C1", Site: "S1", Problem: "No pressure", Priority: work.Soon, Minutes: 60}
	require.NoError(t, good.Check())
	for code, spoil := range map[string]func(*work.Order){
		"id.unusable":    func(o *work.Order) { o.Site = "../x" },
		"order.priority": func(o *work.Order) { o.Priority = "now!" },
		"order.minutes":  func(o *work.Order) { o.Minutes = 0 },
		"order.promise":  func(o *work.Order) { o.PromiseFrom, o.PromiseTo = minute(5), minute(1) },
		"text.missing":   func(o *work.Order) { o.Problem = "  " },
		"text.long":      func(o *work.Order) { o.Problem = strings.Repeat("x", 5001) },
	} {
		o := good
		spoil(&o)
		assert.Equal(t, code, msg.From(o.Check()).Code)
	}
}
