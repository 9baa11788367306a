package roads

import (
	"cmp"
	"math"
	"slices"
	"time"

	"iter.example/iter/core/msg"
	"iter.example/iter/core/records"
)

// Region is the roads of a part of the world, made ready for finding ways: a contraction hierarchy (Geisberger and others, 2008) over the
// stretches of road between junctions. It never changes, and any number may ask it at a time. A Builder makes one.
type Region struct {
	// Source says where the roads are from, and under which licence: it is shown with every map.
	Source string
	names  []string
	roads  []stretch
	points []spot // of all roads, one after the other

	// Nodes are junctions, by how late they were contracted; a junction at which not every turn may be taken is several, by where one comes
	// from. arcs are the stretches in one direction, and shortcuts for two arcs that follow each other.
	arcs []arc
	// up are the arcs from each node to later ones, down those to each node from later ones.
	up, down star
	// tails are the nodes from which a stretch is driven there, and those from which it is driven back; head is the node one comes to.
	there, back []ends

	cells cells
}

// spot is a place in ten-millionths of a degree.
type spot struct{ lat, lon int32 }

// stretch is a road between two junctions.
type stretch struct {
	from, to    uint32 // in points: the first, and one past the last
	name        uint32
	class       uint8 // in classes
	there, back uint32
	metres      uint32
}

// ends are the nodes at the ends of a stretch that is driven in one direction; head is -1 when it is not.
type ends struct {
	tails []int32
	head  int32
}

// arc is a stretch in one direction, or a shortcut. cost is in milliseconds, ferry how much of that is on ferries.
type arc struct {
	from, to            int32
	cost, ferry, metres uint32
	// a and b are the arcs that a shortcut stands for. Of a stretch b is -1, and a says which: twice its number, and one more when it is
	// driven back.
	a, b int32
}

// star is arcs by the node that they are at: those of node n are list[first[n]:first[n+1]].
type star struct {
	first []int32
	list  []int32
}

func (s star) of(n int32) []int32 { return s.list[s.first[n]:s.first[n+1]] }

// Stretch is a road between two junctions, as a Builder takes it.
type Stretch struct {
	From, To int             // junctions
	Line     []records.Point // from one to the other, both of them included
	Name     string
	Class    Class
	// There and Back are how long it takes in one direction and in the other; zero: it is not to be driven that way.
	There, Back time.Duration
}

// Turn is a turn that must not be taken, or the only one that may be: coming by a stretch to a junction and going on by another.
type Turn struct {
	By   int // stretch
	At   int // junction
	On   int // stretch
	Only bool
}

// Builder gathers the roads of a region.
type Builder struct {
	Source    string
	junctions int
	region    Region
	ends      [][2]int // junctions of each stretch
	names     map[string]uint32
	turns     []Turn
}

// most is how many junctions or stretches a region has at most.
const most = 1 << 29

// Junction gives another junction, by its number.
func (b *Builder) Junction() int {
	b.junctions++
	return b.junctions - 1
}

// Add takes a stretch of road, and gives its number.
func (b *Builder) Add(s Stretch) (int, error) {
	if s.From < 0 || s.To < 0 || s.From >= b.junctions || s.To >= b.junctions || len(s.Line) < 2 || len(b.region.roads) >= most {
		return 0, msg.New("roads.stretch")
	}
	class := slices.Index(Classes, s.Class)
	if class < 0 {
		return 0, msg.New("roads.class", "class", records.Clip(string(s.Class)))
	}
	there, errThere := millis(s.There)
	back, errBack := millis(s.Back)
	if err := cmp.Or(errThere, errBack); err != nil {
		return 0, err
	}
	if b.names == nil {
		b.names = map[string]uint32{}
	}
	name, known := b.names[s.Name]
	if !known {
		name = uint32(len(b.region.names))
		b.names[s.Name], b.region.names = name, append(b.region.names, s.Name)
	}
	r := &b.region
	x := stretch{from: uint32(len(r.points)), name: name, class: uint8(class), there: there, back: back}
	metres := 0.0
	for i, p := range s.Line {
		if err := p.CheckNew(); err != nil {
			return 0, err
		}
		r.points = append(r.points, spotAt(p))
		if i > 0 {
			metres += Metres(s.Line[i-1], p)
		}
	}
	x.to, x.metres = uint32(len(r.points)), uint32(min(metres, math.MaxUint32/4))
	r.roads, b.ends = append(r.roads, x), append(b.ends, [2]int{s.From, s.To})
	return len(r.roads) - 1, nil
}

// longest is how long a stretch takes at most: a ferry of two days.
const longest = 48 * time.Hour

// millis gives a time in milliseconds, at least one of what takes time at all.
func millis(d time.Duration) (uint32, error) {
	if d < 0 || d > longest {
		return 0, msg.New("roads.time")
	}
	if d == 0 {
		return 0, nil
	}
	return uint32(max(d.Milliseconds(), 1)), nil
}

// Turn takes a turn that must not be taken, or the only one that may be.
func (b *Builder) Turn(t Turn) error {
	if t.By < 0 || t.On < 0 || t.By >= len(b.ends) || t.On >= len(b.ends) || !slices.Contains(b.ends[t.By][:], t.At) ||
		!slices.Contains(b.ends[t.On][:], t.At) {
		return msg.New("roads.turn")
	}
	b.turns = append(b.turns, t)
	return nil
}

