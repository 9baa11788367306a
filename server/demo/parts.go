package demo

import (
	"fmt"
	"strings"
	"time"

	"github.com/shopspring/decimal"

	"iter.example/iter/core/ledger"
	"iter.example/iter/core/records"
	"iter.example/iter/core/stock"
	"iter.example/iter/core/work"
)

var suppliers = []stock.Supplier{
	{ID: "harbour", Name: "Harbour Seals and Bearings", Email: "orders@harbour.example"},
	{ID: "lumen", Name: "Lumen Bay Instruments", Email: "sales@lumenbay.example"},
	{ID: "tarn", Name: "Tarn Pipe and Cable", Email: "desk@tarn.example"},
	{ID: "other", Name: "Other suppliers"},
}

var taxes = []records.Choice{{ID: "standard", Text: "Standard, 23 %"}, {ID: "reduced", Text: "Reduced, 13.5 %"}, {ID: "none", Text: "None"}}

// supplierOf is who a category comes from.
var supplierOf = map[string]string{"Seals": "harbour", "Drive": "harbour", "Bearings": "harbour", "Instruments": "lumen", "UV": "lumen",
	"Dosing": "lumen", "Electrical": "tarn", "Valves": "tarn", "Pipe": "tarn", "Motors": "harbour", "Pumps": "harbour"}

// known is what people call parts beside their names.
var known = map[string][]string{"SK-38": {"face seal", "rotary seal"}, "CP-20": {"spider"}, "UV-40": {"tube", "burner"},
	"TF-12": {"PTFE tape"}, "CT-18": {"relay"}, "NR-50": {"check valve"}}

// packs are how some parts are sold.
var packs = map[string][]stock.Pack{"OR-72": {{Name: "box", Size: decimal.NewFromInt(10)}},
	"OR-50": {{Name: "box", Size: decimal.NewFromInt(10)}}, "CB-16": {{Name: "drum", Size: decimal.NewFromInt(100)}},
	"TU-06": {{Name: "coil", Size: decimal.NewFromInt(25)}}, "HC-25": {{Name: "box", Size: decimal.NewFromInt(20)}},
	"FU-25": {{Name: "box", Size: decimal.NewFromInt(3)}}, "TF-12": {{Name: "pack", Size: decimal.NewFromInt(5)}}}

// series are parts in sizes.
var series = []struct {
	prefix, name, category, unit string
	sizes                        []int
	price                        float64 // of size 1
	serial                       bool
}{
	{"OR-E", "O-ring EPDM %d mm", "Seals", "each", []int{12, 16, 20, 25, 32, 40, 60, 80, 90, 100}, 0.02, false},
	{"OR-V", "O-ring Viton %d mm", "Seals", "each", []int{12, 16, 20, 25, 32, 40, 50, 60, 72, 80}, 0.06, false},
	{"BR-", "Bearing %d", "Bearings", "each", []int{6203, 6204, 6205, 6206, 6207, 6305, 6306, 6307, 6308, 6310}, 0.004, false},
	{"GS-", "Gasket DN %d", "Seals", "each", []int{25, 32, 40, 50, 65, 80, 100, 125, 150}, 0.07, false},
	{"PP-", "Pressure pipe PE %d mm", "Pipe", "m", []int{20, 25, 32, 40, 50, 63, 75, 90}, 0.11, false},
	{"EL-", "Elbow 90° PE %d mm", "Pipe", "each", []int{20, 25, 32, 40, 50, 63, 75, 90}, 0.19, false},
	{"BV-S", "Ball valve stainless DN %d", "Valves", "each", []int{15, 20, 25, 40, 50, 65, 80}, 1.1, false},
	{"SV-", "Solenoid valve DN %d, 24 V", "Valves", "each", []int{10, 15, 20, 25, 32}, 3.4, false},
	{"FU-", "Fuse gG %d A", "Electrical", "each", []int{2, 4, 6, 10, 16, 20, 32, 40, 50, 63}, 0.12, false},
	{"MP-", "Motor protection switch up to %d A", "Electrical", "each", []int{4, 6, 10, 16, 25, 32}, 3.1, false},
	{"PT-", "Pressure transmitter 0–%d bar", "Instruments", "each", []int{4, 6, 16, 25, 40}, 6.2, true},
	{"MT-", "Motor %d W", "Motors", "each", []int{370, 550, 750, 1100, 1500, 2200, 3000, 4000}, 0.21, true},
	{"PU-", "Dosing pump %d ml/min", "Pumps", "each", []int{5, 15, 40, 90}, 5.5, true},
	{"FC-", "Filter cartridge %d µm", "Filters", "each", []int{1, 5, 10, 20, 50}, 0.4, false},
	{"UV-L", "UV lamp %d W", "UV", "each", []int{15, 30, 55, 75, 95}, 2.2, false},
}

