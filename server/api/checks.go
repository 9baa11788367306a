package api

import (
	"time"

	"encoding/json"
	"io"
	"iter.example/iter/core/ledger"
	"net/http"
	"slices"
	"strings"

	"github.com/gin-gonic/gin"

	"iter.example/iter/core/msg"
	"iter.example/iter/core/records"
	"iter.example/iter/core/sheet"
	"iter.example/iter/server/checks"
	"iter.example/iter/server/office"
	"iter.example/iter/server/spelling"
	"iter.example/iter/server/store"
	"iter.example/iter/server/table"
)

// AttentionAsked tells whether what was handled is asked for, and not what waits.
type AttentionAsked struct {
	Handled bool `form:"handled" json:"handled,omitempty"`
}

// attention lists what wants attention; or what was handled.
func (s *Server) attention(c *gin.Context, q AttentionAsked) ([]checks.Concern, error) {
	return read(s, c, func(tx *store.Tx) ([]checks.Concern, error) { return checks.Attention(tx, q.Handled) })
}

// settings gives the company's rules that hold today.
func (s *Server) settings(c *gin.Context) (ledger.Settings, error) {
	return read(s, c, func(tx *store.Tx) (ledger.Settings, error) { return tx.Settings(s.Now()) })
}

// KindLine is a kind of machine with what its machines have in common.
type KindLine struct {
	ID   string            `json:"id"`
	Kind records.AssetKind `json:"kind"`
}

// kindsOfAssets lists the kinds of machines there are records of, by name.
func (s *Server) kindsOfAssets(c *gin.Context) ([]KindLine, error) {
	return read(s, c, func(tx *store.Tx) ([]KindLine, error) {
		docs, err := tx.Of("assetkind")
		out := []KindLine{}
		for _, d := range docs {
			l := KindLine{ID: d.ID}
			if err := json.Unmarshal(d.Body, &l.Kind); err != nil {
				return nil, err
			}
			out = append(out, l)
		}
		slices.SortStableFunc(out, func(a, b KindLine) int { return strings.Compare(a.Kind.Name, b.Kind.Name) })
		return out, err
	})
}

// substances gives a site's log of regulated substances.
func (s *Server) substances(c *gin.Context) (*checks.SubstancePage, error) {
	return read(s, c, func(tx *store.Tx) (*checks.SubstancePage, error) {
		return checks.Substances(tx, c.Param("site"), s.now(c))
	})
}

// measured gives what was measured on an asset.
func (s *Server) measured(c *gin.Context) ([]checks.Series, error) {
	return read(s, c, func(tx *store.Tx) ([]checks.Series, error) { return checks.Of(tx, c.Param("asset")) })
}

// tables are what there are files of.
var tables = map[string]func(tx *store.Tx, r checks.Range, sheet string, now time.Time) (table.Table, error){
	"answers": checks.Answers,
	"readings": func(tx *store.Tx, r checks.Range, _ string, _ time.Time) (table.Table, error) {
		return checks.Readings(tx, r)
	},
}

// export answers with a file of answers or readings, as CSV or JSON.
func (s *Server) export(c *gin.Context) {
	name, format, _ := strings.Cut(c.Param("file"), ".")
	make, ok := tables[name]
	if !ok || (format != "csv" && format != "json") {
		s.problem(c, http.StatusNotFound, msg.New("http.not_found"))
		return
	}
	var r checks.Range
	if err := c.ShouldBindQuery(&r); err != nil || r.Check() != nil {
		s.problem(c, http.StatusBadRequest, msg.New("export.range"))
		return
	}
	var lines table.Table
	err := s.Store.Read(c.Request.Context(), func(tx *store.Tx) (err error) {
		lines, err = make(tx, r, c.Query("sheet"), s.Now())
		return err
	})
	if err != nil {
		s.fail(c, err)
		return
	}
	s.sendTable(c, name+"-"+r.From+"-to-"+r.To, format, lines)
}

// formats are the files that a table is sent as, by what their names end in.
var formats = map[string]struct {
	write func(table.Table) ([]byte, error)
	media string
}{
	"csv":  {table.Table.CSV, "text/csv; charset=utf-8"},
	"json": {table.Table.JSON, "application/json"},
	"xlsx": {table.Table.XLSX, "application/vnd.openxmlformats-officedocument.spreadsheetml.sheet"},
}

// sendTable answers with a table as a file. name is made of letters, digits and dashes.
func (s *Server) sendTable(c *gin.Context, name, format string, t table.Table) {
	file, err := formats[format].write(t)
	if err != nil {
		s.fail(c, err)
		return
	}
	c.Header("Content-Disposition", `attachment; filename="`+name+"."+format+`"`)
	c.Data(http.StatusOK, formats[format].media, file)
}

// SheetLine is a check sheet in the list of them.
type SheetLine struct {
	ID        string `json:"id"`
	Title     string `json:"title"`
	Version   int    `json:"version"` // the newest published; 0: none yet
	Draft     bool   `json:"draft"`   // there is one that is not published
	Questions int    `json:"questions"`
}

