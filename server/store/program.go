package store

import (
	"context"
	"crypto/ecdh"
	"crypto/rand"
	"database/sql"
	"path/filepath"
)

// secrets are the program's own secrets, by name, with how they are made when the database is. By the one for push, a key on P-256, push
// services know who sends (RFC 8292).
var secrets = map[string]func() ([]byte, error){"terminal": newKey, "browser": newKey, "push": newCurveKey}

func newKey() ([]byte, error) {
	key := make([]byte, 32)
	_, err := rand.Read(key)
	return key, err
}

func newCurveKey() ([]byte, error) {
	key, err := ecdh.P256().GenerateKey(rand.Reader)
	if err != nil {
		return nil, err
	}
	return key.Bytes(), nil
}

// makeSecrets makes the secrets that are not there yet.
func makeSecrets(ctx context.Context, db *sql.DB) error {
	for name, make := range secrets {
		key, err := make()
		if err != nil {
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
