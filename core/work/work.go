// Package work is the work itself: orders, visits, the stages a visit goes through, how it ends, and what it still lacks.
package work

import (
	"cmp"
	"slices"
	"strconv"
	"strings"
	"time"

	"iter.example/iter/core/audit"
	"iter.example/iter/core/labor"
	"iter.example/iter/core/msg"
	"iter.example/iter/core/ordered"
	"iter.example/iter/core/reading"
	"iter.example/iter/core/records"
	"iter.example/iter/core/sheet"
	"iter.example/iter/core/signoff"
)

// Priority is how pressing a work order is.
type Priority string

const (
	Emergency Priority = "emergency"
	Soon      Priority = "soon"
	Normal    Priority = "normal"
)

// Values lists the priorities, for generated types.
func (Priority) Values() []string { return []string{string(Emergency), string(Soon), string(Normal)} }

// Order is a piece of work for a customer at a site.
type Order struct {
	Number   string   `json:"number"`
	Customer string   `json:"customer"`
	Site     string   `json:"site"`
	Asset    string   `json:"asset,omitempty"`
	Problem  string   `json:"problem"`
	Priority Priority `json:"priority"`
	// PromiseFrom and PromiseTo bound when the customer was told somebody would come. Zero: nothing was promised.
	PromiseFrom time.Time `json:"promiseFrom,omitzero"`
	PromiseTo   time.Time `json:"promiseTo,omitzero"`
	DoneBy      time.Time `json:"doneBy,omitzero"`  // when the customer was told that the work is done
	Minutes     int       `json:"minutes"`          // expected duration on site
	Sheets      []string  `json:"sheets,omitempty"` // check sheets to fill in, as id@version
	Kind        string    `json:"kind,omitempty"`   // of work, by the ids of OrderSettings
	From        *Origin   `json:"from,omitempty"`   // what it follows up
	Skills      []string  `json:"skills,omitempty"` // that whoever comes must have
	Crew        int       `json:"crew,omitempty"`   // how many people it takes, one where it is less
	Things      []string  `json:"things,omitempty"` // what goes along, by the ids of resources
	Tasks       []Task    `json:"tasks,omitempty"`
	Needs       []Need    `json:"needs,omitempty"` // parts that are planned
	OpenedAt    time.Time `json:"openedAt"`
	OpenedBy    string    `json:"openedBy"`
	Visits      []string  `json:"visits,omitempty"`
	// Found is how it came up, when somebody in the field opened it.
	Found *Found `json:"found,omitempty"`
	// Returns are what visits that ended without closing the order said that the next one needs.
	Returns []Return `json:"returns,omitempty"`
	// TaskSteps are what was done to the tasks, on whatever visit, in order of time.
	TaskSteps []TaskStep `json:"taskSteps,omitempty"`
	// Due are the occurrences of maintenance plans that it is for.
	Due []Due `json:"due,omitempty"`
	// Signal is what a machine reported that it was opened for.
	Signal *Signalled `json:"signal,omitempty"`
	// Undertaking is what the order is part of.
	Undertaking string `json:"undertaking,omitempty"`
	// Trouble is what was noticed, by the ids of the company's tree (core/trouble).
	Trouble string `json:"trouble,omitempty"`
	// Added are tasks that were added on visits, in order of time.
	Added []AddedTask `json:"added,omitempty"`
	// TaskNotes are how tasks came out, in order of time.
	TaskNotes []TaskNote `json:"taskNotes,omitempty"`
	// Messages are those that the order went with, in order of time.
	Messages []Message `json:"messages,omitempty"`
	// Acts are what the office did to the order as a whole, in order of time.
	Acts []OrderStep `json:"acts,omitempty"`

	// Instruction is for whoever goes, and for nobody outside; BillText is for the customer's bill. Theirs is the customer's own number of
	// the order, Urgency how pressing it is to them, and People are whom to see for this order.
	Instruction string            `json:"instruction,omitempty"`
	BillText    string            `json:"billText,omitempty"`
	Theirs      string            `json:"theirs,omitempty"`
	Urgency     Priority          `json:"urgency,omitempty"`
	People      []records.Contact `json:"people,omitempty"`
	Responsible string            `json:"responsible,omitempty"` // a person of the office's
	// Documents are papers and photos from whoever asked for it, by hash.
	Documents map[string]records.Document `json:"documents,omitempty"`
}

