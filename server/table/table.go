// Package table writes tables as files that other programs read.
package table

import (
	"bytes"
	"encoding/csv"
	"encoding/json"
	"errors"
	"slices"
	"strconv"
	"strings"
	"time"
	"unicode"
	"unicode/utf8"

	"github.com/xuri/excelize/v2"

	"iter.example/iter/core/reading"
)

// Table is lines under columns.
type Table struct {
	Columns []string
	// Kinds are what the columns hold, for formats that tell; those left out hold text.
	Kinds []Kind
	Rows  [][]string
}

// Kind is what a column holds.
type Kind int

const (
	Text   Kind = iota
	Number      // decimal
	Day         // 2006-01-02
	Moment      // as MomentForm has it
)

// MomentForm is how moments are written: to the minute, on the company's clock.
const MomentForm = "2006-01-02 15:04"

// CSV writes the table as RFC 4180 has it. A text that a spreadsheet would take for a formula, be it behind white space, has an
// apostrophe before it.
func (t Table) CSV() ([]byte, error) {
	var b bytes.Buffer
	w := csv.NewWriter(&b)
	w.UseCRLF = true
	if err := w.Write(t.Columns); err != nil {
		return nil, err
	}
	for _, row := range t.Rows {
		out := slices.Clone(row)
		for i, c := range out {
			if formula(c) {
				out[i] = "'" + c
			}
		}
		if err := w.Write(out); err != nil {
			return nil, err
		}
	}
	w.Flush()
	return b.Bytes(), w.Error()
}

// formula tells whether a spreadsheet would take a text for a formula, which a number is not. Wide forms of the signs count too.
func formula(text string) bool {
	bare := strings.TrimLeftFunc(text, func(r rune) bool {
		return unicode.IsSpace(r) || unicode.IsControl(r) || r == '\ufeff' ||
			r == '\u200b'
	})
	first, _ := utf8.DecodeRuneInString(bare)
	if bare == "" || !strings.ContainsRune("=+-@＝＋－＠", first) {
		return len(text) > 0 && (text[0] == '\t' || text[0] == '\r')
	}
	_, err := reading.Parse(bare)
	return err != nil || bare != text
}

// JSON writes the table as a list of objects, by column; what is empty is left out.
func (t Table) JSON() ([]byte, error) {
	list := make([]map[string]string, len(t.Rows))
	for i, row := range t.Rows {
		list[i] = map[string]string{}
		for k, c := range t.Columns {
			if row[k] != "" {
				list[i][c] = row[k]
			}
		}
	}
	return json.Marshal(list)
}

// XLSX writes the table as a workbook of one sheet (ECMA-376), whose first row stays in sight. What holds numbers and days is told as such.
func (t Table) XLSX() (out []byte, err error) {
	f := excelize.NewFile()
	defer func() { err = errors.Join(err, f.Close()) }()
	const sheet = "Sheet1"
	w, err := f.NewStreamWriter(sheet)
	if err != nil {
		return nil, err
	}
	if err := w.SetPanes(&excelize.Panes{Freeze: true, YSplit: 1, TopLeftCell: "A2", ActivePane: "bottomLeft"}); err != nil {
		return nil, err
	}
	styles := map[Kind]int{}
	for kind, form := range map[Kind]string{Day: "yyyy-mm-dd", Moment: "yyyy-mm-dd hh:mm"} {
		if styles[kind], err = f.NewStyle(&excelize.Style{CustomNumFmt: &form}); err != nil {
			return nil, err
		}
	}
	head, err := f.NewStyle(&excelize.Style{Font: &excelize.Font{Bold: true}})
	if err != nil {
		return nil, err
	}
	row := make([]any, len(t.Columns))
	for i, c := range t.Columns {
		row[i] = excelize.Cell{StyleID: head, Value: c}
	}
	if err := w.SetRow("A1", row); err != nil {
		return nil, err
	}
	for n, r := range t.Rows {
		for i, text := range r {
			row[i] = t.cell(i, text, styles)
		}
		at, err := excelize.CoordinatesToCellName(1, n+2)
		if err != nil {
			return nil, err
		}
		if err := w.SetRow(at, row); err != nil {
			return nil, err
		}
	}
	if err := w.Flush(); err != nil {
		return nil, err
	}
	var b bytes.Buffer
	_, err = f.WriteTo(&b)
	return b.Bytes(), err
}

// cell is a value of a column as what it is; what can't be read as that stays text, which nobody takes for a formula.
func (t Table) cell(column int, text string, styles map[Kind]int) any {
	kind := Text
	if column < len(t.Kinds) {
		kind = t.Kinds[column]
	}
	switch kind {
	case Number:
		if n, err := strconv.ParseFloat(text, 64); err == nil {
			return n
		}
	case Day, Moment:
		form := map[Kind]string{Day: time.DateOnly, Moment: MomentForm}[kind]
		if at, err := time.Parse(form, text); err == nil {
			return excelize.Cell{StyleID: styles[kind], Value: at}
		}
	case Text:
	}
	return text
}
