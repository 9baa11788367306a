// Package ways holds the roads that a firm brought, beside its database: whoever plans asks them, and phones are told the ways between
// their stops.
package ways

import (
	"bufio"
	"context"
	"crypto/sha256"
	"encoding/hex"
	"encoding/json"
	"errors"
	"math"
	"os"
	"path/filepath"
	"sync"
	"time"

	"iter.example/iter/core/msg"
	"iter.example/iter/core/records"
	"iter.example/iter/core/roads"
	"iter.example/iter/server/store"
)

// Roads are the roads in a data directory, which may be brought anew while the program runs; or a routing server that knows them.
type Roads struct {
	dir    string
	remote *Remote // nil: those in the directory

	mu     sync.Mutex
	region *roads.Region
	at     time.Time // when what is held was brought
	looked time.Time
	// known are answers that were worked out, by what they are of.
	known map[string]*roads.Answers
}

// Open gives the roads in a data directory: there may be none yet. With a routing server it is that which is asked.
func Open(dir string, remote *Remote) *Roads {
	return &Roads{dir: dir, remote: remote, known: map[string]*roads.Answers{}}
}

// Put brings roads to a data directory, in place of those that are there: whole or not at all.
func Put(dir string, r *roads.Region) error {
	path := filepath.Join(dir, store.RoadsName)
	out, err := os.CreateTemp(dir, store.RoadsName+".*.new")
	if err != nil {
		return err
	}
	defer os.Remove(out.Name())
	w := bufio.NewWriter(out)
	err = r.Write(w)
	if err = errors.Join(err, w.Flush(), out.Sync(), out.Close()); err != nil {
		return err
	}
	return os.Rename(out.Name(), path)
}

// lookAgain is how long the roads in memory are taken for those in the directory.
const lookAgain = 5 * time.Second

// Region gives the roads as they are now; nil when there are none. Roads that can't be read leave those before in place.
func (r *Roads) Region(now time.Time) (*roads.Region, error) {
	r.mu.Lock()
	defer r.mu.Unlock()
	return r.now(now)
}

// now is Region for whoever holds the lock.
func (r *Roads) now(now time.Time) (*roads.Region, error) {
	if now.Sub(r.looked).Abs() < lookAgain {
		return r.region, nil
	}
	at, err := store.RoadsAt(r.dir)
	if err != nil || at.Equal(r.at) {
		r.looked = now
		return r.region, err
	}
	f, err := os.Open(filepath.Join(r.dir, store.RoadsName))
	if err != nil {
		return r.region, err
	}
	defer f.Close()
	region, err := roads.Open(f)
	r.looked = now
	if err != nil {
		return r.region, err
	}
	r.region, r.at, r.known = region, at, map[string]*roads.Answers{}
	return region, nil
}

// How many stops the ways between are worked out of at a time, and how many others the ways to; and how many such answers are held.
const (
	mostStops  = 60
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
// for others.
func (s Stops) places() (all []records.Point, days []uint64) {
	most := mostStops
	add := func(p records.Point, of uint64) {
		for i, q := range all {
			if q == p {
				days[i] |= of
				return
			}
		}
		if len(all) < most {
			all, days = append(all, p), append(days, of)
		}
	}
	for _, p := range s.Always {
		add(p, math.MaxUint64)
	}
	for d, list := range s.Days {
		for _, p := range list {
			add(p, 1<<(d%64))
		}
	}
	most = len(all) + mostOthers
	for _, p := range s.Others {
		add(p, 0)
	}
	return all, days
}

// Answers gives the ways between stops; nil without roads. Of more places than can be, the first count.
func (r *Roads) Answers(ctx context.Context, now time.Time, stops Stops) (*roads.Answers, error) {
	region, rev, known, err := r.look(now, stops)
	if err != nil || known != nil || region == nil && r.remote == nil {
		return known, err
	}
	places, days := stops.places()
	wanted := func(from, to int) bool { return days[from]&days[to] != 0 || days[to] == 0 && days[from]&1 != 0 }
	var a *roads.Answers
	if r.remote != nil {
		if a, err = r.remote.answers(ctx, now, places, wanted); err != nil {
			return nil, err
		}
	} else {
		a = region.AnswersFor(places, wanted)
	}
	a.Rev = rev
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
func (r *Roads) look(now time.Time, stops Stops) (region *roads.Region, rev string, known *roads.Answers, err error) {
	r.mu.Lock()
	defer r.mu.Unlock()
	if r.remote == nil {
		if region, err = r.now(now); region == nil {
			return nil, "", nil, err
		}
	}
	rev, err = revision(r.source(now), stops)
	return region, rev, r.known[rev], err
}

// source says which roads are asked: those of a moment; or a server, for a day.
func (r *Roads) source(now time.Time) string {
	if r.remote != nil {
		return r.remote.base + " " + now.UTC().Format(time.DateOnly)
	}
	return r.at.UTC().Format(time.RFC3339Nano)
}

func revision(source string, stops Stops) (string, error) {
	raw, err := json.Marshal(struct {
		Source string
		Stops  Stops
	}{source, stops})
	if err != nil {
		return "", msg.From(err)
	}
	sum := sha256.Sum256(raw)
	return hex.EncodeToString(sum[:12]), nil
}
