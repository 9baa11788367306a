package api

import (
	"encoding/json"
	"errors"
	"io"
	"net/http"
	"slices"
	"strings"
	"time"

	"github.com/gin-gonic/gin"

	"iter.example/iter/core/ledger"
	"iter.example/iter/core/msg"
	"iter.example/iter/core/stock"
	"iter.example/iter/server/company"
	"iter.example/iter/server/importing"
	"iter.example/iter/server/store"
	"iter.example/iter/server/stores"
)

// byProgram records something that an outside service told, as the program.
func (s *Server) byProgram(tx *store.Tx, kind, purchase string, body any) error {
	policy, err := tx.Policy()
	if err != nil {
		return err
	}
	w := company.Writer{Tx: tx, Now: s.Now(), Cause: "supplier"}
	_, err = w.Append(kind, ledger.Ref{Type: "purchase", ID: purchase}, company.Program, policy.Zone.In(s.Now()), body, nil)
	return err
}

func (s *Server) places(c *gin.Context) ([]stores.Place, error) { return read(s, c, stores.Places) }

// placeOf gives a place that there is.
func placeOf(tx *store.Tx, id string) (stores.Place, error) {
	places, err := stores.Places(tx)
	i := slices.IndexFunc(places, func(p stores.Place) bool { return p.ID == id })
	if err == nil && i < 0 {
		err = msg.New("record.unknown", "type", "place", "id", id)
	}
	if err != nil {
		return stores.Place{}, err
	}
	return places[i], nil
}

func (s *Server) shelf(c *gin.Context) (*stores.Shelf, error) {
	return read(s, c, func(tx *store.Tx) (*stores.Shelf, error) {
		p, err := placeOf(tx, c.Param("place"))
		if err != nil {
			return nil, err
		}
		return stores.ShelfOf(tx, p)
	})
}

// mostMovements is how many movements a screen lists, and mostInFile a file.
const mostMovements, mostInFile = 200, 100_000

// MovementsOf says of what movements are asked for: of a place, of a part, or of a part at a place.
type MovementsOf struct {
	Place string `form:"place" json:"place,omitempty"`
	Part  string `form:"part" json:"part,omitempty"`
}

func (s *Server) movements(c *gin.Context, q MovementsOf) ([]stores.MovementLine, error) {
	return read(s, c, func(tx *store.Tx) ([]stores.MovementLine, error) {
		return stores.Movements(tx, q.Place, q.Part, mostMovements)
	})
}

// RequestsAsked tells whether what is over is asked for, and not what waits.
type RequestsAsked struct {
	Over bool `form:"over" json:"over,omitempty"`
}

// requests lists what waits; or what is over.
func (s *Server) requests(c *gin.Context, q RequestsAsked) ([]stores.RequestLine, error) {
	return read(s, c, func(tx *store.Tx) ([]stores.RequestLine, error) { return stores.Requests(tx, q.Over, s.now(c)) })
}

func (s *Server) purchases(c *gin.Context) ([]stores.PurchaseLine, error) {
	return read(s, c, func(tx *store.Tx) ([]stores.PurchaseLine, error) { return stores.Purchases(tx, s.now(c)) })
}

func (s *Server) handovers(c *gin.Context) ([]stores.HandoverLine, error) {
	return read(s, c, stores.Handovers)
}

// PickPage is what is to be picked for a day.
type PickPage struct {
	Day   string            `json:"day"`
	Lists []stores.PickList `json:"lists"`
}

// PickDay is the day that parts are picked for; "" for the next on which there is work.
type PickDay struct {
	Day string `form:"day" json:"day,omitempty"` // 2006-01-02
}

// day is the day that is asked for: the next on which there is work when none is.
func day(tx *store.Tx, q PickDay, now time.Time) (string, error) {
	if q.Day != "" {
		return q.Day, nil
	}
	policy, err := tx.Policy()
	if err != nil {
		return "", err
	}
	return tx.NextDay(policy.Zone.In(now).Format(time.DateOnly))
}

func (s *Server) picks(c *gin.Context, q PickDay) (PickPage, error) {
	return read(s, c, func(tx *store.Tx) (out PickPage, err error) {
		if out.Day, err = day(tx, q, s.now(c)); err != nil {
			return out, err
		}
		out.Lists, err = stores.Picks(tx, out.Day)
		return out, err
	})
}

func (s *Server) fills(c *gin.Context, q PickDay) ([]stores.Fill, error) {
	return read(s, c, func(tx *store.Tx) ([]stores.Fill, error) {
		on, err := day(tx, q, s.now(c))
		if err != nil {
			return nil, err
		}
		return stores.Fills(tx, on, s.now(c))
	})
}

// CatalogueItem is a part or a kit with its id.
type CatalogueItem struct {
	ID   string      `json:"id"`
	Part *stock.Part `json:"part,omitempty"`
	Kit  *stock.Kit  `json:"kit,omitempty"`
}

func (s *Server) catalogue(c *gin.Context) ([]CatalogueItem, error) {
	return read(s, c, func(tx *store.Tx) ([]CatalogueItem, error) {
		parts, err := allParts(tx)
		if err != nil {
			return nil, err
		}
		out := []CatalogueItem{}
		for _, p := range parts {
			out = append(out, CatalogueItem{ID: p.ID, Part: &p.Part})
		}
		kits, err := tx.Of("kit")
		for _, d := range kits {
			k := new(stock.Kit)
			if err := json.Unmarshal(d.Body, k); err != nil {
				return nil, err
			}
			out = append(out, CatalogueItem{ID: d.ID, Kit: k})
		}
		return out, err
	})
}

