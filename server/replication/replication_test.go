package replication_test

import (
	"context"
	"fmt"
	"log/slog"
	"os"
	"path/filepath"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"iter.example/iter/core/ledger"
	"iter.example/iter/core/ledger/ledgertest"
	"iter.example/iter/server/replication"
	"iter.example/iter/server/store"
)

// What was written before and while it was replicated, in two runs of the program, is in the copy, and the copy is sound.
func TestRestoreFromTheSecondCopy(t *testing.T) {
	ctx := context.Background()
	dir, other, back := t.TempDir(), t.TempDir(), filepath.Join(t.TempDir(), "back")
	m := ledgertest.NewMaker("office", 1)
	entries := m.Company()
	hash := strings.Repeat("b", 64)
	for run := range 2 {
		s, err := store.Open(ctx, dir)
		require.NoError(t, err)
		write := func(entries ...ledger.Entry) {
			require.NoError(t, s.Write(ctx, func(tx *store.Tx) error {
				for _, e := range entries {
					_, err := tx.Record(e, e.At)
					require.NoError(t, err)
				}
				return nil
			}))
		}
		write(entries...)
		stop, err := replication.Start(ctx, s, other, slog.New(slog.DiscardHandler))
		require.NoError(t, err)
		for i := range 30 {
			write(m.Entry("ann", "note.written", "visit", "V1", ledger.Note{Text: fmt.Sprint(run, i)}))
		}
		entries = nil
		path := filepath.Join(dir, store.FilesDir, "bb", hash)
		require.NoError(t, os.MkdirAll(filepath.Dir(path), 0o700))
		require.NoError(t, os.WriteFile(path, []byte("photo"), 0o600))
		require.NoError(t, stop())
		require.NoError(t, s.Close())
	}
	require.NoError(t, os.RemoveAll(dir), "the disk is gone")
	require.NoError(t, replication.Restore(ctx, other, back))
	s, err := store.Open(ctx, back)
	require.NoError(t, err)
	defer s.Close()
	differ, n, err := s.Verify(ctx, nil)
	require.NoError(t, err)
	assert.Empty(t, differ)
	assert.Equal(t, int64(75), n)
	assert.FileExists(t, filepath.Join(back, store.FilesDir, "bb", hash))
	assert.ErrorContains(t, replication.Restore(ctx, other, back), "holds data already")
	assert.ErrorContains(t, replication.Restore(ctx, t.TempDir(), t.TempDir()), "there is no copy")
}
