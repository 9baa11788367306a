package store_test

import (
	"context"
	"fmt"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"iter.example/iter/core/ledger/ledgertest"
	"iter.example/iter/core/records"
	"iter.example/iter/core/stock"
	"iter.example/iter/core/work"
	"iter.example/iter/server/store"
)

// findable are records of all types that are found.
func findable(m *ledgertest.Maker) (out []record) {
	add := func(typ, id string, body any) { out = append(out, record{typ, id, body}) }
	add("customer", "c1", records.Customer{Name: "Harbour Dairy", Address: "3 Quay Side",
		Contact: records.Contact{Name: "Tam Hale", Phone: "+353 1 555-1000", Email: "tam@dairy.example"}})
	add("customer", "c2", records.Customer{Name: "Élan Growers", Address: "Dairy Lane"})
	add("customer", "c3", records.Customer{Name: "مزرعة 🐟"})
	add("site", "s1", records.Site{Customer: "c1", Name: "Pump House 7", Address: "Kiln Road", Documents: map[string]records.Document{
		strings.Repeat("ab", 32): {Name: "Key plan.pdf", Type: "application/pdf", Size: 10}}})
	add("site", "s2", records.Site{Customer: "c2", Name: "Glasshouse", Contact: records.Contact{Name: "Ida Moss", Phone: "01 5552 000"}})
	add("assetkind", "booster", records.AssetKind{Name: "Booster set"})
	add("asset", "a1", records.Asset{Site: "s1", Name: "Feed pumps", Kind: "booster", Maker: "Aldane", Serial: "AB-12/345"})
	add("person", "cay", records.Person{Name: "Cay Brook", Short: "Cay", Roles: []records.Role{records.Dispatcher}, Phone: "+353 86 777 1234"})
	add("part", "p9", stock.Part{Number: "SEAL-40", Name: "Mechanical seal 40 mm", Names: []string{"shaft seal"}, Unit: "each",
		Codes: []string{"4012345678901"}})
	add("workorder", "o1", work.Order{Number: "10234", Customer: "c1", Site: "s1", Problem: "Vibration at start", Priority: work.Normal,
		Minutes: 60, Theirs: "PO-77/b", Tasks: []work.Task{{ID: "t1", Name: "Change the bearings"}}})
	add("workorder", "o2", work.Order{Number: "10235", Customer: "c2", Site: "s2", Problem: "<script>alert(1)</script> leaks",
		Priority: work.Normal, Minutes: 60})
	return out
}

type record struct {
	typ, id string
	body    any
}

func write(t *testing.T, s *store.Store, m *ledgertest.Maker, all []record) {
	require.NoError(t, s.Write(context.Background(), func(tx *store.Tx) error {
		for _, r := range all {
			kind := "record.created"
			if r.typ == "workorder" {
				kind = "work.opened"
			}
			if _, err := tx.Record(m.Entry("office", kind, r.typ, r.id, r.body), m.Now()); err != nil {
				return fmt.Errorf("%s/%s: %w", r.typ, r.id, err)
			}
		}
		return nil
	}))
}

func find(t require.TestingT, s *store.Store, text string) (names []string, found store.Found) {
	require.NoError(t, s.Read(context.Background(), func(tx *store.Tx) (err error) {
		found, err = tx.FindRecords(text, store.FindableTypes, 5)
		return err
	}))
	for _, h := range found.Hits {
		name := h.Type + "/" + h.ID
		if h.Slip {
			name += "~"
		}
		names = append(names, name)
	}
	return names, found
}

func TestFindRecords(t *testing.T) {
	s := open(t, t.TempDir())
	m := ledgertest.NewMaker("office", 1)
	write(t, s, m, findable(m))
	paper := "paper/site/s1/" + strings.Repeat("ab", 32)
	tests := map[string][]string{
		// words, parts of words, in any order, whatever their case and accents
		"harbour dairy":  {"customer/c1", "site/s1", "workorder/o1"},
		"DAIRY harb":     {"customer/c1", "site/s1", "workorder/o1"},
		"elan":           {"customer/c2", "site/s2", "workorder/o2"},
		"arbour":         {"customer/c1", "site/s1", "workorder/o1"},
		"vibr start":     {"workorder/o1"},
		"bearings":       {"workorder/o1"},
		"dairy vibra":    {"workorder/o1"},
		"pump 7 kiln":    {"site/s1"},
		"glass":          {"site/s2", "workorder/o2"},
		"booster aldane": {"asset/a1"},
		"shaft":          {"part/p9"},
		"key plan":       {paper},
		"مزرعة":          {"customer/c3"},
		"script":         {"workorder/o2"},
		// numbers, however they are joined
		"10234":         {"workorder/o1"},
		"1023":          {"workorder/o1", "workorder/o2"},
		"AB-12/345":     {"asset/a1"},
		"ab12345":       {"asset/a1"},
		"po-77":         {"workorder/o1"},
		"345":           {"asset/a1", "part/p9"},
		"seal-40":       {"part/p9"},
		"4012345678901": {"part/p9"},
		// telephone numbers in any spelling
		"01 5551000":        {"customer/c1"},
		"(01) 555-1000":     {"customer/c1"},
		"00353 1 555 10 00": {"customer/c1"},
		"+353 1 5552000":    {"site/s2"},
		"0867771234":        {"person/cay"},
		// few letters: beginnings
		"ta": {"customer/c1"},
		// slips
		"harbuor":         {"customer/c1~", "site/s1~", "workorder/o1~"},
		"vibation":        {"workorder/o1~"},
		"mecanicall seal": {"part/p9~"},
		"diary harbour":   {"customer/c1~", "site/s1~", "workorder/o1~"},
		"10284":           nil, // another number is not meant
		// nothing to look for
		"": nil, "  ": nil, "🐟": nil, `"*()`: nil, "qqqq": nil, "dairy qqqq": nil,
	}
	for text, want := range tests {
		got, found := find(t, s, text)
		assert.ElementsMatch(t, want, got, text)
		assert.Empty(t, found.Cut, text)
	}
	_, found := find(t, s, "10234")
	assert.Equal(t, store.Hit{Type: "workorder", ID: "o1", Title: "10234 Vibration at start", Detail: "Pump House 7 · Harbour Dairy"},
		store.Hit{Type: found.Hits[0].Type, ID: found.Hits[0].ID, Title: found.Hits[0].Title, Detail: found.Hits[0].Detail})
}

