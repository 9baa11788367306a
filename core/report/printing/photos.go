package printing

import (
	"bytes"
	"encoding/gob"
	"fmt"
	"image"
	_ "image/jpeg"
	_ "image/png"
	"math"
	"strings"

	"github.com/go-pdf/fpdf"

	"iter.example/iter/core/msg"
	"iter.example/iter/core/paper"
	"iter.example/iter/core/report"
	"iter.example/iter/core/work"
)

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
		if i == 0 && p.r.Firm.Logo != nil && !readable(raw, photo.Type) {
			p.r.Firm.Logo = nil // a report is worth more than its logo
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

// readable tells whether a picture is what its type says.
func readable(raw []byte, mediaType string) bool {
	config, format, err := image.DecodeConfig(bytes.NewReader(raw))
	return err == nil && "image/"+format == mediaType && config.Width > 0 && config.Height > 0
}

// place gives an image its place among the others. The library writes images sorted by their widths, and those of one width in no order: so
// each is a hair wider than the one before, which is rounded away when the paper.Width is written.
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
	wide := (paper.Width - gap*(columns-1)) / columns
	if len(p.r.Photos) > 0 { // the heading stays with the first
		info := p.GetImageInfo(p.r.Photos[0].Hash)
		p.Room(min(wide*info.Height()/info.Width(), most) + 34)
	}
	p.Heading(w.Photos)
	top, below, column := p.GetY(), p.GetY(), 0.0
	for _, photo := range p.r.Photos {
		info := p.GetImageInfo(photo.Hash)
		high := wide * info.Height() / info.Width()
		across := wide
		if high > most {
			across, high = wide*most/high, most
		}
		if column == 0 {
			if top = below; top+high+14 > paper.Bottom {
				p.AddPage()
				top, below = p.GetY(), p.GetY()
			}
		} else if top+high+14 > paper.Bottom {
			p.AddPage()
			top, below, column = p.GetY(), p.GetY(), 0
		}
		x := paper.Margin + column*(wide+gap)
		p.ImageOptions(photo.Hash, x, top, across, high, false, options(photo), 0, "")
		p.marks(photo.Marks, x, top, across, high)
		p.SetXY(x, top+high+1)
		p.Size("", 8)
		p.In(paper.Quiet)
		caption := join(map[string]string{"before": w.Before, "after": w.After}[photo.Moment], p.Shown(photo.Caption))
		if !photo.At.IsZero() {
			caption = strings.TrimSpace(p.when(photo.At) + "  " + caption)
		}
		for _, l := range p.Fold(caption, wide-2)[:min(len(p.Fold(caption, wide-2)), 3)] {
			p.SetX(x)
			p.CellFormat(wide, 3.8, l, "", 2, "L", false, 0, "")
		}
		below = max(below, p.GetY()+3)
		if column++; column >= columns {
			column = 0
		}
	}
	p.SetXY(paper.Margin, below)
	p.In(paper.Ink)
	p.Size("", 9.5)
	if p.r.PhotosBeside > 0 {
		p.Para(fmt.Sprintf(w.Beside, p.r.PhotosBeside), 4.8)
	}
}

// paints are the colours of marks, by what they are called.
var paints = map[string]paper.Colour{"signal": {228, 0, 43}, "ink": {16, 24, 32}, "chalk": {255, 255, 255}}

// marks draws what was drawn on a photo over it; points are in ten-thousandths of its paper.Width.
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
			p.Size("B", 440*scale*72/25.4)
			p.In(c)
			p.Text(ax, ay, p.Shown(m.Text))
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
