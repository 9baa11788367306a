package ledger_test

import (
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"iter.example/iter/core/ledger"
	"iter.example/iter/core/records"
)

// A machine goes with its components, its way stays to be read, and nobody writes it otherwise.
func TestMachinesMove(t *testing.T) {
	m, docs := company(t)
	require.Empty(t, take(t, docs,
		m.Entry("office", "record.created", "customer", "C2", records.Customer{Name: "Quill Dairy"}),
		m.Entry("office", "record.created", "site", "S2", records.Site{Customer: "C2", Name: "Weir"}),
		m.Entry("office", "record.created", "asset", "A1-motor", records.Asset{Site: "S1", Parent: "A1", Name: "Motor"})).Error)
	move := func(b ledger.AssetMoved) string {
		m.Wait(time.Minute)
		return take(t, docs, m.Entry("office", "asset.moved", "asset", "A1", b)).Error
	}
	asset := func(id string) (a records.Asset) {
		_, err := docs.Load(ledger.Ref{Type: "asset", ID: id}, &a)
		require.NoError(t, err)
		return a
	}
	require.Empty(t, move(ledger.AssetMoved{Why: records.Lent, Site: "S2", Until: "2026-05-01", Components: []string{"A1-motor"}}))
	assert.Equal(t, "S2", asset("A1").Site)
	assert.Equal(t, "S2", asset("A1-motor").Site)
	require.Empty(t, move(ledger.AssetMoved{Why: records.Back, Site: "S1", Components: []string{"A1-motor"}}))
	require.Empty(t, move(ledger.AssetMoved{Why: records.Scrapped, Note: "Casing cracked"}))
	a := asset("A1")
	assert.NotEmpty(t, a.Removed)
	var way []string
	for _, x := range a.Moves {
		way = append(way, string(x.Why)+" "+x.From+">"+x.To)
	}
	assert.Equal(t, []string{"lent S1>S2", "back S2>S1", "scrapped S1>"}, way)

	for code, b := range map[string]ledger.AssetMoved{
		"asset.why":       {Why: "stolen", Site: "S2"},
		"asset.where":     {Why: records.Scrapped, Site: "S2"},
		"asset.until":     {Why: records.Moved, Site: "S2", Until: "2026-05-01"},
		"record.unknown":  {Why: records.Moved, Site: "S9"},
		"asset.component": {Why: records.Moved, Site: "S2", Components: []string{"A1"}},
	} {
		assert.Contains(t, move(b), code)
	}
	assert.Contains(t, move(ledger.AssetMoved{Why: records.Moved}), "asset.where")
}
