// Package table writes tables as files that other programs read.
package table

import (
	"bytes"
	"encoding/csv"
	"encoding/json"
	"slices"
	"strings"
	"unicode"
	"unicode/utf8"

	"iter.example/iter/core/reading"
)

// Table is lines under columns.
type Table struct {
	Columns []string
	Rows    [][]string
}

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
