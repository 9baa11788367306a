package ledger_test

import (
	"encoding/json"
	"fmt"
	"testing"
	"time"

	"github.com/shopspring/decimal"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"iter.example/iter/core/ledger"
	"iter.example/iter/core/ledger/ledgertest"
	"iter.example/iter/core/records"
	"iter.example/iter/core/stock"
	"iter.example/iter/core/work"
)

func d(n int64) decimal.Decimal { return decimal.NewFromInt(n) }

// stores adds a second van, a store, a part with a serial number and a kit to the scene.
func stores(t *testing.T) *scene {
	s := newScene(t)
	for _, e := range []ledger.Entry{
		s.m.Entry("office", "record.created", "place", "store", stock.Place{Name: "Main store", Kind: "store"}),
		s.m.Entry("office", "record.created", "place", "van-ben", stock.Place{Name: "Van B. Orme", Kind: "van", Person: "ben"}),
		s.m.Entry("office", "record.created", "part", "M1", stock.Part{Number: "M1", Name: "Motor 2.2 kW", Unit: "each", Serial: true,
			Warranty: 24}),
		s.m.Entry("office", "record.created", "kit", "K1", stock.Kit{Name: "Seal kit", Price: d(90),
			Parts: []stock.KitPart{{Part: "P1", Quantity: d(1)}, {Part: "P2", Quantity: d(2)}}, Notes: "Grease the lip."}),
		s.m.Entry("office", "stock.counted", "stock", "store", ledger.Count{Part: "P1", Quantity: d(20)}),
	} {
		require.Empty(t, s.fold(e).Error)
	}
	return s
}

func (s *scene) balance(t require.TestingT, place, part string) string {
	var x stock.Stock
	if raw := s.docs[ledger.Ref{Type: "stock", ID: place}]; raw != nil {
		require.NoError(t, json.Unmarshal(raw, &x))
	}
	return x.Balance(part).String()
}

func TestAFittedSerialPartBecomesAComponent(t *testing.T) {
	s := stores(t)
	use := s.m.Entry("ann", "part.used", "visit", "V1", ledger.Use{Part: "M1", Place: "van-ann", Quantity: d(1), Asset: "A1",
		Serial: "MX-77"})
	r := s.fold(use)
	require.Empty(t, r.Error)
	c := read[records.Asset](t, s.docs, "asset", use.ID)
	assert.Equal(t, records.Asset{Site: "S1", Parent: "A1", Name: "Motor 2.2 kW", Serial: "MX-77", Installed: "2026-03-10", Part: "M1",
		Fitted: use.ID, Warranty: "2028-03-10"}, c)

	again := s.m.Entry("ann", "part.used", "visit", "V1", ledger.Use{Part: "M1", Place: "van-ann", Quantity: d(1), Asset: "A1",
		Serial: "mx-77"})
	r = s.fold(again)
	require.Empty(t, r.Error)
	assert.Contains(t, codes(r), "serial.twice", "the same serial fitted twice is taken and flagged")
	struck := ledgertest.Strike(s.docs, again)
	require.Empty(t, s.fold(s.m.Entry("ann", "entry.struck", "visit", "V1", struck)).Error)
	assert.True(t, read[records.Asset](t, s.docs, "asset", again.ID).Struck)
	assert.Equal(t, "-1", s.balance(t, "van-ann", "M1"))

	out := s.m.Entry("ann", "part.removed", "visit", "V1", ledger.Remove{Part: "M1", Text: "Motor", Quantity: d(1), Asset: "A1",
		Serial: "MX-77", Component: use.ID, Fate: work.ToCore})
	require.Empty(t, s.fold(out).Error)
	assert.Equal(t, "2026-03-10", read[records.Asset](t, s.docs, "asset", use.ID).Removed)
	assert.Equal(t, "-1", s.balance(t, "van-ann", "M1"), "what goes to be overhauled is not stock")
	undone := ledgertest.Strike(s.docs, out)
	require.Empty(t, s.fold(s.m.Entry("ann", "entry.struck", "visit", "V1", undone)).Error)
	assert.Empty(t, read[records.Asset](t, s.docs, "asset", use.ID).Removed)
	assert.NotEmpty(t, s.fold(s.m.Entry("ann", "entry.struck", "visit", "V1",
		ledger.Struck{Entry: use.ID, At: use.At, Kind: use.Kind, Person: "ann",
			Touched: []ledger.Ref{{Type: "stock", ID: "van-ann"}}})).Error, "a strike-out that forgets the component")
}

