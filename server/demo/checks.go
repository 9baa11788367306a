package demo

import (
	"encoding/json"
	"hash/fnv"
	"maps"
	"slices"
	"strings"
	"time"

	"github.com/shopspring/decimal"

	"iter.example/iter/core/formula/parse"
	"iter.example/iter/core/ledger"
	"iter.example/iter/core/reading"
	"iter.example/iter/core/records"
	"iter.example/iter/core/sheet"
	"iter.example/iter/core/signal"
	"iter.example/iter/core/substance"
	"iter.example/iter/core/work"
	"iter.example/iter/server/company"
)

// charges are what machines of a kind hold of regulated substances.
var charges = map[string][]records.Charge{
	"chiller": {{Substance: "coolant", Amount: decimal.RequireFromString("7.5")}},
	"dosing":  {{Substance: "hypochlorite", Amount: decimal.NewFromInt(100)}},
}

// derived are computed from readings, by kind of machine.
var derived = map[string][]reading.Derived{
	"booster": {
		{ID: "head", Name: "Head", Unit: "m", Places: 1, Formula: `(discharge - suction) / (unit(998, "kg/m3") * unit(9.80665, "m/s2"))`,
			Limits: reading.Limits{AlarmLow: dec("20"), WarnLow: dec("25")}},
		{ID: "imbalance", Name: "Phase imbalance", Unit: "%", Places: 1,
			Formula: `(max(current, current2, current3) - mean(current, current2, current3)) / mean(current, current2, current3)`,
			Limits:  reading.Limits{WarnHigh: dec("5"), AlarmHigh: dec("8")}},
		{ID: "use", Name: "Energy per m³", Unit: "kWh/m³", Places: 3, Formula: `change(energy) / change(volume)`,
			Limits: reading.Limits{WarnHigh: dec("0.6"), AlarmHigh: dec("0.8")}},
	},
}

func yes(id, text string, on ...sheet.Trigger) sheet.Question {
	return sheet.Question{ID: id, Kind: sheet.YesNo, Text: text, Required: true, On: on,
		Score: map[string]decimal.Decimal{"yes": decimal.NewFromInt(1), "no": {}}}
}

// inspection is what a pump set is looked over by at a service.
var inspection = sheet.Sheet{ID: "inspection", Version: 1, Title: "Pump inspection", Pass: dec("70"), Sections: []sheet.Section{
	{Title: "The machine", Questions: []sheet.Question{
		{ID: "serial", Kind: sheet.Text, Text: "Serial number on the plate", Prefill: "asset.serial", Update: true},
		{ID: "plate", Kind: sheet.Photo, Text: "Photo of the plate"},
		yes("guards", "Guards and covers in place?", sheet.Trigger{Is: sheet.Equals, Value: "no", Hazard: "Guard or cover missing",
			Photo: true, Block: true}),
	}},
	{Title: "Mechanical", Questions: []sheet.Question{
		yes("dry", "Seal dry?", sheet.Trigger{Is: sheet.Equals, Value: "no", Photo: true, Fails: true,
			Recommend: &sheet.Recommend{Text: "Change the mechanical seal", Part: "SK-38", Quantity: dec("1")}}),
		{ID: "weep", Kind: sheet.Choice, Text: "How much does it weep?", Required: true,
			ShowIf:  &sheet.Condition{Tests: []sheet.Test{{Question: "dry", Is: sheet.Equals, Value: "no"}}},
			Options: []sheet.Option{{ID: "damp", Text: "Damp"}, {ID: "drops", Text: "Drops"}, {ID: "runs", Text: "Runs"}}},
		{ID: "wear", Kind: sheet.Several, Text: "Seen on the coupling",
			Options: []sheet.Option{{ID: "dust", Text: "Rubber dust"}, {ID: "cracks", Text: "Cracks"}, {ID: "play", Text: "Play"}},
			On: []sheet.Trigger{{Is: sheet.Has, Value: "cracks", Note: true, Fails: true,
				Recommend: &sheet.Recommend{Text: "Change the coupling insert", Part: "CP-20", Quantity: dec("1")}}}},
		yes("quiet", "Bearings quiet?", sheet.Trigger{Is: sheet.Equals, Value: "no", Note: true}),
	}},
	{Title: "Under load", Questions: []sheet.Question{
		{ID: "load", Kind: sheet.Instruction, Text: "Run for five minutes at duty before you measure."},
		{ID: "cut_in", Kind: sheet.Number, Text: "Cuts in at", Unit: "bar", Min: dec("0"), Max: dec("16")},
		{ID: "cut_out", Kind: sheet.Number, Text: "Cuts out at", Unit: "bar", Min: dec("0"), Max: dec("16"),
			Compare: []sheet.Compare{{Is: sheet.Above, Question: "cut_in"}}},
		{ID: "band", Kind: sheet.Computed, Text: "Switching band", Unit: "bar", Places: 2, Formula: "cut_out - cut_in"},
		{ID: "next_due", Kind: sheet.Date, Text: "Next inspection due"},
	}},
}}

