package api_test

import (
	"encoding/csv"
	"io"
	"net/http"
	"strings"
	"testing"
	"time"

	"github.com/shopspring/decimal"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"iter.example/iter/core/ledger"
	"iter.example/iter/core/ledger/ledgertest"
	"iter.example/iter/core/stock"
	"iter.example/iter/core/work"
	"iter.example/iter/server/api"
	"iter.example/iter/server/parts"
	"iter.example/iter/server/store"
)

func num(n int64) decimal.Decimal { return decimal.NewFromInt(n) }

func stocked(t *testing.T) (*program, *client) {
	p := start(t)
	c := p.client("a-stores")
	require.Equal(t, 200, c.does("record.created", "place", "store", stock.Place{Name: "Main store", Kind: "store"}).StatusCode)
	require.Equal(t, 200, c.does("stock.counted", "stock", "store", ledger.Count{Part: "P1", Quantity: num(9)}).StatusCode)
	return p, c
}

func text(t *testing.T, res *http.Response) string {
	require.Equal(t, 200, res.StatusCode)
	raw, err := io.ReadAll(res.Body)
	require.NoError(t, err)
	return string(raw)
}

// What stores do, and who may.
func TestStoresCountMoveAndLookUp(t *testing.T) {
	p, c := stocked(t)
	shelf := read[parts.Shelf](t, c.get("/api/office/stores/shelf/store"))
	assert.Equal(t, "9", shelf.Lines[0].Balance.String())
	assert.Equal(t, "record.unknown", problem(t, c.get("/api/office/stores/shelf/nowhere"), 404))
	lines := []stock.Moved{{Part: "P1", Quantity: num(2)}}
	require.Equal(t, 200, c.does("handover.sent", "handover", "H1", ledger.HandOver{From: "store", To: "van-ann", Lines: lines}).StatusCode)
	assert.Len(t, read[[]parts.HandoverLine](t, c.get("/api/office/stores/handovers")), 1)
	assert.Equal(t, "handover.other", problem(t, c.does("handover.received", "handover", "H1",
		ledger.TakeOver{Place: "store", Lines: lines}), 409))
	assert.Equal(t, "stock.twice", problem(t, c.does("handover.sent", "handover", "H2",
		ledger.HandOver{From: "store", To: "van-ann", Lines: append(lines, lines...)}), 409))
	assert.Equal(t, "role.missing", problem(t, p.client("a-reviewer").does("stock.counted", "stock", "store",
		ledger.Count{Part: "P1", Quantity: num(1)}), 403))
	assert.Equal(t, "role.missing", problem(t, c.does("part.used", "visit", "V1",
		ledger.Use{Part: "P1", Place: "van-ann", Quantity: num(1)}), 403), "what happens in the field is recorded in the field")
	assert.Equal(t, "role.missing", problem(t, p.client("ann").get("/api/office/stores/places"), 403))
	moves := read[[]parts.MovementLine](t, c.get("/api/office/stores/movements?place=store"))
	assert.Equal(t, []string{"send", "count"}, []string{moves[0].Kind, moves[1].Kind})
	assert.Equal(t, "Van A. Vane", moves[0].OtherName)

	// A device asks what is where, whoever has it.
	round := read[parts.RoundUp](t, p.client("ann").get("/api/roundup"))
	assert.Len(t, round.Places, 2)
	assert.Len(t, read[[]api.CatalogueItem](t, c.get("/api/office/stores/catalogue")), 2)
}

