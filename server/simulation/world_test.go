// Package simulation proves sync: many devices, each the real core/replica, against the real server and a real SQLite file, on
// a simulated clock and network with faults that come from a seed.
package simulation

import (
	"bytes"
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"io"
	"math"
	"net/http"
	"net/http/httptest"
	"os"
	"path/filepath"
	"slices"
	"sync"
	"testing/fstest"
	"time"

	"github.com/alexedwards/argon2id"

	"iter.example/iter/core/ledger"
	"iter.example/iter/core/ledger/ledgertest"
	"iter.example/iter/core/replica"
	"iter.example/iter/core/stock"
	"iter.example/iter/server/api"
	"iter.example/iter/server/office"
	"iter.example/iter/server/store"
)

const password = "simulated"

// world is the company's server, its clock, and the network between it and the devices.
type world struct {
	dir     string
	lives   int // how often the server was started
	store   *store.Store
	server  *api.Server
	now     time.Time
	office  *ledgertest.Maker
	cookie  string // of the office
	devices []*device
	late    []request // on their way, and not yet at the server
	sheets  int       // versions of the check sheet
	signed  int

	copied *copied // what the server would be restored from
	second bool    // there is a second copy all the time, and not a backup now and then
	// acknowledged are the office's commands as they were logged, which its page keeps; history is that of the server it knows.
	acknowledged []store.Logged
	history      string
	told         []string // every entry of the office that was acknowledged
}

// copied is a copy of the server's data, and when it was made.
type copied struct {
	dir string
	at  time.Time
}

// request is a sync request under way.
type request struct {
	cookie string
	body   []byte
}

// errDied is what a killed server panics with.
var errDied = errors.New("the server was killed")

// template is a database with the test company, made once.
var template = sync.OnceValues(func() (string, error) {
	dir, err := os.MkdirTemp("", "iter-template-")
	if err != nil {
		return "", err
	}
	s, err := store.Open(context.Background(), dir)
	if err != nil {
		return "", err
	}
	hash, err := argon2id.CreateHash(password, &argon2id.Params{Memory: 8, Iterations: 1, Parallelism: 1, SaltLength: 8, KeyLength: 16})
	if err != nil {
		return "", err
	}
	m := ledgertest.NewMaker("office", 1)
	entries := m.Company()
	entries = append(entries, m.Entry("office", "record.created", "place", "van-ben",
		stock.Place{Name: "Van B. Orme", Kind: "van", Person: "ben"}))
	for _, v := range [][2]string{{"V2", "ben"}, {"V3", "ann"}} {
		entries = append(entries, m.Entry("office", "visit.planned", "visit", v[0],
			ledger.Plan{Order: "W1", Technician: v[1], Start: ledgertest.Start.Add(time.Hour), Minutes: 60}),
			m.Entry("office", "visit.sent", "visit", v[0], ledger.Nothing{}))
	}
	err = s.Write(context.Background(), func(tx *store.Tx) error {
		for _, e := range entries {
			if _, err := tx.Record(e, e.At); err != nil {
				return err
			}
		}
		for _, person := range []string{"ann", "ben", "office"} {
			if err := tx.PutAccount(store.Account{Login: person, Person: person, Hash: hash}); err != nil {
				return err
			}
		}
		return nil
	})
	return dir, errors.Join(err, s.Close())
})

func newWorld(dir string) (*world, error) {
	from, err := template()
	if err != nil {
		return nil, err
	}
	w := &world{dir: dir, now: ledgertest.Start.Add(30 * time.Minute), office: ledgertest.NewMaker("page", 7), sheets: 1}
	if err := os.MkdirAll(w.home(), 0o700); err != nil {
		return nil, err
	}
	if err := copyDatabase(from, w.home()); err != nil {
		return nil, err
	}
	if err := w.start(); err != nil {
		return nil, err
	}
	for i, person := range []string{"ann", "ann", "ben"} {
		w.devices = append(w.devices, newDevice(w, person, i))
	}
	return w, nil
}

func (w *world) home() string { return filepath.Join(w.dir, fmt.Sprint("life", w.lives)) }

func (w *world) start() (err error) {
	if w.store, err = store.Open(context.Background(), w.home()); err != nil {
		return err
	}
	if err := w.store.Resume(context.Background(), w.now); err != nil {
		return err
	}
	if w.second {
		w.store.Replicated(0) // until the first pass
	}
	w.server, err = api.New(api.Config{Store: w.store, Now: func() time.Time { return w.now },
		Assets: fstest.MapFS{"index.html": {Data: []byte("x")}}})
	return err
}

func (w *world) close() {
	w.server.Close()
	_ = w.store.Close()
}

// kill lets the server die before the nth write to its disk from now, while it does what act does: the next life begins with
// the files as they were at that moment.
func (w *world) kill(n int, act func()) error {
	next := filepath.Join(w.dir, fmt.Sprint("life", w.lives+1))
	dead := false
	w.store.Interrupt(func() {
		if n--; n > 0 || dead {
			return
		}
		dead = true
		if err := errors.Join(os.MkdirAll(next, 0o700), copyDatabase(w.home(), next)); err != nil {
			panic(err)
		}
		panic(errDied)
	})
	act()
	w.store.Interrupt(nil)
	w.close()
	if !dead { // it had written all it had to: it dies now
		if err := errors.Join(os.MkdirAll(next, 0o700), copyDatabase(w.home(), next)); err != nil {
			return err
		}
	}
	w.lives++
	return w.start()
}

