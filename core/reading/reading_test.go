package reading_test

import (
	"testing"

	"github.com/shopspring/decimal"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"iter.example/iter/core/msg"
	"iter.example/iter/core/reading"
)

func dec(s string) *decimal.Decimal { d := decimal.RequireFromString(s); return &d }

func TestJudge(t *testing.T) {
	discharge := reading.Limits{AlarmLow: dec("2.5"), WarnLow: dec("3"), WarnHigh: dec("5"), AlarmHigh: dec("6")}
	imbalance := reading.Limits{WarnHigh: dec("2")}
	for _, c := range []struct {
		p    reading.Limits
		v    string
		want reading.Level
	}{
		{discharge, "2.1", reading.AlarmLow},
		{discharge, "2.5", reading.AlarmLow},
		{discharge, "2.51", reading.Low},
		{discharge, "3", reading.Low},
		{discharge, "4", reading.OK},
		{discharge, "5", reading.High},
		{discharge, "6.0", reading.AlarmHigh},
		{imbalance, "-40", reading.OK},
		{imbalance, "2.000", reading.High},
		{reading.Limits{}, "1e9", reading.OK},
	} {
		assert.Equal(t, c.want, c.p.Judge(*dec(c.v)), c.v)
	}
}

func TestParse(t *testing.T) {
	for text, want := range map[string]string{
		"1.5": "1.5", "1,5": "1.5", " 12 ": "12", "-0,25": "-0.25", "−3": "-3", "+7": "7", ".5": "0.5", "0,125": "0.125", "007": "7",
		"1500": "1500", "1.500": "1.5",
	} {
		got, err := reading.Parse(text)
		require.NoError(t, err, text)
		assert.True(t, decimal.RequireFromString(want).Equal(got), "%s gave %s", text, got)
	}
	for text, code := range map[string]string{
		"": "number.unreadable", "abc": "number.unreadable", "1.2.3": "number.unreadable", "1,234.5": "number.unreadable",
		"1e5": "number.unreadable", "-": "number.unreadable", "1-": "number.unreadable",
		"1,500": "number.ambiguous", "-1,500": "number.ambiguous", "1234567890123456789": "number.long",
		"a long text that nobody would type": "number.unreadable",
	} {
		_, err := reading.Parse(text)
		assert.Equal(t, code, msg.From(err).Code, text)
	}
}

func TestParseReadsBackWhatDecimalsPrint(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		d := decimal.New(rapid.Int64Range(-1e12, 1e12).Draw(t, "digits"), int32(rapid.IntRange(-6, 0).Draw(t, "exponent")))
		got, err := reading.Parse(d.String())
		require.NoError(t, err)
		require.True(t, d.Equal(got))
	})
}

func FuzzParse(f *testing.F) {
	for _, s := range []string{"1,5", "-", "٣", "1.", "\u2212"} {
		f.Add(s)
	}
	f.Fuzz(func(t *testing.T, s string) {
		if d, err := reading.Parse(s); err == nil && d.Exponent() < -18 {
			t.Fatal("more digits than were let in")
		}
	})
}