// kits have a fixed price for parts and labour.
var kits = []struct {
	id  string
	kit stock.Kit
}{
	{"K-SEAL", stock.Kit{Number: "K-SEAL", Name: "Seal change, complete", Category: "Seals", Price: decimal.NewFromInt(148),
		Notes: "Let the set run ten minutes and look at the seal again.",
		Parts: []stock.KitPart{{Part: "SK-38", Quantity: decimal.NewFromInt(1)}, {Part: "OR-72", Quantity: decimal.NewFromInt(2)},
			{Part: "GR-40", Quantity: decimal.RequireFromString("0.25")}},
		Labour: []stock.KitLabour{{Name: "Change the seal", Minutes: 50}, {Name: "Test run", Minutes: 10}}}},
	{"K-LAMP", stock.Kit{Number: "K-LAMP", Name: "UV lamp and sleeve, 40 W", Category: "UV", Price: decimal.NewFromInt(255),
		Parts: []stock.KitPart{{Part: "UV-40", Quantity: decimal.NewFromInt(1)}, {Part: "QS-40", Quantity: decimal.NewFromInt(1)},
			{Part: "OR-50", Quantity: decimal.NewFromInt(2)}},
		Labour: []stock.KitLabour{{Name: "Change lamp and sleeve", Minutes: 40}}}},
	{"K-DOSE", stock.Kit{Number: "K-DOSE", Name: "Dosing line renewed", Category: "Dosing", Price: decimal.NewFromInt(128),
		Parts: []stock.KitPart{{Part: "DV-04", Quantity: decimal.NewFromInt(1)},
			{Part: "TU-06", Quantity: decimal.RequireFromString("3.5")}, {Part: "TF-12", Quantity: decimal.NewFromInt(1)}},
		Labour: []stock.KitLabour{{Name: "Renew and prime", Minutes: 35}}}},
}

// ean is a made-up trade number with its check digit.
func ean(n int) string {
	body := fmt.Sprintf("539%09d", n)
	sum := 0
	for i, d := range body {
		weight := 1
		if i%2 == 1 {
			weight = 3
		}
		sum += int(d-'0') * weight
	}
	return fmt.Sprintf("%s%d", body, (10-sum%10)%10)
}

