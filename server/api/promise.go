package api

import (
	"github.com/gin-gonic/gin"

	"iter.example/iter/core/work"
	"iter.example/iter/server/promises"
	"iter.example/iter/server/store"
)

// PromiseAsked says of what work it is asked by when it is promised.
type PromiseAsked struct {
	Priority work.Priority `form:"priority" json:"priority"`
	Work     string        `form:"work" json:"work,omitempty"`   // kind of work
	Asset    string        `form:"asset" json:"asset,omitempty"` // machine
}

// promise tells what an agreement about the machine, or else the company's rules, promise of work that comes in now.
func (s *Server) promise(c *gin.Context, q PromiseAsked) (*promises.Promise, error) {
	return read(s, c, func(tx *store.Tx) (*promises.Promise, error) {
		return promises.Of(tx, s.now(c), q.Priority, q.Work, q.Asset)
	})
}
