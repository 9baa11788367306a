package store_test

import (
	"context"
	"slices"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"iter.example/iter/core/ledger/ledgertest"
	"iter.example/iter/core/msg"
	"iter.example/iter/server/store"
)

func page(t require.TestingT, s *store.Store, list string, q store.ListQuery) (p *store.ListPage) {
	require.NoError(t, s.Read(context.Background(), func(tx *store.Tx) (err error) { p, err = tx.ListPage(list, q); return err }))
	return p
}

func idsOf(p *store.ListPage) (ids []string) {
	for _, l := range p.Lines {
		ids = append(ids, l.ID)
	}
	return ids
}

func TestLists(t *testing.T) {
	s, m := open(t, t.TempDir()), ledgertest.NewMaker("office", 1)
	write(t, s, m, findable(m))

	for name, c := range map[string]struct {
		list string
		q    store.ListQuery
		want string
	}{
		"the latest number first":      {"orders", store.ListQuery{}, "o2 o1"},
		"sorted the other way":         {"orders", store.ListQuery{Sort: "number"}, "o1 o2"},
		"by a name, whatever its case": {"customers", store.ListQuery{Sort: "name"}, "c1 c2 c3"},
		"parts of words in any order":  {"orders", store.ListQuery{Words: "start brati"}, "o1"},
		"their own number":             {"orders", store.ListQuery{Words: "po-77/b"}, "o1"},
		"a telephone number":           {"customers", store.ListQuery{Words: "01 555 1000"}, "c1"},
		"one of some records": {"orders", store.ListQuery{Where: []store.Filter{{Column: "customer", In: []string{"c2", "c3"}}}},
			"o2"},
		"none of them":  {"orders", store.ListQuery{Where: []store.Filter{{Column: "state", In: []string{}}}}, ""},
		"empty":         {"orders", store.ListQuery{Where: []store.Filter{{Column: "theirs", In: []string{""}}}}, "o2"},
		"up to a day":   {"orders", store.ListQuery{Where: []store.Filter{{Column: "opened", To: "2026-03-09"}}}, ""},
		"from a number": {"customers", store.ListQuery{Where: []store.Filter{{Column: "open", From: "1"}}}, "c1 c2"},
		"some lines":    {"orders", store.ListQuery{IDs: []string{"o1"}}, "o1"},
		"past the end":  {"orders", store.ListQuery{Page: 3}, ""},
		"machines":      {"assets", store.ListQuery{Words: "booster 12/3"}, "a1"},
		"right to left": {"customers", store.ListQuery{Words: "مزرعة"}, "c3"},
		"what is no word but a sign of the language of queries": {"orders", store.ListQuery{Words: `") OR 1 --`}, ""},
	} {
		t.Run(name, func(t *testing.T) {
			p := page(t, s, c.list, c.q)
			assert.Equal(t, c.want, strings.Join(idsOf(p), " "))
		})
	}
	p := page(t, s, "orders", store.ListQuery{})
	assert.Equal(t, 2, p.Total)
	assert.Equal(t, "120", p.Sums["minutes"])
	assert.Equal(t, "Harbour Dairy c1 Pump House 7 10234 o1 open", strings.Join([]string{p.Lines[1].Cells["customer"],
		p.Lines[1].Cells["customer_id"], p.Lines[1].Cells["site"], p.Lines[1].Cells["number"], p.Lines[1].Cells["number_id"],
		p.Lines[1].Cells["state"]}, " "))

	require.NoError(t, s.Read(context.Background(), func(tx *store.Tx) error {
		groups, cut, err := tx.ListGroups("orders", "customer", store.ListQuery{})
		assert.False(t, cut)
		assert.Equal(t, []store.ListGroup{{Value: "c1", Name: "Harbour Dairy", Count: 1, Sums: map[string]string{"minutes": "60", "visits": "0"}},
			{Value: "c2", Name: "Élan Growers", Count: 1, Sums: map[string]string{"minutes": "60", "visits": "0"}}}, groups)
		return err
	}))
	for name, q := range map[string]store.ListQuery{"sort": {Sort: "text"}, "column": {Where: []store.Filter{{Column: "1; DROP TABLE docs"}}},
		"number": {Where: []store.Filter{{Column: "minutes", From: "many"}}}} {
		err := s.Read(context.Background(), func(tx *store.Tx) error { _, err := tx.ListPage("orders", q); return err })
		var why *msg.Code
		require.ErrorAs(t, err, &why, name)
		assert.Equal(t, "list.filter", why.Code, name)
	}
}

