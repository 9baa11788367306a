package ways

import (
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"io"
	"math"
	"net/http"
	"net/url"
	"strconv"
	"strings"
	"sync"
	"time"

	"iter.example/iter/core/msg"
	"iter.example/iter/core/records"
	"iter.example/iter/core/roads"
)

// Remote asks a routing server that the firm runs itself for ways, by the open HTTP interface that such servers have in common:
//
//	GET BASE/route/v1/driving/LON,LAT;LON,LAT?overview=false&geometries=geojson&steps=true
//
// It asks for a few ways at a time, and remembers them. After a failure it leaves the server alone for a while.
type Remote struct {
	base   string
	client *http.Client
	room   chan struct{}

	mu     sync.Mutex
	known  map[pair]*remoteWay // nil for a way that there is none of
	failed time.Time
}

type pair struct{ from, to records.Point }

// remoteWay is a way as a server told it.
type remoteWay struct {
	seconds, ferry, metres float64
	pieces                 []roads.Piece
}

// Limits on a server that is slow, or answers nonsense.
const (
	atATime       = 4
	answerWithin  = 10 * time.Second
	largestAnswer = 8 << 20
	leftAlone     = 30 * time.Second
	mostRemote    = 50_000
	longestWay    = 7 * 24 * 3600 // seconds
)

// NewRemote gives the routing server at an address.
func NewRemote(address string) (*Remote, error) {
	u, err := url.Parse(address)
	if err != nil || u.Scheme != "http" && u.Scheme != "https" || u.Host == "" {
		return nil, fmt.Errorf("roads: %q is no address of a routing server, such as http://127.0.0.1:5000", address)
	}
	return &Remote{base: strings.TrimRight(address, "/"), client: &http.Client{Timeout: answerWithin}, room: make(chan struct{}, atATime),
		known: map[pair]*remoteWay{}}, nil
}

// source is what a map says of roads that a server knows.
func (r *Remote) source() string { return "Ways by " + r.base }

// answers asks for the ways between places: between those two, by their numbers, that wanted names.
func (r *Remote) answers(ctx context.Context, now time.Time, places []records.Point, wanted func(from, to int) bool) (*roads.Answers,
	error) {
	type asked struct {
		from, to int
		way      *remoteWay
		err      error
	}
	var all []*asked
	for i := range places {
		for k := range places {
			if i != k && wanted(i, k) {
				all = append(all, &asked{from: i, to: k})
			}
		}
	}
	ctx, stop := context.WithCancel(ctx)
	defer stop()
	var work sync.WaitGroup
	for _, x := range all {
		work.Go(func() {
			if x.way, x.err = r.way(ctx, now, pair{places[x.from], places[x.to]}); x.err != nil {
				stop() // the others would hear the same
			}
		})
	}
	work.Wait()
	out := &roads.Answers{Source: r.source(), Places: places, Pieces: []roads.Piece{}, Known: []roads.Known{}}
	var err error
	for _, x := range all {
		if x.err != nil && (err == nil || errors.Is(err, context.Canceled)) {
			err = x.err
		}
		if x.way == nil {
			continue
		}
		k := roads.Known{From: x.from, To: x.to, Seconds: round(x.way.seconds), Ferry: round(x.way.ferry), Metres: round(x.way.metres),
			Pieces: []int{}}
		for _, p := range x.way.pieces {
			k.Pieces = append(k.Pieces, len(out.Pieces))
			out.Pieces = append(out.Pieces, p)
		}
		out.Known = append(out.Known, k)
	}
	return out, err
}

// down tells whether the server is left alone since it failed.
func (r *Remote) down(now time.Time) bool {
	r.mu.Lock()
	defer r.mu.Unlock()
	return now.Sub(r.failed).Abs() < leftAlone
}

// fail leaves the server alone for a while.
func (r *Remote) fail(now time.Time) {
	r.mu.Lock()
	defer r.mu.Unlock()
	r.failed = now
}

// lonLat is a place as the server reads it.
func lonLat(p records.Point) string {
	return strconv.FormatFloat(p.Lon, 'f', 6, 64) + "," + strconv.FormatFloat(p.Lat, 'f', 6, 64)
}

func round(f float64) int { return int(math.Round(f)) }

