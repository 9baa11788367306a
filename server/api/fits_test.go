package api_test

import (
	"encoding/json"
	"io"
	"math"
	"net/http"
	"testing"
	"time"

	"github.com/oklog/ulid/v2"
	"github.com/shopspring/decimal"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"iter.example/iter/core/calendar"
	"iter.example/iter/core/ledger"
	"iter.example/iter/core/ledger/ledgertest"
	"iter.example/iter/core/msg"
	"iter.example/iter/core/plan"
	"iter.example/iter/core/records"
	"iter.example/iter/core/work"
	"iter.example/iter/server/api"
	"iter.example/iter/server/office"
)

// A board brings what fits are worked out of: who works when, what is planned, what waits, who knows the site, what is booked; and as
// many ways as it has places.
func TestABoardBringsItsPlan(t *testing.T) {
	p := start(t)
	p.now = ledgertest.Start
	m := ledgertest.NewMaker("R", 7)
	on := p.now.AddDate(0, 0, 1)
	date := on.Format(time.DateOnly)
	for _, e := range []ledger.Entry{
		m.Entry("office", "record.created", "resource", "boat", records.Resource{Name: "Work boat"}),
		m.Entry("office", "work.opened", "workorder", "WX", work.Order{Number: "5001", Customer: "C1", Site: "S1", Problem: "Hums",
			Priority: work.Normal, Minutes: 60, PromiseTo: on.Add(2 * time.Hour),
			Needs: []work.Need{{Part: "P1", Quantity: decimal.NewFromInt(5000)}}}),
		m.Entry("office", "visit.planned", "visit", "VX", ledger.Plan{Order: "W1", Technician: "ann", Start: on, Minutes: 90,
			Helpers: []string{"ben"}, Things: []string{"boat"}}),
	} {
		p.writes(t, e)
	}
	desk := p.client("a-dispatcher")
	b := read[api.Board](t, desk.get("/api/office/board?date="+date))
	day := b.Plan
	assert.Equal(t, -1, day.Now, "it is to come")
	res := desk.get("/api/office/day.ways?date=" + date)
	require.Equal(t, http.StatusOK, res.StatusCode)
	bytes, err := io.ReadAll(res.Body)
	require.NoError(t, err)
	raw, err := json.Marshal(day)
	require.NoError(t, err)
	opened, err := plan.OpenDay(raw, int(math.Sqrt(float64(len(bytes)/4))), bytes)
	require.NoError(t, err)

	for _, id := range []string{"ann", "ben", "boat"} {
		l := opened.Lane(id)
		require.NotNil(t, l, id)
		require.NotEmpty(t, l.Stops, id)
		assert.Equal(t, "VX", l.Stops[len(l.Stops)-1].ID, id)
	}
	var want *plan.Want
	for i := range day.Wants {
		if day.Wants[i].ID == "WX" {
			want = &day.Wants[i]
		}
	}
	require.NotNil(t, want)
	assert.Equal(t, int(on.Add(2*time.Hour).Sub(day.Begin)/time.Second), want.To)
	assert.Contains(t, want.Lacks, "ann")

	raw = opened.Ask([]byte(`{"id":"WX","most":2}`))
	var fits []plan.Fit
	require.NoError(t, json.Unmarshal(raw, &fits))
	assert.Len(t, fits, 2)
	assert.JSONEq(t, `[]`, string(opened.Ask([]byte(`{"id":"nothing","most":2}`))))
	assert.JSONEq(t, `[]`, string(opened.Ask([]byte(`{`))))
	_, err = plan.OpenDay([]byte(`{}`), 3, []byte{1})
	assert.Error(t, err)

	assert.Equal(t, http.StatusForbidden, p.client("a-technician").get("/api/office/day.ways").StatusCode)
	assert.Equal(t, http.StatusBadRequest, desk.get("/api/office/day.ways?date=soon").StatusCode)
}

