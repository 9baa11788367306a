package api_test

import (
	"bufio"
	"bytes"
	"compress/gzip"
	"context"
	"encoding/json"
	"fmt"
	"io"
	"math"
	"net/http"
	"net/http/cookiejar"
	"net/http/httptest"
	"os"
	"strings"
	"sync"
	"testing"
	"testing/fstest"
	"time"

	"github.com/oklog/ulid/v2"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"iter.example/iter/core/ledger"
	"iter.example/iter/core/ledger/ledgertest"
	"iter.example/iter/core/records"
	"iter.example/iter/core/replica"
	"iter.example/iter/core/work"
	"iter.example/iter/server/accounts"
	"iter.example/iter/server/api"
	"iter.example/iter/server/office"
	"iter.example/iter/server/store"
)

const password = "correct horse"

// program is the server with the test company, and a person for each role.
type program struct {
	*httptest.Server
	t      testing.TB
	store  *store.Store
	server *api.Server
	now    time.Time
}

func TestMain(m *testing.M) {
	accounts.HashCheaply()
	os.Exit(m.Run())
}

func start(t testing.TB, set ...func(*api.Config)) *program {
	ctx := context.Background()
	s, err := store.Open(ctx, t.TempDir())
	require.NoError(t, err)
	p := &program{t: t, store: s, now: ledgertest.Start.Add(time.Hour)}
	m := ledgertest.NewMaker("office", 1)
	entries := m.Company()
	for _, role := range records.Role("").Values() {
		entries = append(entries, m.Entry("office", "record.created", "person", "a-"+role,
			records.Person{Name: role, Roles: []records.Role{records.Role(role)}}))
	}
	require.NoError(t, s.Write(ctx, func(tx *store.Tx) error {
		for _, e := range entries {
			_, err := tx.Record(e, p.now)
			require.NoError(t, err)
		}
		return nil
	}))
	for _, id := range append([]string{"ann", "ben"}, "a-technician", "a-dispatcher", "a-reviewer", "a-stores", "a-administrator") {
		require.NoError(t, accounts.Set(ctx, s, id, id, password))
	}
	config := api.Config{Store: s, Now: func() time.Time { return p.now }, Assets: fstest.MapFS{
		"index.html":       {Data: []byte(`<meta property="csp-nonce" nonce="__NONCE__">`)},
		"assets/app.js":    {Data: []byte("plain")},
		"assets/app.js.br": {Data: []byte("packed")},
	}}
	for _, f := range set {
		f(&config)
	}
	h, err := api.New(config)
	require.NoError(t, err)
	p.server = h
	p.Server = httptest.NewServer(h)
	t.Cleanup(func() {
		p.Server.Close()
		h.Close()
		_ = s.Close()
	})
	return p
}

// client is a browser, signed in when login is not empty.
func (p *program) client(login string) *client {
	jar, err := cookiejar.New(nil)
	require.NoError(p.t, err)
	c := &client{p: p, http: &http.Client{Jar: jar}}
	if login != "" {
		require.Equal(p.t, http.StatusOK, c.post("/api/signin", api.SignIn{Login: login, Password: password}).StatusCode)
	}
	return c
}

type client struct {
	p    *program
	http *http.Client
}

func (c *client) send(method, path string, body io.Reader, headers ...string) *http.Response {
	r, err := http.NewRequest(method, c.p.URL+path, body)
	require.NoError(c.p.t, err)
	for i := 0; i < len(headers); i += 2 {
		r.Header.Set(headers[i], headers[i+1])
	}
	res, err := c.http.Do(r)
	require.NoError(c.p.t, err)
	c.p.t.Cleanup(func() { _ = res.Body.Close() })
	return res
}

func (c *client) get(path string) *http.Response { return c.send("GET", path, nil) }

func (c *client) post(path string, body any) *http.Response {
	raw, err := json.Marshal(body)
	require.NoError(c.p.t, err)
	return c.send("POST", path, bytes.NewReader(raw), "Content-Type", "application/json")
}

// command sends an office command by somebody who has seen all there is.
func (c *client) command(o office.Command) *http.Response {
	return c.post("/api/office/entries", office.Batch{Entries: []office.Command{o}, Seen: math.MaxInt64})
}

