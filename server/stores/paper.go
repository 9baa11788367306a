package stores

import (
	"bytes"
	"fmt"
	"image/color"
	"strings"
	"time"

	"github.com/boombuler/barcode"
	"github.com/boombuler/barcode/code128"
	"github.com/boombuler/barcode/qr"
	"github.com/go-pdf/fpdf"
	"golang.org/x/image/font/gofont/gobold"
	"golang.org/x/image/font/gofont/goregular"

	"iter.example/iter/core/stock"
	"iter.example/iter/server/table"
)

// paper is a page in the making, on A4, in millimetres.
type paper struct {
	*fpdf.Fpdf
	at time.Time
}

const font = "go"

func newPaper(title string, at time.Time) *paper {
	p := &paper{fpdf.New("P", "mm", "A4", ""), at}
	p.SetCreationDate(at)
	p.SetModificationDate(at)
	p.SetCatalogSort(true)
	p.SetTitle(title, true)
	p.AddUTF8FontFromBytes(font, "", goregular.TTF)
	p.AddUTF8FontFromBytes(font, "B", gobold.TTF)
	p.SetMargins(15, 15, 15)
	p.SetAutoPageBreak(true, 15)
	return p
}

func (p *paper) bytes() ([]byte, error) {
	var b bytes.Buffer
	err := p.Output(&b)
	return b.Bytes(), err
}

func (p *paper) size(style string, size float64) { p.SetFont(font, style, size) }

// clip shortens a text to what fits into a width.
func (p *paper) clip(text string, width float64) string {
	if p.GetStringWidth(text) <= width {
		return text
	}
	r := []rune(text)
	for len(r) > 1 && p.GetStringWidth(string(r)+"…") > width {
		r = r[:len(r)-1]
	}
	return string(r) + "…"
}

