package api

import (
	"github.com/gin-gonic/gin"

	"iter.example/iter/core/ledger"
	"iter.example/iter/server/office"
	"iter.example/iter/server/store"
)

// UndoLine is what somebody did last.
type UndoLine struct {
	ID      string     `json:"id"`
	Kind    string     `json:"kind"` // of the last of its entries
	Subject ledger.Ref `json:"subject"`
	About   string     `json:"about"` // in words
	Count   int        `json:"count"` // of entries
	Final   bool       `json:"final"` // nothing takes it back
	Seq     int64      `json:"seq"`   // of the last entry
}

// undoable lists what whoever asks did last and did not take back, the latest first.
func (s *Server) undoable(c *gin.Context) ([]UndoLine, error) {
	return read(s, c, func(tx *store.Tx) ([]UndoLine, error) {
		all, err := tx.UndoableBy(who(c).PersonID)
		out := []UndoLine{}
		for _, d := range all {
			if len(d.Undone) > 0 || len(out) == office.MostUndone {
				continue
			}
			about, err := tx.About(d.Subject)
			if err != nil {
				return nil, err
			}
			out = append(out, UndoLine{d.ID, d.Kind, d.Subject, about, len(d.Entries), d.Commands == "[]", d.Seq})
		}
		return out, err
	})
}

// UndoReason is what the commands say that take something back, where they need a reason.
type UndoReason struct {
	Reason string `json:"reason"`
}

func (s *Server) undo(c *gin.Context, in UndoReason) (Recorded, error) {
	out, err := office.Undo(c.Request.Context(), s.Store, who(c), c.Param("id"), in.Reason, s.Now())
	return Recorded{out}, err
}
