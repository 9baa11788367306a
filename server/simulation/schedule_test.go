package simulation

import (
	"context"
	"encoding/json"
	"fmt"
	"math/rand"
	"net/http"
	"strings"
	"time"

	"github.com/shopspring/decimal"

	"iter.example/iter/core/labor"
	"iter.example/iter/core/ledger"
	"iter.example/iter/core/ledger/ledgertest"
	"iter.example/iter/core/records"
	"iter.example/iter/core/signoff"
	"iter.example/iter/core/stock"
	"iter.example/iter/core/substance"
	"iter.example/iter/core/talk"
	"iter.example/iter/core/work"
	"iter.example/iter/server/api"
	"iter.example/iter/server/store"
	"iter.example/iter/server/syncing"
)

// step is one thing that happens: after a wait, something is done, by or to a device. Its details come from its own number,
// so that the rest of a schedule stays the same when a step is taken out.
type step struct {
	wait   time.Duration
	what   string
	device int
	number int64
}

func (s step) String() string { return fmt.Sprintf("%s %s %d %d", s.wait, s.what, s.device, s.number) }

func parse(line string) (s step, err error) {
	var wait string
	if _, err = fmt.Sscan(line, &wait, &s.what, &s.device, &s.number); err == nil {
		s.wait, err = time.ParseDuration(wait)
	}
	return s, err
}

// chances is how often each thing happens, by the words a schedule is written in.
var chances = []struct {
	what string
	of   int
}{
	{"record", 34}, {"sync", 14}, {"send", 6}, {"answer", 6}, {"delay", 4}, {"deliver", 6}, {"lose-answer", 5}, {"kill-device", 3},
	{"kill-server", 4},
	{"lapse", 2}, {"backup", 2}, {"restore", 1}, {"clock", 2}, {"partition", 2}, {"office", 12}, {"decide", 2}, {"copy", 3},
	{"lose-disk", 1},
}

func schedule(seed int64) []step {
	r := rand.New(rand.NewSource(seed))
	total := 0
	for _, c := range chances {
		total += c.of
	}
	out := make([]step, 20+r.Intn(60))
	for i := range out {
		s := step{wait: time.Duration(r.Intn(600)) * time.Second, device: r.Intn(3), number: r.Int63n(1 << 31)}
		if r.Intn(25) == 0 {
			s.wait = time.Duration(r.Intn(72)) * time.Hour // nobody does anything for days
		}
		at := r.Intn(total)
		for _, c := range chances {
			if at -= c.of; at < 0 {
				s.what = c.what
				break
			}
		}
		out[i] = s
	}
	return out
}

// do does a step.
func (w *world) do(s step) error {
	w.now = w.now.Add(s.wait)
	d := w.devices[s.device]
	r := rand.New(rand.NewSource(s.number))
	if d.offline {
		switch s.what {
		case "sync", "send", "delay", "lose-answer", "answer":
			return nil
		}
	}
	switch s.what {
	case "record":
		return d.recordSomething(r)
	case "sync":
		_, err := d.sync()
		return err
	case "send": // arrives at once; the answer is under way
		q, err := d.send()
		if err != nil {
			return err
		}
		return d.reach(q)
	case "answer":
		d.receive()
	case "delay": // does not arrive yet, and the device gives up on it
		q, err := d.send()
		d.flight = nil
		w.late = append(w.late, q)
		return err
	case "deliver": // in whatever order
		if n := len(w.late); n > 0 {
			i := r.Intn(n)
			q := w.late[i]
			if r.Intn(3) > 0 { // or it will arrive again
				w.late = append(w.late[:i], w.late[i+1:]...)
			}
			_, _, err := w.syncCall(q)
			return err
		}
	case "lose-answer":
		q, err := d.send()
		if err != nil {
			return err
		}
		err = d.reach(q)
		d.flight = nil
		return err
	case "kill-device":
		d.flight = nil
	case "kill-server":
		var err error
		dead := w.kill(1+r.Intn(30), func() { _, err = d.sync() })
		if err != nil {
			return err
		}
		return dead
	case "lapse":
		_, err := w.store.Sessions().Exec("DELETE FROM sessions")
		return err
	case "backup":
		copied := d.disk.clone()
		d.backup, d.since = &copied, nil
	case "restore":
		if d.backup != nil {
			d.disk, d.flight = d.backup.clone(), nil
			for _, id := range d.since {
				d.lost[id] = true
			}
		}
	case "clock":
		d.clock = time.Duration(r.Intn(9)-4) * 13 * time.Hour
	case "partition":
		d.offline = !d.offline
	case "second-copy": // all the time, from now on
		w.second = true
		return w.copy()
	case "copy":
		return w.copy()
	case "lose-disk":
		return w.loseDisk()
	case "office":
		return w.officeDoes(r)
	case "decide":
		return w.decide(r)
	default:
		return fmt.Errorf("nobody knows how to %q", s.what)
	}
	return nil
}

