package paper

import (
	"strings"
	"sync"
	"time"

	"github.com/go-pdf/fpdf"
	"golang.org/x/image/font/gofont/goregular"
	"golang.org/x/image/font/sfnt"
	"golang.org/x/text/unicode/norm"

	"iter.example/iter/core/report"
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

// measured is a value with its unit, when it has one.
func measured(value, unit string) string { return strings.TrimSpace(value + " " + unit) }
