package sheet_test

import (
	"testing"

	"github.com/shopspring/decimal"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"iter.example/iter/core/reading"
	"iter.example/iter/core/sheet"
)

// Each kind of question as one that another waits for: which answers show it, and which do not.
func TestConditionsByKind(t *testing.T) {
	options := []sheet.Option{{ID: "seal", Text: "Seal"}, {ID: "pipe", Text: "Pipe"}}
	for name, c := range map[string]struct {
		question sheet.Question
		is       sheet.Is
		value    string
		show     []string
		hide     []string
	}{
		"yes":     {sheet.Question{Kind: sheet.YesNo}, sheet.Equals, "yes", []string{"yes"}, []string{"no", ""}},
		"not yes": {sheet.Question{Kind: sheet.YesNo}, sheet.Differs, "yes", []string{"no"}, []string{"yes", ""}},
		"an option": {sheet.Question{Kind: sheet.Choice, Options: options}, sheet.Equals, "seal", []string{"seal"},
			[]string{"pipe", ""}},
		"another option": {sheet.Question{Kind: sheet.Choice, Options: options}, sheet.Differs, "seal", []string{"pipe"},
			[]string{"seal", ""}},
		"has": {sheet.Question{Kind: sheet.Several, Options: options}, sheet.Has, "pipe", []string{"pipe", "seal,pipe"},
			[]string{"seal", ""}},
		"above": {sheet.Question{Kind: sheet.Number, Unit: "bar"}, sheet.Above, "2", []string{"2.1", "300 kPa"},
			[]string{"2", "1", "150 kPa", "", "lots"}},
		"at least": {sheet.Question{Kind: sheet.Number, Unit: "bar"}, sheet.AtLeast, "2", []string{"2", "2.1", "200 kPa"},
			[]string{"1.99", ""}},
		"below":   {sheet.Question{Kind: sheet.Number}, sheet.Below, "-1", []string{"-1.5"}, []string{"-1", "0", ""}},
		"at most": {sheet.Question{Kind: sheet.Number}, sheet.AtMost, "0.5", []string{"0,5", "-3"}, []string{"0.51", ""}},
		"equal, written so": {sheet.Question{Kind: sheet.Number}, sheet.Equals, "1.50", []string{"1.5", "1,500"[:4]},
			[]string{"1.51", ""}},
		"a date before": {sheet.Question{Kind: sheet.Date}, sheet.Below, "2026-03-01", []string{"2026-02-28"},
			[]string{"2026-03-01", "2027-01-01", ""}},
		"a moment from": {sheet.Question{Kind: sheet.DateTime}, sheet.AtLeast, "2026-03-01T10:00",
			[]string{"2026-03-01T10:00", "2026-03-02T00:00"}, []string{"2026-03-01T09:59", ""}},
		"words":  {sheet.Question{Kind: sheet.Text}, sheet.Equals, "none", []string{"none", " none "}, []string{"None", ""}},
		"a code": {sheet.Question{Kind: sheet.Scan}, sheet.Differs, "X1", []string{"X2"}, []string{"X1", ""}},
		"a price": {sheet.Question{Kind: sheet.Part}, sheet.Above, "100", []string{`{"part":"P","quantity":"3","price":"40"}`},
			[]string{`{"part":"P","quantity":"2","price":"40"}`, ""}},
		"a size": {sheet.Question{Kind: sheet.Area}, sheet.AtLeast, "6",
			[]string{`{"unit":"cm","shapes":[{"form":"rectangle","sizes":["200","300"]}]}`},
			[]string{`{"unit":"m","shapes":[{"form":"circle","sizes":["1"]}]}`, ""}},
		"answered":           {sheet.Question{Kind: sheet.Text}, sheet.Answered, "", []string{"x"}, []string{"", "  "}},
		"not answered":       {sheet.Question{Kind: sheet.Text}, sheet.Empty, "", []string{"", "  "}, []string{"x"}},
		"unreadable is none": {sheet.Question{Kind: sheet.Number}, sheet.Empty, "", []string{"lots", ""}, []string{"3"}},
	} {
		q := c.question
		q.ID, q.Text = "q", "Q"
		s := sheet.Sheet{ID: "s", Version: 1, Title: "S", Sections: []sheet.Section{{Title: "A", Questions: []sheet.Question{
			q, {ID: "then", Kind: sheet.Text, Text: "Then", ShowIf: when(sheet.Test{Question: "q", Is: c.is, Value: c.value})}}}}}
		for _, answers := range []struct {
			list []string
			show bool
		}{{c.show, true}, {c.hide, false}} {
			for _, a := range answers.list {
				assert.Equal(t, answers.show, line(fill(t, s, sheet.Given{}, "q", a), "then") != nil, "%s: %q", name, a)
			}
		}
	}
}

