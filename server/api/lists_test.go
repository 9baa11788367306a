package api_test

import (
	"bytes"
	"io"
	"net/url"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"github.com/xuri/excelize/v2"

	"iter.example/iter/core/records"
	"iter.example/iter/server/api"
	"iter.example/iter/server/store"
)

func TestListsAreAskedForInAnAddress(t *testing.T) {
	p := start(t)
	desk := p.client("a-dispatcher")
	all := read[store.ListPage](t, desk.get("/api/office/lists/orders"))
	require.NotZero(t, all.Total)
	where := url.QueryEscape(`[{"column":"customer","in":["C1"]}]`)
	assert.NotZero(t, read[store.ListPage](t, desk.get("/api/office/lists/orders?where="+where+"&sort=-opened")).Total)
	groups := read[api.ListGroups](t, desk.get("/api/office/lists/orders/groups?by=state"))
	n := 0
	for _, g := range groups.Groups {
		n += g.Count
	}
	assert.Equal(t, all.Total, n)
	assert.Len(t, read[api.ListAll](t, desk.get("/api/office/lists/orders/all")).Lines, all.Total)
	for path, code := range map[string]string{"spells": "list.unknown", "orders?where=[1": "list.filter",
		"orders?where=%5B1%5D": "list.filter",
		"orders?sort=secret":   "list.filter", "orders?ids=x": "list.filter", "orders/groups?by=": "list.filter"} {
		res := desk.get("/api/office/lists/" + path)
		assert.Equal(t, code, problem(t, res, res.StatusCode), path)
	}
	assert.Equal(t, 403, p.client("ann").get("/api/office/lists/orders").StatusCode, "it is the office's")
}

func TestFilesOfLists(t *testing.T) {
	p := start(t)
	desk := p.client("a-dispatcher")
	ask := api.ListFile{Format: "csv", Columns: []api.FileColumn{{Name: "number", Title: "Number"}, {Name: "opened", Title: "Opened"},
		{Name: "minutes", Title: "Minutes"}, {Name: "state", Title: "State", Words: map[string]string{"open": "nobody planned yet"}}}}
	ask.Sort = "number"
	file := func() []byte {
		res := desk.post("/api/office/lists/orders/file", ask)
		defer res.Body.Close()
		out, err := io.ReadAll(res.Body)
		require.NoError(t, err)
		require.Equal(t, 200, res.StatusCode, string(out))
		return out
	}
	lines := strings.Split(string(file()), "\r\n")
	assert.Equal(t, "Number,Opened,Minutes,State", lines[0])

	ask.Format = "xlsx"
	book, err := excelize.OpenReader(bytes.NewReader(file()))
	require.NoError(t, err)
	rows, err := book.GetRows(book.GetSheetName(0))
	require.NoError(t, err)
	assert.Equal(t, len(lines)-2, len(rows)-1, "the same lines")
	assert.Equal(t, strings.Split(lines[1], ",")[1], rows[1][1], "moments are on the company's clock")
	kind, err := book.GetCellType(book.GetSheetName(0), "C2")
	require.NoError(t, err)
	assert.NotEqual(t, excelize.CellTypeInlineString, kind, "numbers are numbers")

	for _, wrong := range []api.ListFile{{Format: "exe", Columns: ask.Columns}, {Format: "csv"},
		{Format: "csv", Columns: []api.FileColumn{{Name: "text", Title: "What is found"}}}} {
		res := desk.post("/api/office/lists/orders/file", wrong)
		assert.Equal(t, "list.filter", problem(t, res, res.StatusCode))
	}
}

// What somebody keeps for themselves nobody else sees; what they share, all do.
func TestViewsOfLists(t *testing.T) {
	p := start(t)
	desk, other := p.client("a-dispatcher"), p.client("a-administrator")
	keep := func(id string, shared bool) {
		res := desk.does("record.created", "listview", id, records.ListView{Name: id, List: "orders", Owner: "a-dispatcher", Shared: shared})
		require.Equal(t, 200, res.StatusCode)
	}
	keep("mine", false)
	keep("ours", true)
	names := func(c *client) (out []string) {
		for _, v := range read[[]api.SavedView](t, c.get("/api/office/views")) {
			out = append(out, v.View.Name)
		}
		return out
	}
	assert.Equal(t, []string{"mine", "ours"}, names(desk))
	assert.Equal(t, []string{"ours"}, names(other))
}
