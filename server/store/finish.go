package store

import (
	"database/sql"
	"encoding/json"
	"errors"
	"slices"
	"time"

	"iter.example/iter/core/ledger"
	"iter.example/iter/core/talk"
	"iter.example/iter/core/view"
	"iter.example/iter/core/work"
)

// How visits end, and what is left of them: the history of a site, reports, conversations, what nobody signed.

// stand keeps where work orders stand over all their visits, once for those that were touched.
func (t *Tx) stand() error {
	for id := range t.orders {
		trips, err := collect(t, scanString,
			"SELECT trip FROM visits WHERE workorder = ? ORDER BY stage IN ('finished', 'withdrawn', 'declined')", id)
		if err != nil {
			return err
		}
		var o work.Order
		if _, err := t.Load("workorder", id, &o); err != nil {
			return err
		}
		var all []work.Trip
		for _, text := range trips {
			var trip work.Trip
			if err := json.Unmarshal([]byte(text), &trip); err != nil {
				return err
			}
			if all = append(all, trip); len(o.Acts) == 0 && work.StateOf(trip) == work.Underway {
				break // it is, whatever the others are
			}
		}
		state := o.State(all...)
		placed := state != work.Open && state != work.Back && state != work.OnHold // nothing is left to plan
		held := ""
		if state == work.OnHold {
			held = o.HeldUntil()
		}
		if _, err := t.exec("UPDATE workorders SET state = ?, placed = ?, held = ? WHERE id = ?", state, placed, held, id); err != nil {
			return err
		}
		delete(t.orders, id)
	}
	return nil
}

// ended keeps what follows from a visit for its work order, the site's history, and reports.
func (t *Tx) ended(id string, v work.Visit) error {
	t.orders[v.Order] = true
	// A visit whose end was struck out stays with its revision: that it is no longer history is news too.
	if slices.ContainsFunc(v.Steps, func(s work.Step) bool { return s.Action == work.Finish }) {
		var o work.Order
		if ok, err := t.Load("workorder", v.Order, &o); err != nil || !ok {
			return err
		}
		ended := ""
		if v.Stage == work.Finished {
			ended = v.Ended().UTC().Format(time.RFC3339)
		}
		body, err := json.Marshal(view.Earlier(id, v, o))
		if err != nil {
			return err
		}
		cards, err := json.Marshal(cardsOf(v))
		if err != nil {
			return err
		}
		if _, err := t.exec("INSERT OR REPLACE INTO history (site, visit, ended, rev, body, cards) VALUES (?,?,?,?,?,?)", o.Site, id, ended,
			t.revs[ledger.Ref{Type: "visit", ID: id}], body, string(cards)); err != nil {
			return err
		}
	}
	for _, r := range v.Reports {
		if _, err := t.exec("INSERT OR REPLACE INTO reports (entry, visit, code, pdf, struck) VALUES (?,?,?,?,?)", r.Entry, id, r.Code,
			r.PDF, r.Struck); err != nil {
			return err
		}
	}
	return nil
}

// indexTalk keeps how much of a conversation the office has not read.
func (t *Tx) indexTalk(order string) error {
	var c talk.Talk
	if _, err := t.Load("talk", order, &c); err != nil || len(c.Said) == 0 {
		return err
	}
	_, err := t.exec("INSERT OR REPLACE INTO talks (workorder, at, unread) VALUES (?,?,?)", order,
		c.Said[len(c.Said)-1].At.UTC().Format(time.RFC3339), c.Unread(talk.Office))
	return err
}

// Talks lists the work orders that were talked about, those with something unread first, then the latest.
func (t *Tx) Talks(limit int) ([]string, error) {
	return collect(t, scanString, "SELECT workorder FROM talks ORDER BY unread = 0, at DESC, workorder LIMIT ?", limit)
}

// UnreadTalks is in how many conversations there is something that the office has not read.
func (t *Tx) UnreadTalks() (n int, err error) {
	return n, t.row("SELECT count(*) FROM talks WHERE unread > 0").Scan(&n)
}

// Unsigned lists finished visits that somebody has to sign for and nobody did, the oldest first.
func (t *Tx) Unsigned(limit int) ([]string, error) {
	return collect(t, scanString, "SELECT id FROM visits WHERE unsigned ORDER BY ended, id LIMIT ?", limit)
}

// unsignedAt names what it takes to have other people's visits at some sites (a JSON list) signed for: those that ended since a day and
// that nobody has signed for. Those of the last day stay when somebody has: another may sign for them too.
func (t *Tx) unsignedAt(sites string, since, lately time.Time) ([]ledger.Ref, error) {
	type line struct{ visit, order, cards string }
	lines, err := collect(t, func(row interface{ Scan(...any) error }) (l line, err error) {
		return l, row.Scan(&l.visit, &l.order, &l.cards)
	}, `SELECT v.id, v.workorder, h.cards FROM json_each(?3) s CROSS JOIN history h ON h.site = s.value AND h.ended >= ?1
		CROSS JOIN visits v ON v.id = h.visit WHERE v.unsigned OR v.ended >= ?2 LIMIT 200 -- in this order: few ended at a site`,
		since.UTC().Format(time.RFC3339), lately.UTC().Format(time.RFC3339), sites)
	if err != nil {
		return nil, err
	}
	var out []ledger.Ref
	for _, l := range lines {
		out = append(out, ledger.Ref{Type: "visit", ID: l.visit}, ledger.Ref{Type: "workorder", ID: l.order})
		var cards []string
		if err := json.Unmarshal([]byte(l.cards), &cards); err != nil {
			return nil, err
		}
		for _, id := range cards {
			out = append(out, ledger.Ref{Type: "timecard", ID: id})
		}
	}
	return out, nil
}

