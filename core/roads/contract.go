package roads

import "math"

// contract adds to the arcs the shortcuts of a contraction hierarchy, and gives the nodes in the order in which they were contracted: those
// first whose going leaves the least behind.
func contract(nodes int, arcs *[]arc, progress func(done, all int)) []int32 {
	c := &contractor{arcs: arcs, out: make([][]int32, nodes), in: make([][]int32, nodes), level: make([]int32, nodes),
		hops: make([]int32, len(*arcs)), witness: newLabels(nodes)}
	for i := range *arcs {
		c.hops[i] = 1
		c.link(int32(i))
	}
	q := make(byPriority, nodes)
	for n := range q {
		q[n] = ranked{int32(n), c.priority(int32(n))}
	}
	q.init()
	order := make([]int32, 0, nodes)
	for len(q) > 0 {
		n := q[0].node
		if p := c.priority(n); len(q) > 1 && p > q.second() {
			q[0].priority = p
			q.fix() // what went before has made it dearer: another is next
			continue
		}
		q.pop()
		c.remove(n)
		order = append(order, n)
		if progress != nil && len(order)%progressEach == 0 {
			progress(len(order), nodes)
		}
	}
	return order
}

const progressEach = 10_000

// contractor holds what is left of the network while nodes are contracted.
type contractor struct {
	arcs *[]arc
	// out and in are the arcs from and to each node that is left, one for each neighbour: the quickest.
	out, in [][]int32
	hops    []int32 // how many stretches an arc stands for
	level   []int32
	witness *labels
	plan    []arc
}

// link has an arc be among those that are left, unless another is as quick; it takes the place of one that is slower.
func (c *contractor) link(i int32) {
	a := (*c.arcs)[i]
	if a.from == a.to {
		return
	}
	for k, j := range c.out[a.from] {
		if b := (*c.arcs)[j]; b.to == a.to {
			if b.cost <= a.cost {
				return
			}
			c.out[a.from][k] = i
			for m, x := range c.in[a.to] {
				if x == j {
					c.in[a.to][m] = i
				}
			}
			return
		}
	}
	c.out[a.from] = append(c.out[a.from], i)
	c.in[a.to] = append(c.in[a.to], i)
}

// How far the search for a way around goes, in nodes settled: to see what a node leaves behind, and when it goes.
const (
	looks = 60
	seeks = 400
)

// priority says how late a node should go: later the more it leaves behind and the more went around it.
func (c *contractor) priority(n int32) float32 {
	removed, hopsRemoved := len(c.in[n])+len(c.out[n]), int32(0)
	for _, list := range [][]int32{c.in[n], c.out[n]} {
		for _, i := range list {
			hopsRemoved += c.hops[i]
		}
	}
	if removed == 0 {
		return float32(c.level[n])
	}
	c.shortcuts(n, looks)
	hopsAdded := int32(0)
	for _, s := range c.plan {
		hopsAdded += c.hops[s.a] + c.hops[s.b]
	}
	return float32(c.level[n]) + 2*float32(len(c.plan))/float32(removed) + float32(hopsAdded)/float32(hopsRemoved)
}

// shortcuts plans the arcs that must stand in for a node: from each neighbour to each other between which the way over it is the quickest.
func (c *contractor) shortcuts(n int32, settle int) {
	c.plan = c.plan[:0]
	arcs := *c.arcs
	farthest := uint32(0)
	for _, j := range c.out[n] {
		farthest = max(farthest, arcs[j].cost)
	}
	for _, i := range c.in[n] {
		a := arcs[i]
		c.search(a.from, n, a.cost+farthest, settle)
		for _, j := range c.out[n] {
			b := arcs[j]
			if b.to == a.from {
				continue
			}
			via := a.cost + b.cost
			if d, ok := c.witness.at(b.to); ok && d <= via {
				continue
			}
			c.plan = append(c.plan, arc{from: a.from, to: b.to, cost: via, ferry: a.ferry + b.ferry, metres: a.metres + b.metres, a: i, b: j})
		}
	}
}

// search finds how quickly others are reached from a node without going over another: Dijkstra's algorithm, no farther than it must.
func (c *contractor) search(from, without int32, farthest uint32, settle int) {
	w := c.witness
	w.clear()
	w.put(from, 0)
	for settled := 0; settled < settle; settled++ {
		n, d, ok := w.pop()
		if !ok || d > farthest {
			return
		}
		for _, i := range c.out[n] {
			if a := (*c.arcs)[i]; a.to != without {
				w.put(a.to, d+a.cost)
			}
		}
	}
}

