package store

import (
	"crypto/sha256"
	"database/sql"
	"errors"
	"time"
)

// Feed is a calendar of somebody's plan, which is read by its secret address.
type Feed struct {
	Person string
	Made   time.Time
}

// PutFeed makes the feed of a person, read by a secret from now on; one before is read no more.
func (t *Tx) PutFeed(person, secret string, made time.Time) error {
	hash := sha256.Sum256([]byte(secret))
	_, err := t.exec(`INSERT INTO feeds (person, hash, made) VALUES (?,?,?)
		ON CONFLICT (person) DO UPDATE SET hash = excluded.hash, made = excluded.made`, person, hash[:], utc(made))
	return err
}

// EndFeed ends the feed of a person, if there is one.
func (t *Tx) EndFeed(person string) error {
	_, err := t.exec("DELETE FROM feeds WHERE person = ?", person)
	return err
}

// FeedOf gives the feed of a person, and whether there is one.
func (t *Tx) FeedOf(person string) (Feed, bool, error) {
	return t.feed("SELECT person, made FROM feeds WHERE person = ?", person)
}

// FeedBy gives the feed that a secret reads, and whether there is one.
func (t *Tx) FeedBy(secret string) (Feed, bool, error) {
	hash := sha256.Sum256([]byte(secret))
	return t.feed("SELECT person, made FROM feeds WHERE hash = ?", hash[:])
}

func (t *Tx) feed(query string, arg any) (f Feed, ok bool, err error) {
	var made string
	err = t.row(query, arg).Scan(&f.Person, &made)
	if errors.Is(err, sql.ErrNoRows) {
		return f, false, nil
	}
	if err != nil {
		return f, false, err
	}
	f.Made, err = time.Parse(time.RFC3339Nano, made)
	return f, err == nil, err
}

// VisitsOf lists the visits that somebody sees, as theirs or as one they come along on, from a day to another.
func (t *Tx) VisitsOf(person, from, to string) ([]string, error) {
	return collect(t, scanString, `SELECT id FROM visits WHERE technician = ?1 AND day BETWEEN ?2 AND ?3 AND shown
		UNION SELECT v.id FROM visit_people p JOIN visits v ON v.id = p.visit WHERE p.person = ?1 AND v.day BETWEEN ?2 AND ?3 AND v.shown
		ORDER BY 1`, person, from, to)
}
