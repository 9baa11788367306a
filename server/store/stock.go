package store

import (
	"database/sql"
	"encoding/json"
	"errors"
	"time"

	"iter.example/iter/core/ledger"
)

// moved keeps the table of movements in step with an entry.
func (t *Tx) moved(f *ledger.Fact) error {
	e := f.Entry
	for i, m := range f.Movements() {
		raw, err := json.Marshal(m)
		if err != nil {
			return err
		}
		if _, err := t.exec(`INSERT OR IGNORE INTO movements (key, entry, place, part, at, kind, person, visit, body)
			VALUES (?,?,?,?,?,?,?,?,?)`,
			ledger.MovementKey(e.ID, i), e.ID, m.Place, m.Part, utc(e.At), m.Kind, e.Actor, m.Visit, raw); err != nil {
			return err
		}
	}
	other, struck := f.Strikes()
	if other == "" {
		return nil
	}
	_, err := t.exec("UPDATE movements SET struck = ? WHERE entry = ?", struck, other)
	return err
}

// Movement is a change of what a place has, with the entry that made it.
type Movement struct {
	ledger.Movement
	Entry  string    `json:"entry"`
	At     time.Time `json:"at"`
	Person string    `json:"person"`
	Struck bool      `json:"struck,omitempty"`
}

// Movements gives the latest movements at a place, of a part, or of all (""), the latest first.
func (t *Tx) Movements(place, part string, limit int) ([]Movement, error) {
	if err := t.flush(); err != nil {
		return nil, err
	}
	return collect(t, func(row interface{ Scan(...any) error }) (m Movement, err error) {
		var raw []byte
		var at string
		if err = row.Scan(&m.Entry, &at, &m.Person, &m.Struck, &raw); err != nil {
			return m, err
		}
		if m.At, err = time.Parse(time.RFC3339, at); err != nil {
			return m, err
		}
		return m, json.Unmarshal(raw, &m.Movement)
	}, `SELECT entry, at, person, struck, body FROM movements WHERE (?1 = '' OR place = ?1) AND (?2 = '' OR part = ?2)
		ORDER BY at DESC, key DESC LIMIT ?3`, place, part, limit)
}

// HandoversOf lists hand-overs that are open, or of which something is missing, to or from a place or of all ("").
func (t *Tx) HandoversOf(place string) ([]string, error) {
	if err := t.flush(); err != nil {
		return nil, err
	}
	return collect(t, scanString, `SELECT id FROM handovers WHERE live AND (?1 = '' OR "from" = ?1 OR "to" = ?1) ORDER BY at, id`, place)
}

// RequestsOpen lists requests that wait for something, the oldest first.
func (t *Tx) RequestsOpen() ([]string, error) {
	if err := t.flush(); err != nil {
		return nil, err
	}
	return collect(t, scanString, "SELECT id FROM requests WHERE state IN ('asked', 'approved', 'ordered') ORDER BY at, id")
}

// RequestsOver lists requests that are over, the latest first.
func (t *Tx) RequestsOver(limit int) ([]string, error) {
	return collect(t, scanString, "SELECT id FROM requests WHERE state IN ('in', 'declined', 'withdrawn') ORDER BY since DESC, id LIMIT ?",
		limit)
}

// RequestsFor lists the requests of a work order, the oldest first; waiting tells to leave out those that are over.
func (t *Tx) RequestsFor(order string, waiting bool) ([]string, error) {
	if err := t.flush(); err != nil {
		return nil, err
	}
	return collect(t, scanString,
		"SELECT id FROM requests WHERE workorder = ? AND (NOT ? OR state IN ('asked', 'approved', 'ordered')) ORDER BY at, id", order,
		waiting)
}

// Purchases lists orders to suppliers: those that are not over first, the latest first.
func (t *Tx) Purchases(limit int) ([]string, error) {
	if err := t.flush(); err != nil {
		return nil, err
	}
	return collect(t, scanString, "SELECT id FROM purchases ORDER BY state IN ('received', 'cancelled'), at DESC, id DESC LIMIT ?", limit)
}

// PurchasesFor lists the orders for a place that are not over.
func (t *Tx) PurchasesFor(place string) ([]string, error) {
	return collect(t, scanString,
		"SELECT id FROM purchases WHERE state IN ('sent', 'confirmed', 'delivered') AND place = ? ORDER BY at, id", place)
}

// PurchasesOpen lists the orders that are not over, the oldest first.
func (t *Tx) PurchasesOpen() ([]string, error) {
	return collect(t, scanString, "SELECT id FROM purchases WHERE state IN ('sent', 'confirmed', 'delivered') ORDER BY at, id")
}

// NextDay is the first day after one that a visit is planned for; "" when there is none.
func (t *Tx) NextDay(after string) (day string, err error) {
	err = t.row("SELECT coalesce(min(day), '') FROM visits WHERE day > ? AND stage NOT IN ('finished', 'withdrawn')", after).Scan(&day)
	return day, err
}

// Supplied is an order as the simulated supplier knows it.
type Supplied struct {
	Purchase, Reference string
	Due                 time.Time
}

// PutSupplied keeps what the simulated supplier was sent; what is sent twice is kept as it was first.
func (t *Tx) PutSupplied(s Supplied) (Supplied, error) {
	if _, err := t.exec("INSERT OR IGNORE INTO supplier (purchase, reference, due) VALUES (?,?,?)", s.Purchase, s.Reference,
		utc(s.Due)); err != nil {
		return s, err
	}
	var due string
	err := t.row("SELECT reference, due FROM supplier WHERE purchase = ?", s.Purchase).Scan(&s.Reference, &due)
	if err == nil {
		s.Due, err = time.Parse(time.RFC3339, due)
	}
	return s, err
}

// SuppliedOn tells when the simulated supplier brings an order, if it knows it.
func (t *Tx) SuppliedOn(purchase string) (due time.Time, ok bool, err error) {
	var text string
	err = t.row("SELECT due FROM supplier WHERE purchase = ?", purchase).Scan(&text)
	if errors.Is(err, sql.ErrNoRows) {
		return due, false, nil
	}
	if err == nil {
		due, err = time.Parse(time.RFC3339, text)
	}
	return due, err == nil, err
}

// LastSeen is a person's last stage on a visit, as far as the office knows: which visit, and when.
func (t *Tx) LastSeen(person string, before time.Time) (visit string, err error) {
	err = t.row(`SELECT coalesce((SELECT id FROM visits WHERE technician = ? AND start <= ?
		AND stage IN ('finished', 'on_site', 'travelling', 'paused') ORDER BY start DESC LIMIT 1), '')`, person, utc(before)).Scan(&visit)
	return visit, err
}
