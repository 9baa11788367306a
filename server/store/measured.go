package store

import (
	"database/sql"
	"encoding/json"
	"errors"
	"slices"
	"time"

	"iter.example/iter/core/ledger"
	"iter.example/iter/core/reading"
	"iter.example/iter/core/sheet"
	"iter.example/iter/core/work"
)

// sheet gives a check sheet ready to be filled in, or nil.
func (t *Tx) sheet(ref string) (*sheet.Compiled, error) {
	d, err := t.Doc(ledger.Ref{Type: "sheet", ID: ref})
	if err != nil || d.Body == nil {
		return nil, err
	}
	return sheet.Load(d.Body)
}

// States fills in the sheets of a visit's work order, as far as they are known.
func (t *Tx) States(v work.Visit, o work.Order) ([]sheet.State, error) {
	out := []sheet.State{}
	for _, ref := range o.Sheets {
		c, err := t.sheet(ref)
		if err != nil {
			return nil, err
		}
		if c != nil {
			out = append(out, c.Fill(v.Given(ref, o.Asset)))
		}
	}
	return out, nil
}

// doubted adds the visits on which something was measured that is doubted otherwise than before, since something was heard of that was
// measured earlier.
func (t *Tx) doubted(measured ledger.Ref, body []byte, visits map[string]bool) error {
	var was, is reading.History
	var rev int64
	var old []byte
	if err := t.row(readDoc, measured.Type, measured.ID).Scan(&rev, &old); errors.Is(err, sql.ErrNoRows) {
		return nil
	} else if err != nil {
		return err
	}
	if err := errors.Join(json.Unmarshal(old, &was), json.Unmarshal(body, &is)); err != nil {
		return err
	}
	for point, list := range is.Points {
		for _, r := range list {
			if d, known := was.DoubtOf(point, r.Entry); known && d != r.Doubt {
				visits[r.Visit] = true
			}
		}
	}
	return nil
}

// measured keeps the tables of readings and of what wants attention in step with a visit.
func (t *Tx) measured(id string, v work.Visit) error {
	v.Readings = slices.Clone(v.Readings)
	for _, asset := range assetsOf(v.Readings) {
		var h reading.History
		if _, err := t.Load("measured", asset, &h); err != nil {
			return err
		}
		v.Doubt(asset, h)
	}
	for _, r := range v.Readings { // nothing of one ever changes but whether it is struck out, and doubted
		if r.Struck {
			if _, err := t.exec("DELETE FROM readings WHERE entry = ?", r.Entry); err != nil {
				return err
			}
			continue
		}
		raw, err := json.Marshal(r)
		if err != nil {
			return err
		}
		if _, err := t.exec(`INSERT INTO readings (entry, visit, asset, point, at, body) VALUES (?,?,?,?,?,?)
			ON CONFLICT (entry) DO UPDATE SET body = excluded.body WHERE body != excluded.body`, r.Entry, id, r.Asset, r.Point,
			utc(r.At), raw); err != nil {
			return err
		}
	}
	if len(v.Readings) == 0 && len(v.Answers) == 0 && len(v.Files) == 0 && len(v.Proposals) == 0 {
		return nil
	}
	var o work.Order
	if _, err := t.Load("workorder", v.Order, &o); err != nil {
		return err
	}
	states, err := t.States(v, o)
	if err != nil {
		return err
	}
	if _, err := t.exec("DELETE FROM attention WHERE visit = ?", id); err != nil {
		return err
	}
	for _, a := range v.Attentions(o.Asset, states) {
		raw, err := json.Marshal(a)
		if err != nil {
			return err
		}
		if _, err := t.exec("INSERT OR REPLACE INTO attention (visit, key, concern, at, handled, body) VALUES (?,?,?,?,?,?)", id, a.Key,
			a.Concern, utc(a.At), a.Handled != nil, raw); err != nil {
			return err
		}
	}
	return nil
}

// assetsOf lists what was measured, each once.
func assetsOf(readings []reading.Reading) []string {
	var out []string
	for _, r := range readings {
		if !slices.Contains(out, r.Asset) {
			out = append(out, r.Asset)
		}
	}
	return out
}

func utc(t time.Time) string { return t.UTC().Format(time.RFC3339) }

// Measured is a reading with the visit it was taken on.
type Measured struct {
	Visit string
	reading.Reading
}

func scanMeasured(row interface{ Scan(...any) error }) (m Measured, err error) {
	var raw []byte
	if err = row.Scan(&m.Visit, &raw); err == nil {
		err = json.Unmarshal(raw, &m.Reading)
	}
	return m, err
}

// MeasuredOn gives the readings of an asset, the latest limit of them, in order of time. Struck ones are left out.
func (t *Tx) MeasuredOn(asset string, limit int) ([]Measured, error) {
	return collect(t, scanMeasured,
		`SELECT visit, body FROM (SELECT visit, body, at, entry FROM readings WHERE asset = ? ORDER BY at DESC, entry DESC LIMIT ?)
			ORDER BY at, entry`, asset, limit)
}

// MeasuredAt gives all readings of a point of an asset, in order of time. Struck ones are left out.
func (t *Tx) MeasuredAt(asset, point string) ([]Measured, error) {
	return collect(t, scanMeasured, "SELECT visit, body FROM readings WHERE asset = ? AND point = ? ORDER BY at, entry", asset, point)
}

// MeasuredBetween gives the readings of the visits planned from one day to another, both included, in order of time.
func (t *Tx) MeasuredBetween(from, to string) ([]Measured, error) {
	return collect(t, scanMeasured,
		"SELECT r.visit, r.body FROM visits v JOIN readings r ON r.visit = v.id WHERE v.day BETWEEN ? AND ? ORDER BY r.at, r.entry", from,
		to)
}

// Attended is a point of attention with its visit.
type Attended struct {
	Visit string `json:"visit"`
	work.Attention
}

// Attention lists what wants attention and is not handled, or what was handled lately: the most pressing first, then the latest.
func (t *Tx) Attention(handled bool, limit int) ([]Attended, error) {
	return collect(t, func(row interface{ Scan(...any) error }) (a Attended, err error) {
		var raw []byte
		if err = row.Scan(&a.Visit, &raw); err == nil {
			err = json.Unmarshal(raw, &a.Attention)
		}
		return a, err
	}, `SELECT visit, body FROM attention WHERE handled = ?
		ORDER BY CASE concern WHEN 'hazard' THEN 0 WHEN 'alarm' THEN 1 WHEN 'failed' THEN 2 WHEN 'follow_up' THEN 3
		WHEN 'warning' THEN 4 WHEN 'recommendation' THEN 5 ELSE 6 END, at DESC, visit, key LIMIT ?`, handled, limit)
}

// VisitsBetween lists the visits planned from one day to another, both included, by day and start.
func (t *Tx) VisitsBetween(from, to string) ([]string, error) {
	return collect(t, scanString, "SELECT id FROM visits WHERE day BETWEEN ? AND ? ORDER BY day, start, id", from, to)
}
