package ledger

import (
	"slices"
	"time"

	"iter.example/iter/core/audit"
	"iter.example/iter/core/labor"
	"iter.example/iter/core/msg"
	"iter.example/iter/core/records"
	"iter.example/iter/core/work"
)

func visitKinds() table {
	return table{
		"visit.end_confirmed": row[EndConfirmed]{subject: "visit", keys: endKeys, apply: endConfirmed, strike: strikeStep}.kind(),
	}
}

func visitOfficeKinds() table {
	return table{
		"visit.planned": row[Plan]{subject: "visit", office: planners, check: checkPlan, keys: planKeys, apply: planned,
			undo: opposed[Plan]("visit.withdrawn", Withdraw{}, false), final: "a visit is withdrawn",
			guards: func(b Plan) []Ref { return []Ref{{"workorder", b.Order}} }}.kind(), // two people may plan the same work at once
		"visit.moved": row[Move]{subject: "visit", office: planners, check: checkMove,
			keys: moveKeys, apply: moved, undo: movedBack, final: "a visit is moved back"}.kind(),
		"visit.sent": row[Nothing]{subject: "visit", office: planners, apply: sent,
			undo: opposed[Nothing]("visit.withdrawn", Withdraw{}, false), final: "a visit is withdrawn"}.kind(),
		"visit.fixed": row[Fixed]{subject: "visit", office: planners, apply: visitFixed, undo: fixedBefore,
			final: "it is said again whether the visit stays"}.kind(),
		"visit.withdrawn": row[Withdraw]{subject: "visit", office: planners, apply: withdrawn,
			undo: opposed[Withdraw]("visit.reinstated", Nothing{}, false), final: "a visit is reinstated"}.kind(),
		"visit.reinstated": row[Nothing]{subject: "visit", office: planners, apply: reinstated,
			undo: opposed[Nothing]("visit.withdrawn", Withdraw{}, false), final: "a visit is withdrawn again"}.kind(),
		"visit.reviewed": row[Nothing]{subject: "visit", office: judges, apply: reviewed,
			final: "what was reviewed is corrected by the office"}.kind(),
		"visit.closed": row[Closed]{subject: "visit", office: judges, check: checkClosed, keys: closedKeys, apply: closed,
			strike: strikeStep}.kind(),
	}
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
	Things  []string `json:"things,omitempty"`  // what goes along: a boat, a rig
	Spare   bool     `json:"spare,omitempty"`   // the work order does not wait for it
	// Against is what whoever planned it was warned of.
	Against *work.Against `json:"against,omitempty"`
}

// Move is the body of visit.moved.
type Move struct {
	Technician string    `json:"technician"`
	Start      time.Time `json:"start"`
	Minutes    int       `json:"minutes"`
	// Helpers and Things are who comes along from now on, and what does. Left out, they stay as they are.
	Helpers []string      `json:"helpers,omitzero"`
	Things  []string      `json:"things,omitzero"`
	Against *work.Against `json:"against,omitempty"`
}

// Fixed is the body of visit.fixed: whether a visit stays where it is planned when a plan is worked out anew.
type Fixed struct {
	Fixed bool `json:"fixed"`
}

func visitFixed(t *tx, e Entry, b Fixed) error {
	v, err := t.visit()
	if err != nil {
		return err
	}
	v.Fixed = b.Fixed
	t.save(e.Subject, v)
	return nil
}

func fixedBefore(before Loader, e Entry, _ Fixed) ([]Command, error) {
	var v work.Visit
	_, err := before(e.Subject, &v)
	return []Command{{Kind: "visit.fixed", Subject: e.Subject, Body: Fixed{v.Fixed}}}, err
}

// Nothing is the body of an entry whose kind says it all.
type Nothing struct{}

// Withdraw is the body of visit.withdrawn.
type Withdraw struct {
	Reason string `json:"reason,omitempty"`
}

// Closed is the body of visit.closed: somebody else than its technician ends a visit. End and People are those that
// work.Visit.Closing gives.
type Closed struct {
	Outcome work.Outcome `json:"outcome"`
	Reason  string       `json:"reason,omitempty"`
	End     time.Time    `json:"end"`
	People  []string     `json:"people,omitempty"`
}

