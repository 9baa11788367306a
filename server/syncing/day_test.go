package syncing_test

import (
	"context"
	"encoding/json"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"iter.example/iter/core/labor"
	"iter.example/iter/core/ledger"
	"iter.example/iter/core/records"
	"iter.example/iter/core/replica"
	"iter.example/iter/core/work"
	"iter.example/iter/server/accounts"
	"iter.example/iter/server/store"
)

// say records a draft about anything, as somebody when actor is given, and tells whether the device could.
func (d *device) say(actor, kind string, about ledger.Ref, body any) bool {
	raw, err := json.Marshal(body)
	require.NoError(d.w.t, err)
	id := d.ids.Entry("x", "x", "", "", 0).ID
	s, e := replica.Stamp(d.state, replica.Draft{Kind: kind, Subject: about, Body: raw, Actor: actor, Identified: d.identified[actor]}, id,
		d.n+1, d.w.now, labor.Zone{Shifts: []labor.Shift{{Offset: 3600}}})
	changed, _, err := ledger.Apply(d.shown, e)
	if err != nil {
		return false
	}
	for ref, b := range changed {
		d.shown[ref] = b
	}
	d.state, d.n, d.pending = s, d.n+1, append(d.pending, replica.Pending{Entry: e})
	return true
}

func (d *device) held() (out []string) {
	for _, p := range d.pending {
		if p.Held != nil {
			out = append(out, p.Held.Code)
		}
	}
	return out
}

func shown[T any](d *device, typ, id string) T {
	var v T
	raw := d.shown[ledger.Ref{Type: typ, ID: id}]
	require.NotNil(d.w.t, raw, "%s/%s", typ, id)
	require.NoError(d.w.t, json.Unmarshal(raw, &v))
	return v
}

// Two accept an offer with no signal. Whoever the office hears first has it; the other sees that it is gone.
func TestAnOfferAcceptedByTwoOffline(t *testing.T) {
	w := newWorld(t, t.TempDir())
	require.NoError(t, w.office("visit.planned", "visit", "V9", ledger.Plan{Order: "W1", Offer: []string{"ann", "ben"}, Start: w.now,
		Minutes: 30}))
	require.NoError(t, w.office("visit.sent", "visit", "V9", ledger.Nothing{}))
	ann, ben := w.device("ann", 1), w.device("ben", 2)
	for _, d := range []*device{ann, ben} {
		d.settle()
		assert.Equal(t, work.Sent, shown[work.Visit](d, "visit", "V9").Stage)
	}
	require.True(t, ann.record("visit.accepted", "V9", ledger.Step{}))
	w.now = w.now.Add(time.Minute)
	require.True(t, ben.record("visit.accepted", "V9", ledger.Step{}))
	for _, d := range []*device{ann, ben} {
		assert.Equal(t, work.Accepted, shown[work.Visit](d, "visit", "V9").Stage, "each has it, as far as it knows")
	}
	ben.settle()
	ann.settle()
	for _, d := range []*device{ann, ben} {
		assert.Equal(t, "ben", shown[work.Visit](d, "visit", "V9").Technician)
		assert.Empty(t, d.held())
	}
	list := shown[ledger.Notices](ann, "notices", "ann").List
	require.Len(t, list, 1)
	assert.Equal(t, "offer.gone", list[0].Code.Code)
}

func TestALeadSeesTheHoursOfThoseWhoComeAlong(t *testing.T) {
	w := newWorld(t, t.TempDir())
	ann, ben := w.device("ann", 1), w.device("ben", 2)
	ann.settle()
	require.True(t, ann.record("visit.arrived", "V1", ledger.Step{}))
	require.True(t, ann.record("crew.clocked", "V1", ledger.CrewClocked{Helper: "ben", Clock: labor.Work}))
	ann.settle()
	ben.settle()
	asked := shown[work.Visit](ben, "visit", "V1").Crew[0]
	require.True(t, asked.Asked, "he was not planned for it")
	require.True(t, ben.record("crew.answered", "V1", ledger.CrewAnswered{There: true,
		Steps: []ledger.StepRef{{Entry: asked.Entry, At: asked.At}}}))
	ben.settle()
	ann.settle()
	card := "ben+" + w.now.In(time.FixedZone("", 3600)).Format(time.DateOnly)
	for _, d := range []*device{ann, ben} {
		assert.Len(t, shown[labor.Timecard](d, "timecard", card).Stamps, 1)
		assert.True(t, d.has("visit", "V1"), "whoever comes along has the visit too")
	}
	assert.Empty(t, append(ann.held(), ben.held()...))
}

