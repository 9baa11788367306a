package company_test

import (
	"context"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"iter.example/iter/core/ledger"
	"iter.example/iter/core/msg"
	"iter.example/iter/core/records"
	"iter.example/iter/server/company"
	"iter.example/iter/server/store"
)

func TestFoundingIsDoneOnce(t *testing.T) {
	ctx := context.Background()
	s, err := store.Open(ctx, t.TempDir())
	require.NoError(t, err)
	defer s.Close()
	now := time.Date(2026, 11, 23, 9, 0, 0, 0, time.UTC)
	loc, err := time.LoadLocation("Europe/Dublin")
	require.NoError(t, err)
	write := func(f func(*company.Writer) error) error {
		return s.Write(ctx, func(tx *store.Tx) error { return f(&company.Writer{Tx: tx, Now: now}) })
	}
	require.NoError(t, write(func(w *company.Writer) error { return company.Found(w, "First", loc) }))
	require.NoError(t, write(func(w *company.Writer) error { return company.Found(w, "Second", time.UTC) }))
	for range 2 {
		require.NoError(t, write(func(w *company.Writer) error { return company.Administrator(w, "ada", "Ada Lund") }))
	}
	require.NoError(t, s.Read(ctx, func(tx *store.Tx) error {
		p, _, err := tx.Company(now)
		require.NoError(t, err)
		assert.Equal(t, "First", p.Name)
		assert.Equal(t, "Europe/Dublin", p.Zone.Name)
		assert.Len(t, p.Zone.Shifts, 1+2*21, "two changes a year, ten years either way")
		require.NoError(t, company.Service.Check())
		seq, err := tx.Seq()
		assert.Equal(t, int64(3), seq, "sheet, settings, person")
		return err
	}))

	// Somebody who is there already becomes an administrator beside what they are.
	require.NoError(t, write(func(w *company.Writer) error {
		_, err := w.Append("record.created", ledger.Ref{Type: "person", ID: "ben"}, company.Program, now,
			records.Person{Name: "Ben", Roles: []records.Role{records.Technician}}, nil)
		if err != nil {
			return err
		}
		return company.Administrator(w, "ben", "")
	}))
	require.NoError(t, s.Read(ctx, func(tx *store.Tx) error {
		var p records.Person
		_, err := tx.Load("person", "ben", &p)
		assert.Equal(t, []records.Role{records.Technician, records.Administrator}, p.Roles)
		return err
	}))

	err = write(func(w *company.Writer) error {
		_, err := w.Append("visit.sent", ledger.Ref{Type: "visit", ID: "V9"}, company.Program, now, ledger.Nothing{}, nil)
		return err
	})
	assert.Equal(t, "record.unknown", msg.From(err).Code)
	assert.ErrorContains(t, err, "visit.sent of visit/V9", "and says what it was about")
}
