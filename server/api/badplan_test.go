package api_test

import (
	"encoding/json"
	"fmt"
	"math"
	"net/http"
	"testing"
	"time"

	"github.com/oklog/ulid/v2"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"iter.example/iter/core/ledger"
	"iter.example/iter/core/ledger/ledgertest"
	"iter.example/iter/core/records"
	"iter.example/iter/core/work"
	"iter.example/iter/server/api"
	"iter.example/iter/server/office"
	"iter.example/iter/server/store"
)

// What can't be planned is refused with a word, and nothing of it is kept.
func TestPlansThatCantBe(t *testing.T) {
	p, d, date := drafting(t)
	m := ledgertest.NewMaker("R6", 16)
	p.writes(t, m.Entry("office", "record.created", "person", "gone", records.Person{Name: "Gone Away",
		Roles: []records.Role{records.Reviewer}}))
	before, waits := d.boardVisits("date=" + date)
	send := func(seen int64, kind, id string, body any) *http.Response {
		raw, err := json.Marshal(body)
		require.NoError(t, err)
		return d.post("/api/office/entries", office.Batch{Seen: seen, Entries: []office.Command{{ID: ulid.Make().String(), Kind: kind,
			Subject: ledger.Ref{Type: "visit", ID: id}, Body: raw}}})
	}
	plan := ledger.Plan{Order: "WX", Technician: "ben", Start: p.now.Add(time.Hour), Minutes: 60}
	for code, change := range map[string]func(*ledger.Plan){
		"order.minutes":    func(b *ledger.Plan) { b.Minutes = -60 }, // it ends before it begins
		"visit.technician": func(b *ledger.Plan) { b.Technician = "gone" },
		"visit.start":      func(b *ledger.Plan) { b.Start = time.Time{} },
		"record.unknown":   func(b *ledger.Plan) { b.Order = "nothing" },
	} {
		b := plan
		change(&b)
		res := send(math.MaxInt64, "visit.planned", "VX", b)
		assert.Contains(t, []int{http.StatusConflict, http.StatusNotFound}, res.StatusCode, code)
		assert.Equal(t, code, problem(t, res, res.StatusCode))
	}
	after, still := d.boardVisits("date=" + date)
	assert.Equal(t, before, after)
	assert.Equal(t, waits, still)

	// Two drag the same visit: the second is told, and nothing is overwritten.
	move := ledger.Move{Technician: "ben", Start: p.now.Add(3 * time.Hour), Minutes: 60}
	require.Equal(t, http.StatusOK, send(math.MaxInt64, "visit.moved", "V1", move).StatusCode)
	move.Technician = "ann"
	assert.Equal(t, "command.changed", problem(t, send(1, "visit.moved", "V1", move), http.StatusConflict))
	page := read[api.VisitPage](t, d.get("/api/office/visits/V1"))
	assert.Equal(t, "ben", page.View.Visit.Technician)

	// The phone that accepts what was just given to another is told, and what it said is kept and shown.
	p.writes(t, m.Entry("ann", "visit.accepted", "visit", "V1", ledger.Step{}))
	assert.NotEqual(t, work.Accepted, read[api.VisitPage](t, d.get("/api/office/visits/V1")).View.Visit.Stage, "it is ben's to say")
}

// A visit over midnight is on both its days, one on the night on which the clock is put forward on its own day, and a site that nobody
// knows the place of is said to have none.
func TestVisitsOverMidnightAndTheClock(t *testing.T) {
	p, d, _ := drafting(t)
	m := ledgertest.NewMaker("R7", 17)
	night := time.Date(2026, 3, 28, 22, 30, 0, 0, p.now.Location())
	p.writes(t, m.Entry("office", "record.amended", "site", "S1", map[string]any{"lat": nil, "lon": nil}))
	for id, body := range map[string]ledger.Plan{
		"VN": {Order: "W1", Technician: "ann", Start: night, Minutes: 150},
		"VC": {Order: "W1", Technician: "ben", Start: night.Add(3 * time.Hour), Minutes: 120}, // 01:30 to 04:30 by the clock
	} {
		p.writes(t, m.Entry("office", "visit.planned", "visit", id, body))
	}
	on := func(date, person, id string) bool {
		b := read[api.Board](t, d.get("/api/office/board?date="+date))
		for _, x := range b.People {
			for _, v := range x.Visits {
				if x.ID == person && v.ID == id {
					return true
				}
			}
		}
		return false
	}
	for i, date := range []string{"2026-03-28", "2026-03-29", "2026-03-30"} {
		assert.Equal(t, i < 2, on(date, "ann", "VN"), date)
		assert.Equal(t, i == 1, on(date, "ben", "VC"), date)
	}
	fit := read[api.FitFound](t, d.get("/api/office/fit?order=WX&person=ben&date=2026-03-30"))
	require.NotNil(t, fit.Fit)
	var codes []string
	for _, w := range fit.Fit.Why {
		codes = append(codes, w.Code)
	}
	assert.Contains(t, codes, "fit.noPlace")
}

// A thousand visits on a day are all on the board, and are looked for a gap in.
func TestAThousandVisitsOnADay(t *testing.T) {
	p, d, _ := drafting(t)
	m := ledgertest.NewMaker("R8", 18)
	on := p.now.AddDate(0, 0, 1)
	require.NoError(t, p.store.Write(t.Context(), func(tx *store.Tx) error {
		for i := range 1000 {
			e := m.Entry("office", "visit.planned", "visit", fmt.Sprintf("V-%d", i), ledger.Plan{Order: "W1",
				Technician: []string{"ann", "ben"}[i%2], Start: on.Add(time.Duration(i%600) * time.Minute), Minutes: 30})
			if _, err := tx.Record(e, p.now); err != nil {
				return err
			}
		}
		return nil
	}))
	lanes, _ := d.boardVisits("date=" + on.Format(time.DateOnly))
	assert.Len(t, lanes["ann"], 500)
	assert.Len(t, lanes["ben"], 500)
	res := d.get("/api/office/weeks?from=" + on.Format(time.DateOnly) + "&days=1")
	w := read[api.Weeks](t, res)
	work := 0
	for _, person := range w.People {
		work += person.Days[0].Work
	}
	assert.Equal(t, 1000*30*60, work)
}
