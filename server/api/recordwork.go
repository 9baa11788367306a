package api

import (
	"slices"
	"time"

	"github.com/gin-gonic/gin"

	"iter.example/iter/core/ledger"
	"iter.example/iter/core/work"
	"iter.example/iter/server/store"
)

// RecordWork is the work for a customer, at a site or on a machine.
type RecordWork struct {
	Open []OpenOrder `json:"open"` // neither closed nor cancelled, the latest first
	Past []OpenOrder `json:"past"` // the latest first
	// More is how many are past beyond those listed.
	More   int           `json:"more"`
	Coming []ComingVisit `json:"coming"` // by when they begin
}

// ComingVisit is a visit that is not over.
type ComingVisit struct {
	ID         string     `json:"id"`
	Order      string     `json:"order"` // id
	Number     string     `json:"number"`
	Problem    string     `json:"problem"`
	Technician string     `json:"technician"` // name; "" while it is offered
	Start      time.Time  `json:"start"`
	Stage      work.Stage `json:"stage"`
}

// mostPast is how many orders that are over are listed.
const mostPast = 30

// recordWork lists the work for a customer, at a site or on a machine.
func (s *Server) recordWork(c *gin.Context) (*RecordWork, error) {
	ref := ledger.Ref{Type: c.Param("type"), ID: c.Param("id")}
	return read(s, c, func(tx *store.Tx) (*RecordWork, error) {
		if err := workIsAbout(tx, ref); err != nil {
			return nil, err
		}
		return workAbout(tx, ref, mostPast)
	})
}

// workIsAbout says that there is no such customer, site or machine.
func workIsAbout(tx *store.Tx, ref ledger.Ref) error {
	if !slices.Contains([]string{"customer", "site", "asset"}, ref.Type) {
		return unknownRecord(nil, ref)
	}
	if d, err := tx.Doc(ref); err != nil || d.Body == nil {
		return unknownRecord(err, ref)
	}
	return nil
}

// hanging lists what goes along when a customer, site or machine turns out to be another.
func (s *Server) hanging(c *gin.Context) (*store.Hanging, error) {
	ref := ledger.Ref{Type: c.Param("type"), ID: c.Param("id")}
	return read(s, c, func(tx *store.Tx) (*store.Hanging, error) {
		if err := workIsAbout(tx, ref); err != nil {
			return nil, err
		}
		h, err := tx.Hanging(ref)
		return &h, err
	})
}

// workAbout lists the work for a customer, at a site or on a machine: of what is over, at most so many.
func workAbout(tx *store.Tx, ref ledger.Ref, past int) (*RecordWork, error) {
	all, err := tx.OrdersAbout(ref)
	if err != nil {
		return nil, err
	}
	out := &RecordWork{Open: []OpenOrder{}, Past: []OpenOrder{}, Coming: []ComingVisit{}}
	for _, w := range all {
		over := w.State == work.Closed || w.State == work.Cancelled
		if over && len(out.Past) >= past {
			out.More++
			continue
		}
		var o work.Order
		if _, err := tx.Load("workorder", w.ID, &o); err != nil {
			return nil, err
		}
		line := OpenOrder{w.ID, o.Number, o.Problem, o.Site, o.Asset, w.State, o.OpenedAt}
		if over {
			out.Past = append(out.Past, line)
			continue
		}
		out.Open = append(out.Open, line)
		if err := out.coming(tx, w.ID, o); err != nil {
			return nil, err
		}
	}
	slices.SortStableFunc(out.Coming, func(a, b ComingVisit) int { return a.Start.Compare(b.Start) })
	return out, nil
}

// coming adds the visits of an order that are not over.
func (r *RecordWork) coming(tx *store.Tx, id string, o work.Order) error {
	for _, visit := range o.Visits {
		var v work.Visit
		if _, err := tx.Load("visit", visit, &v); err != nil {
			return err
		}
		if v.Stage == work.Finished || v.Stage == work.Withdrawn || v.Stage == work.Declined {
			continue
		}
		line := ComingVisit{ID: visit, Order: id, Number: o.Number, Problem: o.Problem, Start: v.Start, Stage: v.Stage}
		if v.Technician != "" {
			var err error
			if line.Technician, err = tx.NameOf(v.Technician); err != nil {
				return err
			}
		}
		r.Coming = append(r.Coming, line)
	}
	return nil
}
