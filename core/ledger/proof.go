package ledger

import (
	"encoding/hex"
	"time"

	"iter.example/iter/core/digest"
	"iter.example/iter/core/signoff"
)

// Proof shows that the actor of an entry was at the shared terminal that recorded it: an HMAC-SHA256 (RFC 2104) of the entry in
// canonical JSON (RFC 8785), under a key that the terminal has only while that person is identified.
type Proof struct {
	Since time.Time `json:"since"` // when they identified themselves
	MAC   string    `json:"mac"`   // hex
}

// Prove gives the proof of an entry under a key.
func Prove(e Entry, key string, since time.Time) (*Proof, error) {
	sum, err := proof(e, key, since)
	return &Proof{Since: since, MAC: hex.EncodeToString(sum)}, err
}

// proof leaves out the replica and its number: a device that takes a new identity numbers its entries anew.
func proof(e Entry, key string, since time.Time) ([]byte, error) {
	e.Replica, e.N, e.Proof = "", 0, &Proof{Since: since}
	text, err := signoff.Canonical(e)
	if err != nil {
		return nil, err
	}
	code := digest.Keyed([]byte(key), text)
	return code[:], nil
}
