package syncing_test

import (
	"testing"
	"time"

	"github.com/shopspring/decimal"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"iter.example/iter/core/ledger"
	"iter.example/iter/core/records"
	"iter.example/iter/core/stock"
	"iter.example/iter/core/work"
)

func pieces(n int64) []stock.Moved {
	return []stock.Moved{{Part: "P1", Quantity: decimal.NewFromInt(n)}}
}

func handover(id string) ledger.Ref { return ledger.Ref{Type: "handover", ID: id} }

// Ann hands parts to Ben with no signal. Ben hears of it once she has some, confirms with none, and in the end both vans are as they are.
func TestAHandOverBetweenTwoPhones(t *testing.T) {
	w := newWorld(t, t.TempDir())
	require.NoError(t, w.office("record.created", "place", "van-ben", stock.Place{Name: "Van B. Orme", Kind: "van", Person: "ben"}))
	ann, ben := w.device("ann", 1), w.device("ben", 2)
	ann.settle()
	ben.settle()
	require.True(t, ann.say("", "handover.sent", handover("H1"), ledger.HandOver{From: "van-ann", To: "van-ben", Lines: pieces(2)}))
	own := shown[stock.Stock](ann, "stock", "van-ann")
	assert.Equal(t, "1", own.Balance("P1").String(), "it is off her van at once")
	ann.settle()
	ben.settle()
	h := shown[stock.Handover](ben, "handover", "H1")
	assert.True(t, h.Open())
	w.now = w.now.Add(time.Minute)
	require.True(t, ben.say("", "handover.received", handover("H1"), ledger.TakeOver{Place: "van-ben", Lines: pieces(2)}))
	ben.settle()
	ann.settle()
	own = shown[stock.Stock](ben, "stock", "van-ben")
	assert.Equal(t, "2", own.Balance("P1").String())
	assert.Nil(t, ann.shown[handover("H1")], "what is done leaves the devices")
	assert.Empty(t, append(ann.held(), ben.held()...))
}

// Whoever has a van moves what is on it, and takes from stores; other vans are not theirs.
func TestWhosePlaces(t *testing.T) {
	w := newWorld(t, t.TempDir())
	require.NoError(t, w.office("record.created", "place", "van-ben", stock.Place{Name: "Van B. Orme", Kind: "van", Person: "ben"}))
	require.NoError(t, w.office("record.created", "place", "store", stock.Place{Name: "Store", Kind: "store"}))
	ann := w.device("ann", 1)
	ann.settle()
	for _, c := range []struct {
		kind  string
		about ledger.Ref
		body  any
		held  bool
	}{
		{"stock.counted", ledger.Ref{Type: "stock", ID: "van-ann"}, ledger.Count{Part: "P1", Quantity: decimal.NewFromInt(9)}, false},
		{"stock.scrapped", ledger.Ref{Type: "stock", ID: "van-ann"}, ledger.Scrap{Part: "P1", Quantity: decimal.NewFromInt(1),
			Reason: "bent"}, false},
		{"stock.counted", ledger.Ref{Type: "stock", ID: "store"}, ledger.Count{Part: "P1", Quantity: decimal.NewFromInt(9)}, true},
		{"stock.counted", ledger.Ref{Type: "stock", ID: "van-ben"}, ledger.Count{Part: "P1", Quantity: decimal.NewFromInt(9)}, true},
		{"handover.sent", handover("H1"), ledger.HandOver{From: "store", To: "van-ann", Lines: pieces(1)}, false},
		{"handover.received", handover("H1"), ledger.TakeOver{Place: "van-ann", Lines: pieces(1)}, false},
		{"handover.sent", handover("H2"), ledger.HandOver{From: "van-ben", To: "van-ann", Lines: pieces(1)}, true},
		{"part.used", ledger.Ref{Type: "visit", ID: "V1"}, ledger.Use{Part: "P1", Place: "store", Quantity: decimal.NewFromInt(1)}, false},
		{"part.used", ledger.Ref{Type: "visit", ID: "V1"}, ledger.Use{Part: "P1", Place: "van-ben", Quantity: decimal.NewFromInt(1)}, true},
		{"stock.received", ledger.Ref{Type: "stock", ID: "van-ann"}, ledger.Receive{Part: "P1", Quantity: decimal.NewFromInt(1)}, true},
	} {
		before := len(ann.held())
		require.True(t, ann.say("", c.kind, c.about, c.body), c.kind)
		ann.settle()
		assert.Equal(t, c.held, len(ann.held()) > before, "%s of %s", c.kind, c.about)
	}
	own := shown[stock.Stock](ann, "stock", "van-ann")
	assert.Equal(t, "9", own.Balance("P1").String(), "counted, one thrown away, one fetched")
}

