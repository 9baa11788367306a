package main

import (
	"context"
	"crypto/sha256"
	"database/sql"
	"net"
	"net/http"
	"net/http/httptest"
	"os"
	"path/filepath"
	"slices"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"iter.example/iter/core/ledger"
	"iter.example/iter/server/store"
)

// begun runs a command until it answers, and gives what ends it.
func begun(t *testing.T, run func(context.Context, []string) error, args ...string) (address string, end func()) {
	l, err := net.Listen("tcp", "127.0.0.1:0")
	require.NoError(t, err)
	address = l.Addr().String()
	require.NoError(t, l.Close())
	ctx, cancel := context.WithCancel(context.Background())
	done := make(chan error, 1)
	go func() { done <- run(ctx, append(args, "--address", address)) }()
	require.Eventually(t, func() bool { // it listens before it is ready, and then answers
		res, err := http.Get("http://" + address + "/healthz")
		if err == nil {
			_ = res.Body.Close()
		}
		return err == nil && res.StatusCode == http.StatusOK
	}, 2*time.Minute, 20*time.Millisecond)
	return address, func() {
		cancel()
		require.NoError(t, <-done)
	}
}

// seal is what tells whether a folder was touched: its files with their hashes, but those that SQLite makes for whoever reads.
func seal(t *testing.T, dir string) map[string][32]byte {
	out := map[string][32]byte{}
	require.NoError(t, filepath.WalkDir(dir, func(path string, e os.DirEntry, err error) error {
		if err != nil || e.IsDir() || slices.Contains([]string{store.LockName, store.FileName + "-shm", store.FileName + "-wal"},
			e.Name()) {
			return err
		}
		raw, err := os.ReadFile(path)
		out[path] = sha256.Sum256(raw)
		return err
	}))
	return out
}

// A demo erases a demo, and nothing else: neither a company's data nor files of which nobody knows whose they are.
func TestADemoTouchesNoCompany(t *testing.T) {
	ctx, live := context.Background(), t.TempDir()
	require.NoError(t, runAdmin(ctx, []string{"--data", live, "--login", "ada"}))
	other := t.TempDir()
	require.NoError(t, os.MkdirAll(filepath.Join(other, store.FilesDir), 0o700))
	for _, dir := range []string{live, other} {
		before := seal(t, dir)
		for _, keep := range []string{"--keep=false", "--keep"} {
			require.ErrorContains(t, runDemo(ctx, []string{"--data", dir, "--address", "127.0.0.1:0", "--history", "0", keep}),
				"nothing was changed", dir)
		}
		assert.Equal(t, before, seal(t, dir))
	}

	demo := t.TempDir()
	_, end := begun(t, runDemo, "--data", demo, "--history", "0")
	require.ErrorContains(t, runDemo(ctx, []string{"--data", demo, "--address", "127.0.0.1:0"}), "another Iter uses this directory",
		"not even a demo that is being shown")
	end()
	marked, err := store.DemoIn(ctx, demo)
	require.NoError(t, err)
	assert.True(t, marked)
	before := seal(t, demo)
	require.ErrorContains(t, runServe(ctx, []string{"--data", demo, "--address", "127.0.0.1:0"}), "passwords everybody knows")
	assert.Equal(t, before, seal(t, demo))

	backup := t.TempDir()
	require.NoError(t, runBackup(ctx, []string{"--data", demo, backup}))
	marked, err = store.DemoIn(ctx, backup)
	require.NoError(t, err)
	assert.True(t, marked, "a copy of a demo is one")
	_, end = begun(t, runDemo, "--data", demo, "--history", "0")
	end()
}

// One program serves from a folder at a time, and one that can't begin writes nothing.
func TestAFolderIsServedOnce(t *testing.T) {
	ctx, dir := context.Background(), t.TempDir()
	require.NoError(t, runAdmin(ctx, []string{"--data", dir, "--login", "ada"}))
	address, end := begun(t, runServe, "--data", dir)
	require.ErrorContains(t, runServe(ctx, []string{"--data", dir, "--address", "127.0.0.1:0"}), "another Iter uses this directory")
	fresh := filepath.Join(t.TempDir(), "new")
	for _, run := range []func(context.Context, []string) error{runServe, runDemo} {
		require.ErrorContains(t, run(ctx, []string{"--data", fresh, "--address", address}),
			"is in use by another program; nothing was changed")
		assert.NoDirExists(t, fresh)
	}
	require.NoError(t, runVerify(ctx, []string{"--data", dir}), "whoever only looks may")
	end()
	_, end = begun(t, runServe, "--data", dir)
	end()
}

