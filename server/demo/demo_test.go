package demo_test

import (
	"context"
	"encoding/json"
	"os"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"iter.example/iter/core/stock"
	"iter.example/iter/core/work"
	"iter.example/iter/server/accounts"
	"iter.example/iter/server/demo"
	"iter.example/iter/server/parts"
	"iter.example/iter/server/store"
)

func TestMain(m *testing.M) {
	accounts.HashCheaply()
	os.Exit(m.Run())
}

func fill(t *testing.T, now time.Time, seed int64) *store.Store {
	s, err := store.Open(context.Background(), t.TempDir())
	require.NoError(t, err)
	t.Cleanup(func() { _ = s.Close() })
	require.NoError(t, demo.Fill(context.Background(), s, now, mustZone(t), seed, 6))
	return s
}

func bodies(t *testing.T, s *store.Store, typ string) (out []string) {
	require.NoError(t, s.Read(context.Background(), func(tx *store.Tx) error {
		docs, err := tx.Of(typ)
		for _, d := range docs {
			out = append(out, d.ID)
		}
		return err
	}))
	return out
}

func TestTheDemoIsHalfDoneAtAnyHour(t *testing.T) {
	for _, at := range []string{"2026-11-23T13:00:00Z", "2026-07-04T02:10:00Z", "2026-03-29T22:50:00Z", "2026-11-24T00:25:00Z"} {
		now, err := time.Parse(time.RFC3339, at)
		require.NoError(t, err)
		s := fill(t, now, 1)
		differ, n, err := s.Verify(context.Background(), nil)
		require.NoError(t, err)
		assert.Empty(t, differ)
		assert.Greater(t, n, int64(2000))
		require.NoError(t, s.Read(context.Background(), func(tx *store.Tx) error {
			stages := map[work.Stage]int{}
			local := now.In(mustZone(t))
			ids, err := tx.VisitsOn(local.Format(time.DateOnly))
			require.NoError(t, err)
			for _, id := range ids {
				var v work.Visit
				_, err := tx.Load("visit", id, &v)
				require.NoError(t, err)
				stages[v.Stage]++
				for _, step := range v.Steps {
					require.False(t, step.At.After(now.Add(2*time.Minute)), "%s: %s lies ahead", at, step.Action)
				}
			}
			assert.Greater(t, stages[work.Sent], 5, at)
			assert.Greater(t, stages[work.OnSite]+stages[work.Travelling]+stages[work.Finished], 8, at)
			unplaced, err := tx.Unplaced(now.Format(time.DateOnly), 80)
			require.NoError(t, err)
			never := 0
			for _, id := range unplaced {
				var o work.Order
				_, err := tx.Load("workorder", id, &o)
				require.NoError(t, err)
				if len(o.Visits) == 0 {
					never++
				}
			}
			assert.Equal(t, 8, never)
			assert.Greater(t, len(unplaced), never, "some work came back for a part")
			return nil
		}))
	}
}

// Whenever a demo begins, its firm is in the middle of a working day.
func TestTheFirmIsAtWorkAtAnyHour(t *testing.T) {
	for hour := range 24 * 365 {
		now := time.Date(2026, 1, 1, hour, 37, 0, 0, time.UTC)
		loc, err := time.LoadLocation(demo.ZoneAt(now))
		require.NoError(t, err)
		h := now.In(loc).Hour()
		require.True(t, 11 <= h && h <= 15, "%s: %d", now, h)
	}
}

func mustZone(t *testing.T) *time.Location {
	loc, err := time.LoadLocation(demo.Zone)
	require.NoError(t, err)
	return loc
}

func TestTheSameDayAndSeedGiveTheSameFirm(t *testing.T) {
	now := time.Date(2026, 11, 23, 13, 0, 0, 0, time.UTC)
	a, b, c := fill(t, now, 1), fill(t, now, 1), fill(t, now, 2)
	for _, typ := range []string{"site", "asset", "visit", "workorder", "timecard"} {
		assert.Equal(t, bodies(t, a, typ), bodies(t, b, typ), typ)
	}
	assert.NotEqual(t, bodies(t, a, "visit"), bodies(t, c, "visit"))
}

// The demo has something of everything that checks come to.
func TestTheDemoIsCheckedAndMeasured(t *testing.T) {
	s := fill(t, time.Date(2026, 11, 23, 13, 0, 0, 0, time.UTC), 1)
	require.NoError(t, s.Read(context.Background(), func(tx *store.Tx) error {
		for _, typ := range []string{"sheet", "assetkind", "kit", "measured", "substances"} {
			ids, err := tx.IDs(typ)
			require.NoError(t, err)
			assert.NotEmpty(t, ids, typ)
		}
		open, err := tx.Attention(false, 500)
		require.NoError(t, err)
		concerns := map[work.Concern]int{}
		for _, a := range open {
			concerns[a.Concern]++
		}
		assert.Positive(t, concerns[work.ConcernFailed])
		assert.Positive(t, concerns[work.ConcernRecommend])
		assert.Less(t, len(open), 150, "few enough to act on")
		handled, err := tx.Attention(true, 500)
		assert.NotEmpty(t, handled)
		return err
	}))
}

// The stores have something of everything to do.
func TestTheDemoHasParts(t *testing.T) {
	now := time.Date(2026, 11, 24, 13, 0, 0, 0, time.UTC)
	s := fill(t, now, 1)
	require.NoError(t, s.Read(context.Background(), func(tx *store.Tx) error {
		open, err := parts.Requests(tx, false, now)
		require.NoError(t, err)
		states := map[stock.RequestState]int{}
		long := 0
		for _, l := range open {
			states[l.Request.State]++
			if l.Long {
				long++
			}
		}
		assert.Positive(t, states[stock.Asked])
		assert.Positive(t, states[stock.Ordered])
		assert.Positive(t, long, "one waits long")
		over, err := parts.Requests(tx, true, now)
		require.NoError(t, err)
		assert.Len(t, over, 2)
		moving, err := parts.Handovers(tx)
		require.NoError(t, err)
		assert.Len(t, moving, 2)
		day, err := tx.NextDay("2026-11-24")
		require.NoError(t, err)
		picks, err := parts.Picks(tx, day)
		require.NoError(t, err)
		assert.NotEmpty(t, picks)
		fills, err := parts.Fills(tx, day, now)
		require.NoError(t, err)
		assert.NotEmpty(t, fills)
		places, err := parts.Places(tx)
		require.NoError(t, err)
		require.Len(t, places, 13)
		assert.Equal(t, []string{"Main store", "Van 1", "Van 2"}, []string{places[0].Name, places[1].Name, places[2].Name})
		for _, p := range places {
			shelf, err := parts.ShelfOf(tx, p, now)
			require.NoError(t, err)
			assert.Greater(t, shelf.Value.IntPart(), int64(500), p.Name)
			for _, l := range shelf.Lines {
				assert.Greater(t, l.Balance.IntPart(), int64(-15), "%s at %s", l.Name, p.Name)
			}
		}
		parts, err := tx.Of("part")
		require.NoError(t, err)
		assert.Greater(t, len(parts), 120)
		for _, d := range parts {
			var p stock.Part
			require.NoError(t, json.Unmarshal(d.Body, &p))
			require.NoError(t, p.Check(), d.ID)
		}
		return nil
	}))
}
