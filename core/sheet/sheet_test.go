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
		{ID: "noise", Kind: sheet.Choice, Text: "Noise", Required: true, Options: []sheet.Option{{ID: "quiet", Text: "Quiet"}, {ID: "loud", Text: "Loud"}}},
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

func TestProgress(t *testing.T) {
	st := pump.Progress(map[string]sheet.Answer{"guard": {Value: "no"}, "temp": {Value: "999"}, "remark": {Value: "x"}, "gone": {Value: "?"}})
	assert.Equal(t, sheet.State{Sheet: "pump@2", Title: "Pump set", Answered: 2, Total: 4, Missing: []string{"noise", "temp"}}, st)
}

func TestCheck(t *testing.T) {
	require.NoError(t, pump.Check())
	twice := pump
	twice.Sections = append(twice.Sections, sheet.Section{Title: "Again", Questions: pump.Sections[0].Questions})
	bare := sheet.Sheet{ID: "x", Version: 1, Title: "x", Sections: []sheet.Section{{Questions: []sheet.Question{{ID: "c", Kind: sheet.Choice, Text: "?"}}}}}
	odd := sheet.Sheet{ID: "x", Version: 1, Title: "x", Sections: []sheet.Section{{Questions: []sheet.Question{{ID: "c", Kind: "essay", Text: "?"}}}}}
	for _, s := range []sheet.Sheet{{}, twice, bare, odd} {
		assert.Error(t, s.Check())
	}
}

// What Read gives is canonical: reading it again changes nothing, and it counts as an answer.
func TestReadIsStable(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		id := rapid.SampledFrom([]string{"guard", "noise", "temp", "remark"}).Draw(t, "question")
		q, _ := pump.Find(id)
		v, err := q.Read(rapid.OneOf(rapid.String(), rapid.StringMatching(`-?\d{1,4}([.,]\d{0,4})?`), rapid.SampledFrom([]string{"yes", "no", "quiet"})).Draw(t, "value"))
		if err != nil || v == "" {
			return
		}
		again, err := q.Read(v)
		require.NoError(t, err)
		require.Equal(t, v, again)
		require.Equal(t, 1, pump.Progress(map[string]sheet.Answer{id: {Value: v}}).Answered)
	})
}
