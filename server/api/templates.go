package api

import (
	"encoding/json"
	"slices"
	"strings"

	"github.com/gin-gonic/gin"

	"iter.example/iter/core/work"
	"iter.example/iter/server/store"
)

// WorkTemplate is ready-made work with its id.
type WorkTemplate struct {
	ID   string        `json:"id"`
	Work work.Template `json:"work"`
}

// templates lists the ready-made work that is offered, by name.
func (s *Server) templates(c *gin.Context) ([]WorkTemplate, error) {
	return read(s, c, func(tx *store.Tx) ([]WorkTemplate, error) {
		docs, err := tx.Of("template")
		out := []WorkTemplate{}
		for _, d := range docs {
			t := WorkTemplate{ID: d.ID}
			if err := json.Unmarshal(d.Body, &t.Work); err != nil {
				return nil, err
			}
			if !t.Work.Gone {
				out = append(out, t)
			}
		}
		slices.SortFunc(out, func(a, b WorkTemplate) int {
			return strings.Compare(strings.ToLower(a.Work.Name), strings.ToLower(b.Work.Name))
		})
		return out, err
	})
}
