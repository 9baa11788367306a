// Command figures compares what benchmarks measured with what is written down, and marks what became worse.
//
//	figures [-keep] docs/benchmarks.md measured.json ...
//
// A file of figures has one on each line, as JSON. The table stands in the document between two comments. What a figure is compared by is
// its ratio to a yardstick of the same run: machines differ, and are shared. -keep writes the table anew.
package main

import (
	"flag"
	"fmt"
	"log"
	"os"
	"strconv"
	"strings"

	"iter.example/iter/tools/internal/figure"
)

// worseBy is by how much a ratio may be worse before it is marked.
const worseBy = 0.10

// mark says what is wrong with a figure, against the ratio that is written down; known tells whether there is one.
func mark(f figure.Figure, before float64, known bool) string {
	var out []string
	if f.Limit > 0 && (f.Value > f.Limit) != f.More && f.Value != f.Limit {
		out = append(out, "past its limit")
	}
	if known && before > 0 && f.Ratio > 0 {
		change := f.Ratio/before - 1
		if f.More {
			change = before/f.Ratio - 1
		}
		if change > worseBy {
			out = append(out, fmt.Sprintf("worse by %.0f %%", change*100))
		}
	}
	return strings.Join(out, "; ")
}

const (
	begin = "<!-- figures -->"
	end   = "<!-- /figures -->"
	head  = "| figure | measured | limit | ratio | mark |\n| --- | --- | --- | --- | --- |\n"
)

// written are the ratios of a document's table, by name.
func written(doc string) map[string]float64 {
	out := map[string]float64{}
	_, rest, _ := strings.Cut(doc, begin)
	table, _, _ := strings.Cut(rest, end)
	for line := range strings.Lines(table) {
		cells := strings.Split(strings.Trim(strings.TrimSpace(line), "|"), "|")
		if len(cells) != 5 {
			continue
		}
		if ratio, err := strconv.ParseFloat(strings.TrimSpace(cells[3]), 64); err == nil {
			out[strings.TrimSpace(cells[0])] = ratio
		}
	}
	return out
}

// table is the figures as a table, with their marks against what is written down.
func table(figures []figure.Figure, before map[string]float64) string {
	var b strings.Builder
	b.WriteString(head)
	for _, f := range figures {
		limit := "–"
		if f.Limit > 0 {
			limit = strings.TrimSpace(strconv.FormatFloat(f.Limit, 'f', -1, 64) + " " + f.Unit)
		}
		was, known := before[f.Name]
		fmt.Fprintf(&b, "| %s | %s | %s | %s | %s |\n", f.Name, strings.TrimSpace(short(f.Value)+" "+f.Unit), limit, short(f.Ratio),
			mark(f, was, known))
	}
	return b.String()
}

// short writes a number with three digits that count, or with all before the point.
func short(x float64) string {
	places := 0
	for y := x; y < 100 && places < 3; y *= 10 {
		places++
	}
	return strconv.FormatFloat(x, 'f', places, 64)
}

// replace puts a table into a document.
func replace(doc, table string) (string, error) {
	before, rest, ok := strings.Cut(doc, begin)
	_, after, closed := strings.Cut(rest, end)
	if !ok || !closed {
		return doc, fmt.Errorf("there is no %s and %s", begin, end)
	}
	return before + begin + "\n" + table + end + after, nil
}

func main() {
	keep := flag.Bool("keep", false, "write the table anew")
	flag.Parse()
	if flag.NArg() < 2 {
		log.Fatal("figures: a document and files of figures are needed")
	}
	raw, err := os.ReadFile(flag.Arg(0))
	check(err)
	var all []figure.Figure
	for _, path := range flag.Args()[1:] {
		f, err := os.Open(path)
		check(err)
		some, err := figure.Read(f)
		check(err)
		check(f.Close())
		all = append(all, some...)
	}
	out := table(all, written(string(raw)))
	fmt.Print(out)
	if *keep {
		doc, err := replace(string(raw), out)
		check(err)
		check(os.WriteFile(flag.Arg(0), []byte(doc), 0o644))
	}
}

func check(err error) {
	if err != nil {
		log.Fatal("figures: ", err)
	}
}
