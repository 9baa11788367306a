package plan

import (
	"slices"
	"strconv"
	"time"
	"unicode/utf8"

	"iter.example/iter/core/calendar"
	"iter.example/iter/core/msg"
	"iter.example/iter/core/records"
)

// Settings are a company's rules of planning.
type Settings struct {
	// Hours are the usual weeks of those who have none of their own.
	Hours []calendar.Week `json:"hours,omitempty"`
	// Absences are reasons to be off, Teams those that people are in.
	Absences []records.Choice `json:"absences,omitempty"`
	Teams    []records.Choice `json:"teams,omitempty"`
	Areas    []Area           `json:"areas,omitempty"`
	Rotas    []calendar.Rota  `json:"rotas,omitempty"`
	// Marks tell kinds of work apart on the board.
	Marks []KindMark `json:"marks,omitempty"`
	// Weights say what counts how much when a place for a visit is looked for; nil: as usual.
	Weights *Weights `json:"weights,omitempty"`
	// Timetable has the coming days planned each morning; nil: by hand alone.
	Timetable *Timetable `json:"timetable,omitempty"`
}

// Timetable has the program plan what waits each day, into the draft of somebody at the office, if that is empty.
type Timetable struct {
	At     string `json:"at"`   // 05:00
	Days   int    `json:"days"` // from today on
	Person string `json:"person"`
	Move   bool   `json:"move,omitempty"` // what is planned too
}

// MostAhead is for how many days it is planned ahead at most.
const MostAhead = 14

func (a *Timetable) check() error {
	if a == nil {
		return nil
	}
	if _, err := time.Parse("15:04", a.At); err != nil || a.Days < 1 || a.Days > MostAhead {
		return msg.New("settings.timetable", "max", strconv.Itoa(MostAhead))
	}
	return records.CheckID(a.Person)
}

// Weights say how much something counts beside driving. The first four are how many seconds of driving a second of it is worth, the others
// how many minutes.
type Weights struct {
	Late     int `json:"late"`     // after what was promised
	Overtime int `json:"overtime"` // outside somebody's hours
	After    int `json:"after"`    // that a visit begins later than it was planned
	Shut     int `json:"shut"`     // in which the site is closed, or a thing is booked otherwise

	Elsewhere int `json:"elsewhere"` // outside somebody's areas
	Parts     int `json:"parts"`     // each part that the van lacks
	Asked     int `json:"asked"`     // that somebody who is asked for is worth
	Knows     int `json:"knows"`     // that somebody who knows the site is worth
	Hour      int `json:"hour"`      // each hour that it begins later
	Even      int `json:"even"`      // to share a full day's work between two rather than give it all to one
}

// UsualWeights are those of a company that says nothing of them: a promise that is broken weighs more than any detour within an area.
var UsualWeights = Weights{Late: 4, Overtime: 2, After: 1, Shut: 4, Elsewhere: 15, Parts: 20, Asked: 30, Knows: 5, Hour: 1, Even: 5}

// How much can weigh at most: a second, and whatever has minutes.
const (
	mostTimes   = 100
	mostMinutes = 24 * 60
)

func (w *Weights) check() error {
	if w == nil {
		return nil
	}
	for most, list := range map[int][]int{mostTimes: {w.Late, w.Overtime, w.After, w.Shut},
		mostMinutes: {w.Elsewhere, w.Parts, w.Asked, w.Knows, w.Hour, w.Even}} {
		for _, n := range list {
			if n < 0 || n > most {
				return msg.New("settings.number", "field", "weights")
			}
		}
	}
	return nil
}

// KindMark is how a kind of work is marked: by a word or a pattern, which may have a colour besides.
type KindMark struct {
	Kind    string      `json:"kind"` // of the settings of orders
	Word    string      `json:"word,omitempty"`
	Pattern MarkPattern `json:"pattern,omitempty"`
	Colour  MarkColour  `json:"colour,omitempty"`
}