// What is planned for people and things that are not there is refused; what was warned of stays, and a visit moved back is as it was.
func TestPlannedWithPeopleAndThings(t *testing.T) {
	p := start(t)
	p.now = ledgertest.Start
	m := ledgertest.NewMaker("R", 8)
	on := p.now.AddDate(0, 0, 1)
	p.writes(t, m.Entry("office", "record.created", "resource", "boat", records.Resource{Name: "Work boat",
		Out: []calendar.Off{{From: "2026-01-01", To: "2026-01-02"}}}))
	desk := p.client("a-dispatcher")
	send := func(kind, id string, body any) int {
		raw, err := json.Marshal(body)
		require.NoError(t, err)
		return desk.command(office.Command{ID: ulid.Make().String(), Kind: kind, Subject: ledger.Ref{Type: "visit", ID: id},
			Body: raw}).StatusCode
	}
	body := ledger.Plan{Order: "W1", Technician: "ann", Start: on, Minutes: 90, Things: []string{"rig"}}
	assert.Equal(t, http.StatusNotFound, send("visit.planned", "VY", body))
	body.Things, body.Helpers = []string{"boat"}, []string{"ben"}
	assert.Equal(t, http.StatusOK, send("visit.planned", "VY", body))
	move := ledger.Move{Technician: "ann", Start: on.Add(time.Hour), Minutes: 90}
	assert.Equal(t, http.StatusOK, send("visit.moved", "VY", move))
	page := read[api.VisitPage](t, desk.get("/api/office/visits/VY"))
	assert.Equal(t, []string{"ben"}, page.View.Visit.Helpers, "who is not named stays")
	assert.Equal(t, []string{"boat"}, page.View.Visit.Things)
	// Why it was planned against a warning stays while only who comes along changes, and goes with another time.
	move.Against = &work.Against{Warned: []msg.Code{{Code: "fit.skill"}}, Why: "The inspector comes along"}
	move.Start = on.Add(2 * time.Hour)
	assert.Equal(t, http.StatusOK, send("visit.moved", "VY", move))
	move.Against = nil
	move.Helpers, move.Things = []string{}, []string{}
	assert.Equal(t, http.StatusOK, send("visit.moved", "VY", move))
	page = read[api.VisitPage](t, desk.get("/api/office/visits/VY"))
	assert.Empty(t, page.View.Visit.Helpers)
	assert.Empty(t, page.View.Visit.Things)
	assert.Equal(t, "The inspector comes along", page.View.Visit.Against.Why)
	move.Start = on.Add(3 * time.Hour)
	assert.Equal(t, http.StatusOK, send("visit.moved", "VY", move))
	page = read[api.VisitPage](t, desk.get("/api/office/visits/VY"))
	assert.Nil(t, page.View.Visit.Against)
	why := []string{}
	for _, l := range page.Trail {
		if l.Against != nil {
			why = append(why, l.Against.Why)
		}
	}
	assert.Equal(t, []string{"The inspector comes along"}, why, "the trail keeps it")
}

// Free times are of those who work on the day, come with what they cost, and are there for work that is not open yet.
func TestFreeTimes(t *testing.T) {
	p := start(t)
	p.now = ledgertest.Start
	m := ledgertest.NewMaker("R", 9)
	p.writes(t, m.Entry("office", "visit.planned", "visit", "VZ", ledger.Plan{Order: "W1", Technician: "ann", Start: p.now.Add(time.Hour),
		Minutes: 60}))
	desk := p.client("a-dispatcher")
	for _, of := range []string{"order=W1", "site=S1&minutes=45"} {
		all := read[[]api.FreeTime](t, desk.get("/api/office/free?"+of))
		require.NotEmpty(t, all, of)
		assert.LessOrEqual(t, len(all), 6)
		for i, f := range all {
			assert.False(t, f.Start.Before(p.now), of)
			assert.NotEmpty(t, f.Name)
			if i > 0 {
				assert.LessOrEqual(t, all[i-1].Fit.Cost, f.Fit.Cost)
			}
		}
	}
	for range 2 { // the second time from what is remembered of the days
		for _, f := range read[[]api.FreeTime](t, desk.get("/api/office/free?site=S1&minutes=45&days=24&after=13:00&before=15:30")) {
			assert.Contains(t, []time.Weekday{time.Tuesday, time.Thursday}, f.Start.Weekday(), "when it suits them")
			assert.GreaterOrEqual(t, f.Fit.Arrive, 13*3600)
			assert.LessOrEqual(t, f.Fit.Arrive, 15*3600+1800)
		}
	}
	before := read[[]api.FreeTime](t, desk.get("/api/office/free?site=S1&minutes=45&days=4&after=13:00"))
	p.writes(t, m.Entry("office", "absence.asked", "absences", "ann", ledger.AbsenceAsked{Off: calendar.Off{From: before[0].Date,
		To: before[0].Date, Why: "sick"}}))
	for _, f := range read[[]api.FreeTime](t, desk.get("/api/office/free?site=S1&minutes=45&days=4&after=13:00")) {
		assert.False(t, f.Date == before[0].Date && f.Person == "ann", "what is remembered of a day goes with what it was read from")
	}
	assert.Equal(t, http.StatusBadRequest, desk.get("/api/office/free?site=S1&after=noon").StatusCode)
	later := read[[]api.FreeTime](t, desk.get("/api/office/free?site=S1&minutes=45&from="+p.now.AddDate(0, 0, 3).Format(time.DateOnly)))
	for _, f := range later {
		assert.GreaterOrEqual(t, f.Date, p.now.AddDate(0, 0, 3).Format(time.DateOnly))
	}
	assert.Equal(t, http.StatusForbidden, p.client("a-technician").get("/api/office/free?site=S1").StatusCode)
	assert.Equal(t, http.StatusBadRequest, desk.get("/api/office/free?site=S1&from=zzz").StatusCode)
}
