package accounts_test

import (
	"context"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"iter.example/iter/server/accounts"
	"iter.example/iter/server/store"
)

func TestAccounts(t *testing.T) {
	ctx := context.Background()
	s, err := store.Open(ctx, t.TempDir())
	require.NoError(t, err)
	defer s.Close()
	require.NoError(t, accounts.Set(ctx, s, "Ann", "ann", "correct horse"))
	require.Error(t, accounts.Set(ctx, s, "ben", "ben", "short"))
	require.Error(t, accounts.Set(ctx, s, "ann", "ben", "correct horse"), "a login is one person's")

	who, err := accounts.Check(ctx, s, " ANN ", "correct horse")
	require.NoError(t, err)
	assert.Equal(t, "ann", who)
	for _, try := range [][2]string{{"ann", "wrong horse"}, {"nobody", "correct horse"}, {"", ""}} {
		_, err := accounts.Check(ctx, s, try[0], try[1])
		assert.ErrorIs(t, err, accounts.ErrWrong)
	}
	require.NoError(t, accounts.Set(ctx, s, "annie", "ann", "battery staple"), "a person has one login")
	_, err = accounts.Check(ctx, s, "ann", "correct horse")
	assert.ErrorIs(t, err, accounts.ErrWrong)
}

func TestBrake(t *testing.T) {
	var b accounts.Brake
	now := time.Now()
	for range 4 {
		b.Failed("ann", now)
		assert.Zero(t, b.Wait("ann", now))
	}
	var last time.Duration
	for range 30 {
		b.Failed("ann", now)
		wait := b.Wait("ann", now)
		assert.GreaterOrEqual(t, wait, last)
		last = wait
	}
	assert.Equal(t, 15*time.Minute, last)
	assert.Zero(t, b.Wait("ben", now))
	assert.Zero(t, b.Wait("ann", now.Add(time.Hour)))
	b.Worked("ann")
	assert.Zero(t, b.Wait("ann", now))
}