func TestOrdersGoToTheSupplierAndComeIn(t *testing.T) {
	p, c := stocked(t)
	made := func(id string) {
		body := ledger.PurchaseMade{Supplier: "harbour", Place: "store",
			Lines: []stock.PurchaseLine{{Part: "P1", Quantity: num(5), Cost: num(7)}}}
		require.Equal(t, 200, c.does("purchase.made", "purchase", id, body).StatusCode)
	}
	made("PO1")
	made("PO2")
	list := read[[]parts.PurchaseLine](t, c.get("/api/office/stores/purchases"))
	numbers := map[string]bool{list[0].Purchase.Number: true, list[1].Purchase.Number: true}
	assert.Equal(t, map[string]bool{"P1001": true, "P1002": true}, numbers, "the office numbers them")

	// The program sends them by itself; the simulated supplier confirms at once and brings them two days later.
	confirmed := func(state stock.PurchaseState) func() bool {
		return func() bool {
			for _, l := range read[[]parts.PurchaseLine](t, c.get("/api/office/stores/purchases")) {
				if l.Purchase.State != state {
					return false
				}
			}
			return true
		}
	}
	require.Eventually(t, confirmed(stock.Confirmed), 5*time.Second, 20*time.Millisecond)
	assert.Equal(t, "2026-03-12", read[[]parts.PurchaseLine](t, c.get("/api/office/stores/purchases"))[0].Purchase.Due)
	p.now = p.now.Add(49 * time.Hour)
	// something happens, and the program looks
	require.Equal(t, 200, c.does("stock.counted", "stock", "store", ledger.Count{Part: "P2", Quantity: num(1)}).StatusCode)
	require.Eventually(t, confirmed(stock.Delivered), 5*time.Second, 20*time.Millisecond)
	in := ledger.PurchaseReceived{Place: "store", Lines: []stock.Moved{{Part: "P1", Quantity: num(5)}}}
	require.Equal(t, 200, c.does("purchase.received", "purchase", "PO1", in).StatusCode)
	assert.Equal(t, "purchase.over", problem(t, c.does("purchase.received", "purchase", "PO1", in), 409))
	assert.Equal(t, "purchase.line", problem(t, c.does("purchase.received", "purchase", "PO2",
		ledger.PurchaseReceived{Place: "store", Lines: []stock.Moved{{Part: "P2", Quantity: num(5)}}}), 409))
	require.Equal(t, 200, c.does("purchase.cancelled", "purchase", "PO2", ledger.PurchaseCancelled{Reason: "Broken in the box"}).StatusCode)
	assert.Equal(t, "14", read[parts.Shelf](t, c.get("/api/office/stores/shelf/store")).Lines[0].Balance.String())
}

func TestFilesOfTheStores(t *testing.T) {
	_, c := stocked(t)
	rows, err := csv.NewReader(strings.NewReader(text(t, c.get("/api/office/stores/file/parts.csv")))).ReadAll()
	require.NoError(t, err)
	assert.Equal(t, "P1", rows[1][0])
	assert.Contains(t, text(t, c.get("/api/office/stores/file/stock.csv?place=store")), "Main store,P1,Mechanical seal 38 mm,9,each")
	assert.Contains(t, text(t, c.get("/api/office/stores/file/movements.csv")), "count")
	assert.True(t, strings.HasPrefix(text(t, c.get("/api/office/stores/file/labels.pdf?parts=P1,P2")), "%PDF-"))
	assert.Equal(t, "labels.none", problem(t, c.get("/api/office/stores/file/labels.pdf?parts=nothing"), 409))
	assert.Equal(t, "picks.none", problem(t, c.get("/api/office/stores/file/picks.pdf?day=2026-03-11&van=van-ann"), 409))
	assert.Equal(t, "http.not_found", problem(t, c.get("/api/office/stores/file/secrets.csv"), 404))

	// What was exported can be read again, and what is wrong with a file is told line by line; then nothing is changed.
	put := func(name, file string) api.Imported {
		return read[api.Imported](t, c.send("POST", "/api/office/stores/import/"+name, strings.NewReader(file)))
	}
	again := put("parts.csv", text(t, c.get("/api/office/stores/file/parts.csv")))
	assert.Equal(t, api.Imported{Same: 2, Problems: []string{}}, again)
	got := put("parts.csv", "number,name,unit,packs,serial,warranty,cost,supplier\nM1,Motor,each,pair=2,yes,24,120,harbour\n")
	assert.Equal(t, 1, got.Created)
	items := read[[]api.CatalogueItem](t, c.get("/api/office/stores/catalogue"))
	m := items[0].Part
	assert.Equal(t, "M1", m.Number)
	assert.True(t, m.Serial)
	assert.Equal(t, []stock.Pack{{Name: "pair", Size: num(2)}}, m.Packs)
	bad := put("parts.csv", "number,name,unit,packs,serial,warranty\nM2,Motor,each,pair,perhaps,long\n")
	assert.Len(t, bad.Problems, 3)
	assert.Len(t, read[[]api.CatalogueItem](t, c.get("/api/office/stores/catalogue")), 3, "nothing of a file with mistakes")
	assert.Equal(t, 2, put("levels.csv", "place,part,min,max\nstore,P1,2,9\nstore,P2,1,4\n").Created+put("levels.csv",
		"place,part,min,max\nstore,P1,2,9\nstore,P2,1,5\n").Changed)
	assert.NotEmpty(t, put("levels.csv", "place,part,min,max\nstore,P1,9,2\n").Problems)
	assert.Equal(t, "http.not_found", problem(t, c.send("POST", "/api/office/stores/import/people.csv", strings.NewReader("")), 404))
}