// MaxMinutes is the longest duration that can be expected of one visit: two weeks.
const MaxMinutes = 14 * 24 * 60

// maxPeople is how many people to see an order names.
const maxPeople = 10

func (o Order) checkTexts() error {
	if o.Urgency != "" && !slices.Contains(o.Urgency.Values(), string(o.Urgency)) {
		return msg.New("order.priority")
	}
	if len(o.People) > maxPeople {
		return msg.New("order.people", "max", strconv.Itoa(maxPeople))
	}
	for _, f := range []struct {
		name, text string
		most       int
	}{{"instruction", o.Instruction, records.MaxText}, {"billText", o.BillText, records.MaxText}, {"kind", o.Kind, 80},
		{"theirs", o.Theirs, 80}, {"responsible", o.Responsible, 80}, {"trouble", o.Trouble, 80}, {"undertaking", o.Undertaking, 80}} {
		if err := records.CheckText(f.name, f.text, false, f.most); err != nil {
			return err
		}
	}
	for _, p := range o.People {
		if err := p.Check(); err != nil {
			return err
		}
	}
	return records.CheckPapers(o.Documents)
}

// Promised is what is promised soonest: that somebody comes, or where nothing is said of that, that it is done. Zero: nothing is.
func (o Order) Promised() time.Time {
	if !o.PromiseTo.IsZero() {
		return o.PromiseTo
	}
	return o.DoneBy
}

// Check says what a work order lacks.
func (o Order) Check() error {
	for _, id := range []string{o.Customer, o.Site} {
		if err := records.CheckID(id); err != nil {
			return err
		}
	}
	if !slices.Contains(o.Priority.Values(), string(o.Priority)) {
		return msg.New("order.priority")
	}
	if o.Minutes < 1 || o.Minutes > MaxMinutes {
		return msg.New("order.minutes")
	}
	if !o.PromiseTo.IsZero() && o.PromiseTo.Before(o.PromiseFrom) || !o.DoneBy.IsZero() && o.DoneBy.Before(o.PromiseFrom) {
		return msg.New("order.promise")
	}
	if err := o.checkTexts(); err != nil {
		return err
	}
	if err := checkCrew(o.Crew, o.Things); err != nil {
		return err
	}
	if err := checkTasks(o.Tasks); err != nil {
		return err
	}
	if err := CheckNeeds(o.Needs); err != nil {
		return err
	}
	if err := checkDue(o.Due); err != nil {
		return err
	}
	return records.CheckText("problem", o.Problem, true, records.MaxText)
}

// How many people and things go to a visit at most.
const maxCrew = 20

func checkCrew(people int, things []string) error {
	if people < 0 || people > maxCrew || len(things) > maxCrew {
		return msg.New("order.crew", "max", strconv.Itoa(maxCrew))
	}
	for _, id := range things {
		if err := records.CheckID(id); err != nil {
			return err
		}
	}
	return nil
}

// Stage is where a visit stands.
type Stage string

const (
	Planned    Stage = "planned"
	Sent       Stage = "sent"
	Accepted   Stage = "accepted"
	Declined   Stage = "declined"
	Travelling Stage = "travelling"
	OnSite     Stage = "on_site"
	Paused     Stage = "paused"
	Finished   Stage = "finished"
	Withdrawn  Stage = "withdrawn"
)

// Values lists the stages, for generated types.
func (Stage) Values() []string {
	return []string{string(Planned), string(Sent), string(Accepted), string(Declined), string(Travelling), string(OnSite), string(Paused),
		string(Finished), string(Withdrawn)}
}

// Action is what a technician does to a visit's stage.
type Action string

const (
	Accept  Action = "accepted"
	Decline Action = "declined"
	SetOff  Action = "set_off"
	Arrive  Action = "arrived"
	Pause   Action = "paused"
	Resume  Action = "resumed"
	Finish  Action = "finished"
	// StartTask is to start a task, or switch to it: whoever does is on site.
	StartTask Action = "started_task"
)

