package store

import (
	"cmp"
	"database/sql"
	"encoding/json"
	"errors"
	"fmt"
	"maps"
	"slices"
	"strconv"
	"strings"
	"time"

	"iter.example/iter/core/labor"
	"iter.example/iter/core/ledger"
	"iter.example/iter/core/records"
	"iter.example/iter/core/work"
)

// Of gives all documents of a type, by id.
func (t *Tx) Of(typ string) ([]ledger.Doc, error) {
	t.sources[typ+"/"] = true
	return t.every(readType, typ)
}

// IDs lists the ids of all documents of a type.
func (t *Tx) IDs(typ string) ([]string, error) {
	if err := t.flush(); err != nil {
		return nil, err
	}
	t.sources[typ+"/"] = true
	return collect(t, scanString, readIDs, typ)
}

// Company gives what the company says of itself at a moment, and the day it is there then, 2006-01-02.
func (t *Tx) Company(now time.Time) (c records.Company, day string, err error) {
	return ledger.CompanyAt(t.document, now)
}

// Settings gives the company's rules that hold at a moment.
func (t *Tx) Settings(now time.Time) (ledger.Settings, error) {
	return ledger.AllSettings(t.document, now)
}

// SettingsOn gives the rules of type T, a field of ledger.Settings, that hold on a day, 2006-01-02.
func SettingsOn[T any](t *Tx, day string) (T, error) { return ledger.SettingsOn[T](t.document, day) }

// SettingsAt gives the rules of type T, a field of ledger.Settings, that hold at a moment.
func SettingsAt[T any](t *Tx, now time.Time) (T, error) {
	_, day, err := t.Company(now)
	if err != nil {
		return *new(T), err
	}
	return SettingsOn[T](t, day)
}

// PayRules lists the terms of pay by the days from which they hold.
func (t *Tx) PayRules() ([]labor.Rules, error) { return ledger.PayRules(t.document) }

// Wanting builds something out of documents. build says which it would still use, and is asked again with what there is of them until it
// wants no more; docs are those it begins with.
func Wanting[T any](t *Tx, docs ledger.Docs, build func(ledger.Docs) (T, []ledger.Ref, error)) (T, error) {
	for {
		out, wanted, err := build(docs)
		if err != nil || len(wanted) == 0 {
			return out, err
		}
		more, err := t.Docs(wanted)
		if err != nil {
			return out, err
		}
		maps.Copy(docs, more)
	}
}

// document is Load for the rules that read settings.
func (t *Tx) document(r ledger.Ref, v any) (bool, error) { return t.Load(r.Type, r.ID, v) }

func scanString(row interface{ Scan(...any) error }) (s string, err error) { return s, row.Scan(&s) }

// maxDays is over how many days a visit is looked for: planned it takes two weeks at most.
const maxDays = 31

// VisitsOn lists the visits that are on a day, by start: those planned for it, and those that go on to it from a day before.
func (t *Tx) VisitsOn(day string) ([]string, error) {
	return collect(t, scanString,
		"SELECT id FROM visits WHERE day BETWEEN date(?1, ?2) AND ?1 AND (day = ?1 OR until >= ?1) ORDER BY start, id", day,
		fmt.Sprintf("-%d days", maxDays))
}

