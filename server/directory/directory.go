// Package directory tells phones of every customer, site and machine there is: in a form small enough to carry all of them, and to search
// them where there is no signal.
package directory

import (
	"encoding/json"
	"time"

	"iter.example/iter/core/ledger"
	"iter.example/iter/core/records"
	"iter.example/iter/server/store"
)

// Directory is what is told: all that there is, or what changed since a place in the log. Each kind is told by columns of equal length,
// which pack to less than half of what lines do.
type Directory struct {
	History string    `json:"history"` // of which history of the log it is
	Seq     int64     `json:"seq"`     // up to which place in the log
	At      time.Time `json:"at"`
	// Whole tells that it stands in place of what was told before.
	Whole     bool      `json:"whole"`
	Customers Customers `json:"customers"`
	Sites     Sites     `json:"sites"`
	Assets    Assets    `json:"assets"`
}

// Customers are the columns of customers. One without a name turned out to be another; so it is with sites.
type Customers struct {
	ID    []string `json:"id"`
	Name  []string `json:"name"`
	Phone []string `json:"phone"`
}

// Sites are the columns of sites.
type Sites struct {
	ID       []string `json:"id"`
	Customer []int    `json:"customer"` // which row of Customers
	Name     []string `json:"name"`
	Address  []string `json:"address"`
	Phone    []string `json:"phone"`
}

// Assets are the columns of machines. One without a name is no more: it was sold away, scrapped, never there, or turned out to be another.
type Assets struct {
	ID     []string `json:"id"`
	Site   []int    `json:"site"` // which row of Sites
	Name   []string `json:"name"`
	Serial []string `json:"serial"`
}

// Since tells what changed after a place in a history of the log; all that there is when that is another history, or there was none.
func Since(tx *store.Tx, history string, seq int64, now time.Time) (*Directory, error) {
	at, err := tx.Seq()
	if err != nil {
		return nil, err
	}
	own, err := tx.History()
	if err != nil {
		return nil, err
	}
	if history != own || seq > at {
		seq = 0
	}
	w := writer{tx: tx, customers: map[string]int{}, sites: map[string]int{}}
	w.out = Directory{History: own, Seq: at, At: now, Whole: seq == 0}
	for _, typ := range []struct {
		name string
		add  func(ledger.Doc) error
	}{{"customer", w.customer}, {"site", w.site}, {"asset", w.asset}} {
		docs, err := tx.ChangedSince(typ.name, seq)
		if err != nil {
			return nil, err
		}
		for _, d := range docs {
			if err := typ.add(d); err != nil {
				return nil, err
			}
		}
	}
	return &w.out, nil
}

// writer fills a directory. It knows the rows of what it has told.
type writer struct {
	tx               *store.Tx
	out              Directory
	customers, sites map[string]int
}

func (w *writer) customer(d ledger.Doc) error {
	var c records.Customer
	if err := json.Unmarshal(d.Body, &c); err != nil {
		return err
	}
	if c.Merged != "" {
		if w.out.Whole {
			return nil
		}
		c.Name = ""
	}
	w.addCustomer(d.ID, c)
	return nil
}

func (w *writer) addCustomer(id string, c records.Customer) {
	w.customers[id] = len(w.out.Customers.ID)
	to := &w.out.Customers
	to.ID, to.Name, to.Phone = append(to.ID, id), append(to.Name, c.Name), append(to.Phone, c.Contact.Phone)
}

func (w *writer) site(d ledger.Doc) error {
	var s records.Site
	if err := json.Unmarshal(d.Body, &s); err != nil {
		return err
	}
	if s.Merged != "" {
		if w.out.Whole {
			return nil
		}
		s.Name = ""
	}
	return w.addSite(d.ID, s)
}

// addSite tells of a site, and first of its customer.
func (w *writer) addSite(id string, s records.Site) error {
	row, told := w.customers[s.Customer]
	if !told {
		var c records.Customer
		if _, err := w.tx.Load("customer", s.Customer, &c); err != nil {
			return err
		}
		row = len(w.out.Customers.ID)
		w.addCustomer(s.Customer, c)
	}
	w.sites[id] = len(w.out.Sites.ID)
	to := &w.out.Sites
	to.ID, to.Customer = append(to.ID, id), append(to.Customer, row)
	to.Name, to.Address, to.Phone = append(to.Name, s.Name), append(to.Address, s.Address), append(to.Phone, s.Contact.Phone)
	return nil
}

func (w *writer) asset(d ledger.Doc) error {
	var a records.Asset
	if err := json.Unmarshal(d.Body, &a); err != nil {
		return err
	}
	if a.Removed != "" || a.Struck || a.Merged != "" {
		if w.out.Whole {
			return nil
		}
		a.Name = ""
	}
	row, told := w.sites[a.Site]
	if !told {
		var s records.Site
		if _, err := w.tx.Load("site", a.Site, &s); err != nil {
			return err
		}
		row = len(w.out.Sites.ID)
		if err := w.addSite(a.Site, s); err != nil {
			return err
		}
	}
	to := &w.out.Assets
	to.ID, to.Site, to.Name, to.Serial = append(to.ID, d.ID), append(to.Site, row), append(to.Name, a.Name), append(to.Serial, a.Serial)
	return nil
}