// Values lists the actions, for generated types.
func (Action) Values() []string {
	return []string{string(Accept), string(Decline), string(SetOff), string(Arrive), string(Pause), string(Resume), string(Finish),
		string(StartTask)}
}

var actionStage = map[Action]Stage{
	Accept: Accepted, Decline: Declined, SetOff: Travelling, Arrive: OnSite, Pause: Paused, Resume: OnSite, Finish: Finished,
	StartTask: OnSite,
}

// Outcome is how a finished visit ended.
type Outcome string

const (
	Complete     Outcome = "complete"
	ReturnNeeded Outcome = "return_needed"
	NoAccess     Outcome = "no_access"
	NotNeeded    Outcome = "not_needed"
)

// Values lists the outcomes, for generated types.
func (Outcome) Values() []string {
	return []string{string(Complete), string(ReturnNeeded), string(NoAccess), string(NotNeeded)}
}

// Where is a position, when the device gave one.
type Where struct {
	Lat      float64 `json:"lat"`                // degrees north, WGS 84
	Lon      float64 `json:"lon"`                // degrees east
	Accuracy float64 `json:"accuracy,omitempty"` // metres
}

// Drive is a way by road as it was worked out when it was begun: what was thought of it, whatever roads are known later.
type Drive struct {
	Metres  int `json:"metres"`
	Seconds int `json:"seconds"`
	Ferry   int `json:"ferry,omitempty"` // seconds of them, on ferries
	Free    int `json:"free,omitempty"`  // seconds on free roads, when it was thought to take another time
}

// A drive goes at most round the earth, and takes at most two weeks.
const (
	mostMetres  = 40_000_000
	mostSeconds = 14 * 24 * 3600
)

// Check says what can't be a drive.
func (d Drive) Check() error {
	if d.Metres < 0 || d.Metres > mostMetres || d.Seconds < 0 || d.Seconds > mostSeconds || d.Ferry < 0 || d.Ferry > d.Seconds ||
		d.Free < 0 || d.Free > mostSeconds {
		return msg.New("drive.absurd")
	}
	return nil
}

// Step is an action as it was taken.
type Step struct {
	audit.Line
	Action  Action     `json:"action"`
	Clock   labor.Kind `json:"clock,omitempty"` // what the person's clock turned to
	Reason  string     `json:"reason,omitempty"`
	Outcome Outcome    `json:"outcome,omitempty"`
	// Closes and Signature are what the policy said of the outcome when it was recorded: that it can close the order, and that somebody
	// has to sign.
	Closes    bool   `json:"closes,omitempty"`
	Signature bool   `json:"signature,omitempty"`
	Where     *Where `json:"where,omitempty"`
	Task      string `json:"task,omitempty"`  // that the time goes to
	Home      bool   `json:"home,omitempty"`  // set off from home
	Drive     *Drive `json:"drive,omitempty"` // of setting off: the way there
	By        string `json:"by,omitempty"`    // who closed the visit, when it was not the technician
	// Unconfirmed tells of a finish by somebody else that its end is where it was planned.
	Unconfirmed bool `json:"unconfirmed,omitempty"`
}

// Note is a text written on a visit.
type Note struct {
	audit.Line
	Text   string `json:"text"`
	Office bool   `json:"office,omitempty"` // for the office to see to
}

// Found is how somebody in the field came upon work.
type Found struct {
	How   FoundHow `json:"how"`
	Visit string   `json:"visit,omitempty"` // they were on
	Who   string   `json:"who,omitempty"`   // is affected, or asked for it
	// New are the types of the records that were made with it: "customer", "site", "asset".
	New []string `json:"new,omitempty"`
}

// FoundHow is how work came up in the field.
type FoundHow string

const (
	Seen        FoundHow = "seen"         // by the technician
	OtherAsset  FoundHow = "other_asset"  // something else at the site
	OtherPerson FoundHow = "other_person" // somebody else there is affected
)

