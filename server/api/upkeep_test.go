package api_test

import (
	"net/http"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"iter.example/iter/core/ledger"
	"iter.example/iter/core/ledger/ledgertest"
	core "iter.example/iter/core/upkeep"
	"iter.example/iter/core/work"
	"iter.example/iter/server/api"
	"iter.example/iter/server/promises"
)

// What falls due is listed, on the pages of the machine, its site and customer, and in the year's load; a plan's page says what was moved.
func TestWhatFallsDue(t *testing.T) {
	p, d, date := drafting(t)
	m := ledgertest.NewMaker("R7", 17)
	day := func(n int) string { return core.AddDays(date, n) }
	plan := core.Plan{Name: "Quarterly service", Job: work.Job{Problem: "Service", Minutes: 90, Skills: []string{"pumps"}},
		Assets: []string{"A1"}, Rule: "FREQ=MONTHLY;INTERVAL=3", Begin: day(20), After: 7, Ahead: 3}
	for _, e := range []ledger.Entry{
		m.Entry("office", "record.created", "upkeep", "U1", plan),
		m.Entry("office", "upkeep.moved", "upkeep", "U1", ledger.UpkeepMoved{Target: "A1", Key: day(20), Due: day(20), To: day(25),
			Reason: "The pump house is closed"}),
	} {
		p.writes(t, e)
	}
	all := read[api.Upkeep](t, d.get("/api/office/upkeep"))
	require.Len(t, all.Plans, 1)
	assert.Equal(t, day(25), all.Plans[0].Next)
	require.Len(t, all.Due, 1, "within two months")
	assert.Equal(t, "Booster set", all.Due[0].Name)
	assert.Equal(t, day(20), all.Due[0].Due)
	assert.Equal(t, day(32), all.Due[0].To)
	page := read[api.UpkeepPage](t, d.get("/api/office/upkeep/U1"))
	assert.Len(t, page.Coming, 4)
	require.Len(t, page.Changes, 1)
	assert.Equal(t, "The pump house is closed", page.Changes[0].Reason)
	assert.Equal(t, http.StatusNotFound, d.get("/api/office/upkeep/nowhere").StatusCode)
	for _, of := range []string{"asset/A1", "site/S1", "customer/C1"} {
		assert.Len(t, read[api.RecordDue](t, d.get("/api/office/due/"+of)).Lines, 4, of)
	}
	assert.Equal(t, http.StatusNotFound, d.get("/api/office/due/person/ann").StatusCode)
	load := read[api.Load](t, d.get("/api/office/upkeep/load"))
	minutes := 0
	for _, w := range load.Weeks {
		minutes += w.Due["pumps"]
		assert.Equal(t, w.Due["pumps"], w.Due[""])
	}
	assert.Equal(t, 4*90, minutes)
	assert.Equal(t, http.StatusBadRequest, d.get("/api/office/upkeep?until=soon").StatusCode)
	month := read[api.Weeks](t, d.get("/api/office/weeks?days=42&from="+date))
	one := api.WeekDue{Jobs: 1, Minutes: 90}
	for i, w := range month.Days {
		if i == 25 { // where it was moved to
			assert.Equal(t, map[string]api.WeekDue{"": one, "pumps": one}, w.Due)
		} else {
			assert.Empty(t, w.Due, w.Date)
		}
	}
}

// What an agreement about the machine promises comes before the company's rules, as long as it holds.
func TestAgreementsPromise(t *testing.T) {
	p, d, date := drafting(t)
	m := ledgertest.NewMaker("R8", 18)
	care := work.Agreement{Customer: "C1", Name: "Full care", Assets: []string{"A1"}, From: core.AddDays(date, -5), To: core.AddDays(date, 5),
		Promises: []work.PromiseRule{{Priority: work.Soon, Hours: 3}}}
	over := care
	over.From, over.To, over.Name = core.AddDays(date, -50), core.AddDays(date, -1), "Over"
	p.writes(t, m.Entry("office", "record.created", "agreement", "over", over))
	p.writes(t, m.Entry("office", "record.created", "agreement", "care", care))
	ask := func(query string) promises.Promise {
		return read[promises.Promise](t, d.get("/api/office/promise?"+query))
	}
	got := ask("priority=soon&asset=A1")
	assert.Equal(t, "Full care", got.Agreement)
	assert.WithinDuration(t, p.now.Add(3*time.Hour), got.By, 15*time.Minute)
	assert.Empty(t, ask("priority=soon").Agreement)
	assert.Empty(t, ask("priority=emergency&asset=A1").Agreement)
	lines := read[[]api.AgreementLine](t, d.get("/api/office/agreements"))
	require.Len(t, lines, 2)
	assert.Equal(t, "Full care", lines[0].Name)
	assert.True(t, lines[1].Over)
}
