package printing

import (
	"github.com/boombuler/barcode/qr"

	"iter.example/iter/core/paper"
	"iter.example/iter/core/signoff"
)

func (p *page) signatures() {
	w := p.words
	p.Heading(w.Signatures)
	for _, s := range p.r.Signatures {
		p.Room(38)
		p.strokes(s.Strokes, paper.Margin, p.GetY(), 70, 20)
		p.SetY(p.GetY() + 21)
		p.SetDrawColor(paper.Quiet[0], paper.Quiet[1], paper.Quiet[2])
		p.SetLineWidth(0.2)
		p.Line(paper.Margin, p.GetY(), paper.Margin+80, p.GetY())
		p.Ln(1)
		p.Para(join(s.Name, s.Role)+"  "+w.Signed+" "+p.when(s.At), 4.8)
		p.Size("", 7.5)
		p.In(paper.Quiet)
		p.Para(s.Digest, 4)
		p.Size("", 9.5)
		p.In(paper.Ink)
		if s.Changed {
			p.Para(w.Changed, 4.8)
		}
		p.Ln(2)
	}
	if p.r.Unsigned != "" {
		p.Para(w.Unsigned+": "+p.r.Unsigned, 4.8)
	} else if len(p.r.Signatures) == 0 {
		p.Para(w.Unsigned, 4.8)
	}
	if p.r.Firm.Close != "" {
		p.Ln(2)
		p.Para(p.r.Firm.Close, 4.8)
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
	p.SetDrawColor(paper.Ink[0], paper.Ink[1], paper.Ink[2])
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
	p.Room(codeSide + 12)
	p.Ln(4)
	y := p.GetY()
	if square, err := qr.Encode(p.r.CheckAt+code, qr.M, qr.Auto); err == nil {
		p.Code(square, paper.Margin, y, codeSide, codeSide)
	}
	p.SetLeftMargin(paper.Margin + codeSide + 6)
	p.SetXY(paper.Margin+codeSide+6, y+2)
	p.Size("B", 11)
	p.In(paper.Ink)
	p.Para(w.Code+"  "+code, 6)
	p.Size("", 8.5)
	p.In(paper.Quiet)
	p.Para(w.CodeHint, 4.2)
	if p.r.CheckAt != "" {
		p.Para(p.r.CheckAt+code, 4.2)
	}
	if p.Unshown {
		p.Para(w.Unshown, 4.2)
	}
	p.SetLeftMargin(paper.Margin)
	p.SetXY(paper.Margin, max(p.GetY(), y+codeSide))
}
