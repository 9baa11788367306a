package store_test

import (
	"context"
	"database/sql"
	"encoding/json"
	"errors"
	"fmt"
	"os"
	"path/filepath"
	"strings"
	"sync"
	"testing"
	"time"

	"github.com/shopspring/decimal"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"iter.example/iter/core/ledger"
	"iter.example/iter/core/ledger/ledgertest"
	"iter.example/iter/core/msg"
	"iter.example/iter/core/records"
	"iter.example/iter/core/stock"
	"iter.example/iter/core/work"
	"iter.example/iter/server/store"
)

var ctx = context.Background()

func open(t *testing.T, dir string) *store.Store {
	s, err := store.Open(ctx, dir)
	require.NoError(t, err)
	t.Cleanup(func() { _ = s.Close() })
	return s
}

func appendAll(t *testing.T, s *store.Store, entries ...ledger.Entry) {
	t.Helper()
	require.NoError(t, s.Write(ctx, func(tx *store.Tx) error {
		for _, e := range entries {
			_, err := tx.Record(e, e.At)
			require.NoError(t, err)
		}
		return nil
	}))
}

func company(t *testing.T) (*store.Store, *ledgertest.Maker) {
	s, m := open(t, t.TempDir()), ledgertest.NewMaker("office", 1)
	appendAll(t, s, m.Company()...)
	return s, m
}

func read(t *testing.T, s *store.Store, f func(*store.Tx)) {
	t.Helper()
	require.NoError(t, s.Read(ctx, func(tx *store.Tx) error { f(tx); return nil }))
}

func striking(t *testing.T, s *store.Store, e ledger.Entry) (out ledger.Struck) {
	t.Helper()
	read(t, s, func(tx *store.Tx) {
		var err error
		out, err = tx.Striking(e)
		require.NoError(t, err)
	})
	return out
}

func TestOpenedAgainItIsAsItWas(t *testing.T) {
	dir := t.TempDir()
	s, m := open(t, dir), ledgertest.NewMaker("office", 1)
	appendAll(t, s, m.Company()...)
	require.NoError(t, s.Close())
	s = open(t, dir)
	read(t, s, func(tx *store.Tx) {
		seq, err := tx.Seq()
		require.NoError(t, err)
		assert.Equal(t, int64(15), seq)
	})
	differ, n, err := s.Verify(ctx, nil)
	require.NoError(t, err)
	assert.Empty(t, differ)
	assert.Equal(t, int64(15), n)
}

func TestAnErrorLeavesNothingBehind(t *testing.T) {
	s, m := company(t)
	boom := errors.New("boom")
	told := false
	s.Watch(func(store.Changed) { told = true })
	err := s.Write(ctx, func(tx *store.Tx) error {
		f, err := ledger.Open(m.Entry("ann", "note.written", "visit", "V1", ledger.Note{Text: "x"}))
		require.NoError(t, err)
		_, err = tx.Append(f, store.Arrival{At: time.Now()})
		require.NoError(t, err)
		return boom
	})
	require.ErrorIs(t, err, boom)
	assert.False(t, told)
	read(t, s, func(tx *store.Tx) {
		seq, _ := tx.Seq()
		assert.Equal(t, int64(15), seq)
		var v work.Visit
		_, err := tx.Load("visit", "V1", &v)
		require.NoError(t, err)
		assert.Empty(t, v.Notes)
	})
}

func TestAnEntryThatDoesNotFitWritesNothing(t *testing.T) {
	s, m := company(t)
	require.NoError(t, s.Write(ctx, func(tx *store.Tx) error {
		f, err := ledger.Open(m.Entry("ann", "note.written", "visit", "V9", ledger.Note{Text: "x"}))
		require.NoError(t, err)
		_, err = tx.Append(f, store.Arrival{At: time.Now()})
		assert.Equal(t, "record.unknown", msg.From(err).Code)
		return nil
	}))
	read(t, s, func(tx *store.Tx) {
		seq, _ := tx.Seq()
		assert.Equal(t, int64(15), seq)
	})
}

