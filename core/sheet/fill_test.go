package sheet_test

import (
	"fmt"
	"math/rand"
	"strings"
	"testing"
	"time"

	"github.com/shopspring/decimal"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"iter.example/iter/core/audit"
	"iter.example/iter/core/reading"
	"iter.example/iter/core/sheet"
	"iter.example/iter/core/sheet/sheettest"
)

var morning = time.Date(2026, 5, 4, 8, 0, 0, 0, time.UTC)

func when(tests ...sheet.Test) *sheet.Condition { return &sheet.Condition{Tests: tests} }

// survey is a sheet with one of everything that depends on something.
func survey() sheet.Sheet {
	return sheettest.Program(sheet.Sheet{ID: "survey", Version: 1, Title: "Plant room", Pass: dec("60"), Sections: []sheet.Section{
		{Title: "Arrival", Questions: []sheet.Question{
			{ID: "serial", Kind: sheet.Text, Text: "Serial number", Prefill: "asset.serial", Update: true},
			{ID: "leak", Kind: sheet.YesNo, Text: "Any leak?", Required: true,
				Score: map[string]decimal.Decimal{"no": *dec("3"), "yes": *dec("0")},
				On: []sheet.Trigger{{Is: sheet.Equals, Value: "yes", Photo: true, Note: true, Hazard: "Leak in the plant room",
					Block: true, Fails: true, Recommend: &sheet.Recommend{Text: "Change the seal", Part: "SK-38"}}}},
			{ID: "where", Kind: sheet.Choice, Text: "Where?", ShowIf: when(sheet.Test{Question: "leak", Is: sheet.Equals, Value: "yes"}),
				RequireIf: when(sheet.Test{Question: "low", Is: sheet.Above, Value: "2"}),
				Options:   []sheet.Option{{ID: "seal", Text: "Seal"}, {ID: "pipe", Text: "Pipe"}}},
			{ID: "fit", Kind: sheet.Part, Text: "To fit", ShowIf: when(sheet.Test{Question: "where", Is: sheet.Equals, Value: "seal"})},
			{ID: "low", Kind: sheet.Number, Text: "Lowest", Unit: "bar"},
			{ID: "high", Kind: sheet.Number, Text: "Highest", Unit: "kPa", Compare: []sheet.Compare{{Is: sheet.AtLeast, Question: "low"}}},
			{ID: "span", Kind: sheet.Computed, Text: "Span", Unit: "bar", Places: 2, Formula: "high - low"},
			{ID: "press", Kind: sheet.Reading, Text: "Discharge", Point: "discharge", Unit: "bar", Required: true},
			{ID: "plate", Kind: sheet.Photo, Text: "The plate", Least: 2},
		}},
		{ID: "rooms", Title: "Rooms", Repeat: &sheet.Repeat{Noun: "room", Least: 1}, Questions: []sheet.Question{
			{ID: "floor", Kind: sheet.Area, Text: "Floor"},
			{ID: "paint", Kind: sheet.Part, Text: "Coating", Quantity: "floor"},
			{ID: "damp", Kind: sheet.YesNo, Text: "Damp?", Score: map[string]decimal.Decimal{"no": *dec("1"), "yes": *dec("0")},
				On: []sheet.Trigger{{Is: sheet.Equals, Value: "yes", Fails: true}}},
			{ID: "why", Kind: sheet.Text, Text: "Why damp?", Required: true,
				ShowIf: when(sheet.Test{Question: "damp", Is: sheet.Equals, Value: "yes"})},
		}},
		{Title: "Sum", ShowIf: when(sheet.Test{Question: "damp", Is: sheet.Answered}), Questions: []sheet.Question{
			{ID: "total", Kind: sheet.Computed, Text: "Coatings", Formula: "sum(paint) * 1.2"},
			{ID: "damped", Kind: sheet.YesNo, Text: "Told the customer?",
				ShowIf: when(sheet.Test{Question: "damp", Is: sheet.Equals, Value: "yes"})},
		}},
	}})
}

