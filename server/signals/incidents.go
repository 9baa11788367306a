package signals

import (
	"context"
	"crypto/sha256"
	"encoding/json"
	"slices"
	"strings"
	"time"

	"github.com/oklog/ulid/v2"
	"github.com/shopspring/decimal"

	"iter.example/iter/core/ledger"
	"iter.example/iter/core/reading"
	"iter.example/iter/core/records"
	"iter.example/iter/core/sheet"
	"iter.example/iter/core/signal"
	"iter.example/iter/core/work"
	"iter.example/iter/server/company"
	"iter.example/iter/server/office"
	"iter.example/iter/server/promises"
	"iter.example/iter/server/store"
)

// watched is a machine that is looked at.
type watched struct {
	machine *machine
	watches []*watch
}

// watch looks at a machine by one rule.
type watch struct {
	signal.Watch
	incident string // that is open
	order    string // its work order, "" for none
}

// since is how far back values are looked at again after the program was down, or rules changed.
const since = 24 * time.Hour

// curveBack is from how long before something was wrong values are kept with it.
const curveBack = 2 * time.Hour

// look has the watches of a machine look at a signal, and records what they find.
func (t *Taker) look(ctx context.Context, x taken) error {
	t.judge.Lock()
	defer t.judge.Unlock()
	w, err := t.watched(ctx, x.machine, x.At)
	if err != nil {
		return err
	}
	for _, one := range w.watches {
		if one.Rule.Point != "" && one.Rule.Point != x.point.ID {
			continue
		}
		local, err := t.local(ctx, x.At)
		if err != nil {
			return err
		}
		before := one.Watch
		if err := t.found(ctx, w.machine, one, one.Take(signal.Value{At: x.At, Value: x.Value}, local), x.At); err != nil {
			one.Watch = before // it is found again with the next
			return err
		}
	}
	return nil
}

// local is a moment by the company's clock.
func (t *Taker) local(ctx context.Context, at time.Time) (time.Time, error) {
	t.mu.Lock()
	zone := t.zone
	t.mu.Unlock()
	if zone == nil {
		var rules ledger.Settings
		if err := t.Store.Read(ctx, func(tx *store.Tx) (err error) { rules, err = tx.Settings(t.Now()); return err }); err != nil {
			return at, err
		}
		zone = &rules.Company.Zone
		t.mu.Lock()
		t.zone = zone
		t.mu.Unlock()
	}
	return zone.In(at), nil
}

// Tick looks at all machines that reported something lately: what has been wrong for long enough, and who is silent.
func (t *Taker) Tick(ctx context.Context) error {
	now := t.Now()
	heard, err := t.raw.machines(ctx)
	if err != nil {
		return err
	}
	local, err := t.local(ctx, now)
	if err != nil {
		return err
	}
	t.judge.Lock()
	defer t.judge.Unlock()
	for id := range heard {
		m, err := t.machine(ctx, id)
		if err != nil {
			return err
		}
		if m == nil {
			continue // taken out since
		}
		w, err := t.watched(ctx, m, now)
		if err != nil {
			return err
		}
		for _, one := range w.watches {
			before := one.Watch
			if err := t.found(ctx, m, one, one.Tick(now, local), now); err != nil {
				one.Watch = before
				return err
			}
		}
	}
	return t.sweep(ctx, now)
}

// sweep ends incidents that nothing looks at any more: their machine is gone, or their rule is.
func (t *Taker) sweep(ctx context.Context, now time.Time) error {
	var over []*watch
	err := t.Store.Read(ctx, func(tx *store.Tx) error {
		open, err := tx.OpenIncidents()
		if err != nil {
			return err
		}
		for id, i := range open {
			m, err := findMachine(tx, i.Asset)
			if err != nil {
				return err
			}
			var rules signal.Rules
			if m != nil {
				if _, err := tx.Load("signalrules", m.kind, &rules); err != nil {
					return err
				}
			}
			if !slices.ContainsFunc(rules.Rules, func(r signal.Rule) bool { return r.ID == i.Rule.ID }) {
				over = append(over, &watch{incident: id, order: i.Order})
			}
		}
		return nil
	})
	if err != nil {
		return err
	}
	for _, w := range over {
		if err := t.end(ctx, w, now); err != nil {
			return err
		}
	}
	return nil
}

