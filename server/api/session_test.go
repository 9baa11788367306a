package api_test

import (
	"fmt"
	"net/http"
	"strings"
	"sync"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"iter.example/iter/core/ledger"
	"iter.example/iter/core/ledger/ledgertest"
	"iter.example/iter/core/replica"
	"iter.example/iter/server/api"
)

func (c *client) syncs(device string, entries ...ledger.Entry) *http.Response {
	return c.post("/api/sync", replica.Request{Replica: device, Now: c.p.now, Entries: entries})
}

// A session is of one device: once that has no access any more, its cookie gives nothing to any other.
func TestAnEndedDeviceHandsOverAndIsToldNothing(t *testing.T) {
	p := start(t)
	phone, desk := p.client("ann"), p.client("a-dispatcher")
	require.NotEmpty(t, read[replica.Response](t, phone.syncs("D1")).Docs)
	assert.Equal(t, "signin.other_device", problem(t, phone.syncs("D2"), 401), "another device signs in by itself")

	require.Equal(t, http.StatusNoContent, desk.post("/api/office/devices/D1/end", nil).StatusCode)
	assert.Equal(t, "signin.other_device", problem(t, phone.syncs("D2"), 401))
	for _, path := range []string{"/api/me", "/api/events", "/api/roundup", "/api/reports/x.pdf", "/api/files/" + strings.Repeat("a", 64)} {
		assert.Equal(t, "signin.ended", problem(t, phone.get(path), 401), path)
	}
	assert.Equal(t, "signin.ended", problem(t, phone.post("/api/password", api.NewPassword{Old: password, New: "muckle flugga"}), 401))

	m := ledgertest.NewMaker("D1", 5)
	out := read[replica.Response](t, phone.syncs("D1", m.Entry("ann", "note.written", "visit", "V1", ledger.Note{Text: "Seal weeps"})))
	assert.True(t, out.Ended)
	assert.Equal(t, replica.Taken, out.Receipts[0].Verdict, "what it had is kept")
	assert.Empty(t, out.Docs)
}

// A device that is told to take a new identity goes on under the session, and when either identity is ended, so is the session.
func TestASessionFollowsItsDevice(t *testing.T) {
	p := start(t)
	phone, desk := p.client("ann"), p.client("a-dispatcher")
	out := read[replica.Response](t, phone.syncs("D1"))
	p.now = p.now.Add(2 * time.Minute)
	require.Equal(t, http.StatusOK, phone.post("/api/sync", replica.Request{Replica: "D1", Cursor: out.Cursor, Now: p.now}).StatusCode)
	require.True(t, read[replica.Response](t, phone.syncs("D1")).Renew, "it was restored from a copy")
	require.NotEmpty(t, read[replica.Response](t, phone.syncs("D2")).Docs)
	assert.Equal(t, "signin.other_device", problem(t, phone.syncs("D3"), 401), "once")
	require.Equal(t, http.StatusNoContent, desk.post("/api/office/devices/D1/end", nil).StatusCode)
	assert.True(t, read[replica.Response](t, phone.syncs("D2")).Ended)
}

func TestAChangedPasswordEndsOtherSessions(t *testing.T) {
	p := start(t)
	here, there := p.client("ann"), p.client("ann")
	for code, in := range map[string]api.NewPassword{"password.short": {Old: password, New: "short"},
		"password.common": {Old: password, New: "password12"}} {
		assert.Equal(t, code, problem(t, here.post("/api/password", in), 409))
	}
	assert.Equal(t, "password.wrong", problem(t, here.post("/api/password", api.NewPassword{Old: "wrong horse", New: "muckle flugga"}),
		403))
	require.Equal(t, http.StatusOK, there.get("/api/me").StatusCode)
	require.Equal(t, http.StatusNoContent, here.post("/api/password", api.NewPassword{Old: password, New: "muckle flugga"}).StatusCode)
	assert.Equal(t, http.StatusOK, here.get("/api/me").StatusCode, "whoever changed it goes on")
	assert.Equal(t, "signin.needed", problem(t, there.get("/api/me"), 401))
	assert.Equal(t, "signin.needed", problem(t, there.syncs("D1"), 401))
	assert.Equal(t, "signin.wrong", problem(t, p.client("").post("/api/signin", api.SignIn{Login: "ann", Password: password}), 401))
	assert.Equal(t, http.StatusOK, p.client("").post("/api/signin", api.SignIn{Login: "ann", Password: "muckle flugga"}).StatusCode)
}

