package hours_test

import (
	"context"
	"encoding/csv"
	"errors"
	"fmt"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"iter.example/iter/core/labor"
	"iter.example/iter/core/ledger"
	"iter.example/iter/core/ledger/ledgertest"
	"iter.example/iter/core/msg"
	"iter.example/iter/core/records"
	"iter.example/iter/core/work"
	"iter.example/iter/server/hours"
	"iter.example/iter/server/standin"
	"iter.example/iter/server/store"
)

const day = "2026-03-10"

var one = hours.Range{From: day, To: day}

// office is the test company with a store, and what people recorded.
type office struct {
	*testing.T
	store *store.Store
	m     *ledgertest.Maker
}

func open(t *testing.T) *office {
	s, err := store.Open(context.Background(), t.TempDir())
	require.NoError(t, err)
	t.Cleanup(func() { _ = s.Close() })
	o := &office{t, s, ledgertest.NewMaker("R1", 1)}
	for _, e := range o.m.Company() {
		o.record(e)
	}
	return o
}

func (o *office) record(e ledger.Entry) {
	o.Helper()
	require.NoError(o, o.store.Write(context.Background(), func(tx *store.Tx) error { _, err := tx.Record(e, e.At); return err }))
}

func (o *office) says(actor, kind, typ, id string, body any) {
	o.record(o.m.Entry(actor, kind, typ, id, body))
}

func (o *office) card(kind string, body any) { o.says("office", kind, "timecard", "ann+"+day, body) }

// worked has ann travel for ten minutes and work for two hours.
func (o *office) worked() {
	o.says("ann", "visit.set_off", "visit", "V1", ledger.Step{})
	o.m.Wait(10 * time.Minute)
	o.says("ann", "visit.arrived", "visit", "V1", ledger.Step{})
	o.m.Wait(2 * time.Hour)
	o.says("ann", "visit.finished", "visit", "V1", ledger.Step{Outcome: work.Complete})
	o.m.Wait(time.Minute)
}

func (o *office) now() time.Time { return o.m.Entry("x", "x", "", "", 0).At.Add(time.Hour) }

func (o *office) page() hours.Page {
	o.Helper()
	var page hours.Page
	require.NoError(o, o.store.Read(context.Background(), func(tx *store.Tx) (err error) {
		page, err = hours.Of(tx, one, o.now(), nil)
		return err
	}))
	return page
}

// day is ann's, whole.
func (o *office) day() hours.Day {
	o.Helper()
	var d hours.Day
	require.NoError(o, o.store.Read(context.Background(), func(tx *store.Tx) error {
		var ok bool
		var err error
		d, ok, err = hours.OfDay(tx, "ann", day, o.now())
		assert.True(o, ok)
		return err
	}))
	return d
}

func TestHoursByPersonAndByOrder(t *testing.T) {
	o := open(t)
	o.worked()
	page := o.page()
	require.Len(t, page.People, 2)
	assert.Equal(t, []string{"Ann Vane", "Ben Orme"}, []string{page.People[0].Name, page.People[1].Name})
	require.Len(t, page.People[0].Days, 1)
	whole := o.day()
	assert.Equal(t, labor.Hours{Travel: 600, Work: 7200}, whole.Hours)
	assert.False(t, whole.Open)
	assert.Equal(t, "4127", whole.Visits["V1"].Number)
	assert.Equal(t, hours.Sum{Date: day, Worked: true, Normal: whole.Paid.Normal, Exceptions: whole.Exceptions}, page.People[0].Days[0])
	assert.Positive(t, whole.Paid.Normal)
	require.NoError(t, o.store.Read(context.Background(), func(tx *store.Tx) error {
		orders, err := hours.Orders(tx, one, o.now(), nil)
		require.NoError(t, err)
		require.Len(t, orders, 1)
		assert.Equal(t, "4127", orders[0].Number)
		assert.Equal(t, []hours.Share{{Person: "Ann Vane", Hours: whole.Hours}}, orders[0].People)
		for _, card := range [][2]string{{"ann", "2026-03-09"}, {"nobody", day}} {
			_, ok, err := hours.OfDay(tx, card[0], card[1], o.now())
			assert.NoError(t, err)
			assert.False(t, ok, "there is nothing of it")
		}
		_, _, err = hours.OfDay(tx, "ann", "soon", o.now())
		assert.Error(t, err)
		return nil
	}))
	for _, r := range []hours.Range{{}, {From: day}, {From: day, To: "2026-03-09"}, {From: "2026-01-01", To: "2026-12-31"}} {
		assert.Error(t, r.Check(), r)
	}
}

