package api_test

import (
	"net/http"
	"net/url"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"iter.example/iter/core/calendar"
	"iter.example/iter/core/ledger"
	"iter.example/iter/core/ledger/ledgertest"
	"iter.example/iter/core/records"
	"iter.example/iter/server/api"
)

// Weeks tell what people have on their days, with those who help; who is off, what is promised and what is booked.
func TestWeeks(t *testing.T) {
	p, d, date := drafting(t)
	m := ledgertest.NewMaker("R4", 14)
	on := p.now.AddDate(0, 0, 1)
	tomorrow := on.Format(time.DateOnly)
	for _, e := range []ledger.Entry{
		m.Entry("office", "record.created", "resource", "boat", records.Resource{Name: "Work boat"}),
		m.Entry("office", "visit.planned", "visit", "VA", ledger.Plan{Order: "W1", Technician: "ann", Start: on, Minutes: 90,
			Helpers: []string{"ben"}, Things: []string{"boat"}}),
		m.Entry("office", "record.amended", "person", "ann", map[string]any{"hours": []calendar.Week{{Days: [7][]calendar.Stretch{
			1: {{From: "08:00", To: "12:00"}}, 2: {{From: "08:00", To: "12:00"}}, 3: {{From: "08:00", To: "12:00"}}}}}}),
		m.Entry("office", "absence.asked", "absences", "ann", ledger.AbsenceAsked{Off: calendar.Off{From: date, To: date, Why: "sick"}}),
	} {
		e.Base = nil
		p.writes(t, e)
	}
	ask := func(from string, days string) *http.Response {
		return d.get("/api/office/weeks?" + url.Values{"from": {from}, "days": {days}}.Encode())
	}
	w := read[api.Weeks](t, ask(date, "2"))
	require.Len(t, w.Days, 2)
	assert.Equal(t, []api.WeekThing{{Name: "Work boat", Visits: 1}}, w.Days[1].Things)
	require.Len(t, w.Days[0].Promised, 1, "WX is promised by today")
	for _, person := range w.People {
		if person.ID == "ben" {
			require.NotEmpty(t, person.Days[1].Visits)
			assert.NotEmpty(t, person.Days[1].Visits[0].With, "it is another's")
		}
		if person.ID == "ann" {
			assert.Zero(t, person.Days[0].Hours)
			require.NotNil(t, person.Days[0].Off)
			assert.Equal(t, "sick", person.Days[0].Off.Why)
			assert.Equal(t, 90*60, person.Days[1].Work)
			assert.Equal(t, 4*3600, person.Days[1].Hours)
		}
	}
	for from, days := range map[string]string{"soon": "7", date: "0", tomorrow: "43"} {
		assert.Equal(t, http.StatusBadRequest, ask(from, days).StatusCode)
	}
}

// A fit is asked of any day: at a time, at a visit's own, or at the best there is.
func TestFitOfAnyDay(t *testing.T) {
	p, d, _ := drafting(t)
	on := p.now.AddDate(0, 0, 2)
	ask := func(more url.Values) *http.Response {
		more.Set("date", on.Format(time.DateOnly))
		return d.get("/api/office/fit?" + more.Encode())
	}
	best := read[api.FitFound](t, ask(url.Values{"order": {"WX"}, "person": {"ben"}}))
	require.NotNil(t, best.Fit)
	assert.Equal(t, 60, best.Minutes)
	at := read[api.FitFound](t, ask(url.Values{"order": {"WX"}, "person": {"ben"}, "time": {"14:30"}}))
	assert.Equal(t, "14:30", at.Start.Format("15:04"))
	v := read[api.VisitPage](t, d.get("/api/office/visits/V1")).View.Visit
	own := read[api.FitFound](t, ask(url.Values{"visit": {"V1"}, "person": {"ben"}}))
	assert.Equal(t, v.Start.Format("15:04"), own.Start.Format("15:04"))
	assert.Equal(t, http.StatusNotFound, ask(url.Values{"visit": {"V99"}, "person": {"ben"}}).StatusCode)
	assert.Equal(t, http.StatusNotFound, ask(url.Values{"order": {"WX"}, "person": {"nobody"}}).StatusCode)
	assert.Equal(t, http.StatusBadRequest, ask(url.Values{"order": {"WX"}, "person": {"ben"}, "time": {"noon"}}).StatusCode)
}
