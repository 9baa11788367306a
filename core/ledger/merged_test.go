package ledger_test

import (
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"iter.example/iter/core/ledger"
	"iter.example/iter/core/reading"
	"iter.example/iter/core/records"
	"iter.example/iter/core/work"
)

// What hangs on a record that turned out to be another hangs on that one, and comes back when they are two after all.
func TestRecordsMerge(t *testing.T) {
	m, docs := company(t)
	require.Empty(t, take(t, docs,
		m.Entry("office", "record.created", "customer", "C2", records.Customer{Name: "Quill Dairy"}),
		m.Entry("office", "record.created", "site", "S2", records.Site{Customer: "C2", Name: "Weir"}),
		m.Entry("office", "record.created", "asset", "A2", records.Asset{Site: "S2", Name: "Booster"}),
		m.Entry("office", "record.created", "asset", "A2-motor", records.Asset{Site: "S2", Parent: "A2", Name: "Motor"}),
		m.Entry("office", "work.opened", "workorder", "W7", work.Order{Customer: "C2", Site: "S2", Asset: "A2", Problem: "Hums",
			Priority: work.Normal, Minutes: 30})).Error)
	give := func(kind, typ, id string, b any) string {
		m.Wait(time.Minute)
		return take(t, docs, m.Entry("office", kind, typ, id, b)).Error
	}
	order := func() work.Order { return read[work.Order](t, docs, "workorder", "W7") }
	gauge := taken("discharge", "3", "bar")
	gauge.Asset = "A2"
	require.Empty(t, take(t, docs, m.Entry("ann", "reading.taken", "visit", "V1", gauge)).Error)

	machine := ledger.Merged{Into: "A1", Assets: []string{"A2-motor"}, Orders: []string{"W7"}}
	require.Empty(t, give("record.merged", "asset", "A2", machine))
	assert.Equal(t, "A1", order().Asset)
	assert.Equal(t, "A1", read[records.Asset](t, docs, "asset", "A2-motor").Parent)
	assert.Equal(t, "A1", read[records.Asset](t, docs, "asset", "A2").Merged)
	assert.Len(t, read[reading.History](t, docs, "measured", "A1").Points["discharge"], 1)
	assert.Contains(t, give("record.merged", "asset", "A2", machine), "merge.gone")
	assert.Contains(t, give("record.merged", "asset", "A1", ledger.Merged{Into: "A2"}), "merge.gone")
	require.Empty(t, give("record.parted", "asset", "A2", machine))
	assert.Equal(t, "A2", order().Asset)
	assert.Empty(t, read[reading.History](t, docs, "measured", "A1").Points["discharge"])
	assert.Contains(t, give("record.parted", "asset", "A2", machine), "merge.apart")

	require.Empty(t, give("record.merged", "site", "S2", ledger.Merged{Into: "S1", Assets: []string{"A2", "A2-motor"},
		Orders: []string{"W7"}}))
	assert.Equal(t, "S1", order().Site)
	assert.Equal(t, "S1", read[records.Asset](t, docs, "asset", "A2").Site)
	require.Empty(t, give("record.merged", "customer", "C2", ledger.Merged{Into: "C1", Sites: []string{"S2"}, Orders: []string{"W7"}}))
	assert.Equal(t, "C1", order().Customer)

	// What was moved on since stays where it is when the two are parted.
	require.Empty(t, take(t, docs, m.Entry("office", "record.created", "customer", "C3", records.Customer{Name: "Third"}),
		m.Entry("office", "site.moved", "site", "S2", ledger.SiteMoved{Customer: "C3"})).Error)
	require.Empty(t, give("record.parted", "customer", "C2", ledger.Merged{Into: "C1", Sites: []string{"S2"}, Orders: []string{"W7"}}))
	assert.Equal(t, "C3", read[records.Site](t, docs, "site", "S2").Customer)
	assert.Equal(t, "C2", order().Customer)

	for code, try := range map[string]struct {
		typ, id string
		b       ledger.Merged
	}{
		"merge.what":      {"customer", "C1", ledger.Merged{Into: "C1"}},
		"record.unknown":  {"customer", "C1", ledger.Merged{Into: "C9"}},
		"merge.elsewhere": {"site", "S1", ledger.Merged{Into: "S3", Orders: []string{"W8"}}},
	} {
		if code == "merge.elsewhere" {
			require.Empty(t, take(t, docs,
				m.Entry("office", "record.created", "site", "S3", records.Site{Customer: "C1", Name: "Quay"}),
				m.Entry("office", "work.opened", "workorder", "W8", work.Order{Customer: "C1", Site: "S3", Problem: "Drips",
					Priority: work.Normal, Minutes: 30})).Error)
		}
		assert.Contains(t, give("record.merged", try.typ, try.id, try.b), code)
	}
}

// A site goes to another customer with the orders that are named.
func TestSitesMove(t *testing.T) {
	m, docs := company(t)
	open := func(id string) ledger.Entry {
		return m.Entry("office", "work.opened", "workorder", id, work.Order{Customer: "C1", Site: "S1", Problem: "Hums",
			Priority: work.Normal, Minutes: 30})
	}
	require.Empty(t, take(t, docs, m.Entry("office", "record.created", "customer", "C2", records.Customer{Name: "Quill Dairy"}),
		open("W7"), open("W8")).Error)
	give := func(b ledger.SiteMoved) string {
		m.Wait(time.Minute)
		return take(t, docs, m.Entry("office", "site.moved", "site", "S1", b)).Error
	}
	require.Empty(t, give(ledger.SiteMoved{Customer: "C2", Orders: []string{"W8"}, Note: "Sold with the house"}))
	s := read[records.Site](t, docs, "site", "S1")
	assert.Equal(t, "C2", s.Customer)
	require.Len(t, s.Moves, 1)
	assert.Equal(t, "C1", s.Moves[0].From)
	assert.Equal(t, "C1", read[work.Order](t, docs, "workorder", "W7").Customer)
	assert.Equal(t, "C2", read[work.Order](t, docs, "workorder", "W8").Customer)
	assert.Contains(t, give(ledger.SiteMoved{Customer: "C2"}), "site.theirs")
	assert.Contains(t, give(ledger.SiteMoved{Customer: "C9"}), "record.unknown")
}
