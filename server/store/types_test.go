package store

import (
	"context"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"iter.example/iter/core/ledger"
	"iter.example/iter/core/ledger/ledgertest"
)

// What the store does with a document of a type was decided for each type there is.
func TestEveryTypeHasARow(t *testing.T) {
	for _, typ := range ledger.Types() {
		row, ok := docTypes[typ.Name]
		assert.True(t, ok, typ.Name)
		assert.NotEqual(t, ledger.Unsaid, typ.Reach, typ.Name)
		if typ.Reach == ledger.ToAll {
			assert.Nil(t, row.people, "%s is on all devices", typ.Name)
		}
	}
	assert.Len(t, docTypes, len(ledger.Types()))
}

// What the office changes on a work order is heard of at once by those who are on its visits, and by nobody else.
func TestWhomAWorkOrderConcerns(t *testing.T) {
	ctx := context.Background()
	s, err := Open(ctx, t.TempDir())
	require.NoError(t, err)
	defer s.Close()
	m := ledgertest.NewMaker("office", 1)
	require.NoError(t, s.Write(ctx, func(tx *Tx) error {
		for _, e := range m.Company() {
			if _, err := tx.Record(e, e.At); err != nil {
				return err
			}
		}
		return nil
	}))
	require.NoError(t, s.Read(ctx, func(tx *Tx) error {
		people, err := tx.Concerned([]ledger.Ref{{Type: "workorder", ID: "W1"}})
		assert.Equal(t, map[string]bool{"ann": true}, people)
		return err
	}))
}
