// Package accounts is how people sign in: passwords as argon2id, few at a time, and a slow-down on repeated failures; badges and PINs at
// shared terminals.
package accounts

import (
	"context"
	"crypto/rand"
	"errors"
	"strconv"
	"strings"
	"sync"

	"github.com/alexedwards/argon2id"
	"github.com/trustelem/zxcvbn"

	"iter.example/iter/core/msg"
	"iter.example/iter/server/store"
)

// ErrWrong says that login and password do not go together, without saying which.
var ErrWrong = errors.New("wrong login or password")

// ErrDisabled says that they do, and that the account was disabled.
var ErrDisabled = errors.New("the account is disabled")

// Passwords have at least so many characters, and at most, since long ones take long to judge.
const (
	MinPassword = 10
	MaxPassword = 128
)

// weak is the score of zxcvbn, of 0 to 4, up to which a password is refused: it is common, or little more than a common one.
const weak = 1

// cost is how dear a password is to hash, and to guess: the library's, after RFC 9106.
var cost = argon2id.DefaultParams

// HashCheaply makes hashes that are as cheap to guess as they are to make, for tests of what is around passwords.
func HashCheaply() {
	cost = &argon2id.Params{Memory: 8, Iterations: 1, Parallelism: 1, SaltLength: 8, KeyLength: 16}
}

// unknown is compared with when there is no such login, so that the answer takes as long.
var unknown = sync.OnceValue(func() string {
	h, _ := argon2id.CreateHash(rand.Text(), cost)
	return h
})

// CheckPassword says why a password is not taken: it is too short or too long, or easy to guess. names are those of its owner.
func CheckPassword(password string, names ...string) *msg.Code {
	switch n := len([]rune(password)); {
	case n < MinPassword:
		return msg.New("password.short", "min", strconv.Itoa(MinPassword))
	case n > MaxPassword:
		return msg.New("password.long", "max", strconv.Itoa(MaxPassword))
	}
	if zxcvbn.PasswordStrength(password, names).Score <= weak {
		return msg.New("password.common")
	}
	return nil
}

// Set gives a person a login and password, and ends the sessions there are. The error is a *msg.Code when the password is not taken,
// or the login is somebody else's.
func Set(ctx context.Context, s *store.Store, login, person, password string) error {
	login = normal(login)
	if login == "" {
		return msg.New("account.login")
	}
	if code := CheckPassword(password, login, person); code != nil {
		return code
	}
	var hash string
	if err := strangers.do(ctx, func() (err error) {
		hash, err = argon2id.CreateHash(password, cost)
		return err
	}); err != nil {
		return err
	}
	return s.Write(ctx, func(tx *store.Tx) error {
		if have, ok, err := tx.Account(login); err != nil {
			return err
		} else if ok && have.Person != person {
			return msg.New("account.taken")
		}
		a, _, err := tx.AccountOf(person)
		if err != nil {
			return err
		}
		a.Login, a.Person, a.Hash = login, person, hash
		a.Epoch++
		return tx.PutAccount(a)
	})
}

// Check gives the account that a login and password belong to. mark is that of the browser, when it has one. The error is ErrWrong,
// ErrDisabled or ErrBusy.
func Check(ctx context.Context, s *store.Store, login, password, mark string) (store.Account, error) {
	var a store.Account
	var found, before bool
	err := s.Read(ctx, func(tx *store.Tx) (err error) {
		if a, found, err = tx.Account(normal(login)); err != nil {
			return err
		}
		before, err = KnownBrowser(tx, mark, a.Person)
		return err
	})
	if err != nil {
		return a, err
	}
	if !found {
		a.Hash = unknown()
	}
	q := strangers
	if before {
		q = known
	}
	match := false
	if err := q.do(ctx, func() (err error) {
		match, err = argon2id.ComparePasswordAndHash(password, a.Hash)
		return err
	}); err != nil {
		return a, err
	}
	if !match || !found {
		return a, ErrWrong
	}
	if !a.Disabled.IsZero() {
		return a, ErrDisabled
	}
	return a, nil
}

// FirstPassword makes a password for somebody to sign in with for the first time.
func FirstPassword() string { return strings.ToLower(rand.Text()[:16]) }

func normal(login string) string { return strings.ToLower(strings.TrimSpace(login)) }
