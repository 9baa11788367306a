// Package solve improves a plan: it says who should do which visits, and when, over one day or several. It removes visits that lie near one
// another and puts them back where they cost least, again and again, and keeps what is better ("slack induction by string removals",
// Christiaens and Vanden Berghe, 2020). What a place costs are the seconds of plan.Day.
//
// The same problem, seed and rounds give the same plan: it never looks at the clock. What several people or things go to, or what takes
// several days, is put into the tours of all of them at once, at one time (joint.go).
package solve

import (
	"cmp"
	"context"
	"math"
	"math/rand/v2"
	"slices"

	"iter.example/iter/core/plan"
)

// Problem is what is to be planned.
type Problem struct {
	// Days are opened, with one table of ways. What they have on their lanes stays as it is, and begins no later for what is put before it,
	// but for what may be moved.
	Days   []*plan.Day
	Visits []Visit
	Seed   uint64
	Rounds int
	// Progress is told now and then how many rounds are over; it may be nil.
	Progress func(round int)
}

// Visit may be placed, or put elsewhere. It has not begun.
type Visit struct {
	ID string
	// Wants are what it takes on each of the days, things that go along among it: what is promised counts from the midnight of each.
	Wants []plan.Want
	// People is how many go, one where it is less: the first can do it, the others come along.
	People int
	// Parts are how long it takes on each of several days that follow one another as whoever goes works; nil: it is done in one day.
	Parts []int
	// Worth is how many seconds of driving it is worth not to leave it out.
	Worth int
	// Was is where it is planned, nil where it is not; to put it on another lane or day costs Moved seconds.
	Was   *Place
	Moved int
}

// joint tells that a visit is more than a stop on one tour.
func (v *Visit) joint() bool {
	return v.People > 1 || len(v.Parts) > 0 || len(v.Wants) > 0 && len(v.Wants[0].Things) > 0
}

// Place is when somebody does a visit: the day by its number, the second of it. With are who comes along.
type Place struct {
	Day    int
	Lane   string
	Begin  int
	Length int
	With   []string
}

// Plan is what was found.
type Plan struct {
	Places map[string][]Place // by visit, one for each of its days
	Left   []string           // what nobody can do for what it is worth, in the order of the problem
	Cost   int                // in seconds of driving, with what was left
	Rounds int                // after how many it was found
}

// nowhere is where a visit is that has no tour.
const nowhere = -1

// solver is a plan that changes.
type solver struct {
	p     Problem
	r     *rand.Rand
	tours []*tour
	at    [][]int // tours of each visit, none of one that is left out
	near  [][]int // visits by their distance, of each
	// whoever is what somebody costs who does a visit, whenever they do: by visit and tour; cannot where they are not to.
	whoever [][]int
	cost    int
	saved   map[int]tour // tours as they were when the round began
}

// cannot is the cost of whoever is not to do a visit.
const cannot = math.MaxInt

// Solve plans a problem, until its rounds are over or the context is: then it gives the best so far. Each plan that is better than those
// before is told to better, which may be nil.
func Solve(ctx context.Context, p Problem, better func(Plan)) Plan {
	s := newSolver(p)
	s.fill(s.left(), 0, false)
	best := s.plan(0)
	if better != nil {
		better(best)
	}
	for i := 0; i < p.Rounds && len(p.Visits) > 0 && ctx.Err() == nil; i++ {
		if p.Progress != nil && i%100 == 0 {
			p.Progress(i)
		}
		before, at := s.cost, slices.Clone(s.at)
		s.saved = map[int]tour{}
		s.fill(s.ruin(), blinks[s.r.IntN(len(blinks))], s.r.IntN(8) == 0)
		// At first what is a little worse is taken too, to come away from what can't be mended step by step; later less and less.
		heat := hot * math.Pow(cold/hot, float64(i)/float64(p.Rounds))
		if float64(s.cost) >= float64(before)+heat*s.r.ExpFloat64() {
			s.back(before, at)
			continue
		}
		if s.cost < best.Cost {
			best = s.plan(i + 1)
			if better != nil {
				better(best)
			}
		}
	}
	return best
}

// How much worse a plan may be that is gone on with, in seconds: in the first round and in the last.
const hot, cold = 600.0, 5.0

