package api

import (
	"context"
	"crypto/sha256"
	"encoding/hex"
	"encoding/json"
	"errors"
	"io"
	"net/http"
	"slices"
	"strconv"
	"strings"
	"time"

	"github.com/gin-gonic/gin"

	"iter.example/iter/core/labor"
	"iter.example/iter/core/ledger"
	"iter.example/iter/core/msg"
	"iter.example/iter/core/records"
	"iter.example/iter/core/report"
	"iter.example/iter/core/talk"
	"iter.example/iter/core/view"
	"iter.example/iter/core/work"
	"iter.example/iter/server/office"
	"iter.example/iter/server/reports"
	"iter.example/iter/server/standin"
	"iter.example/iter/server/store"
)

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
	// Exceptions are what to look at, the most pressing first.
	Exceptions []view.Exception `json:"exceptions"`
	// Asked tells that the office waits for an answer, and Answered that one has come.
	Asked    bool `json:"asked,omitempty"`
	Answered bool `json:"answered,omitempty"`
}

// finished lists the visits to review: those with exceptions first, by how pressing they are, then the latest.
func (s *Server) finished(c *gin.Context) ([]FinishedLine, error) {
	now, asked := s.now(c), s.lines.ask()
	return read(s, c, func(tx *store.Tx) ([]FinishedLine, error) {
		ids, err := tx.Finished(100)
		if err != nil {
			return nil, err
		}
		company, today, err := tx.Company(now)
		if err != nil {
			return nil, err
		}
		flags, err := tx.FlagCounts("visit", ids)
		if err != nil {
			return nil, err
		}
		out := []FinishedLine{}
		for _, id := range ids {
			line, err := s.lines.get(tx, asked, id+" "+today, func() (FinishedLine, bool, error) {
				return finishedLine(tx, id, company.Zone.In(now))
			})
			if err != nil {
				return nil, err
			}
			line.Exceptions = withFlags(line.Exceptions, flags[id])
			out = append(out, line)
		}
		slices.SortStableFunc(out, func(a, b FinishedLine) int { return pressing(a) - pressing(b) })
		return out, nil
	})
}

// finishedLine works out the line of a visit, but for what was flagged. It holds for the day while no clock runs on the visit.
func finishedLine(tx *store.Tx, id string, now time.Time) (FinishedLine, bool, error) {
	v, err := visitView(tx, id, now)
	if err != nil {
		return FinishedLine{}, false, err
	}
	line := FinishedLine{ID: id, Number: v.Order.Number, Site: v.Site.Name, Problem: v.Order.Problem,
		Technician: v.Names[v.Visit.Technician], Ended: v.Visit.Ended(), Outcome: v.Visit.Outcome,
		Work: v.Hours.Work, Travel: v.Hours.Travel, Asked: v.Visit.Asked() != nil}
	line.Answered = len(v.Visit.Questions) > 0 && !line.Asked
	line.Exceptions = v.Exceptions()
	stands := !slices.ContainsFunc(v.Crew, func(c view.CrewTime) bool {
		return slices.ContainsFunc(c.Spans, func(s labor.Span) bool { return s.Open })
	})
	return line, stands, nil
}

// pressing ranks a line by its most pressing exception; what waits for an answer comes last.
func pressing(l FinishedLine) int {
	rank := view.ExceptionKind("").Values()
	if l.Asked {
		return len(rank) + 1
	}
	if len(l.Exceptions) == 0 {
		return len(rank)
	}
	return slices.Index(rank, string(l.Exceptions[0].Kind))
}

// exceptions are what a finished visit is looked at for: what its view tells, and what was flagged.
func exceptions(tx *store.Tx, id string, v *view.Visit) ([]view.Exception, error) {
	flags, err := tx.FlagCounts("visit", []string{id})
	return withFlags(v.Exceptions(), flags[id]), err
}

// withFlags adds what was flagged, so many times by code, the most pressing first.
func withFlags(found []view.Exception, flags map[string]int) []view.Exception {
	out := slices.Clone(found)
	below, others := flags["stock.below_zero"], 0
	for _, n := range flags {
		others += n
	}
	for kind, n := range map[view.ExceptionKind]int{view.BelowZero: below, view.Flagged: others - below} {
		if n > 0 {
			out = append(out, view.Exception{Kind: kind, Text: strconv.Itoa(n)})
		}
	}
	rank := view.ExceptionKind("").Values()
	slices.SortStableFunc(out, func(a, b view.Exception) int {
		return slices.Index(rank, string(a.Kind)) - slices.Index(rank, string(b.Kind))
	})
	return out
}

// UnsignedLine is a finished visit that somebody has to sign for, and nobody did.
type UnsignedLine struct {
	ID         string    `json:"id"`
	Number     string    `json:"number"`
	Customer   string    `json:"customer"`
	Site       string    `json:"site"`
	Contact    string    `json:"contact"`
	Phone      string    `json:"phone"`
	Technician string    `json:"technician"`
	Ended      time.Time `json:"ended"`
}

