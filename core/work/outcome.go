package work

import (
	"slices"
	"time"

	"iter.example/iter/core/msg"
	"iter.example/iter/core/records"
)

// State is where a work order stands, over all its visits.
type State string

const (
	Open     State = "open"     // nobody is to come yet
	Underway State = "underway" // a required visit is still to come, or under way
	Back     State = "back"     // a visit ended without closing it: to be planned again
	Closed   State = "closed"   // the last required visit closed it, or the office did
	// OnHold and Cancelled are what the office made of an order that nobody is at work on.
	OnHold    State = "on_hold"
	Cancelled State = "cancelled"
)

// Values lists the states, for generated types.
func (State) Values() []string {
	return []string{string(Open), string(Underway), string(Back), string(Closed), string(OnHold), string(Cancelled)}
}

// Return is what the next visit needs, as whoever ended the one before said.
type Return struct {
	Entry   string    `json:"entry"`
	Visit   string    `json:"visit"`
	At      time.Time `json:"at"`
	Person  string    `json:"person"`
	Outcome Outcome   `json:"outcome"`
	Reason  string    `json:"reason,omitempty"` // the id of a reason, or words
	Needed
	Struck bool `json:"struck,omitempty"`
}

// Needed is what a visit that has to follow needs.
type Needed struct {
	Needs   []Need   `json:"needs,omitempty"`   // parts
	Skills  []string `json:"skills,omitempty"`  // by the policy's ids
	Minutes int      `json:"minutes,omitempty"` // expected duration
	Note    string   `json:"note,omitempty"`
}

// Check says what is wrong with what is needed.
func (n Needed) Check() error {
	if err := CheckNeeds(n.Needs); err != nil {
		return err
	}
	if n.Minutes < 0 || n.Minutes > MaxMinutes {
		return msg.New("order.minutes")
	}
	if len(n.Skills) > 50 {
		return msg.New("entry.large")
	}
	for _, s := range n.Skills {
		if err := records.CheckID(s); err != nil {
			return err
		}
	}
	return records.CheckText("note", n.Note, false, records.MaxText)
}

// last gives the finish that the visit's end rests on, or nil.
func (v Visit) last() *Step {
	open := v.Unconfirmed()
	for i, s := range slices.Backward(v.Steps) {
		if s.Action == Finish && !s.Struck && (!s.Unconfirmed || open != nil) {
			return &v.Steps[i]
		}
	}
	return nil
}

// Closes tells whether the visit ended in a way that can close its work order.
func (v Visit) Closes() bool {
	s := v.last()
	return v.Stage == Finished && s != nil && s.Closes
}

// NeedsSignature tells whether the visit ended in a way that somebody has to sign for, and neither did nor has said why not.
func (v Visit) NeedsSignature() bool {
	s := v.last()
	return v.Stage == Finished && s != nil && s.Signature && !v.Signed() && v.Unsigned() == nil
}

// Trip is what a visit means to its work order.
type Trip struct {
	Stage     Stage     `json:"stage"`
	Spare     bool      `json:"spare,omitempty"`  // the order does not wait for it
	Closes    bool      `json:"closes,omitempty"` // it ended in a way that can close the order
	Start     time.Time `json:"start"`            // planned
	PlannedAt time.Time `json:"plannedAt,omitzero"`
	Begun     time.Time `json:"begun,omitzero"` // when somebody set off or arrived first
	Ended     time.Time `json:"ended,omitzero"`
}

// Trip gives what the visit means to its work order.
func (v Visit) Trip() Trip {
	t := Trip{Stage: v.Stage, Spare: v.Spare, Closes: v.Closes(), Start: v.Start, PlannedAt: v.PlannedAt, Ended: v.Ended()}
	if i := slices.IndexFunc(v.Steps, func(s Step) bool { return !s.Struck && (s.Action == SetOff || s.Action == Arrive) }); i >= 0 {
		t.Begun = v.Steps[i].At
	}
	return t
}

// takesOver tells whether the trip is one that another which ended earlier was waiting for.
func (t Trip) takesOver(from Trip) bool {
	return t.Ended.After(from.Ended) && (t.Start.After(from.Ended) || t.PlannedAt.After(from.Ended) || t.Begun.After(from.Ended))
}

// StateOf says where a work order stands from its trips alone. It is closed only when no required visit is still to come or under way, and
// when each that ended without closing it was followed by one that took over: the last of those closes it.
func StateOf(trips ...Trip) State {
	var ended []Trip
	for _, t := range trips {
		switch {
		case t.Stage == Finished:
			ended = append(ended, t)
		case t.Stage == Withdrawn || t.Stage == Declined || t.Spare:
		default:
			return Underway
		}
	}
	if len(ended) == 0 {
		return Open
	}
	for _, t := range ended {
		if !t.Closes && !slices.ContainsFunc(ended, func(next Trip) bool { return next.takesOver(t) }) {
			return Back
		}
	}
	return Closed
}

// Standing is what the order's next visit needs: the last return that holds, or nil.
func (o Order) Standing() *Return {
	var out *Return
	for i, r := range o.Returns {
		if !r.Struck && (out == nil || byTime(out.At, out.Entry, r.At, r.Entry) < 0) {
			out = &o.Returns[i]
		}
	}
	return out
}

// StrikeReturn cancels what a finish asked for, or lets it count again. It tells whether there was such.
func (o *Order) StrikeReturn(entry string, struck bool) bool {
	i := slices.IndexFunc(o.Returns, func(r Return) bool { return r.Entry == entry })
	if i < 0 {
		return false
	}
	o.Returns = slices.Clone(o.Returns)
	o.Returns[i].Struck = struck
	return true
}
