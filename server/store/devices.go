package store

import (
	"database/sql"
	"encoding/json"
	"errors"
	"time"

	"iter.example/iter/core/ledger"
	"iter.example/iter/core/msg"
)

// Device is a browser that syncs.
type Device struct {
	Replica string
	Person  string
	N       int64         // number of the last entry taken or held from it
	Tick    int64         // number of the last answer given to it
	Had     int64         // number of the last answer that it is known to have had
	Contact time.Time     // last
	Agent   string        // what it said it is
	Version string        // of the program on it
	Unsent  int           // entries and files it still had after the last contact
	Skew    time.Duration // by which its clock is ahead, with the time of the way
	Ended   time.Time     // when its access was ended; zero while it has it
	Wiped   time.Time     // when it said that it holds nothing any more
	Key     string        // its public key (SPKI, base64), with which it signs; "" until it has told it
}

const deviceColumns = "replica, person, n, tick, contact, agent, version, unsent, skew, ended, wiped, confirmed, key"

func scanDevice(row interface{ Scan(...any) error }) (Device, error) {
	var d Device
	var contact, ended, wiped string
	var skew int64
	err := row.Scan(&d.Replica, &d.Person, &d.N, &d.Tick, &contact, &d.Agent, &d.Version, &d.Unsent, &skew, &ended, &wiped, &d.Had, &d.Key)
	d.Skew = time.Duration(skew) * time.Millisecond
	for to, text := range map[*time.Time]string{&d.Contact: contact, &d.Ended: ended, &d.Wiped: wiped} {
		if err == nil && text != "" {
			*to, err = time.Parse(time.RFC3339Nano, text)
		}
	}
	return d, err
}

// Device gives a device, and whether it is known.
func (t *Tx) Device(replica string) (Device, bool, error) {
	d, err := scanDevice(t.row("SELECT "+deviceColumns+" FROM devices WHERE replica = ?", replica))
	if errors.Is(err, sql.ErrNoRows) {
		return Device{Replica: replica}, false, nil
	}
	return d, err == nil, err
}

// Devices lists devices, the last heard of first.
func (t *Tx) Devices(limit int) ([]Device, error) {
	return collect(t, scanDevice, "SELECT "+deviceColumns+" FROM devices ORDER BY contact DESC LIMIT ?", limit)
}

// PutDevice keeps a device.
func (t *Tx) PutDevice(d Device) error {
	_, err := t.exec("INSERT OR REPLACE INTO devices ("+deviceColumns+") VALUES (?,?,?,?,?,?,?,?,?,?,?,?,?)",
		d.Replica, d.Person, d.N, d.Tick, maybe(d.Contact), d.Agent, d.Version, d.Unsent, d.Skew.Milliseconds(), maybe(d.Ended),
		maybe(d.Wiped), d.Had, d.Key)
	return err
}

func maybe(t time.Time) string {
	if t.IsZero() {
		return ""
	}
	return stamp(t)
}

// HasHeld tells whether a person's devices hold, or held until their last answer, a document.
func (t *Tx) HasHeld(person string, r ledger.Ref) (bool, error) {
	var held bool
	err := t.row(`SELECT EXISTS (SELECT 1 FROM devices d JOIN packs p ON p.replica = d.replica WHERE d.person = ? AND p.type = ?
		AND p.id = ?)`, person, r.Type, r.ID).Scan(&held)
	return held, err
}

// Packed is what a device was sent of a document: at which revision and in which answer. Now is the revision it has now.
type Packed struct{ Rev, Tick, Now int64 }

// Gone is the revision of a document that the device was told to drop.
const Gone = -1

// Pack gives what a device was sent.
func (t *Tx) Pack(replica string) (map[ledger.Ref]Packed, error) {
	if err := t.flush(); err != nil {
		return nil, err
	}
	type line struct {
		ledger.Ref
		Packed
	}
	lines, err := collect(t, func(row interface{ Scan(...any) error }) (l line, err error) {
		err = row.Scan(&l.Type, &l.ID, &l.Rev, &l.Tick, &l.Now)
		return l, err
	}, `SELECT p.type, p.id, p.rev, p.tick, coalesce(d.rev, 0) FROM packs p LEFT JOIN docs d ON d.type = p.type AND d.id = p.id
		WHERE p.replica = ?`, replica)
	out := make(map[ledger.Ref]Packed, len(lines))
	for _, l := range lines {
		out[l.Ref] = l.Packed
	}
	return out, err
}

// PutPacked notes that a device is sent revisions of documents in an answer, its tick.
func (t *Tx) PutPacked(replica string, tick int64, revs map[ledger.Ref]int64) error {
	if len(revs) == 0 {
		return nil
	}
	lines := make([][3]any, 0, len(revs))
	for r, rev := range revs {
		lines = append(lines, [3]any{r.Type, r.ID, rev})
	}
	list, err := json.Marshal(lines)
	if err != nil {
		return err
	}
	_, err = t.exec(`INSERT OR REPLACE INTO packs (replica, type, id, rev, tick)
		SELECT ?1, value ->> 0, value ->> 1, value ->> 2, ?2 FROM json_each(?3)`, replica, tick, string(list))
	return err
}

