// Command bench measures the server's side. Each figure is a ratio, or stands next to what it is compared with, measured in
// turns within the same run: the machines it runs on are shared.
//
// -entries makes a history of so many entries, and all that a day of work asks of the server is measured on it and on a company that has
// the last weeks only: what devices hold and boards show is the same in both. With -keep DIR the history is kept there, and used again
// when it is there. With -out FILE the figures that have a limit are written there, for the command figures.
package main

import (
	"context"
	"flag"
	"fmt"
	"log"
	"os"
	"slices"
	"time"

	"iter.example/iter/tools/internal/figure"
)

func main() {
	entries := flag.Int("entries", 0, "`entries` of history; the last weeks only when left out")
	keep := flag.String("keep", "", "`directory` to keep the history in")
	out := flag.String("out", "", "`file` to write figures to")
	flag.Parse()
	ctx := context.Background()
	inserts(ctx)
	flood(ctx, "bin/iter")
	lists(ctx)

	dir, err := os.MkdirTemp("", "iter-growth-")
	check(err)
	defer os.RemoveAll(dir)
	young := found(ctx, dir+"/young")
	defer young.close()
	young.grow(ctx, lastWeeks*technicians*eachVisit)
	old := young
	if *entries > 0 {
		at := dir + "/old"
		if *keep != "" {
			at = *keep
		}
		old = found(ctx, at)
		defer old.close()
		old.grow(ctx, *entries)
		fmt.Printf("%d entries of history: %.1f GB\n", old.count(ctx), old.gigabytes())
	}
	young.lately(ctx)
	if old != young {
		old.lately(ctx)
	}
	day(ctx, young, old)
	roadNetwork()
	fits()
	solving(ctx)
	signalling(ctx, young)
	if old != young {
		refold(ctx, old)
	}
	if *out != "" {
		f, err := os.Create(*out)
		check(err)
		check(figure.Write(f, measured))
		check(f.Close())
	}
}

// measured are the figures of the run that have a limit.
var measured []figure.Figure

// note adds a figure. yardstick is what it is compared with, in the same unit.
func note(name string, value float64, unit string, limit, yardstick float64) {
	measured = append(measured, figure.Figure{Name: name, Value: value, Unit: unit, Limit: limit, Ratio: value / yardstick})
}

// times measures something on both companies, in turns, and gives the medians in milliseconds.
func times(rounds int, young, old *firm, f func(*firm)) (float64, float64) {
	var a, b []float64
	one := func(c *firm, to *[]float64) {
		began := time.Now()
		f(c)
		*to = append(*to, time.Since(began).Seconds()*1000)
	}
	for range rounds {
		one(young, &a)
		if old != young {
			one(old, &b)
		}
	}
	if old == young {
		b = a
	}
	return median(a), median(b)
}

func median(x []float64) float64 { return percentile(x, 50) }

func percentile(x []float64, p int) float64 {
	slices.Sort(x)
	return x[min(len(x)-1, len(x)*p/100)]
}

func check(err error) {
	if err != nil {
		log.Fatal("bench: ", err)
	}
}
