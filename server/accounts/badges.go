package accounts

import (
	"context"
	"crypto/hmac"
	"crypto/rand"
	"crypto/sha256"
	"encoding/hex"
	"encoding/json"
	"errors"
	"regexp"
	"strconv"

	"github.com/alexedwards/argon2id"

	"iter.example/iter/core/ledger"
	"iter.example/iter/core/records"
	"iter.example/iter/server/store"
)

// BadgePrefix begins what every badge says, so that a scanner knows it for one.
const BadgePrefix = "ITER-B/"

// MaxTries is how many wrong PINs lock a number. The person's badge still works; the office sets a new PIN.
const MaxTries = 10

// ErrLocked says that a number was locked after too many wrong PINs.
var ErrLocked = errors.New("too many wrong PINs")

// firstNumber is the number of the first badge.
const firstNumber = 101

// Issue gives a badge to everybody who works in the field and has none, and gives all badges.
func Issue(tx *store.Tx) ([]store.Badge, error) {
	badges, err := tx.Badges()
	if err != nil {
		return nil, err
	}
	has, next := map[string]bool{}, firstNumber
	for _, b := range badges {
		has[b.Person] = true
		if n, err := strconv.Atoi(b.Number); err == nil && n >= next {
			next = n + 1
		}
	}
	people, err := tx.Of("person")
	if err != nil {
		return nil, err
	}
	for _, d := range people {
		var p records.Person
		if err := json.Unmarshal(d.Body, &p); err != nil {
			return nil, err
		}
		if has[d.ID] || !p.Has(records.Technician) {
			continue
		}
		b := store.Badge{Person: d.ID, Number: strconv.Itoa(next), Code: BadgePrefix + rand.Text()[:16]}
		if err := tx.PutBadge(b); err != nil {
			return nil, err
		}
		next++
		badges = append(badges, b)
	}
	return badges, nil
}

var pinPattern = regexp.MustCompile(`^[0-9]{4,8}$`)

// ErrPin says that a PIN is not four to eight digits.
var ErrPin = errors.New("a PIN has four to eight digits")

// SetPin gives people, who have badges, a PIN, and lets them in again when they were locked out.
func SetPin(tx *store.Tx, pin string, people ...string) error {
	if !pinPattern.MatchString(pin) {
		return ErrPin
	}
	hash, err := argon2id.CreateHash(pin, argon2id.DefaultParams)
	if err != nil {
		return err
	}
	badges, err := tx.Badges()
	if err != nil {
		return err
	}
	for _, b := range badges {
		for _, p := range people {
			if b.Person == p {
				b.Pin, b.Tries = hash, 0
				if err := tx.PutBadge(b); err != nil {
					return err
				}
			}
		}
	}
	return nil
}

// CheckPin gives the person a number and PIN belong to. The error is ErrWrong or ErrLocked.
func CheckPin(ctx context.Context, s *store.Store, number, pin string) (person string, err error) {
	var found *store.Badge
	err = s.Read(ctx, func(tx *store.Tx) error {
		badges, err := tx.Badges()
		for _, b := range badges {
			if b.Number == number && b.Pin != "" {
				found = &b
			}
		}
		return err
	})
	if err != nil {
		return "", err
	}
	hash := unknown()
	if found != nil {
		if found.Tries >= MaxTries {
			return "", ErrLocked
		}
		hash = found.Pin
	}
	match, err := argon2id.ComparePasswordAndHash(pin, hash)
	if err != nil {
		return "", err
	}
	if found == nil {
		return "", ErrWrong
	}
	// Counted anew under the write, so that tries side by side all count.
	err = s.Write(ctx, func(tx *store.Tx) error {
		badges, err := tx.Badges()
		if err != nil {
			return err
		}
		for _, b := range badges {
			if b.Person != found.Person {
				continue
			}
			if b.Tries >= MaxTries {
				match = false
			}
			if b.Tries++; match {
				b.Tries = 0
			}
			return tx.PutBadge(b)
		}
		return nil
	})
	switch {
	case err != nil:
		return "", err
	case !match && found.Tries+1 >= MaxTries:
		return "", ErrLocked
	case !match:
		return "", ErrWrong
	}
	return found.Person, nil
}

// PinKey is the key under which a terminal proves that a person gave their number and PIN at it. It changes with the PIN.
func PinKey(tx *store.Tx, terminal string, b store.Badge) (string, error) {
	secret, err := tx.Secret("terminal")
	if err != nil {
		return "", err
	}
	mac := hmac.New(sha256.New, secret)
	mac.Write([]byte(terminal + "\n" + b.Person + "\n" + b.Pin))
	return hex.EncodeToString(mac.Sum(nil)), nil
}

// Proven tells whether an entry from a terminal carries proof that its actor was there: under what their badge says, or under the key
// that their PIN gave them.
func Proven(tx *store.Tx, terminal string, e ledger.Entry) (bool, error) {
	if e.Proof == nil {
		return false, nil
	}
	b, known, err := tx.BadgeOf(e.Actor)
	if err != nil || !known {
		return false, err
	}
	if e.ProvenBy(b.Code) {
		return true, nil
	}
	if b.Pin == "" {
		return false, nil
	}
	key, err := PinKey(tx, terminal, b)
	return err == nil && e.ProvenBy(key), err
}