func TestAKitTakesItsPartsAndKeepsItsPrice(t *testing.T) {
	s := stores(t)
	kit := s.m.Entry("ann", "kit.used", "visit", "V1", ledger.UseKit{Kit: "K1", Quantity: d(1), Place: "van-ann",
		Parts:  []stock.Moved{{Part: "P1", Quantity: d(1)}, {Part: "P2", Quantity: d(2)}},
		Labour: &work.KitWork{Person: "ann", At: ledgertest.Start, Minutes: 40}})
	r := s.fold(kit)
	require.Empty(t, r.Error)
	assert.Equal(t, []string{"stock.below_zero"}, codes(r), "P2 was never on the van")
	v := read[work.Visit](t, s.docs, "visit", "V1")
	assert.Equal(t, []string{"Seal kit", "90", "Grease the lip."}, []string{v.Kits[0].Name, v.Kits[0].Price.String(), v.Kits[0].Notes})
	assert.Equal(t, []string{"2", "-2"}, []string{s.balance(t, "van-ann", "P1"), s.balance(t, "van-ann", "P2")})
	strike := s.m.Entry("ann", "entry.struck", "visit", "V1", ledgertest.Strike(s.docs, kit))
	require.Empty(t, s.fold(strike).Error)
	require.Empty(t, s.fold(s.m.Entry("ann", "entry.struck", "visit", "V1", ledgertest.Strike(s.docs, kit))).Error,
		"and twice changes nothing more")
	assert.Equal(t, []string{"3", "0"}, []string{s.balance(t, "van-ann", "P1"), s.balance(t, "van-ann", "P2")})
}

