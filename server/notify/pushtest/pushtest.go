// Package pushtest is a push service for tests, and a browser that it reaches.
package pushtest

import (
	"crypto/aes"
	"crypto/cipher"
	"crypto/ecdh"
	"crypto/ecdsa"
	"crypto/elliptic"
	"crypto/hkdf"
	"crypto/rand"
	"crypto/sha256"
	"encoding/base64"
	"io"
	"net/http"
	"net/http/httptest"
	"strings"
	"sync"
	"testing"

	"github.com/golang-jwt/jwt/v5"
	"github.com/stretchr/testify/require"

	"iter.example/iter/server/store"
)

// Service takes what is sent to browsers, and reads it as these do (RFC 8291, RFC 8188).
type Service struct {
	*httptest.Server
	t       *testing.T
	private *ecdh.PrivateKey
	auth    []byte
	mu      sync.Mutex
	got     [][]byte
	answer  int
}

// New starts a service.
func New(t *testing.T) *Service {
	private, err := ecdh.P256().GenerateKey(rand.Reader)
	require.NoError(t, err)
	s := &Service{t: t, private: private, auth: []byte("sixteen letters!"), answer: http.StatusCreated}
	s.Server = httptest.NewServer(http.HandlerFunc(s.take))
	t.Cleanup(s.Close)
	return s
}

// Answer is what it says from now on.
func (s *Service) Answer(status int) {
	s.mu.Lock()
	defer s.mu.Unlock()
	s.answer = status
}

// Address is where a device is reached.
func (s *Service) Address(person, replica string) store.PushAddress {
	encode := base64.RawURLEncoding.EncodeToString
	return store.PushAddress{Endpoint: s.URL + "/" + replica, Person: person, Replica: replica, Auth: encode(s.auth),
		P256dh: encode(s.private.PublicKey().Bytes())}
}

// Got gives what was sent since it was asked last, as browsers read it.
func (s *Service) Got() (out []string) {
	s.mu.Lock()
	got := s.got
	s.got = nil
	s.mu.Unlock()
	for _, body := range got {
		out = append(out, s.read(body))
	}
	return out
}

func (s *Service) take(w http.ResponseWriter, r *http.Request) {
	body, err := io.ReadAll(r.Body)
	s.mu.Lock()
	defer s.mu.Unlock()
	status := s.answer
	if err != nil || !s.signed(r) || r.Header.Get("Content-Encoding") != "aes128gcm" || r.Header.Get("TTL") == "" {
		status = http.StatusForbidden
	}
	if status < 300 {
		s.got = append(s.got, body)
	}
	w.WriteHeader(status)
}

// signed tells whether a request says who sends it, by the key that it names (RFC 8292).
func (s *Service) signed(r *http.Request) bool {
	var token, key string
	for part := range strings.SplitSeq(strings.TrimPrefix(r.Header.Get("Authorization"), "vapid "), ", ") {
		name, value, _ := strings.Cut(part, "=")
		switch name {
		case "t":
			token = value
		case "k":
			key = value
		}
	}
	claims := jwt.MapClaims{}
	_, err := jwt.ParseWithClaims(token, claims, func(*jwt.Token) (any, error) {
		raw, err := base64.RawURLEncoding.DecodeString(key)
		if err != nil {
			return nil, err
		}
		return ecdsa.ParseUncompressedPublicKey(elliptic.P256(), raw)
	}, jwt.WithValidMethods([]string{"ES256"}), jwt.WithAudience("http://"+r.Host))
	return err == nil
}

// read opens a message as a browser does.
func (s *Service) read(body []byte) string {
	salt, rest := body[:16], body[20:] // the size of records stands between them
	sender, err := ecdh.P256().NewPublicKey(rest[1 : 1+int(rest[0])])
	require.NoError(s.t, err)
	sealed := rest[1+int(rest[0]):]
	secret, err := s.private.ECDH(sender)
	require.NoError(s.t, err)
	derive := func(secret, salt []byte, info string, length int) []byte {
		out, err := hkdf.Key(sha256.New, secret, salt, info, length)
		require.NoError(s.t, err)
		return out
	}
	input := derive(secret, s.auth, "WebPush: info\x00"+string(s.private.PublicKey().Bytes())+string(sender.Bytes()), 32)
	block, err := aes.NewCipher(derive(input, salt, "Content-Encoding: aes128gcm\x00", 16))
	require.NoError(s.t, err)
	gcm, err := cipher.NewGCM(block)
	require.NoError(s.t, err)
	plain, err := gcm.Open(nil, derive(input, salt, "Content-Encoding: nonce\x00", 12), sealed, nil)
	require.NoError(s.t, err)
	text, found := strings.CutSuffix(strings.TrimRight(string(plain), "\x00"), "\x02")
	require.True(s.t, found, "the last record ends with a two")
	return text
}
