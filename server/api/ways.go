package api

import (
	"time"

	"github.com/gin-gonic/gin"

	"iter.example/iter/core/records"
	"iter.example/iter/core/roads"
	"iter.example/iter/server/parts"
	"iter.example/iter/server/store"
	"iter.example/iter/server/ways"
)

// WaysQuery says which ways a phone has, by their revision; "" for none.
type WaysQuery struct {
	Rev string `form:"rev" json:"rev,omitempty"`
}

// WaysAnswer is what a phone is told of the ways between its person's stops.
type WaysAnswer struct {
	// Same tells that the phone has them. Ways is missing then, and where the firm has brought no roads.
	Same bool           `json:"same"`
	Ways *roads.Answers `json:"ways,omitempty"`
}

// waysAhead is for how many days, today among them, ways are told.
const waysAhead = 5

// ways tells a phone the ways between its person's stops of the coming days, where their days begin, the stores and the other vans.
func (s *Server) ways(c *gin.Context, q WaysQuery) (*WaysAnswer, error) {
	now, person := s.now(c), who(c).PersonID
	stops, err := read(s, c, func(tx *store.Tx) (ways.Stops, error) { return stopsOf(tx, person, now) })
	if err != nil {
		return nil, err
	}
	a, err := s.roads.Answers(c.Request.Context(), s.Now(), stops)
	if err != nil {
		s.Log.Warn("no ways for phones", "error", err, "hint", "they keep those that they have, and ask again at the next sync")
		return nil, err
	}
	if a != nil && a.Rev == q.Rev {
		return &WaysAnswer{Same: true}, nil
	}
	return &WaysAnswer{Ways: a}, nil
}

func stopsOf(tx *store.Tx, person string, now time.Time) (out ways.Stops, err error) {
	var p records.Person
	if _, err = tx.Load("person", person, &p); err != nil {
		return out, err
	}
	settings, err := tx.Settings(now)
	if err != nil {
		return out, err
	}
	for _, at := range []*records.Point{p.Home, settings.Road.Yard} {
		if at != nil {
			out.Always = append(out.Always, *at)
		}
	}
	for day := range waysAhead {
		on := now.AddDate(0, 0, day)
		refs, err := tx.Scope(person, on, on, settings.Company.Zone.In(now))
		if err != nil {
			return out, err
		}
		var list []records.Point
		for _, ref := range refs {
			var site records.Site
			if ref.Type != "site" {
				continue
			}
			if _, err := tx.Load("site", ref.ID, &site); err != nil {
				return out, err
			}
			if site.Lat != 0 || site.Lon != 0 {
				list = append(list, records.Point{Lat: site.Lat, Lon: site.Lon})
			}
		}
		out.Days = append(out.Days, list)
	}
	round, err := parts.Round(tx, now)
	if err != nil {
		return out, err
	}
	for _, place := range round.Places {
		if place.Where != nil {
			out.Others = append(out.Others, *place.Where)
		}
	}
	return out, nil
}