// From the field's request to the part that waits for the follow-up.
func TestARequestFromAskedToIn(t *testing.T) {
	s := stores(t)
	ask := s.m.Entry("ann", "part.requested", "visit", "V1", ledger.PartRequested{Text: "Seal 38", Quantity: d(2), Approval: true})
	require.Empty(t, s.fold(ask).Error)
	office := func(kind, typ, id string, body any) ledgertest.Result {
		return s.fold(s.m.Entry("office", kind, typ, id, body))
	}
	made := ledger.PurchaseMade{Number: "P1001", Supplier: "harbour", Place: "store",
		Lines: []stock.PurchaseLine{{Part: "P1", Quantity: d(10), Cost: d(6),
			Requests: []stock.RequestRef{{Request: ask.ID, Order: "W1", Quantity: d(2)}}}}}
	assert.Contains(t, office("purchase.made", "purchase", "PO1", made).Error, "request.unapproved")
	require.Empty(t, office("request.named", "request", ask.ID, ledger.RequestNamed{Part: "P1", Quantity: d(2)}).Error)
	require.Empty(t, office("request.approved", "request", ask.ID, ledger.RequestAnswered{Customer: true}).Error)
	require.Empty(t, office("purchase.made", "purchase", "PO1", made).Error)
	assert.Contains(t, office("request.declined", "request", ask.ID, ledger.RequestAnswered{Reason: "x"}).Error, "request.over")
	require.Empty(t, office("purchase.confirmed", "purchase", "PO1", ledger.PurchaseConfirmed{Reference: "H-9", Due: "2026-03-12"}).Error)
	require.Empty(t, office("purchase.delivered", "purchase", "PO1", ledger.Nothing{}).Error)
	served := []ledger.Served{{Request: ask.ID, Order: "W1", Part: "P1", Quantity: d(2)}}
	r := office("purchase.received", "purchase", "PO1", ledger.PurchaseReceived{Place: "store",
		Lines: []stock.Moved{{Part: "P1", Quantity: d(10)}}, Served: served})
	require.Empty(t, r.Error)
	require.Len(t, r.Flags, 1)
	assert.Equal(t, []string{"request.in", "ann", "V1"}, []string{r.Flags[0].Code.Code, r.Flags[0].Person, r.Flags[0].Subject.ID},
		"who asked is told")
	assert.Equal(t, stock.In, read[stock.Request](t, s.docs, "request", ask.ID).State)
	assert.Equal(t, stock.Received, read[stock.Purchase](t, s.docs, "purchase", "PO1").State)
	assert.Equal(t, "30", s.balance(t, "store", "P1"))
	store := read[stock.Stock](t, s.docs, "stock", "store")
	assert.Equal(t, "2", store.HeldFor("W1", "P1").String())
	assert.Equal(t, []work.Need{{Part: "P1", Quantity: d(2), Request: ask.ID}}, read[work.Order](t, s.docs, "workorder", "W1").Needs)
	assert.Equal(t, "6", read[stock.Cost](t, s.docs, "cost", "P1").Average(stock.Part{}).String())

	// What is kept goes along to the van, and the order takes it there.
	lines := []stock.Moved{{Part: "P1", Quantity: d(2), Order: "W1"}}
	require.Empty(t, office("handover.sent", "handover", "H1", ledger.HandOver{From: "store", To: "van-ann", Lines: lines}).Error)
	require.Empty(t, s.fold(s.m.Entry("ann", "handover.received", "handover", "H1", ledger.TakeOver{Place: "van-ann", Lines: lines})).Error)
	van := read[stock.Stock](t, s.docs, "stock", "van-ann")
	assert.Equal(t, []string{"5", "2", "3"}, []string{van.Balance("P1").String(), van.HeldFor("W1", "P1").String(),
		van.Free("P1").String()})
	store = read[stock.Stock](t, s.docs, "stock", "store")
	assert.Equal(t, "0", store.HeldFor("W1", "P1").String())
	require.Empty(t, s.fold(s.m.Entry("ann", "part.used", "visit", "V1", ledger.Use{Part: "P1", Place: "van-ann", Quantity: d(2)})).Error)
	van = read[stock.Stock](t, s.docs, "stock", "van-ann")
	assert.Equal(t, "3", van.Free("P1").String())
	late := s.fold(s.m.Entry("ann", "entry.struck", "visit", "V1", ledgertest.Strike(s.docs, ask)))
	assert.Equal(t, []string{"request.withdrawn_late"}, codes(late), "it is there already")
}

