package store

import (
	"cmp"
	"database/sql"
	"errors"
	"slices"
	"strings"
	"time"
	"unicode/utf8"

	"iter.example/iter/core/ledger"
	"iter.example/iter/core/records"
	"iter.example/iter/core/stock"
	"iter.example/iter/server/spelling"
)

// Records are found by parts of their words, in any order: by whole words and their beginnings first, then by any three letters in a row,
// and when little is found that way by words that are a slip or two away (spelling).

const (
	// A telephone number, as a display shows it or a person writes it, has so many digits; these many at its end tell it from others.
	leastPhone  = 6
	phoneDigits = 8
	// leastPart is how many letters of a word are found inside another.
	leastPart = 3
	// deep is how many records of a type are looked at, the latest first, before the best are taken.
	deep = 60
	// few found so many are few enough to look for slips.
	few = 3
)

// phone is the end of a telephone number, when a text is one.
func phone(text string) string {
	d := spelling.Digits(text)
	if len(d) < leastPhone || strings.Trim(text, "0123456789 +()-./") != "" {
		return ""
	}
	return d[max(0, len(d)-phoneDigits):] // whatever country or trunk code it came with
}

// findable is a record as it is found: what it is called, what stands beside that, and what else finds it.
type findable struct {
	typ, id, owner, title, detail string
	text                          []string
	at                            time.Time
}

// tags are the types in the index of parts.
var tags = map[string]string{"customer": "CUS", "site": "SIT", "asset": "AST", "workorder": "ORD", "person": "PER", "part": "PAR",
	"paper": "PAP", "knowhow": "KNO"}

// FindableTypes lists the types of what is found, those asked for most on the telephone first.
var FindableTypes = []string{"customer", "site", "workorder", "asset", "person", "part", "knowhow", "paper"}

// findable has a record found.
func (t *Tx) findable(f findable) error {
	text := f.words()
	t.spelled = append(t.spelled, strings.Fields(text)...)
	_, err := t.exec(`INSERT INTO found (type, id, owner, title, detail, text, at, tag) VALUES (?,?,?,?,?,?,?,?) ON CONFLICT (type, id)
		DO UPDATE SET owner = excluded.owner, title = excluded.title, detail = excluded.detail, text = excluded.text, at = excluded.at`,
		f.typ, f.id, f.owner, shorten(f.title), shorten(f.detail), text, utc(f.at), tags[f.typ])
	return err
}

// words are all that finds a record, each once, with a space between.
func (f findable) words() string {
	all := spelling.Words(f.title + " " + f.detail + " " + strings.Join(f.text, " "))
	slices.Sort(all)
	return strings.Join(slices.Compact(all), " ")
}

// differs tells whether a row is not yet there as it is to be: query asks whether it is.
func (t *Tx) differs(query string, args ...any) (bool, error) {
	var same bool
	err := t.row(query, args...).Scan(&same)
	if errors.Is(err, sql.ErrNoRows) {
		return true, nil
	}
	return !same, err
}

// maxTitle is how much is kept of what a record is called, in characters.
const maxTitle = 120

func shorten(s string) string {
	if r := []rune(s); len(r) > maxTitle {
		return string(r[:maxTitle]) + "…"
	}
	return s
}

// notFound takes a customer, site or machine out of what is found and listed: it turned out to be another, or was never there.
func (t *Tx) notFound(typ, id string) error {
	if _, err := t.exec("DELETE FROM "+typ+"s WHERE id = ?", id); err != nil {
		return err
	}
	if _, err := t.exec("DELETE FROM found WHERE type = ? AND id = ?", typ, id); err != nil {
		return err
	}
	return t.papers(ledger.Ref{Type: typ, ID: id}, "", nil)
}

func contacts(all ...records.Contact) (out []string) {
	for _, c := range all {
		out = append(out, c.Name, spelling.Digits(c.Phone), c.Email)
	}
	return out
}

