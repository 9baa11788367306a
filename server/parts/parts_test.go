package parts_test

import (
	"bytes"
	"context"
	"testing"
	"time"

	"github.com/shopspring/decimal"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"iter.example/iter/core/ledger"
	"iter.example/iter/core/ledger/ledgertest"
	"iter.example/iter/core/records"
	"iter.example/iter/core/stock"
	"iter.example/iter/core/work"
	"iter.example/iter/server/parts"
	"iter.example/iter/server/store"
)

// office is the test company with a store, two vans, and work for tomorrow.
type office struct {
	*testing.T
	store *store.Store
	m     *ledgertest.Maker
}

const tomorrow = "2026-03-11"

func d(n int64) decimal.Decimal { return decimal.NewFromInt(n) }

func open(t *testing.T) *office {
	s, err := store.Open(context.Background(), t.TempDir())
	require.NoError(t, err)
	t.Cleanup(func() { _ = s.Close() })
	o := &office{t, s, ledgertest.NewMaker("R1", 1)}
	for _, e := range o.m.Company() {
		o.record(e)
	}
	o.says("office", "record.created", "place", "store", stock.Place{Name: "Main store", Kind: "store",
		At: &records.Point{Lat: 54.776, Lon: -9.131}})
	o.says("office", "record.created", "place", "van-ben", stock.Place{Name: "Van 10", Kind: "van", Person: "ben"})
	o.says("office", "record.amended", "part", "P1", map[string]any{"cost": "6", "codes": []string{"4006381333931"},
		"packs": []stock.Pack{{Name: "box", Size: d(10)}}, "supplier": "harbour"})
	o.says("office", "settings.changed", "settings", "stores",
		ledgertest.Changed("stores", map[string]any{"suppliers": []stock.Supplier{{ID: "harbour", Name: "Harbour Seals"}}}))
	o.says("office", "stock.counted", "stock", "store", ledger.Count{Part: "P1", Quantity: d(4)})
	for i, tech := range []string{"ann", "ben"} {
		order, visit := []string{"W8", "W9"}[i], []string{"V8", "V9"}[i]
		o.says("office", "work.opened", "workorder", order, work.Order{Number: "430" + string(rune('0'+i)), Customer: "C1", Site: "S1",
			Problem: "Seal", Priority: work.Normal, Minutes: 60, Needs: []work.Need{{Part: "P1", Quantity: d(5)}}})
		o.says("office", "visit.planned", "visit", visit, ledger.Plan{Order: order, Technician: tech,
			Start: ledgertest.Start.AddDate(0, 0, 1).Add(time.Duration(i) * time.Hour), Minutes: 60})
	}
	return o
}

func (o *office) record(e ledger.Entry) {
	o.Helper()
	require.NoError(o, o.store.Write(context.Background(), func(tx *store.Tx) error { _, err := tx.Record(e, e.At); return err }))
}

func (o *office) says(actor, kind, typ, id string, body any) ledger.Entry {
	o.Helper()
	o.m.Wait(time.Minute)
	e := o.m.Entry(actor, kind, typ, id, body)
	o.record(e)
	return e
}

func ask[T any](o *office, f func(*store.Tx) (T, error)) (out T) {
	o.Helper()
	require.NoError(o, o.store.Read(context.Background(), func(tx *store.Tx) (err error) { out, err = f(tx); return err }))
	return out
}

func (o *office) now() time.Time { return ledgertest.Start.Add(8 * time.Hour) }

func (o *office) picks() []parts.PickList {
	return ask(o, func(tx *store.Tx) ([]parts.PickList, error) { return parts.Picks(tx, tomorrow) })
}

// Ann's van has three of five, Ben's none; the store has four: what Ann is given, Ben can't have.
func TestPicksShareWhatTheStoreHas(t *testing.T) {
	o := open(t)
	lists := o.picks()
	require.Len(t, lists, 2)
	line := func(l parts.PickList) []string {
		return []string{l.Van.Name, l.Lines[0].Quantity.String(), l.Lines[0].There.String()}
	}
	assert.Equal(t, []string{"Van 10", "5", "4"}, line(lists[0]), "vans come by name")
	assert.Equal(t, []string{"Van A. Vane", "2", "0"}, line(lists[1]))
	assert.Contains(t, lists[0].Lines[0].Keys, "4006381333931")
	assert.Equal(t, "Orrisk Pump House 3", lists[0].Lines[0].Site)

	// What is loaded is no longer to be picked, though nobody has confirmed it.
	o.says("office", "handover.sent", "handover", "H1", ledger.HandOver{From: "store", To: "van-ann",
		Lines: []stock.Moved{{Part: "P1", Quantity: d(2), Order: "W8"}}})
	lists = o.picks()
	require.Len(t, lists, 1)
	assert.Equal(t, []string{"Van 10", "5", "2"}, line(lists[0]))
	assert.Empty(t, ask(o, func(tx *store.Tx) ([]parts.PickList, error) { return parts.Picks(tx, "2026-03-20") }))
}