// problem reads an answer that must be a problem, and gives its code.
func problem(t *testing.T, res *http.Response, status int) string {
	t.Helper()
	require.Equal(t, status, res.StatusCode)
	require.Equal(t, "application/problem+json", res.Header.Get("Content-Type"))
	var p api.Problem
	require.NoError(t, json.NewDecoder(res.Body).Decode(&p))
	assert.Equal(t, status, p.Status)
	return p.Code
}

func read[T any](t *testing.T, res *http.Response) T {
	t.Helper()
	require.Equal(t, http.StatusOK, res.StatusCode)
	var v T
	require.NoError(t, json.NewDecoder(res.Body).Decode(&v))
	return v
}

func TestSignIn(t *testing.T) {
	p := start(t)
	c := p.client("")
	assert.Equal(t, "signin.needed", problem(t, c.get("/api/me"), 401))
	res := c.post("/api/signin", api.SignIn{Login: "ann", Password: password})
	cookie := res.Header.Get("Set-Cookie")
	for _, want := range []string{"HttpOnly", "SameSite=Strict", "Path=/"} {
		assert.Contains(t, cookie, want)
	}
	assert.Equal(t, "Ann Vane", read[api.Me](t, c.get("/api/me")).Person.Name)
	assert.Equal(t, http.StatusNoContent, c.post("/api/signout", nil).StatusCode)
	assert.Equal(t, "signin.needed", problem(t, c.get("/api/me"), 401))
	assert.Equal(t, "http.body", problem(t, c.send("POST", "/api/signin", strings.NewReader("{")), 400))
}

func TestALapsedSession(t *testing.T) {
	p := start(t)
	c := p.client("ann")
	_, err := p.store.Sessions().Exec("UPDATE sessions SET expiry = 0")
	require.NoError(t, err)
	assert.Equal(t, "signin.needed", problem(t, c.post("/api/sync", replica.Request{Replica: "R"}), 401))
}

func TestRepeatedFailuresSlowDown(t *testing.T) {
	p := start(t)
	c := p.client("")
	for range 5 {
		assert.Equal(t, "signin.wrong", problem(t, c.post("/api/signin", api.SignIn{Login: "ann", Password: "wrong horse"}), 401))
	}
	res := c.post("/api/signin", api.SignIn{Login: "ann", Password: password})
	assert.Equal(t, "1", res.Header.Get("Retry-After"))
	assert.Equal(t, "signin.slow", problem(t, res, 429))
	p.now = p.now.Add(2 * time.Second)
	assert.Equal(t, http.StatusOK, c.post("/api/signin", api.SignIn{Login: "ann", Password: password}).StatusCode)
}

func TestOtherSitesAreRefused(t *testing.T) {
	p := start(t)
	c := p.client("ann")
	for _, h := range [][2]string{{"Sec-Fetch-Site", "cross-site"}, {"Origin", "https://elsewhere.example"}} {
		res := c.send("POST", "/api/sync", strings.NewReader("{}"), h[0], h[1])
		assert.Equal(t, "http.cross_origin", problem(t, res, 403))
	}
}

func TestRolesByRoute(t *testing.T) {
	p := start(t)
	open := work.Order{Customer: "C1", Site: "S1", Problem: "No water", Priority: work.Soon, Minutes: 60}
	for login, want := range map[string]struct{ board, command, decide int }{
		"a-technician": {403, 403, 403}, "a-dispatcher": {200, 200, 409}, "a-reviewer": {200, 403, 409}, "a-stores": {200, 403, 409},
		"a-administrator": {200, 200, 409},
	} {
		c := p.client(login)
		assert.Equal(t, want.board, c.get("/api/office/board").StatusCode, login)
		id := ulid.Make().String()
		assert.Equal(t, want.command, c.command(office.Command{ID: id, Kind: "work.opened", Subject: ledger.Ref{Type: "workorder", ID: id},
			Body: raw(t, open)}).StatusCode, login)
		assert.Equal(t, want.decide, c.post("/api/office/held/99", api.Decision{Do: "take"}).StatusCode, login)
	}
	for _, path := range []string{"/api/office/board", "/api/office/customers?q=x", "/api/office/finished", "/api/office/visits/V1",
		"/api/office/held", "/api/events", "/api/me"} {
		assert.Equal(t, "signin.needed", problem(t, p.client("").get(path), 401), path)
	}
	c := p.client("a-dispatcher")
	assert.Equal(t, "role.missing", problem(t, c.command(office.Command{ID: ulid.Make().String(), Kind: "visit.arrived",
		Subject: ledger.Ref{Type: "visit", ID: "V1"}, Body: raw(t, ledger.Step{})}), 403),
		"facts from the field are not for the office to make up")
}

