package api_test

import (
	"bytes"
	"fmt"
	"io"
	"math/rand"
	"net/http"
	"net/url"
	"path/filepath"
	"regexp"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// odd are values that somebody hostile, or a program that is wrong, puts where another is expected.
var odd = []string{
	`null`, `true`, `-1`, `1e400`, `123456789012345678901234567890`, `""`, `"\u0000"`, `"<script>alert(1)</script>"`, `"../../etc/passwd"`,
	`[]`, `{}`, `[null]`, `[[[[]]]]`, `{"":null}`,
	`"` + strings.Repeat("x", 70_000) + `"`, "\"\xff\xfe\"", `"\ud800"`, strings.Repeat(`[`, 5000) + strings.Repeat(`]`, 5000),
	strings.Repeat(`{"a":`, 5000) + `1` + strings.Repeat(`}`, 5000), `9e99`, `0.1`, `"2026-13-45T99:99:99Z"`,
}

// fields are names that bodies of the program have.
var fields = []string{"replica", "cursor", "now", "entries", "held", "unsent", "wiped", "key", "login", "password", "old", "new", "do",
	"id", "kind", "subject", "type", "body", "base", "seen", "number", "pin", "from", "to", "disabled", "title", "sections", "by", "parts",
	"sheet"}

var oddIDs = []string{"V1", "a", "..", "%00", "%2e%2e%2f", "%ff", "%0d%0a", strings.Repeat("x", 5000), "W1;drop", "é", "1e9",
	"ann+2026-03-10", "-1", "*"}

// leak is what no answer may say: a path of the machine, a stack, a statement of the database's.
var leak = regexp.MustCompile(`(?i)goroutine |\.go:\d|/tmp/|/home/|/root/|panic|SQLITE|SELECT .* FROM|runtime error|no such (table|file)`)

// Every route is asked by every role, with what is none of it: of the wrong type, missing, far too deep or long, with ids that are none.
// None fails for the program's own sake, and none says how it is made.
func TestHostileRequests(t *testing.T) {
	p := start(t)
	clients := map[string]*client{"": p.client("")}
	for _, login := range []string{"ann", "a-dispatcher", "a-reviewer", "a-stores", "a-administrator"} {
		clients[login] = p.client(login)
	}
	r := rand.New(rand.NewSource(1))
	pick := func(list []string) string { return list[r.Intn(len(list))] }
	body := func() []byte {
		switch r.Intn(6) {
		case 0:
			return []byte(pick(odd))
		case 1:
			return []byte(`{"` + pick(fields) + `":` + pick(odd))
		}
		var b strings.Builder
		b.WriteString("{")
		for i := range 1 + r.Intn(6) {
			if i > 0 {
				b.WriteString(",")
			}
			value := pick(odd)
			if r.Intn(3) == 0 {
				value = fmt.Sprintf(`[{"%s":%s,"%s":%s}]`, pick(fields), value, pick(fields), pick(odd))
			}
			fmt.Fprintf(&b, "%q:%s", pick(fields), value)
		}
		return []byte(b.String() + "}")
	}
	dir, err := filepath.Abs(p.store.Dir())
	require.NoError(t, err)
	parameter := regexp.MustCompile(`[:*]\w+`)
	asked := 0
	for _, route := range p.server.Routes() {
		if route.Path == "/api/events" || route.Path == "/api/signout" { // stay open; would end what the others need
			continue
		}
		for login, c := range clients {
			if login != "" && strings.HasSuffix(route.Path, "/end") || strings.HasSuffix(route.Path, "/access") {
				continue
			}
			for range 14 {
				p.now = p.now.Add(time.Hour) // so that wrong sign-ins need not wait
				path := parameter.ReplaceAllStringFunc(route.Path, func(string) string { return pick(oddIDs) })
				if r.Intn(2) == 0 {
					path += "?" + pick([]string{"date", "q", "from", "to", "text", "thumb", "kind", "order", "part"}) + "=" +
						url.QueryEscape(pick(append(oddIDs, odd...)[:20]))
				}
				var raw io.Reader
				if route.Method != http.MethodGet && route.Method != http.MethodHead {
					raw = bytes.NewReader(body())
				}
				req, err := http.NewRequest(route.Method, p.URL+path, raw)
				if err != nil {
					continue // not even a request
				}
				req.Header.Set("Content-Type", "application/json")
				if r.Intn(4) == 0 {
					req.Header.Set("Content-Encoding", pick([]string{"gzip", "br", ""}))
				}
				if strings.HasPrefix(route.Path, "/api/upload") {
					req.Header.Set("Tus-Resumable", "1.0.0")
					req.Header.Set("Upload-Length", pick([]string{"-1", "0", "9", "99999999999999999999", "x"}))
					req.Header.Set("Upload-Metadata", pick([]string{"hash", "hash YQ==", "hash " + strings.Repeat("A", 4000), "", ",,,"}))
					req.Header.Set("Upload-Offset", pick([]string{"0", "-1", "x"}))
				}
				res, err := c.http.Do(req)
				if !assert.NoError(t, err, "%s %s", route.Method, path) {
					continue
				}
				answer, _ := io.ReadAll(io.LimitReader(res.Body, 1<<20))
				_ = res.Body.Close()
				asked++
				name := fmt.Sprintf("%s %.200s as %q", route.Method, path, login)
				assert.Less(t, res.StatusCode, 500, name)
				if res.StatusCode >= 400 {
					assert.NotRegexp(t, leak, string(answer), name)
					assert.NotContains(t, string(answer), dir, name)
				}
			}
		}
	}
	t.Logf("%d requests to %d routes", asked, len(p.server.Routes()))
	differ, _, err := p.store.Verify(t.Context(), nil)
	require.NoError(t, err)
	assert.Empty(t, differ, "and whatever was taken of it folds")
}
