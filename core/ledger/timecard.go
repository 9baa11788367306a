package ledger

import (
	"cmp"
	"slices"
	"strings"
	"time"

	"iter.example/iter/core/audit"
	"iter.example/iter/core/labor"
	"iter.example/iter/core/msg"
	"iter.example/iter/core/records"
	"iter.example/iter/core/work"
)

func timecardKinds() table {
	return table{
		"time.started": stamped(checkClocked, func(b Clocked) labor.What { return labor.What{Kind: labor.Indirect, Code: b.Code} }),
		"time.stopped": stamped(nil, func(Nothing) labor.What { return labor.What{Kind: labor.Stop} }),
		"day.started":  stamped(nil, func(b DayBegun) labor.What { return labor.What{Kind: labor.DayStart, Home: b.Home} }),
		"day.ended":    stamped(nil, func(Nothing) labor.What { return labor.What{Kind: labor.DayEnd} }),
		"time.corrected": row[Corrected]{subject: "timecard", check: checkCorrected, apply: corrected(false),
			strike: strikeTime}.kind(),
		"time.described": row[TimeDescribed]{subject: "timecard", terminal: true, check: checkTimeDescribed, apply: timeDescribed,
			final: "it is said anew"}.kind(),
		"time.told": row[TimeTold]{subject: "timecard", check: checkTimeTold, apply: timeTold,
			keys: func(Entry, TimeTold) []Ref { return []Ref{timeSettings} }, strike: strikeTime}.kind(),
		"route.ordered": row[RouteOrdered]{subject: "timecard", check: checkRoute, apply: routeOrdered,
			final: "a route is ordered again"}.kind(),
	}
}

func timecardOfficeKinds() table {
	return table{
		"time.corrected_by_office": row[Corrected]{subject: "timecard", office: judges, check: checkCorrected, apply: corrected(true),
			strike: strikeTime}.kind(),
		"day.approved": row[Nothing]{subject: "timecard", office: judges, apply: approved,
			undo: opposed[Nothing]("day.reopened", Nothing{}, false), final: "a day is reopened"}.kind(),
		"day.reopened": row[Nothing]{subject: "timecard", office: judges, apply: reopened,
			undo: opposed[Nothing]("day.approved", Nothing{}, false), final: "a day is approved again"}.kind(),
		"day.posted": row[Nothing]{subject: "timecard", office: judges, apply: posted,
			final: "a day is reopened, and posted again"}.kind(),
	}
}

// TimecardRef names the timecard of a person on the date of t, as t's own offset has it.
func TimecardRef(person string, t time.Time) Ref {
	return Ref{"timecard", person + "+" + t.Format(time.DateOnly)}
}

// Clocked is the body of time.started: indirect time, by the code of the policy.
type Clocked struct {
	Code string `json:"code"`
}

// DayBegun is the body of day.started.
type DayBegun struct {
	Home bool `json:"home,omitempty"` // the day begins at home, and not at the yard
}

// Corrected is the body of the entries that correct a day.
type Corrected struct {
	Pieces []labor.Piece `json:"pieces"`
	Reason string        `json:"reason"`
}

// TimeDescribed is the body of time.described: what a stretch of work of the actor's went to. It stands in place of what they said before.
type TimeDescribed struct {
	From string `json:"from"`           // the entry that began the stretch, or made it
	Sort string `json:"sort,omitempty"` // by the ids of the settings of time
	Text string `json:"text,omitempty"`
}

// TimeTold is the body of time.told: how long the actor was at something on the day of the card, without begin and end. Sort and Text are
// as of a stretch of work that is described.
type TimeTold struct {
	labor.What
	Minutes int    `json:"minutes"`
	Sort    string `json:"sort,omitempty"`
	Text    string `json:"text,omitempty"`
}

func checkTimeTold(b TimeTold) error {
	if err := checkOptional(b.Visit, b.Task, b.Code, b.Sort); err != nil {
		return err
	}
	return records.CheckText("text", b.Text, false, 500)
}

func timeTold(t *tx, e Entry, b TimeTold) error {
	c, err := t.card(true)
	if err != nil {
		return err
	}
	rules, err := SettingsOn[work.TimeSettings](t.load, c.Date)
	if err != nil {
		return err
	}
	l := labor.Length{Entry: e.ID, At: e.At, What: b.What, Minutes: b.Minutes}
	switch {
	case !rules.Lengths:
		return msg.New("time.lengths")
	case c.Date > e.At.Format(time.DateOnly):
		return msg.New("time.not_yet")
	}
	if err := l.Check(); err != nil {
		return err
	}
	if c.Approved != nil {
		if e.At.After(c.Approved.At) {
			return msg.New("time.approved", "date", c.Date)
		}
		t.flag("time.approved_meanwhile", "date", c.Date)
	}
	c.AddLength(l)
	if b.Sort != "" || b.Text != "" {
		c.Said = audit.Add(c.Said, labor.Said{Line: e.line(), From: e.ID, Sort: b.Sort, Text: b.Text})
	}
	t.save(e.Subject, c)
	return nil
}

