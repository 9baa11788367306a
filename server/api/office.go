package api

import (
	"encoding/json"
	"net/http"
	"slices"
	"strconv"
	"strings"
	"time"

	"github.com/gin-gonic/gin"

	"iter.example/iter/core/ledger"
	"iter.example/iter/core/msg"
	"iter.example/iter/core/records"
	"iter.example/iter/core/view"
	"iter.example/iter/core/work"
	"iter.example/iter/server/store"
)

// Board is the day as the office watches it.
type Board struct {
	Date     string        `json:"date"`
	Now      time.Time     `json:"now"`
	People   []BoardPerson `json:"people"`
	Unplaced []OrderLine   `json:"unplaced"` // to place, most pressing first
	Held     int           `json:"held"`     // entries that wait for a decision
}

// BoardPerson is a technician's day.
type BoardPerson struct {
	ID     string       `json:"id"`
	Name   string       `json:"name"`
	Short  string       `json:"short"`
	Visits []BoardVisit `json:"visits"`
}

// BoardVisit is a visit on the board: planned against actual.
type BoardVisit struct {
	ID      string       `json:"id"`
	Number  string       `json:"number"`
	Site    string       `json:"site"`
	Problem string       `json:"problem"`
	Stage   work.Stage   `json:"stage"`
	Since   time.Time    `json:"since"`
	Start   time.Time    `json:"start"`
	Minutes int          `json:"minutes"`
	SetOff  time.Time    `json:"setOff,omitzero"`
	Arrived time.Time    `json:"arrived,omitzero"`
	Ended   time.Time    `json:"ended,omitzero"`
	Outcome work.Outcome `json:"outcome,omitempty"`
	Promise time.Time    `json:"promise,omitzero"` // by when
	Flags   int          `json:"flags"`
}

// OrderLine is a work order in a list.
type OrderLine struct {
	ID       string        `json:"id"`
	Number   string        `json:"number"`
	Customer string        `json:"customer"`
	Site     string        `json:"site"`
	Problem  string        `json:"problem"`
	Priority work.Priority `json:"priority"`
	Promise  time.Time     `json:"promise,omitzero"`
	Minutes  int           `json:"minutes"`
	Opened   time.Time     `json:"opened"`
}

func (s *Server) board(c *gin.Context) {
	date := c.Query("date")
	if date != "" {
		if _, err := time.Parse(time.DateOnly, date); err != nil {
			s.problem(c, http.StatusBadRequest, msg.New("http.date"))
			return
		}
	}
	read(s, c, func(tx *store.Tx) (Board, error) { return board(tx, date, s.Now()) })
}

func board(tx *store.Tx, date string, now time.Time) (Board, error) {
	policy, err := tx.Policy()
	if err != nil {
		return Board{}, err
	}
	b := Board{Date: date, Now: policy.Zone.In(now), People: []BoardPerson{}, Unplaced: []OrderLine{}}
	if date == "" {
		b.Date = b.Now.Format(time.DateOnly)
	}
	people, err := tx.Of("person")
	if err != nil {
		return b, err
	}
	for _, d := range people {
		var p records.Person
		if err := json.Unmarshal(d.Body, &p); err != nil {
			return b, err
		}
		if p.Has(records.Technician) {
			b.People = append(b.People, BoardPerson{ID: d.ID, Name: p.Name, Short: p.Short, Visits: []BoardVisit{}})
		}
	}
	slices.SortFunc(b.People, func(x, y BoardPerson) int { return strings.Compare(x.Name, y.Name) })
	ids, err := tx.VisitsOn(b.Date)
	if err != nil {
		return b, err
	}
	for _, id := range ids {
		var v work.Visit
		if _, err := tx.Load("visit", id, &v); err != nil {
			return b, err
		}
		o, err := orderLine(tx, v.Order)
		if err != nil {
			return b, err
		}
		flags, err := tx.Flags(ledger.Ref{Type: "visit", ID: id})
		if err != nil {
			return b, err
		}
		i := slices.IndexFunc(b.People, func(p BoardPerson) bool { return p.ID == v.Technician })
		if i < 0 {
			continue
		}
		line := BoardVisit{ID: id, Number: o.Number, Site: o.Site, Problem: o.Problem, Promise: o.Promise, Stage: v.Stage, Since: v.Since, Start: v.Start, Minutes: v.Minutes,
			SetOff: v.Taken(work.SetOff), Arrived: v.Taken(work.Arrive), Outcome: v.Outcome, Flags: len(flags)}
		if v.Stage == work.Finished {
			line.Ended = v.Ended()
		}
		b.People[i].Visits = append(b.People[i].Visits, line)
	}
	unplaced, err := tx.Unplaced(200)
	if err != nil {
		return b, err
	}
	for _, id := range unplaced {
		o, err := orderLine(tx, id)
		if err != nil {
			return b, err
		}
		b.Unplaced = append(b.Unplaced, o)
	}
	held, err := tx.Held()
	b.Held = len(held)
	return b, err
}