// stock makes the catalogue and the main store.
func (g *generator) stock(at time.Time) error {
	all := []stock.Part{}
	for i, p := range parts {
		price := *dec(p.price)
		all = append(all, stock.Part{Number: p.number, Name: p.name, Names: known[p.number], Category: p.category, Unit: p.unit,
			Packs: packs[p.number], Price: price, Cost: price.Mul(decimal.RequireFromString("0.62")).Round(2), Tax: "standard",
			Codes: []string{ean(1000 + i)}, Supplier: supplierOf[p.category]})
	}
	for k, s := range series {
		for i, size := range s.sizes {
			price := decimal.NewFromFloat(s.price*float64(size) + 1).Round(2)
			number := fmt.Sprintf("%s%d", s.prefix, size)
			if number == "FU-25" || number == "PT-10" {
				continue
			}
			p := stock.Part{Number: number, Name: fmt.Sprintf(s.name, size), Category: s.category, Unit: s.unit, Price: price,
				Cost: price.Mul(decimal.RequireFromString("0.6")).Round(2), Tax: "standard", Codes: []string{ean(20000 + 100*k + i)},
				Serial: s.serial, Supplier: supplierOf[s.category]}
			if s.serial {
				p.Warranty = 24
			}
			all = append(all, p)
		}
	}
	all = append(all, stock.Part{Number: "SK-35", Name: "Mechanical seal kit 35 mm", Category: "Seals", Unit: "each",
		Price: decimal.NewFromInt(80), Codes: []string{ean(900)}, ReplacedBy: "SK-38", Retired: true})
	for _, p := range all {
		if p.Supplier == "" {
			p.Supplier = "other"
		}
		if err := g.record("part", p.Number, at, p); err != nil {
			return err
		}
	}
	for _, k := range kits {
		if err := g.record("kit", k.id, at, k.kit); err != nil {
			return err
		}
	}
	yard := g.settings.Road.Yard
	if err := g.record("place", "store", at, stock.Place{Name: "Main store", Kind: "store", At: yard}); err != nil {
		return err
	}
	levels := stock.Levels{Levels: map[string]stock.Level{}}
	ref := ledger.Ref{Type: "stock", ID: "store"}
	for i, p := range all {
		n := int64(g.rare.Intn(9))
		if i < len(parts) {
			n = 18 + int64(g.rare.Intn(60))
			levels.Levels[p.Number] = stock.Level{Min: decimal.NewFromInt(20), Max: decimal.NewFromInt(60)}
		}
		if n == 0 || p.Retired {
			continue
		}
		if _, err := g.w.Append("stock.counted", ref, "oriel", at, ledger.Count{Part: p.Number, Quantity: decimal.NewFromInt(n)},
			nil); err != nil {
			return err
		}
	}
	return g.record("levels", "store", at, levels)
}

// vanLevels are what each van should have.
func vanLevels() stock.Levels {
	l := stock.Levels{Levels: map[string]stock.Level{}}
	for i, p := range parts {
		if i < 20 {
			l.Levels[p.number] = stock.Level{Min: decimal.NewFromInt(3), Max: decimal.NewFromInt(10)}
		}
	}
	return l
}

// needs plans parts for work of today and the days to come.
func (g *generator) needs(m machine, d int) []work.Need {
	if d < 0 || d > 4 || g.rare.Intn(5) < 2 {
		return nil
	}
	out := []work.Need{{Part: m.parts[g.rare.Intn(len(m.parts))], Quantity: decimal.NewFromInt(int64(1 + g.rare.Intn(2)))}}
	if g.rare.Intn(3) == 0 {
		out = append(out, work.Need{Part: pick(g.rare, "MT-1500", "BR-6305", "SV-25", "PT-16", "GS-80"), Quantity: decimal.NewFromInt(1)})
	}
	return out
}

