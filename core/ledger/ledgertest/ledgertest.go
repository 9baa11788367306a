// Package ledgertest makes a small company and random sequences of entries about it, for property tests and for the
// comparison of the native core with the WebAssembly one.
package ledgertest

import (
	"encoding/json"
	"fmt"
	"math/rand"
	"strings"
	"time"

	"github.com/oklog/ulid/v2"
	"github.com/shopspring/decimal"

	"iter.example/iter/core/labor"
	"iter.example/iter/core/ledger"
	"iter.example/iter/core/reading"
	"iter.example/iter/core/records"
	"iter.example/iter/core/report"
	"iter.example/iter/core/settings"
	"iter.example/iter/core/sheet"
	"iter.example/iter/core/signoff"
	"iter.example/iter/core/stock"
	"iter.example/iter/core/substance"
	"iter.example/iter/core/work"
)

// Start is when the sequences begin.
var Start = time.Date(2026, 3, 10, 7, 0, 0, 0, time.FixedZone("", 3600))

// Sheet is the check sheet of the company's work.
var Sheet = sheet.Sheet{ID: "pump", Version: 1, Title: "Pump set", Sections: []sheet.Section{{Title: "State", Questions: []sheet.Question{
	{ID: "guard", Kind: sheet.YesNo, Text: "Guards in place?", Required: true},
	{ID: "noise", Kind: sheet.Choice, Text: "Noise", Options: []sheet.Option{{ID: "quiet", Text: "Quiet"}, {ID: "loud", Text: "Loud"}}},
	{ID: "temp", Kind: sheet.Number, Text: "Bearing temperature", Unit: "°C", Required: true, Max: new(decimal.NewFromInt(120))},
	{ID: "remark", Kind: sheet.Text, Text: "Remark"},
}}}}

// Settings are the company's.
var Settings = ledger.Settings{
	Company: records.Company{Name: "Test", Currency: "EUR", Zone: labor.Zone{Name: "Test", Shifts: []labor.Shift{{From: 0, Offset: 3600}}}},
	Time:    work.TimeSettings{Lengths: true, Pauses: []records.Choice{{ID: "break", Text: "Break", Clock: labor.Break}}}}

// Changed is a change of the fields of a subject of settings from the day of Start on.
func Changed(subject string, to map[string]any) ledger.SettingsChanged {
	return ChangedFrom(Start.Format(time.DateOnly), subject, to)
}

// ChangedFrom is the same from another day on.
func ChangedFrom(day, subject string, to map[string]any) ledger.SettingsChanged {
	fields := settings.Fields{}
	for name, value := range to {
		raw, err := json.Marshal(value)
		if err != nil {
			panic(err)
		}
		fields[name] = raw
	}
	return ledger.SettingsChanged{Days: map[string]map[string]settings.Fields{day: {subject: fields}}}
}

// Settle makes the entry that records settings, from the day it is made on.
func (m *Maker) Settle(s ledger.Settings) ledger.Entry {
	change, err := ledger.SettingsFrom(m.at.Format(time.DateOnly), s)
	if err != nil {
		panic(err)
	}
	ref := change.Subject()
	return m.Entry("office", "settings.changed", ref.Type, ref.ID, change)
}

// Maker makes entries with ids, numbers and times in order, from one replica.
type Maker struct {
	Replica string
	n       int64
	at      time.Time
	ids     *rand.Rand
}

// NewMaker starts at Start.
func NewMaker(replica string, seed int64) *Maker {
	return &Maker{Replica: replica, at: Start, ids: rand.New(rand.NewSource(seed))}
}

// Wait moves the maker's clock.
func (m *Maker) Wait(d time.Duration) { m.at = m.at.Add(d) }

// Now is the maker's clock.
func (m *Maker) Now() time.Time { return m.at }

// Entry makes the next entry.
func (m *Maker) Entry(actor, kind, subjectType, subject string, body any) ledger.Entry {
	raw, err := json.Marshal(body)
	if err != nil {
		panic(err)
	}
	m.n++
	return ledger.Entry{
		ID:   ulid.MustNew(uint64(m.at.UnixMilli()), m.ids).String(),
		Kind: kind, V: ledger.Version(kind), At: m.at, Actor: actor, Replica: m.Replica, N: m.n,
		Subject: ledger.Ref{Type: subjectType, ID: subject}, Body: raw,
	}
}

