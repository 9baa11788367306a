package ledger

import (
	"cmp"
	"slices"
	"time"

	"iter.example/iter/core/audit"
	"iter.example/iter/core/msg"
	"iter.example/iter/core/records"
	"iter.example/iter/core/work"
)

func orderKinds() table {
	return table{
		"work.found": row[WorkFound]{subject: "workorder", check: checkWorkFound, keys: workFoundKeys, apply: workFound,
			final: "its visits are withdrawn",
			raise: []raise{workFoundV1}}.kind(),
	}
}

func orderOfficeKinds() table {
	return table{
		"work.opened": row[WorkOpened]{subject: "workorder", office: planners, check: func(b WorkOpened) error { return b.order().Check() },
			keys: openedKeys, apply: opened,
			prepare: []Preparation{NextNumber, UsualSheets}, undo: opposed[WorkOpened]("work.cancelled", OrderActed{}, true),
			final: "its visits are withdrawn"}.kind(),
		"work.needs_planned": row[NeedsPlanned]{subject: "workorder", office: keepers,
			check: func(b NeedsPlanned) error { return work.CheckNeeds(b.Needs) }, apply: needsPlanned,
			undo:  needsBefore,
			final: "needs are planned again"}.kind(),
		"work.held": row[OrderHeld]{subject: "workorder", office: planners, check: checkOrderHeld,
			apply: func(t *tx, e Entry, b OrderHeld) error {
				return t.act(e, work.OrderStep{Act: work.Hold, Reason: b.Reason, Until: b.Until})
			}, undo: actedBefore[OrderHeld](Command{Kind: "work.released", Body: Nothing{}}), final: "it is released"}.kind(),
		"work.released":  actKind(work.Release, false, Command{}, "it is put on hold again"),
		"work.cancelled": actKind(work.Cancel, true, reopening, "it is reopened"),
		"work.closed":    actKind(work.Close, true, reopening, "it is reopened"),
		"work.reopened":  actKind(work.Reopen, false, Command{}, "it is closed or cancelled again"),
		"work.sent": row[WorkSent]{subject: "workorder", office: planners, beside: true, sends: true, check: checkWorkSent, apply: workSent,
			final: "somebody has it"}.kind(),
		"work.sheet_attached": row[SheetAttached]{subject: "workorder", office: planners, beside: true, check: checkSheetAttached,
			keys: attachKeys, apply: sheetAttached,
			final: "a sheet that nobody needs is left out, with a reason"}.kind(),
	}
}

// WorkOpened is the body of work.opened.
type WorkOpened struct {
	Number   string        `json:"number,omitempty"` // the office's server gives it
	Customer string        `json:"customer"`
	Site     string        `json:"site"`
	Asset    string        `json:"asset,omitempty"`
	Problem  string        `json:"problem"`
	Priority work.Priority `json:"priority"`
	// PromiseFrom and PromiseTo bound when the customer was told somebody would come.
	PromiseFrom time.Time    `json:"promiseFrom,omitzero"`
	PromiseTo   time.Time    `json:"promiseTo,omitzero"`
	DoneBy      time.Time    `json:"doneBy,omitzero"`  // when the customer was told that the work is done
	Minutes     int          `json:"minutes"`          // expected on site
	Sheets      []string     `json:"sheets,omitempty"` // check sheets, as id@version; nil: those that the company's rules attach
	Kind        string       `json:"kind,omitempty"`   // of work, by the policy's ids
	From        *work.Origin `json:"from,omitempty"`   // what it follows up
	Skills      []string     `json:"skills,omitempty"`
	Tasks       []work.Task  `json:"tasks,omitempty"`
	Needs       []work.Need  `json:"needs,omitempty"`
	// The rest is as work.Order has it.
	Crew        int               `json:"crew,omitempty"`
	Things      []string          `json:"things,omitempty"`
	Signal      *work.Signalled   `json:"signal,omitempty"`
	Due         []work.Due        `json:"due,omitempty"`
	Instruction string            `json:"instruction,omitempty"`
	BillText    string            `json:"billText,omitempty"`
	Theirs      string            `json:"theirs,omitempty"`
	Urgency     work.Priority     `json:"urgency,omitempty"`
	People      []records.Contact `json:"people,omitempty"`
	Responsible string            `json:"responsible,omitempty"`
	Trouble     string            `json:"trouble,omitempty"`

	Documents map[string]records.Document `json:"documents,omitempty"`
}

// order is the work order as it is opened.
func (b WorkOpened) order() work.Order {
	return work.Order{
		Number: b.Number, Customer: b.Customer, Site: b.Site, Asset: b.Asset, Problem: b.Problem, Priority: b.Priority,
		PromiseFrom: b.PromiseFrom, PromiseTo: b.PromiseTo, DoneBy: b.DoneBy, Minutes: b.Minutes, Sheets: b.Sheets, Kind: b.Kind, From: b.From,
		Skills: b.Skills, Tasks: b.Tasks, Needs: b.Needs, Instruction: b.Instruction, BillText: b.BillText, Theirs: b.Theirs,
		Urgency: b.Urgency, People: b.People, Responsible: b.Responsible, Trouble: b.Trouble, Documents: b.Documents,
		Due: b.Due, Crew: b.Crew, Things: b.Things, Signal: b.Signal,
	}
}

