package ways

import (
	"context"
	"errors"
	"fmt"
	"math"
	"slices"
	"strconv"
	"strings"
	"sync"
	"time"

	"iter.example/iter/core/msg"
	"iter.example/iter/core/plan"
	"iter.example/iter/core/records"
	"iter.example/iter/core/roads"
)

// mostTables is how many tables are held: those of the days that people plan just now.
const mostTables = 100

// TableRev names the table of ways between some places, by the roads that there are now; "" without roads.
func (r *Roads) TableRev(now time.Time, places []records.Point) (string, error) {
	_, rev, err := r.revision(now, places)
	return rev, err
}

// Table gives how long the ways between some places take, and by what revision; without roads no way is known.
func (r *Roads) Table(ctx context.Context, now time.Time, places []records.Point) (plan.Table, string, error) {
	of, rev, err := r.revision(now, places)
	if err != nil || rev == "" {
		return plan.NewTable(len(places)), rev, err
	}
	r.mu.Lock()
	known, have := r.tables[rev]
	r.mu.Unlock()
	if have {
		return known, rev, nil
	}
	t := plan.NewTable(len(places))
	if r.remote != nil {
		err = r.remote.table(ctx, now, places, t)
	} else {
		tabulate(of, places, t)
	}
	if err = errors.Join(err, ctx.Err()); err != nil {
		return t, rev, err
	}
	r.mu.Lock()
	defer r.mu.Unlock()
	if len(r.tables) >= mostTables {
		clear(r.tables)
	}
	r.tables[rev] = t
	return t, rev, nil
}

// TableWith gives a table as Table does, with one place more as its last: what is known of the others is not worked out again.
func (r *Roads) TableWith(ctx context.Context, now time.Time, places []records.Point, more records.Point) (plan.Table, error) {
	all := append(slices.Clone(places), more)
	of, rev, err := r.revision(now, all)
	if err != nil || rev == "" || r.remote != nil {
		t, _, err := r.Table(ctx, now, all)
		return t, err
	}
	base, _, err := r.Table(ctx, now, places)
	if err != nil {
		return base, err
	}
	t := base.Grown(1)
	at, ok := of.Snap(more)
	if !ok {
		return t, nil
	}
	on, row := snapped(of, all)
	for k, leg := range of.Table([]roads.Place{at}, on)[0] {
		if leg.Known {
			t.Put(len(places), row[k], leg.Seconds, leg.Ferry)
		}
	}
	for i, legs := range of.Table(on, []roads.Place{at}) {
		if legs[0].Known {
			t.Put(row[i], len(places), legs[0].Seconds, legs[0].Ferry)
		}
	}
	return t, nil
}

// snapped are places on roads, with their numbers: those far from every road are not among them.
func snapped(of *roads.Region, places []records.Point) (on []roads.Place, row []int) {
	for i, p := range places {
		if at, ok := of.Snap(p); ok {
			on, row = append(on, at), append(row, i)
		}
	}
	return on, row
}

// tabulate fills a table from roads: places far from every road stay unknown.
func tabulate(of *roads.Region, places []records.Point, t plan.Table) {
	on, row := snapped(of, places)
	for i, legs := range of.Table(on, on) {
		for k, leg := range legs {
			if leg.Known {
				t.Put(row[i], row[k], leg.Seconds, leg.Ferry)
			}
		}
	}
}

// block is how many places a routing server is asked about from, and to, at a time.
const block = 50

// table asks a routing server for the ways between places, in blocks:
//
//	GET BASE/table/v1/driving/LON,LAT;…?sources=0;…&destinations=…&annotations=duration
func (r *Remote) table(ctx context.Context, now time.Time, places []records.Point, t plan.Table) error {
	if r.down(now) {
		return msg.New("roads.server_down")
	}
	asking, stop := context.WithCancel(ctx)
	defer stop()
	var work sync.WaitGroup
	var mu sync.Mutex
	var failed error
	for from := 0; from < len(places); from += block {
		for to := 0; to < len(places); to += block {
			work.Go(func() {
				rows, err := r.askTable(asking, places[from:min(from+block, len(places))], places[to:min(to+block, len(places))])
				mu.Lock()
				defer mu.Unlock()
				if err != nil {
					if failed == nil {
						failed = err
					}
					stop() // the others would hear the same
				}
				for i, row := range rows {
					for k, seconds := range row {
						if seconds != nil {
							t.Put(from+i, to+k, int(math.Round(*seconds)), 0)
						}
					}
				}
			})
		}
	}
	work.Wait()
	if failed != nil && ctx.Err() == nil {
		r.fail(now)
	}
	return failed
}

// askTable gives the seconds of the ways from some places to others, nil where there is none.
func (r *Remote) askTable(ctx context.Context, from, to []records.Point) ([][]*float64, error) {
	select {
	case r.room <- struct{}{}:
		defer func() { <-r.room }()
	case <-ctx.Done():
		return nil, ctx.Err()
	}
	var at, sources, destinations []string
	for i, p := range slices.Concat(from, to) {
		at = append(at, lonLat(p))
		if i < len(from) {
			sources = append(sources, strconv.Itoa(i))
		} else {
			destinations = append(destinations, strconv.Itoa(i))
		}
	}
	address := fmt.Sprintf("%s/table/v1/driving/%s?sources=%s&destinations=%s&annotations=duration", r.base, strings.Join(at, ";"),
		strings.Join(sources, ";"), strings.Join(destinations, ";"))
	var out struct {
		Code      string       `json:"code"`
		Durations [][]*float64 `json:"durations"` // seconds
	}
	if err := r.get(ctx, address, &out); err != nil {
		return nil, err
	}
	if out.Code != "Ok" || len(out.Durations) != len(from) {
		return nil, msg.New("roads.server_nonsense")
	}
	for _, row := range out.Durations {
		if len(row) != len(to) {
			return nil, msg.New("roads.server_nonsense")
		}
		for _, seconds := range row {
			if seconds != nil && (*seconds < 0 || *seconds > longestWay) {
				return nil, msg.New("roads.server_nonsense")
			}
		}
	}
	return out.Durations, nil
}
