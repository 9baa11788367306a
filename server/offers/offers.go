// Package offers has work come back to the office that was offered to several technicians and that none of them accepted in time.
package offers

import (
	"context"
	"errors"
	"log/slog"
	"time"

	"iter.example/iter/core/ledger"
	"iter.example/iter/core/work"
	"iter.example/iter/server/company"
	"iter.example/iter/server/store"
)

// Returner withdraws offers that nobody accepted.
type Returner struct {
	Store *store.Store
	Now   func() time.Time
	Log   *slog.Logger
}

// every is how often it is looked which offers are over.
const every = time.Minute

// Run withdraws offers that are over, until the context ends.
func (r Returner) Run(ctx context.Context) {
	for {
		if _, err := r.Round(ctx); err != nil && ctx.Err() == nil {
			r.Log.Warn("offers that nobody accepted were not withdrawn", "error", err, "hint", "it is tried again in a minute")
		}
		select {
		case <-ctx.Done():
			return
		case <-time.After(every):
		}
	}
}

// Reason is why an offer was withdrawn that nobody accepted in time.
const Reason = "unanswered"

// Round withdraws the offers that are over by now, and gives their visits: their work orders are to be placed again.
func (r Returner) Round(ctx context.Context) (back []string, err error) {
	now := r.Now()
	var over []string
	err = r.Store.Read(ctx, func(tx *store.Tx) error {
		ids, err := tx.OffersOpen()
		if err != nil {
			return err
		}
		for _, id := range ids {
			_, is, err := overdue(tx, id, now)
			if err != nil {
				return err
			}
			if is {
				over = append(over, id)
			}
		}
		return nil
	})
	for _, id := range over {
		failed := r.Store.Write(ctx, func(tx *store.Tx) error {
			v, is, err := overdue(tx, id, now) // somebody may have accepted it meanwhile
			if err != nil || !is {
				return err
			}
			firm, _, err := tx.Company(now)
			if err != nil {
				return err
			}
			w := company.Writer{Tx: tx, Now: now, Cause: "offer sent " + v.SentAt.UTC().Format(time.RFC3339Nano)}
			if _, err = w.Append("visit.withdrawn", ledger.Ref{Type: "visit", ID: id}, company.Program, firm.Zone.In(now),
				ledger.Withdraw{Reason: Reason}, nil); err == nil {
				back = append(back, id)
			}
			return err
		})
		err = errors.Join(err, failed)
	}
	return back, err
}

// overdue tells whether a visit is an offer that nobody accepted in the time that the company gives, or before it was to begin.
func overdue(tx *store.Tx, id string, now time.Time) (v work.Visit, is bool, err error) {
	if _, err := tx.Load("visit", id, &v); err != nil {
		return v, false, err
	}
	if v.Technician != "" || len(v.Offered) == 0 || v.SentAt.IsZero() || v.Stage != work.Sent {
		return v, false, nil
	}
	rules, err := tx.Settings(now)
	if err != nil {
		return v, false, err
	}
	end := v.Start
	if minutes := rules.Visits.Offers; minutes > 0 {
		if by := v.SentAt.Add(time.Duration(minutes) * time.Minute); by.Before(end) {
			end = by
		}
	}
	return v, !now.Before(end), nil
}
