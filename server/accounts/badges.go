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
	hash, err := argon2id.CreateHash(pin, cost)
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

// CheckPin gives the person that a number and PIN belong to. A try counts before it is looked at, so that tries side by side all count.
// The error is ErrWrong, ErrLocked or ErrBusy.
func CheckPin(ctx context.Context, s *store.Store, number, pin string) (store.Badge, error) {
	var b store.Badge
	var known bool
	err := s.Write(ctx, func(tx *store.Tx) (err error) {
		if b, known, err = tx.BadgeNumbered(number); err != nil || !known || b.Pin == "" {
			return err
		}
		if barred, err := barred(tx, b.Person); barred || err != nil {
			known = false
			return err
		}
		if b.Tries >= MaxTries {
			return ErrLocked
		}
		b.Tries++
		return tx.PutBadge(b)
	})
	if err != nil {
		return b, err
	}
	hash := unknown()
	if known = known && b.Pin != ""; known {
		hash = b.Pin
	}
	match := false
	if err := strangers.do(ctx, func() (err error) {
		match, err = argon2id.ComparePasswordAndHash(pin, hash)
		return err
	}); err != nil {
		if known { // nobody looked at it
			b.Tries--
			err = errors.Join(err, s.Write(context.WithoutCancel(ctx), func(tx *store.Tx) error { return tx.PutBadge(b) }))
		}
		return b, err
	}
	switch {
	case known && match:
		b.Tries = 0
		return b, s.Write(ctx, func(tx *store.Tx) error { return tx.PutBadge(b) })
	case known && b.Tries >= MaxTries:
		return b, ErrLocked
	}
	return b, ErrWrong
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
	if barred, err := barred(tx, e.Actor); barred || err != nil {
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

// barred tells whether a person's account was disabled. Whoever has none may still have a badge.
func barred(tx *store.Tx, person string) (bool, error) {
	a, _, err := tx.AccountOf(person)
	return !a.Disabled.IsZero(), err
}
