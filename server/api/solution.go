package api

import (
	"cmp"
	"slices"

	"github.com/gin-gonic/gin"

	"iter.example/iter/core/ledger"
	"iter.example/iter/core/plan"
	"iter.example/iter/core/plan/solve"
	"iter.example/iter/core/work"
	"iter.example/iter/server/store"
)

// Solution is how what waits could be planned on a day, all of it together.
type Solution struct {
	Lines []plan.Handed  `json:"lines"` // in the order in which they are planned: each counts for the next
	Left  []SolutionLeft `json:"left"`
	// More is how much that waits was not looked at: beyond what a board lists, or a draft holds.
	More int `json:"more,omitempty"`
	// Before and After are what the day comes to.
	Before plan.Course `json:"before"`
	After  plan.Course `json:"after"`
}

// SolutionLeft is what would not be planned, with what comes nearest to it: nothing where nobody is at work, or it waits for parts.
type SolutionLeft struct {
	Order OrderLine `json:"order"`
	Fit   *plan.Fit `json:"fit,omitempty"`
}

// solveRounds is for how many rounds a day is improved: a second or two for thirty people.
const solveRounds = 2000

// worth is how many seconds of driving it is worth to plan work on a day rather than to leave it for another.
func worth(day *plan.Day, o OrderLine, w plan.Want) int {
	const hour = 3600
	out := map[work.Priority]int{work.Emergency: 24 * hour, work.Soon: 8 * hour}[o.Priority]
	out = max(out, 3*hour)
	if w.To < 24*hour { // a promise of this day, or of one before: how late it is by then is no reason to leave it
		out = max(out, 12*hour) + day.Cost(plan.Course{Late: 24*hour - max(w.To, 0)})
	}
	return out
}

// solution plans what waits on a day, all of it together, but for what waits for parts. What is planned stays as it is.
func (s *Server) solution(c *gin.Context, q BoardDay) (Solution, error) {
	out := Solution{Lines: []plan.Handed{}, Left: []SolutionLeft{}}
	b, _, _, err := s.boardOf(c, q)
	if err != nil {
		return out, err
	}
	draft, err := read(s, c, func(tx *store.Tx) (ledger.Draft, error) { return draftOf(tx, who(c).PersonID) })
	if err != nil {
		return out, err
	}
	d := &dayPlan{day: b.Plan, places: b.places}
	if err := s.openDay(c, d); err != nil {
		return out, err
	}
	day := &d.day
	wants := map[string]plan.Want{}
	for _, w := range day.Wants {
		wants[w.ID] = w
	}
	p := solve.Problem{Days: []*plan.Day{day}, Rounds: solveRounds, Seed: 1}
	room := max(ledger.MostDraftChanges-len(draft.Changes), 0)
	var looked []OrderLine
	for _, o := range b.Unplaced {
		w, is := wants[o.ID]
		if looked = append(looked, o); !is || o.Waits > 0 {
			continue
		}
		if len(p.Visits) == room {
			looked = looked[:len(looked)-1]
			break
		}
		v := solve.Visit{ID: o.ID, Worth: worth(day, o, w)}
		if w.To <= max(day.Now, 0) { // what is late already has no claim to come before all else
			w.To = plan.Whenever
		}
		v.Wants = []plan.Want{w}
		p.Visits = append(p.Visits, v)
	}
	out.More = b.More + len(b.Unplaced) - len(looked)
	var places []plan.At
	for id, at := range solve.Solve(c.Request.Context(), p, nil).Places {
		places = append(places, plan.At{ID: id, Lane: at.Lane, Begin: at.Begin})
	}
	slices.SortFunc(places, func(a, b plan.At) int { return cmp.Or(cmp.Compare(a.Begin, b.Begin), cmp.Compare(a.ID, b.ID)) })
	var then *plan.Day
	out.Lines, then = day.Try(places)
	out.Before, out.After = day.Total(), then.Total()
	for _, o := range looked {
		if slices.ContainsFunc(out.Lines, func(h plan.Handed) bool { return h.ID == o.ID }) {
			continue
		}
		left := SolutionLeft{Order: o}
		if w, is := wants[o.ID]; is && o.Waits == 0 {
			for _, f := range then.Suggest(w, 1) {
				left.Fit = &f
			}
		}
		out.Left = append(out.Left, left)
	}
	return out, c.Request.Context().Err()
}
