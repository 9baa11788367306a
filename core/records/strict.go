package records

import (
	"slices"
	"strconv"

	"iter.example/iter/core/labor"
	"iter.example/iter/core/msg"
)

// What is asked of a record since version 2 of the entries about records (CheckNew), beside what Check asks. What was recorded before
// stands as it is.

// CheckNew says where a point can't be on earth.
func (p Point) CheckNew() error {
	if !(p.Lat >= -90 && p.Lat <= 90 && p.Lon >= -180 && p.Lon <= 180) {
		return msg.New("site.position")
	}
	return nil
}

// CheckNew says what is wrong with a person's record beside what it lacks.
func (p Person) CheckNew() error {
	if p.Home != nil {
		if err := p.Home.CheckNew(); err != nil {
			return err
		}
	}
	if p.Van != "" {
		if err := CheckID(p.Van); err != nil {
			return err
		}
	}
	if len(p.Skills) > maxList {
		return msg.New("settings.list", "list", "skills", "max", strconv.Itoa(maxList))
	}
	return checkShort([][2]string{{"short", p.Short}, {"phone", p.Phone}, {"email", p.Email}})
}

// checkZone says why a zone can't be a company's: it has no name, or no hours from UTC that a place can have.
func checkZone(z labor.Zone) error {
	const furthest = 16 * 60 * 60 // seconds; no zone is as far from UTC
	far := func(s labor.Shift) bool { return s.Offset < -furthest || s.Offset > furthest }
	sorted := slices.IsSortedFunc(z.Shifts, func(a, b labor.Shift) int { return int(min(max(a.From-b.From, -1), 1)) })
	if z.Name == "" || len(z.Name) > 100 || len(z.Shifts) == 0 || len(z.Shifts) > 2000 || !sorted || slices.ContainsFunc(z.Shifts, far) {
		return msg.New("settings.zone", "zone", Clip(z.Name))
	}
	return nil
}
