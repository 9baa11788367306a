package work

import "time"

// PromiseState is how a promise of an order stands.
type PromiseState string

// States of promises.
const (
	PromiseKept   PromiseState = "kept"
	PromiseBroken PromiseState = "broken"
	PromiseLate   PromiseState = "late" // it has passed, and nobody came yet, or it is not done
	PromiseAtRisk PromiseState = "risk" // what is planned is after it
	PromiseOpen   PromiseState = "open" // it may be kept
	PromiseMoot   PromiseState = "moot" // the order is over, and nobody came
	PromiseNone   PromiseState = ""     // nothing was promised
)

// Values lists the states, for generated types.
func (PromiseState) Values() []string {
	return []string{string(PromiseKept), string(PromiseBroken), string(PromiseLate), string(PromiseAtRisk), string(PromiseOpen),
		string(PromiseMoot), string(PromiseNone)}
}

// PromiseStanding is how a promise stands; Late is by how many seconds it was broken.
type PromiseStanding struct {
	State PromiseState `json:"state"`
	Late  int          `json:"late,omitempty"`
}

// Promised is how what was promised of an order stands, by its visits: that somebody comes, and that the work is done.
func Promised(o Order, s State, visits []Visit, now time.Time) (come, done PromiseStanding) {
	over := s == Closed || s == Cancelled
	var arrived, ended, next, last time.Time
	for _, v := range visits {
		if v.Stage == Withdrawn || v.Stage == Declined {
			continue
		}
		for _, a := range []Action{Arrive, StartTask} {
			if at := v.Taken(a); !at.IsZero() && (arrived.IsZero() || at.Before(arrived)) {
				arrived = at
			}
		}
		if v.Stage == Finished {
			ended = later(ended, v.Ended())
			continue
		}
		if next.IsZero() || v.Start.Before(next) {
			next = v.Start
		}
		last = later(last, v.Start.Add(time.Duration(v.Minutes)*time.Minute))
	}
	if s != Closed {
		ended = time.Time{}
	}
	return standing(o.PromiseTo, arrived, next, over, now), standing(o.DoneBy, ended, last, over, now)
}

// standing is how a promise stands of something that happened at a moment, or is planned for one.
func standing(promise, happened, planned time.Time, over bool, now time.Time) PromiseStanding {
	switch {
	case promise.IsZero():
		return PromiseStanding{}
	case !happened.IsZero() && !happened.After(promise):
		return PromiseStanding{State: PromiseKept}
	case !happened.IsZero():
		return PromiseStanding{PromiseBroken, int(happened.Sub(promise) / time.Second)}
	case over:
		return PromiseStanding{State: PromiseMoot}
	case now.After(promise):
		return PromiseStanding{State: PromiseLate}
	case planned.After(promise):
		return PromiseStanding{State: PromiseAtRisk}
	}
	return PromiseStanding{State: PromiseOpen}
}
