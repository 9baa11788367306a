package money

import (
	"strings"
	"testing"

	"github.com/shopspring/decimal"
	"github.com/stretchr/testify/assert"
	"golang.org/x/text/currency"
)

func TestCurrenciesAreThoseOfTheLibrary(t *testing.T) {
	compared := 0
	for _, code := range strings.Fields(known) {
		unit, err := currency.ParseISO(code)
		if err != nil {
			continue // younger than the library's list
		}
		places, step := currency.Standard.Rounding(unit)
		assert.Equal(t, int32(places), Currency(code).Places(), code)
		assert.Equal(t, 1, step, code)
		compared++
	}
	assert.Greater(t, compared, 145)
	for _, code := range strings.Fields(whole + " " + thousandths) {
		assert.True(t, Currency(code).Known(), code)
	}
}

func TestKnown(t *testing.T) {
	for code, want := range map[Currency]bool{
		"EUR": true, "eur": false, "": false, "UR ": false, "XTS": false, "XAU": false, "EUR USD": false,
	} {
		assert.Equal(t, want, code.Known(), code)
	}
}

func TestAmounts(t *testing.T) {
	for _, c := range []struct {
		currency      Currency
		amount        string
		rounded, text string
	}{
		{"EUR", "12.345", "12.35", "12.35 EUR"},
		{"EUR", "-12.345", "-12.35", "-12.35 EUR"},
		{"EUR", "12", "12", "12.00 EUR"},
		{"JPY", "12.5", "13", "13 JPY"},
		{"KWD", "1.0005", "1.001", "1.001 KWD"},
	} {
		d := decimal.RequireFromString(c.amount)
		assert.Equal(t, c.rounded, c.currency.Round(d).String())
		assert.Equal(t, c.text, c.currency.Text(d))
	}
}
