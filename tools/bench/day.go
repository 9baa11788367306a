package main

import (
	"compress/gzip"
	"context"
	"encoding/json"
	"fmt"
	"io"
	"net/http"
	"net/http/httptest"
	"strings"
	"sync"
	"time"

	"iter.example/iter/core/ledger"
	"iter.example/iter/core/replica"
	"iter.example/iter/tools/internal/figure"
)

// devices is how many sync at once.
const devices = 500

// limit is how much slower a company with history may be.
const limit = 1.5

// day measures what a day of work asks of the server. Each figure has its limit in milliseconds, for a company without history, and is
// compared with as much of what the store does anyway: a commit, or two hundred documents read one by one.
func day(ctx context.Context, young, old *firm) {
	commit := commits(ctx, young) / devices
	looked := lookups(ctx, young)
	row := func(name string, a, b float64, most, yardstick float64) {
		note(name, a, "ms", most, yardstick)
		if old == young {
			fmt.Printf("%-32s %8.2f ms (limit %.0f)\n", name, a, most)
			return
		}
		fmt.Printf("%-32s %8.2f ms (limit %.0f)  with history %8.2f  factor %.2f (limit %.1f)\n", name, a, most, b, b/a, limit)
		measured = append(measured, figure.Figure{Name: name + ", with history", Value: b / a, Unit: "times", Limit: limit, Ratio: b / a})
	}
	measure := func(name string, rounds int, most, yardstick float64, f func(*firm)) {
		a, b := times(rounds, young, old, f)
		row(name, a, b, most, yardstick)
	}
	phones := map[*firm]*phone{}
	for _, f := range []*firm{young, old} {
		phones[f] = newPhone(f, 1, "steady")
		phones[f].settle()
	}
	measure("a visit of 20 entries", 40, 100, commit, func(f *firm) { phones[f].visit() })
	for _, f := range []*firm{young, old} {
		phones[f].settle()
	}
	measure("a sync with nothing new", 200, 5, looked, func(f *firm) { phones[f].sync(nil) })

	n := 0
	var size int
	measure("first day pack", 5, 500, looked, func(f *firm) {
		n++
		p := newPhone(f, 0, fmt.Sprint("first", n))
		p.settle()
		size = p.bytes
	})
	fmt.Printf("  %d parts, %d sites in the company, %d visits: %.0f kB in gzip\n", parts, sites, packVisits, float64(size)/1000)

	get := func(path string) func(*firm) { return func(f *firm) { f.ask(path, nil) } }
	measure("board of a day", 7, 100, looked, func(f *firm) { get("/api/office/board?date=" + f.now.Format(time.DateOnly))(f) })
	measure("visits to review", 7, 20, looked, get("/api/office/finished"))
	measure("hours of a week", 7, 20, looked, func(f *firm) {
		get("/api/office/hours?from=" + f.now.AddDate(0, 0, -6).Format(time.DateOnly) + "&to=" + f.now.Format(time.DateOnly))(f)
	})
	measure("what to look at", 7, 50, looked, get("/api/office/flags"))
	measure("search for a customer", 20, 50, looked, get("/api/office/customers?q=dairy%2017"))
	measure("find anything by parts of words", 20, 50, looked, get("/api/office/find?q=arbour%20boost"))
	measure("find anything with a slip", 20, 50, looked, get("/api/office/find?q=quartely%20servce"))
	measure("devices", 7, 20, looked, get("/api/office/devices"))
	measure("a visit's page", 20, 50, looked, func(f *firm) { get(fmt.Sprintf("/api/office/visits/B%07d", f.made-packVisits))(f) })

	planning(ctx, young, old, measure, looked)

	firstA, allA := crowd(young)
	firstB, allB := firstA, allA
	if old != young {
		firstB, allB = crowd(old)
	}
	row(fmt.Sprintf("%d devices at once, 99 %%", devices), firstA, firstB, 1000, commit*devices)
	fmt.Printf("  %.2f of as many plain commits one after another\n", firstA/(commit*devices))
	row(fmt.Sprintf("%d devices at once, told what is new, 99 %%", devices), allA, allB, 5000, commit*devices)
}

// phone is a device of a technician as far as the server sees it.
type phone struct {
	f       *firm
	tech    int
	replica string
	cursor  string
	cookie  string
	n       int64
	bytes   int
}

