package addresses_test

import (
	"context"
	"path/filepath"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"iter.example/iter/core/records"
	"iter.example/iter/server/addresses"
)

var ctx = context.Background()

func at(lat, lon float64) records.Point { return records.Point{Lat: lat, Lon: lon} }

func book(t *testing.T) *addresses.Book {
	path := filepath.Join(t.TempDir(), "addresses.db")
	house := func(street, number string, lat, lon float64) addresses.NumberedHouse {
		return addresses.NumberedHouse{Street: street, Number: number, City: "Orrisk", Post: "OR1 2AB", At: at(lat, lon)}
	}
	require.NoError(t, addresses.Write(ctx, path, addresses.Region{
		Places: []addresses.NamedPlace{{Name: "Orrisk", Class: "town", At: at(54.81, -9.21)},
			{Name: "Tessary", Class: "village", At: at(54.86, -9.3)}, {Name: "Upper Quay", Class: "hamlet", At: at(54.815, -9.215)}},
		Streets: []addresses.NamedStreet{{Name: "Slip Lane", At: at(54.811, -9.211)}, {Name: "Slip Lane", At: at(54.861, -9.301)},
			{Name: "Slip Lane", At: at(54.812, -9.212)}, {Name: "Môle Road", At: at(54.8, -9.2)}, {Name: "Harbour Row", At: at(54.81, -9.2)}},
		Houses: []addresses.NumberedHouse{house("Slip Lane", "2", 54.81, -9.21), house("Slip Lane", "10", 54.812, -9.21),
			house("Slip Lane", "5", 54.8105, -9.2105), house("Slip Lane", "12a", 54.8125, -9.21), house("Slip Lane", "12", 54.8124, -9.21),
			house("Slip Lane", "900", 54.83, -9.21), house("Harbour Row", "1-3", 54.8101, -9.2001), house("", "7", 1, 1),
			house("Slip Lane", "plot B", 1, 1)},
	}))
	b, err := addresses.Open(path)
	require.NoError(t, err)
	t.Cleanup(func() { _ = b.Close() })
	return b
}

// What is found of what is typed: the first, how well it is known where it is, and where.
func TestAddressesAreFound(t *testing.T) {
	b := book(t)
	for typed, want := range map[string]struct {
		address   string
		precision addresses.Precision
		at        records.Point
	}{
		"2 Slip Lane, Orrisk":          {"2 Slip Lane, Orrisk", addresses.House, at(54.81, -9.21)},
		"orrisk slip lane 2":           {"2 Slip Lane, Orrisk", addresses.House, at(54.81, -9.21)},
		"Slip Lnae 2 Orrisk":           {"2 Slip Lane, Orrisk", addresses.House, at(54.81, -9.21)},
		"12a slip lane orrisk":         {"12a Slip Lane, Orrisk", addresses.House, at(54.8125, -9.21)},
		"12b slip lane orrisk":         {"12b Slip Lane, Orrisk", addresses.House, at(54.8125, -9.21)},
		"6 Slip Lane Orrisk":           {"6 Slip Lane, Orrisk", addresses.Between, at(54.811, -9.21)},
		"7 Slip Lane Orrisk":           {"7 Slip Lane, Orrisk", addresses.Between, at(54.81125, -9.21125)},
		"400 Slip Lane Orrisk":         {"400 Slip Lane, Orrisk", addresses.Street, at(54.811, -9.211)},
		"2 Slip Lane Tessary":          {"2 Slip Lane, Tessary", addresses.Street, at(54.861, -9.301)},
		"slip la orr":                  {"Slip Lane, Orrisk", addresses.Street, at(54.811, -9.211)},
		"mole road":                    {"Môle Road, Orrisk", addresses.Street, at(54.8, -9.2)},
		"2 harbour row":                {"2 Harbour Row, Orrisk", addresses.Street, at(54.81, -9.2)},
		"1 harbour row":                {"1 Harbour Row, Orrisk", addresses.House, at(54.8101, -9.2001)},
		"Tessary":                      {"Tessary", addresses.Place, at(54.86, -9.3)},
		"Quay House, 2 Slip Lane OR1":  {"2 Slip Lane, Orrisk", addresses.House, at(54.81, -9.21)},
		"2 Slip Lane, Orrisk, OR1 2AB": {"2 Slip Lane, Orrisk", addresses.House, at(54.81, -9.21)},
	} {
		found, err := b.Find(ctx, typed, nil)
		require.NoError(t, err, typed)
		require.NotEmpty(t, found, typed)
		assert.Equal(t, want.address, found[0].Address, typed)
		if want.precision != addresses.Between || typed == "6 Slip Lane Orrisk" {
			assert.Equal(t, want.precision, found[0].Precision, typed)
			assert.InDelta(t, want.at.Lat, found[0].At.Lat, 1e-6, typed)
			assert.InDelta(t, want.at.Lon, found[0].At.Lon, 1e-6, typed)
		}
	}
	for _, typed := range []string{"", "   ", "7", "Zebra Crossing Nowhere", `"`, "* (", "'; DROP TABLE streets"} {
		found, err := b.Find(ctx, typed, nil)
		require.NoError(t, err, typed)
		assert.Empty(t, found, typed)
	}
}

// Of streets of the same name the nearest comes first, unless another is named.
func TestTheNearestComesFirst(t *testing.T) {
	b := book(t)
	tessary := at(54.86, -9.3)
	found, err := b.Find(ctx, "Slip Lane", &tessary)
	require.NoError(t, err)
	require.Len(t, found, 2)
	assert.Equal(t, "Slip Lane, Tessary", found[0].Address)
	found, err = b.Find(ctx, "Slip Lane Orrisk", &tessary)
	require.NoError(t, err)
	assert.Equal(t, "Slip Lane, Orrisk", found[0].Address)
}

// A file that is no book is refused.
func TestBrokenBook(t *testing.T) {
	_, err := addresses.Open(filepath.Join(t.TempDir(), "none.db"))
	assert.Error(t, err)
}

func FuzzFind(f *testing.F) {
	for _, typed := range []string{"2 Slip Lane, Orrisk", `"` + "\x00", "12a-14/3 é", "9999999999999999999999"} {
		f.Add(typed)
	}
	path := filepath.Join(f.TempDir(), "addresses.db")
	if err := addresses.Write(ctx, path, addresses.Region{Streets: []addresses.NamedStreet{{Name: "Slip Lane", At: at(1, 2)}}}); err != nil {
		f.Fatal(err)
	}
	b, err := addresses.Open(path)
	if err != nil {
		f.Fatal(err)
	}
	f.Fuzz(func(t *testing.T, typed string) {
		if _, err := b.Find(ctx, typed, nil); err != nil {
			t.Fatal(err)
		}
	})
}
