package main

import (
	"context"
	"encoding/json"
	"fmt"
	"net/http"
	"net/http/httptest"
	"strings"
	"time"

	"github.com/shopspring/decimal"

	"iter.example/iter/core/ledger"
	"iter.example/iter/core/reading"
	"iter.example/iter/core/records"
	"iter.example/iter/core/signal"
	"iter.example/iter/server/signals"
	"iter.example/iter/server/store"
)

// signalling measures whether a phone waits for its sync while machines report a thousand signals a second, each judged by three rules. The
// yardstick is the same sync with no signals.
func signalling(ctx context.Context, f *firm) {
	const perSecond, batch, seconds = 1000, 100, 10
	limit := decimal.NewFromInt(1_000_000)
	kind := records.AssetKind{Name: "Booster set", Points: []reading.Point{{ID: "vibration", Name: "Vibration", Unit: "mm/s"}}}
	rules := signal.Rules{Rules: []signal.Rule{
		{ID: "high", Point: "vibration", When: signal.Above, Limit: &limit, For: 1, Do: signal.Attend, Text: "High"},
		{ID: "fast", Point: "vibration", When: signal.Rate, Limit: &limit, Per: 5, Do: signal.Attend, Text: "Fast"},
		{ID: "silent", When: signal.Silent, For: 600, Do: signal.Attend, Text: "Silent"}}}
	f.write(ctx, []ledger.Entry{f.office.Entry("office", "record.created", "assetkind", "booster", kind),
		f.office.Entry("office", "record.created", "signalrules", "booster", rules)})
	all := make([]string, sites)
	for i := range all {
		all[i] = siteOf(i)
	}
	check(f.store.Write(ctx, func(tx *store.Tx) error {
		return tx.PutSignalSource(store.SignalSource{ID: "bench", Name: "Bench", Sites: all, Made: f.now}, "bench")
	}))
	p := newPhone(f, 3, "signals")
	p.settle()
	syncs := func(until time.Time) (took []float64) {
		for time.Now().Before(until) {
			began := time.Now()
			p.sync(nil)
			took = append(took, time.Since(began).Seconds()*1000)
			time.Sleep(10 * time.Millisecond)
		}
		return took
	}
	quiet := syncs(time.Now().Add(seconds * time.Second))
	done := make(chan int)
	go func() { done <- f.reports(perSecond, batch, seconds) }()
	busy := syncs(time.Now().Add(seconds * time.Second))
	taken := <-done
	rate := float64(taken) / seconds
	a, b := percentile(quiet, 95), percentile(busy, 95)
	fmt.Printf("signals: %.0f a second taken (asked for %d); a sync meanwhile %.1f ms at the 95th percentile, %.1f without\n", rate,
		perSecond, b, a)
	note("a sync while 1,000 signals a second come in, 95 %", b, "ms", 100, a)
}

// reports sends signals for some seconds, and gives how many were taken.
func (f *firm) reports(perSecond, batch, seconds int) (taken int) {
	tick := time.NewTicker(time.Duration(batch) * time.Second / time.Duration(perSecond))
	defer tick.Stop()
	at := f.now.Add(-time.Hour)
	for i := range perSecond * seconds / batch {
		list := make([]signals.Signal, batch)
		for k := range list {
			n := i*batch + k
			list[k] = signals.Signal{Machine: fmt.Sprintf("M%03d-%d", n%sites, n%assetsEach), Point: "vibration",
				Value: decimal.New(int64(240+n%50), -2), At: at.Add(time.Duration(n) * time.Millisecond)}
		}
		raw, err := json.Marshal(list)
		check(err)
		r := httptest.NewRequest(http.MethodPost, "/api/signals", strings.NewReader(string(raw)))
		r.Header.Set("Authorization", "Bearer bench")
		answer := httptest.NewRecorder()
		f.server.ServeHTTP(answer, r)
		var out signals.Answer
		if answer.Code != http.StatusOK {
			check(fmt.Errorf("signals: %s", answer.Body))
		}
		check(json.Unmarshal(answer.Body.Bytes(), &out))
		taken += out.Taken
		<-tick.C
	}
	return taken
}