// cardsOf names the time cards of those who were on a visit, of the days on which it began and ended.
func cardsOf(v work.Visit) []string {
	var out []string
	for _, p := range append([]string{v.Technician}, v.Helpers...) {
		for _, day := range []time.Time{v.Start, v.Ended()} {
			if id := ledger.TimecardRef(p, day).ID; !slices.Contains(out, id) {
				out = append(out, id)
			}
		}
	}
	return out
}

// historyVisits is how many visits a site's history tells of.
const historyVisits = 8

// HistoryOf makes the history of a site: the last visits that ended there.
func (t *Tx) HistoryOf(site string) (ledger.Doc, error) {
	d := ledger.Doc{Ref: ledger.Ref{Type: "history", ID: site}}
	var err error
	if d.Rev, err = t.HistoryRev(site); err != nil || d.Rev == 0 {
		return d, err
	}
	visits, err := collect(t, func(row interface{ Scan(...any) error }) (body json.RawMessage, err error) {
		return body, row.Scan((*[]byte)(&body))
	}, "SELECT body FROM history WHERE site = ? AND ended > '' ORDER BY ended DESC, visit LIMIT ?", site, historyVisits)
	if err != nil {
		return d, err
	}
	d.Body, err = json.Marshal(map[string]any{"visits": visits}) // a view.SiteHistory
	return d, err
}

// HistoryRev gives the revision of a site's history; 0 where no visit has ended.
func (t *Tx) HistoryRev(site string) (int64, error) {
	if rev, known := t.histories[site]; known {
		return rev, nil
	}
	revs, err := t.historyRevs([]string{site})
	return revs[site], err
}

// historyRevs gives the revision of the history of each of some sites where a visit has ended, and remembers it for the transaction.
func (t *Tx) historyRevs(sites []string) (map[string]int64, error) {
	list, err := json.Marshal(sites)
	if err != nil {
		return nil, err
	}
	type rev struct {
		site string
		rev  int64
	}
	all, err := collect(t, func(row interface{ Scan(...any) error }) (r rev, err error) { return r, row.Scan(&r.site, &r.rev) },
		`SELECT j.value, (SELECT max(rev) FROM history WHERE site = j.value) FROM json_each(?) j
		WHERE EXISTS (SELECT 1 FROM history WHERE site = j.value AND ended > '')`, string(list))
	t.histories = map[string]int64{}
	for _, r := range all {
		t.histories[r.site] = r.rev
	}
	return t.histories, err
}

// ReportLine is where a service report is kept.
type ReportLine struct {
	Entry, Visit, Code, PDF string
	Struck                  bool
}

// ReportBy finds a report by its "code", the hash of its "pdf", or its "entry"; of several the latest.
func (t *Tx) ReportBy(column, value string) (r ReportLine, ok bool, err error) {
	if !slices.Contains([]string{"code", "pdf", "entry"}, column) {
		return r, false, errors.New("no such column")
	}
	err = t.row("SELECT entry, visit, code, pdf, struck FROM reports WHERE "+column+" = ? ORDER BY entry DESC LIMIT 1",
		value).Scan(&r.Entry, &r.Visit, &r.Code, &r.PDF, &r.Struck)
	if errors.Is(err, sql.ErrNoRows) {
		return r, false, nil
	}
	return r, err == nil, err
}

// OrdersNotOver lists a customer's work orders that are neither closed nor cancelled, the latest first.
func (t *Tx) OrdersNotOver(customer string) ([]string, error) {
	return collect(t, scanString,
		"SELECT id FROM workorders WHERE customer = ? AND state NOT IN ('closed', 'cancelled') ORDER BY opened DESC, id", customer)
}

// OrderStanding is a work order and where it stands.
type OrderStanding struct {
	ID    string
	State work.State
}

// OrdersAbout lists the work orders for a customer, at a site or on a machine, the latest first.
func (t *Tx) OrdersAbout(ref ledger.Ref) ([]OrderStanding, error) {
	where, ok := map[string]string{"customer": "w.customer = ?", "site": "w.site = ?",
		"asset": "w.asset = ? AND w.asset <> ''"}[ref.Type]
	if !ok {
		return nil, errors.New("no work is about a " + ref.Type)
	}
	return collect(t, func(row interface{ Scan(...any) error }) (o OrderStanding, err error) {
		return o, row.Scan(&o.ID, &o.State)
	},
		"SELECT w.id, w.state FROM workorders w WHERE "+where+" ORDER BY w.opened DESC, w.id", ref.ID)
}

// OrderState is where a work order stands.
func (t *Tx) OrderState(id string) (s work.State, err error) {
	err = t.row("SELECT state FROM workorders WHERE id = ?", id).Scan(&s)
	if errors.Is(err, sql.ErrNoRows) {
		err = nil
	}
	return s, err
}
