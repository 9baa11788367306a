package store

import (
	"crypto/sha256"
	"encoding/json"
	"errors"
	"time"

	"iter.example/iter/core/ledger"
	"iter.example/iter/core/records"
	"iter.example/iter/core/signal"
)

func (t *Tx) indexIncident(id string) error {
	var i ledger.Incident
	if ok, err := t.Load("incident", id, &i); err != nil || !ok {
		return err
	}
	ended := ""
	if !i.Ended.IsZero() {
		ended = utc(i.Ended)
	}
	waits := i.Rule.Do == signal.Attend && i.Handled == nil
	_, err := t.exec("INSERT OR REPLACE INTO incidents (id, asset, rule, since, ended, waits) VALUES (?,?,?,?,?,?)",
		id, i.Asset, i.Rule.ID, utc(i.Since), ended, waits)
	return err
}

// OpenIncidents is what is wrong with machines now, by id.
func (t *Tx) OpenIncidents() (map[string]ledger.Incident, error) {
	ids, err := collect(t, scanString, "SELECT id FROM incidents WHERE ended = ''")
	if err != nil {
		return nil, err
	}
	out := map[string]ledger.Incident{}
	for _, id := range ids {
		var i ledger.Incident
		if _, err := t.Load("incident", id, &i); err != nil {
			return nil, err
		}
		out[id] = i
	}
	return out, nil
}

// WaitingIncidents lists what somebody at the office is to look at, the earliest first, and how much there is.
func (t *Tx) WaitingIncidents(most int) (ids []string, count int, err error) {
	if err := t.row("SELECT count(*) FROM incidents WHERE waits = 1").Scan(&count); err != nil {
		return nil, 0, err
	}
	ids, err = collect(t, scanString, "SELECT id FROM incidents WHERE waits = 1 ORDER BY since, id LIMIT ?", most)
	return ids, count, err
}

// IncidentsOf lists what was wrong with a machine, the latest first.
func (t *Tx) IncidentsOf(asset string, most int) ([]string, error) {
	return collect(t, scanString, "SELECT id FROM incidents WHERE asset = ? ORDER BY since DESC, id LIMIT ?", asset, most)
}

// MachineNamed finds a machine by its id, or by its serial number where one alone has that; "" when there is none.
func (t *Tx) MachineNamed(name string) (string, error) {
	var a records.Asset
	if ok, err := t.Load("asset", name, &a); err != nil || ok {
		return name, err
	}
	ids, err := collect(t, scanString, "SELECT id FROM assets WHERE serial = ? LIMIT 2", name)
	if err != nil || len(ids) != 1 {
		return "", err
	}
	return ids[0], nil
}

// SignalSource is who may send signals.
type SignalSource struct {
	ID    string
	Name  string
	Sites []string // whose machines it may report of
	Made  time.Time
	By    string    // person
	Ended time.Time // zero while it may
}

// PutSignalSource adds a source, which a key names from now on.
func (t *Tx) PutSignalSource(s SignalSource, key string) error {
	sites, err := json.Marshal(append([]string{}, s.Sites...))
	if err != nil {
		return err
	}
	hash := sha256.Sum256([]byte(key))
	_, err = t.exec("INSERT INTO signal_sources (id, name, sites, hash, made, by) VALUES (?,?,?,?,?,?)", s.ID, s.Name, string(sites), hash[:],
		utc(s.Made), s.By)
	return err
}

// EndSignalSource has a source send no more, and tells whether there was one.
func (t *Tx) EndSignalSource(id string, now time.Time) (bool, error) {
	res, err := t.exec("UPDATE signal_sources SET ended = ? WHERE id = ? AND ended = ''", utc(now), id)
	if err != nil {
		return false, err
	}
	n, err := res.RowsAffected()
	return n > 0, err
}

const sourceColumns = "SELECT id, name, sites, made, by, ended FROM signal_sources "

// SignalSources lists those who may send signals, and who might, by name.
func (t *Tx) SignalSources() ([]SignalSource, error) {
	return collect(t, scanSource, sourceColumns+"ORDER BY ended <> '', name, id")
}

// SignalSourceBy gives the source that a key names, and whether it may still send.
func (t *Tx) SignalSourceBy(key string) (SignalSource, bool, error) {
	hash := sha256.Sum256([]byte(key))
	all, err := collect(t, scanSource, sourceColumns+"WHERE hash = ? AND ended = ''", hash[:])
	if err != nil || len(all) == 0 {
		return SignalSource{}, false, err
	}
	return all[0], true, nil
}

func scanSource(rows interface{ Scan(...any) error }) (s SignalSource, err error) {
	var sites, made, ended string
	if err := rows.Scan(&s.ID, &s.Name, &sites, &made, &s.By, &ended); err != nil {
		return s, err
	}
	if s.Made, err = time.Parse(time.RFC3339Nano, made); err == nil && ended != "" {
		s.Ended, err = time.Parse(time.RFC3339Nano, ended)
	}
	return s, errors.Join(err, json.Unmarshal([]byte(sites), &s.Sites))
}