// way gives a way, nil when there is none: as it is remembered, or from the server.
func (r *Remote) way(ctx context.Context, now time.Time, p pair) (*remoteWay, error) {
	r.mu.Lock()
	known, have := r.known[p]
	r.mu.Unlock()
	switch {
	case have:
		return known, nil
	case r.down(now):
		return nil, msg.New("roads.server_down")
	}
	select {
	case r.room <- struct{}{}:
		defer func() { <-r.room }()
	case <-ctx.Done():
		return nil, ctx.Err()
	}
	way, err := r.ask(ctx, p)
	if err != nil {
		if ctx.Err() == nil {
			r.fail(now)
		}
		return nil, err
	}
	r.mu.Lock()
	defer r.mu.Unlock()
	if len(r.known) >= mostRemote {
		clear(r.known)
	}
	r.known[p] = way
	return way, nil
}

// routed is an answer of a routing server.
type routed struct {
	Code   string `json:"code"`
	Routes []struct {
		Duration float64 `json:"duration"` // seconds
		Distance float64 `json:"distance"` // metres
		Legs     []struct {
			Steps []struct {
				Name     string  `json:"name"`
				Mode     string  `json:"mode"`
				Duration float64 `json:"duration"`
				Distance float64 `json:"distance"`
				Geometry struct {
					Coordinates [][2]float64 `json:"coordinates"` // longitude, latitude
				} `json:"geometry"`
			} `json:"steps"`
		} `json:"legs"`
	} `json:"routes"`
	// Waypoints are where the places were put on a road, and how many metres off that is.
	Waypoints []struct {
		Distance float64 `json:"distance"`
	} `json:"waypoints"`
}

// get reads an answer of the server.
func (r *Remote) get(ctx context.Context, address string, into any) error {
	req, err := http.NewRequestWithContext(ctx, http.MethodGet, address, nil)
	if err != nil {
		return err
	}
	res, err := r.client.Do(req)
	if err != nil {
		return errors.Join(msg.New("roads.server_down"), err)
	}
	defer res.Body.Close()
	if err := json.NewDecoder(io.LimitReader(res.Body, largestAnswer)).Decode(into); err != nil {
		return msg.New("roads.server_nonsense")
	}
	return nil
}

func (r *Remote) ask(ctx context.Context, p pair) (*remoteWay, error) {
	address := fmt.Sprintf("%s/route/v1/driving/%s;%s?overview=false&geometries=geojson&steps=true", r.base, lonLat(p.from), lonLat(p.to))
	var out routed
	if err := r.get(ctx, address, &out); err != nil {
		return nil, err
	}
	switch out.Code {
	case "NoRoute", "NoSegment":
		return nil, nil
	case "Ok":
		return out.read()
	}
	return nil, msg.New("roads.server_nonsense")
}

// read takes the first route of an answer, if it can be one.
func (o routed) read() (*remoteWay, error) {
	nonsense := msg.New("roads.server_nonsense")
	fair := func(f, most float64) bool { return f >= 0 && f <= most }
	if len(o.Routes) == 0 {
		return nil, nonsense
	}
	off := 0.0
	for _, w := range o.Waypoints {
		if !fair(w.Distance, 1e7) {
			return nil, nonsense
		}
		if w.Distance > roads.Farthest {
			return nil, nil // far from every road: nothing is guessed
		}
		off += w.Distance
	}
	route := o.Routes[0]
	const around = 4e7 // metres round the earth
	if !fair(route.Duration, longestWay) || !fair(route.Distance, around) {
		return nil, nonsense
	}
	w := &remoteWay{seconds: route.Duration + off/roads.OffRoad, metres: route.Distance + off}
	for _, leg := range route.Legs {
		for _, s := range leg.Steps {
			if !fair(s.Duration, longestWay) || !fair(s.Distance, around) {
				return nil, nonsense
			}
			line := make([]records.Point, 0, len(s.Geometry.Coordinates))
			for _, c := range s.Geometry.Coordinates {
				q := records.Point{Lat: c[1], Lon: c[0]}
				if q.CheckNew() != nil {
					return nil, nonsense
				}
				line = append(line, q)
			}
			if len(line) < 2 {
				continue // "you have arrived"
			}
			class := roads.Main
			if s.Mode == "ferry" {
				class, w.ferry = roads.Ferry, w.ferry+s.Duration
			}
			w.pieces = append(w.pieces, roads.NewPiece(records.Clip(s.Name), class, s.Distance, s.Duration, line))
		}
	}
	return w, nil
}
