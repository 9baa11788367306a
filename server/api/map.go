package api

import (
	"net/http"
	"strconv"
	"time"

	"github.com/gin-gonic/gin"

	"iter.example/iter/core/msg"
	"iter.example/iter/core/records"
	"iter.example/iter/server/addresses"
	"iter.example/iter/server/store"
	"iter.example/iter/server/tiles"
)

// RegionMap says which map there is of the firm's region; nothing of it where none was brought.
type RegionMap struct {
	Rev string    `json:"rev"` // of the tiles; "" without a map
	At  time.Time `json:"at"`  // when it was brought
	tiles.About
}

// regionMap says which map there is.
func (s *Server) regionMap(*gin.Context) (*RegionMap, error) {
	a, rev, err := s.tiles.Get()
	if err != nil {
		s.Log.Warn("the region's map can't be read", "error", err, "hint", "bring the region again with iter roads")
	}
	if a == nil {
		return &RegionMap{}, nil
	}
	at, _ := store.RegionTime(rev)
	return &RegionMap{Rev: rev, At: at, About: a.About}, nil
}

// tile gives a tile of the map. One of another revision is gone: whoever asks for it asks first which there is.
func (s *Server) tile(c *gin.Context) {
	var zxy [3]int
	for i, name := range []string{"z", "x", "y"} {
		n, err := strconv.Atoi(c.Param(name))
		if err != nil {
			s.fail(c, refusal{status: http.StatusNotFound, why: msg.New("http.query")})
			return
		}
		zxy[i] = n
	}
	a, rev, err := s.tiles.Get()
	if a == nil || rev != c.Param("rev") {
		s.fail(c, refusal{status: http.StatusNotFound, why: msg.New("map.another")})
		return
	}
	if err != nil {
		s.Log.Warn("the region's map can't be read anew", "error", err)
	}
	raw, err := a.Tile(zxy[0], zxy[1], zxy[2])
	if err != nil {
		s.fail(c, err)
		return
	}
	c.Header("Cache-Control", "private, max-age=31536000, immutable")
	if raw == nil {
		c.Status(http.StatusNoContent)
		return
	}
	c.Header("Content-Encoding", "gzip")
	c.Data(http.StatusOK, "application/vnd.mapbox-vector-tile", raw)
}

// AddressQuery is an address as it is typed, and near which point it is first looked for.
type AddressQuery struct {
	Text string   `form:"text" json:"text"`
	Lat  *float64 `form:"lat" json:"lat,omitempty"`
	Lon  *float64 `form:"lon" json:"lon,omitempty"`
}

// AddressAnswer are addresses that were found. Known is false where no region was brought, or none with addresses.
type AddressAnswer struct {
	Known bool              `json:"known"`
	Found []addresses.Found `json:"found"`
}

// longestAddress is how many bytes an address has at most to be looked up.
const longestAddress = 400

// addresses looks an address up in the firm's region: near a point, or else near the yard.
func (s *Server) addresses(c *gin.Context, q AddressQuery) (*AddressAnswer, error) {
	book, _, err := s.book.Get()
	if err != nil {
		s.Log.Warn("the region's addresses can't be read", "error", err, "hint", "bring the region again with iter roads")
	}
	out := &AddressAnswer{Known: book != nil, Found: []addresses.Found{}}
	if book == nil {
		return out, nil
	}
	var near *records.Point
	if q.Lat != nil && q.Lon != nil {
		near = &records.Point{Lat: *q.Lat, Lon: *q.Lon}
	} else {
		settings, err := s.settings(c)
		if err != nil {
			return nil, err
		}
		near = settings.Road.Yard
	}
	if len(q.Text) > longestAddress {
		return out, nil
	}
	found, err := book.Find(c.Request.Context(), q.Text, near)
	if found != nil {
		out.Found = found
	}
	return out, err
}
