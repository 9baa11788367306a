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
	before, err := os.ReadFile(filepath.Join(dir, store.RoadsName))
	require.NoError(t, err)
	assert.Contains(t, string(before), "Made up")

	broken := filepath.Join(t.TempDir(), "x.osm.pbf")
	require.NoError(t, os.WriteFile(broken, []byte("%PDF"), 0o600))
	for _, args := range [][]string{{broken}, {filepath.Join(dir, "none")}, {}} {
		assert.Error(t, runRoads(ctx, append([]string{"--data", dir}, args...)))
	}
	after, err := os.ReadFile(filepath.Join(dir, store.RoadsName))
	require.NoError(t, err)
	assert.Equal(t, before, after)
	require.NoError(t, runBackup(ctx, []string{"--data", dir, filepath.Join(dir, "copy")}))
	copied, err := os.ReadFile(filepath.Join(dir, "copy", store.RoadsName))
	require.NoError(t, err)
	assert.Equal(t, before, copied)
}