func (s *Server) unsigned(c *gin.Context) ([]UnsignedLine, error) {
	return read(s, c, func(tx *store.Tx) ([]UnsignedLine, error) {
		ids, err := tx.Unsigned(200)
		if err != nil {
			return nil, err
		}
		out := []UnsignedLine{}
		for _, id := range ids {
			v, err := tx.VisitWork(id)
			if err != nil {
				return nil, err
			}
			line := UnsignedLine{ID: id, Number: v.Order.Number, Customer: v.Customer.Name, Site: v.Site.Name, Contact: v.Site.Contact.Name,
				Phone: v.Site.Contact.Phone, Ended: v.Visit.Ended()}
			if line.Technician, err = tx.NameOf(v.Visit.Technician); err != nil {
				return nil, err
			}
			out = append(out, line)
		}
		return out, nil
	})
}

// TalkLine is a conversation in a list.
type TalkLine struct {
	Order  OrderLine `json:"order"`
	Unread int       `json:"unread"`
	Last   talk.Said `json:"last"`
	By     string    `json:"by"` // name
}

func (s *Server) talks(c *gin.Context) ([]TalkLine, error) {
	return read(s, c, func(tx *store.Tx) ([]TalkLine, error) {
		ids, err := tx.Talks(100)
		if err != nil {
			return nil, err
		}
		out := []TalkLine{}
		for _, id := range ids {
			var t talk.Talk
			if _, err := tx.Load("talk", id, &t); err != nil {
				return nil, err
			}
			line := TalkLine{Unread: t.Unread(talk.Office), Last: t.Said[len(t.Said)-1]}
			if line.Order, err = orderLine(tx, id); err != nil {
				return nil, err
			}
			if line.By, err = tx.NameOf(line.Last.Person); err != nil {
				return nil, err
			}
			out = append(out, line)
		}
		return out, nil
	})
}

// TalkPage is a conversation, with the names of those who said something.
type TalkPage struct {
	Talk   talk.Talk         `json:"talk"`
	Names  map[string]string `json:"names"`
	Unread int               `json:"unread"`
}

func (s *Server) talk(c *gin.Context) (TalkPage, error) {
	id := c.Param("order")
	return read(s, c, func(tx *store.Tx) (TalkPage, error) {
		out := TalkPage{Talk: talk.Talk{Said: []talk.Said{}}, Names: map[string]string{}}
		if _, err := tx.Load("talk", id, &out.Talk); err != nil {
			return out, err
		}
		out.Unread = out.Talk.Unread(talk.Office)
		for _, said := range out.Talk.Said {
			name, err := tx.NameOf(said.Person)
			if err != nil {
				return out, err
			}
			out.Names[said.Person] = name
		}
		return out, nil
	})
}

// Reports

// report answers with a report as PDF, to whoever may see the visit: the office, and those it was or is for.
func (s *Server) report(c *gin.Context) {
	entry, ok := strings.CutSuffix(c.Param("file"), ".pdf")
	if !ok {
		s.problem(c, http.StatusNotFound, msg.New("report.unknown"))
		return
	}
	d := who(c)
	err := s.Store.Read(c.Request.Context(), func(tx *store.Tx) error {
		line, ok, err := tx.ReportBy("entry", entry)
		if err != nil {
			return err
		}
		var v work.Visit
		if _, err := tx.Load("visit", line.Visit, &v); err != nil {
			return err
		}
		if !ok {
			return msg.New("report.unknown")
		}
		if d.Person.Has(records.Dispatcher, records.Reviewer, records.Stores) || v.Had(d.PersonID) {
			return nil
		}
		// Whoever works at a site sees what was done there before.
		held, err := tx.HasHeld(d.PersonID, ledger.Ref{Type: "workorder", ID: v.Order})
		if err == nil && !held {
			var o work.Order
			if _, err = tx.Load("workorder", v.Order, &o); err == nil {
				held, err = tx.HasHeld(d.PersonID, ledger.Ref{Type: "site", ID: o.Site})
			}
		}
		if err == nil && !held {
			err = msg.New("report.unknown")
		}
		return err
	})
	var pdf []byte
	var name string
	if err == nil {
		pdf, name, err = s.printer.Paper(c.Request.Context(), entry)
	}
	if err != nil {
		s.fail(c, err)
		return
	}
	h := c.Writer.Header()
	h.Set("Content-Disposition", `inline; filename="`+name+`"`)
	h.Set("Content-Security-Policy", "sandbox; default-src 'none'; style-src 'unsafe-inline'; img-src 'self'")
	c.Data(http.StatusOK, "application/pdf", pdf)
}

// attachment gives the report or the work order that goes with a message; nothing while photos of it are on their way.
func (s *Server) attachment(m standin.Message) ([]byte, error) {
	if m.About.Type == "workorder" {
		return s.printOrder(context.Background(), m.About.ID, s.Now())
	}
	pdf, _, err := s.printer.Paper(context.Background(), m.Report)
	if code, ok := errors.AsType[*msg.Code](err); ok && code.Code == "report.photo_awaited" {
		return nil, nil
	}
	return pdf, err
}

