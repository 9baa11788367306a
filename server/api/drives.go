package api

import (
	"cmp"
	"context"
	"slices"
	"time"

	"github.com/gin-gonic/gin"

	"iter.example/iter/core/labor"
	"iter.example/iter/core/plan"
	"iter.example/iter/core/records"
	"iter.example/iter/core/roads"
	"iter.example/iter/core/work"
	"iter.example/iter/server/store"
)

// BoardDrive is the way to a visit that is still to come, as things stand.
type BoardDrive struct {
	SetOff  time.Time `json:"setOff"`
	Arrive  time.Time `json:"arrive"` // when somebody is to be expected
	Seconds int       `json:"seconds"`
	Metres  int       `json:"metres"`
	Risk    plan.Risk `json:"risk,omitempty"` // of when somebody comes
	Done    plan.Risk `json:"done,omitempty"` // of when the work is done
}

// overStages are those of visits that nobody drives to any more.
var overStages = []work.Stage{work.Finished, work.Withdrawn, work.Declined}

// lane is what the drives of somebody's day are worked out of.
type lane struct {
	start *records.Point // where the day begins
	order []string       // the person's own order of the visits
	stops []plan.Stop
}

// startOf is where somebody's day begins; nil when nobody said.
func startOf(p records.Person, rules roads.Settings) *records.Point {
	if p.Home != nil {
		return p.Home
	}
	return rules.Yard
}

// laneOf is the lane of somebody for a day, without visits yet.
func laneOf(tx *store.Tx, person string, p records.Person, day string, rules roads.Settings) (*lane, error) {
	l := &lane{start: startOf(p, rules)}
	cards, err := tx.Cards(person, day, day)
	if err != nil {
		return nil, err
	}
	for _, c := range cards {
		l.order = c.Route
	}
	return l, nil
}

// add puts a visit on a lane.
func (l *lane) add(tx *store.Tx, id string, v work.Visit) error {
	var o work.Order
	if _, err := tx.Load("workorder", v.Order, &o); err != nil {
		return err
	}
	var site records.Site
	if _, err := tx.Load("site", o.Site, &site); err != nil {
		return err
	}
	l.stops = append(l.stops, plan.StopOf(id, v, o, site))
	return nil
}

// places are where somebody comes by on the day, in their order.
func (l *lane) places() (out []records.Point) {
	if l.start != nil {
		out = append(out, *l.start)
	}
	for _, x := range plan.Arrange(l.stops, l.order) {
		if x.Place != nil && (x.Stage == work.Finished || !slices.Contains(overStages, x.Stage)) {
			out = append(out, *x.Place)
		}
	}
	return out
}

// drives puts the ways to visits that are still to come on the board. Without roads, or while a routing server is down, there are none.
func (s *Server) drives(ctx context.Context, b *Board, lanes map[string]*lane, rules roads.Settings) {
	if b.Date < b.Now.Format(time.DateOnly) {
		return
	}
	hours := roads.NewHours(rules.Busy)
	for i := range b.People {
		l := lanes[b.People[i].ID]
		if l == nil || len(l.stops) == 0 {
			continue
		}
		stops := plan.Arrange(l.stops, l.order)
		chain, err := s.roads.Chain(ctx, s.Now(), l.places())
		if err != nil {
			s.Log.Warn("no drives on the board", "error", err)
			return
		}
		for _, leg := range plan.Route(stops, l.order, l.start, b.Now, chain, hours) {
			for k := range b.People[i].Visits {
				v := &b.People[i].Visits[k]
				if v.ID == leg.ID && leg.Way != nil && v.Arrived.IsZero() && !slices.Contains(overStages, v.Stage) {
					v.Drive = &BoardDrive{SetOff: leg.SetOff, Arrive: leg.Arrive, Seconds: leg.Way.Seconds, Metres: leg.Way.Metres, Risk: leg.Risk,
						Done: leg.Done}
				}
			}
		}
	}
}

// learnFrom is for how many days back drives say what hours are like.
const learnFrom = 56

// drivesLearned tells what the drives of the last weeks say of the hours of the week.
func (s *Server) drivesLearned(c *gin.Context) ([]roads.Learned, error) {
	now := s.now(c)
	return read(s, c, func(tx *store.Tx) ([]roads.Learned, error) {
		settings, err := tx.Settings(now)
		if err != nil {
			return nil, err
		}
		var drives []roads.Driven
		for day := range learnFrom {
			ids, err := tx.VisitsOn(now.AddDate(0, 0, -day).Format(time.DateOnly))
			if err != nil {
				return nil, err
			}
			for _, id := range ids {
				var v work.Visit
				if _, err := tx.Load("visit", id, &v); err != nil {
					return nil, err
				}
				drives = append(drives, drivenOf(v, settings.Company.Zone)...)
			}
		}
		return roads.Learn(drives), nil
	})
}

// drivenOf gives the drives to a visit of which it was known what they take: from setting off to the arrival that followed.
func drivenOf(v work.Visit, zone labor.Zone) (out []roads.Driven) {
	var off *work.Step
	for i, s := range v.Steps {
		switch {
		case s.Struck:
		case s.Action == work.SetOff:
			off = &v.Steps[i]
		case s.Action == work.Arrive && off != nil && off.Drive != nil:
			d := *off.Drive
			free := cmp.Or(d.Free, d.Seconds) - d.Ferry
			out = append(out, roads.Driven{At: zone.In(off.At), Free: free, Took: int(s.At.Sub(off.At).Seconds()) - d.Ferry})
			off = nil
		default:
			off = nil // something else came between
		}
	}
	return out
}
