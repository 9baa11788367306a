package ledger_test

import (
	"maps"
	"math/rand"
	"slices"
	"strings"
	"testing"
	"time"

	"github.com/shopspring/decimal"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"iter.example/iter/core/labor"
	"iter.example/iter/core/ledger"
	"iter.example/iter/core/ledger/ledgertest"
	"iter.example/iter/core/reading"
	"iter.example/iter/core/stock"
	"iter.example/iter/core/work"
)

// byArrival are the kinds whose entries hold in the order in which the office hears of them, with the reason.
var byArrival = map[string]string{
	"visit.accepted": "the first of whom the office hears that they accept an offer has it",
	"visit.declined": "so it is with whoever declines",
	"crew.clocked":   "whoever is not on the visit, as far as is known, is asked whether they were there",
	"crew.answered":  "as they are asked",
}

// timely are the kinds whose entries hold by when they were recorded: all that are recorded in the field but those byArrival.
func timely() (kinds []string) {
	for _, row := range ledger.KindRows() {
		if row.Field && byArrival[row.Name] == "" {
			kinds = append(kinds, row.Name)
		}
	}
	return kinds
}

// Of each kind in the table two entries from two devices, with a strike-out of the first and its restoration, come to the same in whatever
// order they are heard of.
func TestOrderOfArrivalOfEachKindDoesNotMatter(t *testing.T) {
	for _, kind := range timely() {
		m, start, named := arrivalCompany(t)
		docs := maps.Clone(start)
		var all []ledger.Entry
		record := func(e ledger.Entry, ok bool) {
			if ok && ledgertest.Fold(docs, []ledger.Entry{e})[0].Error == "" {
				all = append(all, e)
			}
			m.Wait(time.Minute)
		}
		record(sampled(m, kind, "ann", named))
		require.Len(t, all, 1, "%s is heard of", kind)
		first := all[0]
		strike := ledgertest.Strike(docs, first)
		record(sampled(m, kind, "ann", named))
		for _, act := range []string{"entry.struck_by_office", "entry.restored"} {
			record(m.Entry("office", act, first.Subject.Type, first.Subject.ID, strike), true)
		}
		for _, order := range permutations(all) {
			got := maps.Clone(start)
			if slices.ContainsFunc(ledgertest.Fold(got, order), func(r ledgertest.Result) bool { return r.Error != "" }) {
				continue // what one refers to has not arrived: the office holds it
			}
			for ref, b := range docs {
				assert.JSONEq(t, string(b), string(got[ref]), "%s: %s", kind, ref)
			}
		}
	}
}

func permutations(all []ledger.Entry) [][]ledger.Entry {
	if len(all) < 2 {
		return [][]ledger.Entry{all}
	}
	var out [][]ledger.Entry
	for i := range all {
		for _, rest := range permutations(slices.Delete(slices.Clone(all), i, i+1)) {
			out = append(out, append([]ledger.Entry{all[i]}, rest...))
		}
	}
	return out
}