// survey is gone through before a plant room is done up.
var survey = sheet.Sheet{ID: "survey", Version: 1, Title: "Plant room survey", Sections: []sheet.Section{
	{Title: "The site", Questions: []sheet.Question{
		{ID: "access", Kind: sheet.Text, Text: "How to get in", Prefill: "site.access", Update: true},
		{ID: "host", Kind: sheet.Text, Text: "Who showed you round", Prefill: "site.contact.name"},
	}},
	{ID: "rooms", Title: "Rooms", Repeat: &sheet.Repeat{Noun: "room", Least: 1}, Questions: []sheet.Question{
		{ID: "floor", Kind: sheet.Area, Text: "Floor", Required: true},
		{ID: "coating", Kind: sheet.Part, Text: "Coating", Quantity: "floor"},
		yes("sound", "Floor sound?", sheet.Trigger{Is: sheet.Equals, Value: "no", Photo: true, Note: true}),
		{ID: "drains", Kind: sheet.Number, Text: "Drains", Min: dec("0"), Max: dec("40")},
	}},
	{Title: "Sum", Questions: []sheet.Question{
		{ID: "all_floors", Kind: sheet.Computed, Text: "All floors", Unit: "m²", Places: 1, Formula: "sum(floor)"},
		{ID: "with_margin", Kind: sheet.Computed, Text: "Coating with a tenth over", Formula: "sum(coating) * 1.1"},
		{ID: "agreed", Kind: sheet.Signature, Text: "Seen and agreed on site"},
	}},
}}

// equip records what there is to check and measure with: sheets, kinds of machines, and the settings that go with them.
func (g *generator) equip(at time.Time) error {
	for _, s := range []*sheet.Sheet{&company.Service, &inspection, &survey} {
		for i := range s.Sections {
			for j := range s.Sections[i].Questions {
				if q := &s.Sections[i].Questions[j]; q.Formula != "" {
					n, err := parse.Text(q.Formula)
					if err != nil {
						return err
					}
					q.Program = &n
				}
			}
		}
		if err := g.record("sheet", s.Ref(), at, *s); err != nil {
			return err
		}
		g.sheetRefs = append(g.sheetRefs, s.Ref())
	}
	for _, kind := range slices.Sorted(maps.Keys(machines)) {
		m := machines[kind]
		k := records.AssetKind{Name: m.name}
		for _, pt := range m.points {
			p := reading.Point{ID: pt.id, Name: pt.name, Unit: pt.unit, Counter: pt.counter,
				Limits: reading.Limits{AlarmLow: dec(pt.alarmLow), WarnLow: dec(pt.warnLow), WarnHigh: dec(pt.warnHigh),
					AlarmHigh: dec(pt.alarmHigh)}}
			if pt.unit == "bar" {
				p.Least, p.Most = dec("-1"), dec("100")
			}
			if pt.counter {
				p.RollsAt = dec("1000000")
			}
			k.Points = append(k.Points, p)
		}
		for _, d := range derived[kind] {
			n, err := parse.Text(d.Formula)
			if err != nil {
				return err
			}
			d.Program = &n
			k.Derived = append(k.Derived, d)
		}
		if err := g.record("assetkind", kind, at, k); err != nil {
			return err
		}
		if rules := signalRules[kind]; len(rules) > 0 {
			if err := g.record("signalrules", kind, at, signal.Rules{Rules: rules}); err != nil {
				return err
			}
		}
	}
	g.settings.Sheets.Rules = []sheet.Rule{{Sheet: "service"}, {Sheet: "inspection", Works: []string{"service"},
		Assets: []string{"booster", "borehole"}}, {Sheet: "survey", Works: []string{"survey"}}}
	g.settings.Orders.Results = results
	g.settings.Troubles = troubles
	g.settings.Time.Sorts = []records.Choice{{ID: "repair", Text: "Repair"}, {ID: "service", Text: "Service"},
		{ID: "fault", Text: "Fault finding"}, {ID: "install", Text: "Installation"}}
	g.settings.Time.Lengths = true
	g.settings.Orders.Phrases = append(g.settings.Orders.Phrases, "Could not be isolated, valve seized.")
	g.settings.Substances.Substances = []substance.Substance{{ID: "hypochlorite", Name: "Sodium hypochlorite 12 %", Unit: "l"},
		{ID: "coolant", Name: "Coolant", Unit: "kg", Allowed: dec("10")}}
	return g.learned(at)
}

// attached lists the sheets that the rules attach to work on an asset.
func (g *generator) attached(a asset, kind string) []string {
	return sheet.For(g.settings.Sheets.Rules, sheet.Work{Kind: kind, Asset: a.kind}, g.sheetRefs)
}

