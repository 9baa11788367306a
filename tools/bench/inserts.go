package main

import (
	"context"
	"database/sql"
	"encoding/json"
	"fmt"
	"log"
	"os"
	"path/filepath"
	"time"

	"iter.example/iter/core/ledger"
	"iter.example/iter/core/ledger/ledgertest"
	"iter.example/iter/core/records"
	"iter.example/iter/core/replica"
	"iter.example/iter/core/signoff"
	"iter.example/iter/core/work"
	"iter.example/iter/server/store"
	"iter.example/iter/server/syncing"
	"iter.example/iter/tools/internal/figure"

	"github.com/shopspring/decimal"
)

const (
	rounds   = 15
	visits   = 10 // in a batch of 200 entries, twenty to a visit
	perVisit = 20

	// leastShare is how fast entries are taken at least, as a share of plain inserts of the same bytes.
	leastShare = 0.30
)

// inserts measures how fast entries are taken by sync, next to plain SQLite inserts of the same bytes in the same batches, in
// turns.
func inserts(ctx context.Context) {
	dir, err := os.MkdirTemp("", "iter-bench-")
	check(err)
	defer os.RemoveAll(dir)
	s, err := store.Open(ctx, dir)
	check(err)
	defer s.Close()
	plain, err := sql.Open("sqlite", "file:"+filepath.Join(dir,
		"plain.db")+"?_pragma=journal_mode(WAL)&_pragma=synchronous(FULL)&_txlock=immediate")
	check(err)
	defer plain.Close()
	_, err = plain.Exec("CREATE TABLE entries (seq INTEGER PRIMARY KEY AUTOINCREMENT, id TEXT NOT NULL UNIQUE, body BLOB)")
	check(err)

	office := ledgertest.NewMaker("office", 1)
	append_ := func(e ledger.Entry) {
		check(s.Write(ctx, func(tx *store.Tx) error {
			_, err := tx.Record(e, e.At)
			return err
		}))
	}
	for _, e := range office.Company() {
		append_(e)
	}
	append_(office.Entry("office", "stock.counted", "stock", "van-ann", ledger.Count{Part: "P1", Quantity: decimal.NewFromInt(1000)}))
	var person records.Person
	check(s.Read(ctx, func(tx *store.Tx) error { _, err := tx.Load("person", "ann", &person); return err }))
	device := syncing.Device{PersonID: "ann", Person: person, Agent: "bench"}
	phone := ledgertest.NewMaker("phone", 2)
	cursor := ""

	var ratios, perSecond, plainPerSecond []float64
	for round := range rounds {
		var batch []ledger.Entry
		for i := range visits {
			id := fmt.Sprintf("B%d-%d", round, i)
			append_(office.Entry("office", "visit.planned", "visit", id,
				ledger.Plan{Order: "W1", Technician: "ann", Start: ledgertest.Start, Minutes: 60}))
			append_(office.Entry("office", "visit.sent", "visit", id, ledger.Nothing{}))
			batch = append(batch, aVisit(phone, "ann", id)...)
		}
		now := batch[len(batch)-1].At
		r := replica.Request{Replica: "phone", Cursor: cursor, Now: now, Entries: batch}
		began := time.Now()
		out, err := syncing.Sync(ctx, s, device, r, now)
		check(err)
		took := time.Since(began)
		for _, x := range out.Receipts {
			if x.Verdict != replica.Taken {
				log.Fatalf("bench: %s was %s: %v", x.ID, x.Verdict, x.Why)
			}
		}
		cursor = out.Cursor
		phone.Wait(22 * time.Hour) // the next batch is another day's

		began = time.Now()
		tx, err := plain.Begin()
		check(err)
		for _, e := range batch {
			raw, err := json.Marshal(e)
			check(err)
			_, err = tx.Exec("INSERT INTO entries (id, body) VALUES (?,?)", e.ID, raw)
			check(err)
		}
		check(tx.Commit())
		tookPlain := time.Since(began)
		if round == 0 {
			continue // warming up
		}
		n := float64(len(batch))
		perSecond = append(perSecond, n/took.Seconds())
		plainPerSecond = append(plainPerSecond, n/tookPlain.Seconds())
		ratios = append(ratios, tookPlain.Seconds()/took.Seconds())
	}
	fmt.Printf("entries taken by sync            %8.0f /s  (plain SQLite inserts of the same bytes: %.0f /s)\n", median(perSecond),
		median(plainPerSecond))
	share := median(ratios)
	fmt.Printf("  share of plain inserts         %8.2f     (at least %.2f)\n", share, leastShare)
	measured = append(measured, figure.Figure{Name: "entries taken by sync, as a share of plain inserts", Value: share, Limit: leastShare,
		Ratio: share, More: true})
}

// aVisit is a visit as a technician records it.
func aVisit(m *ledgertest.Maker, person, id string) []ledger.Entry {
	field := func(kind string, body any) ledger.Entry {
		m.Wait(20 * time.Second)
		return m.Entry(person, kind, "visit", id, body)
	}
	out := []ledger.Entry{
		field("visit.accepted", ledger.Step{}), field("visit.set_off", ledger.Step{}),
		field("visit.arrived", ledger.Step{Where: &work.Where{Lat: 54, Lon: -9}}),
		field("signoff.captured", ledgertest.Signed(signoff.Summary{Order: "4127", Notes: []string{"Seal changed"}}, "Ona Pryde")),
		field("visit.finished", ledger.Step{Outcome: work.Complete}),
	}
	for i := 0; len(out) < perVisit; i++ {
		kind := i % 3
		if i == 4 || i == 8 { // two parts to a visit
			kind = 3
		}
		switch kind {
		case 0:
			out = append(out, field("reading.taken", ledger.Taken{Asset: "A1", Point: "discharge", Value: decimal.New(int64(400+i), -2),
				Unit: "bar"}))
		case 1:
			out = append(out, field("sheet.answered", ledger.Answered{Sheet: "pump@1", Question: "guard", Value: "yes"}))
		case 2:
			out = append(out, field("note.written", ledger.Note{Text: "Strainer was full of weed, flushed and primed."}))
		case 3:
			out = append(out, field("part.used", ledger.Use{Part: "P1", Place: "van-" + person, Quantity: decimal.NewFromInt(1)}))
		}
	}
	return out
}
