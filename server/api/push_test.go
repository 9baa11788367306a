package api_test

import (
	"math"
	"net/http"
	"testing"
	"time"

	"github.com/oklog/ulid/v2"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"iter.example/iter/core/ledger"
	"iter.example/iter/core/ledger/ledgertest"
	"iter.example/iter/core/plan"
	"iter.example/iter/core/records"
	"iter.example/iter/core/replica"
	"iter.example/iter/core/work"
	"iter.example/iter/server/api"
	"iter.example/iter/server/notify/pushtest"
	"iter.example/iter/server/office"
	"iter.example/iter/server/store"
)

// A device gives an address at which it is reached: its own person's, from a session that it syncs under, and never one within the own
// network.
func TestADeviceIsReachedByPush(t *testing.T) {
	p := start(t, func(c *api.Config) { c.PushLocal = true })
	phone := p.client("ann")
	require.NotEmpty(t, read[api.PushKey](t, phone.get("/api/push")).Key)
	read[replica.Response](t, phone.post("/api/sync", replica.Request{Replica: "phone-ann", Now: p.now}))
	a := pushtest.New(t).Address("ann", "phone-ann")
	address := api.PushAddress{Replica: a.Replica, Endpoint: a.Endpoint, Auth: a.Auth, P256dh: a.P256dh}
	reached := func() (n int) {
		require.NoError(t, p.store.Read(t.Context(), func(tx *store.Tx) error {
			all, err := tx.PushAddresses("ann")
			n = len(all)
			return err
		}))
		return n
	}
	require.Equal(t, http.StatusNoContent, phone.post("/api/push", address).StatusCode)
	require.Equal(t, http.StatusNoContent, phone.post("/api/push", address).StatusCode)
	assert.Equal(t, 1, reached())

	other := p.client("ben")
	read[replica.Response](t, other.post("/api/sync", replica.Request{Replica: "phone-ben", Now: p.now}))
	assert.Equal(t, "signin.other_device", problem(t, other.post("/api/push", address), http.StatusForbidden))
	assert.Equal(t, http.StatusNoContent, other.post("/api/signout", nil).StatusCode)
	assert.Equal(t, 1, reached(), "he signs out, not she")
	assert.Equal(t, http.StatusForbidden, p.client("a-dispatcher").post("/api/push", address).StatusCode)
	bad := address
	bad.P256dh = "AAAA"
	assert.Equal(t, "push.address", problem(t, phone.post("/api/push", bad), http.StatusConflict))

	read[replica.Response](t, phone.post("/api/sync", replica.Request{Replica: "phone-ann", Now: p.now, Wiped: true}))
	assert.Zero(t, reached(), "a device that was wiped is reached no more")
	require.Equal(t, http.StatusNoContent, phone.post("/api/push", address).StatusCode)
	require.Equal(t, http.StatusNoContent, phone.post("/api/signout", nil).StatusCode)
	assert.Zero(t, reached(), "nor one that she signed out on")

	far := start(t)
	outside := far.client("ann")
	read[replica.Response](t, outside.post("/api/sync", replica.Request{Replica: "phone-ann", Now: far.now}))
	assert.Equal(t, "push.address", problem(t, outside.post("/api/push", address), http.StatusConflict))
}

// The board says whether a technician has looked at a visit that was sent, as it is planned now; a clock that is ahead has not looked later
// than now.
func TestTheBoardSaysWhoHasSeenWhat(t *testing.T) {
	p := start(t)
	p.now = ledgertest.Start
	m := ledgertest.NewMaker("R", 13)
	on := p.now.AddDate(0, 0, 1)
	p.writes(t, m.Entry("office", "visit.planned", "visit", "VA", ledger.Plan{Order: "W1", Technician: "ann", Start: on, Minutes: 60}))
	desk, phone := p.client("a-dispatcher"), p.client("ann")
	known := func() *api.BoardKnown {
		for _, person := range read[api.Board](t, desk.get("/api/office/board?date="+on.Format(time.DateOnly))).People {
			for _, v := range person.Visits {
				if v.ID == "VA" {
					return v.Known
				}
			}
		}
		require.Fail(t, "it is on the board")
		return nil
	}
	assert.Nil(t, known(), "nobody was told of it")
	p.writes(t, m.Entry("office", "visit.sent", "visit", "VA", ledger.Nothing{}))
	assert.Equal(t, &api.BoardKnown{}, known())
	cursor := ""
	look := func(start, at time.Time) {
		for more := true; more; { // until it has all there is
			got := read[replica.Response](t, phone.post("/api/sync", replica.Request{Replica: "phone-ann", Now: p.now, Cursor: cursor}))
			more = got.Cursor != cursor
			cursor = got.Cursor
		}
		cursor = read[replica.Response](t, phone.post("/api/sync", replica.Request{Replica: "phone-ann", Now: p.now, Cursor: cursor,
			Looked: []replica.Look{{Visit: "VA", Start: start, At: at}, {Visit: "V9", Start: start, At: at}}})).Cursor
	}
	look(on, p.now.Add(time.Hour))
	require.NotNil(t, known())
	assert.True(t, known().Seen.Equal(p.now))
	p.writes(t, m.Entry("office", "visit.moved", "visit", "VA", ledger.Move{Technician: "ann", Start: on.Add(time.Hour), Minutes: 60}))
	assert.Equal(t, &api.BoardKnown{}, known(), "not at the time that it is at now")
	look(on.Add(time.Hour), p.now)
	assert.False(t, known().Seen.IsZero())
}

