package main

import (
	"context"
	"fmt"
	"os"
	"path/filepath"
	"slices"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"iter.example/iter/core/ledger"
	"iter.example/iter/core/ledger/ledgertest"
	"iter.example/iter/core/records"
	"iter.example/iter/server/store"
)

// Roads come from an extract, also to a company that is empty yet; what can't be read changes nothing.
func TestRoadsAreRead(t *testing.T) {
	dir, ctx := t.TempDir(), context.Background()
	town := filepath.Join("..", "..", "server", "extract", "testdata", "town.osm.pbf")
	s, err := store.Open(ctx, dir)
	require.NoError(t, err)
	require.NoError(t, s.Close())
	require.NoError(t, runRoads(ctx, []string{"--data", dir, "--source", "Made up", town}))
	path, rev, err := store.Region(dir)
	require.NoError(t, err)
	before, err := os.ReadFile(filepath.Join(path, store.RoadsFile))
	require.NoError(t, err)
	assert.Contains(t, string(before), "Made up")
	assert.FileExists(t, filepath.Join(path, store.MapFile))
	assert.FileExists(t, filepath.Join(path, store.AddressesFile))

	broken := filepath.Join(t.TempDir(), "x.osm.pbf")
	require.NoError(t, os.WriteFile(broken, []byte("%PDF"), 0o600))
	for _, args := range [][]string{{broken}, {filepath.Join(dir, "none")}, {}} {
		assert.Error(t, runRoads(ctx, append([]string{"--data", dir}, args...)))
	}
	_, after, err := store.Region(dir)
	require.NoError(t, err)
	assert.Equal(t, rev, after, "the one before stays")
	require.NoError(t, runBackup(ctx, []string{"--data", dir, filepath.Join(dir, "copy")}))
	path, copied, err := store.Region(filepath.Join(dir, "copy"))
	require.NoError(t, err)
	assert.Equal(t, rev, copied)
	roads, err := os.ReadFile(filepath.Join(path, store.RoadsFile))
	require.NoError(t, err)
	assert.Equal(t, before, roads)

	require.NoError(t, runRoads(ctx, []string{"--data", dir, town}))
	_, again, err := store.Region(dir)
	require.NoError(t, err)
	assert.Greater(t, again, rev)
	kept, err := os.ReadDir(filepath.Join(dir, store.RegionDir))
	require.NoError(t, err)
	assert.Len(t, kept, 1, "the one before is gone, and nothing half made is left")
}

// A firm is told when the region is not that of its sites, or their degrees are swapped, however many it has.
func TestSitesThatNoRoadReaches(t *testing.T) {
	here, swapped, far := records.Point{Lat: 50, Lon: -5}, records.Point{Lat: -5, Lon: 50}, records.Point{Lat: 10, Lon: 10}
	covers := func(p records.Point) bool { return p == here }
	for name, c := range map[string]struct {
		sites []records.Point
		says  string
		into  string // what the first turned out to be
	}{
		"none":                {sites: nil, says: ""},
		"the right region":    {sites: []records.Point{here, here, {}}, says: ""},
		"one lies elsewhere":  {sites: []records.Point{here, far}, says: "1 of your 2 sites are far from every road of it: no way"},
		"two that were one":   {sites: []records.Point{far, far, here}, says: "1 of your 2 sites are far", into: "S1"},
		"degrees are swapped": {sites: []records.Point{swapped, far, {}}, says: "2 of your 2 sites are far from every road of it, and 1"},
		"the wrong region":    {sites: []records.Point{far, far}, says: "None of your 2 sites is near a road of it"},
		"many":                {sites: slices.Repeat([]records.Point{far, here}, 500), says: "500 of your 1000 sites are far"},
	} {
		t.Run(name, func(t *testing.T) {
			ctx := context.Background()
			s, err := store.Open(ctx, t.TempDir())
			require.NoError(t, err)
			defer s.Close()
			office := ledgertest.NewMaker("office", 1)
			require.NoError(t, s.Write(ctx, func(tx *store.Tx) error {
				for i, at := range c.sites {
					site := records.Site{Customer: "C1", Name: "Pump house", Lat: at.Lat, Lon: at.Lon}
					e := office.Entry("office", "record.created", "site", fmt.Sprint("S", i), site)
					if _, err := tx.Record(e, e.At); err != nil {
						return err
					}
				}
				if c.into == "" {
					return nil
				}
				e := office.Entry("office", "record.merged", "site", "S0", ledger.Merged{Into: c.into})
				_, err := tx.Record(e, e.At)
				return err
			}))
			var out strings.Builder
			require.NoError(t, sitesWithout(ctx, s, covers, &out))
			if c.says == "" {
				assert.Empty(t, out.String())
			}
			assert.Contains(t, out.String(), c.says)
		})
	}
}
