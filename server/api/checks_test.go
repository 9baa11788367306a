package api_test

import (
	"bytes"
	"context"
	"encoding/json"
	"net/http"
	"strings"
	"testing"

	"github.com/oklog/ulid/v2"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"iter.example/iter/core/ledger"
	"iter.example/iter/core/records"
	"iter.example/iter/core/sheet"
	"iter.example/iter/core/work"
	"iter.example/iter/server/api"
	"iter.example/iter/server/store"
)

const draft = `{"id":"heads","version":1,"title":"Heads","sections":[{"title":"A","questions":[{"id":"low","kind":"number","text":"Low","unit":"bar"},{"id":"twice","kind":"computed","text":"Twice","unit":"bar","formula":"low * 2"}]}]}`

func (c *client) does(kind, typ, id string, body any) *http.Response {
	raw, err := json.Marshal(body)
	require.NoError(c.p.t, err)
	return c.post("/api/office/entries", api.Command{ID: ulid.Make().String(), Kind: kind, Subject: ledger.Ref{Type: typ, ID: id}, Body: raw})
}

// A sheet is looked at, kept, published with its formulas parsed, listed, exported and read back.
func TestASheetsLife(t *testing.T) {
	p := start(t)
	c := p.client("a-dispatcher")
	var s sheet.Sheet
	require.NoError(t, json.Unmarshal([]byte(draft), &s))
	broken := s
	broken.Sections = []sheet.Section{{Title: "A", Questions: []sheet.Question{{ID: "x", Kind: sheet.Computed, Text: "X", Formula: "low +* 2"}}}}
	page := read[api.SheetPage](t, c.post("/api/office/sheets", broken))
	require.Len(t, page.Problems, 1, "once, by why it does not read")
	assert.Equal(t, "formula.unreadable x formula", strings.Join([]string{page.Problems[0].Code.Code, page.Problems[0].Question, page.Problems[0].Field}, " "))
	assert.Equal(t, "formula.empty", problem(t, c.does("record.created", "sheet", "heads@1", broken), 409), "what does not read is not published")

	require.Equal(t, 200, c.does("record.created", "sheetdraft", "heads", s).StatusCode)
	lines := read[[]api.SheetLine](t, c.get("/api/office/sheets"))
	i := lineOf(lines, "heads")
	assert.Equal(t, api.SheetLine{ID: "heads", Title: "Heads", Draft: true, Questions: 2}, lines[i])
	require.Equal(t, 200, c.does("record.created", "sheet", "heads@1", s).StatusCode)
	page = read[api.SheetPage](t, c.get("/api/office/sheets/heads"))
	assert.Equal(t, 2, page.Sheet.Version, "what is designed next is the next version")
	assert.NotNil(t, page.Sheet.Sections[0].Questions[1].Program)
	assert.Empty(t, page.Changes)
	page.Sheet.Sections[0].Questions[0].Text = "Lowest"
	assert.Equal(t, []sheet.Change{{What: "changed", Section: "A", Question: "low", Text: "Lowest", Fields: []string{"text"}}}, read[api.SheetPage](t, c.post("/api/office/sheets", page.Sheet)).Changes)
	assert.Equal(t, "record.exists", problem(t, c.does("record.created", "sheet", "heads@1", s), 409), "a version never changes")

	res := c.get("/api/office/sheetfile/heads@1")
	require.Equal(t, 200, res.StatusCode)
	var file bytes.Buffer
	_, err := file.ReadFrom(res.Body)
	require.NoError(t, err)
	assert.NotContains(t, file.String(), "program")
	back := read[api.SheetPage](t, c.send("POST", "/api/office/sheetfile", bytes.NewReader(file.Bytes())))
	assert.Empty(t, back.Problems)
	assert.Equal(t, "low * 2", back.Sheet.Sections[0].Questions[1].Formula)
	assert.Equal(t, "sheet.file", problem(t, c.send("POST", "/api/office/sheetfile", strings.NewReader("<script>")), 400))
	assert.Equal(t, "sheet.file_large", problem(t, c.send("POST", "/api/office/sheetfile", strings.NewReader(strings.Repeat("x", sheet.MaxFile+2))), 400))
	assert.Equal(t, "record.unknown", problem(t, c.get("/api/office/sheets/none"), 404))
	assert.Equal(t, "role.missing", problem(t, p.client("ann").get("/api/office/sheets"), 403))
}