func TestRequestsDeclinedServedAndCancelled(t *testing.T) {
	s := stores(t)
	ask := func() ledger.Entry {
		e := s.m.Entry("ann", "part.requested", "visit", "V1", ledger.PartRequested{Part: "P1", Text: "Seal", Quantity: d(4)})
		require.Empty(t, s.fold(e).Error)
		return e
	}
	office := func(kind, typ, id string, body any) ledgertest.Result {
		return s.fold(s.m.Entry("office", kind, typ, id, body))
	}
	a, b, c := ask(), ask(), ask()
	assert.NotEmpty(t, office("request.declined", "request", a.ID, ledger.RequestAnswered{}).Error, "a reason must be given")
	r := office("request.declined", "request", a.ID, ledger.RequestAnswered{Reason: "The customer buys it", Customer: true})
	assert.Equal(t, []string{"request.declined"}, codes(r))
	serve := func(q int64) ledger.RequestReserved {
		return ledger.RequestReserved{Place: "store", Served: ledger.Served{Request: b.ID, Order: "W1", Part: "P1", Quantity: d(q)}}
	}
	assert.Contains(t, office("request.reserved", "request", b.ID, serve(21)).Error, "stock.not_free")
	require.Empty(t, office("request.reserved", "request", b.ID, serve(4)).Error)
	made := ledger.PurchaseMade{Number: "P1001", Supplier: "harbour", Place: "store",
		Lines: []stock.PurchaseLine{{Part: "P1", Quantity: d(4),
			Requests: []stock.RequestRef{{Request: c.ID, Order: "W1", Quantity: d(4)}}}}}
	require.Empty(t, office("purchase.made", "purchase", "PO1", made).Error)
	assert.Contains(t, office("purchase.cancelled", "purchase", "PO1", ledger.PurchaseCancelled{Reason: "Not made any more"}).Error,
		"request.other")
	require.Empty(t, office("purchase.cancelled", "purchase", "PO1", ledger.PurchaseCancelled{Reason: "Not made any more",
		Requests: []string{c.ID}}).Error)
	assert.Equal(t, stock.Approved, read[stock.Request](t, s.docs, "request", c.ID).State, "it is to be ordered again, not forgotten")
	again := made
	again.Lines[0].Cost = d(1)
	require.Empty(t, office("purchase.made", "purchase", "PO2", again).Error)
	require.Empty(t, office("request.reserved", "request", c.ID, ledger.RequestReserved{Place: "store",
		Served: ledger.Served{Request: c.ID, Order: "W1", Part: "P1", Quantity: d(4)}}).Error, "one turned up meanwhile")
	in := ledger.PurchaseReceived{Place: "store", Lines: []stock.Moved{{Part: "P1", Quantity: d(4)}},
		Served: []ledger.Served{{Request: c.ID, Order: "W1", Part: "P1", Quantity: d(4)}}}
	require.Empty(t, office("purchase.received", "purchase", "PO2", in).Error, "what came is booked in all the same")
	store := read[stock.Stock](t, s.docs, "stock", "store")
	assert.Equal(t, []string{"24", "8"}, []string{store.Balance("P1").String(), store.HeldFor("W1", "P1").String()}, "and kept once")
	require.Empty(t, office("stock.reserved", "stock", "store", ledger.Reserve{Order: "W1", Part: "P1", Quantity: d(-8)}).Error)
	assert.Contains(t, office("stock.reserved", "stock", "store", ledger.Reserve{Order: "W1", Part: "P1", Quantity: d(-1)}).Error,
		"stock.not_held")
}

func TestHandoversThatDiffer(t *testing.T) {
	s := stores(t)
	send := func(id string, q int64) ledgertest.Result {
		return s.fold(s.m.Entry("ann", "handover.sent", "handover", id,
			ledger.HandOver{From: "van-ann", To: "van-ben", Lines: []stock.Moved{{Part: "P1", Quantity: d(q)}}}))
	}
	take := func(id string, q int64) ledgertest.Result {
		return s.fold(s.m.Entry("ben", "handover.received", "handover", id,
			ledger.TakeOver{Place: "van-ben", Lines: []stock.Moved{{Part: "P1", Quantity: d(q)}}}))
	}
	require.Empty(t, send("H1", 2).Error)
	assert.Equal(t, []string{"1", "0"}, []string{s.balance(t, "van-ann", "P1"), s.balance(t, "van-ben", "P1")},
		"on the way it is at neither")
	assert.Equal(t, []string{"handover.differs"}, codes(take("H1", 1)))
	assert.Contains(t, take("H1", 1).Error, "handover.done")
	back := func(id string, q int64) string {
		return s.fold(s.m.Entry("ann", "handover.returned", "handover", id,
			ledger.TakeBack{Place: "van-ann", Lines: []stock.Moved{{Part: "P1", Quantity: d(q)}}})).Error
	}
	assert.Contains(t, back("H1", 2), "handover.changed")
	assert.Empty(t, back("H1", 1))
	assert.Contains(t, back("H1", 1), "handover.done")
	assert.Equal(t, []string{"stock.below_zero"}, codes(send("H2", 5)), "more than there is: it is moved, and flagged")
	assert.Empty(t, back("H2", 5))
	assert.Contains(t, take("H2", 5).Error, "handover.done", "the sender took it back")
	assert.Equal(t, []string{"2", "1"}, []string{s.balance(t, "van-ann", "P1"), s.balance(t, "van-ben", "P1")})
	assert.Contains(t, s.fold(s.m.Entry("ann", "handover.sent", "handover", "H3",
		ledger.HandOver{From: "van-ann", To: "van-ann", Lines: []stock.Moved{{Part: "P1", Quantity: d(1)}}})).Error, "handover.same")
}