func orderLine(tx *store.Tx, id string) (OrderLine, error) {
	var o work.Order
	var cust records.Customer
	var site records.Site
	if _, err := tx.Load("workorder", id, &o); err != nil {
		return OrderLine{}, err
	}
	if _, err := tx.Load("customer", o.Customer, &cust); err != nil {
		return OrderLine{}, err
	}
	_, err := tx.Load("site", o.Site, &site)
	return OrderLine{ID: id, Number: o.Number, Customer: cust.Name, Site: site.Name, Problem: o.Problem, Priority: o.Priority, Promise: o.PromiseTo, Minutes: o.Minutes, Opened: o.OpenedAt}, err
}

// CustomerHit is a customer that was searched for, with the sites.
type CustomerHit struct {
	ID       string           `json:"id"`
	Customer records.Customer `json:"customer"`
	Sites    []SiteHit        `json:"sites"`
}

// SiteHit is a site with its assets.
type SiteHit struct {
	ID     string        `json:"id"`
	Site   records.Site  `json:"site"`
	Assets []store.Named `json:"assets"`
}

const hits = 12

func (s *Server) customers(c *gin.Context) {
	text := c.Query("q")
	read(s, c, func(tx *store.Tx) ([]CustomerHit, error) { return customers(tx, text) })
}

// customers finds customers by their own name, phone or address, or by those of their sites.
func customers(tx *store.Tx, text string) ([]CustomerHit, error) {
	out := []CustomerHit{}
	found, err := tx.Search("customer", text, hits)
	if err != nil {
		return nil, err
	}
	ids := []string{}
	for _, d := range found {
		ids = append(ids, d.ID)
	}
	sites, err := tx.Search("site", text, hits)
	if err != nil {
		return nil, err
	}
	for _, d := range sites {
		var site records.Site
		if err := json.Unmarshal(d.Body, &site); err != nil {
			return nil, err
		}
		if !slices.Contains(ids, site.Customer) && len(ids) < hits {
			ids = append(ids, site.Customer)
		}
	}
	for _, id := range ids {
		hit := CustomerHit{ID: id, Sites: []SiteHit{}}
		if _, err := tx.Load("customer", id, &hit.Customer); err != nil {
			return nil, err
		}
		if hit.Sites, err = sitesOf(tx, id); err != nil {
			return nil, err
		}
		out = append(out, hit)
	}
	return out, nil
}

func sitesOf(tx *store.Tx, customer string) ([]SiteHit, error) {
	out := []SiteHit{}
	docs, err := tx.SitesOf(customer)
	if err != nil {
		return nil, err
	}
	for _, d := range docs {
		hit := SiteHit{ID: d.ID}
		if err := json.Unmarshal(d.Body, &hit.Site); err != nil {
			return nil, err
		}
		if hit.Assets, err = tx.AssetsAt(d.ID); err != nil {
			return nil, err
		}
		out = append(out, hit)
	}
	return out, nil
}

