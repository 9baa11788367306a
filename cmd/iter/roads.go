package main

import (
	"context"
	"errors"
	"fmt"
	"io"
	"os"
	"path/filepath"
	"runtime/debug"
	"time"

	"iter.example/iter/core/msg"
	"iter.example/iter/core/records"
	"iter.example/iter/server/addresses"
	"iter.example/iter/server/extract"
	"iter.example/iter/server/importing"
	"iter.example/iter/server/region"
	"iter.example/iter/server/store"
)

// roadsWords says why an extract can't be read.
var roadsWords = map[string]string{
	"roads.none":    "there are no roads in it that a van may drive",
	"roads.extract": "it is no OpenStreetMap extract, or it is broken. Fetch it again",
}

// collected is by how much memory grows, in percent, before what is not used is let go of.
const collected = 25

// runRoads reads the roads of an extract. Those before stay until it is whole.
func runRoads(ctx context.Context, args []string) error {
	f := newFlags("roads", "")
	buildings := f.Bool("buildings", false, "draw the outlines of buildings too: the map is several times as large")
	source := f.String("source", "", "`line` that says where the extract is from and under which licence, where it does not say so")
	s, err := f.openFolded(ctx, args)
	if err != nil {
		return err
	}
	defer s.Close()
	if f.NArg() != 1 {
		return errors.New("say which extract: iter roads --data DIR FILE.osm.pbf")
	}
	in, err := os.Open(f.Arg(0))
	if err != nil {
		return fmt.Errorf("%w; the roads are as they were", err)
	}
	defer in.Close()
	// A region takes much memory once: it is rather collected more often than held twice.
	defer debug.SetGCPercent(debug.SetGCPercent(collected))
	began, told := time.Now(), time.Now()
	progress := func(step string, done, all int64) {
		if now := time.Now(); now.Sub(told) >= 2*time.Second && all > 0 {
			told = now
			fmt.Fprintf(os.Stderr, "%s: %d %%\n", step, min(done*100/all, 100))
		}
	}
	r, found, err := extract.Read(ctx, in, *buildings, progress)
	if code, ok := errors.AsType[*msg.Code](err); ok && roadsWords[code.Code] != "" {
		return fmt.Errorf("%s: %s; the roads are as they were", f.Arg(0), roadsWords[code.Code])
	}
	if err != nil {
		return fmt.Errorf("%w; the roads are as they were", err)
	}
	if *source != "" {
		r.Roads.Source, r.Map.Source = *source, *source
	}
	if err := region.Put(ctx, *f.data, began, r, progress); err != nil {
		return fmt.Errorf("%w; the roads are as they were", err)
	}
	fmt.Printf("%d stretches of road, %d turns that must not be taken, %d places, %d houses with a number, in %s\n%s\n", found.Stretches,
		found.Turns, found.Places, found.Houses, time.Since(began).Round(time.Second/10), r.Roads.Source)
	for what, n := range map[string]int{"turns over several ways": found.TurnsOverWays, "turns at some hours": found.TurnsByHour,
		"turns that fit no road here": found.TurnsLost, "roads that go on outside": found.WaysCut} {
		if n > 0 {
			fmt.Printf("left out: %d %s\n", n, what)
		}
	}
	return sitesWithout(ctx, s, r.Roads.Covers, os.Stdout)
}

// sitesWithout says how many sites the roads do not reach: all of them when it is the wrong region, or coordinates are swapped.
func sitesWithout(ctx context.Context, s *store.Store, covers func(records.Point) bool, out io.Writer) error {
	placed, off, swapped := 0, 0, 0
	err := eachSite(ctx, s, func(at records.Point) {
		if at == (records.Point{}) {
			return
		}
		placed++
		if !covers(at) {
			off++
			if covers(records.Point{Lat: at.Lon, Lon: at.Lat}) {
				swapped++
			}
		}
	})
	switch {
	case err != nil || off == 0:
	case swapped > 0:
		fmt.Fprintf(out, "%d of your %d sites are far from every road of it, and %d of them would not be if north and east were changed over.\n",
			off, placed, swapped)
	case off == placed:
		fmt.Fprintf(out, "None of your %d sites is near a road of it: is it the right region, and are degrees north and east not swapped?\n",
			placed)
	default:
		fmt.Fprintf(out, "%d of your %d sites are far from every road of it: no way there is known.\n", off, placed)
	}
	return err
}

func eachSite(ctx context.Context, s *store.Store, f func(records.Point)) error {
	return s.Read(ctx, func(tx *store.Tx) error { return tx.SitePlaces(f) })
}

// lookUpIn looks addresses up in the region that a data directory holds; nil when there is none. leave lets go of it.
func lookUpIn(ctx context.Context, dir string) (lookUp importing.LookUp, leave func(), err error) {
	path, rev, err := store.Region(dir)
	if err != nil || rev == "" {
		return nil, func() {}, err
	}
	book, err := addresses.Open(filepath.Join(path, store.AddressesFile))
	if err != nil {
		return nil, func() {}, err
	}
	exact := func(f addresses.Found) bool {
		return f.Precision == addresses.House || f.Precision == addresses.Between
	}
	return func(address string) (records.Point, bool) {
		found, err := book.Find(ctx, address, nil)
		if err != nil || len(found) == 0 || !exact(found[0]) || len(found) > 1 && exact(found[1]) {
			return records.Point{}, false // it is not known, or might be several
		}
		return found[0].At, true
	}, func() { _ = book.Close() }, nil
}

// sitesOnMap says how many sites are not on the map: no way to them is known.
func sitesOnMap(ctx context.Context, s *store.Store) error {
	all, off := 0, 0
	err := eachSite(ctx, s, func(at records.Point) {
		all++
		if at == (records.Point{}) {
			off++
		}
	})
	if err == nil && off > 0 {
		fmt.Printf("%d of your %d sites are not on the map: give lat and lon, an address of the region, or put them there at the office\n", off,
			all)
	}
	return err
}
