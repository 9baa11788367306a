package ledger_test

import (
	"testing"

	"github.com/stretchr/testify/assert"

	"iter.example/iter/core/ledger"
	"iter.example/iter/core/ledger/ledgertest"
)

// The matrix of rights (server/syncing) is made of these: a kind or type without one would not be in it.
func TestEveryKindAndTypeHasASample(t *testing.T) {
	m := ledgertest.NewMaker("R1", 1)
	for _, kind := range ledger.Kinds() {
		e, ok := m.Sample(kind, "ann")
		if assert.True(t, ok, kind) {
			_, err := ledger.Open(e)
			assert.NoError(t, err, kind)
		}
	}
	for _, row := range ledger.Types() {
		if !row.Record {
			continue
		}
		e, ok := m.SampleRecord(row.Name, "ann")
		if assert.True(t, ok, row.Name) {
			docs := ledger.Docs{}
			_, _, err := ledger.Apply(docs, e)
			assert.NoError(t, err, row.Name)
		}
	}
}

// A document of a type that is not in the table would be nobody's.
func TestEveryDocumentTypeIsInTheTable(t *testing.T) {
	known := map[string]bool{}
	for _, row := range ledger.Types() {
		known[row.Name] = true
	}
	m, _ := company(t)
	for _, kind := range ledger.Kinds() {
		e, _ := m.Sample(kind, "ann")
		f, err := ledger.Open(e)
		if !assert.NoError(t, err, kind) {
			continue
		}
		for _, ref := range f.Keys() {
			assert.True(t, known[ref.Type], "%s touches %s", kind, ref)
		}
	}
}