// FinishedLine is a finished visit in the list to review.
type FinishedLine struct {
	ID         string       `json:"id"`
	Number     string       `json:"number"`
	Site       string       `json:"site"`
	Problem    string       `json:"problem"`
	Technician string       `json:"technician"`
	Ended      time.Time    `json:"ended"`
	Outcome    work.Outcome `json:"outcome"`
	Work       int64        `json:"work"`   // seconds
	Travel     int64        `json:"travel"` // seconds
	Signed     bool         `json:"signed"`
	Changed    bool         `json:"changed"` // since signed
	Missing    int          `json:"missing"`
	Flags      int          `json:"flags"`
}

func (s *Server) finished(c *gin.Context) {
	read(s, c, func(tx *store.Tx) ([]FinishedLine, error) {
		ids, err := tx.Finished(100)
		if err != nil {
			return nil, err
		}
		out := []FinishedLine{}
		for _, id := range ids {
			v, err := visitView(tx, id, s.Now())
			if err != nil {
				return nil, err
			}
			flags, err := tx.Flags(ledger.Ref{Type: "visit", ID: id})
			if err != nil {
				return nil, err
			}
			out = append(out, FinishedLine{ID: id, Number: v.Order.Number, Site: v.Site.Name, Problem: v.Order.Problem, Technician: v.Names[v.Visit.Technician], Ended: v.Visit.Ended(), Outcome: v.Visit.Outcome,
				Work: v.Hours.Work, Travel: v.Hours.Travel, Signed: v.Visit.Signed(), Changed: v.Changed, Missing: len(v.Missing), Flags: len(flags)})
		}
		return out, nil
	})
}

// visitView builds the view of a visit, loading what it wants until it wants no more.
func visitView(tx *store.Tx, id string, now time.Time) (*view.Visit, error) {
	policy, err := tx.Policy()
	if err != nil {
		return nil, err
	}
	docs := ledger.Docs{}
	for {
		v, wanted, err := view.Of(id, docs, policy.Zone.In(now))
		if err != nil || len(wanted) == 0 {
			return v, err
		}
		more, err := tx.Docs(wanted)
		if err != nil {
			return nil, err
		}
		for ref, b := range more {
			docs[ref] = b
		}
	}
}

// VisitPage is a visit with all that is known of how it came about.
type VisitPage struct {
	View  view.Visit    `json:"view"`
	Trail []TrailLine   `json:"trail"`
	Flags []ledger.Flag `json:"flags"`
}

// TrailLine is an entry in the trail: who, when, where, from which device, recorded when and arrived when.
type TrailLine struct {
	ID       string            `json:"id"`
	Kind     string            `json:"kind"`
	Actor    string            `json:"actor"` // name
	Device   string            `json:"device"`
	At       time.Time         `json:"at"`
	Received time.Time         `json:"received"`
	Where    *work.Where       `json:"where,omitempty"`
	Args     map[string]string `json:"args"` // what the sentence for the kind names
	Struck   bool              `json:"struck,omitempty"`
}

func (s *Server) visit(c *gin.Context) {
	id := c.Param("id")
	read(s, c, func(tx *store.Tx) (*VisitPage, error) {
		v, err := visitView(tx, id, s.Now())
		if err != nil {
			return nil, err
		}
		ref := ledger.Ref{Type: "visit", ID: id}
		log, err := tx.Trail(ref)
		if err != nil {
			return nil, err
		}
		flags, err := tx.Flags(ref)
		if err != nil {
			return nil, err
		}
		trail, err := trail(tx, log, v)
		return &VisitPage{View: *v, Trail: trail, Flags: flags}, err
	})
}