// sheets lists the check sheets, by title.
func (s *Server) sheets(c *gin.Context) ([]SheetLine, error) {
	return read(s, c, func(tx *store.Tx) ([]SheetLine, error) {
		out := []SheetLine{}
		for _, typ := range []string{"sheet", "sheetdraft"} {
			docs, err := tx.Of(typ)
			if err != nil {
				return nil, err
			}
			for _, d := range docs {
				var x sheet.Sheet
				if err := json.Unmarshal(d.Body, &x); err != nil {
					return nil, err
				}
				i := slices.IndexFunc(out, func(l SheetLine) bool { return l.ID == x.ID })
				if i < 0 {
					i = len(out)
					out = append(out, SheetLine{ID: x.ID})
				}
				l := &out[i]
				if typ == "sheetdraft" {
					// A draft is of the version that it will be; one that was published since is no draft any more.
					l.Draft = x.Version > l.Version
				} else if x.Version < l.Version {
					continue
				} else {
					l.Version = x.Version
				}
				if l.Title = x.Title; typ == "sheet" || l.Draft {
					l.Questions = 0
					for _, sec := range x.Sections {
						l.Questions += len(sec.Questions)
					}
				}
			}
		}
		slices.SortStableFunc(out, func(a, b SheetLine) int { return strings.Compare(spelling.Fold(a.Title), spelling.Fold(b.Title)) })
		return out, nil
	})
}

// SheetPage is a check sheet as the designer opens it: the draft, or what is published as the start of one.
type SheetPage struct {
	Sheet     sheet.Sheet     `json:"sheet"`
	Kept      bool            `json:"kept"`      // there is a draft document
	Published []int           `json:"published"` // versions
	Problems  []sheet.Problem `json:"problems"`
	Changes   []sheet.Change  `json:"changes"` // from the newest published version
}

func (s *Server) sheet(c *gin.Context) (*SheetPage, error) {
	id := c.Param("id")
	return read(s, c, func(tx *store.Tx) (*SheetPage, error) {
		last, versions, err := published(tx, id)
		if err != nil {
			return nil, err
		}
		var x sheet.Sheet
		kept, err := tx.Load("sheetdraft", id, &x)
		if err != nil {
			return nil, err
		}
		if !kept && last == nil {
			return nil, msg.New("record.unknown", "type", "sheet", "id", id)
		}
		if last != nil && (!kept || x.Version <= last.Version) {
			x = *last
			x.Version++
		}
		page := looked(x, last)
		page.Kept, page.Published = kept, versions
		return page, nil
	})
}

// published gives the newest published version of a sheet, and all their numbers.
func published(tx *store.Tx, id string) (last *sheet.Sheet, versions []int, err error) {
	refs, err := tx.IDs("sheet")
	if err != nil {
		return nil, nil, err
	}
	versions = []int{}
	for _, ref := range refs {
		if of, v := sheet.Split(ref); of == id {
			versions = append(versions, v)
		}
	}
	slices.Sort(versions)
	if ref := sheet.Newest(id, refs); ref != "" {
		last = new(sheet.Sheet)
		_, err = tx.Load("sheet", ref, last)
	}
	return last, versions, err
}

// looked puts programs to a sheet's formulas, and says what is wrong with it and what is new in it.
func looked(x sheet.Sheet, last *sheet.Sheet) *SheetPage {
	unread := office.WithPrograms(&x)
	_, problems := sheet.Compile(x)
	out := &SheetPage{Sheet: x, Published: []int{}, Problems: append([]sheet.Problem{}, unread...), Changes: []sheet.Change{}}
	for _, p := range problems {
		// That a formula has no program is said by why it does not read.
		if p.Field != "formula" || !slices.ContainsFunc(unread, func(u sheet.Problem) bool { return u.Question == p.Question }) {
			out.Problems = append(out.Problems, p)
		}
	}
	if last != nil {
		out.Changes = sheet.Changes(*last, x)
	}
	return out
}

// look is what the designer asks after each change.
func (s *Server) look(c *gin.Context, x sheet.Sheet) (*SheetPage, error) {
	return read(s, c, func(tx *store.Tx) (*SheetPage, error) {
		last, versions, err := published(tx, x.ID)
		if err != nil {
			return nil, err
		}
		page := looked(x, last)
		page.Published = versions
		return page, nil
	})
}

// readSheet reads a sheet file, to open it in the designer. Nothing is kept yet.
func (s *Server) readSheet(c *gin.Context) (*SheetPage, error) {
	raw, err := io.ReadAll(http.MaxBytesReader(c.Writer, c.Request.Body, sheet.MaxFile+1))
	if err != nil {
		return nil, refusal{status: http.StatusBadRequest, why: msg.New("sheet.file_large", "max", "200")}
	}
	x, err := sheet.Parse(raw)
	if err != nil {
		return nil, refusal{status: http.StatusBadRequest, why: msg.From(err)}
	}
	x.Version = 1
	return looked(x, nil), nil
}

// sheetFile answers with a published sheet as a file: without programs, which whoever reads it makes anew.
func (s *Server) sheetFile(c *gin.Context) {
	var x sheet.Sheet
	ref := c.Param("ref")
	err := s.Store.Read(c.Request.Context(), func(tx *store.Tx) error {
		ok, err := tx.Load("sheet", ref, &x)
		if err == nil && !ok {
			err = msg.New("record.unknown", "type", "sheet", "id", ref)
		}
		return err
	})
	if err != nil {
		s.fail(c, err)
		return
	}
	for i := range x.Sections {
		x.Sections[i].Questions = slices.Clone(x.Sections[i].Questions)
		for j := range x.Sections[i].Questions {
			x.Sections[i].Questions[j].Program, x.Sections[i].Questions[j].Document = nil, nil
		}
	}
	x.Format = sheet.Format
	c.Header("Content-Disposition", `attachment; filename="`+ref+`.sheet.json"`)
	c.IndentedJSON(http.StatusOK, x)
}
