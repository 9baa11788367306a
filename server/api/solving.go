package api

import (
	"context"
	"crypto/sha256"
	"strconv"
	"sync"
	"time"

	"github.com/gin-gonic/gin"
	"github.com/oklog/ulid/v2"

	"iter.example/iter/core/ledger"
	"iter.example/iter/core/plan"
	"iter.example/iter/core/plan/solve"
	"iter.example/iter/server/company"
	"iter.example/iter/server/store"
)

// Solving is how far a plan is that is worked out for somebody.
type Solving struct {
	Asked *SolvingAsked `json:"asked,omitempty"` // nil when nothing was asked for since the program started
	// Round of Rounds are over. Found is how many plans were found so far, each better than the one before; Left is how much the last
	// leaves out.
	Round  int `json:"round"`
	Rounds int `json:"rounds"`
	Found  int `json:"found"`
	Left   int `json:"left"`
	// Less is by how much the last costs less than the first, in per cent.
	Less int `json:"less"`
	// Waits tells that it has not begun, since others are worked out.
	Waits    bool      `json:"waits,omitempty"`
	Solution *Solution `json:"solution,omitempty"` // once it is done or was stopped
}

// solvings are the plans that are worked out, one for each person at most. They are gone when the program ends.
type solvings struct {
	ctx  context.Context // of what runs in the background
	one  sync.Mutex      // held while a plan is worked out: others wait, requests have the other processors
	mu   sync.Mutex
	of   map[string]*solver
	work *sync.WaitGroup
}

// solver works out a plan.
type solver struct {
	mu    sync.Mutex
	state Solving
	first int // cost of the first plan
	stop  context.CancelFunc
}

// begin works something out for somebody. What was worked out for them before ends.
func (s *solvings) begin(person string, q SolvingAsked, t *stretch, table plan.Table) *solver {
	ctx, stop := context.WithCancel(s.ctx)
	w := &solver{stop: stop, state: Solving{Asked: &q, Rounds: t.problem.Rounds, Waits: true}}
	s.mu.Lock()
	if before := s.of[person]; before != nil {
		before.stop()
	}
	s.of[person] = w
	s.mu.Unlock()
	t.problem.Progress = w.progress
	s.work.Go(func() {
		s.one.Lock()
		defer s.one.Unlock()
		defer stop()
		out := t.solve(ctx, table, w.better)
		w.mu.Lock()
		defer w.mu.Unlock()
		w.state.Waits, w.state.Solution = false, &out
	})
	return w
}

func (w *solver) progress(round int) {
	w.mu.Lock()
	defer w.mu.Unlock()
	w.state.Round = round
}

func (w *solver) better(p solve.Plan) {
	w.mu.Lock()
	defer w.mu.Unlock()
	if w.state.Found == 0 {
		w.first = p.Cost
	}
	w.state.Waits = false
	w.state.Found++
	w.state.Left = len(p.Left)
	w.state.Round = max(w.state.Round, p.Rounds)
	if w.first > 0 {
		w.state.Less = 100 * (w.first - p.Cost) / w.first
	}
}

// now is how far it is.
func (w *solver) now() Solving {
	w.mu.Lock()
	defer w.mu.Unlock()
	return w.state
}

// end stops what is worked out for somebody, or forgets it when it has ended.
func (s *solvings) end(person string) {
	s.mu.Lock()
	defer s.mu.Unlock()
	w := s.of[person]
	if w == nil {
		return
	}
	if w.stop(); w.now().Solution != nil {
		delete(s.of, person)
	}
}

// get is what is worked out for somebody; nil when nothing is.
func (s *solvings) get(person string) *solver {
	s.mu.Lock()
	defer s.mu.Unlock()
	return s.of[person]
}

// solve begins to work out a plan for whoever asks.
func (s *Server) solve(c *gin.Context, q SolvingAsked) (Solving, error) {
	person, now := who(c).PersonID, s.now(c)
	t, err := readPlan(s, c, q.Draft, func(tx *store.Tx) (*stretch, error) {
		d, err := draftOf(tx, person)
		if err != nil {
			return nil, err
		}
		return readStretch(tx, q, max(ledger.MostDraftChanges-len(d.Changes), 0), now)
	})
	if err != nil {
		return Solving{}, err
	}
	return s.solvings.begin(person, q, t, s.tableOf(c.Request.Context(), t)).now(), nil
}