// trail puts entries into plain facts, with names for ids.
func trail(tx *store.Tx, log []store.Logged, v *view.Visit) ([]TrailLine, error) {
	out := []TrailLine{}
	for _, l := range log {
		line := TrailLine{ID: l.ID, Kind: l.Kind, At: l.At, Received: l.Received, Actor: l.Actor, Device: "office", Args: map[string]string{}}
		var p records.Person
		if ok, err := tx.Load("person", l.Actor, &p); err != nil {
			return nil, err
		} else if ok {
			line.Actor = p.Name
		}
		if d, ok, err := tx.Device(l.Replica); err != nil {
			return nil, err
		} else if ok {
			line.Device = d.Agent
		}
		var b struct {
			Where                                                                                       *work.Where
			Text, Reason, Outcome, Part, Quantity, Point, Value, Unit, Question, Name, Role, Technician string
			Sheet, Entry                                                                                string
			Start                                                                                       time.Time
		}
		_ = json.Unmarshal(l.Body, &b) // a body of another shape leaves the fields empty
		line.Where = b.Where
		for name, value := range map[string]string{"text": b.Text, "reason": b.Reason, "outcome": b.Outcome, "part": b.Part, "quantity": b.Quantity, "point": b.Point, "value": b.Value, "unit": b.Unit, "question": b.Question, "name": b.Name, "role": b.Role, "technician": b.Technician} {
			if value != "" {
				line.Args[name] = value
			}
		}
		if !b.Start.IsZero() {
			line.Args["start"] = b.Start.Format(time.RFC3339)
		}
		if b.Technician != "" {
			var t records.Person
			if ok, err := tx.Load("person", b.Technician, &t); err != nil {
				return nil, err
			} else if ok {
				line.Args["technician"] = t.Name
			}
		}
		name(v, l.ID, b.Sheet, b.Question, line.Args)
		if l.Kind == "entry.struck" {
			for i := range out {
				if out[i].ID == b.Entry {
					out[i].Struck = true
					line.Args["kind"] = out[i].Kind
				}
			}
		}
		out = append(out, line)
	}
	return out, nil
}

// name replaces ids in a trail line by what the view calls them.
func name(v *view.Visit, entry, sheetRef, question string, args map[string]string) {
	for _, p := range v.Parts {
		if p.Entry == entry {
			args["part"], args["unit"] = p.Name, p.Unit
		}
	}
	for _, r := range v.Readings {
		if r.Entry == entry {
			args["point"] = r.PointName
		}
	}
	for _, s := range v.Sheets {
		if s.Ref() != sheetRef {
			continue
		}
		if q, ok := s.Find(question); ok {
			args["question"] = q.Text
			for _, o := range q.Options {
				if o.ID == args["value"] {
					args["value"] = o.Text
				}
			}
		}
	}
}

func (s *Server) held(c *gin.Context) {
	read(s, c, func(tx *store.Tx) ([]store.HeldEntry, error) { return tx.Held() })
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
	now := s.Now()
	d := who(c)
	var out Done
	err := s.Store.Write(c.Request.Context(), func(tx *store.Tx) error {
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
		n, err := tx.Seq()
		if err != nil {
			return err
		}
		f, err := ledger.Open(ledger.Entry{ID: in.ID, Kind: in.Kind, V: 1, At: policy.Zone.In(now.Truncate(time.Millisecond)), Actor: d.PersonID, Replica: officeReplica, N: n + 1, Subject: in.Subject, Body: in.Body, Base: in.Base})
		if err != nil {
			return err
		}
		if f.Field() || !d.Person.Has(f.Roles()...) {
			return errRole
		}
		out.Seq, err = tx.Append(f, now)
		return err
	})
	switch {
	case err == nil:
		c.JSON(http.StatusOK, out)
	case isRole(err):
		s.problem(c, http.StatusForbidden, errRole)
	default:
		s.fail(c, err)
	}
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
		o.Sheets = policy.Sheets
	}
	return json.Marshal(o)
}
