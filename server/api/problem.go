package api

import (
	"encoding/json"
	"errors"
	"math"
	"net/http"
	"strconv"
	"strings"
	"time"

	"github.com/gin-gonic/gin"

	"iter.example/iter/core/msg"
	"iter.example/iter/server/office"
	"iter.example/iter/server/store"
)

// problem answers with an error as RFC 9457 has it. Its code is what the interface finds the sentence by.
func (s *Server) problem(c *gin.Context, status int, why *msg.Code) {
	writeProblem(c.Writer, status, problemOf(status, why))
	c.Abort()
}

// Problem is an error over HTTP, after RFC 9457.
type Problem struct {
	Type   string            `json:"type"`
	Title  string            `json:"title"`
	Status int               `json:"status"`
	Code   string            `json:"code"`
	Args   map[string]string `json:"args,omitempty"`
}

func problemOf(status int, why *msg.Code) Problem {
	return Problem{Type: "about:blank", Title: http.StatusText(status), Status: status, Code: why.Code, Args: why.Args}
}

// writeProblem answers with a Problem, or with what has one in it.
func writeProblem(w http.ResponseWriter, status int, problem any) {
	w.Header().Set("Content-Type", "application/problem+json")
	w.WriteHeader(status)
	_ = json.NewEncoder(w).Encode(problem)
}

// refusal is an error that is answered with a status of its own.
type refusal struct {
	status int
	why    *msg.Code
	after  time.Duration // until it may be tried again
}

func (r refusal) Error() string { return r.why.Error() }

// NotReady answers for a program that still prepares its data, as after an update: what was sent is sent again (503).
func NotReady(w http.ResponseWriter) {
	w.Header().Set("Retry-After", "10")
	writeProblem(w, http.StatusServiceUnavailable, problemOf(http.StatusServiceUnavailable, msg.New("server.preparing")))
}

// fail answers for an error of the store or the core, or for a refusal.
func (s *Server) fail(c *gin.Context, err error) {
	code, ours := errors.AsType[*msg.Code](err)
	conflict, isConflict := errors.AsType[*office.Conflict](err)
	already, isAlready := errors.AsType[*office.Already](err)
	refused, isRefusal := errors.AsType[refusal](err)
	switch {
	case isRefusal:
		if refused.after > 0 {
			c.Header("Retry-After", strconv.Itoa(int(math.Ceil(refused.after.Seconds()))))
		}
		s.problem(c, refused.status, refused.why)
	case isConflict:
		s.conflict(c, conflict)
	case isAlready:
		s.already(c, already)
	case errors.Is(err, store.ErrFull):
		s.Log.Error("disk full", "route", c.FullPath(), "error", err, "hint",
			"free space where the data directory is; devices keep their entries and send them again")
		s.problem(c, http.StatusInsufficientStorage, msg.New("server.full"))
	case errors.Is(err, store.ErrBusy):
		s.Log.Warn("the database was held", "route", c.FullPath(), "error", err, "hint",
			"another program wrote to it for long; a backup or an import, perhaps")
		c.Header("Retry-After", "5")
		s.problem(c, http.StatusServiceUnavailable, msg.New("server.busy"))
	case ours && code.Code == "role.missing":
		s.problem(c, http.StatusForbidden, code)
	case ours && code.Code == "server.stopping":
		s.problem(c, http.StatusServiceUnavailable, code)
	case ours && strings.HasPrefix(code.Code, "quota."):
		c.Header("Retry-After", "600")
		s.problem(c, http.StatusTooManyRequests, code)
	case c.Request.Context().Err() != nil:
		c.AbortWithStatus(http.StatusServiceUnavailable) // nobody listens any more
	case ours && (code.Code == "record.unknown" || code.Code == "report.unknown"):
		s.problem(c, http.StatusNotFound, code)
	case ours:
		s.problem(c, http.StatusConflict, code)
	default:
		s.Log.Error("request failed", "route", c.FullPath(), "error", err)
		s.problem(c, http.StatusInternalServerError, msg.New("server.failed"))
	}
}