func fill(t require.TestingT, s sheet.Sheet, g sheet.Given, answers ...string) sheet.State {
	c, problems := sheet.Compile(s)
	require.Empty(t, problems)
	if g.Answers == nil {
		g.Answers = map[string]sheet.Answer{}
	}
	for i := 0; i < len(answers); i += 2 {
		g.Answers[answers[i]] = sheet.Answer{Entry: fmt.Sprint(i), At: morning.Add(time.Duration(i) * time.Minute), Person: "p1",
			Value: answers[i+1]}
	}
	return c.Fill(g)
}

func line(s sheet.State, key string) *sheet.Line {
	for i, l := range s.Lines {
		if sheet.Key(l.Question, l.Item) == key {
			return &s.Lines[i]
		}
	}
	return nil
}

func missing(s sheet.State) string {
	out := []string{}
	for _, m := range s.Missing {
		out = append(out, strings.TrimPrefix(m.Code.Code, "missing.")+" "+sheet.Key(m.Question, m.Item))
	}
	return strings.Join(out, ", ")
}

// Rules judge what is shown, and formulas go on with what was measured, in units whose factors have no end too.
func TestRulesJudgeWhatIsShown(t *testing.T) {
	s := sheettest.Program(sheet.Sheet{ID: "flow", Version: 1, Title: "Flow", Sections: []sheet.Section{{Title: "Flow",
		Questions: []sheet.Question{
			{ID: "a", Kind: sheet.Number, Text: "A", Unit: "m³/h"}, {ID: "b", Kind: sheet.Number, Text: "B", Unit: "m³/h"},
			{ID: "both", Kind: sheet.Computed, Text: "Both", Unit: "m³/h", Formula: "a + b",
				On: []sheet.Trigger{{Is: sheet.Below, Value: "5", Fails: true}}},
			{ID: "half", Kind: sheet.Computed, Text: "Half", Unit: "m³/h", Places: 1, Formula: "both / 2",
				On: []sheet.Trigger{{Is: sheet.AtMost, Value: "2.5", Hazard: "Dry"}}},
			{ID: "twice", Kind: sheet.Computed, Text: "And twice", Unit: "m³/h", Places: 2, Formula: "half * 2"},
			{ID: "gauge", Kind: sheet.Number, Text: "Gauge", Unit: "bar",
				On: []sheet.Trigger{{Is: sheet.AtLeast, Value: "2.0684", Hazard: "High"}}},
			{ID: "less", Kind: sheet.YesNo, Text: "Less?", ShowIf: when(sheet.Test{Question: "both", Is: sheet.Below, Value: "5"})},
		}}}})
	alerts := func(st sheet.State) string {
		var out []string
		for _, a := range st.Alerts {
			out = append(out, string(a.Kind)+" "+a.Question)
		}
		return strings.Join(out, ", ")
	}
	five := fill(t, s, sheet.Given{}, "a", "1", "b", "4")
	assert.Equal(t, "5", line(five, "both").Value)
	assert.Equal(t, "hazard half", alerts(five), "5 is not below 5")
	assert.Nil(t, line(five, "less"))
	rounded := fill(t, s, sheet.Given{}, "a", "1", "b", "4.06")
	assert.Equal(t, "5, 2.5, 5.06", line(rounded, "both").Value+", "+line(rounded, "half").Value+", "+line(rounded, "twice").Value)
	assert.Equal(t, "hazard half", alerts(rounded), "2.53 shows as 2.5")
	psi := fill(t, s, sheet.Given{}, "gauge", "30 psi")
	assert.Equal(t, "2.0684", line(psi, "gauge").Value)
	assert.Equal(t, "hazard gauge", alerts(psi))
}

const square = `{"unit":"m","shapes":[{"form":"rectangle","sizes":["4","2.5"]}]}`