var visits = []string{"V1", "V2", "V3"}

func pick[T any](r *rand.Rand, from ...T) T { return from[r.Intn(len(from))] }

// recordSomething is what a technician may do.
func (d *device) recordSomething(r *rand.Rand) error {
	visit := ledger.Ref{Type: "visit", ID: pick(r, visits...)}
	van := "van-" + d.person
	today := ledger.TimecardRef(d.person, zone.In(d.now()))
	switch r.Intn(34) {
	case 28, 29:
		return d.leave(r, visit)
	case 30:
		return d.record("talk.said", ledger.TalkRef("W1"), ledger.TalkSaid{Text: fmt.Sprint("gate ", r.Intn(100)), Visit: visit.ID}, nil)
	case 31:
		var c talk.Talk
		if raw := d.disk.shown[ledger.TalkRef("W1")]; json.Unmarshal(raw, &c) != nil || len(c.Said) == 0 {
			return nil
		}
		return d.record("talk.read", ledger.TalkRef("W1"), ledger.TalkRead{Entry: c.Said[r.Intn(len(c.Said))].Entry}, nil)
	case 32:
		id := fmt.Sprintf("F-%s-%d", d.person, len(d.recorded))
		found := ledger.WorkFound{Found: work.Found{How: work.Seen, Visit: visit.ID}, Customer: "C1", Site: "S1", Problem: "Panel hums",
			Priority: work.Normal, Minutes: 30}
		if r.Intn(2) == 0 {
			found.Begin = "V-" + id
		}
		return d.record("work.found", ledger.Ref{Type: "workorder", ID: id}, found, nil)
	case 33:
		needed := &work.Needed{Needs: []work.Need{{Part: "P2", Quantity: decimal.NewFromInt(1)}}, Minutes: 45}
		return d.record("visit.finished", visit, ledger.Step{Outcome: work.ReturnNeeded, Reason: "part", Order: "W1", Needed: needed}, nil)
	case 22:
		id := fmt.Sprintf("H-%s-%d", d.person, len(d.recorded))
		return d.record("handover.sent", ledger.Ref{Type: "handover", ID: id},
			ledger.HandOver{From: van, To: pick(r, "van-ann", "van-ben"), Lines: moved(r)}, nil)
	case 23, 24: // of a hand-over that this device knows
		for ref, raw := range d.disk.shown {
			var h stock.Handover
			if ref.Type != "handover" || json.Unmarshal(raw, &h) != nil {
				continue
			}
			if r.Intn(3) > 0 {
				return d.record("handover.received", ref, ledger.TakeOver{Place: van, Lines: moved(r)}, nil)
			}
			if m := h.Missing(); len(m) > 0 {
				return d.record("handover.returned", ref, ledger.TakeBack{Place: van, Lines: m}, nil)
			}
		}
		return nil
	case 25:
		return d.record("part.removed", visit, ledger.Remove{Part: "P2", Text: "Seal", Quantity: decimal.NewFromInt(int64(1 + r.Intn(2))),
			Fate: work.ToStock, Place: van}, nil)
	case 26:
		return d.record("kit.used", visit, ledger.UseKit{Kit: "K1", Quantity: decimal.NewFromInt(1), Place: van, Parts: moved(r)}, nil)
	case 27:
		return d.record("part.requested", visit, ledger.PartRequested{Text: "Seal", Quantity: decimal.NewFromInt(1)}, nil)
	case 12:
		return d.record("task."+pick(r, "started", "held", "done"), visit, ledger.TaskTaken{Order: "W1", Task: pick(r, "t1", "t2")}, nil)
	case 13:
		var v work.Visit
		if err := json.Unmarshal(d.disk.shown[visit], &v); err == nil {
			for _, c := range v.Crew {
				if c.Asked && c.Helper == d.person {
					return d.record("crew.answered", visit, ledger.CrewAnswered{There: r.Intn(3) > 0,
						Steps: []ledger.StepRef{{Entry: c.Entry, At: c.At}}}, nil)
				}
			}
		}
		return d.record("crew.clocked", visit, ledger.CrewClocked{Helper: pick(r, "ann", "ben"), Clock: pick(r, labor.Work, labor.Stop)},
			nil)
	case 14:
		return d.record(pick(r, "time.started", "time.stopped", "day.started", "day.ended"), today, ledger.Clocked{Code: "yard"}, nil)
	case 15:
		end := zone.In(d.now())
		piece := labor.Piece{What: labor.What{Kind: labor.Off}, Start: end.Add(-20 * time.Minute), End: end}
		return d.record("time.corrected", today, ledger.Corrected{Pieces: []labor.Piece{piece}, Reason: "wrong button"}, nil)
	case 16:
		return d.record("route.ordered", today, ledger.RouteOrdered{Visits: []string{visit.ID}}, nil)
	case 0, 1:
		return d.record("note.written", visit, ledger.Note{Text: fmt.Sprint("note ", r.Intn(1000))}, nil)
	case 2:
		return d.record("part.used", visit, ledger.Use{Part: pick(r, "P1", "P2"), Place: van,
			Quantity: decimal.NewFromInt(int64(1 + r.Intn(3)))}, nil)
	case 3, 4:
		return d.record("visit."+pick(r, "accepted", "declined", "set_off", "arrived", "resumed"), visit, ledger.Step{}, nil)
	case 5:
		return d.record("visit.paused", visit, ledger.Step{Clock: labor.Break}, nil)
	case 6:
		return d.record("visit.finished", visit, ledger.Step{Outcome: work.Complete}, nil)
	case 7, 8: // of an entry of its own, sent or not
		if n := len(d.recorded); n > 0 {
			id := d.recorded[r.Intn(n)]
			for _, p := range d.disk.pending {
				if p.ID == id {
					s := ledgertest.Strike(d.disk.shown, p.Entry)
					return d.record("entry.struck", p.Subject, s, nil)
				}
			}
		}
		return nil
	case 9:
		return d.record("sheet.answered", visit, ledger.Answered{Sheet: pick(r, "pump@1", "pump@2"), Question: pick(r, "guard", "temp"),
			Value: pick(r, "yes", "61.5", "")}, nil)
	case 10:
		return d.record("reading.taken", visit, ledger.Taken{Asset: "A1", Point: "discharge", Value: decimal.New(int64(r.Intn(900)), -2),
			Unit: "bar"}, nil)
	case 18:
		return d.record("sheet.begun", visit, ledger.SheetBegun{Sheet: "pump@1",
			Known: []ledger.Given{{Question: "remark", Value: "as ever"}}}, nil)
	case 19:
		item := pick(r, "r1", "r2")
		return d.record("sheet.repeated", visit, ledger.SheetRepeated{Sheet: "pump@1",
			Repeated: ledger.Repeated{Section: "rooms", Item: item, Name: "Room " + fmt.Sprint(r.Intn(9)),
				Copied: []ledger.Given{{Question: "remark", Item: item, Value: "damp"}}}}, nil)
	case 20:
		return d.record("work.proposed", visit, ledger.Proposed{Kind: work.FollowUp, Text: "Change the seal", Asset: "A1"}, nil)
	case 21:
		return d.record("substance.moved", visit, ledger.SubstanceMoved{Site: "S1", Substance: "coolant", Act: substance.PutIn,
			Asset: "A1", Amount: decimal.New(int64(1+r.Intn(90)), -1), Unit: "kg"}, nil)
	case 11:
		return d.record("flag.seen", visit, ledger.Seen{Code: pick(r, "visit.not_theirs", "stock.below_zero")}, nil)
	}
	return d.record("record.amended", ledger.Ref{Type: "site", ID: "S1"}, map[string]string{"access": fmt.Sprint("Key ", r.Intn(100))},
		json.RawMessage(`{"access":"`+pick(r, "", "Key 7")+`"}`))
}