// Company makes the entries that set the company up: two technicians with vans, an office, one customer, site and asset,
// a sheet, two parts, a work order, and one visit planned for ann and sent.
func (m *Maker) Company() []ledger.Entry {
	rec := func(typ, id string, body any) ledger.Entry { return m.Entry("office", "record.created", typ, id, body) }
	return []ledger.Entry{
		m.Settle(Settings),
		rec("person", "office", records.Person{Name: "Office", Roles: []records.Role{records.Administrator}}),
		rec("person", "ann", records.Person{Name: "Ann Vane", Short: "A. Vane", Roles: []records.Role{records.Technician}, Van: "van-ann"}),
		rec("person", "ben", records.Person{Name: "Ben Orme", Short: "B. Orme", Roles: []records.Role{records.Technician}, Van: "van-ben"}),
		rec("customer", "C1", records.Customer{Name: "Vella Sound Water Board"}),
		rec("site", "S1", records.Site{Customer: "C1", Name: "Orrisk Pump House 3", Lat: 50.1, Lon: -5.2}),
		rec("asset", "A1", records.Asset{Site: "S1", Name: "Booster set", Kind: "booster", Points: []reading.Point{
			{ID: "discharge", Name: "Discharge pressure", Unit: "bar",
				Limits: reading.Limits{AlarmLow: new(decimal.RequireFromString("2.5"))}}}}),
		rec("sheet", "pump@1", Sheet),
		rec("part", "P1", stock.Part{Number: "P1", Name: "Mechanical seal 38 mm", Unit: "each"}),
		rec("part", "P2", stock.Part{Number: "P2", Name: "O-ring EPDM 72", Unit: "each"}),
		rec("place", "van-ann", stock.Place{Name: "Van A. Vane", Kind: "van", Person: "ann"}),
		m.Entry("office", "stock.counted", "stock", "van-ann", ledger.Count{Part: "P1", Quantity: decimal.NewFromInt(3)}),
		m.Entry("office", "work.opened", "workorder", "W1", work.Order{Number: "4127", Customer: "C1", Site: "S1", Asset: "A1",
			Problem: "No pressure", Priority: work.Soon, Minutes: 90, Sheets: []string{"pump@1"},
			Tasks: []work.Task{{ID: "t1", Name: "Change the seal"}, {ID: "t2", Name: "Align the coupling"}}}),
		m.Entry("office", "visit.planned", "visit", "V1", ledger.Plan{Order: "W1", Technician: "ann", Start: Start.Add(time.Hour),
			Minutes: 90}),
		m.Entry("office", "visit.sent", "visit", "V1", ledger.Nothing{}),
	}
}

// Signed makes the body of a signature of a summary.
func Signed(s signoff.Summary, name string) ledger.Signed {
	d, err := signoff.Digest(s)
	if err != nil {
		panic(err)
	}
	return ledger.Signed{Name: name, Role: "Duty engineer", Strokes: signoff.Strokes{{{10, 10}, {300, 90}, {400, 20}}}, Summary: s,
		Digest: d}
}

// ledgerEnd is the planned end of the company's visit, or the moment it is closed when that is earlier.
func ledgerEnd(at time.Time) time.Time {
	if end := Start.Add(150 * time.Minute); end.Before(at) {
		return end
	}
	return at
}

