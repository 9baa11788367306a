package view

import (
	"time"

	"github.com/shopspring/decimal"

	"iter.example/iter/core/ledger"
	"iter.example/iter/core/reading"
	"iter.example/iter/core/records"
	"iter.example/iter/core/signoff"
	"iter.example/iter/core/work"
)

// SiteHistory is what was done at a site before: the latest visits first. The server makes it when a device asks, and names stay ids in it:
// the device has the catalogue, the people and the machines.
type SiteHistory struct {
	Visits []EarlierVisit `json:"visits"`
}

// EarlierVisit is a visit that ended, in short.
type EarlierVisit struct {
	Visit    string           `json:"visit"`
	Number   string           `json:"number"`
	Asset    string           `json:"asset,omitempty"`
	Problem  string           `json:"problem"`
	People   []string         `json:"people"`
	Ended    time.Time        `json:"ended"`
	Outcome  work.Outcome     `json:"outcome"`
	Notes    []string         `json:"notes"`
	Parts    []EarlierPart    `json:"parts"`
	Readings []EarlierReading `json:"readings"`
	Reports  []EarlierReport  `json:"reports"`
}

// EarlierPart is a part that was used.
type EarlierPart struct {
	Part     string          `json:"part"`
	Quantity decimal.Decimal `json:"quantity"`
}

// EarlierReading is a value that was measured.
type EarlierReading struct {
	Asset string          `json:"asset"`
	Point string          `json:"point"`
	Value decimal.Decimal `json:"value"`
	Unit  string          `json:"unit"`
}

// EarlierReport is a report that was made.
type EarlierReport struct {
	Entry string `json:"entry"`
	Code  string `json:"code"`
}

// The most of each kind that is told of one visit: more is in its record at the office.
const (
	earlierLines = 12
	earlierText  = 600
)

// Earlier is a visit that ended in short.
func Earlier(id string, v work.Visit, o work.Order) EarlierVisit {
	out := EarlierVisit{Visit: id, Number: o.Number, Asset: o.Asset, Problem: clip(o.Problem),
		People: append([]string{v.Technician}, v.Helpers...), Ended: v.Ended(), Outcome: v.Outcome,
		Notes: []string{}, Parts: []EarlierPart{}, Readings: []EarlierReading{}, Reports: []EarlierReport{}}
	for _, n := range v.Notes {
		if !n.Struck && len(out.Notes) < earlierLines {
			out.Notes = append(out.Notes, clip(n.Text))
		}
	}
	for _, p := range v.Parts {
		if !p.Struck && len(out.Parts) < earlierLines {
			out.Parts = append(out.Parts, EarlierPart{p.Part, p.Quantity})
		}
	}
	for _, r := range v.Readings {
		if !r.Struck && len(out.Readings) < earlierLines {
			out.Readings = append(out.Readings, EarlierReading{r.Asset, r.Point, r.Value, r.Unit})
		}
	}
	for _, r := range v.Reports {
		if !r.Struck {
			out.Reports = append(out.Reports, EarlierReport{r.Entry, r.Code})
		}
	}
	return out
}

func clip(s string) string {
	if letters := []rune(s); len(letters) > earlierText {
		return string(letters[:earlierText]) + "…"
	}
	return s
}

// EarlierLine is a visit that ended, with names.
type EarlierLine struct {
	EarlierVisit
	AssetName string         `json:"assetName,omitempty"`
	Names     []string       `json:"names"`
	Used      []signoff.Line `json:"used"`
	Measured  []signoff.Line `json:"measured"`
}

// HistoryAt names what a site's history tells of. wanted is as with Of.
func HistoryAt(site string, docs Documents) (lines []EarlierLine, wanted []ledger.Ref, err error) {
	b := &builder{docs: docs}
	var history SiteHistory
	b.load("history", site, &history)
	lines = []EarlierLine{}
	for _, v := range history.Visits {
		l := EarlierLine{EarlierVisit: v, Names: []string{}, Used: []signoff.Line{}, Measured: []signoff.Line{}}
		if v.Asset != "" {
			l.AssetName, _ = b.pointName(v.Asset, "")
		}
		for _, p := range v.People {
			person := records.Person{Name: p}
			b.load("person", p, &person)
			l.Names = append(l.Names, person.Name)
		}
		for _, p := range v.Parts {
			n := b.named(p.Part, p.Quantity)
			l.Used = append(l.Used, signoff.Line{Name: n.Name, Value: n.Quantity.String(), Unit: n.Unit})
		}
		for _, r := range v.Readings {
			asset, point := b.pointName(r.Asset, r.Point)
			if r.Asset != v.Asset {
				point = asset + ": " + point
			}
			l.Measured = append(l.Measured, signoff.Line{Name: point, Value: r.Value.String(), Unit: r.Unit})
		}
		lines = append(lines, l)
	}
	return lines, b.wanted, b.err
}

// pointName gives what a machine and a point on it are called; ids of what is not there.
func (b *builder) pointName(asset, point string) (string, string) {
	a := records.Asset{Name: asset}
	var kind records.AssetKind
	if b.load("asset", asset, &a) && point != "" {
		b.load("assetkind", a.Kind, &kind)
		if p, ok := reading.Find(kind.PointsOf(a), point); ok {
			point = p.Name
		}
	}
	return a.Name, point
}
