package ledger_test

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"iter.example/iter/core/ledger"
	"iter.example/iter/core/ledger/ledgertest"
	"iter.example/iter/core/records"
)

// A view of a list is made and changed by its owner alone, and stays theirs.
func TestViewsAreTheirOwners(t *testing.T) {
	docs, m := ledger.Docs{}, ledgertest.NewMaker("office", 1)
	view := records.ListView{Name: "Open at Mirin's", List: "orders", Owner: "office", Query: "where=x"}
	other := view
	other.Owner = "rev"
	assert.Equal(t, "view.owner", take(t, docs, m.Entry("office", "record.created", "listview", "v0", other)).Error)
	require.Empty(t, take(t, docs, m.Entry("office", "record.created", "listview", "v1", view)).Error)
	require.Empty(t, take(t, docs, m.Entry("office", "record.amended", "listview", "v1", map[string]any{"shared": true})).Error)
	assert.Equal(t, "view.owner", take(t, docs, m.Entry("rev", "record.amended", "listview", "v1", map[string]any{"name": "Mine"})).Error)
	assert.Equal(t, "view.owner", take(t, docs, m.Entry("rev", "record.amended", "listview", "v1", map[string]any{"owner": "rev"})).Error)
	assert.Equal(t, "view.owner", take(t, docs, m.Entry("office", "record.amended", "listview", "v1", map[string]any{"owner": "rev"})).Error)
}
