// Package extract reads OpenStreetMap extracts (.osm.pbf and .osm): what of them a region's roads, map and addresses are made of.
package extract

import (
	"bytes"
	"context"
	"io"
	"math"
	"regexp"
	"slices"
	"time"

	"github.com/paulmach/osm"
	"github.com/paulmach/osm/osmpbf"
	"github.com/paulmach/osm/osmxml"

	"iter.example/iter/core/msg"
	"iter.example/iter/core/records"
	"iter.example/iter/core/roads"
	"iter.example/iter/server/addresses"
	"iter.example/iter/server/tiles"
)

// Region is what an extract says of a part of the world.
type Region struct {
	Roads     *roads.Region
	Map       tiles.Map
	Addresses addresses.Region
}

// Told is what was found in an extract, and what of it is not in the region.
type Told struct {
	Ways      int // that a van may drive
	Stretches int // between junctions
	Turns     int // that must not be taken, or the only ones that may be
	// Left out: turns that span several ways or are forbidden at some hours, those that fit no roads here, roads whose points are not in the
	// extract, and roads whose direction changes by the hour.
	TurnsOverWays, TurnsByHour, TurnsLost, WaysCut int
	Places, Houses                                 int // with a name, with a number
}

// Progress is told how far it is: what is under way (reading, building), and how much of how much is done.
type Progress func(step string, done, all int64)

// usualSource is the licence line of extracts that say none.
const usualSource = "© OpenStreetMap contributors, ODbL 1.0"

// Read reads an extract, its buildings only where they are wanted. It is read three times, for what is made of several ways, for ways and
// for points, and only what is wanted of it is held.
func Read(ctx context.Context, from io.ReadSeeker, buildings bool, progress Progress) (*Region, Told, error) {
	e := &reading{from: from, progress: progress, buildings: buildings, ways: map[osm.WayID][]int{}, parts: map[osm.WayID][]part{}}
	if progress == nil {
		e.progress = func(string, int64, int64) {}
	}
	if err := e.read(ctx); err != nil {
		return nil, e.told, err
	}
	r, err := e.builder.Build(func(done, all int) { e.progress("building", int64(done), int64(all)) })
	if err != nil {
		return nil, e.told, err
	}
	e.draw(r)
	e.told.Places, e.told.Houses = len(e.book.Places), len(e.book.Houses)
	return &Region{r, e.ground, e.book}, e.told, nil
}

type reading struct {
	from      io.ReadSeeker
	progress  Progress
	buildings bool
	told      Told
	builder   roads.Builder
	ground    tiles.Map
	book      addresses.Region

	driven []driven
	refs   []int64 // of the nodes of all ways, one after the other
	turns  []turn

	parts  map[osm.WayID][]part // of what is made of several ways
	areas  []area
	shapes []outline
	points []int64 // the nodes of all outlines, one after the other
	houses []housed

	nodes   []int64 // of all ways and outlines, each once, in order
	at      []records.Point
	found   []bool
	join    []bool // where ways meet or end
	blocked []bool
	numbers []int // of junctions in the builder, one more; 0 for none

	ways map[osm.WayID][]int // stretches of each
	ends [][2]int            // nodes at the ends of each stretch, by their place in nodes
}

type driven struct {
	id       osm.WayID
	rule     rule
	name     string
	named    bool // by a name, and not only a number
	from, to int  // in refs
}

type turn struct {
	from, to osm.WayID
	via      osm.NodeID
	only     bool
}

func (e *reading) read(ctx context.Context) error {
	for _, pass := range []struct {
		of   osm.Type
		take func(osm.Object)
	}{{osm.TypeRelation, e.relation}, {osm.TypeWay, e.way}} {
		if err := e.scan(ctx, pass.of, pass.take); err != nil {
			return err
		}
	}
	if len(e.driven) == 0 {
		return msg.New("roads.none")
	}
	e.index()
	if err := e.scan(ctx, osm.TypeNode, e.node); err != nil {
		return err
	}
	for i := range e.driven {
		if err := e.cut(e.driven[i]); err != nil {
			return err
		}
	}
	if e.builder.Stretches() == 0 {
		return msg.New("roads.none")
	}
	e.told.Stretches = e.builder.Stretches()
	return e.turn()
}

