package notify

import (
	"context"
	"crypto/ecdh"
	"encoding/base64"
	"errors"
	"fmt"
	"io"
	"net"
	"net/http"
	"net/netip"
	"net/url"
	"syscall"
	"time"

	"github.com/SherClockHolmes/webpush-go"

	"iter.example/iter/core/msg"
	"iter.example/iter/core/records"
	"iter.example/iter/server/store"
)

// Pusher reaches browsers that are closed.
type Pusher interface {
	// Push hands a message to the push service of a browser. ErrGone says that nobody answers at that address any more.
	Push(ctx context.Context, to store.PushAddress, message []byte) error
}

// ErrGone says that a browser is not reached at an address any more.
var ErrGone = errors.New("push: nobody answers at this address any more")

// WebPush sends by the push services of the browsers' makers (RFC 8030), locked so that only the browser can read it (RFC 8291).
type WebPush struct {
	private, public string // base64
	contact         string
	client          *http.Client
}

// lasts is for how long a notification is worth sending: so long a push service keeps it for a browser that it can't reach.
const lasts = 12 * time.Hour

// NewWebPush makes a sender with a key on P-256. contact, a mail address or an https page, is for push services to ask who sends. Addresses
// are given by browsers, so those within the office's own network are not called, but where local is set, as tests do.
func NewWebPush(key []byte, contact string, local bool) (*WebPush, error) {
	private, err := ecdh.P256().NewPrivateKey(key)
	if err != nil {
		return nil, fmt.Errorf("read the key for push: %w", err)
	}
	encode := base64.RawURLEncoding.EncodeToString
	dialer := &net.Dialer{Timeout: 10 * time.Second}
	if !local {
		dialer.Control = public
	}
	return &WebPush{private: encode(key), public: encode(private.PublicKey().Bytes()), contact: contact, client: &http.Client{
		Timeout:   20 * time.Second,
		Transport: &http.Transport{DialContext: dialer.DialContext, ForceAttemptHTTP2: true, MaxIdleConns: 10, IdleConnTimeout: time.Minute},
		// A redirect could lead anywhere.
		CheckRedirect: func(*http.Request, []*http.Request) error { return http.ErrUseLastResponse },
	}}, nil
}

// public refuses to call what is not on the open network.
func public(_, address string, _ syscall.RawConn) error {
	at, err := netip.ParseAddrPort(address)
	if ip := at.Addr().Unmap(); err != nil || !ip.IsGlobalUnicast() || ip.IsPrivate() {
		return fmt.Errorf("push: %s is no address of a push service", address)
	}
	return nil
}

// Key is what a browser is given when it asks for an address: the public key, as base64 without padding.
func (p *WebPush) Key() string { return p.public }

// Push sends a message.
func (p *WebPush) Push(ctx context.Context, to store.PushAddress, message []byte) error {
	res, err := webpush.SendNotificationWithContext(ctx, message,
		&webpush.Subscription{Endpoint: to.Endpoint, Keys: webpush.Keys{Auth: to.Auth, P256dh: to.P256dh}},
		&webpush.Options{HTTPClient: p.client, Subscriber: p.contact, VAPIDPublicKey: p.public, VAPIDPrivateKey: p.private,
			TTL: int(lasts.Seconds()), Urgency: webpush.UrgencyHigh})
	if err != nil {
		return err
	}
	defer res.Body.Close()
	_, _ = io.Copy(io.Discard, io.LimitReader(res.Body, 1<<16)) // so that the connection can be used again
	switch {
	case res.StatusCode == http.StatusNotFound, res.StatusCode == http.StatusGone:
		return ErrGone
	case res.StatusCode > 299:
		return fmt.Errorf("push: the service of %s answers %s", hostOf(to.Endpoint), res.Status)
	}
	return nil
}

func hostOf(endpoint string) string {
	u, err := url.Parse(endpoint)
	if err != nil {
		return ""
	}
	return u.Host
}

// CheckAddress says what can't be meant by an address that a browser gave. Plain HTTP is for tests.
func CheckAddress(a store.PushAddress, local bool) error {
	u, err := url.Parse(a.Endpoint)
	wrong := err != nil || u.Host == "" || u.User != nil || len(a.Endpoint) > 2000 || u.Scheme != "https" && !(local && u.Scheme == "http")
	auth, errAuth := base64.RawURLEncoding.DecodeString(a.Auth)
	point, errPoint := base64.RawURLEncoding.DecodeString(a.P256dh)
	if errAuth == nil && errPoint == nil {
		_, errPoint = ecdh.P256().NewPublicKey(point)
	}
	if wrong || errAuth != nil || len(auth) != 16 || errPoint != nil {
		return msg.New("push.address")
	}
	return records.CheckID(a.Replica)
}
