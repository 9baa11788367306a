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
	"iter.example/iter/server/parts"
	"iter.example/iter/server/store"
)

// byProgram records something that an outside service told, as the program.
func (s *Server) byProgram(tx *store.Tx, kind, purchase string, body any) error {
	firm, _, err := tx.Company(s.Now())
	if err != nil {
		return err
	}
	w := company.Writer{Tx: tx, Now: s.Now(), Cause: "supplier"}
	_, err = w.Append(kind, ledger.Ref{Type: "purchase", ID: purchase}, company.Program, firm.Zone.In(s.Now()), body, nil)
	return err
}

func (s *Server) places(c *gin.Context) ([]parts.Place, error) { return read(s, c, parts.Places) }

// placeOf gives a place that there is.
func placeOf(tx *store.Tx, id string) (parts.Place, error) {
	places, err := parts.Places(tx)
	i := slices.IndexFunc(places, func(p parts.Place) bool { return p.ID == id })
	if err == nil && i < 0 {
		err = msg.New("record.unknown", "type", "place", "id", id)
	}
	if err != nil {
		return parts.Place{}, err
	}
	return places[i], nil
}

func (s *Server) shelf(c *gin.Context) (*parts.Shelf, error) {
	return read(s, c, func(tx *store.Tx) (*parts.Shelf, error) {
		p, err := placeOf(tx, c.Param("place"))
		if err != nil {
			return nil, err
		}
		return parts.ShelfOf(tx, p, s.Now())
	})
}

// mostMovements is how many movements a screen lists, and mostInFile a file.
const mostMovements, mostInFile = 200, 100_000

// MovementsOf says of what movements are asked for: of a place, of a part, or of a part at a place.
type MovementsOf struct {
	Place string `form:"place" json:"place,omitempty"`
	Part  string `form:"part" json:"part,omitempty"`
}

func (s *Server) movements(c *gin.Context, q MovementsOf) ([]parts.MovementLine, error) {
	return read(s, c, func(tx *store.Tx) ([]parts.MovementLine, error) {
		return parts.Movements(tx, q.Place, q.Part, mostMovements)
	})
}

// RequestsAsked tells whether what is over is asked for, and not what waits.
type RequestsAsked struct {
	Over bool `form:"over" json:"over,omitempty"`
}

// requests lists what waits; or what is over.
func (s *Server) requests(c *gin.Context, q RequestsAsked) ([]parts.RequestLine, error) {
	return read(s, c, func(tx *store.Tx) ([]parts.RequestLine, error) { return parts.Requests(tx, q.Over, s.now(c)) })
}

func (s *Server) purchases(c *gin.Context) ([]parts.PurchaseLine, error) {
	return read(s, c, func(tx *store.Tx) ([]parts.PurchaseLine, error) { return parts.Purchases(tx, s.now(c)) })
}

func (s *Server) handovers(c *gin.Context) ([]parts.HandoverLine, error) {
	return read(s, c, parts.Handovers)
}

// PickPage is what is to be picked for a day.
type PickPage struct {
	Day   string           `json:"day"`
	Lists []parts.PickList `json:"lists"`
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
	_, today, err := tx.Company(now)
	if err != nil {
		return "", err
	}
	return tx.NextDay(today)
}

func (s *Server) picks(c *gin.Context, q PickDay) (PickPage, error) {
	return read(s, c, func(tx *store.Tx) (out PickPage, err error) {
		if out.Day, err = day(tx, q, s.now(c)); err != nil {
			return out, err
		}
		out.Lists, err = parts.Picks(tx, out.Day)
		return out, err
	})
}

func (s *Server) fills(c *gin.Context, q PickDay) ([]parts.Fill, error) {
	return read(s, c, func(tx *store.Tx) ([]parts.Fill, error) {
		on, err := day(tx, q, s.now(c))
		if err != nil {
			return nil, err
		}
		return parts.Fills(tx, on, s.now(c))
	})
}

