package bridge

import (
	"cmp"
	"time"

	"iter.example/iter/core/calendar"
	"iter.example/iter/core/labor"
	"iter.example/iter/core/ledger"
	"iter.example/iter/core/settings"
	"iter.example/iter/core/view"
	"iter.example/iter/core/work"
)

var dayFunctions = functions{
	"dock":      with(func(in Dock) (Docked, error) { return in.dock() }),
	"standings": with(func(in Standings) (Stood, error) { return in.standings() }),
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
	"turns": with(func(in Turns) ([]calendar.Turn, error) {
		span := calendar.Interval{Begin: in.Zone.In(time.UnixMilli(in.Now))}
		span.End = span.Begin.AddDate(0, 0, in.Days)
		return append([]calendar.Turn{}, calendar.DutyOf(in.Rotas, in.Person, span, in.Zone)...), nil
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

// Turns asks when somebody is on duty in the coming days.
type Turns struct {
	Person string          `json:"person"`
	Rotas  []calendar.Rota `json:"rotas"`
	Zone   labor.Zone      `json:"zone"`
	Now    int64           `json:"now"` // milliseconds since 1970
	Days   int             `json:"days"`
}

// DatedSettings asks which of the company's rules hold at a moment.
type DatedSettings struct {
	Subjects map[string]settings.Dated `json:"subjects"`
	Now      int64                     `json:"now"` // milliseconds since 1970, on the server's clock
}

// Dock asks what a person can do on a visit, by the clocks on their timecards. Sites are the sites of the visits that are on the cards, by
// visit.
type Dock struct {
	Moment
	ID     string            `json:"id"`
	Person string            `json:"person"`
	Cards  []string          `json:"cards"`
	Sites  map[string]string `json:"sites"`
}

// Docked is that: none of a visit that is not there.
type Docked struct {
	Asked
	Dock *view.Dock `json:"dock,omitempty"`
}

func (in Dock) dock() (Docked, error) {
	docs := in.ask()
	var v work.Visit
	var o work.Order
	found, err := docs.look("visit", in.ID, &v)
	if err == nil && found {
		_, err = docs.look("workorder", v.Order, &o)
	}
	cards, err := docs.cards(in.Cards, err)
	if err != nil || !found || len(docs.wanted) > 0 {
		return Docked{Asked: docs.and(docs.wanted)}, err
	}
	dock := view.DockOf(in.ID, v, o, in.Person, view.Clocks{Now: in.now(), Cards: cards, Sites: in.Sites})
	return Docked{docs.and(nil), &dock}, nil
}

// Standings asks where visits stand by the clocks of those who are on them, on their timecards.
type Standings struct {
	Moment
	Visits []string `json:"visits"`
	Cards  []string `json:"cards"`
}

// Stood is that, in the order of the visits: of one that is not there, nothing is known.
type Stood struct {
	Asked
	Standings []work.Standing `json:"standings"`
}

func (in Standings) standings() (Stood, error) {
	docs := in.ask()
	out := Stood{Standings: make([]work.Standing, len(in.Visits))}
	cards, err := docs.cards(in.Cards, nil)
	for i, id := range in.Visits {
		var v work.Visit
		found, e := docs.look("visit", id, &v)
		if err = cmp.Or(err, e); found {
			out.Standings[i] = v.StandingAt(id, in.now(), cards)
		}
	}
	out.Asked = docs.and(docs.wanted)
	return out, err
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
