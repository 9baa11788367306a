package api

import (
	"github.com/gin-gonic/gin"

	"iter.example/iter/core/ledger"
	"iter.example/iter/core/replica"
	"iter.example/iter/server/store"
	"iter.example/iter/server/syncing"
)

// Kept says how far the log rests on more than one disk, and which history of it that is: what a browser recorded and was acknowledged, it
// keeps until then, and gives again to a server of another history.
type Kept struct {
	History string `json:"history"`
	Seq     int64  `json:"seq"`
	Alone   bool   `json:"alone,omitempty"` // there is no second copy: Seq is of a number of days ago
}

// Again is the body of giving again what was acknowledged: entries as they were logged.
type Again struct {
	Entries []ledger.Entry `json:"entries"`
}

// maxAgain is the largest batch of what is given again: as many entries as there may be, each as large as it may be.
const maxAgain = replica.MaxEntries * 2 * ledger.MaxBody

func (*Again) limit() int64 { return maxAgain }

// Regained answers for them.
type Regained struct {
	Receipts []replica.Receipt `json:"receipts"`
}

func (s *Server) kept(c *gin.Context) (Kept, error) {
	seq, err := s.Store.Kept(c.Request.Context(), s.Now())
	if err != nil {
		return Kept{}, err
	}
	return read(s, c, func(tx *store.Tx) (Kept, error) {
		history, err := tx.History()
		return Kept{history, seq, s.Store.Alone()}, err
	})
}

func (s *Server) regain(c *gin.Context, in Again) (Regained, error) {
	out, err := syncing.TakeOffice(c.Request.Context(), s.Store, who(c), in.Entries, s.Now())
	if err != nil {
		return Regained{}, err
	}
	return Regained{append([]replica.Receipt{}, out.Receipts...)}, nil
}
