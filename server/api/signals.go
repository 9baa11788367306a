package api

import (
	"bytes"
	"crypto/rand"
	"encoding/json"
	"errors"
	"net/http"
	"slices"
	"strconv"
	"strings"
	"time"

	"github.com/gin-gonic/gin"
	"github.com/oklog/ulid/v2"

	"iter.example/iter/core/ledger"
	"iter.example/iter/core/msg"
	"iter.example/iter/core/reading"
	"iter.example/iter/core/records"
	"iter.example/iter/core/signal"
	"iter.example/iter/core/work"
	"iter.example/iter/server/signals"
	"iter.example/iter/server/store"
)

// takeSignals takes what machines report, from whoever has a source's key.
func (s *Server) takeSignals(c *gin.Context) {
	ctx := c.Request.Context()
	key, _ := strings.CutPrefix(c.GetHeader("Authorization"), "Bearer ")
	src, ok, err := s.taker.Source(ctx, key)
	if err != nil {
		s.fail(c, err)
		return
	}
	if !ok {
		s.problem(c, http.StatusUnauthorized, msg.New("signal.key"))
		return
	}
	var list sentSignals
	if err := body(c, &list); err != nil {
		s.fail(c, err)
		return
	}
	if len(list) > signals.MostAtOnce {
		s.problem(c, http.StatusRequestEntityTooLarge, msg.New("signal.many", "max", strconv.Itoa(signals.MostAtOnce)))
		return
	}
	now := s.Now()
	if hold := s.taker.Limit(src.ID).ReserveN(now, max(len(list), 1)); hold.DelayFrom(now) > 0 {
		wait := hold.DelayFrom(now)
		hold.CancelAt(now)
		c.Header("Retry-After", strconv.Itoa(int(wait/time.Second)+1))
		s.problem(c, http.StatusTooManyRequests, msg.New("signal.flood"))
		return
	}
	answer, err := s.taker.Take(ctx, src, list)
	if err != nil {
		s.fail(c, err)
		return
	}
	c.JSON(http.StatusOK, answer)
}

// sentSignals are signals as they are sent: one, or a list.
type sentSignals []signals.Signal

// UnmarshalJSON reads one signal as a list of it.
func (l *sentSignals) UnmarshalJSON(raw []byte) error {
	if bytes.HasPrefix(bytes.TrimSpace(raw), []byte("[")) {
		return json.Unmarshal(raw, (*[]signals.Signal)(l))
	}
	var one signals.Signal
	if err := json.Unmarshal(raw, &one); err != nil {
		return err
	}
	if one.Machine == "" {
		return errors.New("no machine")
	}
	*l = sentSignals{one}
	return nil
}

// Signals are who sends signals, what they are judged by, and whose came in.
type Signals struct {
	Sources []SignalSource `json:"sources"`
	Kinds   []SignalKind   `json:"kinds"`
	Heard   []SignalHeard  `json:"heard"` // the machine that was heard of longest ago first
	More    int            `json:"more,omitempty"`
}

// SignalSource is who may send signals.
type SignalSource struct {
	ID    string        `json:"id"`
	Name  string        `json:"name"`
	Sites []store.Named `json:"sites"`
	Made  time.Time     `json:"made"`
	By    string        `json:"by"` // name
	Ended time.Time     `json:"ended,omitzero"`
}

// SignalKind is a kind of machine with its rules.
type SignalKind struct {
	ID     string          `json:"id"`
	Name   string          `json:"name"`
	Points []reading.Point `json:"points"`
	Rules  []signal.Rule   `json:"rules"`
	Known  bool            `json:"known"` // there is a record of rules
}

// SignalHeard is a machine that reported something.
type SignalHeard struct {
	ID   string    `json:"id"`
	Name string    `json:"name"`
	Site string    `json:"site"` // name
	At   time.Time `json:"at"`
	Open int       `json:"open,omitempty"` // what is wrong with it
}

// mostHeard is how many machines are listed.
const mostHeard = 300