// tableOf is the table of ways of a stretch; without roads, or while a routing server is down, nobody knows them.
func (s *Server) tableOf(ctx context.Context, t *stretch) plan.Table {
	table, _, err := s.roads.Table(ctx, s.Now(), t.places)
	if err != nil {
		s.Log.Warn("no ways for a plan", "error", err)
		return plan.NewTable(len(t.places))
	}
	return table
}

// solving tells how far the plan is that is worked out for whoever asks.
func (s *Server) solving(c *gin.Context) (Solving, error) {
	if w := s.solvings.get(who(c).PersonID); w != nil {
		return w.now(), nil
	}
	return Solving{}, nil
}

// stopSolving ends the working out: the best plan so far is what it comes to. One that has ended is forgotten: it was taken over, or is not
// wanted.
func (s *Server) stopSolving(c *gin.Context) (Done, error) {
	s.solvings.end(who(c).PersonID)
	return Done{}, nil
}

// timetable works out a plan each day at the company's time, into the draft of whoever it names, if that is empty: it waits there in the
// morning.
func (s *Server) timetable(ctx context.Context) {
	for {
		if err := s.planAhead(ctx, s.Now()); err != nil && ctx.Err() == nil {
			s.Log.Warn("the plan ahead was not worked out", "error", err, "hint", "it is tried again in a minute")
		}
		select {
		case <-ctx.Done():
			return
		case <-time.After(time.Minute):
		}
	}
}

// aheadFor is for how long after its time a plan is still worked out, when the program did not run then.
const aheadFor = 2 * time.Hour

// planAhead plans the coming days when it is time to, once a day.
func (s *Server) planAhead(ctx context.Context, now time.Time) error {
	var t *stretch
	var ahead *plan.Timetable
	cause := ""
	err := s.Store.Read(ctx, func(tx *store.Tx) error {
		rules, err := tx.Settings(now)
		if err != nil || rules.Planning.Timetable == nil {
			return err
		}
		ahead = rules.Planning.Timetable
		today := rules.Company.Zone.In(now).Format(time.DateOnly)
		at, err := time.Parse("15:04", ahead.At)
		if err != nil {
			return err
		}
		due := rules.Company.Zone.On(today, time.Duration(at.Hour())*time.Hour+time.Duration(at.Minute())*time.Minute)
		cause = "planned ahead on " + today
		if now.Before(due) || now.After(due.Add(aheadFor)) || s.ahead == cause {
			return nil
		}
		d, err := draftOf(tx, ahead.Person)
		if err != nil {
			return err
		}
		if s.ahead = cause; len(d.Changes) > 0 {
			s.Log.Info("the plan ahead was not worked out: the draft is in use", "person", ahead.Person)
			return nil
		}
		t, err = readStretch(tx, SolvingAsked{From: today, Days: ahead.Days, Move: ahead.Move}, ledger.MostDraftChanges, now)
		return err
	})
	if err != nil || t == nil {
		return err
	}
	s.solvings.one.Lock()
	out := t.solve(ctx, s.tableOf(ctx, t), nil)
	s.solvings.one.Unlock()
	if len(out.Lines) == 0 || ctx.Err() != nil {
		return ctx.Err()
	}
	return s.Store.Write(ctx, func(tx *store.Tx) error {
		d, err := draftOf(tx, ahead.Person)
		if err != nil || len(d.Changes) > 0 {
			return err // somebody began one meanwhile
		}
		var changes ledger.DraftChanged
		for _, l := range out.Lines {
			changes.Changes = append(changes.Changes, l.change(cause))
		}
		w := company.Writer{Tx: tx, Now: now, Cause: cause}
		_, err = w.Append("draft.changed", ledger.DraftRef(ahead.Person), company.Program, now, changes, nil)
		return err
	})
}

// change is a line as a draft keeps it. The id of a visit that is to be planned follows from the cause.
func (l SolutionLine) change(cause string) ledger.DraftChange {
	against := againstOf(l.Fit)
	if l.Moved {
		return ledger.DraftChange{Visit: l.ID, Move: &ledger.Move{Technician: l.Fit.Lane, Start: l.Start, Minutes: l.Minutes,
			Helpers: append([]string{}, l.With...), Against: against}}
	}
	digest := sha256.Sum256([]byte(cause + "\n" + l.ID + "\n" + strconv.Itoa(l.Part)))
	return ledger.DraftChange{Visit: ulid.ULID(digest[:16]).String(), Plan: &ledger.Plan{Order: l.ID, Technician: l.Fit.Lane, Start: l.Start,
		Minutes: l.Minutes, Helpers: l.With, Things: l.Order.Things, Against: against}}
}
