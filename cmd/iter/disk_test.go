package main

import (
	"context"
	"encoding/json"
	"fmt"
	"math/rand"
	"net/http"
	"net/http/cookiejar"
	"os"
	"os/exec"
	"path/filepath"
	"slices"
	"sync"
	"syscall"
	"testing"
	"time"

	"github.com/oklog/ulid/v2"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"iter.example/iter/core/labor"
	"iter.example/iter/core/ledger"
	"iter.example/iter/core/replica"
	"iter.example/iter/core/work"
	"iter.example/iter/server/api"
	"iter.example/iter/server/office"
	"iter.example/iter/server/store"
)

// keeper is a device as it is: it lets go of what was acknowledged when a second place has it, and gives it again to a server of another
// history.
type keeper struct {
	phone
	visit                 string
	state                 replica.State
	n                     int64 // number of its last entry
	pending, acknowledged []replica.Pending
	identities            int
}

func (k *keeper) record() {
	body := []byte(fmt.Sprintf(`{"text":"note %d"}`, len(k.taken)+len(k.pending)))
	draft := replica.Draft{Kind: "note.written", Subject: ledger.Ref{Type: "visit", ID: k.visit}, Body: body}
	s, e := replica.Stamp(k.state, draft, ulid.Make().String(), k.n+1, time.Now(), labor.Zone{})
	k.state, k.n, k.pending = s, k.n+1, append(k.pending, replica.Pending{Entry: e})
}

// sync makes a round trip, and tells whether it was answered and whether there is more to do.
func (k *keeper) sync(url string) (answered, more bool) {
	now := time.Now()
	request := replica.Next(k.state, k.pending, now)
	var out replica.Response
	if !k.post(url+"/api/sync", request, &out) {
		return false, true
	}
	k.identities++
	c := replica.Receive(k.state, k.pending, k.acknowledged, nil, out, replica.Trip{Sent: now, Arrived: time.Now(), Took: time.Since(now)},
		fmt.Sprintf("%s-%d", k.person, k.identities))
	for _, r := range out.Receipts {
		if r.Verdict == replica.Taken || r.Verdict == replica.Duplicate {
			k.taken[r.ID] = true
		}
	}
	if c.Recalled {
		k.acknowledged = nil
	}
	k.acknowledged = slices.DeleteFunc(append(k.acknowledged, c.Acknowledged...), func(p replica.Pending) bool { return p.Seq <= c.Kept })
	k.state, k.pending = c.State, c.Pending
	return true, out.More || out.Renew || slices.ContainsFunc(k.pending,
		func(p replica.Pending) bool { return p.Seq == 0 && p.Held == nil })
}

func (k *keeper) work(url string) {
	if !k.post(url+"/api/signin", api.SignIn{Login: k.person, Password: password}, nil) {
		return
	}
	for {
		k.record()
		if answered, _ := k.sync(url); !answered {
			return
		}
	}
}

// page is the office's, in a browser that keeps what was acknowledged.
type page struct {
	phone
	acknowledged []store.Logged
	history      string
	numbers      map[string]string // of the orders it was shown, by id
}

func (o *page) regain(url string) bool {
	var kept api.Kept
	if !o.get(url+"/api/office/kept", &kept) {
		return false
	}
	if o.history != "" && o.history != kept.History {
		for batch := range slices.Chunk(o.acknowledged, replica.MaxEntries) {
			var in api.Again
			for _, l := range batch {
				in.Entries = append(in.Entries, l.Entry)
			}
			var out api.Regained
			if !o.post(url+"/api/office/again", in, &out) {
				return false
			}
			for i := range batch {
				batch[i].Seq = out.Receipts[i].Seq
			}
		}
	} else {
		o.acknowledged = slices.DeleteFunc(o.acknowledged, func(l store.Logged) bool { return l.Seq <= kept.Seq })
	}
	o.history = kept.History
	return true
}