// partsAhead lists what work to come will be short of.
func (s *Server) partsAhead(c *gin.Context) (*parts.AheadList, error) {
	return read(s, c, func(tx *store.Tx) (*parts.AheadList, error) { return parts.Ahead(tx, s.now(c)) })
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

func allParts(tx *store.Tx) ([]parts.LabelPart, error) {
	docs, err := tx.Of("part")
	out := []parts.LabelPart{}
	for _, d := range docs {
		l := parts.LabelPart{ID: d.ID}
		if err := json.Unmarshal(d.Body, &l.Part); err != nil {
			return nil, err
		}
		out = append(out, l)
	}
	return out, err
}

// roundUp tells devices what is where.
func (s *Server) roundUp(c *gin.Context) (*parts.RoundUp, error) {
	return read(s, c, func(tx *store.Tx) (*parts.RoundUp, error) { return parts.Round(tx, s.now(c)) })
}

// storesFiles are the files and papers of the stores, by name; what is asked for is in the query.
var storesFiles = map[string]func(*Server, *store.Tx, *gin.Context) ([]byte, error){
	"labels.pdf": func(s *Server, tx *store.Tx, c *gin.Context) ([]byte, error) {
		all, err := allParts(tx)
		if err != nil {
			return nil, err
		}
		wanted := strings.Split(c.Query("parts"), ",")
		out := slices.DeleteFunc(all, func(p parts.LabelPart) bool { return !slices.Contains(wanted, p.ID) })
		if len(out) == 0 {
			return nil, msg.New("labels.none")
		}
		return parts.Labels(out, s.Now())
	},
	"picks.pdf": func(s *Server, tx *store.Tx, c *gin.Context) ([]byte, error) {
		lists, err := parts.Picks(tx, c.Query("day"))
		if err != nil {
			return nil, err
		}
		for _, l := range lists {
			if l.Van.ID == c.Query("van") {
				firm, _, err := tx.Company(s.Now())
				if err != nil {
					return nil, err
				}
				return parts.PickPaper(firm.Name, l, s.Now())
			}
		}
		return nil, msg.New("picks.none")
	},
	"order.pdf": func(s *Server, tx *store.Tx, c *gin.Context) ([]byte, error) {
		l, err := parts.PurchaseOf(tx, c.Query("id"), s.Now())
		if err != nil {
			return nil, err
		}
		firm, _, err := tx.Company(s.Now())
		if err != nil {
			return nil, err
		}
		return parts.PurchasePaper(firm.Name, firm.Currency, *l, s.Now())
	},
	"order.csv": func(s *Server, tx *store.Tx, c *gin.Context) ([]byte, error) {
		l, err := parts.PurchaseOf(tx, c.Query("id"), s.Now())
		if err != nil {
			return nil, err
		}
		return parts.PurchaseTable(*l).CSV()
	},
	"parts.csv": func(_ *Server, tx *store.Tx, _ *gin.Context) ([]byte, error) {
		all, err := allParts(tx)
		if err != nil {
			return nil, err
		}
		return parts.PartsTable(all).CSV()
	},
	"stock.csv": func(s *Server, tx *store.Tx, c *gin.Context) ([]byte, error) {
		places, err := parts.Places(tx)
		shelves := []parts.Shelf{}
		for _, p := range places {
			if only := c.Query("place"); only != "" && only != p.ID {
				continue
			}
			x, err := parts.ShelfOf(tx, p, s.Now())
			if err != nil {
				return nil, err
			}
			shelves = append(shelves, *x)
		}
		if err != nil {
			return nil, err
		}
		return parts.ShelvesTable(shelves).CSV()
	},
	"movements.csv": func(_ *Server, tx *store.Tx, c *gin.Context) ([]byte, error) {
		lines, err := parts.Movements(tx, c.Query("place"), c.Query("part"), mostInFile)
		if err != nil {
			return nil, err
		}
		return parts.MovementsTable(lines).CSV()
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

// PartsListed is a list of parts as it was read, and what of it was not.
type PartsListed struct {
	Lines    []importing.Listed `json:"lines"`
	Problems []msg.Code         `json:"problems"`
}

// readPartsList reads a list of parts for a work order. It changes nothing.
func (s *Server) readPartsList(c *gin.Context) (out PartsListed, err error) {
	raw, err := io.ReadAll(http.MaxBytesReader(c.Writer, c.Request.Body, 1<<20))
	if err != nil {
		return out, refusal{status: http.StatusBadRequest, why: msg.New("import.large", "max", "1")}
	}
	return read(s, c, func(tx *store.Tx) (PartsListed, error) {
		lines, problems, err := importing.PartsList(tx, raw)
		return PartsListed{lines, problems}, err
	})
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
