package replica_test

import (
	"encoding/json"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"iter.example/iter/core/labor"
	"iter.example/iter/core/ledger"
	"iter.example/iter/core/ledger/ledgertest"
	"iter.example/iter/core/msg"
	"iter.example/iter/core/replica"
	"iter.example/iter/core/work"
)

var visit = ledger.Ref{Type: "visit", ID: "V1"}

// device is a device with the test company's documents in its base at revision 10.
func device(t *testing.T) (*ledgertest.Maker, []ledger.Doc) {
	m := ledgertest.NewMaker("R1", 1)
	docs := ledger.Docs{}
	for _, r := range ledgertest.Fold(docs, m.Company()) {
		require.Empty(t, r.Error)
	}
	var base []ledger.Doc
	for ref, b := range docs {
		base = append(base, ledger.Doc{Ref: ref, Rev: 10, Body: b})
	}
	return m, base
}

func note(m *ledgertest.Maker, text string) replica.Pending {
	m.Wait(time.Minute)
	return replica.Pending{Entry: m.Entry("ann", "note.written", "visit", "V1", ledger.Note{Text: text})}
}

// notes reads the texts of the visit's notes out of what a change shows.
func notes(t *testing.T, c replica.Change) (out []string) {
	for _, d := range c.Shown {
		if d.Ref == visit {
			var v work.Visit
			require.NoError(t, json.Unmarshal(d.Body, &v))
			for _, n := range v.Notes {
				out = append(out, n.Text)
			}
		}
	}
	return out
}

// after gives V1 as the server has it once it has taken entries.
func after(t *testing.T, base []ledger.Doc, rev int64, entries ...replica.Pending) ledger.Doc {
	docs := ledger.Docs{}
	for _, d := range base {
		docs[d.Ref] = d.Body
	}
	for _, p := range entries {
		require.Empty(t, ledgertest.Fold(docs, []ledger.Entry{p.Entry})[0].Error)
	}
	return ledger.Doc{Ref: visit, Rev: rev, Body: docs[visit]}
}

func TestStamp(t *testing.T) {
	zone := labor.Zone{Shifts: []labor.Shift{{Offset: 3600}}}
	now := time.Date(2026, 3, 10, 8, 0, 0, 123_456_789, time.UTC)
	s, e := replica.Stamp(replica.State{Replica: "R1", Person: "ann", Skew: 60_000},
		replica.Draft{Kind: "note.written", Subject: visit}, "ID", 5, now, zone)
	assert.Equal(t, "2026-03-10T09:01:00.123+01:00", e.At.Format(time.RFC3339Nano), "corrected, to the millisecond, on the company's clock")
	assert.Equal(t, []any{int64(5), "ann", "R1"}, []any{e.N, e.Actor, e.Replica})

	s.Skew = 0 // the clock is set back a minute: still in order
	s, e2 := replica.Stamp(s, replica.Draft{}, "ID2", 6, now, zone)
	assert.Equal(t, e.At.Add(time.Millisecond).UnixMilli(), e2.At.UnixMilli())
	_, e3 := replica.Stamp(s, replica.Draft{}, "ID3", 7, now.Add(-24*time.Hour), zone)
	assert.Equal(t, now.Add(-24*time.Hour).UnixMilli(), e3.At.UnixMilli(), "a clock that was a day ahead is believed once it is right")
}

func TestNext(t *testing.T) {
	m, _ := device(t)
	var pending []replica.Pending
	for range 250 {
		pending = append(pending, note(m, "x"))
	}
	pending[0].Seq = 7
	pending[1].Held = msg.New("x")
	r := replica.Next(replica.State{Replica: "R1", Cursor: "c"}, pending, time.Now())
	require.Len(t, r.Entries, replica.MaxEntries)
	assert.Equal(t, pending[2].ID, r.Entries[0].ID, "what was taken or is held is not sent again")
	assert.Equal(t, []string{pending[1].ID}, r.Held)

	pending[2].Body = make(json.RawMessage, 2<<20)
	assert.Len(t, replica.Next(replica.State{}, pending[2:], time.Now()).Entries, 1, "one large entry goes alone")
}

