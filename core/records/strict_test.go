package records_test

import (
	"errors"
	"math"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"

	"iter.example/iter/core/labor"
	"iter.example/iter/core/msg"
	"iter.example/iter/core/records"
)

func TestWhatAPolicyCanNotMean(t *testing.T) {
	for want, change := range map[string]func(*records.Policy){
		"":                 func(*records.Policy) {},
		"policy.currency":  func(p *records.Policy) { p.Currency = "no money" },
		"policy.currency ": func(p *records.Policy) { p.Currency = "UR " },
		"policy.zone":      func(p *records.Policy) { p.Zone = labor.Zone{} },
		"policy.zone ":     func(p *records.Policy) { p.Zone.Shifts = []labor.Shift{{From: 0, Offset: 99 * 3600}} },
		"policy.zone  ":    func(p *records.Policy) { p.Zone.Shifts = []labor.Shift{{From: 9}, {From: 0}} },
		"site.position":    func(p *records.Policy) { p.Yard = &records.Point{Lat: 999} },
		"site.position ":   func(p *records.Policy) { p.Yard = &records.Point{Lat: math.NaN()} },
		"policy.twice":     func(p *records.Policy) { p.Works = []records.Choice{{ID: "a", Text: "A"}, {ID: "a", Text: "B"}} },
		"id.unusable":      func(p *records.Policy) { p.Taxes = []records.Choice{{ID: "", Text: "A"}} },
		"text.missing":     func(p *records.Policy) { p.Suppliers = []records.Supplier{{ID: "a"}} },
		"text.long":        func(p *records.Policy) { p.Phrases = []string{strings.Repeat("x", 501)} },
		"policy.list":      func(p *records.Policy) { p.Signers = make([]string, 501) },
		"policy.number":    func(p *records.Policy) { p.Waiting = -1 },
	} {
		p := records.Policy{Company: "Test", Currency: "EUR", Zone: labor.Zone{Name: "Europe/Dublin",
			Shifts: []labor.Shift{{From: 0, Offset: 0}}}, Yard: &records.Point{Lat: 54, Lon: -9}}
		change(&p)
		err := p.CheckNew()
		if want == "" {
			assert.NoError(t, err)
			continue
		}
		code, ok := errors.AsType[*msg.Code](err)
		if assert.True(t, ok, want) {
			assert.Equal(t, strings.TrimSpace(want), code.Code, want)
		}
	}
}

func TestWhatAPersonCanNotBe(t *testing.T) {
	assert.NoError(t, records.Person{Name: "Ann"}.CheckNew())
	assert.Error(t, records.Person{Name: "Ann", Home: &records.Point{Lon: 181}}.CheckNew())
	assert.Error(t, records.Person{Name: "Ann", Van: "../van"}.CheckNew())
	assert.Error(t, records.Person{Name: "Ann", Phone: strings.Repeat("0", 201)}.CheckNew())
}