// What can't be compared so is a problem of whoever asks, and does not show the question.
func TestConditionsThatMakeNoSense(t *testing.T) {
	for name, c := range map[string]struct {
		question sheet.Question
		is       sheet.Is
		value    string
	}{
		"yes or no above":     {sheet.Question{Kind: sheet.YesNo}, sheet.Above, "yes"},
		"maybe":               {sheet.Question{Kind: sheet.YesNo}, sheet.Equals, "maybe"},
		"an option not there": {sheet.Question{Kind: sheet.Choice, Options: []sheet.Option{{"a", "A"}, {"b", "B"}}}, sheet.Equals, "c"},
		"has, of a choice":    {sheet.Question{Kind: sheet.Choice, Options: []sheet.Option{{"a", "A"}, {"b", "B"}}}, sheet.Has, "a"},
		"is, of several":      {sheet.Question{Kind: sheet.Several, Options: []sheet.Option{{"a", "A"}, {"b", "B"}}}, sheet.Equals, "a"},
		"text above":          {sheet.Question{Kind: sheet.Text}, sheet.Above, "a"},
		"no number":           {sheet.Question{Kind: sheet.Number}, sheet.Above, "lots"},
		"no date":             {sheet.Question{Kind: sheet.Date}, sheet.Below, "soon"},
		"an instruction":      {sheet.Question{Kind: sheet.Instruction}, sheet.Answered, ""},
		"no such comparison":  {sheet.Question{Kind: sheet.Number}, "resembles", "1"},
	} {
		q := c.question
		q.ID, q.Text = "q", "Q"
		s := sheet.Sheet{ID: "s", Version: 1, Title: "S", Sections: []sheet.Section{{Title: "A", Questions: []sheet.Question{
			q, {ID: "then", Kind: sheet.Text, Text: "Then", ShowIf: when(sheet.Test{Question: "q", Is: c.is, Value: c.value})}}}}}
		_, problems := sheet.Compile(s)
		require.NotEmpty(t, problems, name)
		assert.Equal(t, "then", problems[0].Question, name)
		assert.Equal(t, "showIf", problems[0].Field, name)
	}
}

func TestAnyAndAll(t *testing.T) {
	tests := []sheet.Test{{Question: "a", Is: sheet.Equals, Value: "yes"}, {Question: "b", Is: sheet.Equals, Value: "yes"}}
	s := sheet.Sheet{ID: "s", Version: 1, Title: "S", Sections: []sheet.Section{{Title: "A", Questions: []sheet.Question{
		{ID: "a", Kind: sheet.YesNo, Text: "A"}, {ID: "b", Kind: sheet.YesNo, Text: "B"},
		{ID: "all", Kind: sheet.Text, Text: "All", ShowIf: &sheet.Condition{Tests: tests}},
		{ID: "any", Kind: sheet.Text, Text: "Any", ShowIf: &sheet.Condition{Any: true, Tests: tests}},
		{ID: "always", Kind: sheet.Text, Text: "Always", ShowIf: &sheet.Condition{Any: true}},
	}}}}
	for _, c := range []struct {
		a, b     string
		all, any bool
	}{{"yes", "yes", true, true}, {"yes", "no", false, true}, {"no", "yes", false, true}, {"no", "no", false, false},
		{"", "", false, false}} {
		st := fill(t, s, sheet.Given{}, "a", c.a, "b", c.b)
		assert.Equal(t, c.all, line(st, "all") != nil, "%s %s", c.a, c.b)
		assert.Equal(t, c.any, line(st, "any") != nil, "%s %s", c.a, c.b)
		assert.NotNil(t, line(st, "always"), "a condition without tests holds")
	}
}

func TestWords(t *testing.T) {
	options := []sheet.Option{{ID: "a", Text: "At once"}, {ID: "b", Text: "Later"}}
	for _, c := range []struct {
		kind        sheet.Kind
		value, want string
	}{
		{sheet.Choice, "b", "Later"}, {sheet.Choice, "gone", "gone"}, {sheet.Several, "a,b", "At once, Later"},
		{sheet.Part, `{"part":"P","name":"Seal","quantity":"2","price":"1"}`, "2 × Seal"},
		{sheet.Area, square, "10 m²"}, {sheet.Signature, `{"name":"R. Keast","strokes":[]}`, "R. Keast"},
		{sheet.DateTime, "2026-03-01T10:00", "2026-03-01 10:00"}, {sheet.Text, "as is", "as is"}, {sheet.Part, "{", "{"},
	} {
		assert.Equal(t, c.want, sheet.Question{Kind: c.kind, Options: options}.Words(c.value))
	}
}