// Somebody's day goes to them once, however often it is asked for, and not where nobody knows an address.
func TestADayIsSent(t *testing.T) {
	p := start(t)
	p.now = ledgertest.Start
	desk := p.client("a-dispatcher")
	send := func(c *client, wish api.DaySent) *http.Response { return c.post("/api/office/days/ann/send", wish) }
	wish := api.DaySent{ID: ulid.Make().String(), Date: "2026-03-10", Way: work.TellMail}
	assert.Equal(t, "notify.email", problem(t, send(desk, wish), http.StatusConflict))
	res := desk.command(office.Command{ID: ulid.Make().String(), Kind: "record.amended", Subject: ledger.Ref{Type: "person", ID: "ann"},
		Body: raw(t, map[string]string{"email": "ann@iter.example"}), Base: raw(t, map[string]any{"email": nil})})
	require.Equal(t, http.StatusOK, res.StatusCode)
	for range 2 {
		require.Equal(t, http.StatusNoContent, send(desk, wish).StatusCode)
	}
	sent := func() []store.Sent { return read[[]store.Sent](t, desk.get("/api/office/messages")) }
	require.Eventually(t, func() bool { return len(sent()) > 0 }, 5*time.Second, 20*time.Millisecond)
	require.Len(t, sent(), 1)
	assert.Equal(t, "ann@iter.example", sent()[0].To)
	assert.Contains(t, sent()[0].Text, "Your day, Tuesday 10 March")
	assert.NotZero(t, sent()[0].Bytes, "it goes as a paper")

	assert.Equal(t, "http.date", problem(t, send(desk, api.DaySent{ID: "x1", Date: "soon", Way: work.TellMail}), http.StatusBadRequest))
	assert.Equal(t, "http.body", problem(t, send(desk, api.DaySent{ID: "x1", Date: "2026-03-10", Way: "pigeon"}), http.StatusBadRequest))
	assert.Equal(t, "record.unknown", problem(t, desk.post("/api/office/days/nobody/send", wish), http.StatusNotFound))
	assert.Equal(t, http.StatusForbidden, send(p.client("a-reviewer"), wish).StatusCode)
}

// Whom a site asks for is in the fits, and on no device.
func TestWishesStayAtTheOffice(t *testing.T) {
	p := start(t)
	p.now = ledgertest.Start
	desk := p.client("a-dispatcher")
	res := desk.command(office.Command{ID: ulid.Make().String(), Kind: "record.created", Subject: ledger.Ref{Type: "wishes", ID: "S1"},
		Body: raw(t, records.Wishes{Prefer: []string{"ben"}, Refuse: []string{"ann"}, Note: "broke a window"})})
	require.Equal(t, http.StatusOK, res.StatusCode)
	both := desk.command(office.Command{ID: ulid.Make().String(), Kind: "record.created", Subject: ledger.Ref{Type: "wishes", ID: "S9"},
		Body: raw(t, records.Wishes{Prefer: []string{"ben"}, Refuse: []string{"ben"}})})
	assert.Equal(t, "wishes.both", problem(t, both, http.StatusConflict))
	page := read[api.RecordPage](t, desk.get("/api/office/records/site/S1"))
	require.NotNil(t, page.Wishes)
	day := read[api.Board](t, desk.get("/api/office/board?date=2026-03-10")).Plan
	var w plan.Want
	for _, l := range day.Lanes {
		for _, s := range l.Stops {
			w = s.Want
		}
	}
	assert.Equal(t, []string{"ben"}, w.Prefer)
	assert.Equal(t, []string{"ann"}, w.Refuse)
	got := read[replica.Response](t, p.client("ann").post("/api/sync", replica.Request{Replica: "phone-ann", Now: p.now}))
	for _, d := range got.Docs {
		assert.NotEqual(t, "wishes", d.Type)
	}
}

// Work over several days is told to be: which of how many visits one is, apart from those of long ago.
func TestVisitsOfTheSameWork(t *testing.T) {
	p := start(t)
	p.now = ledgertest.Start
	m := ledgertest.NewMaker("R", 17)
	p.writes(t, m.Entry("office", "work.opened", "workorder", "WL", work.Order{Number: "5002", Customer: "C1", Site: "S1", Problem: "Long",
		Priority: work.Normal, Minutes: 60}))
	for id, days := range map[string]int{"L0": 1, "L1": 10, "L2": 11, "L3": 14, "L4": 30} {
		p.writes(t, m.Entry("office", "visit.planned", "visit", id, ledger.Plan{Order: "WL", Technician: "ann", Minutes: 60,
			Start: p.now.AddDate(0, 0, days)}))
	}
	desk := p.client("a-dispatcher")
	for days, want := range map[int][2]int{1: {0, 0}, 10: {1, 3}, 11: {2, 3}, 14: {3, 3}, 30: {0, 0}} {
		b := read[api.Board](t, desk.get("/api/office/board?date="+p.now.AddDate(0, 0, days).Format(time.DateOnly)))
		found := [2]int{math.MaxInt, 0}
		for _, person := range b.People {
			for _, v := range person.Visits {
				if v.Order == "WL" {
					found = [2]int{v.Part, v.Parts}
				}
			}
		}
		assert.Equal(t, want, found, days)
	}
}
