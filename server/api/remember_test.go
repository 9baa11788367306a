package api_test

import (
	"context"
	"encoding/json"
	"fmt"
	"io"
	"math/rand"
	"net/http"
	"net/http/httptest"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"iter.example/iter/core/ledger"
	"iter.example/iter/core/ledger/ledgertest"
	"iter.example/iter/core/work"
	"iter.example/iter/server/api"
	"iter.example/iter/server/store"
)

// Whatever happens in between, the list of finished visits and the hours of a week are what a server that remembers nothing makes of the
// same store, from the same sources, so that screens ask again for the same reasons.
func TestListsAreThoseOfNow(t *testing.T) {
	day := func(n int) string { return ledgertest.Start.AddDate(0, 0, n).Format(time.DateOnly) }
	week := "?from=" + day(-3) + "&to=" + day(7)
	t.Run("to review", func(t *testing.T) { listIsThatOfNow(t, "a-reviewer", "/api/office/finished") })
	t.Run("hours", func(t *testing.T) { listIsThatOfNow(t, "a-reviewer", "/api/office/hours"+week) })
}

func listIsThatOfNow(t *testing.T, login, path string) {
	for seed := range int64(6) {
		p := start(t)
		p.now = ledgertest.Start.AddDate(0, 0, 7)
		desk := p.client(login)
		r, m := rand.New(rand.NewSource(seed)), ledgertest.NewMaker("R", seed+100)
		ask := func() (body, sources string) {
			res := desk.get(path)
			require.Equal(t, http.StatusOK, res.StatusCode)
			raw, err := io.ReadAll(res.Body)
			require.NoError(t, err)
			return string(raw), res.Header.Get("Iter-Read")
		}
		for step := range 25 {
			p.history(r, m, 2)
			switch step % 5 {
			case 1:
				p.now = p.now.Add(time.Duration(r.Intn(20)) * time.Hour)
			case 2:
				p.writes(t, m.Entry("office", "record.amended", "site", "S1", map[string]any{"name": fmt.Sprint("Pump House ", step)}))
			case 3:
				p.writes(t, m.Entry("ann", "note.to_office", "visit", "V1", ledger.Note{Text: "Gate"}))
			}
			body, sources := ask()
			again, _ := ask()
			require.Equal(t, body, again)

			config := p.server.Config
			fresh, err := api.New(config)
			require.NoError(t, err)
			old := p.Server
			p.Server = httptest.NewServer(fresh)
			want, wantSources := ask()
			p.Server.Close()
			fresh.Close()
			p.Server = old
			require.JSONEq(t, want, body, "step %d", step)
			require.Equal(t, wantSources, sources)
		}
	}
}

// writes records an entry as it comes; one that can't be meant changes nothing.
func (p *program) writes(t *testing.T, e ledger.Entry) {
	t.Helper()
	_ = p.store.Write(context.Background(), func(tx *store.Tx) error {
		_, err := tx.Record(e, p.now)
		return err
	})
}

// A list of many finished visits is quick once it was asked for: what changed is worked out anew, and nothing else.
func BenchmarkTheListToReview(b *testing.B) {
	p := start(b)
	m := ledgertest.NewMaker("R", 3)
	must := func(e ledger.Entry) {
		require.NoError(b, p.store.Write(context.Background(), func(tx *store.Tx) error {
			_, err := tx.Record(e, p.now)
			return err
		}))
	}
	for i := range 100 {
		order, visit := fmt.Sprint("WB", i), fmt.Sprint("VB", i)
		must(m.Entry("office", "work.opened", "workorder", order, work.Order{Number: fmt.Sprint(6000 + i), Customer: "C1", Site: "S1",
			Problem: "Panel hums", Priority: work.Normal, Minutes: 60}))
		must(m.Entry("office", "visit.planned", "visit", visit, ledger.Plan{Order: order, Technician: "ann", Start: p.now, Minutes: 30}))
		must(m.Entry("office", "visit.sent", "visit", visit, ledger.Nothing{}))
		must(m.Entry("ann", "visit.arrived", "visit", visit, ledger.Step{}))
		m.Wait(time.Minute)
		must(m.Entry("ann", "visit.finished", "visit", visit, ledger.Step{Outcome: work.Complete}))
	}
	desk := p.client("a-reviewer")
	lines := 0
	for b.Loop() {
		res := desk.get("/api/office/finished")
		var list []json.RawMessage
		require.NoError(b, json.NewDecoder(res.Body).Decode(&list))
		lines = len(list)
	}
	assert.Equal(b, 100, lines)
}
