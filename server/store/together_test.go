package store_test

import (
	"errors"
	"fmt"
	"slices"
	"sync"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"iter.example/iter/core/ledger"
	"iter.example/iter/server/store"
)

// Writes that wait for one another are committed together, and each is whole or not at all: one that fails, panics or is given up takes
// nothing from the others, and watchers hear of them in the order of the log.
func TestWritesThatWaitTogether(t *testing.T) {
	s, m := company(t)
	var seqs []int64
	s.Watch(func(c store.Changed) { seqs = append(seqs, c.Seq) }) // told one after the other
	begun, goOn := make(chan bool), make(chan bool)
	var first sync.WaitGroup
	first.Go(func() {
		assert.NoError(t, s.Write(ctx, func(*store.Tx) error { close(begun); <-goOn; return nil }))
	})
	<-begun // from here on, writes wait
	const writes = 30
	var notes []ledger.Entry
	for i := range writes {
		notes = append(notes, m.Entry("ann", "note.written", "visit", "V1", ledger.Note{Text: fmt.Sprint("note ", i)}))
	}
	bad := errors.New("bad")
	var waiting sync.WaitGroup
	for i, e := range notes {
		waiting.Go(func() {
			defer func() { assert.Equal(t, i%5 == 2, recover() != nil, "a panic is for whoever it is of") }()
			err := s.Write(ctx, func(tx *store.Tx) error {
				if _, err := tx.Record(e, e.At); err != nil {
					return err
				}
				switch i % 5 {
				case 1:
					return bad
				case 2:
					panic("worse")
				}
				return nil
			})
			assert.Equal(t, i%5 == 1, errors.Is(err, bad))
			assert.Equal(t, i%5 == 1, err != nil)
		})
	}
	close(goOn)
	first.Wait()
	waiting.Wait()
	var got, want []string
	read(t, s, func(tx *store.Tx) {
		for i, e := range notes {
			if i%5 != 1 && i%5 != 2 {
				want = append(want, e.ID)
			}
			if _, ok, err := tx.Find(e.ID); assert.NoError(t, err) && ok {
				got = append(got, e.ID)
			}
		}
	})
	assert.Equal(t, want, got)
	require.Len(t, seqs, len(want))
	assert.True(t, slices.IsSorted(seqs))
	differ, _, err := s.Verify(ctx, nil)
	require.NoError(t, err)
	assert.Empty(t, differ)
}
