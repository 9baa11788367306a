// Package printing prints a service report. The same report and the same photos give the same bytes, wherever they are printed. Where
// something is in letters that the paper can't show, the report says so.
package printing

import (
	"cmp"
	"fmt"
	"strings"
	"time"

	"iter.example/iter/core/paper"
	"iter.example/iter/core/report"
)

// Print gives the report as PDF. files are what its photos and logo are, by hash; one that is missing makes it fail with
// "report.photo_awaited".
func Print(r report.Report, files map[string][]byte) ([]byte, error) {
	if err := r.Check(); err != nil {
		return nil, err
	}
	digest, err := r.Digest()
	if err != nil {
		return nil, err
	}
	w := wordsIn(r.Language)
	p := &page{Page: paper.New(w.Title+" "+r.Order, r.At), words: w, r: r}
	p.SetLang(cmp.Or(r.Language, report.Languages[0]))
	p.SetAuthor(r.Firm.Name, true)
	p.SetSubject(digest, false)
	code := report.Code(digest)
	p.SetFooterFunc(func() { p.foot(code) })
	if err := p.images(files); err != nil {
		return nil, err
	}
	p.AddPage()
	p.head()
	sections := []func(){p.work, p.findings, p.advice, p.parts, p.readings, p.times, p.sheets, p.photos}
	switch r.Layout {
	case report.Short:
		sections = []func(){p.work, p.findings, p.advice, p.parts, p.readings, p.photos}
	case report.Photos:
		sections = []func(){p.work, p.findings, p.photos, p.advice, p.parts, p.readings, p.times, p.sheets}
	}
	for _, draw := range sections {
		draw()
	}
	p.signatures()
	p.check(code)
	out, err := p.Bytes()
	if err != nil {
		return nil, fmt.Errorf("report of %s: %w", r.Order, err)
	}
	return out, nil
}

// page is a report in the making.
type page struct {
	*paper.Page
	words words
	r     report.Report
}

func (p *page) when(t time.Time) string { return t.Format("2006-01-02 15:04") }

func join(parts ...string) string {
	out := []string{}
	for _, s := range parts {
		if s != "" {
			out = append(out, s)
		}
	}
	return strings.Join(out, ", ")
}

// head is the letterhead and what the report is about.
func (p *page) head() {
	r, w := p.r, p.words
	top := p.GetY()
	right := 0.0
	if r.Firm.Logo != nil {
		info := p.GetImageInfo(r.Firm.Logo.Hash)
		height := 16.0
		right = min(height*info.Width()/info.Height(), 50)
		p.ImageOptions(r.Firm.Logo.Hash, paper.PageWidth-paper.Margin-right, top, right, right*info.Height()/info.Width(), false,
			options(*r.Firm.Logo), 0, "")
	}
	p.SetRightMargin(paper.Margin + right + 4)
	p.Size("B", 13)
	p.In(paper.Ink)
	p.Para(r.Firm.Name, 6)
	p.Size("", 8.5)
	p.In(paper.Quiet)
	for _, line := range append(append([]string{}, r.Firm.Lines...), r.Firm.Phone) {
		if line != "" {
			p.Para(line, 4.2)
		}
	}
	p.SetRightMargin(paper.Margin)
	p.SetY(max(p.GetY(), top+18) + 3)
	p.Size("B", 20)
	p.In(paper.Ink)
	p.Para(w.Title, 9)
	p.Size("", 9.5)
	p.Ln(1)
	for _, f := range [][2]string{{w.Order, r.Order}, {w.Customer, r.Customer}, {w.Site, join(r.Site, r.Address)}, {w.Asset, r.Asset},
		{w.Serial, r.Serial}, {w.Ended, ended(p, r)}, {w.Outcome, join(r.Outcome, r.Reason)}} {
		p.Fact(f[0], f[1])
	}
	if r.Firm.Intro != "" {
		p.Ln(3)
		p.Para(r.Firm.Intro, 4.8)
	}
}

func ended(p *page, r report.Report) string {
	if r.Ended.IsZero() {
		return ""
	}
	return p.when(r.Ended)
}

func (p *page) work() {
	p.Heading(p.words.Problem)
	p.Para(p.r.Problem, 4.8)
	for _, t := range p.r.Tasks {
		p.Ln(0.6)
		p.Para("–  "+t.Name+p.mark(t.Mark), 4.8)
	}
}

// mark says how a line stands, in words.
func (p *page) mark(mark string) string {
	w := p.words
	words := map[string]string{"removed": w.Removed, "done": w.Done, "held": w.Held, "accepted": w.Accepted, "declined": w.Declined}
	if l, ok := w.Levels[mark]; ok {
		return " (" + l + ")"
	}
	if s, ok := words[mark]; ok {
		return " (" + s + ")"
	}
	return ""
}

