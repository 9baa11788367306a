package records_test

import (
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"iter.example/iter/core/labor"
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
	for _, good := range []string{"a", "C100", "pump@1", "ann+2026-03-10", "01KKB59BR0ABYZR1S1G9JMY5HZ", "a.b_c-d:e", strings.Repeat("x", 80)} {
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
		"a point twice":          {records.Asset{Site: "S1", Name: "Pump", Points: []reading.Point{{ID: "a", Name: "A"}, {ID: "a", Name: "B"}}}, "asset.point"},
		"a point with no name":   {records.Asset{Site: "S1", Name: "Pump", Points: []reading.Point{{ID: "a"}}}, "asset.point"},
		"a policy":               {records.Policy{Company: "Firm", Pauses: []records.Reason{{ID: "b", Clock: labor.Break}}}, ""},
		"a pause that is work":   {records.Policy{Company: "Firm", Pauses: []records.Reason{{ID: "b", Clock: labor.Work}}}, "policy.pause"},
		"a policy of nobody":     {records.Policy{}, "text.missing"},
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