func TestAShelfKnowsWhatIsKeptAndComing(t *testing.T) {
	o := open(t)
	o.says("office", "record.created", "levels", "store",
		stock.Levels{Levels: map[string]stock.Level{"P1": {Min: d(5), Max: d(20)}, "P2": {Min: d(1), Max: d(2)}}})
	o.says("office", "stock.reserved", "stock", "store", ledger.Reserve{Order: "W9", Part: "P1", Quantity: d(3)})
	o.says("office", "purchase.made", "purchase", "PO1", ledger.PurchaseMade{Number: "P1001", Supplier: "harbour", Place: "store",
		Lines: []stock.PurchaseLine{{Part: "P1", Quantity: d(10), Cost: d(9)}}})
	shelf := func() *parts.Shelf {
		return ask(o, func(tx *store.Tx) (*parts.Shelf, error) {
			places, err := parts.Places(tx)
			require.NoError(t, err)
			assert.Equal(t, []string{"Main store", "Van 10", "Van A. Vane"}, []string{places[0].Name, places[1].Name, places[2].Name})
			return parts.ShelfOf(tx, places[0], o.now())
		})
	}
	s := shelf()
	require.Len(t, s.Lines, 2)
	l := s.Lines[0]
	assert.Equal(t, []string{"Mechanical seal 38 mm", "4", "10", "5", "6"},
		[]string{l.Name, l.Balance.String(), l.Incoming.String(), l.Level.Min.String(), l.Cost.String()})
	assert.Equal(t, []parts.HeldFor{{Order: "W9", Number: "4301", Quantity: d(3)}}, l.Held)
	assert.Equal(t, "24", s.Value.String())
	assert.True(t, s.Levelled)

	o.says("office", "purchase.received", "purchase", "PO1", ledger.PurchaseReceived{Place: "store",
		Lines: []stock.Moved{{Part: "P1", Quantity: d(10)}}})
	s = shelf()
	assert.Equal(t, []string{"14", "0", "9", "126"}, []string{s.Lines[0].Balance.String(), s.Lines[0].Incoming.String(),
		s.Lines[0].Cost.String(), s.Value.String()}, "worth what was paid")

	o.says("ben", "visit.finished", "visit", "V9", ledger.Step{Outcome: work.Complete})
	assert.True(t, shelf().Lines[0].Held[0].Done, "what the work did not need can be let go")
}

func TestFillUps(t *testing.T) {
	o := open(t)
	fills := func() map[string]parts.Fill {
		out := map[string]parts.Fill{}
		for _, f := range ask(o, func(tx *store.Tx) ([]parts.Fill, error) { return parts.Fills(tx, tomorrow, o.now()) }) {
			out[f.Place.ID] = f
		}
		return out
	}
	got := fills()
	assert.Equal(t, "2", got["van-ann"].Lines[0].Quantity.String(), "tomorrow needs five, there are three")
	assert.Equal(t, "store", got["van-ann"].From.ID)
	assert.NotContains(t, got, "store", "without levels and use, nothing is proposed")
	o.says("office", "record.created", "levels", "store", stock.Levels{Levels: map[string]stock.Level{"P1": {Min: d(6), Max: d(18)}}})
	got = fills()
	assert.Equal(t, "20", got["store"].Lines[0].Quantity.String(), "by the box of ten")
	assert.Equal(t, "harbour", got["store"].Lines[0].Supplier)
	o.says("office", "stock.reserved", "stock", "store", ledger.Reserve{Order: "W9", Part: "P1", Quantity: d(4)})
	assert.Equal(t, "0", fills()["store"].Lines[0].Why.Balance.String(), "what is kept is as good as gone")
	o.says("office", "record.amended", "part", "P1", map[string]any{"retired": true})
	assert.Empty(t, fills(), "what is no longer in the catalogue is not bought")
}