// papers have the papers of a record found.
func (t *Tx) papers(of ledger.Ref, called string, papers map[string]records.Document) error {
	if _, err := t.exec("DELETE FROM found WHERE owner = ? AND owner <> ''", of.String()); err != nil {
		return err
	}
	for hash, p := range papers {
		line := findable{typ: "paper", id: of.String() + "/" + hash, owner: of.String(), title: p.Name, detail: called}
		if err := t.findable(line); err != nil {
			return err
		}
	}
	return nil
}

// indexCustomer has a customer found, and with another name their sites too.
func (t *Tx) indexCustomer(id string) error {
	var c records.Customer
	if _, err := t.Load("customer", id, &c); err != nil {
		return err
	}
	if c.Merged != "" {
		return t.notFound("customer", id)
	}
	renamed, err := t.differs("SELECT name = ? FROM customers WHERE id = ?", c.Name, id)
	if err != nil {
		return err
	}
	if _, err := t.exec("INSERT OR REPLACE INTO customers (id, name, address, contact, phone) VALUES (?,?,?,?,?)", id, c.Name, c.Address,
		c.Contact.Name, c.Contact.Phone); err != nil {
		return err
	}
	people := append([]records.Contact{c.Contact}, c.People...)
	if err := t.findable(findable{typ: "customer", id: id, title: c.Name, detail: c.Address, text: append(contacts(people...),
		id)}); err != nil || !renamed {
		return err
	}
	return t.each(func(site string) error { return t.findSite(site, true) }, "SELECT id FROM sites WHERE customer = ?", id)
}

func (t *Tx) indexSite(id string) error { return t.findSite(id, false) }

// findSite has a site found, with its papers; and the machines and work orders at it too when it has another name or customer, or its
// customer another name.
func (t *Tx) findSite(id string, renamed bool) error {
	var s records.Site
	var c records.Customer
	if _, err := t.Load("site", id, &s); err != nil {
		return err
	}
	if s.Merged != "" {
		return t.notFound("site", id)
	}
	if _, err := t.Load("customer", s.Customer, &c); err != nil {
		return err
	}
	another, err := t.differs("SELECT name = ? AND customer = ? FROM sites WHERE id = ?", s.Name, s.Customer, id)
	if err != nil {
		return err
	}
	if _, err := t.exec(`INSERT OR REPLACE INTO sites (id, name, customer, customer_name, address, contact, phone, hazard, placed)
		VALUES (?,?,?,?,?,?,?,?,?)`, id, s.Name, s.Customer, c.Name, s.Address, s.Contact.Name, s.Contact.Phone, shorten(s.Hazard),
		s.Lat != 0 || s.Lon != 0); err != nil {
		return err
	}
	people := append([]records.Contact{s.Contact}, s.People...)
	if err := t.findable(findable{typ: "site", id: id, title: s.Name, detail: joined(c.Name, s.Address),
		text: append(contacts(people...), id)}); err != nil {
		return err
	}
	if err := t.papers(ledger.Ref{Type: "site", ID: id}, s.Name, s.Documents); err != nil {
		return err
	}
	if !another && !renamed {
		return nil
	}
	if err := t.each(t.findAsset, "SELECT id FROM assets WHERE site = ?", id); err != nil {
		return err
	}
	return t.each(t.findOrder, "SELECT id FROM workorders WHERE site = ?", id)
}

// each does something for each id that a query gives.
func (t *Tx) each(do func(id string) error, query string, args ...any) error {
	ids, err := collect(t, scanString, query, args...)
	for _, id := range ids {
		if err == nil {
			err = do(id)
		}
	}
	return err
}

func (t *Tx) indexAsset(id string) error {
	var a records.Asset
	if _, err := t.Load("asset", id, &a); err != nil {
		return err
	}
	if _, err := t.exec("DELETE FROM assets_by_site WHERE asset = ?", id); err != nil {
		return err
	}
	if !a.Struck && a.Removed == "" && a.Merged == "" {
		if _, err := t.exec("INSERT INTO assets_by_site (site, asset) VALUES (?,?)", a.Site, id); err != nil {
			return err
		}
	}
	return t.findAsset(id)
}

