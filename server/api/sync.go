package api

import (
	"compress/gzip"
	"context"
	"encoding/json"
	"errors"
	"io"
	"net/http"
	"slices"
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
		s.live.tell(nil, devicesChanged)
	}
	out.Took = s.Now().Sub(began).Milliseconds()
	s.answer(c, out)
}

// answer gives what was asked for as JSON, packed when it is long.
func (s *Server) answer(c *gin.Context, out any) {
	raw, err := json.Marshal(out)
	if err != nil {
		s.fail(c, err)
		return
	}
	c.Header("Content-Type", "application/json; charset=utf-8")
	if len(raw) > 1400 && strings.Contains(c.GetHeader("Accept-Encoding"), "gzip") {
		c.Header("Content-Encoding", "gzip")
		z := packers.Get().(*gzip.Writer)
		defer packers.Put(z)
		z.Reset(c.Writer)
		_, _ = z.Write(raw)
		_ = z.Close() // whoever hung up asks again
		return
	}
	_, _ = c.Writer.Write(raw)
}

// packers keeps writers that pack answers: each takes most of a megabyte.
var packers = sync.Pool{New: func() any { return gzip.NewWriter(nil) }}

// maxLines is how many lines for live events a person may have open: one for each tab of each device.
const maxLines = 50

// News is what a line for live events tells the office: the names of what changed, as Iter-Read has them, and up to which place in the log
// (0: something beside it). Devices are told that there is something, and sync.
type News struct {
	Changed []string `json:"changed"`
	Seq     int64    `json:"seq"`
}

// devicesChanged is news of the access of devices, which is none when it is written (store.Watch).
var devicesChanged = News{Changed: []string{"devices"}}

// hub tells browsers that something changed that may matter to them.
type hub struct {
	mu        sync.Mutex
	closed    bool
	listeners map[*listener]bool
}

// listener is an open line. fresh is told when there is news, and closed when the line is to end.
type listener struct {
	syncing.Device
	fresh chan struct{}
	// What is not yet sent, guarded by the hub: news of the log, of which whoever knows as much needs no more, and news of what is beside it,
	// which always is.
	logged, beside News
}

// listen opens a line. The error is a *msg.Code when the server stops, or the person has too many open.
func (h *hub) listen(d syncing.Device) (*listener, error) {
	h.mu.Lock()
	defer h.mu.Unlock()
	if h.closed {
		return nil, msg.New("server.stopping")
	}
	open := 0
	for l := range h.listeners {
		if l.PersonID == d.PersonID {
			open++
		}
	}
	if open >= maxLines {
		return nil, msg.New("quota.events", "max", strconv.Itoa(maxLines))
	}
	if h.listeners == nil {
		h.listeners = map[*listener]bool{}
	}
	l := &listener{Device: d, fresh: make(chan struct{}, 1)}
	h.listeners[l] = true
	return l, nil
}

// end ends the lines of a person: whoever still has access opens a new one.
func (h *hub) end(person string) {
	h.mu.Lock()
	defer h.mu.Unlock()
	for l := range h.listeners {
		if l.PersonID == person {
			close(l.fresh)
			delete(h.listeners, l)
		}
	}
}

func (h *hub) leave(l *listener) {
	h.mu.Lock()
	defer h.mu.Unlock()
	delete(h.listeners, l)
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
	for l := range h.listeners {
		close(l.fresh)
		delete(h.listeners, l)
	}
}

// tell gives the office the news, and wakes terminals and the devices of people; of all when people is nil. News of the log comes in its
// order: what was asked for after some of it is taken to know all before.
func (h *hub) tell(people map[string]bool, news News) {
	h.mu.Lock()
	defer h.mu.Unlock()
	for l := range h.listeners {
		switch {
		case l.Person.Has(records.Dispatcher, records.Reviewer, records.Stores):
			kept := &l.logged
			if news.Seq == 0 {
				kept = &l.beside
			}
			kept.Seq = max(kept.Seq, news.Seq)
			kept.Changed = append(kept.Changed, news.Changed...)
		case people != nil && !people[l.PersonID] && !l.Person.Has(records.Terminal):
			continue
		}
		select {
		case l.fresh <- struct{}{}:
		default: // it is told already
		}
	}
}

// news takes what a line has not sent yet. There may be none, for devices.
func (h *hub) news(l *listener) []News {
	h.mu.Lock()
	defer h.mu.Unlock()
	out := []News{}
	for _, n := range []News{l.logged, l.beside} {
		if slices.Sort(n.Changed); len(n.Changed) > 0 || n.Seq > 0 {
			out = append(out, News{Changed: slices.Compact(n.Changed), Seq: n.Seq})
		}
	}
	l.logged, l.beside = News{}, News{}
	if len(out) == 0 {
		out = []News{{Changed: []string{}}}
	}
	return out
}

// wake has what waits to go out looked at.
func (s *Server) wake() {
	select {
	case s.fresh <- struct{}{}:
	default: // it looks anyway
	}
}

// announcements are what the store said that it changed, in order, until the lines for live events are told.
type announcements struct {
	mu    sync.Mutex
	queue []store.Changed
	fresh chan struct{}
}

// announce is told by the store what changed.
func (s *Server) announce(changed store.Changed) {
	s.wake()
	a := &s.announcements
	a.mu.Lock()
	defer a.mu.Unlock()
	a.queue = append(a.queue, changed)
	select {
	case a.fresh <- struct{}{}:
	default: // it looks anyway
	}
}

// tellAll tells what was announced, one after the other, until the context ends.
func (s *Server) tellAll(ctx context.Context) {
	a := &s.announcements
	for {
		select {
		case <-ctx.Done():
			return
		case <-a.fresh:
		}
		a.mu.Lock()
		queue := a.queue
		a.queue = nil
		a.mu.Unlock()
		var docs []ledger.Ref
		for _, c := range queue {
			docs = append(docs, c.Docs...)
		}
		people := map[string]bool{}
		err := s.Store.Read(ctx, func(tx *store.Tx) (err error) {
			people, err = tx.Concerned(docs)
			return err
		})
		if err != nil {
			people = nil // better to wake too many
		}
		for _, c := range queue {
			s.live.tell(people, News{Changed: c.Names, Seq: c.Seq})
		}
	}
}

// events sends News whenever something changed, and one now and then to keep the line open.
func (s *Server) events(c *gin.Context) {
	line, err := s.live.listen(who(c))
	if err != nil {
		s.fail(c, err)
		return
	}
	defer s.live.leave(line)
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
		case _, open := <-line.fresh:
			if !open {
				return
			}
			for _, n := range s.live.news(line) {
				data, err := json.Marshal(n)
				ok = ok && err == nil && write("event: changed\ndata: "+string(data)+"\n\n")
			}
		case <-beat.C:
			ok = write(": still here\n\n")
		}
	}
}
