package api

import (
	"context"
	"encoding/json"
	"net/http"
	"strconv"
	"time"

	"github.com/gin-gonic/gin"

	"iter.example/iter/core/ledger"
	"iter.example/iter/core/msg"
	"iter.example/iter/core/records"
	"iter.example/iter/core/sheet"
	"iter.example/iter/core/work"
	"iter.example/iter/server/store"
	"iter.example/iter/server/syncing"
)

// HeldLine is an entry that waits for a decision.
type HeldLine struct {
	store.HeldEntry
	Name  string `json:"name"`  // of the person who sent it
	About string `json:"about"` // what it is about, in words
}

func (s *Server) held(c *gin.Context) {
	read(s, c, func(tx *store.Tx) ([]HeldLine, error) {
		all, err := tx.Held()
		if err != nil {
			return nil, err
		}
		out := []HeldLine{}
		for _, h := range all {
			l := HeldLine{HeldEntry: h}
			if l.Name, err = nameOf(tx, h.Person); err != nil {
				return nil, err
			}
			if l.About, err = tx.About(h.Entry.Subject); err != nil {
				return nil, err
			}
			out = append(out, l)
		}
		return out, nil
	})
}

// nameOf gives a person's name, or the id of somebody who is not known.
func nameOf(tx *store.Tx, person string) (string, error) {
	var p records.Person
	if ok, err := tx.Load("person", person, &p); err != nil || !ok {
		return person, err
	}
	return p.Name, nil
}

// Decision is what a person decides on a held entry: take or set_aside.
type Decision struct {
	Do string `json:"do"`
}

func (s *Server) decide(c *gin.Context) {
	var in Decision
	id, err := strconv.ParseInt(c.Param("id"), 10, 64)
	if err != nil || body(c, &in) != nil || (in.Do != "take" && in.Do != "set_aside") {
		s.problem(c, http.StatusBadRequest, msg.New("http.body"))
		return
	}
	now := s.Now()
	err = s.Store.Write(c.Request.Context(), func(tx *store.Tx) error {
		h, ok, err := tx.HeldByID(id)
		if err != nil {
			return err
		}
		if !ok || h.State != "held" {
			return msg.New("held.decided")
		}
		state := "set_aside"
		if in.Do == "take" {
			f, err := ledger.Open(h.Entry)
			if err != nil {
				return err
			}
			if _, found, err := tx.Find(h.Entry.ID); err != nil {
				return err
			} else if found {
				return msg.New("entry.id_reused")
			}
			if _, err := tx.Append(f, now, msg.New("entry.taken_by_hand", "by", who(c).Person.Name)); err != nil {
				return err
			}
			state = "taken"
		}
		return tx.Decide(id, state, who(c).PersonID, now)
	})
	if err != nil {
		s.fail(c, err)
		return
	}
	c.Status(http.StatusNoContent)
}

// Command is an entry from the office. The id is made by the page, so that sending it twice does it once.
type Command struct {
	ID      string          `json:"id"`
	Kind    string          `json:"kind"`
	Subject ledger.Ref      `json:"subject"`
	Body    json.RawMessage `json:"body"`
	Base    json.RawMessage `json:"base,omitempty"`
}

// Done is the answer to a command.
type Done struct {
	Seq int64 `json:"seq"`
}

const officeReplica = "office"

func (s *Server) command(c *gin.Context) {
	var in Command
	if err := body(c, &in); err != nil {
		s.badBody(c, err)
		return
	}
	out, err := s.commanded(c.Request.Context(), who(c), in)
	if err != nil {
		s.refused(c, err)
		return
	}
	c.JSON(http.StatusOK, out)
}

// commanded records a command of somebody at the office, once.
func (s *Server) commanded(ctx context.Context, d syncing.Device, in Command) (out Done, err error) {
	now := s.Now()
	err = s.Store.Write(ctx, func(tx *store.Tx) error {
		if have, found, err := tx.Find(in.ID); err != nil {
			return err
		} else if found {
			out.Seq = have.Seq
			return nil
		}
		policy, err := tx.Policy()
		if err != nil {
			return err
		}
		if in.Kind == "work.opened" {
			if in.Body, err = completed(tx, policy, in.Body); err != nil {
				return err
			}
		}
		if in.Kind == "purchase.made" {
			if in.Body, err = numbered(tx, in.Body); err != nil {
				return err
			}
		}
		if in.Body, err = programmed(in.Subject.Type, in.Body); err != nil {
			return err
		}
		n, err := tx.Seq()
		if err != nil {
			return err
		}
		f, err := ledger.Open(ledger.Entry{ID: in.ID, Kind: in.Kind, V: ledger.Version(in.Kind), At: policy.Zone.In(now.Truncate(time.Millisecond)), Actor: d.PersonID, Replica: officeReplica, N: n + 1, Subject: in.Subject, Body: in.Body, Base: in.Base})
		if err != nil {
			return err
		}
		if !f.Office() || !d.Person.Has(f.Roles()...) {
			return errRole
		}
		out.Seq, err = tx.Append(f, now)
		return err
	})
	return out, err
}

// refused answers for a command that was not taken.
func (s *Server) refused(c *gin.Context, err error) {
	if isRole(err) {
		s.problem(c, http.StatusForbidden, errRole)
		return
	}
	s.fail(c, err)
}

var errRole = msg.New("role.missing", "role", "dispatcher")

func isRole(err error) bool { return msg.From(err) == errRole }

// completed gives a new work order the next number, and the company's check sheets when it names none.
func completed(tx *store.Tx, policy records.Policy, raw json.RawMessage) (json.RawMessage, error) {
	var o work.Order
	if err := json.Unmarshal(raw, &o); err != nil {
		return nil, msg.New("entry.body", "kind", "work.opened")
	}
	var err error
	if o.Number, err = tx.NextNumber(); err != nil {
		return nil, err
	}
	if o.Sheets == nil {
		if o.Sheets, err = attached(tx, policy, o); err != nil {
			return nil, err
		}
	}
	return json.Marshal(o)
}

// numbered gives a new order to a supplier the next number.
func numbered(tx *store.Tx, raw json.RawMessage) (json.RawMessage, error) {
	var p ledger.PurchaseMade
	if err := json.Unmarshal(raw, &p); err != nil {
		return nil, msg.New("entry.body", "kind", "purchase.made")
	}
	n, err := tx.CountPurchases()
	if err != nil {
		return nil, err
	}
	p.Number = ledger.NextPurchase(n)
	return json.Marshal(p)
}

// attached lists the check sheets that the policy's rules attach to a work order; without rules, those for all work.
func attached(tx *store.Tx, policy records.Policy, o work.Order) ([]string, error) {
	if len(policy.SheetRules) == 0 {
		return policy.Sheets, nil
	}
	refs, err := tx.IDs("sheet")
	if err != nil {
		return nil, err
	}
	var a records.Asset
	if _, err := tx.Load("asset", o.Asset, &a); err != nil {
		return nil, err
	}
	return sheet.For(policy.SheetRules, sheet.Work{Kind: o.Kind, Asset: a.Kind, Site: o.Site}, refs), nil
}