// indexAssetKind has the machines of a kind found by its name.
func (t *Tx) indexAssetKind(id string) error {
	return t.each(t.findAsset, "SELECT id FROM assets WHERE kind = ?", id)
}

// findAsset has a machine found, with its papers. One that was never fitted, or turned out to be another, is not.
func (t *Tx) findAsset(id string) error {
	var a records.Asset
	var s records.Site
	var c records.Customer
	var k records.AssetKind
	if _, err := t.Load("asset", id, &a); err != nil {
		return err
	}
	if _, err := t.exec("UPDATE workorders SET asset_name = ?1 WHERE asset = ?2 AND asset <> '' AND asset_name <> ?1", a.Name,
		id); err != nil {
		return err
	}
	if a.Struck || a.Merged != "" {
		return t.notFound("asset", id)
	}
	if _, err := t.Load("site", a.Site, &s); err != nil {
		return err
	}
	if _, err := t.Load("customer", s.Customer, &c); err != nil {
		return err
	}
	if _, err := t.Load("assetkind", a.Kind, &k); err != nil {
		return err
	}
	if _, err := t.exec(`INSERT OR REPLACE INTO assets (id, name, kind, kind_name, maker, serial, site, site_name, customer, customer_name,
		installed, warranty, removed) VALUES (?,?,?,?,?,?,?,?,?,?,?,?,?)`, id, a.Name, a.Kind, k.Name, a.Maker, a.Serial, a.Site, s.Name,
		s.Customer, c.Name, a.Installed, a.Warranty, a.Removed); err != nil {
		return err
	}
	if err := t.findable(findable{typ: "asset", id: id, title: a.Name, detail: joined(a.Serial, a.Maker, s.Name), text: []string{k.Name,
		id}}); err != nil {
		return err
	}
	return t.papers(ledger.Ref{Type: "asset", ID: id}, joined(a.Name, s.Name), a.Documents)
}

// findOrder has a work order found.
func (t *Tx) findOrder(id string) error {
	w, err := t.Work(id)
	if err != nil {
		return err
	}
	text := []string{w.Customer.Name, w.Order.Theirs}
	for _, x := range w.Order.AllTasks() {
		text = append(text, x.Name)
	}
	f := findable{typ: "workorder", id: id, title: strings.TrimSpace(w.Order.Number + " " + w.Order.Problem),
		detail: joined(w.Site.Name, w.Customer.Name), text: text, at: w.Order.OpenedAt}
	if err := t.listOrder(id, w, f.words()); err != nil {
		return err
	}
	return t.findable(f)
}

func (t *Tx) indexPerson(id string) error {
	var p records.Person
	if _, err := t.Load("person", id, &p); err != nil {
		return err
	}
	roles := make([]string, len(p.Roles))
	for i, r := range p.Roles {
		roles[i] = string(r)
	}
	_, err := t.exec("INSERT OR REPLACE INTO people (id, name, short, roles, phone) VALUES (?,?,?,?,?)", id, p.Name, p.Short,
		strings.Join(roles, ","), p.Phone)
	if err != nil {
		return err
	}
	err = t.findable(findable{typ: "person", id: id, title: p.Name, detail: p.Phone, text: []string{p.Short, spelling.Digits(p.Phone), id}})
	return err
}

func (t *Tx) indexPart(id string) error {
	var p stock.Part
	if _, err := t.Load("part", id, &p); err != nil {
		return err
	}
	if _, err := t.exec(`INSERT OR REPLACE INTO parts (id, number, name, category, unit, price, supplier, retired) VALUES (?,?,?,?,?,?,?,?)`,
		id, p.Number, p.Name, p.Category, p.Unit, p.Price.String(), p.Supplier, p.Retired); err != nil {
		return err
	}
	if err := t.findable(findable{typ: "part", id: id, title: p.Name, detail: joined(p.Number, p.Category), text: append(slices.Concat(
		p.Names, p.Codes), p.Supplier)}); err != nil {
		return err
	}
	return t.papers(ledger.Ref{Type: "part", ID: id}, p.Name, p.Documents)
}