// Points: an answer without any is left out of the count, several add up, what is hidden does not count.
func TestScore(t *testing.T) {
	points := func(pairs ...string) map[string]decimal.Decimal {
		out := map[string]decimal.Decimal{}
		for i := 0; i < len(pairs); i += 2 {
			out[pairs[i]] = *dec(pairs[i+1])
		}
		return out
	}
	s := sheet.Sheet{ID: "s", Version: 1, Title: "S", Pass: dec("50"), Sections: []sheet.Section{{Title: "A", Questions: []sheet.Question{
		{ID: "state", Kind: sheet.Choice, Text: "State", Options: []sheet.Option{{"good", "Good"}, {"worn", "Worn"}, {"na", "Not fitted"}},
			Score: points("good", "4", "worn", "1")},
		{ID: "found", Kind: sheet.Several, Text: "Found", Options: []sheet.Option{{"x", "X"}, {"y", "Y"}, {"z", "Z"}},
			Score: points("x", "1", "y", "2", "z", "-1")},
		{ID: "extra", Kind: sheet.YesNo, Text: "Extra", Score: points("yes", "10"),
			ShowIf: when(sheet.Test{Question: "state", Is: sheet.Equals, Value: "worn"})},
	}}}}
	for _, c := range []struct {
		answers          []string
		points, of, perc string
		passed           bool
	}{
		{nil, "0", "7", "0", false},
		{[]string{"state", "good", "found", "x,y"}, "7", "7", "100", true},
		{[]string{"state", "good", "found", "z"}, "3", "7", "42.9", false},
		{[]string{"state", "na", "found", "x,y"}, "3", "3", "100", true},
		{[]string{"state", "worn", "found", "x,y"}, "4", "17", "23.5", false},
		{[]string{"state", "worn", "found", "x,y", "extra", "yes"}, "14", "17", "82.4", true},
	} {
		st := fill(t, s, sheet.Given{}, c.answers...)
		assert.Equal(t, []string{c.points, c.of, c.perc}, []string{st.Score.Points.String(), st.Score.Of.String(),
			st.Score.Percent.String()}, "%v", c.answers)
		assert.Equal(t, c.passed, st.Score.Passed, "%v", c.answers)
		failed := false
		for _, a := range st.Alerts {
			failed = failed || a.Kind == sheet.Failed
		}
		assert.Equal(t, !c.passed, failed, "a sheet that is done and has not passed is a failed check: %v", c.answers)
	}
}

// A reading answers for the machine of its item, in whatever unit it was read.
func TestReadingsOfItems(t *testing.T) {
	s := sheet.Sheet{ID: "s", Version: 1, Title: "S",
		Sections: []sheet.Section{{ID: "m", Title: "M", Repeat: &sheet.Repeat{Noun: "machine", Assets: true}, Questions: []sheet.Question{
			{ID: "p", Kind: sheet.Reading, Text: "P", Point: "press", Unit: "bar", Required: true,
				On: []sheet.Trigger{{Is: sheet.Above, Value: "5", Note: true}}}}}}}
	g := sheet.Given{Asset: "A0", Items: []sheet.Item{{Section: "m", ID: "A1", Name: "One", Asset: "A1"},
		{Section: "m", ID: "A2", Name: "Two", Asset: "A2"}, {Section: "m", ID: "x", Name: "Three"}},
		Readings: map[string]reading.Result{sheet.ReadingKey("A1", "press"): {Value: *dec("600"), Unit: "kPa"},
			sheet.ReadingKey("A2", "press"): {Value: *dec("3"), Unit: "h"},
			sheet.ReadingKey("A0", "press"): {Value: *dec("1"), Unit: "bar"}}}
	st := fill(t, s, g)
	assert.Equal(t, "6", line(st, "p@A1").Value)
	assert.True(t, line(st, "p@A1").Note)
	assert.Empty(t, line(st, "p@A2").Value, "hours are no pressure")
	assert.Equal(t, "1", line(st, "p@x").Value, "one that is no machine is measured on the visit's")
	assert.Equal(t, "note p@A1, answer p@A2", missing(st))
}