// WhoWasAt lists who finished visits at some sites since a day, by site. From one technician it goes on to the next, past all their visits.
func (t *Tx) WhoWasAt(sites []string, since string) (map[string][]string, error) {
	list, err := json.Marshal(slices.Compact(slices.Sorted(slices.Values(sites))))
	if err != nil {
		return nil, err
	}
	type line struct{ site, person string }
	lines, err := collect(t, func(row interface{ Scan(...any) error }) (l line, err error) { return l, row.Scan(&l.site, &l.person) },
		`WITH RECURSIVE k (site, technician) AS (
			SELECT s.value, (SELECT min(technician) FROM visits INDEXED BY visits_site WHERE site = s.value AND stage = 'finished')
			FROM json_each(?1) s
		UNION ALL
			SELECT site, (SELECT min(v.technician) FROM visits v INDEXED BY visits_site
				WHERE v.site = k.site AND v.stage = 'finished' AND v.technician > k.technician)
			FROM k WHERE technician IS NOT NULL)
		SELECT site, technician FROM k WHERE technician IS NOT NULL AND (SELECT max(v.day) FROM visits v INDEXED BY visits_site
			WHERE v.site = k.site AND v.stage = 'finished' AND v.technician = k.technician) >= ?2 ORDER BY site, technician`,
		string(list), since)
	out := map[string][]string{}
	for _, l := range lines {
		out[l.site] = append(out[l.site], l.person)
	}
	return out, err
}

// VisitsLeft lists the visits that were planned for a day before one and are not over, the oldest first.
func (t *Tx) VisitsLeft(day string) ([]string, error) {
	return collect(t, scanString,
		`SELECT id FROM visits WHERE stage IN ('planned', 'sent', 'accepted', 'travelling', 'on_site', 'paused') AND technician <> ''
			AND day < ? ORDER BY start, id`, day)
}

// VisitsOfOthers lists the visits from a day on that are not over and whose technician is none of some people.
func (t *Tx) VisitsOfOthers(day string, people []string) ([]string, error) {
	list, err := json.Marshal(people)
	if err != nil {
		return nil, err
	}
	return collect(t, scanString, `SELECT id FROM visits WHERE stage IN ('planned', 'sent', 'accepted', 'travelling', 'on_site', 'paused')
		AND technician <> '' AND day >= ?
		AND technician NOT IN (SELECT value FROM json_each(?)) ORDER BY start, id`, day, string(list))
}

// CountUnplaced is how many work orders wait to be planned on a day: those on hold until then are among them.
func (t *Tx) CountUnplaced(day string) (n int, err error) {
	return n, t.row("SELECT count(*) FROM workorders WHERE placed = 0 AND held <= ?", day).Scan(&n)
}

// IsUnplaced tells whether a work order waits to be placed.
func (t *Tx) IsUnplaced(order string) (is bool, err error) {
	return is, t.row("SELECT EXISTS (SELECT 1 FROM workorders WHERE id = ? AND placed = 0)", order).Scan(&is)
}

// PromisedSince lists the work orders of which something is promised for a day or later, the latest promise first.
func (t *Tx) PromisedSince(day string, limit int) ([]string, error) {
	return collect(t, scanString, "SELECT id FROM workorders WHERE promise_day >= ? ORDER BY promise DESC, id LIMIT ?", day, limit)
}

// LastDay is the last day that a visit is planned for.
func (t *Tx) LastDay() (day time.Time, err error) {
	var text string
	if err := t.row("SELECT coalesce(max(day), '') FROM visits").Scan(&text); err != nil || text == "" {
		return day, err
	}
	return time.Parse(time.DateOnly, text)
}

// Unplaced lists work orders that wait to be planned on a day, for the first time or again: the most pressing first.
func (t *Tx) Unplaced(day string, limit int) ([]string, error) {
	return collect(t, scanString, `SELECT w.id FROM workorders w WHERE w.placed = 0 AND w.held <= ?
		ORDER BY CASE w.priority WHEN 'emergency' THEN 0 WHEN 'soon' THEN 1 ELSE 2 END, w.promise = '', w.promise,
		w.due_by = '', w.due_by, w.number LIMIT ?`, day, limit)
}

// Finished lists finished visits that are not reviewed yet, the latest first.
func (t *Tx) Finished(limit int) ([]string, error) {
	return collect(t, scanString, "SELECT id FROM visits WHERE stage = 'finished' AND reviewed = 0 ORDER BY ended DESC, id LIMIT ?", limit)
}

