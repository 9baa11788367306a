//go:build !js

package ledger

import (
	"crypto/hmac"
	"encoding/hex"
	"time"
)

// proven is how long after somebody identified themselves an entry may be recorded in their name. A terminal signs them out long
// before, when nobody touches it.
const proven = 10 * time.Minute

// ProvenBy tells whether the entry's proof was made under a key, and minutes before the entry.
func (e Entry) ProvenBy(key string) bool {
	if e.Proof == nil || key == "" || e.At.Before(e.Proof.Since) || e.At.Sub(e.Proof.Since) > proven {
		return false
	}
	want, err := proof(e, key, e.Proof.Since)
	got, bad := hex.DecodeString(e.Proof.MAC)
	return err == nil && bad == nil && hmac.Equal(want, got)
}
