package signals

import (
	"context"
	"database/sql"
	"errors"
	"fmt"
	"path/filepath"
	"time"

	"github.com/shopspring/decimal"
	_ "modernc.org/sqlite" // the driver

	"iter.example/iter/core/signal"
)

// raw keeps signals as they came: in a file of their own beside the database, so that they keep nobody's writing waiting. They are no part
// of the log, nor of backups.
type raw struct{ db *sql.DB }

// FileName is the file in the data directory.
const FileName = "signals.db"

func openRaw(ctx context.Context, dir string) (*raw, error) {
	db, err := sql.Open("sqlite", "file:"+filepath.Join(dir, FileName)+
		"?_pragma=journal_mode(WAL)&_pragma=synchronous(NORMAL)&_pragma=busy_timeout(5000)&_txlock=immediate")
	if err != nil {
		return nil, err
	}
	db.SetMaxOpenConns(2)
	_, err = db.ExecContext(ctx, `CREATE TABLE IF NOT EXISTS signals (machine TEXT NOT NULL, point TEXT NOT NULL, at INTEGER NOT NULL,
		value TEXT NOT NULL, source TEXT NOT NULL, PRIMARY KEY (machine, point, at)) WITHOUT ROWID`)
	if err == nil {
		_, err = db.ExecContext(ctx, "CREATE INDEX IF NOT EXISTS signals_at ON signals (at)")
	}
	if err != nil {
		return nil, errors.Join(fmt.Errorf("signals: %w", err), db.Close())
	}
	return &raw{db}, nil
}

// put keeps signals, and tells which of them are new: not reported before.
func (r *raw) put(ctx context.Context, source string, list []taken) ([]bool, error) {
	tx, err := r.db.BeginTx(ctx, nil)
	if err != nil {
		return nil, err
	}
	defer func() { _ = tx.Rollback() }()
	st, err := tx.PrepareContext(ctx, "INSERT OR IGNORE INTO signals (machine, point, at, value, source) VALUES (?,?,?,?,?)")
	if err != nil {
		return nil, err
	}
	defer func() { _ = st.Close() }()
	fresh := make([]bool, len(list))
	for i, s := range list {
		res, err := st.ExecContext(ctx, s.machine.id, s.point.ID, s.At.UnixMilli(), s.Value.String(), source)
		if err != nil {
			return nil, err
		}
		n, err := res.RowsAffected()
		if err != nil {
			return nil, err
		}
		fresh[i] = n > 0
	}
	return fresh, tx.Commit()
}

// values gives what a machine reported of a point ("" for all) since a moment, in order of time.
func (r *raw) values(ctx context.Context, machine, point string, since time.Time) (out []signal.Value, err error) {
	err = r.each(ctx, func(_ string, v signal.Value) { out = append(out, v) },
		"SELECT point, at, value FROM signals WHERE machine = ? AND (?2 = '' OR point = ?2) AND at >= ? ORDER BY at, point", machine, point,
		since.UnixMilli())
	return out, err
}

// latest gives the last value of each point of a machine.
func (r *raw) latest(ctx context.Context, machine string) (map[string]signal.Value, error) {
	out := map[string]signal.Value{}
	return out, r.each(ctx, func(point string, v signal.Value) { out[point] = v },
		`SELECT point, max(at), value FROM signals WHERE machine = ? GROUP BY point`, machine)
}

func (r *raw) each(ctx context.Context, f func(point string, v signal.Value), query string, args ...any) error {
	rows, err := r.db.QueryContext(ctx, query, args...)
	if err != nil {
		return err
	}
	defer func() { _ = rows.Close() }()
	for rows.Next() {
		var point, value string
		var at int64
		if err := rows.Scan(&point, &at, &value); err != nil {
			return err
		}
		d, err := decimal.NewFromString(value)
		if err != nil {
			return err
		}
		f(point, signal.Value{At: time.UnixMilli(at).UTC(), Value: d})
	}
	return rows.Err()
}

// machines lists those that reported something, with when they did last.
func (r *raw) machines(ctx context.Context) (map[string]time.Time, error) {
	rows, err := r.db.QueryContext(ctx, "SELECT machine, max(at) FROM signals GROUP BY machine")
	if err != nil {
		return nil, err
	}
	defer func() { _ = rows.Close() }()
	out := map[string]time.Time{}
	for rows.Next() {
		var id string
		var at int64
		if err := rows.Scan(&id, &at); err != nil {
			return nil, err
		}
		out[id] = time.UnixMilli(at).UTC()
	}
	return out, rows.Err()
}

// prune lets go of what is older.
func (r *raw) prune(ctx context.Context, before time.Time) error {
	_, err := r.db.ExecContext(ctx, "DELETE FROM signals WHERE at < ?", before.UnixMilli())
	return err
}