func TestFill(t *testing.T) {
	s := survey()
	empty := fill(t, s, sheet.Given{Known: map[string]string{"asset.serial": "BX-1"}})
	assert.Equal(t, "answer leak, answer press, photos plate, items rooms", missing(empty))
	assert.Equal(t, "BX-1", line(empty, "serial").Value)
	assert.True(t, line(empty, "serial").Known, "filled in from what is known")
	assert.Nil(t, line(empty, "where"), "not asked before there is a leak")
	assert.Len(t, empty.Sections, 2)

	begun := fill(t, s, sheet.Given{Begun: morning, Known: map[string]string{"asset.serial": "BX-2"}})
	assert.Empty(t, line(begun, "serial").Value, "what was known counted when it was begun")

	g := sheet.Given{Answers: map[string]sheet.Answer{}, Asset: "A1", Begun: morning, Photos: map[string]int{"plate": 2},
		Readings: map[string]reading.Result{sheet.ReadingKey("A1", "discharge"): {At: morning.Add(time.Hour), Value: *dec("400"),
			Unit: "kPa"}},
		Items: []sheet.Item{{Section: "rooms", ID: "r1", Name: "Cellar"}, {Section: "rooms", ID: "r2", Name: "Loft"},
			{Section: "rooms", ID: "r3", Line: audit.Line{Struck: true}}}}
	got := fill(t, s, g, "leak", "yes", "where", "seal", "fit", `{"part":"SK-38","name":"Seal","quantity":"2","price":"84.5"}`, "low",
		"2.5", "high", "430",
		"floor@r1", square, "paint@r1", `{"part":"CO-1","name":"Coating","quantity":"1","price":"19.9"}`, "damp@r1", "yes", "damp@r2", "no")
	assert.Equal(t, "photo leak, note leak, answer why@r1", missing(got))
	assert.Equal(t, "1.8", line(got, "span").Value, "4.3 bar less 2.5")
	assert.Equal(t, "4", line(got, "press").Value)
	assert.True(t, line(got, "where").Required)
	assert.Equal(t, "169", line(got, "fit").Amount.String())
	assert.Equal(t, "199", line(got, "paint@r1").Amount.String(), "10 m2 at 19.90")
	assert.Equal(t, "238.8", line(got, "total").Value)
	assert.Equal(t, "368", got.Amount.String(), "both lines, and not the computed one again")
	assert.Equal(t, "199", got.Sections[1].Amount.String())
	assert.NotNil(t, line(got, "damped"), "one damp room is enough to ask")
	require.Len(t, got.Blocks, 1)
	kinds := []string{}
	for _, a := range got.Alerts {
		kinds = append(kinds, strings.TrimSpace(string(a.Kind)+" "+a.Text+" "+a.Value))
	}
	assert.Equal(t, []string{"hazard Leak in the plant room", "failed Any leak? yes", "recommendation Change the seal",
		"failed Cellar: Damp? yes"}, kinds)
	assert.Equal(t, "20", got.Score.Percent.String(), "one point of five")
	assert.False(t, got.Score.Passed)
	assert.True(t, got.Done.IsZero())

	hidden := fill(t, s, g, "leak", "no")
	assert.Nil(t, line(hidden, "fit"), "hidden behind a hidden question")
	assert.Equal(t, "199", hidden.Amount.String(), "its answer is kept, and does not count")
	assert.Equal(t, "seal", g.Answers["where"].Value)

	done := fill(t, s, g, "damp@r1", "no")
	assert.Empty(t, missing(done))
	assert.Equal(t, morning.Add(time.Hour), done.Done, "the reading came last")

	crossed := fill(t, s, g, "high", "200")
	assert.Equal(t, "answer.compare_at_least", line(crossed, "high").Problem.Code)
	assert.Equal(t, "wrong high", missing(crossed))
}

func TestNewerSheet(t *testing.T) {
	s := survey()
	s.Format = sheet.Format + 1
	s.Sections[0].Questions = append(s.Sections[0].Questions, sheet.Question{ID: "hologram", Kind: "hologram", Text: "Take a hologram"})
	assert.Error(t, s.Check())
	c, _ := sheet.Compile(s)
	st := c.Fill(sheet.Given{Answers: map[string]sheet.Answer{"leak": {Value: "no"}, "hologram": {Value: "?"}}})
	assert.True(t, st.Newer)
	assert.Contains(t, missing(st), "newer")
	assert.Equal(t, "no", line(st, "leak").Value, "what is understood is still shown")
	assert.NotNil(t, line(st, "hologram"))
}

