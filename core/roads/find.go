package roads

import (
	"math"
	"slices"
	"sync"

	"iter.example/iter/core/records"
)

// search is one search through the hierarchy, from a place or to one.
type search struct {
	labels
	ferry, metres []uint32
}

// searches are those that nobody uses now, by region: each is as large as the region has nodes.
var searches sync.Map // *Region to *sync.Pool

func (r *Region) search() (*search, func()) {
	pool, _ := searches.LoadOrStore(r, &sync.Pool{New: func() any {
		n := len(r.up.first) - 1
		return &search{*newLabels(n), make([]uint32, n), make([]uint32, n)}
	}})
	s := pool.(*sync.Pool).Get().(*search)
	s.clear()
	return s, func() { pool.(*sync.Pool).Put(s) }
}

// share is a part of a cost, in whole milliseconds or metres.
func share(all uint32, part float64) uint32 { return uint32(math.Round(float64(all) * part)) }

// What a node is reached by, beside arcs: the stretch that the place faces, there or back.
const (
	byThere = -1
	byBack  = -2
)

// begin puts the nodes that a place leads to, or those that lead to it.
func (s *search) begin(r *Region, p Place, leaving bool) {
	x := r.roads[p.road]
	put := func(n int32, cost uint32, part float64, by int32) {
		if n >= 0 && s.put(n, share(cost, part)) {
			s.by[n], s.ferry[n], s.metres[n] = by, 0, share(x.metres, part)
		}
	}
	there, back := r.there[p.road], r.back[p.road]
	if leaving {
		put(there.head, x.there, 1-p.part, byThere)
		put(back.head, x.back, p.part, byBack)
		return
	}
	for _, n := range there.tails {
		put(n, x.there, p.part, byThere)
	}
	for _, n := range back.tails {
		put(n, x.back, 1-p.part, byBack)
	}
}

// settle takes the next node, and goes on from it: by the arcs of ahead, to their other ends. A node that is reached more quickly over a
// later one, by the arcs of behind, is on no quickest way. It gives the node, whether it may be on one, and whether there was any.
func (s *search) settle(r *Region, ahead, behind star, forward bool) (n int32, live, any bool) {
	n, cost, any := s.pop()
	if !any {
		return 0, false, false
	}
	if by := s.by[n]; by >= 0 {
		a := r.arcs[by]
		before := a.from
		if !forward {
			before = a.to
		}
		s.ferry[n], s.metres[n] = s.ferry[before]+a.ferry, s.metres[before]+a.metres
	}
	for _, i := range behind.of(n) {
		a := &r.arcs[i]
		other := a.from
		if !forward {
			other = a.to
		}
		if d, seen := s.at(other); seen && d+a.cost < cost {
			return n, false, true
		}
	}
	for _, i := range ahead.of(n) {
		a := &r.arcs[i]
		other := a.to
		if !forward {
			other = a.from
		}
		if s.put(other, cost+a.cost) {
			s.by[other] = i
		}
	}
	return n, true, true
}

// straight is what it takes along the stretch that both places face, when that needs no turning round.
func (r *Region) straight(from, to Place) (leg, bool) {
	if from.road != to.road {
		return leg{}, false
	}
	x := r.roads[from.road]
	switch {
	case from.part <= to.part && x.there > 0:
		return leg{cost: share(x.there, to.part-from.part), metres: share(x.metres, to.part-from.part)}, true
	case from.part >= to.part && x.back > 0:
		return leg{cost: share(x.back, from.part-to.part), metres: share(x.metres, from.part-to.part)}, true
	}
	return leg{}, false
}

// leg is what a way takes on roads: milliseconds, how many of them on ferries, and metres.
type leg struct{ cost, ferry, metres uint32 }

// Leg is what a way takes.
type Leg struct {
	Known   bool // else there is no way
	Seconds int
	Ferry   int // seconds of them, on ferries: they take as long at whatever hour
	Metres  int
}

