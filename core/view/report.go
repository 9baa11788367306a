package view

import (
	"cmp"
	"slices"
	"time"

	"iter.example/iter/core/ledger"
	"iter.example/iter/core/records"
	"iter.example/iter/core/report"
	"iter.example/iter/core/work"
)

// Wish is how somebody wants a service report.
type Wish struct {
	Layout report.Layout `json:"layout,omitempty"` // "": the company's
	By     string        `json:"by"`               // who makes it: a name
	// Photos are the files to show, by the entry that attached each, in order; nil shows all that fit. Here are the pictures that whoever
	// prints has, by hash; nil has all.
	Photos []string        `json:"photos,omitzero"`
	Here   map[string]bool `json:"here"`
	// CheckAt is where codes are checked, for a company that has not said.
	CheckAt string `json:"checkAt,omitempty"`
	// Words are those of the outcomes, by id, for a company that has none of its own.
	Words map[string]string `json:"words"`
}

// ReportOf gives what a service report of a visit says now. wanted is as with Of.
func ReportOf(id string, docs Documents, now time.Time, w Wish) (r *report.Report, wanted []ledger.Ref, err error) {
	b := &builder{docs: docs}
	v := b.visit(id, now)
	if v == nil || b.err != nil || len(b.wanted) > 0 {
		return nil, b.wanted, b.err
	}
	out := b.report(v, now, w)
	if b.err != nil || len(b.wanted) > 0 {
		return nil, b.wanted, b.err
	}
	return &out, nil, out.Check()
}

func (b *builder) report(v *Visit, now time.Time, w Wish) report.Report {
	paper, err := ledger.SettingsOn[report.Settings](b.document, b.day)
	b.note(err)
	s := v.Summary
	out := report.Report{
		Layout: cmp.Or(w.Layout, report.Layout(paper.Layout), report.Full), Language: report.Languages[0], At: now, By: w.By,
		CheckAt:  cmp.Or(paper.CheckAt, w.CheckAt),
		Firm:     report.Firm{Name: b.company.Name, Lines: paper.Lines, Phone: b.company.Phone, Intro: paper.Intro, Close: paper.Close},
		Currency: b.company.Currency,
		Order:    s.Order, Customer: s.Customer, Site: s.Site, Address: v.Site.Address, Asset: s.Asset, Problem: s.Problem,
		Ended:  v.Visit.Ended(),
		People: []report.Time{}, Tasks: taskLines(v, scope{}), Findings: []report.Finding{}, Readings: []report.Reading{},
		Sheets: []report.Sheet{},
		Parts:  s.Parts, Advice: []report.Advice{}, Photos: []report.Photo{}, Signatures: []report.Signature{},
	}
	if l := paper.Logo; l != nil && (w.Here == nil || w.Here[l.Hash]) {
		out.Firm.Logo = &report.Photo{Hash: l.Hash, Type: l.Type, Size: l.Size}
	}
	if v.Asset != nil {
		out.Serial = v.Asset.Serial
	}
	out.Outcome, out.Reason = b.outcome(v, w)
	for _, c := range v.Crew {
		if c.Hours.Work+c.Hours.Travel+c.Hours.Wait > 0 {
			out.People = append(out.People, report.Time{Name: v.Names[c.Person], Hours: c.Hours})
		}
	}
	for _, n := range v.Visit.Notes {
		if !n.Struck && !n.Office {
			out.Findings = append(out.Findings, report.Finding{At: n.At, Name: v.Names[n.Person], Text: n.Text})
		}
	}
	for _, r := range v.Readings {
		if r.Struck {
			continue
		}
		line := report.Reading{Asset: r.AssetName, Point: r.PointName, Value: r.Shown, Unit: r.ShownUnit, Level: r.Level}
		for _, m := range v.Machines {
			for _, at := range m.Points {
				if m.ID == r.Asset && at.ID == r.Point && at.Unit == r.ShownUnit {
					line.Limits = at.Limits
				}
			}
		}
		out.Readings = append(out.Readings, line)
	}
	for _, f := range b.filled {
		out.Sheets = append(out.Sheets, report.Sheet{Title: f.State.Title, Lines: f.lines(nil, scope{})})
	}
	for _, a := range v.Visit.Proposals {
		if a.Struck || a.Kind != work.Recommendation {
			continue
		}
		line := report.Advice{Text: a.Text, Lines: []report.AdviceLine{}}
		for _, l := range a.Lines {
			entry := report.AdviceLine{Text: l.Text, Quantity: l.Quantity, Unit: l.Unit, Answer: string(l.Answer)}
			if b.rules.Prices {
				entry.Price = l.Price
			}
			line.Lines = append(line.Lines, entry)
		}
		out.Advice = append(out.Advice, line)
	}
	b.signatures(v, &out)
	photos(v, w, &out)
	return out
}

// outcome is how the visit ended and why, in words.
func (b *builder) outcome(v *Visit, w Wish) (outcome, reason string) {
	if v.Visit.Stage != work.Finished {
		return "", ""
	}
	o, _ := b.rules.Outcome(v.Visit.Outcome)
	for _, s := range v.Visit.Steps {
		if s.Action == work.Finish && !s.Struck {
			reason = s.Reason
		}
	}
	return cmp.Or(o.Text, w.Words[string(o.ID)], string(o.ID)), reasonText(b.rules.Returns, reason)
}

// reasonText is what one of the company's reasons says; what is none of them is words already.
func reasonText(list []records.Choice, id string) string {
	for _, r := range list {
		if r.ID == id {
			return r.Text
		}
	}
	return id
}

func (b *builder) signatures(v *Visit, out *report.Report) {
	changed := map[string]bool{}
	for _, s := range v.Signed {
		changed[s.Entry] = len(s.Changes) > 0
	}
	for _, s := range v.Visit.Signatures {
		if !s.Struck {
			out.Signatures = append(out.Signatures, report.Signature{Name: s.Name, Role: s.Role, At: s.At, Strokes: s.Strokes,
				Digest: s.Digest, Changed: changed[s.Entry]})
		}
	}
	if a := v.Visit.Unsigned(); a != nil && len(out.Signatures) == 0 {
		out.Unsigned = reasonText(b.rules.Unsigned, a.Reason)
	}
}

// photos puts the photos on the report that were chosen, in the copies that are made for that, as many as it may carry.
func photos(v *Visit, w Wish, out *report.Report) {
	var files []work.File
	if w.Photos == nil {
		files = v.Visit.Files
	}
	for _, entry := range w.Photos {
		if i := slices.IndexFunc(v.Visit.Files, func(f work.File) bool { return f.Entry == entry }); i >= 0 {
			files = append(files, v.Visit.Files[i])
		}
	}
	var bytes int64
	here := func(hash string) bool { return w.Here == nil || w.Here[hash] }
	for _, f := range files {
		picture := f.FileRef
		if f.Print != nil && here(f.Print.Hash) {
			picture = *f.Print
		}
		if f.Struck || (picture.Type != "image/jpeg" && picture.Type != "image/png") {
			continue
		}
		twice := slices.ContainsFunc(out.Photos, func(p report.Photo) bool { return p.Hash == picture.Hash })
		if twice || !here(picture.Hash) || len(out.Photos) >= report.MaxPhotos || bytes+picture.Size > report.MaxPhotoBytes {
			out.PhotosBeside++
			continue
		}
		bytes += picture.Size
		out.Photos = append(out.Photos, report.Photo{Hash: picture.Hash, Type: picture.Type, Size: picture.Size, At: f.At,
			Caption: f.Caption, Moment: string(f.Moment), Marks: f.Marks})
	}
}
