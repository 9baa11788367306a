// Package table writes tables as files that other programs read.
package table

import (
	"bytes"
	"encoding/csv"
	"encoding/json"
	"slices"
	"strings"

	"iter.example/iter/core/reading"
)

// Table is lines under columns.
type Table struct {
	Columns []string
	Rows    [][]string
}

// CSV writes the table as RFC 4180 has it. A text that a spreadsheet would take for a formula has an apostrophe before it.
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
			if c != "" && strings.ContainsRune("=+-@\t\r", rune(c[0])) {
				if _, err := reading.Parse(c); err != nil {
					out[i] = "'" + c
				}
			}
		}
		if err := w.Write(out); err != nil {
			return nil, err
		}
	}
	w.Flush()
	return b.Bytes(), w.Error()
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
