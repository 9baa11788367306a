package demo

import (
	"bytes"
	"crypto/sha256"
	"encoding/hex"
	"fmt"
	"image"
	"image/color"
	"image/jpeg"
	"math"
	"math/rand"
	"time"

	"github.com/go-pdf/fpdf"

	"iter.example/iter/core/records"
	"iter.example/iter/core/work"
	"iter.example/iter/server/files"
	"iter.example/iter/server/store"
)

// keep puts a file of the demo where files are kept.
func keep(tx *store.Tx, d *files.Dir, raw []byte, name, person string, at time.Time) (work.FileRef, error) {
	h := sha256.Sum256(raw)
	f, err := d.TakeFrom(bytes.NewReader(raw), hex.EncodeToString(h[:]))
	if err != nil {
		return work.FileRef{}, err
	}
	f.Person, f.Received = person, at
	return work.FileRef{Hash: f.Hash, Name: name, Type: f.Type, Size: f.Size}, tx.PutFile(f)
}

// manual makes a machine's manual of two pages.
func manual(m machine) ([]byte, error) {
	p := fpdf.New("P", "mm", "A4", "")
	p.SetCreationDate(time.Unix(0, 0))
	p.SetModificationDate(time.Unix(0, 0))
	p.SetTitle(m.name+": manual", true)
	text := p.UnicodeTranslatorFromDescriptor("")
	line := func(size, gap float64, format string, args ...any) {
		p.SetFont("Helvetica", "", size)
		p.MultiCell(0, gap, text(fmt.Sprintf(format, args...)), "", "L", false)
	}
	p.AddPage()
	line(22, 12, "%s", m.name)
	line(11, 7, "%s. Operation and maintenance", m.maker)
	p.Ln(8)
	line(14, 9, "Before you start")
	line(11, 6, "Isolate the machine and lock it off. Check that the pressure is off before you open anything.")
	p.Ln(6)
	line(14, 9, "What it should read")
	for _, pt := range m.points {
		line(11, 6, "%s: usually %.1f %s", pt.name, pt.usual, pt.unit)
	}
	p.AddPage()
	line(14, 9, "When something is wrong")
	for _, f := range m.faults {
		line(11, 6, "%s: see the parts %v.", f, m.parts)
	}
	var out bytes.Buffer
	err := p.Output(&out)
	return out.Bytes(), err
}

// picture draws what a phone might take of a machine: a dial on a wall, in the light of that hour.
func picture(r *rand.Rand) []byte {
	const w, h = 1200, 900
	img := image.NewRGBA(image.Rect(0, 0, w, h))
	wall := [3]float64{90 + 90*r.Float64(), 100 + 80*r.Float64(), 105 + 70*r.Float64()}
	light := r.Float64() * w
	needle := -2.3 + 4.6*r.Float64()
	cx, cy, radius := w/2+r.Float64()*160-80, h/2+r.Float64()*120-60, 250+r.Float64()*60
	for y := range h {
		for x := range w {
			fx, fy := float64(x), float64(y)
			glow := 1.15 - math.Abs(fx-light)/w*0.7 + float64((x*7+y*13)%17)/300
			c := [3]float64{wall[0] * glow, wall[1] * glow, wall[2] * glow}
			if math.Abs(fy-cy-radius*0.55) < 46 { // the pipe behind it
				shade := 1 - math.Abs(fy-cy-radius*0.55)/60
				c = [3]float64{60 + 120*shade, 70 + 120*shade, 78 + 120*shade}
			}
			dx, dy := fx-cx, fy-cy
			if d := math.Hypot(dx, dy); d < radius {
				angle := math.Atan2(dx, -dy)
				switch {
				case d > radius-26:
					c = [3]float64{70, 74, 78}
				case d > radius-70 && math.Abs(angle) < 2.4 && math.Mod(angle+10, 0.4) < 0.05:
					c = [3]float64{20, 20, 22}
				case d < radius-50 && math.Abs(math.Sin(angle-needle)*d) < 5 && math.Cos(angle-needle) > 0:
					c = [3]float64{160, 20, 40}
				case d < 18:
					c = [3]float64{20, 20, 22}
				default:
					c = [3]float64{238 * glow, 234 * glow, 222 * glow}
				}
			}
			img.SetRGBA(x, y, color.RGBA{tone(c[0]), tone(c[1]), tone(c[2]), 255})
		}
	}
	var out bytes.Buffer
	_ = jpeg.Encode(&out, img, &jpeg.Options{Quality: 80}) // a buffer takes all
	return out.Bytes()
}

// rollSize is how many photos are drawn; visits share them.
const rollSize = 9

// shot gives a photo.
func (g *generator) shot(i int, person string, at time.Time) (work.FileRef, error) {
	if len(g.roll) == rollSize {
		return g.roll[g.r.Intn(rollSize)], nil
	}
	ref, err := keep(g.w.Tx, g.files, picture(g.r), fmt.Sprintf("photo-%d.jpg", i+1), person, at)
	g.roll = append(g.roll, ref)
	return ref, err
}

func tone(v float64) uint8 { return uint8(max(0, min(255, v))) }

// papers puts a manual for each kind of machine where files are kept.
func papers(tx *store.Tx, d *files.Dir, at time.Time) (map[string]map[string]records.Document, error) {
	out := map[string]map[string]records.Document{}
	for kind, m := range machines {
		raw, err := manual(m)
		if err != nil {
			return nil, err
		}
		ref, err := keep(tx, d, raw, m.name+", manual.pdf", office[0][0], at)
		if err != nil {
			return nil, err
		}
		out[kind] = map[string]records.Document{ref.Hash: {Name: ref.Name, Type: ref.Type, Size: ref.Size, Pack: kind != "filter"}}
	}
	return out, nil
}
