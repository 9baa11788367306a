package roads

import (
	"bufio"
	_ "embed"
	"fmt"
	"io"
	"slices"
	"strconv"
	"strings"
	"sync"

	"iter.example/iter/core/records"
)

// Drawing is what a drawn map shows of a coast: its shores and its roads.
type Drawing struct {
	Land  [][]records.Point // the shores, as closed lines
	nodes []records.Point
	edges []edge
}

type edge struct {
	a, b  int
	class Class
}

//go:embed coast.txt
var coast string

// Coast gives the drawing of the scenario's coast.
var Coast = sync.OnceValue(func() *Drawing {
	n, err := Read(strings.NewReader(coast))
	if err != nil {
		panic("roads: the coast that ships with the program can't be read: " + err.Error())
	}
	return n
})

// Read reads a drawing: lines of "land", "node" and "edge", in which positions are degrees north and east times 100 000, and
// an edge has two nodes by their order, a class and a name.
func Read(r io.Reader) (*Drawing, error) {
	n := &Drawing{}
	lines := bufio.NewScanner(r)
	lines.Buffer(nil, 1<<20)
	for number := 1; lines.Scan(); number++ {
		if err := n.line(strings.Fields(lines.Text())); err != nil {
			return nil, fmt.Errorf("line %d: %w", number, err)
		}
	}
	return n, lines.Err()
}

func (n *Drawing) line(f []string) error {
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
		n.nodes = append(n.nodes, line[0])
	case "edge":
		if len(f) < 5 {
			return fmt.Errorf("an edge lacks something")
		}
		a, erra := strconv.Atoi(f[1])
		b, errb := strconv.Atoi(f[2])
		class := Class(f[3])
		if erra != nil || errb != nil || a < 0 || b < 0 || a >= len(n.nodes) || b >= len(n.nodes) || !slices.Contains(Classes, class) {
			return fmt.Errorf("an edge between %s and %s, %s", f[1], f[2], f[3])
		}
		n.edges = append(n.edges, edge{a, b, class})
	default:
		return fmt.Errorf("nobody knows what a %q is", f[0])
	}
	return nil
}

// Lines gives the roads as lines, by class.
func (n *Drawing) Lines() map[Class][][2]records.Point {
	out := map[Class][][2]records.Point{}
	for _, e := range n.edges {
		out[e.class] = append(out[e.class], [2]records.Point{n.nodes[e.a], n.nodes[e.b]})
	}
	return out
}

// Nodes gives the points that roads join.
func (n *Drawing) Nodes() []records.Point { return n.nodes }