func newPhone(f *firm, tech int, name string) *phone {
	return &phone{f: f, tech: tech, replica: person(tech) + "-" + name, cookie: f.signIn(person(tech))}
}

// sync makes a round trip and tells whether there is more.
func (p *phone) sync(entries []ledger.Entry) bool {
	for i := range entries {
		p.n++
		entries[i].Replica, entries[i].N = p.replica, p.n
	}
	raw, err := json.Marshal(replica.Request{Replica: p.replica, Cursor: p.cursor, Now: p.f.now, Entries: entries})
	check(err)
	answer := p.f.call(http.MethodPost, "/api/sync", p.cookie, string(raw))
	p.bytes += answer.Body.Len()
	body := unpacked(answer)
	var out replica.Response
	check(json.Unmarshal(body, &out))
	for _, r := range out.Receipts {
		if r.Verdict != replica.Taken {
			check(fmt.Errorf("%s: %v", r.Verdict, r.Why))
		}
	}
	p.cursor = out.Cursor
	return out.More
}

// unpacked is the body of an answer.
func unpacked(answer *httptest.ResponseRecorder) []byte {
	if answer.Header().Get("Content-Encoding") != "gzip" {
		return answer.Body.Bytes()
	}
	z, err := gzip.NewReader(answer.Body)
	check(err)
	body, err := io.ReadAll(z)
	check(err)
	return body
}

func (p *phone) settle() {
	for p.sync(nil) {
	}
	p.sync(nil)
}

// visit plans a visit and does it.
func (p *phone) visit() {
	all := p.f.visit(p.tech, p.f.now, true)
	p.f.write(context.Background(), all[:3])
	p.sync(all[3:23])
}

// crowd lets many devices send a few entries at the same moment, and gives the 99th percentiles until they hear that those have arrived and
// until they have been told what is new, in milliseconds.
func crowd(f *firm) (arrived, told float64) {
	var all []*phone
	var work [][]ledger.Entry
	for i := range devices {
		p := newPhone(f, 1+i%(technicians-1), fmt.Sprint("crowd", i))
		if i > 0 { // the catalogue is the same for all: it is fetched once
			_, seq, _ := strings.Cut(all[0].cursor, ".")
			p.cursor = "0." + seq
		}
		p.settle()
		v := f.visit(p.tech, f.now, true)
		f.write(context.Background(), v[:3])
		all, work = append(all, p), append(work, v[3:8])
	}
	first, rest := make([]float64, devices), make([]float64, devices)
	var wait sync.WaitGroup
	start := make(chan struct{})
	for i, p := range all {
		wait.Go(func() {
			<-start
			began := time.Now()
			more := p.sync(work[i])
			first[i] = time.Since(began).Seconds() * 1000
			for more {
				more = p.sync(nil)
			}
			rest[i] = time.Since(began).Seconds() * 1000
		})
	}
	close(start)
	wait.Wait()
	return percentile(first, 99), percentile(rest, 99)
}

// commits gives how long as many plain commits of one row take, one after another, in milliseconds.
func commits(ctx context.Context, f *firm) float64 {
	db := f.store.Sessions()
	_, err := db.ExecContext(ctx, "CREATE TABLE IF NOT EXISTS plain (id INTEGER PRIMARY KEY, body TEXT)")
	check(err)
	began := time.Now()
	for range devices {
		_, err := db.ExecContext(ctx, "INSERT INTO plain (body) VALUES ('x')")
		check(err)
	}
	return time.Since(began).Seconds() * 1000
}

// lookups gives how long two hundred documents take, read one by one, in milliseconds.
func lookups(ctx context.Context, f *firm) float64 {
	db := f.store.Sessions()
	a, _ := times(20, f, f, func(*firm) {
		for i := range 200 {
			var body []byte
			check(db.QueryRowContext(ctx, "SELECT body FROM docs WHERE type = 'person' AND id = ?", person(i%technicians)).Scan(&body))
		}
	})
	return a
}

// refold measures how fast a log is folded anew.
func refold(ctx context.Context, f *firm) {
	began := time.Now()
	differ, n, err := f.store.Verify(ctx, func(done, total int64) {})
	check(err)
	if len(differ) > 0 {
		check(fmt.Errorf("verify: %v", differ[0]))
	}
	fmt.Printf("iter verify                      %8.0f entries/s\n", float64(n)/time.Since(began).Seconds())
}
