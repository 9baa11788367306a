package api

import (
	"net/http"
	"time"

	"github.com/gin-gonic/gin"
	"github.com/paulmach/orb"
	"github.com/paulmach/orb/geojson"

	"iter.example/iter/core/plan"
	"iter.example/iter/core/records"
	"iter.example/iter/server/ways"
)

// dayGeoJSON answers with a day of the board as GeoJSON (RFC 7946), for other maps: visits are points, the ways between them lines. A visit
// whose site has no place has no geometry; ways are left out while they are not known.
func (s *Server) dayGeoJSON(c *gin.Context) {
	b, lanes, _, err := s.boardOf(c, BoardDay{Date: c.Query("date"), Draft: c.Query("draft") == "true"})
	if err != nil {
		s.fail(c, err)
		return
	}
	all := geojson.NewFeatureCollection()
	for _, p := range b.People {
		l := lanes[p.ID]
		for _, v := range p.Visits {
			all.Append(visitFeature(v, p.Name, l.stops))
		}
		places := l.places()
		known, err := s.roads.Answers(c.Request.Context(), s.Now(), ways.Stops{Days: [][]records.Point{places}})
		if err != nil {
			s.Log.Warn("no ways in the GeoJSON of a day", "error", err)
		}
		for i := 1; known != nil && i < len(places); i++ {
			if w := known.Ways(places[i-1], places[i])[0]; w != nil && len(w.Line) > 1 {
				f := geojson.NewFeature(lineOf(w.Line))
				f.Properties = geojson.Properties{"person": p.Name, "leg": i, "seconds": w.Seconds, "metres": w.Metres}
				all.Append(f)
			}
		}
	}
	raw, err := all.MarshalJSON()
	if err != nil {
		s.fail(c, err)
		return
	}
	c.Header("Content-Disposition", `attachment; filename="day-`+b.Date+`.geojson"`)
	c.Data(http.StatusOK, "application/geo+json", raw)
}

func visitFeature(v BoardVisit, person string, stops []plan.Stop) *geojson.Feature {
	f := geojson.NewFeature(nil)
	for _, x := range stops {
		if x.ID == v.ID && x.Place != nil {
			f.Geometry = orb.Point{x.Place.Lon, x.Place.Lat}
		}
	}
	f.ID = v.ID
	f.Properties = geojson.Properties{"person": person, "order": v.Number, "site": v.Site, "problem": v.Problem, "stage": v.Stage,
		"start": v.Start, "minutes": v.Minutes}
	for name, at := range map[string]time.Time{"promise": v.Promise, "setOff": v.SetOff, "arrived": v.Arrived, "ended": v.Ended} {
		if !at.IsZero() {
			f.Properties[name] = at
		}
	}
	return f
}

func lineOf(points []records.Point) orb.LineString {
	out := make(orb.LineString, len(points))
	for i, p := range points {
		out[i] = orb.Point{p.Lon, p.Lat}
	}
	return out
}