// indexKnowHow has know-how found.
func (t *Tx) indexKnowHow(id string) error {
	var k records.KnowHow
	if _, err := t.Load("knowhow", id, &k); err != nil {
		return err
	}
	if err := t.findable(findable{typ: "knowhow", id: id, title: k.Title, detail: shorten(k.Text)}); err != nil {
		return err
	}
	return t.papers(ledger.Ref{Type: "knowhow", ID: id}, k.Title, k.Documents)
}

// joined puts what there is of some words into a line.
func joined(parts ...string) string {
	return strings.Join(slices.DeleteFunc(parts, func(s string) bool { return s == "" }), " · ")
}

// Hit is a record that was found.
type Hit struct {
	Type   string `json:"type"`
	ID     string `json:"id"`
	Title  string `json:"title"`  // what it is called
	Detail string `json:"detail"` // what tells it from others of that name
	// Slip tells that what was typed is not in it, but what is spelled nearly so.
	Slip bool `json:"slip,omitempty"`

	at    string
	text  string
	score int
}

// Found is what was found: of each type as many as were asked for, the best first.
type Found struct {
	Hits []Hit    `json:"hits"`
	Cut  []string `json:"cut"` // types of which there may be more
}

// FindRecords finds records of some types in whose text every word of text occurs, or that have the telephone number: most of each type.
func (t *Tx) FindRecords(text string, types []string, most int) (Found, error) {
	out := Found{Hits: []Hit{}, Cut: []string{}}
	list := spelling.Sought(text)
	if len(list) == 0 {
		return out, nil
	}
	if err := t.flush(); err != nil {
		return out, err
	}
	total := 0
	found := map[string][]Hit{}
	for _, typ := range types {
		hits, err := t.findPlain(typ, text, list)
		if err != nil {
			return out, err
		}
		found[typ] = hits
		total += len(hits)
	}
	if total < few {
		near, err := t.near(list)
		if err != nil {
			return out, err
		}
		for _, typ := range types {
			if found[typ], err = t.findNear(typ, found[typ], near, list); err != nil {
				return out, err
			}
		}
	}
	for _, typ := range types {
		hits := found[typ]
		slices.SortFunc(hits, func(a, b Hit) int {
			return cmp.Or(cmp.Compare(b.score, a.score), strings.Compare(b.at, a.at), strings.Compare(a.Title, b.Title), strings.Compare(a.ID, b.ID))
		})
		if len(hits) > most {
			out.Cut, hits = append(out.Cut, typ), hits[:most]
		}
		out.Hits = append(out.Hits, hits...)
	}
	return out, nil
}

// findPlain finds records of a type by words as they were typed.
func (t *Tx) findPlain(typ, text string, list []string) ([]Hit, error) {
	var hits []Hit
	add := func(from, match string) error {
		more, err := t.match(from, match)
		for _, h := range more {
			if h.score = rank(h, list); !slices.ContainsFunc(hits, func(x Hit) bool { return x.ID == h.ID }) && h.score > 0 {
				hits = append(hits, h)
			}
		}
		return err
	}
	if number := phone(text); number != "" {
		more, err := t.match("found_parts", inParts(typ, quoted(number)))
		if err != nil {
			return nil, err
		}
		for _, h := range more {
			h.score = 1000
			hits = append(hits, h)
		}
	}
	if err := add("found_words", inWords(typ, conjoined(list, quoted))); err != nil || len(hits) >= deep {
		return hits, err
	}
	long := slices.DeleteFunc(slices.Clone(list), func(w string) bool { return utf8.RuneCountInString(w) < leastPart })
	if len(long) == 0 {
		return hits, add("found_words", inWords(typ, conjoined(list, func(w string) string { return quoted(w) + " *" })))
	}
	return hits, add("found_parts", inParts(typ, conjoined(long, quoted)))
}