// NextNumber is the next free number of a document of a type that has one: a work order, or a purchase.
func (t *Tx) NextNumber(typ string) (string, error) {
	if err := t.flush(); err != nil {
		return "", err
	}
	n, err := t.last(typ + "s")
	if typ == "purchase" {
		return ledger.NextPurchase(n), err
	}
	return strconv.Itoa(n + 1), err
}

// Common are the types of documents that every device holds whole.
var Common = ledger.TypesReaching(ledger.ToAll)

// Scope names the documents that a person's devices hold beside the common ones: their visits of some days with what those
// need, their timecards and their van. Of what is to come after today it is as much as they see ahead.
func (t *Tx) Scope(person string, from, to, today time.Time) ([]ledger.Ref, error) {
	if err := t.flush(); err != nil {
		return nil, err
	}
	var out []ledger.Ref
	add := func(typ, id string) {
		if id != "" {
			out = append(out, ledger.Ref{Type: typ, ID: id})
		}
	}
	type trip struct {
		visit, order, customer, site, start string
		stage                               work.Stage
	}
	trips, err := collect(t, func(row interface{ Scan(...any) error }) (x trip, err error) {
		err = row.Scan(&x.visit, &x.order, &x.customer, &x.site, &x.start, &x.stage)
		return x, err
	}, `SELECT v.id, v.workorder, w.customer, w.site, v.start, v.stage FROM visits v JOIN workorders w ON w.id = v.workorder
		WHERE v.technician = ?1 AND v.day BETWEEN ?2 AND ?3 AND v.shown
		UNION SELECT v.id, v.workorder, w.customer, w.site, v.start, v.stage FROM visit_people p JOIN visits v ON v.id = p.visit
		JOIN workorders w ON w.id = v.workorder WHERE p.person = ?1 AND v.day BETWEEN ?2 AND ?3 AND v.shown`,
		person, from.Format(time.DateOnly), to.Format(time.DateOnly))
	if err != nil {
		return nil, err
	}
	var p records.Person
	if _, err := t.Load("person", person, &p); err != nil {
		return nil, err
	}
	coming := make([]work.Coming, len(trips))
	for i, x := range trips {
		coming[i] = work.Coming{ID: x.visit, Stage: x.stage}
		if coming[i].Start, err = time.Parse(time.RFC3339, x.start); err != nil {
			return nil, err
		}
	}
	seen, err := t.SeenAhead(p, coming, today)
	if err != nil {
		return nil, err
	}
	trips = slices.DeleteFunc(trips, func(x trip) bool { return !seen[x.visit] })
	// The cards of those who help, on the days of the visits they help on, so that their hours show on the lead's device.
	cards, err := collect(t, scanString,
		`SELECT p.person || '+' || v.day FROM visits v JOIN visit_people p ON p.visit = v.id WHERE v.technician = ? AND v.day BETWEEN ?
			AND ? AND v.shown`,
		person, from.Format(time.DateOnly), to.Format(time.DateOnly))
	if err != nil {
		return nil, err
	}
	for _, c := range cards {
		add("timecard", c)
	}
	sites := []string{}
	for _, x := range trips {
		add("visit", x.visit)
		add("workorder", x.order)
		add("customer", x.customer)
		add("site", x.site)
		sites = append(sites, x.site)
	}
	slices.Sort(sites)
	sites = slices.Compact(sites)
	list, err := json.Marshal(sites)
	if err != nil {
		return nil, err
	}
	assets, err := collect(t, scanString, "SELECT asset FROM assets_by_site WHERE site IN (SELECT value FROM json_each(?))", string(list))
	if err != nil {
		return nil, err
	}
	for _, a := range assets {
		add("asset", a)
		add("measured", a)
	}
	for _, s := range sites {
		add("substances", s)
	}
	for d := from; !d.After(to); d = d.AddDate(0, 0, 1) {
		add("timecard", ledger.TimecardRef(person, d).ID)
	}
	add("absences", person)
	if p.Van != "" {
		add("stock", p.Van)
		add("levels", p.Van)
		open, err := t.HandoversOf(p.Van)
		if err != nil {
			return nil, err
		}
		for _, h := range open {
			add("handover", h)
		}
	}
	visits := []string{}
	for _, x := range trips {
		visits = append(visits, x.visit)
		add("talk", x.order)
	}
	histories, err := t.historyRevs(sites)
	if err != nil {
		return nil, err
	}
	for site := range histories {
		add("history", site)
	}
	beside, err := t.unsignedAt(string(list), from, from.AddDate(0, 0, 13))
	if err != nil {
		return nil, err
	}
	out = append(out, beside...)
	if list, err = json.Marshal(visits); err != nil {
		return nil, err
	}
	asked, err := collect(t, scanString, "SELECT id FROM requests WHERE visit IN (SELECT value FROM json_each(?))", string(list))
	if err != nil {
		return nil, err
	}
	for _, r := range asked {
		add("request", r)
	}
	slices.SortFunc(out, func(a, b ledger.Ref) int {
		return cmp.Or(strings.Compare(a.Type, b.Type), strings.Compare(a.ID, b.ID))
	})
	return slices.Compact(out), nil
}

