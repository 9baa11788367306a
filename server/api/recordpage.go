package api

import (
	"encoding/json"
	"time"

	"github.com/gin-gonic/gin"

	"iter.example/iter/core/ledger"
	"iter.example/iter/core/msg"
	"iter.example/iter/core/records"
	"iter.example/iter/server/store"
)

// RecordPage is a customer, site, asset or part, with how it came to be as it is.
type RecordPage struct {
	Ref     ledger.Ref      `json:"ref"`
	Body    json.RawMessage `json:"body"`
	Changes []Amendment     `json:"changes"` // the latest first
	Clashes []ledger.Notice `json:"clashes"` // fields that two people changed, to decide on
	// Around are a customer's sites, a site's machines, and all that hangs under a machine.
	Around []store.Branch `json:"around"`
	// Within is what it is part of, the widest first: of a site its customer, of an asset the customer, the site and its parent.
	Within []PartOf `json:"within"`
	// Places are the names of the sites where a machine is and was, and of the customers whose a site is and was, by id.
	Places map[string]string `json:"places"`
	// Merged is what the record turned out to be, and Twins are those that turned out to be it.
	Merged *PartOf       `json:"merged,omitempty"`
	Along  ledger.Merged `json:"along"` // what went along to what the record turned out to be
	Twins  []store.Named `json:"twins"`
	// Wishes are, of a site, whom it asks for and who is not wanted there; nil where nobody has said.
	Wishes *records.Wishes `json:"wishes,omitempty"`
}

// Amendment is a change of a record: which values were written, over which that were seen then.
type Amendment struct {
	Entry  string          `json:"entry"`
	At     time.Time       `json:"at"`
	Person string          `json:"person"` // name
	Device string          `json:"device"`
	Patch  json.RawMessage `json:"patch"`
	Base   json.RawMessage `json:"base,omitempty"`
}

// maxAmendments is how many changes of a record are listed.
const maxAmendments = 100

func (s *Server) record(c *gin.Context) (*RecordPage, error) {
	ref := ledger.Ref{Type: c.Param("type"), ID: c.Param("id")}
	return read(s, c, func(tx *store.Tx) (*RecordPage, error) {
		if ledger.FieldsCorrected(ref.Type) == nil && ref.Type != "part" && ref.Type != "knowhow" {
			return nil, msg.New("record.unknown", "type", records.Clip(ref.Type), "id", records.Clip(ref.ID))
		}
		d, err := tx.Doc(ref)
		if err != nil {
			return nil, err
		}
		if d.Body == nil {
			return nil, msg.New("record.unknown", "type", ref.Type, "id", records.Clip(ref.ID))
		}
		page := &RecordPage{Ref: ref, Body: d.Body, Changes: []Amendment{}, Around: []store.Branch{}, Places: map[string]string{},
			Within: []PartOf{}}
		if page.Clashes, err = tx.FlagsOn(ref); err != nil {
			return nil, err
		}
		trail, err := tx.Trail(ref)
		if err != nil {
			return nil, err
		}
		for i := len(trail) - 1; i >= 0 && len(page.Changes) < maxAmendments; i-- {
			l := trail[i]
			if l.Kind == "record.merged" && page.Along.Into == "" {
				if err := json.Unmarshal(l.Body, &page.Along); err != nil {
					return nil, err
				}
			}
			if l.Kind != "record.amended" {
				continue
			}
			a := Amendment{Entry: l.ID, At: l.At, Patch: l.Body, Base: l.Base}
			if a.Person, a.Device, err = recordedBy(tx, l); err != nil {
				return nil, err
			}
			page.Changes = append(page.Changes, a)
		}
		for _, fill := range []func(*store.Tx) error{page.within, page.twins, page.places} {
			if err := fill(tx); err != nil {
				return nil, err
			}
		}
		switch ref.Type {
		case "customer":
			sites, err := tx.SitesOf(ref.ID)
			for _, d := range sites {
				var site records.Site
				if err := json.Unmarshal(d.Body, &site); err != nil {
					return nil, err
				}
				page.Around = append(page.Around, store.Branch{Named: store.Named{ID: d.ID, Name: site.Name}})
			}
			return page, err
		case "site":
			var w records.Wishes
			if said, err := tx.Load("wishes", ref.ID, &w); err != nil {
				return nil, err
			} else if said {
				page.Wishes = &w
			}
			page.Around, err = tx.Machines(ref.ID)
		case "asset":
			page.Around, err = tx.Below(ref.ID)
		}
		return page, err
	})
}