func raw(t *testing.T, v any) json.RawMessage {
	b, err := json.Marshal(v)
	require.NoError(t, err)
	return b
}

func TestOpenPlanSendAndWatch(t *testing.T) {
	p := start(t)
	c := p.client("a-dispatcher")
	command := func(kind, typ, id string, body any) *http.Response {
		return c.command(office.Command{ID: ulid.Make().String(), Kind: kind, Subject: ledger.Ref{Type: typ, ID: id}, Body: raw(t, body)})
	}
	once := office.Command{ID: ulid.Make().String(), Kind: "work.opened", Subject: ledger.Ref{Type: "workorder", ID: "W2"},
		Body: raw(t, work.Order{Customer: "C1", Site: "S1", Problem: "No water", Priority: work.Emergency, Minutes: 60})}
	first := read[api.Recorded](t, c.command(once))
	again := read[api.Recorded](t, c.command(once))
	require.Len(t, again.Entries, 1)
	assert.Equal(t, first.Entries[0].Seq, again.Entries[0].Seq, "sent twice, done once")
	assert.JSONEq(t, string(first.Entries[0].Body), string(again.Entries[0].Body))
	assert.Contains(t, string(first.Entries[0].Body), `"number":"4128"`, "the answer says the number that was given")

	board := read[api.Board](t, c.get("/api/office/board"))
	require.Len(t, board.Unplaced, 1)
	assert.Equal(t, "4128", board.Unplaced[0].Number, "the next number")
	require.Equal(t, 200, command("visit.planned", "visit", "V2", ledger.Plan{Order: "W2", Technician: "ann", Start: p.now,
		Minutes: 60}).StatusCode)
	require.Equal(t, 200, command("visit.sent", "visit", "V2", ledger.Nothing{}).StatusCode)
	board = read[api.Board](t, c.get("/api/office/board?date=2026-03-10"))
	assert.Empty(t, board.Unplaced)
	assert.Equal(t, "http.date", problem(t, c.get("/api/office/board?date=tomorrow"), 400))
	assert.Equal(t, "record.unknown", problem(t, command("visit.planned", "visit", "V3",
		ledger.Plan{Order: "W9", Technician: "ann", Start: p.now, Minutes: 60}), 404))
	assert.Equal(t, "order.minutes", problem(t, command("visit.planned", "visit", "V3",
		ledger.Plan{Order: "W2", Technician: "ann", Start: p.now}), 409))
	assert.Equal(t, "record.unknown", problem(t, c.get("/api/office/visits/V9"), 404))
	page := read[api.VisitPage](t, c.get("/api/office/visits/V2"))
	assert.Len(t, page.Trail, 2)

	for _, text := range []string{"vella", "VELLA water", "orrisk"} {
		assert.Len(t, read[[]api.CustomerHit](t, c.get("/api/office/customers?q="+strings.ReplaceAll(text, " ", "+"))), 1, text)
	}
	assert.Empty(t, read[[]api.CustomerHit](t, c.get("/api/office/customers?q=nobody%25")))
}

func TestSyncBodies(t *testing.T) {
	p := start(t)
	c := p.client("ann")
	pack := func(b []byte) []byte {
		var out bytes.Buffer
		z := gzip.NewWriter(&out)
		_, _ = z.Write(b)
		_ = z.Close()
		return out.Bytes()
	}
	good := raw(t, replica.Request{Replica: "R1", Now: p.now})
	for name, x := range map[string]struct {
		body   []byte
		gzip   bool
		status int
		code   string
	}{
		"plain":          {good, false, 200, ""},
		"packed":         {pack(good), true, 200, ""},
		"not JSON":       {[]byte("{"), false, 400, "http.body"},
		"not packed":     {good, true, 400, "http.body"},
		"cut off":        {pack(good)[:20], true, 400, "http.body"},
		"of other shape": {[]byte(`{"entries":"many"}`), false, 400, "http.body"},
		"too large":      {bytes.Repeat([]byte(" "), 5<<20), false, 413, "http.large"},
		"a bomb":         {pack(bytes.Repeat([]byte(" "), 64<<20)), true, 413, "http.large"},
		"no replica":     {[]byte(`{}`), false, 409, "id.unusable"},
		"10,000 entries": {pack(raw(t, replica.Request{Replica: "R1", Entries: make([]ledger.Entry, 10_000)})), true, 409, "sync.too_many"},
	} {
		t.Run(name, func(t *testing.T) {
			var h []string
			if x.gzip {
				h = []string{"Content-Encoding", "gzip"}
			}
			res := c.send("POST", "/api/sync", bytes.NewReader(x.body), h...)
			if x.code == "" {
				assert.NotEmpty(t, read[replica.Response](t, res).Docs)
				return
			}
			assert.Equal(t, x.code, problem(t, res, x.status))
		})
	}
}