// WorkSent is the body of work.sent: somebody is sent the order on paper.
type WorkSent struct {
	To   string `json:"to"` // an e-mail address or a telephone number
	Text string `json:"text"`
}

func checkWorkSent(b WorkSent) error { return checkMessage(MessageSent{To: b.To, Text: b.Text}) }

func workSent(t *tx, e Entry, b WorkSent) error {
	return change(t, e.Subject, func(o *work.Order) error {
		o.Messages = audit.Add(o.Messages, work.Message{Line: e.line(), Template: "order", To: b.To, Text: b.Text})
		return nil
	})
}

// OrderHeld is the body of work.held: nobody is planned for the order until a day, 2006-01-02.
type OrderHeld struct {
	Reason string `json:"reason"`
	Until  string `json:"until"`
}

// OrderActed is the body of what else the office does to an order as a whole. Cancelling and closing have a reason.
type OrderActed struct {
	Reason string `json:"reason,omitempty"`
}

func checkOrderHeld(b OrderHeld) error {
	if _, err := time.Parse(time.DateOnly, b.Until); err != nil {
		return msg.New("order.until")
	}
	return records.CheckText("reason", b.Reason, true, 500)
}

var reopening = Command{Kind: "work.reopened", Body: Nothing{}}

func actKind(act work.OrderAct, reason bool, undo Command, final string) kind {
	return row[OrderActed]{subject: "workorder", office: planners,
		check: func(b OrderActed) error { return records.CheckText("reason", b.Reason, reason, 500) },
		apply: func(t *tx, e Entry, b OrderActed) error { return t.act(e, work.OrderStep{Act: act, Reason: b.Reason}) },
		undo:  actedBefore[OrderActed](undo), final: final}.kind()
}

// act keeps what the office does to a work order.
func (t *tx) act(e Entry, s work.OrderStep) error {
	var o work.Order
	if ok, err := t.load(e.Subject, &o); err != nil {
		return err
	} else if !ok {
		return msg.New("record.unknown", "type", "workorder", "id", e.Subject.ID)
	}
	if s.Act == work.Hold && s.Until < e.At.Format(time.DateOnly) {
		return msg.New("order.until")
	}
	over := o.Act().Act == work.Cancel || o.Act().Act == work.Close
	switch {
	case s.Act == work.Release && o.Act().Act != work.Hold:
		return msg.New("order.not_held")
	case s.Act != work.Reopen && over:
		return msg.New("order.over")
	}
	s.Line = e.line()
	o.Acts = audit.Add(o.Acts, s)
	t.save(e.Subject, o)
	return nil
}

// NeedsPlanned is the body of work.needs_planned: the parts planned for a work order, in place of those before. What came of a
// request stays.
type NeedsPlanned struct {
	Needs []work.Need `json:"needs"`
}

// WorkFound is the body of work.found: new work that somebody in the field came upon. With a visit, they do it at once.
type WorkFound struct {
	work.Found
	Customer string        `json:"customer"`
	Site     string        `json:"site"`
	Asset    string        `json:"asset,omitempty"`
	Problem  string        `json:"problem"`
	Priority work.Priority `json:"priority"`
	Minutes  int           `json:"minutes"`
	Kind     string        `json:"kind,omitempty"`
	Trouble  string        `json:"trouble,omitempty"`
	// Begin is the id of the visit in which it is done; none: it is left for planning.
	Begin string `json:"begin,omitempty"`
	// Records are those of Customer, Site and Asset that the office does not have; nil: it has them all.
	Records *NewRecords `json:"records,omitempty"`
}

// NewRecords are the customer, site and machine that nobody knew before new work was found there: they are made with it.
type NewRecords struct {
	Customer *records.Customer `json:"customer,omitempty"`
	Site     *records.Site     `json:"site,omitempty"`
	Asset    *records.Asset    `json:"asset,omitempty"`
}

func openedKeys(_ Entry, b WorkOpened) []Ref { return placeKeys(b.Customer, b.Site, b.Asset) }

// placeKeys are the documents that say where work is.
func placeKeys(customer, site, asset string) []Ref {
	out := []Ref{{"customer", customer}, {"site", site}}
	if asset != "" {
		out = append(out, Ref{"asset", asset})
	}
	return out
}

func opened(t *tx, e Entry, b WorkOpened) error { return t.open(e, b.order(), nil) }