func TestPlannedPartsKeepWhatCameOfRequests(t *testing.T) {
	s := stores(t)
	plan := func(needs ...work.Need) string {
		return s.fold(s.m.Entry("office", "work.needs_planned", "workorder", "W1", ledger.NeedsPlanned{Needs: needs})).Error
	}
	require.Empty(t, plan(work.Need{Part: "P2", Quantity: d(3)}))
	require.Empty(t, plan(work.Need{Part: "P1", Quantity: d(1), Request: "forged"}))
	o := read[work.Order](t, s.docs, "workorder", "W1")
	assert.Equal(t, []work.Need{{Part: "P1", Quantity: d(1)}}, o.Needs)
	assert.NotEmpty(t, plan(work.Need{Part: "P1"}))
	v := work.Visit{Parts: []work.PartUsed{{Part: "P1", Quantity: d(1)}}}
	assert.Empty(t, o.Outstanding(v))
	v.Parts[0].Struck = true
	assert.Len(t, o.Outstanding(v), 1)
}

// Whatever is used, put back, handed over, taken over, taken back and struck out, in the field and in whatever order it arrives: all
// places and what is on its way hold together what was there less what was used.
func TestStockIsConserved(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		s := &scene{m: ledgertest.NewMaker("r1", rapid.Int64().Draw(t, "seed")), docs: ledger.Docs{}}
		for _, e := range s.m.Company() {
			require.Empty(t, s.fold(e).Error)
		}
		s.m.Wait(time.Minute)
		for _, place := range []string{"van-ann", "van-ben", "store"} {
			require.Empty(t, s.fold(s.m.Entry("office", "stock.counted", "stock", place, ledger.Count{Part: "P1", Quantity: d(10)})).Error)
		}
		// Entries wait on their devices; those that rest on another are recorded once that has arrived.
		var waiting, arrived []ledger.Entry
		places, people := []string{"van-ann", "van-ben", "store"}, []string{"ann", "ann", "office"}
		handovers := 0
		for range rapid.IntRange(1, 40).Draw(t, "steps") {
			s.m.Wait(time.Duration(rapid.IntRange(0, 90).Draw(t, "wait")) * time.Minute)
			i := rapid.IntRange(0, 2).Draw(t, "place")
			q := d(rapid.Int64Range(1, 6).Draw(t, "quantity"))
			lines := []stock.Moved{{Part: "P1", Quantity: q}}
			switch rapid.IntRange(0, 6).Draw(t, "do") {
			case 0:
				waiting = append(waiting, s.m.Entry("ann", "part.used", "visit", "V1",
					ledger.Use{Part: "P1", Place: places[i], Quantity: q}))
			case 1:
				waiting = append(waiting, s.m.Entry("ann", "part.removed", "visit", "V1",
					ledger.Remove{Part: "P1", Text: "x", Quantity: q, Fate: work.ToStock, Place: places[i]}))
			case 2:
				handovers++
				waiting = append(waiting, s.m.Entry(people[i], "handover.sent", "handover", fmt.Sprint("H", handovers),
					ledger.HandOver{From: places[i], To: places[(i+1)%3], Lines: lines}))
			case 3, 4: // of a hand-over that is known
				for n := range handovers {
					ref := ledger.Ref{Type: "handover", ID: fmt.Sprint("H", n+1)}
					var h stock.Handover
					if s.docs[ref] == nil || json.Unmarshal(s.docs[ref], &h) != nil {
						continue
					}
					if h.Open() && rapid.Bool().Draw(t, "take") {
						waiting = append(waiting, s.m.Entry("ann", "handover.received", "handover", ref.ID,
							ledger.TakeOver{Place: h.To, Lines: lines}))
					} else if m := h.Missing(); len(m) > 0 && !h.Back && rapid.Bool().Draw(t, "back") {
						waiting = append(waiting, s.m.Entry("ann", "handover.returned", "handover", ref.ID,
							ledger.TakeBack{Place: h.From, Lines: m}))
					}
				}
			case 5:
				for _, e := range arrived {
					var b ledger.Use
					require.NoError(t, json.Unmarshal(e.Body, &b))
					if e.Subject.Type == "visit" && b.Place != "" && rapid.Bool().Draw(t, "strike") {
						kind := rapid.SampledFrom([]string{"entry.struck_by_office", "entry.restored"}).Draw(t, "kind")
						waiting = append(waiting, s.m.Entry("office", kind, "visit", "V1", ledgertest.Strike(s.docs, e)))
					}
				}
			}
			for len(waiting) > 0 && rapid.Bool().Draw(t, "arrives") {
				k := rapid.IntRange(0, len(waiting)-1).Draw(t, "which")
				if r := s.fold(waiting[k]); r.Error == "" {
					arrived = append(arrived, waiting[k])
				}
				waiting = append(waiting[:k], waiting[k+1:]...)
			}
		}
		sum := decimal.Zero
		for _, p := range places {
			sum = sum.Add(decimal.RequireFromString(s.balance(t, p, "P1")))
		}
		for n := range handovers {
			var h stock.Handover
			if raw := s.docs[ledger.Ref{Type: "handover", ID: fmt.Sprint("H", n+1)}]; raw != nil {
				require.NoError(t, json.Unmarshal(raw, &h))
				for _, m := range h.Missing() {
					if !h.Back {
						sum = sum.Add(m.Quantity)
					}
				}
			}
		}
		var v work.Visit
		require.NoError(t, json.Unmarshal(s.docs[ledger.Ref{Type: "visit", ID: "V1"}], &v))
		gone := v.Used()["P1"]
		for _, r := range v.Removed {
			if !r.Struck {
				gone = gone.Sub(r.Quantity)
			}
		}
		require.Equal(t, d(30).Sub(gone).String(), sum.String())
	})
}