func TestHeldEntriesAreDecidedOn(t *testing.T) {
	p := start(t)
	phone, desk := p.client("ann"), p.client("a-dispatcher")
	m := ledgertest.NewMaker("R1", 7)
	entry := func(text string) ledger.Entry {
		e := m.Entry("ann", "note.written", "visit", "V1", ledger.Note{Text: text})
		e.At = p.now.Add(24 * time.Hour)
		return e
	}
	r := replica.Request{Replica: "R1", Now: p.now, Entries: []ledger.Entry{entry("take me"), entry("leave me")}}
	out := read[replica.Response](t, phone.post("/api/sync", r))
	assert.Equal(t, []replica.Verdict{replica.Held, replica.Held}, []replica.Verdict{out.Receipts[0].Verdict, out.Receipts[1].Verdict})

	held := read[[]store.HeldEntry](t, desk.get("/api/office/held"))
	require.Len(t, held, 2)
	assert.Equal(t, 2, read[api.Board](t, desk.get("/api/office/board")).Held)
	require.Equal(t, 204, desk.post(fmt.Sprintf("/api/office/held/%d", held[0].ID), api.Decision{Do: "take"}).StatusCode)
	require.Equal(t, 204, desk.post(fmt.Sprintf("/api/office/held/%d", held[1].ID), api.Decision{Do: "set_aside"}).StatusCode)
	assert.Equal(t, "held.decided", problem(t, desk.post(fmt.Sprintf("/api/office/held/%d", held[1].ID), api.Decision{Do: "take"}), 409))
	assert.Equal(t, "http.body", problem(t, desk.post(fmt.Sprintf("/api/office/held/%d", held[1].ID), api.Decision{Do: "burn"}), 400))

	out = read[replica.Response](t, phone.post("/api/sync", replica.Request{Replica: "R1", Cursor: out.Cursor, Now: p.now,
		Held: []string{r.Entries[0].ID, r.Entries[1].ID}}))
	assert.Equal(t, replica.Taken, out.Receipts[0].Verdict)
	assert.Equal(t, replica.SetAside, out.Receipts[1].Verdict)
	page := read[api.VisitPage](t, desk.get("/api/office/visits/V1"))
	require.Len(t, page.View.Visit.Notes, 1)
	assert.Equal(t, "entry.taken_by_hand", page.Flags[0].Code.Code)
}

func TestAFullDiskOverHTTP(t *testing.T) {
	p := start(t)
	c := p.client("ann")
	require.NoError(t, p.store.LimitPages(context.Background(), 1))
	m := ledgertest.NewMaker("R1", 7)
	r := replica.Request{Replica: "R1", Now: p.now}
	for range 100 {
		r.Entries = append(r.Entries, m.Entry("ann", "note.written", "visit", "V1", ledger.Note{Text: strings.Repeat("x", 4000)}))
	}
	assert.Equal(t, "server.full", problem(t, c.post("/api/sync", r), 507))
	require.NoError(t, p.store.LimitPages(context.Background(), 0))
	for _, x := range read[replica.Response](t, c.post("/api/sync", r)).Receipts {
		require.Equal(t, replica.Taken, x.Verdict, "the same again, now with room")
	}
}

