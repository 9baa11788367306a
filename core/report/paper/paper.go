// Package paper prints a service report as PDF: A4, text that can be searched and copied, in the order it is read. The same report and the
// same photos give the same bytes, wherever they are printed.
//
// The typeface has Latin, Greek and Cyrillic letters. Any other letter is printed as an empty square, and the report says so.
package paper

import (
	"bytes"
	"cmp"
	"encoding/gob"
	"fmt"
	"math"
	"strings"
	"sync"
	"time"

	"github.com/boombuler/barcode/qr"
	"github.com/go-pdf/fpdf"
	"golang.org/x/image/font/gofont/gobold"
	"golang.org/x/image/font/gofont/goregular"
	"golang.org/x/image/font/sfnt"
	"golang.org/x/text/unicode/norm"

	"iter.example/iter/core/msg"
	"iter.example/iter/core/report"
	"iter.example/iter/core/signoff"
	"iter.example/iter/core/work"
)

// The page, in millimetres.
const (
	pageWidth, pageHeight = 210.0, 297.0
	margin                = 18.0
	footer                = 16.0
	width                 = pageWidth - 2*margin
	font                  = "go"
	unshown               = '\u25a1'
)

type colour [3]int

var (
	ink    = colour{24, 33, 38}
	quiet  = colour{84, 96, 102}
	rule   = colour{205, 200, 188}
	accent = colour{244, 185, 11}
)

// face tells which letters the typeface has.
var face = sync.OnceValue(func() *sfnt.Font {
	f, err := sfnt.Parse(goregular.TTF)
	if err != nil {
		panic(err) // it is compiled in
	}
	return f
})

// page is a report in the making.
type page struct {
	*fpdf.Fpdf
	words   words
	r       report.Report
	buffer  sfnt.Buffer
	strange bool // something could not be shown
}

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

// images makes the photos known, so that each is in the file once.
func (p *page) images(files map[string][]byte) error {
	all := p.r.Photos
	if p.r.Firm.Logo != nil {
		all = append([]report.Photo{*p.r.Firm.Logo}, all...)
	}
	missing := 0
	for i, photo := range all {
		raw := files[photo.Hash]
		if raw == nil {
			missing++
			continue
		}
		info := p.RegisterImageOptionsReader(photo.Hash, options(photo), bytes.NewReader(raw))
		if p.Err() || info.Width() < 1 || info.Height() < 1 {
			return msg.New("file.unreadable", "name", photo.Caption)
		}
		if err := place(info, i); err != nil {
			return fmt.Errorf("photo %d: %w", i+1, err)
		}
	}
	if missing > 0 {
		return msg.New("report.photo_awaited", "count", fmt.Sprint(missing))
	}
	return nil
}

// place gives an image its place among the others. The library writes images sorted by their widths, and those of one width in no order: so
// each is a hair wider than the one before, which is rounded away when the width is written.
func place(info *fpdf.ImageInfoType, n int) error {
	raw, err := info.GobEncode()
	if err != nil {
		return err
	}
	var (
		data, mask, palette     []byte
		object, bits            int
		wide, high, scale, dpi  float64
		space, filter, decoding string
		clear                   []int
	)
	fields := []any{&data, &mask, &object, &wide, &high, &space, &palette, &bits, &filter, &decoding, &clear, &scale, &dpi}
	in := gob.NewDecoder(bytes.NewReader(raw))
	for _, f := range fields {
		if err := in.Decode(f); err != nil {
			return err
		}
	}
	wide += float64(n+1) / 1024
	var again bytes.Buffer
	out := gob.NewEncoder(&again)
	for _, f := range fields {
		if err := out.Encode(f); err != nil {
			return err
		}
	}
	return info.GobDecode(again.Bytes())
}

func options(photo report.Photo) fpdf.ImageOptions {
	kind := "JPG"
	if photo.Type == "image/png" {
		kind = "PNG"
	}
	return fpdf.ImageOptions{ImageType: kind}
}

func (p *page) size(style string, size float64) { p.SetFont(font, style, size) }

func (p *page) ink(c colour) { p.SetTextColor(c[0], c[1], c[2]) }

// text is what can be shown of a text.
func (p *page) text(s string) string {
	return strings.Map(func(r rune) rune {
		if r == '\n' || r == ' ' {
			return r
		}
		if r == '\t' {
			return ' '
		}
		if r < ' ' || r == '\u200b' || r == '\ufeff' || r == '\r' {
			return -1
		}
		if i, err := face().GlyphIndex(&p.buffer, r); err != nil || i == 0 || r > 0xffff {
			p.strange = true
			return unshown
		}
		return r
	}, norm.NFC.String(s))
}

