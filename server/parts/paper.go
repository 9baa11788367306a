package parts

import (
	"fmt"
	"strings"
	"time"

	"github.com/boombuler/barcode/code128"
	"github.com/boombuler/barcode/qr"

	"iter.example/iter/core/money"
	"iter.example/iter/core/paper"
	"iter.example/iter/core/stock"
	"iter.example/iter/server/table"
)

// The sheet of labels: 3 by 8 of 70 mm by 37 mm, edge to edge.
const (
	labelColumns, labelRows = 3, 8
	labelWidth, labelHeight = 70.0, 37.0
)

// Labels draws a sheet of labels of parts: a QR code that names the part to this program, its number as Code 128 for any scanner, and
// both in words.
func Labels(parts []LabelPart, at time.Time) ([]byte, error) {
	p := paper.New("Labels", at)
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
		p.Code(square, x+4, y+6, 22, 22)
		p.Size("B", 9)
		p.Text(x+29, y+9, p.Clip(l.Part.Name, labelWidth-32))
		p.Size("", 8)
		p.Text(x+29, y+13.5, p.Clip(l.Part.Category, labelWidth-32))
		if bars, err := code128.Encode(l.Part.Number); err == nil { // a number in another script has none
			p.Code(bars, x+30, y+17, min(float64(bars.Bounds().Dx())*0.3, labelWidth-35), 9)
		}
		p.Size("", 8)
		p.Text(x+30, y+30, p.Clip(l.Part.Number, labelWidth-33))
	}
	return p.Bytes()
}

// LabelPart is a part to print a label of.
type LabelPart struct {
	ID   string
	Part stock.Part
}

// PickPaper prints a pick list, with room for a tick at each line.
func PickPaper(company string, l PickList, at time.Time) ([]byte, error) {
	p := paper.Begin(company, "Pick list "+l.Van.Name, at, l.Van.PersonName+", "+l.Day, "From "+l.From.Name)
	columns := append(paper.Columns(10, 34, 66, 44), paper.Column{Width: 20, Right: true})
	p.Row(columns, "B", "", "Number", "Part", "For", "Pick")
	for _, x := range l.Lines {
		note := ""
		if x.There.LessThan(x.Quantity) {
			note = " (store has " + x.There.String() + ")"
		}
		p.Room(12)
		p.SetDrawColor(paper.Quiet[0], paper.Quiet[1], paper.Quiet[2])
		p.Rect(paper.Margin, p.GetY()+0.3, 3.8, 3.8, "D")
		p.Row(columns, "", "", x.Number, x.Name+note, x.OrderNo+" "+x.Site, x.Quantity.String()+" "+x.Unit)
	}
	return p.Bytes()
}

// PurchasePaper prints an order to a supplier.
func PurchasePaper(company string, currency money.Currency, l PurchaseLine, at time.Time) ([]byte, error) {
	p := paper.Begin(company, "Order "+l.Purchase.Number, at, "To "+l.Supplier, "Deliver to "+company+", "+l.PlaceName,
		"Date "+l.Purchase.At.Format(time.DateOnly)+", "+l.PersonName)
	columns := append(paper.Columns(38, 76), paper.Column{Width: 20, Right: true}, paper.Column{Width: 20, Right: true},
		paper.Column{Width: 20, Right: true})
	p.Row(columns, "B", "Number", "Part", "Quantity", "Each", string(currency))
	for i, x := range l.Purchase.Lines {
		p.Row(columns, "", l.Parts[i].Number, l.Parts[i].Name, x.Quantity.String()+" "+l.Parts[i].Unit, currency.Number(x.Cost),
			currency.Number(x.Quantity.Mul(x.Cost)))
	}
	p.Row(columns, "B", "", "", "", "Sum", currency.Number(l.Purchase.Total()))
	return p.Bytes()
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
				l.Incoming.String(), l.Level.Min.String(), l.Level.Max.String(), l.Cost.String(), s.Currency.Round(l.Balance.Mul(l.Cost)).String()})
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
