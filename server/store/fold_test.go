package store

import (
	"context"
	"crypto/sha256"
	"flag"
	"fmt"
	"math/rand"
	"os"
	"path/filepath"
	"strings"
	"testing"

	"github.com/stretchr/testify/require"

	"iter.example/iter/core/ledger"
	"iter.example/iter/core/ledger/ledgertest"
)

var update = flag.Bool("update", false, "write what the fold gives today")

// What the log folds to is another version when it is not what it was: an older database is folded anew only then.
func TestAnotherFoldIsAnotherVersion(t *testing.T) {
	ctx := context.Background()
	s, err := Open(ctx, t.TempDir())
	require.NoError(t, err)
	defer s.Close()
	m, r := ledgertest.NewMaker("R1", 1), rand.New(rand.NewSource(1))
	var taken []ledger.Entry
	record := func(e ledger.Entry) {
		if s.Write(ctx, func(tx *Tx) error { _, err := tx.Record(e, e.At); return err }) == nil {
			taken = append(taken, e)
		}
	}
	for _, e := range m.Company() {
		record(e)
	}
	for range 400 {
		record(m.Random(r, taken))
	}
	for _, kind := range ledger.Kinds() {
		for _, actor := range []string{"ann", "office"} {
			if e, ok := m.Sample(kind, actor); ok {
				record(e)
			}
		}
	}
	require.Greater(t, len(taken), 300)
	sum := sha256.New()
	require.NoError(t, s.Read(ctx, func(tx *Tx) error {
		for _, f := range folds {
			rows, err := tx.sql.QueryContext(ctx, "SELECT "+f.columns+" FROM "+f.table+" WHERE "+f.where+" ORDER BY "+f.order)
			if err != nil {
				return err
			}
			n := len(strings.Split(f.columns, ","))
			for rows.Next() {
				values := make([]any, n)
				at := make([]any, n)
				for i := range values {
					at[i] = &values[i]
				}
				if err := rows.Scan(at...); err != nil {
					return err
				}
				fmt.Fprintf(sum, "%s %q\n", f.table, values)
			}
			if err := rows.Err(); err != nil {
				return err
			}
		}
		return nil
	}))
	file := filepath.Join("testdata", "fold.txt")
	is := fmt.Sprintf("%d %x\n", FoldVersion, sum.Sum(nil))
	if *update {
		require.NoError(t, os.WriteFile(file, []byte(is), 0o644))
	}
	was, err := os.ReadFile(file)
	require.NoError(t, err)
	require.Equal(t, string(was), is, "the log folds to something else: raise FoldVersion, and run this test with -update")
}
