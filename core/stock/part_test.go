package stock_test

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"github.com/shopspring/decimal"

	"iter.example/iter/core/msg"
	"iter.example/iter/core/stock"
)

func TestInUnit(t *testing.T) {
	seal := stock.Part{Name: "Seal", Unit: "each", Packs: []stock.Pack{{Name: "box", Size: num("10")},
		{Name: "half box", Size: num("4.5")}}}
	hose := stock.Part{Name: "Hose", Unit: "m", Packs: []stock.Pack{{Name: "coil", Size: num("50")}}}
	grease, oil := stock.Part{Name: "Grease", Unit: "kg"}, stock.Part{Name: "Oil", Unit: "l"}
	for _, c := range []struct {
		part       stock.Part
		q, unit    string
		want, code string
	}{
		{seal, "3", "", "3", ""},
		{seal, "3", "each", "3", ""},
		{seal, "2", "box", "20", ""},
		{seal, "0.5", "box", "5", ""},
		{seal, "0.5", "each", "", "quantity.whole"},
		{seal, "1", "half box", "", "quantity.whole"},
		{seal, "2", "half box", "9", ""},
		{seal, "1", "m", "", "quantity.unit"},
		{hose, "2.5", "m", "2.5", ""},
		{hose, "2", "coil", "100", ""},
		{hose, "250", "cm", "2.5", ""},
		{hose, "1", "kg", "", "quantity.unit"},
		{grease, "1", "lb", "0.453592", ""},
		{oil, "2", "gal", "7.570824", ""},
		{oil, "0.0001", "ml", "", "quantity.absurd"},
		{hose, "1", "bar", "", "quantity.unit"},
		{hose, "0", "m", "", "quantity.absurd"},
		{seal, "1000000", "box", "", "quantity.absurd"},
	} {
		got, err := c.part.InUnit(num(c.q), c.unit)
		if c.code != "" {
			require.Error(t, err, c)
			assert.Equal(t, c.code, msg.From(err).Code, c)
			continue
		}
		require.NoError(t, err, c)
		assert.Equal(t, c.want, got.String(), c)
	}
	assert.Equal(t, []string{"each", "box", "half box"}, seal.Units())
	assert.Contains(t, hose.Units(), "cm")
	for _, p := range []stock.Part{hose, grease, oil} {
		for _, u := range p.Units() {
			_, err := p.InUnit(num("1"), u)
			assert.NoError(t, err, "what %s is offered in, it can be given in: %s", p.Name, u)
		}
	}
}

// Packs there and back are exact: no quantity is lost to rounding.
func TestPacksAreExact(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		size := decimal.New(rapid.Int64Range(1, 9999).Draw(t, "size"), int32(rapid.IntRange(-3, 1).Draw(t, "places")))
		n := decimal.NewFromInt(rapid.Int64Range(1, 50).Draw(t, "n"))
		p := stock.Part{Name: "Wire", Unit: "m", Packs: []stock.Pack{{Name: "drum", Size: size}}}
		q, err := p.InUnit(n, "drum")
		if err != nil {
			require.True(t, n.Mul(size).GreaterThan(stock.MaxQuantity))
			return
		}
		require.Equal(t, n.Mul(size).String(), q.String())
		require.True(t, q.Div(size).Equal(n))
	})
}

func TestChecks(t *testing.T) {
	good := stock.Part{Name: "Seal", Unit: "each", Codes: []string{"4006381333931"}, Packs: []stock.Pack{{Name: "box", Size: num("10")}}}
	require.NoError(t, good.Check())
	for code, change := range map[string]func(*stock.Part){
		"part.price":   func(p *stock.Part) { p.Cost = num("-1") },
		"part.pack":    func(p *stock.Part) { p.Packs = []stock.Pack{{Name: "each", Size: num("2")}} },
		"text.missing": func(p *stock.Part) { p.Name = " " }, "part.warranty": func(p *stock.Part) { p.Warranty = -3 },
		"code.unreadable": func(p *stock.Part) { p.Codes = []string{"a\x00b"} },
	} {
		p := good
		change(&p)
		assert.ErrorContains(t, p.Check(), code)
	}
	assert.ErrorContains(t, stock.Levels{Levels: map[string]stock.Level{"P": {Min: num("4"), Max: num("2")}}}.Check(), "stock.level")
	kit := stock.Kit{Name: "Seal kit", Parts: []stock.KitPart{{Part: "P", Quantity: num("1")}},
		Labour: []stock.KitLabour{{Name: "Fit", Minutes: 40}, {Name: "Test", Minutes: 20}}}
	require.NoError(t, kit.Check())
	kit.Parts = append(kit.Parts, kit.Parts[0])
	assert.ErrorContains(t, kit.Check(), "stock.twice")
}
