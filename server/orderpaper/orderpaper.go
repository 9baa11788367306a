// Package orderpaper prints work orders: for somebody without a device, or to hang on the machine in the workshop.
package orderpaper

import (
	"fmt"
	"strings"
	"time"

	"github.com/boombuler/barcode/qr"

	"iter.example/iter/core/labor"
	"iter.example/iter/core/paper"
	"iter.example/iter/core/records"
	"iter.example/iter/core/work"
)

// Order is what is printed of a work order.
type Order struct {
	ID       string
	Company  string
	Zone     labor.Zone
	Order    work.Order
	Customer records.Customer
	Site     records.Site
	Asset    *records.Asset
	Machines map[string]string // names of those that steps are on, by id
	Parts    []Part            // planned
	Visits   []Visit           // by when they begin
}

// Part is a part that is planned.
type Part struct{ Number, Name, Quantity string }

// Visit is a visit that is not withdrawn.
type Visit struct {
	Start      time.Time
	Technician string // name
}

const (
	dateAndTime = "2 January 2006, 15:04"
	square      = 16.0 // of a step's code, in millimetres
)

// Print prints a work order. Beside each step stands the code that begins it at a terminal or on a phone.
func Print(o Order, at time.Time) ([]byte, error) {
	p := paper.Begin(o.Company, "Work order "+o.Order.Number, at, o.Customer.Name, strings.TrimSuffix(o.Site.Name+", "+o.Site.Address, ", "))
	if !o.Order.PromiseTo.IsZero() {
		p.Fact("Promised", o.Zone.In(o.Order.PromiseFrom).Format(dateAndTime)+" to "+o.Zone.In(o.Order.PromiseTo).Format(dateAndTime))
	}
	for _, v := range o.Visits {
		p.Fact("Visit", o.Zone.In(v.Start).Format(dateAndTime), v.Technician)
	}
	if o.Asset != nil {
		p.Fact("Machine", o.Asset.Name, o.Asset.Maker, o.Asset.Serial)
	}
	p.Fact("Their number", o.Order.Theirs)
	for _, c := range append([]records.Contact{o.Site.Contact}, o.Order.People...) {
		p.Fact("On site", c.Name, c.Role, c.Phone)
	}
	p.Fact("Access", o.Site.Access)
	p.Fact("Hazard", o.Site.Hazard)
	p.Heading("What is to be done")
	p.Para(o.Order.Problem, 5)
	if o.Order.Instruction != "" {
		p.Ln(2)
		p.Para(o.Order.Instruction, 5)
	}
	if err := steps(p, o); err != nil {
		return nil, err
	}
	if len(o.Parts) > 0 {
		p.Heading("Parts")
		columns := append(paper.Columns(38, 110), paper.Column{Width: 26, Right: true})
		for _, x := range o.Parts {
			p.Row(columns, "", x.Number, x.Name, x.Quantity)
		}
	}
	return p.Bytes()
}

func steps(p *paper.Page, o Order) error {
	all := o.Order.AllTasks()
	if len(all) == 0 {
		return nil
	}
	p.Heading("Steps")
	for _, t := range all {
		code, err := qr.Encode(work.TaskLabel(o.ID, t.ID), qr.M, qr.Auto)
		if err != nil {
			return fmt.Errorf("label of step %s: %w", t.ID, err)
		}
		p.Room(square + 3)
		y := p.GetY()
		p.Code(code, paper.Margin, y+1, square, square)
		p.SetLeftMargin(paper.Margin + square + 6)
		p.SetXY(paper.Margin+square+6, y+2)
		p.Size("B", 10)
		p.Para(t.Name, 5)
		p.Size("", 9.5)
		var about []string
		if m := o.Machines[t.Asset]; m != "" {
			about = append(about, m)
		}
		if t.Minutes > 0 {
			about = append(about, fmt.Sprintf("%d min", t.Minutes))
		}
		p.Para(strings.Join(about, ", "), 5)
		p.SetLeftMargin(paper.Margin)
		p.SetXY(paper.Margin, max(p.GetY(), y+square+3))
	}
	return nil
}
