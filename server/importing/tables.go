package importing

import (
	"maps"
	"slices"
	"strconv"
	"strings"
	"time"

	"github.com/shopspring/decimal"

	"iter.example/iter/core/ledger"
	"iter.example/iter/core/reading"
	"iter.example/iter/core/records"
	"iter.example/iter/core/stock"
	"iter.example/iter/core/work"
)

// table is one file: its columns, and how a line becomes a record. The files are read in this order, so that a record is there
// before what refers to it.
type table struct {
	file    string
	columns []column
	read    func(*row) error
}

type column struct {
	name     string
	required bool
	what     string // what is expected in it
}

func (t table) names() []string {
	out := make([]string, len(t.columns))
	for i, c := range t.columns {
		out[i] = c.name
	}
	return out
}

func need(name, what string) column { return column{name, true, what} }
func may(name string) column        { return column{name: name} }

var tables = []table{
	{"people.csv", []column{need("id", "a short id such as ann"), need("name", "a name"), may("short"),
		need("roles", "roles, separated by semicolons"), may("phone"), may("van")}, readPerson},
	{"customers.csv", []column{need("number", "a customer number"), need("name", "a name"), may("address"), may("contact"),
		may("contact_role"), may("phone"), may("email")}, readCustomer},
	{"sites.csv", []column{need("number", "a site number"), need("customer", "a customer number"), need("name", "a name"), may("address"),
		may("lat"), may("lon"), may("access"), may("hazard"), may("contact"), may("contact_role"), may("phone"), may("email")}, readSite},
	{"assets.csv", []column{need("number", "an asset number"), need("site", "a site number"), may("parent"), need("name", "a name"),
		may("kind"), may("maker"), may("serial"), may("installed")}, readAsset},
	{"points.csv", []column{need("asset", "an asset number"), need("point", "an id such as discharge"), need("name", "a name"),
		need("unit", "a unit such as bar"), may("alarm_low"), may("warn_low"), may("warn_high"), may("alarm_high")}, readPoint},
	{"parts.csv", []column{need("number", "a part number"), need("name", "a name"), may("category"), need("unit", "a unit such as each"),
		may("price"), may("codes"), may("names"), may("packs"), may("cost"), may("tax"), may("serial"), may("warranty"), may("supplier"),
		may("replaced_by"), may("retired")}, readPart},
	{"levels.csv", []column{need("place", "the id of a place, such as van-ann"), need("part", "a part number"), need("min", "a quantity"),
		need("max", "a quantity")}, readLevel},
	{"stock.csv", []column{need("place", "the id of a place, such as van-ann"), need("part", "a part number"),
		need("quantity", "a quantity")}, readStock},
	{"work_orders.csv", []column{need("number", "a work order number"), need("customer", "a customer number"),
		need("site", "a site number"), may("asset"), need("problem", "a problem or plan"), may("priority"), may("promise_from"),
		may("promise_to"), may("done_by"), need("minutes", "a number of minutes")}, readOrder},
	{"agreements.csv", []column{need("number", "an agreement number"), need("customer", "a customer number"), need("name", "a name"),
		may("assets"), need("from", "a date such as 2026-06-30"), may("to")}, readAgreement},
	{"maintenance_plans.csv", []column{need("number", "a number of the plan"), need("name", "a name"), may("assets"), may("site"),
		may("agreement"), need("problem", "what the work order says"), may("tasks"), need("minutes", "a number of minutes"), may("kind"),
		may("skills"), may("rule"), may("counter"), may("every"), may("from_last"), need("begin", "a date such as 2026-06-30"), may("end"),
		may("before"), may("after"), may("ahead")}, readPlan},
}

// row is one line of a file.
type row struct {
	in     *importer
	file   string
	line   int
	values map[string]string
	failed bool
}

func (r *row) bad(column, expected, found string) {
	r.failed = true
	r.in.add(r.file, r.line, column, expected, found)
}

// has tells whether the file has a column.
func (r *row) has(column string) bool { _, ok := r.values[column]; return ok }

