package store

import (
	"iter.example/iter/core/records"
	"iter.example/iter/core/work"
)

// Work is a work order with whom it is for and where it is done. What is not known is empty.
type Work struct {
	Order    work.Order
	Customer records.Customer
	Site     records.Site
}

// Work loads a work order with its customer and site; of no order it is empty.
func (t *Tx) Work(order string) (w Work, err error) {
	if _, err := t.Load("workorder", order, &w.Order); err != nil {
		return w, err
	}
	if _, err := t.Load("customer", w.Order.Customer, &w.Customer); err != nil {
		return w, err
	}
	_, err = t.Load("site", w.Order.Site, &w.Site)
	return w, err
}

// VisitWork is a visit with its work.
type VisitWork struct {
	Visit work.Visit
	Work
}

// VisitWork loads a visit with its work order, customer and site; of no visit it is empty.
func (t *Tx) VisitWork(visit string) (v VisitWork, err error) {
	if _, err := t.Load("visit", visit, &v.Visit); err != nil {
		return v, err
	}
	v.Work, err = t.Work(v.Visit.Order)
	return v, err
}
