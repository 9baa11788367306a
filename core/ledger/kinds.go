package ledger

import (
	"encoding/json"
	"slices"
	"time"

	"iter.example/iter/core/labor"
	"iter.example/iter/core/msg"
	"iter.example/iter/core/records"
	"iter.example/iter/core/sheet"
	"iter.example/iter/core/signoff"
	"iter.example/iter/core/stock"
	"iter.example/iter/core/work"
)

var (
	planners = []records.Role{records.Dispatcher}
	keepers  = []records.Role{records.Dispatcher, records.Stores}
	stores   = []records.Role{records.Stores}
	judges   = []records.Role{records.Dispatcher, records.Reviewer}
	// byType are the roles of record.created and record.amended: the table of document types says which of them, for which type.
	byType = append(slices.Clone(keepers), records.Administrator)
)

var kinds = map[string]*kind{
	"record.created": of("", byType, nil, nil, created).since(asItWas),
	"record.amended": of("", byType, checkAmendment, nil, amended).since(asItWas),

	"stock.counted":     of("stock", stores, checkCount, nil, counted).both().whatever(),
	"stock.scrapped":    of("stock", stores, checkScrap, nil, scrapped).both().whatever(),
	"stock.received":    of("stock", stores, checkReceive, func(_ Entry, b Receive) []Ref { return []Ref{CostRef(b.Part)} }, received).whatever(),
	"stock.reserved":    of("stock", keepers, checkReserve, nil, reserved).whatever(),
	"handover.sent":     of("handover", stores, checkHandOver, handOverKeys, handedOver).both().whatever(),
	"handover.received": of("handover", stores, checkTakeOver, takeOverKeys, takenOver).both(),
	"handover.returned": of("handover", stores, checkTakeBack, takeBackKeys, takenBack).both(),

	"request.named":      of("request", keepers, checkNamed, func(_ Entry, b RequestNamed) []Ref { return []Ref{{"part", b.Part}} }, requestNamed),
	"request.approved":   answeredAs(stock.Approved),
	"request.declined":   answeredAs(stock.Declined),
	"request.reserved":   of("request", keepers, checkReserved, func(_ Entry, b RequestReserved) []Ref { return append(servedKeys(b.Served), Ref{"stock", b.Place}) }, requestReserved),
	"purchase.made":      of("purchase", keepers, checkPurchase, purchaseKeys, purchaseMade),
	"purchase.confirmed": of("purchase", keepers, checkConfirmed, nil, purchaseConfirmed),
	"purchase.delivered": of("purchase", keepers, nil, nil, purchaseDelivered),
	"purchase.received":  of("purchase", stores, checkReceived, receivedKeys, purchaseReceived),
	"purchase.cancelled": of("purchase", keepers, checkCancelled, cancelledKeys, purchaseCancelled),

	"work.opened":     of("workorder", planners, work.Order.Check, openedKeys, opened),
	"visit.planned":   of("visit", planners, checkPlan, planKeys, planned),
	"visit.moved":     of("visit", planners, checkMove, func(_ Entry, b Move) []Ref { return []Ref{{"person", b.Technician}} }, moved),
	"visit.sent":      of("visit", planners, nil, nil, sent),
	"visit.withdrawn": of("visit", planners, nil, nil, withdrawn),
	// A visit that was withdrawn counts again, as it was.
	"visit.reinstated": of("visit", planners, nil, nil, reinstated),
	"visit.reviewed":   of("visit", judges, nil, nil, reviewed),

	"work.needs_planned":  of("workorder", keepers, func(b NeedsPlanned) error { return work.CheckNeeds(b.Needs) }, nil, needsPlanned),
	"work.sheet_attached": of("workorder", planners, checkSheetAttached, attachKeys, sheetAttached).whatever(),
	"attention.handled":   of("visit", judges, checkHandled, nil, handled).whatever(),

	"visit.closed": of("visit", judges, checkClosed, closedKeys, closed),

	"visit.accepted": step(work.Accept),
	"visit.declined": step(work.Decline),
	"visit.set_off":  step(work.SetOff),
	"visit.arrived":  step(work.Arrive),
	"visit.paused":   step(work.Pause).shared(),
	"visit.resumed":  step(work.Resume),
	"visit.finished": step(work.Finish).shared(),

	"ready.skipped":     of("visit", nil, checkSkipped, nil, skipped),
	"signoff.missed":    of("visit", nil, checkAbsent, nil, absent),
	"visit.questioned":  of("visit", judges, checkQuestioned, nil, questioned),
	"question.answered": of("visit", nil, checkQuestionAnswered, nil, questionAnswered),
	"proposal.answered": of("visit", nil, checkProposalAnswered, nil, proposalAnswered),
	"work.found":        of("workorder", nil, checkWorkFound, workFoundKeys, workFound).since(workFoundV1),
	"talk.said":         of("talk", judges, checkTalkSaid, nil, talkSaid).both().whatever(),
	"talk.read":         of("talk", judges, func(b TalkRead) error { return records.CheckID(b.Entry) }, nil, talkRead).both().whatever(),
	"report.made":       of("visit", judges, checkReportMade, func(e Entry, _ ReportMade) []Ref { return []Ref{ReportRef(e.ID)} }, reportMade).both().whatever(),
	"report.sent":       of("visit", judges, checkReportSent, nil, reportSent).both().whatever(),

	"visit.end_confirmed": of("visit", nil, nil, endKeys, endConfirmed),
	"task.started":        task(work.TaskStarted).shared(),
	"task.held":           task(work.TaskHeld).shared(),
	"task.done":           task(work.TaskDone).shared(),
	"crew.clocked":        of("visit", nil, checkCrew, crewKeys, crewClocked).since(asItWas),
	"crew.answered":       of("visit", nil, checkCrewAnswered, crewAnsweredKeys, crewAnswered),
	"message.sent":        of("visit", nil, checkMessage, nil, messageSent),
	"part.requested":      of("visit", nil, checkRequest, func(e Entry, _ PartRequested) []Ref { return []Ref{RequestRef(e.ID)} }, partRequested).shared(),

	"time.started":             stamped(checkClocked, func(b Clocked) labor.What { return labor.What{Kind: labor.Indirect, Code: b.Code} }).shared(),
	"time.stopped":             stamped(nil, func(Nothing) labor.What { return labor.What{Kind: labor.Stop} }).shared(),
	"day.started":              stamped(nil, func(b DayBegun) labor.What { return labor.What{Kind: labor.DayStart, Home: b.Home} }).shared(),
	"day.ended":                stamped(nil, func(Nothing) labor.What { return labor.What{Kind: labor.DayEnd} }).shared(),
	"time.corrected":           of("timecard", nil, checkCorrected, nil, corrected(false)),
	"time.corrected_by_office": of("timecard", judges, checkCorrected, nil, corrected(true)),
	"day.approved":             of("timecard", judges, nil, nil, approved),
	"day.reopened":             of("timecard", judges, nil, nil, reopened),
	"day.posted":               of("timecard", judges, nil, nil, posted),
	"route.ordered":            of("timecard", nil, checkRoute, nil, routeOrdered),
	"note.to_office":           of("timecard", nil, checkNote, nil, told).shared(),

	"note.written":     of("visit", nil, checkNote, nil, noted).shared(),
	"part.used":        of("visit", nil, checkUse, useKeys, used),
	"part.removed":     of("visit", nil, checkRemove, removeKeys, removed),
	"kit.used":         of("visit", nil, checkKit, func(_ Entry, b UseKit) []Ref { return []Ref{{"stock", b.Place}, {"kit", b.Kit}} }, kitUsed),
	"extra.added":      of("visit", nil, checkExtra, nil, extraAdded),
	"reading.taken":    of("visit", nil, checkTaken, takenKeys, taken),
	"sheet.begun":      of("visit", nil, checkBegun, func(_ Entry, b SheetBegun) []Ref { return sheetKeys(b.Sheet) }, sheetBegun),
	"sheet.repeated":   of("visit", nil, checkSheetRepeated, func(_ Entry, b SheetRepeated) []Ref { return sheetKeys(b.Sheet) }, sheetRepeated),
	"sheet.answered":   of("visit", nil, checkAnswered, answeredKeys, answered),
	"sheet.attached":   of("visit", nil, checkSheetAttached, attachKeys, sheetAttached),
	"work.proposed":    of("visit", nil, checkProposed, nil, proposed),
	"substance.moved":  of("visit", nil, checkMoved, func(_ Entry, b SubstanceMoved) []Ref { return []Ref{SubstancesRef(b.Site)} }, substanceMoved),
	"signoff.captured": of("visit", nil, checkSigned, nil, signed),
	"file.attached":    of("visit", nil, checkFile, nil, attached),
	"file.described":   of("visit", nil, checkDescribed, nil, described),

	"entry.struck":           of("", nil, checkStruck, struckKeys, struckOwn).since(struckV1).shared(),
	"entry.struck_by_office": of("", judges, checkStruck, struckKeys, struckByOffice).whatever(),
	"entry.restored":         of("", judges, checkStruck, struckKeys, restored).whatever(),

	"flag.seen":    of("", nil, checkSeen, seenKeys, seen),
	"flag.settled": of("", append([]records.Role{records.Stores}, judges...), checkSettled, nil, func(*tx, Entry, Settled) error { return nil }).whatever(),
}

