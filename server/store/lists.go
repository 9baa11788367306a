package store

import (
	"cmp"
	"encoding/json"
	"fmt"
	"slices"
	"strconv"
	"strings"
	"time"
	"unicode/utf8"

	"iter.example/iter/core/msg"
	"iter.example/iter/core/records"
	"iter.example/iter/server/spelling"
)

// ColumnKind is what a column of a list has in it.
type ColumnKind string

const (
	TextColumn    ColumnKind = "text"
	CodeColumn    ColumnKind = "code"    // one of a few values, which the screen has words for
	RecordColumn  ColumnKind = "record"  // a record by its name; its id is in the cell with _id after the column's name
	NumberColumn  ColumnKind = "number"  // decimal
	MinutesColumn ColumnKind = "minutes" // whole minutes
	MomentColumn  ColumnKind = "moment"  // RFC 3339, UTC
	DayColumn     ColumnKind = "day"     // 2006-01-02
	YesColumn     ColumnKind = "yes"     // "1", or "0"
)

// Values lists the kinds, for generated types.
func (ColumnKind) Values() []string {
	return []string{string(TextColumn), string(CodeColumn), string(RecordColumn), string(NumberColumn), string(MinutesColumn),
		string(MomentColumn), string(DayColumn), string(YesColumn)}
}

// Column is a column of a list.
type Column struct {
	Name string     `json:"name"`
	Kind ColumnKind `json:"kind"`
	Of   string     `json:"of,omitempty"`  // the type of record that it names
	Sum  bool       `json:"sum,omitempty"` // whether adding it up says something

	sql  string // what it shows; as the name when left out
	id   string // the id of the record that it names
	sort string // what it is sorted by, when that is not what it shows
	by   string // what it is grouped and filtered by: the id, the day of a moment, or what it shows
}

// list is what the office browses: records of a type under columns.
type list struct {
	from    string
	words   string // lines in whose text something holds, as SQL
	columns []Column
	order   string // what it is sorted by when nobody says
}

const nameOfPerson = "(SELECT name FROM people WHERE id = %s)"

func person(name, column string) Column {
	by := fmt.Sprintf(nameOfPerson, column)
	return Column{Name: name, Kind: RecordColumn, Of: "person", sql: "coalesce(" + by + ", '')", id: column}
}

func record(name, of, id, sql string) Column {
	return Column{Name: name, Kind: RecordColumn, Of: of, id: id, sql: sql}
}

// inFound finds lines by the text that finds records of a type.
func inFound(typ string) string {
	return "id IN (SELECT id FROM found WHERE type = '" + typ + "' AND %s)"
}

const openOrders = "(SELECT count(*) FROM workorders w WHERE w.%s = %s AND w.state NOT IN ('closed', 'cancelled'))"

