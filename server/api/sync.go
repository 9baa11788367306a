package api

import (
	"compress/gzip"
	"context"
	"encoding/json"
	"errors"
	"io"
	"net/http"
	"strconv"
	"strings"
	"sync"
	"time"

	"github.com/gin-gonic/gin"

	"iter.example/iter/core/ledger"
	"iter.example/iter/core/msg"
	"iter.example/iter/core/records"
	"iter.example/iter/core/replica"
	"iter.example/iter/server/store"
	"iter.example/iter/server/syncing"
)

// The largest sync body taken, on the wire and unpacked.
const (
	maxWire     = 4 << 20
	maxUnpacked = 16 << 20
)

// limited is a body with a limit of its own, in bytes.
type limited interface{ limit() int64 }

// body reads a JSON body, packed or not, within bounds. The error is a refusal.
func body(c *gin.Context, v any) error {
	wire, unpacked := int64(maxWire), int64(maxUnpacked)
	if l, ok := v.(limited); ok {
		wire, unpacked = l.limit(), l.limit()
	}
	var r io.Reader = http.MaxBytesReader(c.Writer, c.Request.Body, wire)
	bad := refusal{status: http.StatusBadRequest, why: msg.New("http.body")}
	if c.GetHeader("Content-Encoding") == "gzip" {
		z, err := gzip.NewReader(r)
		if err != nil {
			return bad
		}
		defer z.Close()
		r = z
	}
	raw, err := io.ReadAll(io.LimitReader(r, unpacked+1))
	if _, large := errors.AsType[*http.MaxBytesError](err); large || int64(len(raw)) > unpacked {
		return refusal{status: http.StatusRequestEntityTooLarge, why: msg.New("http.large")}
	}
	if err != nil || json.Unmarshal(raw, v) != nil {
		return bad
	}
	return nil
}

func (s *Server) sync(c *gin.Context) {
	var r replica.Request
	if err := body(c, &r); err != nil {
		s.fail(c, err)
		return
	}
	if err := records.CheckID(r.Replica); err != nil {
		s.fail(c, err)
		return
	}
	if !s.bound(c, r.Replica) {
		s.problem(c, http.StatusUnauthorized, msg.New("signin.other_device"))
		return
	}
	began := s.Now()
	out, err := syncing.Sync(c.Request.Context(), s.Store, who(c), r, began)
	if err == nil {
		err = s.bind(c, r.Replica, out.Renew)
	}
	if err != nil {
		s.fail(c, err)
		return
	}
	for _, x := range out.Receipts {
		s.metrics.entries.WithLabelValues(string(x.Verdict)).Inc()
	}
	if r.Wiped {
		s.live.tell(nil)
	}
	out.Took = s.Now().Sub(began).Milliseconds()
	raw, err := json.Marshal(out)
	if err != nil {
		s.fail(c, err)
		return
	}
	c.Header("Content-Type", "application/json")
	if len(raw) > 1400 && strings.Contains(c.GetHeader("Accept-Encoding"), "gzip") {
		c.Header("Content-Encoding", "gzip")
		z := gzip.NewWriter(c.Writer)
		defer z.Close()
		_, _ = z.Write(raw)
		return
	}
	_, _ = c.Writer.Write(raw)
}

// maxLines is how many lines for live events a person may have open: one for each tab of each device.
const maxLines = 50

// hub tells browsers that something changed that may matter to them. What changed, they ask.
type hub struct {
	mu        sync.Mutex
	closed    bool
	listeners map[chan struct{}]syncing.Device
}

// listen opens a line. The error is a *msg.Code when the server stops, or the person has too many open.
func (h *hub) listen(d syncing.Device) (chan struct{}, error) {
	h.mu.Lock()
	defer h.mu.Unlock()
	if h.closed {
		return nil, msg.New("server.stopping")
	}
	open := 0
	for _, other := range h.listeners {
		if other.PersonID == d.PersonID {
			open++
		}
	}
	if open >= maxLines {
		return nil, msg.New("quota.events", "max", strconv.Itoa(maxLines))
	}
	if h.listeners == nil {
		h.listeners = map[chan struct{}]syncing.Device{}
	}
	ch := make(chan struct{}, 1)
	h.listeners[ch] = d
	return ch, nil
}

// end ends the lines of a person: whoever still has access opens a new one.
func (h *hub) end(person string) {
	h.mu.Lock()
	defer h.mu.Unlock()
	for ch, d := range h.listeners {
		if d.PersonID == person {
			close(ch)
			delete(h.listeners, ch)
		}
	}
}

func (h *hub) leave(ch chan struct{}) {
	h.mu.Lock()
	defer h.mu.Unlock()
	delete(h.listeners, ch)
}

func (h *hub) count() int {
	h.mu.Lock()
	defer h.mu.Unlock()
	return len(h.listeners)
}

func (h *hub) close() {
	h.mu.Lock()
	defer h.mu.Unlock()
	h.closed = true
	for ch := range h.listeners {
		close(ch)
		delete(h.listeners, ch)
	}
}

// tell wakes the office, and the devices of people; of all when people is nil.
func (h *hub) tell(people map[string]bool) {
	h.mu.Lock()
	defer h.mu.Unlock()
	for ch, d := range h.listeners {
		if people == nil || people[d.PersonID] || d.Person.Has(records.Terminal, records.Dispatcher, records.Reviewer, records.Stores) {
			select {
			case ch <- struct{}{}:
			default: // it has been told already
			}
		}
	}
}

// wake has what waits to go out looked at.
func (s *Server) wake() {
	select {
	case s.fresh <- struct{}{}:
	default: // it looks anyway
	}
}

// announce is told by the store what changed.
func (s *Server) announce(refs []ledger.Ref) {
	s.wake()
	s.work.Go(func() {
		var people map[string]bool
		err := s.Store.Read(context.Background(), func(tx *store.Tx) (err error) {
			people, err = tx.Concerned(refs)
			return err
		})
		if err != nil {
			people = nil // better to wake too many
		}
		s.live.tell(people)
	})
}

// events sends a line whenever something changed, and one now and then to keep the line open.
func (s *Server) events(c *gin.Context) {
	ch, err := s.live.listen(who(c))
	if err != nil {
		s.fail(c, err)
		return
	}
	defer s.live.leave(ch)
	c.Header("Content-Type", "text/event-stream")
	c.Header("X-Accel-Buffering", "no")
	_ = http.NewResponseController(c.Writer).SetReadDeadline(time.Time{}) // the line stays open
	write := func(line string) bool {
		_ = http.NewResponseController(c.Writer).SetWriteDeadline(time.Now().Add(30 * time.Second))
		_, err := io.WriteString(c.Writer, line)
		c.Writer.Flush()
		return err == nil
	}
	beat := time.NewTicker(20 * time.Second)
	defer beat.Stop()
	for ok := write("event: hello\ndata: {}\n\n"); ok; {
		select {
		case <-c.Request.Context().Done():
			return
		case _, open := <-ch:
			if !open {
				return
			}
			ok = write("event: changed\ndata: {}\n\n")
		case <-beat.C:
			ok = write(": still here\n\n")
		}
	}
}
