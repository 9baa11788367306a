package sheet_test

import (
	"strings"
	"testing"

	"github.com/shopspring/decimal"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"iter.example/iter/core/msg"
	"iter.example/iter/core/sheet"
)

func dec(s string) *decimal.Decimal { d := decimal.RequireFromString(s); return &d }

var pump = sheet.Sheet{ID: "pump", Version: 2, Title: "Pump set", Sections: []sheet.Section{
	{Title: "Safety", Questions: []sheet.Question{
		{ID: "guard", Kind: sheet.YesNo, Text: "Guards in place?", Required: true},
		{ID: "noise", Kind: sheet.Choice, Text: "Noise", Required: true,
			Options: []sheet.Option{{ID: "quiet", Text: "Quiet"}, {ID: "loud", Text: "Loud"}}},
	}},
	{Title: "Kinds", Questions: []sheet.Question{
		{ID: "found", Kind: sheet.Several, Text: "Found", Options: []sheet.Option{{ID: "leak", Text: "A leak"},
			{ID: "rust", Text: "Rust"}}},
		{ID: "day", Kind: sheet.Date, Text: "Due"}, {ID: "moment", Kind: sheet.DateTime, Text: "Stopped"},
		{ID: "fit", Kind: sheet.Part, Text: "Fit"}, {ID: "floor", Kind: sheet.Area, Text: "Floor"},
		{ID: "sign", Kind: sheet.Signature, Text: "Sign"},
		{ID: "press", Kind: sheet.Number, Text: "Pressure", Unit: "bar", Max: dec("10")},
	}},
	{Title: "State", Questions: []sheet.Question{
		{ID: "temp", Kind: sheet.Number, Text: "Bearing", Unit: "°C", Min: dec("-20"), Max: dec("120"), Required: true},
		{ID: "remark", Kind: sheet.Text, Text: "Remark"},
	}},
}}

func TestRead(t *testing.T) {
	for _, c := range []struct{ question, value, want, code string }{
		{"guard", "yes", "yes", ""},
		{"guard", "perhaps", "", "answer.yesno"},
		{"guard", "", "", ""},
		{"noise", "loud", "loud", ""},
		{"noise", "Loud", "", "answer.choice"},
		{"temp", "61,50", "61.5", ""},
		{"temp", "-20", "-20", ""},
		{"temp", "-20.1", "", "answer.below"},
		{"temp", "121", "", "answer.above"},
		{"temp", "hot", "", "number.unreadable"},
		{"remark", "  seal weeps \n", "seal weeps", ""},
		{"remark", strings.Repeat("é", 5000), strings.Repeat("é", 5000), ""},
		{"remark", strings.Repeat("é", 5001), "", "text.long"},
		{"found", "rust,leak", "leak,rust", ""},
		{"found", "rust,mould", "", "answer.choice"},
		{"day", "2026-02-28", "2026-02-28", ""},
		{"day", "2026-02-30", "", "answer.date"},
		{"moment", "2026-02-28T15:04", "2026-02-28T15:04", ""},
		{"moment", "yesterday", "", "answer.date"},
		{"press", "250 kPa", "2.5", ""},
		{"press", "1,5", "1.5", ""},
		{"press", "1500 kPa", "", "answer.above"},
		{"press", "3 h", "", "unit.unlike"},
		{"press", "3 bar bar", "", "unit.unlike"},
		{"fit", `{"part":"SK-38","quantity":2,"price":"84.5","name":"Seal"}`,
			`{"part":"SK-38","name":"Seal","quantity":"2","price":"84.5"}`, ""},
		{"fit", `{"quantity":"2"}`, "", "answer.part"},
		{"fit", `{"part":"SK-38","quantity":"-2"}`, "", "quantity.absurd"},
		{"floor", `{"unit":"m","shapes":[{"form":"rectangle","sizes":["2","3"]}]}`,
			`{"name":"","unit":"m","shapes":[{"form":"rectangle","sizes":["2","3"]}]}`, ""},
		{"floor", `{"unit":"m","shapes":[{"form":"rectangle","sizes":["2"]}]}`, "", "area.sizes"},
		{"floor", "6", "", "answer.area"},
		{"sign", `{"name":"R. Keast","strokes":[]}`, "", "signature.empty"},
	} {
		q, ok := pump.Find(c.question)
		require.True(t, ok)
		got, err := q.Read(c.value)
		if c.code != "" {
			assert.Equal(t, c.code, msg.From(err).Code, c.value)
			continue
		}
		require.NoError(t, err, c.value)
		assert.Equal(t, c.want, got)
	}
}

// What Read gives is canonical: reading it again changes nothing, and it counts as an answer.
func TestReadIsStable(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		id := rapid.SampledFrom([]string{"guard", "noise", "temp", "remark"}).Draw(t, "question")
		q, _ := pump.Find(id)
		v, err := q.Read(rapid.OneOf(rapid.String(), rapid.StringMatching(`-?\d{1,4}([.,]\d{0,4})?`),
			rapid.SampledFrom([]string{"yes", "no", "quiet"})).Draw(t, "value"))
		if err != nil || v == "" {
			return
		}
		again, err := q.Read(v)
		require.NoError(t, err)
		require.Equal(t, v, again)
		c, problems := sheet.Compile(pump)
		require.Empty(t, problems)
		require.Equal(t, 1, c.Fill(sheet.Given{Answers: map[string]sheet.Answer{id: {Value: v}}}).Answered)
	})
}