// lists are those there are, by name.
var lists = map[string]list{
	"orders": {from: "workorders", words: "%s", order: "-number", columns: []Column{
		{Name: "number", Kind: RecordColumn, Of: "workorder", sql: "label", id: "id", sort: "number"},
		{Name: "problem", Kind: TextColumn},
		{Name: "state", Kind: CodeColumn},
		record("customer", "customer", "customer", "customer_name"),
		record("site", "site", "site", "site_name"),
		record("asset", "asset", "asset", "asset_name"),
		{Name: "priority", Kind: CodeColumn, sort: "CASE priority WHEN 'emergency' THEN 0 WHEN 'soon' THEN 1 ELSE 2 END"},
		{Name: "urgency", Kind: CodeColumn},
		{Name: "kind", Kind: CodeColumn},
		{Name: "opened", Kind: MomentColumn, by: "opened_day"},
		{Name: "promise", Kind: MomentColumn, by: "promise_day"},
		{Name: "held", Kind: DayColumn},
		{Name: "theirs", Kind: TextColumn},
		person("responsible", "responsible"),
		{Name: "visits", Kind: NumberColumn, Sum: true},
		{Name: "minutes", Kind: MinutesColumn, Sum: true},
	}},
	"visits": {from: "visits", words: "workorder IN (SELECT id FROM workorders WHERE %s)", order: "-start", columns: []Column{
		{Name: "start", Kind: MomentColumn, by: "day"},
		{Name: "number", Kind: RecordColumn, Of: "workorder", sql: "label", id: "workorder", sort: "number"},
		{Name: "problem", Kind: TextColumn},
		{Name: "stage", Kind: CodeColumn},
		{Name: "outcome", Kind: CodeColumn},
		person("technician", "technician"),
		record("customer", "customer", "customer", "customer_name"),
		record("site", "site", "site", "site_name"),
		{Name: "priority", Kind: CodeColumn, sort: "CASE priority WHEN 'emergency' THEN 0 WHEN 'soon' THEN 1 ELSE 2 END"},
		{Name: "kind", Kind: CodeColumn},
		{Name: "ended", Kind: MomentColumn, by: "ended_day"},
		{Name: "reviewed", Kind: YesColumn},
		{Name: "unsigned", Kind: YesColumn},
		{Name: "minutes", Kind: MinutesColumn, Sum: true},
	}},
	"customers": {from: "customers", words: inFound("customer"), order: "name", columns: []Column{
		record("name", "customer", "id", "name"),
		{Name: "address", Kind: TextColumn},
		{Name: "contact", Kind: TextColumn},
		{Name: "phone", Kind: TextColumn},
		{Name: "sites", Kind: NumberColumn, Sum: true, sql: "(SELECT count(*) FROM sites s WHERE s.customer = customers.id)"},
		{Name: "open", Kind: NumberColumn, Sum: true, sql: fmt.Sprintf(openOrders, "customer", "customers.id")},
	}},
	"sites": {from: "sites", words: inFound("site"), order: "name", columns: []Column{
		record("name", "site", "id", "name"),
		record("customer", "customer", "customer", "customer_name"),
		{Name: "address", Kind: TextColumn},
		{Name: "contact", Kind: TextColumn},
		{Name: "phone", Kind: TextColumn},
		{Name: "hazard", Kind: TextColumn},
		{Name: "placed", Kind: YesColumn},
		{Name: "assets", Kind: NumberColumn, Sum: true, sql: "(SELECT count(*) FROM assets_by_site a WHERE a.site = sites.id)"},
		{Name: "open", Kind: NumberColumn, Sum: true, sql: fmt.Sprintf(openOrders, "site", "sites.id")},
	}},
	"assets": {from: "assets", words: inFound("asset"), order: "name", columns: []Column{
		record("name", "asset", "id", "name"),
		{Name: "kind", Kind: TextColumn, sql: "kind_name"},
		{Name: "maker", Kind: TextColumn},
		{Name: "serial", Kind: TextColumn},
		record("site", "site", "site", "site_name"),
		record("customer", "customer", "customer", "customer_name"),
		{Name: "installed", Kind: DayColumn},
		{Name: "warranty", Kind: DayColumn},
		{Name: "removed", Kind: DayColumn},
	}},
	"people": {from: "people", words: inFound("person"), order: "name", columns: []Column{
		{Name: "name", Kind: TextColumn},
		{Name: "short", Kind: TextColumn},
		{Name: "roles", Kind: CodeColumn},
		{Name: "phone", Kind: TextColumn},
	}},
	"parts": {from: "parts", words: inFound("part"), order: "number", columns: []Column{
		record("number", "part", "id", "number"),
		{Name: "name", Kind: TextColumn},
		{Name: "category", Kind: TextColumn},
		{Name: "unit", Kind: TextColumn},
		{Name: "price", Kind: NumberColumn, sort: "CAST(price AS REAL)"},
		{Name: "supplier", Kind: TextColumn},
		{Name: "retired", Kind: YesColumn},
	}},
}

// ListNames are the lists, those asked for most first.
var ListNames = []string{"orders", "visits", "customers", "sites", "assets", "people", "parts"}

func (c Column) shown() string { return cmp.Or(c.sql, c.Name) }

// grouping is what lines are grouped and filtered by: days of moments, ids of records.
func (c Column) grouping() string { return cmp.Or(c.by, c.id, c.shown()) }

func (l list) column(name string) (Column, bool) {
	i := slices.IndexFunc(l.columns, func(c Column) bool { return c.Name == name })
	if i < 0 {
		return Column{}, false
	}
	return l.columns[i], true
}

