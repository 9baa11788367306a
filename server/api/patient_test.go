package api_test

import (
	"bufio"
	"fmt"
	"net"
	"net/http"
	"net/http/cookiejar"
	"net/url"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"iter.example/iter/core/replica"
	"iter.example/iter/server/api"
)

// A request on a bad line is taken however long it lasts, as long as something comes; one that falls silent is given up.
func TestABadLine(t *testing.T) {
	defer api.SetSilence(4 * time.Second)()
	p := start(t)
	c := p.client("ann")
	at, err := url.Parse(p.URL)
	require.NoError(t, err)
	cookie := c.http.Jar.(*cookiejar.Jar).Cookies(at)[0].String()
	body := string(raw(t, replica.Request{Replica: "R1", Now: p.now}))
	send := func(pause time.Duration) (*http.Response, error) {
		line, err := net.Dial("tcp", at.Host)
		require.NoError(t, err)
		defer line.Close()
		fmt.Fprintf(line,
			"POST /api/sync HTTP/1.1\r\nHost: %s\r\nCookie: %s\r\nContent-Type: application/json\r\nContent-Length: %d\r\n\r\n", at.Host,
			cookie, len(body))
		for piece := range strings.SplitSeq(body, ",") {
			time.Sleep(pause)
			if !strings.HasSuffix(body, piece) {
				piece += ","
			}
			if _, err := line.Write([]byte(piece)); err != nil {
				break // given up already
			}
		}
		require.NoError(t, line.SetReadDeadline(time.Now().Add(time.Minute)))
		return http.ReadResponse(bufio.NewReader(line), nil)
	}
	began := time.Now()
	res, err := send(1500 * time.Millisecond)
	require.NoError(t, err)
	assert.Equal(t, http.StatusOK, res.StatusCode)
	assert.Greater(t, time.Since(began), 4*time.Second, "it took longer than the silence that is allowed")
	if res, err = send(9 * time.Second); err == nil {
		assert.Equal(t, http.StatusBadRequest, res.StatusCode)
	}
}
