package stock_test

import (
	"testing"

	"github.com/shopspring/decimal"
	"github.com/stretchr/testify/assert"

	"iter.example/iter/core/stock"
)

func TestAhead(t *testing.T) {
	n := decimal.NewFromInt
	want := func(order, day string, q int64) stock.Want {
		return stock.Want{Part: "P", Order: order, Day: day, Quantity: n(q)}
	}
	due := func(day string, q int64) stock.Coming { return stock.Coming{Part: "P", Day: day, Quantity: n(q)} }
	for name, c := range map[string]struct {
		wanted      []stock.Want
		free        int64
		coming      []stock.Coming
		short, late string // "" and "": nothing is missing
		day         string
	}{
		"there is enough":    {[]stock.Want{want("W1", "2026-03-10", 2), want("W2", "2026-03-12", 3)}, 5, nil, "", "", ""},
		"the later is short": {[]stock.Want{want("W2", "2026-03-12", 3), want("W1", "2026-03-10", 2)}, 4, nil, "1", "0", "2026-03-12"},
		"on order, in time":  {[]stock.Want{want("W1", "2026-03-10", 2)}, 0, []stock.Coming{due("2026-03-10", 2)}, "", "", ""},
		"on order, too late": {[]stock.Want{want("W1", "2026-03-10", 2)}, 0, []stock.Coming{due("2026-03-11", 2)}, "0", "2",
			"2026-03-10"},
		"on order, nobody says when": {[]stock.Want{want("W1", "2026-03-10", 2)}, 0, []stock.Coming{due("", 1)}, "1", "1", "2026-03-10"},
		"of no day, after the rest":  {[]stock.Want{want("W1", "", 2), want("W2", "2026-03-12", 3)}, 3, nil, "2", "0", ""},
		"below zero is none":         {[]stock.Want{want("W1", "2026-03-10", 2)}, -4, nil, "2", "0", "2026-03-10"},
	} {
		got := stock.Ahead(c.wanted, map[string]decimal.Decimal{"P": n(c.free)}, c.coming)
		if c.short == "" {
			assert.Empty(t, got, name)
			continue
		}
		if assert.Len(t, got, 1, name) {
			assert.Equal(t, []string{c.short, c.late, c.day}, []string{got[0].Short.String(), got[0].Late.String(), got[0].Day}, name)
		}
	}
}