// Filter is what a column of a line must have: one of some values, or something from a bound on and up to one, both included.
type Filter struct {
	Column string   `json:"column"`
	In     []string `json:"in,omitempty"` // ids of records, codes, days
	From   string   `json:"from,omitempty"`
	To     string   `json:"to,omitempty"`
}

// ListQuery is what is asked of a list.
type ListQuery struct {
	Words string   // that lines have in them
	Where []Filter // all of which hold
	IDs   []string // of the lines; nil: whatever they are
	Sort  string   // a column, after - the other way round; "" as the list has it
	Page  int      // from 0
}

// ListPage is a page of a list.
type ListPage struct {
	Columns []Column          `json:"columns"`
	Lines   []ListLine        `json:"lines"`
	Total   int               `json:"total"` // lines on all pages
	Sums    map[string]string `json:"sums"`  // over all pages
}

// ListLine is a line of a list: what each column has, and the ids of the records that it names.
type ListLine struct {
	ID    string            `json:"id"`
	Cells map[string]string `json:"cells"`
}

// ListGroup is the lines that have the same in a column.
type ListGroup struct {
	Value string            `json:"value"` // for a filter
	Name  string            `json:"name"`  // of a record; else as the value
	Count int               `json:"count"`
	Sums  map[string]string `json:"sums"`
}

const (
	// PageLines is how many lines a page has.
	PageLines = 100
	// maxGroups is how many groups are told.
	maxGroups = 200
	maxFilter = 200 // values, and columns
)

// asked is a query as SQL.
type asked struct {
	list
	where string
	args  []any
}

// ask turns a query into SQL. The error is a *msg.Code when there is no such list or column.
func (t *Tx) ask(name string, q ListQuery) (a asked, err error) {
	l, ok := lists[name]
	if !ok {
		return a, msg.New("list.unknown", "list", records.Clip(name))
	}
	a.list = l
	conditions := []string{"1"}
	add := func(condition string, args ...any) {
		conditions, a.args = append(conditions, condition), append(a.args, args...)
	}
	if len(q.Where) > maxFilter {
		return a, msg.New("list.filter")
	}
	for _, f := range q.Where {
		c, ok := l.column(f.Column)
		if !ok || len(f.In) > maxFilter {
			return a, msg.New("list.filter")
		}
		if f.In != nil {
			by := c.grouping()
			if c.Kind == NumberColumn || c.Kind == MinutesColumn {
				by = "CAST(" + by + " AS TEXT)" // values are texts
			}
			add(by+" IN ("+strings.TrimSuffix(strings.Repeat("?,", len(f.In)), ",")+")", anys(f.In)...)
		}
		bound := func(s string) (any, error) {
			if c.Kind != NumberColumn && c.Kind != MinutesColumn {
				return s, nil
			}
			n, err := strconv.ParseFloat(s, 64)
			return n, err
		}
		for sign, text := range map[string]string{">=": f.From, "<=": f.To} {
			if text == "" {
				continue
			}
			to, err := bound(text)
			if err != nil {
				return a, msg.New("list.filter")
			}
			by := c.grouping()
			if c.Kind == NumberColumn {
				by = "CAST(" + by + " AS REAL)"
			}
			add(by+" "+sign+" ? AND "+by+" <> ''", to)
		}
	}
	if q.IDs != nil {
		ids, err := json.Marshal(q.IDs)
		if err != nil {
			return a, err
		}
		add("id IN (SELECT value FROM json_each(?))", string(ids))
	}
	if strings.TrimSpace(q.Words) != "" {
		condition, args := worded("text", q.Words)
		add(fmt.Sprintf(l.words, condition), args...)
	}
	a.where = strings.Join(conditions, " AND ")
	return a, t.flush()
}

// worded are the conditions for text to have words in it, as they are typed: short ones are beginnings of words, others any part of one.
func worded(text, typed string) (condition string, args []any) {
	if number := phone(typed); number != "" {
		return "instr(" + text + ", ?)", []any{number}
	}
	condition = "1"
	for _, w := range spelling.Sought(typed) {
		if utf8.RuneCountInString(w) < leastPart {
			condition += " AND instr(' ' || " + text + ", ' ' || ?)"
		} else {
			condition += " AND instr(" + text + ", ?)"
		}
		args = append(args, w)
	}
	return condition, args
}