func TestAnAdministratorDisablesAndEnables(t *testing.T) {
	p := start(t)
	phone, admin := p.client("ann"), p.client("a-administrator")
	require.Equal(t, http.StatusOK, phone.syncs("D1").StatusCode)
	lines := read[[]api.AccountLine](t, admin.get("/api/office/accounts"))
	find := func(person string) (out api.AccountLine) {
		for _, l := range lines {
			if l.Person == person {
				out = l
			}
		}
		return out
	}
	require.Len(t, find("ann").Sessions, 1)
	assert.False(t, find("ann").Sessions[0].Here)
	assert.True(t, find("a-administrator").Sessions[0].Here)

	set := func(person string, disabled bool) *http.Response {
		return admin.post("/api/office/accounts/"+person+"/access", api.Access{Disabled: disabled})
	}
	assert.Equal(t, "account.own", problem(t, set("a-administrator", true), 409), "nobody locks themselves out")
	assert.Equal(t, "account.none", problem(t, set("office", true), 409))
	require.Equal(t, http.StatusNoContent, set("ann", true).StatusCode)
	require.Equal(t, http.StatusNoContent, set("ann", true).StatusCode, "again")
	assert.Equal(t, "signin.ended", problem(t, phone.get("/api/me"), 401))
	assert.True(t, read[replica.Response](t, phone.syncs("D1")).Ended, "it hands over and deletes what it holds")
	assert.Equal(t, "signin.disabled", problem(t, p.client("").post("/api/signin", api.SignIn{Login: "ann", Password: password}), 403))

	require.Equal(t, http.StatusNoContent, set("ann", false).StatusCode)
	assert.Equal(t, "signin.needed", problem(t, phone.get("/api/me"), 401), "what was signed in then stays out")
	again := p.client("ann")
	require.Equal(t, http.StatusOK, again.get("/api/me").StatusCode)

	lines = read[[]api.AccountLine](t, admin.get("/api/office/accounts"))
	for _, open := range find("ann").Sessions {
		require.Equal(t, http.StatusNoContent, admin.post("/api/office/sessions/"+open.ID+"/end", nil).StatusCode)
	}
	assert.Equal(t, "signin.needed", problem(t, again.get("/api/me"), 401))

	first := read[api.FirstPassword](t, admin.post("/api/office/accounts/office/password", api.NewLogin{Login: "Desk"}))
	assert.Equal(t, "desk", first.Login)
	assert.Equal(t, http.StatusOK, p.client("").post("/api/signin", api.SignIn(first)).StatusCode)
	assert.Equal(t, "account.taken", problem(t, admin.post("/api/office/accounts/a-reviewer/password", api.NewLogin{Login: "ann"}), 409))
	assert.Equal(t, "record.unknown", problem(t, admin.post("/api/office/accounts/nobody/password", api.NewLogin{Login: "x"}), 404))
	for _, login := range []string{"ann", "a-dispatcher", "a-reviewer", "a-stores"} {
		assert.Equal(t, "role.missing", problem(t, p.client(login).get("/api/office/accounts"), 403), login)
	}
}

// Behind TLS, cookies go over it alone, and browsers are told to come no other way.
func TestOverTLS(t *testing.T) {
	p := start(t, func(c *api.Config) { c.Secure = true })
	res := p.client("").post("/api/signin", api.SignIn{Login: "ann", Password: password})
	assert.Contains(t, res.Header.Get("Strict-Transport-Security"), "max-age=")
	require.Len(t, res.Cookies(), 2)
	for _, c := range res.Cookies() {
		assert.True(t, c.Secure && c.HttpOnly, c.Name)
	}
	assert.Empty(t, start(t).client("").get("/healthz").Header.Get("Strict-Transport-Security"))
}

// Very many wrong tries at once are counted before any is looked at; whoever signed in before in their own browser gets in meanwhile.
func TestAFloodOfWrongTries(t *testing.T) {
	p := start(t)
	own := p.client("ann")
	var all sync.WaitGroup
	codes := make(chan int, 100)
	for i := range 100 {
		all.Go(func() {
			res := p.client("").post("/api/signin", api.SignIn{Login: "ann", Password: fmt.Sprint("wrong horse ", i)})
			codes <- res.StatusCode
		})
	}
	all.Wait()
	close(codes)
	count := map[int]int{}
	for c := range codes {
		count[c]++
	}
	assert.Equal(t, map[int]int{401: 5, 429: 95}, count)
	assert.Equal(t, "signin.slow", problem(t, p.client("").post("/api/signin", api.SignIn{Login: "ann", Password: password}), 429),
		"elsewhere even the right one waits")
	assert.Equal(t, http.StatusOK, own.post("/api/signin", api.SignIn{Login: "ann", Password: password}).StatusCode)
}

// An address is that of the connection, unless a proxy that was named says whose it is.
func TestAddressesBehindAProxy(t *testing.T) {
	for _, c := range []struct {
		proxies []string
		wait    bool
	}{{nil, true}, {[]string{"10.0.0.0/8"}, true}, {[]string{"127.0.0.1"}, false}} {
		p := start(t, func(c2 *api.Config) { c2.Proxies = c.proxies })
		for i := range 6 {
			body := fmt.Sprintf(`{"login":"nobody %d","password":"wrong horse"}`, i)
			res := p.client("").send("POST", "/api/signin", strings.NewReader(body), "Content-Type", "application/json", "X-Forwarded-For",
				fmt.Sprint("192.0.2.", i))
			want := 401
			if c.wait && i == 5 {
				want = 429
			}
			assert.Equal(t, want, res.StatusCode, "%v %d", c.proxies, i)
		}
	}
}