func (p *page) findings() {
	if len(p.r.Findings) == 0 {
		return
	}
	p.Heading(p.words.Findings)
	for _, f := range p.r.Findings {
		p.Size("", 8)
		p.In(paper.Quiet)
		p.Para(p.when(f.At)+"  "+f.Name, 4.6)
		p.Size("", 9.5)
		p.In(paper.Ink)
		p.Para(f.Text, 4.8)
		p.Ln(1.6)
	}
}

func (p *page) parts() {
	if len(p.r.Parts) == 0 {
		return
	}
	w := p.words
	p.Heading(w.Parts)
	widths := paper.Columns(paper.Width-40, 40)
	p.Row(widths, "B", w.Part, w.Quantity)
	for _, l := range p.r.Parts {
		p.Row(widths, "", l.Name+p.mark(l.Mark), measured(l.Value, l.Unit))
	}
}

func (p *page) readings() {
	if len(p.r.Readings) == 0 {
		return
	}
	w := p.words
	p.Heading(w.Readings)
	widths := paper.Columns(paper.Width-96, 30, 40, 26)
	p.Row(widths, "B", w.Point, w.Value, w.Limits, w.State)
	for _, r := range p.r.Readings {
		style := ""
		if r.Level != "ok" && r.Level != "" {
			style = "B"
		}
		p.Row(widths, style, r.Asset+": "+r.Point, measured(r.Value, r.Unit), limits(r), w.Levels[string(r.Level)])
	}
}

// limits are how far a value may go, alarms where there are any.
func limits(r report.Reading) string {
	low, high := r.Limits.AlarmLow, r.Limits.AlarmHigh
	if low == nil {
		low = r.Limits.WarnLow
	}
	if high == nil {
		high = r.Limits.WarnHigh
	}
	switch {
	case low != nil && high != nil:
		return low.String() + " – " + high.String() + " " + r.Unit
	case low != nil:
		return "≥ " + low.String() + " " + r.Unit
	case high != nil:
		return "≤ " + high.String() + " " + r.Unit
	}
	return "–"
}

func (p *page) times() {
	if len(p.r.People) == 0 {
		return
	}
	w := p.words
	p.Heading(w.Time)
	widths := paper.Columns(paper.Width-84, 28, 28, 28)
	p.Row(widths, "B", w.Person, w.Travel, w.Work, w.Wait)
	for _, t := range p.r.People {
		p.Row(widths, "", t.Name, hours(t.Hours.Travel), hours(t.Hours.Work), hours(t.Hours.Wait))
	}
}

// hours are seconds as hours and minutes.
func hours(seconds int64) string {
	minutes := (seconds + 30) / 60
	return fmt.Sprintf("%d:%02d", minutes/60, minutes%60)
}

func (p *page) advice() {
	if len(p.r.Advice) == 0 {
		return
	}
	w := p.words
	p.Heading(w.Advice)
	for _, a := range p.r.Advice {
		p.Para(a.Text, 4.8)
		for _, l := range a.Lines {
			answer := map[string]string{"accepted": w.Accepted, "declined": w.Declined, "": w.Open}[l.Answer]
			price := ""
			if l.Price != nil {
				price = " à " + p.r.Currency.Number(*l.Price)
			}
			p.Row(paper.Columns(paper.Width-78, 46, 32), "", l.Text, measured(l.Quantity.String(), l.Unit)+price, answer)
		}
		p.Ln(1)
	}
}

func (p *page) sheets() {
	for _, s := range p.r.Sheets {
		if len(s.Lines) == 0 {
			continue
		}
		p.Heading(s.Title)
		for _, l := range s.Lines {
			value := map[string]string{"yes": p.words.Yes, "no": p.words.No}[l.Value]
			p.Row(paper.Columns(paper.Width-70, 70), "", l.Name, measured(cmp.Or(value, l.Value), l.Unit))
		}
	}
}

func (p *page) foot(code string) {
	p.SetY(-paper.Margin - 6)
	p.Size("", 8)
	p.In(paper.Quiet)
	p.CellFormat(paper.Width/2, 5, p.Shown(p.r.Firm.Name)+" · "+p.words.Order+" "+p.Shown(p.r.Order), "", 0, "L", false, 0, "")
	p.CellFormat(paper.Width/2, 5, code+" · "+fmt.Sprint(p.PageNo()), "", 0, "R", false, 0, "")
	p.In(paper.Ink)
}

// measured is a value with its unit, when it has one.
func measured(value, unit string) string { return strings.TrimSpace(value + " " + unit) }
