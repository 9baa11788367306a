// Package signal judges what machines report by themselves: rules over their values say when something is wrong, and when it is well again.
package signal

import (
	"slices"
	"strconv"
	"strings"
	"time"

	"github.com/shopspring/decimal"

	"iter.example/iter/core/msg"
	"iter.example/iter/core/reading"
	"iter.example/iter/core/records"
	"iter.example/iter/core/work"
)

// Value is what a machine reported of a point at a moment, in the point's unit.
type Value = work.Reported

// When is what a rule looks for.
type When string

// What rules look for.
const (
	Above   When = "above"   // the value is above Limit
	Below   When = "below"   // it is below it
	Changed When = "changed" // it is no more what it was
	Rate    When = "rate"    // it went up or down by more than Limit within Per minutes
	Silent  When = "silent"  // nothing was reported for For minutes
)

// Values lists them, for generated types.
func (When) Values() []string {
	return []string{string(Above), string(Below), string(Changed), string(Rate), string(Silent)}
}

// Do is what follows from an incident.
type Do string

// What follows.
const (
	Attend Do = "attend" // somebody at the office looks at it
	Order  Do = "order"  // a work order opens
)

// Values lists them, for generated types.
func (Do) Values() []string { return []string{string(Attend), string(Order)} }

// Rule says when something is wrong with a machine.
type Rule struct {
	ID    string           `json:"id"`
	Point string           `json:"point"` // of the kind of machine; "" of a silent rule: any
	When  When             `json:"when"`
	Limit *decimal.Decimal `json:"limit,omitempty"`
	// Back is from where on a value is well again, and Limit where that is absent: below it of what was above, above it of what was below.
	Back *decimal.Decimal `json:"back,omitempty"`
	Per  int              `json:"per,omitempty"` // minutes, of a rate
	For  int              `json:"for,omitempty"` // minutes for which it must be so
	// From and To bound the times of day in which something begins to be wrong, by the company's clock, and Days the weekdays, as digits
	// (0 is Sunday). "": at any.
	From string `json:"from,omitempty"`
	To   string `json:"to,omitempty"`
	Days string `json:"days,omitempty"`

	Do       Do            `json:"do"`
	Text     string        `json:"text"` // what is wrong, as the office and the work order say it
	Priority work.Priority `json:"priority,omitempty"`
	Minutes  int           `json:"minutes,omitempty"` // that the work is expected to take
	Skills   []string      `json:"skills,omitempty"`
}

// Rules are those of a kind of machine. The document has the kind's id.
type Rules struct {
	Rules []Rule `json:"rules,omitempty"`
}

// Settings are a company's rules of signals.
type Settings struct {
	// Keep is for how many days signals are kept as they came; 0: UsualKeep.
	Keep int `json:"keep,omitempty"`
}

// UsualKeep is for how many days signals are kept where a company says nothing, MostKeep for how many at most.
const (
	UsualKeep = 30
	MostKeep  = 400
)

// Days is for how many days signals are kept.
func (s Settings) Days() int {
	if s.Keep < 1 {
		return UsualKeep
	}
	return min(s.Keep, MostKeep)
}

// Check says what is wrong with settings: nothing can be.
func (s Settings) Check() error { return nil }

// CheckRules says what of them can't be meant.
func (s Settings) CheckRules() error {
	if s.Keep < 0 || s.Keep > MostKeep {
		return msg.New("settings.number", "field", "keep")
	}
	return nil
}

// How many rules a kind has at most, and for how long something must be so.
const (
	mostRules   = 50
	mostMinutes = 7 * 24 * 60
)

// Check says what is wrong with rules, whatever the points of the kind.
func (r Rules) Check() error {
	if len(r.Rules) > mostRules {
		return msg.New("settings.list", "list", "rules", "max", strconv.Itoa(mostRules))
	}
	for i, x := range r.Rules {
		if err := x.check(); err != nil {
			return err
		}
		if slices.ContainsFunc(r.Rules[:i], func(y Rule) bool { return y.ID == x.ID }) {
			return msg.New("signal.twice", "text", x.Text)
		}
	}
	return nil
}

