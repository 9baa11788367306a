package main

import (
	"context"
	"fmt"
	"os"
	"time"

	"iter.example/iter/server/store"
)

// listed is how many work orders are in the list that is measured.
const listed = 100_000

// lists measures the pages of a long list, each beside as many lookups as a page has lines. The rows are written straight into the table:
// what a list costs is the same however they came there.
func lists(ctx context.Context) {
	dir, err := os.MkdirTemp("", "iter-lists-")
	check(err)
	defer os.RemoveAll(dir)
	s, err := store.Open(ctx, dir)
	check(err)
	defer s.Close()
	_, err = s.Sessions().ExecContext(ctx, fill, listed)
	check(err)
	page := func(q store.ListQuery) func() {
		return func() {
			check(s.Read(ctx, func(tx *store.Tx) error { _, err := tx.ListPage("orders", q); return err }))
		}
	}
	lookup := repeated(func() {
		check(s.Read(ctx, func(tx *store.Tx) error {
			for i := range store.PageLines {
				if _, _, err := tx.ListLines("orders", store.ListQuery{IDs: []string{fmt.Sprint("W", 1+i*997)}}, 1); err != nil {
					return err
				}
			}
			return nil
		}))
	})
	for _, x := range []struct {
		name string
		f    func()
	}{
		{"first page", page(store.ListQuery{})},
		{"sorted by customer", page(store.ListQuery{Sort: "customer"})},
		{"filtered by state and month", page(store.ListQuery{Where: []store.Filter{{Column: "state", In: []string{"closed"}},
			{Column: "opened", From: "2020-03-01", To: "2020-03-31"}}})},
		{"filtered by words", page(store.ListQuery{Words: "night 4711"})},
		{"filtered by a common word", page(store.ListQuery{Words: "night"})},
		{"grouped by customer", func() {
			check(s.Read(ctx, func(tx *store.Tx) error {
				_, _, err := tx.ListGroups("orders", "customer", store.ListQuery{})
				return err
			}))
		}},
	} {
		name, took := fmt.Sprintf("list of %d orders, %s", listed, x.name), repeated(x.f)
		fmt.Printf("%-56s %8.2f ms (limit 200)\n", name, took)
		note(name, took, "ms", 200, lookup)
	}
}

// fill makes as many work orders as it is given.
const fill = `INSERT INTO workorders (id, number, priority, opened, promise, customer, site, placed, state, held, label, problem, kind,
	minutes,		visits, opened_day, promise_day, customer_name, site_name, text)
		WITH RECURSIVE n (i) AS (SELECT 1 UNION ALL SELECT i + 1 FROM n WHERE i < ?1)
		SELECT 'W' || i, i, CASE i % 9 WHEN 0 THEN 'emergency' WHEN 1 THEN 'soon' ELSE 'normal' END,
			strftime('%Y-%m-%dT10:00:00Z', '2016-01-01', (i / 27) || ' days'), '', 'C' || (i % 1500), 'S' || (i % 4000), 1,
			CASE WHEN i > ?1 - 600 THEN 'open' ELSE 'closed' END, '', i, 'Pressure falls at night on line ' || (i % 5000), 'service',
			90, 1 + i % 3, strftime('%Y-%m-%d', '2016-01-01', (i / 27) || ' days'), '', 'Customer ' || (i % 1500), 'Works ' || (i % 4000),
			'pressure falls at night on line ' || (i % 5000) || ' works ' || (i % 4000) || ' customer ' || (i % 1500) || ' ' || i
	FROM n`

// repeated is how long something takes at the median of seven times, in milliseconds.
func repeated(f func()) float64 {
	var all []float64
	for range 7 {
		began := time.Now()
		f()
		all = append(all, time.Since(began).Seconds()*1000)
	}
	return median(all)
}
