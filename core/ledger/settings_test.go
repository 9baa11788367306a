package ledger_test

import (
	"encoding/json"
	"errors"
	"math"
	"strings"
	"testing"
	"time"

	"github.com/shopspring/decimal"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"iter.example/iter/core/labor"
	"iter.example/iter/core/ledger"
	"iter.example/iter/core/ledger/ledgertest"
	"iter.example/iter/core/msg"
	"iter.example/iter/core/records"
	"iter.example/iter/core/roads"
	"iter.example/iter/core/settings"
	"iter.example/iter/core/sheet"
	"iter.example/iter/core/stock"
	"iter.example/iter/core/work"
)

// loader loads from documents, as rules do.
func loader(t *testing.T, docs ledger.Docs) ledger.Loader {
	return func(r ledger.Ref, v any) (bool, error) {
		if docs[r] == nil {
			return false, nil
		}
		require.NoError(t, json.Unmarshal(docs[r], v))
		return true, nil
	}
}

// on gives the rules of type T that hold on a day.
func on[T any](t *testing.T, docs ledger.Docs, day string) T {
	t.Helper()
	rules, err := ledger.SettingsOn[T](loader(t, docs), day)
	require.NoError(t, err)
	return rules
}

// A rate that is changed today holds from today on, and what was worked before keeps the rate it had.
func TestRulesHaveDays(t *testing.T) {
	m, docs := company(t)
	change := func(day, subject, fields string) {
		t.Helper()
		var to settings.Fields
		require.NoError(t, json.Unmarshal([]byte(fields), &to))
		e := m.Entry("office", "settings.changed", "settings", subject,
			ledger.SettingsChanged{Days: map[string]map[string]settings.Fields{day: {subject: to}}})
		require.Empty(t, ledgertest.Fold(docs, []ledger.Entry{e})[0].Error)
	}
	change("2026-03-10", "billing", `{"minimum":60,"rates":[{"class":"normal","hour":"68"}]}`)
	change("2026-05-01", "billing", `{"rates":[{"class":"normal","hour":"75"}]}`)
	change("2026-04-01", "billing", `{"minimum":30,"rates":[{"class":"normal","hour":"70"}]}`)
	change("2026-03-10", "pay", `{"overtimeAfter":480}`)
	change("2026-04-01", "pay", `{"overtimeAfter":450}`)
	for day, want := range map[string]string{"2026-03-09": "68 60", "2026-03-31": "68 60", "2026-04-01": "70 30", "2026-06-01": "75 30"} {
		b := on[labor.Billing](t, docs, day)
		assert.Equal(t, want, b.Rates[0].Hour.String()+" "+decimal.NewFromInt(int64(b.Minimum)).String(), day)
	}
	pay, err := ledger.PayRules(loader(t, docs))
	require.NoError(t, err)
	assert.Equal(t, 480, labor.On(pay, "2020-01-01").OvertimeAfter, "the first terms have always held")
	assert.Equal(t, 480, labor.On(pay, "2026-03-31").OvertimeAfter)
	assert.Equal(t, 450, labor.On(pay, "2026-04-01").OvertimeAfter)
}

// The day on which rules are looked up is the company's.
func TestTheDayIsTheCompanys(t *testing.T) {
	_, docs := company(t)
	zone := labor.Zone{Name: "East", Shifts: []labor.Shift{{Offset: 10 * 3600}}}
	set := func(c records.Company) settings.Fields {
		var out settings.Fields
		raw, err := json.Marshal(c)
		require.NoError(t, err)
		require.NoError(t, json.Unmarshal(raw, &out))
		return out
	}
	dated, err := json.Marshal(settings.Dated{"2026-01-01": set(records.Company{Name: "Old", Zone: zone}),
		"2026-03-11": {"name": json.RawMessage(`"New"`)}})
	require.NoError(t, err)
	docs[ledger.Ref{Type: "settings", ID: "company"}] = dated
	for at, want := range map[string]string{"2026-03-10T13:59:59Z": "Old 2026-03-10", "2026-03-10T14:00:00Z": "New 2026-03-11"} {
		now, err := time.Parse(time.RFC3339, at)
		require.NoError(t, err)
		c, day, err := ledger.CompanyAt(loader(t, docs), now)
		require.NoError(t, err)
		assert.Equal(t, want, c.Name+" "+day)
		all, err := ledger.AllSettings(loader(t, docs), now)
		require.NoError(t, err)
		assert.Equal(t, c, all.Company)
	}
}

