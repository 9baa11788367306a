//go:build !js

package digest

import "crypto/sha256"

// Sum gives the SHA-256 sum of data.
func Sum(data []byte) [Size]byte { return sha256.Sum256(data) }
