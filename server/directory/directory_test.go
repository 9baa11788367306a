package directory_test

import (
	"bytes"
	"compress/gzip"
	"context"
	"encoding/json"
	"fmt"
	"math/rand/v2"
	"testing"
	"time"

	"github.com/oklog/ulid/v2"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"iter.example/iter/core/ledger/ledgertest"
	"iter.example/iter/core/records"
	"iter.example/iter/server/directory"
	"iter.example/iter/server/store"
)

func TestSince(t *testing.T) {
	ctx := context.Background()
	s, err := store.Open(ctx, t.TempDir())
	require.NoError(t, err)
	defer s.Close()
	m := ledgertest.NewMaker("R1", 1)
	says := func(kind, typ, id string, body any) {
		e := m.Entry("office", kind, typ, id, body)
		require.NoError(t, s.Write(ctx, func(tx *store.Tx) error { _, err := tx.Record(e, e.At); return err }))
	}
	for _, e := range m.Company() {
		require.NoError(t, s.Write(ctx, func(tx *store.Tx) error { _, err := tx.Record(e, e.At); return err }))
	}
	since := func(history string, seq int64) (d *directory.Directory) {
		require.NoError(t, s.Read(ctx, func(tx *store.Tx) (err error) {
			d, err = directory.Since(tx, history, seq, ledgertest.Start)
			return err
		}))
		return d
	}
	says("record.created", "customer", "C2", records.Customer{Name: "Quill Dairy", Contact: records.Contact{Phone: "01 555 1026"}})
	says("record.created", "site", "S2", records.Site{Customer: "C2", Name: "Weir", Address: "2 Lock Lane"})
	says("record.created", "asset", "A2", records.Asset{Site: "S2", Name: "Dosing unit", Serial: "D-77"})
	all := since("", 0)
	assert.True(t, all.Whole)
	assert.Equal(t, []string{"C1", "C2"}, all.Customers.ID)
	assert.Equal(t, "01 555 1026", all.Customers.Phone[1])
	row := len(all.Sites.ID) - 1
	assert.Equal(t, "S2", all.Sites.ID[row])
	assert.Equal(t, 1, all.Sites.Customer[row])
	assert.Equal(t, row, all.Assets.Site[len(all.Assets.ID)-1])

	assert.Empty(t, since(all.History, all.Seq).Customers.ID, "nothing is new")
	says("record.amended", "asset", "A2", map[string]string{"serial": "D-78"})
	news := since(all.History, all.Seq)
	assert.False(t, news.Whole)
	assert.Equal(t, directory.Assets{ID: []string{"A2"}, Site: []int{0}, Name: []string{"Dosing unit"}, Serial: []string{"D-78"}}, news.Assets)
	assert.Equal(t, []string{"S2"}, news.Sites.ID, "with the site it is at")
	assert.Equal(t, []string{"C2"}, news.Customers.ID, "and whose that is")

	says("record.amended", "asset", "A2", map[string]string{"removed": "2026-03-10"})
	assert.Equal(t, []string{""}, since(all.History, news.Seq).Assets.Name, "it is no more")
	assert.NotContains(t, since("", 0).Assets.ID, "A2")

	assert.True(t, since("another", all.Seq).Whole, "after the office went back to a copy")
	assert.True(t, since(all.History, 1e9).Whole, "of a log that is no more")
}

// Ten thousand sites with their customers and machines are under a megabyte.
func TestSize(t *testing.T) {
	r := rand.New(rand.NewPCG(1, 1))
	var seed [32]byte
	ids := ulid.Monotonic(rand.NewChaCha8(seed), 0)
	at := uint64(time.Date(2025, 1, 1, 0, 0, 0, 0, time.UTC).UnixMilli())
	id := func() string { at += r.Uint64N(900_000); return ulid.MustNew(at, ids).String() }
	some := func(of ...string) string { return of[r.IntN(len(of))] }
	name := func() string {
		return some("Ald", "Bren", "Corr", "Dun", "Esk", "Farn", "Gill", "Holm", "Innis", "Kell", "Lorn", "Mar", "Nor", "Ox", "Pen", "Quar") +
			some("abay", "beck", "combe", "dale", "fleet", "garth", "hythe", "ingle", "mere", "ness", "port", "quay", "stead", "thorpe", "wick")
	}
	phone := func() string { return fmt.Sprintf("01 555 %04d", r.IntN(10_000)) }
	const sites = 10_000
	var d directory.Directory
	for i := range sites {
		c, s := &d.Customers, &d.Sites
		if i%10 != 0 { // some have several sites
			c.ID, c.Phone = append(c.ID, id()), append(c.Phone, phone())
			c.Name = append(c.Name, name()+" "+some("Dairy", "Marina", "School", "Hotel", "Foods", "Works", "Estates", "Care Home"))
		}
		s.ID, s.Customer, s.Phone = append(s.ID, id()), append(s.Customer, max(0, len(c.ID)-1)), append(s.Phone, phone())
		s.Name = append(s.Name, name()+" "+some("Plant", "Yard", "House", "Depot", "Quay"))
		s.Address = append(s.Address, fmt.Sprintf("%d %s %s, %s", 1+r.IntN(200), name(), some("Road", "Street", "Lane", "Way"), name()))
		for range 2 {
			a := &d.Assets
			a.ID, a.Site = append(a.ID, id()), append(a.Site, i)
			a.Name = append(a.Name, some("Booster set", "Circulation pump", "Dosing unit", "Sump pump", "Boiler", "Chiller")+some("", " 1", " 2"))
			a.Serial = append(a.Serial, fmt.Sprintf("%s-%05d", some("CP", "BX", "OR"), r.IntN(100_000)))
		}
	}
	raw, err := json.Marshal(d)
	require.NoError(t, err)
	var packed bytes.Buffer
	z := gzip.NewWriter(&packed)
	_, _ = z.Write(raw)
	require.NoError(t, z.Close())
	t.Logf("%d sites, %d customers, %d machines: %d bytes, %d packed", sites, len(d.Customers.ID), len(d.Assets.ID), len(raw), packed.Len())
	assert.Less(t, packed.Len(), 1<<20)
}