func TestReceive(t *testing.T) {
	m, base := device(t)
	a, b := note(m, "a"), note(m, "b")
	now := time.Date(2026, 3, 10, 9, 0, 0, 0, time.UTC)
	receive := func(s replica.State, pending []replica.Pending, r replica.Response) replica.Change {
		r.ServerTime = now.Add(time.Minute)
		return replica.Receive(s, pending, nil, base, r, replica.Trip{Sent: now.Add(-2 * time.Second), Arrived: now.Add(2 * time.Second),
			Took: 4 * time.Second}, "R2")
	}
	taken := func(p replica.Pending, seq int64) replica.Receipt {
		return replica.Receipt{ID: p.ID, Seq: seq, Verdict: replica.Taken}
	}

	t.Run("taken, and folded by the server", func(t *testing.T) {
		c := receive(replica.State{}, []replica.Pending{a, b}, replica.Response{Receipts: []replica.Receipt{taken(a, 11)},
			Docs: []ledger.Doc{after(t, base, 11, a)}, Cursor: "11"})
		assert.Equal(t, []string{"a", "b"}, notes(t, c), "once each")
		assert.Equal(t, []replica.Pending{b}, c.Pending)
		assert.Equal(t, "11", c.State.Cursor)
		assert.Equal(t, int64(60_000), c.State.Skew)
	})
	t.Run("taken, but the document comes with a later page", func(t *testing.T) {
		c := receive(replica.State{}, []replica.Pending{a, b}, replica.Response{Receipts: []replica.Receipt{taken(a, 11), taken(b, 12)},
			More: true})
		assert.Equal(t, []string{"a", "b"}, notes(t, c), "nothing disappears meanwhile")
		require.Len(t, c.Pending, 2)
		// The next page has a already, not b.
		c = receive(c.State, c.Pending, replica.Response{Docs: []ledger.Doc{after(t, base, 11, a)}, More: true})
		assert.ElementsMatch(t, []string{"a", "b"}, notes(t, c))
		c = receive(c.State, c.Pending, replica.Response{Docs: []ledger.Doc{after(t, base, 12, a, b)}})
		assert.Equal(t, []string{"a", "b"}, notes(t, c))
		assert.Empty(t, c.Pending)
	})
	t.Run("the answer was lost and it was sent again", func(t *testing.T) {
		c := receive(replica.State{}, []replica.Pending{a},
			replica.Response{Receipts: []replica.Receipt{{ID: a.ID, Seq: 11, Verdict: replica.Duplicate}},
				Docs: []ledger.Doc{after(t, base, 11, a)}})
		assert.Equal(t, []string{"a"}, notes(t, c))
		assert.Empty(t, c.Pending)
	})
	t.Run("held, then decided on", func(t *testing.T) {
		c := receive(replica.State{}, []replica.Pending{a, b},
			replica.Response{Receipts: []replica.Receipt{{ID: a.ID, Verdict: replica.Held, Why: msg.New("time.ahead")}}})
		assert.Equal(t, []string{"b"}, notes(t, c), "the queue goes on")
		assert.Equal(t, "time.ahead", c.Pending[0].Held.Code, "and it is kept")
		gone := receive(c.State, c.Pending, replica.Response{Receipts: []replica.Receipt{{ID: a.ID, Verdict: replica.SetAside}}})
		assert.Equal(t, []replica.Pending{b}, gone.Pending)
		back := receive(c.State, c.Pending, replica.Response{Receipts: []replica.Receipt{taken(a, 14)},
			Docs: []ledger.Doc{after(t, base, 14, a)}})
		assert.Equal(t, []replica.Pending{b}, back.Pending)
		assert.Equal(t, []string{"a", "b"}, notes(t, back))
	})
	t.Run("a document leaves the scope, but not while it is written about", func(t *testing.T) {
		gone := replica.Response{Gone: []ledger.Ref{visit}}
		c := receive(replica.State{}, []replica.Pending{a}, gone)
		assert.Empty(t, c.Drop)
		assert.Equal(t, []string{"a"}, notes(t, c))
		c = receive(c.State, c.Pending, replica.Response{Receipts: []replica.Receipt{taken(a, 11)}})
		assert.Equal(t, []ledger.Ref{visit}, c.Drop)
		assert.Empty(t, c.State.Leaving)
		c = receive(replica.State{Leaving: []ledger.Ref{visit}}, nil, replica.Response{Docs: []ledger.Doc{after(t, base, 12)}})
		assert.Empty(t, c.Drop, "it came back")
	})
	t.Run("restored from a backup", func(t *testing.T) {
		held := note(m, "held")
		held.Held = msg.New("x")
		c := receive(replica.State{Replica: "R1", Cursor: "9"}, []replica.Pending{held, a, b}, replica.Response{Renew: true})
		assert.Equal(t, "R2", c.State.Replica)
		assert.Equal(t, []any{a.ID, a.N, "R2"}, []any{c.Pending[1].ID, c.Pending[1].N, c.Pending[1].Replica}, "the entries stay themselves")
		assert.Nil(t, c.Pending[0].Held, "whether it is held still, the server says")
		assert.Empty(t, c.State.Cursor)
	})
}

