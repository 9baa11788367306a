package work

import (
	"slices"
	"time"

	"iter.example/iter/core/audit"
)

// OrderAct is what the office does to a work order as a whole.
type OrderAct string

const (
	Hold    OrderAct = "held"      // nobody is planned until a day
	Release OrderAct = "released"  // what held it is over
	Cancel  OrderAct = "cancelled" // it is not done
	Close   OrderAct = "closed"    // nothing more is done, though its visits did not close it
	Reopen  OrderAct = "reopened"  // it goes on, though it was cancelled or closed
)

// Values lists the acts, for generated types.
func (OrderAct) Values() []string {
	return []string{string(Hold), string(Release), string(Cancel), string(Close), string(Reopen)}
}

// OrderStep is an act as it was taken.
type OrderStep struct {
	audit.Line
	Act    OrderAct `json:"act"`
	Reason string   `json:"reason,omitempty"`
	Until  string   `json:"until,omitempty"` // the day on which it comes back, 2006-01-02
}

// Act is the last act on the order; one without an entry when there was none.
func (o Order) Act() OrderStep {
	for _, s := range slices.Backward(o.Acts) {
		if !s.Struck {
			return s
		}
	}
	return OrderStep{}
}

// State says where the order stands, from the trips of its visits and what the office did to it since. What is recorded in the field
// after an act counts: who is at work on a cancelled order is.
func (o Order) State(trips ...Trip) State {
	state, act := StateOf(trips...), o.Act()
	later := func(at func(Trip) time.Time) bool {
		return slices.ContainsFunc(trips, func(t Trip) bool { return at(t).After(act.At) })
	}
	switch act.Act {
	case Hold:
		if state == Open || state == Back {
			return OnHold
		}
	case Cancel:
		if state != Underway || !slices.ContainsFunc(trips, func(t Trip) bool { return !t.Begun.IsZero() && t.Ended.IsZero() }) {
			return Cancelled
		}
	case Close:
		if state != Underway && !later(func(t Trip) time.Time { return t.Ended }) {
			return Closed
		}
	case Reopen:
		if state == Closed && !later(func(t Trip) time.Time { return t.Ended }) {
			return Back
		}
	}
	return state
}

// HeldUntil is the day on which an order on hold comes back, 2006-01-02; "" when it is not on hold.
func (o Order) HeldUntil() string {
	if act := o.Act(); act.Act == Hold {
		return act.Until
	}
	return ""
}
