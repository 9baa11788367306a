package signals_test

import (
	"context"
	"fmt"
	"log/slog"
	"slices"
	"testing"
	"time"

	"github.com/shopspring/decimal"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"iter.example/iter/core/ledger"
	"iter.example/iter/core/ledger/ledgertest"
	"iter.example/iter/core/reading"
	"iter.example/iter/core/records"
	"iter.example/iter/core/signal"
	"iter.example/iter/core/work"
	"iter.example/iter/server/checks"
	"iter.example/iter/server/company"
	"iter.example/iter/server/signals"
	"iter.example/iter/server/store"
)

// firm is a firm with two pumps whose bearings are watched.
type firm struct {
	t     *testing.T
	store *store.Store
	taker *signals.Taker
	src   store.SignalSource
	now   time.Time
}

func num(text string) *decimal.Decimal {
	d := decimal.RequireFromString(text)
	return &d
}

var hot = signal.Rule{ID: "hot", Point: "bearing", When: signal.Above, Limit: num("75"), Back: num("70"), For: 2, Do: signal.Order,
	Text: "The bearing runs hot", Priority: work.Soon, Minutes: 60}

var silent = signal.Rule{ID: "silent", When: signal.Silent, For: 30, Do: signal.Attend, Text: "Says nothing"}

func open(t *testing.T) *firm {
	s, err := store.Open(t.Context(), t.TempDir())
	require.NoError(t, err)
	t.Cleanup(func() { _ = s.Close() })
	f := &firm{t: t, store: s, now: ledgertest.Start}
	f.write(func(tx *store.Tx) error {
		w := &company.Writer{Tx: tx, Now: f.now}
		if err := company.Found(w, "Wells", time.UTC); err != nil {
			return err
		}
		for _, r := range []struct {
			typ, id string
			body    any
		}{
			{"customer", "c", records.Customer{Name: "Distillers"}},
			{"site", "s", records.Site{Customer: "c", Name: "Still house"}},
			{"site", "other", records.Site{Customer: "c", Name: "Weir"}},
			{"assetkind", "pump", records.AssetKind{Name: "Pump", Points: []reading.Point{{ID: "bearing", Name: "Bearing", Unit: "°C"},
				{ID: "flow", Name: "Flow", Unit: "m³/h"}}}},
			{"asset", "p1", records.Asset{Site: "s", Name: "Pump 1", Kind: "pump", Serial: "SN-1"}},
			{"asset", "p2", records.Asset{Site: "other", Name: "Pump 2", Kind: "pump"}},
			{"signalrules", "pump", signal.Rules{Rules: []signal.Rule{hot, silent}}},
		} {
			if _, err := w.Append("record.created", ledger.Ref{Type: r.typ, ID: r.id}, company.Program, f.now, r.body, nil); err != nil {
				return err
			}
		}
		f.src = store.SignalSource{ID: "plc", Name: "Controller", Sites: []string{"s"}, Made: f.now}
		return tx.PutSignalSource(f.src, "the key")
	})
	f.start()
	return f
}

// start starts the taker, as after the program was down.
func (f *firm) start() {
	if f.taker != nil {
		require.NoError(f.t, f.taker.Close())
	}
	var err error
	f.taker, err = signals.New(f.t.Context(), f.store, func() time.Time { return f.now }, slog.New(slog.DiscardHandler))
	require.NoError(f.t, err)
	f.store.Watch(f.taker.Heard)
}

func (f *firm) write(do func(tx *store.Tx) error) {
	require.NoError(f.t, f.store.Write(f.t.Context(), do))
}

// after sends a value of Pump 1 so many minutes after the beginning.
func (f *firm) after(minutes int, value string) signals.Answer {
	at := ledgertest.Start.Add(time.Duration(minutes) * time.Minute)
	if at.After(f.now) {
		f.now = at
	}
	out, err := f.taker.Take(f.t.Context(), f.src, []signals.Signal{{Machine: "SN-1", Point: "bearing", Value: *num(value), At: at}})
	require.NoError(f.t, err)
	return out
}

