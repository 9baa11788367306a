package api_test

import (
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"iter.example/iter/core/ledger"
	"iter.example/iter/core/ledger/ledgertest"
	"iter.example/iter/core/work"
	"iter.example/iter/server/api"
)

// Promises are counted in the week in which they end; those at risk, late or broken are listed.
func TestPromiseFigures(t *testing.T) {
	p, d, _ := drafting(t)
	m := ledgertest.NewMaker("R4", 14)
	order := func(id string, come, done time.Duration) {
		o := work.Order{Number: "7" + id, Customer: "C1", Site: "S1", Problem: "Hums", Priority: work.Normal, Minutes: 60,
			PromiseTo: p.now.Add(come)}
		if done != 0 {
			o.DoneBy = p.now.Add(done)
		}
		p.writes(t, m.Entry("office", "work.opened", "workorder", id, o))
	}
	order("WP1", time.Hour, 2*time.Hour)
	order("WP2", -24*time.Hour*8, 0)
	p.writes(t, m.Entry("office", "visit.planned", "visit", "VP1", ledger.Plan{Order: "WP1", Technician: "ann",
		Start: p.now.Add(90 * time.Minute), Minutes: 60}))
	f := read[api.PromiseFigures](t, d.get("/api/office/promises"))
	require.Len(t, f.Weeks, 13)
	assert.Equal(t, 1, f.Weeks[0].Come[work.PromiseAtRisk])
	assert.Equal(t, 1, f.Weeks[0].Done[work.PromiseAtRisk])
	late := 0
	for _, w := range f.Weeks[1:] {
		late += w.Come[work.PromiseLate]
	}
	assert.Equal(t, 1, late, "of the week before")
	var wrong []string
	for _, l := range f.Wrong {
		wrong = append(wrong, l.Order.ID)
	}
	assert.Contains(t, wrong, "WP1")
	assert.Contains(t, wrong, "WP2")
	page := read[api.OrderPage](t, d.get("/api/office/orders/WP1"))
	assert.Equal(t, work.PromiseAtRisk, page.Come.State)
	assert.Len(t, read[api.PromiseFigures](t, d.get("/api/office/promises?weeks=99")).Weeks, 13)
}