func TestWhatSettingsCanNotMean(t *testing.T) {
	for want, change := range map[string]func(*ledger.Settings){
		"":                   func(*ledger.Settings) {},
		"text.missing":       func(s *ledger.Settings) { s.Company.Name = "" },
		"settings.currency":  func(s *ledger.Settings) { s.Company.Currency = "no money" },
		"settings.currency ": func(s *ledger.Settings) { s.Company.Currency = "UR " },
		"settings.zone":      func(s *ledger.Settings) { s.Company.Zone = labor.Zone{} },
		"settings.zone ":     func(s *ledger.Settings) { s.Company.Zone.Shifts = []labor.Shift{{From: 0, Offset: 99 * 3600}} },
		"settings.zone  ":    func(s *ledger.Settings) { s.Company.Zone.Shifts = []labor.Shift{{From: 9}, {From: 0}} },
		"settings.pause":     func(s *ledger.Settings) { s.Time.Pauses = []records.Choice{{ID: "b", Clock: labor.Work}} },
		"site.position":      func(s *ledger.Settings) { s.Road.Yard = &records.Point{Lat: 999} },
		"site.position ":     func(s *ledger.Settings) { s.Road.Yard = &records.Point{Lat: -91} },
		"settings.twice": func(s *ledger.Settings) {
			s.Orders.Works = []records.Choice{{ID: "a", Text: "A"}, {ID: "a", Text: "B"}}
		},
		"id.unusable":         func(s *ledger.Settings) { s.Stores.Taxes = []records.Choice{{ID: "", Text: "A"}} },
		"id.unusable ":        func(s *ledger.Settings) { s.Sheets.Rules = []sheet.Rule{{}} },
		"text.missing ":       func(s *ledger.Settings) { s.Stores.Suppliers = []stock.Supplier{{ID: "a"}} },
		"text.long":           func(s *ledger.Settings) { s.Orders.Phrases = []string{strings.Repeat("x", 501)} },
		"settings.list":       func(s *ledger.Settings) { s.Visits.Signers = make([]string, 501) },
		"settings.number":     func(s *ledger.Settings) { s.Stores.Waiting = -1 },
		"settings.number ":    func(s *ledger.Settings) { s.Orders.MaxHolds = 999 },
		"settings.pay":        func(s *ledger.Settings) { s.Pay.HomeTravel = -1 },
		"settings.billing":    func(s *ledger.Settings) { s.Billing.Minimum = -1 },
		"settings.outcome":    func(s *ledger.Settings) { s.Visits.Outcomes = []work.OutcomeRule{{ID: "won"}} },
		"settings.ready":      func(s *ledger.Settings) { s.Visits.Ready = []work.Requirement{{Check: "luck", Duty: work.Asked}} },
		"settings.unreadable": nil,
	} {
		m, docs := company(t)
		s := ledgertest.Settings
		s.Road = roads.Settings{Yard: &records.Point{Lat: 54, Lon: -9}}
		e := m.Settle(s)
		if change != nil {
			change(&s)
			e = m.Settle(s)
		} else {
			e.Subject.ID = "company"
			e.Body = json.RawMessage(`{"days":{"2026-03-10":{"company":{"name":7}}}}`)
		}
		_, _, err := ledger.Apply(docs, e)
		if want == "" {
			assert.NoError(t, err)
			continue
		}
		code, ok := errors.AsType[*msg.Code](err)
		if assert.True(t, ok, want) {
			assert.Equal(t, strings.TrimSpace(want), code.Code, want)
		}
	}
	assert.Error(t, roads.Settings{Yard: &records.Point{Lat: math.NaN()}}.CheckRules())
	for _, body := range []string{`{}`, `{"days":{"2026-03-10":{}}}`, `{"days":{"soon":{"company":{}}}}`,
		`{"days":{"2026-03-10":{"luck":{}}}}`,
		`{"anew":["luck"]}`, `{"days":[]}`} {
		m, docs := company(t)
		e := m.Settle(ledgertest.Settings)
		e.Body = json.RawMessage(body)
		_, _, err := ledger.Apply(docs, e)
		assert.Error(t, err, body)
	}
}

// A rule of one day that a later one makes impossible is refused: all days are looked at.
func TestEveryDayIsLookedAt(t *testing.T) {
	m, docs := company(t)
	later := ledgertest.ChangedFrom("2026-06-01", "visits", map[string]any{"outcomes": []work.OutcomeRule{{ID: work.Complete}}})
	later.Days["2026-07-01"] = map[string]settings.Fields{"visits": {"outcomes": json.RawMessage(`[{"id":"won"}]`)}}
	_, _, err := ledger.Apply(docs, m.Entry("office", "settings.changed", "settings", "visits", later))
	assert.Equal(t, "settings.outcome", msg.From(err).Code)
}