func TestProblems(t *testing.T) {
	q := func(f func(*sheet.Question)) sheet.Question {
		out := sheet.Question{ID: "q", Kind: sheet.Number, Text: "Q", Unit: "bar"}
		f(&out)
		return out
	}
	other := sheet.Question{ID: "other", Kind: sheet.Number, Text: "Other", Unit: "A",
		ShowIf: when(sheet.Test{Question: "q", Is: sheet.Above, Value: "1"})}
	for want, question := range map[string]sheet.Question{
		"sheet.question_id q2 - id":     q(func(q *sheet.Question) { q.ID = "Q 2" }),
		"sheet.question_id and id":      q(func(q *sheet.Question) { q.ID = "and" }),
		"sheet.question_twice other id": q(func(q *sheet.Question) { q.ID = "other"; q.Kind = sheet.Text }),
		"sheet.question_text q text":    q(func(q *sheet.Question) { q.Text = " " }),
		"sheet.question_kind q kind":    q(func(q *sheet.Question) { q.Kind = "essay" }),
		"unit.unknown q unit":           q(func(q *sheet.Question) { q.Unit = "m//s" }),
		"sheet.options q options": q(func(q *sheet.Question) {
			q.Kind = sheet.Choice
			q.Options = []sheet.Option{{"a", "A"},
				{"a", "B"}}
		}),
		"sheet.limits q min":           q(func(q *sheet.Question) { q.Min, q.Max = dec("2"), dec("1") }),
		"sheet.prefill q prefill":      q(func(q *sheet.Question) { q.Prefill = "asset.secret"; q.Kind = sheet.Text }),
		"sheet.rule_question q showIf": q(func(q *sheet.Question) { q.ShowIf = when(sheet.Test{Question: "nobody", Is: sheet.Answered}) }),
		"sheet.rule q requireIf": q(func(q *sheet.Question) {
			q.RequireIf = when(sheet.Test{Question: "other", Is: sheet.Above, Value: "lots"})
		}),
		"sheet.circle q formula": q(func(q *sheet.Question) {
			q.ShowIf = when(sheet.Test{Question: "other",
				Is: sheet.Answered})
		}),
		"sheet.compare q compare":            q(func(q *sheet.Question) { q.Compare = []sheet.Compare{{sheet.Above, "other"}} }),
		"sheet.rule q on":                    q(func(q *sheet.Question) { q.On = []sheet.Trigger{{Is: sheet.Has, Value: "x"}} }),
		"sheet.quantity q quantity":          q(func(q *sheet.Question) { q.Kind, q.Quantity = sheet.Part, "nobody" }),
		"formula.units q formula":            q(func(q *sheet.Question) { q.Kind, q.Formula = sheet.Computed, "other + 1" }),
		"formula.result q unit":              q(func(q *sheet.Question) { q.Kind, q.Formula = sheet.Computed, "1 + 1" }),
		"formula.empty q formula":            q(func(q *sheet.Question) { q.Kind = sheet.Computed }),
		"sheet.score q score":                q(func(q *sheet.Question) { q.Score = map[string]decimal.Decimal{"high": *dec("1")} }),
		"sheet.point q point":                q(func(q *sheet.Question) { q.Kind = sheet.Reading }),
		"sheet.question_id q in itself - id": q(func(q *sheet.Question) { q.ID = "" }),
	} {
		o := other
		if !strings.Contains(want, "circle") {
			o.ShowIf = nil
		}
		s := sheettest.Program(sheet.Sheet{ID: "s", Version: 1, Title: "S",
			Sections: []sheet.Section{{Title: "A", Questions: []sheet.Question{o, question}}}})
		_, problems := sheet.Compile(s)
		require.NotEmpty(t, problems, want)
		w := strings.Fields(want)
		codes, place := []string{}, []string{}
		for _, p := range problems {
			codes, place = append(codes, p.Code.Code), append(place, p.Field)
		}
		assert.Contains(t, codes, w[0], want)
		assert.Contains(t, place, w[len(w)-1], want)
	}
	self := sheet.Sheet{ID: "s", Version: 1, Title: "S",
		Sections: []sheet.Section{{Title: "A", ShowIf: when(sheet.Test{Question: "q", Is: sheet.Answered}),
			Questions: []sheet.Question{{ID: "q", Kind: sheet.Text, Text: "Q"}}}}}
	assert.Error(t, self.Check(), "a section that its own question shows never shows")
	c, _ := sheet.Compile(self)
	c.Fill(sheet.Given{})
}