// MarkPattern is what a mark is filled with: of one colour all over where none is given.
type MarkPattern string

// Patterns.
const (
	Stripes MarkPattern = "stripes"
	Bars    MarkPattern = "bars"
	Dots    MarkPattern = "dots"
	Checks  MarkPattern = "checks"
)

// Values lists the patterns, for generated types.
func (MarkPattern) Values() []string {
	return []string{string(Stripes), string(Bars), string(Dots), string(Checks)}
}

// MarkColour is one of those that are told from each other on every ground; that of the text where none is given.
type MarkColour string

// Colours.
const (
	Sea   MarkColour = "sea"
	Moss  MarkColour = "moss"
	Rust  MarkColour = "rust"
	Plum  MarkColour = "plum"
	Ochre MarkColour = "ochre"
)

// Values lists the colours, for generated types.
func (MarkColour) Values() []string {
	return []string{string(Sea), string(Moss), string(Rust), string(Plum), string(Ochre)}
}

// mostWord is how many letters a mark's word has at most: it stands within a visit on the board.
const mostWord = 12

func (m KindMark) check() error {
	known := (m.Pattern == "" || slices.Contains(m.Pattern.Values(), string(m.Pattern))) &&
		(m.Colour == "" || slices.Contains(m.Colour.Values(), string(m.Colour)))
	if !known || utf8.RuneCountInString(m.Word) > mostWord || (m.Word == "" && m.Pattern == "") {
		return msg.New("settings.mark", "kind", records.Clip(m.Kind))
	}
	if err := records.CheckID(m.Kind); err != nil {
		return err
	}
	return records.CheckText("word", m.Word, false, mostWord*utf8.UTFMax)
}

// Area is a part of the map: what is within its line.
type Area struct {
	ID   string          `json:"id"`
	Name string          `json:"name"`
	Line []records.Point `json:"line"`
}

// How many areas there are at most, and how many corners they have.
const (
	mostAreas   = 200
	mostCorners = 200
)

// Check says what is wrong with rules of planning: nothing can be.
func (s Settings) Check() error { return nil }

// CheckRules says what of them can't be meant.
func (s Settings) CheckRules() error {
	if err := calendar.CheckWeeks(s.Hours); err != nil {
		return err
	}
	if len(s.Areas) > mostAreas {
		return msg.New("area.many")
	}
	for _, a := range s.Areas {
		if err := a.check(); err != nil {
			return err
		}
	}
	if err := calendar.CheckRotas(s.Rotas); err != nil {
		return err
	}
	if err := s.Timetable.check(); err != nil {
		return err
	}
	if err := s.Weights.check(); err != nil {
		return err
	}
	for i, m := range s.Marks {
		if err := m.check(); err != nil {
			return err
		}
		if slices.ContainsFunc(s.Marks[:i], func(x KindMark) bool { return x.Kind == m.Kind }) {
			return msg.New("settings.mark", "kind", m.Kind)
		}
	}
	return records.CheckChoices(records.Choices{"absences": s.Absences, "teams": s.Teams})
}

func (a Area) check() error {
	if err := records.CheckID(a.ID); err != nil {
		return err
	}
	if len(a.Line) < 3 || len(a.Line) > mostCorners {
		return msg.New("area.corners")
	}
	for _, p := range a.Line {
		if err := p.CheckNew(); err != nil {
			return err
		}
	}
	return records.CheckText("name", a.Name, true, 200)
}

// Contains tells whether a point is within an area, by how often a line from it crosses the area's.
func (a Area) Contains(p records.Point) bool {
	in := false
	for i, q := range a.Line {
		r := a.Line[(i+1)%len(a.Line)]
		if (q.Lat > p.Lat) != (r.Lat > p.Lat) && p.Lon < q.Lon+(p.Lat-q.Lat)/(r.Lat-q.Lat)*(r.Lon-q.Lon) {
			in = !in
		}
	}
	return in
}
