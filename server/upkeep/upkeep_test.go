package upkeep_test

import (
	"context"
	"encoding/json"
	"fmt"
	"log/slog"
	"sync"
	"testing"
	"time"

	"github.com/shopspring/decimal"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"iter.example/iter/core/ledger"
	"iter.example/iter/core/ledger/ledgertest"
	"iter.example/iter/core/reading"
	"iter.example/iter/core/records"
	core "iter.example/iter/core/upkeep"
	"iter.example/iter/core/work"
	"iter.example/iter/server/store"
	"iter.example/iter/server/upkeep"
)

var ctx = context.Background()

// firm is the test company, whose clock goes on as its test says.
type firm struct {
	*testing.T
	store *store.Store
	m     *ledgertest.Maker
}

func found(t *testing.T) *firm {
	s, err := store.Open(ctx, t.TempDir())
	require.NoError(t, err)
	t.Cleanup(func() { _ = s.Close() })
	f := &firm{t, s, ledgertest.NewMaker("R1", 1)}
	for _, e := range f.m.Company() {
		f.record(e)
	}
	f.says("record.created", "assetkind", "booster", records.AssetKind{Name: "Booster set",
		Points: []reading.Point{{ID: "hours", Name: "Run hours", Unit: "h", Counter: true}}})
	for i := range 3 {
		f.says("record.created", "asset", fmt.Sprint("B", i), records.Asset{Site: "S1", Name: fmt.Sprint("Booster ", i), Kind: "booster"})
	}
	return f
}

func (f *firm) record(e ledger.Entry) {
	f.Helper()
	require.NoError(f, f.store.Write(ctx, func(tx *store.Tx) error { _, err := tx.Record(e, e.At); return err }))
}

func (f *firm) says(kind, typ, id string, body any) {
	f.Helper()
	f.m.Wait(time.Minute)
	f.record(f.m.Entry("office", kind, typ, id, body))
}

// opens opens what is due now, and gives the orders there are by the day they are due for, and how many machines they are for.
func (f *firm) opens() []string {
	f.Helper()
	o := upkeep.NewOpener(f.store, f.m.Now, slog.New(slog.DiscardHandler))
	_, err := o.Round(ctx)
	require.NoError(f, err)
	return f.opened()
}

func (f *firm) opened() []string {
	out := []string{}
	require.NoError(f, f.store.Read(ctx, func(tx *store.Tx) error {
		docs, err := tx.Of("workorder")
		for _, d := range docs {
			var o work.Order
			require.NoError(f, json.Unmarshal(d.Body, &o))
			if len(o.Due) > 0 {
				out = append(out, fmt.Sprint(o.Due[0].On, " ", len(o.Due)))
			}
		}
		return err
	}))
	return out
}

func (f *firm) day(n int) string { return f.m.Now().AddDate(0, 0, n).Format(time.DateOnly) }

// keeps makes a plan, a month from the first day on, unless it is changed.
func (f *firm) keeps(id string, change func(*core.Plan)) {
	f.Helper()
	p := core.Plan{Name: "Service " + id, Job: work.Job{Problem: "Service", Minutes: 60, Tasks: []string{"Check"}}, Assets: []string{"B0"},
		Rule: "FREQ=MONTHLY", Begin: f.day(10), Ahead: 5}
	change(&p)
	f.says("record.created", "upkeep", id, p)
}

func asIs(*core.Plan) {}

func TestOrdersOpenOnceAheadOfTime(t *testing.T) {
	f := found(t)
	f.keeps("u", asIs)
	due := f.day(10)
	assert.Empty(t, f.opens(), "ten days ahead is too soon")
	f.m.Wait(5 * 24 * time.Hour)
	want := []string{due + " 1"}
	assert.Equal(t, want, f.opens())
	assert.Equal(t, want, f.opens(), "after a restart")
	f.m.Wait(-3 * time.Hour)
	assert.Equal(t, want, f.opens(), "when the clock was put back")
	f.m.Wait(90 * 24 * time.Hour)
	require.NoError(t, f.store.Read(ctx, func(tx *store.Tx) error {
		late, err := tx.OrdersOverdue(f.day(0), 10)
		assert.Len(t, late, 1, "what is open past its window is overdue")
		return err
	}))
	assert.Len(t, f.opens(), 2, "the three months in which the program was down are one order")
	require.NoError(t, f.store.Read(ctx, func(tx *store.Tx) error {
		g, ok, err := upkeep.Plan(tx, "u")
		require.True(t, ok)
		require.Len(t, g.Targets[0].Past, 2)
		assert.Less(t, g.Targets[0].Past[1].First, g.Targets[0].Past[1].Key)
		return err
	}))
}

