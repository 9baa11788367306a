package syncing_test

import (
	"context"
	"database/sql"
	"encoding/json"
	"fmt"
	"maps"
	"slices"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"iter.example/iter/core/labor"
	"iter.example/iter/core/ledger"
	"iter.example/iter/core/ledger/ledgertest"
	"iter.example/iter/core/msg"
	"iter.example/iter/core/records"
	"iter.example/iter/core/replica"
	"iter.example/iter/core/stock"
	"iter.example/iter/core/work"
	"iter.example/iter/server/store"
	"iter.example/iter/server/syncing"
)

// world is the test company on a real server, with a clock.
type world struct {
	t     require.TestingT
	store *store.Store
	maker *ledgertest.Maker
	now   time.Time
}

func newWorld(t require.TestingT, dir string) *world {
	s, err := store.Open(context.Background(), dir)
	require.NoError(t, err)
	w := &world{t: t, store: s, maker: ledgertest.NewMaker("office", 1), now: ledgertest.Start.Add(time.Minute)}
	for _, e := range w.maker.Company() {
		require.NoError(t, w.append(e))
	}
	return w
}

func (w *world) append(e ledger.Entry) error {
	return w.store.Write(context.Background(), func(tx *store.Tx) error {
		_, err := tx.Record(e, w.now)
		return err
	})
}

// office records a command as the office would now.
func (w *world) office(kind, typ, id string, body any) error {
	w.now = w.now.Add(time.Second)
	e := w.maker.Entry("office", kind, typ, id, body)
	e.At = w.now
	return w.append(e)
}

// device is a technician's device: what the browser's database would hold.
type device struct {
	w       *world
	who     syncing.Device
	state   replica.State
	n       int64 // number of its last entry
	base    map[ledger.Ref]ledger.Doc
	shown   ledger.Docs
	pending []replica.Pending
	// acknowledged may rest on the server's one disk
	acknowledged []replica.Pending
	ids          *ledgertest.Maker
	all          []string // every entry it ever recorded
	renewed      int
	identified   map[string]*replica.Identified // at a terminal
}

func (w *world) device(id string, seed int64) *device {
	var p records.Person
	require.NoError(w.t, w.store.Read(context.Background(), func(tx *store.Tx) error { _, err := tx.Load("person", id, &p); return err }))
	name := fmt.Sprintf("%s-%d", id, seed)
	return &device{w: w, who: syncing.Device{PersonID: id, Person: p, Agent: "test"}, state: replica.State{Replica: name, Person: id},
		base: map[ledger.Ref]ledger.Doc{}, shown: ledger.Docs{}, ids: ledgertest.NewMaker(name, seed+1000)}
}

// record records a draft, and tells whether the device could.
func (d *device) record(kind, visit string, body any) bool {
	return d.about(kind, ledger.Ref{Type: "visit", ID: visit}, body)
}

// about records a draft about whatever it is about.
func (d *device) about(kind string, subject ledger.Ref, body any) bool {
	raw, err := json.Marshal(body)
	require.NoError(d.w.t, err)
	id := d.ids.Entry("x", "x", "", "", 0).ID
	s, e := replica.Stamp(d.state, replica.Draft{Kind: kind, Subject: subject, Body: raw}, id, d.n+1, d.w.now,
		labor.Zone{Shifts: []labor.Shift{{Offset: 3600}}})
	changed, _, err := ledger.Apply(d.shown, e)
	if err != nil {
		return false
	}
	for ref, b := range changed {
		d.shown[ref] = b
	}
	d.state, d.n = s, d.n+1
	d.pending = append(d.pending, replica.Pending{Entry: e})
	d.all = append(d.all, id)
	return true
}

// sync makes a round trip; lost says that the answer does not arrive. It tells whether there is more to do.
func (d *device) sync(lost bool) bool {
	r := replica.Next(d.state, d.pending, d.w.now)
	out, err := syncing.Sync(context.Background(), d.w.store, d.who, r, d.w.now)
	require.NoError(d.w.t, err)
	if lost {
		return true
	}
	var base []ledger.Doc
	touched := replica.Touched(d.state, d.pending, out)
	if out.Renew {
		touched = slices.Collect(maps.Keys(d.base))
	}
	for _, ref := range touched {
		if b, ok := d.base[ref]; ok {
			base = append(base, b)
		}
	}
	d.renewed++
	c := replica.Receive(d.state, d.pending, d.acknowledged, base, out, replica.Trip{Sent: d.w.now, Arrived: d.w.now},
		fmt.Sprintf("%s-new%d", d.state.Replica, d.renewed))
	d.state, d.pending = c.State, c.Pending
	if c.Recalled {
		d.acknowledged = nil
	}
	d.acknowledged = slices.DeleteFunc(append(d.acknowledged, c.Acknowledged...), func(p replica.Pending) bool { return p.Seq <= c.Kept })
	for _, b := range c.Base {
		d.base[b.Ref] = b
	}
	for _, ref := range c.Drop {
		delete(d.base, ref)
	}
	for _, s := range c.Shown {
		if s.Body == nil {
			delete(d.shown, s.Ref)
		} else {
			d.shown[s.Ref] = s.Body
		}
	}
	return out.More || out.Renew || slices.ContainsFunc(d.pending, func(p replica.Pending) bool { return p.Seq == 0 && p.Held == nil })
}