func TestRequestsAge(t *testing.T) {
	o := open(t)
	first := o.says("ann", "part.requested", "visit", "V1", ledger.PartRequested{Part: "P1", Text: "Seal", Quantity: d(2)})
	o.says("ann", "file.attached", "visit", "V1",
		ledger.File{FileRef: work.FileRef{Hash: "9f86d081884c7d659a2feaa0c55ad015a3bf4f1b2b0b822cd15d6c15b0f00a08", Name: "x.jpg",
			Type: "image/jpeg", Size: 9}, About: work.About{Entry: first.ID}})
	second := o.says("ann", "part.requested", "visit", "V1", ledger.PartRequested{Text: "A bracket", Quantity: d(1), Approval: true})
	open := func(over bool, after time.Duration) []parts.RequestLine {
		return ask(o, func(tx *store.Tx) ([]parts.RequestLine, error) { return parts.Requests(tx, over, o.now().Add(after)) })
	}
	lines := open(false, 0)
	require.Len(t, lines, 2)
	l := lines[0]
	assert.Equal(t, []string{"Mechanical seal 38 mm", "4127", "Ann Vane", "4", "harbour"},
		[]string{l.PartName, l.Number, l.PersonName, l.There.String(), l.Supplier})
	assert.Len(t, l.Photos, 1)
	assert.False(t, l.Long)
	assert.True(t, open(false, 80*time.Hour)[1].Long, "none is forgotten")
	o.says("office", "purchase.made", "purchase", "PO1", ledger.PurchaseMade{Number: "P1001", Supplier: "harbour", Place: "store",
		Lines: []stock.PurchaseLine{{Part: "P1", Quantity: d(2),
			Requests: []stock.RequestRef{{Request: first.ID, Order: "W1", Quantity: d(2)}}}}})
	o.says("office", "purchase.confirmed", "purchase", "PO1", ledger.PurchaseConfirmed{Reference: "H9", Due: "2026-03-09"})
	lines = open(false, 0)
	assert.Equal(t, []string{"P1001", "2026-03-09"}, []string{lines[0].Purchase, lines[0].Due})
	orders := ask(o, func(tx *store.Tx) ([]parts.PurchaseLine, error) { return parts.Purchases(tx, o.now()) })
	assert.True(t, orders[0].Overdue)
	assert.Equal(t, "Harbour Seals", orders[0].Supplier)
	o.says("office", "request.declined", "request", second.ID, ledger.RequestAnswered{Reason: "Too dear", Customer: true})
	assert.Len(t, open(false, 0), 1)
	assert.Equal(t, second.ID, open(true, 0)[0].ID)
	waiting := ask(o, func(tx *store.Tx) ([]string, error) { return tx.RequestsFor("W1", true) })
	assert.Equal(t, []string{first.ID}, waiting)
}

func TestMovementsSayWhoAndWhy(t *testing.T) {
	o := open(t)
	used := o.says("ann", "part.used", "visit", "V1", ledger.Use{Part: "P1", Place: "van-ann", Quantity: d(2)})
	o.says("office", "handover.sent", "handover", "H1", ledger.HandOver{From: "store", To: "van-ann",
		Lines: []stock.Moved{{Part: "P1", Quantity: d(3)}}, Note: "Fill-up"})
	o.says("ann", "handover.received", "handover", "H1", ledger.TakeOver{Place: "van-ann",
		Lines: []stock.Moved{{Part: "P1", Quantity: d(1)}}})
	o.says("ann", "stock.counted", "stock", "van-ann", ledger.Count{Part: "P1", Quantity: d(1), Expected: new(d(2)),
		Reason: "One fell into the harbour"})
	o.says("ann", "stock.scrapped", "stock", "van-ann", ledger.Scrap{Part: "P1", Quantity: d(1), Reason: "Bent"})
	lines := ask(o, func(tx *store.Tx) ([]parts.MovementLine, error) { return parts.Movements(tx, "van-ann", "P1", 10) })
	var got []string
	for _, m := range lines {
		got = append(got, m.Kind+" "+m.Quantity.String()+" "+m.PersonName+" "+m.OtherName+" "+m.Reason+" "+m.OrderNo+m.Expected)
	}
	assert.Equal(t, []string{"scrap -1 Ann Vane  Bent ", "count 1 Ann Vane  One fell into the harbour 2", "arrive 1 Ann Vane Main store  ",
		"use -2 Ann Vane   4127", "count 3 Office   "}, got)
	over := ask(o, parts.Handovers)
	require.Len(t, over, 1)
	assert.Equal(t, []stock.Moved{{Part: "P1", Quantity: d(2)}}, over[0].Missing)
	o.says("office", "handover.returned", "handover", "H1", ledger.TakeBack{Place: "store", Lines: over[0].Missing})
	assert.Empty(t, ask(o, parts.Handovers))
	o.says("ann", "entry.struck", "visit", "V1", ask(o, func(tx *store.Tx) (ledger.Struck, error) { return tx.Striking(used) }))
	lines = ask(o, func(tx *store.Tx) ([]parts.MovementLine, error) { return parts.Movements(tx, "", "", 50) })
	struck := 0
	for _, m := range lines {
		if m.Struck {
			struck++
			assert.Equal(t, used.ID, m.Entry)
		}
	}
	assert.Equal(t, 1, struck)
	differ, _, err := o.store.Verify(context.Background(), nil)
	require.NoError(t, err)
	assert.Empty(t, differ)
}

