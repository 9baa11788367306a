package api

import (
	"cmp"
	"encoding/json"
	"slices"

	"github.com/gin-gonic/gin"

	"iter.example/iter/core/records"
	"iter.example/iter/server/store"
)

// KnowHowLine is know-how in the list of all.
type KnowHowLine struct {
	ID string `json:"id"`
	records.KnowHow
	Name string `json:"name,omitempty"` // of the author
}

// knowHow lists what the company has learned: what was sent in and waits first, then by title.
func (s *Server) knowHow(c *gin.Context) ([]KnowHowLine, error) {
	return read(s, c, func(tx *store.Tx) ([]KnowHowLine, error) {
		docs, err := tx.Of("knowhow")
		if err != nil {
			return nil, err
		}
		out := []KnowHowLine{}
		for _, d := range docs {
			line := KnowHowLine{ID: d.ID}
			if err := json.Unmarshal(d.Body, &line.KnowHow); err != nil {
				return nil, err
			}
			if line.Author != "" {
				if line.Name, err = tx.NameOf(line.Author); err != nil {
					return nil, err
				}
			}
			out = append(out, line)
		}
		rank := func(l KnowHowLine) int {
			switch {
			case l.Gone:
				return 2
			case l.Sent:
				return 0
			}
			return 1
		}
		slices.SortStableFunc(out, func(a, b KnowHowLine) int { return cmp.Or(rank(a)-rank(b), cmp.Compare(a.Title, b.Title)) })
		return out, nil
	})
}