// whole adds what lies between places and their roads.
func (l leg) whole(from, to Place) Leg {
	off := from.Off + to.Off
	return Leg{true, int(math.Round(float64(l.cost)/1000 + off/OffRoad)), int(math.Round(float64(l.ferry) / 1000)),
		int(math.Round(float64(l.metres) + off))}
}

// Table gives what it takes from each of some places to each of others.
func (r *Region) Table(from, to []Place) [][]Leg {
	// Each target leaves word at the nodes that lead to it; whoever leaves a place comes by them.
	type word struct {
		node, target int32
		leg
	}
	var words []word
	s, done := r.search()
	defer done()
	for k, p := range to {
		s.clear()
		s.begin(r, p, false)
		for {
			n, live, any := s.settle(r, r.down, r.up, false)
			if !any {
				break
			}
			if live {
				words = append(words, word{n, int32(k), leg{s.cost[n], s.ferry[n], s.metres[n]}})
			}
		}
	}
	slices.SortFunc(words, func(a, b word) int { return int(a.node) - int(b.node) })
	at := map[int32][2]int32{}
	for i, w := range words {
		if i == 0 || words[i-1].node != w.node {
			at[w.node] = [2]int32{int32(i), int32(i)}
		}
		at[w.node] = [2]int32{at[w.node][0], int32(i + 1)}
	}
	out := make([][]Leg, len(from))
	best := make([]leg, len(to))
	for k, p := range from {
		for t := range best {
			var ok bool
			if best[t], ok = r.straight(p, to[t]); !ok {
				best[t].cost = math.MaxUint32
			}
		}
		s.clear()
		s.begin(r, p, true)
		for {
			n, live, any := s.settle(r, r.up, r.down, true)
			if !any {
				break
			}
			if !live {
				continue
			}
			span := at[n]
			for _, w := range words[span[0]:span[1]] {
				if d := s.cost[n] + w.cost; d < best[w.target].cost {
					best[w.target] = leg{d, s.ferry[n] + w.ferry, s.metres[n] + w.metres}
				}
			}
		}
		out[k] = make([]Leg, len(to))
		for t, l := range best {
			if l.cost < math.MaxUint32 {
				out[k][t] = l.whole(p, to[t])
			}
		}
	}
	return out
}

// Way finds the quickest way from one place to another; there is none when no road leads there.
func (r *Region) Way(from, to Place) (Way, bool) {
	w, ok := r.walk(from, to)
	if !ok {
		return Way{}, false
	}
	return w.said(), true
}

// walk finds the quickest way.
func (r *Region) walk(from, to Place) (*walk, bool) {
	f, doneF := r.search()
	defer doneF()
	b, doneB := r.search()
	defer doneB()
	f.begin(r, from, true)
	b.begin(r, to, false)
	best, meet := uint32(math.MaxUint32), int32(-1)
	along, ok := r.straight(from, to)
	if ok {
		best = along.cost
	}
	for {
		lf, lb := f.least(), b.least()
		if min(lf, lb) >= best {
			break
		}
		here, there := f, b
		ahead, behind := r.up, r.down
		if lb < lf {
			here, there, ahead, behind = b, f, r.down, r.up
		}
		n, live, any := here.settle(r, ahead, behind, here == f)
		if !any || !live {
			continue
		}
		if d, seen := there.at(n); seen && here.cost[n]+d < best {
			best, meet = here.cost[n]+d, n
		}
	}
	if best == math.MaxUint32 {
		return nil, false
	}
	w := &walk{region: r, from: from, to: to}
	w.follow(f, b, meet)
	return w, true
}

// follow goes the way that was found: over a node, or along the stretch that both places face (-1).
func (w *walk) follow(f, b *search, meet int32) {
	r, from, to := w.region, w.from, w.to
	if meet < 0 {
		w.along(from.road, from.part, to.part)
		return
	}
	var back []int32
	n := meet
	for f.by[n] >= 0 {
		back = append(back, f.by[n])
		n = r.arcs[f.by[n]].from
	}
	if f.by[n] == byThere {
		w.along(from.road, from.part, 1)
	} else {
		w.along(from.road, from.part, 0)
	}
	for _, i := range slices.Backward(back) {
		w.arc(i)
	}
	for n = meet; b.by[n] >= 0; {
		w.arc(b.by[n])
		n = r.arcs[b.by[n]].to
	}
	if b.by[n] == byThere {
		w.along(to.road, 0, to.part)
	} else {
		w.along(to.road, 1, to.part)
	}
}

