package labor_test

import (
	"fmt"
	"time"

	"iter.example/iter/core/labor"
)

// A technician travels, works, is called away with the visit open, and finishes it late: the late finish adds nothing.
func ExampleSpans() {
	at := func(hour, minute int) time.Time { return time.Date(2026, 3, 10, hour, minute, 0, 0, time.UTC) }
	stamps := []labor.Stamp{
		{Entry: "1", At: at(8, 0), What: labor.What{Kind: labor.Travel, Visit: "A"}},
		{Entry: "2", At: at(8, 30), What: labor.What{Kind: labor.Work, Visit: "A"}},
		{Entry: "3", At: at(9, 10), What: labor.What{Kind: labor.Travel, Visit: "B"}},
		{Entry: "4", At: at(9, 12), What: labor.What{Kind: labor.Stop, Visit: "A"}},
	}
	for _, s := range labor.Spans(at(9, 30), labor.Timecard{Stamps: stamps}) {
		fmt.Println(s.Visit, s.Kind, s.End.Sub(s.Start), s.Open)
	}
	// Output:
	// A travel 30m0s false
	// A work 40m0s false
	// B travel 20m0s true
}

// The night the clocks go forward has 23 hours.
func ExampleSplit() {
	loc, _ := time.LoadLocation("Europe/Dublin")
	zone := labor.ZoneOf(loc, 2026, 2026)
	shift := labor.Span{What: labor.What{Kind: labor.Work}, Start: time.Date(2026, 3, 28, 22, 0, 0, 0, loc),
		End: time.Date(2026, 3, 30, 1, 0, 0, 0, loc)}
	for _, s := range labor.Split([]labor.Span{shift}, zone) {
		fmt.Println(zone.In(s.Start).Format(time.DateOnly), s.Seconds()/3600)
	}
	// Output:
	// 2026-03-28 2
	// 2026-03-29 23
	// 2026-03-30 1
}
