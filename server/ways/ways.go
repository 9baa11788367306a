// Package ways holds the roads that a firm brought, beside its database: whoever plans asks them, and phones are told the ways between
// their stops.
package ways

import (
	"context"
	"crypto/sha256"
	"encoding/hex"
	"encoding/json"
	"math"
	"slices"
	"sync"
	"time"

	"iter.example/iter/core/msg"
	"iter.example/iter/core/plan"
	"iter.example/iter/core/records"
	"iter.example/iter/core/roads"
	"iter.example/iter/server/region"
	"iter.example/iter/server/store"
)

// Roads are the roads in a data directory, which may be brought anew while the program runs; or a routing server that knows them.
type Roads struct {
	current *region.Current[*roads.Region]
	remote  *Remote // nil: those in the directory

	mu sync.Mutex
	// known are answers that were worked out, by what they are of.
	known  map[string]*roads.Answers
	tables map[string]plan.Table
}

// Open gives the roads in a data directory: there may be none yet. With a routing server it is that which is asked.
func Open(dir string, remote *Remote) *Roads {
	return &Roads{current: region.NewCurrent(dir, store.RoadsFile, region.Roads), remote: remote,
		known: map[string]*roads.Answers{}, tables: map[string]plan.Table{}}
}

// Region gives the roads as they are now; nil when there are none. Roads that can't be read leave those before in place.
func (r *Roads) Region() (*roads.Region, error) {
	region, _, err := r.current.Get()
	return region, err
}

// How many ways between stops are worked out at a time: some 60 stops on one day, or 26 on each of five. And to how many others, and how
// many such answers are held.
const (
	mostWays   = 4000
	mostOthers = 60
	mostKnown  = 500
)

// Stops are places that somebody goes between: those of one day from one to another, and those of no day (Always) to all and from all.
// Others, such as vans that have a part, are gone to from the places of the first day.
type Stops struct {
	Always []records.Point   `json:"always"`
	Days   [][]records.Point `json:"days"`
	Others []records.Point   `json:"others"`
}

// places lists the places, each once, the stops first, with the days that they are of: bit by bit, all of them for those of no day, none
// for others. Of more than can be worked out at a time the days that come first have theirs; left are the stops that have none.
func (s Stops) places() (all []records.Point, days []uint64, left []records.Point) {
	numbers := map[records.Point]int{}
	add := func(p records.Point, of uint64) {
		n, have := numbers[p]
		if !have {
			n = len(all)
			numbers[p], all, days = n, append(all, p), append(days, 0)
		}
		days[n] |= of
	}
	for _, p := range s.Always {
		add(p, math.MaxUint64)
	}
	room := mostWays
	for d, list := range s.Days {
		day, stops := uint64(1)<<(d%64), len(s.Always)
		for _, p := range list {
			n, have := numbers[p]
			switch more := 2 * stops; { // there and back
			case have && days[n]&day != 0:
			case more > room:
				left = append(left, p)
			default:
				room -= more
				stops++
				add(p, day)
			}
		}
	}
	left = slices.DeleteFunc(left, func(p records.Point) bool { _, have := numbers[p]; return have })
	for _, p := range s.Others[:min(len(s.Others), mostOthers)] {
		add(p, 0)
	}
	return all, days, left
}

// Answers gives the ways between stops; nil without roads.
func (r *Roads) Answers(ctx context.Context, now time.Time, stops Stops) (*roads.Answers, error) {
	of, rev, known, err := r.look(now, stops)
	if err != nil || known != nil || of == nil && r.remote == nil {
		return known, err
	}
	places, days, left := stops.places()
	wanted := func(from, to int) bool { return days[from]&days[to] != 0 || days[to] == 0 && days[from]&1 != 0 }
	var a *roads.Answers
	if r.remote != nil {
		if a, err = r.remote.answers(ctx, now, places, wanted); err != nil {
			return nil, err
		}
	} else {
		a = of.AnswersFor(places, wanted)
	}
	a.Rev, a.Left = rev, left
	if err := ctx.Err(); err != nil {
		return nil, err
	}
	r.mu.Lock()
	defer r.mu.Unlock()
	if len(r.known) >= mostKnown {
		clear(r.known)
	}
	r.known[rev] = a
	return a, nil
}

// look gives the roads that are to be asked, none of a server, by what the answers will go, and those that are known by it already.
func (r *Roads) look(now time.Time, stops Stops) (of *roads.Region, rev string, known *roads.Answers, err error) {
	if of, rev, err = r.revision(now, stops); err != nil || rev == "" {
		return of, rev, nil, err
	}
	r.mu.Lock()
	defer r.mu.Unlock()
	return of, rev, r.known[rev], nil
}

// revision gives the roads as they are now, none of a server, and names what is asked of them; "" without roads.
func (r *Roads) revision(now time.Time, asked any) (of *roads.Region, rev string, err error) {
	source := ""
	if r.remote != nil { // for a day
		source = r.remote.base + " " + now.UTC().Format(time.DateOnly)
	} else if of, source, err = r.current.Get(); of == nil {
		return nil, "", err
	}
	raw, err := json.Marshal(struct {
		Source string
		Asked  any
	}{source, asked})
	if err != nil {
		return nil, "", msg.From(err)
	}
	sum := sha256.Sum256(raw)
	return of, hex.EncodeToString(sum[:12]), nil
}
