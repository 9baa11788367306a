package store

import (
	"encoding/json"
	"time"

	"iter.example/iter/core/work"
)

// Notification is what a technician is told beside their devices, or waits to be told.
type Notification struct {
	ID     string
	Person string
	Way    string // push, text or mail
	Title  string
	Text   string
	Visit  string // that it opens; "" opens the route
	Paper  string // what goes with it as PDF: a work order as order/ID, somebody's day as day/2006-01-02
	Made   time.Time
	State  string // waiting, sent or failed
}

const notificationColumns = "id, person, way, title, text, visit, paper, made, state"

func scanNotification(row interface{ Scan(...any) error }) (n Notification, err error) {
	var made string
	if err := row.Scan(&n.ID, &n.Person, &n.Way, &n.Title, &n.Text, &n.Visit, &n.Paper, &made, &n.State); err != nil {
		return n, err
	}
	n.Made, err = time.Parse(time.RFC3339Nano, made)
	return n, err
}

// PutNotification keeps a notification to be sent, once.
func (t *Tx) PutNotification(n Notification) error {
	_, err := t.exec("INSERT OR IGNORE INTO notifications ("+notificationColumns+") VALUES (?,?,?,?,?,?,?,?,?)", n.ID, n.Person, n.Way,
		n.Title, n.Text, n.Visit, n.Paper, stamp(n.Made.UTC()), n.State)
	return err
}

// NotificationsWaiting lists those that have not gone yet, the oldest first.
func (t *Tx) NotificationsWaiting() ([]Notification, error) {
	return collect(t, scanNotification, "SELECT "+notificationColumns+" FROM notifications WHERE state = 'waiting' ORDER BY id LIMIT 1000")
}

// SettleNotification says what became of a notification, and by which way it went.
func (t *Tx) SettleNotification(id, way, state string, at time.Time) error {
	_, err := t.exec("UPDATE notifications SET way = ?, state = ?, at = ? WHERE id = ?", way, state, stamp(at), id)
	return err
}

// PushAddress is where a browser of somebody's is reached that is closed.
type PushAddress struct {
	Endpoint string
	Person   string
	Replica  string // of the device
	Auth     string // as the browser gave them: base64 without padding
	P256dh   string
}

// PutPushAddress keeps where a device is reached; one before is forgotten.
func (t *Tx) PutPushAddress(a PushAddress, made time.Time) error {
	if _, err := t.exec("DELETE FROM push_addresses WHERE replica = ? AND endpoint <> ?", a.Replica, a.Endpoint); err != nil {
		return err
	}
	_, err := t.exec(`INSERT INTO push_addresses (endpoint, person, replica, auth, p256dh, made) VALUES (?,?,?,?,?,?)
		ON CONFLICT (endpoint) DO UPDATE SET person = excluded.person, replica = excluded.replica, auth = excluded.auth,
		p256dh = excluded.p256dh, made = excluded.made`, a.Endpoint, a.Person, a.Replica, a.Auth, a.P256dh, stamp(made))
	return err
}

// ForgetPushAddress forgets an address that nobody answers at any more.
func (t *Tx) ForgetPushAddress(endpoint string) error {
	_, err := t.exec("DELETE FROM push_addresses WHERE endpoint = ?", endpoint)
	return err
}

// ForgetPushAddressOf forgets where a device is reached.
func (t *Tx) ForgetPushAddressOf(replica string) error {
	_, err := t.exec("DELETE FROM push_addresses WHERE replica = ?", replica)
	return err
}

// PushAddresses lists where somebody's devices are reached: those that still have access.
func (t *Tx) PushAddresses(person string) ([]PushAddress, error) {
	return collect(t, func(row interface{ Scan(...any) error }) (a PushAddress, err error) {
		return a, row.Scan(&a.Endpoint, &a.Person, &a.Replica, &a.Auth, &a.P256dh)
	}, `SELECT a.endpoint, a.person, a.replica, a.auth, a.p256dh FROM push_addresses a JOIN devices d ON d.replica = a.replica
		WHERE a.person = ?1 AND d.person = ?1 AND d.ended = '' ORDER BY a.endpoint`, person)
}

// PlanOf lists the visits that are planned for somebody and sent, as theirs or as one they come along on, from a day to another, and those
// that they know of on any day.
func (t *Tx) PlanOf(person, from, to string) ([]work.Coming, error) {
	return collect(t, func(row interface{ Scan(...any) error }) (c work.Coming, err error) {
		var start string
		if err := row.Scan(&c.ID, &start, &c.Stage); err != nil {
			return c, err
		}
		c.Start, err = time.Parse(time.RFC3339Nano, start)
		return c, err
	}, `SELECT id, start, stage FROM visits v WHERE shown AND stage <> 'withdrawn' AND stage <> 'declined' AND
		(day BETWEEN ?2 AND ?3 OR id IN (SELECT visit FROM visits_known WHERE person = ?1)) AND
		(technician = ?1 OR EXISTS (SELECT 1 FROM visit_people p WHERE p.visit = v.id AND p.person = ?1)) ORDER BY start, id`, person, from, to)
}

