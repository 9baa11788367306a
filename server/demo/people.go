package demo

import (
	"time"

	"iter.example/iter/core/calendar"
	"iter.example/iter/core/ledger"
	"iter.example/iter/core/plan"
	"iter.example/iter/core/records"
)

// planned are the firm's rules of planning: weekdays, and Saturday mornings for nobody yet.
func planned() plan.Settings {
	usual := calendar.Week{}
	for day := 1; day <= 5; day++ {
		usual.Days[day] = []calendar.Stretch{{From: "07:30", To: "12:00"}, {From: "12:30", To: "16:00"}}
	}
	return plan.Settings{
		Hours:    []calendar.Week{usual},
		Absences: []records.Choice{{ID: "leave", Text: "Leave"}, {ID: "sick", Text: "Sick"}, {ID: "course", Text: "Course"}},
		Teams:    []records.Choice{{ID: "north", Text: "North shore"}, {ID: "south", Text: "South shore"}},
	}
}

func weekdays(begin, end string, days ...int) calendar.Week {
	w := calendar.Week{}
	for _, d := range days {
		w.Days[d] = []calendar.Stretch{{From: begin, To: end}}
	}
	return w
}

// things are what the firm books beside people.
var things = map[string]records.Resource{
	"boat": {Name: "Work boat", Kind: "boat", Note: "Berth 4, key in the yard office."},
	"rig":  {Name: "Lifting rig", Kind: "rig"},
}

// teams are who is in which, by turns.
var teams = []string{"north", "south"}

// hoursOf are the hours of whoever has none as usual.
func hoursOf(tech string) []calendar.Week {
	if tech == "fenna" { // not on Wednesdays
		return []calendar.Week{weekdays("07:00", "16:30", 1, 2, 4, 5)}
	}
	return nil
}

// dateIn is the date some days from now.
func (g *generator) dateIn(days int) string {
	return g.local(g.now.AddDate(0, 0, days)).Format(time.DateOnly)
}

// off records who is off in the days to come, and who asks to be.
func (g *generator) off() error {
	say := func(person, actor string, ago time.Duration, off calendar.Off, note string) error {
		at := g.local(g.now.Add(-ago))
		w := g.w
		if phone := g.phones[actor]; phone != nil {
			w = phone
		}
		_, err := w.Append("absence.asked", ledger.AbsencesRef(person), actor, at, ledger.AbsenceAsked{Off: off, Note: note}, nil)
		return err
	}
	if err := say("jory", "mirin", 50*time.Hour, calendar.Off{From: g.dateIn(5), To: g.dateIn(12), Why: "leave"}, ""); err != nil {
		return err
	}
	if err := say("kerra", "mirin", 30*time.Hour, calendar.Off{From: g.dateIn(4), To: g.dateIn(4), Why: "course"},
		"Confined spaces, refresher"); err != nil {
		return err
	}
	return say("idris", "idris", 20*time.Hour, calendar.Off{From: g.dateIn(9), To: g.dateIn(10), Why: "leave"}, "My sister is getting married")
}
