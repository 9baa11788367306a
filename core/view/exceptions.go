package view

import (
	"strconv"

	"iter.example/iter/core/work"
)

// Exceptions are what the office looks at first when it reviews the visit, the most pressing first.
func (v *Visit) Exceptions() []Exception {
	out := []Exception{}
	add := func(when bool, kind ExceptionKind, text string) {
		if when {
			out = append(out, Exception{kind, text})
		}
	}
	hazards := 0
	limits := 0
	for _, a := range v.Attention {
		switch a.Concern {
		case work.ConcernHazard, work.ConcernFailed:
			hazards++
		case work.ConcernAlarm, work.ConcernWarning:
			limits++
		}
	}
	unsigned := v.Visit.Unsigned()
	add(hazards > 0, Hazards, strconv.Itoa(hazards))
	add(v.Visit.NeedsSignature(), Unsigned, "")
	add(unsigned != nil && !v.Visit.Signed(), AbsentSigner, "")
	add(v.Changed, ChangedSinceSigned, "")
	lacking := 0
	for _, l := range v.Ready.Lacking {
		if l.Skip == nil && l.Check != work.CheckSignature && l.Check != work.CheckClock {
			lacking++
		}
	}
	add(lacking > 0, Lacks, strconv.Itoa(lacking))
	add(limits > 0, OutsideLimits, strconv.Itoa(limits))
	// Over by a tenth of what was expected, and by ten minutes at least.
	expected := int64(v.Visit.Minutes) * 60
	over := v.Hours.Work - expected
	add(over > expected/10 && over >= 600, OverTime, strconv.Itoa(int(over/60)))
	arrived, promised := v.Visit.Taken(work.Arrive), v.Order.PromiseTo
	late := !promised.IsZero() && arrived.After(promised)
	add(late, Late, strconv.Itoa(int(arrived.Sub(promised).Minutes())))
	skipped := 0
	for _, l := range v.Ready.Lacking {
		if l.Skip != nil {
			skipped++
		}
	}
	add(skipped > 0, LeftOut, strconv.Itoa(skipped))
	return out
}

// Exception is something that a visit is looked at for. Text is a number, of what or of minutes.
type Exception struct {
	Kind ExceptionKind `json:"kind"`
	Text string        `json:"text,omitempty"`
}

// ExceptionKind is what is not as usual.
type ExceptionKind string

const (
	Hazards            ExceptionKind = "hazards"
	Unsigned           ExceptionKind = "unsigned"
	AbsentSigner       ExceptionKind = "absent"
	ChangedSinceSigned ExceptionKind = "changed"
	BelowZero          ExceptionKind = "below_zero" // stock
	Lacks              ExceptionKind = "lacks"
	OutsideLimits      ExceptionKind = "limits"
	OverTime           ExceptionKind = "over_time"
	Late               ExceptionKind = "late"
	LeftOut            ExceptionKind = "left_out"
	Flagged            ExceptionKind = "flags"
)

// Values lists the kinds, the most pressing first.
func (ExceptionKind) Values() []string {
	return []string{string(Hazards), string(Unsigned), string(AbsentSigner), string(ChangedSinceSigned), string(BelowZero), string(Lacks),
		string(OutsideLimits), string(OverTime), string(Late), string(LeftOut), string(Flagged)}
}
