package syncing

import (
	"context"
	"encoding/json"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"iter.example/iter/core/ledger"
	"iter.example/iter/core/ledger/ledgertest"
	"iter.example/iter/core/records"
	"iter.example/iter/core/replica"
	"iter.example/iter/server/store"
)

// What a device is told is found beside other writes, and noted afterwards. What happens in between is neither lost nor told to a device
// that may not know it any more.
func TestWhatHappensWhileADeviceIsTold(t *testing.T) {
	ctx, now := context.Background(), ledgertest.Start.Add(time.Hour)
	const rep = "ann-1"
	tests := map[string]struct {
		meanwhile func(t *testing.T, s *store.Store, ann Device)
		ended     bool
		tick      int64
		note      bool // the note that was written meanwhile is in the answer
	}{
		"nothing": {func(*testing.T, *store.Store, Device) {}, false, 2, false},
		"it was answered": {func(t *testing.T, s *store.Store, ann Device) {
			_, err := Sync(ctx, s, ann, replica.Request{Replica: rep, Cursor: "1.0.0"}, now)
			require.NoError(t, err)
		}, false, 3, false},
		"something changed": {func(t *testing.T, s *store.Store, ann Device) { write(t, s) }, false, 2, false},
		"it was answered after something changed": {func(t *testing.T, s *store.Store, ann Device) {
			write(t, s)
			_, err := Sync(ctx, s, ann, replica.Request{Replica: rep, Cursor: "1.0.0"}, now)
			require.NoError(t, err)
		}, false, 3, true},
		"all was folded anew": {func(t *testing.T, s *store.Store, ann Device) {
			write(t, s)
			_, err := s.Rebuild(ctx, func(int64, int64) {})
			require.NoError(t, err)
		}, false, 3, true},
		"its access was ended": {func(t *testing.T, s *store.Store, ann Device) {
			require.NoError(t, s.Write(ctx, func(tx *store.Tx) error {
				dev, _, err := tx.Device(rep)
				require.NoError(t, err)
				dev.Ended = now
				return tx.PutDevice(dev)
			}))
		}, true, 1, false},
	}
	for name, test := range tests {
		t.Run(name, func(t *testing.T) {
			s, ann := company(t)
			first, err := Sync(ctx, s, ann, replica.Request{Replica: rep}, now)
			require.NoError(t, err)
			require.NotEmpty(t, first.Docs)

			cur := cursor{fold: store.FoldVersion} // the first answer was lost
			var found news
			require.NoError(t, s.Read(ctx, func(tx *store.Tx) (err error) {
				found, err = tell(tx, ann, rep, cur, now)
				return err
			}))
			test.meanwhile(t, s, ann)
			out := empty(now)
			require.NoError(t, s.Write(ctx, func(tx *store.Tx) error { return noteTold(tx, ann, rep, cur, now, found, &out) }))
			assert.Equal(t, test.ended, out.Ended)
			require.NoError(t, s.Read(ctx, func(tx *store.Tx) error {
				dev, _, err := tx.Device(rep)
				assert.Equal(t, test.tick, dev.Tick)
				return err
			}))
			if test.ended {
				assert.Empty(t, out.Docs)
				assert.Empty(t, out.Cursor, "it keeps the one it has")
				return
			}
			assert.Subset(t, refs(out.Docs), refs(first.Docs))
			assert.Equal(t, test.note, note(t, out.Docs))

			// Whatever was in none of its answers comes with the next.
			next, err := Sync(ctx, s, ann, replica.Request{Replica: rep, Cursor: out.Cursor}, now.Add(time.Second))
			require.NoError(t, err)
			var wrote bool
			require.NoError(t, s.Read(ctx, func(tx *store.Tx) error {
				var o records.Site
				_, err := tx.Load("site", "S1", &o)
				wrote = o.Access == changedAccess
				return err
			}))
			assert.Equal(t, wrote, test.note || note(t, next.Docs))
		})
	}
}

// While others are told, whoever brings something hears that it has arrived, and asks again for what is new.
func TestWhatWasBroughtIsAnsweredBeforeAllAreTold(t *testing.T) {
	ctx, now := context.Background(), ledgertest.Start.Add(time.Hour)
	s, ann := company(t)
	first, err := Sync(ctx, s, ann, replica.Request{Replica: "ann-1"}, now)
	require.NoError(t, err)
	write(t, s)
	queue.mu.Lock()
	queue.busy += queue.limit // as if others were being told
	queue.mu.Unlock()
	e := ledgertest.NewMaker("ann-1", 3).Entry("ann", "note.written", "visit", "V1", ledger.Note{Text: "x"})
	e.N = 1
	busy, err := Sync(ctx, s, ann, replica.Request{Replica: "ann-1", Cursor: first.Cursor, Entries: []ledger.Entry{e}}, now)
	require.NoError(t, err)
	require.Len(t, busy.Receipts, 1)
	assert.Equal(t, replica.Taken, busy.Receipts[0].Verdict)
	assert.True(t, busy.More)
	assert.Empty(t, busy.Docs)

	short, cancel := context.WithTimeout(ctx, 2*patience)
	defer cancel()
	_, err = Sync(short, s, ann, replica.Request{Replica: "ann-1", Cursor: busy.Cursor}, now)
	assert.ErrorIs(t, err, context.DeadlineExceeded, "whoever brings nothing waits for its turn")
	queue.mu.Lock()
	queue.busy -= queue.limit
	assert.Empty(t, queue.line)
	queue.mu.Unlock()
	rest, err := Sync(ctx, s, ann, replica.Request{Replica: "ann-1", Cursor: busy.Cursor}, now)
	require.NoError(t, err)
	assert.False(t, rest.More)
	assert.True(t, note(t, rest.Docs))
	assert.Contains(t, refs(rest.Docs), ledger.Ref{Type: "visit", ID: "V1"})
}

// company is the test company, with ann's device.
func company(t *testing.T) (*store.Store, Device) {
	ctx := context.Background()
	s, err := store.Open(ctx, t.TempDir())
	require.NoError(t, err)
	t.Cleanup(func() { _ = s.Close() })
	maker := ledgertest.NewMaker("office", 1)
	ann := Device{PersonID: "ann"}
	require.NoError(t, s.Write(ctx, func(tx *store.Tx) error {
		for _, e := range maker.Company() {
			if _, err := tx.Record(e, e.At); err != nil {
				return err
			}
		}
		_, err := tx.Load("person", "ann", &ann.Person)
		return err
	}))
	return s, ann
}

const changedAccess = "Ring twice"

// write has something change that ann's device holds.
func write(t *testing.T, s *store.Store) {
	m := ledgertest.NewMaker("office", 2)
	require.NoError(t, s.Write(context.Background(), func(tx *store.Tx) error {
		_, err := tx.Record(m.Entry("office", "record.amended", "site", "S1", map[string]string{"access": changedAccess}), m.Now())
		return err
	}))
}

// note tells whether the change of write is among documents.
func note(t *testing.T, docs []ledger.Doc) bool {
	var s records.Site
	for _, d := range docs {
		if d.Type == "site" && d.ID == "S1" {
			require.NoError(t, json.Unmarshal(d.Body, &s))
		}
	}
	return s.Access == changedAccess
}

func refs(docs []ledger.Doc) (out []ledger.Ref) {
	for _, d := range docs {
		out = append(out, d.Ref)
	}
	return out
}