func checkTimeDescribed(b TimeDescribed) error {
	if err := checkIDs(b.From); err != nil {
		return err
	}
	if err := checkOptional(b.Sort); err != nil {
		return err
	}
	return records.CheckText("text", b.Text, false, 500)
}

func timeDescribed(t *tx, e Entry, b TimeDescribed) error {
	c, err := t.card(true)
	if err != nil {
		return err
	}
	c.Said = audit.Add(c.Said, labor.Said{Line: e.line(), From: b.From, Sort: b.Sort, Text: b.Text})
	t.save(e.Subject, c)
	return nil
}

// RouteOrdered is the body of route.ordered: the day's visits in the order the person means to take them.
type RouteOrdered struct {
	Visits []string `json:"visits"`
}

// maxRoute is the most visits of a day that are put in order.
const maxRoute = 60

// card loads the timecard an entry is about, or a new one. own says that it must be the actor's own.
func (t *tx) card(own bool) (labor.Timecard, error) {
	person, date, ok := strings.Cut(t.entry.Subject.ID, "+")
	if _, err := time.Parse(time.DateOnly, date); !ok || err != nil {
		return labor.Timecard{}, msg.New("time.card", "id", records.Clip(t.entry.Subject.ID))
	}
	if own && person != t.entry.Actor {
		return labor.Timecard{}, msg.New("strike.not_yours")
	}
	c := labor.Timecard{Person: person, Date: date}
	_, err := t.load(t.entry.Subject, &c)
	c.Stamps, c.Corrections, c.Lengths = slices.Clone(c.Stamps), slices.Clone(c.Corrections), slices.Clone(c.Lengths)
	return c, err
}

// stamp puts stamps on a person's cards of the dates they fall on, which must be among the entry's keys.
func (t *tx) stamp(person string, stamps ...labor.Stamp) error {
	cards := map[Ref]*labor.Timecard{}
	for _, s := range stamps {
		ref := TimecardRef(person, s.At)
		c := cards[ref]
		if c == nil {
			c = &labor.Timecard{Person: person, Date: s.At.Format(time.DateOnly)}
			if _, err := t.load(ref, c); err != nil {
				return err
			}
			c.Stamps = slices.Clone(c.Stamps)
			cards[ref] = c
		}
		before := labor.Overlapping(*c)
		c.Add(s)
		if c.Approved != nil {
			t.flag("time.approved_meanwhile", "date", c.Date)
		}
		if !before && labor.Overlapping(*c) {
			t.flagFor(person, "time.overlap", "date", c.Date)
		}
	}
	for _, s := range stamps { // in their order: the same on every device
		ref := TimecardRef(person, s.At)
		if c := cards[ref]; c != nil {
			t.save(ref, *c)
			delete(cards, ref)
		}
	}
	return nil
}

// stamped is a kind whose entries stamp the actor's own card of the day.
func stamped[B any](check func(B) error, what func(B) labor.What) kind {
	apply := func(t *tx, e Entry, b B) error {
		if _, err := t.card(true); err != nil {
			return err
		}
		if TimecardRef(e.Actor, e.At) != e.Subject {
			return msg.New("time.other_day", "date", e.At.Format(time.DateOnly))
		}
		return t.stamp(e.Actor, labor.Stamp{Entry: e.ID, At: e.At, What: what(b)})
	}
	return row[B]{subject: "timecard", terminal: true, check: check, apply: apply, strike: strikeTime}.kind()
}

func checkClocked(b Clocked) error { return records.CheckID(b.Code) }

// checkCorrected checks what does not depend on the card; the rest is for apply.
func checkCorrected(b Corrected) error {
	return records.CheckText("reason", b.Reason, true, 500)
}

