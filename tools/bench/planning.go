package main

import (
	"context"
	"encoding/json"
	"fmt"
	"net/http"
	"net/url"
	"time"

	"iter.example/iter/core/ledger"
	"iter.example/iter/core/work"
	"iter.example/iter/server/api"
)

// ask gives what an address of the office answers.
func (f *firm) ask(path string, into any) {
	r := f.call(http.MethodGet, path, f.cookie, "")
	if r.Code != http.StatusOK {
		check(fmt.Errorf("%s: %s", path, r.Body))
	}
	if into != nil {
		check(json.Unmarshal(unpacked(r), into))
	}
}

// planning measures what whoever plans waits for: a board as a draft would make it, two weeks, and what fits into a gap.
func planning(ctx context.Context, young, old *firm, measure func(name string, rounds int, most, yardstick float64, f func(*firm)),
	yardstick float64) {
	tomorrow := func(f *firm) time.Time { return f.now.AddDate(0, 0, 1) }
	date := func(f *firm) string { return tomorrow(f).Format(time.DateOnly) }
	for _, f := range []*firm{young, old} {
		f.draft(ctx, tomorrow(f))
		if old == young {
			break
		}
	}
	name := fmt.Sprintf("board with a draft of %d", ledger.MostDraftChanges)
	measure(name, 7, 250, yardstick, func(f *firm) { f.ask("/api/office/board?draft=true&date="+date(f), nil) })
	measure("two weeks of all people", 5, 1000, yardstick, func(f *firm) { f.ask("/api/office/weeks?days=14&from="+date(f), nil) })
	measure("when somebody could come within 14 days", 9, 300, yardstick, func(f *firm) {
		f.ask("/api/office/free?minutes=90&site="+siteOf(3)+"&days=12345&after=08:00&before=16:00", nil)
	})
	measure("what fits into a gap", 7, 250, yardstick, func(f *firm) {
		at := tomorrow(f).Add(3 * time.Hour).UTC().Format(time.RFC3339)
		f.ask("/api/office/gap?person="+person(3)+"&at="+url.QueryEscape(at), nil)
	})
}

// draft has whoever plans mean to move as much of a day as a draft holds.
func (f *firm) draft(ctx context.Context, day time.Time) {
	var b api.Board
	f.ask("/api/office/board?date="+day.Format(time.DateOnly), &b)
	var changes []ledger.DraftChange
	for _, p := range b.People {
		for _, v := range p.Visits {
			if v.Stage == work.Sent && len(changes) < ledger.MostDraftChanges {
				changes = append(changes, ledger.DraftChange{Visit: v.ID,
					Move: &ledger.Move{Technician: p.ID, Start: v.Start.Add(15 * time.Minute), Minutes: v.Minutes},
					Was:  &ledger.DraftWas{Technician: p.ID, Start: v.Start, Minutes: v.Minutes, Stage: v.Stage}})
			}
		}
	}
	if len(changes) == 0 {
		check(fmt.Errorf("nothing is planned for %s", day.Format(time.DateOnly)))
	}
	e := f.office.Entry("office", "draft.changed", "draft", "office", ledger.DraftChanged{Changes: changes})
	f.write(ctx, []ledger.Entry{f.at(e, f.now)})
}
