package plan_test

import (
	"testing"

	"github.com/shopspring/decimal"
	"github.com/stretchr/testify/assert"

	"iter.example/iter/core/plan"
	"iter.example/iter/core/records"
	"iter.example/iter/core/roads"
)

// nowhere is a coast without roads.
type nowhere struct{}

func (nowhere) Ways(_ records.Point, to ...records.Point) []*roads.Way {
	return make([]*roads.Way, len(to))
}

func TestNearby(t *testing.T) {
	here := &records.Point{}
	holder := func(name string, free int64, east float64) plan.Holder {
		return plan.Holder{Place: name, Name: name, Free: decimal.NewFromInt(free), At: &records.Point{Lon: east}}
	}
	lost := plan.Holder{Place: "lost", Name: "lost", Free: decimal.NewFromInt(9)}
	all := []plan.Holder{holder("far", 5, 0.4), lost, holder("none", 0, 0.01), holder("few", 1, 0.02), holder("near", 3, 0.1),
		holder("minus", -2, 0.01)}
	names := func(list []plan.Near) (out []string) {
		for _, n := range list {
			out = append(out, n.Name)
		}
		return out
	}
	got := plan.Nearby(here, decimal.NewFromInt(3), all, at("07:00"), street{}, nil)
	assert.Equal(t, []string{"near", "far", "lost", "few"}, names(got), "those with enough first, then by the way there")
	assert.Equal(t, []int{600, 2400, -1, 120}, []int{got[0].Seconds, got[1].Seconds, got[2].Seconds, got[3].Seconds})
	assert.Equal(t, []bool{true, true, true, false}, []bool{got[0].Enough, got[1].Enough, got[2].Enough, got[3].Enough})
	got = plan.Nearby(nil, decimal.NewFromInt(1), all, at("07:00"), street{}, nil)
	assert.Equal(t, []string{"far", "few", "lost", "near"}, names(got), "whoever does not know where they are sees them by name")
	assert.Len(t, plan.Nearby(here, decimal.NewFromInt(1), all, at("07:00"), nowhere{}, nil), 4)
	assert.Empty(t, plan.Nearby(here, decimal.NewFromInt(1), nil, at("07:00"), street{}, nil))
}
