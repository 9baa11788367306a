package ledger

import (
	"slices"

	"iter.example/iter/core/audit"
	"iter.example/iter/core/msg"
	"iter.example/iter/core/records"
	"iter.example/iter/core/work"
)

// SiteMoved is the body of site.moved: a site becomes another customer's, with the machines there. The work orders named go along; the
// others stay with the customer that asked for them.
type SiteMoved struct {
	Customer string   `json:"customer"` // whose it is now
	Orders   []string `json:"orders,omitempty"`
	Note     string   `json:"note,omitempty"`
}

func checkSiteMoved(b SiteMoved) error {
	if err := checkMovedIDs(append([]string{b.Customer}, b.Orders...)...); err != nil {
		return err
	}
	return records.CheckText("note", b.Note, false, 500)
}

func siteMovedKeys(_ Entry, b SiteMoved) []Ref {
	out := []Ref{{"customer", b.Customer}}
	for _, id := range b.Orders {
		out = append(out, Ref{"workorder", id})
	}
	return out
}

func siteMoved(t *tx, e Entry, b SiteMoved) error {
	switch gone, err := mergedInto(t, Ref{"customer", b.Customer}); {
	case err != nil:
		return err
	case gone != "":
		return msg.New("merge.gone")
	}
	if err := change(t, e.Subject, func(s *records.Site) error {
		if s.Customer == b.Customer {
			return msg.New("site.theirs")
		}
		s.Moves = audit.Add(s.Moves, records.SiteMove{Line: e.line(), From: s.Customer, To: b.Customer, Note: b.Note})
		s.Customer = b.Customer
		return nil
	}); err != nil {
		return err
	}
	for _, id := range b.Orders {
		if err := change(t, Ref{"workorder", id}, func(o *work.Order) error {
			if o.Site != e.Subject.ID {
				return msg.New("merge.elsewhere")
			}
			o.Customer = b.Customer
			return nil
		}); err != nil {
			return err
		}
	}
	return nil
}

// siteBack gives a site back to the customer whose it was, with the work orders that went along.
func siteBack(before Loader, e Entry, b SiteMoved) ([]Command, error) {
	var s records.Site
	if ok, err := before(e.Subject, &s); err != nil || !ok {
		return nil, err
	}
	return []Command{{Kind: e.Kind, Subject: e.Subject, Body: SiteMoved{Customer: s.Customer, Orders: slices.Clone(b.Orders)}}}, nil
}
