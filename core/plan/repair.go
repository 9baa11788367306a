package plan

import (
	"cmp"
	"slices"

	"iter.example/iter/core/ordered"
)

// Repaired is a change that puts a day right: a visit that goes elsewhere, or work that waits and can't wait longer.
type Repaired struct {
	Handed
	// Trouble is what was wrong with it where it was: "" of what waited.
	Trouble RepairReason `json:"trouble,omitempty"`
	From    string       `json:"from,omitempty"` // lane
}

// RepairReason is why a visit can't stay where it is.
type RepairReason string

// What can be wrong with a planned visit.
const (
	TroubleOff      RepairReason = "off"      // its technician is not at work
	TroubleLate     RepairReason = "late"     // they come after what was promised
	TroubleOvertime RepairReason = "overtime" // their day ends long after their hours
)

// Values lists the reasons, for generated types.
func (RepairReason) Values() []string {
	return []string{string(TroubleOff), string(TroubleLate), string(TroubleOvertime)}
}

const (
	// worthMoving is how many seconds of driving a change must save: somebody was told of the plan as it is.
	worthMoving = 20 * 60
	// longOvertime is from how many seconds of overtime on the last visit of a day is looked at whether somebody else can do it.
	longOvertime = 60 * 60
	// urgentWithin is within how many seconds urgent work is to begin: later counts as after a promise.
	urgentWithin = 2 * 60 * 60
	// mostRepairs is how many changes are proposed at once.
	mostRepairs = 40
)

// Repair says how to put a day right with as few changes as can be: urgent work that waits is placed, in the order it is given, and then
// visits that are in trouble go to where that costs less, those promised soonest first. What is not in trouble stays, and so does what has
// begun, what is fixed but for who is not at work, and what somebody is planned for who lacks a skill: whoever planned it knew why. What
// nobody can do better stays with a nil Fit.
func (d *Day) Repair(urgent []string) []Repaired {
	out := []Repaired{}
	if d.Past {
		return out
	}
	trial := d
	for _, id := range urgent {
		p := trial.find(id)
		if p == nil {
			continue
		}
		h := Handed{ID: id}
		// What can't wait is to begin soon, though nothing is promised.
		soon := p.Want
		soon.To = min(soon.To, max(d.Now, d.morning)+urgentWithin)
		for _, f := range trial.Suggest(soon, len(trial.Lanes)) {
			if f.can() {
				fit, _ := trial.Fit(p.Want, f.Lane, f.Begin)
				h.Fit = &fit
				_, trial = trial.Try([]At{{ID: id, Lane: f.Lane, Begin: f.Begin}})
				break
			}
		}
		out = append(out, Repaired{Handed: h})
	}
	looked := map[string]bool{}
	for _, r := range out {
		looked[r.ID] = true
	}
	for len(out) < mostRepairs {
		p, lane, why := trial.trouble(looked)
		if p == nil {
			break
		}
		looked[p.ID] = true
		h := trial.better(*p, lane, why)
		if h.Fit != nil {
			_, trial = trial.Try([]At{{ID: p.ID, Lane: h.Fit.Lane, Begin: h.Fit.Begin}})
		} else if why == TroubleOvertime {
			continue // that is how it is
		}
		out = append(out, Repaired{h, why, lane})
	}
	return out
}

// trouble finds the visit in trouble that was promised soonest, of those that were not looked at yet, with whose it is and why.
func (d *Day) trouble(looked map[string]bool) (worst *Placed, lane string, why RepairReason) {
	for i := range d.Lanes {
		l := &d.Lanes[i]
		if l.Thing {
			continue
		}
		var last *Placed
		course := d.through(l, "", nil, func(p *Placed, s Pass) {
			if p.Begun || p.Over {
				return
			}
			last = p
			reason := d.wrong(l, p, s)
			if p.Fixed && reason != TroubleOff {
				return
			}
			if reason != "" && !looked[p.ID] && (worst == nil || cmp.Or(cmp.Compare(p.To, worst.To), p.order(*worst)) < 0) {
				worst, lane, why = p, l.ID, reason
			}
		})
		if last != nil && !last.Fixed && !looked[last.ID] && worst == nil && course.Over > longOvertime {
			worst, lane, why = last, l.ID, TroubleOvertime
		}
	}
	return worst, lane, why
}

// wrong says what is wrong with a visit where it is.
func (d *Day) wrong(l *Lane, p *Placed, s Pass) RepairReason {
	switch {
	case !l.Always && outsideAll(l.Hours, false, s.Arrive, s.Leave) == s.Leave-s.Arrive && outsideAll(l.Duty, false, s.Arrive, s.Leave) > 0:
		return TroubleOff
	case p.late(s) > 0:
		return TroubleLate
	}
	return ""
}

// shared tells whether several people do a visit.
func (d *Day) shared(visit string) bool {
	people := 0
	for i := range d.Lanes {
		l := &d.Lanes[i]
		if !l.Thing && slices.ContainsFunc(l.Stops, func(p Placed) bool { return p.ID == visit }) {
			people++
		}
	}
	return people > 1
}

// better is where a visit in trouble costs less than where it is, as far as that is worth a change.
func (d *Day) better(p Placed, lane string, why RepairReason) Handed {
	h := Handed{ID: p.ID}
	if d.shared(p.ID) {
		return h // several people's day hangs on it: that is for somebody to decide
	}
	stays, ok := d.Fit(p.Want, lane, p.Begin)
	most := stays.Cost - worthMoving
	if !ok || why == TroubleOff {
		most = Whenever // it can't stay, whatever that costs
	}
	var fits []Fit
	for i := range d.Lanes {
		l := &d.Lanes[i]
		if l.Thing || l.ID == lane && why == TroubleOff {
			continue
		}
		if f, ok := d.takeOver(p, l, false); ok && f.Cost <= most {
			fits = append(fits, f)
		}
	}
	ordered.Stable(fits, func(a, b Fit) int { return cmp.Or(cmp.Compare(a.Cost, b.Cost), cmp.Compare(a.Lane, b.Lane)) })
	if len(fits) > 0 {
		h.Fit = &fits[0]
	}
	return h
}
