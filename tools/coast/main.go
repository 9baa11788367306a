// Command coast makes the coast of the scenario: its land, its roads and its ferries, its woods, and the streets and houses of its places.
// It prints them as an OpenStreetMap extract, which the demo reads like a real firm's:
//
//	go run ./tools/coast > server/demo/coast.osm
//
// Land is noise lifted around the places and towards the east. Main roads join the places along the cheapest way over a grid
// of land; lanes join what lies off them; ferries join what the sea parts.
package main

import (
	"bufio"
	"container/heap"
	"fmt"
	"io"
	"math"
	"math/rand"
	"os"
	"sort"
)

const (
	south, north = 54.645, 54.945
	west, east   = -9.470, -8.895
	rows, cols   = 84, 92
)

var places = []struct {
	name     string
	lat, lon float64
}{
	{"Orrisk", 54.812, -9.214}, {"Vellamouth", 54.776, -9.131}, {"Tessary", 54.861, -9.302}, {"Haldwick", 54.731, -9.055},
	{"Lamm", 54.705, -9.177}, {"Pennelby", 54.748, -8.982},
	{"Kessel", 54.822, -9.073}, {"Tarrel", 54.893, -9.187}, {"Innisgarve", 54.874, -9.421}, {"Skarrow", 54.921, -9.268},
	{"Dunmarrow", 54.667, -9.091}, {"Fethering", 54.694, -8.934},
	{"Quay Sound", 54.789, -9.252}, {"Marrable", 54.842, -8.967},
}

var r = rand.New(rand.NewSource(7))

// noise is smooth random height, of several sizes.
type noise struct{ grids [][]float64 }

const grain = 40

func newNoise() noise {
	var n noise
	for range 4 {
		g := make([]float64, grain*grain)
		for i := range g {
			g[i] = r.Float64()*2 - 1
		}
		n.grids = append(n.grids, g)
	}
	return n
}

func (n noise) at(y, x float64) float64 {
	sum, size, scale := 0.0, 1.0, 7.0
	for _, g := range n.grids {
		fy, fx := y*scale, x*scale
		iy, ix := int(fy), int(fx)
		ty, tx := smooth(fy-float64(iy)), smooth(fx-float64(ix))
		v := func(a, b int) float64 { return g[(a%grain)*grain+b%grain] }
		sum += size * ((v(iy, ix)*(1-tx)+v(iy, ix+1)*tx)*(1-ty) + (v(iy+1, ix)*(1-tx)+v(iy+1, ix+1)*tx)*ty)
		size, scale = size*0.55, scale*1.9
	}
	return sum
}

func smooth(t float64) float64 { return t * t * (3 - 2*t) }

type point struct{ lat, lon float64 }

func metres(a, b point) float64 {
	y := (a.lat - b.lat) * 111_200
	x := (a.lon - b.lon) * 111_200 * math.Cos(a.lat*math.Pi/180)
	return math.Hypot(x, y)
}

func cell(i, j float64) point {
	return point{south + (north-south)*i/(rows-1), west + (east-west)*j/(cols-1)}
}

func main() {
	hills, rough := newNoise(), newNoise()
	height := make([]float64, rows*cols)
	for i := range rows {
		for j := range cols {
			y, x := float64(i)/rows, float64(j)/cols
			h := hills.at(y, x)*1.25 + (x-0.78)*1.5
			p := cell(float64(i), float64(j))
			for _, q := range places {
				d := metres(p, point{q.lat, q.lon})
				h += 1.5 * math.Exp(-d*d/(2*1500*1500))
			}
			if i == 0 || j == 0 || i == rows-1 { // the sea is all round but in the east
				h = -1
			}
			height[i*cols+j] = h
		}
	}
	out := bufio.NewWriter(os.Stdout)
	defer out.Flush()
	n := build(height, rough)
	extract(out, n, shore(height), shore(wooded(height)), towns(n, height))
}

// tags say how the roads of each class are driven: 0.9 of the limit.
var tags = map[string]string{
	"main":  `<tag k="highway" v="primary"/><tag k="maxspeed" v="68"/>`,
	"lane":  `<tag k="highway" v="unclassified"/><tag k="maxspeed" v="38"/>`,
	"ferry": `<tag k="route" v="ferry"/>`,
}

