package accounts_test

import (
	"context"
	"strings"
	"sync"
	"sync/atomic"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"iter.example/iter/core/msg"
	"iter.example/iter/server/accounts"
	"iter.example/iter/server/store"
)

func open(t *testing.T) *store.Store {
	s, err := store.Open(context.Background(), t.TempDir())
	require.NoError(t, err)
	t.Cleanup(func() { _ = s.Close() })
	return s
}

func TestAccounts(t *testing.T) {
	ctx, s := context.Background(), open(t)
	require.NoError(t, accounts.Set(ctx, s, "Ann", "ann", "correct horse"))
	require.ErrorContains(t, accounts.Set(ctx, s, "ann", "ben", "correct horse"), "account.taken", "a login is one person's")
	require.ErrorContains(t, accounts.Set(ctx, s, " ", "ben", "correct horse"), "account.login")

	a, err := accounts.Check(ctx, s, " ANN ", "correct horse", "")
	require.NoError(t, err)
	assert.Equal(t, "ann", a.Person)
	for _, try := range [][2]string{{"ann", "wrong horse"}, {"nobody", "correct horse"}, {"", ""}} {
		_, err := accounts.Check(ctx, s, try[0], try[1], "")
		assert.ErrorIs(t, err, accounts.ErrWrong)
	}
	require.NoError(t, accounts.Set(ctx, s, "annie", "ann", "battery staple"), "a person has one login")
	_, err = accounts.Check(ctx, s, "ann", "correct horse", "")
	assert.ErrorIs(t, err, accounts.ErrWrong)
	b, err := accounts.Check(ctx, s, "annie", "battery staple", "")
	require.NoError(t, err)
	assert.Greater(t, b.Epoch, a.Epoch, "what was signed in before is over")

	require.NoError(t, s.Write(ctx, func(tx *store.Tx) error { b.Disabled = time.Now(); return tx.PutAccount(b) }))
	_, err = accounts.Check(ctx, s, "annie", "battery staple", "")
	assert.ErrorIs(t, err, accounts.ErrDisabled)
	_, err = accounts.Check(ctx, s, "annie", "wrong staple", "")
	assert.ErrorIs(t, err, accounts.ErrWrong, "who does not know the password is not told")
}

func TestPasswordsThatAreRefused(t *testing.T) {
	for password, want := range map[string]string{
		"correct horse": "", "muckle flugga": "", accounts.FirstPassword(): "", "pumps and pipes": "",
		"short": "password.short", "": "password.short", "ninechars": "password.short", strings.Repeat("long text ", 20): "password.long",
		"password12": "password.common", "qwertyuiop": "password.common", "1234567890": "password.common",
		"Passw0rd123": "password.common", "annannannann": "password.common",
	} {
		code := accounts.CheckPassword(password, "ann", "vane")
		if want == "" {
			assert.Nil(t, code, password)
		} else if assert.NotNil(t, code, password) {
			assert.Equal(t, want, code.Code, password)
			assert.NotContains(t, msg.From(code).Error(), "horse")
		}
	}
}

// Of very many tries at once only the free ones are let through, since each counts before it is looked at.
func TestTriesSideBySideAllCount(t *testing.T) {
	var b accounts.Brake
	var let atomic.Int32
	var all sync.WaitGroup
	now := time.Now()
	for range 100 {
		all.Go(func() {
			if b.Try(now, "login ann", "address 1") == 0 {
				let.Add(1)
			}
		})
	}
	all.Wait()
	assert.EqualValues(t, 5, let.Load())
}

func TestBrake(t *testing.T) {
	var b accounts.Brake
	now := time.Now()
	for range 5 {
		assert.Zero(t, b.Try(now, "ann"))
	}
	var last time.Duration
	for range 30 {
		wait := b.Try(now, "ann")
		require.Positive(t, wait)
		assert.GreaterOrEqual(t, wait, last)
		last, now = wait, now.Add(wait)
		require.Zero(t, b.Try(now, "ann"))
	}
	assert.Equal(t, 15*time.Minute, last)
	assert.Positive(t, b.Try(now, "ben", "ann"), "one key that must wait is enough")
	assert.Zero(t, b.Try(now, "ben"), "and counts for no other")
	b.Worked("ann")
	assert.Zero(t, b.Try(now, "ann"))
}

func TestABrowserIsKnownByItsMark(t *testing.T) {
	ctx, s := context.Background(), open(t)
	require.NoError(t, s.Read(ctx, func(tx *store.Tx) error {
		mark, err := accounts.BrowserMark(tx, "ann")
		require.NoError(t, err)
		other, err := accounts.BrowserMark(tx, "ben")
		require.NoError(t, err)
		for m, want := range map[string]bool{mark: true, other: false, "": false, "ann/x/y": false, mark + "0": false,
			strings.Replace(mark, "ann", "ben", 1): false} {
			known, err := accounts.KnownBrowser(tx, m, "ann")
			require.NoError(t, err)
			assert.Equal(t, want, known, m)
		}
		known, err := accounts.KnownBrowser(tx, "/"+mark, "")
		assert.False(t, known)
		return err
	}))
}
