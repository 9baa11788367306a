package store

import (
	"context"
	"crypto/rand"
	"database/sql"
	"path/filepath"
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
	_, err := db.ExecContext(ctx, "INSERT OR IGNORE INTO program (name, value) VALUES ('history', ?)", newHistory())
	return err
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

// DemoIn tells whether the database in a directory is a demo's. It is only read: another's is not even brought up to date.
func DemoIn(ctx context.Context, dir string) (bool, error) {
	db, err := sql.Open("sqlite", "file:"+filepath.Join(dir, FileName)+"?mode=ro&_pragma=busy_timeout(10000)")
	if err != nil {
		return false, err
	}
	defer db.Close()
	var marked bool
	err = db.QueryRowContext(ctx, "SELECT EXISTS (SELECT 1 FROM sqlite_master WHERE type = 'table' AND name = 'program')").Scan(&marked)
	if err != nil || !marked { // a program of before marked none
		return false, wrap("look at "+dir, err)
	}
	err = db.QueryRowContext(ctx, "SELECT EXISTS (SELECT 1 FROM program WHERE name = 'demo')").Scan(&marked)
	return marked, wrap("look at "+dir, err)
}
