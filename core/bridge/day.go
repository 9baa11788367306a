package bridge

import (
	"time"

	"iter.example/iter/core/labor"
	"iter.example/iter/core/ledger"
	"iter.example/iter/core/settings"
	"iter.example/iter/core/view"
	"iter.example/iter/core/work"
)

var dayFunctions = functions{
	"dock": with(func(in Dock) (view.Dock, error) {
		clocks := view.Clocks{Now: in.Zone.In(time.UnixMilli(in.Now)), Cards: in.Cards, Sites: in.Sites}
		return view.DockOf(in.ID, in.Visit, in.Order, in.Person, clocks), nil
	}),
	"standings": with(func(in Standings) ([]work.Standing, error) {
		out := make([]work.Standing, len(in.Visits))
		for i, v := range in.Visits {
			out[i] = v.Visit.StandingAt(v.ID, in.Zone.In(time.UnixMilli(in.Now)), in.Cards)
		}
		return out, nil
	}),
	"days": with(func(in Days) ([]labor.Day, error) {
		rules, err := ledger.PayRules(func(_ ledger.Ref, v any) (bool, error) { *v.(*settings.Dated) = in.Pay; return true, nil })
		return labor.Days(in.Zone.In(time.UnixMilli(in.Now)), in.Zone, rules, in.Cards...), err
	}),
	"settings": with(func(in DatedSettings) (ledger.Settings, error) {
		load := func(r ledger.Ref, v any) (bool, error) {
			d, ok := in.Subjects[r.ID]
			*v.(*settings.Dated) = d
			return ok, nil
		}
		return ledger.AllSettings(load, time.UnixMilli(in.Now))
	}),
	"holds": with(func(in Holds) (Held, error) {
		out := Held{Most: in.Rules.Holds()}
		for _, o := range in.Orders {
			out.Count += len(o.OnHold(in.Person))
		}
		return out, nil
	}),
}

// Days asks for a person's days from their timecards. For the week's overtime they go back to a Monday, and a day more for
// what ran over midnight.
type Days struct {
	Cards []labor.Timecard `json:"cards"`
	Now   int64            `json:"now"`
	Zone  labor.Zone       `json:"zone"`
	Pay   settings.Dated   `json:"pay"` // the terms of pay
}

// DatedSettings asks which of the company's rules hold at a moment.
type DatedSettings struct {
	Subjects map[string]settings.Dated `json:"subjects"`
	Now      int64                     `json:"now"` // milliseconds since 1970, on the server's clock
}

// Clocks are what the clocks of some people say at a moment.
type Clocks struct {
	Cards []labor.Timecard `json:"cards"`
	Now   int64            `json:"now"` // milliseconds since 1970, on the server's clock
	Zone  labor.Zone       `json:"zone"`
}

// Dock asks what a person can do on a visit. Sites are the sites of the visits that are on the cards, by visit.
type Dock struct {
	Clocks
	ID     string            `json:"id"`
	Visit  work.Visit        `json:"visit"`
	Order  work.Order        `json:"order"`
	Person string            `json:"person"`
	Sites  map[string]string `json:"sites"`
}

// Standings asks where visits stand by the clocks of those who are on them.
type Standings struct {
	Clocks
	Visits []KnownVisit `json:"visits"`
}

// KnownVisit is a visit with its id.
type KnownVisit struct {
	ID    string     `json:"id"`
	Visit work.Visit `json:"visit"`
}

// Holds asks how many tasks a person has on hold, and how many they may.
type Holds struct {
	Orders []work.Order       `json:"orders"`
	Person string             `json:"person"`
	Rules  work.OrderSettings `json:"rules"`
}

// Held answers Holds.
type Held struct {
	Count int `json:"count"`
	Most  int `json:"most"`
}