// stores makes what the stores have to do today: requests in all states, orders, hand-overs, a part below zero.
func (g *generator) stores() error {
	recent, err := g.over(-9, -1)
	if err != nil || len(recent) < 12 {
		return err
	}
	ask := func(v trip2, hours int, b ledger.PartRequested) (string, error) {
		at := g.local(g.now.Add(-time.Duration(hours) * time.Hour))
		e, err := g.by(v.tech, at).Append("part.requested", ledger.Ref{Type: "visit", ID: v.id}, v.tech, at, b, nil)
		return e.ID, err
	}
	say := func(hours float64, kind, typ, id string, body any) error {
		_, err := g.w.Append(kind, ledger.Ref{Type: typ, ID: id}, "oriel", g.local(g.now.Add(-time.Duration(hours*float64(time.Hour)))),
			body, nil)
		return err
	}
	one := decimal.NewFromInt(1)
	asked := []struct {
		hours int
		body  ledger.PartRequested
	}{
		{150, ledger.PartRequested{Part: "MT-2200", Text: "Motor 2200 W", Quantity: one, Approval: true,
			Note: "Windings are at 0.3 MΩ. Will not last the season; they want a price first."}},
		{54, ledger.PartRequested{Part: "SV-25", Text: "Solenoid valve DN 25, 24 V", Quantity: one}},
		{27, ledger.PartRequested{Text: "Bracket for the level sensor, bent, see photo", Quantity: decimal.NewFromInt(2),
			Note: "Stainless, 40 × 60 mm, two slots."}},
		{5, ledger.PartRequested{Part: "BR-6305", Text: "Bearing 6305", Quantity: decimal.NewFromInt(2)}},
		{98, ledger.PartRequested{Part: "PU-40", Text: "Dosing pump 40 ml/min", Quantity: one}},
		{122, ledger.PartRequested{Part: "UV-L75", Text: "UV lamp 75 W", Quantity: decimal.NewFromInt(2)}},
		{70, ledger.PartRequested{Part: "BV-S50", Text: "Ball valve stainless DN 50", Quantity: one, Approval: true}},
	}
	ids := make([]string, len(asked))
	for i, a := range asked {
		if ids[i], err = ask(recent[i], a.hours, a.body); err != nil {
			return err
		}
	}
	if err := g.pictured(recent[2], ids[2]); err != nil {
		return err
	}
	buy := func(hours float64, id, number, supplier string, i int, part string, q int64, cost string) error {
		line := stock.PurchaseLine{Part: part, Quantity: decimal.NewFromInt(q), Cost: *dec(cost),
			Requests: []stock.RequestRef{{Request: ids[i], Order: recent[i].order, Quantity: asked[i].body.Quantity}}}
		return say(hours, "purchase.made", "purchase", id, ledger.PurchaseMade{Number: number, Supplier: supplier, Place: "store",
			Lines: []stock.PurchaseLine{line}})
	}
	if err := buy(90, "demo-p1", "P1001", "lumen", 4, "PU-40", 1, "132.00"); err != nil {
		return err
	}
	due := g.local(g.now.AddDate(0, 0, 1)).Format(time.DateOnly)
	if err := say(89, "purchase.confirmed", "purchase", "demo-p1", ledger.PurchaseConfirmed{Reference: "LB-77120", Due: due}); err != nil {
		return err
	}
	if err := buy(110, "demo-p2", "P1002", "lumen", 5, "UV-L75", 4, "98.40"); err != nil {
		return err
	}
	if err := say(109, "purchase.confirmed", "purchase", "demo-p2", ledger.PurchaseConfirmed{Reference: "LB-77093",
		Due: g.local(g.now.AddDate(0, 0, -1)).Format(time.DateOnly)}); err != nil {
		return err
	}
	served := ledger.Served{Request: ids[5], Order: recent[5].order, Part: "UV-L75", Quantity: asked[5].body.Quantity}
	if err := say(20, "purchase.received", "purchase", "demo-p2", ledger.PurchaseReceived{Place: "store",
		Lines: []stock.Moved{{Part: "UV-L75", Quantity: decimal.NewFromInt(4)}}, Served: []ledger.Served{served}}); err != nil {
		return err
	}
	if err := say(44, "request.declined", "request", ids[6], ledger.RequestAnswered{Customer: true,
		Reason: "Mr Voss keeps the old valve until spring"}); err != nil {
		return err
	}
	lines := []stock.Moved{{Part: "OR-72", Quantity: decimal.NewFromInt(6)}, {Part: "TF-12", Quantity: decimal.NewFromInt(5)}}
	if err := say(1.5, "handover.sent", "handover", "demo-h1", ledger.HandOver{From: "store", To: "van-ansa", Lines: lines,
		Note: "Fill-up"}); err != nil {
		return err
	}
	if err := say(26, "handover.sent", "handover", "demo-h2", ledger.HandOver{From: "store", To: "van-bero",
		Lines: []stock.Moved{{Part: "SK-38", Quantity: decimal.NewFromInt(3)}}}); err != nil {
		return err
	}
	at := g.local(g.now.Add(-24 * time.Hour))
	if _, err := g.by("bero", at).Append("handover.received", ledger.Ref{Type: "handover", ID: "demo-h2"}, "bero", at,
		ledger.TakeOver{Place: "van-bero", Lines: []stock.Moved{{Part: "SK-38", Quantity: decimal.NewFromInt(2)}}}, nil); err != nil {
		return err
	}
	return g.fitted(recent)
}

// trip2 is a visit that is over.
type trip2 struct{ id, order, tech, asset string }

