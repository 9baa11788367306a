package demo

import (
	"bytes"
	"context"
	"crypto/rand"
	"encoding/json"
	"fmt"
	"io"
	"log/slog"
	"math"
	"net/http"
	"slices"
	"strings"
	"time"

	"github.com/shopspring/decimal"

	"iter.example/iter/core/records"
	"iter.example/iter/core/signal"
	"iter.example/iter/core/work"
	"iter.example/iter/server/signals"
	"iter.example/iter/server/store"
)

// signalRules are what the firm's machines are judged by when they report.
var signalRules = map[string][]signal.Rule{
	"booster": {
		{ID: "vibration", Point: "vibration", When: signal.Above, Limit: dec("7.1"), Back: dec("5"), For: 1, Do: signal.Order,
			Text: "Vibration past its limit: look at bearings and coupling", Priority: work.Soon, Minutes: 90, Skills: []string{"pumps"}},
		{ID: "pressure", Point: "discharge", When: signal.Below, Limit: dec("2.5"), Back: dec("3"), For: 2, Do: signal.Attend,
			Text: "Discharge pressure is low"},
		{ID: "silent", When: signal.Silent, For: 30, Do: signal.Attend, Text: "The controller says nothing"},
	},
	"borehole": {{ID: "flow", Point: "flow", When: signal.Below, Limit: dec("4"), Back: dec("6"), For: 5, Do: signal.Attend,
		Text: "Flow is low"}},
}

// Controllers are simulated: the machines of some sites report what they measure, and one after the other drifts, fails and recovers.
type Controllers struct {
	Store   *store.Store
	Address string // of the program
	Log     *slog.Logger
}

const (
	// reportEvery is how often they report.
	reportEvery = 5 * time.Second
	// driftAfter is when the first begins to drift, driftFor how long until it is past its limit, failFor how long it is so; then the next
	// does, after restFor.
	driftAfter = time.Minute
	driftFor   = 2 * time.Minute
	failFor    = 3 * time.Minute
	restFor    = 40 * time.Minute
	// mostControllers is how many machines report.
	mostControllers = 12
)

// Run has them report until the context ends.
func (c Controllers) Run(ctx context.Context) {
	key, machines, err := c.connect(ctx)
	if err != nil {
		c.Log.Warn("no controllers", "error", err)
		return
	}
	began := time.Now()
	for tick := time.NewTicker(reportEvery); ; {
		if err := c.report(ctx, key, machines, time.Since(began)); err != nil && ctx.Err() == nil {
			c.Log.Debug("controllers could not report", "error", err)
		}
		select {
		case <-ctx.Done():
			tick.Stop()
			return
		case <-tick.C:
		}
	}
}

// sourceID is what ids of the controllers' source begin with.
const sourceID = "controllers-"

// reporter is a machine that reports.
type reporter struct{ id, kind string }

// connect makes a source for some sites, and finds their machines.
func (c Controllers) connect(ctx context.Context) (key string, out []reporter, err error) {
	key = rand.Text()
	return key, out, c.Store.Write(ctx, func(tx *store.Tx) error {
		docs, err := tx.Of("asset")
		if err != nil {
			return err
		}
		var sites []string
		for _, d := range docs {
			var a records.Asset
			if err := json.Unmarshal(d.Body, &a); err != nil {
				return err
			}
			if _, is := signalRules[a.Kind]; !is || a.Removed != "" || a.Merged != "" || len(out) == mostControllers {
				continue
			}
			out = append(out, reporter{d.ID, a.Kind})
			if !slices.Contains(sites, a.Site) {
				sites = append(sites, a.Site)
			}
		}
		all, err := tx.SignalSources()
		if err != nil {
			return err
		}
		for _, s := range all {
			if !strings.HasPrefix(s.ID, sourceID) {
				continue // somebody made it
			}
			// Of an earlier run: nobody knows its key.
			if _, err := tx.EndSignalSource(s.ID, time.Now()); err != nil {
				return err
			}
		}
		id := fmt.Sprint(sourceID, time.Now().UnixMilli())
		return tx.PutSignalSource(store.SignalSource{ID: id, Name: "Pump houses, controllers", Sites: sites, Made: time.Now(),
			By: "petrok"}, key)
	})
}

// report sends what all of them measure, some time after they began.
func (c Controllers) report(ctx context.Context, key string, of []reporter, since time.Duration) error {
	var list []signals.Signal
	for i, m := range of {
		for _, p := range machines[m.kind].points {
			if p.counter {
				continue
			}
			wave := math.Sin(since.Minutes()/3+float64(i)) * p.spread / 4
			value := p.usual + wave
			if p.id == "vibration" {
				value += drift(since, i) * 6
			}
			list = append(list, signals.Signal{Machine: m.id, Point: p.id, Value: decimal.NewFromFloat(value).Round(p.places)})
		}
	}
	raw, err := json.Marshal(list)
	if err != nil {
		return err
	}
	req, err := http.NewRequestWithContext(ctx, http.MethodPost, strings.TrimSuffix(c.Address, "/")+"/api/signals", bytes.NewReader(raw))
	if err != nil {
		return err
	}
	req.Header.Set("Authorization", "Bearer "+key)
	req.Header.Set("Content-Type", "application/json")
	res, err := http.DefaultClient.Do(req)
	if err != nil {
		return err
	}
	defer func() { _ = res.Body.Close() }()
	if _, err := io.Copy(io.Discard, res.Body); err != nil {
		return err
	}
	if res.StatusCode != http.StatusOK {
		return fmt.Errorf("signals: %s", res.Status)
	}
	return nil
}

// drift is how far a machine has drifted, from 0 to 1: one after the other does.
func drift(since time.Duration, machine int) float64 {
	since -= driftAfter
	whole := driftFor + failFor + restFor
	if since < 0 || int(since/whole)%mostControllers != machine {
		return 0
	}
	in := since % whole
	switch {
	case in < driftFor:
		return float64(in) / float64(driftFor)
	case in < driftFor+failFor:
		return 1
	}
	return 0
}