// Plan is the body of visit.planned.
type Plan struct {
	Order      string    `json:"order"`
	Technician string    `json:"technician"`
	Start      time.Time `json:"start"`
	Minutes    int       `json:"minutes"`
	// Offer names those who are asked instead of a technician: the first to accept has the visit.
	Offer   []string `json:"offer,omitempty"`
	Helpers []string `json:"helpers,omitempty"` // who comes along
	Spare   bool     `json:"spare,omitempty"`   // the work order does not wait for it
}

// Move is the body of visit.moved.
type Move struct {
	Technician string    `json:"technician"`
	Start      time.Time `json:"start"`
	Minutes    int       `json:"minutes"`
}

// Nothing is the body of an entry whose kind says it all.
type Nothing struct{}

// Withdraw is the body of visit.withdrawn.
type Withdraw struct {
	Reason string `json:"reason"`
}

// Step is the body of the entries that change a visit's stage.
type Step struct {
	Reason  string       `json:"reason,omitempty"`  // of a pause, a decline or a return: the id of a reason, or words
	Outcome work.Outcome `json:"outcome,omitempty"` // of a finish
	Clock   labor.Kind   `json:"clock,omitempty"`   // of a pause: wait or break
	Where   *work.Where  `json:"where,omitempty"`   // when the device gave it
	Task    string       `json:"task,omitempty"`    // of an arrival or resumption: what is worked on
	Home    bool         `json:"home,omitempty"`    // of setting off: from home, or for home
	// Order is the visit's work order, of a finish that does not close it: what the next visit needs is kept there.
	Order  string       `json:"order,omitempty"`
	Needed *work.Needed `json:"needed,omitempty"`
}

