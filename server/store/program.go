package store

import (
	"context"
	"crypto/rand"
	"database/sql"
	"errors"
)

// secrets are the names of the program's own secrets: keys that are made when the database is.
var secrets = []string{"terminal", "browser"}

// makeSecrets makes the secrets that are not there yet.
func makeSecrets(ctx context.Context, db *sql.DB) error {
	for _, name := range secrets {
		key := make([]byte, 32)
		if _, err := rand.Read(key); err != nil {
			return err
		}
		if _, err := db.ExecContext(ctx, "INSERT OR IGNORE INTO program (name, value) VALUES (?,?)", name, key); err != nil {
			return err
		}
	}
	return nil
}

// Secret gives one of the program's own secrets.
func (t *Tx) Secret(name string) (key []byte, err error) {
	err = t.row("SELECT value FROM program WHERE name = ?", name).Scan(&key)
	return key, err
}

// MarkDemo marks the database as a demo's: its people and passwords are made up and known to all.
func (t *Tx) MarkDemo() error {
	_, err := t.exec("INSERT OR IGNORE INTO program (name, value) VALUES ('demo', x'')")
	return err
}

// IsDemo tells whether the database is a demo's.
func (t *Tx) IsDemo() (bool, error) {
	var one int
	err := t.row("SELECT 1 FROM program WHERE name = 'demo'").Scan(&one)
	if errors.Is(err, sql.ErrNoRows) {
		return false, nil
	}
	return err == nil, err
}