// EndConfirmed is the body of visit.end_confirmed: when the technician ended the visit that somebody else closed.
type EndConfirmed struct {
	End time.Time `json:"end"`
}

func checkPlan(b Plan) error {
	if err := checkNames([]string{b.Order}, b.Offer); err != nil {
		return err
	}
	m := Move{Technician: b.Technician, Start: b.Start, Minutes: b.Minutes, Helpers: b.Helpers, Things: b.Things, Against: b.Against}
	if len(b.Offer) > 0 {
		if b.Technician != "" {
			return msg.New("visit.technician")
		}
		m.Technician = b.Offer[0]
	}
	return checkMove(m)
}

// checkNames says what is wrong with lists of ids.
func checkNames(lists ...[]string) error {
	for _, list := range lists {
		if len(list) > 50 {
			return msg.New("entry.large")
		}
		if err := checkIDs(list...); err != nil {
			return err
		}
	}
	return nil
}

func planKeys(_ Entry, b Plan) []Ref {
	out := []Ref{{"workorder", b.Order}}
	for _, p := range b.people() {
		out = append(out, Ref{"person", p})
	}
	return append(out, thingRefs(b.Things)...)
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
	if err := checkNames([]string{b.Technician}, b.Helpers, b.Things); err != nil {
		return err
	}
	return b.Against.Check()
}

// moveKeys are the rules, and the people and things that a move names.
func moveKeys(_ Entry, b Move) []Ref {
	out := []Ref{visitSettings, {"person", b.Technician}}
	for _, p := range b.Helpers {
		out = append(out, Ref{"person", p})
	}
	return append(out, thingRefs(b.Things)...)
}

func thingRefs(ids []string) (out []Ref) {
	for _, id := range ids {
		out = append(out, Ref{"resource", id})
	}
	return out
}

// added are those of a list that were not in it before: who left since may stay on what they were planned for.
func added(list, before []string) []string {
	return slices.DeleteFunc(slices.Clone(list), func(id string) bool { return slices.Contains(before, id) })
}