// signalsPage tells of sources, rules and machines.
func (s *Server) signalsPage(c *gin.Context) (*Signals, error) {
	heard, err := s.taker.HeardOf(c.Request.Context())
	if err != nil {
		return nil, err
	}
	return read(s, c, func(tx *store.Tx) (*Signals, error) {
		out := &Signals{Sources: []SignalSource{}, Kinds: []SignalKind{}, Heard: []SignalHeard{}}
		return out, errors.Join(out.sources(tx), out.kinds(tx), out.machines(tx, heard))
	})
}

func (out *Signals) sources(tx *store.Tx) error {
	all, err := tx.SignalSources()
	if err != nil {
		return err
	}
	for _, x := range all {
		l := SignalSource{ID: x.ID, Name: x.Name, Sites: []store.Named{}, Made: x.Made, Ended: x.Ended}
		if l.By, err = shortOf(tx, x.By); err != nil {
			return err
		}
		for _, id := range x.Sites {
			site := records.Site{Name: id}
			if _, err := tx.Load("site", id, &site); err != nil {
				return err
			}
			l.Sites = append(l.Sites, store.Named{ID: id, Name: site.Name})
		}
		out.Sources = append(out.Sources, l)
	}
	return nil
}

func (out *Signals) kinds(tx *store.Tx) error {
	docs, err := tx.Of("assetkind")
	if err != nil {
		return err
	}
	for _, d := range docs {
		var kind records.AssetKind
		var rules signal.Rules
		if err := json.Unmarshal(d.Body, &kind); err != nil {
			return err
		}
		known, err := tx.Load("signalrules", d.ID, &rules)
		if err != nil {
			return err
		}
		out.Kinds = append(out.Kinds, SignalKind{ID: d.ID, Name: kind.Name, Points: append([]reading.Point{}, kind.Points...),
			Rules: append([]signal.Rule{}, rules.Rules...), Known: known})
	}
	slices.SortStableFunc(out.Kinds, func(a, b SignalKind) int { return strings.Compare(a.Name, b.Name) })
	return nil
}

func (out *Signals) machines(tx *store.Tx, heard map[string]time.Time) error {
	open := map[string]int{}
	incidents, err := tx.OpenIncidents()
	if err != nil {
		return err
	}
	for _, i := range incidents {
		open[i.Asset]++
	}
	for id, at := range heard {
		out.Heard = append(out.Heard, SignalHeard{ID: id, At: at, Open: open[id]})
	}
	slices.SortFunc(out.Heard, func(a, b SignalHeard) int {
		if c := b.Open - a.Open; c != 0 {
			return c
		}
		if c := a.At.Compare(b.At); c != 0 {
			return c
		}
		return strings.Compare(a.ID, b.ID)
	})
	out.More = max(len(out.Heard)-mostHeard, 0)
	out.Heard = out.Heard[:min(len(out.Heard), mostHeard)]
	for i := range out.Heard {
		h := &out.Heard[i]
		var a records.Asset
		var site records.Site
		if _, err := tx.Load("asset", h.ID, &a); err != nil {
			return err
		}
		if _, err := tx.Load("site", a.Site, &site); err != nil {
			return err
		}
		h.Name, h.Site = a.Name, site.Name
	}
	return nil
}

// SourceMade is a new source with its key, which is told once.
type SourceMade struct {
	ID  string `json:"id"`
	Key string `json:"key"`
}

// SourceAsked is a source that is to be made.
type SourceAsked struct {
	Name  string   `json:"name"`
	Sites []string `json:"sites"` // whose machines it may report of
}

// mostSites is of how many sites a source reports at most.
const mostSites = 500

