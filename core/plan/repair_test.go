package plan_test

import (
	"fmt"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"iter.example/iter/core/plan"
)

// told says what is repaired: what was wrong, and who does it when.
func told(list []plan.Repaired) []string {
	out := []string{}
	for _, r := range list {
		where := "nobody"
		if r.Fit != nil {
			where = fmt.Sprintf("%s %d:%02d", r.Fit.Lane, r.Fit.Begin/hour, r.Fit.Begin%hour/minute)
		}
		out = append(out, fmt.Sprintf("%s %s %s", r.ID, r.Trouble, where))
	}
	return out
}

func TestRepair(t *testing.T) {
	for _, c := range []struct {
		name   string
		change func(*plan.Day)
		urgent []string
		want   []string
	}{
		{"a day that is right stays", func(*plan.Day) {}, nil, []string{}},
		{"who is sick has nothing left, and ben's own stays", func(d *plan.Day) { d.Lanes[0].Hours = nil }, nil,
			[]string{"v1 off ben 10:20", "v2 off ben 11:40", "v3 off ben 14:00"}},
		{"what has begun stays with whoever began it", func(d *plan.Day) {
			d.Lanes[0].Hours = nil
			d.Lanes[0].Stops[0].Begun, d.Lanes[0].Stops[0].Were = true, plan.Span{From: 9 * hour, To: 10 * hour}
		}, nil, []string{"v2 off ben 11:00", "v3 off ben 14:00"}},
		{"a skill that is missing is what somebody planned", func(d *plan.Day) { d.Lanes[0].Stops[2].Skills = []string{"pumps"} }, nil,
			[]string{}},
		{"nobody has the skill", func(d *plan.Day) {
			d.Lanes[0].Hours, d.Lanes[0].Stops = nil, d.Lanes[0].Stops[2:]
			d.Lanes[0].Stops[0].Skills = []string{"diving"}
		}, nil, []string{"v3 off nobody"}},
		{"somebody late breaks a promise that another keeps", func(d *plan.Day) {
			d.Lanes[0].Stops[0].Begun, d.Lanes[0].Stops[0].Were = true, plan.Span{From: 9 * hour, To: 13 * hour}
			d.Lanes[0].Stops[1].To = 11*hour + 30*minute
		}, nil, []string{"v2 late ben 11:00"}},
		{"what is fixed stays, late as it may be", func(d *plan.Day) {
			d.Lanes[0].Stops[0].Begun, d.Lanes[0].Stops[0].Were = true, plan.Span{From: 9 * hour, To: 13 * hour}
			d.Lanes[0].Stops[1].To, d.Lanes[0].Stops[1].Fixed = 11*hour+30*minute, true
		}, nil, []string{}},
		{"an emergency comes first", func(d *plan.Day) {
			w := want("e", 3, hour)
			w.To = 10 * hour
			d.Wants = append(d.Wants, w)
		}, []string{"e"}, []string{"e  ben 8:30"}},
		{"two who go together are left to the dispatcher", func(d *plan.Day) {
			d.Lanes[0].Hours = nil
			d.Lanes[0].Stops = d.Lanes[0].Stops[:1]
			d.Lanes[1].Stops = append(d.Lanes[1].Stops, d.Lanes[0].Stops[0])
		}, nil, []string{"v1 off nobody"}},
		{"a day that is over", func(d *plan.Day) { d.Past, d.Lanes[0].Hours = true, nil }, nil, []string{}},
	} {
		d := two()
		c.change(d)
		d.Open(flat(8))
		assert.Equal(t, c.want, told(d.Repair(c.urgent)), c.name)
	}
}

// What has begun is never moved, nothing goes to who is not to do it, each is moved once, and the day does not cost more than before but
// for what could not stay.
func TestRepairMovesWhatItMay(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		d := someDay(t)
		for i := range d.Lanes {
			if !d.Lanes[i].Thing && rapid.IntRange(0, 3).Draw(t, "off") == 0 {
				d.Lanes[i].Hours, d.Lanes[i].Always = nil, false
			}
		}
		begun := map[string]bool{}
		for _, l := range d.Lanes {
			for _, p := range l.Stops {
				begun[p.ID] = p.Begun || p.Over
			}
		}
		before := d.Total()
		list := d.Repair(nil)
		seen := map[string]bool{}
		var at []plan.At
		forced := false
		for _, r := range list {
			require.False(t, begun[r.ID] || seen[r.ID])
			seen[r.ID] = true
			if r.Fit == nil {
				continue
			}
			for _, why := range r.Fit.Why {
				assert.NotContains(t, []string{"fit.skill", "fit.refused", "fit.off", "fit.past"}, why.Code)
			}
			at = append(at, plan.At{ID: r.ID, Lane: r.Fit.Lane, Begin: r.Fit.Begin})
			forced = forced || r.Trouble == plan.TroubleOff
		}
		if _, after := d.Try(at); !forced {
			assert.LessOrEqual(t, d.Cost(after.Total()), d.Cost(before))
		}
	})
}