func TestAWrongClockIsAnException(t *testing.T) {
	o := open(t)
	e := o.m.Entry("ann", "visit.set_off", "visit", "V1", ledger.Step{})
	hold, flag := ledger.Timely(e.At, e.At.Add(-20*time.Minute))
	require.Nil(t, hold)
	require.NoError(t, o.store.Write(context.Background(), func(tx *store.Tx) error {
		f, err := ledger.Open(e)
		require.NoError(t, err)
		_, err = tx.Append(f, store.Arrival{At: e.At.Add(-20 * time.Minute), Apart: []*msg.Code{flag}})
		return err
	}))
	x := o.page().People[0].Days[0].Exceptions
	require.NotEmpty(t, x)
	assert.Equal(t, labor.ClockError, x[len(x)-1].Trouble)
}

func TestThePayrollFileHasApprovedDaysOnly(t *testing.T) {
	o := open(t)
	o.record(o.m.Entry("office", "settings.changed", "settings", "pay", ledgertest.Changed("pay", map[string]any{"overtimeAfter": 60})))
	o.record(o.m.Entry("office", "record.amended", "person", "ann", map[string]any{"name": "=Ann"}))
	o.worked()
	file := func() [][]string {
		var raw []byte
		require.NoError(t, o.store.Read(context.Background(), func(tx *store.Tx) (err error) {
			raw,
				err = hours.Payroll(tx, one, o.now())
			return err
		}))
		rows, err := csv.NewReader(strings.NewReader(string(raw))).ReadAll()
		require.NoError(t, err)
		return rows
	}
	require.Len(t, file(), 1, "only the head")
	o.card("day.approved", ledger.Nothing{})
	rows := file()
	require.Len(t, rows, 2)
	assert.Equal(t, []string{"ann", "'=Ann", day, "2.1667", "0.0000", "1.0000", "1.1667", "0.0000", "office"}, rows[1][:9],
		"no formula, exact hours")
}

// faulty is accounting that fails at the n-th call, before or after it has booked.
type faulty struct {
	standin.Accounting
	calls, at int
	after     bool
}

func (f *faulty) Book(ctx context.Context, lines []standin.Line) error {
	f.calls++
	if f.calls != f.at {
		return f.Accounting.Book(ctx, lines)
	}
	if f.after {
		_ = f.Accounting.Book(ctx, lines)
	}
	return errors.New("the line was cut")
}

func (o *office) books() standin.SimulatedAccounting {
	return standin.SimulatedAccounting{Store: o.store, Now: o.now}
}

func (o *office) post(books standin.Accounting) (hours.Report, error) {
	return hours.Post(context.Background(), o.store, books, one, "office", o.now())
}

// net is what the books come to, by the stretch of time.
func net(t require.TestingT, lines []standin.Line) map[string]int64 {
	out := map[string]int64{}
	ids := map[string]bool{}
	for _, l := range lines {
		require.False(t, ids[l.ID], "a line is booked once")
		ids[l.ID] = true
		key := fmt.Sprintf("%s %s %s%s", l.Start.UTC().Format("15:04"), l.End.UTC().Format("15:04"), l.Kind, l.Code)
		if out[key] += l.Seconds; out[key] == 0 {
			delete(out, key)
		}
	}
	return out
}

func TestPostingIsSafeToRepeat(t *testing.T) {
	o := open(t)
	o.worked()
	r, err := o.post(o.books())
	require.NoError(t, err)
	assert.Equal(t, hours.Report{Open: 1}, r, "nothing that is not approved")
	o.card("day.approved", ledger.Nothing{})
	for _, after := range []bool{false, true} {
		_, err := o.post(&faulty{Accounting: o.books(), at: 1, after: after})
		assert.ErrorContains(t, err, "accounting.unreachable")
		assert.True(t, o.page().People[0].Days[0].Posted.IsZero())
	}
	r, err = o.post(o.books())
	require.NoError(t, err)
	assert.Equal(t, 1, r.Days)
	assert.False(t, o.page().People[0].Days[0].Posted.IsZero(), "shown as posted")
	r, err = o.post(o.books())
	require.NoError(t, err)
	assert.Equal(t, hours.Report{}, r)
	o.card("day.reopened", ledger.Nothing{})
	o.m.Wait(3 * time.Hour)
	o.card("day.approved", ledger.Nothing{})
	r, err = o.post(o.books())
	require.NoError(t, err)
	assert.Equal(t, hours.Report{Days: 1}, r, "approved anew and unchanged, it is posted anew without a line")
	lines, err := o.books().Booked(context.Background(), "ann", day)
	require.NoError(t, err)
	assert.Len(t, lines, 2)
	assert.Equal(t, map[string]int64{"06:00 06:10 travel": 600, "06:10 08:10 work": 7200}, net(t, lines))
}