func (r Rule) check() error {
	if err := records.CheckID(r.ID); err != nil {
		return err
	}
	if r.Point != "" || r.When != Silent {
		if err := records.CheckID(r.Point); err != nil {
			return err
		}
	}
	if !slices.Contains(r.When.Values(), string(r.When)) || !slices.Contains(r.Do.Values(), string(r.Do)) {
		return msg.New("signal.rule", "text", records.Clip(r.Text))
	}
	if r.Do == Order && (!slices.Contains(r.Priority.Values(), string(r.Priority)) || r.Minutes < 1 || r.Minutes > work.MaxMinutes) {
		return msg.New("signal.order", "text", records.Clip(r.Text))
	}
	if r.For < 0 || r.For > mostMinutes || r.Per < 0 || r.Per > mostMinutes || len(r.Skills) > mostRules {
		return msg.New("signal.minutes", "text", records.Clip(r.Text))
	}
	if err := r.hours(); err != nil {
		return err
	}
	if err := r.limits(); err != nil {
		return err
	}
	return records.CheckText("text", r.Text, true, 200)
}

// hours checks in which hours it holds.
func (r Rule) hours() error {
	for _, text := range []string{r.From, r.To} {
		if _, err := time.Parse("15:04", text); text != "" && err != nil {
			return msg.New("signal.hours", "text", records.Clip(r.Text))
		}
	}
	wrongDay := strings.ContainsFunc(r.Days, func(c rune) bool { return c < '0' || c > '6' })
	if (r.From == "") != (r.To == "") || r.From != "" && r.From == r.To || wrongDay || len(r.Days) > 7 {
		return msg.New("signal.hours", "text", records.Clip(r.Text))
	}
	return nil
}

// limits checks that it neither fires always nor never, by itself.
func (r Rule) limits() error {
	wrong := func(code string) error { return msg.New(code, "text", records.Clip(r.Text)) }
	switch r.When {
	case Silent:
		if r.For < 1 {
			return wrong("signal.always")
		}
	case Changed:
	case Rate:
		if r.Limit == nil || r.Per < 1 {
			return wrong("signal.limit")
		}
		if r.Limit.Sign() <= 0 {
			return wrong("signal.always")
		}
		if r.Back != nil && r.Back.GreaterThan(*r.Limit) {
			return wrong("signal.back")
		}
	default:
		if r.Limit == nil {
			return wrong("signal.limit")
		}
		if r.Back != nil && (r.When == Above && r.Back.GreaterThan(*r.Limit) || r.When == Below && r.Back.LessThan(*r.Limit)) {
			return wrong("signal.back")
		}
	}
	return nil
}

// CheckFor says what is wrong with rules of a kind that has some points: a rule of none of them, and limits past what can be measured,
// which would fire always or never.
func (r Rules) CheckFor(points []reading.Point) error {
	for _, x := range r.Rules {
		if x.Point == "" {
			continue
		}
		p, ok := reading.Find(points, x.Point)
		if !ok {
			return msg.New("signal.point", "text", x.Text)
		}
		if x.Limit == nil || x.When != Above && x.When != Below {
			continue
		}
		past := p.Most != nil && x.Limit.GreaterThanOrEqual(*p.Most)
		before := p.Least != nil && x.Limit.LessThanOrEqual(*p.Least)
		switch {
		case x.When == Above && past, x.When == Below && before:
			return msg.New("signal.never", "text", x.Text)
		case x.When == Above && p.Least != nil && x.Limit.LessThan(*p.Least), x.When == Below && p.Most != nil && x.Limit.GreaterThan(*p.Most):
			return msg.New("signal.always", "text", x.Text)
		}
	}
	return nil
}

// In tells whether it is one of the hours in which something begins to be wrong; t is by the company's clock.
func (r Rule) In(t time.Time) bool {
	if r.Days != "" && !strings.ContainsRune(r.Days, rune('0'+int(t.Weekday()))) {
		return false
	}
	if r.From == "" {
		return true
	}
	now := t.Format("15:04")
	if r.From < r.To {
		return r.From <= now && now < r.To
	}
	return now >= r.From || now < r.To // over midnight
}