// leave is what a technician may say about how a visit is left: what was left out, who signs and who does not, an answer to the office.
func (d *device) leave(r *rand.Rand, visit ledger.Ref) error {
	switch r.Intn(4) {
	case 0:
		return d.record("ready.skipped", visit, ledger.Skipped{Key: "sheet pump@1", Reason: "no_time"}, nil)
	case 1:
		return d.record("signoff.missed", visit, ledger.Absent{Reason: "nobody"}, nil)
	case 2:
		signed := ledgertest.Signed(signoff.Summary{Order: fmt.Sprint(r.Intn(9))}, "Tam Hale")
		if r.Intn(2) == 0 {
			signed.With = []string{pick(r, visits...)}
		}
		return d.record("signoff.captured", visit, signed, nil)
	}
	var v work.Visit
	if raw := d.disk.shown[visit]; json.Unmarshal(raw, &v) != nil || v.Asked() == nil {
		return nil
	}
	return d.record("question.answered", visit, ledger.QuestionAnswered{Question: v.Asked().Entry, Text: "The upper"}, nil)
}

// moved are some of the parts that nobody counts.
func moved(r *rand.Rand) []stock.Moved {
	return []stock.Moved{{Part: "P2", Quantity: decimal.NewFromInt(int64(1 + r.Intn(3)))}}
}