// watched is what looks at a machine: as it stood by then, when that was forgotten.
func (t *Taker) watched(ctx context.Context, m *machine, at time.Time) (*watched, error) {
	t.mu.Lock()
	w := t.watch[m.id]
	t.mu.Unlock()
	if w != nil {
		return w, nil
	}
	w = &watched{machine: m}
	open := map[string]ledger.Incident{}
	ids := map[string]string{}
	err := t.Store.Read(ctx, func(tx *store.Tx) error {
		var rules signal.Rules
		if _, err := tx.Load("signalrules", m.kind, &rules); err != nil {
			return err
		}
		for _, r := range rules.Rules {
			if _, known := reading.Find(m.points, r.Point); known || r.Point == "" {
				w.watches = append(w.watches, &watch{Watch: signal.Watch{Rule: r}})
			}
		}
		all, err := tx.OpenIncidents()
		if err != nil {
			return err
		}
		for id, i := range all {
			if i.Asset == m.id {
				open[i.Rule.ID], ids[i.Rule.ID] = i, id
			}
		}
		return nil
	})
	if err != nil {
		return nil, err
	}
	for _, one := range w.watches {
		i, is := open[one.Rule.ID]
		if is { // before it looks back, so that it knows what was usual
			one.Resume(i.Since, i.Usual)
		}
		values, err := t.raw.values(ctx, m.id, one.Rule.Point, at.Add(-since))
		if err != nil {
			return nil, err
		}
		for _, v := range values {
			if v.At.Before(at) {
				one.Take(v, time.Time{})
			}
		}
		// What was found and what ended by then was recorded: what the log says holds.
		if one.Open = is; is {
			one.Since, one.incident, one.order = i.Since, ids[one.Rule.ID], i.Order
		}
	}
	t.mu.Lock()
	defer t.mu.Unlock()
	t.watch[m.id] = w
	return w, nil
}

// found records what a watch found.
func (t *Taker) found(ctx context.Context, m *machine, w *watch, e signal.Event, at time.Time) error {
	switch e {
	case signal.Wrong:
		return t.open(ctx, m, w)
	case signal.Well:
		return t.end(ctx, w, at)
	}
	return nil
}

// idOf follows from what something is for: opened again after a restore, it is the same.
func idOf(parts ...string) string {
	digest := sha256.Sum256([]byte(strings.Join(parts, "\n")))
	return ulid.ULID(digest[:16]).String()
}

// open records an incident, with the work order that follows.
func (t *Taker) open(ctx context.Context, m *machine, w *watch) error {
	now := t.Now()
	r := w.Rule
	cause := strings.Join([]string{"incident", m.id, r.ID, w.Since.UTC().Format(time.RFC3339Nano)}, "\n")
	id, order := idOf(cause), ""
	if r.Do == signal.Order {
		order = idOf(cause, "order")
	}
	body := ledger.IncidentOpened{Asset: m.id, Rule: r, Since: w.Since, Order: order, Usual: w.Usual()}
	if p, ok := reading.Find(m.points, r.Point); ok {
		values, err := t.raw.values(ctx, m.id, r.Point, w.Since.Add(-curveBack))
		if err != nil {
			return err
		}
		body.Point, body.Unit, body.Values = p.Name, p.Unit, signal.Curve(values, ledger.MostIncidentValues)
	}
	err := t.Store.Write(ctx, func(tx *store.Tx) error {
		rules, err := tx.Settings(now)
		if err != nil {
			return err
		}
		zone := rules.Company.Zone
		wr := company.Writer{Tx: tx, Now: now, Cause: cause}
		body.Since = zone.In(body.Since)
		if _, err := wr.Append("incident.opened", ledger.Ref{Type: "incident", ID: id}, company.Program, zone.In(now), body, nil); err != nil {
			return err
		}
		if order == "" {
			return nil
		}
		return t.openOrder(tx, &wr, rules.Sheets, m, body, id, zone.In(now))
	})
	if err == nil {
		w.incident, w.order = id, order
	}
	return err
}

