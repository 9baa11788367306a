// Package digest gives SHA-256 sums (FIPS 180-4), and codes keyed by them (HMAC, RFC 2104).
//
// On devices they are computed here: the standard library's brings a module of ciphers with its self-tests, 48 KB of what a phone loads.
// Elsewhere they are the standard library's, and a test compares both.
package digest

import (
	"encoding/binary"
	"math/bits"
)

// Size is how many bytes a sum has.
const Size = 32

// block is how many bytes are worked in at a time.
const block = 64

// first are the first 32 bits of the fractional parts of the square roots of the first 8 primes (FIPS 180-4, 5.3.3), and rounds those of
// the cube roots of the first 64 (4.2.2).
var (
	first  = [8]uint32{0x6a09e667, 0xbb67ae85, 0x3c6ef372, 0xa54ff53a, 0x510e527f, 0x9b05688c, 0x1f83d9ab, 0x5be0cd19}
	rounds = [block]uint32{
		0x428a2f98, 0x71374491, 0xb5c0fbcf, 0xe9b5dba5, 0x3956c25b, 0x59f111f1, 0x923f82a4, 0xab1c5ed5,
		0xd807aa98, 0x12835b01, 0x243185be, 0x550c7dc3, 0x72be5d74, 0x80deb1fe, 0x9bdc06a7, 0xc19bf174,
		0xe49b69c1, 0xefbe4786, 0x0fc19dc6, 0x240ca1cc, 0x2de92c6f, 0x4a7484aa, 0x5cb0a9dc, 0x76f988da,
		0x983e5152, 0xa831c66d, 0xb00327c8, 0xbf597fc7, 0xc6e00bf3, 0xd5a79147, 0x06ca6351, 0x14292967,
		0x27b70a85, 0x2e1b2138, 0x4d2c6dfc, 0x53380d13, 0x650a7354, 0x766a0abb, 0x81c2c92e, 0x92722c85,
		0xa2bfe8a1, 0xa81a664b, 0xc24b8b70, 0xc76c51a3, 0xd192e819, 0xd6990624, 0xf40e3585, 0x106aa070,
		0x19a4c116, 0x1e376c08, 0x2748774c, 0x34b0bcb5, 0x391c0cb3, 0x4ed8aa4a, 0x5b9cca4f, 0x682e6ff3,
		0x748f82ee, 0x78a5636f, 0x84c87814, 0x8cc70208, 0x90befffa, 0xa4506ceb, 0xbef9a3f7, 0xc67178f2,
	}
)

// own computes a sum.
func own(data []byte) (out [Size]byte) {
	state := first
	whole := len(data) / block * block
	for i := 0; i < whole; i += block {
		work(&state, data[i:i+block])
	}
	// What is left, a bit that is one, zeros, and how many bits there were.
	var last [2 * block]byte
	n := copy(last[:], data[whole:])
	last[n] = 0x80
	end := block
	if n+9 > block {
		end = 2 * block
	}
	binary.BigEndian.PutUint64(last[end-8:], uint64(len(data))*8)
	for i := 0; i < end; i += block {
		work(&state, last[i:i+block])
	}
	for i, s := range state {
		binary.BigEndian.PutUint32(out[4*i:], s)
	}
	return out
}

// work works a block into the state (FIPS 180-4, 6.2.2).
func work(state *[8]uint32, data []byte) {
	var w [block]uint32
	for i := range 16 {
		w[i] = binary.BigEndian.Uint32(data[4*i:])
	}
	for i := 16; i < block; i++ {
		a, b := w[i-15], w[i-2]
		s0 := bits.RotateLeft32(a, -7) ^ bits.RotateLeft32(a, -18) ^ a>>3
		s1 := bits.RotateLeft32(b, -17) ^ bits.RotateLeft32(b, -19) ^ b>>10
		w[i] = w[i-16] + s0 + w[i-7] + s1
	}
	a, b, c, d, e, f, g, h := state[0], state[1], state[2], state[3], state[4], state[5], state[6], state[7]
	for i := range block {
		s1 := bits.RotateLeft32(e, -6) ^ bits.RotateLeft32(e, -11) ^ bits.RotateLeft32(e, -25)
		t1 := h + s1 + (e&f ^ ^e&g) + rounds[i] + w[i]
		s0 := bits.RotateLeft32(a, -2) ^ bits.RotateLeft32(a, -13) ^ bits.RotateLeft32(a, -22)
		t2 := s0 + (a&b ^ a&c ^ b&c)
		a, b, c, d, e, f, g, h = t1+t2, a, b, c, d+t1, e, f, g
	}
	for i, x := range [8]uint32{a, b, c, d, e, f, g, h} {
		state[i] += x
	}
}

// Keyed gives the code of data under a key.
func Keyed(key, data []byte) [Size]byte {
	if len(key) > block {
		sum := Sum(key)
		key = sum[:]
	}
	inner, outer := make([]byte, block, block+len(data)), make([]byte, block, block+Size)
	copy(inner, key)
	copy(outer, key)
	for i := range block {
		inner[i] ^= 0x36
		outer[i] ^= 0x5c
	}
	sum := Sum(append(inner, data...))
	return Sum(append(outer, sum[:]...))
}