func TestTrailAndFlags(t *testing.T) {
	s, m := company(t)
	e := m.Entry("ben", "note.written", "visit", "V1", ledger.Note{Text: "not mine"})
	appendAll(t, s, e)
	read(t, s, func(tx *store.Tx) {
		ref := ledger.Ref{Type: "visit", ID: "V1"}
		trail, err := tx.Trail(ref)
		require.NoError(t, err)
		require.Len(t, trail, 3)
		assert.Equal(t, e.ID, trail[2].ID)
		assert.True(t, e.At.Equal(trail[2].At))
		assert.JSONEq(t, `{"text":"not mine"}`, string(trail[2].Body))
	})
}

// A flag is told to whose entry raised it, once for many, until that person has seen it; and to the office until it is settled.
func TestFlagsAreSeenAndSettled(t *testing.T) {
	s, m := company(t)
	note := func() ledger.Entry {
		return m.Entry("ben", "note.written", "visit", "V1", ledger.Note{Text: "not mine"})
	}
	expect := func(bens, offices int) {
		t.Helper()
		read(t, s, func(tx *store.Tx) {
			var n ledger.Notices
			d, err := tx.NoticesOf("ben")
			require.NoError(t, err)
			require.NoError(t, json.Unmarshal(d.Body, &n))
			open, err := tx.OpenFlags()
			require.NoError(t, err)
			assert.Equal(t, []int{bens, offices}, []int{len(n.List), len(open)})
		})
	}
	appendAll(t, s, note(), note())
	expect(1, 1)
	read(t, s, func(tx *store.Tx) {
		open, err := tx.FlagsOn(ledger.Ref{Type: "visit", ID: "V1"})
		require.NoError(t, err)
		assert.Equal(t, 2, open[0].Count)
		assert.Equal(t, "4127 · Orrisk Pump House 3", open[0].About)
		assert.Equal(t, "visit.not_theirs", open[0].Code.Code)
	})
	appendAll(t, s, m.Entry("ben", "flag.seen", "visit", "V1", ledger.Seen{Code: "visit.not_theirs"}))
	expect(0, 1)
	appendAll(t, s, note())
	expect(1, 1)
	appendAll(t, s, m.Entry("office", "flag.settled", "visit", "V1", ledger.Settled{Code: "visit.not_theirs", Person: "ben"}))
	expect(0, 0)
	use := func() ledger.Entry {
		return m.Entry("ben", "part.used", "visit", "V1", ledger.Use{Part: "P2", Place: "van-ben", Quantity: decimal.NewFromInt(1)})
	}
	appendAll(t, s, use(), use(), m.Entry("office", "flag.settled", "visit", "V1", ledger.Settled{Code: "visit.not_theirs", Person: "ben"}))
	expect(1, 1) // below zero is told once
	appendAll(t, s, m.Entry("office", "stock.counted", "stock", "van-ben", ledger.Count{Part: "P2", Quantity: decimal.NewFromInt(4)}))
	expect(0, 0) // and no longer once somebody has counted
	differ, _, err := s.Verify(ctx, nil)
	require.NoError(t, err)
	assert.Empty(t, differ)
}

func TestBackup(t *testing.T) {
	s, m := company(t)
	hash := strings.Repeat("a", 64)
	path := filepath.Join(s.Dir(), store.FilesDir, "aa", hash)
	require.NoError(t, os.MkdirAll(filepath.Dir(path), 0o700))
	require.NoError(t, os.WriteFile(path, []byte("photo"), 0o600))
	to := t.TempDir()
	for i, want := range []int{1, 0} { // the second time the file is there already
		appendAll(t, s, m.Entry("ann", "note.written", "visit", "V1", ledger.Note{Text: fmt.Sprint(i)}))
		n, err := s.Backup(ctx, to)
		require.NoError(t, err)
		assert.Equal(t, want, n)
	}
	restored := open(t, to)
	differ, n, err := restored.Verify(ctx, nil)
	require.NoError(t, err)
	assert.Empty(t, differ)
	assert.Equal(t, int64(17), n)
	raw, err := os.ReadFile(filepath.Join(to, store.FilesDir, "aa", hash))
	require.NoError(t, err)
	assert.Equal(t, "photo", string(raw))
	_, err = s.Backup(ctx, s.Dir())
	assert.ErrorContains(t, err, "choose another directory")
}

