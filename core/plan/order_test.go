package plan_test

import (
	"cmp"
	"fmt"
	"math"
	"math/rand"
	"slices"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"iter.example/iter/core/plan"
	"iter.example/iter/core/records"
	"iter.example/iter/core/roads"
	"iter.example/iter/core/work"
)

// plain are ways across an open plain, ten minutes to a degree and none shorter than a minute: one way is as long as the other.
type plain struct{}

func (plain) seconds(a, b records.Point) int {
	return 60 + int(math.Hypot(a.Lat-b.Lat, a.Lon-b.Lon)*600)
}

func (p plain) Ways(from records.Point, to ...records.Point) []*roads.Way {
	out := make([]*roads.Way, len(to))
	for i, x := range to {
		out[i] = &roads.Way{Seconds: p.seconds(from, x)}
	}
	return out
}

// day is a random day of stops around where it begins, some of them promised.
func day(r *rand.Rand, n int, promised float64) []plan.Stop {
	var out []plan.Stop
	for i := range n {
		s := plan.Stop{ID: fmt.Sprint(i), Place: &records.Point{Lat: r.Float64() * 10, Lon: r.Float64() * 10}, Planned: at("08:00"),
			Length: time.Duration(10+r.Intn(50)) * time.Minute, Stage: work.Accepted}
		if r.Float64() < promised {
			s.From = at("07:00").Add(time.Duration(r.Intn(60*n/2)) * time.Minute)
			s.To = s.From.Add(time.Duration(30+r.Intn(180)) * time.Minute)
		}
		out = append(out, s)
	}
	return out
}

// price works out what an order comes to, by the clock, for comparison: lateness, driving with the way back, and the end.
func price(stops []plan.Stop, order []int, start records.Point, free time.Time) [3]int {
	late, drive, where, now := 0, 0, start, free
	for _, i := range order {
		s := stops[i]
		d := plain{}.seconds(where, *s.Place)
		drive += d
		if now = now.Add(time.Duration(d) * time.Second); now.Before(s.From) {
			now = s.From
		}
		if !s.To.IsZero() && now.After(s.To) {
			late += int(now.Sub(s.To) / time.Second)
		}
		now, where = now.Add(s.Length), *s.Place
	}
	return [3]int{late, drive + plain{}.seconds(where, start)}
}

func less(a, b [3]int) bool { return slices.Compare(a[:], b[:]) < 0 }

// free is when somebody sets off, as Order has it: for what is planned first.
func free(stops []plan.Stop, start records.Point) time.Time {
	off := at("23:00")
	for _, s := range stops {
		if t := s.Planned.Add(-time.Duration(plain{}.seconds(start, *s.Place)) * time.Second); t.Before(off) {
			off = t
		}
	}
	if off.Before(at("07:00")) {
		return at("07:00")
	}
	return off
}

func found(stops []plan.Stop, start records.Point) []int {
	var out []int
	for _, id := range plan.Order(stops, nil, &start, at("07:00"), plain{}, nil).IDs {
		out = append(out, slices.IndexFunc(stops, func(s plan.Stop) bool { return s.ID == id }))
	}
	return out
}

// Up to seven stops nothing is better: all orders are tried here.
func TestOrderIsTheBestOfFew(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		r := rand.New(rand.NewSource(rapid.Int64().Draw(t, "seed")))
		stops := day(r, rapid.IntRange(1, 7).Draw(t, "stops"), 0.6)
		start := records.Point{Lat: 5, Lon: 5}
		got, set := price(stops, found(stops, start), start, free(stops, start)), free(stops, start)
		order := make([]int, len(stops))
		for i := range order {
			order[i] = i
		}
		var try func(k int)
		try = func(k int) {
			if k == len(order) {
				require.False(t, less(price(stops, order, start, set), got), "%v is better", order)
				return
			}
			for i := k; i < len(order); i++ {
				order[k], order[i] = order[i], order[k]
				try(k + 1)
				order[k], order[i] = order[i], order[k]
			}
		}
		try(0)
	})
}

// annealed is a strong order by other means: moves that make it worse are taken too, ever more seldom, as often as it takes.
func annealed(r *rand.Rand, stops []plan.Stop, start records.Point, steps int) [3]int {
	set := free(stops, start)
	var best [3]int
	for try := range 2 {
		order := r.Perm(len(stops))
		have := price(stops, order, start, set)
		if try == 0 {
			best = have
		}
		weigh := func(p [3]int) float64 { return 10*float64(p[0]) + float64(p[1]) }
		for k := range steps {
			heat := 3000 * math.Pow(0.002, float64(k)/float64(steps))
			next := slices.Clone(order)
			i, j := r.Intn(len(next)), r.Intn(len(next))
			switch r.Intn(3) {
			case 0:
				next[i], next[j] = next[j], next[i]
			case 1:
				slices.Reverse(next[min(i, j) : max(i, j)+1])
			default:
				x := next[i]
				next = slices.Insert(slices.Delete(next, i, i+1), j, x)
			}
			p := price(stops, next, start, set)
			if less(p, best) {
				best = p
			}
			if d := weigh(p) - weigh(have); d <= 0 || r.Float64() < math.Exp(-d/heat) {
				order, have = next, p
			}
		}
	}
	return best
}

// Of 10 to 30 stops the order is no later than a strong one found by other means, and on average within one per cent of its driving, and
// three at worst.
func TestOrderOfManyIsNearTheBest(t *testing.T) {
	sum, n := 0.0, 0
	for _, stops := range []int{10, 12, 15, 18, 22, 26, 30} {
		for seed := range int64(4) {
			r := rand.New(rand.NewSource(seed*100 + int64(stops)))
			of := day(r, stops, float64(seed)*0.25)
			start := records.Point{Lat: 5, Lon: 5}
			got := price(of, found(of, start), start, free(of, start))
			strong := annealed(r, of, start, 2500*stops)
			assert.LessOrEqual(t, got[0], strong[0], "lateness of %d stops, day %d", stops, seed)
			if got[0] < strong[0] {
				continue // less late at any price
			}
			over := float64(got[1])/float64(strong[1]) - 1
			assert.LessOrEqual(t, over, 0.03, "driving of %d stops, day %d", stops, seed)
			sum, n = sum+over, n+1
		}
	}
	assert.LessOrEqual(t, sum/float64(cmp.Or(n, 1)), 0.01)
}

// Ten stops, as an open day has them on a telephone.
func BenchmarkOrderOfTen(b *testing.B) {
	of := day(rand.New(rand.NewSource(7)), 10, 0.5)
	for b.Loop() {
		found(of, records.Point{Lat: 5, Lon: 5})
	}
}