// id reads a value that names a document.
func (r *row) id(column string) string {
	v := r.values[column]
	if v != "" && records.CheckID(v) != nil {
		r.bad(column, "letters, digits and . _ - only, at most 80", v)
	}
	return v
}

// ref reads the id of a record that must be there, in the files or in the company.
func (r *row) ref(column, typ string) string {
	id := r.id(column)
	if id == "" || r.failed {
		return id
	}
	if d, err := r.in.tx.Doc(ledger.Ref{Type: typ, ID: id}); err != nil || d.Body == nil {
		r.bad(column, article(typ)+" that is in the files or was imported before", id)
	}
	return id
}

func (r *row) decimal(column string) *decimal.Decimal {
	v := r.values[column]
	if v == "" {
		return nil
	}
	d, err := reading.Parse(v)
	if err != nil {
		r.bad(column, "a number such as 12.50", v)
		return nil
	}
	return &d
}

func (r *row) degrees(column string, limit float64) float64 {
	v := r.values[column]
	if v == "" {
		return 0
	}
	f, err := strconv.ParseFloat(v, 64)
	if err != nil || !(f >= -limit && f <= limit) {
		r.bad(column, "degrees between "+strconv.FormatFloat(-limit, 'f', -1, 64)+" and "+strconv.FormatFloat(limit, 'f', -1, 64), v)
		return 0
	}
	return f
}

// moment reads a local time such as 2026-03-10 14:00.
func (r *row) moment(column string) time.Time {
	v := r.values[column]
	if v == "" {
		return time.Time{}
	}
	for _, layout := range []string{"2006-01-02 15:04", "2006-01-02T15:04"} {
		if t, err := time.Parse(layout, v); err == nil {
			// The offset that holds then: found from the one at the same moment of UTC, then once more.
			for range 2 {
				_, offset := r.in.zone.In(t).Zone()
				t = time.Date(t.Year(), t.Month(), t.Day(), t.Hour(), t.Minute(), 0, 0, time.FixedZone("", offset))
			}
			return t
		}
	}
	r.bad(column, "a date and time such as 2026-03-10 14:00", v)
	return time.Time{}
}

func (r *row) list(column string) []string {
	var out []string
	for s := range strings.SplitSeq(r.values[column], ";") {
		if s = strings.TrimSpace(s); s != "" {
			out = append(out, s)
		}
	}
	return out
}

// load reads the record there is, so that fields the file does not have stay.
func (r *row) load(ref ledger.Ref, v any) error {
	_, err := r.in.tx.Load(ref.Type, ref.ID, v)
	return err
}

func (r *row) contact(c *records.Contact) {
	*c = records.Contact{Name: r.values["contact"], Role: r.values["contact_role"], Phone: r.values["phone"], Email: r.values["email"]}
}

func readPerson(r *row) error {
	ref := ledger.Ref{Type: "person", ID: r.id("id")}
	var p records.Person
	if err := r.load(ref, &p); err != nil {
		return err
	}
	p.Name, p.Short, p.Phone, p.Roles = r.values["name"], r.values["short"], r.values["phone"], nil
	if p.Short == "" {
		p.Short = p.Name
	}
	for _, role := range r.list("roles") {
		if !slices.Contains(records.Role("").Values(), role) {
			r.bad("roles", "any of "+strings.Join(records.Role("").Values(), ", "), role)
		}
		p.Roles = append(p.Roles, records.Role(role))
	}
	if van := r.values["van"]; van != "" && !r.failed {
		p.Van = "van-" + ref.ID
		if err := r.put(ledger.Ref{Type: "place", ID: p.Van}, stock.Place{Name: van, Kind: "van", Person: ref.ID}); err != nil {
			return err
		}
	}
	return r.put(ref, &p)
}

func readCustomer(r *row) error {
	ref := ledger.Ref{Type: "customer", ID: r.id("number")}
	var c records.Customer
	if err := r.load(ref, &c); err != nil {
		return err
	}
	c.Name, c.Address = r.values["name"], r.values["address"]
	r.contact(&c.Contact)
	return r.put(ref, &c)
}