// Random makes an entry that somebody might record now, right or wrong: most fit, some do not. earlier are the entries
// before it, for strike-outs and repeats.
func (m *Maker) Random(r *rand.Rand, earlier []ledger.Entry) ledger.Entry {
	// Clocks are set back now and then, but never to before the company's first count: what was used before it is counted with it.
	if m.Wait(time.Duration(r.Intn(40*60)-60) * time.Second); !m.at.After(Start) {
		m.at = Start.Add(time.Second)
	}
	pick := func(s ...string) string { return s[r.Intn(len(s))] }
	actor := pick("ann", "ann", "ann", "ben")
	visit := pick("V1", "V1", "V1", "V2")
	field := func(kind string, body any) ledger.Entry { return m.Entry(actor, kind, "visit", visit, body) }
	card := func(kind string, body any) ledger.Entry {
		return m.Entry(actor, kind, "timecard", ledger.TimecardRef(actor, m.at).ID, body)
	}
	switch r.Intn(35) {
	case 28, 29:
		return m.ending(r, field, actor, earlier)
	case 30:
		return m.Entry(actor, pick("talk.said", "talk.read"), "talk", pick("W1", "W2"),
			map[string]any{"text": pick("Gate locked", ""), "entry": earlier[r.Intn(len(earlier))].ID, "office": actor == "ben"})
	case 34:
		return m.Entry(actor, pick("absence.asked", "absence.withdrawn", "absence.decided"), "absences", pick(actor, "ann"),
			map[string]any{"from": pick("2026-12-21", "soon"), "to": "2026-12-24", "absence": earlier[r.Intn(len(earlier))].ID,
				"granted": r.Intn(2) == 0})
	case 31:
		return m.Entry(actor, "work.found", "workorder", ulid.MustNew(uint64(m.at.UnixMilli()), m.ids).String(),
			ledger.WorkFound{Found: work.Found{How: work.FoundHow(pick("seen", "other_asset", "dreamt")), Visit: visit}, Customer: "C1",
				Site: "S1", Asset: pick("A1", "", "A9"), Problem: "Panel hums", Priority: work.Normal, Minutes: 30, Begin: pick("", "V7")})
	case 18:
		return field("sheet.begun", ledger.SheetBegun{Sheet: pick("pump@1", "lost@9"),
			Known: []ledger.Given{{Question: pick("remark", "temp"), Value: "7"}},
			Items: []ledger.Repeated{{Section: "rooms", Item: "A1", Name: "Booster", Asset: "A1"}}})
	case 19:
		return field("sheet.repeated", ledger.SheetRepeated{Sheet: "pump@1",
			Repeated: ledger.Repeated{Section: pick("rooms", ""), Item: pick("r1", "r2"), Name: pick("Cellar", "Loft", ""),
				Copied: []ledger.Given{{Question: "remark", Item: "r1", Value: "damp"}}}})
	case 20:
		return field("work.proposed", ledger.Proposed{Kind: work.ProposalKind(pick("follow_up", "recommendation", "dream")),
			Text: pick("Change the seal", ""), Asset: "A1"})
	case 21:
		return field("substance.moved", ledger.SubstanceMoved{Site: "S1", Substance: "coolant",
			Act: substance.Act(pick("put_in", "taken_out", "delivered")), Asset: pick("A1", ""), Amount: decimal.New(r.Int63n(900), -2),
			Unit: pick("kg", "l")})
	case 22:
		e := earlier[r.Intn(len(earlier))]
		return field("file.described", ledger.FileDescribed{File: e.ID, Caption: "The seal",
			Marks: []work.Mark{{Form: work.Arrow, Points: []int{0, 0, r.Intn(9999), 5000}, Colour: pick("signal", "puce")}}})
	case 23:
		return field("part.used", ledger.Use{Part: "P1", Place: "van-ann", Quantity: decimal.NewFromInt(1), Asset: pick("A1", ""),
			Serial: pick("S-1", "S-2")})
	case 24:
		fate := work.Fate(pick("stock", "core", "scrap", "gone"))
		b := ledger.Remove{Part: "P2", Text: "O-ring", Quantity: decimal.NewFromInt(1), Asset: "A1", Serial: pick("", "S-1"), Fate: fate}
		if fate == work.ToStock {
			b.Place = "van-ann"
		}
		return field("part.removed", b)
	case 25:
		return field("kit.used", ledger.UseKit{Kit: "K1", Quantity: decimal.NewFromInt(1), Place: "van-ann",
			Parts: []stock.Moved{{Part: "P2", Quantity: decimal.NewFromInt(int64(r.Intn(3)))}}})
	case 26:
		return field("extra.added", ledger.AddExtra{Kind: work.ExtraKind(pick("item", "mileage", "bribe")), Text: "Bracket",
			Quantity: decimal.NewFromInt(1)})
	case 27:
		return field("part.requested", ledger.PartRequested{Part: pick("P1", ""), Text: pick("Seal", ""), Quantity: decimal.NewFromInt(2),
			Approval: r.Intn(2) == 0})
	case 13:
		if r.Intn(6) == 0 {
			switch r.Intn(5) {
			case 1:
				return field("trouble.found", ledger.TroubleFound{Cause: pick("worn", ""), Remedy: pick("replaced", "")})
			case 0:
				return field("task.added", ledger.TaskAdded{Order: "W1", Name: pick("Grease the bearings", ""), Asset: pick("A1", "A9", "")})
			}
			return field("task.noted", ledger.TaskNoted{Order: "W1", Task: pick("t1", "t2", "t9"), Result: pick("good", "worn")})
		}
		return field("task."+pick("started", "started", "held", "done"), ledger.TaskTaken{Order: "W1", Task: pick("t1", "t2", "t9")})
	case 14:
		if e := earlier[r.Intn(len(earlier))]; e.Kind == "crew.clocked" {
			return m.Entry(pick("ben", "ann"), "crew.answered", "visit", e.Subject.ID,
				ledger.CrewAnswered{There: r.Intn(2) == 0, Steps: []ledger.StepRef{{Entry: e.ID, At: e.At}}})
		}
		return field("crew.clocked", ledger.CrewClocked{Helper: pick("ann", "ben", "nobody"),
			Clock: labor.Kind(pick("work", "stop", "travel", "off")), Task: pick("", "t1")})
	case 15:
		kind := pick("time.started", "time.stopped", "day.started", "day.ended")
		return card(kind, ledger.Clocked{Code: pick("yard", "workshop")})
	case 16:
		from := m.at.Add(-time.Duration(r.Intn(300)) * time.Minute)
		return card("time.corrected", ledger.Corrected{Reason: pick("forgot", ""),
			Pieces: []labor.Piece{{What: labor.What{Kind: labor.Kind(pick("work", "off", "stop")), Visit: "V1"}, Start: from,
				End: from.Add(time.Duration(r.Intn(60)) * time.Minute)}}})
	case 17:
		return card("time.told", ledger.TimeTold{What: labor.What{Kind: labor.Kind(pick("work", "indirect", "off")), Visit: "V1",
			Code: pick("yard", "")}, Minutes: r.Intn(90), Text: pick("Drawings", "")})
	case 0, 1, 2, 3:
		a := pick("accepted", "set_off", "arrived", "resumed")
		return field("visit."+a, ledger.Step{Where: &work.Where{Lat: r.Float64() * 90, Lon: r.Float64() * -7, Accuracy: 4.5}})
	case 4:
		return field("visit.paused", ledger.Step{Reason: "break", Clock: labor.Kind(pick("break", "wait", "", "work"))})
	case 5:
		b := ledger.Step{Outcome: work.Outcome(pick("complete", "return_needed", "unheard_of"))}
		if b.Outcome == work.ReturnNeeded {
			b.Order, b.Needed = pick("W1", "W9", ""), &work.Needed{Needs: []work.Need{{Part: "P1", Quantity: decimal.NewFromInt(1)}},
				Minutes: r.Intn(90)}
		}
		return field("visit.finished", b)
	case 6:
		return field("note.written", ledger.Note{Text: pick("Seal weeps", "", "Ünïcode – “quoted” <b>&amp;", "\u2028line")})
	case 7:
		return field("part.used", ledger.Use{Part: pick("P1", "P2"), Place: pick("van-ann", "van-ben"),
			Quantity: decimal.New(int64(r.Intn(500)-20), -2)})
	case 8:
		return field("reading.taken", ledger.Taken{Asset: "A1", Kind: pick("", "booster"), Point: pick("discharge", "discharge", "hours"),
			Value: decimal.New(r.Int63n(1e6), -4), Unit: pick("bar", "bar", "psi", "h")})
	case 9, 10:
		return field("sheet.answered", ledger.Answered{Sheet: pick("pump@1", "pump@1", "lost@9"),
			Question: pick("guard", "noise", "temp", "remark", "none"), Value: pick("yes", "no", "quiet", "61,5", "", "999", "ok"),
			Item: pick("", "", "r1"), Asset: pick("", "A1"), Note: pick("", "see photo")})
	case 11:
		return field("signoff.captured", Signed(signoff.Summary{Order: "4127", Until: m.at, Notes: []string{"<&>"},
			Hours: labor.Hours{Work: int64(r.Intn(9999))}}, pick("Ona Pryde", "Οδυσσέας", "")))
	case 12:
		e := earlier[r.Intn(len(earlier))]
		s := ledger.Struck{Entry: e.ID, At: e.At, Kind: e.Kind, Person: actor, Reason: "wrong tap"}
		if f, err := ledger.Open(e); err == nil && r.Intn(5) > 0 {
			s.Touched = append(f.Keys()[1:], ledger.Ref{Type: "workorder", ID: "W1"})
		}
		if e.Subject.Type == "timecard" {
			return m.Entry(e.Actor, "entry.struck", "timecard", e.Subject.ID, s)
		}
		return m.Entry(e.Actor, "entry.struck", "visit", visit, s)
	default:
		switch r.Intn(7) {
		case 5:
			return m.Entry("office", pick("day.approved", "day.approved", "day.reopened", "day.posted"), "timecard",
				ledger.TimecardRef(actor, m.at).ID, ledger.Nothing{})
		case 6:
			return m.Entry("office", "visit.closed", "visit", visit, ledger.Closed{Outcome: work.Complete, End: ledgerEnd(m.at),
				People: []string{"ann"}})
		case 0:
			return m.Entry("office", pick("visit.withdrawn", "visit.reinstated"), "visit", visit, ledger.Withdraw{Reason: "cancelled"})
		case 1:
			return m.Entry("office", "visit.moved", "visit", visit, ledger.Move{Technician: actor, Start: m.at, Minutes: r.Intn(200)})
		case 2:
			e := m.Entry("office", "record.amended", "site", "S1", map[string]any{"access": fmt.Sprint("Code ", r.Intn(9)),
				"name": pick("Orrisk", "Orrisk 3", "")})
			e.Base = json.RawMessage(pick(`{"access":null}`, `{"name":"Orrisk"}`, `7`, `{}`))
			return e
		case 3:
			return m.Entry("office", "visit.planned", "visit", "V2", ledger.Plan{Order: pick("W1", "W9"), Technician: "ben", Start: m.at,
				Minutes: 30})
		}
		e := earlier[r.Intn(len(earlier))] // something again, or something odd
		switch r.Intn(3) {
		case 0:
			e.Kind = "visit.vanished"
		case 1:
			e.V = 9
		default:
			e.Body = json.RawMessage(`{"text":7}`)
		}
		return e
	}
}

