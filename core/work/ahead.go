package work

import (
	"time"

	"iter.example/iter/core/records"
)

// Coming is a visit of somebody's plan, as far as it matters how far ahead they see.
type Coming struct {
	ID    string
	Start time.Time
	Stage Stage
}

// SeenAhead tells which of somebody's visits they see, by id: those that are begun or over and those that are left of the days before
// always, of what is to come as much as the company says. tomorrow is when that day begins.
func SeenAhead(ahead records.Ahead, tomorrow time.Time, list []Coming) map[string]bool {
	out := map[string]bool{}
	var next *Coming
	for i, v := range list {
		out[v.ID] = true
		if v.Start.Before(tomorrow.AddDate(0, 0, -1)) || v.Stage.Begun() || v.Stage == Finished || v.Stage == Withdrawn {
			continue
		}
		switch ahead {
		case records.AheadToday:
			out[v.ID] = v.Start.Before(tomorrow)
		case records.AheadNext:
			out[v.ID] = false
			if v.Stage != Declined && (next == nil || v.Start.Before(next.Start) || v.Start.Equal(next.Start) && v.ID < next.ID) {
				next = &list[i]
			}
		}
	}
	if next != nil {
		out[next.ID] = true
	}
	return out
}
