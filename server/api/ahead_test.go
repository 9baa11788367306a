package api_test

import (
	"testing"

	"github.com/oklog/ulid/v2"
	"github.com/shopspring/decimal"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"iter.example/iter/core/ledger"
	"iter.example/iter/core/work"
	"iter.example/iter/server/office"
	"iter.example/iter/server/parts"
)

// What is planned for work to come and is not there is proposed, with the order that needs it and by when; an order that is over needs
// nothing.
func TestPartsAhead(t *testing.T) {
	p := start(t)
	desk := p.client("a-dispatcher")
	order := ledger.Ref{Type: "workorder", ID: "W1"}
	send := func(kind string, subject ledger.Ref, body any) {
		t.Helper()
		res := desk.command(office.Command{ID: ulid.Make().String(), Kind: kind, Subject: subject, Body: raw(t, body)})
		require.Equal(t, 200, res.StatusCode)
	}
	ahead := func() []parts.AheadLine { return read[parts.AheadList](t, desk.get("/api/office/stores/ahead")).Lines }
	assert.Empty(t, ahead())
	send("work.needs_planned", order, ledger.NeedsPlanned{Needs: []work.Need{{Part: "P1", Quantity: decimal.NewFromInt(1000)}}})
	lines := ahead()
	require.Len(t, lines, 1)
	assert.Equal(t, "P1", lines[0].Part)
	assert.True(t, lines[0].Short.IsPositive())
	assert.Equal(t, "2026-03-10", lines[0].Day, "of its visit")
	assert.Equal(t, "2026-03-07", lines[0].OrderBy)
	assert.Equal(t, "4127", lines[0].For[0].Name)
	assert.Equal(t, 403, p.client("ann").get("/api/office/stores/ahead").StatusCode)

	send("visit.withdrawn", ledger.Ref{Type: "visit", ID: "V1"}, ledger.Nothing{})
	send("work.cancelled", order, ledger.OrderActed{Reason: "sold"})
	assert.Empty(t, ahead())
}
