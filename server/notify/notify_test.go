package notify_test

import (
	"context"
	"encoding/json"
	"fmt"
	"log/slog"
	"net/http"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"iter.example/iter/core/ledger"
	"iter.example/iter/core/ledger/ledgertest"
	"iter.example/iter/core/records"
	"iter.example/iter/core/work"
	"iter.example/iter/server/notify"
	"iter.example/iter/server/notify/pushtest"
	"iter.example/iter/server/standin"
	"iter.example/iter/server/store"
)

// office is an office whose technician Ann has a phone in her pocket.
type office struct {
	t       *testing.T
	store   *store.Store
	maker   *ledgertest.Maker
	now     time.Time
	service *pushtest.Service
	teller  *notify.Teller
	sent    []standin.Message
	papers  []string
}

func (o *office) Send(_ context.Context, m standin.Message) error {
	o.sent = append(o.sent, m)
	return nil
}

func newOffice(t *testing.T) *office {
	s, err := store.Open(t.Context(), t.TempDir())
	require.NoError(t, err)
	t.Cleanup(func() { _ = s.Close() })
	o := &office{t: t, store: s, maker: ledgertest.NewMaker("office", 1), now: ledgertest.Start.Add(time.Minute), service: pushtest.New(t)}
	o.record(o.maker.Company()...)
	key := []byte{}
	o.write(func(tx *store.Tx) (err error) {
		require.NoError(t, tx.PutDevice(store.Device{Replica: "phone-ann", Person: "ann", Contact: o.now}))
		key, err = tx.Secret("push")
		return err
	})
	push, err := notify.NewWebPush(key, "desk@iter.example", true)
	require.NoError(t, err)
	paper := func(_ context.Context, person, paper string) ([]byte, error) {
		o.papers = append(o.papers, person+" "+paper)
		return []byte("%PDF"), nil
	}
	o.teller = notify.New(notify.Config{Store: s, Push: push, Gateway: o, Paper: paper, Now: func() time.Time { return o.now },
		Log: slog.New(slog.DiscardHandler), Quiet: time.Minute})
	s.Watch(o.teller.Heard)
	return o
}

func (o *office) write(f func(tx *store.Tx) error) {
	o.t.Helper()
	require.NoError(o.t, o.store.Write(o.t.Context(), f))
}

func (o *office) record(entries ...ledger.Entry) {
	o.t.Helper()
	o.write(func(tx *store.Tx) error {
		for _, e := range entries {
			if _, err := tx.Record(e, o.now); err != nil {
				return err
			}
		}
		return nil
	})
}

// plan has Ann go to the order of the company's first visit, in some hours.
func (o *office) plan(visit string, hours int) {
	o.t.Helper()
	o.record(o.maker.Entry("office", "visit.planned", "visit", visit, ledger.Plan{Order: "W1", Technician: "ann", Minutes: 60,
		Start: o.now.Add(time.Duration(hours) * time.Hour).Truncate(time.Minute)}),
		o.maker.Entry("office", "visit.sent", "visit", visit, ledger.Nothing{}))
}

func (o *office) move(visit string, to time.Time) {
	o.t.Helper()
	o.record(o.maker.Entry("office", "visit.moved", "visit", visit, ledger.Move{Technician: "ann", Start: to, Minutes: 60}))
}

// later lets time pass, and has the teller look.
func (o *office) later(d time.Duration) error {
	_, err := o.teller.Round(o.t.Context()) // it has heard by now
	o.now = o.now.Add(d)
	if err == nil {
		_, err = o.teller.Round(o.t.Context())
	}
	return err
}

// reached has Ann's phone ask to be reached while she looks at her plan.
func (o *office) reached() {
	o.t.Helper()
	o.write(func(tx *store.Tx) error {
		var p records.Person
		if _, err := tx.Load("person", "ann", &p); err != nil {
			return err
		}
		if err := notify.Begin(tx, "ann", p, o.now); err != nil {
			return err
		}
		return tx.PutPushAddress(o.service.Address("ann", "phone-ann"), o.now)
	})
}

func (o *office) got() (out []notify.Message) {
	for _, text := range o.service.Got() {
		var m notify.Message
		require.NoError(o.t, json.Unmarshal([]byte(text), &m))
		out = append(out, m)
	}
	return out
}

func (o *office) known(visit string) (k store.KnownVisit) {
	require.NoError(o.t, o.store.Read(o.t.Context(), func(tx *store.Tx) error {
		all, err := tx.KnownOf(visit)
		k = all[[2]string{"ann", visit}]
		return err
	}))
	return k
}

// settle has the company tell those whom no push reaches in another way.
func (o *office) settle(way work.Elsewhere) {
	o.t.Helper()
	var rules ledger.Settings
	o.write(func(tx *store.Tx) (err error) {
		rules, err = tx.Settings(o.now)
		return err
	})
	rules.Visits.Elsewhere = way
	o.record(o.maker.Settle(rules))
}