// openOrder opens the work order of an incident, with what is promised of such work.
func (t *Taker) openOrder(tx *store.Tx, w *company.Writer, sheets sheet.Settings, m *machine, i ledger.IncidentOpened, id string,
	now time.Time) error {
	var site records.Site
	if _, err := tx.Load("site", m.site, &site); err != nil {
		return err
	}
	p, err := promises.Of(tx, now, i.Rule.Priority, "", m.id)
	if err != nil {
		return err
	}
	body, err := json.Marshal(ledger.WorkOpened{Customer: site.Customer, Site: m.site, Asset: m.id, Problem: i.Rule.Text,
		Priority: i.Rule.Priority, Minutes: i.Rule.Minutes, Skills: i.Rule.Skills, PromiseTo: p.By, DoneBy: p.Done,
		Signal: &work.Signalled{Incident: id, Point: i.Point, Unit: i.Unit, Since: i.Since, Limit: limitOf(i.Rule), Values: i.Values}})
	if err != nil {
		return err
	}
	ref := ledger.Ref{Type: "workorder", ID: i.Order}
	if body, err = office.Completed(tx, sheets, office.Command{Kind: "work.opened", Subject: ref, Body: body}); err != nil {
		return err
	}
	_, err = w.Append("work.opened", ref, company.Program, now, json.RawMessage(body), nil)
	return err
}

// limitOf is the limit that a value passed; nil of a rule of something else.
func limitOf(r signal.Rule) *decimal.Decimal {
	if r.When == signal.Above || r.When == signal.Below {
		return r.Limit
	}
	return nil
}

// end records that a machine is well again, which its work order says.
func (t *Taker) end(ctx context.Context, w *watch, at time.Time) error {
	now := t.Now()
	return t.Store.Write(ctx, func(tx *store.Tx) error {
		rules, err := tx.Settings(now)
		if err != nil {
			return err
		}
		zone := rules.Company.Zone
		wr := company.Writer{Tx: tx, Now: now, Cause: "well"}
		_, err = wr.Append("incident.ended", ledger.Ref{Type: "incident", ID: w.incident}, company.Program, zone.In(now),
			ledger.IncidentEnded{At: zone.In(at), Order: w.order}, nil)
		return err
	})
}

// How often machines are looked at though nothing was reported, and how often what is old is let go of.
const (
	tickEvery  = 15 * time.Second
	pruneEvery = time.Hour
)

// Run looks at machines, and lets go of signals that are old, until the context ends.
func (t *Taker) Run(ctx context.Context) {
	pruned := time.Time{}
	for {
		if err := t.Tick(ctx); err != nil && ctx.Err() == nil {
			t.Log.Warn("machines were not looked at", "error", err, "hint", "it is tried again")
		}
		if now := t.Now(); now.Sub(pruned) > pruneEvery {
			if err := t.prune(ctx, now); err != nil && ctx.Err() == nil {
				t.Log.Warn("old signals were kept", "error", err)
			}
			pruned = now
		}
		select {
		case <-ctx.Done():
			return
		case <-time.After(tickEvery):
		}
	}
}

func (t *Taker) prune(ctx context.Context, now time.Time) error {
	days := signal.UsualKeep
	if err := t.Store.Read(ctx, func(tx *store.Tx) error {
		rules, err := tx.Settings(now)
		days = rules.Signals.Days()
		return err
	}); err != nil {
		return err
	}
	return t.raw.prune(ctx, now.AddDate(0, 0, -days))
}