// over lists visits of some days that are over, a few of each day, by day.
func (g *generator) over(from, to int) ([]trip2, error) {
	var out []trip2
	for d := to; d >= from; d-- {
		ids, err := g.w.Tx.VisitsOn(g.local(g.now.AddDate(0, 0, d)).Format(time.DateOnly))
		if err != nil {
			return nil, err
		}
		for _, id := range ids {
			var v work.Visit
			var o work.Order
			if _, err := g.w.Tx.Load("visit", id, &v); err != nil {
				return nil, err
			}
			if v.Stage != work.Finished {
				continue
			}
			if _, err := g.w.Tx.Load("workorder", v.Order, &o); err != nil {
				return nil, err
			}
			// What came back for a part comes first: that is what the parts are for.
			t := trip2{id, v.Order, v.Technician, o.Asset}
			if v.Outcome == work.ReturnNeeded {
				out = append([]trip2{t}, out...)
			} else {
				out = append(out, t)
			}
		}
	}
	return out, nil
}

// pictured adds a photo of what is asked for.
func (g *generator) pictured(v trip2, request string) error {
	at := g.local(g.now.Add(-26 * time.Hour))
	ref, err := g.shot(0, v.tech, at)
	if err != nil {
		return err
	}
	_, err = g.by(v.tech, at).Append("file.attached", ledger.Ref{Type: "visit", ID: v.id}, v.tech, at,
		ledger.File{FileRef: ref, About: work.About{Entry: request}}, nil)
	return err
}

// fitted has somebody fit a motor with a serial number, use a kit, add an expense; and use what the book says is not there.
func (g *generator) fitted(recent []trip2) error {
	v := recent[8]
	ref := ledger.Ref{Type: "visit", ID: v.id}
	at := g.local(g.now.Add(-30 * time.Hour))
	say := func(kind string, body any) error {
		_, err := g.by(v.tech, at).Append(kind, ref, v.tech, at, body, nil)
		return err
	}
	one := decimal.NewFromInt(1)
	van := "van-" + v.tech
	for _, x := range []struct {
		kind string
		body any
	}{
		{"part.used", ledger.Use{Part: "MT-1500", Place: "store", Quantity: one, Asset: v.asset,
			Serial: strings.ToUpper("al-" + v.id + "-77")}},
		{"part.removed", ledger.Remove{Text: "Motor 1.5 kW, seized", Quantity: one, Asset: v.asset, Serial: "AL-20931", Fate: work.ToCore}},
		{"kit.used", ledger.UseKit{Kit: "K-SEAL", Quantity: one, Place: van,
			Parts: []stock.Moved{{Part: "SK-38", Quantity: one}, {Part: "OR-72", Quantity: decimal.NewFromInt(2)},
				{Part: "GR-40", Quantity: *dec("0.25")}}, Asset: v.asset, Labour: &work.KitWork{Person: v.tech, At: at, Minutes: 60}}},
		{"extra.added", ledger.AddExtra{Kind: work.Item, Text: "Bracket made on site", Quantity: one, Price: dec("35")}},
		{"extra.added", ledger.AddExtra{Kind: work.Fee, Text: "Ferry, return", Quantity: one, Price: dec("28")}},
	} {
		if err := say(x.kind, x.body); err != nil {
			return err
		}
	}
	today, err := g.w.Tx.VisitsOn(g.local(g.now).Format(time.DateOnly))
	if err != nil {
		return err
	}
	van = "van-" + technicians[0][0]
	for _, id := range today {
		var v work.Visit
		if _, err := g.w.Tx.Load("visit", id, &v); err != nil {
			return err
		}
		if v.Technician != technicians[0][0] || !v.Begun() {
			continue
		}
		counted := g.local(g.now.Add(-48 * time.Hour))
		if _, err := g.w.Append("stock.counted", ledger.Ref{Type: "stock", ID: van}, "oriel", counted,
			ledger.Count{Part: "HC-25", Quantity: one}, nil); err != nil {
			return err
		}
		at := g.local(g.now.Add(-time.Minute))
		_, err := g.by(v.Technician, at).Append("part.used", ledger.Ref{Type: "visit", ID: id}, v.Technician, at,
			ledger.Use{Part: "HC-25", Place: van, Quantity: decimal.NewFromInt(3)}, nil)
		return err
	}
	return nil
}
