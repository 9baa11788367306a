// Package roads is a road network: which way from one place to another, how far it is and how long it takes.
//
// Coast is the network of the scenario's coast. It stands in for a service that knows the roads: whoever has a real one gives
// its network in the same form, or another plan.Roads.
package roads

import (
	"bufio"
	"container/heap"
	_ "embed"
	"fmt"
	"io"
	"math"
	"strconv"
	"strings"
	"sync"

	"iter.example/iter/core/records"
)

// Class is a kind of road.
type Class string

const (
	Main  Class = "main"
	Lane  Class = "lane"
	Ferry Class = "ferry"
)

// Values lists the classes, for generated types.
func (Class) Values() []string { return []string{string(Main), string(Lane), string(Ferry)} }

// speeds are in metres a second. A ferry is waited for.
var speeds = map[Class]float64{Main: 17, Lane: 9.5, Ferry: 5}

const ferryWait = 8 * 60 // seconds

// farthest is how far off a road a place may lie and still be reached by it, in metres.
const farthest = 4000

// offRoad is the speed between a place and the road, in metres a second.
const offRoad = 5

// Way is how to get from one place to another.
type Way struct {
	Seconds int             `json:"seconds"`
	Metres  int             `json:"metres"`
	Line    []records.Point `json:"line"`
	Parts   []Part          `json:"parts"`
}

// Part is a stretch of a way along one road.
type Part struct {
	Name    string `json:"name"`
	Class   Class  `json:"class"`
	Metres  int    `json:"metres"`
	Seconds int    `json:"seconds"`
}

// Network is roads between points.
type Network struct {
	Land  [][]records.Point // the shores, as closed lines
	nodes []records.Point
	edges []edge
	at    [][]int // edges at each node
}

type edge struct {
	a, b            int
	class           Class
	name            string
	metres, seconds float64
}

//go:embed coast.txt
var coast string

// Coast gives the network of the scenario's coast.
var Coast = sync.OnceValue(func() *Network {
	n, err := Read(strings.NewReader(coast))
	if err != nil {
		panic("roads: the coast that ships with the program can't be read: " + err.Error())
	}
	return n
})

// Read reads a network: lines of "land", "node" and "edge", in which positions are degrees north and east times 100 000, and
// an edge has two nodes by their order, a class and a name.
func Read(r io.Reader) (*Network, error) {
	n := &Network{}
	lines := bufio.NewScanner(r)
	lines.Buffer(nil, 1<<20)
	for number := 1; lines.Scan(); number++ {
		if err := n.line(strings.Fields(lines.Text())); err != nil {
			return nil, fmt.Errorf("line %d: %w", number, err)
		}
	}
	return n, lines.Err()
}

func (n *Network) line(f []string) error {
	if len(f) == 0 {
		return nil
	}
	switch f[0] {
	case "land", "node":
		if len(f)%2 == 0 || len(f) < 3 {
			return fmt.Errorf("%s without positions", f[0])
		}
		var line []records.Point
		for i := 1; i < len(f); i += 2 {
			lat, err := strconv.Atoi(f[i])
			if err != nil {
				return err
			}
			lon, err := strconv.Atoi(f[i+1])
			if err != nil {
				return err
			}
			line = append(line, records.Point{Lat: float64(lat) / 1e5, Lon: float64(lon) / 1e5})
		}
		if f[0] == "land" {
			n.Land = append(n.Land, line)
			return nil
		}
		n.nodes, n.at = append(n.nodes, line[0]), append(n.at, nil)
	case "edge":
		if len(f) < 5 {
			return fmt.Errorf("an edge lacks something")
		}
		a, erra := strconv.Atoi(f[1])
		b, errb := strconv.Atoi(f[2])
		class := Class(f[3])
		if erra != nil || errb != nil || a < 0 || b < 0 || a >= len(n.nodes) || b >= len(n.nodes) || speeds[class] == 0 {
			return fmt.Errorf("an edge between %s and %s, %s", f[1], f[2], f[3])
		}
		e := edge{a: a, b: b, class: class, name: strings.Join(f[4:], " "), metres: Metres(n.nodes[a], n.nodes[b])}
		e.seconds = e.metres / speeds[class]
		if class == Ferry {
			e.seconds += ferryWait
		}
		n.edges = append(n.edges, e)
		n.at[a], n.at[b] = append(n.at[a], len(n.edges)-1), append(n.at[b], len(n.edges)-1)
	default:
		return fmt.Errorf("nobody knows what a %q is", f[0])
	}
	return nil
}