// A visit that ended with a return needed has its work planned again: after its parts are in, and until then it says what it waits for.
func TestWorkWaitsForItsParts(t *testing.T) {
	p, c := stocked(t)
	field := func(kind string, body any) ledger.Entry {
		e := ledgertest.NewMaker("phone", time.Now().UnixNano()).Entry("ann", kind, "visit", "V1", body)
		require.NoError(t, p.store.Write(t.Context(), func(tx *store.Tx) error { _, err := tx.Record(e, p.now); return err }))
		return e
	}
	ask := field("part.requested", ledger.PartRequested{Part: "P1", Text: "Seal", Quantity: num(2)})
	field("visit.finished", ledger.Step{Outcome: work.ReturnNeeded, Reason: "A part"})
	board := func() api.OrderLine {
		b := read[api.Board](t, p.client("a-dispatcher").get("/api/office/board?date=2026-03-10"))
		require.Len(t, b.Unplaced, 1)
		return b.Unplaced[0]
	}
	l := board()
	assert.Equal(t, []any{"4127", 1, true, "A part", false}, []any{l.Number, l.Waits, l.Back, l.Reason, l.In})
	keep := ledger.RequestReserved{Place: "store", Served: ledger.Served{Request: ask.ID, Order: "W1", Part: "P1", Quantity: num(2)}}
	require.Equal(t, 200, c.does("request.reserved", "request", ask.ID, keep).StatusCode)
	l = board()
	assert.Equal(t, []any{0, true}, []any{l.Waits, l.In})
	next := ledger.Plan{Order: "W1", Technician: "ann", Start: p.now.AddDate(0, 0, 1), Minutes: 30}
	require.Equal(t, 200, p.client("a-dispatcher").does("visit.planned", "visit", "V5", next).StatusCode)
	page := read[api.PickPage](t, c.get("/api/office/stores/picks"))
	assert.Equal(t, "2026-03-11", page.Day, "the next day on which there is work")
	assert.Empty(t, page.Lists, "the van has three")
	assert.Len(t, read[[]parts.Fill](t, c.get("/api/office/stores/fills")), 0)
}

// A part's page has its papers and its changes; a machine's page, its components.
func TestPagesOfPartsAndMachines(t *testing.T) {
	p, c := stocked(t)
	const hash = "9f86d081884c7d659a2feaa0c55ad015a3bf4f1b2b0b822cd15d6c15b0f00a08"
	paper := map[string]any{"documents": map[string]any{hash: map[string]any{
		"name": "Manual", "type": "application/pdf", "size": 9, "pack": true}}}
	require.Equal(t, 200, c.does("record.amended", "part", "P1", paper).StatusCode)
	page := read[api.RecordPage](t, c.get("/api/office/records/part/P1"))
	assert.Len(t, page.Changes, 1)
	assert.Contains(t, string(page.Body), "Manual")
	e := ledgertest.NewMaker("phone", 5).Entry("ann", "part.used", "visit", "V1",
		ledger.Use{Part: "P1", Place: "van-ann", Quantity: num(1), Asset: "A1", Serial: "S-1"})
	require.NoError(t, p.store.Write(t.Context(), func(tx *store.Tx) error { _, err := tx.Record(e, p.now); return err }))
	page = read[api.RecordPage](t, c.get("/api/office/records/asset/A1"))
	require.Len(t, page.Around, 1)
	assert.Equal(t, e.ID, page.Around[0].ID)
	visit := read[api.VisitPage](t, c.get("/api/office/visits/V1"))
	last := visit.Trail[len(visit.Trail)-1]
	require.NotNil(t, last.Strike)
	assert.Equal(t, []ledger.Ref{{Type: "stock", ID: "van-ann"}, ledger.SerialRef("P1", "S-1"), ledger.ComponentRef(e.ID)},
		last.Strike.Touched, "all that a strike-out needs to name")
	require.Equal(t, 200, p.client("a-dispatcher").does("entry.struck_by_office", "visit", "V1", last.Strike).StatusCode)
	assert.Empty(t, read[api.RecordPage](t, c.get("/api/office/records/asset/A1")).Around)
}
