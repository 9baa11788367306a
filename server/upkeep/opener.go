package upkeep

import (
	"context"
	"crypto/sha256"
	"encoding/json"
	"errors"
	"log/slog"
	"slices"
	"strings"
	"time"

	"github.com/oklog/ulid/v2"

	"iter.example/iter/core/ledger"
	"iter.example/iter/core/sheet"
	"iter.example/iter/core/upkeep"
	"iter.example/iter/core/work"
	"iter.example/iter/server/company"
	"iter.example/iter/server/office"
	"iter.example/iter/server/store"
)

// Opener opens the work orders for what falls due. Its methods may be called at the same time.
type Opener struct {
	Store *store.Store
	Now   func() time.Time
	Log   *slog.Logger

	fresh chan struct{}
}

// NewOpener makes an opener.
func NewOpener(s *store.Store, now func() time.Time, log *slog.Logger) *Opener {
	return &Opener{Store: s, Now: now, Log: log, fresh: make(chan struct{}, 1)}
}

// Heard is told what was written: after a change of a plan or an agreement it is looked at once, after anything else within ten minutes.
func (o *Opener) Heard(c store.Changed) {
	if slices.ContainsFunc(c.Docs, func(r ledger.Ref) bool { return r.Type == "upkeep" || r.Type == "agreement" }) {
		select {
		case o.fresh <- struct{}{}:
		default: // it looks anyway
		}
	}
}

const (
	// every is how often it is looked what falls due though nothing was written: days begin.
	every = 10 * time.Minute
	// settle is how long it is waited after something was written, for what is written together with it.
	settle = time.Second
)

// Run opens what falls due until the context ends.
func (o *Opener) Run(ctx context.Context) {
	for {
		if n, err := o.Round(ctx); err != nil && ctx.Err() == nil {
			o.Log.Warn("work that falls due was not opened", "error", err, "opened", n, "hint", "it is tried again in ten minutes")
		}
		select {
		case <-ctx.Done():
			return
		case <-time.After(every):
			continue
		case <-o.fresh:
		}
		select {
		case <-ctx.Done():
			return
		case <-time.After(settle):
		}
	}
}

// Round opens all that is to be opened by now, and tells how many work orders that were. What can't be opened keeps nothing else back.
func (o *Opener) Round(ctx context.Context) (opened int, err error) {
	var orders [][]Line
	now := o.Now()
	err = o.Store.Read(ctx, func(tx *store.Tx) error {
		settings, err := tx.Settings(now)
		if err != nil {
			return err
		}
		orders, err = ToOpen(tx, settings.Company.Zone.In(now).Format(time.DateOnly))
		return err
	})
	for _, lines := range orders {
		done := false
		failed := o.Store.Write(ctx, func(tx *store.Tx) (err error) { done, err = open(tx, lines, now); return err })
		if failed != nil {
			err = errors.Join(err, failed)
		} else if done {
			opened++
		}
	}
	return opened, err
}

// open opens a work order, unless something of it was opened, moved or skipped since it was looked at: then it is looked at again.
func open(tx *store.Tx, lines []Line, now time.Time) (bool, error) {
	firm, day, err := tx.Company(now)
	if err != nil {
		return false, err
	}
	items := make([]upkeep.Item, len(lines))
	for i, l := range lines {
		if still, err := stillDue(tx, l, day); err != nil || !still {
			return false, err
		}
		items[i] = l.Item
	}
	order := upkeep.OrderOf(items)
	order.Customer, order.Site = lines[0].Customer, lines[0].Site
	body, err := json.Marshal(opening(order))
	if err != nil {
		return false, err
	}
	rules, err := store.SettingsOn[sheet.Settings](tx, day)
	if err != nil {
		return false, err
	}
	// Its ids follow from what it is for, so that it is the same when it is opened again after a restore.
	cause := strings.Join([]string{"upkeep", lines[0].PlanID, lines[0].Target, lines[0].Key}, "\n")
	digest := sha256.Sum256([]byte(cause))
	ref := ledger.Ref{Type: "workorder", ID: ulid.ULID(digest[:16]).String()}
	if body, err = office.Completed(tx, rules, office.Command{Kind: "work.opened", Subject: ref, Body: body}); err != nil {
		return false, err
	}
	w := company.Writer{Tx: tx, Now: now, Cause: cause}
	_, err = w.Append("work.opened", ref, company.Program, firm.Zone.In(now), json.RawMessage(body), nil)
	return err == nil, err
}

// stillDue tells whether something falls due as it did when it was looked at.
func stillDue(tx *store.Tx, l Line, today string) (bool, error) {
	g, _, err := Plan(tx, l.PlanID, l.Target)
	if err != nil {
		return false, err
	}
	return slices.ContainsFunc(g.Coming(today, max(today, l.Due, l.On)), func(x Line) bool {
		return x.Site == l.Site && x.Key == l.Key && x.On == l.On && !x.Skipped && !x.Later
	}), nil
}

// opening is what opens a work order.
func opening(o work.Order) ledger.WorkOpened {
	return ledger.WorkOpened{Customer: o.Customer, Site: o.Site, Asset: o.Asset, Problem: o.Problem, Priority: o.Priority, Minutes: o.Minutes,
		Sheets: o.Sheets, Kind: o.Kind, Skills: o.Skills, Tasks: o.Tasks, Needs: o.Needs, Due: o.Due, Crew: o.Crew,
		Things: o.Things}
}