// room begins a new page when less than height is left on this one.
func (p *page) room(height float64) {
	if p.GetY()+height > pageHeight-margin-footer {
		p.AddPage()
	}
}

// para prints text between the margins, over as many lines and pages as it takes.
func (p *page) para(text string, line float64) {
	left, _, right, _ := p.GetMargins()
	for _, l := range strings.Split(p.text(text), "\n") {
		for _, piece := range p.fold(l, pageWidth-left-right-2) {
			p.SetX(left)
			p.CellFormat(0, line, piece, "", 1, "L", false, 0, "")
		}
	}
}

func (p *page) heading(text string) {
	p.room(22)
	p.Ln(5)
	y := p.GetY()
	p.SetDrawColor(accent[0], accent[1], accent[2])
	p.SetLineWidth(0.9)
	p.Line(margin, y, margin+9, y)
	p.SetLineWidth(0.2)
	p.SetDrawColor(rule[0], rule[1], rule[2])
	p.Line(margin+9, y, pageWidth-margin, y)
	p.Ln(1.8)
	p.size("B", 11.5)
	p.ink(ink)
	p.Bookmark(text, 0, y)
	p.para(text, 6)
	p.size("", 9.5)
}

func (p *page) when(t time.Time) string { return t.Format("2006-01-02 15:04") }

// head is the letterhead and what the report is about.
func (p *page) head() {
	r, w := p.r, p.words
	top := p.GetY()
	right := 0.0
	if r.Firm.Logo != nil {
		info := p.GetImageInfo(r.Firm.Logo.Hash)
		height := 16.0
		right = min(height*info.Width()/info.Height(), 50)
		p.ImageOptions(r.Firm.Logo.Hash, pageWidth-margin-right, top, right, right*info.Height()/info.Width(), false, options(*r.Firm.Logo), 0, "")
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
	for _, f := range [][2]string{{w.Order, r.Order}, {w.Customer, r.Customer}, {w.Site, join(r.Site, r.Address)}, {w.Asset, r.Asset}, {w.Serial, r.Serial}, {w.Ended, ended(p, r)}, {w.Outcome, join(r.Outcome, r.Reason)}} {
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

func join(parts ...string) string {
	out := []string{}
	for _, s := range parts {
		if s != "" {
			out = append(out, s)
		}
	}
	return strings.Join(out, ", ")
}

const labelWidth = 34.0

// fact prints a name and its value beside it.
func (p *page) fact(name, value string) {
	p.room(6)
	y := p.GetY()
	p.ink(quiet)
	p.CellFormat(labelWidth, 5, name, "", 0, "L", false, 0, "")
	p.ink(ink)
	p.SetXY(margin+labelWidth, y)
	p.SetLeftMargin(margin + labelWidth)
	p.para(value, 5)
	p.SetLeftMargin(margin)
	p.SetX(margin)
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

// row prints cells of given widths beside each other, each over as many lines as it takes, and a thin rule below.
func (p *page) row(widths []float64, style string, cells ...string) {
	const line = 4.8
	most := 1
	texts := make([][]string, len(cells))
	for i, c := range cells {
		for _, l := range strings.Split(p.text(c), "\n") {
			texts[i] = append(texts[i], p.fold(l, widths[i]-2)...)
		}
		most = max(most, len(texts[i]))
	}
	p.room(min(float64(most), 40)*line + 1.6)
	p.SetAutoPageBreak(false, 0)
	p.size(style, 9)
	for n := range most {
		if p.GetY()+line > pageHeight-margin-footer {
			p.AddPage()
			p.size(style, 9)
		}
		y, x := p.GetY(), margin
		for i := range cells {
			if n < len(texts[i]) {
				p.SetXY(x, y)
				p.CellFormat(widths[i], line, texts[i][n], "", 0, "L", false, 0, "")
			}
			x += widths[i]
		}
		p.SetXY(margin, y+line)
	}
	p.SetAutoPageBreak(true, margin+footer)
	p.SetDrawColor(rule[0], rule[1], rule[2])
	p.SetLineWidth(0.15)
	p.Line(margin, p.GetY()+0.6, pageWidth-margin, p.GetY()+0.6)
	p.Ln(1.4)
}

// fold breaks a line into pieces that fit a width, between words where it can.
func (p *page) fold(text string, w float64) []string {
	var out []string
	line, room := "", w
	for _, word := range strings.Split(text, " ") {
		for {
			next := word
			if line != "" {
				next = line + " " + word
			}
			if p.GetStringWidth(next) <= room {
				line = next
				break
			}
			if line != "" {
				out, line = append(out, line), ""
				continue
			}
			// A word longer than the line.
			n := 1
			letters := []rune(word)
			for n < len(letters) && p.GetStringWidth(string(letters[:n+1])) <= room {
				n++
			}
			if n >= len(letters) {
				line = word
				break
			}
			out, word = append(out, string(letters[:n])), string(letters[n:])
		}
	}
	return append(out, line)
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
		p.row(widths, "", l.Name+p.mark(l.Mark), join2(l.Value, l.Unit))
	}
}

func join2(a, b string) string { return strings.TrimSpace(a + " " + b) }

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
		p.row(widths, style, r.Asset+": "+r.Point, join2(r.Value, r.Unit), limits(r), w.Levels[string(r.Level)])
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
			p.row([]float64{width - 78, 46, 32}, "", l.Text, join2(l.Quantity.String(), l.Unit)+price, answer)
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
			p.row([]float64{width - 70, 70}, "", l.Name, join2(cmp.Or(value, l.Value), l.Unit))
		}
	}
}