// walk is a way, stretch by stretch.
type walk struct {
	region *Region
	from   Place
	to     Place
	leg
	runs []run
}

// run is a stretch of a way, or a part of one.
type run struct {
	road       int
	begin, end float64
	leg
}

// arc goes along an arc: a stretch, or the two that a shortcut stands for.
func (w *walk) arc(i int32) {
	a := w.region.arcs[i]
	if a.b >= 0 {
		w.arc(a.a)
		w.arc(a.b)
		return
	}
	begin := float64(a.a & 1)
	w.along(int(a.a>>1), begin, 1-begin)
}

// along goes along a stretch from one part of it to another.
func (w *walk) along(road int, begin, end float64) {
	x := w.region.roads[road]
	cost := x.there
	if end < begin {
		cost = x.back
	}
	part := math.Abs(end - begin)
	l := leg{cost: share(cost, part), metres: share(x.metres, part)}
	if Classes[x.class] == Ferry {
		l.ferry = l.cost
	}
	w.leg = leg{w.cost + l.cost, w.ferry + l.ferry, w.metres + l.metres}
	w.runs = append(w.runs, run{road, begin, end, l})
}

// said is the way with its line and the roads that it follows.
func (w *walk) said() Way {
	l := w.whole(w.from, w.to)
	out := Way{Seconds: l.Seconds, Ferry: l.Ferry, Metres: l.Metres, Line: []records.Point{w.from.At}, Parts: []Part{}}
	var part leg // of the last part
	for _, s := range w.runs {
		x := w.region.roads[s.road]
		name, class := w.region.names[x.name], Classes[x.class]
		if k := len(out.Parts); k == 0 || out.Parts[k-1].Name != name || out.Parts[k-1].Class != class {
			out.Parts, part = append(out.Parts, Part{Name: name, Class: class}), leg{}
		}
		part = leg{cost: part.cost + s.cost, metres: part.metres + s.metres}
		p := &out.Parts[len(out.Parts)-1]
		p.Seconds, p.Metres = int(math.Round(float64(part.cost)/1000)), int(part.metres)
		for _, q := range w.region.cut(x, s.begin, s.end) {
			if out.Line[len(out.Line)-1] != q {
				out.Line = append(out.Line, q)
			}
		}
	}
	out.Line = append(out.Line, w.to.At)
	return out
}

// cut gives the line of a stretch from one part of it to another.
func (r *Region) cut(x stretch, begin, end float64) []records.Point {
	line := make([]records.Point, 0, x.to-x.from)
	for _, s := range r.points[x.from:x.to] {
		line = append(line, s.point())
	}
	if end < begin {
		slices.Reverse(line)
		begin, end = 1-begin, 1-end
	}
	if begin == 0 && end == 1 {
		return line
	}
	total := 0.0
	for i := 1; i < len(line); i++ {
		total += Metres(line[i-1], line[i])
	}
	out, at := []records.Point{}, 0.0
	for i := 1; i < len(line); i++ {
		long := Metres(line[i-1], line[i])
		point := func(metres float64) records.Point {
			t := 0.0
			if long > 0 {
				t = min(max((metres-at)/long, 0), 1)
			}
			a, b := line[i-1], line[i]
			return records.Point{Lat: a.Lat + t*(b.Lat-a.Lat), Lon: a.Lon + t*(b.Lon-a.Lon)}
		}
		if at+long >= begin*total && len(out) == 0 {
			out = append(out, point(begin*total))
		}
		if at+long >= end*total {
			return append(out, point(end*total))
		}
		if len(out) > 0 {
			out = append(out, line[i])
		}
		at += long
	}
	return out
}