// gauge is what a point of an asset shows at a moment.
func (g *generator) gauge(a asset, pt point, at time.Time) decimal.Decimal {
	if pt.counter {
		h := fnv.New32a()
		h.Write([]byte(a.id))
		own := 0.7 + float64(h.Sum32()%60)/100 // each machine has a start and a pace of its own
		days := at.Sub(g.founded).Hours() / 24
		return decimal.NewFromFloat(pt.usual*own + days*pt.spread*(0.9+own/10)).Round(pt.places)
	}
	wide := 0.6
	if g.r.Intn(12) == 0 {
		wide = 2.2 // now and then something is not as it should be
	}
	return decimal.NewFromFloat(pt.usual + (g.r.Float64()*2-1)*pt.spread*wide).Round(pt.places).Abs()
}

// inspect fills in the long sheets of a visit, and logs what was topped up. Not ok: the day is not that far yet.
func (p *performance) inspect() (ok bool, err error) {
	g := p.g
	for _, ref := range p.sheets {
		if id, _ := sheet.Split(ref); id != inspection.ID || !p.asked {
			continue
		}
		var a records.Asset
		if _, err := g.w.Tx.Load("asset", p.asset.id, &a); err != nil {
			return false, err
		}
		if err := p.fact("sheet.begun", ledger.SheetBegun{Sheet: ref,
			Known: []ledger.Given{{Question: "serial", Value: a.Serial}}}); err != nil {
			return false, err
		}
		low := 28 + g.r.Intn(6)
		answers := [][2]string{{"guards", pick(g.r, strings.Fields(strings.Repeat("yes ", 24)+"no")...)},
			{"dry", pick(g.r, "yes", "yes", "yes", "no")}, {"quiet", pick(g.r, "yes", "yes", "no")},
			{"cut_in", decimal.New(int64(low), -1).String()}, {"cut_out", decimal.New(int64(low+12+g.r.Intn(5)), -1).String()},
			{"next_due", p.at.AddDate(0, 3, 0).Format(time.DateOnly)}}
		if answers[1][1] == "no" {
			answers = append(answers, [2]string{"weep", pick(g.r, "damp", "drops")})
		}
		for _, a := range answers {
			if !p.reach(p.after(time.Minute)) {
				return false, nil
			}
			body := ledger.Answered{Sheet: ref, Question: a[0], Value: a[1]}
			if a[0] == "quiet" && a[1] == "no" {
				body.Note = "Hums at full load."
			}
			if err := p.fact("sheet.answered", body); err != nil {
				return false, err
			}
			p.blocked = p.blocked || (a[0] == "guards" && a[1] == "no")
		}
	}
	for _, c := range charges[p.asset.kind] {
		move := ledger.SubstanceMoved{Site: p.site.id, Substance: c.Substance, Act: substance.PutIn, Asset: p.asset.id,
			Amount: decimal.New(int64(2+g.r.Intn(7)), -1), Unit: "kg", Away: true}
		if c.Substance == "hypochlorite" {
			move.Amount, move.Unit, move.Away = decimal.NewFromInt(int64(20+5*g.r.Intn(5))), "l", false
		} else if g.r.Intn(3) > 0 {
			continue
		}
		if !p.reach(p.after(2 * time.Minute)) {
			return false, nil
		}
		if !move.Away {
			if err := p.fact("substance.moved", ledger.SubstanceMoved{Site: p.site.id, Substance: c.Substance, Act: substance.Delivered,
				Amount: decimal.NewFromInt(50), Unit: "l"}); err != nil {
				return false, err
			}
		}
		if err := p.fact("substance.moved", move); err != nil {
			return false, err
		}
	}
	return true, nil
}

// seen has the office see to most of what wanted attention on a visit, as it was looked through.
func (g *generator) seen(visit ledger.Ref, at time.Time) error {
	d, err := g.w.Tx.Doc(visit)
	if err != nil {
		return err
	}
	var v work.Visit
	var o work.Order
	if err := json.Unmarshal(d.Body, &v); err != nil {
		return err
	}
	if _, err := g.w.Tx.Load("workorder", v.Order, &o); err != nil {
		return err
	}
	states, err := g.w.Tx.States(v, o)
	if err != nil {
		return err
	}
	at = g.local(at.Add(20 * time.Hour))
	if at.After(g.now) {
		return nil
	}
	for _, a := range v.Attentions(o.Asset, states) {
		if g.now.Sub(at) < 10*24*time.Hour && g.r.Intn(2) == 0 {
			continue
		}
		if _, err := g.w.Append("attention.handled", visit, office[1][0], at,
			ledger.AttentionHandled{Key: a.Key, Reason: pick(g.r, "Watched, no change", "Talked to the customer", "In the next service")},
			nil); err != nil {
			return err
		}
	}
	return nil
}
