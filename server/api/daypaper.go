package api

import (
	"fmt"
	"net/http"
	"slices"
	"time"

	"github.com/gin-gonic/gin"

	"iter.example/iter/core/ledger"
	"iter.example/iter/core/msg"
	"iter.example/iter/core/plan"
	"iter.example/iter/core/records"
	"iter.example/iter/core/work"
	"iter.example/iter/server/daypaper"
	"iter.example/iter/server/store"
)

// dayPaper answers with somebody's day as PDF.
func (s *Server) dayPaper(c *gin.Context) {
	pdf, err := s.printDay(c, c.Param("person"), c.Query("date"))
	if err != nil {
		s.fail(c, err)
		return
	}
	c.Header("Content-Disposition", fmt.Sprintf(`inline; filename="day-%s.pdf"`, c.Query("date")))
	c.Data(http.StatusOK, "application/pdf", pdf)
}

func (s *Server) printDay(c *gin.Context, person, date string) ([]byte, error) {
	now := s.now(c)
	if _, err := time.Parse(time.DateOnly, date); err != nil {
		return nil, refusal{status: http.StatusBadRequest, why: msg.New("http.date")}
	}
	return read(s, c, func(tx *store.Tx) ([]byte, error) {
		d, _, err := gatherDay(tx, person, date, now)
		if err != nil {
			return nil, err
		}
		return daypaper.Print(d, d.Zone.In(now))
	})
}

// gatherDay gathers what is printed of somebody's day, with who they are.
func gatherDay(tx *store.Tx, person, date string, now time.Time) (d daypaper.Day, p records.Person, err error) {
	rules, err := tx.Settings(now)
	if err != nil {
		return d, p, err
	}
	if ok, err := tx.Load("person", person, &p); err != nil {
		return d, p, err
	} else if !ok {
		return d, p, refusal{status: http.StatusNotFound, why: msg.New("record.unknown", "type", "person", "id", records.Clip(person))}
	}
	d = daypaper.Day{Company: rules.Company.Name, Zone: rules.Company.Zone, Person: p.Name, Begin: rules.Company.Zone.On(date, 0)}
	l, err := laneOf(tx, person, p, date, rules.Road)
	if err != nil {
		return d, p, err
	}
	ids, err := tx.VisitsOn(date)
	if err != nil {
		return d, p, err
	}
	stops := map[string]daypaper.Stop{}
	for _, id := range ids {
		var v work.Visit
		if _, err := tx.Load("visit", id, &v); err != nil {
			return d, p, err
		}
		theirs := v.Technician == person || slices.Contains(v.Helpers, person)
		if !theirs || v.Stage == work.Withdrawn || v.Stage == work.Declined {
			continue
		}
		if stops[id], err = paperStop(tx, v, person); err != nil {
			return d, p, err
		}
		if err := l.add(tx, id, v); err != nil {
			return d, p, err
		}
	}
	for _, x := range plan.Arrange(l.stops, l.order) {
		d.Stops = append(d.Stops, stops[x.ID])
	}
	return d, p, nil
}

// paperStop gathers what is printed of a visit for somebody.
func paperStop(tx *store.Tx, v work.Visit, person string) (daypaper.Stop, error) {
	w, err := tx.Work(v.Order)
	if err != nil {
		return daypaper.Stop{}, err
	}
	out := daypaper.Stop{Visit: v, Order: w.Order, Customer: w.Customer, Site: w.Site}
	if v.Technician != person {
		if out.Lead, err = tx.NameOf(v.Technician); err != nil {
			return out, err
		}
	}
	for _, h := range v.Helpers {
		name, err := tx.NameOf(h)
		if err != nil {
			return out, err
		}
		if h != person {
			out.With = append(out.With, name)
		}
	}
	for _, t := range v.Things {
		name, err := tx.About(ledger.Ref{Type: "resource", ID: t})
		if err != nil {
			return out, err
		}
		out.Things = append(out.Things, name)
	}
	var a records.Asset
	if _, err := tx.Load("asset", w.Order.Asset, &a); err != nil {
		return out, err
	}
	out.Asset = a.Name
	needs := w.Order.Needs
	if r := w.Order.Standing(); r != nil {
		needs = append(slices.Clone(needs), r.Needs...)
	}
	for _, n := range needs {
		name, err := tx.About(ledger.Ref{Type: "part", ID: n.Part})
		if err != nil {
			return out, err
		}
		out.Parts = append(out.Parts, n.Quantity.String()+" × "+name)
	}
	return out, nil
}
