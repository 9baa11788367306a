package stock_test

import (
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"iter.example/iter/core/stock"
)

func TestReadCode(t *testing.T) {
	for text, want := range map[string]stock.Code{
		"ITER-P/SK-38":                      {Key: "SK-38", Part: "SK-38"},
		" sk-38\r\n":                        {Key: "SK-38"},
		"4006381333931":                     {Key: "4006381333931"}, // EAN-13
		"]E04006381333931":                  {Key: "4006381333931"},
		"036000291452":                      {Key: "36000291452"},   // UPC-A
		"0036000291452":                     {Key: "36000291452"},   // and as EAN-13
		"00036000291452":                    {Key: "36000291452"},   // and as GTIN-14
		"4006381333932":                     {Key: "4006381333932"}, // the last digit does not check: a maker's own number
		"73513537":                          {Key: "73513537"},      // EAN-8
		"]d2010400638133393121S-77\x1d1710": {},                     // a date that is cut off: taken as it is
		"]d201040063813339311726123121S-77": {Key: "4006381333931", Serial: "S-77"},
		"]C10104006381333931" + "21AB12\x1d10LOT9": {Key: "4006381333931", Serial: "AB12"},
		"\x1d010400638133393110L1\x1d21S9":         {Key: "4006381333931", Serial: "S9"},
		"010400638133393121S-1":                    {Key: "4006381333931", Serial: "S-1"}, // a scanner that marks nothing
		"https://vella.example/p/7":                {Key: "HTTPS://VELLA.EXAMPLE/P/7"},
		"Dichtungssatz Ø38":                        {Key: "DICHTUNGSSATZ Ø38"},
	} {
		got, err := stock.ReadCode(text)
		require.NoError(t, err, text)
		if want.Key == "" {
			assert.NotEmpty(t, got.Key)
			continue
		}
		assert.Equal(t, want, got, text)
	}
	for _, text := range []string{"", "   ", "a\x00b", strings.Repeat("9", 400), "ITER-P/", "ITER-P/../x"} {
		_, err := stock.ReadCode(text)
		assert.ErrorContains(t, err, "code.unreadable", text)
	}
	// Our own label has the key that the part's id has, whatever the id looks like.
	for _, id := range []string{"SK-38", "sk-38", "0036000291452", "4006381333931", "a"} {
		got, err := stock.ReadCode(stock.PartLabel(id))
		require.NoError(t, err)
		plain, err := stock.ReadCode(id)
		require.NoError(t, err)
		assert.Equal(t, id, got.Part)
		assert.Equal(t, plain.Key, got.Key)
	}
}

// Whatever a scanner says: what is read has a key, and the label of a part has the key of its id.
func FuzzReadCode(f *testing.F) {
	for _, s := range []string{"4006381333931", "]d2010400638133393121S-77", "ITER-P/SK-38", "\x1d01", "]C1"} {
		f.Add(s)
	}
	f.Fuzz(func(t *testing.T, text string) {
		c, err := stock.ReadCode(text)
		if err != nil {
			return
		}
		if c.Key == "" {
			t.Fatalf("%q is read, and has no key", text)
		}
		if label, err := stock.ReadCode(stock.PartLabel(text)); err == nil && label.Key != c.Key {
			t.Fatalf("%q has the key %q, and its label %q", text, c.Key, label.Key)
		}
	})
}
