package unit_test

import (
	"testing"

	"github.com/shopspring/decimal"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"iter.example/iter/core/unit"
)

func TestConvert(t *testing.T) {
	for _, c := range []struct {
		value, from, to, want string
		exact                 bool
	}{
		{"3.5", "bar", "kPa", "350", true},
		{"1", "in", "mm", "25.4", true},
		{"30", "psi", "bar", "2.068427187950508", false}, // 206842.71879505… Pa
		{"2.5", "m3/h", "l/min", "41.666666666666666667", false},
		{"36", "m³/h", "l/s", "10", true},
		{"55", "mJ/cm²", "J/m2", "550", true},
		{"21", "°C", "K", "294.15", true},
		{"212", "°F", "°C", "100", true},
		{"-40", "°C", "°F", "-40", true},
		{"1", "kWh", "MJ", "3.6", true},
		{"1.5", "mg/l", "g/m3", "1.5", true},
		{"50", "%", "", "0.5", true},
		{"7.2", "pH", "pH", "7.2", true},
		{"0", "psi", "bar", "0", true},
		{"1", "lb", "oz", "16", true},
		{"3", "yd", "ft", "9", true},
		{"1", "ft³", "l", "28.316846592", true},
		{"1", "CFM", "m³/h", "1.69901079552", true},
		{"60", "GPM", "gal/s", "1", true},
		{"1200", "RPM", "Hz", "20", true},
		{"1", "PSI", "psi", "1", true},
		{"1", "mH₂O", "mbar", "98.0665", true},
		{"1", "inHg", "mbar", "33.86388640341", true},
		{"1", "hp", "W", "745.69987158227022", true},
	} {
		got, exact, err := unit.Convert(decimal.RequireFromString(c.value), c.from, c.to)
		require.NoError(t, err, "%s %s in %s", c.value, c.from, c.to)
		assert.Equal(t, c.exact, exact, "%s in %s", c.from, c.to)
		if c.exact {
			assert.Equal(t, c.want, got.String(), "%s %s in %s", c.value, c.from, c.to)
		} else {
			assert.Equal(t, c.want[:14], got.String()[:14])
		}
	}
	for _, c := range [][2]string{{"bar", "m"}, {"pH", "NTU"}, {"EUR", "SEK"}, {"XTS", "EUR"}, {"bar", "/"}, {"m//s", "m/s"}, {"°C/m", "K/m"},
		{"a very long unit of some sort", "m"}} {
		_, _, err := unit.Convert(decimal.NewFromInt(1), c[0], c[1])
		assert.Error(t, err, "%s in %s", c[0], c[1])
	}
}

func TestParseDimensions(t *testing.T) {
	for _, c := range [][2]string{{"kg/m·s2", "kg/m/s2"}, {"kWh/m3", "Pa"}, {"m/s2", "N/kg"}, {"l/s", "m3/h"}, {"1/s", "Hz"}} {
		a, err := unit.Parse(c[0])
		require.NoError(t, err)
		b, err := unit.Parse(c[1])
		require.NoError(t, err)
		if c[0] == "kg/m·s2" { // · divides no more: kg·s²/m
			assert.NotEqual(t, a.Dim, b.Dim)
			continue
		}
		assert.Equal(t, b.Dim, a.Dim, "%s and %s", c[0], c[1])
	}
	money, err := unit.Parse("EUR/m2")
	require.NoError(t, err)
	assert.Equal(t, unit.Dim{Money: 1, Length: -2}, money.Dim)
}

func TestLike(t *testing.T) {
	assert.Equal(t, []string{"psi", "bar", "kPa", "MPa", "mbar", "mWC", "inHg"}, unit.Like("psi"))
	assert.Equal(t, []string{"RPM", "Hz"}, unit.Like("RPM"))
	assert.Equal(t, []string{"pH"}, unit.Like("pH"))
	assert.NotContains(t, unit.Like("bar"), "kWh/m3", "the same dimension, but nobody means it")
}

func TestShown(t *testing.T) {
	for in, want := range map[string]string{"2.068427187950508": "2.0684", "123456.7": "123457", "0.000123456": "0.00012346",
		"12.5": "12.5", "100": "100", "0": "0"} {
		assert.Equal(t, want, unit.Shown(decimal.RequireFromString(in)).String(), in)
	}
}

// There and back is where one was: exactly, or to the last of twenty digits.
func TestThereAndBack(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		from := rapid.SampledFrom([]string{"bar", "psi", "mWC", "m3/h", "l/min", "°F", "kWh", "MΩ", "in", "ft2", "gal", "mg/l",
			"%"}).Draw(t, "from")
		to := rapid.SampledFrom(unit.Like(from)).Draw(t, "to")
		v := decimal.New(rapid.Int64Range(-999999, 999999).Draw(t, "value"), -3)
		there, exact, err := unit.Convert(v, from, to)
		require.NoError(t, err)
		back, _, err := unit.Convert(there, to, from)
		require.NoError(t, err)
		if exact {
			require.True(t, v.Equal(back), "%s %s is %s %s is %s", v, from, there, to, back)
		}
		require.True(t, v.Sub(back).Abs().LessThanOrEqual(decimal.New(1, -10)), "%s is %s", v, back)
	})
}
