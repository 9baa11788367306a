package api

import (
	"github.com/gin-gonic/gin"

	"iter.example/iter/core/ledger"
	"iter.example/iter/server/directory"
	"iter.example/iter/server/store"
)

// DirectoryQuery says what a phone has of the directory: nothing, or up to a place in a history of the log.
type DirectoryQuery struct {
	History string `form:"history" json:"history,omitempty"`
	Seq     int64  `form:"seq" json:"seq,omitempty"`
}

// directory tells a phone of every customer, site and machine, or what changed of them.
func (s *Server) directory(c *gin.Context, q DirectoryQuery) (*directory.Directory, error) {
	return read(s, c, func(tx *store.Tx) (*directory.Directory, error) {
		return directory.Since(tx, q.History, q.Seq, s.now(c))
	})
}

// CustomerInShort is a customer's page as a phone shows it: their records as devices are told them, and the work for them.
type CustomerInShort struct {
	Docs []ledger.Doc `json:"docs"` // the customer, their sites, and the machines there
	Work RecordWork   `json:"work"`
}

// customerInShort gives a customer's page to a phone that asks for it: it may hold none of it.
func (s *Server) customerInShort(c *gin.Context) (*CustomerInShort, error) {
	ref := ledger.Ref{Type: "customer", ID: c.Param("customer")}
	return read(s, c, func(tx *store.Tx) (*CustomerInShort, error) {
		d, err := tx.Doc(ref)
		if err != nil || d.Body == nil {
			return nil, unknownRecord(err, ref)
		}
		out := &CustomerInShort{Docs: []ledger.Doc{d}}
		sites, err := sitesOf(tx, ref.ID)
		if err != nil {
			return nil, err
		}
		refs := []ledger.Ref{}
		for _, site := range sites {
			refs = append(refs, ledger.Ref{Type: "site", ID: site.ID})
			for _, a := range site.Assets {
				refs = append(refs, ledger.Ref{Type: "asset", ID: a.ID})
			}
		}
		for _, r := range refs {
			if d, err = tx.Doc(r); err != nil {
				return nil, err
			}
			out.Docs = append(out.Docs, d)
		}
		work, err := workAbout(tx, ref, mostInShort)
		if err != nil {
			return nil, err
		}
		out.Work = *work
		return out, nil
	})
}

// mostInShort is how many orders that are over a phone is told of.
const mostInShort = 5
