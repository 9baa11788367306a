package demo

import (
	"time"

	"iter.example/iter/core/calendar"
	"iter.example/iter/core/ledger"
	"iter.example/iter/core/plan"
	"iter.example/iter/core/records"
)

// planned are the firm's rules of planning: weekdays, and Saturday mornings for nobody yet. The first turn on duty begins on a date.
func planned(duty string) plan.Settings {
	usual := calendar.Week{}
	for day := 1; day <= 5; day++ {
		usual.Days[day] = []calendar.Stretch{{From: "07:30", To: "12:00"}, {From: "12:30", To: "16:00"}}
	}
	return plan.Settings{
		Hours:    []calendar.Week{usual},
		Absences: []records.Choice{{ID: "leave", Text: "Leave"}, {ID: "sick", Text: "Sick"}, {ID: "course", Text: "Course"}},
		Teams:    []records.Choice{{ID: "north", Text: "North shore"}, {ID: "south", Text: "South shore"}},
		Areas:    areas,
		Rotas:    []calendar.Rota{nights(duty)},
		Marks: []plan.KindMark{{Kind: "service", Pattern: plan.Dots, Colour: plan.Moss},
			{Kind: "repair", Pattern: plan.Stripes, Colour: plan.Rust},
			{Kind: "installation", Pattern: plan.Bars, Colour: plan.Sea}, {Kind: "survey", Word: "Survey", Pattern: plan.Checks, Colour: plan.Plum}},
	}
}

// areas are the two shores of the coast.
var areas = []plan.Area{
	{ID: "north", Name: "North shore", Line: []records.Point{{Lat: 54.95, Lon: -9.48}, {Lat: 54.95, Lon: -9.12}, {Lat: 54.87, Lon: -8.9},
		{Lat: 54.805, Lon: -8.92}, {Lat: 54.8, Lon: -9.48}}},
	{ID: "south", Name: "South shore", Line: []records.Point{{Lat: 54.8, Lon: -9.34}, {Lat: 54.805, Lon: -8.92}, {Lat: 54.74, Lon: -8.87},
		{Lat: 54.63, Lon: -8.93}, {Lat: 54.64, Lon: -9.25}}},
}

// nights is who is on duty outside the usual hours, a week each.
func nights(from string) calendar.Rota {
	r := calendar.Rota{ID: "nights", Name: "Nights", From: from, Days: 7, People: []string{"ansa", "dilys", "emrick", "garo", "hesper"}}
	for day := range r.Hours {
		r.Hours[day] = []calendar.Stretch{{From: "16:00", To: "07:30"}}
	}
	r.Hours[time.Saturday] = []calendar.Stretch{{From: "07:30", To: "07:30"}}
	r.Hours[time.Sunday] = r.Hours[time.Saturday]
	return r
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
