package api_test

import (
	"context"
	"image/png"
	"io"
	"net/http"
	"strings"
	"testing"

	"github.com/oklog/ulid/v2"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"iter.example/iter/core/ledger"
	"iter.example/iter/server/accounts"
	"iter.example/iter/server/api"
	"iter.example/iter/server/hours"
	"iter.example/iter/server/office"
	"iter.example/iter/server/store"
)

func TestHoursOverHTTP(t *testing.T) {
	p := start(t)
	reviewer, dispatcher := p.client("a-reviewer"), p.client("a-dispatcher")
	page := read[hours.Page](t, reviewer.get("/api/office/hours?from=2026-03-09&to=2026-03-15"))
	assert.Len(t, page.People, 3, "those who work in the field")
	for _, path := range []string{"/api/office/hours", "/api/office/hours?from=2026-03-09&to=soon",
		"/api/office/hours/payroll.csv?from=x&to=y"} {
		assert.Equal(t, "http.date", problem(t, reviewer.get(path), 400), path)
	}
	assert.Equal(t, "hours.range", problem(t, reviewer.get("/api/office/hours?from=2025-01-01&to=2026-01-01"), 400))
	assert.Equal(t, "http.date", problem(t, reviewer.get("/api/office/hours/days/ann+soon"), 400))
	assert.Equal(t, "record.unknown", problem(t, reviewer.get("/api/office/hours/days/nobody+2026-03-10"), 404))
	assert.Equal(t, http.StatusForbidden, p.client("ann").get("/api/office/hours/days/ann+2026-03-10").StatusCode)
	res := reviewer.get("/api/office/hours/payroll.csv?from=2026-03-09&to=2026-03-15")
	file, err := io.ReadAll(res.Body)
	require.NoError(t, err)
	assert.True(t, strings.HasPrefix(string(file), "person,name,date,"))
	assert.Contains(t, res.Header.Get("Content-Disposition"), "payroll-2026-03-09-to-2026-03-15.csv")
	assert.Equal(t, http.StatusForbidden, dispatcher.get("/api/office/hours/payroll.csv?from=2026-03-09&to=2026-03-15").StatusCode)
	assert.Equal(t, http.StatusForbidden, dispatcher.post("/api/office/hours/post", hours.Range{}).StatusCode)

	card := ledger.Ref{Type: "timecard", ID: "ann+2026-03-10"}
	command := func(kind string) *http.Response {
		return reviewer.command(office.Command{ID: ulid.Make().String(), Kind: kind, Subject: card, Body: raw(t, ledger.Nothing{})})
	}
	assert.Equal(t, http.StatusOK, command("day.approved").StatusCode)
	report := read[hours.Report](t, reviewer.post("/api/office/hours/post", hours.Range{From: "2026-03-09", To: "2026-03-15"}))
	assert.Equal(t, 1, report.Days)
	whole := read[hours.Day](t, reviewer.get("/api/office/hours/days/ann+2026-03-10"))
	assert.False(t, whole.Posted.IsZero())
	assert.Equal(t, http.StatusOK, command("day.reopened").StatusCode)
	assert.Equal(t, "time.not_approved", problem(t, command("day.reopened"), 409))
}

func TestLabels(t *testing.T) {
	c := start(t).client("a-dispatcher")
	for _, kind := range []string{"qr", "code128"} {
		res := c.get("/api/office/label?text=ITER-T%2Fw1%2Ft1&kind=" + kind)
		picture, err := png.Decode(res.Body)
		require.NoError(t, err, kind)
		assert.Greater(t, picture.Bounds().Dx(), 200)
		white, _, _, _ := picture.At(2, 2).RGBA()
		assert.Equal(t, uint32(0xffff), white, "a white edge, or nothing reads it")
	}
	for _, query := range []string{"", "?text=" + strings.Repeat("x", 500), "?text=%C3%A9&kind=code128"} {
		assert.Equal(t, "http.body", problem(t, c.get("/api/office/label"+query), 400), query)
	}
}

func TestTheTerminalKnowsPeople(t *testing.T) {
	p := start(t)
	require.NoError(t, accounts.Set(context.Background(), p.store, "bench", "a-terminal", password))
	desk, terminal := p.client("a-dispatcher"), p.client("bench")
	badges := read[[]api.BadgeLine](t, desk.get("/api/office/badges"))
	require.Len(t, badges, 3)
	assert.Equal(t, badges, read[[]api.BadgeLine](t, desk.get("/api/office/badges")), "issued once")
	people := read[[]api.TerminalPerson](t, terminal.get("/api/terminal/people"))
	require.Len(t, people, 3)
	for _, x := range people {
		assert.Len(t, x.Badge, 64)
		assert.NotContains(t, x.Badge, accounts.BadgePrefix, "what it says is not told")
	}
	assert.Equal(t, http.StatusForbidden, desk.get("/api/terminal/people").StatusCode)
	assert.Equal(t, http.StatusForbidden, terminal.get("/api/office/badges").StatusCode)
	assert.Equal(t, http.StatusForbidden, p.client("ann").get("/api/terminal/people").StatusCode)

	identify := func(pin string) *http.Response {
		return terminal.post("/api/terminal/identify", api.Identify{Number: badges[0].Number, Pin: pin})
	}
	assert.Equal(t, "terminal.wrong", problem(t, identify("1234"), 403), "none was set")
	set := "/api/office/badges/" + badges[0].Person + "/pin"
	assert.Equal(t, "terminal.pin", problem(t, desk.post(set, api.NewPin{Pin: "12"}), 409))
	require.Equal(t, http.StatusNoContent, desk.post(set, api.NewPin{Pin: "1234"}).StatusCode)
	for range 3 {
		assert.Equal(t, "terminal.wrong", problem(t, identify("9999"), 403))
	}
	assert.Equal(t, badges[0].Person, read[api.Identified](t, identify("1234")).Person)
	for range accounts.MaxTries - 1 {
		assert.Equal(t, "terminal.wrong", problem(t, identify("9999"), 403))
	}
	assert.Equal(t, "terminal.locked", problem(t, identify("9999"), 429))
	assert.Equal(t, "terminal.locked", problem(t, identify("1234"), 429), "the right one too")
	assert.True(t, read[[]api.BadgeLine](t, desk.get("/api/office/badges"))[0].Locked)
	require.Equal(t, http.StatusNoContent, desk.post(set, api.NewPin{Pin: "5678"}).StatusCode)
	assert.Equal(t, badges[0].Person, read[api.Identified](t, identify("5678")).Person)
	require.NoError(t, p.store.Read(context.Background(), func(tx *store.Tx) error {
		all, err := tx.Badges()
		assert.NotContains(t, all[0].Pin, "5678", "kept as a hash")
		return err
	}))
}
