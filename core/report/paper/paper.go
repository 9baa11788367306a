// Package paper prints a service report as PDF: A4, text that can be searched and copied, in the order it is read. The same report and the
// same photos give the same bytes, wherever they are printed.
//
// The typeface has Latin, Greek and Cyrillic letters. Any other letter is printed as an empty square, and the report says so.
package paper

import (
	"bytes"
	"cmp"
	"fmt"

	"github.com/go-pdf/fpdf"
	"golang.org/x/image/font/gofont/gobold"
	"golang.org/x/image/font/gofont/goregular"

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
	p := &page{Fpdf: fpdf.New("P", "mm", "A4", ""), words: wordsIn(r.Language), r: r}
	w := p.words
	p.SetCreationDate(r.At.UTC())
	p.SetModificationDate(r.At.UTC())
	p.SetCatalogSort(true)
	p.SetProducer("Iter", false)
	p.SetLang(cmp.Or(r.Language, report.Languages[0]))
	p.SetTitle(w.Title+" "+r.Order, true)
	p.SetAuthor(r.Firm.Name, true)
	p.SetSubject(digest, false)
	p.AddUTF8FontFromBytes(font, "", goregular.TTF)
	p.AddUTF8FontFromBytes(font, "B", gobold.TTF)
	p.SetMargins(margin, margin, margin)
	p.SetCellMargin(0)
	p.SetAutoPageBreak(true, margin+footer)
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
	var out bytes.Buffer
	if err := p.Output(&out); err != nil {
		return nil, fmt.Errorf("report of %s: %w", r.Order, err)
	}
	return out.Bytes(), nil
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
		p.ImageOptions(r.Firm.Logo.Hash, pageWidth-margin-right, top, right, right*info.Height()/info.Width(), false,
			options(*r.Firm.Logo), 0, "")
	}
	p.SetRightMargin(margin + right + 4)
	p.size("B", 13)
	p.ink(ink)
	p.para(r.Firm.Name, 6)
	p.size("", 8.5)
	p.ink(quiet)
	for _, line := range append(append([]string{}, r.Firm.Lines...), r.Firm.Phone) {
		if line != "" {
			p.para(line, 4.2)
		}
	}
	p.SetRightMargin(margin)
	p.SetY(max(p.GetY(), top+18) + 3)
	p.size("B", 20)
	p.ink(ink)
	p.para(w.Title, 9)
	p.size("", 9.5)
	p.Ln(1)
	for _, f := range [][2]string{{w.Order, r.Order}, {w.Customer, r.Customer}, {w.Site, join(r.Site, r.Address)}, {w.Asset, r.Asset},
		{w.Serial, r.Serial}, {w.Ended, ended(p, r)}, {w.Outcome, join(r.Outcome, r.Reason)}} {
		if f[1] == "" {
			continue
		}
		p.fact(f[0], f[1])
	}
	if r.Firm.Intro != "" {
		p.Ln(3)
		p.para(r.Firm.Intro, 4.8)
	}
}

func ended(p *page, r report.Report) string {
	if r.Ended.IsZero() {
		return ""
	}
	return p.when(r.Ended)
}

func (p *page) work() {
	p.heading(p.words.Problem)
	p.para(p.r.Problem, 4.8)
	for _, t := range p.r.Tasks {
		p.Ln(0.6)
		p.para("–  "+t.Name+p.mark(t.Mark), 4.8)
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
	p.heading(p.words.Findings)
	for _, f := range p.r.Findings {
		p.size("", 8)
		p.ink(quiet)
		p.para(p.when(f.At)+"  "+f.Name, 4.6)
		p.size("", 9.5)
		p.ink(ink)
		p.para(f.Text, 4.8)
		p.Ln(1.6)
	}
}

func (p *page) parts() {
	if len(p.r.Parts) == 0 {
		return
	}
	w := p.words
	p.heading(w.Parts)
	widths := []float64{width - 40, 40}
	p.row(widths, "B", w.Part, w.Quantity)
	for _, l := range p.r.Parts {
		p.row(widths, "", l.Name+p.mark(l.Mark), measured(l.Value, l.Unit))
	}
}

func (p *page) readings() {
	if len(p.r.Readings) == 0 {
		return
	}
	w := p.words
	p.heading(w.Readings)
	widths := []float64{width - 96, 30, 40, 26}
	p.row(widths, "B", w.Point, w.Value, w.Limits, w.State)
	for _, r := range p.r.Readings {
		style := ""
		if r.Level != "ok" && r.Level != "" {
			style = "B"
		}
		p.row(widths, style, r.Asset+": "+r.Point, measured(r.Value, r.Unit), limits(r), w.Levels[string(r.Level)])
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
	p.heading(w.Time)
	widths := []float64{width - 84, 28, 28, 28}
	p.row(widths, "B", w.Person, w.Travel, w.Work, w.Wait)
	for _, t := range p.r.People {
		p.row(widths, "", t.Name, hours(t.Hours.Travel), hours(t.Hours.Work), hours(t.Hours.Wait))
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
	p.heading(w.Advice)
	for _, a := range p.r.Advice {
		p.para(a.Text, 4.8)
		for _, l := range a.Lines {
			answer := map[string]string{"accepted": w.Accepted, "declined": w.Declined, "": w.Open}[l.Answer]
			price := ""
			if l.Price != nil {
				price = " à " + l.Price.StringFixed(2)
			}
			p.row([]float64{width - 78, 46, 32}, "", l.Text, measured(l.Quantity.String(), l.Unit)+price, answer)
		}
		p.Ln(1)
	}
}

func (p *page) sheets() {
	for _, s := range p.r.Sheets {
		if len(s.Lines) == 0 {
			continue
		}
		p.heading(s.Title)
		for _, l := range s.Lines {
			value := map[string]string{"yes": p.words.Yes, "no": p.words.No}[l.Value]
			p.row([]float64{width - 70, 70}, "", l.Name, measured(cmp.Or(value, l.Value), l.Unit))
		}
	}
}

func (p *page) foot(code string) {
	p.SetY(-margin - 6)
	p.size("", 8)
	p.ink(quiet)
	p.CellFormat(width/2, 5, p.text(p.r.Firm.Name)+" · "+p.words.Order+" "+p.text(p.r.Order), "", 0, "L", false, 0, "")
	p.CellFormat(width/2, 5, code+" · "+fmt.Sprint(p.PageNo()), "", 0, "R", false, 0, "")
	p.ink(ink)
}
