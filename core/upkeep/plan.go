// Package upkeep is work that comes back: maintenance plans, what falls due by them and when, and what of it is done on one visit.
package upkeep

import (
	"slices"
	"strconv"
	"time"

	"github.com/shopspring/decimal"

	"iter.example/iter/core/audit"
	"iter.example/iter/core/calendar/recurrence"
	"iter.example/iter/core/msg"
	"iter.example/iter/core/records"
	"iter.example/iter/core/work"
)

// Plan is a maintenance plan: what is done, for which machines or site, and when it falls due. Days are 2006-01-02.
type Plan struct {
	Name string `json:"name"`
	work.Job
	// Assets are the machines that it is for, each of which falls due by itself; Site is one as a whole, Agreement that of which the
	// machines are. One of the three is set.
	Assets    []string `json:"assets,omitempty"`
	Site      string   `json:"site,omitempty"`
	Agreement string   `json:"agreement,omitempty"`

	// Rule says when by date (RFC 5545), Counter by what a machine has run. With both it is whichever comes first.
	Rule    string   `json:"rule,omitempty"`
	Counter *Counter `json:"counter,omitempty"`
	// Begin is the first day, from which it is counted, End the last on which anything falls due.
	Begin string `json:"begin"`
	End   string `json:"end,omitempty"`
	// FromLast has it counted from when it was done last, and not from Begin.
	FromLast bool `json:"fromLast,omitempty"`

	// Before and After are how many days sooner and later than it falls due it may be done, Ahead how many before those its work order
	// opens.
	Before int `json:"before,omitempty"`
	After  int `json:"after,omitempty"`
	Ahead  int `json:"ahead,omitempty"`

	// Changes are occurrences that were moved or skipped, in order of time: the last of each counts.
	Changes []Change `json:"changes,omitempty"`
}

// Counter is upkeep by what a machine has run.
type Counter struct {
	Point string          `json:"point"` // of the machine, a counter
	Every decimal.Decimal `json:"every"` // in the point's unit
}

// Change is an occurrence that is done on another day than it falls due, or not at all.
type Change struct {
	audit.Line
	Target string `json:"target"`
	Key    string `json:"key"`
	Due    string `json:"due"`          // when it fell due, as whoever changed it saw it
	To     string `json:"to,omitempty"` // "" when it is skipped; Due when it is as it was again
	Reason string `json:"reason,omitempty"`
}

const (
	maxAssets  = 500
	maxChanges = 2000
	mostDays   = 400 // of a window, and ahead of it
	maxName    = 100
)

// Check says what a plan lacks.
func (p Plan) Check() error {
	if err := p.Job.Check(); err != nil {
		return err
	}
	if err := records.CheckText("name", p.Name, true, maxName); err != nil {
		return err
	}
	if err := p.checkTargets(); err != nil {
		return err
	}
	if _, err := time.Parse(time.DateOnly, p.Begin); err != nil {
		return msg.New("recurrence.begin")
	}
	if p.End != "" {
		if _, err := time.Parse(time.DateOnly, p.End); err != nil || p.End < p.Begin {
			return msg.New("upkeep.end")
		}
	}
	for _, days := range []int{p.Before, p.After, p.Ahead} {
		if days < 0 || days > mostDays {
			return msg.New("upkeep.days", "max", strconv.Itoa(mostDays))
		}
	}
	if p.Rule == "" && p.Counter == nil {
		return msg.New("upkeep.rule")
	}
	if p.Rule != "" {
		if err := recurrence.Check(p.Rule, p.Begin); err != nil {
			return err
		}
	}
	return p.checkCounter()
}

func (p Plan) checkTargets() error {
	set := 0
	for _, is := range []bool{len(p.Assets) > 0, p.Site != "", p.Agreement != ""} {
		if is {
			set++
		}
	}
	if set != 1 {
		return msg.New("upkeep.target")
	}
	if len(p.Assets) > maxAssets {
		return msg.New("settings.list", "list", "assets", "max", strconv.Itoa(maxAssets))
	}
	for i, id := range p.Assets {
		if slices.Contains(p.Assets[:i], id) {
			return msg.New("upkeep.twice")
		}
		if err := records.CheckID(id); err != nil {
			return err
		}
	}
	for _, id := range []string{p.Site, p.Agreement} {
		if id == "" {
			continue
		}
		if err := records.CheckID(id); err != nil {
			return err
		}
	}
	return nil
}

func (p Plan) checkCounter() error {
	switch c := p.Counter; {
	case c == nil:
		return nil
	case p.Site != "":
		return msg.New("upkeep.counter_site")
	case p.Rule != "" && !p.FromLast:
		return msg.New("upkeep.both") // two ways of counting have no common beginning but when it was done last
	case !c.Every.IsPositive():
		return msg.New("upkeep.every")
	default:
		return records.CheckID(c.Point)
	}
}

// Changed is what was done to an occurrence, or nil.
func (p Plan) Changed(target, key string) *Change {
	for i, c := range slices.Backward(p.Changes) {
		if c.Target == target && c.Key == key && !c.Struck {
			return &p.Changes[i]
		}
	}
	return nil
}

// changedBy tells whether an occurrence had been moved or skipped by a moment.
func (p Plan) changedBy(target, key string, by time.Time) bool {
	return slices.ContainsFunc(p.Changes, func(c Change) bool {
		return c.Target == target && c.Key == key && !c.Struck && !c.At.After(by)
	})
}

// Keep adds a change.
func (p *Plan) Keep(c Change) error {
	if len(p.Changes) >= maxChanges {
		return msg.New("settings.list", "list", "changes", "max", strconv.Itoa(maxChanges))
	}
	p.Changes = audit.Add(p.Changes, c)
	return nil
}

// Check says what is wrong with a change.
func (c Change) Check() error {
	for _, id := range []string{c.Target, c.Key} {
		if err := records.CheckID(id); err != nil {
			return err
		}
	}
	for _, day := range []string{c.Due, c.To} {
		if _, err := time.Parse(time.DateOnly, day); err != nil && (day == c.Due || day != "") {
			return msg.New("upkeep.day")
		}
	}
	return records.CheckText("reason", c.Reason, c.To == "", 500)
}