// SeenAhead tells which of their visits somebody sees, by id, as far ahead as the company says. today is a moment of the day by its clock.
func (t *Tx) SeenAhead(p records.Person, list []work.Coming, today time.Time) (map[string]bool, error) {
	rules, err := SettingsOn[work.VisitSettings](t, today.Format(time.DateOnly))
	y, m, d := today.Date()
	return work.SeenAhead(cmp.Or(p.Ahead, rules.Ahead), time.Date(y, m, d+1, 0, 0, 0, 0, today.Location()), list), err
}

// TerminalScope names the documents that a shared terminal holds beside the common ones: everybody's visits of a day, and those
// of the days before that are not over, with what they need, and the day's timecards with those of the day before.
func (t *Tx) TerminalScope(from, day time.Time) ([]ledger.Ref, error) {
	if err := t.flush(); err != nil {
		return nil, err
	}
	today := day.Format(time.DateOnly)
	out, err := collect(t, func(row interface{ Scan(...any) error }) (r ledger.Ref, err error) {
		return r, row.Scan(&r.Type, &r.ID)
	},
		`WITH v AS (SELECT id, workorder FROM visits WHERE shown AND (day = ?1 OR (day BETWEEN ?2 AND ?1
			AND stage NOT IN ('finished', 'withdrawn', 'declined'))))
		SELECT 'visit', id FROM v UNION SELECT 'workorder', workorder FROM v UNION SELECT 'site', w.site FROM v
		JOIN workorders w ON w.id = v.workorder`,
		today, from.Format(time.DateOnly))
	if err != nil {
		return nil, err
	}
	people, err := t.Of("person")
	for _, p := range people {
		for _, d := range []time.Time{day.AddDate(0, 0, -1), day} {
			out = append(out, ledger.TimecardRef(p.ID, d))
		}
	}
	return out, err
}

// Cards gives a person's timecards from one date to another, both included.
func (t *Tx) Cards(person, from, to string) ([]labor.Timecard, error) {
	docs, err := t.every("SELECT type, id, rev, body FROM docs WHERE type = 'timecard' AND id BETWEEN ? AND ? ORDER BY id",
		person+"+"+from, person+"+"+to)
	if err != nil {
		return nil, err
	}
	out := make([]labor.Timecard, len(docs))
	for i, d := range docs {
		if err := json.Unmarshal(d.Body, &out[i]); err != nil {
			return nil, err
		}
	}
	return out, nil
}

// OffersOpen lists visits that were offered and that nobody has accepted yet, by planned start.
func (t *Tx) OffersOpen() ([]string, error) {
	return collect(t, scanString, "SELECT id FROM visits WHERE technician = '' AND stage IN ('planned', 'sent') ORDER BY start, id")
}

