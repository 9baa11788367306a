package api

import (
	"cmp"
	"slices"
	"time"

	"github.com/gin-gonic/gin"

	"iter.example/iter/core/calendar"
	"iter.example/iter/core/records"
	core "iter.example/iter/core/upkeep"
	"iter.example/iter/server/store"
	"iter.example/iter/server/upkeep"
)

// Load is how much work of maintenance plans the coming weeks bring, against the hours of those who can do it.
type Load struct {
	Skills []records.Choice `json:"skills"` // that work may need, in the company's order
	Weeks  []LoadWeek       `json:"weeks"`
}

// LoadWeek is a week: minutes of work that is due, and minutes that people have, of all ("") and of each skill.
type LoadWeek struct {
	Monday string         `json:"monday"` // 2006-01-02
	Due    map[string]int `json:"due"`
	Jobs   int            `json:"jobs"`
	Hours  map[string]int `json:"hours"`
}

// loadWeeks is for how many weeks the load is worked out.
const loadWeeks = 53

// load tells how much work the coming year brings, by week and skill.
func (s *Server) load(c *gin.Context) (*Load, error) {
	now := s.now(c)
	return read(s, c, func(tx *store.Tx) (*Load, error) {
		rules, err := tx.Settings(now)
		if err != nil {
			return nil, err
		}
		zone := rules.Company.Zone
		today := zone.In(now)
		monday := today.AddDate(0, 0, -(int(today.Weekday())+6)%7)
		out := &Load{Skills: append([]records.Choice{}, rules.Orders.Skills...)}
		for i := range loadWeeks {
			out.Weeks = append(out.Weeks, LoadWeek{Monday: monday.AddDate(0, 0, 7*i).Format(time.DateOnly), Due: map[string]int{},
				Hours: map[string]int{}})
		}
		until := core.AddDays(out.Weeks[loadWeeks-1].Monday, 6)
		if err := upkeep.EachDue(tx, today.Format(time.DateOnly), until, out.add); err != nil {
			return nil, err
		}
		return out, eachTechnician(tx, rules, func(_ string, p records.Person, times calendar.Times) error {
			for i := range out.Weeks {
				w := &out.Weeks[i]
				for day := range 7 {
					date := core.AddDays(w.Monday, day)
					minutes := int(calendar.Sum(times.On(date, zone)) / time.Minute)
					for _, skill := range append(p.SkillsOn(date), "") {
						w.Hours[skill] += minutes
					}
				}
			}
			return nil
		})
	})
}

// add adds work that is due on a day: what is late is of this week.
func (l *Load) add(day string, p core.Plan) {
	i, found := slices.BinarySearchFunc(l.Weeks, day, func(w LoadWeek, day string) int { return cmp.Compare(w.Monday, day) })
	if !found {
		i = max(i-1, 0)
	}
	w := &l.Weeks[i]
	w.Jobs++
	w.Due[""] += p.Minutes
	for _, skill := range p.Skills {
		w.Due[skill] += p.Minutes
	}
}