// However a day is changed, approved and posted: the books come to what was approved last, each line once.
func TestPostingFollowsCorrections(t *testing.T) {
	o := open(t)
	o.worked()
	o.m.Wait(4 * time.Hour)
	rapid.Check(t, func(rt *rapid.T) {
		for range rapid.IntRange(1, 4).Draw(rt, "corrections") {
			if o.page().People[0].Days[0].Approved != nil {
				o.card("day.reopened", ledger.Nothing{})
			}
			from := ledgertest.Start.Add(time.Duration(rapid.IntRange(0, 12).Draw(rt, "from")) * 10 * time.Minute)
			kind := rapid.SampledFrom([]labor.Kind{labor.Work, labor.Off, labor.Break}).Draw(rt, "kind")
			o.card("time.corrected_by_office", ledger.Corrected{Reason: "x",
				Pieces: []labor.Piece{{What: labor.What{Kind: kind, Visit: "V1"}, Start: from, End: from.Add(20 * time.Minute)}}})
			o.m.Wait(time.Second)
			o.card("day.approved", ledger.Nothing{})
			at := rapid.IntRange(1, 3).Draw(rt, "fails")
			_, _ = o.post(&faulty{Accounting: o.books(), at: at, after: rapid.Bool().Draw(rt, "after")})
			_, err := o.post(o.books())
			require.NoError(rt, err)
		}
		lines, err := o.books().Booked(context.Background(), "ann", day)
		require.NoError(rt, err)
		want := map[string]int64{}
		for _, s := range o.day().Spans {
			if s.Kind != labor.Off {
				want[fmt.Sprintf("%s %s %s", s.Start.UTC().Format("15:04"), s.End.UTC().Format("15:04"), s.Kind)] += s.Seconds()
			}
		}
		require.Equal(rt, want, net(rt, lines))
	})
}

// A message goes out once; one whose time has passed before there was signal does not.
func TestMessagesToCustomers(t *testing.T) {
	o := open(t)
	tell := func(text string, expected time.Time) {
		o.m.Wait(time.Second)
		o.says("ann", "message.sent", "visit", "V1", ledger.MessageSent{Template: "on_the_way", To: "+353 1 555 1000", Text: text,
			Expected: expected})
	}
	start := ledgertest.Start
	tell("in time", start.Add(2*time.Hour))
	tell("too late", start.Add(10*time.Minute))
	tell("without a time", time.Time{})
	now := start.Add(time.Hour)
	gateway := standin.SimulatedGateway{Store: o.store}
	_, err := standin.Deliver(context.Background(), o.store, broken{}, nil, now)
	assert.Error(t, err, "it waits when the gateway does not answer")
	for _, want := range []int{2, 0} {
		n, err := standin.Deliver(context.Background(), o.store, gateway, nil, now)
		require.NoError(t, err)
		assert.Equal(t, want, n)
	}
	require.NoError(t, o.store.Read(context.Background(), func(tx *store.Tx) error {
		sent, err := tx.AllSent(10)
		require.NoError(t, err)
		require.Len(t, sent, 2)
		assert.Equal(t, "without a time", sent[0].Text, "the latest first")
		var v work.Visit
		_, err = tx.Load("visit", "V1", &v)
		require.NoError(t, err)
		states, err := tx.MessageStates(ledger.Ref{Type: "visit", ID: "V1"})
		assert.Equal(t, []string{"sent", "late", "sent"}, []string{states[v.Messages[0].Entry], states[v.Messages[1].Entry],
			states[v.Messages[2].Entry]})
		return err
	}))
}

type broken struct{}

func (broken) Send(context.Context, standin.Message) error { return errors.New("no gateway") }

func TestPeopleWhoDoNotWorkInTheFieldHaveNoHours(t *testing.T) {
	o := open(t)
	o.record(o.m.Entry("office", "record.created", "person", "cay", records.Person{Name: "Cay", Roles: []records.Role{records.Stores}}))
	for _, p := range o.page().People {
		assert.NotEqual(t, "cay", p.ID)
	}
}
