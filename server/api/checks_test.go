package api_test

import (
	"bytes"
	"context"
	"encoding/json"
	"net/http"
	"strings"
	"testing"
	"time"

	"github.com/oklog/ulid/v2"
	"github.com/shopspring/decimal"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"iter.example/iter/core/ledger"
	"iter.example/iter/core/ledger/ledgertest"
	"iter.example/iter/core/reading"
	"iter.example/iter/core/sheet"
	"iter.example/iter/core/substance"
	"iter.example/iter/core/work"
	"iter.example/iter/server/api"
	"iter.example/iter/server/checks"
	"iter.example/iter/server/office"
	"iter.example/iter/server/store"
)

const draft = `{"id":"heads","version":1,"title":"Heads","sections":[{"title":"A","questions":[{"id":"low",` +
	`"kind":"number","text":"Low","unit":"bar"},{"id":"twice","kind":"computed","text":"Twice","unit":"bar","formula":"low * 2"}]}]}`

func (c *client) does(kind, typ, id string, body any) *http.Response {
	raw, err := json.Marshal(body)
	require.NoError(c.p.t, err)
	return c.command(office.Command{ID: ulid.Make().String(), Kind: kind, Subject: ledger.Ref{Type: typ, ID: id}, Body: raw})
}

// A sheet is looked at, kept, published with its formulas parsed, listed, exported and read back.
func TestASheetsLife(t *testing.T) {
	p := start(t)
	c := p.client("a-dispatcher")
	var s sheet.Sheet
	require.NoError(t, json.Unmarshal([]byte(draft), &s))
	broken := s
	broken.Sections = []sheet.Section{{Title: "A",
		Questions: []sheet.Question{{ID: "x", Kind: sheet.Computed, Text: "X", Formula: "low +* 2"}}}}
	page := read[api.SheetPage](t, c.post("/api/office/sheets", broken))
	require.Len(t, page.Problems, 1, "once, by why it does not read")
	assert.Equal(t, "formula.unreadable x formula",
		strings.Join([]string{page.Problems[0].Code.Code, page.Problems[0].Question, page.Problems[0].Field}, " "))
	assert.Equal(t, "formula.empty", problem(t, c.does("record.created", "sheet", "heads@1", broken), 409),
		"what does not read is not published")

	require.Equal(t, 200, c.does("record.created", "sheetdraft", "heads", s).StatusCode)
	lines := read[[]api.SheetLine](t, c.get("/api/office/sheets"))
	i := lineOf(lines, "heads")
	assert.Equal(t, api.SheetLine{ID: "heads", Title: "Heads", Draft: true, Questions: 2}, lines[i])
	// What is taken back in a draft is gone when it is opened again.
	require.Equal(t, 200, c.does("record.amended", "sheetdraft", "heads",
		json.RawMessage(`{"id":"heads","version":1,"title":"Heads","pass":"70"}`)).StatusCode)
	assert.Equal(t, "70", read[api.SheetPage](t, c.get("/api/office/sheets/heads")).Sheet.Pass.String())
	require.Equal(t, 200, c.does("record.amended", "sheetdraft", "heads",
		json.RawMessage(`{"id":"heads","version":1,"title":"Heads","pass":null}`)).StatusCode)
	assert.Nil(t, read[api.SheetPage](t, c.get("/api/office/sheets/heads")).Sheet.Pass)
	require.Equal(t, 200, c.does("record.created", "sheet", "heads@1", s).StatusCode)
	page = read[api.SheetPage](t, c.get("/api/office/sheets/heads"))
	assert.Equal(t, 2, page.Sheet.Version, "what is designed next is the next version")
	assert.NotNil(t, page.Sheet.Sections[0].Questions[1].Program)
	assert.Empty(t, page.Changes)
	page.Sheet.Sections[0].Questions[0].Text = "Lowest"
	assert.Equal(t, []sheet.Change{{What: "changed", Section: "A", Question: "low", Text: "Lowest", Fields: []string{"text"}}},
		read[api.SheetPage](t, c.post("/api/office/sheets", page.Sheet)).Changes)
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
	assert.Equal(t, "sheet.file_large", problem(t, c.send("POST", "/api/office/sheetfile",
		strings.NewReader(strings.Repeat("x", sheet.MaxFile+2))), 400))
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
	none := ledgertest.Changed("sheets", map[string]any{"rules": nil})
	assert.Equal(t, "role.missing", problem(t, c.does("settings.changed", "settings", "sheets", none), 403),
		"rules are the administrator's")
	require.Equal(t, 200, p.client("a-administrator").does("settings.changed", "settings", "sheets",
		ledgertest.Changed("sheets", map[string]any{"rules": []sheet.Rule{{Sheet: "heads", Works: []string{"service"},
			Assets: []string{"booster"}}}})).StatusCode)
	order := func(id, kind string, sheets []string) []string {
		o := work.Order{Customer: "C1", Site: "S1", Asset: "A1", Problem: "x", Priority: work.Soon, Minutes: 30, Kind: kind, Sheets: sheets}
		require.Equal(t, 200, c.does("work.opened", "workorder", id, o).StatusCode)
		var have work.Order
		require.NoError(t, p.store.Read(context.Background(), func(tx *store.Tx) error {
			_,
				err := tx.Load("workorder", id, &have)
			return err
		}))
		return have.Sheets
	}
	assert.Equal(t, []string{"heads@2"}, order("WA", "service", nil))
	assert.Empty(t, order("WB", "repair", nil))
	assert.Equal(t, []string{"heads@1"}, order("WC", "service", []string{"heads@1"}))
}