func readSite(r *row) error {
	ref := ledger.Ref{Type: "site", ID: r.id("number")}
	var s records.Site
	if err := r.load(ref, &s); err != nil {
		return err
	}
	s.Customer, s.Name, s.Address = r.ref("customer", "customer"), r.values["name"], r.values["address"]
	// What nobody says of a place here may have been said otherwise.
	if lat, lon := r.degrees("lat", 90), r.degrees("lon", 180); lat != 0 || lon != 0 {
		s.Lat, s.Lon = lat, lon
	}
	if s.Lat == 0 && s.Lon == 0 && r.in.lookUp != nil && !r.failed {
		if at, known := r.in.lookUp(s.Address); known {
			s.Lat, s.Lon = at.Lat, at.Lon
			r.in.count(r.file, func(r *Result) { r.Found++ })
		}
	}
	s.Access, s.Hazard = r.values["access"], r.values["hazard"]
	r.contact(&s.Contact)
	return r.put(ref, &s)
}

func readAsset(r *row) error {
	ref := ledger.Ref{Type: "asset", ID: r.id("number")}
	var a records.Asset
	if err := r.load(ref, &a); err != nil {
		return err
	}
	a.Site, a.Parent, a.Name = r.ref("site", "site"), r.ref("parent", "asset"), r.values["name"]
	a.Kind, a.Maker, a.Serial, a.Installed = r.values["kind"], r.values["maker"], r.values["serial"], r.values["installed"]
	if _, err := time.Parse(time.DateOnly, a.Installed); a.Installed != "" && err != nil {
		r.bad("installed", "a date such as 2021-06-30", a.Installed)
	}
	return r.put(ref, &a)
}

func readPoint(r *row) error {
	ref := ledger.Ref{Type: "asset", ID: r.ref("asset", "asset")}
	point := reading.Point{ID: r.id("point"), Name: r.values["name"], Unit: r.values["unit"],
		Limits: reading.Limits{AlarmLow: r.decimal("alarm_low"), WarnLow: r.decimal("warn_low"), WarnHigh: r.decimal("warn_high"),
			AlarmHigh: r.decimal("alarm_high")}}
	if r.failed {
		return nil
	}
	var a records.Asset
	if err := r.load(ref, &a); err != nil {
		return err
	}
	if i := slices.IndexFunc(a.Points, func(p reading.Point) bool { return p.ID == point.ID }); i >= 0 {
		a.Points[i] = point
	} else {
		a.Points = append(a.Points, point)
	}
	delete(r.in.seen, ref) // an asset has a line for each of its points
	return r.put(ref, &a)
}

func readPart(r *row) error {
	ref := ledger.Ref{Type: "part", ID: r.id("number")}
	var p stock.Part
	if err := r.load(ref, &p); err != nil {
		return err
	}
	p.Number, p.Name, p.Category, p.Unit, p.Codes = ref.ID, r.values["name"], r.values["category"], r.values["unit"], r.list("codes")
	if price := r.decimal("price"); price != nil {
		p.Price = *price
		if price.IsNegative() {
			r.bad("price", "a price of zero or more", r.values["price"])
		}
	}
	if cost := r.decimal("cost"); cost != nil {
		p.Cost = *cost
	}
	for column, to := range map[string]*[]string{"names": &p.Names} {
		if r.has(column) {
			*to = r.list(column)
		}
	}
	for column, to := range map[string]*string{"tax": &p.Tax, "supplier": &p.Supplier, "replaced_by": &p.ReplacedBy} {
		if r.has(column) {
			*to = r.values[column]
		}
	}
	for column, to := range map[string]*bool{"serial": &p.Serial, "retired": &p.Retired} {
		if v := strings.ToLower(r.values[column]); r.has(column) {
			*to = v == "yes"
			if v != "" && v != "yes" && v != "no" {
				r.bad(column, "yes or no", r.values[column])
			}
		}
	}
	if v := r.values["warranty"]; v != "" {
		months, err := strconv.Atoi(v)
		if err != nil || months < 0 || months > 600 {
			r.bad("warranty", "a number of months", v)
		}
		p.Warranty = months
	}
	if r.has("packs") {
		p.Packs = nil
		for _, pack := range r.list("packs") {
			name, size, _ := strings.Cut(pack, "=")
			q, err := reading.Parse(size)
			if err != nil {
				r.bad("packs", "packs such as box=10;coil=50", pack)
				continue
			}
			p.Packs = append(p.Packs, stock.Pack{Name: strings.TrimSpace(name), Size: q})
		}
	}
	if r.failed {
		return nil
	}
	if err := p.Check(); err != nil {
		r.bad("number", "a part without faults ("+err.Error()+")", ref.ID)
		return nil
	}
	return r.put(ref, &p)
}