// Of all that changes within a while somebody is told once, on a phone whose app is closed; not of what comes back to where it was, nor of
// what they looked at meanwhile, nor again after the program was begun anew.
func TestTechniciansAreToldOnceByPush(t *testing.T) {
	o := newOffice(t)
	o.plan("VA", 3)
	o.reached()
	require.NoError(t, o.later(2*time.Minute))
	assert.Empty(t, o.got(), "she has seen what there was when she asked to be told")

	o.plan("VB", 5)
	require.NoError(t, o.later(30*time.Second))
	assert.Empty(t, o.got(), "more may come")
	begin := o.now.Add(6 * time.Hour).Truncate(time.Minute)
	o.move("VA", begin)
	require.NoError(t, o.later(time.Minute))
	got := o.got()
	require.Len(t, got, 1)
	assert.Equal(t, "Your plan: 1 new, 1 moved", got[0].Title)
	assert.Contains(t, got[0].Text, "Moved: ")
	assert.Contains(t, got[0].Text, "Orrisk")
	assert.Empty(t, got[0].Visit, "of two it opens neither")
	assert.Equal(t, "push sent", o.known("VB").Way+" "+o.known("VB").State)

	o.move("VA", begin.Add(time.Hour))
	o.move("VA", begin)
	require.NoError(t, o.later(2*time.Minute))
	assert.Empty(t, o.got(), "it is where it was")

	o.move("VA", begin.Add(time.Hour))
	o.write(func(tx *store.Tx) error {
		return tx.SawVisit("ann", work.Known{Visit: "VA", Start: begin.Add(time.Hour)}, o.now)
	})
	require.NoError(t, o.later(2*time.Minute))
	assert.Empty(t, o.got(), "she looked at it before it was time")
	assert.Equal(t, o.now.Add(-2*time.Minute), o.known("VA").Seen.In(o.now.Location()))

	o.record(o.maker.Entry("office", "visit.withdrawn", "visit", "VA", ledger.Nothing{}))
	require.NoError(t, o.later(2*time.Minute))
	got = o.got()
	require.Len(t, got, 1)
	assert.Equal(t, "Your plan: 1 taken away", got[0].Title)

	o.plan("VC", 2)
	o.teller.Wake()
	for range 3 * 6 { // what never comes to rest is told all the same
		o.move("VB", o.now.Add(8*time.Hour).Truncate(time.Second))
		require.NoError(t, o.later(20*time.Second))
	}
	assert.NotEmpty(t, o.got())
}

// Whom no push reaches is told by text or mail, where the company says so and it is known where; a mail has the work order with it.
func TestTechniciansAreToldElsewhere(t *testing.T) {
	o := newOffice(t)
	o.plan("VA", 3)
	require.NoError(t, o.later(2*time.Minute))
	assert.Empty(t, o.sent, "the company says nothing of it")

	o.settle(work.TellMail)
	o.plan("VB", 4)
	require.NoError(t, o.later(2*time.Minute))
	assert.Empty(t, o.sent, "nobody knows where to")
	o.record(o.maker.Entry("office", "record.amended", "person", "ann", map[string]any{"email": "ann@iter.example"}))
	o.write(func(tx *store.Tx) error {
		return tx.ToldVisits("ann", []work.Known{{Visit: "VA", Start: o.now.Add(3 * time.Hour)}}, "")
	})
	o.plan("VC", 5)
	require.NoError(t, o.later(2*time.Minute))
	require.Len(t, o.sent, 1)
	assert.Equal(t, "ann@iter.example", o.sent[0].To)
	assert.Equal(t, []byte("%PDF"), o.sent[0].Paper)
	assert.Equal(t, ledger.Ref{Type: "person", ID: "ann"}, o.sent[0].About)
	assert.Contains(t, o.papers[0], "ann day/")
	require.NoError(t, o.later(2*time.Minute))
	assert.Len(t, o.sent, 1, "once")

	// A push service that is down is tried again; one that knows the phone no more is forgotten, and the text goes in its place.
	o.settle(work.TellText)
	o.record(o.maker.Entry("office", "record.amended", "person", "ann", map[string]any{"phone": "01 555 1026"}))
	o.reached()
	o.service.Answer(http.StatusServiceUnavailable)
	o.plan("VD", 6)
	require.Error(t, o.later(2*time.Minute))
	assert.Len(t, o.sent, 1)
	o.service.Answer(http.StatusGone)
	require.NoError(t, o.later(time.Minute))
	require.Len(t, o.sent, 2)
	assert.Equal(t, "01 555 1026", o.sent[1].To)
	assert.Empty(t, o.sent[1].Paper)
	assert.Equal(t, "text sent", o.known("VD").Way+" "+o.known("VD").State)
	require.NoError(t, o.store.Read(t.Context(), func(tx *store.Tx) error {
		left, err := tx.PushAddresses("ann")
		assert.Empty(t, left)
		return err
	}))

	// Without another way it is said to have reached nobody, once the service has been tried for long enough.
	o.record(o.maker.Entry("office", "record.amended", "person", "ann", map[string]any{"phone": nil}))
	o.reached()
	o.service.Answer(http.StatusInternalServerError)
	o.plan("VE", 7)
	require.Error(t, o.later(2*time.Minute))
	o.now = o.now.Add(2 * time.Hour)
	_, err := o.teller.Round(t.Context())
	require.NoError(t, err)
	assert.Equal(t, "push failed", o.known("VE").Way+" "+o.known("VE").State)
}