// officeDoes is what the office may do meanwhile.
func (w *world) officeDoes(r *rand.Rand) error {
	visit := ledger.Ref{Type: "visit", ID: pick(r, visits...)}
	switch r.Intn(14) {
	case 11:
		return w.command("talk.said", ledger.TalkRef("W1"), ledger.TalkSaid{Text: "Ring first", Office: true}, nil)
	case 12, 13:
		return w.command("visit.questioned", visit, ledger.Questioned{Text: "Which seal?"}, nil)
	case 8:
		card := ledger.TimecardRef(pick(r, "ann", "ben"), zone.In(w.now))
		return w.command(pick(r, "day.approved", "day.approved", "day.reopened"), card, ledger.Nothing{}, nil)
	case 9:
		return w.closeVisit(visit)
	case 0, 1, 2:
		return w.command("visit.moved", visit, ledger.Move{Technician: pick(r, "ann", "ben"), Start: w.now.Add(time.Hour), Minutes: 30},
			nil)
	case 3:
		return w.command("visit.withdrawn", visit, ledger.Withdraw{Reason: "not needed"}, nil)
	case 4:
		return w.command("record.amended", ledger.Ref{Type: "site", ID: "S1"},
			map[string]string{"access": fmt.Sprint("Gate ", r.Intn(100))}, json.RawMessage(`{"access":""}`))
	case 5:
		if w.sheets == 2 {
			return nil
		}
		w.sheets = 2
		next := ledgertest.Sheet
		next.Version = 2
		return w.command("record.created", ledger.Ref{Type: "sheet", ID: "pump@2"}, next, nil)
	case 6:
		return w.command("visit.reviewed", visit, ledger.Nothing{}, nil)
	case 7:
		return w.command("flag.settled", visit, ledger.Settled{Code: pick(r, "visit.not_theirs", "visit.withdrawn_meanwhile"),
			Person: pick(r, "ann", "ben")}, nil)
	}
	// It strikes out or restores something on the visit.
	var b ledger.Struck
	err := w.store.Read(context.Background(), func(tx *store.Tx) error {
		var v work.Visit
		if _, err := tx.Load("visit", visit.ID, &v); err != nil {
			return err
		}
		e := ledger.Entry{Subject: visit}
		if n := len(v.Parts); n > 0 && r.Intn(2) == 0 {
			p := v.Parts[r.Intn(n)]
			e.ID, e.At, e.Kind, e.Actor = p.Entry, p.At, "part.used", p.Person
		} else if n := len(v.Steps); n > 0 {
			s := v.Steps[r.Intn(n)]
			e.ID, e.At, e.Kind, e.Actor = s.Entry, s.At, "visit."+string(s.Action), s.Person
		} else {
			return nil
		}
		var err error
		if b, err = tx.Striking(e); err != nil { // of a task: it is struck out otherwise
			b = ledger.Struck{}
		}
		return nil
	})
	if err != nil || b.Entry == "" {
		return err
	}
	return w.command(pick(r, "entry.struck_by_office", "entry.restored"), visit, b, nil)
}