// extract prints the coast as an OpenStreetMap extract: junctions, the places, shores and all else first, then what joins them.
func extract(out io.Writer, n *network, land, woods [][]point, towns []town) {
	fmt.Fprintln(out, `<?xml version="1.0" encoding="UTF-8"?>`)
	fmt.Fprintln(out, `<osm version="0.6" generator="tools/coast" license="A made-up coast, free to use">`)
	id := 0
	node := func(p point, inner string) int {
		id++
		if inner == "" {
			fmt.Fprintf(out, "<node id=\"%d\" version=\"1\" lat=\"%.5f\" lon=\"%.5f\"/>\n", id, p.lat, p.lon)
		} else {
			fmt.Fprintf(out, "<node id=\"%d\" version=\"1\" lat=\"%.5f\" lon=\"%.5f\">%s</node>\n", id, p.lat, p.lon, inner)
		}
		return id
	}
	line := func(points []point) (out []int) {
		for _, p := range points {
			out = append(out, node(p, ""))
		}
		return out
	}
	ring := func(points []point) []int {
		out := line(points)
		return append(out, out[0])
	}
	junctions := line(n.points)
	for _, p := range places {
		node(point{p.lat, p.lon}, fmt.Sprintf(`<tag k="place" v="%s"/><tag k="name" v="%s"/>`, classes[p.name], p.name))
	}
	type drawn struct {
		nodes []int
		tags  string
	}
	var ways []drawn
	for _, e := range n.edges {
		ways = append(ways, drawn{[]int{junctions[e.a], junctions[e.b]}, tags[e.class] + fmt.Sprintf(`<tag k="name" v="%s"/>`, e.name)})
	}
	for _, l := range land {
		ways = append(ways, drawn{ring(l), `<tag k="natural" v="coastline"/>`})
	}
	for _, l := range woods {
		if turnsLeft(l) {
			ways = append(ways, drawn{ring(l), `<tag k="landuse" v="forest"/>`})
		}
	}
	for _, t := range towns {
		ways = append(ways, drawn{ring(t.ground), `<tag k="landuse" v="residential"/>`})
		for _, s := range t.streets {
			nodes := append([]int{junctions[t.junction]}, line(s.line)...)
			ways = append(ways, drawn{nodes, fmt.Sprintf(`<tag k="highway" v="residential"/><tag k="name" v="%s"/>`, s.name)})
			for _, h := range s.houses {
				ways = append(ways, drawn{ring(h.corners), fmt.Sprintf(
					`<tag k="building" v="yes"/><tag k="addr:street" v="%s"/><tag k="addr:housenumber" v="%d"/><tag k="addr:city" v="%s"/>`,
					s.name, h.number, t.name)})
			}
		}
	}
	for i, w := range ways {
		fmt.Fprintf(out, "<way id=\"%d\" version=\"1\">", i+1)
		for _, x := range w.nodes {
			fmt.Fprintf(out, "<nd ref=\"%d\"/>", x)
		}
		fmt.Fprintf(out, "%s</way>\n", w.tags)
	}
	fmt.Fprintln(out, "</osm>")
}

// shore traces where the height is zero, as closed lines, by marching squares. The map's edge in the east is closed too.
func shore(height []float64) [][]point {
	at := func(i, j int) float64 {
		if i < 0 || j < 0 || i >= rows || j >= cols {
			return -1
		}
		return height[i*cols+j]
	}
	type key struct{ i, j, side int } // an edge of the grid: from (i, j) right, side 0, or up, side 1
	next := map[key]key{}
	for i := -1; i < rows; i++ {
		for j := -1; j < cols; j++ {
			bits := 0
			for k, c := range [4][2]int{{i, j}, {i, j + 1}, {i + 1, j + 1}, {i + 1, j}} {
				if at(c[0], c[1]) > 0 {
					bits |= 1 << k
				}
			}
			bottom, right, top, left := key{i, j, 0}, key{i, j + 1, 1}, key{i + 1, j, 0}, key{i, j, 1}
			link := func(a, b key) { next[a] = b }
			switch bits {
			case 1:
				link(bottom, left)
			case 2:
				link(right, bottom)
			case 3:
				link(right, left)
			case 4:
				link(top, right)
			case 5:
				link(bottom, left)
				link(top, right)
			case 6:
				link(top, bottom)
			case 7:
				link(top, left)
			case 8:
				link(left, top)
			case 9:
				link(bottom, top)
			case 10:
				link(right, bottom)
				link(left, top)
			case 11:
				link(right, top)
			case 12:
				link(left, right)
			case 13:
				link(bottom, right)
			case 14:
				link(left, bottom)
			}
		}
	}
	where := func(k key) point {
		a, b := at(k.i, k.j), 0.0
		di, dj := 0.0, 0.0
		if k.side == 0 {
			b, dj = at(k.i, k.j+1), 1
		} else {
			b, di = at(k.i+1, k.j), 1
		}
		t := a / (a - b)
		return cell(float64(k.i)+di*t, float64(k.j)+dj*t)
	}
	var starts []key
	for k := range next {
		starts = append(starts, k)
	}
	sort.Slice(starts, func(a, b int) bool {
		x, y := starts[a], starts[b]
		return x.i < y.i || (x.i == y.i && (x.j < y.j || (x.j == y.j && x.side < y.side)))
	})
	var lines [][]point
	for _, s := range starts {
		var line []point
		for k, ok := s, true; ok; {
			n, has := next[k]
			if !has {
				break
			}
			delete(next, k)
			line = append(line, where(k))
			k, ok = n, n != s
		}
		if len(line) > 6 { // no rocks
			lines = append(lines, line)
		}
	}
	return lines
}

