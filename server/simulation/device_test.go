package simulation

import (
	"encoding/json"
	"fmt"
	"maps"
	"math/rand"
	"net/http"
	"slices"
	"time"

	"github.com/oklog/ulid/v2"

	"iter.example/iter/core/labor"
	"iter.example/iter/core/ledger"
	"iter.example/iter/core/replica"
)

// disk is what a device keeps, as its database holds it between two transactions.
type disk struct {
	state   replica.State
	n       int64 // number of its last entry
	base    map[ledger.Ref]ledger.Doc
	shown   ledger.Docs
	pending []replica.Pending
	// acknowledged may rest on the server's one disk
	acknowledged []replica.Pending
}

func (d disk) clone() disk {
	return disk{d.state, d.n, maps.Clone(d.base), maps.Clone(d.shown), slices.Clone(d.pending), slices.Clone(d.acknowledged)}
}

// device is a technician's device.
type device struct {
	w      *world
	person string
	disk   disk
	clock  time.Duration // by which its clock is off
	cookie string
	ids    *rand.Rand
	made   int // identities

	flight  *flight // the request it waits for
	backup  *disk
	since   []string // recorded since the backup
	offline bool

	recorded []string        // every entry it said was saved
	lost     map[string]bool // recorded after a backup that was restored: their only copy may be gone
	careless bool            // a fault put in on purpose: it forgets an entry once it was sent
	trusting bool            // another: it forgets an entry once it was acknowledged
}

// flight is a request that was sent, and its answer once there is one.
type flight struct {
	sent   time.Time // on its clock
	at     time.Time // on one that nobody sets
	answer *replica.Response
}

func newDevice(w *world, person string, i int) *device {
	return &device{w: w, person: person, ids: rand.New(rand.NewSource(int64(i) + 100)), lost: map[string]bool{},
		disk: disk{state: replica.State{Replica: fmt.Sprintf("%s-%d", person, i), Person: person}, base: map[ledger.Ref]ledger.Doc{},
			shown: ledger.Docs{}}}
}

func (d *device) now() time.Time { return d.w.now.Add(d.clock) }

func (d *device) id() string {
	return ulid.MustNew(uint64(d.w.now.UnixMilli()), d.ids).String()
}

var zone = labor.Zone{Shifts: []labor.Shift{{Offset: 3600}}}

// record records a draft in one transaction, if it fits what the device shows.
func (d *device) record(kind string, subject ledger.Ref, body any, base json.RawMessage) error {
	raw, err := json.Marshal(body)
	if err != nil {
		return err
	}
	s, e := replica.Stamp(d.disk.state, replica.Draft{Kind: kind, Subject: subject, Body: raw, Base: base}, d.id(), d.disk.n+1, d.now(), zone)
	changed, _, err := ledger.Apply(d.disk.shown, e)
	if err != nil {
		return nil // the device says no, and nothing was recorded
	}
	maps.Copy(d.disk.shown, changed)
	d.disk.state, d.disk.n = s, d.disk.n+1
	d.disk.pending = append(d.disk.pending, replica.Pending{Entry: e})
	d.recorded = append(d.recorded, e.ID)
	d.since = append(d.since, e.ID)
	return nil
}

// send makes a request of what there is to send.
func (d *device) send() (request, error) {
	raw, err := json.Marshal(replica.Next(d.disk.state, d.disk.pending, d.now()))
	d.flight = &flight{sent: d.now(), at: d.w.now}
	return request{d.cookie, raw}, err
}

// receive takes in an answer in one transaction.
func (d *device) receive() {
	f := d.flight
	d.flight = nil
	if f == nil || f.answer == nil {
		return
	}
	var base []ledger.Doc
	touched := replica.Touched(d.disk.state, d.disk.pending, *f.answer)
	if f.answer.Renew {
		touched = slices.Collect(maps.Keys(d.disk.base))
	}
	for _, ref := range touched {
		if b, ok := d.disk.base[ref]; ok {
			base = append(base, b)
		}
	}
	d.made++
	c := replica.Receive(d.disk.state, d.disk.pending, d.disk.acknowledged, base, *f.answer,
		replica.Trip{Sent: f.sent, Arrived: d.now(), Took: d.w.now.Sub(f.at)}, fmt.Sprintf("%s-new%d", d.disk.state.Replica, d.made))
	d.disk.state, d.disk.pending = c.State, c.Pending
	if c.Recalled {
		d.disk.acknowledged = nil
	}
	d.disk.acknowledged = slices.DeleteFunc(append(d.disk.acknowledged, c.Acknowledged...),
		func(p replica.Pending) bool { return p.Seq <= c.Kept })
	if d.trusting {
		d.disk.acknowledged = nil
	}
	for _, b := range c.Base {
		d.disk.base[b.Ref] = b
	}
	for _, ref := range c.Drop {
		delete(d.disk.base, ref)
	}
	for _, s := range c.Shown {
		if s.Body == nil {
			delete(d.disk.shown, s.Ref)
		} else {
			d.disk.shown[s.Ref] = s.Body
		}
	}
}

// reach delivers a request to the server now. It gives what came of it for the device, which may not hear of it.
func (d *device) reach(r request) error {
	status, out, err := d.w.syncCall(r)
	switch {
	case err != nil:
		return err
	case status == http.StatusUnauthorized:
		d.cookie, d.flight = "", nil
	case status == http.StatusOK && d.flight != nil:
		d.flight.answer = &out
	}
	if d.careless {
		d.disk.pending = nil
	}
	return nil
}

// sync makes a whole round trip, signing in when it must, and tells whether there is more to do.
func (d *device) sync() (more bool, err error) {
	if d.cookie == "" {
		if d.cookie, err = d.w.signIn(d.person); err != nil {
			return false, err
		}
	}
	r, err := d.send()
	if err != nil {
		return false, err
	}
	if err := d.reach(r); err != nil {
		return false, err
	}
	if d.flight == nil || d.flight.answer == nil {
		d.flight = nil
		return true, nil
	}
	again := d.flight.answer.More || d.flight.answer.Renew
	d.receive()
	return again || slices.ContainsFunc(d.disk.pending, func(p replica.Pending) bool { return p.Seq == 0 && p.Held == nil }), nil
}

// settle syncs until there is nothing more to do.
func (d *device) settle() error {
	for range 30 {
		if more, err := d.sync(); err != nil || !more {
			return err
		}
	}
	return fmt.Errorf("%s never settles", d.disk.state.Replica)
}
