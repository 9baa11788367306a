// Package accounts is how people sign in: passwords as argon2id, and a slow-down on repeated failures.
package accounts

import (
	"context"
	"crypto/rand"
	"errors"
	"strings"
	"sync"
	"time"

	"github.com/alexedwards/argon2id"

	"iter.example/iter/server/store"
)

// ErrWrong says that login and password do not go together, without saying which.
var ErrWrong = errors.New("wrong login or password")

// MinPassword is the shortest password taken, in characters.
const MinPassword = 8

// unknown is compared with when there is no such login, so that the answer takes as long.
var unknown = sync.OnceValue(func() string {
	h, _ := argon2id.CreateHash(rand.Text(), argon2id.DefaultParams)
	return h
})

// Set gives a person a login and password.
func Set(ctx context.Context, s *store.Store, login, person, password string) error {
	login = normal(login)
	if login == "" || len([]rune(password)) < MinPassword {
		return errors.New("a login, and a password of at least 8 characters, are needed")
	}
	hash, err := argon2id.CreateHash(password, argon2id.DefaultParams)
	if err != nil {
		return err
	}
	return s.Write(ctx, func(tx *store.Tx) error {
		if have, ok, err := tx.Account(login); err != nil {
			return err
		} else if ok && have.Person != person {
			return errors.New("this login is somebody else's")
		}
		return tx.PutAccount(store.Account{Login: login, Person: person, Hash: hash})
	})
}

// Check gives the person a login and password belong to.
func Check(ctx context.Context, s *store.Store, login, password string) (person string, err error) {
	var a store.Account
	var known bool
	err = s.Read(ctx, func(tx *store.Tx) (err error) {
		a, known, err = tx.Account(normal(login))
		return err
	})
	if err != nil {
		return "", err
	}
	if !known {
		a.Hash = unknown()
	}
	match, err := argon2id.ComparePasswordAndHash(password, a.Hash)
	if err != nil {
		return "", err
	}
	if !match || !known {
		return "", ErrWrong
	}
	return a.Person, nil
}

func normal(login string) string { return strings.ToLower(strings.TrimSpace(login)) }

// Brake slows down whoever fails again and again. Its zero value is ready.
type Brake struct {
	mu    sync.Mutex
	fails map[string]failures
}

type failures struct {
	n     int
	until time.Time
}

const (
	freeTries = 5
	longest   = 15 * time.Minute
	remember  = 4096
)

// Wait tells how long a key, such as a login or an address, must wait before the next try.
func (b *Brake) Wait(key string, now time.Time) time.Duration {
	b.mu.Lock()
	defer b.mu.Unlock()
	return max(0, b.fails[key].until.Sub(now))
}

// Failed counts a failed try. The first few cost nothing; then the wait doubles, from a second to a quarter of an hour.
func (b *Brake) Failed(key string, now time.Time) {
	b.mu.Lock()
	defer b.mu.Unlock()
	if b.fails == nil || len(b.fails) > remember {
		kept := map[string]failures{}
		for k, f := range b.fails {
			if f.until.After(now) {
				kept[k] = f
			}
		}
		b.fails = kept
	}
	f := b.fails[key]
	f.n++
	if f.n >= freeTries {
		f.until = now.Add(min(longest, time.Second<<min(f.n-freeTries, 20)))
	}
	b.fails[key] = f
}

// Worked forgets a key's failures.
func (b *Brake) Worked(key string) {
	b.mu.Lock()
	defer b.mu.Unlock()
	delete(b.fails, key)
}
