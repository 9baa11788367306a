// Package daypaper prints somebody's day: for whoever goes without a device, or would have it on paper as well.
package daypaper

import (
	"fmt"
	"slices"
	"time"

	"iter.example/iter/core/labor"
	"iter.example/iter/core/paper"
	"iter.example/iter/core/records"
	"iter.example/iter/core/work"
)

// Day is what is printed of somebody's day.
type Day struct {
	Company string
	Zone    labor.Zone
	Person  string // name
	Begin   time.Time
	Stops   []Stop // in their order
}

// Stop is a visit of the day.
type Stop struct {
	Visit    work.Visit
	Order    work.Order
	Customer records.Customer
	Site     records.Site
	Asset    string // name, "" of none
	Lead     string // whose visit it is, of one that they come along on
	With     []string
	Things   []string
	Parts    []string
}

// Print prints a day.
func Print(d Day, at time.Time) ([]byte, error) {
	p := paper.Begin(d.Company, d.Zone.In(d.Begin).Format("Monday 2 January 2006"), at, d.Person)
	if len(d.Stops) == 0 {
		p.Para("Nothing is planned.", 5)
	}
	for _, s := range d.Stops {
		p.Room(40) // a stop begins with as much of it as says where and what
		p.Heading(d.Zone.In(s.Visit.Start).Format("15:04") + "  " + s.Site.Name)
		p.Para(s.Order.Problem, 5)
		p.Ln(1)
		p.Fact("Work order", s.Order.Number, s.Customer.Name)
		p.Fact("Where", s.Site.Address)
		p.Fact("Takes", length(s.Visit.Minutes))
		if !s.Order.PromiseTo.IsZero() {
			p.Fact("Promised", d.moment(s.Order.PromiseFrom)+" to "+d.moment(s.Order.PromiseTo))
		}
		p.Fact("Led by", s.Lead)
		p.Fact("With", s.With...)
		p.Fact("Take along", append(slices.Clone(s.Things), s.Parts...)...)
		p.Fact("Machine", s.Asset)
		for _, c := range append([]records.Contact{s.Site.Contact}, s.Order.People...) {
			p.Fact("On site", c.Name, c.Role, c.Phone)
		}
		p.Fact("Access", s.Site.Access)
		p.Fact("Hazard", s.Site.Hazard)
		p.Fact("Instruction", s.Order.Instruction)
		for _, t := range s.Order.AllTasks() {
			p.Fact("Step", t.Name)
		}
	}
	return p.Bytes()
}

// moment is a time of the day, with its date where that is another.
func (d Day) moment(t time.Time) string {
	t = d.Zone.In(t)
	if t.Format(time.DateOnly) == d.Zone.In(d.Begin).Format(time.DateOnly) {
		return t.Format("15:04")
	}
	return t.Format("2 January, 15:04")
}

func length(minutes int) string {
	if minutes < 60 {
		return fmt.Sprintf("%d min", minutes)
	}
	return fmt.Sprintf("%d h %02d", minutes/60, minutes%60)
}