// makeSource makes a source of signals.
func (s *Server) makeSource(c *gin.Context, q SourceAsked) (SourceMade, error) {
	if err := records.CheckText("name", q.Name, true, 100); err != nil {
		return SourceMade{}, err
	}
	if len(q.Sites) == 0 || len(q.Sites) > mostSites {
		return SourceMade{}, msg.New("signal.sites", "max", strconv.Itoa(mostSites))
	}
	out := SourceMade{ID: ulid.Make().String(), Key: rand.Text()}
	return out, s.Store.Write(c.Request.Context(), func(tx *store.Tx) error {
		for _, id := range q.Sites {
			var site records.Site
			if ok, err := tx.Load("site", id, &site); err != nil {
				return err
			} else if !ok {
				return msg.New("record.unknown", "type", "site", "id", records.Clip(id))
			}
		}
		return tx.PutSignalSource(store.SignalSource{ID: out.ID, Name: strings.TrimSpace(q.Name), Sites: q.Sites, Made: s.now(c),
			By: who(c).PersonID}, out.Key)
	})
}

// endSource has a source send no more.
func (s *Server) endSource(c *gin.Context) (Done, error) {
	return Done{}, s.Store.Write(c.Request.Context(), func(tx *store.Tx) error {
		ok, err := tx.EndSignalSource(c.Param("id"), s.now(c))
		if err == nil && !ok {
			err = refusal{status: http.StatusNotFound, why: msg.New("http.not_found")}
		}
		return err
	})
}

// MachineSignals is what a machine reports by itself, and what was wrong with it by that.
type MachineSignals struct {
	Latest    []PointReported `json:"latest"` // by point, in their order
	Incidents []IncidentLine  `json:"incidents"`
	More      bool            `json:"more,omitempty"` // there were earlier ones
}

// PointReported is the last value of a point.
type PointReported struct {
	Point string `json:"point"`
	Name  string `json:"name"`
	Unit  string `json:"unit,omitempty"`
	signal.Value
	Level reading.Level `json:"level"`
}

// IncidentLine is something that was wrong with a machine.
type IncidentLine struct {
	ID string `json:"id"`
	ledger.Incident
	Number string     `json:"number,omitempty"` // of its work order
	State  work.State `json:"state,omitempty"`
	By     string     `json:"by,omitempty"` // name of who handled it
}

// mostIncidents is how many of a machine are told.
const mostIncidents = 20

// machineSignals tells what a machine reports.
func (s *Server) machineSignals(c *gin.Context) (*MachineSignals, error) {
	latest, err := s.taker.Latest(c.Request.Context(), c.Param("asset"))
	if err != nil {
		return nil, err
	}
	return read(s, c, func(tx *store.Tx) (*MachineSignals, error) {
		out := &MachineSignals{Latest: []PointReported{}, Incidents: []IncidentLine{}}
		var a records.Asset
		var kind records.AssetKind
		if _, err := tx.Load("asset", c.Param("asset"), &a); err != nil {
			return nil, err
		}
		if _, err := tx.Load("assetkind", a.Kind, &kind); err != nil {
			return nil, err
		}
		for _, p := range kind.PointsOf(a) {
			if v, is := latest[p.ID]; is {
				out.Latest = append(out.Latest, PointReported{p.ID, p.Name, p.Unit, v, p.Judge(v.Value)})
			}
		}
		ids, err := tx.IncidentsOf(c.Param("asset"), mostIncidents+1)
		if err != nil {
			return nil, err
		}
		out.More = len(ids) > mostIncidents
		for _, id := range ids[:min(len(ids), mostIncidents)] {
			l, err := incidentLine(tx, id)
			if err != nil {
				return nil, err
			}
			out.Incidents = append(out.Incidents, l)
		}
		return out, nil
	})
}

func incidentLine(tx *store.Tx, id string) (l IncidentLine, err error) {
	l.ID = id
	if _, err = tx.Load("incident", id, &l.Incident); err != nil {
		return l, err
	}
	if l.Handled != nil {
		if l.By, err = shortOf(tx, l.Handled.Person); err != nil {
			return l, err
		}
	}
	if l.Order != "" {
		w, err := tx.Work(l.Order)
		if err != nil {
			return l, err
		}
		if l.Number = w.Order.Number; l.Number != "" {
			l.State, err = tx.OrderState(l.Order)
		}
		return l, err
	}
	return l, nil
}