// closeVisit is the office closing a visit that somebody forgot to finish.
func (w *world) closeVisit(visit ledger.Ref) error {
	var v work.Visit
	at := zone.In(w.now.Truncate(time.Millisecond))
	err := w.store.Read(context.Background(), func(tx *store.Tx) error {
		_, err := tx.Load("visit", visit.ID, &v)
		return err
	})
	if err != nil {
		return err
	}
	end, people := v.Closing(at)
	return w.command("visit.closed", visit, ledger.Closed{Outcome: work.NotNeeded, End: end, People: people}, nil)
}

// decide is the office deciding on an entry that was held.
func (w *world) decide(r *rand.Rand) error {
	var held []store.HeldEntry
	err := w.store.Read(context.Background(), func(tx *store.Tx) (err error) {
		held, err = tx.Held()
		return err
	})
	if err != nil || len(held) == 0 {
		return err
	}
	if w.cookie == "" {
		if w.cookie, err = w.signIn("office"); err != nil {
			return err
		}
	}
	status, err := w.call(w.cookie, http.MethodPost, fmt.Sprint("/api/office/held/", held[r.Intn(len(held))].ID),
		api.Decision{Do: syncing.Verdict(pick(r, "take", "set_aside"))}, nil)
	if status == http.StatusUnauthorized {
		w.cookie = ""
	}
	return err
}

// heal ends all faults and lets every device sync until it has nothing more to send and to hear.
func (w *world) heal() error {
	for _, q := range w.late {
		if _, _, err := w.syncCall(q); err != nil {
			return err
		}
	}
	if w.cookie == "" {
		var err error
		if w.cookie, err = w.signIn("office"); err != nil {
			return err
		}
	}
	if err := w.regain(); err != nil {
		return err
	}
	for range 2 { // what one sent, the others must hear
		for _, d := range w.devices {
			d.offline = false
			w.now = w.now.Add(2 * time.Minute)
			if err := d.settle(); err != nil {
				return err
			}
		}
	}
	return nil
}

// check says what is wrong after healing.
func (w *world) check() error {
	var wrong []string
	fail := func(format string, args ...any) { wrong = append(wrong, fmt.Sprintf(format, args...)) }
	err := w.store.Read(context.Background(), func(tx *store.Tx) error {
		for _, d := range w.devices {
			if err := w.checkDevice(tx, d, fail); err != nil {
				return err
			}
		}
		for _, id := range w.told {
			_, logged, err := tx.Find(id)
			if err != nil {
				return err
			}
			held, err := tx.HeldByEntry(id)
			if err != nil {
				return err
			}
			if !logged && len(held) == 0 {
				fail("the office's %s is nowhere", id)
			}
		}
		return w.checkStock(tx, fail)
	})
	if err != nil {
		return err
	}
	differ, _, err := w.store.Verify(context.Background(), nil)
	if err != nil {
		return err
	}
	for _, x := range differ {
		fail("refolded, %s differs: %s", x.Table, x.Row)
	}
	if len(wrong) > 0 {
		return fmt.Errorf("%s", strings.Join(wrong, "\n"))
	}
	return nil
}