// TellAgain has all that a device was sent be sent again.
func (t *Tx) TellAgain(replica string) error {
	_, err := t.exec("UPDATE packs SET rev = 0 WHERE replica = ? AND rev != ?", replica, Gone)
	return err
}

// ForgetGone forgets what a device has confirmed to have dropped, up to an answer.
func (t *Tx) ForgetGone(replica string, tick int64) error {
	_, err := t.exec("DELETE FROM packs WHERE replica = ? AND rev = ? AND tick <= ?", replica, Gone, tick)
	return err
}

// HeldEntry is an entry that waits, or waited, for a person.
type HeldEntry struct {
	ID       int64        `json:"id"`
	Entry    ledger.Entry `json:"entry"`
	Person   string       `json:"person"` // who sent it
	Why      msg.Code     `json:"why"`
	Received time.Time    `json:"received"`
	State    string       `json:"state"` // held, taken, set_aside
	Decided  string       `json:"-"`     // by whom: the person's id, a space, and when
	// Brought is the person who took in the file that the entry came in.
	Brought string `json:"brought,omitempty"`
}

// Hold keeps an entry that a person sent for another to decide on. The same entry is kept once.
func (t *Tx) Hold(e ledger.Entry, person string, why *msg.Code, in Arrival) error {
	raw, err := json.Marshal(e)
	if err != nil {
		return err
	}
	said, err := json.Marshal(why)
	if err != nil {
		return err
	}
	_, err = t.exec("INSERT OR IGNORE INTO held (entry, replica, person, raw, why, received, brought, again) VALUES (?,?,?,?,?,?,?,?)",
		e.ID, e.Replica, person, raw, said, stamp(in.At), in.By, in.Again)
	return err
}

const heldColumns = "id, raw, person, why, received, state, decided, brought"

func scanHeld(row interface{ Scan(...any) error }) (HeldEntry, error) {
	var h HeldEntry
	var raw, why []byte
	var received string
	if err := row.Scan(&h.ID, &raw, &h.Person, &why, &received, &h.State, &h.Decided, &h.Brought); err != nil {
		return h, err
	}
	err := errors.Join(json.Unmarshal(raw, &h.Entry), json.Unmarshal(why, &h.Why))
	if err == nil {
		h.Received, err = time.Parse(time.RFC3339Nano, received)
	}
	return h, err
}

// Held lists entries that wait, oldest first.
func (t *Tx) Held() ([]HeldEntry, error) {
	return collect(t, scanHeld, "SELECT "+heldColumns+" FROM held WHERE state = 'held' ORDER BY id LIMIT 500")
}

// HeldAgain lists entries that wait and were given again after a restore, oldest first.
func (t *Tx) HeldAgain() ([]HeldEntry, error) {
	return collect(t, scanHeld, "SELECT "+heldColumns+" FROM held WHERE state = 'held' AND again = 1 ORDER BY entry LIMIT 5000")
}

// CountHeld is how many entries that a person sent wait for a decision.
func (t *Tx) CountHeld(person string) (n int, err error) {
	return n, t.row("SELECT count(*) FROM held WHERE person = ? AND state = 'held'", person).Scan(&n)
}

// HeldByEntry gives what became of a held entry, latest first.
func (t *Tx) HeldByEntry(entry string) ([]HeldEntry, error) {
	return collect(t, scanHeld, "SELECT "+heldColumns+" FROM held WHERE entry = ? ORDER BY id DESC", entry)
}

// HeldAmong tells which of some entries wait, or waited, for a person.
func (t *Tx) HeldAmong(entries []string) (map[string]bool, error) {
	list, err := json.Marshal(entries)
	if err != nil {
		return nil, err
	}
	out := map[string]bool{}
	ids, err := collect(t, scanString, "SELECT entry FROM held WHERE entry IN (SELECT value FROM json_each(?))", string(list))
	for _, id := range ids {
		out[id] = true
	}
	return out, err
}

// HeldByID gives a held entry.
func (t *Tx) HeldByID(id int64) (HeldEntry, bool, error) {
	h, err := scanHeld(t.row("SELECT "+heldColumns+" FROM held WHERE id = ?", id))
	if errors.Is(err, sql.ErrNoRows) {
		return h, false, nil
	}
	return h, err == nil, err
}

// Decide notes what a person decided on a held entry.
func (t *Tx) Decide(id int64, state, by string, at time.Time) error {
	_, err := t.exec("UPDATE held SET state = ?, decided = ? WHERE id = ?", state, by+" "+stamp(at), id)
	return err
}
