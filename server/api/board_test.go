package api_test

import (
	"context"
	"encoding/json"
	"fmt"
	"math/rand"
	"net/url"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"iter.example/iter/core/ledger"
	"iter.example/iter/core/ledger/ledgertest"
	"iter.example/iter/core/records"
	"iter.example/iter/core/work"
	"iter.example/iter/server/api"
	"iter.example/iter/server/store"
)

// history records what a random office and its people do over a fortnight, at times around now.
func (p *program) history(r *rand.Rand, m *ledgertest.Maker, steps int) {
	pick := func(s ...string) string { return s[r.Intn(len(s))] }
	orders, visits := []string{"W1"}, []string{"V1"}
	for i := range steps {
		m.Wait(time.Duration(r.Intn(8)) * time.Hour)
		visit := visits[r.Intn(len(visits))]
		start := p.now.Add(time.Duration(r.Intn(20*24)-10*24) * time.Hour)
		who := pick("ann", "ben", "a-technician")
		var e ledger.Entry
		switch r.Intn(12) {
		case 0, 1:
			id := fmt.Sprintf("WR%d", i)
			orders = append(orders, id)
			e = m.Entry("office", "work.opened", "workorder", id, work.Order{Number: fmt.Sprint(5000 + i), Customer: "C1", Site: "S1",
				Problem: "Panel hums", Priority: work.Normal, Minutes: 60})
		case 2, 3:
			id := fmt.Sprintf("VR%d", i)
			plan := ledger.Plan{Order: orders[r.Intn(len(orders))], Technician: who, Start: start, Minutes: 30 + r.Intn(3000),
				Spare: r.Intn(5) == 0}
			if r.Intn(4) == 0 {
				plan.Technician, plan.Offer = "", []string{"ann", "ben"}
			}
			visits = append(visits, id)
			e = m.Entry("office", "visit.planned", "visit", id, plan)
		case 4, 5:
			e = m.Entry("office", "visit.sent", "visit", visit, ledger.Nothing{})
		case 6:
			e = m.Entry("office", pick("visit.withdrawn", "visit.reinstated"), "visit", visit, ledger.Withdraw{Reason: "double"})
		case 7:
			e = m.Entry("office", "visit.moved", "visit", visit, ledger.Move{Technician: who, Start: start, Minutes: 60})
		case 8:
			e = m.Entry(who, "visit.finished", "visit", visit,
				ledger.Step{Outcome: work.Outcome(pick("complete", "return_needed", "no_access"))})
		case 9:
			role := records.Role(pick("technician", "reviewer"))
			e = m.Entry("office", "record.amended", "person", "ben", map[string]any{"roles": []records.Role{role}})
			e.Base, _ = json.Marshal(map[string]any{"roles": nil})
		default:
			e = m.Entry(who, pick("visit.accepted", "visit.declined", "visit.set_off", "visit.arrived"), "visit", visit, ledger.Step{})
		}
		// Some can't be meant, and change nothing.
		_ = p.store.Write(context.Background(), func(tx *store.Tx) error {
			_, err := tx.Record(e, p.now)
			return err
		})
	}
}

// Whatever happened, each work order that is not closed is where somebody looks: among those to place, on the lane of its day, among the
// offers, or among what was left.
func TestEverythingOpenIsOnTheBoard(t *testing.T) {
	for seed := range int64(12) {
		p := start(t)
		p.now = ledgertest.Start.AddDate(0, 0, 7)
		p.history(rand.New(rand.NewSource(seed)), ledgertest.NewMaker("R", seed+100), 40)
		desk := p.client("a-dispatcher")
		b := read[api.Board](t, desk.get("/api/office/board"))
		require.Zero(t, b.More)
		seen := map[string]bool{}
		for _, o := range b.Unplaced {
			seen[o.ID] = true
		}
		for _, o := range b.Offers {
			seen[o.Order.ID] = true
		}
		for _, l := range b.Left {
			seen[l.Order.ID] = true
		}
		onLane := map[string]bool{}
		for day := range 12 {
			date := p.now.AddDate(0, 0, day).Format(time.DateOnly)
			for _, person := range read[api.Board](t, desk.get("/api/office/board?date="+date)).People {
				for _, v := range person.Visits {
					onLane[v.ID] = true
				}
			}
		}
		require.NoError(t, p.store.Read(context.Background(), func(tx *store.Tx) error {
			orders, err := tx.Of("workorder")
			require.NoError(t, err)
			for _, d := range orders {
				var o work.Order
				require.NoError(t, json.Unmarshal(d.Body, &o))
				state, err := tx.OrderState(d.ID)
				require.NoError(t, err)
				for _, v := range o.Visits {
					seen[d.ID] = seen[d.ID] || onLane[v]
				}
				assert.True(t, seen[d.ID] || state == work.Closed, "seed %d: %s, %s, is nowhere", seed, o.Number, state)
			}
			return nil
		}))
	}
}

// A visit that goes on over midnight is on both days, and one of another person's trade on none of a lane's.
func TestAVisitOverMidnight(t *testing.T) {
	p := start(t)
	desk := p.client("a-dispatcher")
	late := time.Date(2026, 3, 10, 22, 0, 0, 0, ledgertest.Start.Location())
	require.Equal(t, 200, desk.does("visit.planned", "visit", "VN", ledger.Plan{Order: "W1", Technician: "ann", Start: late,
		Minutes: 180}).StatusCode)
	for date, want := range map[string]bool{"2026-03-09": false, "2026-03-10": true, "2026-03-11": true, "2026-03-12": false} {
		found := false
		for _, person := range read[api.Board](t, desk.get("/api/office/board?date="+date)).People {
			for _, v := range person.Visits {
				found = found || v.ID == "VN"
			}
		}
		assert.Equal(t, want, found, date)
	}
}

func TestTelephoneNumbersAndOrderNumbersAreFound(t *testing.T) {
	p := start(t)
	desk := p.client("a-dispatcher")
	for id, phone := range map[string]string{"CP1": "01 555 1026", "CP2": "+353 1 555 2027", "CP3": "(01) 555-3028"} {
		require.Equal(t, 200, p.client("a-administrator").does("record.created", "customer", id,
			records.Customer{Name: "Customer " + id, Contact: records.Contact{Phone: phone}}).StatusCode)
	}
	for _, n := range []struct{ asked, want string }{
		{"+353 1 555 1026", "CP1"}, {"0035315551026", "CP1"}, {"01 555 1026", "CP1"}, {"015551026", "CP1"}, {"555 1026", "CP1"},
		{"01 555 2027", "CP2"}, {"+35315552027", "CP2"}, {"0035315553028", "CP3"}, {"01/555.3028", "CP3"},
	} {
		hits := read[[]api.CustomerHit](t, desk.get("/api/office/customers?q="+url.QueryEscape(n.asked)))
		if assert.Len(t, hits, 1, n.asked) {
			assert.Equal(t, n.want, hits[0].ID, n.asked)
		}
	}
}