func anys(list []string) []any {
	out := make([]any, len(list))
	for i, s := range list {
		out[i] = s
	}
	return out
}

// sums are what is added up of a list, as SQL.
func (l list) sums() (names []string, sql string) {
	for _, c := range l.columns {
		if c.Sum {
			names = append(names, c.Name)
			sql += ", coalesce(sum(" + c.shown() + "), 0)"
		}
	}
	return names, sql
}

// cells is what a line has, as SQL: the names of the cells, and what is selected.
func (l list) cells() (names []string, sql string) {
	for _, c := range l.columns {
		names, sql = append(names, c.Name), sql+", "+c.shown()
		if c.id != "" {
			names, sql = append(names, c.Name+"_id"), sql+", "+c.id
		}
	}
	return names, sql
}

// sorted is the order of lines, as SQL. Few of many are found sooner by reading all than in the order of an index.
func (l asked) sorted(by string) (string, error) {
	name, down := strings.CutPrefix(cmp.Or(by, l.order), "-")
	c, ok := l.column(name)
	if !ok {
		return "", msg.New("list.filter")
	}
	text := cmp.Or(c.sort, c.shown())
	if len(l.args) > 0 {
		text = "+" + text
	}
	if c.Kind == TextColumn || c.Kind == RecordColumn && c.sort == "" {
		text += " COLLATE NOCASE"
	}
	if down {
		return text + " DESC, id DESC", nil
	}
	return text + ", id", nil
}

// ListPage gives a page of a list.
func (t *Tx) ListPage(name string, q ListQuery) (*ListPage, error) {
	a, err := t.ask(name, q)
	if err != nil {
		return nil, err
	}
	page := &ListPage{Columns: a.columns, Lines: []ListLine{}, Sums: map[string]string{}}
	added, sums := a.sums()
	counts := make([]string, len(added))
	to := []any{&page.Total}
	for i := range counts {
		to = append(to, &counts[i])
	}
	if err := t.row(built+"SELECT count(*)"+sums+" FROM "+a.from+" WHERE "+a.where, a.args...).Scan(to...); err != nil {
		return nil, err
	}
	for i, n := range added {
		page.Sums[n] = counts[i]
	}
	page.Lines, err = t.lines(a, q.Sort, PageLines, max(0, q.Page)*PageLines)
	return page, err
}

// ListLines gives the first lines of a list.
func (t *Tx) ListLines(name string, q ListQuery, most int) ([]Column, []ListLine, error) {
	a, err := t.ask(name, q)
	if err != nil {
		return nil, nil, err
	}
	lines, err := t.lines(a, q.Sort, most, 0)
	return a.columns, lines, err
}

func (t *Tx) lines(a asked, sort string, limit, offset int) ([]ListLine, error) {
	order, err := a.sorted(sort)
	if err != nil {
		return nil, err
	}
	names, cells := a.cells()
	// The lines of the page are found first, and what costs more is looked up for them alone.
	query := built + "SELECT id" + cells + " FROM " + a.from + " WHERE id IN (SELECT id FROM " + a.from + " WHERE " + a.where +
		" ORDER BY " + order + " LIMIT ? OFFSET ?) ORDER BY " + order
	return collect(t, func(row interface{ Scan(...any) error }) (ListLine, error) {
		l := ListLine{Cells: make(map[string]string, len(names))}
		values := make([]string, len(names))
		to := []any{&l.ID}
		for i := range values {
			to = append(to, &values[i])
		}
		err := row.Scan(to...)
		for i, v := range values {
			if v != "" {
				l.Cells[names[i]] = v
			}
		}
		return l, err
	}, query, append(slices.Clone(a.args), limit, offset)...)
}

