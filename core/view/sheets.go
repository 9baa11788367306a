package view

import (
	"cmp"
	"encoding/json"
	"slices"
	"strings"
	"time"

	"iter.example/iter/core/ledger"
	"iter.example/iter/core/msg"
	"iter.example/iter/core/reading"
	"iter.example/iter/core/records"
	"iter.example/iter/core/sheet"
	"iter.example/iter/core/signoff"
	"iter.example/iter/core/substance"
	"iter.example/iter/core/work"
)

// filledSheet is a sheet with what it came to.
type filledSheet struct {
	*sheet.Compiled
	sheet.State
}

// sheet loads a check sheet.
func (b *builder) sheet(ref string) *sheet.Compiled {
	var raw json.RawMessage
	if !b.load("sheet", ref, &raw) {
		return nil
	}
	c, err := sheet.Load(raw)
	if err != nil {
		b.err = msg.New("document.unreadable", "document", ledger.Ref{Type: "sheet", ID: ref}.String())
		return nil
	}
	return c
}

// lines are the answers as a signer is shown them: those that count, in the sheet's own words.
func (f filledSheet) lines(answers map[string]sheet.Answer, in scope) []signoff.Line {
	out := []signoff.Line{}
	names := map[string]string{}
	for _, s := range f.Sections {
		for _, it := range s.Items {
			names[it.ID] = it.Name
		}
	}
	for _, l := range f.Lines {
		q, ok := f.Compiled.Sheet.Find(l.Question)
		if !ok || l.Value == "" || q.Kind == sheet.Reading { // readings are listed by themselves
			continue
		}
		if a, ok := answers[sheet.Key(l.Question, l.Item)]; in.day != "" && (!ok || !in.on(a.At)) {
			continue
		}
		name := q.Text
		if n := names[l.Item]; n != "" {
			name = n + ": " + name
		}
		out = append(out, signoff.Line{Name: name, Value: cmp.Or(q.Words(l.Value), l.Value), Unit: q.Unit})
	}
	return out
}

// Around is what is known around a visit, to fill in a sheet with.
type Around struct {
	Order    work.Order               `json:"order"`
	Customer records.Customer         `json:"customer"`
	Site     records.Site             `json:"site"`
	Asset    *records.Asset           `json:"asset,omitempty"`
	Assets   map[string]records.Asset `json:"assets"` // at the site
	Told     []reading.Told           `json:"told"`   // the last answers
}

// Known is what questions of a sheet can be filled in from, by path.
func (a Around) Known(s sheet.Sheet) map[string]string {
	asset := records.Asset{}
	if a.Asset != nil {
		asset = *a.Asset
	}
	out := map[string]string{
		"order.number": a.Order.Number, "order.problem": a.Order.Problem, "customer.name": a.Customer.Name,
		"customer.contact.name": a.Customer.Contact.Name,
		"site.name":             a.Site.Name, "site.address": a.Site.Address, "site.access": a.Site.Access, "site.hazard": a.Site.Hazard,
		"site.contact.name": a.Site.Contact.Name, "site.contact.phone": a.Site.Contact.Phone,
		"asset.name": asset.Name, "asset.maker": asset.Maker, "asset.serial": asset.Serial, "asset.installed": asset.Installed,
	}
	for _, t := range a.Told {
		if t.Sheet == s.ID && !t.Struck {
			out["last:"+t.Key] = t.Value
		}
	}
	return out
}

// Fill works out a sheet of a visit; last is how it was worked out before, if it was.
func Fill(c *sheet.Compiled, last *sheet.Filling, v work.Visit, a Around) *sheet.Filling {
	g := v.Given(c.Sheet.Ref(), a.Order.Asset)
	g.Known = a.Known(c.Sheet)
	return c.Refill(last, g)
}

// Begin is the entry that begins a sheet: what is known, and the machines that its sections repeat for.
func Begin(c *sheet.Compiled, v work.Visit, a Around) ledger.SheetBegun {
	out := ledger.SheetBegun{Sheet: c.Sheet.Ref(), Known: []ledger.Given{}, Items: []ledger.Repeated{}}
	for _, l := range Fill(c, nil, v, a).State.Lines {
		if l.Known {
			out.Known = append(out.Known, ledger.Given{Question: l.Question, Item: l.Item, Value: l.Value})
		}
	}
	for _, sec := range c.Sheet.Sections {
		if sec.Repeat == nil || !sec.Repeat.Assets {
			continue
		}
		ids := []string{}
		for id, asset := range a.Assets {
			if sec.Repeat.Kind == "" || asset.Kind == sec.Repeat.Kind {
				ids = append(ids, id)
			}
		}
		slices.SortFunc(ids, func(x, y string) int {
			return cmp.Or(strings.Compare(a.Assets[x].Name, a.Assets[y].Name), strings.Compare(x, y))
		})
		for _, id := range ids {
			out.Items = append(out.Items, ledger.Repeated{Section: sec.ID, Item: id, Name: a.Assets[id].Name, Asset: id})
		}
	}
	return out
}

// substances adds up the site's log.
func (b *builder) substances(v *Visit, now time.Time) {
	rules, err := ledger.SettingsOn[substance.Settings](b.document, b.day)
	b.note(err)
	if len(rules.Substances) == 0 {
		return
	}
	var log substance.Log
	b.load("substances", v.Order.Site, &log)
	assets := map[string]records.Asset{}
	for _, m := range v.Machines {
		assets[m.ID] = m.Asset
	}
	for _, m := range log.Moves {
		var a records.Asset
		if _, have := assets[m.Asset]; !have && b.load("asset", m.Asset, &a) {
			assets[m.Asset] = a
		}
		if m.Visit == v.ID {
			v.Moves = append(v.Moves, m)
		}
	}
	v.Substances = log.Stands(rules.Substances, assets, now)
	for id, a := range assets {
		v.Names[id] = a.Name
	}
}