// Note is the body of note.written.
type Note struct {
	Text   string `json:"text"`
	Office bool   `json:"office,omitempty"` // for the office to see to
}

// Signed is the body of signoff.captured.
type Signed struct {
	Name    string          `json:"name"`
	Role    string          `json:"role"`
	Strokes signoff.Strokes `json:"strokes"`
	Summary signoff.Summary `json:"summary"`
	Digest  string          `json:"digest"`
	Where   *work.Where     `json:"where,omitempty"`
	// With are the other visits that were signed with the same strokes: those of colleagues at the same site among them.
	With []string `json:"with,omitempty"`
}

// Struck is the body of the entries that strike one out or restore it: which, and what is needed to find the documents it
// touched.
type Struck struct {
	Entry  string    `json:"entry"`
	At     time.Time `json:"at"`              // when the entry was recorded
	Kind   string    `json:"kind"`            // its kind
	Person string    `json:"person"`          // who recorded it; since version 2
	Place  string    `json:"place,omitempty"` // of a part: where it came from, or went
	Order  string    `json:"order,omitempty"` // of a task: the work order
	Card   string    `json:"card,omitempty"`  // of a helper's clock: whose it is
	Asset  string    `json:"asset,omitempty"` // of a reading: where it was measured
	Site   string    `json:"site,omitempty"`  // of a regulated substance: where it is logged
	// Part, Serial and Component are those of a part with a serial number, and of the component that it is.
	Part      string `json:"part,omitempty"`
	Serial    string `json:"serial,omitempty"`
	Component string `json:"component,omitempty"`
	Reason    string `json:"reason,omitempty"`
}