// The formulas of a kind of machine are parsed when it is saved; one that is wrong leaves it as it was.
func TestKindsOfMachines(t *testing.T) {
	c := start(t).client("a-dispatcher")
	kind := `{"name":"Booster","points":[{"id":"a","name":"A","unit":"bar"}],"derived":[{"id":"d","name":"D","unit":"%s",` +
		`"places":1,"formula":"%s"}]}`
	put := func(unit, formula string) *http.Response {
		return c.does("record.created", "assetkind", "k",
			json.RawMessage(strings.Replace(strings.Replace(kind, "%s", unit, 1), "%s", formula, 1)))
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

// What is recorded in the field is on the pages of the office: the visit, the machine, the site, the list of what wants attention.
func TestWhatWasCheckedIsShown(t *testing.T) {
	p := start(t)
	c := p.client("a-reviewer")
	m := ledgertest.NewMaker("ann-phone", 5)
	says := func(kind string, body any) {
		m.Wait(time.Minute)
		require.NoError(t, p.store.Write(context.Background(), func(tx *store.Tx) error {
			_, err := tx.Record(m.Entry("ann", kind, "visit", "V1", body), p.now)
			return err
		}))
	}
	says("sheet.begun", ledger.SheetBegun{Sheet: "pump@1"})
	says("sheet.answered", ledger.Answered{Sheet: "pump@1", Question: "noise", Value: "loud", Note: "at night"})
	says("reading.taken", ledger.Taken{Asset: "A1", Point: "discharge", Value: decimal.NewFromInt(1), Unit: "bar"})
	says("substance.moved", ledger.SubstanceMoved{Site: "S1", Substance: "coolant", Act: substance.Delivered,
		Amount: decimal.NewFromInt(3), Unit: "kg"})
	says("work.proposed", ledger.Proposed{Kind: work.FollowUp, Text: "Come again"})

	page := read[api.VisitPage](t, c.get("/api/office/visits/V1"))
	require.Len(t, page.Sheets, 1)
	assert.Equal(t, "Pump set", page.Sheets[0].Sheet.Title)
	assert.Equal(t, 1, page.Sheets[0].State.Answered)
	assert.False(t, page.Sheets[0].State.Begun.IsZero())
	words := map[string]map[string]string{}
	for _, l := range page.Trail {
		words[l.Kind] = l.Args
		if l.Kind == "reading.taken" {
			assert.Contains(t, l.Strike.Touched, ledger.MeasuredRef("A1"), "so that striking it out finds the history")
		}
		if l.Kind == "substance.moved" {
			assert.Contains(t, l.Strike.Touched, ledger.SubstancesRef("S1"))
		}
	}
	assert.Equal(t, "Noise Loud Pump set",
		words["sheet.answered"]["question"]+" "+words["sheet.answered"]["value"]+" "+words["sheet.answered"]["sheet"])
	assert.Equal(t, "coolant 3 kg",
		words["substance.moved"]["substance"]+" "+words["substance.moved"]["amount"]+" "+words["substance.moved"]["unit"])
	assert.Equal(t, "Come again", words["work.proposed"]["text"])

	series := read[[]checks.Series](t, c.get("/api/office/measured/A1"))
	assert.Equal(t, reading.AlarmLow, series[0].Values[0].Level)
	assert.Empty(t, read[[]checks.Series](t, c.get("/api/office/measured/none")))
	concerns := read[[]checks.Concern](t, c.get("/api/office/attention"))
	require.Len(t, concerns, 2)
	assert.Equal(t, http.StatusOK, c.does("attention.handled", "visit", "V1",
		ledger.AttentionHandled{Key: concerns[0].Key, Reason: "seen"}).StatusCode)
	assert.Len(t, read[[]checks.Concern](t, c.get("/api/office/attention")), 1)
	assert.Len(t, read[[]checks.Concern](t, c.get("/api/office/attention?handled")), 1)
	log := read[checks.SubstancePage](t, c.get("/api/office/substances/S1"))
	assert.Len(t, log.Moves, 1)
	assert.Equal(t, "Orrisk Pump House 3", log.Name)
	assert.Equal(t, "Test", read[ledger.Settings](t, c.get("/api/office/settings")).Company.Name)
	for _, path := range []string{"attention", "measured/A1", "substances/S1", "settings", "kinds", "sheets",
		"export/answers.csv?from=2026-03-10&to=2026-03-10"} {
		assert.Equal(t, http.StatusForbidden, p.client("ann").get("/api/office/"+path).StatusCode, path)
	}
}
