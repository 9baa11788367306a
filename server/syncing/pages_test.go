package syncing_test

import (
	"context"
	"fmt"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"iter.example/iter/core/replica"
	"iter.example/iter/core/stock"
	"iter.example/iter/server/syncing"
)

// A catalogue larger than a page comes in several, each part once, and a lost page is told again.
func TestAFirstPackInPages(t *testing.T) {
	w := newWorld(t, t.TempDir())
	const parts = 2300
	for i := range parts {
		require.NoError(t, w.office("record.created", "part", fmt.Sprintf("X%04d", i), stock.Part{Name: "x", Unit: "each"}))
	}
	ann := w.device("ann", 1)
	assert.True(t, ann.sync(true), "the first page is lost")
	rounds := 1
	for ; ann.sync(false); rounds++ {
		require.Less(t, rounds, 10)
	}
	assert.Equal(t, 3, rounds)
	have := 0
	for ref := range ann.shown {
		if ref.Type == "part" {
			have++
		}
	}
	assert.Equal(t, parts+2, have)
	assert.True(t, ann.has("visit", "V1"))
}

// A device that has all there is costs nothing, and is noticed once a minute; at midnight the scope moves.
func TestNothingNew(t *testing.T) {
	w := newWorld(t, t.TempDir())
	ann := w.device("ann", 1)
	ann.settle()
	ann.settle()
	ask := func() replica.Response {
		out, err := syncing.Sync(context.Background(), w.store, ann.who, replica.Request{Replica: "ann-1", Cursor: ann.state.Cursor}, w.now)
		require.NoError(t, err)
		return out
	}
	first := ask()
	assert.Empty(t, first.Docs)
	assert.Equal(t, ann.state.Cursor, first.Cursor, "nothing was written for it")
	w.now = w.now.Add(2 * time.Minute)
	assert.NotEqual(t, ann.state.Cursor, ask().Cursor, "its contact is noted")
	w.now = w.now.AddDate(0, 0, 15)
	gone := ask().Gone
	assert.NotEmpty(t, gone, "the visit is more than two weeks back")
}