// orders are the work orders, and incidents all incidents.
func (f *firm) orders() (orders []work.Order, incidents []ledger.Incident) {
	require.NoError(f.t, f.store.Read(context.Background(), func(tx *store.Tx) error {
		docs, err := tx.Of("workorder")
		if err != nil {
			return err
		}
		for _, d := range docs {
			var o work.Order
			if _, err := tx.Load("workorder", d.ID, &o); err != nil {
				return err
			}
			orders = append(orders, o)
		}
		ids, err := tx.IncidentsOf("p1", 100)
		for _, id := range ids {
			var i ledger.Incident
			if _, err := tx.Load("incident", id, &i); err != nil {
				return err
			}
			incidents = append(incidents, i)
		}
		return err
	}))
	return orders, incidents
}

// A pump drifts: one order opens with its curve, however often the program starts anew meanwhile; when it is well again the order says so.
// The next time is another.
func TestAPumpDrifts(t *testing.T) {
	f := open(t)
	for i, v := range []string{"60", "65", "71", "76", "77", "78"} {
		f.after(i, v)
		f.start()
	}
	orders, incidents := f.orders()
	require.Len(t, orders, 1)
	require.Len(t, incidents, 1)
	o := orders[0]
	assert.Equal(t, "The bearing runs hot", o.Problem)
	assert.Equal(t, "c", o.Customer)
	assert.NotEmpty(t, o.Number)
	require.NotNil(t, o.Signal)
	assert.Equal(t, "Bearing", o.Signal.Point)
	assert.Len(t, o.Signal.Values, 6)
	assert.Equal(t, ledgertest.Start.Add(3*time.Minute).UTC(), o.Signal.Since.UTC())
	assert.Zero(t, o.Signal.Well)
	f.after(6, "72")
	f.start()
	f.after(7, "76")
	_, incidents = f.orders()
	require.Len(t, incidents, 1, "it sways")
	f.after(8, "70")
	f.start()
	f.after(9, "69")
	orders, incidents = f.orders()
	require.Len(t, orders, 1)
	assert.Equal(t, ledgertest.Start.Add(8*time.Minute).UTC(), orders[0].Signal.Well.UTC())
	assert.False(t, incidents[0].Ended.IsZero())
	for i := 10; i < 14; i++ {
		f.after(i, "80")
	}
	orders, _ = f.orders()
	assert.Len(t, orders, 2, "it is hot once more")
}

// Nothing is said for long: the office is to look at it, once, until something is said; whoever looked at it says so.
func TestSilence(t *testing.T) {
	f := open(t)
	f.after(0, "60")
	for range 3 {
		f.now = f.now.Add(20 * time.Minute)
		require.NoError(t, f.taker.Tick(t.Context()))
		f.start()
	}
	_, incidents := f.orders()
	require.Len(t, incidents, 1)
	waiting := func() (ids []string) {
		require.NoError(t, f.store.Read(t.Context(), func(tx *store.Tx) (err error) {
			ids, _, err = tx.WaitingIncidents(10)
			return err
		}))
		return ids
	}
	require.Len(t, waiting(), 1)
	f.after(61, "60")
	_, incidents = f.orders()
	assert.False(t, incidents[0].Ended.IsZero())
	f.write(func(tx *store.Tx) error {
		w := company.Writer{Tx: tx, Now: f.now}
		_, err := w.Append("incident.handled", ledger.Ref{Type: "incident", ID: waiting()[0]}, "mirin", f.now,
			ledger.IncidentHandled{Note: "The modem was restarted"}, nil)
		return err
	})
	assert.Empty(t, waiting())
}