// things refuses what is not there, or not any more.
func (t *tx) things(ids []string) error {
	for _, ref := range thingRefs(ids) {
		var r records.Resource
		if ok, err := t.load(ref, &r); err != nil {
			return err
		} else if !ok || r.Gone {
			return msg.New("record.unknown", "type", ref.Type, "id", ref.ID)
		}
	}
	return nil
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
	if err := t.things(b.Things); err != nil {
		return err
	}
	o.Visits = append(o.Visits, e.Subject.ID)
	t.save(ref, o)
	v := work.Visit{Order: b.Order, Technician: b.Technician, Offered: b.Offer, Helpers: b.Helpers, Things: b.Things, Start: b.Start,
		Minutes: b.Minutes, PlannedAt: e.At, Spare: b.Spare, Against: b.Against, Since: e.At}
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
	for _, p := range added(b.Helpers, v.Helpers) {
		if err := t.technician(p); err != nil {
			return err
		}
	}
	if err := t.things(added(b.Things, v.Things)); err != nil {
		return err
	}
	if b.Against == nil && b.Technician == v.Technician && b.Start.Equal(v.Start) && b.Minutes == v.Minutes {
		b.Against = v.Against // who or what comes along is another matter
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
	rules, err := settingsNow[work.VisitSettings](t)
	if err != nil {
		return err
	}
	v.Move(b.Technician, b.Start, rules.Again, e.At)
	v.Minutes, v.Offered, v.Against = b.Minutes, nil, b.Against
	if b.Helpers != nil {
		v.Helpers = b.Helpers
	}
	v.Helpers = slices.DeleteFunc(slices.Clone(v.Helpers), func(p string) bool { return p == v.Technician })
	if b.Things != nil {
		v.Things = b.Things
	}
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

// fact loads the visit for something recorded on it. What happened is kept whoever did it and whatever became of the
// visit; what a person should look at is flagged.
func (t *tx) fact() (*work.Visit, error) {
	v, err := t.visit()
	if err != nil {
		return nil, err
	}
	if !t.isActors(v) {
		t.flag("visit.not_theirs")
	}
	t.meanwhile(v)
	return v, nil
}

// isActors tells whether a visit is the actor's, or theirs to help with.
func (t *tx) isActors(v *work.Visit) bool {
	return t.entry.Actor == v.Technician || slices.Contains(v.Helpers, t.entry.Actor)
}

// answer loads the visit for what somebody whom it is offered to says to it.
func (t *tx) answer(a work.Action) (*work.Visit, error) {
	v, err := t.visit()
	if err != nil {
		return nil, err
	}
	switch {
	case t.isActors(v):
	case !slices.Contains(v.Offered, t.entry.Actor):
		t.flag("visit.not_theirs")
	case v.Technician != "" && a == work.Accept:
		t.flag("offer.gone")
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

func checkClosed(b Closed) error {
	if !slices.Contains(b.Outcome.Values(), string(b.Outcome)) {
		return msg.New("visit.outcome")
	}
	if len(b.People) > 50 {
		return msg.New("entry.large")
	}
	for _, p := range b.People {
		if err := records.CheckID(p); err != nil {
			return err
		}
	}
	return records.CheckText("reason", b.Reason, false, 500)
}

func closedKeys(_ Entry, b Closed) []Ref {
	out := []Ref{visitSettings}
	for _, p := range b.People {
		out = append(out, TimecardRef(p, b.End))
	}
	return out
}

func closed(t *tx, e Entry, b Closed) error {
	v, err := t.command()
	if err != nil {
		return err
	}
	end, people := v.Closing(e.At)
	// The planned end does not move, the moment of closing does: while that comes first, the one that was shown holds.
	planned := v.Start.Add(time.Duration(v.Minutes) * time.Minute)
	if shown := !b.End.After(e.At) && end.Equal(e.At) && e.At.Before(planned); shown {
		end, _ = v.Closing(b.End)
	}
	if !end.Equal(b.End) || !slices.Equal(people, b.People) {
		return msg.New("visit.changed_meanwhile")
	}
	s := work.Step{Line: audit.Line{Entry: e.ID, At: b.End, Person: v.Technician}, By: e.Actor, Action: work.Finish, Clock: labor.Stop,
		Reason: b.Reason, Outcome: b.Outcome, Unconfirmed: v.Begun()}
	if err := t.finished(v, &s, "", nil); err != nil {
		return err
	}
	v.Steps = append(slices.Clone(v.Steps), s)
	v.Settle()
	for _, p := range people {
		if err := t.stamp(p, labor.Stamp{Entry: e.ID, At: b.End, What: labor.What{Kind: labor.Stop, Visit: e.Subject.ID}, By: e.Actor,
			Unconfirmed: true}); err != nil {
			return err
		}
	}
	t.save(e.Subject, v)
	return nil
}

func endKeys(e Entry, b EndConfirmed) []Ref { return []Ref{TimecardRef(e.Actor, b.End)} }

func endConfirmed(t *tx, e Entry, b EndConfirmed) error {
	v, err := t.fact()
	if err != nil {
		return err
	}
	if b.End.After(e.At) {
		return msg.New("time.not_yet")
	}
	open := v.Unconfirmed()
	if open == nil {
		return msg.New("visit.end_known")
	}
	v.Steps = append(slices.Clone(v.Steps), work.Step{Line: audit.Line{Entry: e.ID, At: b.End, Person: e.Actor}, Action: work.Finish,
		Clock: labor.Stop, Reason: open.Reason, Outcome: open.Outcome, Closes: open.Closes, Signature: open.Signature})
	v.Settle()
	if err := t.stamp(e.Actor, labor.Stamp{Entry: e.ID, At: b.End, What: labor.What{Kind: labor.Stop, Visit: e.Subject.ID}}); err != nil {
		return err
	}
	t.save(e.Subject, v)
	return nil
}