// The best is first: what is called so before what has it in an address, whole words before parts. What is left out is said.
func TestTheBestIsFoundFirst(t *testing.T) {
	s := open(t, t.TempDir())
	m := ledgertest.NewMaker("office", 1)
	all := []record{{"customer", "road", records.Customer{Name: "Brook Farm", Address: "Mill Road"}},
		{"customer", "miller", records.Customer{Name: "Millers"}}, {"customer", "mill", records.Customer{Name: "Old Mill"}},
		{"customer", "treadmill", records.Customer{Name: "Treadmill Gym"}}}
	write(t, s, m, all)
	names, _ := find(t, s, "mill")
	assert.Equal(t, []string{"customer/mill", "customer/miller", "customer/road", "customer/treadmill"}, names)
	all = nil
	for i := range 70 {
		all = append(all, record{"customer", fmt.Sprintf("k%02d", i), records.Customer{Name: fmt.Sprintf("Millwright %d", i)}})
	}
	write(t, s, m, all)
	names, found := find(t, s, "mill")
	assert.Len(t, names, 5)
	assert.Equal(t, "customer/mill", names[0], "not only the latest are looked at")
	assert.Equal(t, []string{"customer"}, found.Cut)
}

// What is called otherwise is found by its new name, and so is what hangs on it; what was never fitted, by none.
func TestFoundByTheNewName(t *testing.T) {
	s := open(t, t.TempDir())
	m := ledgertest.NewMaker("office", 1)
	write(t, s, m, findable(m))
	amend := func(typ, id string, to map[string]any) {
		require.NoError(t, s.Write(context.Background(), func(tx *store.Tx) error {
			_, err := tx.Record(m.Entry("office", "record.amended", typ, id, to), m.Now())
			return err
		}))
	}
	amend("customer", "c1", map[string]any{"name": "Inlet Creamery"})
	amend("site", "s1", map[string]any{"name": "Boiler House"})
	for text, want := range map[string][]string{
		"creamery": {"customer/c1", "site/s1", "workorder/o1"},
		"boiler":   {"site/s1", "workorder/o1", "asset/a1", "paper/site/s1/" + strings.Repeat("ab", 32)},
		"harbour":  nil, "pump house 7": nil,
		"craemery": {"customer/c1~", "site/s1~", "workorder/o1~"}, // the words that slips are looked for among are new, too
	} {
		got, _ := find(t, s, text)
		assert.ElementsMatch(t, want, got, text)
	}
	// What comes after what hangs on it, or is called otherwise since.
	write(t, s, m, []record{{"asset", "a2", records.Asset{Site: "s1", Name: "Lift", Kind: "lift"}}})
	write(t, s, m, []record{{"assetkind", "lift", records.AssetKind{Name: "Boat hoist"}}})
	got, _ := find(t, s, "hoist")
	assert.Equal(t, []string{"asset/a2"}, got)
	amend("assetkind", "booster", map[string]any{"name": "Pressure set"})
	got, _ = find(t, s, "pressure")
	assert.Equal(t, []string{"asset/a1"}, got)
	before, _ := find(t, s, "inlet")
	_, err := s.Rebuild(context.Background(), func(int64, int64) {})
	require.NoError(t, err)
	after, _ := find(t, s, "inlet")
	assert.Equal(t, before, after)
	differ, _, err := s.Verify(context.Background(), func(int64, int64) {})
	require.NoError(t, err)
	assert.Empty(t, differ)
}

// Whatever is typed gives an answer, and a word of a name with one slip finds it.
func TestFindAnything(t *testing.T) {
	s := open(t, t.TempDir())
	m := ledgertest.NewMaker("office", 1)
	write(t, s, m, findable(m))
	rapid.Check(t, func(rt *rapid.T) {
		find(rt, s, rapid.OneOf(rapid.String(), rapid.StringMatching(`[a-z"*():^ -]{0,30}`)).Draw(rt, "text"))
		word := []rune(rapid.SampledFrom([]string{"harbour", "vibration", "mechanical", "glasshouse"}).Draw(rt, "word"))
		at := rapid.IntRange(1, len(word)-2).Draw(rt, "at")
		var typed []rune
		switch rapid.IntRange(0, 3).Draw(rt, "slip") {
		case 0:
			typed = append(append(typed, word[:at]...), word[at+1:]...)
		case 1:
			typed = append(append(append(typed, word[:at]...), 'x'), word[at:]...)
		case 2:
			typed = append(append(append(typed, word[:at]...), 'x'), word[at+1:]...)
		case 3:
			typed = append(append(append(typed, word[:at]...), word[at+1], word[at]), word[at+2:]...)
		}
		names, _ := find(rt, s, string(typed))
		require.NotEmpty(rt, names, string(typed))
	})
}