// What can't be right is refused, in words, and the rest is taken; what was taken is not taken again.
func TestBadSignals(t *testing.T) {
	f := open(t)
	at := func(minutes int) time.Time { return f.now.Add(time.Duration(minutes) * time.Minute) }
	list := []signals.Signal{
		{Machine: "p1", Point: "bearing", Value: *num("60"), At: at(-1)},
		{Machine: "p1", Point: "bearing", Value: *num("61"), At: at(-1)}, // said twice
		{Machine: "p1", Point: "bearing", Value: *num("61"), At: at(10)},
		{Machine: "p1", Point: "bearing", Value: *num("61"), At: f.now.AddDate(0, 0, -40)},
		{Machine: "nothing", Point: "bearing", Value: *num("61")},
		{Machine: "p2", Point: "bearing", Value: *num("61")}, // of another site
		{Machine: "p1", Point: "colour", Value: *num("61")},
		{Machine: "p1", Point: "bearing", Value: *num("1e20")},
		{Machine: "p1", Point: "bearing", Value: *num("61"), Unit: "bar"},
		{Machine: "p1", Point: "flow", Value: *num("1000"), Unit: "l/min"},
	}
	a, err := f.taker.Take(t.Context(), f.src, list)
	require.NoError(t, err)
	var codes []string
	for _, r := range a.Refused {
		codes = append(codes, fmt.Sprint(r.Index, " ", r.Why.Code))
	}
	assert.Equal(t, []string{"2 signal.future", "3 signal.old", "4 signal.machine", "5 signal.machine", "6 signal.no_point",
		"7 reading.absurd", "8 signal.unit"}, codes)
	assert.Equal(t, 2, a.Taken)
	assert.Equal(t, 1, a.Known)
	again, err := f.taker.Take(t.Context(), f.src, list[:1])
	require.NoError(t, err)
	assert.Equal(t, signals.Answer{Known: 1}, again)
	latest, err := f.taker.Latest(t.Context(), "p1")
	require.NoError(t, err)
	assert.Equal(t, "60", latest["flow"].Value.String(), "in the point's unit")
	_, ok, err := f.taker.Source(t.Context(), "the key")
	require.NoError(t, err)
	assert.True(t, ok)
	f.write(func(tx *store.Tx) error { _, err := tx.EndSignalSource("plc", f.now); return err })
	_, ok, _ = f.taker.Source(t.Context(), "the key")
	assert.False(t, ok, "its key is no more")
}

// What comes late is kept, and does not change what was found since; a machine that is scrapped reports no more, nor a rule that is gone.
func TestLateAndGone(t *testing.T) {
	f := open(t)
	f.after(10, "60")
	f.after(11, "61")
	assert.Equal(t, 1, f.after(5, "90").Taken)
	f.after(12, "62")
	orders, _ := f.orders()
	assert.Empty(t, orders)
	f.now = f.now.Add(time.Hour)
	require.NoError(t, f.taker.Tick(t.Context()))
	_, incidents := f.orders()
	require.Len(t, incidents, 1)
	assert.Zero(t, incidents[0].Ended, "it is silent")
	f.write(func(tx *store.Tx) error {
		w := company.Writer{Tx: tx, Now: f.now}
		_, err := w.Append("record.amended", ledger.Ref{Type: "signalrules", ID: "pump"}, company.Program, f.now,
			map[string]any{"rules": nil}, nil)
		return err
	})
	require.NoError(t, f.taker.Tick(t.Context()))
	_, incidents = f.orders()
	assert.False(t, incidents[0].Ended.IsZero(), "nothing looks at it any more")
	for i := 13; i < 20; i++ {
		f.after(i, "90")
	}
	orders, _ = f.orders()
	assert.Empty(t, orders, "there is no rule")
	f.write(func(tx *store.Tx) error {
		w := company.Writer{Tx: tx, Now: f.now}
		_, err := w.Append("asset.moved", ledger.Ref{Type: "asset", ID: "p1"}, company.Program, f.now,
			ledger.AssetMoved{Why: records.Scrapped}, nil)
		return err
	})
	assert.Equal(t, "signal.machine", f.after(21, "60").Refused[0].Why.Code)
	require.NoError(t, f.taker.Tick(t.Context()))
}

// What was found is on the machine's trend, as the machine's own.
func TestTrend(t *testing.T) {
	f := open(t)
	for i := range 4 {
		f.after(i, "80")
	}
	var all []checks.Series
	require.NoError(t, f.store.Read(t.Context(), func(tx *store.Tx) (err error) { all, err = checks.Of(tx, "p1"); return err }))
	i := slices.IndexFunc(all, func(s checks.Series) bool { return s.ID == "bearing" })
	require.Len(t, all[i].Values, 1)
	assert.True(t, all[i].Values[0].Own)
	assert.Equal(t, "80", all[i].Values[0].Value.String())
}
