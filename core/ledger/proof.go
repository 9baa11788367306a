package ledger

import (
	"crypto/hmac"
	"crypto/sha256"
	"encoding/hex"
	"time"

	"iter.example/iter/core/signoff"
)

// Proof shows that the actor of an entry was at the shared terminal that recorded it: an HMAC-SHA256 (RFC 2104) of the entry in
// canonical JSON (RFC 8785), under a key that the terminal has only while that person is identified.
type Proof struct {
	Since time.Time `json:"since"` // when they identified themselves
	MAC   string    `json:"mac"`   // hex
}

// proven is how long after somebody identified themselves an entry may be recorded in their name. A terminal signs them out long
// before, when nobody touches it.
const proven = 10 * time.Minute

// Prove gives the proof of an entry under a key.
func Prove(e Entry, key string, since time.Time) (*Proof, error) {
	sum, err := proof(e, key, since)
	return &Proof{Since: since, MAC: hex.EncodeToString(sum)}, err
}

// ProvenBy tells whether the entry's proof was made under a key, and minutes before the entry.
func (e Entry) ProvenBy(key string) bool {
	if e.Proof == nil || key == "" || e.At.Before(e.Proof.Since) || e.At.Sub(e.Proof.Since) > proven {
		return false
	}
	want, err := proof(e, key, e.Proof.Since)
	got, bad := hex.DecodeString(e.Proof.MAC)
	return err == nil && bad == nil && hmac.Equal(want, got)
}

// proof leaves out the replica and its number: a device that takes a new identity numbers its entries anew.
func proof(e Entry, key string, since time.Time) ([]byte, error) {
	e.Replica, e.N, e.Proof = "", 0, &Proof{Since: since}
	text, err := signoff.Canonical(e)
	if err != nil {
		return nil, err
	}
	mac := hmac.New(sha256.New, []byte(key))
	mac.Write(text)
	return mac.Sum(nil), nil
}
