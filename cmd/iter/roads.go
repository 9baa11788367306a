package main

import (
	"context"
	"errors"
	"fmt"
	"os"
	"time"

	"iter.example/iter/core/msg"
	"iter.example/iter/core/records"
	"iter.example/iter/server/extract"
	"iter.example/iter/server/region"
	"iter.example/iter/server/store"
)

// roadsWords says why an extract can't be read.
var roadsWords = map[string]string{
	"roads.none":    "there are no roads in it that a van may drive",
	"roads.extract": "it is no OpenStreetMap extract, or it is broken. Fetch it again",
}

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
	return sitesWithout(ctx, s, r.Roads.Covers)
}

// sitesWithout says how many sites the roads do not reach: all of them when it is the wrong region, or coordinates are swapped.
func sitesWithout(ctx context.Context, s *store.Store, covers func(records.Point) bool) error {
	placed, off := 0, 0
	err := s.Read(ctx, func(tx *store.Tx) error {
		ids, err := tx.IDs("site")
		for _, id := range ids {
			var site records.Site
			if _, err := tx.Load("site", id, &site); err != nil {
				return err
			}
			if site.Lat == 0 && site.Lon == 0 {
				continue
			}
			placed++
			if !covers(records.Point{Lat: site.Lat, Lon: site.Lon}) {
				off++
			}
		}
		return err
	})
	switch {
	case err != nil || off == 0:
	case off == placed:
		fmt.Printf("None of your %d sites is near a road of it: is it the right region, and are degrees north and east not swapped?\n", placed)
	default:
		fmt.Printf("%d of your %d sites are far from every road of it: no way there is known.\n", off, placed)
	}
	return err
}
