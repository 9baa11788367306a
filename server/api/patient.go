package api

import (
	"io"
	"net/http"
	"time"

	"github.com/gin-gonic/gin"
)

// silence is how long a line may carry nothing before it is given up. How long a request or an answer takes in all does not matter:
// a phone on a bad line sends its morning at a hundred bytes a second.
var silence = 60 * time.Second

// patient ends requests and answers that fall silent.
func patient(c *gin.Context) {
	line := http.NewResponseController(c.Writer)
	if c.Request.Body != nil {
		c.Request.Body = &heard{c.Request.Body, line}
	}
	c.Writer = &spoken{c.Writer, line}
	c.Next()
	_ = line.SetWriteDeadline(time.Time{}) // the next request on the line has its own
}

// heard is a body each of whose pieces must come within silence.
type heard struct {
	io.ReadCloser
	line *http.ResponseController
}

func (h *heard) Read(p []byte) (int, error) {
	// where it can't be set, as in tests without a connection, there is no line to wait for
	_ = h.line.SetReadDeadline(time.Now().Add(silence))
	return h.ReadCloser.Read(p)
}

// spoken is an answer each of whose pieces must be taken within silence.
type spoken struct {
	gin.ResponseWriter
	line *http.ResponseController
}

func (s *spoken) Write(p []byte) (int, error) {
	_ = s.line.SetWriteDeadline(time.Now().Add(silence))
	return s.ResponseWriter.Write(p)
}

func (s *spoken) WriteString(text string) (int, error) { return s.Write([]byte(text)) }

// Unwrap lets a http.ResponseController find the connection.
func (s *spoken) Unwrap() http.ResponseWriter { return s.ResponseWriter }