// ListGroups counts the lines of a list by what they have in a column, the largest group first; days the latest first. cut tells that there
// are more groups.
func (t *Tx) ListGroups(name, column string, q ListQuery) (out []ListGroup, cut bool, err error) {
	a, err := t.ask(name, q)
	if err != nil {
		return nil, false, err
	}
	c, ok := a.column(column)
	if !ok {
		return nil, false, msg.New("list.filter")
	}
	order := "3 DESC, 2"
	if c.Kind == MomentColumn || c.Kind == DayColumn {
		order = "1 DESC"
	}
	called := "''"
	if c.id != "" {
		called = "min(" + c.shown() + ")"
	}
	added, sums := a.sums()
	out, err = collect(t, func(row interface{ Scan(...any) error }) (ListGroup, error) {
		g := ListGroup{Sums: map[string]string{}}
		counts := make([]string, len(added))
		to := []any{&g.Value, &g.Name, &g.Count}
		for i := range counts {
			to = append(to, &counts[i])
		}
		err := row.Scan(to...)
		for i, n := range added {
			g.Sums[n] = counts[i]
		}
		g.Name = cmp.Or(g.Name, g.Value)
		return g, err
	}, built+"SELECT "+c.grouping()+", "+called+", count(*)"+sums+" FROM "+a.from+" WHERE "+a.where+" GROUP BY +"+c.grouping()+
		" ORDER BY "+order+" LIMIT ?",
		append(a.args, maxGroups+1)...)
	if len(out) > maxGroups {
		return out[:maxGroups], true, err
	}
	return out, false, err
}

// listOrder keeps the line of a work order in lists, and what the lines of its visits say of it. text is what finds it.
func (t *Tx) listOrder(id string, w Work, text string) error {
	o := w.Order
	var a records.Asset
	if _, err := t.Load("asset", o.Asset, &a); err != nil {
		return err
	}
	promise, promiseDay := "", ""
	if by := o.Promised(); !by.IsZero() {
		promise, promiseDay = utc(by), by.Format(time.DateOnly)
	}
	_, dueBy, _ := o.Window()
	number, _ := strconv.Atoi(o.Number) // a number of the company's own that is no number sorts first
	problem := shorten(o.Problem)
	if _, err := t.exec(`INSERT INTO workorders (id, number, priority, opened, promise, customer, site, label, problem, kind, urgency, asset,
		theirs, responsible, minutes, visits, opened_day, promise_day, customer_name, site_name, asset_name, text, undertaking, due_by)
		VALUES (?,?,?,?,?,?,?,?,?,?,?,?,?,?,?,?,?,?,?,?,?,?,?,?) ON CONFLICT (id) DO UPDATE SET number = excluded.number,
		priority = excluded.priority, opened = excluded.opened, promise = excluded.promise, customer = excluded.customer,
		site = excluded.site, label = excluded.label, problem = excluded.problem, kind = excluded.kind, urgency = excluded.urgency,
		asset = excluded.asset, theirs = excluded.theirs, responsible = excluded.responsible, minutes = excluded.minutes,
		visits = excluded.visits, opened_day = excluded.opened_day, promise_day = excluded.promise_day,
		customer_name = excluded.customer_name, site_name = excluded.site_name, asset_name = excluded.asset_name,
		text = excluded.text, undertaking = excluded.undertaking, due_by = excluded.due_by`,
		id, number, o.Priority, utc(o.OpenedAt), promise, o.Customer, o.Site, o.Number, problem, o.Kind, o.Urgency, o.Asset, o.Theirs,
		o.Responsible, o.Minutes, len(o.Visits), o.OpenedAt.Format(time.DateOnly), promiseDay, w.Customer.Name, w.Site.Name,
		a.Name, text, o.Undertaking, dueBy); err != nil {
		return err
	}
	if err := t.indexDue(id, o); err != nil {
		return err
	}
	_, err := t.exec(`UPDATE visits SET number = ?2, label = ?3, problem = ?4, kind = ?5, priority = ?6, customer = ?7, customer_name = ?8,
		site = ?9, site_name = ?10 WHERE workorder = ?1 AND (number, label, problem, kind, priority, customer, customer_name, site, site_name)
		IS NOT (?2, ?3, ?4, ?5, ?6, ?7, ?8, ?9, ?10)`, id, number, o.Number, problem, o.Kind, o.Priority, o.Customer, w.Customer.Name, o.Site,
		w.Site.Name)
	return err
}
