// Package feed writes a person's plan as an iCalendar (RFC 5545), for calendars that read it by its address.
package feed

import (
	"time"

	ics "github.com/arran4/golang-ical"

	"iter.example/iter/core/records"
)

// Event is a visit, or when somebody is off.
type Event struct {
	ID          string
	Summary     string
	Location    string
	Description string
	Start, End  time.Time
	AllDay      bool // from the date of Start to that of End, which is the first that is not part of it
	At          *records.Point
}

// every is how often calendars are asked to read it anew.
const every = "PT15M"

// Calendar writes the plan of somebody as it is now.
func Calendar(name string, events []Event, now time.Time) string {
	c := ics.NewCalendar()
	c.SetProductId("-//Iter//Plan//EN")
	c.SetMethod(ics.MethodPublish)
	c.SetName(name)
	c.SetXWRCalName(name)
	c.SetRefreshInterval(every)
	c.SetXPublishedTTL(every)
	for _, e := range events {
		v := c.AddEvent(e.ID + "@iter")
		v.SetDtStampTime(now)
		v.SetSummary(e.Summary)
		if e.AllDay {
			v.SetAllDayStartAt(e.Start)
			v.SetAllDayEndAt(e.End)
			v.SetTimeTransparency(ics.TransparencyTransparent)
		} else {
			v.SetStartAt(e.Start)
			v.SetEndAt(e.End)
		}
		if e.Location != "" {
			v.SetLocation(e.Location)
		}
		if e.Description != "" {
			v.SetDescription(e.Description)
		}
		if e.At != nil {
			v.SetGeo(e.At.Lat, e.At.Lon)
		}
	}
	return c.Serialize(ics.WithNewLineWindows) // RFC 5545 asks for both
}