func (p *page) photos() {
	if len(p.r.Photos) == 0 && p.r.PhotosBeside == 0 {
		return
	}
	w := p.words
	columns := 2.0
	if p.r.Layout == report.Photos {
		columns = 1
	}
	const gap, most = 4.0, 95.0
	wide := (width - gap*(columns-1)) / columns
	if len(p.r.Photos) > 0 { // the heading stays with the first
		info := p.GetImageInfo(p.r.Photos[0].Hash)
		p.room(min(wide*info.Height()/info.Width(), most) + 34)
	}
	p.heading(w.Photos)
	top, below, column := p.GetY(), p.GetY(), 0.0
	for _, photo := range p.r.Photos {
		info := p.GetImageInfo(photo.Hash)
		high := wide * info.Height() / info.Width()
		across := wide
		if high > most {
			across, high = wide*most/high, most
		}
		if column == 0 {
			if top = below; top+high+14 > pageHeight-margin-footer {
				p.AddPage()
				top, below = p.GetY(), p.GetY()
			}
		} else if top+high+14 > pageHeight-margin-footer {
			p.AddPage()
			top, below, column = p.GetY(), p.GetY(), 0
		}
		x := margin + column*(wide+gap)
		p.ImageOptions(photo.Hash, x, top, across, high, false, options(photo), 0, "")
		p.marks(photo.Marks, x, top, across, high)
		p.SetXY(x, top+high+1)
		p.size("", 8)
		p.ink(quiet)
		caption := join(map[string]string{"before": w.Before, "after": w.After}[photo.Moment], p.text(photo.Caption))
		if !photo.At.IsZero() {
			caption = strings.TrimSpace(p.when(photo.At) + "  " + caption)
		}
		for _, l := range p.fold(caption, wide-2)[:min(len(p.fold(caption, wide-2)), 3)] {
			p.SetX(x)
			p.CellFormat(wide, 3.8, l, "", 2, "L", false, 0, "")
		}
		below = max(below, p.GetY()+3)
		if column++; column >= columns {
			column = 0
		}
	}
	p.SetXY(margin, below)
	p.ink(ink)
	p.size("", 9.5)
	if p.r.PhotosBeside > 0 {
		p.para(fmt.Sprintf(w.Beside, p.r.PhotosBeside), 4.8)
	}
}

// paints are the colours of marks, by what they are called.
var paints = map[string]colour{"signal": {228, 0, 43}, "ink": {16, 24, 32}, "chalk": {255, 255, 255}}

// marks draws what was drawn on a photo over it; points are in ten-thousandths of its width.
func (p *page) marks(marks []work.Mark, x, y, wide, high float64) {
	if len(marks) == 0 {
		return
	}
	p.ClipRect(x, y, wide, high, false)
	p.SetLineCapStyle("round")
	p.SetLineJoinStyle("round")
	scale := wide / 10_000
	for _, m := range marks {
		c := paints[m.Colour]
		at := func(i int) (float64, float64) {
			return x + float64(m.Points[i])*scale, y + float64(m.Points[i+1])*scale
		}
		ax, ay := at(0)
		p.SetDrawColor(c[0], c[1], c[2])
		p.SetLineWidth(70 * scale)
		if m.Form == work.Words {
			p.size("B", 440*scale*72/25.4)
			p.ink(c)
			p.Text(ax, ay, p.text(m.Text))
			continue
		}
		bx, by := at(2)
		switch m.Form {
		case work.Box:
			p.Rect(min(ax, bx), min(ay, by), math.Abs(bx-ax), math.Abs(by-ay), "D")
		case work.Arrow:
			p.Line(ax, ay, bx, by)
			angle := math.Atan2(by-ay, bx-ax)
			for _, turn := range []float64{0.45, -0.45} {
				p.Line(bx, by, bx-480*scale*math.Cos(angle+turn), by-480*scale*math.Sin(angle+turn))
			}
		default:
			p.MoveTo(ax, ay)
			for i := 2; i+1 < len(m.Points); i += 2 {
				p.LineTo(at(i))
			}
			p.DrawPath("D")
		}
	}
	p.SetLineCapStyle("butt")
	p.SetLineJoinStyle("miter")
	p.ClipEnd()
}