// What technicians record comes to the same in whatever order it is heard of, each device's in its own order.
func TestOrderOfArrivalDoesNotMatter(t *testing.T) {
	kinds := timely()
	rapid.Check(t, func(t *rapid.T) {
		m, start, named := arrivalCompany(t)
		var all []ledger.Entry
		r := rand.New(rand.NewSource(rapid.Int64().Draw(t, "seed")))
		docs := maps.Clone(start)
		for range rapid.IntRange(2, 14).Draw(t, "entries") {
			e, ok := anyEntry(t, m, r, docs, named, kinds, all)
			if slices.ContainsFunc(all, func(x ledger.Entry) bool { return x.ID == e.ID }) {
				continue
			}
			if e.Replica = e.Actor; e.Actor == "ann" {
				e.Replica = rapid.SampledFrom([]string{"ann", "ann's tablet"}).Draw(t, "device")
			}
			if ok && ledgertest.Fold(docs, []ledger.Entry{e})[0].Error == "" {
				all = append(all, e)
			}
		}
		var want ledger.Docs
		by := map[string][]ledger.Entry{}
		// What one device refers to may not have arrived yet: then the office holds it, which is not what this is about.
		for again := true; again; {
			again = false
			clear(by)
			for _, e := range all {
				by[e.Replica] = append(by[e.Replica], e)
			}
			want = maps.Clone(start)
			a, b, c, o := by["ann"], by["ann's tablet"], by["ben"], by["office"]
			for _, order := range [][]ledger.Entry{all, slices.Concat(a, b, c, o), slices.Concat(c, b, a, o)} {
				docs := maps.Clone(start)
				for i, x := range ledgertest.Fold(docs, order) {
					if x.Error != "" {
						all = slices.DeleteFunc(all, func(e ledger.Entry) bool { return e.ID == order[i].ID })
						again = true
						break
					}
				}
				if again {
					break
				}
			}
		}
		ledgertest.Fold(want, all)
		var order []string
		for _, e := range all {
			order = append(order, e.Replica)
		}
		got := maps.Clone(start)
		var arrived []string
		for _, device := range rapid.Permutation(order).Draw(t, "arrival") {
			e := by[device][0]
			by[device] = by[device][1:]
			arrived = append(arrived, e.Kind+" "+device+" "+e.At.Format("15:04")+" "+string(e.Body))
			if x := ledgertest.Fold(got, []ledger.Entry{e})[0]; x.Error != "" {
				t.Skip(x.Error)
			}
		}
		for ref, b := range want {
			require.JSONEq(t, string(b), string(got[ref]), "%s, after\n%s", ref, strings.Join(arrived, "\n"))
		}
	})
}

// arrivalCompany is the test company with something for each kind to be about. It gives the entries that others name, by kind.
func arrivalCompany(t require.TestingT) (*ledgertest.Maker, ledger.Docs, map[string]string) {
	m, docs := ledgertest.NewMaker("R1", 7), ledger.Docs{}
	named := map[string]string{}
	take := func(e ledger.Entry) {
		require.Empty(t, ledgertest.Fold(docs, []ledger.Entry{e})[0].Error, e.Kind)
		named[e.Kind] = e.ID
	}
	for _, e := range m.Company() {
		take(e)
	}
	counter := map[string]any{"points": []reading.Point{{ID: "discharge", Name: "Discharge pressure", Unit: "bar"},
		{ID: "hours", Name: "Hours", Unit: "h", Counter: true}}}
	take(m.Entry("office", "record.amended", "asset", "A1", counter))
	take(m.Entry("office", "record.created", "place", "yard", stock.Place{Name: "Yard", Kind: "store"}))
	take(m.Entry("office", "visit.planned", "visit", "V3", ledger.Plan{Order: "W1", Technician: "ann", Start: ledgertest.Start, Minutes: 30}))
	take(m.Entry("office", "visit.sent", "visit", "V3", ledger.Nothing{}))
	for _, kind := range []string{"file.attached", "report.made"} {
		e, _ := m.Sample(kind, "ann")
		take(e)
	}
	take(m.Entry("ann", "work.proposed", "visit", "V1", ledger.Proposed{Kind: work.Recommendation, Text: "Change the seal",
		Lines: []work.ProposalLine{{Text: "Seal", Quantity: decimal.NewFromInt(1)}}}))
	lines := []stock.Moved{{Part: "P1", Quantity: decimal.NewFromInt(1)}}
	take(m.Entry("office", "handover.sent", "handover", "HIN", ledger.HandOver{From: "yard", To: "van-ann", Lines: lines}))
	take(m.Entry("ann", "handover.sent", "handover", "HOUT", ledger.HandOver{From: "van-ann", To: "yard", Lines: lines}))
	m.Wait(time.Minute)
	take(m.Entry("ann", "visit.arrived", "visit", "V3", ledger.Step{}))
	m.Wait(50 * time.Minute)
	take(m.Entry("office", "visit.closed", "visit", "V3", ledger.Closed{Outcome: work.Complete, End: ledgertest.Start.Add(30 * time.Minute),
		People: []string{"ann"}}))
	take(m.Entry("office", "visit.questioned", "visit", "V3", ledger.Questioned{Text: "Which seal?"}))
	m.Wait(time.Hour)
	return m, docs, named
}

