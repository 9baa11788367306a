package api

import (
	"context"
	"net/http"
	"strings"
	"time"

	"github.com/gin-gonic/gin"

	"iter.example/iter/core/msg"
	"iter.example/iter/server/hours"
	"iter.example/iter/server/standin"
	"iter.example/iter/server/store"
)

// hours says what the days of a range come to, by person.
func (s *Server) hours(c *gin.Context, r hours.Range) (hours.Page, error) {
	return ofHours(s, c, r, hours.Of)
}

// hoursByOrder adds up the time of a range by work order.
func (s *Server) hoursByOrder(c *gin.Context, r hours.Range) ([]hours.Order, error) {
	return ofHours(s, c, r, hours.Orders)
}

// ofHours answers out of the days of a range, which are remembered.
func ofHours[T any](s *Server, c *gin.Context, r hours.Range, of func(*store.Tx, hours.Range, time.Time, hours.Remember) (T, error)) (T,
	error) {
	if err := r.Check(); err != nil {
		return *new(T), refusal{status: http.StatusBadRequest, why: msg.From(err)}
	}
	now, asked := s.now(c), s.worked.ask()
	return read(s, c, func(tx *store.Tx) (T, error) {
		return of(tx, r, now, func(tx *store.Tx, key string, work func() ([]hours.Day, bool, error)) ([]hours.Day, error) {
			return s.worked.get(tx, asked, key, work)
		})
	})
}

// dayOfHours gives a person's day, whole.
func (s *Server) dayOfHours(c *gin.Context) (hours.Day, error) {
	person, date, _ := strings.Cut(c.Param("card"), "+")
	if err := (hours.Range{From: date, To: date}).Check(); err != nil {
		return hours.Day{}, refusal{status: http.StatusBadRequest, why: msg.From(err)}
	}
	now := s.now(c)
	return read(s, c, func(tx *store.Tx) (hours.Day, error) {
		d, ok, err := hours.OfDay(tx, person, date, now)
		if err == nil && !ok {
			err = refusal{status: http.StatusNotFound, why: msg.New("record.unknown", "type", "timecard", "id", c.Param("card"))}
		}
		return d, err
	})
}

// payroll answers with a file of the approved days.
func (s *Server) payroll(c *gin.Context) {
	r := hours.Range{From: c.Query("from"), To: c.Query("to")}
	if err := r.Check(); err != nil {
		s.problem(c, http.StatusBadRequest, msg.From(err))
		return
	}
	var file []byte
	err := s.Store.Read(c.Request.Context(), func(tx *store.Tx) (err error) {
		file, err = hours.Payroll(tx, r, s.Now())
		return err
	})
	if err != nil {
		s.fail(c, err)
		return
	}
	c.Header("Content-Disposition", `attachment; filename="payroll-`+r.From+"-to-"+r.To+`.csv"`)
	c.Data(http.StatusOK, "text/csv; charset=utf-8", file)
}

// post books the approved days of a range with accounting.
func (s *Server) post(c *gin.Context, r hours.Range) (hours.Report, error) {
	if err := r.Check(); err != nil {
		return hours.Report{}, refusal{status: http.StatusBadRequest, why: msg.From(err)}
	}
	s.posting.Lock() // one at a time: each sees what the one before has booked
	defer s.posting.Unlock()
	return hours.Post(c.Request.Context(), s.Store, s.Accounting, r, who(c).PersonID, s.Now())
}

// booked lists what accounting has of a person's day.
func (s *Server) booked(c *gin.Context) ([]standin.Line, error) {
	person, date, _ := strings.Cut(c.Param("card"), "+")
	lines, err := s.Accounting.Booked(c.Request.Context(), person, date)
	if err != nil {
		return nil, msg.New("accounting.unreachable")
	}
	return append([]standin.Line{}, lines...), nil
}

// sentMessages lists what the gateway was given.
func (s *Server) sentMessages(c *gin.Context) ([]store.Sent, error) {
	return read(s, c, func(tx *store.Tx) ([]store.Sent, error) { return tx.AllSent(100) })
}

// deliver sends messages and orders that wait, now and whenever there is something new; what could not go is tried again.
func (s *Server) deliver(ctx context.Context) {
	again := time.NewTicker(30 * time.Second)
	defer again.Stop()
	for {
		if _, err := standin.Deliver(ctx, s.Store, s.Gateway, s.attachment, s.Now()); err != nil && ctx.Err() == nil {
			s.Log.Warn("messages to customers wait", "error", err, "hint", "they are tried again in half a minute")
		}
		if _, err := standin.Supply(ctx, s.Store, s.Supplier, s.Now(), s.byProgram); err != nil && ctx.Err() == nil {
			s.Log.Warn("orders to suppliers wait", "error", err, "hint", "they are tried again in half a minute")
		}
		select {
		case <-s.done:
			return
		case <-s.fresh:
		case <-again.C:
		}
	}
}
