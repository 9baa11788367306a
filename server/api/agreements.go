package api

import (
	"cmp"
	"encoding/json"
	"slices"

	"github.com/gin-gonic/gin"

	"iter.example/iter/core/records"
	"iter.example/iter/core/work"
	"iter.example/iter/server/store"
)

// AgreementLine is an agreement in a list.
type AgreementLine struct {
	ID string `json:"id"`
	work.Agreement
	Whose    string        `json:"whose"`    // name of the customer
	Machines []store.Named `json:"machines"` // that it is about
	Over     bool          `json:"over,omitempty"`
}

// agreements lists all, by customer; those that are over last.
func (s *Server) agreements(c *gin.Context) ([]AgreementLine, error) {
	now := s.now(c)
	return read(s, c, func(tx *store.Tx) ([]AgreementLine, error) {
		_, today, err := tx.Company(now)
		if err != nil {
			return nil, err
		}
		docs, err := tx.Of("agreement")
		if err != nil {
			return nil, err
		}
		out := []AgreementLine{}
		for _, d := range docs {
			l := AgreementLine{ID: d.ID, Machines: []store.Named{}}
			if err := json.Unmarshal(d.Body, &l.Agreement); err != nil {
				return nil, err
			}
			var customer records.Customer
			if _, err := tx.Load("customer", l.Customer, &customer); err != nil {
				return nil, err
			}
			l.Whose, l.Over = customer.Name, l.To != "" && l.To < today
			for _, id := range l.Assets {
				a := records.Asset{Name: id}
				if _, err := tx.Load("asset", id, &a); err != nil {
					return nil, err
				}
				l.Machines = append(l.Machines, store.Named{ID: id, Name: a.Name})
			}
			out = append(out, l)
		}
		rank := map[bool]int{true: 1}
		slices.SortStableFunc(out, func(a, b AgreementLine) int {
			return cmp.Or(rank[a.Over]-rank[b.Over], cmp.Compare(a.Whose, b.Whose), cmp.Compare(a.Name, b.Name))
		})
		return out, nil
	})
}