// scan reads the extract once: what is of a type.
func (e *reading) scan(ctx context.Context, of osm.Type, each func(osm.Object)) error {
	size, err := e.from.Seek(0, io.SeekEnd)
	if err != nil {
		return err
	}
	if _, err := e.from.Seek(0, io.SeekStart); err != nil {
		return err
	}
	begin := make([]byte, min(size, 4096))
	if _, err := io.ReadFull(e.from, begin); err != nil {
		return err
	}
	if _, err := e.from.Seek(0, io.SeekStart); err != nil {
		return err
	}
	e.builder.Source = sourceOf(begin, e.builder.Source)
	from := &counting{from: e.from}
	var s osm.Scanner
	if text := bytes.TrimLeft(begin, "\ufeff \r\n\t"); bytes.HasPrefix(text, []byte("<")) {
		s = osmxml.New(ctx, from)
	} else {
		pbf := osmpbf.New(ctx, from, 2)
		pbf.SkipNodes, pbf.SkipWays, pbf.SkipRelations = of != osm.TypeNode, of != osm.TypeWay, of != osm.TypeRelation
		s = pbf
	}
	defer s.Close()
	for n := 0; s.Scan(); n++ {
		each(s.Object())
		if n%100_000 == 0 {
			e.progress("reading", from.read, size)
		}
	}
	if err := ctx.Err(); err != nil {
		return err
	}
	if err := s.Err(); err != nil {
		return msg.New("roads.extract", "why", records.Clip(err.Error()))
	}
	return nil
}

type counting struct {
	from io.Reader
	read int64
}

func (c *counting) Read(p []byte) (int, error) {
	n, err := c.from.Read(p)
	c.read += int64(n)
	return n, err
}

var license = regexp.MustCompile(`\blicense="([^"]{1,300})"`)

// sourceOf is the licence line that an extract says in its head.
func sourceOf(begin []byte, known string) string {
	if known != "" {
		return known
	}
	if m := license.FindSubmatch(begin); m != nil {
		return string(m[1])
	}
	return usualSource
}

// way takes what a way is: a road that a van drives, something on the map, a house, a part of any.
func (e *reading) way(o osm.Object) {
	w, ok := o.(*osm.Way)
	if !ok || len(w.Nodes) < 2 {
		return
	}
	if r, ok := drive(w.Tags); ok {
		d := driven{id: w.ID, rule: r, name: nameOf(w.Tags), named: w.Tags.Find("name") != "", from: len(e.refs)}
		for _, n := range w.Nodes {
			e.refs = append(e.refs, int64(n.ID))
		}
		d.to = len(e.refs)
		e.driven = append(e.driven, d)
		e.told.Ways++
	}
	e.outline(w)
}

// relation takes turns, and areas that are made of several ways.
func (e *reading) relation(o osm.Object) {
	if r, ok := o.(*osm.Relation); ok {
		e.restriction(r)
		e.area(r)
	}
}

func nameOf(tags osm.Tags) string {
	for _, key := range []string{"name", "ref"} {
		if v := tags.Find(key); v != "" {
			return short(v)
		}
	}
	return ""
}

// restriction takes a turn at a node from one way to another.
func (e *reading) restriction(o *osm.Relation) {
	if o.Tags.Find("type") != "restriction" {
		return
	}
	kind := o.Tags.Find("restriction:motorcar")
	if kind == "" {
		kind = o.Tags.Find("restriction")
	}
	if kind == "" {
		if o.Tags.Find("restriction:conditional") != "" {
			e.told.TurnsByHour++
		}
		return
	}
	if o.Tags.Find("hour_on") != "" || o.Tags.Find("day_on") != "" {
		e.told.TurnsByHour++
		return
	}
	if regexp.MustCompile(`\b(motorcar|motor_vehicle)\b`).MatchString(o.Tags.Find("except")) {
		return
	}
	t := turn{only: len(kind) > 5 && kind[:5] == "only_"}
	if !t.only && (len(kind) < 3 || kind[:3] != "no_") {
		return
	}
	var from, to, via int
	for _, m := range o.Members {
		switch {
		case m.Role == "from" && m.Type == osm.TypeWay:
			t.from, from = osm.WayID(m.Ref), from+1
		case m.Role == "to" && m.Type == osm.TypeWay:
			t.to, to = osm.WayID(m.Ref), to+1
		case m.Role == "via" && m.Type == osm.TypeNode:
			t.via, via = osm.NodeID(m.Ref), via+1
		case m.Role == "via":
			via += 2
		}
	}
	switch {
	case via > 1 || from > 1 || to > 1:
		e.told.TurnsOverWays++
	case from == 1 && to == 1 && via == 1:
		e.turns = append(e.turns, t)
	default:
		e.told.TurnsLost++
	}
}

// index lists the nodes of ways, and where they meet: a node of two ways, one that a way comes to twice, or its ends.
func (e *reading) index() {
	onRoads := slices.Sorted(slices.Values(e.refs))
	shared := map[int64]bool{}
	for i := 1; i < len(onRoads); i++ {
		if onRoads[i] == onRoads[i-1] {
			shared[onRoads[i]] = true
		}
	}
	e.nodes = append(slices.Compact(onRoads), e.points...)
	for _, h := range e.houses {
		e.nodes = append(e.nodes, h.corners[:]...)
	}
	slices.Sort(e.nodes)
	e.nodes = slices.Clip(slices.Compact(e.nodes))
	n := len(e.nodes)
	e.at, e.found, e.join, e.blocked, e.numbers = make([]records.Point, n), make([]bool, n), make([]bool, n), make([]bool, n), make([]int, n)
	for i, id := range e.nodes {
		e.join[i] = shared[id]
	}
	for _, d := range e.driven {
		for _, ref := range []int64{e.refs[d.from], e.refs[d.to-1]} {
			if i, ok := slices.BinarySearch(e.nodes, ref); ok {
				e.join[i] = true
			}
		}
	}
}