// sampled is a sample of a kind, about what there is.
func sampled(m *ledgertest.Maker, kind, actor string, named map[string]string) (ledger.Entry, bool) {
	switch kind {
	case "file.described":
		return m.Entry(actor, kind, "visit", "V1", ledger.FileDescribed{File: named["file.attached"], Caption: m.Now().String()}), true
	case "proposal.answered":
		return m.Entry(actor, kind, "visit", "V1", ledger.ProposalAnswered{Proposal: named["work.proposed"],
			Name: m.Now().String(), Answers: []work.Answer{work.Taken}}), true
	case "question.answered":
		return m.Entry(actor, kind, "visit", "V3", ledger.QuestionAnswered{Question: named["visit.questioned"], Text: m.Now().String()}), true
	case "report.sent":
		return m.Entry(actor, kind, "visit", "V1", ledger.ReportSent{Report: named["report.made"], To: "tam@example.net"}), true
	case "entry.struck":
		return m.Entry("ann", kind, "visit", "V1", ledger.Struck{Entry: named["file.attached"], Kind: "file.attached", Person: "ann"}), true
	case "time.corrected":
		return m.Entry(actor, kind, "timecard", ledger.TimecardRef(actor, m.Now()).ID, ledger.Corrected{Reason: "forgot",
			Pieces: []labor.Piece{{What: labor.What{Kind: labor.Break}, Start: m.Now().Add(-time.Hour), End: m.Now()}}}), true
	case "handover.received":
		return m.Entry(actor, kind, "handover", "HIN", ledger.TakeOver{Place: "van-ann",
			Lines: []stock.Moved{{Part: "P1", Quantity: decimal.NewFromInt(1)}}}), true
	case "handover.returned":
		return m.Entry(actor, kind, "handover", "HOUT", ledger.TakeBack{Place: "van-ann",
			Lines: []stock.Moved{{Part: "P1", Quantity: decimal.NewFromInt(1)}}}), true
	case "visit.end_confirmed":
		return m.Entry(actor, kind, "visit", "V3", ledger.EndConfirmed{End: m.Now().Add(-90 * time.Minute)}), true
	}
	return m.Sample(kind, actor)
}

// anyEntry makes an entry of some kind: as it was first thought of, at random, or a strike-out or restoration of one before.
func anyEntry(t *rapid.T, m *ledgertest.Maker, r *rand.Rand, docs ledger.Docs, named map[string]string, kinds []string,
	all []ledger.Entry) (ledger.Entry, bool) {
	m.Wait(time.Duration(r.Intn(30*60)+1) * time.Second)
	actor := rapid.SampledFrom([]string{"ann", "ben"}).Draw(t, "actor")
	switch rapid.IntRange(0, 3).Draw(t, "how") {
	case 0:
		return sampled(m, rapid.SampledFrom(kinds).Draw(t, "kind"), actor, named)
	case 1:
		visits := []string{"V1", "V1", "V2"}
		return m.Entry(actor, "route.ordered", "timecard", ledger.TimecardRef(actor, m.Now()).ID,
			ledger.RouteOrdered{Visits: rapid.Permutation(visits).Draw(t, "route")[:2]}), true
	case 2:
		if len(all) == 0 {
			return ledger.Entry{}, false
		}
		e := rapid.SampledFrom(all).Draw(t, "entry")
		kind := rapid.SampledFrom([]string{"entry.struck", "entry.struck_by_office", "entry.restored"}).Draw(t, "act")
		by := "office"
		if kind == "entry.struck" {
			by = e.Actor
		}
		return m.Entry(by, kind, e.Subject.Type, e.Subject.ID, ledgertest.Strike(docs, e)), true
	}
	e := m.Random(r, append([]ledger.Entry{m.Entry("ann", "note.written", "visit", "V1", ledger.Note{Text: "x"})}, all...))
	return e, e.Actor != "office" && slices.Contains(kinds, e.Kind)
}