// What could not be sent for half a day is no news any more.
func TestOldNotificationsAreNotSent(t *testing.T) {
	o := newOffice(t)
	o.reached()
	o.service.Answer(http.StatusServiceUnavailable)
	o.plan("VA", 30)
	require.Error(t, o.later(2*time.Minute))
	o.service.Answer(http.StatusCreated)
	o.now = o.now.Add(13 * time.Hour)
	_, err := o.teller.Round(t.Context())
	require.NoError(t, err)
	assert.Empty(t, o.got())
	assert.Equal(t, "push failed", o.known("VA").Way+" "+o.known("VA").State)
}

// An offer is told to all who have it, and that it was taken to those who do not; what somebody answered they know.
func TestOffersAreTold(t *testing.T) {
	o := newOffice(t)
	o.reached()
	start := o.now.Add(3 * time.Hour).Truncate(time.Minute)
	o.record(o.maker.Entry("office", "visit.planned", "visit", "VO", ledger.Plan{Order: "W1", Offer: []string{"ann", "ben"}, Start: start,
		Minutes: 60}), o.maker.Entry("office", "visit.sent", "visit", "VO", ledger.Nothing{}))
	require.NoError(t, o.later(2*time.Minute))
	require.Len(t, o.got(), 1)
	ben := ledgertest.NewMaker("phone-ben", 3)
	o.record(ben.Entry("ben", "visit.accepted", "visit", "VO", ledger.Step{}))
	require.NoError(t, o.later(2*time.Minute))
	got := o.got()
	require.Len(t, got, 1)
	assert.Equal(t, "Your plan: 1 taken away", got[0].Title)

	ann := ledgertest.NewMaker("phone-ann", 4)
	o.plan("VA", 4)
	o.record(ann.Entry("ann", "visit.accepted", "visit", "VA", ledger.Step{}))
	require.NoError(t, o.later(2*time.Minute))
	assert.Empty(t, o.got(), "she has answered it")
}

// However long a problem is, and whatever is written in it, what is sent fits into a push.
func TestLongProblemsFit(t *testing.T) {
	o := newOffice(t)
	o.reached()
	for i := range 6 {
		id := fmt.Sprint("WL", i)
		o.record(o.maker.Entry("office", "work.opened", "workorder", id, work.Order{Number: fmt.Sprint(5000 + i), Customer: "C1", Site: "S1",
			Problem: strings.Repeat("😀 مضخة\n", 400), Priority: work.Normal, Minutes: 60}),
			o.maker.Entry("office", "visit.planned", "visit", "V"+id, ledger.Plan{Order: id, Technician: "ann", Minutes: 60,
				Start: o.now.Add(time.Duration(i+1) * time.Hour)}),
			o.maker.Entry("office", "visit.sent", "visit", "V"+id, ledger.Nothing{}))
	}
	require.NoError(t, o.later(2*time.Minute))
	got := o.got()
	require.Len(t, got, 1)
	assert.Equal(t, "Your plan: 6 new", got[0].Title)
	assert.Contains(t, got[0].Text, "and 2 more")
	assert.Len(t, strings.Split(got[0].Text, "\n"), 5)
}

// A device whose access was ended, or that belongs to somebody else by now, is not reached.
func TestEndedDevicesAreNotReached(t *testing.T) {
	o := newOffice(t)
	o.reached()
	o.write(func(tx *store.Tx) error {
		d, _, err := tx.Device("phone-ann")
		require.NoError(t, err)
		d.Ended = o.now
		return tx.PutDevice(d)
	})
	o.plan("VA", 3)
	require.NoError(t, o.later(2*time.Minute))
	assert.Empty(t, o.got())
}

// Addresses come from browsers: what is no address of a push service is refused, and nothing within the own network is called.
func TestCheckAddress(t *testing.T) {
	good := pushtest.New(t).Address("ann", "phone-ann")
	require.NoError(t, notify.CheckAddress(good, true))
	assert.Error(t, notify.CheckAddress(good, false), "not locked")
	for name, change := range map[string]func(*store.PushAddress){
		"no address":        func(a *store.PushAddress) { a.Endpoint = "push" },
		"of a file":         func(a *store.PushAddress) { a.Endpoint = "file:///etc/passwd" },
		"with a password":   func(a *store.PushAddress) { a.Endpoint = "https://a:b@push.example/x" },
		"no secret":         func(a *store.PushAddress) { a.Auth = "" },
		"no point":          func(a *store.PushAddress) { a.P256dh = "AAAA" },
		"no such device id": func(a *store.PushAddress) { a.Replica = "" },
	} {
		a := good
		change(&a)
		assert.Error(t, notify.CheckAddress(a, true), name)
	}
	key := make([]byte, 32)
	key[31] = 1
	push, err := notify.NewWebPush(key, "desk@iter.example", false)
	require.NoError(t, err)
	err = push.Push(t.Context(), good, []byte("x"))
	require.Error(t, err)
	assert.Contains(t, err.Error(), "is no address of a push service")
}