func TestLiveEvents(t *testing.T) {
	p := start(t)
	desk, phone := p.client("a-dispatcher"), p.client("ann")
	listen := func(c *client) chan string {
		res := c.get("/api/events")
		lines := make(chan string, 100)
		go func() {
			buf := make([]byte, 1024)
			for {
				n, err := res.Body.Read(buf)
				if err != nil {
					close(lines)
					return
				}
				lines <- string(buf[:n])
			}
		}()
		assert.Contains(t, <-lines, "hello")
		return lines
	}
	o, a := listen(desk), listen(phone)
	require.Equal(t, 200, desk.command(office.Command{ID: ulid.Make().String(), Kind: "visit.moved",
		Subject: ledger.Ref{Type: "visit", ID: "V1"}, Body: raw(t, ledger.Move{Technician: "ann", Start: p.now, Minutes: 9})}).StatusCode)
	for name, ch := range map[string]chan string{"office": o, "technician": a} {
		select {
		case line := <-ch:
			assert.Contains(t, line, "changed", name)
		case <-time.After(time.Minute):
			t.Fatal("not told: ", name)
		}
	}
}

// News of the log comes in its order, with what is beside the log apart: whoever asked after the one may not have seen the other.
func TestNewsComesInOrder(t *testing.T) {
	p := start(t)
	desk := p.client("a-dispatcher")
	res := desk.get("/api/events")
	t.Cleanup(func() { _ = res.Body.Close() })
	events := bufio.NewScanner(res.Body)
	const visits = 60
	var acting sync.WaitGroup
	acting.Go(func() {
		for i := range visits {
			var wg sync.WaitGroup
			wg.Go(func() {
				desk.command(office.Command{ID: ulid.Make().String(), Kind: "visit.moved", Subject: ledger.Ref{Type: "visit", ID: "V1"},
					Body: raw(t, ledger.Move{Technician: "ann", Start: p.now, Minutes: 9 + i})})
			})
			wg.Go(func() { p.server.Announce(store.Changed{Names: []string{fmt.Sprint("beside", i)}}) })
			wg.Wait()
		}
	})
	defer acting.Wait()
	last, beside := int64(0), 0
	for beside < visits && events.Scan() {
		data, ok := strings.CutPrefix(events.Text(), "data: ")
		if !ok {
			continue
		}
		var n api.News
		require.NoError(t, json.Unmarshal([]byte(data), &n))
		if n.Seq > 0 {
			require.Greater(t, n.Seq, last)
			last = n.Seq
		}
		for _, c := range n.Changed {
			if strings.HasPrefix(c, "beside") {
				require.Zero(t, n.Seq, "what is not of the log can't be known from it")
				beside++
			}
		}
	}
	require.Equal(t, visits, beside)
}

func TestStatic(t *testing.T) {
	p := start(t)
	c := p.client("")
	page := c.get("/office/visits/anything")
	body, err := io.ReadAll(page.Body)
	require.NoError(t, err)
	csp := page.Header.Get("Content-Security-Policy")
	nonce := strings.TrimSuffix(strings.TrimPrefix(string(body), `<meta property="csp-nonce" nonce="`), `">`)
	assert.Contains(t, csp, "'nonce-"+nonce+"'")
	assert.NotContains(t, csp, "unsafe-inline")
	assert.NotContains(t, string(body), "__NONCE__")

	js := c.send("GET", "/assets/app.js", nil, "Accept-Encoding", "br, gzip")
	b, _ := io.ReadAll(js.Body)
	assert.Equal(t, "packed", string(b))
	assert.Equal(t, "br", js.Header.Get("Content-Encoding"))
	assert.Contains(t, js.Header.Get("Cache-Control"), "immutable")
	b, _ = io.ReadAll(c.send("GET", "/assets/app.js", nil, "Accept-Encoding", "identity").Body)
	assert.Equal(t, "plain", string(b))

	assert.Equal(t, "http.not_found", problem(t, c.get("/assets/gone.js"), 404))
	assert.Equal(t, "http.not_found", problem(t, c.get("/api/nothing"), 404))
	assert.Equal(t, "http.method", problem(t, c.send("DELETE", "/api/me", nil), 405))
	assert.Contains(t, read[map[string]any](t, c.get("/healthz")), "version")
	page = c.get("/metrics")
	assert.NotContains(t, page.Header.Get("Content-Type"), "text/plain", "figures are for whoever runs it, on an address of their own")
	figures := httptest.NewRecorder()
	p.server.Metrics().ServeHTTP(figures, httptest.NewRequest("GET", "/", nil))
	assert.Contains(t, figures.Body.String(), "iter_request_seconds")
}
