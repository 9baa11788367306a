package ledger

import (
	"maps"
	"slices"
	"time"

	"iter.example/iter/core/msg"
	"iter.example/iter/core/records"
	"iter.example/iter/core/work"
)

// draftOfficeKinds are those of a changed plan that only its author sees: until it is published as a whole, by the commands that its
// changes stand for and draft.published in one batch, or thrown away.
func draftOfficeKinds() table {
	return table{
		"draft.changed": row[DraftChanged]{subject: "draft", office: planners, check: checkDraft, keys: draftKeys,
			apply: draftChanged, undo: draftBefore[DraftChanged], final: "the draft is changed again"}.kind(),
		"draft.dropped": row[DraftEnded]{subject: "draft", office: planners, check: checkEnded, apply: draftEnded,
			undo: draftBefore[DraftEnded], final: "the draft is changed again"}.kind(),
		"draft.published": row[DraftEnded]{subject: "draft", office: planners, check: checkEnded, apply: draftEnded,
			undo: draftBefore[DraftEnded], final: "the plan is changed back"}.kind(),
	}
}

// Draft is what somebody means to change of the plan. Its id is the person's.
type Draft struct {
	// Worked is when the program worked the changes out by itself, zero when somebody made them.
	Worked  time.Time     `json:"worked,omitzero"`
	Changes []DraftChange `json:"changes,omitempty"` // in the order in which they were first made, one for each visit
}

// DraftChange is a visit that is to be planned, moved or withdrawn: one of the three.
type DraftChange struct {
	Visit    string    `json:"visit"`
	Plan     *Plan     `json:"plan,omitempty"`
	Move     *Move     `json:"move,omitempty"`
	Withdraw *Withdraw `json:"withdraw,omitempty"`
	// Was is how the visit stood when the change was made, nil of one that is to be planned; what became of it since is underneath.
	Was *DraftWas `json:"was,omitempty"`
	// Planned is how many visits the work order of one that is to be planned had by then: what somebody plans for it besides is underneath.
	Planned int `json:"planned,omitempty"`
}

// DraftWas is a visit as a change of it was made from.
type DraftWas struct {
	Technician string     `json:"technician"`
	Start      time.Time  `json:"start"`
	Minutes    int        `json:"minutes"`
	Stage      work.Stage `json:"stage"`
}

// DraftChanged is the body of draft.changed. A change of a visit that is in the draft already takes that one's place.
type DraftChanged struct {
	Changes []DraftChange `json:"changes"`
}

// DraftEnded is the body of draft.dropped and draft.published: the visits whose changes leave the draft.
type DraftEnded struct {
	Visits []string `json:"visits"`
}

// DraftRef names the draft of a person.
func DraftRef(person string) Ref { return Ref{"draft", person} }

// MostDraftChanges is how many changes a draft has at most: it is published in one batch, with up to three commands for each.
const MostDraftChanges = 150

func checkDraft(b DraftChanged) error {
	if len(b.Changes) > MostDraftChanges {
		return msg.New("draft.large")
	}
	for _, c := range b.Changes {
		if err := c.check(); err != nil {
			return err
		}
	}
	return nil
}

func (c DraftChange) check() error {
	if err := records.CheckID(c.Visit); err != nil {
		return err
	}
	switch {
	case c.Plan != nil && c.Move == nil && c.Withdraw == nil:
		return checkPlan(*c.Plan)
	case c.Move != nil && c.Plan == nil && c.Withdraw == nil:
		return checkMove(*c.Move)
	case c.Withdraw != nil && c.Plan == nil && c.Move == nil:
		return records.CheckText("reason", c.Withdraw.Reason, false, 500)
	}
	return msg.New("draft.change")
}

func checkEnded(b DraftEnded) error {
	if len(b.Visits) > MostDraftChanges {
		return msg.New("draft.large")
	}
	return checkIDs(b.Visits...)
}

func draftKeys(_ Entry, b DraftChanged) (out []Ref) {
	for _, c := range b.Changes {
		if out = append(out, Ref{"visit", c.Visit}); c.Plan != nil {
			out = append(out, Ref{"workorder", c.Plan.Order})
		}
	}
	return out
}

// Program is the actor of entries that no person recorded.
const Program = "iter"

// draft loads the draft that an entry is about, which is its author's alone, but for what the program works out for them.
func (t *tx) draft() (d Draft, err error) {
	if t.entry.Actor != t.entry.Subject.ID && t.entry.Actor != Program {
		return d, msg.New("draft.others")
	}
	_, err = t.load(t.entry.Subject, &d)
	return d, err
}

func draftChanged(t *tx, e Entry, b DraftChanged) error {
	d, err := t.draft()
	if err != nil {
		return err
	}
	for _, c := range b.Changes {
		var v work.Visit
		is, err := t.load(Ref{"visit", c.Visit}, &v)
		if err != nil {
			return err
		}
		if c.Was = nil; is {
			c.Was = &DraftWas{v.Technician, v.Start, v.Minutes, v.Stage}
		}
		if c.Planned = 0; c.Plan != nil {
			var o work.Order
			if _, err := t.load(Ref{"workorder", c.Plan.Order}, &o); err != nil {
				return err
			}
			c.Planned = len(o.Visits)
		}
		d.put(c)
	}
	if len(d.Changes) > MostDraftChanges {
		return msg.New("draft.large")
	}
	if e.Actor == Program {
		d.Worked = e.At
	}
	t.save(e.Subject, d)
	return nil
}