// Seen is the body of flag.seen: the person has seen what the flag says about the subject.
type Seen struct {
	Code string `json:"code"`
}

// Settled is the body of flag.settled: nothing is left to do about what a person's entries raised on the subject.
type Settled struct {
	Code   string `json:"code"`
	Person string `json:"person"`
	Reason string `json:"reason,omitempty"`
}

// TimecardRef names the timecard of a person on the date of t, as t's own offset has it.
func TimecardRef(person string, t time.Time) Ref {
	return Ref{"timecard", person + "+" + t.Format(time.DateOnly)}
}

// Office commands

// draft is a sheet that is being designed: whatever is wrong with it yet, it is kept.
type draft struct{ sheet.Sheet }

func (d draft) Check() error { return records.CheckText("title", d.Title, true, 200) }

type place struct{ stock.Place }

func (p place) Check() error { return records.CheckText("name", p.Name, true, 200) }

// asItWas leaves an entry of an earlier version as it is: what is asked or done since is not of what was recorded before.
func asItWas(e Entry) (Entry, error) { return e, nil }

// newChecker is a record of which more is asked since version 2.
type newChecker interface{ CheckNew() error }

// record reads a body as the record its subject names. v is the version of the entry.
func record(r Ref, v int, raw json.RawMessage) (any, error) {
	row := types[r.Type]
	if row.body == nil {
		return nil, msg.New("record.type", "type", records.Clip(r.Type))
	}
	out := row.body()
	if err := json.Unmarshal(raw, out); err != nil {
		return nil, msg.New("entry.body", "kind", r.Type)
	}
	if err := out.Check(); err != nil {
		return nil, msg.From(err)
	}
	if strict, more := out.(newChecker); more && v > 1 {
		if err := strict.CheckNew(); err != nil {
			return nil, msg.From(err)
		}
	}
	return out, nil
}

func created(t *tx, e Entry, raw json.RawMessage) error {
	if t.exists(e.Subject) {
		return msg.New("record.exists", "type", e.Subject.Type, "id", e.Subject.ID)
	}
	v, err := record(e.Subject, e.V, raw)
	if err != nil {
		return err
	}
	t.save(e.Subject, v)
	return nil
}

func openedKeys(_ Entry, b work.Order) []Ref {
	out := []Ref{{"customer", b.Customer}, {"site", b.Site}}
	if b.Asset != "" {
		out = append(out, Ref{"asset", b.Asset})
	}
	return out
}

func opened(t *tx, e Entry, b work.Order) error {
	b.Visits, b.Returns, b.TaskSteps, b.Found = nil, nil, nil, nil
	return t.open(e, b)
}

