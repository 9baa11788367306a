package api

import (
	"context"
	"fmt"
	"net/http"
	"time"

	"github.com/gin-gonic/gin"

	"iter.example/iter/core/records"
	"iter.example/iter/core/work"
	"iter.example/iter/server/orderpaper"
	"iter.example/iter/server/store"
)

// orderPaper answers with a work order as PDF.
func (s *Server) orderPaper(c *gin.Context) {
	pdf, err := s.printOrder(c.Request.Context(), c.Param("id"), s.now(c))
	if err != nil {
		s.fail(c, err)
		return
	}
	c.Header("Content-Disposition", fmt.Sprintf(`inline; filename="order-%s.pdf"`, c.Param("id")))
	c.Data(http.StatusOK, "application/pdf", pdf)
}

// printOrder prints a work order as it stands.
func (s *Server) printOrder(ctx context.Context, id string, now time.Time) (pdf []byte, err error) {
	err = s.Store.Read(ctx, func(tx *store.Tx) error {
		page, err := orderPage(tx, id, now)
		if err != nil {
			return err
		}
		company, _, err := tx.Company(now)
		if err != nil {
			return err
		}
		o := orderpaper.Order{ID: id, Company: company.Name, Zone: company.Zone, Order: page.Order, Customer: page.Customer,
			Site: page.Site, Asset: page.Asset, Machines: map[string]string{}}
		for _, t := range page.Order.AllTasks() {
			var a records.Asset
			if ok, err := tx.Load("asset", t.Asset, &a); err != nil {
				return err
			} else if ok {
				o.Machines[t.Asset] = a.Name
			}
		}
		for _, n := range page.Needs {
			o.Parts = append(o.Parts, orderpaper.Part{Number: n.Part, Name: n.Name, Quantity: n.Quantity.String() + " " + n.Unit})
		}
		for _, v := range page.Visits {
			if v.Visit.Stage != work.Withdrawn && v.Visit.Stage != work.Declined {
				o.Visits = append(o.Visits, orderpaper.Visit{Start: v.Visit.Start, Technician: v.Names[v.Visit.Technician]})
			}
		}
		pdf, err = orderpaper.Print(o, company.Zone.In(now))
		return err
	})
	return pdf, err
}
