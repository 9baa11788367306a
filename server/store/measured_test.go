package store_test

import (
	"testing"
	"time"

	"github.com/shopspring/decimal"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"iter.example/iter/core/ledger"
	"iter.example/iter/core/ledger/ledgertest"
	"iter.example/iter/core/reading"
	"iter.example/iter/core/sheet"
	"iter.example/iter/core/work"
	"iter.example/iter/server/store"
)

func takenAt(m *ledgertest.Maker, value string) ledger.Entry {
	m.Wait(time.Minute)
	return m.Entry("ann", "reading.taken", "visit", "V1", ledger.Taken{Asset: "A1", Point: "discharge",
		Value: decimal.RequireFromString(value), Unit: "bar"})
}

// The tables of readings and of attention follow the visit: what is struck out leaves them, what is restored comes back, and they are what
// the log folds to.
func TestReadingsAndAttentionFollowTheVisit(t *testing.T) {
	s, m := company(t)
	low, fine := takenAt(m, "1"), takenAt(m, "4")
	appendAll(t, s, low)
	count := func(readings, open int) {
		t.Helper()
		read(t, s, func(tx *store.Tx) {
			all, err := tx.MeasuredOn("A1", 100)
			require.NoError(t, err)
			assert.Len(t, all, readings)
			between, err := tx.MeasuredBetween("2026-03-10", "2026-03-10")
			require.NoError(t, err)
			assert.Len(t, between, readings)
			attention, err := tx.Attention(false, 100)
			require.NoError(t, err)
			assert.Len(t, attention, open)
		})
	}
	count(1, 1)
	appendAll(t, s, fine)
	count(2, 0)
	m.Wait(time.Minute)
	body := striking(t, s, fine)
	appendAll(t, s, m.Entry("office", "entry.struck_by_office", "visit", "V1", body))
	count(1, 1)
	m.Wait(time.Minute)
	appendAll(t, s, m.Entry("office", "entry.restored", "visit", "V1", body))
	count(2, 0)
	appendAll(t, s, m.Entry("ann", "work.proposed", "visit", "V1", ledger.Proposed{Kind: work.FollowUp, Text: "Come again"}))
	count(2, 1)
	differ, _, err := s.Verify(ctx, nil)
	require.NoError(t, err)
	assert.Empty(t, differ)
	_, err = s.Rebuild(ctx, nil)
	require.NoError(t, err)
	count(2, 1)
}

// A counter that fell is seen to have fallen in whichever order its readings are heard of, on different visits too.
func TestACounterThatFellIsDoubtedInAnyOrder(t *testing.T) {
	for _, earlierFirst := range []bool{true, false} {
		s, m := company(t)
		appendAll(t, s, m.Entry("office", "record.amended", "asset", "A1", map[string]any{"points": []reading.Point{{ID: "hours", Name: "Hours",
			Unit: "h", Counter: true}}}),
			m.Entry("office", "visit.planned", "visit", "V5", ledger.Plan{Order: "W1", Technician: "ben", Start: ledgertest.Start, Minutes: 30}),
			m.Entry("office", "visit.sent", "visit", "V5", ledger.Nothing{}))
		taken := func(actor, visit, value string) ledger.Entry {
			m.Wait(time.Hour)
			return m.Entry(actor, "reading.taken", "visit", visit, ledger.Taken{Asset: "A1", Point: "hours",
				Value: decimal.RequireFromString(value), Unit: "h"})
		}
		earlier, later := taken("ann", "V1", "8400"), taken("ben", "V5", "8100")
		if !earlierFirst {
			earlier, later = later, earlier
		}
		appendAll(t, s, earlier)
		appendAll(t, s, later)
		read(t, s, func(tx *store.Tx) {
			all, err := tx.Attention(false, 10)
			require.NoError(t, err)
			require.Len(t, all, 1)
			assert.Equal(t, []string{"V5", "fell"}, []string{all[0].Visit, all[0].Code})
			read, err := tx.MeasuredOn("A1", 10)
			require.NoError(t, err)
			assert.Equal(t, []reading.Doubt{reading.Sure, reading.Fell}, []reading.Doubt{read[0].Doubt, read[1].Doubt})
		})
		differ, _, err := s.Verify(ctx, nil)
		require.NoError(t, err)
		assert.Empty(t, differ)
	}
}

func TestAttentionIsSorted(t *testing.T) {
	s, m := company(t)
	alarmed := sheet.Sheet{ID: "alarmed", Version: 1, Title: "A",
		Sections: []sheet.Section{{Title: "A", Questions: []sheet.Question{{ID: "safe", Kind: sheet.YesNo, Text: "Safe?",
			On: []sheet.Trigger{{Is: sheet.Equals, Value: "no", Hazard: "Not safe"}}}}}}}
	appendAll(t, s, m.Entry("office", "record.created", "sheet", "alarmed@1", alarmed),
		m.Entry("ann", "sheet.attached", "visit", "V1", ledger.SheetAttached{Order: "W1", Sheet: "alarmed@1"}),
		m.Entry("ann", "work.proposed", "visit", "V1", ledger.Proposed{Kind: work.Recommendation, Text: "Paint it"}), takenAt(m, "1"),
		m.Entry("ann", "sheet.answered", "visit", "V1", ledger.Answered{Sheet: "alarmed@1", Question: "safe", Value: "no"}))
	read(t, s, func(tx *store.Tx) {
		all, err := tx.Attention(false, 10)
		require.NoError(t, err)
		var got []work.Concern
		for _, a := range all {
			got = append(got, a.Concern)
		}
		assert.Equal(t, []work.Concern{work.ConcernHazard, work.ConcernAlarm, work.ConcernRecommend}, got)
		one, err := tx.Attention(false, 1)
		require.NoError(t, err)
		assert.Len(t, one, 1)
		ids, err := tx.VisitsBetween("2026-03-10", "2026-03-10")
		require.NoError(t, err)
		assert.Equal(t, []string{"V1"}, ids)
		refs, err := tx.IDs("sheet")
		require.NoError(t, err)
		assert.Equal(t, []string{"alarmed@1", "pump@1"}, refs)
	})
}