// KnownVisit is what somebody knows of a visit of theirs.
type KnownVisit struct {
	work.Known
	Seen time.Time // when they looked at it; zero when they were only told
	// Way and State are how they were told, and what became of that: "" where they were not.
	Way, State string
	Told       time.Time
}

func scanKnown(row interface{ Scan(...any) error }) (person string, k KnownVisit, err error) {
	var start, seen, told string
	if err := row.Scan(&person, &k.Visit, &start, &seen, &k.Way, &k.State, &told); err != nil {
		return person, k, err
	}
	for to, text := range map[*time.Time]string{&k.Start: start, &k.Seen: seen, &k.Told: told} {
		if text != "" && err == nil {
			*to, err = time.Parse(time.RFC3339Nano, text)
		}
	}
	return person, k, err
}

const knownVisits = `SELECT k.person, k.visit, k.start, k.seen, coalesce(n.way, ''), coalesce(n.state, ''), coalesce(n.at, '')
	FROM visits_known k LEFT JOIN notifications n ON n.id = k.notification WHERE `

// KnownVisits lists the visits that somebody knows of.
func (t *Tx) KnownVisits(person string) ([]KnownVisit, error) {
	return collect(t, func(row interface{ Scan(...any) error }) (KnownVisit, error) {
		_, k, err := scanKnown(row)
		return k, err
	}, knownVisits+"k.person = ?", person)
}

// KnownOf gives what people know of some visits, by person and visit.
func (t *Tx) KnownOf(visits ...string) (map[[2]string]KnownVisit, error) {
	list, err := json.Marshal(visits)
	if err != nil {
		return nil, err
	}
	out := map[[2]string]KnownVisit{}
	_, err = collect(t, func(row interface{ Scan(...any) error }) (bool, error) {
		person, k, err := scanKnown(row)
		out[[2]string{person, k.Visit}] = k
		return true, err
	}, knownVisits+"k.visit IN (SELECT value FROM json_each(?))", string(list))
	return out, err
}

// SawVisit notes that somebody looked at a visit, planned as it was on their device. Of a visit that there is not nothing is noted.
func (t *Tx) SawVisit(person string, k work.Known, at time.Time) error {
	_, err := t.exec(`INSERT INTO visits_known (person, visit, start, seen) SELECT ?1, ?2, ?3, ?4
		WHERE EXISTS (SELECT 1 FROM visits WHERE id = ?2)
		ON CONFLICT (person, visit) DO UPDATE SET start = excluded.start, seen = excluded.seen,
		notification = iif(start = excluded.start, notification, '')`, person, k.Visit, utc(k.Start), stamp(at))
	return err
}

// ToldVisits notes that somebody is told by a notification, "" where they need none, when visits are.
func (t *Tx) ToldVisits(person string, list []work.Known, notification string) error {
	for _, k := range list {
		if _, err := t.exec(`INSERT INTO visits_known (person, visit, start, notification) VALUES (?,?,?,?)
			ON CONFLICT (person, visit) DO UPDATE SET start = excluded.start, seen = iif(start = excluded.start, seen, ''),
			notification = excluded.notification`, person, k.Visit, utc(k.Start), notification); err != nil {
			return err
		}
	}
	return nil
}

// ForgetVisits forgets what somebody knew of visits.
func (t *Tx) ForgetVisits(person string, list []work.Known) error {
	for _, k := range list {
		if _, err := t.exec("DELETE FROM visits_known WHERE person = ? AND visit = ?", person, k.Visit); err != nil {
			return err
		}
	}
	return nil
}

// AnyKnownBefore tells whether anybody is said to know of a visit of before a moment, or anything that was sent then is kept.
func (t *Tx) AnyKnownBefore(at time.Time) (any bool, err error) {
	err = t.row(`SELECT EXISTS (SELECT 1 FROM visits_known WHERE start < ?) OR EXISTS (SELECT 1 FROM notifications WHERE made < ?
		AND state <> 'waiting')`, utc(at), stamp(at.UTC())).Scan(&any)
	return any, err
}

// ForgetKnownBefore forgets what anybody knew of visits, and what was sent, of before a moment.
func (t *Tx) ForgetKnownBefore(at time.Time) error {
	if _, err := t.exec("DELETE FROM visits_known WHERE start < ?", utc(at)); err != nil {
		return err
	}
	_, err := t.exec("DELETE FROM notifications WHERE made < ? AND state <> 'waiting'", stamp(at.UTC()))
	return err
}

// Knowing lists those who know of a visit.
func (t *Tx) Knowing(visit string) ([]string, error) {
	return collect(t, scanString, "SELECT person FROM visits_known WHERE visit = ?", visit)
}
