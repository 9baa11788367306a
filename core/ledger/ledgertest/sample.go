package ledgertest

import (
	"encoding/json"
	"strings"

	"github.com/shopspring/decimal"

	"iter.example/iter/core/calendar"
	"iter.example/iter/core/labor"
	"iter.example/iter/core/ledger"
	"iter.example/iter/core/records"
	"iter.example/iter/core/report"
	"iter.example/iter/core/sheet"
	"iter.example/iter/core/signal"
	"iter.example/iter/core/signoff"
	"iter.example/iter/core/stock"
	"iter.example/iter/core/upkeep"
	"iter.example/iter/core/work"
)

// someID is an entry's id that names nothing.
const someID = "01KM0000000000000000000000"

// Sample makes a well-formed entry of a kind, about what the test company has: ann's visit V1, her timecard of the day, her van. It
// tells whether there is one: each kind has. Samples of the kinds about records are about a customer.
func (m *Maker) Sample(kind, actor string) (ledger.Entry, bool) {
	one := decimal.NewFromInt(1)
	moved := []stock.Moved{{Part: "P1", Quantity: one}}
	hash := strings.Repeat("a", 64)
	file := work.FileRef{Hash: hash, Name: "pump.jpg", Type: "image/jpeg", Size: 9}
	said := report.Report{Layout: "full", Order: "4127", At: m.at, By: actor}
	digest, err := said.Digest()
	if err != nil {
		panic(err)
	}
	struck := ledger.Struck{Entry: someID, At: m.at, Kind: "note.written", Person: actor}
	task := ledger.TaskTaken{Order: "W1", Task: "t1"}
	var step ledger.Step
	var nothing ledger.Nothing
	visit := map[string]any{
		"visit.planned": ledger.Plan{Order: "W1", Technician: "ann", Start: m.at, Minutes: 60},
		"visit.moved":   ledger.Move{Technician: "ann", Start: m.at, Minutes: 60},
		"visit.sent":    nothing, "visit.reinstated": nothing, "visit.withdrawn": ledger.Withdraw{}, "visit.reviewed": nothing,
		"visit.fixed":       ledger.Fixed{Fixed: true},
		"attention.handled": ledger.AttentionHandled{Key: "note x"},
		"visit.closed":      ledger.Closed{Outcome: work.Complete, End: m.at, People: []string{"ann"}},
		"visit.accepted":    step, "visit.declined": step, "visit.set_off": step, "visit.arrived": step, "visit.paused": step,
		"visit.resumed":  step,
		"visit.finished": ledger.Step{Outcome: work.Complete}, "visit.end_confirmed": ledger.EndConfirmed{End: m.at},
		"ready.skipped": ledger.Skipped{Key: "note", Reason: "no time"}, "signoff.missed": ledger.Absent{Reason: "nobody there"},
		"visit.questioned": ledger.Questioned{Text: "Which seal?"}, "question.answered": ledger.QuestionAnswered{Question: someID,
			Text: "The upper"},
		"proposal.answered": ledger.ProposalAnswered{Proposal: someID, Answers: []work.Answer{work.Taken}},
		"report.made":       ledger.ReportMade{Report: said, Digest: digest, PDF: hash, Size: 9000},
		"report.sent":       ledger.ReportSent{Report: someID, To: "tam@example.net"},
		"task.started":      task, "task.held": task, "task.done": task,
		"trouble.found":  ledger.TroubleFound{Asset: "A1", Cause: "worn", Remedy: "replaced"},
		"crew.joined":    ledger.Nothing{},
		"task.added":     ledger.TaskAdded{Order: "W1", Name: "Grease the bearings", Asset: "A1", Minutes: 15},
		"task.noted":     ledger.TaskNoted{Order: "W1", Task: "t1", Result: "good", Remark: "Runs quietly"},
		"crew.clocked":   ledger.CrewClocked{Helper: actor, Clock: labor.Work},
		"crew.answered":  ledger.CrewAnswered{There: true, Steps: []ledger.StepRef{{Entry: someID, At: m.at}}},
		"message.sent":   ledger.MessageSent{Template: "on_the_way", To: "+353 1 555 0100", Text: "On the way"},
		"part.requested": ledger.PartRequested{Part: "P1", Text: "Seal", Quantity: one},
		"note.written":   ledger.Note{Text: "Seal weeps"}, "part.used": ledger.Use{Part: "P1", Place: "van-ann", Quantity: one},
		"part.removed":     ledger.Remove{Part: "P2", Text: "O-ring", Quantity: one, Fate: work.ToStock, Place: "van-ann"},
		"kit.used":         ledger.UseKit{Kit: "K1", Quantity: one, Place: "van-ann", Parts: moved},
		"extra.added":      ledger.AddExtra{Kind: "item", Text: "Bracket", Quantity: one},
		"reading.taken":    ledger.Taken{Asset: "A1", Point: "discharge", Value: one, Unit: "bar"},
		"sheet.begun":      ledger.SheetBegun{Sheet: "pump@1"},
		"sheet.repeated":   ledger.SheetRepeated{Sheet: "pump@1", Repeated: ledger.Repeated{Section: "rooms", Item: "r1", Name: "Cellar"}},
		"sheet.answered":   ledger.Answered{Sheet: "pump@1", Question: "temp", Value: "61.5"},
		"sheet.attached":   ledger.SheetAttached{Order: "W1", Sheet: "pump@1"},
		"work.proposed":    ledger.Proposed{Kind: "follow_up", Text: "Change the seal"},
		"substance.moved":  ledger.SubstanceMoved{Site: "S1", Substance: "coolant", Act: "put_in", Asset: "A1", Amount: one, Unit: "kg"},
		"signoff.captured": Signed(signoff.Summary{Order: "4127"}, "Ona Pryde"),
		"file.attached":    ledger.File{FileRef: file}, "file.described": ledger.FileDescribed{File: someID, Caption: "The seal"},
		"entry.struck": struck, "entry.struck_by_office": struck, "entry.restored": struck,
		"flag.seen": ledger.Seen{Code: "note.to_office"}, "flag.settled": ledger.Settled{Code: "note.to_office", Person: "ann"},
	}
	card := map[string]any{
		"time.described": ledger.TimeDescribed{From: someID, Sort: "repair", Text: "Seal changed"},
		"time.started":   ledger.Clocked{Code: "yard"}, "time.stopped": nothing, "day.started": ledger.DayBegun{}, "day.ended": nothing,
		"time.corrected": ledger.Corrected{Reason: "forgot"}, "time.corrected_by_office": ledger.Corrected{Reason: "forgot"},
		"time.told":    ledger.TimeTold{What: labor.What{Kind: labor.Work, Visit: "V1"}, Minutes: 45, Text: "Drawings"},
		"day.approved": nothing, "day.reopened": nothing, "day.posted": nothing, "route.ordered": ledger.RouteOrdered{},
		"note.to_office": ledger.Note{Text: "Home early"},
	}
	other := map[string]struct {
		typ, id string
		body    any
	}{
		"record.created":    {"customer", "C2", records.Customer{Name: "Quill Dairy"}},
		"record.amended":    {"customer", "C1", map[string]any{"address": "2 Slip Lane"}},
		"settings.changed":  {"settings", "orders", Changed("orders", map[string]any{"maxHolds": 2})},
		"stock.counted":     {"stock", "van-ann", ledger.Count{Part: "P1", Quantity: one}},
		"stock.scrapped":    {"stock", "van-ann", ledger.Scrap{Part: "P1", Quantity: one, Reason: "split"}},
		"stock.received":    {"stock", "van-ann", ledger.Receive{Part: "P1", Quantity: one}},
		"stock.reserved":    {"stock", "van-ann", ledger.Reserve{Order: "W1", Part: "P1", Quantity: one}},
		"handover.sent":     {"handover", "H1", ledger.HandOver{From: "van-ann", To: "yard", Lines: moved}},
		"handover.received": {"handover", "H1", ledger.TakeOver{Place: "van-ann", Lines: moved}},
		"handover.returned": {"handover", "H1", ledger.TakeBack{Place: "van-ann", Lines: moved}},
		"request.named":     {"request", someID, ledger.RequestNamed{Part: "P1", Quantity: one}},
		"request.approved":  {"request", someID, ledger.RequestAnswered{}},
		"request.declined":  {"request", someID, ledger.RequestAnswered{Reason: "too dear"}},
		"request.reserved": {"request", someID, ledger.RequestReserved{Place: "yard",
			Served: ledger.Served{Request: someID, Order: "W1", Part: "P1", Quantity: one}}},
		"purchase.made": {"purchase", "PO1", ledger.PurchaseMade{Number: "P-1", Supplier: "delve", Place: "yard",
			Lines: []stock.PurchaseLine{{Part: "P1", Quantity: one}}}},
		"purchase.confirmed": {"purchase", "PO1", ledger.PurchaseConfirmed{Reference: "7", Due: "2026-03-12"}},
		"purchase.delivered": {"purchase", "PO1", nothing}, "purchase.received": {"purchase", "PO1",
			ledger.PurchaseReceived{Place: "yard", Lines: moved}},
		"purchase.cancelled": {"purchase", "PO1", ledger.PurchaseCancelled{Reason: "too late"}},
		"work.opened": {"workorder", "W2", work.Order{Number: "4128", Customer: "C1", Site: "S1", Problem: "No water",
			Priority: work.Soon, Minutes: 60}},
		"work.needs_planned":  {"workorder", "W1", ledger.NeedsPlanned{Needs: []work.Need{{Part: "P1", Quantity: one}}}},
		"asset.moved":         {"asset", "A1", ledger.AssetMoved{Why: records.Moved, Site: "S1"}},
		"site.moved":          {"site", "S1", ledger.SiteMoved{Customer: "C2"}},
		"record.merged":       {"customer", "C1", ledger.Merged{Into: "C2", Sites: []string{"S1"}}},
		"record.parted":       {"customer", "C1", ledger.Merged{Into: "C2", Sites: []string{"S1"}}},
		"work.sent":           {"workorder", "W1", ledger.WorkSent{To: "crane@example.net", Text: "For Tuesday"}},
		"work.held":           {"workorder", "W1", ledger.OrderHeld{Reason: "waits for the permit", Until: "2026-04-01"}},
		"work.released":       {"workorder", "W1", ledger.OrderActed{}},
		"work.cancelled":      {"workorder", "W1", ledger.OrderActed{Reason: "sold"}},
		"work.closed":         {"workorder", "W1", ledger.OrderActed{Reason: "done by another firm"}},
		"work.reopened":       {"workorder", "W1", ledger.OrderActed{}},
		"work.sheet_attached": {"workorder", "W1", ledger.SheetAttached{Order: "W1", Sheet: "pump@1"}},
		"knowhow.sent":        {"knowhow", "K7", ledger.KnowHowSent{Title: "Bleeding the booster", Kinds: []string{"pump"}}},
		"work.found": {"workorder", "W3", ledger.WorkFound{Found: work.Found{How: "seen", Visit: "V1"}, Customer: "C1",
			Site: "S1", Problem: "Panel hums", Priority: work.Normal, Minutes: 30}},
		"talk.said": {"talk", "W1", ledger.TalkSaid{Text: "Gate locked"}},
		"talk.read": {"talk", "W1", ledger.TalkRead{Entry: someID}},
		"absence.asked": {"absences", "ann", ledger.AbsenceAsked{Off: calendar.Off{From: "2026-12-21", To: "2026-12-24", Why: "leave"},
			Note: "Home for the feast"}},
		"absence.withdrawn": {"absences", "ann", ledger.AbsenceWithdrawn{Absence: someID}},
		"draft.changed": {"draft", actor, ledger.DraftChanged{Changes: []ledger.DraftChange{{Visit: "V1",
			Move: &ledger.Move{Technician: "ben", Start: m.at, Minutes: 60}}}}},
		"draft.dropped":   {"draft", actor, ledger.DraftEnded{Visits: []string{"V1"}}},
		"draft.published": {"draft", actor, ledger.DraftEnded{Visits: []string{"V1"}}},
		"upkeep.moved":    {"upkeep", "U1", ledger.UpkeepMoved{Target: "A1", Key: "2026-03-01", Due: "2026-03-01", To: "2026-03-20"}},
		"incident.opened": {"incident", "I2", ledger.IncidentOpened{Asset: "A1", Since: m.at, Rule: signal.Rule{ID: "silent", When: signal.Silent,
			For: 30, Do: signal.Attend, Text: "Says nothing"}}},
		"incident.ended":   {"incident", "I1", ledger.IncidentEnded{At: m.at}},
		"incident.handled": {"incident", "I1", ledger.IncidentHandled{Note: "The feeder was switched off"}},
		"absence.decided":  {"absences", "ann", ledger.AbsenceDecided{Absence: someID, Granted: true}},
	}
	if body, ok := visit[kind]; ok {
		return m.Entry(actor, kind, "visit", "V1", body), true
	}
	if body, ok := card[kind]; ok {
		return m.Entry(actor, kind, "timecard", ledger.TimecardRef(actor, m.at).ID, body), true
	}
	o, ok := other[kind]
	if !ok {
		return ledger.Entry{}, false
	}
	return m.Entry(actor, kind, o.typ, o.id, o.body), true
}