// Metres is the distance between two points near each other.
func Metres(a, b records.Point) float64 {
	const degree = 111_200
	return math.Hypot((a.Lat-b.Lat)*degree, (a.Lon-b.Lon)*degree*math.Cos(a.Lat*math.Pi/180))
}

// Lines gives the roads as lines, by class.
func (n *Network) Lines() map[Class][][2]records.Point {
	out := map[Class][][2]records.Point{}
	for _, e := range n.edges {
		out[e.class] = append(out[e.class], [2]records.Point{n.nodes[e.a], n.nodes[e.b]})
	}
	return out
}

// Nodes gives the points that roads join.
func (n *Network) Nodes() []records.Point { return n.nodes }

// nearest finds the node nearest to a point, and how far off it is in metres.
func (n *Network) nearest(p records.Point) (at int, off float64) {
	at, off = -1, math.Inf(1)
	for i, q := range n.nodes {
		if d := Metres(p, q); d < off {
			at, off = i, d
		}
	}
	return at, off
}

// Ways finds the quickest way from one place to each of several; nil where there is none, or a place is far from any road.
func (n *Network) Ways(from records.Point, to ...records.Point) []*Way {
	out := make([]*Way, len(to))
	start, off := n.nearest(from)
	if off > farthest {
		return out
	}
	seconds, by := n.search(start)
	for i, p := range to {
		end, last := n.nearest(p)
		if last > farthest || math.IsInf(seconds[end], 1) {
			continue
		}
		out[i] = n.way(from, p, start, end, by, off+last)
	}
	return out
}

// way follows the edges back from the end.
func (n *Network) way(from, to records.Point, start, end int, by []int, off float64) *Way {
	w := &Way{Line: []records.Point{to}, Parts: []Part{}}
	metres, seconds := off, off/offRoad
	var back []edge
	for at := end; at != start; {
		e := n.edges[by[at]]
		w.Line = append(w.Line, n.nodes[at])
		back = append(back, e)
		at = e.a + e.b - at
	}
	w.Line = append(w.Line, n.nodes[start], from)
	for i, j := 0, len(w.Line)-1; i < j; i, j = i+1, j-1 {
		w.Line[i], w.Line[j] = w.Line[j], w.Line[i]
	}
	var length, time float64 // of the last part
	for i := len(back) - 1; i >= 0; i-- {
		e := back[i]
		metres, seconds = metres+e.metres, seconds+e.seconds
		if k := len(w.Parts); k == 0 || w.Parts[k-1].Name != e.name {
			w.Parts = append(w.Parts, Part{Name: e.name, Class: e.class})
			length, time = 0, 0
		}
		length, time = length+e.metres, time+e.seconds
		p := &w.Parts[len(w.Parts)-1]
		p.Metres, p.Seconds = int(math.Round(length)), int(math.Round(time))
	}
	w.Metres, w.Seconds = int(math.Round(metres)), int(math.Round(seconds))
	return w
}

// search finds the time to every node from one, and the edge by which each is reached: Dijkstra's algorithm.
func (n *Network) search(start int) (seconds []float64, by []int) {
	seconds, by = make([]float64, len(n.nodes)), make([]int, len(n.nodes))
	for i := range seconds {
		seconds[i] = math.Inf(1)
	}
	seconds[start] = 0
	q := &queue{{start, 0}}
	for q.Len() > 0 {
		x := heap.Pop(q).(reached)
		if x.seconds > seconds[x.node] {
			continue
		}
		for _, i := range n.at[x.node] {
			e := n.edges[i]
			to := e.a + e.b - x.node
			if s := x.seconds + e.seconds; s < seconds[to] {
				seconds[to], by[to] = s, i
				heap.Push(q, reached{to, s})
			}
		}
	}
	return seconds, by
}

type reached struct {
	node    int
	seconds float64
}

type queue []reached

func (q queue) Len() int           { return len(q) }
func (q queue) Less(i, j int) bool { return q[i].seconds < q[j].seconds }
func (q queue) Swap(i, j int)      { q[i], q[j] = q[j], q[i] }
func (q *queue) Push(x any)        { *q = append(*q, x.(reached)) }
func (q *queue) Pop() any          { o := *q; x := o[len(o)-1]; *q = o[:len(o)-1]; return x }