// A rebuild puts right what was changed behind the log's back, in documents and in the tables for questions, and keeps flags
// that do not come from the log.
func TestRebuild(t *testing.T) {
	s, m := company(t)
	require.NoError(t, s.Write(ctx, func(tx *store.Tx) error {
		f, err := ledger.Open(m.Entry("ben", "note.written", "visit", "V1", ledger.Note{Text: "x"}))
		require.NoError(t, err)
		_, err = tx.Append(f, store.Arrival{At: time.Now(), Apart: []*msg.Code{msg.New("time.ahead")}})
		return err
	}))
	for _, q := range []string{"UPDATE docs SET body = replace(body, 'Pump', 'Dump') WHERE type = 'site'", "DELETE FROM visits",
		"UPDATE found SET text = ''", "DELETE FROM flags WHERE code = 'visit.not_theirs'",
		"INSERT INTO docs VALUES ('site', 'S9', 1, '{}')"} {
		_, err := s.Sessions().Exec(q)
		require.NoError(t, err)
	}
	differ, _, err := s.Verify(ctx, nil)
	require.NoError(t, err)
	tables := map[string]bool{}
	for _, d := range differ {
		tables[d.Table] = true
	}
	assert.Equal(t, map[string]bool{"docs": true, "visits": true, "found": true, "flags": true}, tables)
	var last int64
	n, err := s.Rebuild(ctx, func(done, total int64) { last = done })
	require.NoError(t, err)
	assert.Equal(t, []int64{16, 16}, []int64{n, last})
	differ, _, err = s.Verify(ctx, nil)
	require.NoError(t, err)
	assert.Empty(t, differ)
	read(t, s, func(tx *store.Tx) {
		open, err := tx.OpenFlags()
		require.NoError(t, err)
		assert.Len(t, open, 2)
	})
}

func TestUnplacedMostPressingFirst(t *testing.T) {
	s, m := company(t)
	order := func(id string, p work.Priority, promise time.Time) ledger.Entry {
		return m.Entry("office", "work.opened", "workorder", id, work.Order{Number: id[1:], Customer: "C1", Site: "S1", Problem: "x",
			Priority: p, Minutes: 5, PromiseTo: promise})
	}
	noon := ledgertest.Start.Add(5 * time.Hour)
	appendAll(t, s, order("W21", work.Normal, time.Time{}), order("W22", work.Soon, time.Time{}),
		order("W23", work.Soon, noon.Add(time.Hour)), order("W24", work.Soon, noon), order("W25", work.Emergency, time.Time{}))
	list := func() (ids []string) {
		read(t, s, func(tx *store.Tx) {
			var err error
			ids, err = tx.Unplaced("2026-03-10", 10)
			require.NoError(t, err)
		})
		return ids
	}
	assert.Equal(t, []string{"W25", "W24", "W23", "W22", "W21"}, list())
	appendAll(t, s, m.Entry("office", "visit.planned", "visit", "V5", ledger.Plan{Order: "W25", Technician: "ann", Start: noon,
		Minutes: 5}))
	assert.NotContains(t, list(), "W25")
	appendAll(t, s, m.Entry("office", "visit.withdrawn", "visit", "V5", ledger.Withdraw{}))
	assert.Equal(t, "W25", list()[0], "it comes back for planning")
}