// draw draws a code of bars or squares into a box; each module is as wide as the box allows.
func (p *paper) draw(code barcode.Barcode, x, y, w, h float64) {
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

// The sheet of labels: 3 by 8 of 70 mm by 37 mm, edge to edge.
const (
	labelColumns, labelRows = 3, 8
	labelWidth, labelHeight = 70.0, 37.0
)

// Labels draws a sheet of labels of parts: a QR code that names the part to this program, its number as Code 128 for any scanner, and
// both in words.
func Labels(parts []LabelPart, at time.Time) ([]byte, error) {
	p := newPaper("Labels", at)
	p.SetAutoPageBreak(false, 0)
	for i, l := range parts {
		on := i % (labelColumns * labelRows)
		if on == 0 {
			p.AddPage()
		}
		x, y := float64(on%labelColumns)*labelWidth, float64(on/labelColumns)*labelHeight
		square, err := qr.Encode(stock.PartLabel(l.ID), qr.M, qr.Auto)
		if err != nil {
			return nil, fmt.Errorf("label of %s: %w", l.ID, err)
		}
		p.draw(square, x+4, y+6, 22, 22)
		p.size("B", 9)
		p.Text(x+29, y+9, p.clip(l.Part.Name, labelWidth-32))
		p.size("", 8)
		p.Text(x+29, y+13.5, p.clip(l.Part.Category, labelWidth-32))
		if bars, err := code128.Encode(l.Part.Number); err == nil { // a number in another script has none
			p.draw(bars, x+30, y+17, min(float64(bars.Bounds().Dx())*0.3, labelWidth-35), 9)
		}
		p.size("", 8)
		p.Text(x+30, y+30, p.clip(l.Part.Number, labelWidth-33))
	}
	return p.bytes()
}

// LabelPart is a part to print a label of.
type LabelPart struct {
	ID   string
	Part stock.Part
}

// head begins a paper with the firm, what it is, and a few facts.
func (p *paper) head(company, title string, facts ...string) {
	p.AddPage()
	p.size("", 9)
	p.CellFormat(0, 5, company, "", 1, "L", false, 0, "")
	p.size("B", 18)
	p.CellFormat(0, 10, title, "", 1, "L", false, 0, "")
	p.size("", 10)
	for _, f := range facts {
		p.CellFormat(0, 5.5, f, "", 1, "L", false, 0, "")
	}
	p.Ln(4)
}

// row writes cells of given widths, with a rule below. The last is set to the right.
func (p *paper) row(style string, widths []float64, cells ...string) {
	p.size(style, 9.5)
	for i, c := range cells {
		align := "L"
		if i == len(cells)-1 {
			align = "R"
		}
		p.CellFormat(widths[i], 7.5, p.clip(c, widths[i]-2), "B", 0, align, false, 0, "")
	}
	p.Ln(-1)
}

// PickPaper prints a pick list, with room for a tick at each line.
func PickPaper(company string, l PickList, at time.Time) ([]byte, error) {
	p := newPaper("Pick list", at)
	p.head(company, "Pick list "+l.Van.Name, l.Van.PersonName+", "+l.Day, "From "+l.From.Name)
	widths := []float64{10, 34, 68, 46, 22}
	p.SetDrawColor(120, 120, 120)
	p.row("B", widths, "", "Number", "Part", "For", "Pick")
	for _, x := range l.Lines {
		p.Rect(p.GetX()+1, p.GetY()+1.7, 4, 4, "D")
		note := ""
		if x.There.LessThan(x.Quantity) {
			note = " (store has " + x.There.String() + ")"
		}
		p.row("", widths, "", x.Number, x.Name+note, x.OrderNo+" "+x.Site, x.Quantity.String()+" "+x.Unit)
	}
	return p.bytes()
}

// PurchasePaper prints an order to a supplier.
func PurchasePaper(company, currency string, l PurchaseLine, at time.Time) ([]byte, error) {
	p := newPaper("Order "+l.Purchase.Number, at)
	facts := []string{"To " + l.Supplier, "Deliver to " + company + ", " + l.PlaceName, "Date " + l.Purchase.At.Format(time.DateOnly) +
		", " + l.PersonName}
	p.head(company, "Order "+l.Purchase.Number, facts...)
	widths := []float64{38, 82, 20, 20, 20}
	p.SetDrawColor(120, 120, 120)
	p.row("B", widths, "Number", "Part", "Quantity", "Each", currency)
	sum := l.Purchase.Total()
	for i, x := range l.Purchase.Lines {
		p.row("", widths, l.Parts[i].Number, l.Parts[i].Name, x.Quantity.String()+" "+l.Parts[i].Unit, x.Cost.StringFixed(2),
			x.Quantity.Mul(x.Cost).StringFixed(2))
	}
	p.row("B", widths, "", "", "", "Sum", sum.StringFixed(2))
	return p.bytes()
}

// PurchaseTable is an order to a supplier as a file.
func PurchaseTable(l PurchaseLine) table.Table {
	out := table.Table{Columns: []string{"order", "supplier", "date", "place", "part", "name", "quantity", "unit", "cost", "received"}}
	for i, x := range l.Purchase.Lines {
		out.Rows = append(out.Rows, []string{l.Purchase.Number, l.Supplier, l.Purchase.At.Format(time.DateOnly), l.PlaceName,
			l.Parts[i].Number, l.Parts[i].Name, x.Quantity.String(), l.Parts[i].Unit, x.Cost.String(), x.Received.String()})
	}
	return out
}

// PartsTable is the catalogue as a file that can be imported again.
func PartsTable(parts []LabelPart) table.Table {
	out := table.Table{Columns: []string{"number", "name", "names", "category", "unit", "packs", "price", "cost", "tax", "codes", "serial",
		"warranty", "supplier", "replaced_by", "retired"}}
	yes := func(b bool) string {
		if b {
			return "yes"
		}
		return ""
	}
	for _, l := range parts {
		p := l.Part
		packs := []string{}
		for _, k := range p.Packs {
			packs = append(packs, k.Name+"="+k.Size.String())
		}
		warranty := ""
		if p.Warranty > 0 {
			warranty = fmt.Sprint(p.Warranty)
		}
		out.Rows = append(out.Rows, []string{l.ID, p.Name, strings.Join(p.Names, ";"), p.Category, p.Unit, strings.Join(packs, ";"),
			p.Price.String(), p.Cost.String(), p.Tax, strings.Join(p.Codes, ";"), yes(p.Serial), warranty, p.Supplier, p.ReplacedBy,
			yes(p.Retired)})
	}
	return out
}

// ShelvesTable is what places hold as a file.
func ShelvesTable(shelves []Shelf) table.Table {
	out := table.Table{Columns: []string{"place", "place_name", "part", "name", "quantity", "unit", "held", "incoming", "min", "max",
		"cost", "value"}}
	for _, s := range shelves {
		for _, l := range s.Lines {
			held := stock.Moved{}.Quantity
			for _, h := range l.Held {
				held = held.Add(h.Quantity)
			}
			out.Rows = append(out.Rows, []string{s.Place.ID, s.Place.Name, l.Part, l.Name, l.Balance.String(), l.Unit, held.String(),
				l.Incoming.String(), l.Level.Min.String(), l.Level.Max.String(), l.Cost.String(), l.Balance.Mul(l.Cost).Round(2).String()})
		}
	}
	return out
}

// MovementsTable is movements as a file, the latest first.
func MovementsTable(lines []MovementLine) table.Table {
	out := table.Table{Columns: []string{"at", "place", "part", "name", "kind", "quantity", "unit", "other", "work_order", "person",
		"reason", "serial", "struck"}}
	for _, m := range lines {
		struck := ""
		if m.Struck {
			struck = "yes"
		}
		out.Rows = append(out.Rows, []string{m.At.Format(time.RFC3339), m.PlaceName, m.Part, m.PartName, m.Kind, m.Quantity.String(),
			m.Unit, m.OtherName, m.OrderNo, m.PersonName, m.Reason, m.Serial, struck})
	}
	return out
}