func (d *device) settle() {
	for range 20 {
		if !d.sync(false) {
			return
		}
	}
	require.Fail(d.w.t, "never settles")
}

func (d *device) has(typ, id string) bool { return d.shown[ledger.Ref{Type: typ, ID: id}] != nil }

func note(text string) ledger.Note { return ledger.Note{Text: text} }

// A device whose documents were folded by an earlier program is told them all again, under the identity it has, with what it has not sent.
func TestAnotherFoldIsToldAgain(t *testing.T) {
	w := newWorld(t, t.TempDir())
	ann := w.device("ann", 1)
	ann.settle()
	db, err := sql.Open("sqlite", w.store.Path())
	require.NoError(t, err)
	for _, id := range []string{"C1", "P1"} { // what another fold makes of the same entries; one comes with work, one is on all devices
		_, err = db.Exec("UPDATE docs SET body = json_set(body, '$.name', 'Folded anew') WHERE id = ?", id)
		require.NoError(t, err)
	}
	require.NoError(t, db.Close())
	ann.settle()
	assert.NotEqual(t, "Folded anew", shown[records.Customer](ann, "customer", "C1").Name, "nothing was recorded")
	require.True(t, ann.record("note.written", "V1", note("Seal weeps")))
	as := ann.state.Replica
	ann.state.Cursor = ann.state.Cursor[:strings.LastIndex(ann.state.Cursor, ".")] // as the program before gave it
	ann.settle()
	assert.Equal(t, "Folded anew", shown[records.Customer](ann, "customer", "C1").Name)
	assert.Equal(t, "Folded anew", shown[stock.Part](ann, "part", "P1").Name)
	assert.Equal(t, as, ann.state.Replica)
	assert.Empty(t, ann.pending)
	assert.Equal(t, "Seal weeps", shown[work.Visit](ann, "visit", "V1").Notes[0].Text)
}

func TestScope(t *testing.T) {
	w := newWorld(t, t.TempDir())
	ann, ben := w.device("ann", 1), w.device("ben", 2)
	ann.settle()
	ben.settle()
	for _, ref := range [][2]string{{"visit", "V1"}, {"workorder", "W1"}, {"customer", "C1"}, {"site", "S1"}, {"asset", "A1"},
		{"stock", "van-ann"}, {"part", "P1"}, {"sheet", "pump@1"}, {"settings", "visits"}} {
		assert.True(t, ann.has(ref[0], ref[1]), ref)
	}
	for _, ref := range [][2]string{{"visit", "V1"}, {"workorder", "W1"}, {"customer", "C1"}, {"site", "S1"}, {"stock", "van-ann"}} {
		assert.False(t, ben.has(ref[0], ref[1]), ref)
	}
	require.NoError(t, w.office("visit.moved", "visit", "V1", ledger.Move{Technician: "ben", Start: w.now, Minutes: 60}))
	ann.settle()
	ben.settle()
	assert.False(t, ann.has("visit", "V1"), "it left ann's scope")
	assert.True(t, ben.has("visit", "V1"))
	require.NoError(t, w.office("visit.planned", "visit", "V2", ledger.Plan{Order: "W1", Technician: "ann", Start: w.now, Minutes: 60}))
	ann.settle()
	assert.False(t, ann.has("visit", "V2"), "planned, but not sent")
}