// Who finished a visit at a site since a day was there, once however often; who is only planned was not.
func TestWhoWasAtASite(t *testing.T) {
	s, m := company(t)
	for _, id := range []string{"cleo", "dan"} {
		appendAll(t, s, m.Entry("office", "record.created", "person", id, records.Person{Name: id, Roles: []records.Role{records.Technician}}))
	}
	for i, v := range []struct {
		person string
		days   int
		done   bool
	}{{"ann", -3, true}, {"ann", -2, true}, {"ann", -300, true}, {"ben", -300, true}, {"ben", 1, false}, {"cleo", -1, true},
		{"dan", -1, false}} {
		id := fmt.Sprintf("VW%d", i)
		appendAll(t, s, m.Entry("office", "visit.planned", "visit", id, ledger.Plan{Order: "W1", Technician: v.person,
			Start: ledgertest.Start.AddDate(0, 0, v.days), Minutes: 30}))
		if v.done {
			appendAll(t, s, m.Entry(v.person, "visit.finished", "visit", id, ledger.Step{Outcome: work.Complete}))
		}
	}
	for since, want := range map[int][]string{-400: {"ann", "ben", "cleo"}, -3: {"ann", "cleo"}, -1: {"cleo"}, 0: nil} {
		read(t, s, func(tx *store.Tx) {
			out, err := tx.WhoWasAt([]string{"S1", "nowhere", "S1"}, ledgertest.Start.AddDate(0, 0, since).Format(time.DateOnly))
			require.NoError(t, err)
			assert.Equal(t, want, out["S1"], since)
			assert.Empty(t, out["nowhere"])
		})
	}
}

// Documents that are read ahead are those that are read one by one, also what the transaction itself has changed.
func TestReadAhead(t *testing.T) {
	s, m := company(t)
	refs := []ledger.Ref{{Type: "visit", ID: "V1"}, {Type: "site", ID: "S1"}, {Type: "site", ID: "nowhere"}, {Type: "person", ID: "ann"}}
	var want []ledger.Doc
	read(t, s, func(tx *store.Tx) {
		for _, r := range refs {
			d, err := tx.Doc(r)
			require.NoError(t, err)
			want = append(want, d)
		}
	})
	read(t, s, func(tx *store.Tx) {
		require.NoError(t, tx.ReadAhead(refs))
		for i, r := range refs {
			d, err := tx.Doc(r)
			require.NoError(t, err)
			assert.Equal(t, want[i], d)
		}
	})
	require.NoError(t, s.Write(ctx, func(tx *store.Tx) error {
		_, err := tx.Record(m.Entry("office", "record.amended", "site", "S1", map[string]any{"name": "Pump House 9"}), ledgertest.Start)
		require.NoError(t, err)
		require.NoError(t, tx.ReadAhead(refs))
		d, err := tx.Doc(refs[1])
		assert.Contains(t, string(d.Body), "Pump House 9")
		return err
	}))
}

func TestCommonDocumentsComeInPages(t *testing.T) {
	s, m := company(t)
	for i := range 30 {
		appendAll(t, s, m.Entry("office", "record.created", "part", fmt.Sprintf("X%02d", i), stock.Part{Name: "x", Unit: "each"}))
	}
	read(t, s, func(tx *store.Tx) {
		seen := map[ledger.Ref]bool{}
		var at int64
		for range 100 {
			page, err := tx.CommonSince(at, 7)
			require.NoError(t, err)
			for _, d := range page {
				require.False(t, seen[d.Ref], "%s twice", d.Ref)
				seen[d.Ref] = true
				at = d.Rev
			}
			if len(page) < 7 {
				break
			}
		}
		assert.Len(t, seen, 30+7+15, "three people, a sheet, two parts, a place; settings")
	})
}

func TestHeldEntriesAreKeptOnceAsTheyCame(t *testing.T) {
	s, m := company(t)
	e := m.Entry("ann", "visit.vanished", "visit", "V1", map[string]string{"a": "b"})
	other := e
	other.Body = json.RawMessage(`{"a":"c"}`)
	require.NoError(t, s.Write(ctx, func(tx *store.Tx) error {
		for _, x := range []ledger.Entry{e, e, other} {
			require.NoError(t, tx.Hold(x, "ann", msg.New("entry.kind", "kind", "x"), store.Arrival{At: time.Now()}))
		}
		return nil
	}))
	read(t, s, func(tx *store.Tx) {
		held, err := tx.Held()
		require.NoError(t, err)
		require.Len(t, held, 2)
		assert.JSONEq(t, string(e.Body), string(held[0].Entry.Body))
		assert.Equal(t, "x", held[0].Why.Args["kind"])
	})
}