// random makes a sheet whose questions depend on one another without a circle, and answers to it.
func random(t *rapid.T) (sheet.Sheet, sheet.Given) {
	return sheettest.Random(rand.New(rand.NewSource(rapid.Int64().Draw(t, "seed"))))
}

// What a sheet comes to does not depend on the order its questions are in.
func TestOrderDoesNotMatter(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		s, g := random(t)
		here := fill(t, s, g)
		mixed := s
		mixed.Sections = append([]sheet.Section{}, s.Sections...)
		r := rand.New(rand.NewSource(rapid.Int64().Draw(t, "shuffle")))
		for i := range mixed.Sections {
			mixed.Sections[i].Questions = append([]sheet.Question{}, s.Sections[i].Questions...)
			q := mixed.Sections[i].Questions
			r.Shuffle(len(q), func(i, j int) { q[i], q[j] = q[j], q[i] })
		}
		r.Shuffle(len(mixed.Sections), func(i, j int) { mixed.Sections[i], mixed.Sections[j] = mixed.Sections[j], mixed.Sections[i] })
		there := fill(t, mixed, g)
		require.Equal(t, here.Answered, there.Answered)
		require.Equal(t, here.Total, there.Total)
		require.ElementsMatch(t, here.Lines, there.Lines)
		require.ElementsMatch(t, here.Missing, there.Missing)
	})
}

// A hidden answer counts for nothing: taking it away changes nothing.
func TestHiddenAnswersDoNotCount(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		s, g := random(t)
		with := fill(t, s, g)
		for key := range g.Answers {
			if line(with, key) == nil {
				delete(g.Answers, key)
			}
		}
		require.Equal(t, with, fill(t, s, g))
	})
}

// Working a sheet out from what it was before comes to the same as working it out from nothing.
func TestRefillIsFill(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		s, g := random(t)
		c, problems := sheet.Compile(s)
		require.Empty(t, problems)
		last := c.Refill(nil, g)
		for range 5 {
			answers := map[string]sheet.Answer{}
			for key, a := range g.Answers {
				answers[key] = a
			}
			for _, key := range rapid.SliceOfN(rapid.SampledFrom([]string{"q1", "q2", "q3", "q1@a", "q2@b", "q4", "q5@a"}), 1, 3).Draw(t,
				"changed") {
				answers[key] = sheet.Answer{Value: rapid.SampledFrom([]string{"", "2", "5", "-1", "lots"}).Draw(t, "to"),
					Known: rapid.Bool().Draw(t, "known")}
			}
			g.Answers = answers
			if rapid.IntRange(0, 4).Draw(t, "items") == 0 && len(g.Items) > 0 {
				g.Items = append([]sheet.Item{}, g.Items[1:]...)
			}
			last = c.Refill(last, g)
			require.Equal(t, c.Fill(g), last.State)
		}
	})
}

func TestFor(t *testing.T) {
	rules := []sheet.Rule{{Sheet: "all"}, {Sheet: "pump", Works: []string{"service"}, Assets: []string{"booster", "borehole"}},
		{Sheet: "care", Sites: []string{"S7"}}, {Sheet: "gone"}, {Sheet: "all", Sites: []string{"S7"}}}
	refs := []string{"all@1", "pump@9", "pump@10", "pump@2", "care@1", "pumps@77"}
	for _, c := range []struct {
		work sheet.Work
		want string
	}{
		{sheet.Work{Kind: "service", Asset: "booster", Site: "S1"}, "all@1 pump@10"},
		{sheet.Work{Kind: "repair", Asset: "booster", Site: "S7"}, "all@1 care@1"},
		{sheet.Work{}, "all@1"},
	} {
		assert.Equal(t, c.want, strings.Join(sheet.For(rules, c.work, refs), " "))
	}
}

func TestChanges(t *testing.T) {
	a, b := survey(), survey()
	assert.Empty(t, sheet.Changes(a, b))
	b.Title = "Plant rooms"
	qs := b.Sections[0].Questions
	qs[1].Required, qs[1].Text = false, "Any leaks?"
	b.Sections[0].Questions = append(append([]sheet.Question{qs[8]}, qs[:4]...), qs[5:8]...) // plate first, low gone
	b.Sections = append(b.Sections, sheet.Section{Title: "End", Questions: []sheet.Question{{ID: "bye", Kind: sheet.Text, Text: "Bye"}}})
	got := []string{}
	for _, c := range sheet.Changes(a, b) {
		got = append(got, strings.TrimSpace(c.What+" "+c.Question+" "+strings.Join(c.Fields, "+")))
	}
	assert.Equal(t, []string{"changed  title", "added", "moved plate", "changed leak required+text", "added bye", "removed low"}, got)
}

