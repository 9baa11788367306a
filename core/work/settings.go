package work

import (
	"slices"

	"iter.example/iter/core/labor"
	"iter.example/iter/core/msg"
	"iter.example/iter/core/records"
)

// OrderSettings are a company's rules of what work orders say.
type OrderSettings struct {
	Works    []records.Choice `json:"works,omitempty"` // kinds of work
	Skills   []records.Choice `json:"skills,omitempty"`
	Results  []records.Choice `json:"results,omitempty"`  // how a task comes out
	Phrases  []string         `json:"phrases,omitempty"`  // ready-made texts for notes
	MaxHolds int              `json:"maxHolds,omitempty"` // tasks that somebody may have on hold; 0: three
	Promises []PromiseRule    `json:"promises,omitempty"` // by when work is promised
}

// VisitSettings are a company's rules of how visits are taken on and end.
type VisitSettings struct {
	Declines []records.Choice `json:"declines,omitempty"`
	Returns  []records.Choice `json:"returns,omitempty"` // why a visit ends with a return needed
	// Outcomes are how visits end, and Ready what is looked at before; what is left out is as usual.
	Outcomes []OutcomeRule    `json:"outcomes,omitempty"`
	Ready    []Requirement    `json:"ready,omitempty"`
	Skips    []records.Choice `json:"skips,omitempty"`    // why something asked for is left out
	Signers  []string         `json:"signers,omitempty"`  // what those who sign are: tenant, owner
	Unsigned []records.Choice `json:"unsigned,omitempty"` // why nobody signs
	Prices   bool             `json:"prices,omitempty"`   // whether those who sign see prices
	// Again is by more than how many minutes a visit is moved for whoever accepted it to be asked again; 0: never.
	Again int `json:"again,omitempty"`
	// Offers is after how many minutes an offer that nobody accepted comes back to the office; 0: when it was to begin, as it does then
	// in any case.
	Offers int `json:"offers,omitempty"`
	// Nearby lets technicians take work that waits near them, today, by themselves; else they ask the office for it.
	Nearby bool `json:"nearby,omitempty"`
	// Ahead is how far ahead technicians see their plan, but for those of whom something else is said.
	Ahead records.Ahead `json:"ahead,omitempty"`
	// Elsewhere is how technicians are told of changes of their plan whom no push reaches.
	Elsewhere Elsewhere `json:"elsewhere,omitempty"`
}

// TimeSettings are a company's reasons of what time goes to.
type TimeSettings struct {
	Pauses   []records.Choice `json:"pauses,omitempty"`
	Indirect []records.Choice `json:"indirect,omitempty"` // what is for no visit
	Sorts    []records.Choice `json:"sorts,omitempty"`    // of work
	// Lengths tells that a length of time may be told without begin and end.
	Lengths bool `json:"lengths,omitempty"`
}

const defaultHolds = 3

// Holds is how many tasks somebody may have on hold.
func (s OrderSettings) Holds() int {
	if s.MaxHolds > 0 {
		return s.MaxHolds
	}
	return defaultHolds
}

// Check says what is wrong with rules of work orders: nothing can be.
func (s OrderSettings) Check() error { return nil }

// CheckRules says what of them can't be meant.
func (s OrderSettings) CheckRules() error {
	if s.MaxHolds < 0 || s.MaxHolds > 365 {
		return msg.New("settings.number", "field", "maxHolds")
	}
	if len(s.Promises) > mostPromises {
		return msg.New("settings.promise")
	}
	for _, r := range s.Promises {
		if err := r.check(); err != nil {
			return err
		}
	}
	if err := records.CheckChoices(records.Choices{"works": s.Works, "skills": s.Skills, "results": s.Results}); err != nil {
		return err
	}
	return records.CheckLines("phrases", s.Phrases)
}

// Check says which pause is none.
func (s TimeSettings) Check() error {
	for _, r := range s.Pauses {
		if r.Clock != labor.Wait && r.Clock != labor.Break {
			return msg.New("settings.pause", "reason", r.ID)
		}
	}
	return nil
}

// CheckRules says what of them can't be meant.
func (s TimeSettings) CheckRules() error {
	return records.CheckChoices(records.Choices{"pauses": s.Pauses, "indirect": s.Indirect, "sorts": s.Sorts})
}

