package importing_test

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"iter.example/iter/core/ledger/ledgertest"
	"iter.example/iter/core/msg"
	"iter.example/iter/core/stock"
	"iter.example/iter/server/importing"
	"iter.example/iter/server/store"
)

func TestPartsList(t *testing.T) {
	s := founded(t)
	m := ledgertest.NewMaker("R1", 1)
	says := func(id string, p stock.Part) {
		e := m.Entry("office", "record.created", "part", id, p)
		require.NoError(t, s.Write(ctx, func(tx *store.Tx) error { _, err := tx.Record(e, e.At); return err }))
	}
	says("seal", stock.Part{Number: "SK-38", Name: "Seal kit", Unit: "each", Codes: []string{"4006381333931"}})
	says("wire", stock.Part{Number: "W-25", Name: "Wire", Unit: "m"})
	says("old", stock.Part{Number: "OLD-1", Name: "Gone", Unit: "each", Retired: true})
	list := func(text string) (lines []string, codes []string, err error) {
		err = s.Read(ctx, func(tx *store.Tx) error {
			got, problems, err := importing.PartsList(tx, []byte(text))
			for _, l := range got {
				lines = append(lines, l.Part+" "+l.Quantity.String())
			}
			for _, p := range problems {
				codes = append(codes, p.Code+" "+p.Args["line"])
			}
			return err
		})
		return lines, codes, err
	}
	for name, c := range map[string]struct {
		text         string
		lines, codes []string
	}{
		"plain, by number and code":   {"sk-38,2\n4006381333931,1\nW-25\n", []string{"seal 3", "wire 1"}, nil},
		"with names, another order":   {"Quantity;Name;Number\n2,5;Wire;W-25\n", []string{"wire 2.5"}, nil},
		"tabs, a mark, Windows lines": {"\xef\xbb\xbfSK-38\t4\r\n\r\n", []string{"seal 4"}, nil},
		"what is not known is left out": {"SK-38,1\nXX-1,2\nW-25,no\nW-25,-1\nOLD-1,1\n", []string{"seal 1"},
			[]string{"partslist.unknown 2", "partslist.quantity 3", "partslist.quantity 4", "partslist.unknown 5"}},
		"nothing": {"", nil, nil},
	} {
		lines, codes, err := list(c.text)
		require.NoError(t, err, name)
		assert.Equal(t, c.lines, lines, name)
		assert.Equal(t, c.codes, codes, name)
	}
	_, _, err := list("\x00\x01\x02\xff")
	assert.Equal(t, "partslist.file", msg.From(err).Code)
}

func FuzzPartsList(f *testing.F) {
	s := founded(f)
	for _, text := range []string{"SK-38,2\n", "number;quantity\nSK-38;1,5\n", "\"a\tb\n", "\xff\xfea\x00"} {
		f.Add([]byte(text))
	}
	f.Fuzz(func(t *testing.T, raw []byte) {
		err := s.Read(ctx, func(tx *store.Tx) error {
			lines, _, err := importing.PartsList(tx, raw)
			for _, l := range lines {
				assert.True(t, l.Quantity.IsPositive())
			}
			return err
		})
		if err != nil {
			assert.Equal(t, "partslist.file", msg.From(err).Code)
		}
	})
}