// What was acknowledged is kept until a second place has it, and given again, as it was logged and before all else, to a server of another
// history.
func TestWhatWasAcknowledgedIsGivenAgain(t *testing.T) {
	m := ledgertest.NewMaker("R1", 3)
	a, b, later := note(m, "a"), note(m, "b"), note(m, "later")
	now := ledgertest.Start
	receive := func(s replica.State, pending, acknowledged []replica.Pending, r replica.Response) replica.Change {
		r.ServerTime = now
		return replica.Receive(s, pending, acknowledged, nil, r, replica.Trip{Sent: now, Arrived: now}, "R2")
	}
	c := receive(replica.State{Replica: "R1", History: "H1"}, []replica.Pending{a, b}, nil,
		replica.Response{History: "H1", Kept: 11, Receipts: []replica.Receipt{{ID: a.ID, Seq: 11, Verdict: replica.Taken},
			{ID: b.ID, Seq: 12, Verdict: replica.Taken}}})
	require.Len(t, c.Acknowledged, 2)
	assert.Equal(t, int64(11), c.Kept)
	acknowledged := c.Acknowledged[1:] // b alone is not in a second place

	c = receive(c.State, []replica.Pending{later}, acknowledged, replica.Response{Renew: true, History: "H2", Kept: 90})
	assert.True(t, c.Recalled)
	assert.Zero(t, c.Kept)
	r := replica.Next(c.State, c.Pending, now)
	require.Len(t, r.Again, 1)
	assert.Equal(t, b.Entry, r.Again[0], "as it was logged")
	assert.Empty(t, r.Entries, "what may rest on it waits")
	assert.Equal(t, []any{"H2", "R2", 1}, []any{r.History, r.Replica, r.Unsent})

	c = receive(c.State, c.Pending, nil, replica.Response{History: "H2", Kept: 90,
		Receipts: []replica.Receipt{{ID: b.ID, Seq: 95, Verdict: replica.Taken}}})
	require.Len(t, c.Acknowledged, 1)
	assert.Equal(t, int64(95), c.Acknowledged[0].Seq)
	assert.Equal(t, int64(90), c.Kept)
	r = replica.Next(c.State, c.Pending, now)
	assert.Empty(t, r.Again, "once")
	require.Len(t, r.Entries, 1)
	assert.Equal(t, []any{later.ID, "R2", later.N}, []any{r.Entries[0].ID, r.Entries[0].Replica, r.Entries[0].N})
}

// A clock is set by half of the way there and back, whatever the server took.
func TestTheClockIsSetByTheWay(t *testing.T) {
	sent := ledgertest.Start
	for _, c := range []struct {
		ahead, there, took, back time.Duration // the device's clock, and the legs of the round trip
	}{{0, 20, 0, 20}, {0, 20, 900, 20}, {-3_600_000, 20, 900, 20}, {90_000, 200, 50, 200}} {
		server := sent.Add(-c.ahead*time.Millisecond + c.there*time.Millisecond)
		now := sent.Add((c.there + c.took + c.back) * time.Millisecond)
		change := replica.Receive(replica.State{}, nil, nil, nil, replica.Response{ServerTime: server, Took: int64(c.took)},
			replica.Trip{Sent: sent, Arrived: now, Took: now.Sub(sent)}, "")
		assert.EqualValues(t, -c.ahead, change.State.Skew, "%v", c)
	}
	// A clock that is set while the request is on its way says nothing of the way.
	known := replica.State{Skew: 70, Contact: sent.Add(-time.Minute)}
	for _, set := range []time.Duration{24 * time.Hour, -24 * time.Hour, 3 * time.Second} {
		trip := replica.Trip{Sent: sent, Arrived: sent.Add(set), Took: 40 * time.Millisecond}
		change := replica.Receive(known, nil, nil, nil, replica.Response{ServerTime: sent.Add(20 * time.Millisecond)}, trip, "")
		assert.EqualValues(t, 70, change.State.Skew, "%v", set)
	}
}
