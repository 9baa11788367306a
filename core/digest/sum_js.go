package digest

// Sum gives the SHA-256 sum of data.
func Sum(data []byte) [Size]byte { return own(data) }