// A request goes its way, and who asked sees where it stands and is told when it is in.
func TestWhoAskedIsTold(t *testing.T) {
	w := newWorld(t, t.TempDir())
	require.NoError(t, w.office("record.created", "place", "store", stock.Place{Name: "Store", Kind: "store"}))
	require.NoError(t, w.office("stock.counted", "stock", "store", ledger.Count{Part: "P1", Quantity: decimal.NewFromInt(5)}))
	ann := w.device("ann", 1)
	ann.settle()
	require.True(t, ann.record("part.requested", "V1", ledger.PartRequested{Part: "P1", Text: "Seal", Quantity: decimal.NewFromInt(2)}))
	id := ann.pending[len(ann.pending)-1].ID
	assert.Equal(t, stock.Asked, shown[stock.Request](ann, "request", id).State, "at once, on the device")
	ann.settle()
	require.NoError(t, w.office("request.reserved", "request", id, ledger.RequestReserved{Place: "store",
		Served: ledger.Served{Request: id, Order: "W1", Part: "P1", Quantity: decimal.NewFromInt(2)}}))
	ann.settle()
	assert.Equal(t, stock.In, shown[stock.Request](ann, "request", id).State)
	assert.Equal(t, []work.Need{{Part: "P1", Quantity: decimal.NewFromInt(2), Request: id}},
		shown[work.Order](ann, "workorder", "W1").Needs)
	list := shown[ledger.Notices](ann, "notices", "ann").List
	require.Len(t, list, 1)
	assert.Equal(t, "request.in", list[0].Code.Code)
	assert.Equal(t, "4127 · Orrisk Pump House 3", list[0].About)
	require.True(t, ann.say("", "flag.seen", ledger.Ref{Type: "visit", ID: "V1"}, ledger.Seen{Code: "request.in"}))
	ann.settle()
	assert.Empty(t, shown[ledger.Notices](ann, "notices", "ann").List)
}

// What was fitted is a component on all devices that hold the site, until it is taken out.
func TestComponentsComeWithTheSite(t *testing.T) {
	w := newWorld(t, t.TempDir())
	require.NoError(t, w.office("record.created", "part", "M1", stock.Part{Number: "M1", Name: "Motor", Unit: "each", Serial: true}))
	ann := w.device("ann", 1)
	ann.settle()
	require.True(t, ann.record("part.used", "V1", ledger.Use{Part: "M1", Place: "van-ann", Quantity: decimal.NewFromInt(1), Asset: "A1",
		Serial: "S 1/7"}))
	id := ann.pending[len(ann.pending)-1].ID
	ann.settle()
	assert.Equal(t, "S 1/7", shown[records.Asset](ann, "asset", id).Serial)
	require.True(t, ann.record("part.removed", "V1", ledger.Remove{Part: "M1", Text: "Motor", Quantity: decimal.NewFromInt(1), Asset: "A1",
		Serial: "S 1/7", Component: id, Fate: work.ToScrap}))
	ann.settle()
	assert.Nil(t, ann.shown[ledger.Ref{Type: "asset", ID: id}])
	assert.Empty(t, ann.held())
}
