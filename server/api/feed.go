package api

import (
	"crypto/rand"
	"net/http"
	"strconv"
	"strings"
	"time"

	"github.com/gin-gonic/gin"

	"iter.example/iter/core/calendar"
	"iter.example/iter/core/ledger"
	"iter.example/iter/core/msg"
	"iter.example/iter/core/records"
	"iter.example/iter/core/work"
	"iter.example/iter/server/feed"
	"iter.example/iter/server/store"
)

// FeedState tells whether there is a feed of somebody's plan, and since when.
type FeedState struct {
	Made time.Time `json:"made,omitzero"`
}

// FeedMade is a new feed. Its address is told once: only who has it reads the plan.
type FeedMade struct {
	Path string `json:"path"`
}

// A feed has the visits of so many days back and ahead.
const (
	feedBack  = 14
	feedAhead = 60
)

// feedPath is where feeds are read: the secret stands between it and the ending.
const (
	feedPath   = "/calendar/"
	feedEnding = ".ics"
)

func (s *Server) ownFeed(c *gin.Context) (FeedState, error)    { return s.feedState(c, who(c).PersonID) }
func (s *Server) makeOwnFeed(c *gin.Context) (FeedMade, error) { return s.makeFeed(c, who(c).PersonID) }
func (s *Server) endOwnFeed(c *gin.Context) (Done, error)      { return s.endFeed(c, who(c).PersonID) }
func (s *Server) personsFeed(c *gin.Context) (FeedState, error) {
	return s.feedState(c, c.Param("person"))
}
func (s *Server) makePersonsFeed(c *gin.Context) (FeedMade, error) {
	return s.makeFeed(c, c.Param("person"))
}
func (s *Server) endPersonsFeed(c *gin.Context) (Done, error) { return s.endFeed(c, c.Param("person")) }

func (s *Server) feedState(c *gin.Context, person string) (FeedState, error) {
	return read(s, c, func(tx *store.Tx) (FeedState, error) {
		f, _, err := tx.FeedOf(person)
		return FeedState{Made: f.Made}, err
	})
}

// makeFeed makes a feed with a new secret. The one before is read no more.
func (s *Server) makeFeed(c *gin.Context, person string) (FeedMade, error) {
	secret := rand.Text()
	err := s.Store.Write(c.Request.Context(), func(tx *store.Tx) error {
		var p records.Person
		if ok, err := tx.Load("person", person, &p); err != nil {
			return err
		} else if !ok || !p.Has(records.Technician) {
			return msg.New("visit.technician")
		}
		return tx.PutFeed(person, secret, s.Now())
	})
	return FeedMade{Path: feedPath + secret + feedEnding}, err
}

func (s *Server) endFeed(c *gin.Context, person string) (Done, error) {
	return Done{}, s.Store.Write(c.Request.Context(), func(tx *store.Tx) error { return tx.EndFeed(person) })
}

// feed answers with somebody's plan as a calendar, for whoever knows its secret. It is nobody's once they work in the
// field no more, or their access was ended.
func (s *Server) feed(c *gin.Context) {
	secret, ok := strings.CutSuffix(c.Param("file"), feedEnding)
	var name string
	var events []feed.Event
	now := s.now(c)
	err := s.Store.Read(c.Request.Context(), func(tx *store.Tx) error {
		f, known, err := tx.FeedBy(secret)
		if err != nil {
			return err
		}
		var p records.Person
		if _, err := tx.Load("person", f.Person, &p); err != nil {
			return err
		}
		account, has, err := tx.AccountOf(f.Person)
		if err != nil {
			return err
		}
		if ok = ok && known && p.Has(records.Technician) && !(has && !account.Disabled.IsZero()); !ok {
			return nil
		}
		name = p.Name
		events, err = feedOf(tx, f.Person, now)
		return err
	})
	if err != nil {
		s.fail(c, err)
		return
	}
	if !ok {
		s.fail(c, refusal{status: http.StatusNotFound, why: msg.New("http.not_found")})
		return
	}
	c.Header("Cache-Control", "private, no-cache")
	c.Data(http.StatusOK, "text/calendar; charset=utf-8", []byte(feed.Calendar(name, events, s.Now())))
}

// feedOf gathers the visits that somebody sees, and when they are off.
func feedOf(tx *store.Tx, person string, now time.Time) ([]feed.Event, error) {
	settings, err := tx.Settings(now)
	if err != nil {
		return nil, err
	}
	today := settings.Company.Zone.In(now)
	from, to := today.AddDate(0, 0, -feedBack).Format(time.DateOnly), today.AddDate(0, 0, feedAhead).Format(time.DateOnly)
	ids, err := tx.VisitsOf(person, from, to)
	if err != nil {
		return nil, err
	}
	var p records.Person
	if _, err := tx.Load("person", person, &p); err != nil {
		return nil, err
	}
	var coming []work.Coming
	for _, id := range ids {
		var v work.Visit
		if _, err := tx.Load("visit", id, &v); err != nil {
			return nil, err
		}
		coming = append(coming, work.Coming{ID: id, Start: v.Start, Stage: v.Stage})
	}
	seen, err := tx.SeenAhead(p, coming, today)
	if err != nil {
		return nil, err
	}
	var out []feed.Event
	for _, id := range ids {
		var v work.Visit
		if _, err := tx.Load("visit", id, &v); err != nil {
			return nil, err
		}
		if !seen[id] || v.Stage == work.Withdrawn || v.Stage == work.Declined {
			continue
		}
		w, err := tx.Work(v.Order)
		if err != nil {
			return nil, err
		}
		e := feed.Event{ID: id, Summary: w.Site.Name + ": " + w.Order.Problem, Location: w.Site.Address, Description: w.Order.Number,
			Start: v.Start, End: v.Start.Add(time.Duration(v.Minutes) * time.Minute)}
		if w.Site.Lat != 0 || w.Site.Lon != 0 {
			e.At = &records.Point{Lat: w.Site.Lat, Lon: w.Site.Lon}
		}
		out = append(out, e)
	}
	a, err := absencesOf(tx, person)
	for _, x := range a.List {
		if x.State == calendar.Granted && !x.Struck && x.To >= from && x.From <= to {
			out = append(out, offEvent(x, settings))
		}
	}
	zone := settings.Company.Zone
	all := calendar.Interval{Begin: zone.On(from, 0), End: zone.On(to, 24*time.Hour)}
	for _, d := range calendar.DutyOf(settings.Planning.Rotas, person, all, zone) {
		out = append(out, feed.Event{ID: "duty-" + strconv.FormatInt(d.Begin.Unix(), 10), Summary: d.Rota, Start: d.Begin, End: d.End})
	}
	return out, err
}

// offEvent is when somebody is off: whole days, or from a time to another.
func offEvent(x calendar.Absence, rules ledger.Settings) feed.Event {
	e := feed.Event{ID: x.Entry, Summary: x.Why}
	for _, reason := range rules.Planning.Absences {
		if reason.ID == x.Why {
			e.Summary = reason.Text
		}
	}
	in := x.Interval(rules.Company.Zone)
	e.Start, e.End = rules.Company.Zone.In(in.Begin), rules.Company.Zone.In(in.End)
	e.AllDay = x.Begin == "" && x.End == ""
	return e
}