// OrdersToCome gives the ids of all work orders that are neither closed nor cancelled.
func (t *Tx) OrdersToCome() ([]string, error) {
	if err := t.flush(); err != nil {
		return nil, err
	}
	return collect(t, scanString, "SELECT id FROM workorders WHERE state NOT IN ('closed', 'cancelled') ORDER BY id")
}

// OrdersWithin gives the ids of the work orders that are part of an undertaking, the latest first.
func (t *Tx) OrdersWithin(undertaking string) ([]string, error) {
	if err := t.flush(); err != nil {
		return nil, err
	}
	return collect(t, scanString, "SELECT id FROM workorders WHERE undertaking = ? AND undertaking > '' ORDER BY opened DESC, id", undertaking)
}

// ChangedSince gives the documents of a type that were changed after a place in the log, by id: ids that begin alike pack well.
func (t *Tx) ChangedSince(typ string, seq int64) ([]ledger.Doc, error) {
	if err := t.flush(); err != nil {
		return nil, err
	}
	return t.every("SELECT type, id, rev, body FROM docs WHERE type = ? AND rev > ? ORDER BY id", typ, seq)
}

// CommonSince gives documents of the common types changed after a seq, in the order they changed: at least limit when there
// are as many, and always all that one entry changed.
func (t *Tx) CommonSince(seq int64, limit int) ([]ledger.Doc, error) {
	if err := t.flush(); err != nil {
		return nil, err
	}
	marks := strings.TrimSuffix(strings.Repeat("?,", len(Common)), ",")
	args := []any{}
	for _, c := range Common {
		args = append(args, c)
	}
	where := " FROM docs WHERE type IN (" + marks + ") AND rev > ?"
	args = append(args, seq)
	var last int64
	err := t.row("SELECT rev"+where+" ORDER BY rev LIMIT 1 OFFSET ?", append(slices.Clone(args), limit-1)...).Scan(&last)
	switch {
	case errors.Is(err, sql.ErrNoRows):
		return t.every("SELECT type, id, rev, body"+where+" ORDER BY rev", args...)
	case err != nil:
		return nil, err
	}
	return t.every("SELECT type, id, rev, body"+where+" AND rev <= ? ORDER BY rev", append(args, last)...)
}

// SitePlaces calls f with where each site is, the zero Point where nobody knows. They are read one after another, and not held: there
// may be a million.
func (t *Tx) SitePlaces(f func(records.Point)) error {
	if err := t.flush(); err != nil {
		return err
	}
	st, err := t.statement("SELECT body FROM docs WHERE type = 'site'")
	if err != nil {
		return err
	}
	rows, err := st.QueryContext(t.ctx)
	if err != nil {
		return err
	}
	defer rows.Close()
	for rows.Next() {
		var body sql.RawBytes
		var site struct {
			records.Point
			Merged string
		}
		if err := rows.Scan(&body); err != nil {
			return err
		}
		if err := json.Unmarshal(body, &site); err != nil {
			return err
		}
		if site.Merged == "" {
			f(site.Point)
		}
	}
	return rows.Err()
}

// SitesOf gives a customer's sites, by name.
func (t *Tx) SitesOf(customer string) ([]ledger.Doc, error) {
	return t.every(`SELECT type, id, rev, body FROM docs WHERE type = 'site' AND body ->> '$.customer' = ?
		AND body ->> '$.merged' IS NULL ORDER BY body ->> '$.name'`, customer)
}

// Named is a document's id and name.
type Named struct {
	ID   string `json:"id"`
	Name string `json:"name"`
}

// Branch is what hangs on a record: a site, or a machine in the tree of those at its site.
type Branch struct {
	Named
	Parent   string `json:"parent,omitempty"`   // id
	Warranty string `json:"warranty,omitempty"` // the last day it is covered, 2006-01-02
}