// SampleRecord makes a record of a type that is well formed.
func (m *Maker) SampleRecord(typ, actor string) (ledger.Entry, bool) {
	sheet := sheet.Sheet{ID: "new", Version: 1, Title: "New", Sections: Sheet.Sections}
	r, ok := map[string]struct {
		id   string
		body any
	}{
		"person":   {"eve", records.Person{Name: "Eve Lorn", Roles: []records.Role{records.Administrator}}},
		"customer": {"C2", records.Customer{Name: "Quill Dairy"}}, "site": {"S2", records.Site{Customer: "C1", Name: "Weir"}},
		"asset": {"A2", records.Asset{Site: "S1", Name: "Dosing unit"}}, "assetkind": {"dosing", records.AssetKind{Name: "Dosing unit"}},
		"sheet": {"new@1", sheet}, "sheetdraft": {"new", sheet},
		"resource":    {"boat", records.Resource{Name: "Work boat", Kind: "boat"}},
		"knowhow":     {"new", records.KnowHow{Title: "Bleeding the booster"}},
		"undertaking": {"new", records.Undertaking{Name: "Fitting out the dairy"}},
		"wishes":      {"S2", records.Wishes{Prefer: []string{"ann"}}},
		"upkeep": {"new", upkeep.Plan{Name: "Yearly service", Job: work.Job{Problem: "Yearly service", Minutes: 90}, Assets: []string{"A1"},
			Rule: "FREQ=YEARLY", Begin: "2026-03-01"}},
		"agreement": {"new", work.Agreement{Customer: "C1", Name: "Full care", Assets: []string{"A1"}, From: "2026-01-01"}},
		"signalrules": {"new", signal.Rules{Rules: []signal.Rule{{ID: "silent", When: signal.Silent, For: 30, Do: signal.Attend,
			Text: "Says nothing"}}}},
		"template": {"new", work.Template{Name: "Yearly service", Job: work.Job{Problem: "Yearly service", Minutes: 90}}},
		"listview": {"new", records.ListView{Name: "Mine", List: "orders", Owner: actor}},
		"part":     {"P3", stock.Part{Number: "P3", Name: "Gasket", Unit: "each"}},
		"kit":      {"K2", stock.Kit{Number: "K2", Name: "Seal kit", Parts: []stock.KitPart{{Part: "P1", Quantity: decimal.NewFromInt(1)}}}},
		"place":    {"yard", stock.Place{Name: "Yard", Kind: "store"}},
		"levels":   {"van-ann", stock.Levels{}},
		// Nobody makes one so: it is opened.
		"workorder": {"W9", work.Order{Number: "9", Customer: "C1", Site: "S1", Problem: "x", Priority: work.Normal, Minutes: 5}},
	}[typ]
	if !ok {
		return ledger.Entry{}, false
	}
	return m.Entry(actor, "record.created", typ, r.id, r.body), true
}

// SampleAmendment makes an amendment of one field of a record.
func (m *Maker) SampleAmendment(typ, id, field, actor string) ledger.Entry {
	return m.Entry(actor, "record.amended", typ, id, map[string]json.RawMessage{field: json.RawMessage("null")})
}