// blinks are how often a place is passed over, in one round or another, which has what is put back not always stand where it costs least.
var blinks = [...]float64{0.01, 0.01, 0.01, 0.01, 0.01, 0.01, 0.1, 0.3}

func newSolver(p Problem) *solver {
	s := &solver{p: p, r: rand.New(rand.NewPCG(p.Seed, 0)), at: make([][]int, len(p.Visits))}
	index := map[string]int{}
	for i, v := range p.Visits {
		index[v.ID] = i
	}
	for k, d := range p.Days {
		for i := range d.Lanes {
			if l := &d.Lanes[i]; !l.Thing {
				s.tours = append(s.tours, newTour(k, d, l, p.Visits, index))
			}
		}
	}
	for _, v := range p.Visits {
		costs := make([]int, len(s.tours))
		for k, t := range s.tours {
			costs[k] = t.whoever(v)
		}
		s.whoever = append(s.whoever, costs)
		s.cost += v.Worth
	}
	for k, t := range s.tours {
		for i := range t.stops {
			x := &t.stops[i]
			if x.visit < 0 {
				continue
			}
			if s.whoever[x.visit][k] == cannot {
				s.whoever[x.visit][k] = 0 // whoever planned it knew why
			}
			if x.who = s.whoever[x.visit][k]; x.helps {
				x.who = 0
			}
			if s.at[x.visit] == nil {
				s.cost -= p.Visits[x.visit].Worth
			}
			s.at[x.visit] = append(s.at[x.visit], k)
		}
		t.walk()
		s.cost += t.cost
		for i := t.tooLate(); i >= 0; i = t.tooLate() {
			s.take(k, i)
		}
	}
	s.near = nearest(p)
	return s
}

// nearest sorts for each visit the others by how far they are from it.
func nearest(p Problem) [][]int {
	out := make([][]int, len(p.Visits))
	for i, v := range p.Visits {
		away := make([]int, len(p.Visits))
		for k, other := range p.Visits {
			if away[k] = math.MaxInt; k == i {
				away[k] = -1 // also before others at its place
			} else if seconds, known := p.Days[0].Seconds(v.Wants[0].Place, other.Wants[0].Place); known {
				away[k] = seconds
			}
			out[i] = append(out[i], k)
		}
		slices.SortStableFunc(out[i], func(a, b int) int { return cmp.Compare(away[a], away[b]) })
	}
	return out
}

func (s *solver) left() (out []int) {
	for i, tours := range s.at {
		if tours == nil {
			out = append(out, i)
		}
	}
	return out
}

func (s *solver) plan(rounds int) Plan {
	out := Plan{Places: map[string][]Place{}, Cost: s.cost, Rounds: rounds}
	each := func(helps bool, f func(id string, t *tour, x stop)) {
		for _, t := range s.tours {
			for _, x := range t.stops {
				if x.visit >= 0 && x.helps == helps {
					f(s.p.Visits[x.visit].ID, t, x)
				}
			}
		}
	}
	each(false, func(id string, t *tour, x stop) {
		out.Places[id] = append(out.Places[id], Place{Day: t.number, Lane: t.lane.ID, Begin: x.Begin, Length: x.Length})
	})
	each(true, func(id string, t *tour, x stop) {
		i := slices.IndexFunc(out.Places[id], func(p Place) bool { return p.Day == t.number })
		out.Places[id][i].With = append(out.Places[id][i].With, t.lane.ID)
	})
	for _, i := range s.left() {
		out.Left = append(out.Left, s.p.Visits[i].ID)
	}
	return out
}

// back undoes a round.
func (s *solver) back(cost int, at [][]int) {
	for k, t := range s.saved {
		*s.tours[k] = t
	}
	s.cost, s.at = cost, at
}

// change has a tour be changed, and remembers how it was.
func (s *solver) change(k int, f func(t *tour)) {
	t := s.tours[k]
	if _, is := s.saved[k]; !is && s.saved != nil {
		s.saved[k] = *t
		t.stops, t.walks, t.extra = slices.Clone(t.stops), slices.Clone(t.walks), slices.Clone(t.extra)
	}
	s.cost -= t.cost
	f(t)
	t.walk()
	s.cost += t.cost
}

// How many visits a round removes on the average, and from one tour at most.
const (
	removed    = 10
	mostOfTour = 10
)

