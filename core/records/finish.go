package records

import (
	"encoding/hex"
	"slices"

	"iter.example/iter/core/msg"
)

// Outcomes of a visit, by id.
const (
	Complete     = "complete"
	ReturnNeeded = "return_needed"
	NoAccess     = "no_access"
	NotNeeded    = "not_needed"
)

// OutcomeIDs are the ways a visit can end.
var OutcomeIDs = []string{Complete, ReturnNeeded, NoAccess, NotNeeded}

// Outcome is a way a visit can end, and what follows from it.
type Outcome struct {
	ID   string `json:"id"`             // one of OutcomeIDs
	Text string `json:"text,omitempty"` // what the company calls it, when it has a name of its own for it
	// Closes tells that it can close the work order, when it is the last visit that is required.
	Closes bool `json:"closes,omitempty"`
	// Signature tells that somebody has to sign, and FollowUp that what the next visit needs is asked for.
	Signature bool `json:"signature,omitempty"`
	FollowUp  bool `json:"followUp,omitempty"`
	// Ready tells that it can't be chosen while something required is missing.
	Ready bool `json:"ready,omitempty"`
}

var usualOutcomes = []Outcome{
	{ID: Complete, Closes: true, Signature: true, Ready: true},
	{ID: ReturnNeeded, Signature: true, FollowUp: true},
	{ID: NoAccess, FollowUp: true},
	{ID: NotNeeded, Closes: true},
}

// Duty is how much something matters before a visit can end.
type Duty string

const (
	Required Duty = "required"
	Asked    Duty = "asked"    // may be left out with a reason
	Optional Duty = "optional" // is said, and may be left out
	Off      Duty = "off"      // is not looked at
)

// Values lists the duties, for generated types.
func (Duty) Values() []string {
	return []string{string(Required), string(Asked), string(Optional), string(Off)}
}

// Check is something that is looked at before a visit ends.
type Check string

const (
	CheckBlocked   Check = "blocked"   // an answer with which the visit can't be complete
	CheckAnswers   Check = "answers"   // questions of check sheets
	CheckReadings  Check = "readings"  // every point of the machine
	CheckTasks     Check = "tasks"     // done
	CheckClock     Check = "clock"     // of helpers, stopped
	CheckSerials   Check = "serials"   // of parts that have them
	CheckBefore    Check = "before"    // a photo of how it was
	CheckAfter     Check = "after"     // a photo of how it is
	CheckNote      Check = "note"      // what was done, in words
	CheckSignature Check = "signature" // or why there is none
)

// Values lists the checks in the order the work is done, for generated types.
func (Check) Values() []string {
	return []string{string(CheckBlocked), string(CheckTasks), string(CheckReadings), string(CheckAnswers), string(CheckSerials),
		string(CheckBefore), string(CheckAfter), string(CheckNote), string(CheckClock), string(CheckSignature)}
}

// Requirement says how much a check matters. One for a kind of work goes before one for all.
type Requirement struct {
	Check Check    `json:"check"`
	Duty  Duty     `json:"duty"`
	Works []string `json:"works,omitempty"` // kinds of work, by the policy's ids; none: all
}

// usualDuties are those of a company that has said nothing. Checks that are not here are not made.
var usualDuties = map[Check]Duty{CheckBlocked: Required, CheckTasks: Asked, CheckAnswers: Asked, CheckSerials: Asked, CheckClock: Optional,
	CheckSignature: Asked}

// Paper is what the company's reports look like.
type Paper struct {
	Lines  []string `json:"lines,omitempty"` // under the name: address, registration
	Intro  string   `json:"intro,omitempty"` // above the work
	Close  string   `json:"close,omitempty"` // below the signatures
	Layout string   `json:"layout,omitempty"`
	// CheckAt is the address that a report's code is added to, to check it.
	CheckAt string `json:"checkAt,omitempty"`
	// Logo is a picture, by the SHA-256 of what is in it.
	Logo *Logo `json:"logo,omitempty"`
}

// Logo is a picture of the company's.
type Logo struct {
	Hash string `json:"hash"`
	Type string `json:"type"` // image/png or image/jpeg
	Size int64  `json:"size"` // bytes
}

// maxLogo is the largest logo, in bytes: every report carries it.
const maxLogo = 300 << 10

// Outcome gives what follows from a way a visit ended, and whether the company has it.
func (p Policy) Outcome(id string) (Outcome, bool) {
	list := p.EndsWith()
	i := slices.IndexFunc(list, func(o Outcome) bool { return o.ID == id })
	if i < 0 {
		return Outcome{ID: id}, false
	}
	return list[i], true
}

// EndsWith are the ways a visit can end.
func (p Policy) EndsWith() []Outcome {
	if len(p.Outcomes) == 0 {
		return usualOutcomes
	}
	return p.Outcomes
}

// Duty says how much a check matters for a kind of work. Without a duty it is not made.
func (p Policy) Duty(check Check, kind string) (Duty, bool) {
	duty, ok := usualDuties[check]
	own := false
	for _, r := range p.Ready {
		switch {
		case r.Check != check:
		case len(r.Works) == 0 && !own:
			duty, ok = r.Duty, true
		case slices.Contains(r.Works, kind):
			duty, ok, own = r.Duty, true, true
		}
	}
	return duty, ok && duty != Off
}

func (p Policy) checkFinish() error {
	for i, o := range p.Outcomes {
		if !slices.Contains(OutcomeIDs, o.ID) || slices.ContainsFunc(p.Outcomes[:i], func(x Outcome) bool { return x.ID == o.ID }) ||
			(o.Closes && o.FollowUp) {
			return msg.New("policy.outcome", "outcome", Clip(o.ID))
		}
		if err := CheckText("outcome", o.Text, false, 100); err != nil {
			return err
		}
	}
	for _, r := range p.Ready {
		if !slices.Contains(r.Check.Values(), string(r.Check)) || !slices.Contains(r.Duty.Values(), string(r.Duty)) {
			return msg.New("policy.ready", "check", Clip(string(r.Check)))
		}
	}
	if l := p.Paper.Logo; l != nil {
		if raw, err := hex.DecodeString(l.Hash); err != nil || len(raw) != 32 || (l.Type != "image/png" && l.Type != "image/jpeg") {
			return msg.New("policy.logo")
		}
		if l.Size < 1 || l.Size > maxLogo {
			return msg.New("policy.logo_size", "max", "300")
		}
	}
	if len(p.Paper.Lines) > 10 {
		return msg.New("text.long", "field", "lines", "max", "10")
	}
	for _, s := range append(append([]string{}, p.Paper.Lines...), p.Paper.Intro, p.Paper.Close) {
		if err := CheckText("paper", s, false, 2000); err != nil {
			return err
		}
	}
	return nil
}
