package api

import (
	"encoding/json"
	"slices"

	"github.com/gin-gonic/gin"

	"iter.example/iter/core/records"
	"iter.example/iter/server/store"
)

// CustomerHit is a customer that was searched for, with the sites.
type CustomerHit struct {
	ID       string           `json:"id"`
	Customer records.Customer `json:"customer"`
	Sites    []SiteHit        `json:"sites"`
}

// SiteHit is a site with its assets.
type SiteHit struct {
	ID     string        `json:"id"`
	Site   records.Site  `json:"site"`
	Assets []store.Named `json:"assets"`
}

const hits = 12

func (s *Server) customers(c *gin.Context, q SearchText) ([]CustomerHit, error) {
	text := q.Q
	return read(s, c, func(tx *store.Tx) ([]CustomerHit, error) { return customers(tx, text) })
}

// customers finds customers by their own name, phone or address, or by those of their sites.
func customers(tx *store.Tx, text string) ([]CustomerHit, error) {
	out := []CustomerHit{}
	found, err := tx.FindRecords(text, []string{"customer", "site"}, hits)
	if err != nil {
		return nil, err
	}
	ids := []string{}
	for _, h := range found.Hits {
		id := h.ID
		if h.Type == "site" {
			var site records.Site
			if _, err := tx.Load("site", id, &site); err != nil {
				return nil, err
			}
			id = site.Customer
		}
		if !slices.Contains(ids, id) && len(ids) < hits {
			ids = append(ids, id)
		}
	}
	for _, id := range ids {
		hit := CustomerHit{ID: id, Sites: []SiteHit{}}
		if _, err := tx.Load("customer", id, &hit.Customer); err != nil {
			return nil, err
		}
		if hit.Sites, err = sitesOf(tx, id); err != nil {
			return nil, err
		}
		out = append(out, hit)
	}
	return out, nil
}

func sitesOf(tx *store.Tx, customer string) ([]SiteHit, error) {
	out := []SiteHit{}
	docs, err := tx.SitesOf(customer)
	if err != nil {
		return nil, err
	}
	for _, d := range docs {
		hit := SiteHit{ID: d.ID}
		if err := json.Unmarshal(d.Body, &hit.Site); err != nil {
			return nil, err
		}
		if hit.Assets, err = tx.AssetsAt(d.ID); err != nil {
			return nil, err
		}
		out = append(out, hit)
	}
	return out, nil
}