func allParts(tx *store.Tx) ([]stores.LabelPart, error) {
	docs, err := tx.Of("part")
	out := []stores.LabelPart{}
	for _, d := range docs {
		l := stores.LabelPart{ID: d.ID}
		if err := json.Unmarshal(d.Body, &l.Part); err != nil {
			return nil, err
		}
		out = append(out, l)
	}
	return out, err
}

// roundUp tells devices what is where.
func (s *Server) roundUp(c *gin.Context) (*stores.RoundUp, error) {
	return read(s, c, func(tx *store.Tx) (*stores.RoundUp, error) { return stores.Round(tx, s.now(c)) })
}

// storesFiles are the files and papers of the stores, by name; what is asked for is in the query.
var storesFiles = map[string]func(*Server, *store.Tx, *gin.Context) ([]byte, error){
	"labels.pdf": func(s *Server, tx *store.Tx, c *gin.Context) ([]byte, error) {
		all, err := allParts(tx)
		if err != nil {
			return nil, err
		}
		wanted := strings.Split(c.Query("parts"), ",")
		out := slices.DeleteFunc(all, func(p stores.LabelPart) bool { return !slices.Contains(wanted, p.ID) })
		if len(out) == 0 {
			return nil, msg.New("labels.none")
		}
		return stores.Labels(out, s.Now())
	},
	"picks.pdf": func(s *Server, tx *store.Tx, c *gin.Context) ([]byte, error) {
		lists, err := stores.Picks(tx, c.Query("day"))
		if err != nil {
			return nil, err
		}
		for _, l := range lists {
			if l.Van.ID == c.Query("van") {
				policy, err := tx.Policy()
				if err != nil {
					return nil, err
				}
				return stores.PickPaper(policy.Company, l, s.Now())
			}
		}
		return nil, msg.New("picks.none")
	},
	"order.pdf": func(s *Server, tx *store.Tx, c *gin.Context) ([]byte, error) {
		l, err := stores.PurchaseOf(tx, c.Query("id"), s.Now())
		if err != nil {
			return nil, err
		}
		policy, err := tx.Policy()
		if err != nil {
			return nil, err
		}
		return stores.PurchasePaper(policy.Company, policy.Currency, *l, s.Now())
	},
	"order.csv": func(s *Server, tx *store.Tx, c *gin.Context) ([]byte, error) {
		l, err := stores.PurchaseOf(tx, c.Query("id"), s.Now())
		if err != nil {
			return nil, err
		}
		return stores.PurchaseTable(*l).CSV()
	},
	"parts.csv": func(_ *Server, tx *store.Tx, _ *gin.Context) ([]byte, error) {
		all, err := allParts(tx)
		if err != nil {
			return nil, err
		}
		return stores.PartsTable(all).CSV()
	},
	"stock.csv": func(_ *Server, tx *store.Tx, c *gin.Context) ([]byte, error) {
		places, err := stores.Places(tx)
		shelves := []stores.Shelf{}
		for _, p := range places {
			if only := c.Query("place"); only != "" && only != p.ID {
				continue
			}
			x, err := stores.ShelfOf(tx, p)
			if err != nil {
				return nil, err
			}
			shelves = append(shelves, *x)
		}
		if err != nil {
			return nil, err
		}
		return stores.ShelvesTable(shelves).CSV()
	},
	"movements.csv": func(_ *Server, tx *store.Tx, c *gin.Context) ([]byte, error) {
		lines, err := stores.Movements(tx, c.Query("place"), c.Query("part"), mostInFile)
		if err != nil {
			return nil, err
		}
		return stores.MovementsTable(lines).CSV()
	},
}

// storesFile answers with a file or a paper of the stores.
func (s *Server) storesFile(c *gin.Context) {
	name := c.Param("file")
	make, ok := storesFiles[name]
	if !ok {
		s.problem(c, http.StatusNotFound, msg.New("http.not_found"))
		return
	}
	var file []byte
	err := s.Store.Read(c.Request.Context(), func(tx *store.Tx) (err error) {
		file, err = make(s, tx, c)
		return err
	})
	if err != nil {
		s.fail(c, err)
		return
	}
	media := "text/csv; charset=utf-8"
	if strings.HasSuffix(name, ".pdf") {
		media = "application/pdf"
		c.Header("Content-Disposition", `inline; filename="`+name+`"`)
	} else {
		c.Header("Content-Disposition", `attachment; filename="`+name+`"`)
	}
	c.Data(http.StatusOK, media, file)
}

// Imported is what came of a file: what it did, or, when Problems are named, that nothing was changed.
type Imported struct {
	Created  int      `json:"created"`
	Changed  int      `json:"changed"`
	Same     int      `json:"same"`
	Problems []string `json:"problems"`
}

// maxImport is the largest file taken, in bytes.
const maxImport = 20 << 20

// importStores reads a file of parts, levels or counts.
func (s *Server) importStores(c *gin.Context) (Imported, error) {
	name := c.Param("file")
	if !slices.Contains([]string{"parts.csv", "levels.csv", "stock.csv"}, name) {
		return Imported{}, refusal{status: http.StatusNotFound, why: msg.New("http.not_found")}
	}
	raw, err := io.ReadAll(http.MaxBytesReader(c.Writer, c.Request.Body, maxImport))
	if err != nil {
		return Imported{}, refusal{status: http.StatusBadRequest, why: msg.New("import.large", "max", "20")}
	}
	out := Imported{Problems: []string{}}
	results, err := importing.File(c.Request.Context(), s.Store, name, raw, s.Now())
	if p, bad := errors.AsType[importing.Problems](err); bad {
		for _, x := range p {
			out.Problems = append(out.Problems, x.String())
		}
		return out, nil
	}
	if err != nil {
		return Imported{}, err
	}
	out.Created, out.Changed, out.Same = results.Created, results.Changed, results.Same
	return out, nil
}