// What can't be meant is refused, with a reason, wherever it is recorded; nothing changes.
func TestWhatCantBeMeant(t *testing.T) {
	s := stores(t)
	one := []stock.Moved{{Part: "P1", Quantity: d(1)}}
	for name, c := range map[string]struct {
		kind, typ, id string
		body          any
		code          string
	}{
		"two of one serial": {"part.used", "visit", "V1",
			ledger.Use{Part: "M1", Place: "van-ann", Quantity: d(2), Serial: "S"}, "serial.one"},
		"a fate there is not": {"part.removed", "visit", "V1", ledger.Remove{Text: "x", Quantity: d(1), Fate: "gone"},
			"part.fate"},
		"stock of nothing in particular": {"part.removed", "visit", "V1",
			ledger.Remove{Text: "x", Quantity: d(1), Fate: work.ToStock, Place: "van-ann"}, "part.fate_stock"},
		"scrap that goes into a van": {"part.removed", "visit", "V1",
			ledger.Remove{Text: "x", Quantity: d(1), Fate: work.ToScrap, Place: "van-ann"}, "part.fate"},
		"a kit by somebody without an id": {"kit.used", "visit", "V1",
			ledger.UseKit{Kit: "K1", Quantity: d(1), Place: "van-ann", Parts: one,
				Labour: &work.KitWork{Person: "", At: ledgertest.Start}}, "id.unusable"},
		"a kit done in another age": {"kit.used", "visit", "V1",
			ledger.UseKit{Kit: "K1", Quantity: d(1), Place: "van-ann", Parts: one, Labour: &work.KitWork{Person: "ann"}}, "kit.labour"},
		"a kit with a part twice": {"kit.used", "visit", "V1",
			ledger.UseKit{Kit: "K1", Quantity: d(1), Place: "van-ann", Parts: append(one, one...)}, "stock.twice"},
		"a bribe": {"extra.added", "visit", "V1", ledger.AddExtra{Kind: "bribe", Text: "x", Quantity: d(1)},
			"extra.kind"},
		"an expense below zero": {"extra.added", "visit", "V1",
			ledger.AddExtra{Kind: work.Fee, Text: "x", Quantity: d(1), Price: new(d(-1))}, "part.price"},
		"a trip into another country": {"extra.added", "visit", "V1",
			ledger.AddExtra{Kind: work.Mileage, Text: "x", Quantity: d(1), Trip: &work.Journey{Metres: 50_000_000}}, "drive.absurd"},
		"an odometer that goes back": {"extra.added", "visit", "V1",
			ledger.AddExtra{Kind: work.Mileage, Text: "x", Quantity: d(1), Trip: &work.Journey{Begin: new(d(41)), End: new(d(40))}},
			"drive.odometer"},
		"an odometer below zero": {"extra.added", "visit", "V1",
			ledger.AddExtra{Kind: work.Mileage, Text: "x", Quantity: d(1), Trip: &work.Journey{Begin: new(d(-1))}}, "drive.odometer"},
		"a request for nothing":  {"part.requested", "visit", "V1", ledger.PartRequested{Quantity: d(1)}, "text.missing"},
		"scrap without a reason": {"stock.scrapped", "stock", "van-ann", ledger.Scrap{Part: "P1", Quantity: d(1)}, "text.missing"},
		"a receipt that costs less": {"stock.received", "stock", "store",
			ledger.Receive{Part: "P1", Quantity: d(1), Cost: new(d(-4))}, "part.price"},
		"a hand-over of nothing": {"handover.sent", "handover", "H1", ledger.HandOver{From: "store", To: "van-ann"},
			"stock.lines"},
		"a hand-over nobody sent": {"handover.received", "handover", "H1", ledger.TakeOver{Place: "van-ann", Lines: one},
			"record.unknown"},
		"back from where nothing went": {"handover.returned", "handover", "H1", ledger.TakeBack{Place: "van-ann", Lines: one},
			"record.unknown"},
		"an order without lines": {"purchase.made", "purchase", "P9",
			ledger.PurchaseMade{Number: "1", Supplier: "x", Place: "store"}, "stock.lines"},
		"an order to nowhere": {"purchase.made", "purchase", "P9",
			ledger.PurchaseMade{Number: "1", Supplier: "x", Place: "moon", Lines: []stock.PurchaseLine{{Part: "P1", Quantity: d(1)}}},
			"record.unknown"},
		"an order nobody made": {"purchase.delivered", "purchase", "P9", ledger.Nothing{}, "record.unknown"},
		"due on no day":        {"purchase.confirmed", "purchase", "P9", ledger.PurchaseConfirmed{Due: "soon"}, "purchase.due"},
		"more kept than there is": {"stock.reserved", "stock", "store", ledger.Reserve{Order: "W1", Part: "P1", Quantity: d(21)},
			"stock.not_free"},
		"a request nobody made": {"request.approved", "request", "R9", ledger.RequestAnswered{}, "record.unknown"},
		"parts for no work": {"work.needs_planned", "workorder", "W9",
			ledger.NeedsPlanned{Needs: []work.Need{{Part: "P1", Quantity: d(1)}}}, "record.unknown"},
		"levels upside down": {"record.created", "levels", "store",
			stock.Levels{Levels: map[string]stock.Level{"P1": {Min: d(5), Max: d(2)}}}, "stock.level"},
		"a pack of nothing": {"record.created", "part", "P9",
			stock.Part{Name: "x", Unit: "each", Packs: []stock.Pack{{Name: "box"}}}, "part.pack"},
	} {
		t.Run(name, func(t *testing.T) {
			actor := "office"
			if c.typ == "visit" {
				actor = "ann"
			}
			before := len(s.docs)
			r := s.fold(s.m.Entry(actor, c.kind, c.typ, c.id, c.body))
			assert.Contains(t, r.Error, c.code)
			assert.Empty(t, r.Flags)
			assert.Len(t, s.docs, before)
		})
	}
}