func TestEntriesThatAreHeld(t *testing.T) {
	w := newWorld(t, t.TempDir())
	ann, ben := w.device("ann", 1), w.device("ben", 2)
	ann.settle()
	ben.settle()
	entry := func(change func(*ledger.Entry)) ledger.Entry {
		ann.n++
		e := ann.ids.Entry("ann", "note.written", "visit", "V1", note("x"))
		e.At, e.N = w.now, ann.n
		change(&e)
		return e
	}
	bad := map[string]ledger.Entry{
		"entry.kind":     entry(func(e *ledger.Entry) { e.Kind = "visit.vanished" }),
		"entry.version":  entry(func(e *ledger.Entry) { e.V = 7 }),
		"scope.actor":    entry(func(e *ledger.Entry) { e.Actor = "ben" }),
		"scope.device":   entry(func(e *ledger.Entry) { e.Replica = "other" }),
		"scope.role":     entry(func(e *ledger.Entry) { e.Kind = "visit.sent" }),
		"record.unknown": entry(func(e *ledger.Entry) { e.Subject.ID = "V9" }),
		"time.ahead":     entry(func(e *ledger.Entry) { e.At = w.now.Add(24 * time.Hour) }),
		"time.past":      entry(func(e *ledger.Entry) { e.At = w.now.AddDate(0, -3, 0) }),
		"scope.place": entry(func(e *ledger.Entry) {
			e.Kind, e.Body = "part.used", json.RawMessage(`{"part":"P1","place":"van-ben","quantity":"1"}`)
		}),
		"quantity.absurd": entry(func(e *ledger.Entry) {
			e.Kind, e.Body = "part.used", json.RawMessage(`{"part":"P1","place":"van-ann","quantity":"-1"}`)
		}),
	}
	for code, e := range bad {
		ann.n++
		e.N = ann.n
		good := entry(func(*ledger.Entry) {})
		out, err := syncing.Sync(context.Background(), w.store, ann.who,
			replica.Request{Replica: "ann-1", Cursor: ann.state.Cursor, Entries: []ledger.Entry{e, good}}, w.now)
		require.NoError(t, err)
		require.False(t, out.Renew, code)
		require.Equal(t, replica.Held, out.Receipts[0].Verdict, code)
		assert.Equal(t, code, out.Receipts[0].Why.Code)
		assert.Equal(t, replica.Taken, out.Receipts[1].Verdict, "one bad entry does not block the queue")
		again, err := syncing.Sync(context.Background(), w.store, ann.who,
			replica.Request{Replica: "ann-1", Cursor: ann.state.Cursor, Entries: []ledger.Entry{e}}, w.now)
		require.NoError(t, err)
		assert.Equal(t, replica.Held, again.Receipts[0].Verdict, "and stays held")
	}
	require.NoError(t, w.store.Read(context.Background(), func(tx *store.Tx) error {
		held, err := tx.Held()
		assert.Len(t, held, len(bad), "each kept once, as it came")
		return err
	}))

	// The id of an entry of somebody else's that is held.
	stolen := bad["entry.kind"]
	stolen.Actor, stolen.Replica, stolen.N = "ben", "ben-2", 1
	taken, err := syncing.Sync(context.Background(), w.store, ben.who,
		replica.Request{Replica: "ben-2", Cursor: ben.state.Cursor, Entries: []ledger.Entry{stolen}}, w.now)
	require.NoError(t, err)
	require.Equal(t, stolen.ID, taken.Receipts[0].ID)
	assert.Equal(t, "entry.id_reused", taken.Receipts[0].Why.Code)
	ben.settle()

	// Somebody else's visit that never was theirs.
	out, err := syncing.Sync(context.Background(), w.store, ben.who, replica.Request{Replica: "ben-2", Cursor: ben.state.Cursor,
		Entries: []ledger.Entry{entry(func(e *ledger.Entry) { e.Actor, e.Replica, e.N = "ben", "ben-2", 2 })}}, w.now)
	require.NoError(t, err)
	assert.Equal(t, "scope.visit", out.Receipts[0].Why.Code)
}

func TestTheSameIDWithOtherContent(t *testing.T) {
	w := newWorld(t, t.TempDir())
	ann := w.device("ann", 1)
	ann.settle()
	require.True(t, ann.record("note.written", "V1", note("first")))
	e := ann.pending[0].Entry
	ann.settle()
	e.Body = json.RawMessage(`{"text":"second"}`)
	out, err := syncing.Sync(context.Background(), w.store, ann.who, replica.Request{Replica: "ann-1", Cursor: ann.state.Cursor,
		Entries: []ledger.Entry{e}}, w.now)
	require.NoError(t, err)
	assert.Equal(t, "entry.id_reused", out.Receipts[0].Why.Code)
}

func TestBadRequests(t *testing.T) {
	w := newWorld(t, t.TempDir())
	ann := w.device("ann", 1)
	_, err := syncing.Sync(context.Background(), w.store, ann.who, replica.Request{Replica: "../x"}, w.now)
	assert.Equal(t, "id.unusable", msg.From(err).Code)
	_, err = syncing.Sync(context.Background(), w.store, ann.who, replica.Request{Replica: "ann-1", Cursor: ann.state.Cursor,
		Entries: make([]ledger.Entry, 201)}, w.now)
	assert.Equal(t, "sync.too_many", msg.From(err).Code)
	for _, cursor := range []string{"", "x", "9.9.9.9", "-1.-1", "99999999999999999999.1", "1e3.2"} {
		out, err := syncing.Sync(context.Background(), w.store, ann.who, replica.Request{Replica: "ann-1", Cursor: cursor}, w.now)
		require.NoError(t, err)
		assert.NotEmpty(t, out.Docs, "a cursor that does not read asks for everything: %s", cursor)
	}
}

