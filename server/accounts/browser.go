package accounts

import (
	"crypto/hmac"
	"crypto/rand"
	"crypto/sha256"
	"encoding/hex"
	"strings"

	"iter.example/iter/server/store"
)

// A browser in which somebody has signed in keeps a mark of it: wrong tries elsewhere do not slow them down there. The mark says who,
// and a random text that tells it from other browsers; it opens nothing.

// BrowserMark makes a mark for a person's browser.
func BrowserMark(tx *store.Tx, person string) (string, error) {
	secret, err := tx.Secret("browser")
	if err != nil {
		return "", err
	}
	said := person + "/" + rand.Text()[:16]
	return said + "/" + markSum(secret, said), nil
}

// KnownBrowser tells whether a mark is of a browser in which a person has signed in.
func KnownBrowser(tx *store.Tx, mark, person string) (bool, error) {
	secret, err := tx.Secret("browser")
	if err != nil {
		return false, err
	}
	i := strings.LastIndexByte(mark, '/')
	if i < 0 || person == "" || !strings.HasPrefix(mark, person+"/") {
		return false, nil
	}
	return hmac.Equal([]byte(mark[i+1:]), []byte(markSum(secret, mark[:i]))), nil
}

func markSum(secret []byte, said string) string {
	mac := hmac.New(sha256.New, secret)
	mac.Write([]byte(said))
	return hex.EncodeToString(mac.Sum(nil))
}