// PartOf is a record that another is part of.
type PartOf struct {
	ledger.Ref
	Name string `json:"name"`
}

// within finds what the record is part of.
func (p *RecordPage) within(tx *store.Tx) error {
	var self struct{ Customer, Site, Parent string }
	if err := json.Unmarshal(p.Body, &self); err != nil {
		return err
	}
	if p.Ref.Type == "asset" {
		var s records.Site
		if _, err := tx.Load("site", self.Site, &s); err != nil {
			return err
		}
		self.Customer = s.Customer
	}
	for _, ref := range []ledger.Ref{{Type: "customer", ID: self.Customer}, {Type: "site", ID: self.Site}, {Type: "asset", ID: self.Parent}} {
		if ref.ID == "" || p.Ref.Type != "site" && p.Ref.Type != "asset" {
			continue
		}
		name, err := tx.About(ref)
		if err != nil {
			return err
		}
		p.Within = append(p.Within, PartOf{ref, name})
	}
	return nil
}

// twins finds what the record turned out to be, and which turned out to be it.
func (p *RecordPage) twins(tx *store.Tx) error {
	var self struct{ Merged string }
	err := json.Unmarshal(p.Body, &self)
	if err == nil && self.Merged != "" {
		p.Merged = &PartOf{Ref: ledger.Ref{Type: p.Ref.Type, ID: self.Merged}}
		p.Merged.Name, err = tx.About(p.Merged.Ref)
	}
	if err == nil {
		p.Twins, err = tx.TurnedOut(p.Ref)
	}
	return err
}

// places names the sites where a machine is and was, and the customers whose a site is and was.
func (p *RecordPage) places(tx *store.Tx) error {
	of, moves := map[string]string{"asset": "site", "site": "customer"}[p.Ref.Type], struct {
		Moves []struct{ From, To string }
	}{}
	if err := json.Unmarshal(p.Body, &moves); err != nil || of == "" {
		return err
	}
	for _, m := range moves.Moves {
		for _, id := range []string{m.From, m.To} {
			if id == "" || p.Places[id] != "" {
				continue
			}
			name, err := tx.About(ledger.Ref{Type: of, ID: id})
			if err != nil {
				return err
			}
			p.Places[id] = name
		}
	}
	return nil
}

// recordedBy names the person and the device of an entry.
func recordedBy(tx *store.Tx, l store.Logged) (person, device string, err error) {
	if person, err = tx.NameOf(l.Actor); err != nil {
		return "", "", err
	}
	device = "office"
	d, ok, err := tx.Device(l.Replica)
	if ok {
		device = d.Agent
	}
	return person, device, err
}

// flagged lists what is flagged and not settled.
func (s *Server) flagged(c *gin.Context) ([]Flagged, error) {
	return read(s, c, func(tx *store.Tx) ([]Flagged, error) {
		open, err := tx.OpenFlags()
		if err != nil {
			return nil, err
		}
		out := []Flagged{}
		for _, n := range open {
			if n.Subject.Type == "timecard" && !who(c).Person.Has(records.Dispatcher, records.Reviewer) {
				continue // hours are not for everybody
			}
			f := Flagged{Notice: n}
			if f.Name, err = tx.NameOf(n.Person); err != nil {
				return nil, err
			}
			out = append(out, f)
		}
		return out, nil
	})
}

// Flagged is a notice with the name of the person whose entries raised it.
type Flagged struct {
	ledger.Notice
	Name string `json:"name"`
}