// A device that was copied, or restored from a copy, uses numbers again: it gets a new identity, and nothing is lost.
func TestRestoredFromACopy(t *testing.T) {
	w := newWorld(t, t.TempDir())
	ann := w.device("ann", 1)
	ann.settle()
	copied := *ann
	require.True(t, ann.record("note.written", "V1", note("before")))
	ann.settle()
	copied.ids = ledgertest.NewMaker("copy", 99)
	copied.pending, copied.base, copied.shown = nil, map[ledger.Ref]ledger.Doc{}, ledger.Docs{}
	for k, v := range ann.base {
		copied.base[k] = v
	}
	for k, v := range ann.shown {
		copied.shown[k] = v
	}
	require.True(t, copied.record("note.written", "V1", note("after")))
	copied.settle()
	assert.NotEqual(t, ann.state.Replica, copied.state.Replica)
	var v work.Visit
	require.NoError(t, json.Unmarshal(copied.shown[ledger.Ref{Type: "visit", ID: "V1"}], &v))
	require.Len(t, v.Notes, 2)
}

// A device whose numbers go back sends nothing that the server has heard of: it is told to take a new identity, and nothing
// is taken under the old one.
func TestNumbersThatGoBack(t *testing.T) {
	w := newWorld(t, t.TempDir())
	ann := w.device("ann", 1)
	ann.settle()
	for range 3 {
		require.True(t, ann.record("note.written", "V1", note("x")))
	}
	ann.settle()
	fresh := ann.ids.Entry("ann", "note.written", "visit", "V1", note("y"))
	fresh.At, fresh.Replica = w.now, ann.state.Replica
	for _, c := range []struct {
		n     int64
		renew bool
	}{{-1, true}, {0, true}, {2, true}, {4, false}} {
		fresh.N = c.n
		out, err := syncing.Sync(context.Background(), w.store, ann.who,
			replica.Request{Replica: "ann-1", Cursor: ann.state.Cursor, Entries: []ledger.Entry{fresh}}, w.now)
		require.NoError(t, err)
		require.Equal(t, c.renew, out.Renew, c.n)
		if c.renew {
			assert.Empty(t, out.Receipts, c.n)
		} else {
			assert.Equal(t, replica.Taken, out.Receipts[0].Verdict)
		}
	}
}

// A server restored from a backup has forgotten what it told since: the device takes a new identity, and hears all again.
func TestAServerRestoredFromABackup(t *testing.T) {
	w := newWorld(t, t.TempDir())
	ann := w.device("ann", 1)
	ann.settle()
	copied := t.TempDir()
	_, err := w.store.Backup(context.Background(), copied)
	require.NoError(t, err)
	require.True(t, ann.record("note.written", "V1", note("after the backup")))
	ann.settle()
	require.NoError(t, w.office("visit.withdrawn", "visit", "V1", ledger.Withdraw{}))
	ann.settle()
	require.NoError(t, w.store.Close())
	w.store, err = store.Open(context.Background(), copied)
	require.NoError(t, err)
	ann.settle()
	assert.Equal(t, "ann-1-new", ann.state.Replica[:9])
	assert.True(t, ann.has("visit", "V1"), "what the server holds is shown again")
}

func TestADiskThatIsFull(t *testing.T) {
	w := newWorld(t, t.TempDir())
	ctx := context.Background()
	ann := w.device("ann", 1)
	ann.settle()
	require.NoError(t, w.store.LimitPages(ctx, 1))
	for i := range 60 {
		require.True(t, ann.record("note.written", "V1", note(fmt.Sprint(i, strings.Repeat("x", 300)))))
	}
	_, err := syncing.Sync(ctx, w.store, ann.who, replica.Next(ann.state, ann.pending, w.now), w.now)
	require.ErrorIs(t, err, store.ErrFull)
	require.NoError(t, w.store.Read(ctx, func(tx *store.Tx) error {
		trail, err := tx.Trail(ledger.Ref{Type: "visit", ID: "V1"})
		assert.Len(t, trail, 2, "nothing is half written")
		return err
	}))
	require.NoError(t, w.store.LimitPages(ctx, 0))
	ann.settle()
	assert.Empty(t, ann.pending)
}