func scanBranch(row interface{ Scan(...any) error }) (m Branch, err error) {
	return m, row.Scan(&m.ID, &m.Name, &m.Parent, &m.Warranty)
}

// Below gives all machines that hang under one, at whatever depth, and were not taken out, by name.
func (t *Tx) Below(asset string) ([]Branch, error) {
	return collect(t, scanBranch, `
		WITH RECURSIVE below(id) AS (SELECT ? UNION SELECT d.id FROM below JOIN docs d ON d.type = 'asset' AND d.body ->> '$.parent' = below.id
			AND d.body ->> '$.struck' IS NULL AND d.body ->> '$.removed' IS NULL AND d.body ->> '$.merged' IS NULL)
		SELECT d.id, d.body ->> '$.name', d.body ->> '$.parent', coalesce(d.body ->> '$.warranty', '')
		FROM below JOIN docs d ON d.type = 'asset' AND d.id = below.id WHERE d.id <> ? ORDER BY 2, 1`, asset, asset)
}

// Machines gives the machines at a site, by name.
func (t *Tx) Machines(site string) ([]Branch, error) {
	return collect(t, scanBranch, `
		SELECT d.id, d.body ->> '$.name', coalesce(d.body ->> '$.parent', ''), coalesce(d.body ->> '$.warranty', '')
		FROM assets_by_site a JOIN docs d ON d.type = 'asset' AND d.id = a.asset WHERE a.site = ? ORDER BY 2, 1`, site)
}

// TurnedOut gives the records that turned out to be another, by name.
func (t *Tx) TurnedOut(into ledger.Ref) ([]Named, error) {
	return collect(t, scanNamed, `SELECT id, body ->> '$.name' FROM docs INDEXED BY docs_merged WHERE type IN ('customer', 'site', 'asset')
		AND type = ? AND body ->> '$.merged' = ? AND body ->> '$.merged' IS NOT NULL ORDER BY 2, 1`, into.Type, into.ID)
}

// Hanging are the ids of what goes along when a record turns out to be another.
type Hanging struct {
	Sites  []string `json:"sites"`  // of a customer
	Assets []string `json:"assets"` // at a site, those that were taken out too; of a machine its components
	Orders []string `json:"orders"`
}

// Hanging gives what hangs on a customer, site or machine.
func (t *Tx) Hanging(ref ledger.Ref) (h Hanging, err error) {
	for _, q := range []struct {
		to   *[]string
		from map[string]string
	}{
		{&h.Sites, map[string]string{"customer": "SELECT id FROM sites WHERE customer = ? ORDER BY id"}},
		{&h.Assets, map[string]string{"site": "SELECT id FROM assets WHERE site = ? ORDER BY id",
			"asset": "SELECT id FROM docs WHERE type = 'asset' AND body ->> '$.parent' = ? ORDER BY id"}},
		{&h.Orders, map[string]string{"customer": "SELECT id FROM workorders WHERE customer = ? ORDER BY id",
			"site": "SELECT id FROM workorders WHERE site = ? ORDER BY id", "asset": "SELECT id FROM workorders WHERE asset = ? ORDER BY id"}},
	} {
		*q.to = []string{}
		if query := q.from[ref.Type]; query != "" {
			if *q.to, err = collect(t, scanString, query, ref.ID); err != nil {
				return h, err
			}
		}
	}
	return h, nil
}

func scanNamed(row interface{ Scan(...any) error }) (n Named, err error) {
	return n, row.Scan(&n.ID, &n.Name)
}

// AssetsAt gives the assets at a site, by name.
func (t *Tx) AssetsAt(site string) ([]Named, error) {
	return collect(t, scanNamed,
		`SELECT d.id, d.body ->> '$.name' FROM assets_by_site a JOIN docs d ON d.type = 'asset' AND d.id = a.asset WHERE a.site = ?
			ORDER BY 2`, site)
}
