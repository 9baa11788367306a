package store

import (
	"testing"

	"github.com/stretchr/testify/assert"

	"iter.example/iter/core/ledger"
)

// What the store does with a document of a type was decided for each type there is.
func TestEveryTypeHasARow(t *testing.T) {
	for _, typ := range ledger.Types() {
		row, ok := docTypes[typ.Name]
		assert.True(t, ok, typ.Name)
		if typ.Reach == ledger.ToAll {
			assert.Nil(t, row.people, "%s is on all devices", typ.Name)
		}
	}
	assert.Len(t, docTypes, len(ledger.Types()))
}