// A record that is called otherwise is so wherever it is named, and what verify folds anew says the same.
func TestNamesInLists(t *testing.T) {
	s, m := open(t, t.TempDir()), ledgertest.NewMaker("office", 1)
	write(t, s, m, findable(m))
	amend := func(typ, id string, patch map[string]any) {
		require.NoError(t, s.Write(context.Background(), func(tx *store.Tx) error {
			_, err := tx.Record(m.Entry("office", "record.amended", typ, id, patch), m.Now())
			return err
		}))
	}
	long := strings.Repeat("Harbour and Inlets ", 10)
	amend("customer", "c1", map[string]any{"name": long + "Dairy"})
	amend("customer", "c1", map[string]any{"name": long + "Creamery"})
	amend("asset", "a1", map[string]any{"removed": "2026-03-01"})
	amend("site", "s1", map[string]any{"name": "Pump House 8"})
	assert.Equal(t, long+"Creamery", page(t, s, "sites", store.ListQuery{IDs: []string{"s1"}}).Lines[0].Cells["customer"])
	assert.Equal(t, long+"Creamery", page(t, s, "orders", store.ListQuery{IDs: []string{"o1"}}).Lines[0].Cells["customer"])
	assert.Equal(t, "Pump House 8", page(t, s, "assets", store.ListQuery{IDs: []string{"a1"}}).Lines[0].Cells["site"])
	amend("site", "s1", map[string]any{"customer": "c2"})
	assert.Equal(t, "Élan Growers", page(t, s, "assets", store.ListQuery{IDs: []string{"a1"}}).Lines[0].Cells["customer"])
	differ, _, err := s.Verify(context.Background(), nil)
	require.NoError(t, err)
	assert.Empty(t, differ)
}

// Every column of every list sorts, and groups into all of its lines.
func TestColumnsOfLists(t *testing.T) {
	s, m := open(t, t.TempDir()), ledgertest.NewMaker("office", 1)
	write(t, s, m, findable(m))
	rapid.Check(t, func(rt *rapid.T) {
		name := rapid.SampledFrom(store.ListNames).Draw(rt, "list")
		q := store.ListQuery{Words: rapid.SampledFrom([]string{"", "a", "dairy", "555 1000", "1"}).Draw(rt, "words")}
		all := page(rt, s, name, q)
		c := rapid.SampledFrom(all.Columns).Draw(rt, "column")
		q.Sort = rapid.SampledFrom([]string{"", "-"}).Draw(rt, "way") + c.Name
		sorted := page(rt, s, name, q)
		assert.ElementsMatch(rt, idsOf(all), idsOf(sorted))
		require.NoError(rt, s.Read(context.Background(), func(tx *store.Tx) error {
			groups, _, err := tx.ListGroups(name, c.Name, q)
			if err != nil {
				return err
			}
			var within []string
			for _, g := range groups {
				in := q
				in.Where = []store.Filter{{Column: c.Name, In: []string{g.Value}}}
				p, err := tx.ListPage(name, in)
				if err != nil {
					return err
				}
				assert.Equal(rt, g.Count, p.Total, "%s of %s: %q", c.Name, name, g.Value)
				within = append(within, idsOf(p)...)
			}
			slices.Sort(within)
			assert.ElementsMatch(rt, idsOf(all), within)
			return nil
		}))
	})
}
