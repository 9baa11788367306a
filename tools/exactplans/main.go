// Exactplans finds what the best plans of small days cost, with coinor-cbc (Debian's package of that name), and prints them as
// core/plan/solve/solvetest keeps them:
//
//	go run ./tools/exactplans > exact.json && mv exact.json core/plan/solve/solvetest/
package main

import (
	"bytes"
	"encoding/json"
	"fmt"
	"os"
	"os/exec"
	"path/filepath"
	"regexp"
	"strconv"
	"strings"

	"iter.example/iter/core/plan/solve"
	"iter.example/iter/core/plan/solve/solvetest"
)

func main() {
	if err := run(); err != nil {
		fmt.Fprintln(os.Stderr, "exactplans:", err)
		os.Exit(1)
	}
}

// sizes are people and visits of the days that are solved.
var sizes = [][2]int{{1, 8}, {1, 12}, {2, 10}, {3, 12}, {4, 12}}

func run() error {
	var out []solvetest.Exact
	for _, country := range []solvetest.Country{solvetest.Spread, solvetest.Towns, solvetest.Mixed} {
		for _, size := range sizes {
			for seed := range uint64(3) {
				e := solvetest.Exact{Country: country, People: size[0], Visits: size[1], Seed: seed + 1}
				cost, err := best(e.Problem())
				if err != nil {
					return err
				}
				e.Cost = cost
				out = append(out, e)
			}
		}
	}
	w := json.NewEncoder(os.Stdout)
	w.SetIndent("", " ")
	return w.Encode(out)
}

// program is the integer program of a day: x chooses a set of visits for a person, y leaves a visit out.
func program(p solve.Problem) string {
	var b strings.Builder
	routes := solvetest.Routes(p)
	covers := make([]strings.Builder, len(p.Visits))
	whose := make([]strings.Builder, len(routes))
	var binary strings.Builder
	b.WriteString("Minimize\n cost:")
	for i, v := range p.Visits {
		fmt.Fprintf(&b, " + %d y%d\n", v.Worth, i)
		fmt.Fprintf(&covers[i], " y%d", i)
		fmt.Fprintf(&binary, " y%d\n", i)
	}
	for k, costs := range routes {
		for set, cost := range costs {
			if set == 0 || cost == solvetest.Impossible {
				continue
			}
			x := fmt.Sprintf("x%d_%d", k, set)
			fmt.Fprintf(&b, " + %d %s\n", cost, x)
			fmt.Fprintf(&whose[k], " + %s\n", x)
			fmt.Fprintf(&binary, " %s\n", x)
			for i := range p.Visits {
				if set&(1<<i) != 0 {
					fmt.Fprintf(&covers[i], " + %s\n", x)
				}
			}
		}
	}
	b.WriteString("Subject To\n")
	for i := range covers {
		fmt.Fprintf(&b, " visit%d:%s = 1\n", i, covers[i].String())
	}
	for k := range whose {
		if whose[k].Len() > 0 {
			fmt.Fprintf(&b, " person%d:%s <= 1\n", k, whose[k].String())
		}
	}
	return b.String() + "Binary\n" + binary.String() + "End\n"
}

var objective = regexp.MustCompile(`Optimal - objective value ([0-9.]+)`)

func best(p solve.Problem) (int, error) {
	dir, err := os.MkdirTemp("", "exactplans")
	if err != nil {
		return 0, err
	}
	defer func() { _ = os.RemoveAll(dir) }()
	file, answer := filepath.Join(dir, "day.lp"), filepath.Join(dir, "answer")
	if err := os.WriteFile(file, []byte(program(p)), 0o600); err != nil {
		return 0, err
	}
	var said bytes.Buffer
	cbc := exec.Command("cbc", file, "ratio", "0", "solve", "solution", answer)
	cbc.Stdout, cbc.Stderr = &said, &said
	if err := cbc.Run(); err != nil {
		return 0, fmt.Errorf("cbc (Debian's coinor-cbc): %w\n%s", err, said.String())
	}
	raw, err := os.ReadFile(answer)
	if err != nil {
		return 0, err
	}
	found := objective.FindSubmatch(raw)
	if found == nil {
		return 0, fmt.Errorf("cbc found no best plan:\n%s", raw)
	}
	cost, err := strconv.ParseFloat(string(found[1]), 64)
	return int(cost + 0.5), err
}