func TestParse(t *testing.T) {
	good := `{"id":"s","version":3,"title":"S","sections":[{"title":"A","questions":[{"id":"q","kind":"computed",` +
		`"text":"Q","formula":"1+1","program":{"op":"number","num":"7"}}]}]}`
	s, err := sheet.Parse([]byte(good))
	require.NoError(t, err)
	assert.Nil(t, s.Sections[0].Questions[0].Program, "a file can't bring a program that is not its formula")
	assert.Zero(t, s.Version)
	for name, bad := range map[string]string{
		"not JSON":       `<script>`,
		"a field":        `{"title":"S","onload":"x"}`,
		"something more": good + good,
		"too large":      `{"title":"` + strings.Repeat("x", sheet.MaxFile) + `"}`,
		"newer":          `{"format":99,"title":"S","holograms":[]}`,
		"a bomb":         strings.Repeat(`{"sections":[`, 20000),
		"control":        "{\"title\":\"a\\u0000b\"}",
		"numbers":        `{"title":"S","sections":[{"title":"A","questions":[{"id":"q","kind":"number","text":"Q","min":"lots"}]}]}`,
	} {
		_, err := sheet.Parse([]byte(bad))
		assert.Error(t, err, name)
	}
}

func FuzzParse(f *testing.F) {
	f.Add([]byte(`{"id":"s","title":"S","sections":[{"title":"A","repeat":{"noun":"x"},"questions":[{"id":"q",` +
		`"kind":"number","text":"Q","showIf":{"tests":[{"question":"q","is":"above","value":"1"}]}}]}]}`))
	f.Fuzz(func(t *testing.T, raw []byte) {
		s, err := sheet.Parse(raw)
		if err != nil {
			return
		}
		s.Version = 1
		c, _ := sheet.Compile(s)
		c.Fill(sheet.Given{Answers: map[string]sheet.Answer{"q": {Value: "2"}}, Items: []sheet.Item{{Section: "s", ID: "i"}}})
	})
}

// A signature on a sheet stands for the answers as they were: it says so when they are others since, and no longer when they are the same
// again.
func TestASignatureOnASheet(t *testing.T) {
	c, problems := sheet.Compile(sheet.Sheet{ID: "s", Version: 1, Title: "S",
		Sections: []sheet.Section{{Title: "A", Questions: []sheet.Question{
			{ID: "n", Kind: sheet.Number, Text: "Number"}, {ID: "t", Kind: sheet.Text, Text: "Text"},
			{ID: "by", Kind: sheet.Signature, Text: "Seen by"}}}}})
	require.Empty(t, problems)
	answers := map[string]sheet.Answer{"n": {Value: "3"}}
	fill := func() sheet.State { return c.Fill(sheet.Given{Answers: answers}) }
	before := fill()
	require.NotEmpty(t, before.Digest)
	drawn := fmt.Sprintf(`{"name":"Ida Moss","strokes":[[[0,0],[300,90]]],"digest":%q}`, before.Digest)
	answers["by"] = sheet.Answer{Value: drawn}
	assert.False(t, fill().Changed, "signing changes nothing")
	answers["n"] = sheet.Answer{Value: "4"}
	after := fill()
	assert.True(t, after.Changed)
	assert.True(t, after.Lines[2].Changed)
	answers["n"] = sheet.Answer{Value: "3", Note: "measured twice"}
	assert.True(t, fill().Changed, "a note is part of it")
	answers["n"] = sheet.Answer{Value: "3"}
	assert.False(t, fill().Changed)
	answers["by"] = sheet.Answer{Value: `{"name":"Ida Moss","strokes":[[[0,0],[300,90]]]}`}
	answers["t"] = sheet.Answer{Value: "x"}
	assert.False(t, fill().Changed, "of one that says not what it stands for, nothing is known")
}
