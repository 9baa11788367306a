package main

import (
	"bufio"
	"bytes"
	"context"
	"encoding/json"
	"fmt"
	"math/rand"
	"net/http"
	"net/http/cookiejar"
	"os/exec"
	"path/filepath"
	"strings"
	"sync"
	"sync/atomic"
	"syscall"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"iter.example/iter/core/ledger"
	"iter.example/iter/core/ledger/ledgertest"
	"iter.example/iter/core/replica"
	"iter.example/iter/server/accounts"
	"iter.example/iter/server/api"
	"iter.example/iter/server/store"
)

const password = "correct horse"

// served is the real program as a process of its own.
type served struct {
	*exec.Cmd
	url string
}

func startProgram(t *testing.T, program, dir string, more ...string) *served {
	c := exec.Command(program, append([]string{"serve", "--data", dir, "--address", "127.0.0.1:0"}, more...)...)
	out, err := c.StdoutPipe()
	require.NoError(t, err)
	require.NoError(t, c.Start())
	line, err := bufio.NewReader(out).ReadString('\n')
	require.NoError(t, err)
	_, url, ok := strings.Cut(strings.TrimSpace(line), "Iter is at ")
	require.True(t, ok, line)
	return &served{c, url}
}

// phone sends entries as fast as it can, and remembers those it was told are taken.
type phone struct {
	person string
	maker  *ledgertest.Maker
	client *http.Client
	cursor string
	unsent []ledger.Entry
	taken  map[string]bool
	// answers are how many requests were answered.
	answers atomic.Int32
}

func (p *phone) post(url string, body, out any) bool {
	raw, err := json.Marshal(body)
	if err != nil {
		return false
	}
	res, err := p.client.Post(url, "application/json", bytes.NewReader(raw))
	if err != nil {
		return false
	}
	defer res.Body.Close()
	ok := res.StatusCode == http.StatusOK && (out == nil || json.NewDecoder(res.Body).Decode(out) == nil)
	if ok {
		p.answers.Add(1)
	}
	return ok
}

func (p *phone) get(url string, out any) bool {
	res, err := p.client.Get(url)
	if err != nil {
		return false
	}
	defer res.Body.Close()
	return res.StatusCode == http.StatusOK && json.NewDecoder(res.Body).Decode(out) == nil
}

// work records and syncs until the server no longer answers.
func (p *phone) work(url string, visit string) {
	if !p.post(url+"/api/signin", api.SignIn{Login: p.person, Password: password}, nil) {
		return
	}
	for {
		for range 3 {
			p.unsent = append(p.unsent, p.maker.Entry(p.person, "note.written", "visit", visit,
				ledger.Note{Text: fmt.Sprint("note ", len(p.taken))}))
		}
		var out replica.Response
		if !p.post(url+"/api/sync", replica.Request{Replica: p.maker.Replica, Cursor: p.cursor, Now: time.Now(), Entries: p.unsent}, &out) {
			return
		}
		for _, r := range out.Receipts {
			if r.Verdict == replica.Taken || r.Verdict == replica.Duplicate {
				p.taken[r.ID] = true
			}
		}
		p.cursor, p.unsent = out.Cursor, nil
	}
}

// answered waits until devices have been answered n times more.
func answered(t *testing.T, n int, counts ...*atomic.Int32) {
	sum := func() (all int) {
		for _, c := range counts {
			all += int(c.Load())
		}
		return all
	}
	began := sum()
	require.Eventually(t, func() bool { return sum() >= began+n }, 2*time.Minute, 5*time.Millisecond, "the server answers")
}

// built builds the program.
func built(t *testing.T) string {
	program := filepath.Join(t.TempDir(), "iter")
	out, err := exec.Command("go", "build", "-o", program, ".").CombinedOutput()
	require.NoError(t, err, string(out))
	return program
}

// smallCompany makes the test company in a folder, with a visit for each of two technicians, and accounts.
func smallCompany(t *testing.T, dir string, now time.Time) {
	ctx := context.Background()
	s, err := store.Open(ctx, dir)
	require.NoError(t, err)
	require.NoError(t, s.Write(ctx, func(tx *store.Tx) error {
		m := ledgertest.NewMaker("office", 1)
		entries := append(m.Company(), m.Entry("office", "visit.planned", "visit", "V2",
			ledger.Plan{Order: "W1", Technician: "ben", Start: now, Minutes: 60}),
			m.Entry("office", "visit.sent", "visit", "V2", ledger.Nothing{}))
		for _, e := range entries {
			if _, err := tx.Record(e, now); err != nil {
				return err
			}
		}
		return nil
	}))
	for _, person := range []string{"ann", "ben", "office"} {
		require.NoError(t, accounts.Set(ctx, s, person, person, password))
	}
	require.NoError(t, s.Close())
}

// The server is killed again and again under load: every entry it acknowledged is there, once, and the log folds to the
// documents.
func TestKilledUnderLoad(t *testing.T) {
	program := built(t)
	ctx, dir := context.Background(), t.TempDir()
	now := time.Now()
	smallCompany(t, dir, now)
	phones := map[string]*phone{}
	for i, person := range []string{"ann", "ben"} {
		jar, err := cookiejar.New(nil)
		require.NoError(t, err)
		m := ledgertest.NewMaker(person+"-phone", int64(i+2))
		m.Wait(now.Add(-time.Hour).Sub(ledgertest.Start))
		phones[[]string{"V1", "V2"}[i]] = &phone{person: person, maker: m, client: &http.Client{Jar: jar}, taken: map[string]bool{}}
	}

	r := rand.New(rand.NewSource(1))
	for range 8 {
		srv := startProgram(t, program, dir)
		var wait sync.WaitGroup
		for visit, p := range phones {
			wait.Go(func() { p.work(srv.url, visit) })
		}
		answered(t, 10+r.Intn(20), &phones["V1"].answers, &phones["V2"].answers)
		time.Sleep(time.Duration(r.Intn(20)) * time.Millisecond) // the next are under way
		require.NoError(t, srv.Process.Signal(syscall.SIGKILL))
		_ = srv.Wait()
		wait.Wait()
	}

	s, err := store.Open(ctx, dir)
	require.NoError(t, err)
	defer s.Close()
	acknowledged := 0
	require.NoError(t, s.Read(ctx, func(tx *store.Tx) error {
		for _, p := range phones {
			acknowledged += len(p.taken)
			for id := range p.taken {
				_, found, err := tx.Find(id)
				require.NoError(t, err)
				assert.True(t, found, "%s was acknowledged", id)
			}
		}
		return nil
	}))
	assert.Greater(t, acknowledged, 100)
	differ, _, err := s.Verify(ctx, nil)
	require.NoError(t, err)
	assert.Empty(t, differ)
}