// Readers see a whole state while a writer is at work.
func TestReadersAndAWriter(t *testing.T) {
	s, m := company(t)
	entries := []ledger.Entry{}
	for i := range 40 {
		entries = append(entries, m.Entry("ann", "note.written", "visit", "V1", ledger.Note{Text: fmt.Sprint(i)}))
	}
	var done sync.WaitGroup
	done.Go(func() {
		for i := 0; i < len(entries); i += 2 {
			appendAll(t, s, entries[i], entries[i+1])
		}
	})
	for range 4 {
		done.Go(func() {
			for range 30 {
				read(t, s, func(tx *store.Tx) {
					var v work.Visit
					_, err := tx.Load("visit", "V1", &v)
					require.NoError(t, err)
					assert.Zero(t, len(v.Notes)%2, "half a transaction")
					seq, err := tx.Seq()
					require.NoError(t, err)
					assert.Equal(t, int64(15+len(v.Notes)), seq, "log and documents are of one moment")
				})
			}
		})
	}
	done.Wait()
}

// Another program that holds the database is said, and what was to be written was not.
func TestADatabaseThatIsHeld(t *testing.T) {
	s, m := company(t)
	other, err := sql.Open("sqlite", "file:"+s.Path()+"?_txlock=exclusive")
	require.NoError(t, err)
	defer other.Close()
	_, err = s.Sessions().Exec("PRAGMA busy_timeout = 50")
	require.NoError(t, err)
	tx, err := other.Begin()
	require.NoError(t, err)
	note := m.Entry("ann", "note.written", "visit", "V1", ledger.Note{Text: "x"})
	write := func() error {
		return s.Write(ctx, func(tx *store.Tx) error { _, err := tx.Record(note, time.Now()); return err })
	}
	assert.ErrorIs(t, write(), store.ErrBusy)
	require.NoError(t, tx.Rollback())
	assert.NoError(t, write())
}

func TestADirectoryIsLocked(t *testing.T) {
	dir := filepath.Join(t.TempDir(), "new")
	unlock, err := store.Lock(dir)
	require.NoError(t, err)
	_, err = store.Lock(dir)
	assert.ErrorIs(t, err, store.ErrInUse)
	require.NoError(t, unlock())
	unlock, err = store.Lock(dir)
	require.NoError(t, err)
	require.NoError(t, unlock())

	file := filepath.Join(dir, "file")
	require.NoError(t, os.WriteFile(file, nil, 0o600))
	_, err = store.Lock(file)
	assert.ErrorIs(t, err, store.ErrUnusable)
	_, err = store.Open(ctx, file)
	assert.ErrorIs(t, err, store.ErrUnusable, "in words of ours")
	require.NoError(t, os.WriteFile(filepath.Join(dir, store.FileName), []byte("no database, and long enough to be none of any kind"),
		0o600))
	_, err = store.Open(ctx, dir)
	assert.ErrorIs(t, err, store.ErrDamaged)
}

// A database that an earlier program folded is known, and is not any more once it is folded anew.
func TestAnEarlierFoldIsKnown(t *testing.T) {
	s, _ := company(t)
	stale := func() bool {
		is, err := s.Stale(ctx)
		require.NoError(t, err)
		return is
	}
	assert.False(t, stale(), "a new one has it all")
	_, err := s.Sessions().Exec("PRAGMA user_version = 6; DELETE FROM mentions")
	require.NoError(t, err)
	assert.True(t, stale())
	_, err = s.Rebuild(ctx, nil)
	require.NoError(t, err)
	assert.False(t, stale())
}
