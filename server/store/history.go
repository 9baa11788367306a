package store

import (
	"context"
	"crypto/rand"
	"database/sql"
	"encoding/hex"
	"errors"
	"strconv"
	"time"
)

// The log of a server that was restored from a copy goes on otherwise than the one that was lost: it has another history. Whoever was told
// of the one that was lost finds out by its name, and gives again what this one lacks.

// numbersADay is by how much numbers that were shown to people go on after a restore, for each day that the copy was old and once more:
// what is numbered in between may have been given away.
const numbersADay = 1000

// numbered are the tables of what has a number that people see, with the question for the last that was given.
var numbered = map[string]string{
	"workorders": "SELECT coalesce(max(number), 4000) FROM workorders",
	"purchases":  "SELECT count(*) FROM purchases",
}

func newHistory() []byte {
	id := make([]byte, 12)
	_, _ = rand.Read(id) // never fails
	return []byte(hex.EncodeToString(id))
}

// BeginHistory gives a copy of a database a history of its own, which begins where the copy was made.
func BeginHistory(ctx context.Context, path string) error {
	db, err := sql.Open("sqlite", "file:"+path+"?_pragma=busy_timeout(10000)")
	if err != nil {
		return wrap("begin a history", err)
	}
	_, err = db.ExecContext(ctx, "INSERT OR REPLACE INTO program (name, value) VALUES ('history', ?), ('copied', x'')", newHistory())
	return wrap("begin a history", errors.Join(err, db.Close()))
}

// Resume makes a database that is a copy ready to be served: numbers that were given after it was made are not given again. It changes
// nothing in one that is no copy.
func (s *Store) Resume(ctx context.Context, now time.Time) error {
	return s.Write(ctx, func(t *Tx) error {
		var copied bool
		if err := t.row("SELECT EXISTS (SELECT 1 FROM program WHERE name = 'copied')").Scan(&copied); err != nil || !copied {
			return err
		}
		var received string
		if err := t.row("SELECT coalesce((SELECT received FROM entries ORDER BY seq DESC LIMIT 1), '')").Scan(&received); err != nil {
			return err
		}
		days := 1
		if last, err := time.Parse(time.RFC3339Nano, received); err == nil && now.After(last) {
			days += int(now.Sub(last) / (24 * time.Hour))
		}
		if _, err := t.exec("DELETE FROM program WHERE name = 'restored'"); err != nil {
			return err
		}
		for name, query := range numbered {
			var last int
			if err := t.row(query).Scan(&last); err != nil {
				return err
			}
			if _, err := t.exec("INSERT OR REPLACE INTO program (name, value) VALUES (?,?)", "last "+name,
				[]byte(strconv.Itoa(last+days*numbersADay))); err != nil {
				return err
			}
		}
		_, err := t.exec("UPDATE program SET name = 'restored' WHERE name = 'copied'")
		return err
	})
}

// Restored tells whether the database was served from a copy: then others may have more of the log than it has.
func (t *Tx) Restored() (restored bool, err error) {
	return restored, t.row("SELECT EXISTS (SELECT 1 FROM program WHERE name = 'restored')").Scan(&restored)
}

// last is the last number that was given to something, as far as anybody can know.
func (t *Tx) last(name string) (int, error) {
	var last int
	if err := t.row(numbered[name]).Scan(&last); err != nil {
		return 0, err
	}
	var floor []byte
	err := t.row("SELECT value FROM program WHERE name = ?", "last "+name).Scan(&floor)
	if errors.Is(err, sql.ErrNoRows) {
		return last, nil
	}
	if n, bad := strconv.Atoi(string(floor)); bad == nil {
		last = max(last, n)
	}
	return last, err
}

// History names the history of the log.
func (t *Tx) History() (string, error) {
	id, err := t.Secret("history")
	return string(id), err
}

// unkept is a store without a second copy.
const unkept = -1

// keptFor is how long what was acknowledged is kept by whoever recorded it when there is no second copy, unless the company says otherwise.
const keptFor = 7

// Replicated says that there is a second copy of the log up to a place, with all files that were there by then.
func (s *Store) Replicated(seq int64) { s.replicated.Store(seq) }

// Alone tells whether there is no second copy.
func (s *Store) Alone() bool { return s.replicated.Load() == unkept }

// Kept is the place in the log up to which it rests on more than this disk: as far as the second copy goes, or, without one, what is older
// than the days that the company says.
func (s *Store) Kept(ctx context.Context, now time.Time) (seq int64, err error) {
	if seq = s.replicated.Load(); seq != unkept {
		return seq, nil
	}
	s.keptLock.Lock()
	defer s.keptLock.Unlock()
	if now.Sub(s.keptAt).Abs() < time.Minute {
		return s.keptSeq, nil
	}
	err = s.Read(ctx, func(t *Tx) error {
		c, _, err := t.Company(now)
		if err != nil {
			return err
		}
		days := c.KeepDays
		if days <= 0 {
			days = keptFor
		}
		return t.row("SELECT coalesce((SELECT seq FROM entries WHERE received < ? ORDER BY seq DESC LIMIT 1), 0)",
			stamp(now.AddDate(0, 0, -days))).Scan(&seq)
	})
	if err == nil {
		s.keptSeq, s.keptAt = seq, now
	}
	return seq, err
}