// readLevel takes what a place should have of a part.
func readLevel(r *row) error {
	place, part, min, max := r.ref("place", "place"), r.ref("part", "part"), r.decimal("min"), r.decimal("max")
	if r.failed {
		return nil
	}
	level := stock.Levels{Levels: map[string]stock.Level{part: {Min: *min, Max: *max}}}
	if level.Check() != nil {
		r.bad("max", "a quantity not below min", r.values["max"])
		return nil
	}
	ref := ledger.Ref{Type: "levels", ID: place}
	var l stock.Levels
	if err := r.load(ref, &l); err != nil {
		return err
	}
	all := maps.Clone(l.Levels)
	if all == nil {
		all = map[string]stock.Level{}
	}
	all[part] = level.Levels[part]
	delete(r.in.seen, ref) // a place has a line for each part
	return r.put(ref, &stock.Levels{Levels: all})
}

// readStock takes opening balances: what was counted or moved since is not touched by importing the file again.
func readStock(r *row) error {
	place, part, q := r.ref("place", "place"), r.ref("part", "part"), r.decimal("quantity")
	if r.failed {
		return nil
	}
	if !stock.Sensible(*q, true) {
		r.bad("quantity", "a quantity between 0 and 100000", r.values["quantity"])
		return nil
	}
	var s stock.Stock
	ref := ledger.Ref{Type: "stock", ID: place}
	if err := r.load(ref, &s); err != nil {
		return err
	}
	if l := s.Lines[part]; l != nil && l.CountBy != "" {
		r.in.count(r.file, func(x *Result) { x.Same++ })
		return nil
	}
	return r.append("stock.counted", ref, ledger.Count{Part: part, Quantity: *q}, nil, func(x *Result) { x.Created++ })
}

func readOrder(r *row) error {
	ref := ledger.Ref{Type: "workorder", ID: "wo-" + r.id("number")}
	o := work.Order{Number: r.values["number"], Customer: r.ref("customer", "customer"), Site: r.ref("site", "site"),
		Asset:   r.ref("asset", "asset"),
		Problem: r.values["problem"], Priority: work.Priority(r.values["priority"]), PromiseFrom: r.moment("promise_from"),
		PromiseTo: r.moment("promise_to"), DoneBy: r.moment("done_by")}
	if o.Priority == "" {
		o.Priority = work.Normal
	}
	if !slices.Contains(o.Priority.Values(), string(o.Priority)) {
		r.bad("priority", "one of "+strings.Join(o.Priority.Values(), ", "), string(o.Priority))
	}
	minutes, err := strconv.Atoi(r.values["minutes"])
	if err != nil || minutes < 1 || minutes > work.MaxMinutes {
		r.bad("minutes", "minutes between 1 and "+strconv.Itoa(work.MaxMinutes), r.values["minutes"])
	}
	o.Minutes = minutes
	o.Sheets = r.in.sheets
	var old work.Order
	if known, err := r.in.tx.Load("workorder", ref.ID, &old); err != nil {
		return err
	} else if known {
		if old.Customer != o.Customer || old.Site != o.Site || old.Problem != o.Problem {
			r.bad("number", "a new number (this work order exists, with other content)", o.Number)
			return nil
		}
		r.in.count(r.file, func(x *Result) { x.Same++ })
		return nil
	}
	if r.failed {
		return nil
	}
	return r.append("work.opened", ref, o, nil, func(x *Result) { x.Created++ })
}

func article(noun string) string {
	if strings.ContainsRune("aeiou", rune(noun[0])) {
		return "an " + noun
	}
	return "a " + noun
}
