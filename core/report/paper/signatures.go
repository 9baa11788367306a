package paper

import (
	"github.com/boombuler/barcode/qr"

	"iter.example/iter/core/signoff"
)

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