// open keeps a new work order, when what it names fits together.
func (t *tx) open(e Entry, b work.Order) error {
	if t.exists(e.Subject) {
		return msg.New("record.exists", "type", "workorder", "id", e.Subject.ID)
	}
	for _, r := range openedKeys(e, b) {
		if !t.exists(r) {
			return msg.New("record.unknown", "type", r.Type, "id", r.ID)
		}
	}
	var site records.Site
	if _, err := t.load(Ref{"site", b.Site}, &site); err != nil {
		return err
	}
	if site.Customer != b.Customer {
		return msg.New("order.site_customer")
	}
	if b.Asset != "" {
		var a records.Asset
		if _, err := t.load(Ref{"asset", b.Asset}, &a); err != nil {
			return err
		}
		if a.Site != b.Site {
			return msg.New("order.asset_site")
		}
	}
	b.OpenedAt, b.OpenedBy = e.At, e.Actor
	t.save(e.Subject, b)
	return nil
}

func checkPlan(b Plan) error {
	for _, id := range append(append([]string{b.Order}, b.Offer...), b.Helpers...) {
		if err := records.CheckID(id); err != nil {
			return err
		}
	}
	if len(b.Offer) > 50 || len(b.Helpers) > 50 {
		return msg.New("entry.large")
	}
	if len(b.Offer) == 0 {
		return checkMove(Move{b.Technician, b.Start, b.Minutes})
	}
	if b.Technician != "" {
		return msg.New("visit.technician")
	}
	return checkMove(Move{b.Offer[0], b.Start, b.Minutes})
}

func planKeys(_ Entry, b Plan) []Ref {
	out := []Ref{{"workorder", b.Order}}
	for _, p := range b.people() {
		out = append(out, Ref{"person", p})
	}
	return out
}

// people are all that a plan names.
func (b Plan) people() []string {
	out := append(slices.Clone(b.Offer), b.Helpers...)
	if b.Technician != "" {
		out = append(out, b.Technician)
	}
	return out
}

func checkMove(b Move) error {
	if y := b.Start.Year(); y < 2000 || y > 2200 {
		return msg.New("visit.start")
	}
	if b.Minutes < 1 || b.Minutes > work.MaxMinutes {
		return msg.New("order.minutes")
	}
	return records.CheckID(b.Technician)
}

func (t *tx) technician(id string) error {
	var p records.Person
	if ok, err := t.load(Ref{"person", id}, &p); err != nil {
		return err
	} else if !ok || !p.Has(records.Technician) {
		return msg.New("visit.technician")
	}
	return nil
}

func planned(t *tx, e Entry, b Plan) error {
	if t.exists(e.Subject) {
		return msg.New("record.exists", "type", "visit", "id", e.Subject.ID)
	}
	var o work.Order
	ref := Ref{"workorder", b.Order}
	if ok, err := t.load(ref, &o); err != nil {
		return err
	} else if !ok {
		return msg.New("record.unknown", "type", "workorder", "id", b.Order)
	}
	for _, p := range b.people() {
		if err := t.technician(p); err != nil {
			return err
		}
	}
	o.Visits = append(o.Visits, e.Subject.ID)
	t.save(ref, o)
	v := work.Visit{Order: b.Order, Technician: b.Technician, Offered: b.Offer, Helpers: b.Helpers, Start: b.Start, Minutes: b.Minutes, PlannedAt: e.At, Spare: b.Spare, Since: e.At}
	v.Settle()
	t.save(e.Subject, v)
	return nil
}

// visit loads the visit an entry is about.
func (t *tx) visit() (*work.Visit, error) {
	var v work.Visit
	ok, err := t.load(t.entry.Subject, &v)
	if err == nil && !ok {
		err = msg.New("record.unknown", "type", "visit", "id", t.entry.Subject.ID)
	}
	return &v, err
}

// command loads the visit for an office command, which is refused once the visit is over.
func (t *tx) command() (*work.Visit, error) {
	v, err := t.visit()
	if err == nil && (v.Stage == work.Finished || v.Stage == work.Withdrawn) {
		err = msg.New("visit.over", "stage", string(v.Stage))
	}
	return v, err
}