func (o *page) work(url string) {
	if !o.post(url+"/api/signin", api.SignIn{Login: o.person, Password: password}, nil) || !o.regain(url) {
		return
	}
	for n := 0; ; n++ {
		id := ulid.Make().String()
		body := []byte(`{"customer":"C1","site":"S1","problem":"Panel hums","priority":"normal","minutes":60}`)
		command := office.Command{ID: id, Kind: "work.opened", Subject: ledger.Ref{Type: "workorder", ID: "w" + id}, Body: body}
		var out api.Recorded
		if !o.post(url+"/api/office/entries", office.Batch{Entries: []office.Command{command}}, &out) {
			return
		}
		o.acknowledged = append(o.acknowledged, out.Entries...)
		for _, l := range out.Entries {
			var opened work.Order
			if err := json.Unmarshal(l.Body, &opened); err != nil {
				return
			}
			o.taken[l.ID], o.numbers[l.Subject.ID] = true, opened.Number
		}
		if n%20 == 19 && !o.regain(url) {
			return
		}
	}
}

// The program is killed under load and its disk taken away; another begins with the second copy. Nothing that was acknowledged to a device
// that is still there is missing or doubled, and no number is given to two work orders.
func TestTheDiskBurnsUnderLoad(t *testing.T) {
	program, ctx := built(t), context.Background()
	root := t.TempDir()
	dir := filepath.Join(root, "data")
	smallCompany(t, dir, time.Now())
	client := func() *http.Client {
		jar, err := cookiejar.New(nil)
		require.NoError(t, err)
		return &http.Client{Jar: jar}
	}
	var devices []*keeper
	for i, person := range []string{"ann", "ben"} {
		devices = append(devices, &keeper{phone: phone{person: person, client: client(), taken: map[string]bool{}},
			visit: []string{"V1", "V2"}[i], state: replica.State{Replica: person + "-0", Person: person}})
	}
	desk := &page{phone: phone{person: "office", client: client(), taken: map[string]bool{}}, numbers: map[string]string{}}
	r := rand.New(rand.NewSource(2))
	for life := range 4 {
		second := filepath.Join(root, fmt.Sprint("second", life))
		srv := startProgram(t, program, dir, "--replicate", second)
		var wait sync.WaitGroup
		for _, d := range devices {
			wait.Go(func() { d.work(srv.url) })
		}
		wait.Go(func() { desk.work(srv.url) })
		answered(t, 30, &devices[0].answers, &devices[1].answers, &desk.answers)
		time.Sleep(time.Duration(2500+r.Intn(3000)) * time.Millisecond) // how long it burns after is the point
		require.NoError(t, srv.Process.Signal(syscall.SIGKILL))
		_ = srv.Wait()
		wait.Wait()
		require.NoError(t, os.RemoveAll(dir))
		out, err := exec.Command(program, "restore", "--data", dir, second).CombinedOutput()
		require.NoError(t, err, string(out))
	}
	srv := startProgram(t, program, dir)
	require.True(t, desk.post(srv.url+"/api/signin", api.SignIn{Login: "office", Password: password}, nil))
	require.True(t, desk.regain(srv.url))
	for _, d := range devices {
		require.True(t, d.post(srv.url+"/api/signin", api.SignIn{Login: d.person, Password: password}, nil))
		for more := true; more; {
			answered := false
			answered, more = d.sync(srv.url)
			require.True(t, answered)
		}
	}
	require.NoError(t, srv.Process.Signal(syscall.SIGTERM))
	require.NoError(t, srv.Wait())

	s, err := store.Open(ctx, dir)
	require.NoError(t, err)
	defer s.Close()
	acknowledged := 0
	require.NoError(t, s.Read(ctx, func(tx *store.Tx) error {
		for _, taken := range []map[string]bool{devices[0].taken, devices[1].taken, desk.taken} {
			acknowledged += len(taken)
			for id := range taken {
				_, found, err := tx.Find(id)
				require.NoError(t, err)
				assert.True(t, found, "%s was acknowledged", id)
			}
		}
		orders, err := tx.Of("workorder")
		require.NoError(t, err)
		given := map[string]string{}
		for _, d := range orders {
			var o work.Order
			require.NoError(t, json.Unmarshal(d.Body, &o))
			assert.Empty(t, given[o.Number], "%s has the number of another, %s", d.ID, o.Number)
			given[o.Number] = d.ID
		}
		for id, number := range desk.numbers {
			assert.Equal(t, id, given[number], "it was shown with the number %s", number)
		}
		held, err := tx.Held()
		require.NoError(t, err)
		assert.Empty(t, held)
		return nil
	}))
	t.Logf("%d entries were acknowledged", acknowledged)
	assert.Greater(t, acknowledged, 100)
	out, err := exec.Command(program, "verify", "--data", dir).CombinedOutput()
	require.NoError(t, err, string(out))
}