// Whoever opens at the same time, each order is there once.
func TestTwoOpenAtOnce(t *testing.T) {
	f := found(t)
	for i := range 5 {
		f.keeps(fmt.Sprint("u", i), func(p *core.Plan) { p.Begin, p.Minutes = f.day(1), 400 })
	}
	var wg sync.WaitGroup
	for range 4 {
		wg.Go(func() { _, _ = upkeep.NewOpener(f.store, f.m.Now, slog.New(slog.DiscardHandler)).Round(ctx) })
	}
	wg.Wait()
	assert.Len(t, f.opens(), 5)
}

func TestOneOrderForMachinesOfASite(t *testing.T) {
	f := found(t)
	f.says("record.created", "customer", "C9", records.Customer{Name: "Quill Dairy"})
	f.says("record.created", "site", "S9", records.Site{Customer: "C9", Name: "Quill Weir"})
	f.says("record.created", "asset", "Q1", records.Asset{Site: "S9", Name: "Dosing", Kind: "booster"})
	f.keeps("u", func(p *core.Plan) { p.Assets, p.After, p.Begin = []string{"B0", "B1", "Q1"}, 10, f.day(1) })
	f.keeps("v", func(p *core.Plan) { p.Assets, p.Before, p.Begin = []string{"B2"}, 10, f.day(8) })
	assert.ElementsMatch(t, []string{f.day(1) + " 1", f.day(8) + " 3"}, f.opens(), "what overlaps at a site is one, the other site's another")
}

func TestWhatHappensToMachinesChangesWhatIsDue(t *testing.T) {
	f := found(t)
	f.keeps("u", func(p *core.Plan) { p.Assets, p.Begin = []string{"B0", "B1", "B2"}, f.day(1) })
	f.says("asset.moved", "asset", "B0", ledger.AssetMoved{Why: records.Scrapped})
	f.says("record.merged", "asset", "B1", ledger.Merged{Into: "A1"})
	assert.Equal(t, []string{f.day(1) + " 2"}, f.opens())
	require.NoError(t, f.store.Read(ctx, func(tx *store.Tx) error {
		g, _, err := upkeep.Plan(tx, "u")
		require.Len(t, g.Obstacles, 1)
		assert.Equal(t, "upkeep.gone", g.Obstacles[0].Why.Code)
		assert.Equal(t, "A1", g.Targets[1].Asset, "it is what it turned out to be")
		return err
	}))
}

func TestByCounter(t *testing.T) {
	f := found(t)
	f.says("visit.planned", "visit", "VC", ledger.Plan{Order: "W1", Technician: "ann", Start: f.m.Now(), Minutes: 60})
	f.keeps("u", func(p *core.Plan) {
		p.Rule, p.Begin, p.Counter = "", f.day(0), &core.Counter{Point: "hours", Every: decimal.NewFromInt(500)}
	})
	read := func(hours int64) {
		f.record(f.m.Entry("ann", "reading.taken", "visit", "VC", ledger.Taken{Asset: "B0", Kind: "booster", Point: "hours",
			Value: decimal.NewFromInt(hours), Unit: "h"}))
	}
	read(1000)
	assert.Empty(t, f.opens(), "nothing is known of how fast it runs")
	f.m.Wait(20 * 24 * time.Hour)
	read(1200)
	assert.Empty(t, f.opens(), "in thirty days, by what it ran")
	f.m.Wait(20 * 24 * time.Hour)
	read(1650)
	assert.Len(t, f.opens(), 1, "it came to 500 sooner")
	f.m.Wait(time.Hour)
	read(300)
	assert.Len(t, f.opens(), 1, "a counter that fell says nothing")
}

// However often a counter is read, it is counted from the first day: devices hold the last readings alone.
func TestByACounterReadOften(t *testing.T) {
	f := found(t)
	f.says("visit.planned", "visit", "VC", ledger.Plan{Order: "W1", Technician: "ann", Start: f.m.Now(), Minutes: 60})
	f.keeps("u", func(p *core.Plan) {
		p.Rule, p.Begin, p.Counter = "", f.day(0), &core.Counter{Point: "hours", Every: decimal.NewFromInt(500)}
	})
	for i := range 60 { // 10 hours a day, read each other day
		f.record(f.m.Entry("ann", "reading.taken", "visit", "VC", ledger.Taken{Asset: "B0", Kind: "booster", Point: "hours",
			Value: decimal.NewFromInt(int64(20 * i)), Unit: "h"}))
		f.opens()
		f.m.Wait(48 * time.Hour)
	}
	assert.Len(t, f.opens(), 2, "1180 hours")
}

func TestMovedAndSkipped(t *testing.T) {
	f := found(t)
	f.keeps("u", func(p *core.Plan) { p.Begin, p.Ahead = f.day(30), 0 })
	move := func(to, reason string) {
		f.says("upkeep.moved", "upkeep", "u", ledger.UpkeepMoved{Target: "B0", Key: f.day(30), Due: f.day(30), To: to, Reason: reason})
	}
	move(f.day(0), "they asked for it now")
	assert.Equal(t, []string{f.day(0) + " 1"}, f.opens())
	g := found(t)
	g.keeps("u", func(p *core.Plan) { p.Begin = g.day(1) })
	g.says("upkeep.moved", "upkeep", "u", ledger.UpkeepMoved{Target: "B0", Key: g.day(1), Due: g.day(1), Reason: "out of use"})
	assert.Empty(t, g.opens())
}