// ruin removes visits near one, a string of each tour that has some, and gives what is left out.
func (s *solver) ruin() []int {
	seed := s.r.IntN(len(s.p.Visits))
	longest := min(mostOfTour, s.mean()+1)
	tours := s.r.IntN(max(4*removed/(1+longest), 1)) + 1
	ruined := map[int]bool{}
	if s.p.Visits[seed].joint() {
		s.takeJoint(seed)
	}
	for _, v := range s.near[seed] {
		if len(ruined) == tours {
			break
		}
		if len(s.at[v]) == 0 || s.p.Visits[v].joint() || ruined[s.at[v][0]] {
			continue
		}
		k := s.at[v][0]
		ruined[k] = true
		most := min(longest, s.tours[k].movable())
		s.remove(k, v, s.r.IntN(max(most, 1))+1)
	}
	return s.left()
}

// mean is how many visits a tour has that has some.
func (s *solver) mean() int {
	tours, visits := 0, 0
	for _, t := range s.tours {
		if n := t.movable(); n > 0 {
			tours, visits = tours+1, visits+n
		}
	}
	return max(visits/max(tours, 1), 1)
}

// remove removes so many visits of a tour that follow one another, one of them among them.
func (s *solver) remove(k, visit, n int) {
	var places []int // of what may be moved
	at := 0
	for i, x := range s.tours[k].stops {
		if x.visit == visit {
			at = len(places)
		}
		if !x.held {
			places = append(places, i)
		}
	}
	first := at - s.r.IntN(n)
	first = max(0, min(first, len(places)-n))
	s.take(k, places[first:min(first+n, len(places))]...)
}

// take takes stops off a tour, which are in order.
func (s *solver) take(k int, stops ...int) {
	s.change(k, func(t *tour) {
		for _, i := range slices.Backward(stops) {
			v := t.stops[i].visit
			s.at[v], s.cost = nil, s.cost+s.p.Visits[v].Worth
			t.stops = slices.Delete(t.stops, i, i+1)
		}
	})
}

// fill puts visits where they cost least, one after another. A place is passed over now and then. With whatever it is done at
// any cost: two that are not worth it may be so together.
func (s *solver) fill(visits []int, blink float64, whatever bool) {
	s.sort(visits)
	for _, v := range visits {
		if s.p.Visits[v].joint() {
			s.placeJoint(v, whatever)
			continue
		}
		whose, place, least := nowhere, 0, s.p.Visits[v].Worth
		if whatever {
			least = cannot
		}
		for k, t := range s.tours {
			own := s.whoever[v][k]
			if own >= least {
				continue
			}
			for i := t.first; i <= len(t.stops); i++ {
				if blink > 0 && s.r.Float64() < blink {
					continue
				}
				if own+t.detour(s.p.Visits[v].Wants[t.number].Place, i) >= least {
					continue // what else it costs comes on top
				}
				if cost, can := t.adds(stop{Placed: plan.Placed{Want: s.p.Visits[v].Wants[t.number]}}, i); can && cost+own < least {
					whose, place, least = k, i, cost+own
				}
			}
		}
		if whose == nowhere {
			continue
		}
		s.change(whose, func(t *tour) {
			t.insert(stop{Placed: plan.Placed{Want: s.p.Visits[v].Wants[t.number]}, visit: v, who: s.whoever[v][whose]}, place)
		})
		s.at[v], s.cost = []int{whose}, s.cost-s.p.Visits[v].Worth
	}
}

// sort has visits be put in one of several orders: any, the most worth first, what is promised soonest, the longest. What takes several at
// once comes before what finds its place beside that.
func (s *solver) sort(visits []int) {
	s.r.Shuffle(len(visits), func(i, k int) { visits[i], visits[k] = visits[k], visits[i] })
	by := func(f func(v *Visit) int) {
		slices.SortStableFunc(visits, func(a, b int) int { return cmp.Compare(f(&s.p.Visits[a]), f(&s.p.Visits[b])) })
	}
	switch s.r.IntN(4) {
	case 0:
		by(func(v *Visit) int { return -v.Worth })
	case 1:
		by(func(v *Visit) int { return v.Wants[0].To })
	case 2:
		by(func(v *Visit) int { return -v.Wants[0].Length })
	}
	by(func(v *Visit) int {
		if v.joint() {
			return 0
		}
		return 1
	})
}
