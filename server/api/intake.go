package api

import (
	"time"

	"github.com/gin-gonic/gin"

	"iter.example/iter/core/ledger"
	"iter.example/iter/core/msg"
	"iter.example/iter/core/records"
	"iter.example/iter/core/work"
	"iter.example/iter/server/store"
)

// Caller is what whoever answers the telephone sees of a customer: their sites with machines, and what is open for them.
type Caller struct {
	CustomerHit
	// Site and Asset are those that were asked for; "" when it was the customer.
	Site  string `json:"site,omitempty"`
	Asset string `json:"asset,omitempty"`
	// Open are the work orders that are not over, the latest first, and More is how many there are beyond those listed.
	Open []OpenOrder `json:"open"`
	More int         `json:"more"`
}

// OpenOrder is a work order of a caller's that is not over.
type OpenOrder struct {
	ID      string     `json:"id"`
	Number  string     `json:"number"`
	Problem string     `json:"problem"`
	Site    string     `json:"site"`            // id
	Asset   string     `json:"asset,omitempty"` // id
	State   work.State `json:"state"`
	Opened  time.Time  `json:"opened"`
}

// mostOpen is how many open orders of a caller are listed.
const mostOpen = 200

// caller finds out who calls by a customer, one of their sites, or a machine.
func (s *Server) caller(c *gin.Context) (*Caller, error) {
	ref := ledger.Ref{Type: c.Param("type"), ID: c.Param("id")}
	return read(s, c, func(tx *store.Tx) (*Caller, error) {
		out := &Caller{Open: []OpenOrder{}}
		at, err := turnedOut(tx, ref)
		if err != nil {
			return nil, err
		}
		if at.Type == "asset" {
			var a records.Asset
			if ok, err := tx.Load("asset", at.ID, &a); err != nil || !ok {
				return nil, unknownRecord(err, ref)
			}
			out.Asset, at = at.ID, ledger.Ref{Type: "site", ID: a.Site}
		}
		if at.Type == "site" {
			var site records.Site
			if ok, err := tx.Load("site", at.ID, &site); err != nil || !ok {
				return nil, unknownRecord(err, ref)
			}
			out.Site, at = at.ID, ledger.Ref{Type: "customer", ID: site.Customer}
		}
		if ok, err := tx.Load("customer", at.ID, &out.Customer); err != nil || !ok || at.Type != "customer" {
			return nil, unknownRecord(err, ref)
		}
		out.ID = at.ID
		if out.Sites, err = sitesOf(tx, at.ID); err != nil {
			return nil, err
		}
		return out, out.open(tx)
	})
}

// turnedOut is the record that one turned out to be: an address that somebody kept still leads there.
func turnedOut(tx *store.Tx, ref ledger.Ref) (ledger.Ref, error) {
	for range 10 { // of one that turned out to be one that turned out to be another
		var r struct{ Merged string }
		if _, err := tx.Load(ref.Type, ref.ID, &r); err != nil || r.Merged == "" {
			return ref, err
		}
		ref.ID = r.Merged
	}
	return ref, nil
}

// unknownRecord is an error, or that a record is not known.
func unknownRecord(err error, ref ledger.Ref) error {
	if err != nil {
		return err
	}
	return msg.New("record.unknown", "type", records.Clip(ref.Type), "id", records.Clip(ref.ID))
}

// open lists what is open for the caller.
func (c *Caller) open(tx *store.Tx) error {
	ids, err := tx.OrdersNotOver(c.ID)
	if err != nil {
		return err
	}
	c.More = max(len(ids)-mostOpen, 0)
	for _, id := range ids[:min(len(ids), mostOpen)] {
		var o work.Order
		if _, err := tx.Load("workorder", id, &o); err != nil {
			return err
		}
		state, err := tx.OrderState(id)
		if err != nil {
			return err
		}
		c.Open = append(c.Open, OpenOrder{id, o.Number, o.Problem, o.Site, o.Asset, state, o.OpenedAt})
	}
	return nil
}