// node notes where a node is, and what it is itself.
func (e *reading) node(o osm.Object) {
	n, ok := o.(*osm.Node)
	if !ok {
		return
	}
	p := records.Point{Lat: n.Lat, Lon: n.Lon}
	if p.CheckNew() != nil {
		return
	}
	if i, ok := slices.BinarySearch(e.nodes, int64(n.ID)); ok {
		e.at[i], e.found[i] = p, true
		e.blocked[i] = len(n.Tags) > 0 && blocks(n.Tags)
	}
	if len(n.Tags) > 0 {
		e.called(n.Tags, p)
	}
}

// junction is the number of a node in the builder. Whoever is stopped at a node comes to a junction that leads nowhere else.
func (e *reading) junction(i int) int {
	if e.blocked[i] {
		return e.builder.Junction()
	}
	if e.numbers[i] == 0 {
		e.numbers[i] = e.builder.Junction() + 1
	}
	return e.numbers[i] - 1
}

// cut cuts a way into stretches where others meet it. Where points of it are not in the extract it ends.
func (e *reading) cut(d driven) error {
	var nodes []int
	whole := true
	flush := func() error {
		if len(nodes) > 1 {
			return e.pieces(d, nodes)
		}
		return nil
	}
	for _, ref := range e.refs[d.from:d.to] {
		i, ok := slices.BinarySearch(e.nodes, ref)
		if ok && e.found[i] {
			if len(nodes) == 0 || nodes[len(nodes)-1] != i {
				nodes = append(nodes, i)
			}
			continue
		}
		whole = false
		if err := flush(); err != nil {
			return err
		}
		nodes = nil
	}
	if !whole {
		e.told.WaysCut++
	}
	return flush()
}

// pieces makes the stretches of a part of a way, whose nodes follow each other.
func (e *reading) pieces(d driven, nodes []int) error {
	total := 0.0
	for k := 1; k < len(nodes); k++ {
		total += roads.Metres(e.at[nodes[k-1]], e.at[nodes[k]])
	}
	begin := 0
	for k := 1; k < len(nodes); k++ {
		if last := k == len(nodes)-1; !last && !e.join[nodes[k]] && !e.blocked[nodes[k]] {
			continue
		}
		if d.named {
			e.book.Streets = append(e.book.Streets, addresses.NamedStreet{Name: d.name, At: e.at[nodes[(begin+k)/2]]})
		}
		s := roads.Stretch{From: e.junction(nodes[begin]), To: e.junction(nodes[k]), Name: d.name, Class: d.rule.class}
		metres := 0.0
		for i := begin; i <= k; i++ {
			s.Line = append(s.Line, e.at[nodes[i]])
			if i > begin {
				metres += roads.Metres(e.at[nodes[i-1]], e.at[nodes[i]])
			}
		}
		s.There, s.Back = d.rule.time(metres, total, d.rule.there), d.rule.time(metres, total, d.rule.back)
		number, err := e.builder.Add(s)
		if err != nil {
			return err
		}
		e.ways[d.id] = append(e.ways[d.id], number)
		e.ends = append(e.ends, [2]int{nodes[begin], nodes[k]})
		begin = k
	}
	return nil
}

// time is how long so many of a way's metres take.
func (r rule) time(metres, all, speed float64) time.Duration {
	if speed == 0 {
		return 0
	}
	part := 1.0
	if all > 0 {
		part = metres / all
	}
	d := time.Duration(metres / (speed / 3.6) * float64(time.Second))
	if r.takes > 0 {
		d = time.Duration(float64(r.takes) * part)
	}
	d += time.Duration(float64(r.wait) * part)
	return min(max(d, time.Millisecond), time.Duration(math.MaxInt32)*time.Millisecond)
}

// turn gives the turns to the builder: of the stretches of both ways those that meet at the node.
func (e *reading) turn() error {
	for _, t := range e.turns {
		i, ok := slices.BinarySearch(e.nodes, int64(t.via))
		if !ok || e.numbers[i] == 0 {
			e.told.TurnsLost++
			continue
		}
		at := e.numbers[i] - 1
		meets := func(s int) bool { return e.ends[s][0] == i || e.ends[s][1] == i }
		given := false
		for _, by := range e.ways[t.from] {
			for _, on := range e.ways[t.to] {
				if !meets(by) || !meets(on) || by == on && t.from != t.to {
					continue
				}
				if err := e.builder.Turn(roads.Turn{By: by, At: at, On: on, Only: t.only}); err != nil {
					return err
				}
				given = true
			}
		}
		if given {
			e.told.Turns++
		} else {
			e.told.TurnsLost++
		}
	}
	return nil
}
