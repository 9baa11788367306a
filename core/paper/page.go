// Package paper draws pages: A4, text that can be searched and copied, in the order it is read. The same calls give the same bytes,
// wherever they are made.
//
// The typeface has Latin, Greek and Cyrillic letters. Any other letter is an empty square, and Unshown tells that there is one.
package paper

import (
	"bytes"
	"image/color"
	"slices"
	"strings"
	"sync"
	"time"

	"github.com/boombuler/barcode"
	"github.com/go-pdf/fpdf"
	"golang.org/x/image/font/gofont/gobold"
	"golang.org/x/image/font/gofont/goregular"
	"golang.org/x/image/font/sfnt"
	"golang.org/x/text/unicode/norm"
)

// The page, in millimetres.
const (
	PageWidth, PageHeight = 210.0, 297.0
	Margin                = 18.0
	Width                 = PageWidth - 2*Margin         // between the margins
	footer                = 16.0                         // above the margin, at the foot
	Bottom                = PageHeight - Margin - footer // how far down a page text goes
	font                  = "go"
	unshown               = '\u25a1'
)

// Colour is red, green and blue, each of 255.
type Colour [3]int

// The colours of a page: of its text, of what is beside it, and of what it is set off with.
var (
	Ink    = Colour{24, 33, 38}
	Quiet  = Colour{84, 96, 102}
	rule   = Colour{205, 200, 188}
	accent = Colour{244, 185, 11}
)

// face tells which letters the typeface has.
var face = sync.OnceValue(func() *sfnt.Font {
	f, err := sfnt.Parse(goregular.TTF)
	if err != nil {
		panic(err) // it is compiled in
	}
	return f
})

// Page is a paper in the making.
type Page struct {
	*fpdf.Fpdf
	// Unshown tells that something was in letters that the typeface does not have.
	Unshown bool
	buffer  sfnt.Buffer
}

// New begins a paper that says when it was made. It has no page yet.
func New(title string, at time.Time) *Page {
	p := &Page{Fpdf: fpdf.New("P", "mm", "A4", "")}
	p.SetCreationDate(at.UTC())
	p.SetModificationDate(at.UTC())
	p.SetCatalogSort(true)
	p.SetProducer("Iter", false)
	p.SetTitle(title, true)
	p.AddUTF8FontFromBytes(font, "", goregular.TTF)
	p.AddUTF8FontFromBytes(font, "B", gobold.TTF)
	p.SetMargins(Margin, Margin, Margin)
	p.SetCellMargin(0)
	p.SetAutoPageBreak(true, Margin+footer)
	return p
}

// Bytes gives the paper as PDF.
func (p *Page) Bytes() ([]byte, error) {
	var out bytes.Buffer
	err := p.Output(&out)
	return out.Bytes(), err
}

// Size sets the style of what is written next, "" or "B" for bold, and its size in points.
func (p *Page) Size(style string, size float64) { p.SetFont(font, style, size) }

// In sets the colour of what is written next.
func (p *Page) In(c Colour) { p.SetTextColor(c[0], c[1], c[2]) }

// Shown is what can be shown of a text.
func (p *Page) Shown(s string) string {
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
			p.Unshown = true
			return unshown
		}
		return r
	}, norm.NFC.String(s))
}

// Room begins a new page when less than height is left on this one.
func (p *Page) Room(height float64) {
	if p.GetY()+height > Bottom {
		p.AddPage()
	}
}

// Para prints text between the margins, over as many lines and pages as it takes.
func (p *Page) Para(text string, line float64) {
	left, _, right, _ := p.GetMargins()
	for _, l := range strings.Split(p.Shown(text), "\n") {
		for _, piece := range p.Fold(l, PageWidth-left-right-2) {
			p.SetX(left)
			p.CellFormat(0, line, piece, "", 1, "L", false, 0, "")
		}
	}
}

// Begin begins a paper with the firm, what it is, and a few facts.
func Begin(company, title string, at time.Time, facts ...string) *Page {
	p := New(title, at)
	p.AddPage()
	p.Size("", 9)
	p.In(Quiet)
	p.Para(company, 5)
	p.Size("B", 18)
	p.In(Ink)
	p.Para(title, 10)
	p.Size("", 10)
	for _, f := range facts {
		p.Para(f, 5.5)
	}
	p.Ln(4)
	return p
}

