package plan

import (
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

// CheckNew says what of them can't be meant.
func (s Settings) CheckNew() error {
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