// What was recorded about the policy, when all rules were fields of one record, is a change to the settings that its fields moved to: under
// its own id and number, from the day it was recorded on.
func TestAPolicyBecomesSettings(t *testing.T) {
	m := ledgertest.NewMaker("office", 1)
	docs := ledger.Docs{}
	fold := func(e ledger.Entry, v int) *ledger.Fact {
		t.Helper()
		e.V = v
		f, err := ledger.Open(e)
		require.NoError(t, err)
		require.Empty(t, ledgertest.Fold(docs, []ledger.Entry{e})[0].Error)
		return f
	}
	policy := func(kind, body string) ledger.Entry {
		return m.Entry("office", kind, "policy", "company", json.RawMessage(body))
	}
	refs := func(ids ...string) (out []ledger.Ref) {
		for _, id := range ids {
			out = append(out, ledger.Ref{Type: "settings", ID: id})
		}
		return out
	}
	created := policy("record.created", `{"company":"Firm","currency":"EUR","zone":{"name":"Test","shifts":[{"offset":3600}]},"pauses":[],
		"declines":[],"returns":[],"sheets":["s@1"],"maxHolds":2,"billing":{"round":{"increment":15,"way":"up"},"minimum":60,"allowance":"35"},
		"hours":[{"from":"2020-01-01","round":{"increment":5,"way":"up"},"overtimeAfter":480},{"from":"2026-06-01","round":{"increment":0}}],
		"prices":true,"suppliers":[{"id":"h","name":"Harbour"}],"yard":{"lat":54,"lon":-9},"substances":[{"id":"c","name":"C","unit":"kg"}],
		"messages":[{"id":"late","name":"Late","text":"Sorry"}],"paper":{"intro":"Hello","logo":null},"forgotten":1}`)
	f := fold(created, 1)
	all := refs("billing", "company", "messages", "orders", "pay", "reports", "road", "sheets", "stores", "substances", "time", "visits")
	assert.ElementsMatch(t, all, f.Keys())
	assert.Equal(t, created.ID, f.Entry.ID)
	assert.Equal(t, ledger.Ref{Type: "policy", ID: "company"}, f.Entry.Subject, "the log keeps it as it was")

	m.Wait(30 * 24 * time.Hour) // the ninth of April
	fold(policy("record.amended", `{"colour":"red"}`), 2)
	amended := policy("record.amended", `{"billing":{"minimum":30},"maxHolds":null,"prices":false,"phone":"7","paper":null,
		"hours":[{"from":"2026-05-01","round":{"increment":15},"weekAfter":2400}]}`)
	amended.Base = json.RawMessage(`{"prices":true,"phone":"6","maxHolds":2}`)
	amended.V = 2
	_, flags, err := ledger.Apply(docs, amended)
	require.NoError(t, err)
	require.Len(t, flags, 1)
	assert.Equal(t, map[string]string{"day": "2026-04-09", "field": "company.phone", "earlier": "null", "later": `"7"`}, flags[0].Args)
	settled := m.Entry("office", "flag.settled", "policy", "company", ledger.Settled{Code: "record.clash", Person: "office"})
	settled.V = 1
	s, err := ledger.Open(settled)
	require.NoError(t, err)
	assert.Equal(t, flags[0].Subject, s.Subject(), "what is settled about the policy is what was flagged about the settings")
	f = fold(amended, 2)
	assert.ElementsMatch(t, refs("billing", "company", "orders", "pay", "reports", "visits"), f.Keys())
	admin, desk := records.Person{Roles: []records.Role{records.Administrator}}, records.Person{Roles: []records.Role{records.Dispatcher}}
	assert.True(t, f.MayCommand(admin))
	assert.False(t, f.MayCommand(desk))

	was, is := "2026-04-08", "2026-04-09"
	assert.Equal(t, []int{60, 30}, []int{on[labor.Billing](t, docs, was).Minimum, on[labor.Billing](t, docs, is).Minimum})
	assert.Equal(t, 15, on[labor.Billing](t, docs, is).Round.Increment)
	assert.Equal(t, []int{2, 3}, []int{on[work.OrderSettings](t, docs, was).Holds(), on[work.OrderSettings](t, docs, is).Holds()})
	assert.Equal(t, []bool{true, false}, []bool{on[work.VisitSettings](t, docs, was).Prices, on[work.VisitSettings](t, docs, is).Prices})
	assert.Equal(t, []string{"s@1"}, on[sheet.Settings](t, docs, is).Always)
	assert.Equal(t, records.Point{Lat: 54, Lon: -9}, *on[roads.Settings](t, docs, is).Yard)
	// What is asked of settings since is not asked of days that a change leaves as they were.
	old := ledger.Docs{}
	first := policy("record.created", `{"company":"Firm","currency":"","zone":{"name":"","shifts":null}}`)
	first.V, first.At = 1, first.At.AddDate(0, -1, 0)
	require.Empty(t, ledgertest.Fold(old, []ledger.Entry{first})[0].Error)
	later := policy("record.amended", `{"currency":"EUR","zone":{"name":"Test","shifts":[{"offset":3600}]}}`)
	later.V = 2
	require.Empty(t, ledgertest.Fold(old, []ledger.Entry{later})[0].Error)

	// The terms of pay had days before: the list that takes the place of another says all there is to say, of days before it too.
	pay, err := ledger.PayRules(loader(t, docs))
	require.NoError(t, err)
	for day, want := range map[string]labor.Terms{"2026-04-30": {}, "2026-05-01": {Round: labor.Rounding{Increment: 15}, WeekAfter: 2400},
		"2026-06-01": {Round: labor.Rounding{Increment: 15}, WeekAfter: 2400}} {
		assert.Equal(t, want, labor.On(pay, day).Terms, day)
	}
}