// open keeps a new work order, when what it names fits together. made are those of its records that are made with it.
func (t *tx) open(e Entry, b work.Order, made *NewRecords) error {
	if t.exists(e.Subject) {
		return msg.New("record.exists", "type", "workorder", "id", e.Subject.ID)
	}
	if made == nil {
		made = &NewRecords{}
	}
	if err := makeOrLoad(t, Ref{"customer", b.Customer}, made.Customer, &records.Customer{}); err != nil {
		return err
	}
	var site records.Site
	if err := makeOrLoad(t, Ref{"site", b.Site}, made.Site, &site); err != nil {
		return err
	}
	if site.Customer != b.Customer {
		return msg.New("order.site_customer")
	}
	if b.Asset != "" {
		var a records.Asset
		if err := makeOrLoad(t, Ref{"asset", b.Asset}, made.Asset, &a); err != nil {
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

// makeOrLoad gives a record that a work order names: the one that is made with it, or the one that there is.
func makeOrLoad[R any](t *tx, r Ref, made, into *R) error {
	if made == nil {
		if ok, err := t.load(r, into); err != nil || !ok {
			return cmp.Or(err, error(msg.New("record.unknown", "type", r.Type, "id", r.ID)))
		}
		return nil
	}
	if t.exists(r) {
		return msg.New("record.exists", "type", r.Type, "id", r.ID)
	}
	*into = *made
	t.save(r, *made)
	return nil
}

func needsPlanned(t *tx, e Entry, b NeedsPlanned) error {
	var o work.Order
	if ok, err := t.load(e.Subject, &o); err != nil {
		return err
	} else if !ok {
		return msg.New("record.unknown", "type", "workorder", "id", e.Subject.ID)
	}
	needs := slices.DeleteFunc(slices.Clone(o.Needs), func(n work.Need) bool { return n.Request == "" })
	for _, n := range b.Needs {
		n.Request = ""
		needs = append(needs, n)
	}
	o.Needs = needs
	if err := work.CheckNeeds(o.Needs); err != nil {
		return err
	}
	t.save(e.Subject, o)
	return nil
}

// order is the work order that was found. Its number is made of its id, since the device that opens it can't ask for the next one.
func (b WorkFound) order(e Entry) work.Order {
	id := e.Subject.ID
	return work.Order{Number: "F" + id[max(0, len(id)-5):], Customer: b.Customer, Site: b.Site, Asset: b.Asset, Problem: b.Problem,
		Priority: b.Priority, Minutes: b.Minutes, Kind: b.Kind, Trouble: b.Trouble, Found: b.found()}
}

// found says how the work came up, and what came into being with it.
func (b WorkFound) found() *work.Found {
	out := b.Found
	out.New = nil
	if r := b.Records; r != nil {
		for typ, made := range map[string]bool{"customer": r.Customer != nil, "site": r.Site != nil, "asset": r.Asset != nil} {
			if made {
				out.New = append(out.New, typ)
			}
		}
		slices.Sort(out.New)
	}
	return &out
}

// check says what is wrong with records that are made with found work.
func (r NewRecords) check() error {
	if r.Customer != nil {
		if err := r.Customer.Check(); err != nil {
			return err
		}
	}
	if r.Site != nil {
		if err := r.Site.Check(); err != nil {
			return err
		}
	}
	if r.Asset != nil {
		return r.Asset.Check()
	}
	return nil
}

// workFoundV1 raises found work that said "discovered" of what the technician saw.
func workFoundV1(e Entry) (Entry, error) {
	return rewritten(e, func(b map[string]any) {
		if b["how"] == "discovered" {
			b["how"] = work.Seen
		}
	})
}

func checkWorkFound(b WorkFound) error {
	if !slices.Contains(b.How.Values(), string(b.How)) {
		return msg.New("found.how")
	}
	if err := checkOptional(b.Begin, b.Visit, b.Asset); err != nil {
		return err
	}
	if err := records.CheckText("who", b.Who, false, 200); err != nil {
		return err
	}
	if r := b.Records; r != nil {
		if err := r.check(); err != nil {
			return err
		}
	}
	return b.order(Entry{}).Check()
}

func workFoundKeys(e Entry, b WorkFound) []Ref {
	out := placeKeys(b.Customer, b.Site, b.Asset)
	if b.Begin != "" {
		out = append(out, Ref{"visit", b.Begin}, Ref{"person", e.Actor})
	}
	return out
}

func workFound(t *tx, e Entry, b WorkFound) error {
	o := b.order(e)
	if b.Begin != "" {
		o.Visits = []string{b.Begin}
	}
	if err := t.open(e, o, b.Records); err != nil {
		return err
	}
	if b.Begin == "" {
		return nil
	}
	ref := Ref{"visit", b.Begin}
	if t.exists(ref) {
		return msg.New("record.exists", "type", "visit", "id", b.Begin)
	}
	if err := t.technician(e.Actor); err != nil {
		return err
	}
	v := work.Visit{Order: e.Subject.ID, Technician: e.Actor, Start: e.At, Minutes: b.Minutes, PlannedAt: e.At, SentAt: e.At, Since: e.At}
	v.Steps = []work.Step{{Line: e.line(), Action: work.Accept}}
	v.Settle()
	t.save(ref, v)
	return nil
}