func TestTheRoundUpKnowsWhereVansWereSeen(t *testing.T) {
	o := open(t)
	o.says("ann", "visit.set_off", "visit", "V1", ledger.Step{})
	o.says("ann", "visit.arrived", "visit", "V1", ledger.Step{Where: &work.Where{Lat: 54.8, Lon: -9.2}})
	o.says("office", "stock.reserved", "stock", "store", ledger.Reserve{Order: "W9", Part: "P1", Quantity: d(4)})
	r := ask(o, func(tx *store.Tx) (*parts.RoundUp, error) {
		return parts.Round(tx, ledgertest.Start.Add(12*time.Hour))
	})
	by := map[string]parts.RoundUpPlace{}
	for _, p := range r.Places {
		by[p.ID] = p
	}
	assert.Equal(t, &records.Point{Lat: 54.8, Lon: -9.2}, by["van-ann"].Where)
	assert.Equal(t, "3", by["van-ann"].Free["P1"].String())
	assert.Empty(t, by["store"].Free, "what is kept is nobody else's")
	assert.Nil(t, by["van-ben"].Where)
	assert.NotNil(t, by["store"].Where)
}

// pages counts the pages of a PDF.
func pages(raw []byte) int { return bytes.Count(raw, []byte("/Type /Page\n")) }

func TestPapers(t *testing.T) {
	o := open(t)
	at := o.now()
	list := o.picks()[0]
	list.Lines[0].Name = "Gleitringdichtung für große Wellen, Ω-förmig, mit einem Namen, der nicht auf das Papier passt"
	raw, err := parts.PickPaper("Vella Sound Pumps", list, at)
	require.NoError(t, err)
	assert.True(t, bytes.HasPrefix(raw, []byte("%PDF-")))
	again, err := parts.PickPaper("Vella Sound Pumps", list, at)
	require.NoError(t, err)
	assert.Equal(t, raw, again, "the same list is the same paper")

	var labels []parts.LabelPart
	for i := range 25 {
		labels = append(labels, parts.LabelPart{ID: "P" + string(rune('A'+i)),
			Part: stock.Part{Number: "P" + string(rune('A'+i)), Name: "Seal", Category: "Seals"}})
	}
	labels[3].Part.Number = "Номер 7" // Code 128 has no letters for it
	raw, err = parts.Labels(labels, at)
	require.NoError(t, err)
	assert.Equal(t, 2, pages(raw), "24 to a sheet")

	o.says("office", "purchase.made", "purchase", "PO1", ledger.PurchaseMade{Number: "P1001", Supplier: "harbour", Place: "store",
		Lines: []stock.PurchaseLine{{Part: "P1", Quantity: d(10), Cost: decimal.RequireFromString("9.5")}}})
	order := ask(o, func(tx *store.Tx) (*parts.PurchaseLine, error) { return parts.PurchaseOf(tx, "PO1", at) })
	raw, err = parts.PurchasePaper("Vella Sound Pumps", "EUR", *order, at)
	require.NoError(t, err)
	assert.Equal(t, 1, pages(raw))
	table := parts.PurchaseTable(*order)
	assert.Equal(t, []string{"P1001", "Harbour Seals", "2026-03-10", "Main store", "P1", "Mechanical seal 38 mm", "10", "each", "9.5",
		"0"}, table.Rows[0])
	assert.Equal(t, "95", order.Purchase.Total().String())

	parts := parts.PartsTable([]parts.LabelPart{{ID: "P1", Part: stock.Part{Number: "P1", Name: "Seal", Unit: "each",
		Packs: []stock.Pack{{Name: "box", Size: d(10)}}, Serial: true, Warranty: 24, Codes: []string{"a", "b"}}}})
	row := map[string]string{}
	for i, c := range parts.Columns {
		row[c] = parts.Rows[0][i]
	}
	assert.Equal(t, []string{"box=10", "yes", "24", "a;b", ""}, []string{row["packs"], row["serial"], row["warranty"], row["codes"],
		row["retired"]})
}