func draftEnded(t *tx, e Entry, b DraftEnded) error {
	d, err := t.draft()
	if err != nil {
		return err
	}
	d.Changes = slices.DeleteFunc(slices.Clone(d.Changes), func(c DraftChange) bool { return slices.Contains(b.Visits, c.Visit) })
	if len(d.Changes) == 0 {
		d.Worked = time.Time{}
	}
	t.save(e.Subject, d)
	return nil
}

// put takes up a change. A visit that the draft plans stays one when it is moved, and is not planned at all when it is withdrawn; what a
// move says nothing of stays as the change before it had it; what is put back to where it is, is no change.
func (d *Draft) put(c DraftChange) {
	d.Changes = slices.Clone(d.Changes)
	i := slices.IndexFunc(d.Changes, func(x DraftChange) bool { return x.Visit == c.Visit })
	if i < 0 {
		if !c.idle() {
			d.Changes = append(d.Changes, c)
		}
		return
	}
	if before := d.Changes[i]; c.Move != nil {
		switch {
		case before.Plan != nil:
			p := *before.Plan
			p.Technician, p.Offer, p.Start, p.Minutes, p.Against = c.Move.Technician, nil, c.Move.Start, c.Move.Minutes, c.Move.Against
			p.Helpers, p.Things = or(c.Move.Helpers, p.Helpers), or(c.Move.Things, p.Things)
			c.Plan, c.Move, c.Planned = &p, nil, before.Planned
		case before.Move != nil:
			m := *c.Move
			m.Helpers, m.Things = or(m.Helpers, before.Move.Helpers), or(m.Things, before.Move.Things)
			c.Move = &m
		}
	}
	if c.idle() || (c.Withdraw != nil && d.Changes[i].Plan != nil) {
		d.Changes = slices.Delete(d.Changes, i, i+1)
		return
	}
	d.Changes[i] = c
}

// or is a list, or where it says nothing another.
func or(list, other []string) []string {
	if list == nil {
		return other
	}
	return list
}

// idle tells whether a change moves a visit to where it is.
func (c DraftChange) idle() bool {
	m, w := c.Move, c.Was
	return m != nil && w != nil && m.Technician == w.Technician && m.Start.Equal(w.Start) && m.Minutes == w.Minutes && m.Helpers == nil &&
		m.Things == nil
}

// Commands are those that a change stands for. A visit that was withdrawn since it was planned is planned again as it was.
func (c DraftChange) Commands() []Command {
	ref := Ref{"visit", c.Visit}
	switch {
	case c.Plan != nil && c.Was != nil:
		p := c.Plan
		return []Command{{Kind: "visit.reinstated", Subject: ref, Body: Nothing{}}, {Kind: "visit.moved", Subject: ref,
			Body: Move{Technician: p.Technician, Start: p.Start, Minutes: p.Minutes, Helpers: append([]string{}, p.Helpers...),
				Things: append([]string{}, p.Things...), Against: p.Against}}}
	case c.Plan != nil:
		return []Command{{Kind: "visit.planned", Subject: ref, Body: *c.Plan}}
	case c.Move != nil:
		return []Command{{Kind: "visit.moved", Subject: ref, Body: *c.Move}}
	}
	return []Command{{Kind: "visit.withdrawn", Subject: ref, Body: *c.Withdraw}}
}

// Besides tells whether somebody planned another visit for the work order since, of a visit that is to be planned.
func (c DraftChange) Besides(o work.Order) bool { return c.Plan != nil && len(o.Visits) > c.Planned }

// Underneath tells whether a visit is no more as the change was made from: v is nil when there is none. What its technician said to it
// does not matter, that it has begun or is over does.
func (c DraftChange) Underneath(v *work.Visit) bool {
	if v == nil || c.Was == nil {
		return (v == nil) != (c.Was == nil)
	}
	coming := func(s work.Stage) bool { return !s.Begun() && s != work.Finished && s != work.Withdrawn }
	return v.Technician != c.Was.Technician || !v.Start.Equal(c.Was.Start) || v.Minutes != c.Was.Minutes ||
		coming(v.Stage) != coming(c.Was.Stage)
}

// draftBefore makes a draft again what it was, as far as what an entry changed of it goes.
func draftBefore[B DraftChanged | DraftEnded](before Loader, e Entry, b B) ([]Command, error) {
	var d Draft
	if _, err := before(e.Subject, &d); err != nil {
		return nil, err
	}
	touched := map[string]bool{}
	switch b := any(b).(type) {
	case DraftChanged:
		for _, c := range b.Changes {
			touched[c.Visit] = true
		}
	case DraftEnded:
		for _, v := range b.Visits {
			touched[v] = true
		}
	}
	var back []DraftChange
	for _, c := range d.Changes {
		if touched[c.Visit] {
			back = append(back, c)
		}
	}
	out := []Command{{Kind: "draft.dropped", Subject: e.Subject, Body: DraftEnded{Visits: slices.Sorted(maps.Keys(touched))}}}
	if len(back) > 0 {
		out = append(out, Command{Kind: "draft.changed", Subject: e.Subject, Body: DraftChanged{Changes: back}})
	}
	return out, nil
}