type edge struct {
	a, b        int
	class, name string
}

type network struct {
	points []point
	edges  []edge
	index  map[int]int  // of a cell
	have   map[int]bool // edges by their cells
}

func build(height []float64, rough noise) *network {
	n := &network{index: map[int]int{}, have: map[int]bool{}}
	land := func(c int) bool { return height[c] > 0.04 }
	nearest := func(p point) int {
		best, at := math.Inf(1), -1
		for c := range height {
			if d := metres(p, cell(float64(c/cols), float64(c%cols))); land(c) && d < best {
				best, at = d, c
			}
		}
		return at
	}
	island := islands(land)
	var towns []int
	for _, p := range places {
		towns = append(towns, nearest(point{p.lat, p.lon}))
	}
	for _, c := range towns {
		n.node(c)
	}
	// Main roads: each place with its three nearest on the same land.
	for i, a := range towns {
		type other struct {
			k int
			d float64
		}
		var near []other
		for k, b := range towns {
			if k != i && island[a] == island[b] {
				near = append(near, other{k, metres(point{places[i].lat, places[i].lon}, point{places[k].lat, places[k].lon})})
			}
		}
		sort.Slice(near, func(x, y int) bool { return near[x].d < near[y].d })
		for _, o := range near[:min(3, len(near))] {
			name := places[min(i, o.k)].name + "–" + places[max(i, o.k)].name + " road"
			n.pave(path(height, rough, n, land, a, func(c int) bool { return c == towns[o.k] }), "main", name)
		}
	}
	// Lanes: to what lies off the roads.
	names := []string{"Slip Lane", "Kiln Road", "Back Strand", "Mill Brae", "Causeway", "Chapel Hill", "Long Dyke", "Peat Track",
		"Heron Walk", "Salt Pans Road"}
	for k := range 260 {
		c := r.Intn(len(height))
		if _, ok := n.index[c]; ok || !land(c) {
			continue
		}
		mine := island[c]
		onRoad := func(x int) bool { _, ok := n.index[x]; return ok && island[x] == mine }
		if line := path(height, rough, n, land, c, onRoad); line != nil && len(line) < 26 {
			n.pave(line, "lane", names[k%len(names)])
		}
	}
	// Ferries: the two nearest road ends of each two lands that have roads, where the way is short or the only one.
	var cells []int
	for c := range n.index {
		cells = append(cells, c)
	}
	sort.Ints(cells)
	joined := map[int]int{}
	var root func(int) int
	root = func(i int) int {
		if p, ok := joined[i]; ok && p != i {
			return root(p)
		}
		return i
	}
	type gap struct {
		a, b int
		d    float64
	}
	best := map[[2]int]gap{}
	for _, a := range cells {
		for _, b := range cells {
			if island[a] < island[b] {
				d := metres(cell(float64(a/cols), float64(a%cols)), cell(float64(b/cols), float64(b%cols)))
				k := [2]int{island[a], island[b]}
				if have, ok := best[k]; !ok || d < have.d {
					best[k] = gap{a, b, d}
				}
			}
		}
	}
	var all []gap
	for _, c := range best {
		all = append(all, c)
	}
	sort.Slice(all, func(i, j int) bool { return all[i].d < all[j].d || (all[i].d == all[j].d && all[i].a < all[j].a) })
	for _, c := range all {
		if x, y := root(island[c.a]), root(island[c.b]); x != y {
			joined[x] = y
			n.edges = append(n.edges, edge{n.index[c.a], n.index[c.b], "ferry", crossing(place(c.a), place(c.b))})
		}
	}
	return n
}

