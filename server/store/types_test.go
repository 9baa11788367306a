package store

import (
	"context"
	"slices"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"iter.example/iter/core/ledger"
	"iter.example/iter/core/ledger/ledgertest"
)

// Whom a document concerns follows from which devices hold it, or was decided.
func TestWhomEveryTypeConcerns(t *testing.T) {
	for _, typ := range ledger.Types() {
		assert.NotEqual(t, ledger.Unsaid, typ.Reach, typ.Name)
		switch row := docTypes[typ.Name]; typ.Reach {
		case ledger.ToAll, ledger.AtTheOffice:
			assert.Nil(t, row.people, "%s is on all devices, or on none", typ.Name)
		case ledger.ToTheirs:
			assert.NotNil(t, row.people, "%s is on the devices of some", typ.Name)
		}
	}
	for name := range docTypes {
		assert.True(t, slices.ContainsFunc(ledger.Types(), func(r ledger.TypeRow) bool { return r.Name == name }), name)
	}
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