func (w *world) checkDevice(tx *store.Tx, d *device, fail func(string, ...any)) error {
	name := d.disk.state.Replica
	for _, id := range d.recorded {
		_, logged, err := tx.Find(id)
		if err != nil {
			return err
		}
		held, err := tx.HeldByEntry(id)
		if err != nil {
			return err
		}
		waits := len(held) == 1 && held[0].State != "taken"
		if n := len(held); n > 1 || (logged == waits && !d.lost[id]) || (logged && waits) {
			fail("%s: entry %s is in the log: %v; held %d times", name, id, logged, n)
		}
	}
	for _, p := range d.disk.pending {
		if p.Held == nil {
			fail("%s: entry %s still waits", name, p.ID)
		}
	}
	// What the device shows is its scope at the server, and nothing else.
	today := zone.In(w.now)
	scope, err := tx.Scope(d.person, today.AddDate(0, 0, -14), today.AddDate(0, 0, 14), today)
	if err != nil {
		return err
	}
	want := map[ledger.Ref]string{}
	for _, ref := range scope {
		doc, err := tx.Doc(ref)
		if ref.Type == "history" { // made when it is asked for
			doc, err = tx.HistoryOf(ref.ID)
		}
		if err != nil {
			return err
		}
		if doc.Body != nil {
			want[ref] = string(doc.Body)
		}
	}
	for _, typ := range store.Common {
		docs, err := tx.Of(typ)
		if err != nil {
			return err
		}
		for _, doc := range docs {
			want[doc.Ref] = string(doc.Body)
		}
	}
	notices, err := tx.NoticesOf(d.person)
	if err != nil {
		return err
	}
	want[notices.Ref] = string(notices.Body)
	for ref, body := range d.disk.shown {
		if want[ref] != string(body) {
			fail("%s shows another %s:\n  shown  %s\n  server %s", name, ref, body, want[ref])
		}
		delete(want, ref)
	}
	for ref := range want {
		fail("%s does not show %s", name, ref)
	}
	return nil
}

// checkStock checks the vans against what the visits say was used and not struck out. What a device with a wrong clock says
// was used before ann's van was counted, that count knew of.
func (w *world) checkStock(tx *store.Tx, fail func(string, ...any)) error {
	counted := ledgertest.Start
	left := map[string]decimal.Decimal{"van-ann P1": decimal.NewFromInt(3)}
	for _, id := range visits {
		var v work.Visit
		if _, err := tx.Load("visit", id, &v); err != nil {
			return err
		}
		for _, p := range v.Parts {
			if k := p.Place + " " + p.Part; !p.Struck && (k != "van-ann P1" || !p.At.Before(counted)) {
				left[k] = left[k].Sub(p.Quantity)
			}
		}
	}
	for _, id := range visits {
		var v work.Visit
		if _, err := tx.Load("visit", id, &v); err != nil {
			return err
		}
		for _, k := range v.Kits {
			for _, m := range k.Parts {
				if !k.Struck {
					left[k.Place+" "+m.Part] = left[k.Place+" "+m.Part].Sub(m.Quantity)
				}
			}
		}
		for _, x := range v.Removed {
			if !x.Struck {
				left[x.Place+" "+x.Part] = left[x.Place+" "+x.Part].Add(x.Quantity)
			}
		}
	}
	over, err := tx.Of("handover")
	if err != nil {
		return err
	}
	for _, d := range over {
		var h stock.Handover
		if err := json.Unmarshal(d.Body, &h); err != nil {
			return err
		}
		add := func(place string, lines []stock.Moved, sign int64) {
			for _, m := range lines {
				left[place+" "+m.Part] = left[place+" "+m.Part].Add(m.Quantity.Mul(decimal.NewFromInt(sign)))
			}
		}
		add(h.From, h.Lines, -1)
		add(h.To, h.Taken, 1)
		if h.Back {
			add(h.From, h.Missing(), 1)
		}
	}
	for _, person := range []string{"ann", "ben"} {
		var p records.Person
		if _, err := tx.Load("person", person, &p); err != nil {
			return err
		}
		d, err := tx.Doc(ledger.Ref{Type: "stock", ID: p.Van})
		if err != nil {
			return err
		}
		var s struct {
			Lines map[string]struct{ Balance decimal.Decimal }
		}
		if d.Body != nil {
			if err := json.Unmarshal(d.Body, &s); err != nil {
				return err
			}
		}
		for _, part := range []string{"P1", "P2"} {
			if got := s.Lines[part].Balance; !got.Equal(left[p.Van+" "+part]) {
				fail("%s has %s of %s; by the visits it is %s", p.Van, got, part, left[p.Van+" "+part])
			}
		}
	}
	return nil
}
