package digest

import (
	"crypto/hmac"
	"crypto/sha256"
	"encoding/hex"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"pgregory.net/rapid"
)

// The sums of the standard's examples, and of a test of codes with a key (RFC 4231, case 2).
func TestKnownSums(t *testing.T) {
	for text, want := range map[string]string{
		"":    "e3b0c44298fc1c149afbf4c8996fb92427ae41e4649b934ca495991b7852b855",
		"abc": "ba7816bf8f01cfea414140de5dae2223b00361a396177a9cb410ff61f20015ad",
		"abcdbcdecdefdefgefghfghighijhijkijkljklmklmnlmnomnopnopq": "248d6a61d20638b8e5c026930c3e6039a33ce45964ff2167f6ecedd419db06c1",
		strings.Repeat("a", 1_000_000):                             "cdc76e5c9914fb9281a1c7e284d73e67f1809a48a497200e046d39ccc7112cd0",
	} {
		sum := own([]byte(text))
		assert.Equal(t, want, hex.EncodeToString(sum[:]), "%.20s", text)
	}
	code := Keyed([]byte("Jefe"), []byte("what do ya want for nothing?"))
	assert.Equal(t, "5bdcc146bf60754e6a042426089575c75a003f089d2739839dec58b964ec3843", hex.EncodeToString(code[:]))
}

// What devices compute is what the standard library does.
func TestAsTheStandardLibrary(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		data := rapid.SliceOfN(rapid.Byte(), 0, 300).Draw(t, "data")
		assert.Equal(t, sha256.Sum256(data), own(data))
		key := rapid.SliceOfN(rapid.Byte(), 0, 150).Draw(t, "key")
		mac := hmac.New(sha256.New, key)
		mac.Write(data)
		code := Keyed(key, data)
		assert.Equal(t, mac.Sum(nil), code[:])
	})
}