// Values lists them, for generated types.
func (FoundHow) Values() []string {
	return []string{string(Seen), string(OtherAsset), string(OtherPerson)}
}

// Against is what a visit was planned against: what whoever planned it was warned of, by core/plan, and why they did it all the same.
type Against struct {
	Warned []msg.Code `json:"warned,omitempty"`
	Why    string     `json:"why,omitempty"`
}

// Check says what can't be meant.
func (a *Against) Check() error {
	if a == nil {
		return nil
	}
	if len(a.Warned) > 20 {
		return msg.New("entry.large")
	}
	for _, w := range a.Warned {
		if err := records.CheckID(w.Code); err != nil {
			return err
		}
		if len(w.Args) > 5 {
			return msg.New("entry.large")
		}
		for _, text := range w.Args {
			if err := records.CheckText("why", text, false, 200); err != nil {
				return err
			}
		}
	}
	return records.CheckText("why", a.Why, false, 500)
}

// Visit is one trip by a technician for a work order.
type Visit struct {
	Order      string   `json:"order"`
	Technician string   `json:"technician"`
	Former     []string `json:"former,omitempty"` // who had it before
	// Offered are those it was offered to: the first to accept has it. Until then Technician is empty.
	Offered   []string  `json:"offered,omitempty"`
	Helpers   []string  `json:"helpers,omitempty"` // who comes along
	Things    []string  `json:"things,omitempty"`  // what goes along, by the ids of resources
	Start     time.Time `json:"start"`             // planned
	Minutes   int       `json:"minutes"`           // planned
	PlannedAt time.Time `json:"plannedAt,omitzero"`
	// Spare tells that the work order does not wait for this visit.
	Spare bool `json:"spare,omitempty"`
	// Fixed tells that it stays where it is when a plan is worked out anew.
	Fixed bool `json:"fixed,omitempty"`
	// Against is what whoever planned it last was warned of.
	Against *Against  `json:"against,omitempty"`
	SentAt  time.Time `json:"sentAt,omitzero"`
	// MovedFrom is when it was planned for when its technician was told of it last, while that is another time. AskedAt is when it was moved
	// so far that they are asked again: what they answered before does not count.
	MovedFrom time.Time `json:"movedFrom,omitzero"`
	AskedAt   time.Time `json:"askedAt,omitzero"`
	// WithdrawnAt is when the office took the visit back. What was done on it stays.
	WithdrawnAt time.Time `json:"withdrawnAt,omitzero"`
	// ReviewedAt is when the office had looked through the visit, and ReviewedBy who did.
	ReviewedAt time.Time `json:"reviewedAt,omitzero"`
	ReviewedBy string    `json:"reviewedBy,omitempty"`

	// Stage, Since and Outcome follow from the rest; Settle keeps them so.
	Stage   Stage     `json:"stage"`
	Since   time.Time `json:"since"`
	Outcome Outcome   `json:"outcome,omitempty"`

	Steps       []Step                             `json:"steps,omitempty"`
	Crew        []CrewStep                         `json:"crew,omitempty"`
	Messages    []Message                          `json:"messages,omitempty"`
	Requests    []Request                          `json:"requests,omitempty"`
	Notes       []Note                             `json:"notes,omitempty"`
	Diagnoses   []Diagnosis                        `json:"diagnoses,omitempty"`
	Parts       []PartUsed                         `json:"parts,omitempty"`
	Removed     []PartRemoved                      `json:"removed,omitempty"`
	Kits        []KitUsed                          `json:"kits,omitempty"`
	Extras      []Extra                            `json:"extras,omitempty"`
	Readings    []reading.Reading                  `json:"readings,omitempty"`
	Derived     map[string][]reading.DerivedValue  `json:"derived,omitempty"`     // out of their limits, by asset
	Answers     map[string]map[string]sheet.Answer `json:"answers,omitempty"`     // by sheet, then sheet.Key
	Items       map[string][]sheet.Item            `json:"items,omitempty"`       // by sheet
	SheetsBegun map[string]time.Time               `json:"sheetsBegun,omitempty"` // when each sheet was begun
	Proposals   []Proposal                         `json:"proposals,omitempty"`
	Handled     map[string]Handled                 `json:"handled,omitempty"` // what the office did about each point of attention
	Signatures  []signoff.Signature                `json:"signatures,omitempty"`
	Absences    []Absence                          `json:"absences,omitempty"`  // why nobody signed
	Skips       []Skip                             `json:"skips,omitempty"`     // what was asked for and left out
	Questions   []Question                         `json:"questions,omitempty"` // of the office
	Reports     []Report                           `json:"reports,omitempty"`
	Files       []File                             `json:"files,omitempty"`
	Strikes     audit.Strikes                      `json:"strikes,omitempty"`
}

