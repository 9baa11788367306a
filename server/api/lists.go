package api

import (
	"encoding/json"
	"strconv"
	"time"

	"github.com/gin-gonic/gin"

	"iter.example/iter/core/msg"
	"iter.example/iter/core/records"
	"iter.example/iter/server/store"
	"iter.example/iter/server/table"
)

// ListAsk is what is asked of a list: as in an address, so that it can be kept and sent on.
type ListAsk struct {
	Q     string `form:"q" json:"q,omitempty"`
	Where string `form:"where" json:"where,omitempty"` // filters as JSON
	Sort  string `form:"sort" json:"sort,omitempty"`   // a column; after - the other way round
	Page  int    `form:"page" json:"page,omitempty"`   // from 0
	IDs   string `form:"ids" json:"ids,omitempty"`     // of lines as JSON; "" for all
}

// query reads what is asked. The error is a *msg.Code.
func (a ListAsk) query() (q store.ListQuery, err error) {
	q = store.ListQuery{Words: a.Q, Sort: a.Sort, Page: a.Page}
	for text, into := range map[string]any{a.Where: &q.Where, a.IDs: &q.IDs} {
		if text != "" && json.Unmarshal([]byte(text), into) != nil {
			return q, msg.New("list.filter")
		}
	}
	return q, nil
}

// list gives a page of a list.
func (s *Server) list(c *gin.Context, ask ListAsk) (*store.ListPage, error) {
	q, err := ask.query()
	if err != nil {
		return nil, err
	}
	return read(s, c, func(tx *store.Tx) (*store.ListPage, error) { return tx.ListPage(c.Param("list"), q) })
}

// GroupsAsk asks for groups of lines by a column.
type GroupsAsk struct {
	ListAsk
	By string `form:"by" json:"by"`
}

// ListGroups are the groups of the lines of a list.
type ListGroups struct {
	Groups []store.ListGroup `json:"groups"`
	Cut    bool              `json:"cut"` // whether there are more
}

// listGroups counts the lines of a list by what they have in a column.
func (s *Server) listGroups(c *gin.Context, ask GroupsAsk) (ListGroups, error) {
	q, err := ask.query()
	if err != nil {
		return ListGroups{}, err
	}
	return read(s, c, func(tx *store.Tx) (out ListGroups, err error) {
		out.Groups, out.Cut, err = tx.ListGroups(c.Param("list"), ask.By, q)
		return out, err
	})
}

// ListAll are the lines of a list that something is done with at once.
type ListAll struct {
	Lines []store.ListLine `json:"lines"`
	Most  int              `json:"most"` // so many at once
}

// mostAtOnce is with how many lines something is done at once: each may take two commands of one batch.
const mostAtOnce = 250

// listAll gives all lines of a list, as many as something can be done with at once.
func (s *Server) listAll(c *gin.Context, ask ListAsk) (ListAll, error) {
	q, err := ask.query()
	if err != nil {
		return ListAll{}, err
	}
	return read(s, c, func(tx *store.Tx) (ListAll, error) {
		_, lines, err := tx.ListLines(c.Param("list"), q, mostAtOnce)
		return ListAll{lines, mostAtOnce}, err
	})
}

// ListFile asks for a file of a list, in the words of the screen.
type ListFile struct {
	ListAsk
	Format  string       `json:"format"` // csv or xlsx
	Columns []FileColumn `json:"columns"`
}

// FileColumn is a column of a file.
type FileColumn struct {
	Name  string            `json:"name"`
	Title string            `json:"title"`
	Words map[string]string `json:"words,omitempty"` // what values are called
}

// mostFileColumns is how many columns a file has.
const mostFileColumns = 50

// listFile answers with a file of the lines of a list, as CSV or XLSX.
func (s *Server) listFile(c *gin.Context) {
	var in ListFile
	err := body(c, &in)
	var q store.ListQuery
	if err == nil {
		q, err = in.query()
	}
	if err == nil && (in.Format != "csv" && in.Format != "xlsx" || len(in.Columns) == 0 || len(in.Columns) > mostFileColumns) {
		err = msg.New("list.filter")
	}
	var lines table.Table
	if err == nil {
		lines, err = read(s, c, func(tx *store.Tx) (table.Table, error) { return in.lines(tx, c.Param("list"), q, s.Now()) })
	}
	if err != nil {
		s.fail(c, err)
		return
	}
	s.sendTable(c, c.Param("list"), in.Format, lines)
}

// lines are those of a file.
func (f ListFile) lines(tx *store.Tx, list string, q store.ListQuery, now time.Time) (out table.Table, err error) {
	firm, _, err := tx.Company(now)
	if err != nil {
		return out, err
	}
	columns, lines, err := tx.ListLines(list, q, mostInFile+1)
	if err != nil {
		return out, err
	}
	if len(lines) > mostInFile {
		return out, msg.New("list.long", "max", strconv.Itoa(mostInFile))
	}
	kinds := map[string]store.ColumnKind{}
	for _, c := range columns {
		kinds[c.Name] = c.Kind
	}
	for _, c := range f.Columns {
		if kinds[c.Name] == "" {
			return out, msg.New("list.filter")
		}
		out.Columns = append(out.Columns, c.Title)
		out.Kinds = append(out.Kinds, tableKinds[kinds[c.Name]])
	}
	for _, l := range lines {
		row := make([]string, len(f.Columns))
		for i, c := range f.Columns {
			row[i] = l.Cells[c.Name]
			if word, ok := c.Words[row[i]]; ok {
				row[i] = word
			}
			if at, err := time.Parse(time.RFC3339, row[i]); err == nil && kinds[c.Name] == store.MomentColumn {
				row[i] = firm.Zone.In(at).Format(table.MomentForm)
			}
		}
		out.Rows = append(out.Rows, row)
	}
	return out, nil
}

var tableKinds = map[store.ColumnKind]table.Kind{store.NumberColumn: table.Number, store.MinutesColumn: table.Number,
	store.DayColumn: table.Day, store.MomentColumn: table.Moment}

// SavedView is a view of a list that somebody keeps.
type SavedView struct {
	ID   string           `json:"id"`
	View records.ListView `json:"view"`
	Name string           `json:"name"` // of its owner
	Own  bool             `json:"own"`
}

// views lists the views that whoever asks may use: their own, and those that others share.
func (s *Server) views(c *gin.Context) ([]SavedView, error) {
	return read(s, c, func(tx *store.Tx) ([]SavedView, error) {
		docs, err := tx.Of("listview")
		out := []SavedView{}
		for _, d := range docs {
			var v records.ListView
			if err := json.Unmarshal(d.Body, &v); err != nil {
				return nil, err
			}
			own := v.Owner == who(c).PersonID
			if v.Gone || !own && !v.Shared {
				continue
			}
			name, err := tx.NameOf(v.Owner)
			if err != nil {
				return nil, err
			}
			out = append(out, SavedView{d.ID, v, name, own})
		}
		return out, err
	})
}