// findNear adds to what was found of a type what has words that are nearly those that were typed.
func (t *Tx) findNear(typ string, hits []Hit, near [][]string, list []string) ([]Hit, error) {
	if near == nil {
		return hits, nil
	}
	each := make([]string, len(near))
	for i, spellings := range near {
		all := make([]string, len(spellings))
		for k, s := range spellings {
			all[k] = quoted(s)
		}
		each[i] = "(" + strings.Join(all, " OR ") + ")"
	}
	more, err := t.match("found_parts", inParts(typ, strings.Join(each, " AND ")))
	short := slices.DeleteFunc(slices.Clone(list), func(w string) bool { return utf8.RuneCountInString(w) >= leastPart })
	for _, h := range more {
		if !slices.ContainsFunc(hits, func(x Hit) bool { return x.ID == h.ID }) && (len(short) == 0 || rank(h, short) > 0) {
			h.Slip = true
			hits = append(hits, h)
		}
	}
	return hits, err
}

// match gives the records that an index finds, the latest first: as many as are looked at.
func (t *Tx) match(index, match string) ([]Hit, error) {
	return collect(t, func(row interface{ Scan(...any) error }) (h Hit, err error) {
		return h, row.Scan(&h.Type, &h.ID, &h.Title, &h.Detail, &h.text, &h.at)
	}, "SELECT f.type, f.id, f.title, f.detail, f.text, f.at FROM "+index+" x JOIN found f ON f.row = x.rowid WHERE "+index+
		" MATCH ? ORDER BY x.rowid DESC LIMIT ?", match, deep)
}

// Words have only letters and digits, so that no sign of theirs means something in a query.
func quoted(word string) string { return `"` + word + `"` }

func conjoined(list []string, of func(string) string) string {
	all := make([]string, len(list))
	for i, w := range list {
		all[i] = of(w)
	}
	return strings.Join(all, " AND ")
}

func inWords(typ, query string) string {
	return "type : " + quoted(typ) + " AND text : (" + query + ")"
}

func inParts(typ, query string) string {
	return "tag : " + quoted(tags[typ]) + " AND text : (" + query + ")"
}

// rank says how well words fit a record: those of what it is called count more than others, whole ones more than beginnings, and those more
// than what is inside. 0: a word is not there.
func rank(h Hit, list []string) (score int) {
	title, text := spelling.Words(h.Title), strings.Fields(h.text)
	for _, w := range list {
		best := 0
		for at, all := range [][]string{text, title} {
			for _, x := range all {
				switch {
				case x == w:
					best = max(best, 5+4*at)
				case strings.HasPrefix(x, w):
					best = max(best, 3+3*at)
				case utf8.RuneCountInString(w) >= leastPart && strings.Contains(x, w):
					best = max(best, 1+at)
				}
			}
		}
		if best == 0 {
			return 0
		}
		score += best
	}
	return score
}

// near gives for each word the spellings that it may stand for, itself first; nil when there is none but itself.
func (t *Tx) near(list []string) ([][]string, error) {
	if err := t.vocabulary.Read(func() ([]string, error) {
		return collect(t, scanString, "SELECT term FROM found_vocabulary WHERE col = 'text'")
	}); err != nil {
		return nil, err
	}
	var out [][]string
	found := false
	for _, w := range list {
		if utf8.RuneCountInString(w) < leastPart {
			continue // it is too short to be looked for inside others
		}
		spellings := []string{w}
		for _, x := range t.vocabulary.Near(w) {
			if utf8.RuneCountInString(x) >= leastPart {
				spellings, found = append(spellings, x), true
			}
		}
		out = append(out, spellings)
	}
	if !found {
		return nil, nil
	}
	return out, nil
}