func (p *page) signatures() {
	w := p.words
	p.heading(w.Signatures)
	for _, s := range p.r.Signatures {
		p.room(38)
		p.strokes(s.Strokes, margin, p.GetY(), 70, 20)
		p.SetY(p.GetY() + 21)
		p.SetDrawColor(quiet[0], quiet[1], quiet[2])
		p.SetLineWidth(0.2)
		p.Line(margin, p.GetY(), margin+80, p.GetY())
		p.Ln(1)
		p.para(join(s.Name, s.Role)+"  "+w.Signed+" "+p.when(s.At), 4.8)
		p.size("", 7.5)
		p.ink(quiet)
		p.para(s.Digest, 4)
		p.size("", 9.5)
		p.ink(ink)
		if s.Changed {
			p.para(w.Changed, 4.8)
		}
		p.Ln(2)
	}
	if p.r.Unsigned != "" {
		p.para(w.Unsigned+": "+p.r.Unsigned, 4.8)
	} else if len(p.r.Signatures) == 0 {
		p.para(w.Unsigned, 4.8)
	}
	if p.r.Firm.Close != "" {
		p.Ln(2)
		p.para(p.r.Firm.Close, 4.8)
	}
}

// strokes draws a signature into a box, as large as it fits.
func (p *page) strokes(s signoff.Strokes, x, y, w, h float64) {
	minX, minY, maxX, maxY := 1<<30, 1<<30, -1<<30, -1<<30
	for _, stroke := range s {
		for _, at := range stroke {
			minX, maxX, minY, maxY = min(minX, at[0]), max(maxX, at[0]), min(minY, at[1]), max(maxY, at[1])
		}
	}
	if maxX < minX {
		return
	}
	scale := min(w/float64(max(maxX-minX, 1)), h/float64(max(maxY-minY, 1)), 0.16)
	p.SetDrawColor(ink[0], ink[1], ink[2])
	p.SetLineWidth(0.5)
	p.SetLineCapStyle("round")
	p.SetLineJoinStyle("round")
	for _, stroke := range s {
		for i, at := range stroke {
			px, py := x+float64(at[0]-minX)*scale, y+float64(at[1]-minY)*scale
			if i == 0 {
				p.MoveTo(px, py)
			} else {
				p.LineTo(px, py)
			}
		}
		if len(stroke) > 1 {
			p.DrawPath("D")
		}
	}
	p.SetLineCapStyle("butt")
	p.SetLineJoinStyle("miter")
}

const codeSide = 22.0

// check is the code by which the report can be checked.
func (p *page) check(code string) {
	w := p.words
	p.room(codeSide + 12)
	p.Ln(4)
	y := p.GetY()
	if square, err := qr.Encode(p.r.CheckAt+code, qr.M, qr.Auto); err == nil {
		b := square.Bounds()
		module := codeSide / float64(b.Dx())
		p.SetFillColor(0, 0, 0)
		for row := range b.Dy() {
			for col := range b.Dx() {
				if r, _, _, _ := square.At(col, row).RGBA(); r == 0 {
					p.Rect(margin+float64(col)*module, y+float64(row)*module, module, module, "F")
				}
			}
		}
	}
	p.SetLeftMargin(margin + codeSide + 6)
	p.SetXY(margin+codeSide+6, y+2)
	p.size("B", 11)
	p.ink(ink)
	p.para(w.Code+"  "+code, 6)
	p.size("", 8.5)
	p.ink(quiet)
	p.para(w.CodeHint, 4.2)
	if p.r.CheckAt != "" {
		p.para(p.r.CheckAt+code, 4.2)
	}
	if p.strange {
		p.para(w.Unshown, 4.2)
	}
	p.SetLeftMargin(margin)
	p.SetXY(margin, max(p.GetY(), y+codeSide))
}

func (p *page) foot(code string) {
	p.SetY(-margin - 6)
	p.size("", 8)
	p.ink(quiet)
	p.CellFormat(width/2, 5, p.text(p.r.Firm.Name)+" · "+p.words.Order+" "+p.text(p.r.Order), "", 0, "L", false, 0, "")
	p.CellFormat(width/2, 5, code+" · "+fmt.Sprint(p.PageNo()), "", 0, "R", false, 0, "")
	p.ink(ink)
}
