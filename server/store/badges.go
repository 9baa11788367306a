package store

import (
	"database/sql"
	"errors"
)

// Badge is how a person identifies themselves at a shared terminal.
type Badge struct {
	Person string
	Number string
	Code   string // what the badge says
	Pin    string // argon2id; empty while none was set
	Tries  int    // wrong PINs since the last right one
}

const badgeColumns = "person, number, badge, pin, tries"

func scanBadge(row interface{ Scan(...any) error }) (b Badge, err error) {
	return b, row.Scan(&b.Person, &b.Number, &b.Code, &b.Pin, &b.Tries)
}

// Badges lists all badges, by number.
func (t *Tx) Badges() ([]Badge, error) {
	return collect(t, scanBadge, "SELECT "+badgeColumns+" FROM badges ORDER BY number")
}

// BadgeOf gives a person's badge, and whether they have one.
func (t *Tx) BadgeOf(person string) (Badge, bool, error) {
	return t.oneBadge("SELECT "+badgeColumns+" FROM badges WHERE person = ?", person)
}

// BadgeNumbered gives the badge with a number, and whether there is one.
func (t *Tx) BadgeNumbered(number string) (Badge, bool, error) {
	return t.oneBadge("SELECT "+badgeColumns+" FROM badges WHERE number = ?", number)
}

func (t *Tx) oneBadge(query, arg string) (Badge, bool, error) {
	b, err := scanBadge(t.row(query, arg))
	if errors.Is(err, sql.ErrNoRows) {
		return b, false, nil
	}
	return b, err == nil, err
}

// PutBadge keeps a badge.
func (t *Tx) PutBadge(b Badge) error {
	_, err := t.exec(`INSERT INTO badges (person, number, badge, pin, tries) VALUES (?,?,?,?,?) ON CONFLICT (person) DO UPDATE
		SET number = excluded.number, badge = excluded.badge, pin = excluded.pin, tries = excluded.tries`,
		b.Person, b.Number, b.Code, b.Pin, b.Tries)
	return err
}