// Counted from the last, the next is open only some time after that one is done; one that was cancelled is counted from its day.
func TestCountedFromTheLast(t *testing.T) {
	f := found(t)
	f.keeps("u", func(p *core.Plan) { p.Begin, p.FromLast = f.day(0), true })
	require.Len(t, f.opens(), 1)
	f.m.Wait(60 * 24 * time.Hour)
	require.Len(t, f.opens(), 1, "the first is open")
	var order string
	require.NoError(t, f.store.Read(ctx, func(tx *store.Tx) error {
		past, err := tx.PastOf("u", nil)
		order = past["u"]["B0"][0].Order
		return err
	}))
	f.says("work.cancelled", "workorder", order, ledger.OrderActed{Reason: "not now"})
	assert.Len(t, f.opens(), 2)
}

func TestATooBusyPlanOpensNothing(t *testing.T) {
	f := found(t)
	f.keeps("u", func(p *core.Plan) { p.Rule, p.Begin, p.Ahead = "FREQ=DAILY", f.day(0), 300 })
	assert.Empty(t, f.opens())
	require.NoError(t, f.store.Read(ctx, func(tx *store.Tx) error {
		g, _, err := upkeep.Plan(tx, "u")
		g.Coming(f.day(0), f.day(100))
		require.Len(t, g.Obstacles, 1)
		assert.Equal(t, "upkeep.too_many", g.Obstacles[0].Why.Code)
		return err
	}))
}

// By an agreement all its machines fall due, as long as it holds; without its record none do, and it says so.
func TestByAgreement(t *testing.T) {
	f := found(t)
	f.says("record.created", "agreement", "care", work.Agreement{Customer: "C1", Name: "Full care", Assets: []string{"B0", "B1"},
		From: f.day(0), To: f.day(40)})
	f.keeps("u", func(p *core.Plan) { p.Assets, p.Agreement = nil, "care" })
	f.m.Wait(6 * 24 * time.Hour)
	assert.Len(t, f.opens(), 1)
	f.m.Wait(60 * 24 * time.Hour)
	assert.Len(t, f.opens(), 1, "the agreement is over")
	f.keeps("v", func(p *core.Plan) { p.Assets, p.Agreement = nil, "nowhere" })
	require.NoError(t, f.store.Read(ctx, func(tx *store.Tx) error {
		g, _, err := upkeep.Plan(tx, "v")
		require.Len(t, g.Obstacles, 1)
		assert.Equal(t, "upkeep.no_machines", g.Obstacles[0].Why.Code)
		return err
	}))
}

// A year of several plans at one site, with a program that is down now and then: each occurrence stands in one work order, those that may
// be done on the same days in one together.
func TestAYear(t *testing.T) {
	f := found(t)
	f.keeps("monthly", func(p *core.Plan) { p.Assets, p.After = []string{"B0", "B1"}, 7 })
	f.keeps("quarterly", func(p *core.Plan) {
		p.Rule, p.Assets, p.Before, p.After = "FREQ=MONTHLY;INTERVAL=3", []string{"B2"}, 7, 7
	})
	f.keeps("site", func(p *core.Plan) { p.Assets, p.Site, p.Rule, p.Begin = nil, "S1", "FREQ=MONTHLY;BYDAY=1MO", f.day(0) })
	begin := f.day(0)
	for range 12 {
		for _, days := range []int{1, 1, 3, 12, 1, 12} {
			f.m.Wait(time.Duration(days) * 24 * time.Hour)
			f.opens()
		}
	}
	counted := map[string]int{}
	orders := 0
	require.NoError(t, f.store.Read(ctx, func(tx *store.Tx) error {
		docs, err := tx.Of("workorder")
		for _, d := range docs {
			var o work.Order
			require.NoError(t, json.Unmarshal(d.Body, &o))
			if len(o.Due) > 0 {
				orders++
			}
			for _, due := range o.Due {
				counted[due.Plan+" "+due.Target+" "+due.Key]++
			}
		}
		plans, err2 := upkeep.Plans(tx, nil)
		require.NoError(t, err2)
		for _, g := range plans {
			for _, target := range g.Targets {
				for _, o := range g.Plan.Coming(core.Target{ID: target.ID}, begin, f.day(0)) {
					assert.Equal(t, 1, counted[g.ID+" "+target.ID+" "+o.Key], "%s %s %s", g.ID, target.ID, o.Key)
				}
			}
		}
		return err
	}))
	assert.Less(t, orders, len(counted)*2/3, "the machines of a site go together")
}