// Heading sets off what follows.
func (p *Page) Heading(text string) {
	p.Room(22)
	p.Ln(5)
	y := p.GetY()
	p.SetDrawColor(accent[0], accent[1], accent[2])
	p.SetLineWidth(0.9)
	p.Line(Margin, y, Margin+9, y)
	p.SetLineWidth(0.2)
	p.SetDrawColor(rule[0], rule[1], rule[2])
	p.Line(Margin+9, y, PageWidth-Margin, y)
	p.Ln(1.8)
	p.Size("B", 11.5)
	p.In(Ink)
	p.Bookmark(text, 0, y)
	p.Para(text, 6)
	p.Size("", 9.5)
}

const labelWidth = 34.0

// Fact prints a name and its values beside it; nothing where none of them says anything.
func (p *Page) Fact(name string, values ...string) {
	value := strings.Join(slices.DeleteFunc(slices.Clone(values), func(v string) bool { return v == "" }), ", ")
	if value == "" {
		return
	}
	p.Room(6)
	y := p.GetY()
	p.In(Quiet)
	p.CellFormat(labelWidth, 5, name, "", 0, "L", false, 0, "")
	p.In(Ink)
	p.SetXY(Margin+labelWidth, y)
	p.SetLeftMargin(Margin + labelWidth)
	p.Para(value, 5)
	p.SetLeftMargin(Margin)
	p.SetX(Margin)
}

// Column is where a cell of each row stands: so wide, in millimetres, and set to its right edge where Right says so.
type Column struct {
	Width float64
	Right bool
}

// Columns are columns that are set to the left.
func Columns(widths ...float64) []Column {
	out := make([]Column, len(widths))
	for i, w := range widths {
		out[i].Width = w
	}
	return out
}

// Row prints cells beside each other, each over as many lines as it takes, and a thin rule below.
func (p *Page) Row(columns []Column, style string, cells ...string) {
	const line = 4.8
	most := 1
	texts := make([][]string, len(cells))
	for i, c := range cells {
		for _, l := range strings.Split(p.Shown(c), "\n") {
			texts[i] = append(texts[i], p.Fold(l, columns[i].Width-2)...)
		}
		most = max(most, len(texts[i]))
	}
	p.Room(min(float64(most), 40)*line + 1.6)
	p.SetAutoPageBreak(false, 0)
	p.Size(style, 9)
	for n := range most {
		if p.GetY()+line > Bottom {
			p.AddPage()
			p.Size(style, 9)
		}
		y, x := p.GetY(), Margin
		for i := range cells {
			if n < len(texts[i]) {
				p.SetXY(x, y)
				p.CellFormat(columns[i].Width, line, texts[i][n], "", 0, align(columns[i]), false, 0, "")
			}
			x += columns[i].Width
		}
		p.SetXY(Margin, y+line)
	}
	p.SetAutoPageBreak(true, Margin+footer)
	p.SetDrawColor(rule[0], rule[1], rule[2])
	p.SetLineWidth(0.15)
	p.Line(Margin, p.GetY()+0.6, PageWidth-Margin, p.GetY()+0.6)
	p.Ln(1.4)
}

func align(c Column) string {
	if c.Right {
		return "R"
	}
	return "L"
}

// Clip shortens a text to what fits into a width.
func (p *Page) Clip(text string, width float64) string {
	text = p.Shown(text)
	if p.GetStringWidth(text) <= width {
		return text
	}
	r := []rune(text)
	for len(r) > 1 && p.GetStringWidth(string(r)+"…") > width {
		r = r[:len(r)-1]
	}
	return string(r) + "…"
}

// Code draws a code of bars or squares into a box; each module is as wide as the box allows.
func (p *Page) Code(code barcode.Barcode, x, y, w, h float64) {
	b := code.Bounds()
	mw, mh := w/float64(b.Dx()), h/float64(b.Dy())
	p.SetFillColor(0, 0, 0)
	for row := range b.Dy() {
		for from := 0; from < b.Dx(); from++ {
			to := from
			for to < b.Dx() && code.At(b.Min.X+to, b.Min.Y+row) == color.Black {
				to++
			}
			if to > from {
				p.Rect(x+float64(from)*mw, y+float64(row)*mh, float64(to-from)*mw, mh, "F")
				from = to
			}
		}
	}
}

// Fold breaks a line into pieces that fit a width, between words where it can.
func (p *Page) Fold(text string, w float64) []string {
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
