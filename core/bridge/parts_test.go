package bridge_test

import (
	"testing"

	"github.com/shopspring/decimal"
	"github.com/stretchr/testify/assert"

	"iter.example/iter/core/bridge"
	"iter.example/iter/core/plan"
	"iter.example/iter/core/records"
	"iter.example/iter/core/roads"
	"iter.example/iter/core/stock"
	"iter.example/iter/core/view"
	"iter.example/iter/core/work"
)

func TestPartsForAScreen(t *testing.T) {
	hose := stock.Part{Name: "Hose", Unit: "m", Packs: []stock.Pack{{Name: "coil", Size: decimal.NewFromInt(50)}}}
	assert.Equal(t, "100", ask[bridge.Converted](t, "quantity", bridge.InUnit{Part: hose, Quantity: decimal.NewFromInt(2),
		Unit: "coil"}).Quantity.String())
	assert.Equal(t, "quantity.unit", ask[bridge.Failure](t, "quantity",
		bridge.InUnit{Part: hose, Quantity: decimal.NewFromInt(2), Unit: "kg"}).Error.Code)
	assert.Equal(t, []string{"m", "coil"}, ask[bridge.Units](t, "units", hose).Units[:2])

	assert.Equal(t, stock.Code{Key: "SK-38", Part: "SK-38"}, ask[stock.Code](t, "code", map[string]string{"text": "ITER-P/SK-38"}))
	assert.Equal(t, "code.unreadable", ask[bridge.Failure](t, "code", map[string]string{"text": "\u0000"}).Error.Code)
	assert.Equal(t, []string{"36000291452", "", "SK-38"}, ask[[]string](t, "codes",
		bridge.Codes{Codes: []string{"036000291452", "", "sk-38"}}))

	here := &records.Point{Lat: 54.776, Lon: -9.131}
	tarrel, quay := records.Point{Lat: 54.893, Lon: -9.187}, records.Point{Lat: 54.789, Lon: -9.252}
	known := &roads.Answers{Places: []records.Point{{Lat: 54.777, Lon: -9.131}, tarrel, quay},
		Known: []roads.Known{{From: 0, To: 1, Seconds: 900, Metres: 14000}, {From: 0, To: 2, Seconds: 400, Metres: 6000}}}
	near := ask[[]plan.Near](t, "nearby", bridge.Nearby{From: here, Quantity: decimal.NewFromInt(1), Ways: known, Holders: []plan.Holder{
		{Name: "Tarrel", Free: decimal.NewFromInt(1), At: &tarrel}, {Name: "Quay", Free: decimal.NewFromInt(1), At: &quay}}})
	assert.Len(t, near, 2)
	assert.Equal(t, []int{400, 900}, []int{near[0].Seconds, near[1].Seconds}, "from the place that is known, a hundred metres on")
	assert.Positive(t, near[0].Metres)

	lacks := ask[[]stock.Allotment](t, "allot", view.Demands{Stops: []view.NeedyStop{{ID: "V", Order: "W",
		Work: work.Order{Needs: []work.Need{{Part: "P", Quantity: decimal.NewFromInt(2)}}}}}})
	assert.Equal(t, "2", lacks[0].Lacks.String())
	assert.Contains(t, string(bridge.Call("allot", []byte(`{"stops":[]}`))), "[]", "a list, never null")
}
