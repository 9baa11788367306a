package api

import (
	"slices"
	"time"

	"github.com/gin-gonic/gin"

	"iter.example/iter/core/plan"
	"iter.example/iter/core/records"
	"iter.example/iter/core/work"
	"iter.example/iter/server/store"
	"iter.example/iter/server/ways"
)

// DayMap is where a day's visits are, the ways between them, people where they were last heard of, and what waits.
type DayMap struct {
	Stops   []MapStop   `json:"stops"` // each person's in their order
	Ways    []MapWay    `json:"ways"`
	People  []MapPerson `json:"people"`
	Waiting []MapWaits  `json:"waiting"` // most pressing first
	// Lost are visits and work orders whose place nobody knows.
	Lost  int         `json:"lost"`
	Areas []plan.Area `json:"areas"`
}

// MapStop is a visit on a map.
type MapStop struct {
	Visit  string        `json:"visit"`
	Person string        `json:"person"`
	Number int           `json:"number"` // among the person's stops, from 1
	At     records.Point `json:"at"`
}

// MapWay is the way between two of a person's stops, in their order.
type MapWay struct {
	Person string          `json:"person"`
	Line   []records.Point `json:"line"`
}

// MapPerson is where somebody was last heard of: where their device was when they tapped, or else the site that they tapped at.
type MapPerson struct {
	Person string        `json:"person"`
	At     records.Point `json:"at"`
	When   time.Time     `json:"when"`
	// Accuracy is in metres, 0 of a site.
	Accuracy float64 `json:"accuracy,omitempty"`
}

// MapWaits is work to place on a map.
type MapWaits struct {
	Order string        `json:"order"`
	At    records.Point `json:"at"`
}

// dayMap tells where everything of a day of the board is.
func (s *Server) dayMap(c *gin.Context, q BoardDay) (DayMap, error) {
	out := DayMap{Stops: []MapStop{}, Ways: []MapWay{}, People: []MapPerson{}, Waiting: []MapWaits{}, Areas: []plan.Area{}}
	b, lanes, _, err := s.boardOf(c, q)
	if err != nil {
		return out, err
	}
	for _, p := range b.People {
		out.person(p.ID, lanes[p.ID])
		places := lanes[p.ID].places()
		known, err := s.roads.Answers(c.Request.Context(), s.Now(), ways.Stops{Days: [][]records.Point{places}})
		if err != nil {
			s.Log.Warn("no ways on the map of a day", "error", err)
		}
		for i := 1; known != nil && i < len(places); i++ {
			if w := known.Ways(places[i-1], places[i])[0]; w != nil && len(w.Line) > 1 {
				out.Ways = append(out.Ways, MapWay{p.ID, w.Line})
			}
		}
	}
	_, err = readPlan(s, c, q.Draft, func(tx *store.Tx) (struct{}, error) {
		settings, err := tx.Settings(s.now(c))
		if err != nil {
			return struct{}{}, err
		}
		out.Areas = append(out.Areas, settings.Planning.Areas...)
		if b.Date == b.Now.Format(time.DateOnly) { // where they are matters today alone
			for _, p := range b.People {
				at, err := lastHeard(tx, p)
				if err != nil {
					return struct{}{}, err
				}
				if at != nil {
					out.People = append(out.People, *at)
				}
			}
		}
		for _, o := range b.Unplaced {
			w, err := tx.Work(o.ID)
			if err != nil {
				return struct{}{}, err
			}
			if p := (records.Point{Lat: w.Site.Lat, Lon: w.Site.Lon}); p != (records.Point{}) {
				out.Waiting = append(out.Waiting, MapWaits{o.ID, p})
			} else {
				out.Lost++
			}
		}
		return struct{}{}, nil
	})
	return out, err
}

// person adds somebody's stops.
func (m *DayMap) person(id string, l *lane) {
	for i, x := range plan.Arrange(l.stops, l.order) {
		if x.Stage == work.Withdrawn {
			continue
		}
		if x.Place == nil {
			m.Lost++
			continue
		}
		m.Stops = append(m.Stops, MapStop{x.ID, id, i + 1, *x.Place})
	}
}

// lastHeard is where somebody was when they last tapped on a visit of the day; nil before they did.
func lastHeard(tx *store.Tx, p BoardPerson) (*MapPerson, error) {
	var last *MapPerson
	for _, b := range p.Visits {
		var v work.Visit
		if _, err := tx.Load("visit", b.ID, &v); err != nil {
			return nil, err
		}
		w, err := tx.Work(v.Order)
		if err != nil {
			return nil, err
		}
		for _, step := range v.Steps {
			at := &MapPerson{Person: p.ID, When: step.At}
			switch there := slices.Contains([]work.Action{work.Arrive, work.Pause, work.Resume, work.Finish}, step.Action); {
			case step.Struck || step.Person != p.ID || (last != nil && step.At.Before(last.When)):
				continue
			case step.Where != nil:
				at.At, at.Accuracy = records.Point{Lat: step.Where.Lat, Lon: step.Where.Lon}, step.Where.Accuracy
			case there && (w.Site.Lat != 0 || w.Site.Lon != 0):
				at.At = records.Point{Lat: w.Site.Lat, Lon: w.Site.Lon}
			default:
				continue
			}
			last = at
		}
	}
	return last, nil
}
