package bridge

import (
	"time"

	"iter.example/iter/core/labor"
	"iter.example/iter/core/plan"
	"iter.example/iter/core/records"
	"iter.example/iter/core/roads"
	"iter.example/iter/core/work"
)

var routeFunctions = functions{
	"route": with(func(in Route) ([]plan.Leg, error) {
		stops, now := in.arranged()
		return plan.Route(stops, in.Order, in.Start, now, in.Ways, roads.NewHours(in.Busy)), nil
	}),
	"order": with(func(in Route) (plan.Ordered, error) {
		stops, now := in.arranged()
		return plan.Order(stops, in.Order, in.Start, now, in.Ways, roads.NewHours(in.Busy)), nil
	}),
}

// RouteStop is a visit of the day with its work order and site.
type RouteStop struct {
	ID    string       `json:"id"`
	Visit work.Visit   `json:"visit"`
	Order work.Order   `json:"order"`
	Site  records.Site `json:"site"`
}

// Route asks for a day's stops as they will be: in order, with the legs between them. Start is where the day begins, Order
// the person's own order of the stops, and Ways the ways that are known.
type Route struct {
	Stops []RouteStop    `json:"stops"`
	Order []string       `json:"order"`
	Start *records.Point `json:"start,omitempty"`
	Now   int64          `json:"now"`
	Zone  labor.Zone     `json:"zone"`
	Ways  *roads.Answers `json:"ways,omitempty"`
	Busy  []roads.Busy   `json:"busy,omitempty"`
}

func (r Route) arranged() ([]plan.Stop, time.Time) {
	var stops []plan.Stop
	for _, s := range r.Stops {
		stops = append(stops, plan.StopOf(s.ID, s.Visit, s.Order, s.Site))
	}
	return plan.Arrange(stops, r.Order), r.Zone.In(time.UnixMilli(r.Now))
}