func moved(t *tx, e Entry, b Move) error {
	v, err := t.command()
	if err != nil {
		return err
	}
	if err := t.technician(b.Technician); err != nil {
		return err
	}
	if b.Technician != v.Technician {
		if v.Begun() {
			return msg.New("visit.begun")
		}
		if v.Technician != "" && !slices.Contains(v.Former, v.Technician) {
			v.Former = append(v.Former, v.Technician)
		}
	}
	for _, p := range v.Offered { // what they answer to it now is still theirs to say
		if p != b.Technician && !slices.Contains(v.Former, p) {
			v.Former = append(v.Former, p)
		}
	}
	v.Technician, v.Start, v.Minutes, v.Offered = b.Technician, b.Start, b.Minutes, nil
	v.Settle()
	t.save(e.Subject, v)
	return nil
}

func sent(t *tx, e Entry, _ Nothing) error {
	v, err := t.command()
	if err != nil {
		return err
	}
	if v.SentAt.IsZero() {
		v.SentAt = e.At
	}
	v.Settle()
	t.save(e.Subject, v)
	return nil
}

func withdrawn(t *tx, e Entry, _ Withdraw) error {
	v, err := t.command()
	if err != nil {
		return err
	}
	v.WithdrawnAt = e.At
	v.Settle()
	t.save(e.Subject, v)
	return nil
}

func reinstated(t *tx, e Entry, _ Nothing) error {
	v, err := t.visit()
	if err != nil {
		return err
	}
	if v.WithdrawnAt.IsZero() {
		return msg.New("visit.not_withdrawn")
	}
	v.WithdrawnAt = time.Time{}
	v.Settle()
	t.save(e.Subject, v)
	return nil
}

// Facts from the field

// fact loads the visit for something recorded on it. What happened is kept whoever did it and whatever became of the
// visit; what a person should look at is flagged.
func (t *tx) fact() (*work.Visit, error) {
	v, err := t.visit()
	if err != nil {
		return nil, err
	}
	answers := t.entry.Kind == "visit.accepted" || t.entry.Kind == "visit.declined"
	switch {
	case t.entry.Actor == v.Technician || slices.Contains(v.Helpers, t.entry.Actor):
	case answers && slices.Contains(v.Offered, t.entry.Actor):
		if v.Technician != "" && t.entry.Kind == "visit.accepted" {
			t.flag("offer.gone")
		}
	default:
		t.flag("visit.not_theirs")
	}
	t.meanwhile(v)
	return v, nil
}

// meanwhile flags what became of a visit before something recorded on it arrived.
func (t *tx) meanwhile(v *work.Visit) {
	if v.Stage == work.Withdrawn {
		t.flag("visit.withdrawn_meanwhile")
	}
	if !v.ReviewedAt.IsZero() {
		t.flag("visit.reviewed_meanwhile")
	}
}

// reviewed notes that the office has looked through a visit that is over. Entries that are struck out from then on are
// struck out by the office.
func reviewed(t *tx, e Entry, _ Nothing) error {
	v, err := t.visit()
	if err != nil {
		return err
	}
	if v.Stage != work.Finished && v.Stage != work.Withdrawn {
		return msg.New("visit.not_over")
	}
	v.ReviewedAt, v.ReviewedBy = e.At, e.Actor
	t.save(e.Subject, v)
	return nil
}

var actionClock = map[work.Action]labor.Kind{
	work.SetOff: labor.Travel, work.Arrive: labor.Work, work.Pause: labor.Wait, work.Resume: labor.Work, work.Finish: labor.Stop,
}