// place names the place nearest to a cell.
func place(c int) string {
	p := cell(float64(c/cols), float64(c%cols))
	best, name := math.Inf(1), ""
	for _, q := range places {
		if d := metres(p, point{q.lat, q.lon}); d < best {
			best, name = d, q.name
		}
	}
	return name
}

func crossing(a, b string) string {
	if a == b {
		return a + " ferry"
	}
	return a + "–" + b + " ferry"
}

// islands numbers the lands.
func islands(land func(int) bool) []int {
	out := make([]int, rows*cols)
	count := 0
	for c := range out {
		if out[c] != 0 || !land(c) {
			continue
		}
		count++
		out[c] = count
		for queue := []int{c}; len(queue) > 0; queue = queue[1:] {
			for _, x := range around(queue[0]) {
				if out[x] == 0 && land(x) {
					out[x] = count
					queue = append(queue, x)
				}
			}
		}
	}
	return out
}

func around(c int) (out []int) {
	i, j := c/cols, c%cols
	for di := -1; di <= 1; di++ {
		for dj := -1; dj <= 1; dj++ {
			if a, b := i+di, j+dj; (di != 0 || dj != 0) && a >= 0 && b >= 0 && a < rows && b < cols {
				out = append(out, a*cols+b)
			}
		}
	}
	return out
}

type item struct {
	c int
	d float64
}
type pile []item

func (p pile) Len() int           { return len(p) }
func (p pile) Less(i, j int) bool { return p[i].d < p[j].d }
func (p pile) Swap(i, j int)      { p[i], p[j] = p[j], p[i] }
func (p *pile) Push(x any)        { *p = append(*p, x.(item)) }
func (p *pile) Pop() any          { o := *p; x := o[len(o)-1]; *p = o[:len(o)-1]; return x }

// path is the cheapest way over land from a cell to one that is wanted: existing roads are cheap, rough land is not.
func path(height []float64, rough noise, n *network, land func(int) bool, from int, wanted func(int) bool) []int {
	dist, prev := map[int]float64{from: 0}, map[int]int{}
	q := &pile{{from, 0}}
	for q.Len() > 0 {
		it := heap.Pop(q).(item)
		if it.d > dist[it.c] {
			continue
		}
		if it.c != from && wanted(it.c) {
			line := []int{it.c}
			for c := it.c; c != from; {
				c = prev[c]
				line = append(line, c)
			}
			return line
		}
		for _, x := range around(it.c) {
			if !land(x) {
				continue
			}
			step := math.Hypot(float64(x/cols-it.c/cols), float64(x%cols-it.c%cols)) * (1.6 +
				rough.at(float64(x/cols)/rows*1.7, float64(x%cols)/cols*1.7))
			if n.have[min(x, it.c)*rows*cols+max(x, it.c)] {
				step *= 0.35
			}
			if d := it.d + math.Max(step, 0.1); dist[x] == 0 && x != from || d < dist[x] {
				dist[x], prev[x] = d, it.c
				heap.Push(q, item{x, d})
			}
		}
	}
	return nil
}

// pave makes a road of a line of cells, where there is none yet.
func (n *network) pave(line []int, class, name string) {
	for k := 1; k < len(line); k++ {
		a, b := line[k-1], line[k]
		id := min(a, b)*rows*cols + max(a, b)
		if n.have[id] {
			continue
		}
		n.have[id] = true
		n.edges = append(n.edges, edge{n.node(a), n.node(b), class, name})
	}
}

// node gives the node of a cell, a little off the grid.
func (n *network) node(c int) int {
	if i, ok := n.index[c]; ok {
		return i
	}
	p := cell(float64(c/cols)+(r.Float64()-0.5)*0.55, float64(c%cols)+(r.Float64()-0.5)*0.55)
	n.points = append(n.points, p)
	n.index[c] = len(n.points) - 1
	return len(n.points) - 1
}
