package main

import (
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"iter.example/iter/tools/internal/figure"
)

func TestMark(t *testing.T) {
	for _, c := range []struct {
		name   string
		f      figure.Figure
		before float64
		want   string
	}{
		{"as good", figure.Figure{Value: 40, Limit: 50, Ratio: 2.1}, 2, ""},
		{"worse by more than a tenth", figure.Figure{Value: 40, Limit: 50, Ratio: 2.3}, 2, "worse by 15 %"},
		{"better", figure.Figure{Value: 40, Limit: 50, Ratio: 1}, 2, ""},
		{"at its limit", figure.Figure{Value: 50, Limit: 50, Ratio: 2}, 2, ""},
		{"past its limit", figure.Figure{Value: 51, Limit: 50, Ratio: 2}, 2, "past its limit"},
		{"both", figure.Figure{Value: 51, Limit: 50, Ratio: 3}, 2, "past its limit; worse by 50 %"},
		{"more is better", figure.Figure{Value: 0.3, Limit: 0.25, Ratio: 0.3, More: true}, 0.3, ""},
		{"more is better, and it is less", figure.Figure{Value: 0.2, Limit: 0.25, Ratio: 0.2, More: true}, 0.3, "past its limit; worse by 50 %"},
		{"no limit, and nothing is written", figure.Figure{Value: 51, Ratio: 2}, 0, ""},
	} {
		assert.Equal(t, c.want, mark(c.f, c.before, c.before > 0), c.name)
	}
}

func TestTheTableIsWhatItIsComparedWithNextTime(t *testing.T) {
	figures, err := figure.Read(strings.NewReader(`{"name":"a tap","value":12.5,"unit":"ms","limit":50,"ratio":2.5}
{"name":"a search","value":8,"unit":"ms","ratio":1.25}
`))
	require.NoError(t, err)
	doc, err := replace("# Benchmarks\n\n"+begin+"\nold\n"+end+"\n\nMore.\n", table(figures, nil))
	require.NoError(t, err)
	assert.Equal(t, map[string]float64{"a tap": 2.5, "a search": 1.25}, written(doc))
	assert.NotContains(t, doc, "old")
	assert.Contains(t, doc, "| a tap | 12.5 ms | 50 ms | 2.50 |  |")
	assert.True(t, strings.HasSuffix(doc, "\n\nMore.\n"))
	for x, want := range map[float64]string{1161.2: "1161", 0.1431: "0.143", 5.764: "5.76", 74.64: "74.6"} {
		assert.Equal(t, want, short(x))
	}
	figures[0].Ratio = 5
	assert.Contains(t, table(figures, written(doc)), "worse by 100 %")
	_, err = replace("no table", "")
	assert.Error(t, err)
}