// Check says which outcome or requirement there can't be.
func (s VisitSettings) Check() error {
	for i, o := range s.Outcomes {
		if !slices.Contains(o.ID.Values(), string(o.ID)) || (o.Closes && o.FollowUp) ||
			slices.ContainsFunc(s.Outcomes[:i], func(x OutcomeRule) bool { return x.ID == o.ID }) {
			return msg.New("settings.outcome", "outcome", records.Clip(string(o.ID)))
		}
		if err := records.CheckText("outcome", o.Text, false, 100); err != nil {
			return err
		}
	}
	for _, r := range s.Ready {
		if !slices.Contains(r.Check.Values(), string(r.Check)) || !slices.Contains(r.Duty.Values(), string(r.Duty)) {
			return msg.New("settings.ready", "check", records.Clip(string(r.Check)))
		}
	}
	return nil
}

// CheckRules says what of them can't be meant.
func (s VisitSettings) CheckRules() error {
	if !s.Ahead.Known() {
		return msg.New("ahead.unknown", "ahead", records.Clip(string(s.Ahead)))
	}
	if s.Elsewhere != TellNot && !slices.Contains(s.Elsewhere.Values(), string(s.Elsewhere)) {
		return msg.New("settings.elsewhere", "way", records.Clip(string(s.Elsewhere)))
	}
	if s.Again < 0 || s.Again > mostAgain || s.Offers < 0 || s.Offers > mostAgain {
		return msg.New("settings.number", "field", "again")
	}
	lists := records.Choices{"declines": s.Declines, "returns": s.Returns, "skips": s.Skips, "unsigned": s.Unsigned}
	if err := records.CheckChoices(lists); err != nil {
		return err
	}
	return records.CheckLines("signers", s.Signers)
}

// mostAgain is a week, in minutes.
const mostAgain = 7 * 24 * 60

// OutcomeRule is a way a visit can end, and what follows from it.
type OutcomeRule struct {
	ID   Outcome `json:"id"`
	Text string  `json:"text,omitempty"` // what the company calls it, when it has a name of its own for it
	// Closes tells that it can close the work order, when it is the last visit that is required.
	Closes bool `json:"closes,omitempty"`
	// Signature tells that somebody has to sign, and FollowUp that what the next visit needs is asked for.
	Signature bool `json:"signature,omitempty"`
	FollowUp  bool `json:"followUp,omitempty"`
	// Ready tells that it can't be chosen while something required is missing.
	Ready bool `json:"ready,omitempty"`
}

var usualOutcomes = []OutcomeRule{
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
	CheckTrouble   Check = "trouble"   // its cause and remedy
	CheckSignature Check = "signature" // or why there is none
)

// Values lists the checks in the order the work is done, for generated types.
func (Check) Values() []string {
	return []string{string(CheckBlocked), string(CheckTasks), string(CheckReadings), string(CheckAnswers), string(CheckSerials),
		string(CheckBefore), string(CheckAfter), string(CheckNote), string(CheckTrouble), string(CheckClock), string(CheckSignature)}
}

// Requirement says how much a check matters. One for a kind of work goes before one for all.
type Requirement struct {
	Check Check    `json:"check"`
	Duty  Duty     `json:"duty"`
	Works []string `json:"works,omitempty"` // kinds of work, by the ids of OrderSettings; none: all
}

// usualDuties are those of a company that has said nothing. Checks that are not here are not made.
var usualDuties = map[Check]Duty{CheckBlocked: Required, CheckTasks: Asked, CheckAnswers: Asked, CheckSerials: Asked, CheckClock: Optional,
	CheckSignature: Asked}

// Outcome gives what follows from a way a visit ended, and whether the company has it.
func (s VisitSettings) Outcome(id Outcome) (OutcomeRule, bool) {
	list := s.EndsWith()
	i := slices.IndexFunc(list, func(o OutcomeRule) bool { return o.ID == id })
	if i < 0 {
		return OutcomeRule{ID: id}, false
	}
	return list[i], true
}

// EndsWith are the ways a visit can end.
func (s VisitSettings) EndsWith() []OutcomeRule {
	if len(s.Outcomes) == 0 {
		return usualOutcomes
	}
	return s.Outcomes
}

// Duty says how much a check matters for a kind of work. Without a duty it is not made.
func (s VisitSettings) Duty(check Check, kind string) (Duty, bool) {
	duty, ok := usualDuties[check]
	own := false
	for _, r := range s.Ready {
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
