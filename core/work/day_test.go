package work_test

import (
	"math/rand"
	"slices"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"iter.example/iter/core/audit"
	"iter.example/iter/core/labor"
	"iter.example/iter/core/work"
)

var eight = time.Date(2026, 3, 10, 8, 0, 0, 0, time.UTC)

func after(minutes int) time.Time { return eight.Add(time.Duration(minutes) * time.Minute) }

// A visit planned from 8 to 9, as the office closes it.
func TestClosing(t *testing.T) {
	for name, c := range map[string]struct {
		steps  []work.Step
		crew   []work.CrewStep
		closed int
		end    int
		people []string
	}{
		"at the planned end, not at the moment of closing": {[]work.Step{{Line: audit.Line{At: after(5), Person: "ann"},
			Action: work.Arrive, Clock: labor.Work}}, nil, 500, 60, []string{"ann"}},
		"with the last stamp when that was later": {[]work.Step{{Line: audit.Line{At: after(5), Person: "ann"},
			Action: work.Arrive, Clock: labor.Work}, {Line: audit.Line{At: after(90), Person: "ann"}, Action: work.Pause,
			Clock: labor.Break}}, nil, 500, 90, []string{"ann"}},
		"now, when the planned end has not come": {[]work.Step{{Line: audit.Line{At: after(5), Person: "ann"},
			Action: work.Arrive, Clock: labor.Work}}, nil, 30, 30, []string{"ann"}},
		"what was struck out does not count": {[]work.Step{{Line: audit.Line{At: after(5), Person: "ann"},
			Action: work.Arrive, Clock: labor.Work}, {Line: audit.Line{At: after(90), Person: "ann", Struck: true}, Action: work.Pause,
			Clock: labor.Break}}, nil, 500, 60, []string{"ann"}},
		"nobody came: no clock to stop": {nil, nil, 500, 60, nil},
		"a helper's clock is stopped too": {[]work.Step{{Line: audit.Line{At: after(5), Person: "ann"},
			Action: work.Arrive, Clock: labor.Work}},
			[]work.CrewStep{{Line: audit.Line{At: after(70)}, Helper: "ben", Clock: labor.Work}}, 500, 70, []string{"ann", "ben"}},
	} {
		t.Run(name, func(t *testing.T) {
			v := work.Visit{Technician: "ann", Start: eight, Minutes: 60, Steps: c.steps}
			for _, s := range c.crew {
				v.AddCrewStep(s)
			}
			end, people := v.Closing(after(c.closed))
			assert.Equal(t, after(c.end), end)
			assert.ElementsMatch(t, c.people, people)
		})
	}
}

func TestClocking(t *testing.T) {
	var v work.Visit
	for i, s := range []work.CrewStep{{Helper: "ben", Clock: labor.Work}, {Helper: "cay", Clock: labor.Work},
		{Helper: "ben", Clock: labor.Stop}, {Helper: "dot", Clock: labor.Travel, Line: audit.Line{Struck: true}}} {
		s.At, s.Entry = after(i), string(rune('a'+i))
		v.AddCrewStep(s)
	}
	assert.Equal(t, []string{"cay"}, v.Clocking())
	assert.Equal(t, []string{"ben", "cay", "dot"}, v.Helpers)
	assert.True(t, v.Had("ben"))
	v.Crew[1].Struck = true
	assert.Empty(t, v.Clocking())
}

var twoTasks = []work.Task{{ID: "t1", Name: "First"}, {ID: "t2", Name: "Second"}}

func TestHowTasksStand(t *testing.T) {
	o := work.Order{Tasks: twoTasks}
	assert.Equal(t, "t1", o.NextTask())
	add := func(minute int, task string, act work.TaskAct) {
		o.AddTaskStep(work.TaskStep{Line: audit.Line{Entry: string(rune('a' + minute)), At: after(minute), Person: "ann"}, Task: task,
			Act: act})
	}
	add(0, "t1", work.TaskStarted)
	add(2, "t1", work.TaskHeld)
	assert.Equal(t, "t2", o.NextTask())
	assert.Equal(t, []string{"t1"}, o.OnHold("ann"))
	assert.Empty(t, o.OnHold("ben"))
	add(1, "t1", work.TaskStarted) // heard of later, and older
	assert.Equal(t, work.TaskHeld, o.Stands("t1").Act)
	audit.Find(o.TaskSteps, "c").Struck = true
	assert.Equal(t, work.TaskStarted, o.Stands("t1").Act)
	add(3, "t1", work.TaskDone)
	add(4, "t2", work.TaskDone)
	assert.Empty(t, o.NextTask())
}

// However acts arrive, the tasks stand the same.
func TestTasksInAnyOrder(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		var steps []work.TaskStep
		for i := range rapid.IntRange(0, 12).Draw(t, "acts") {
			steps = append(steps, work.TaskStep{Line: audit.Line{Entry: string(rune('a' + i)),
				At: after(rapid.IntRange(0, 5).Draw(t, "minute")), Person: "ann"},
				Task: rapid.SampledFrom([]string{"t1", "t2"}).Draw(t, "task"),
				Act:  rapid.SampledFrom([]work.TaskAct{work.TaskStarted, work.TaskHeld, work.TaskDone}).Draw(t, "act")})
		}
		stand := func(steps []work.TaskStep) [2]work.TaskStep {
			o := work.Order{Tasks: twoTasks}
			for _, s := range steps {
				o.AddTaskStep(s)
			}
			return [2]work.TaskStep{o.Stands("t1"), o.Stands("t2")}
		}
		other := slices.Clone(steps)
		rand.New(rand.NewSource(rapid.Int64().Draw(t, "shuffle"))).Shuffle(len(other),
			func(i, j int) { other[i], other[j] = other[j], other[i] })
		require.Equal(t, stand(steps), stand(other))
	})
}

func TestTasksOfAnOrderAreChecked(t *testing.T) {
	good := work.Order{Customer: "C1", Site: "S1", Problem: "x", Priority: work.Soon, Minutes: 60, Tasks: twoTasks}
	require.NoError(t, good.Check())
	for name, tasks := range map[string][]work.Task{
		"twice":          {{ID: "t1", Name: "a"}, {ID: "t1", Name: "b"}},
		"without a name": {{ID: "t1"}},
		"a bad id":       {{ID: "t/1", Name: "a"}},
		"absurdly long":  {{ID: "t1", Name: "a", Minutes: -1}},
	} {
		bad := good
		bad.Tasks = tasks
		assert.Error(t, bad.Check(), name)
	}
}

// An offer that all have declined is declined; an answer of somebody it was not offered to changes nothing.
func TestAnswersToAnOffer(t *testing.T) {
	v := work.Visit{Offered: []string{"ann", "ben"}, SentAt: eight}
	answer := func(person string, a work.Action, minute int) {
		v.Steps = append(v.Steps, work.Step{Line: audit.Line{Entry: person, At: after(minute), Person: person}, Action: a})
		v.Settle()
	}
	v.Settle()
	assert.Equal(t, work.Sent, v.Stage)
	answer("ann", work.Decline, 1)
	answer("cay", work.Decline, 2)
	assert.Equal(t, work.Sent, v.Stage)
	answer("ben", work.Decline, 3)
	assert.Equal(t, work.Declined, v.Stage)
	assert.Equal(t, work.Decline, v.Answered("ann"))
	assert.Empty(t, v.Answered("dot"))
	audit.Find(v.Steps, "ben").Struck = true
	v.Settle()
	assert.Equal(t, work.Sent, v.Stage)
}