// remove contracts a node.
func (c *contractor) remove(n int32) {
	c.shortcuts(n, seeks)
	for _, s := range c.plan {
		*c.arcs = append(*c.arcs, s)
		c.hops = append(c.hops, c.hops[s.a]+c.hops[s.b])
	}
	first := int32(len(*c.arcs) - len(c.plan))
	for _, i := range c.in[n] {
		from := (*c.arcs)[i].from
		c.out[from] = without(c.out[from], func(j int32) bool { return (*c.arcs)[j].to == n })
		c.level[from] = max(c.level[from], c.level[n]+1)
	}
	for _, i := range c.out[n] {
		to := (*c.arcs)[i].to
		c.in[to] = without(c.in[to], func(j int32) bool { return (*c.arcs)[j].from == n })
		c.level[to] = max(c.level[to], c.level[n]+1)
	}
	c.in[n], c.out[n] = nil, nil
	for k := range c.plan {
		c.link(first + int32(k))
	}
}

// without takes out of a list, whose order is nobody's.
func without(list []int32, gone func(int32) bool) []int32 {
	for i := 0; i < len(list); {
		if gone(list[i]) {
			list[i] = list[len(list)-1]
			list = list[:len(list)-1]
			continue
		}
		i++
	}
	return list
}

// labels are how quickly nodes are reached, with a heap of those that are not settled. Cleared, they cost nothing.
type labels struct {
	round uint32
	seen  []uint32 // in which round
	cost  []uint32
	by    []int32 // what a node is reached by, where that is asked
	heap  []reach
}

type reach struct {
	cost uint32
	node int32
}

func newLabels(nodes int) *labels {
	return &labels{seen: make([]uint32, nodes), cost: make([]uint32, nodes), by: make([]int32, nodes)}
}

func (l *labels) clear() {
	if l.round == math.MaxUint32 {
		clear(l.seen)
		l.round = 0
	}
	l.round++
	l.heap = l.heap[:0]
}

// at is how quickly a node is reached, as far as is known.
func (l *labels) at(n int32) (uint32, bool) { return l.cost[n], l.seen[n] == l.round }

// put has a node be reached, unless it is as quickly already.
func (l *labels) put(n int32, cost uint32) bool {
	if l.seen[n] == l.round && l.cost[n] <= cost {
		return false
	}
	l.seen[n], l.cost[n] = l.round, cost
	l.heap = append(l.heap, reach{cost, n})
	for i := len(l.heap) - 1; i > 0; {
		up := (i - 1) / 2
		if l.heap[up].cost <= l.heap[i].cost {
			break
		}
		l.heap[up], l.heap[i] = l.heap[i], l.heap[up]
		i = up
	}
	return true
}

// pop settles the node that is reached the quickest.
func (l *labels) pop() (n int32, cost uint32, ok bool) {
	for len(l.heap) > 0 {
		first := l.heap[0]
		last := len(l.heap) - 1
		l.heap[0] = l.heap[last]
		l.heap = l.heap[:last]
		for i := 0; ; {
			least := i
			for _, child := range [2]int{2*i + 1, 2*i + 2} {
				if child < last && l.heap[child].cost < l.heap[least].cost {
					least = child
				}
			}
			if least == i {
				break
			}
			l.heap[least], l.heap[i] = l.heap[i], l.heap[least]
			i = least
		}
		if l.cost[first.node] == first.cost {
			return first.node, first.cost, true
		}
	}
	return 0, 0, false
}

// least is the least cost in the heap; the largest there is when it is empty.
func (l *labels) least() uint32 {
	if len(l.heap) == 0 {
		return math.MaxUint32
	}
	return l.heap[0].cost
}

// ranked is a node by how late it should go.
type ranked struct {
	node     int32
	priority float32
}

// byPriority is a heap, the first to go at its head.
type byPriority []ranked

func (q byPriority) init() {
	for i := len(q)/2 - 1; i >= 0; i-- {
		q.sink(i)
	}
}

func (q byPriority) fix() { q.sink(0) }

func (q byPriority) sink(i int) {
	for {
		least := i
		for _, child := range [2]int{2*i + 1, 2*i + 2} {
			if child < len(q) && q[child].priority < q[least].priority {
				least = child
			}
		}
		if least == i {
			return
		}
		q[least], q[i] = q[i], q[least]
		i = least
	}
}

// second is the priority of the next but one.
func (q byPriority) second() float32 {
	p := q[1].priority
	if len(q) > 2 {
		p = min(p, q[2].priority)
	}
	return p
}

func (q *byPriority) pop() {
	last := len(*q) - 1
	(*q)[0] = (*q)[last]
	*q = (*q)[:last]
	q.sink(0)
}
