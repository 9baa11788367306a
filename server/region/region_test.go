package region_test

import (
	"bytes"
	"context"
	"os"
	"os/signal"
	"path/filepath"
	"syscall"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"iter.example/iter/server/extract"
	"iter.example/iter/server/region"
	"iter.example/iter/server/store"
)

// A disk that takes no more, whichever file it is in the middle of, leaves the region that is there, and nothing half made.
func TestADiskThatIsFull(t *testing.T) {
	dir, ctx, now := t.TempDir(), context.Background(), time.Now()
	raw, err := os.ReadFile(filepath.Join("..", "extract", "testdata", "town.osm.pbf"))
	require.NoError(t, err)
	town, _, err := extract.Read(ctx, bytes.NewReader(raw), true, func(string, int64, int64) {})
	require.NoError(t, err)
	require.NoError(t, region.Put(ctx, dir, now, town, nil))
	path, rev, err := store.Region(dir)
	require.NoError(t, err)

	var before syscall.Rlimit
	require.NoError(t, syscall.Getrlimit(syscall.RLIMIT_FSIZE, &before))
	signal.Ignore(syscall.SIGXFSZ)
	t.Cleanup(func() { signal.Reset(syscall.SIGXFSZ) })
	for i, name := range []string{store.RoadsFile, store.MapFile, store.AddressesFile} {
		info, err := os.Stat(filepath.Join(path, name))
		require.NoError(t, err)
		for _, size := range []int64{info.Size() / 2, info.Size() - 1} {
			require.NoError(t, syscall.Setrlimit(syscall.RLIMIT_FSIZE, &syscall.Rlimit{Cur: uint64(size), Max: before.Max}))
			err = region.Put(ctx, dir, now.Add(time.Duration(i+1)*time.Minute), town, nil)
			require.NoError(t, syscall.Setrlimit(syscall.RLIMIT_FSIZE, &before))
			require.Error(t, err, "%s with %d bytes", name, size)
			_, after, err := store.Region(dir)
			require.NoError(t, err)
			assert.Equal(t, rev, after, "the one before stays")
			left, err := os.ReadDir(filepath.Join(dir, store.RegionDir))
			require.NoError(t, err)
			assert.Len(t, left, 1, "nothing half made is left")
		}
	}
	require.NoError(t, region.Put(ctx, dir, now.Add(time.Hour), town, nil))
	_, after, err := store.Region(dir)
	require.NoError(t, err)
	assert.Greater(t, after, rev)
}
