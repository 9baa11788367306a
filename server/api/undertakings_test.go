package api_test

import (
	"testing"

	"github.com/oklog/ulid/v2"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"iter.example/iter/core/ledger"
	"iter.example/iter/core/records"
	"iter.example/iter/core/work"
	"iter.example/iter/server/api"
	"iter.example/iter/server/office"
)

// An undertaking sums up its work orders, for those who may see it alone; others are not told that it is there.
func TestUndertakings(t *testing.T) {
	p := start(t)
	desk, other := p.client("a-dispatcher"), p.client("a-reviewer")
	send := func(c *client, kind, typ, id string, body any) int {
		return c.command(office.Command{ID: ulid.Make().String(), Kind: kind, Subject: ledger.Ref{Type: typ, ID: id},
			Body: raw(t, body)}).StatusCode
	}
	all := func(c *client) []api.UndertakingLine {
		return read[[]api.UndertakingLine](t, c.get("/api/office/undertakings"))
	}
	require.Equal(t, 200, send(desk, "record.created", "undertaking", "U1", records.Undertaking{Name: "Fitting out the dairy"}))
	require.Equal(t, 200, send(desk, "record.amended", "workorder", "W1", map[string]string{"undertaking": "U1"}))

	page := read[api.UndertakingPage](t, other.get("/api/office/undertakings/U1"))
	require.Len(t, page.Orders, 1)
	assert.Equal(t, "4127", page.Orders[0].Number)
	assert.Equal(t, work.Underway, page.Orders[0].State)
	assert.Equal(t, page.Hours, page.Orders[0].Hours)
	one := read[api.OrderPage](t, other.get("/api/office/orders/W1"))
	assert.Equal(t, "Fitting out the dairy", one.Undertaking.Name)
	used := 0
	for _, v := range one.Visits {
		used += len(v.Parts)
	}
	assert.Len(t, page.Parts, used)

	require.Equal(t, 200, send(desk, "record.amended", "undertaking", "U1", map[string]any{"seers": []string{desk.person(t)}}))
	assert.Len(t, all(desk), 1)
	assert.Empty(t, all(other))
	assert.Equal(t, "record.unknown", problem(t, other.get("/api/office/undertakings/U1"), 404))
	assert.Nil(t, read[api.OrderPage](t, other.get("/api/office/orders/W1")).Undertaking)
	assert.NotEqual(t, 200, send(other, "record.amended", "undertaking", "U1", map[string]any{"seers": nil}), "they would let themselves in")
	assert.NotEqual(t, 200, send(desk, "record.created", "undertaking", "U2", records.Undertaking{Name: " "}))
	assert.Equal(t, 403, p.client("ann").get("/api/office/undertakings").StatusCode)
}

// person is the id of whoever is signed in.
func (c *client) person(t *testing.T) string {
	t.Helper()
	return read[api.Me](t, c.get("/api/me")).ID
}

// The ways in that are new ask for the right: phones for the directory, the office for the rest.
func TestNewWaysInAskForTheRight(t *testing.T) {
	p := start(t)
	for login, may := range map[string]map[string]int{
		"ann": {"/api/directory": 200, "/api/directory/C1": 200, "/api/office/knowhow": 403, "/api/office/people": 403,
			"/api/office/undertakings/U1": 403, "/api/office/orders/W1/paper.pdf": 403, "/api/office/stores/ahead": 403},
		"a-stores": {"/api/directory": 403, "/api/directory/C1": 403, "/api/office/knowhow": 200, "/api/office/people": 200,
			"/api/office/orders/W1/paper.pdf": 200, "/api/office/stores/ahead": 200},
		"": {"/api/directory": 401, "/api/directory/C1": 401, "/api/office/knowhow": 401, "/api/office/orders/W1/paper.pdf": 401},
	} {
		c := p.client(login)
		for path, want := range may {
			assert.Equal(t, want, c.get(path).StatusCode, "%s %s", login, path)
		}
	}
}