// Folders of earlier programs are raised and folded anew by themselves: before-rights is a customer list and an account, made by the
// program before there were capabilities; before-kinds the test company with entries of every kind, and strike-outs of whatever can be
// struck out, made by the program before kinds were rows.
func TestAnEarlierProgramsFolderIsRaised(t *testing.T) {
	for _, name := range []string{"before-rights", "before-kinds"} {
		t.Run(name, func(t *testing.T) {
			ctx, dir := context.Background(), t.TempDir()
			require.NoError(t, os.CopyFS(dir, os.DirFS(filepath.Join("testdata", name))))
			entries, form, before := lookedInto(t, dir)
			require.ErrorContains(t, runAdmin(ctx, []string{"--data", dir, "--login", "ada"}), "iter rebuild --data "+dir)
			require.ErrorContains(t, runImport(ctx, []string{"--data", dir, "lists"}), "iter rebuild --data "+dir)
			_, end := begun(t, runServe, "--data", dir)
			end()
			require.NoError(t, runVerify(ctx, []string{"--data", dir}))
			after, raised, struck := lookedInto(t, dir)
			assert.Equal(t, entries, after, "what was said stays as it was said")
			assert.Greater(t, raised, form)
			assert.Equal(t, before, struck, "what was struck out is, and nothing else")
			if name == "before-kinds" {
				rulesOfBefore(t, dir)
			}
		})
	}
}

// rulesOfBefore looks at what became of the policy of before-kinds, which was amended four times on the day it was made.
func rulesOfBefore(t *testing.T, dir string) {
	s, err := store.Open(t.Context(), dir)
	require.NoError(t, err)
	defer s.Close()
	require.NoError(t, s.Read(t.Context(), func(tx *store.Tx) error {
		all, err := tx.Settings(time.Date(2026, 3, 10, 12, 0, 0, 0, time.UTC))
		require.NoError(t, err)
		assert.Equal(t, []any{"Test Pumps", "01 555 0111", "Europe/Dublin", 5, 30, "68"}, []any{all.Company.Name, all.Company.Phone,
			all.Company.Zone.Name, all.Stores.Waiting, all.Billing.Minimum, all.Billing.Rates[0].Hour.String()})
		pay, err := tx.PayRules()
		require.NoError(t, err)
		var days []string
		for _, r := range pay {
			days = append(days, r.From)
		}
		assert.Equal(t, []string{"", "2000-01-01", "2026-03-15"}, days, "terms that had days keep them")
		flags, err := tx.FlagsOn(ledger.Ref{Type: "settings", ID: "company"})
		require.NoError(t, err)
		require.Len(t, flags, 1, "two who changed the telephone number are told as before")
		assert.Equal(t, "company.phone", flags[0].Args["field"])
		old, err := tx.Trail(ledger.Ref{Type: "policy", ID: "company"})
		assert.Len(t, old, 5, "the log keeps what was said as it was said")
		return err
	}))
}

// Until there is somebody to answer, whoever comes is told to come again.
func TestWhoeverAsksTooSoonAsksAgain(t *testing.T) {
	l, answer := &lateHandler{}, httptest.NewRecorder()
	l.ServeHTTP(answer, httptest.NewRequest(http.MethodPost, "/api/sync", nil))
	assert.Equal(t, http.StatusServiceUnavailable, answer.Code)
	assert.Equal(t, "10", answer.Header().Get("Retry-After"))
	assert.Contains(t, answer.Body.String(), "server.preparing")
	l.set(http.HandlerFunc(func(w http.ResponseWriter, _ *http.Request) { w.WriteHeader(http.StatusTeapot) }))
	answer = httptest.NewRecorder()
	l.ServeHTTP(answer, httptest.NewRequest(http.MethodPost, "/api/sync", nil))
	assert.Equal(t, http.StatusTeapot, answer.Code)
}

// lookedInto counts the entries of a database, and gives the version of its form and what is struck out in its documents.
func lookedInto(t *testing.T, dir string) (entries, form int, struck []string) {
	db, err := sql.Open("sqlite", filepath.Join(dir, store.FileName))
	require.NoError(t, err)
	defer db.Close()
	require.NoError(t, db.QueryRow("SELECT (SELECT count(*) FROM entries), user_version FROM pragma_user_version").Scan(&entries, &form))
	rows, err := db.Query(`SELECT d.type || '/' || d.id || ' ' || replace(t.path, '$.', '') || ' ' ||
		coalesce(json_extract(CAST(d.body AS TEXT), t.path || '.entry'), '')
		FROM docs d, json_tree(CAST(d.body AS TEXT)) t WHERE t.key = 'struck' ORDER BY 1`)
	require.NoError(t, err)
	defer rows.Close()
	for rows.Next() {
		var line string
		require.NoError(t, rows.Scan(&line))
		struck = append(struck, line)
	}
	return entries, form, struck
}