// copyDatabase copies what a killed program leaves: the database and its write-ahead log.
func copyDatabase(from, to string) error {
	for _, name := range []string{"iter.db", "iter.db-wal"} {
		in, err := os.Open(filepath.Join(from, name))
		if errors.Is(err, os.ErrNotExist) {
			continue
		}
		if err != nil {
			return err
		}
		out, err := os.Create(filepath.Join(to, name))
		if err == nil {
			_, err = io.Copy(out, in)
			err = errors.Join(err, out.Close())
		}
		if err = errors.Join(err, in.Close()); err != nil {
			return err
		}
	}
	return nil
}

// call makes a request to the server and gives its status, 0 when the server died over it.
func (w *world) call(cookie, method, path string, in, out any) (status int, err error) {
	raw, ok := in.([]byte)
	if !ok {
		if raw, err = json.Marshal(in); err != nil {
			return 0, err
		}
	}
	r := httptest.NewRequest(method, path, bytes.NewReader(raw))
	r.Header.Set("Cookie", cookie)
	answer := httptest.NewRecorder()
	w.server.ServeHTTP(answer, r)
	if answer.Code >= 500 {
		return 0, nil // as a device sees it, the same as none
	}
	if out != nil && answer.Code < 300 {
		err = json.Unmarshal(answer.Body.Bytes(), out)
	}
	return answer.Code, err
}

// signIn gives the cookie of a new session.
func (w *world) signIn(person string) (string, error) {
	raw, err := json.Marshal(api.SignIn{Login: person, Password: password})
	if err != nil {
		return "", err
	}
	answer := httptest.NewRecorder()
	w.server.ServeHTTP(answer, httptest.NewRequest(http.MethodPost, "/api/signin", bytes.NewReader(raw)))
	if answer.Code != http.StatusOK {
		return "", fmt.Errorf("sign in %s: status %d", person, answer.Code)
	}
	w.signed++
	return answer.Header().Get("Set-Cookie"), nil
}

// command records an office command. That it may be refused is part of the game.
func (w *world) command(kind string, subject ledger.Ref, body any, base json.RawMessage) error {
	if w.cookie == "" {
		var err error
		if w.cookie, err = w.signIn("office"); err != nil {
			return err
		}
	}
	raw, err := json.Marshal(body)
	if err != nil {
		return err
	}
	w.office.Wait(time.Second)
	id := w.office.Entry("office", kind, subject.Type, subject.ID, body).ID
	if err := w.regain(); err != nil {
		return err
	}
	var out api.Recorded
	status, err := w.call(w.cookie, http.MethodPost, "/api/office/entries",
		office.Batch{Entries: []office.Command{{ID: id, Kind: kind, Subject: subject, Body: raw, Base: base}}, Seen: math.MaxInt64}, &out)
	if status == http.StatusUnauthorized {
		w.cookie = ""
	}
	w.acknowledged = append(w.acknowledged, out.Entries...)
	for _, l := range out.Entries {
		w.told = append(w.told, l.ID)
	}
	return err
}

// regain is what the office's page does about what it was acknowledged: it lets go of what a second place has, and gives the rest again to
// a server of another history.
func (w *world) regain() error {
	var kept api.Kept
	if status, err := w.call(w.cookie, http.MethodGet, "/api/office/kept", nil, &kept); err != nil || status != http.StatusOK {
		return err
	}
	if w.history != "" && w.history != kept.History {
		for batch := range slices.Chunk(w.acknowledged, replica.MaxEntries) {
			var in api.Again
			for _, l := range batch {
				in.Entries = append(in.Entries, l.Entry)
			}
			var out api.Regained
			if status, err := w.call(w.cookie, http.MethodPost, "/api/office/again", in, &out); err != nil || status != http.StatusOK {
				return err
			}
			for i := range batch {
				batch[i].Seq = out.Receipts[i].Seq
			}
		}
	} else {
		w.acknowledged = slices.DeleteFunc(w.acknowledged, func(l store.Logged) bool { return l.Seq > 0 && l.Seq <= kept.Seq })
	}
	w.history = kept.History
	return nil
}

// copy makes the copy that the server would be restored from.
func (w *world) copy() error {
	dir, err := os.MkdirTemp(w.dir, "copy-")
	if err != nil {
		return err
	}
	var seq int64
	if err := w.store.Read(context.Background(), func(tx *store.Tx) (err error) { seq, err = tx.Seq(); return err }); err != nil {
		return err
	}
	if err := copyDatabase(w.home(), dir); err != nil {
		return err
	}
	w.copied = &copied{dir, w.now}
	if w.second {
		w.store.Replicated(seq)
	}
	return nil
}

// loseDisk has the server's disk burn, and another begin with the copy.
func (w *world) loseDisk() error {
	if w.copied == nil || (!w.second && w.now.Sub(w.copied.at) > 6*24*time.Hour) {
		return nil // nothing to go back to, or nothing that devices still answer for
	}
	w.close()
	w.lives++
	ctx := context.Background()
	if err := errors.Join(os.MkdirAll(w.home(), 0o700), copyDatabase(w.copied.dir, w.home())); err != nil {
		return err
	}
	if err := store.BeginHistory(ctx, filepath.Join(w.home(), store.FileName)); err != nil {
		return err
	}
	w.cookie = ""
	for _, d := range w.devices {
		d.flight = nil
	}
	return w.start()
}

// syncCall makes a sync request as a device does.
func (w *world) syncCall(r request) (int, replica.Response, error) {
	var out replica.Response
	status, err := w.call(r.cookie, http.MethodPost, "/api/sync", r.body, &out)
	return status, out, err
}
