package records_test

import (
	"strings"
	"testing"

	"github.com/shopspring/decimal"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"iter.example/iter/core/formula"
	"iter.example/iter/core/msg"
	"iter.example/iter/core/reading"
	"iter.example/iter/core/records"
)

func TestRoles(t *testing.T) {
	for _, c := range []struct {
		has  []records.Role
		asks []records.Role
		want bool
	}{
		{[]records.Role{records.Dispatcher}, []records.Role{records.Dispatcher}, true},
		{[]records.Role{records.Dispatcher}, []records.Role{records.Reviewer, records.Dispatcher}, true},
		{[]records.Role{records.Stores}, []records.Role{records.Dispatcher}, false},
		{[]records.Role{records.Administrator}, []records.Role{records.Dispatcher}, true},
		{[]records.Role{records.Administrator}, []records.Role{records.Technician}, false}, // nobody drives out by being administrator
		{nil, []records.Role{records.Technician}, false},
		{[]records.Role{records.Technician}, nil, false},
	} {
		assert.Equal(t, c.want, records.Person{Roles: c.has}.Has(c.asks...), "%v asked for %v", c.has, c.asks)
	}
}

func TestIDs(t *testing.T) {
	for _, good := range []string{"a", "C100", "pump@1", "ann+2026-03-10", "01KKB59BR0ABYZR1S1G9JMY5HZ", "a.b_c-d:e",
		strings.Repeat("x", 80)} {
		assert.NoError(t, records.CheckID(good), good)
	}
	for _, bad := range []string{"", " a", "a b", "../x", "-a", "ä", "a/b", "a\n", strings.Repeat("x", 81)} {
		assert.Equal(t, "id.unusable", msg.From(records.CheckID(bad)).Code, bad)
	}
}

func TestTexts(t *testing.T) {
	require.NoError(t, records.CheckText("note", "", false, 5))
	require.NoError(t, records.CheckText("note", "ééééé", true, 5), "characters count, not bytes")
	assert.Equal(t, "text.missing", msg.From(records.CheckText("note", " \n", true, 5)).Code)
	assert.Equal(t, "text.long", msg.From(records.CheckText("note", "éééééé", true, 5)).Code)
	assert.Equal(t, strings.Repeat("é", 40)+"…", records.Clip(strings.Repeat("é", 90)))
}

func TestChecks(t *testing.T) {
	type checked interface{ Check() error }
	for name, c := range map[string]struct {
		record checked
		code   string
	}{
		"a person":               {records.Person{Name: "Ann", Roles: []records.Role{records.Technician}}, ""},
		"nobody":                 {records.Person{Roles: []records.Role{records.Technician}}, "text.missing"},
		"no role":                {records.Person{Name: "Ann"}, "person.role"},
		"a role there is not":    {records.Person{Name: "Ann", Roles: []records.Role{"pilot"}}, "person.role"},
		"a customer":             {records.Customer{Name: "Board"}, ""},
		"a customer, no name":    {records.Customer{}, "text.missing"},
		"a site":                 {records.Site{Customer: "C1", Name: "Here", Lat: -90, Lon: 180}, ""},
		"a site off the earth":   {records.Site{Customer: "C1", Name: "Here", Lat: 90.1}, "site.position"},
		"a site of nobody":       {records.Site{Name: "Here"}, "id.unusable"},
		"an access note of 5001": {records.Site{Customer: "C1", Name: "Here", Access: strings.Repeat("x", 5001)}, "text.long"},
		"an asset":               {records.Asset{Site: "S1", Name: "Pump", Points: []reading.Point{{ID: "a", Name: "A"}}}, ""},
		"an asset nowhere":       {records.Asset{Name: "Pump"}, "id.unusable"},
		"a point twice": {records.Asset{Site: "S1", Name: "Pump",
			Points: []reading.Point{{ID: "a", Name: "A"}, {ID: "a", Name: "B"}}}, "asset.point"},
		"a point with no name": {records.Asset{Site: "S1", Name: "Pump", Points: []reading.Point{{ID: "a"}}}, "asset.point"},
		"a company":            {records.Company{Name: "Firm"}, ""},
		"a company, no name":   {records.Company{}, "text.missing"},
	} {
		t.Run(name, func(t *testing.T) {
			err := c.record.Check()
			if c.code == "" {
				require.NoError(t, err)
				return
			}
			assert.Equal(t, c.code, msg.From(err).Code)
		})
	}
}

func TestPoint(t *testing.T) {
	a := records.Asset{Points: []reading.Point{{ID: "a", Name: "A"}}}
	p, ok := a.Point("a")
	assert.True(t, ok)
	assert.Equal(t, "A", p.Name)
	_, ok = a.Point("b")
	assert.False(t, ok)
}

func TestKindsOfMachines(t *testing.T) {
	point := func(id string) reading.Point { return reading.Point{ID: id, Name: "P " + id, Unit: "bar"} }
	kind := records.AssetKind{Name: "Booster", Points: []reading.Point{point("a"), point("b")}}
	require.NoError(t, kind.Check())
	own := point("b")
	own.Name = "Its own"
	got := kind.PointsOf(records.Asset{Points: []reading.Point{point("c"), own}})
	names := []string{}
	for _, p := range got {
		names = append(names, p.Name)
	}
	assert.Equal(t, []string{"P a", "Its own", "P c"}, names, "its own in the place of the kind's, the rest after")
	assert.Empty(t, records.AssetKind{}.PointsOf(records.Asset{}))

	one := formula.Node{Op: "number", Num: new(decimal.NewFromInt(1))}
	for name, k := range map[string]records.AssetKind{
		"no name":       {Points: kind.Points},
		"a point twice": {Name: "K", Points: []reading.Point{point("a"), point("a")}},
		"an odd unit":   {Name: "K", Points: []reading.Point{{ID: "a", Name: "A", Unit: "//"}}},
		"no program":    {Name: "K", Derived: []reading.Derived{{ID: "d", Name: "D", Formula: "1"}}},
		"a name twice":  {Name: "K", Points: kind.Points, Derived: []reading.Derived{{ID: "a", Name: "D", Program: &one}}},
		"another unit":  {Name: "K", Derived: []reading.Derived{{ID: "d", Name: "D", Unit: "bar", Program: &one}}},
		"odd decimals":  {Name: "K", Derived: []reading.Derived{{ID: "d", Name: "D", Places: 9, Program: &one}}},
	} {
		assert.Error(t, k.Check(), name)
	}
}

func TestChargesOfAMachine(t *testing.T) {
	a := records.Asset{Site: "S1", Name: "Chiller", Charges: []records.Charge{{Substance: "coolant", Amount: decimal.NewFromInt(8)}}}
	require.NoError(t, a.Check())
	a.Charges[0].Amount = decimal.Zero
	assert.Error(t, a.Check())
	a.Charges[0] = records.Charge{Amount: decimal.NewFromInt(1)}
	assert.Error(t, a.Check())
}