// What an entry moves is what it does to the balances.
func TestMovementsAreWhatBalancesChangeBy(t *testing.T) {
	s := stores(t)
	require.Empty(t, s.fold(s.m.Entry("office", "handover.sent", "handover", "H1",
		ledger.HandOver{From: "store", To: "van-ann", Lines: []stock.Moved{{Part: "P1", Quantity: d(2), Order: "W1"},
			{Part: "P1", Quantity: d(1)}}})).Error)
	for _, e := range []ledger.Entry{
		s.m.Entry("ann", "part.used", "visit", "V1", ledger.Use{Part: "P1", Place: "van-ann", Quantity: d(2)}),
		s.m.Entry("ann", "part.removed", "visit", "V1", ledger.Remove{Part: "P1", Text: "x", Quantity: d(1), Fate: work.ToStock,
			Place: "van-ann"}),
		s.m.Entry("ann", "part.removed", "visit", "V1", ledger.Remove{Part: "P1", Text: "x", Quantity: d(1), Fate: work.ToScrap}),
		s.m.Entry("ann", "kit.used", "visit", "V1", ledger.UseKit{Kit: "K1", Quantity: d(1), Place: "van-ann",
			Parts: []stock.Moved{{Part: "P1", Quantity: d(1)}, {Part: "P2", Quantity: d(2)}}}),
		s.m.Entry("ann", "stock.scrapped", "stock", "van-ann", ledger.Scrap{Part: "P1", Quantity: d(1), Reason: "bent"}),
		s.m.Entry("office", "stock.received", "stock", "store", ledger.Receive{Part: "P1", Quantity: d(4), Cost: new(d(6))}),
		s.m.Entry("ann", "handover.received", "handover", "H1", ledger.TakeOver{Place: "van-ann",
			Lines: []stock.Moved{{Part: "P1", Quantity: d(2)}}}),
		s.m.Entry("office", "handover.returned", "handover", "H1", ledger.TakeBack{Place: "store",
			Lines: []stock.Moved{{Part: "P1", Quantity: d(1)}}}),
		s.m.Entry("ann", "extra.added", "visit", "V1", ledger.AddExtra{Kind: work.Item, Text: "Bracket", Quantity: d(1)}),
	} {
		f, err := ledger.Open(e)
		require.NoError(t, err)
		places := []string{"van-ann", "store"}
		before := map[string]decimal.Decimal{}
		for _, p := range places {
			for _, part := range []string{"P1", "P2"} {
				before[p+part] = decimal.RequireFromString(s.balance(t, p, part))
			}
		}
		require.Empty(t, s.fold(e).Error, e.Kind)
		for _, m := range f.Movements() {
			before[m.Place+m.Part] = before[m.Place+m.Part].Add(m.Quantity)
		}
		for _, p := range places {
			for _, part := range []string{"P1", "P2"} {
				assert.Equal(t, before[p+part].String(), s.balance(t, p, part), "%s: %s at %s", e.Kind, part, p)
			}
		}
	}
}
