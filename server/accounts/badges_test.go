package accounts_test

import (
	"context"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"iter.example/iter/core/ledger/ledgertest"
	"iter.example/iter/server/accounts"
	"iter.example/iter/server/store"
)

func TestBadgesAndPins(t *testing.T) {
	ctx := context.Background()
	s, err := store.Open(ctx, t.TempDir())
	require.NoError(t, err)
	t.Cleanup(func() { _ = s.Close() })
	var badges []store.Badge
	require.NoError(t, s.Write(ctx, func(tx *store.Tx) error {
		for _, e := range ledgertest.NewMaker("R1", 1).Company() {
			if _, err := tx.Record(e, e.At); err != nil {
				return err
			}
		}
		return nil
	}))
	require.NoError(t, s.Write(ctx, func(tx *store.Tx) error {
		badges, err = accounts.Issue(tx)
		require.NoError(t, err)
		again, err := accounts.Issue(tx)
		assert.Equal(t, badges, again, "each has one, and keeps it")
		for _, bad := range []string{"", "123", "123456789", "12a4", "１２３４"} {
			assert.ErrorIs(t, accounts.SetPin(tx, bad, "ann"), accounts.ErrPin, bad)
		}
		require.NoError(t, accounts.SetPin(tx, "4711", "ann"))
		return err
	}))
	require.Len(t, badges, 2, "those who work in the field")
	assert.Equal(t, []string{"101", "102"}, []string{badges[0].Number, badges[1].Number})
	for _, b := range badges {
		assert.True(t, strings.HasPrefix(b.Code, accounts.BadgePrefix))
	}
	badge, err := accounts.CheckPin(ctx, s, "101", "4711")
	require.NoError(t, err)
	assert.Equal(t, "ann", badge.Person)
	for number, pin := range map[string]string{"102": "4711", "999": "4711", "": ""} {
		_, err := accounts.CheckPin(ctx, s, number, pin)
		assert.ErrorIs(t, err, accounts.ErrWrong, number)
	}
}