func step(a work.Action) *kind {
	clocked := actionClock[a] != ""
	check := func(b Step) error {
		switch {
		case a == work.Finish && !slices.Contains(b.Outcome.Values(), string(b.Outcome)):
			return msg.New("visit.outcome")
		case a != work.Finish && (b.Order != "" || b.Needed != nil), b.Needed != nil && b.Order == "":
			return msg.New("visit.outcome")
		case b.Home && a != work.SetOff, b.Task != "" && a != work.Arrive && a != work.Resume:
			return msg.New("visit.clock")
		case b.Clock != "" && (a != work.Pause || (b.Clock != labor.Wait && b.Clock != labor.Break)):
			return msg.New("visit.clock")
		}
		if err := checkWhere(b.Where); err != nil {
			return err
		}
		if b.Needed != nil {
			if err := b.Needed.Check(); err != nil {
				return err
			}
		}
		if err := checkOptional(b.Order); err != nil {
			return err
		}
		return records.CheckText("reason", b.Reason, false, 500)
	}
	keys := func(e Entry, b Step) []Ref {
		var out []Ref
		if clocked {
			out = append(out, TimecardRef(e.Actor, e.At))
		}
		if a == work.Finish {
			out = append(out, policyRef)
		}
		if b.Order != "" {
			out = append(out, Ref{"workorder", b.Order})
		}
		return out
	}
	apply := func(t *tx, e Entry, b Step) error {
		v, err := t.fact()
		if err != nil {
			return err
		}
		if a == work.Finish && v.Stage == work.Finished && v.Unconfirmed() == nil {
			t.flag("visit.finished_twice")
		}
		if a != work.Finish {
			b.Outcome = ""
		}
		if a == work.Accept && v.Technician == "" && slices.Contains(v.Offered, e.Actor) {
			v.Technician = e.Actor // the first to accept has it
		}
		clock := actionClock[a]
		if b.Clock != "" {
			clock = b.Clock
		}
		s := work.Step{Entry: e.ID, At: e.At, Person: e.Actor, Action: a, Clock: clock, Task: b.Task, Home: b.Home, Reason: b.Reason, Outcome: b.Outcome, Where: b.Where}
		if a == work.Finish {
			if err := t.finished(v, &s, b.Order, b.Needed); err != nil {
				return err
			}
		}
		v.Steps = append(v.Steps, s)
		v.Settle()
		if clocked {
			what := labor.What{Kind: clock, Visit: e.Subject.ID, Task: b.Task, Home: b.Home}
			if a == work.Pause {
				what.Code = b.Reason
			}
			if err := t.stamp(e.Actor, labor.Stamp{Entry: e.ID, At: e.At, What: what}); err != nil {
				return err
			}
		}
		t.save(e.Subject, v)
		return nil
	}
	return of("visit", nil, check, keys, apply)
}

func checkWhere(w *work.Where) error {
	if w != nil && (w.Lat < -90 || w.Lat > 90 || w.Lon < -180 || w.Lon > 180 || w.Accuracy < 0) {
		return msg.New("site.position")
	}
	return nil
}

// maxNote is the longest note, in characters: findings of some thousand words.
const maxNote = 30_000

func checkNote(b Note) error { return records.CheckText("note", b.Text, true, maxNote) }

func noted(t *tx, e Entry, b Note) error {
	v, err := t.fact()
	if err != nil {
		return err
	}
	v.Notes = append(v.Notes, work.Note{Entry: e.ID, At: e.At, Person: e.Actor, Text: b.Text, Office: b.Office})
	t.save(e.Subject, v)
	return nil
}

func checkSigned(b Signed) error {
	if len(b.With) > 50 {
		return msg.New("entry.large")
	}
	if err := checkIDs(b.With...); err != nil {
		return err
	}
	if err := checkWhere(b.Where); err != nil {
		return err
	}
	return signature(Entry{}, b).Check()
}

func signature(e Entry, b Signed) signoff.Signature {
	return signoff.Signature{Entry: e.ID, At: e.At, Person: e.Actor, Name: b.Name, Role: b.Role, Strokes: b.Strokes, Digest: b.Digest, Summary: b.Summary}
}

func signed(t *tx, e Entry, b Signed) error {
	if len(b.With) == 0 {
		if _, err := t.fact(); err != nil {
			return err
		}
	}
	v, err := t.visit()
	if err != nil {
		return err
	}
	if len(b.With) > 0 { // whoever holds out the device has it signed for all who worked there
		t.meanwhile(v)
	}
	v.Signatures = append(slices.Clone(v.Signatures), signature(e, b))
	t.save(e.Subject, v)
	return nil
}
