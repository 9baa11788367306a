package api_test

import (
	"io"
	"testing"

	"github.com/oklog/ulid/v2"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"iter.example/iter/core/ledger"
	"iter.example/iter/core/work"
	"iter.example/iter/server/api"
	"iter.example/iter/server/office"
	"iter.example/iter/server/store"
)

func TestOrderPage(t *testing.T) {
	p := start(t)
	desk, stores := p.client("a-dispatcher"), p.client("a-stores")
	page := read[api.OrderPage](t, desk.get("/api/office/orders/W1"))
	assert.Equal(t, "4127", page.Order.Number)
	assert.Equal(t, work.Underway, page.State)
	require.Len(t, page.Visits, 1)
	assert.NotEmpty(t, page.History)
	assert.NotEmpty(t, page.Names[page.Order.OpenedBy])
	assert.Equal(t, "record.unknown", problem(t, desk.get("/api/office/orders/none"), 404))
	assert.Equal(t, "4127", read[api.OrderPage](t, stores.get("/api/office/orders/W1")).Order.Number)
	assert.Equal(t, 403, p.client("ann").get("/api/office/orders/W1").StatusCode)

	paper := desk.get("/api/office/orders/W1/paper.pdf")
	assert.Equal(t, "application/pdf", paper.Header.Get("Content-Type"))
	begin := make([]byte, 4)
	_, err := io.ReadFull(paper.Body, begin)
	require.NoError(t, err)
	assert.Equal(t, "%PDF", string(begin))
	assert.Equal(t, "record.unknown", problem(t, desk.get("/api/office/orders/none/paper.pdf"), 404))

	order := ledger.Ref{Type: "workorder", ID: "W1"}
	send := func(kind string, subject ledger.Ref, body any) int {
		return desk.command(office.Command{ID: ulid.Make().String(), Kind: kind, Subject: subject, Body: raw(t, body)}).StatusCode
	}
	require.Equal(t, 200, send("visit.withdrawn", ledger.Ref{Type: "visit", ID: "V1"}, ledger.Nothing{}))
	require.Equal(t, 200, send("work.held", order, ledger.OrderHeld{Reason: "permit", Until: "2026-03-20"}))
	page = read[api.OrderPage](t, desk.get("/api/office/orders/W1"))
	assert.Equal(t, work.OnHold, page.State)
	assert.Equal(t, "work.held", page.History[0].Kind)
	assert.Equal(t, "permit", page.History[0].Args["reason"])

	// Until its day it is not in the way of planning; from then on it is on the list again.
	waiting := func(day string) (ids []string) {
		for _, o := range read[api.Board](t, desk.get("/api/office/board?date="+day)).Unplaced {
			ids = append(ids, o.ID)
		}
		return ids
	}
	assert.NotContains(t, waiting("2026-03-10"), "W1")
	assert.NotContains(t, waiting("2026-03-19"), "W1")
	assert.Contains(t, waiting("2026-03-20"), "W1")
	require.Equal(t, 200, send("work.cancelled", order, ledger.OrderActed{Reason: "sold"}))
	assert.NotContains(t, waiting("2026-03-20"), "W1")
	require.Equal(t, 200, send("work.reopened", order, ledger.OrderActed{}))
	assert.Contains(t, waiting("2026-03-10"), "W1")
}

func TestFindOverHTTP(t *testing.T) {
	p := start(t)
	desk := p.client("a-dispatcher")
	found := read[store.Found](t, desk.get("/api/office/find?q=4127"))
	require.NotEmpty(t, found.Hits)
	assert.Equal(t, "workorder", found.Hits[0].Type)
	assert.Empty(t, read[store.Found](t, desk.get("/api/office/find?q=")).Hits)
	assert.Equal(t, 403, p.client("ann").get("/api/office/find?q=4127").StatusCode)
}

func TestRecordWork(t *testing.T) {
	p := start(t)
	desk := p.client("a-dispatcher")
	for _, of := range []string{"customer/C1", "site/S1", "asset/A1"} {
		w := read[api.RecordWork](t, desk.get("/api/office/work/"+of))
		require.NotEmpty(t, w.Open, of)
		assert.Empty(t, w.Past, of)
		require.NotEmpty(t, w.Coming, of)
		assert.Equal(t, "4127", w.Coming[0].Number, of)
		assert.NotEmpty(t, w.Coming[0].Technician, of)
	}
	order := ledger.Ref{Type: "workorder", ID: "W1"}
	for _, c := range []office.Command{{Kind: "visit.withdrawn", Subject: ledger.Ref{Type: "visit", ID: "V1"}, Body: raw(t, ledger.Nothing{})},
		{Kind: "work.cancelled", Subject: order, Body: raw(t, ledger.OrderActed{Reason: "sold"})}} {
		c.ID = ulid.Make().String()
		require.Equal(t, 200, desk.command(c).StatusCode)
	}
	w := read[api.RecordWork](t, desk.get("/api/office/work/site/S1"))
	require.NotEmpty(t, w.Past)
	assert.Equal(t, work.Cancelled, w.Past[0].State)
	assert.Empty(t, w.Coming)
	for _, of := range []string{"site/none", "part/P1", "workorder/W1"} {
		assert.Equal(t, "record.unknown", problem(t, desk.get("/api/office/work/"+of), 404), of)
	}
}

func TestCaller(t *testing.T) {
	p := start(t)
	desk := p.client("a-dispatcher")
	for _, from := range []string{"customer/C1", "site/S1", "asset/A1"} {
		c := read[api.Caller](t, desk.get("/api/office/callers/"+from))
		assert.Equal(t, "C1", c.ID, from)
		require.NotEmpty(t, c.Sites, from)
		require.NotEmpty(t, c.Open, from)
		assert.Equal(t, "W1", c.Open[len(c.Open)-1].ID)
		assert.Equal(t, from != "customer/C1", c.Site == "S1", from)
		assert.Equal(t, from == "asset/A1", c.Asset == "A1", from)
	}
	for _, from := range []string{"customer/none", "site/none", "asset/none", "part/P1"} {
		assert.Equal(t, "record.unknown", problem(t, desk.get("/api/office/callers/"+from), 404), from)
	}
	assert.Equal(t, 403, p.client("ann").get("/api/office/callers/customer/C1").StatusCode)
}
