package store

import (
	"time"

	"iter.example/iter/core/ledger"
)

// What the simulated outside services keep, and what waits to go to them.

// Waiting is a message to a customer that has not gone yet.
type Waiting struct {
	Entry string
	About ledger.Ref // a visit, or a work order
}

// MessagesWaiting lists them, in the order they were recorded.
func (t *Tx) MessagesWaiting() ([]Waiting, error) {
	return collect(t, func(row interface{ Scan(...any) error }) (w Waiting, err error) {
		return w, row.Scan(&w.Entry, &w.About.Type, &w.About.ID)
	},
		"SELECT entry, type, about FROM messages WHERE state = 'waiting' ORDER BY entry")
}

// SettleMessage says what became of a message: sent, or late.
func (t *Tx) SettleMessage(entry, state string, at time.Time) error {
	_, err := t.exec("UPDATE messages SET state = ?, at = ? WHERE entry = ?", state, stamp(at), entry)
	return err
}

// MessageStates gives what became of the messages about a visit or a work order, by entry.
func (t *Tx) MessageStates(about ledger.Ref) (map[string]string, error) {
	out := map[string]string{}
	all, err := collect(t, func(row interface{ Scan(...any) error }) (p [2]string, err error) { return p, row.Scan(&p[0], &p[1]) },
		"SELECT entry, state FROM messages WHERE type = ? AND about = ?", about.Type, about.ID)
	for _, p := range all {
		out[p[0]] = p[1]
	}
	return out, err
}

// Sent is a message as the simulated gateway was given it.
type Sent struct {
	Entry string     `json:"entry"`
	About ledger.Ref `json:"about"` // a visit, or a work order, which then went with it
	To    string     `json:"to"`
	Text  string     `json:"text"`
	At    time.Time  `json:"at"`
	// Report is the entry of the report that went with it, and Bytes how large what went with it was.
	Report string `json:"report,omitempty"`
	Bytes  int    `json:"bytes,omitempty"`
}

// KeepSent keeps what the simulated gateway was given, once.
func (t *Tx) KeepSent(m Sent) error {
	_, err := t.exec(`INSERT OR IGNORE INTO gateway (entry, type, about, "to", text, at, report, bytes) VALUES (?,?,?,?,?,?,?,?)`, m.Entry,
		m.About.Type, m.About.ID, m.To, m.Text, stamp(m.At), m.Report, m.Bytes)
	return err
}

// AllSent lists what the simulated gateway was given, the latest first.
func (t *Tx) AllSent(limit int) ([]Sent, error) {
	return collect(t, func(row interface{ Scan(...any) error }) (m Sent, err error) {
		var at string
		if err := row.Scan(&m.Entry, &m.About.Type, &m.About.ID, &m.To, &m.Text, &at, &m.Report, &m.Bytes); err != nil {
			return m, err
		}
		m.At, err = time.Parse(time.RFC3339Nano, at)
		return m, err
	}, `SELECT entry, type, about, "to", text, at, report, bytes FROM gateway ORDER BY id DESC LIMIT ?`, limit)
}

// BookLine keeps a line of the simulated accounting, once.
func (t *Tx) BookLine(id string, body []byte, at time.Time) error {
	_, err := t.exec("INSERT OR IGNORE INTO accounting (id, body, booked) VALUES (?,?,?)", id, body, stamp(at))
	return err
}

// BookedLines gives the lines of a person's day in the simulated accounting, by id.
func (t *Tx) BookedLines(person, date string) ([][]byte, error) {
	return collect(t, func(row interface{ Scan(...any) error }) (b []byte, err error) { return b, row.Scan(&b) },
		"SELECT body FROM accounting WHERE id BETWEEN ?1 AND ?1 || '~' ORDER BY id", person+" "+date+" ")
}