// Stretches is how many there are.
func (b *Builder) Stretches() int { return len(b.region.roads) }

// Build makes the region. progress is told, from time to time, how many of how many junctions are contracted; it may be nil. The builder
// is of no use after it.
func (b *Builder) Build(progress func(done, all int)) (*Region, error) {
	r := &b.region
	if len(r.roads) == 0 {
		return nil, msg.New("roads.none")
	}
	r.Source = b.Source
	nodes := b.takeApart()
	order := contract(nodes, &r.arcs, progress)
	r.renumber(order)
	r.cells = cellsOf(r)
	return r, nil
}

// takeApart makes the arcs. A junction becomes a node, or several: those who come by a stretch from which not every turn may be taken come
// to a node of their own, from which only what may be taken leads on. It gives the number of nodes.
func (b *Builder) takeApart() int {
	r := &b.region
	n := int32(b.junctions)
	type coming struct{ way, at int32 } // in which direction of a stretch, to which junction
	apart := map[coming]int32{}         // to a node of its own
	allowed := map[coming]func(road int) bool{}
	for _, t := range b.turns {
		for way, to := range []int{b.ends[t.By][1], b.ends[t.By][0]} {
			if to != t.At {
				continue
			}
			c := coming{int32(2*t.By + way), int32(t.At)}
			if _, there := apart[c]; !there {
				apart[c] = n
				n++
			}
			before, on, only := allowed[c], t.On, t.Only
			allowed[c] = func(road int) bool { return (road == on) == only && (before == nil || before(road)) }
		}
	}
	copies := map[int32][]coming{} // of a junction
	for c := range apart {
		copies[c.at] = append(copies[c.at], c)
	}
	for _, list := range copies {
		slices.SortFunc(list, func(x, y coming) int { return cmp.Compare(x.way, y.way) })
	}
	r.there, r.back = make([]ends, len(r.roads)), make([]ends, len(r.roads))
	for i, x := range r.roads {
		for way, cost := range []uint32{x.there, x.back} {
			from, to := int32(b.ends[i][way]), int32(b.ends[i][1-way])
			e := ends{head: -1}
			if cost > 0 {
				number := int32(2*i + way)
				e.head = to
				if own, is := apart[coming{number, to}]; is {
					e.head = own
				}
				e.tails = []int32{from}
				for _, c := range copies[from] {
					if allowed[c](i) {
						e.tails = append(e.tails, apart[c])
					}
				}
				one := arc{to: e.head, cost: cost, metres: x.metres, a: number, b: -1}
				if Classes[x.class] == Ferry {
					one.ferry = cost
				}
				for _, tail := range e.tails {
					one.from = tail
					r.arcs = append(r.arcs, one)
				}
			}
			if way == 0 {
				r.there[i] = e
			} else {
				r.back[i] = e
			}
		}
	}
	return int(n)
}

// renumber gives nodes the numbers of the order in which they were contracted, and puts the arcs where they are searched from.
func (r *Region) renumber(order []int32) {
	number := make([]int32, len(order))
	for at, n := range order {
		number[n] = int32(at)
	}
	for i := range r.arcs {
		a := &r.arcs[i]
		a.from, a.to = number[a.from], number[a.to]
	}
	for _, all := range [][]ends{r.there, r.back} {
		for i := range all {
			if all[i].head >= 0 {
				all[i].head = number[all[i].head]
			}
			for k, t := range all[i].tails {
				all[i].tails[k] = number[t]
			}
		}
	}
	r.link(len(order))
}

// link puts the arcs into the stars.
func (r *Region) link(nodes int) {
	r.up = starOf(nodes, r.arcs, func(a arc) (int32, bool) { return a.from, a.from < a.to })
	r.down = starOf(nodes, r.arcs, func(a arc) (int32, bool) { return a.to, a.to < a.from })
}

func starOf(nodes int, arcs []arc, at func(arc) (int32, bool)) star {
	s := star{first: make([]int32, nodes+1)}
	for _, a := range arcs {
		if n, in := at(a); in {
			s.first[n+1]++
		}
	}
	for n := range nodes {
		s.first[n+1] += s.first[n]
	}
	s.list = make([]int32, s.first[nodes])
	next := slices.Clone(s.first)
	for i, a := range arcs {
		if n, in := at(a); in {
			s.list[next[n]] = int32(i)
			next[n]++
		}
	}
	return s
}

const perDegree = 1e7

func spotAt(p records.Point) spot {
	return spot{int32(math.Round(p.Lat * perDegree)), int32(math.Round(p.Lon * perDegree))}
}

func (s spot) point() records.Point {
	return records.Point{Lat: float64(s.lat) / perDegree, Lon: float64(s.lon) / perDegree}
}

// Lines gives the stretches one by one, as a map draws them.
func (r *Region) Lines(each func(class Class, name string, line []records.Point)) {
	for _, x := range r.roads {
		line := make([]records.Point, 0, x.to-x.from)
		for _, s := range r.points[x.from:x.to] {
			line = append(line, s.point())
		}
		each(Classes[x.class], r.names[x.name], line)
	}
}