// ending makes an entry about how a visit is left: what was left out, who did not sign, what the office asks, a report.
func (m *Maker) ending(r *rand.Rand, field func(string, any) ledger.Entry, actor string, earlier []ledger.Entry) ledger.Entry {
	pick := func(s ...string) string { return s[r.Intn(len(s))] }
	e := earlier[r.Intn(len(earlier))]
	switch r.Intn(7) {
	case 0:
		return field("ready.skipped", ledger.Skipped{Key: pick("sheet pump@1", "task t1", ""), Reason: "no time"})
	case 1:
		return field("signoff.missed", ledger.Absent{Reason: pick("nobody there", "")})
	case 2:
		return m.Entry("office", "visit.questioned", "visit", "V1", ledger.Questioned{Text: "Which seal?"})
	case 3:
		return field("question.answered", ledger.QuestionAnswered{Question: e.ID, Text: "The upper"})
	case 4:
		return field("proposal.answered", ledger.ProposalAnswered{Proposal: e.ID, Answers: []work.Answer{work.Taken}})
	case 5:
		return field("report.sent", ledger.ReportSent{Report: e.ID, To: "tam@example.net"})
	}
	out := report.Report{Layout: report.Layout(pick("full", "short", "poster")), Order: "4127", At: m.at, By: actor}
	digest, err := out.Digest()
	if err != nil {
		panic(err)
	}
	return field("report.made", ledger.ReportMade{Report: out, Digest: digest, PDF: strings.Repeat("a", 64), Size: 9000})
}

// Strike makes the body of a strike-out of an entry, or of what restores it.
func Strike(docs ledger.Docs, e ledger.Entry) ledger.Struck {
	s, m := ledger.Struck{Entry: e.ID, At: e.At, Kind: e.Kind, Person: e.Actor}, ledger.Memory{}
	for wanted := []ledger.Ref{e.Subject}; len(wanted) > 0; {
		for _, ref := range wanted {
			m.Put(ref, docs[ref])
		}
		s, wanted, _ = ledger.Striking(&m, e.Subject, s) // what is wrong is for whoever applies it to say
	}
	return s
}

// Fold applies entries one after another to documents, and tells for each what came of it.
func Fold(docs ledger.Docs, entries []ledger.Entry) []Result {
	out := make([]Result, len(entries))
	for i, e := range entries {
		changed, flags, err := ledger.Apply(docs, e)
		if err != nil {
			out[i].Error = err.Error()
			continue
		}
		for r, b := range changed {
			docs[r] = b
		}
		out[i].Flags = flags
	}
	return out
}

// Result is what came of an entry.
type Result struct {
	Flags []ledger.Flag
	Error string
}