// Move gives the visit another time and technician at a moment. Somebody who had it and accepted it is asked again where it is moved by
// more than so many minutes; 0: never.
func (v *Visit) Move(technician string, start time.Time, again int, at time.Time) {
	if c := v.current(); c != nil && c.Action == Accept && !v.AskedAt.IsZero() {
		v.MovedFrom = time.Time{} // they know where it is now
	}
	switch same := technician == v.Technician && !v.SentAt.IsZero(); {
	case !same:
		v.MovedFrom, v.AskedAt = time.Time{}, time.Time{}
	case v.MovedFrom.IsZero() && !start.Equal(v.Start):
		v.MovedFrom = v.Start
	}
	if again > 0 && !v.MovedFrom.IsZero() && start.Sub(v.MovedFrom).Abs() > time.Duration(again)*time.Minute {
		v.AskedAt = at
	}
	v.Technician, v.Start = technician, start
	if start.Equal(v.MovedFrom) { // back where it was told to be
		v.MovedFrom, v.AskedAt = time.Time{}, time.Time{}
	}
}

// byTime orders what was recorded by when it was, whatever the order it was heard of in, and by entry within a moment.
func byTime(a time.Time, entryA string, b time.Time, entryB string) int {
	return cmp.Or(a.Compare(b), strings.Compare(entryA, entryB))
}

// Settle derives the stage from the steps by the time they were taken, whatever the order they were heard of in.
func (v *Visit) Settle() {
	ordered.Stable(v.Steps, func(a, b Step) int { return byTime(a.At, a.Entry, b.At, b.Entry) })
	v.Stage, v.Outcome = Planned, ""
	if !v.SentAt.IsZero() {
		v.Stage, v.Since = Sent, v.SentAt
	}
	if c := v.current(); c != nil {
		v.Stage, v.Since, v.Outcome = actionStage[c.Action], c.At, c.Outcome
	}
	if v.Technician == "" && !slices.ContainsFunc(v.Offered, func(p string) bool { return v.Answered(p) != Decline }) &&
		len(v.Offered) > 0 {
		v.Stage = Declined // by all
	}
	if !v.WithdrawnAt.IsZero() {
		v.Stage, v.Since = Withdrawn, v.WithdrawnAt
	}
}

// Begun tells whether anybody has set off for the visit or done anything on it.
func (v Visit) Begun() bool {
	return slices.ContainsFunc(v.Steps, func(s Step) bool { return !s.Struck && s.Action != Accept && s.Action != Decline })
}

// Had tells whether the visit is or was a person's: theirs, offered to them, or theirs to help with.
func (v Visit) Had(person string) bool {
	return v.Technician == person || slices.Contains(v.Former, person) || slices.Contains(v.Offered, person) ||
		slices.Contains(v.Helpers, person)
}

// Taken gives the first time an action was taken and not struck out, or the zero time.
func (v Visit) Taken(a Action) time.Time {
	for _, s := range v.Steps {
		if s.Action == a && !s.Struck {
			return s.At
		}
	}
	return time.Time{}
}

// Ended gives the time of the last finish that is not struck out, or the zero time.
func (v Visit) Ended() time.Time {
	if s := v.last(); s != nil {
		return s.At
	}
	return time.Time{}
}

// Signed tells whether a signature stands.
func (v Visit) Signed() bool {
	return slices.ContainsFunc(v.Signatures, func(s signoff.Signature) bool { return !s.Struck })
}
