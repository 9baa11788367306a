package demo

import (
	"fmt"
	"slices"

	"github.com/shopspring/decimal"

	"iter.example/iter/core/upkeep"
	"iter.example/iter/core/work"
)

// upkeep makes the firm's agreements and maintenance plans: with it since some weeks, they fall due from the coming days on.
func (g *generator) upkeep() error {
	at := g.local(g.now.AddDate(0, 0, -20))
	machines := func(customer, kind string) (out []string) {
		for _, s := range g.sites {
			for _, a := range s.assets {
				if s.customer == customer && a.kind == kind {
					out = append(out, a.id)
				}
			}
		}
		return out
	}
	care := work.Agreement{Customer: "C150", Name: "Care homes, full care", From: g.dateIn(-300), To: g.dateIn(430),
		Assets:   slices.Concat(machines("C150", "booster"), machines("C150", "uv")),
		Promises: []work.PromiseRule{{Priority: work.Emergency, Hours: 4}, {Priority: work.Soon, Days: 1, Until: "17:00"}},
		Note:     "Ring the matron an hour ahead."}
	if err := g.record("agreement", "care", at, care); err != nil {
		return err
	}
	plans := []upkeep.Plan{
		{Name: "Care homes, UV and boosters", Agreement: "care", Rule: "FREQ=MONTHLY;INTERVAL=3", Begin: g.dateIn(24),
			Before: 7, After: 7, Ahead: 14, Job: work.Job{Problem: "Quarterly check of booster set and UV unit", Kind: "service", Minutes: 60,
				Tasks: []string{"Check and clean", "Test the alarm"}}},
		{Name: "Boreholes, every 2,000 hours", Assets: machines("C101", "borehole"), Begin: g.dateIn(-400), After: 14, Ahead: 21,
			Counter: &upkeep.Counter{Point: "hours", Every: decimal.NewFromInt(2000)},
			Job: work.Job{Problem: "Pump check after 2,000 hours", Kind: "service", Minutes: 90, Skills: []string{"pumps"},
				Tasks: []string{"Measure insulation and level", "Test pumping"}}},
		{Name: "Frost check of the crofts", Assets: machines("C160", "vessel"), Begin: g.dateIn(40), Before: 10, After: 10, Ahead: 10,
			Rule: "FREQ=YEARLY", Job: work.Job{Problem: "Before the frost: vessel and lagging", Kind: "service", Minutes: 30}},
	}
	for _, s := range g.sites {
		if s.customer != "C100" && s.customer != "C110" || len(plans) > 16 {
			continue
		}
		n := len(plans) - 3
		var boosters, dosing []string
		for _, a := range s.assets {
			switch a.kind {
			case "booster":
				boosters = append(boosters, a.id)
			case "dosing":
				dosing = append(dosing, a.id)
			}
		}
		if len(boosters) > 0 {
			plans = append(plans, upkeep.Plan{Name: "Booster set, half-yearly, " + s.name, Assets: boosters, Job: boosterService,
				Rule: "FREQ=MONTHLY;INTERVAL=6", Begin: g.dateIn(3 + 9*n), Before: 7, After: 14, Ahead: 14, FromLast: n%3 == 0})
		}
		if len(dosing) > 0 {
			plans = append(plans, upkeep.Plan{Name: "Dosing unit, every two months, " + s.name, Assets: dosing, Job: doseCalibration,
				Rule: "FREQ=MONTHLY;INTERVAL=2", Begin: g.dateIn(8 + 9*n), Before: 5, After: 10, Ahead: 14})
		}
	}
	for i, p := range plans {
		if len(p.Assets) == 0 && p.Agreement == "" {
			continue
		}
		if err := g.record("upkeep", fmt.Sprintf("u%02d", i+1), at, p); err != nil {
			return err
		}
	}
	return nil
}