// ReportMade is what the office made: the entry of the report.
type ReportMade struct {
	Entry string `json:"entry"`
}

// ReportWish is which report of a visit the office wants. ID is that of the entry it makes, so that asking again makes one.
type ReportWish struct {
	ID string `json:"id"`
	view.Wish
}

// makeReport makes a report of a visit at the office, as it stands now.
func (s *Server) makeReport(c *gin.Context, in ReportWish) (ReportMade, error) {
	wish := in.Wish
	if made, err := s.wasMade(c, in.ID); made || err != nil {
		if err != nil {
			return ReportMade{}, err
		}
		return ReportMade{in.ID}, nil
	}
	visit, d, now := c.Param("visit"), who(c), s.Now().Truncate(time.Millisecond)
	wish.By = d.Person.Name
	var made ledger.ReportMade
	err := s.Store.Read(c.Request.Context(), func(tx *store.Tx) error {
		rules, err := tx.Settings(now)
		if err != nil {
			return err
		}
		v, err := visitView(tx, visit, now)
		if err != nil {
			return err
		}
		wish.Here = map[string]bool{}
		if l := rules.Reports.Logo; l != nil {
			if _, wish.Here[l.Hash], err = tx.File(l.Hash); err != nil {
				return err
			}
		}
		for _, f := range v.Visit.Files {
			for _, hash := range f.Pictures() {
				if _, wish.Here[hash], err = tx.File(hash); err != nil {
					return err
				}
			}
		}
		r, err := store.Wanting(tx, ledger.Docs{}, func(docs ledger.Docs) (*report.Report, []ledger.Ref, error) {
			return view.ReportOf(visit, docs, rules.Company.Zone.In(now), wish)
		})
		if err != nil {
			return err
		}
		made.Report = *r
		made.Digest, err = r.Digest()
		return err
	})
	if err != nil {
		return ReportMade{}, err
	}
	pdf, err := s.printer.Print(made.Report)
	if err != nil {
		return ReportMade{}, err
	}
	sum := sha256.Sum256(pdf)
	made.PDF, made.Size = hex.EncodeToString(sum[:]), int64(len(pdf))
	raw, err := json.Marshal(made)
	if err != nil {
		return ReportMade{}, err
	}
	batch := office.Batch{Entries: []office.Command{{ID: in.ID, Kind: "report.made", Subject: ledger.Ref{Type: "visit", ID: visit},
		Body: raw}}}
	if _, err := office.Record(c.Request.Context(), s.Store, d, batch, s.Now()); err != nil {
		return ReportMade{}, err
	}
	return ReportMade{in.ID}, nil
}

// wasMade tells whether the answer to whoever asks for a report got lost: it was made under this id before.
func (s *Server) wasMade(c *gin.Context, id string) (made bool, err error) {
	err = s.Store.Read(c.Request.Context(), func(tx *store.Tx) error {
		l, found, err := tx.Find(id)
		made = found && l.Kind == "report.made" && l.Actor == who(c).PersonID && l.Subject.ID == c.Param("visit")
		return err
	})
	return made, err
}

// EndRules are the company's rules of how visits end, with what is usual where it has said nothing.
type EndRules struct {
	Settings ledger.Settings          `json:"settings"` // that hold today
	Outcomes []work.OutcomeRule       `json:"outcomes"` // that are used
	Duties   map[work.Check]work.Duty `json:"duties"`   // for all kinds of work
}

func (s *Server) endRules(c *gin.Context) (EndRules, error) {
	return read(s, c, func(tx *store.Tx) (EndRules, error) {
		all, err := tx.Settings(s.Now())
		out := EndRules{Settings: all, Outcomes: all.Visits.EndsWith(), Duties: map[work.Check]work.Duty{}}
		for _, check := range work.Check("").Values() {
			duty, made := all.Visits.Duty(work.Check(check), "")
			if !made {
				duty = work.Off
			}
			out.Duties[work.Check(check)] = duty
		}
		return out, err
	})
}

// The check page: anyone who has a report may ask, signed in or not.

func (s *Server) checkCode(c *gin.Context) (reports.Checked, error) {
	return read(s, c, func(tx *store.Tx) (reports.Checked, error) { return reports.ByCode(tx, c.Param("code")) })
}

// maxPaper is the largest PDF looked at: reports are smaller.
const maxPaper = 12 << 20

func (s *Server) checkPaper(c *gin.Context) (reports.Checked, error) {
	pdf, err := io.ReadAll(http.MaxBytesReader(c.Writer, c.Request.Body, maxPaper))
	if err != nil {
		return reports.Checked{}, refusal{status: http.StatusRequestEntityTooLarge, why: msg.New("http.large")}
	}
	return read(s, c, func(tx *store.Tx) (reports.Checked, error) { return reports.ByPaper(tx, pdf) })
}
