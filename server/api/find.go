package api

import (
	"github.com/gin-gonic/gin"

	"iter.example/iter/server/store"
)

// SearchText is what is looked for.
type SearchText struct {
	Q string `form:"q" json:"q"`
}

// mostFound is how many records of a type are given.
const mostFound = 6

// find finds records of all types by words.
func (s *Server) find(c *gin.Context, q SearchText) (store.Found, error) {
	return read(s, c, func(tx *store.Tx) (store.Found, error) { return tx.FindRecords(q.Q, store.FindableTypes, mostFound) })
}