func lineOf(lines []api.SheetLine, id string) int {
	for i, l := range lines {
		if l.ID == id {
			return i
		}
	}
	return -1
}

// Rules attach the newest version of a sheet to new work, by kind of work and of machine; by hand goes before rules.
func TestSheetsByRule(t *testing.T) {
	p := start(t)
	c := p.client("a-dispatcher")
	var s sheet.Sheet
	require.NoError(t, json.Unmarshal([]byte(draft), &s))
	for v := 1; v <= 2; v++ {
		s.Version = v
		require.Equal(t, 200, c.does("record.created", "sheet", s.Ref(), s).StatusCode)
	}
	require.Equal(t, 200, c.does("record.amended", "policy", "company", map[string]any{"sheetRules": []records.SheetRule{{Sheet: "heads", Works: []string{"service"}, Assets: []string{"booster"}}}}).StatusCode)
	order := func(id, kind string, sheets []string) []string {
		o := work.Order{Customer: "C1", Site: "S1", Asset: "A1", Problem: "x", Priority: work.Soon, Minutes: 30, Kind: kind, Sheets: sheets}
		require.Equal(t, 200, c.does("work.opened", "workorder", id, o).StatusCode)
		var have work.Order
		require.NoError(t, p.store.Read(context.Background(), func(tx *store.Tx) error { _, err := tx.Load("workorder", id, &have); return err }))
		return have.Sheets
	}
	assert.Equal(t, []string{"heads@2"}, order("WA", "service", nil))
	assert.Empty(t, order("WB", "repair", nil))
	assert.Equal(t, []string{"heads@1"}, order("WC", "service", []string{"heads@1"}))
}

// The formulas of a kind of machine are parsed when it is saved; one that is wrong leaves it as it was.
func TestKindsOfMachines(t *testing.T) {
	c := start(t).client("a-dispatcher")
	kind := `{"name":"Booster","points":[{"id":"a","name":"A","unit":"bar"}],"derived":[{"id":"d","name":"D","unit":"%s","places":1,"formula":"%s"}]}`
	put := func(unit, formula string) *http.Response {
		return c.does("record.created", "assetkind", "k", json.RawMessage(strings.Replace(strings.Replace(kind, "%s", unit, 1), "%s", formula, 1)))
	}
	assert.Equal(t, "derived.unreadable", problem(t, put("bar", "a +"), 409))
	assert.Equal(t, "formula.result", problem(t, put("A", "a * 2"), 409))
	assert.Equal(t, "formula.name", problem(t, put("bar", "b * 2"), 409))
	require.Equal(t, 200, put("kPa", "a * 2").StatusCode)
	kinds := read[[]api.KindLine](t, c.get("/api/office/kinds"))
	assert.NotNil(t, kinds[0].Kind.Derived[0].Program)
}

func TestExportRefusesWhatIsNotThere(t *testing.T) {
	c := start(t).client("a-reviewer")
	assert.Equal(t, "export.range", problem(t, c.get("/api/office/export/answers.csv?from=2026-03-10"), 400))
	assert.Equal(t, "http.not_found", problem(t, c.get("/api/office/export/secrets.csv?from=2026-03-10&to=2026-03-11"), 404))
	res := c.get("/api/office/export/answers.csv?from=2026-03-10&to=2026-03-11")
	assert.Equal(t, `attachment; filename="answers-2026-03-10-to-2026-03-11.csv"`, res.Header.Get("Content-Disposition"))
}