func corrected(office bool) func(*tx, Entry, Corrected) error {
	return func(t *tx, e Entry, b Corrected) error {
		c, err := t.card(!office)
		if err != nil {
			return err
		}
		if err := labor.CheckPieces(b.Pieces, c.Date, e.At); err != nil {
			return err
		}
		if c.Approved != nil {
			if office || e.At.After(c.Approved.At) {
				return msg.New("time.approved", "date", c.Date)
			}
			t.flag("time.approved_meanwhile", "date", c.Date)
		}
		c.Correct(labor.Correction{Entry: e.ID, At: e.At, By: e.Actor, Pieces: b.Pieces, Reason: b.Reason, Office: office})
		t.save(e.Subject, c)
		return nil
	}
}

// approved takes a day as it is. A day that still runs is not over.
func approved(t *tx, e Entry, _ Nothing) error {
	c, err := t.card(false)
	if err != nil {
		return err
	}
	if c.Date > e.At.Format(time.DateOnly) {
		return msg.New("time.not_yet")
	}
	if slices.ContainsFunc(labor.Spans(e.At, c), func(s labor.Span) bool { return s.Open }) {
		return msg.New("time.running", "date", c.Date)
	}
	c.Approve(labor.Approval{At: e.At, By: e.Actor})
	t.save(e.Subject, c)
	return nil
}

func reopened(t *tx, e Entry, _ Nothing) error {
	c, err := t.card(false)
	if err != nil {
		return err
	}
	if c.Approved == nil {
		return msg.New("time.not_approved", "date", c.Date)
	}
	c.Reopen()
	t.save(e.Subject, c)
	return nil
}

// posted notes that the day's spans are in the books.
func posted(t *tx, e Entry, _ Nothing) error {
	c, err := t.card(false)
	if err != nil {
		return err
	}
	if c.Approved == nil {
		return msg.New("time.not_approved", "date", c.Date)
	}
	c.Posted = e.At
	t.save(e.Subject, c)
	return nil
}

func checkRoute(b RouteOrdered) error {
	if len(b.Visits) > maxRoute {
		return msg.New("entry.large")
	}
	for _, v := range b.Visits {
		if err := records.CheckID(v); err != nil {
			return err
		}
	}
	return nil
}

func routeOrdered(t *tx, e Entry, b RouteOrdered) error {
	c, err := t.card(true)
	if err != nil {
		return err
	}
	if by := (audit.Moment{At: e.At, Entry: e.ID}); c.RouteBy.Before(by) {
		c.Route, c.RouteBy = b.Visits, by
		t.save(e.Subject, c)
	}
	return nil
}

// strikeTime strikes out what was recorded on a timecard alone.
func strikeTime(t *tx, s Struck) (mark, error) {
	c, err := t.card(false)
	if err != nil {
		return nil, err
	}
	by := ""
	for _, x := range c.Stamps {
		if x.Entry == s.Entry && x.Visit == "" {
			by = cmp.Or(x.By, c.Person)
		}
	}
	for _, x := range c.Corrections {
		if x.Entry == s.Entry {
			by = x.By
		}
	}
	for _, x := range c.Lengths {
		if x.Entry == s.Entry {
			by = c.Person
		}
	}
	if by == "" {
		return nil, msg.New("strike.unknown")
	}
	if err := s.checkPerson(by); err != nil {
		return nil, err
	}
	if err := t.striking(c); err != nil {
		return nil, err
	}
	return func(struck bool) {
		if c.Strike(s.Entry, struck) {
			t.save(t.entry.Subject, c)
		}
	}, nil
}

// striking says why nothing on a card can be struck out any more. What was struck out before the day was approved, and is only heard of
// after, is kept for when the day is approved anew.
func (t *tx) striking(c labor.Timecard) error {
	if c.Approved == nil {
		return nil
	}
	if t.entry.At.IsZero() || t.entry.At.After(c.Approved.At) {
		return msg.New("time.approved", "date", c.Date)
	}
	t.flag("time.approved_meanwhile", "date", c.Date)
	return nil
}

// cardToStrike loads the card that something was stamped on, to strike it out there.
func (t *tx) cardToStrike(person string, l audit.Line) (labor.Timecard, error) {
	c := labor.Timecard{Person: person, Date: l.At.Format(time.DateOnly)}
	if _, err := t.load(TimecardRef(person, l.At), &c); err != nil {
		return c, err
	}
	if c.Has(l.Entry) {
		if err := t.striking(c); err != nil {
			return c, err
		}
	}
	c.Stamps = slices.Clone(c.Stamps)
	return c, nil
}

// strikeStamp strikes out what an entry stamped on a card.
func (t *tx) strikeStamp(c labor.Timecard, entry string, struck bool) {
	if c.Strike(entry, struck) {
		t.save(Ref{"timecard", c.Person + "+" + c.Date}, c)
	}
}