// identify has everybody with a badge show it at a terminal.
func identify(d *device) {
	var badges []store.Badge
	require.NoError(d.w.t, d.w.store.Write(context.Background(), func(tx *store.Tx) (err error) {
		badges, err = accounts.Issue(tx)
		return err
	}))
	d.identified = map[string]*replica.Identified{}
	for _, b := range badges {
		d.identified[b.Person] = &replica.Identified{Key: b.Code, Since: d.w.now.UnixMilli()}
	}
}

func TestATerminalRecordsForPeopleInTheField(t *testing.T) {
	w := newWorld(t, t.TempDir())
	require.NoError(t, w.office("record.created", "person", "bench", records.Person{Name: "Bench",
		Roles: []records.Role{records.Terminal}}))
	d := w.device("bench", 3)
	identify(d)
	d.settle()
	assert.True(t, d.has("visit", "V1"), "everybody's work of the day")
	assert.False(t, d.has("stock", "van-ann"))
	card := ledger.TimecardRef("ben", w.now.In(time.FixedZone("", 3600)))
	visit := ledger.Ref{Type: "visit", ID: "V1"}
	require.True(t, d.say("ann", "task.started", visit, ledger.TaskTaken{Order: "W1", Task: "t1"}))
	require.True(t, d.say("ben", "time.started", card, ledger.Clocked{Code: "workshop"}))
	d.settle()
	assert.Empty(t, d.held())
	assert.Len(t, shown[labor.Timecard](d, "timecard", card.ID).Stamps, 1)

	require.True(t, d.say("ben", "note.written", visit, note("x")))
	require.True(t, d.say("office", "note.to_office", ledger.TimecardRef("office", w.now.In(time.FixedZone("", 3600))), note("x")))
	require.True(t, d.say("ann", "visit.accepted", visit, ledger.Step{}))
	d.settle()
	assert.Equal(t, []string{"scope.visit", "scope.terminal", "scope.terminal"}, d.held(),
		"not on others' visits, not for the office, not everything")

	d.pending = nil
	key := d.identified["ann"].Key
	d.identified["ann"] = d.identified["ben"]
	require.True(t, d.say("ann", "task.held", visit, ledger.TaskTaken{Order: "W1", Task: "t1"}))
	d.identified["ann"] = nil
	require.True(t, d.say("ann", "task.held", visit, ledger.TaskTaken{Order: "W1", Task: "t1"}))
	d.identified["ann"] = &replica.Identified{Key: key, Since: w.now.Add(-11 * time.Minute).UnixMilli()}
	require.True(t, d.say("ann", "task.held", visit, ledger.TaskTaken{Order: "W1", Task: "t1"}))
	d.settle()
	assert.Equal(t, []string{"scope.identity", "scope.identity", "scope.identity"}, d.held(),
		"another's badge, nobody's, one that was shown long ago")

	ann := w.device("ann", 1)
	ann.settle()
	assert.Len(t, shown[labor.Timecard](ann, "timecard", "ann"+card.ID[3:]).Stamps, 1)
	require.True(t, ann.say("ben", "note.to_office", card, note("as somebody else")))
	ann.settle()
	assert.Contains(t, ann.held(), "scope.actor", "a phone is its person's alone")
}

// A correction that was made after the office approved the day waits for the office; one made before is kept and flagged.
func TestACorrectionOfALockedDay(t *testing.T) {
	w := newWorld(t, t.TempDir())
	zone := time.FixedZone("", 3600)
	ann := w.device("ann", 1)
	w.now = w.now.Add(2 * time.Hour)
	ann.settle()
	card := ledger.TimecardRef("ann", w.now.In(zone))
	fix := func() bool {
		end := w.now.In(zone).Truncate(time.Second)
		return ann.say("", "time.corrected", card, ledger.Corrected{Reason: "x",
			Pieces: []labor.Piece{{What: labor.What{Kind: labor.Work, Visit: "V1"}, Start: end.Add(-time.Hour), End: end}}})
	}
	require.True(t, fix())
	w.now = w.now.Add(time.Minute)
	require.NoError(t, w.office("day.approved", "timecard", card.ID, ledger.Nothing{}))
	w.now = w.now.Add(time.Minute)
	require.True(t, fix(), "the device has not heard yet")
	ann.settle()
	assert.Equal(t, []string{"time.approved"}, ann.held())
	c := shown[labor.Timecard](ann, "timecard", card.ID)
	require.Len(t, c.Corrections, 1)
	assert.True(t, c.Corrections[0].Late)
	assert.Empty(t, labor.Spans(w.now, c), "the day stays as it was approved")
}
