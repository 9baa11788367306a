package main

import (
	"context"
	"os"
	"path/filepath"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

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
